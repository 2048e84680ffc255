"""What was read of a file as a drawing: every proposed piece where it stood, all sizes, what was taken for a mark, the pages."""

import math
from collections.abc import Sequence
from xml.etree.ElementTree import Element

from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.model import Intake, ProposedPiece, SizeLines
from rowanseed.formats.drawing import Drawn, markup, tag

INK, SLATE, ROWAN, LEAF = "#2B2622", "#3F5873", "#B23A1E", "#33604D"
GAP_MM = 60.0


def intake_svg(intake: Intake, title: str) -> str:
    """Return the drawing; each piece is a group that can be pointed at, `data-piece` its place in the list."""
    places = _places(intake)
    boxes = [_box(piece, place) for piece, place in zip(intake.pieces, places)]
    x0, y0 = min(b[0] for b in boxes), min(b[1] for b in boxes)
    x1, y1 = max(b[2] for b in boxes), max(b[3] for b in boxes)
    for _, left, top, wide, high in intake.arrangement if _by_file(intake) else ():
        x0, y0, x1, y1 = min(x0, left), min(y0, top), max(x1, left + wide), max(y1, top + high)
    span = max(x1 - x0, y1 - y0)
    unit = span / 900
    parts: list[Drawn] = []
    if _by_file(intake) and len(intake.arrangement) > 1:
        parts += [_page(page, (x, y, w, h), unit) for page, x, y, w, h in intake.arrangement]
    parts += [_piece(k, piece, place, unit) for k, (piece, place) in enumerate(zip(intake.pieces, places))]
    edge = 0.02 * span
    view = f"{x0 - edge:.0f} {y0 - edge:.0f} {x1 - x0 + 2 * edge:.0f} {y1 - y0 + 2 * edge:.0f}"
    return markup(tag("svg", *parts, css="intake-sheet", viewBox=view, role="group", aria_label=title))


def _by_file(intake: Intake) -> bool:
    """Whether the pieces stand apart in the file, so that they can be shown where they stand."""
    return intake.kind in ("svg", "pdf") or not _overlap(intake.pieces)


def _overlap(pieces: Sequence[ProposedPiece]) -> bool:
    boxes = [_box(p, _in_file(p)) for p in pieces]
    for k, a in enumerate(boxes):
        for b in boxes[k + 1 :]:
            across, down = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
            if (
                across > 0
                and down > 0
                and across * down > 0.1 * min((a[2] - a[0]) * (a[3] - a[1]), (b[2] - b[0]) * (b[3] - b[1]))
            ):
                return True
    return False


class _Place:
    """Where a piece is drawn: turned back by an angle and moved."""

    def __init__(self, x: float, y: float, angle: float) -> None:
        self.x, self.y = x, y
        self.cos, self.sin = math.cos(angle), math.sin(angle)

    def at(self, p: Point) -> Point:
        return (self.x + p[0] * self.cos - p[1] * self.sin, self.y + p[0] * self.sin + p[1] * self.cos)


def _in_file(piece: ProposedPiece) -> _Place:
    return _Place(piece.origin[0], piece.origin[1], -piece.turned)


def _places(intake: Intake) -> list[_Place]:
    """Return where each piece is drawn: where the file has it, else upright in rows."""
    if _by_file(intake):
        return [_in_file(p) for p in intake.pieces]
    places, x, y, row = [], 0.0, 0.0, 0.0
    for piece in intake.pieces:
        box = _box(piece, _Place(0.0, 0.0, math.pi / 2))
        wide, high = box[2] - box[0], box[3] - box[1]
        if x > 0 and x + wide > 1800:
            x, y, row = 0.0, y + row + GAP_MM, 0.0
        places.append(_Place(x - box[0], y - box[1], math.pi / 2))
        x += wide + GAP_MM
        row = max(row, high)
    return places


def _box(piece: ProposedPiece, place: _Place) -> tuple[float, float, float, float]:
    points = [place.at(p) for lines in piece.sizes.values() for p in lines.outline]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def _d(points: Outline, place: _Place, closed: bool = False) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in map(place.at, points)) + ("Z" if closed else "")


def _page(page: int, box: tuple[float, float, float, float], unit: float) -> Element:
    x, y, wide, high = box
    return tag(
        "g",
        tag("rect", x=f"{x:.1f}", y=f"{y:.1f}", width=f"{wide:.1f}", height=f"{high:.1f}"),
        tag("text", str(page + 1), x=f"{x + 8 * unit:.1f}", y=f"{y + 26 * unit:.1f}", font_size=f"{22 * unit:.1f}"),
        css="intake-page",
        data_page=str(page),
        data_x=f"{x:.3f}",
        data_y=f"{y:.3f}",
        tabindex="0",
        role="button",
        aria_label=f"Page {page + 1}: move it with the arrow keys",
    )


def _piece(k: int, piece: ProposedPiece, place: _Place, unit: float) -> Element:
    order = sorted(piece.sizes.values(), key=lambda lines: -_area(lines))
    parts: list[Drawn] = []
    for n, lines in enumerate(order):
        css = "outer" if n == 0 else "nested"
        parts.append(tag("path", css=css, d=_d(lines.outline, place, True), stroke_width=f"{1.6 * unit:.2f}"))
    shown = order[0]
    parts += _marks(shown, place, unit)
    x, y = place.at(_middle(shown))
    parts.append(tag("text", piece.number, css="no", x=f"{x:.1f}", y=f"{y:.1f}", font_size=f"{30 * unit:.1f}"))
    title = f"{piece.number} {piece.name}, {len(piece.sizes)} size{'' if len(piece.sizes) == 1 else 's'}"
    return tag(
        "g",
        tag("title", title),
        *parts,
        css="proposed",
        data_piece=str(k),
        tabindex="0",
        role="checkbox",
        aria_checked="true",
        aria_label=title,
    )


def _area(lines: SizeLines) -> float:
    o = lines.outline
    return abs(sum(o[k - 1][0] * p[1] - p[0] * o[k - 1][1] for k, p in enumerate(o))) / 2


def _middle(lines: SizeLines) -> Point:
    xs, ys = [p[0] for p in lines.outline], [p[1] for p in lines.outline]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _marks(lines: SizeLines, place: _Place, unit: float) -> list[Drawn]:
    """Return what was taken for marks, each in its own look: seam dashed, grain with heads, fold heavy, notches, dots."""
    thin = f"{1.2 * unit:.2f}"
    parts: list[Drawn] = []
    if lines.seam_line:
        parts.append(
            tag(
                "path",
                css="seam mark",
                data_mark="seam",
                d=_d(lines.seam_line, place, True),
                stroke_width=thin,
                stroke_dasharray=f"{6 * unit:.1f} {4 * unit:.1f}",
            )
        )
    for k, inner in enumerate(lines.internal):
        parts.append(tag("path", css="inner mark", data_mark=f"inner:{k}", d=_d(inner, place), stroke_width=thin))
    if lines.fold_edge:
        parts.append(
            tag(
                "path",
                css="fold mark",
                data_mark="fold",
                d=_d(lines.fold_edge, place),
                stroke_width=f"{5 * unit:.2f}",
                stroke_dasharray=f"{14 * unit:.1f} {7 * unit:.1f}",
            )
        )
    elif lines.grain:
        width = f"{1.8 * unit:.2f}"
        parts.append(tag("path", css="grain mark", data_mark="grain", d=_d(lines.grain, place), stroke_width=width))
    for k, at in enumerate(lines.notches):
        parts.append(_spot("notch", k, place.at(at), 4.5 * unit))
    for k, at in enumerate(lines.points):
        parts.append(_spot("dot", k, place.at(at), 4 * unit, thin))
    return parts


def _spot(kind: str, k: int, at: Point, radius: float, stroke: str = "") -> Element:
    more = {"stroke_width": stroke} if stroke else {}
    where = {"cx": f"{at[0]:.1f}", "cy": f"{at[1]:.1f}", "r": f"{radius:.2f}"}
    return tag("circle", css=f"{kind} mark", data_mark=f"{kind}:{k}", **where, **more)
