"""Drawings of a piece as SVG: upright with its fold, grain and notches, and as altered over as it was.

Every drawing is in millimetres of cloth; text is escaped; no style attributes, so that a strict policy shows it as it is.
"""

from collections.abc import Sequence
from functools import lru_cache

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.formats.drawing import Drawn, markup, tag

Points = tuple[tuple[float, float], ...]
INK, SLATE, ROWAN = "#2B2622", "#3F5873", "#B23A1E"


def path(points: Sequence[tuple[float, float]]) -> str:
    """A closed path through the points."""
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points) + "Z"


def _upright(p: tuple[float, float]) -> tuple[float, float]:
    """A quarter turn, so that a piece stands with its head up and is not its own mirror image."""
    return (-p[1], p[0])


def piece_svg(shape: PieceShape, title: str, css: str = "piece-thumb") -> str:
    """A piece upright, its head at the top; the fold edge dashed, the grain as an arrow, notches as ticks."""
    fold = shape.fold_edge
    line = fold if fold is not None else shape.grain_or_default()
    notches = tuple((notch.at[0], notch.at[1]) for notch in shape.notches)
    outline = tuple((x, y) for x, y in shape.outline)
    return _piece_svg(outline, fold is not None, tuple((x, y) for x, y in line), notches, title, css)


@lru_cache(maxsize=1024)
def _piece_svg(outline: Points, folded: bool, line: Points, notches: Points, title: str, css: str) -> str:
    """Drawn once for all that it shows: the cards of a lay show the same pieces each time."""
    points = [_upright(p) for p in outline]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    x0, y0, width, height = min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)
    edge = 0.06 * max(width, height) + 2
    stroke = max(width, height) / 130
    parts: list[Drawn] = [tag("path", css="paper-fill", stroke_width=f"{stroke:.2f}", d=path(points))]
    (ax, ay), (bx, by) = line
    if folded:
        parts.append(
            tag(
                "path",
                d=f"M{-ay:.1f} {ax:.1f}L{-by:.1f} {bx:.1f}",
                stroke=SLATE,
                stroke_width=f"{stroke * 2.2:.2f}",
                stroke_dasharray=f"{stroke * 7:.1f} {stroke * 4:.1f}",
            )
        )
    else:
        parts.append(arrow((-ay, ax), (-by, bx), stroke, INK))
    for x, y in notches:
        parts.append(tag("circle", cx=f"{-y:.1f}", cy=f"{x:.1f}", r=f"{stroke * 2:.2f}", fill=INK))
    box = f"{x0 - edge:.0f} {y0 - edge:.0f} {width + 2 * edge:.0f} {height + 2 * edge:.0f}"
    return markup(tag("svg", *parts, css=css, viewBox=box, role="img", aria_label=title))


def before_after_svg(before: PieceShape, after: PieceShape, title: str) -> str:
    """A piece as altered over the piece as it was, upright: the old outline dashed."""
    old, new = [_upright(p) for p in before.outline], [_upright(p) for p in after.outline]
    xs, ys = [p[0] for p in old + new], [p[1] for p in old + new]
    edge = 0.05 * max(max(xs) - min(xs), max(ys) - min(ys)) + 2
    stroke = max(max(xs) - min(xs), max(ys) - min(ys)) / 150
    box = f"{min(xs) - edge:.0f} {min(ys) - edge:.0f} {max(xs) - min(xs) + 2 * edge:.0f} {max(ys) - min(ys) + 2 * edge:.0f}"
    drawing = tag(
        "svg",
        tag("path", d=path(new), fill="#E4EAF1", stroke=SLATE, stroke_width=f"{stroke * 1.6:.2f}"),
        tag(
            "path",
            d=path(old),
            fill="none",
            stroke=ROWAN,
            stroke_width=f"{stroke:.2f}",
            stroke_dasharray=f"{stroke * 6:.1f} {stroke * 4:.1f}",
        ),
        css="piece-change",
        viewBox=box,
        role="img",
        aria_label=title,
    )
    return markup(drawing)


def arrow(a: tuple[float, float], b: tuple[float, float], stroke: float, colour: str) -> Drawn:
    """A double-headed arrow."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = max((dx * dx + dy * dy) ** 0.5, 1e-9)
    ux, uy, head = dx / size, dy / size, stroke * 5
    out: list[Drawn] = [
        tag("path", d=f"M{a[0]:.1f} {a[1]:.1f}L{b[0]:.1f} {b[1]:.1f}", stroke=colour, stroke_width=f"{stroke:.2f}")
    ]
    for (px, py), sign in ((a, 1), (b, -1)):
        left = (px + sign * head * ux - head * 0.5 * uy, py + sign * head * uy + head * 0.5 * ux)
        right = (px + sign * head * ux + head * 0.5 * uy, py + sign * head * uy - head * 0.5 * ux)
        out.append(tag("path", d=path([(px, py), left, right]), fill=colour))
    return out
