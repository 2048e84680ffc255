"""What is drawn of each piece on paper at full size: its lines where it lies, the old line beside a changed one, its words."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from shapely import box
from shapely.affinity import rotate
from shapely.geometry.base import BaseGeometry

from rowanseed.core.geometry.outline import edge_points, path_length, signed_area
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.paper.changed import changed_lines
from rowanseed.core.paper.model import PaperSheet, Placed
from rowanseed.formats.label_place import clear_place, middle_of
from rowanseed.formats.pattern_sheet import DrawnLine, lines_of

LABEL_MM, TITLE_MM, LINE_MM = 4.0, 5.5, 6.0
CLEAR_MM = 1.5  # round a piece's words
AVERAGE_LETTER = 0.56  # a letter's width in the sheet's type, of its height
INSIDE_MM = 3.0  # how far inside the cutting line an edge's words stand
LEAST_LABELLED_MM = 35.0


@dataclass(frozen=True)
class PaperPiece:
    """A piece to be drawn: its id on the sheet, its words, its shape as it is cut, and before it was changed, as printed."""

    id: str
    words: tuple[str, ...]
    shape: PieceShape
    before: PieceShape | None = None
    size: str = ""


@dataclass(frozen=True)
class Label:
    """Words on the sheet: where their middle stands, how they are turned (radians, clockwise on paper), how high they are."""

    text: str
    at: Point
    angle: float = 0.0
    height: float = LABEL_MM


@dataclass(frozen=True)
class PaperDrawing:
    """Everything that stands on a sheet; `old`: lines as the tissue printed them; `by_piece`: the lines of each piece by its id."""

    sheet: PaperSheet
    lines: tuple[DrawnLine, ...]
    labels: tuple[Label, ...]
    by_piece: dict[str, tuple[DrawnLine, ...]]

    @property
    def outlines(self) -> list[Outline]:
        """The cutting lines."""
        return [line.points for line in self.lines if line.kind == "cut"]


def paper_drawing(sheet: PaperSheet, pieces: Sequence[PaperPiece], unit: Unit) -> PaperDrawing:
    """Return what is drawn of pieces where they lie on a sheet."""
    known = {piece.id: piece for piece in pieces}
    by_piece: dict[str, tuple[DrawnLine, ...]] = {}
    labels: list[Label] = []
    for placed in sheet.placed:
        piece = known[placed.id]
        lines = list(lines_of(piece.shape, placed.at))
        if piece.before is not None:
            for old in changed_lines(piece.before.outline, piece.shape.outline):
                lines.append(DrawnLine("old", tuple(placed.at(p) for p in old)))
        if piece.shape.fold_edge is not None:
            lines.append(DrawnLine("grain", tuple(lines_of_grain(piece.shape, placed.at))))
        by_piece[piece.id] = tuple(lines)
        along = list(_labels(piece, placed, unit))
        labels += [*along, *_words(piece, placed, lines, along)]
    return PaperDrawing(sheet, tuple(line for lines in by_piece.values() for line in lines), tuple(labels), by_piece)


def lines_of_grain(shape: PieceShape, put: Callable[[Point], Point]) -> Outline:
    """Return the grain of a piece on the fold, a plain line along the middle."""
    return tuple(put(p) for p in shape.grain_or_default())


def _labels(piece: PaperPiece, placed: Placed, unit: Unit) -> Iterator[Label]:
    """Its allowance along each edge of a piece, and what its folds and lines are."""
    for name in piece.shape.edges:
        yield from _edge_label(piece.shape, name, placed, unit)
    for line in piece.shape.lines:
        if line.kind in ("lengthen", "dart", "pleat", "fold") and len(line.points) > 1:
            a, b = line.points[0], line.points[-1]
            if line.kind == "dart":
                a, b = line.points[0], line.points[len(line.points) // 2]
            words = {"lengthen": "lengthen or shorten here"}.get(line.kind, line.kind)
            yield _along(words, placed.at(a), placed.at(b), 3.0)
    if piece.shape.fold_edge is not None:
        a, b = (placed.at(p) for p in piece.shape.fold_edge)
        yield _along("place on the fold", a, b, 4.0, inward=_inward(piece.shape, placed))
    if piece.before is not None:
        for old in changed_lines(piece.before.outline, piece.shape.outline):
            if path_length(old) > LEAST_LABELLED_MM:
                half = len(old) // 2
                yield _along(
                    "as printed", placed.at(old[max(0, half - 1)]), placed.at(old[min(len(old) - 1, half + 1)]), 2.6
                )


def _words(piece: PaperPiece, placed: Placed, lines: Sequence[DrawnLine], along: Sequence[Label]) -> Iterator[Label]:
    """The piece's words near its middle, clear of its lines and of what stands along them where there is room."""
    outline = tuple(placed.at(p) for p in piece.shape.outline)
    heights = [TITLE_MM, *[LABEL_MM] * (len(piece.words) - 1)]
    wide = max(_width(words, h) for words, h in zip(piece.words, heights, strict=True)) + 2 * CLEAR_MM
    high = LINE_MM * (len(piece.words) - 1) + TITLE_MM + 2 * CLEAR_MM
    obstacles = [line.points for line in lines if line.kind != "cut"]
    x, y = clear_place(outline, wide, high, obstacles, [_ground(label) for label in along]) or middle_of(outline)
    top = y - LINE_MM * (len(piece.words) - 1) / 2
    for k, (words, height) in enumerate(zip(piece.words, heights, strict=True)):
        yield Label(words, (x, top + LINE_MM * k), 0.0, height)


def _width(words: str, height: float) -> float:
    return AVERAGE_LETTER * height * len(words)


def _ground(label: Label) -> BaseGeometry:
    """The ground that words along a line cover."""
    x, y = label.at
    wide, high = _width(label.text, label.height) / 2, label.height / 2
    return rotate(box(x - wide, y - high, x + wide, y + high), label.angle, origin=(x, y), use_radians=True)


def _edge_label(shape: PieceShape, name: str, placed: Placed, unit: Unit) -> Iterator[Label]:
    points = edge_points(shape.outline, shape.edges[name])
    if path_length(points) < LEAST_LABELLED_MM:
        return
    allowance = shape.allowance_of(name)
    axis = shape.fold_edge[0][1] if shape.fold_edge else None
    if axis is not None and all(abs(y - axis) < 0.05 for _, y in points):
        return
    a, b = _middle_of(points)
    said = f"{name}: seam allowance {format_length(allowance, unit)}" if allowance > 0 else f"{name}: no seam allowance"
    yield _along(said, placed.at(a), placed.at(b), 3.0, inward=_inward(shape, placed))


def _middle_of(points: Sequence[Point]) -> tuple[Point, Point]:
    """Return the ends of the part of a line about its middle that words stand along."""
    whole, far = path_length(points), 0.0
    for a, b in zip(points, points[1:], strict=False):
        step = math.dist(a, b)
        if far + step >= whole / 2 and step > 1e-6:
            share = (whole / 2 - far) / step
            at = (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]))
            ux, uy = (b[0] - a[0]) / step, (b[1] - a[1]) / step
            return (at[0] - ux, at[1] - uy), (at[0] + ux, at[1] + uy)
        far += step
    return points[0], points[-1]


def _inward(shape: PieceShape, placed: Placed) -> float:
    """Whether inside lies to the right (1) or the left (-1) of the outline's way round on the sheet."""
    return 1.0 if signed_area(tuple(placed.at(p) for p in shape.outline)) > 0 else -1.0


def _along(text: str, a: Point, b: Point, height: float, inward: float = 1.0) -> Label:
    """Return words along a line, inside it, never upside down."""
    angle = math.atan2(b[1] - a[1], b[0] - a[0])
    away = INSIDE_MM + height / 2
    at = (
        (a[0] + b[0]) / 2 - inward * away * math.sin(angle),
        (a[1] + b[1]) / 2 + inward * away * math.cos(angle),
    )
    if math.cos(angle) < -1e-9:
        angle += math.pi
    return Label(text, at, angle, height)
