"""The drawings beside the bench's sums: lines from an edge, marks in a row, lengths compared, circles, folds, strips."""

import math
from collections.abc import Callable, Sequence

from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.reckon.model import Figure
from rowanseed.formats.drawing import Drawn, markup, tag

W, H = 300.0, 150.0
LEFT, RIGHT = 14.0, 286.0
PAPER, INK, LEAF, SLATE, ROWAN = "#F3ECDD", "#2B2622", "#33604D", "#3F5873", "#B23A1E"
Named = Sequence[tuple[str, float]]


def bench_figure(figure: Figure, title: str, unit: Unit) -> str:
    """A sum's figure as SVG, to scale in itself, with its lengths written in; the title is its text equivalent's."""
    values = [(name, value) for name, value in figure.values if math.isfinite(value) and value >= 0]
    inner = _DRAW[figure.kind](values, unit) if values else []
    said = "; ".join(
        f"{name} {format_length(value, unit)}" for name, value in values if name and figure.kind != "folds"
    )
    box, label = f"0 0 {W:.0f} {H:.0f}", f"{title}: {said}"
    return markup(tag("svg", inner, viewBox=box, css="bench-fig", role="img", aria_label=label))


def _text(x: float, y: float, words: str, anchor: str = "start", size: float = 11.5) -> Drawn:
    return tag("text", words, x=f"{x:.1f}", y=f"{y:.1f}", font_size=size, text_anchor=anchor)


def _lines(values: Named, unit: Unit) -> Drawn:
    """The raw edge at the bottom, a line at each distance from it."""
    most = max(v for _, v in values) or 1.0
    scale = 104.0 / most
    out: list[Drawn] = [tag("rect", x=LEFT, y="12", width=RIGHT - LEFT, height="124", fill=PAPER)]
    out.append(
        [tag("path", d=f"M{LEFT} 136H{RIGHT}", stroke=INK, stroke_width="2"), _text(LEFT + 4, 148, "edge", size=10)]
    )
    taken: list[float] = []
    for name, value in values:
        y = 136 - value * scale
        out.append(tag("path", d=f"M{LEFT} {y:.1f}H{RIGHT}", stroke=ROWAN, stroke_width="1.4", stroke_dasharray="6 3"))
        at = y - 3
        if all(abs(at - other) > 11 for other in taken) and len(values) <= 12:
            taken.append(at)
            out.append(_text(RIGHT - 4, at, f"{name} {format_length(value, unit)}", "end"))
    return out


def _row(values: Named, unit: Unit) -> Drawn:
    """Marks along an edge."""
    most = max(v for _, v in values) or 1.0
    scale = (RIGHT - LEFT - 24) / most
    out: list[Drawn] = [tag("rect", x=LEFT, y="46", width=RIGHT - LEFT, height="46", fill=PAPER, stroke=INK)]
    for name, value in values:
        x = LEFT + 12 + value * scale
        out.append(tag("path", d=f"M{x:.1f} 58V80", stroke=ROWAN, stroke_width="2"))
        if len(values) <= 12:
            out.append(_text(x, 42, name, "middle", 10))
    for value in {values[0][1], values[-1][1]}:
        out.append(_text(LEFT + 12 + value * scale, 108, format_length(value, unit), "middle", 10.5))
    return out


def _box(values: Named, unit: Unit) -> Drawn:
    """A length and a width."""
    (along, a), (across, b) = values[:2]
    scale = min(230.0 / max(a, 1e-6), 92.0 / max(b, 1e-6))
    w, h = max(a * scale, 4.0), max(b * scale, 4.0)
    x, y = (W - w) / 2, 14 + (92 - h) / 2
    return [
        tag("rect", x=f"{x:.1f}", y=f"{y:.1f}", width=f"{w:.1f}", height=f"{h:.1f}", fill=PAPER, stroke=INK),
        _text(W / 2, y + h + 16, f"{along} {format_length(a, unit)}", "middle"),
        _text(W / 2, y + h + 31, f"{across} {format_length(b, unit)}", "middle"),
    ]


def _bars(values: Named, unit: Unit) -> Drawn:
    """Lengths below one another, on one scale."""
    most = max(v for _, v in values) or 1.0
    pitch = 124.0 / len(values)
    out: list[Drawn] = []
    for k, (name, value) in enumerate(values):
        y, colour = 14 + k * pitch, (SLATE, LEAF, ROWAN)[k % 3]
        out.append(_text(LEFT, y + 10, f"{name} {format_length(value, unit)}"))
        width = value / most * (RIGHT - LEFT)
        out.append(
            tag(
                "rect",
                x=LEFT,
                y=f"{y + 15:.1f}",
                width=f"{width:.1f}",
                height=f"{min(16.0, pitch - 22):.1f}",
                fill=colour,
            )
        )
    return out


def _rings(values: Named, unit: Unit) -> Drawn:
    """Quarter circles about one corner: waist and hem."""
    most = max(v for _, v in values) or 1.0
    scale = 128.0 / most
    out: list[Drawn] = []
    for _, value in sorted(values, key=lambda v: -v[1]):
        r = value * scale
        out.append(
            tag("path", d=f"M{LEFT} 8V{8 + r:.1f}A{r:.1f} {r:.1f} 0 0 0 {LEFT + r:.1f} 8Z", fill=PAPER, stroke=INK)
        )
    for k, (name, value) in enumerate(values):
        out.append(_text(160, 40 + 18 * k, f"{name}: radius {format_length(value, unit)}"))
    return out


def _folds(values: Named, unit: Unit) -> Drawn:
    """The edge of a pleated row seen from above."""
    given = dict(values)
    visible, depth, count = given["visible"], given["depth"], max(1, min(8, round(given["count"])))
    scale = (RIGHT - LEFT - 20) / (visible * count + depth)
    x, out = LEFT + 6, [f"M{LEFT + 6:.1f} 60"]
    for _ in range(count):
        x += visible * scale
        out.append(f"H{x:.1f}l-3 12H{x - depth * scale:.1f}l3 12H{x:.1f}l3 -24")
    path = tag("path", d=f"{''.join(out)}H{min(RIGHT, x + 24):.1f}", fill="none", stroke=INK, stroke_width="2")
    words = f"visible {format_length(visible, unit)}, depth {format_length(depth, unit)}"
    return [path, _text(W / 2, 118, words, "middle")]


def _strips(values: Named, unit: Unit) -> Drawn:
    """A piece with its bias strips."""
    given = dict(values)
    a, b, strip = given["along"], given["across"], given["strip"]
    scale = min(200.0 / max(a, 1e-6), 112.0 / max(b, 1e-6))
    w, h, pitch = a * scale, b * scale, max(strip * math.sqrt(2) * scale, 2.0)
    x0, y0 = (W - w) / 2, 8.0
    out: list[Drawn] = [tag("rect", x=f"{x0:.1f}", y=y0, width=f"{w:.1f}", height=f"{h:.1f}", fill=PAPER, stroke=INK)]
    c = pitch
    while c < w + h:
        x1, x2 = max(0.0, c - h), min(w, c)
        out.append(
            tag(
                "path",
                d=f"M{x0 + x1:.1f} {y0 + c - x1:.1f}L{x0 + x2:.1f} {y0 + c - x2:.1f}",
                stroke=ROWAN,
                stroke_width="1",
            )
        )
        c += pitch
    words = f"{format_length(a, unit)} by {format_length(b, unit)}, strips of {format_length(strip, unit)}"
    return [*out, _text(W / 2, 142, words, "middle")]


_DRAW: dict[str, Callable[[Named, Unit], Drawn]] = {
    "lines": _lines,
    "row": _row,
    "box": _box,
    "bars": _bars,
    "rings": _rings,
    "folds": _folds,
    "strips": _strips,
}
