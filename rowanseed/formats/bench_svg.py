"""The drawings beside the bench's sums: lines from an edge, marks in a row, lengths compared, circles, folds, strips."""

import math
from collections.abc import Callable, Sequence
from html import escape

from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.reckon.model import Figure

W, H = 300.0, 150.0
LEFT, RIGHT = 14.0, 286.0
PAPER, INK, LEAF, SLATE, ROWAN = "#F3ECDD", "#2B2622", "#33604D", "#3F5873", "#B23A1E"
Named = Sequence[tuple[str, float]]


def bench_figure(figure: Figure, title: str, unit: Unit) -> str:
    """A sum's figure as SVG, to scale in itself, with its lengths written in; the title is its text equivalent's."""
    values = [(name, value) for name, value in figure.values if math.isfinite(value) and value >= 0]
    inner = _DRAW[figure.kind](values, unit) if values else ""
    said = "; ".join(
        f"{name} {format_length(value, unit)}" for name, value in values if name and figure.kind != "folds"
    )
    return (
        f'<svg viewBox="0 0 {W:.0f} {H:.0f}" class="bench-fig" role="img" aria-label="{escape(title)}: {escape(said)}">'
        f"{inner}</svg>"
    )


def _text(x: float, y: float, words: str, anchor: str = "start", size: float = 11.5) -> str:
    return f'<text x="{x:.1f}" y="{y:.1f}" font-size="{size}" text-anchor="{anchor}">{escape(words)}</text>'


def _lines(values: Named, unit: Unit) -> str:
    """The raw edge at the bottom, a line at each distance from it."""
    most = max(v for _, v in values) or 1.0
    scale = 104.0 / most
    out = [f'<rect x="{LEFT}" y="12" width="{RIGHT - LEFT}" height="124" fill="{PAPER}"/>']
    out.append(
        f'<path d="M{LEFT} 136H{RIGHT}" stroke="{INK}" stroke-width="2"/>' + _text(LEFT + 4, 148, "edge", size=10)
    )
    taken: list[float] = []
    for name, value in values:
        y = 136 - value * scale
        out.append(f'<path d="M{LEFT} {y:.1f}H{RIGHT}" stroke="{ROWAN}" stroke-width="1.4" stroke-dasharray="6 3"/>')
        at = y - 3
        if all(abs(at - other) > 11 for other in taken) and len(values) <= 12:
            taken.append(at)
            out.append(_text(RIGHT - 4, at, f"{name} {format_length(value, unit)}", "end"))
    return "".join(out)


def _row(values: Named, unit: Unit) -> str:
    """Marks along an edge."""
    most = max(v for _, v in values) or 1.0
    scale = (RIGHT - LEFT - 24) / most
    out = [f'<rect x="{LEFT}" y="46" width="{RIGHT - LEFT}" height="46" fill="{PAPER}" stroke="{INK}"/>']
    for name, value in values:
        x = LEFT + 12 + value * scale
        out.append(f'<path d="M{x:.1f} 58V80" stroke="{ROWAN}" stroke-width="2"/>')
        if len(values) <= 12:
            out.append(_text(x, 42, name, "middle", 10))
    for value in {values[0][1], values[-1][1]}:
        out.append(_text(LEFT + 12 + value * scale, 108, format_length(value, unit), "middle", 10.5))
    return "".join(out)


def _box(values: Named, unit: Unit) -> str:
    """A length and a width."""
    (along, a), (across, b) = values[:2]
    scale = min(230.0 / max(a, 1e-6), 92.0 / max(b, 1e-6))
    w, h = max(a * scale, 4.0), max(b * scale, 4.0)
    x, y = (W - w) / 2, 14 + (92 - h) / 2
    return (
        f'<rect x="{x:.1f}" y="{y:.1f}" width="{w:.1f}" height="{h:.1f}" fill="{PAPER}" stroke="{INK}"/>'
        + _text(W / 2, y + h + 16, f"{along} {format_length(a, unit)}", "middle")
        + _text(W / 2, y + h + 31, f"{across} {format_length(b, unit)}", "middle")
    )


def _bars(values: Named, unit: Unit) -> str:
    """Lengths below one another, on one scale."""
    most = max(v for _, v in values) or 1.0
    pitch = 124.0 / len(values)
    out = []
    for k, (name, value) in enumerate(values):
        y, colour = 14 + k * pitch, (SLATE, LEAF, ROWAN)[k % 3]
        out.append(_text(LEFT, y + 10, f"{name} {format_length(value, unit)}"))
        width = value / most * (RIGHT - LEFT)
        out.append(
            f'<rect x="{LEFT}" y="{y + 15:.1f}" width="{width:.1f}" height="{min(16.0, pitch - 22):.1f}" fill="{colour}"/>'
        )
    return "".join(out)


def _rings(values: Named, unit: Unit) -> str:
    """Quarter circles about one corner: waist and hem."""
    most = max(v for _, v in values) or 1.0
    scale = 128.0 / most
    out = []
    for _, value in sorted(values, key=lambda v: -v[1]):
        r = value * scale
        out.append(
            f'<path d="M{LEFT} 8V{8 + r:.1f}A{r:.1f} {r:.1f} 0 0 0 {LEFT + r:.1f} 8Z" fill="{PAPER}" stroke="{INK}"/>'
        )
    for k, (name, value) in enumerate(values):
        out.append(_text(160, 40 + 18 * k, f"{name}: radius {format_length(value, unit)}"))
    return "".join(out)


def _folds(values: Named, unit: Unit) -> str:
    """The edge of a pleated row seen from above."""
    given = dict(values)
    visible, depth, count = given["visible"], given["depth"], max(1, min(8, round(given["count"])))
    scale = (RIGHT - LEFT - 20) / (visible * count + depth)
    x, out = LEFT + 6, [f"M{LEFT + 6:.1f} 60"]
    for _ in range(count):
        x += visible * scale
        out.append(f"H{x:.1f}l-3 12H{x - depth * scale:.1f}l3 12H{x:.1f}l3 -24")
    path = f'<path d="{"".join(out)}H{min(RIGHT, x + 24):.1f}" fill="none" stroke="{INK}" stroke-width="2"/>'
    words = f"visible {format_length(visible, unit)}, depth {format_length(depth, unit)}"
    return path + _text(W / 2, 118, words, "middle")


def _strips(values: Named, unit: Unit) -> str:
    """A piece with its bias strips."""
    given = dict(values)
    a, b, strip = given["along"], given["across"], given["strip"]
    scale = min(200.0 / max(a, 1e-6), 112.0 / max(b, 1e-6))
    w, h, pitch = a * scale, b * scale, max(strip * math.sqrt(2) * scale, 2.0)
    x0, y0 = (W - w) / 2, 8.0
    out = [f'<rect x="{x0:.1f}" y="{y0}" width="{w:.1f}" height="{h:.1f}" fill="{PAPER}" stroke="{INK}"/>']
    c = pitch
    while c < w + h:
        x1, x2 = max(0.0, c - h), min(w, c)
        out.append(
            f'<path d="M{x0 + x1:.1f} {y0 + c - x1:.1f}L{x0 + x2:.1f} {y0 + c - x2:.1f}" stroke="{ROWAN}" stroke-width="1"/>'
        )
        c += pitch
    words = f"{format_length(a, unit)} by {format_length(b, unit)}, strips of {format_length(strip, unit)}"
    return "".join(out) + _text(W / 2, 142, words, "middle")


_DRAW: dict[str, Callable[[Named, Unit], str]] = {
    "lines": _lines,
    "row": _row,
    "box": _box,
    "bars": _bars,
    "rings": _rings,
    "folds": _folds,
    "strips": _strips,
}
