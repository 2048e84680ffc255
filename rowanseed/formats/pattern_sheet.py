"""A pattern's pieces on one sheet as SVG and PDF draw them: upright, every size nested, with marks and words."""

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial

from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import signed_area
from rowanseed.core.geometry.shape import Notch, PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.pattern.model import ROLE_WORDS, Pattern, Piece
from rowanseed.formats.clear_ground import ClearGround, Label
from rowanseed.formats.label_place import middle_of

GAP_MM = 18.0
TICK_MM = 6.0
NOTCH_STEP_MM = 3.0
HEAD_MM = 6.0
BRACKET_MM = 12.0
WORDS_MM = 6.0


@dataclass(frozen=True)
class DrawnLine:
    """A line of a piece on the sheet; `kind`: cut, seam, notch, grain, fold, mark, internal."""

    kind: str
    points: Outline
    closed: bool = False


@dataclass(frozen=True)
class DrawnPiece:
    """A piece on the sheet: its words where they stand, and its lines by size."""

    piece: Piece
    words: tuple[Label, ...]
    sizes: dict[str, tuple[DrawnLine, ...]]
    box: tuple[float, float, float, float]


@dataclass
class Sheet:
    """Pieces one beside the other on a sheet, mm, y down."""

    width: float
    height: float
    pieces: list[DrawnPiece] = field(default_factory=list)


def pattern_sheet(pattern: Pattern, most_width: float = 1400.0, sizes: Sequence[str] | None = None) -> Sheet:
    """Return the pieces of a pattern on a sheet of at most a width (wider where a piece is), in rows, in their order."""
    sheet = Sheet(0.0, 0.0)
    x = y = row = 0.0
    for piece in pattern.pieces:
        chosen = {z: s for z, s in piece.shapes.items() if sizes is None or z in sizes}
        if not chosen:
            continue
        points = [_upright(p) for s in chosen.values() for p in s.outline]
        left, top = min(p[0] for p in points), min(p[1] for p in points)
        wide, high = max(p[0] for p in points) - left, max(p[1] for p in points) - top
        if x > 0 and x + wide + GAP_MM > most_width:
            x, y, row = 0.0, y + row, 0.0
        by = (x + GAP_MM - left, y + GAP_MM - top)
        lines = {z: tuple(lines_of(s, partial(_moved, by))) for z, s in chosen.items()}
        smallest = min(chosen, key=lambda z: chosen[z].area_mm2())
        sheet.pieces.append(DrawnPiece(piece, _placed_words(piece, smallest, lines), lines, (x, y, wide, high)))
        x += wide + GAP_MM
        row = max(row, high + GAP_MM)
        sheet.width = max(sheet.width, x + GAP_MM)
    sheet.height = y + row + GAP_MM
    return sheet


def _upright(p: Point) -> Point:
    """A quarter turn: the grain, along x in a piece, runs down the sheet, and what is left stays left of it."""
    return (-p[1], p[0])


def _words(piece: Piece) -> tuple[str, ...]:
    on_fold = any(s.fold_edge is not None for s in piece.shapes.values())
    of = "" if piece.role == "self" else f" {ROLE_WORDS[piece.role].lower()}"
    return f"{piece.number} {piece.name}", f"Cut {piece.cut}{of}{' on the fold' if on_fold else ''}"


def _placed_words(piece: Piece, smallest: str, lines: Mapping[str, Sequence[DrawnLine]]) -> tuple[Label, ...]:
    """A piece's words inside its smallest size, clear of every size's lines where there is room."""
    outline = next(line.points for line in lines[smallest] if line.kind == "cut")
    drawn = [(*ln.points, ln.points[0]) if ln.closed else ln.points for own in lines.values() for ln in own]
    words = [(text, WORDS_MM) for text in _words(piece)]
    found = ClearGround(outline, drawn).block(words)
    if found is not None:
        return tuple(found)
    x, y = middle_of(outline)
    return tuple(Label(text, (x, y + 9.0 * k), 0.0, WORDS_MM) for k, (text, _) in enumerate(words))


def _moved(by: Point, p: Point) -> Point:
    x, y = _upright(p)
    return (x + by[0], y + by[1])


def lines_of(shape: PieceShape, put: Callable[[Point], Point]) -> Iterator[DrawnLine]:
    """Yield the lines that a piece in one size is drawn with, each point where `put` puts it."""

    def line(points: Sequence[Point]) -> Outline:
        return tuple(put(p) for p in points)

    yield DrawnLine("cut", line(shape.outline), True)
    if any(shape.side_allowances):
        yield DrawnLine("seam", line(shape.seam_line), True)
    for notch in shape.notches:
        for at in notch_places(shape, notch):
            yield DrawnLine("notch", line(_tick(shape, at)))
    if shape.fold_edge is not None:
        yield DrawnLine("fold", line(_bracket(shape)))
    else:
        yield DrawnLine("grain", line(_arrow(*shape.grain_or_default())))
    for mark in shape.marks:
        x, y = mark.at
        ring = [(x + 2 * math.cos(k * math.pi / 8), y + 2 * math.sin(k * math.pi / 8)) for k in range(16)]
        yield DrawnLine("mark", line(ring), True)
    for inner in shape.lines:
        for part in _on_piece(inner.points, shape.outline):
            yield DrawnLine("seam" if inner.kind == "seam" else "internal", line(part))


def _on_piece(points: Outline, outline: Outline) -> list[Outline]:
    """The parts of a line that lie on the piece: what runs beyond its cutting line would be drawn over the piece beside it."""
    from shapely import LineString, Polygon, get_parts

    if len(points) < 2:
        return [points]
    whole, piece = LineString(points), Polygon(outline).buffer(0.05)
    if piece.covers(whole):
        return [points]
    return [tuple(part.coords) for part in get_parts(whole.intersection(piece)) if part.length > 0.1]


def notch_places(shape: PieceShape, notch: Notch) -> list[Point]:
    """Return where the ticks of a notch begin on the cutting line: one, or two or three beside each other."""
    foot, (ux, uy) = _foot(shape, notch.at)
    steps = [NOTCH_STEP_MM * (k - (notch.count - 1) / 2) for k in range(notch.count)]
    return [(foot[0] + step * ux, foot[1] + step * uy) for step in steps]


def _foot(shape: PieceShape, at: Point) -> tuple[Point, Point]:
    """Return the place on the cutting line nearest to a point, and the line's direction there."""
    near = nearest(shape.outline, at, closed=True)
    a, b = shape.outline[near.segment], shape.outline[(near.segment + 1) % len(shape.outline)]
    long = math.dist(a, b) or 1.0
    along = ((b[0] - a[0]) / long, (b[1] - a[1]) / long)
    return (a[0] + near.share * (b[0] - a[0]), a[1] + near.share * (b[1] - a[1])), along


def _tick(shape: PieceShape, at: Point) -> tuple[Point, Point]:
    """Return a short line from a place on the cutting line inward, square to it."""
    foot, (ux, uy) = _foot(shape, at)
    inward = (-uy, ux) if signed_area(shape.outline) > 0 else (uy, -ux)
    return foot, (foot[0] + TICK_MM * inward[0], foot[1] + TICK_MM * inward[1])


def _arrow(a: Point, b: Point) -> tuple[Point, ...]:
    """Return an arrow with a head at both ends, drawn in one line."""
    long = math.dist(a, b) or 1.0
    ux, uy = HEAD_MM * (b[0] - a[0]) / long, HEAD_MM * (b[1] - a[1]) / long
    barb = 0.4
    first = ((a[0] + ux - barb * uy, a[1] + uy + barb * ux), a, (a[0] + ux + barb * uy, a[1] + uy - barb * ux), a)
    last = (b, (b[0] - ux - barb * uy, b[1] - uy + barb * ux), b, (b[0] - ux + barb * uy, b[1] - uy - barb * ux))
    return (*first, *last)


def _bracket(shape: PieceShape) -> tuple[Point, ...]:
    """Return the bracketed arrow of a fold: a line beside the fold with a leg at both ends that points to it."""
    assert shape.fold_edge is not None
    (ax, ay), (bx, by) = shape.fold_edge
    side = 1.0 if sum(y for _, y in shape.outline) / len(shape.outline) > ay else -1.0
    off = side * BRACKET_MM
    p, q = 0.25, 0.75
    first, last = (ax + p * (bx - ax), ay + p * (by - ay)), (ax + q * (bx - ax), ay + q * (by - ay))
    return first, (first[0], first[1] + off), (last[0], last[1] + off), last
