"""What is drawn of each piece on paper at full size: its lines where it lies, the old line beside a changed one, its words."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from rowanseed.core.geometry.outline import edge_points, path_length, signed_area
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.paper.changed import changed_lines
from rowanseed.core.paper.model import PaperSheet, Placed
from rowanseed.formats.clear_ground import ClearGround, Label
from rowanseed.formats.pattern_sheet import DrawnLine, lines_of

LABEL_MM, TITLE_MM = 4.0, 5.5
EDGE_HEIGHTS = (3.0, 2.5, 2.1)  # of the words along an edge, the largest that finds room
INSIDE_MM = 2.0  # how far from their line words stand
LEAST_LABELLED_MM = 35.0
LINE_WORDS = {"lengthen": "lengthen or shorten here", "dart": "dart", "pleat": "pleat", "fold": "fold"}


@dataclass(frozen=True)
class PaperPiece:
    """A piece to be drawn: its id on the sheet, its words, its shape as it is cut, and before it was changed, as printed."""

    id: str
    words: tuple[str, ...]
    shape: PieceShape
    before: PieceShape | None = None
    size: str = ""


@dataclass(frozen=True)
class PaperDrawing:
    """Everything that stands on a sheet.

    `old`: lines as the tissue printed them; `by_piece`: the lines of each piece by its id; `beside`: by piece, the words that
    found no room on it clear of its lines, and are said beside the map; `names`: each piece's first words by its id.
    """

    sheet: PaperSheet
    lines: tuple[DrawnLine, ...]
    labels: tuple[Label, ...]
    by_piece: dict[str, tuple[DrawnLine, ...]]
    beside: tuple[tuple[str, str], ...] = ()
    names: Mapping[str, str] = field(default_factory=dict)

    @property
    def outlines(self) -> list[Outline]:
        """The cutting lines."""
        return [line.points for line in self.lines if line.kind == "cut"]


def paper_drawing(sheet: PaperSheet, pieces: Sequence[PaperPiece], unit: Unit) -> PaperDrawing:
    """Return what is drawn of pieces where they lie on a sheet."""
    known = {piece.id: piece for piece in pieces}
    by_piece: dict[str, tuple[DrawnLine, ...]] = {}
    labels: list[Label] = []
    beside: list[tuple[str, str]] = []
    for placed in sheet.placed:
        piece = known[placed.id]
        lines = by_piece[piece.id] = tuple(_lines(piece, placed))
        written, unwritten = _written(piece, placed, lines, unit)
        labels += written
        beside += [(piece.id, words) for words in unwritten]
    every = tuple(line for lines in by_piece.values() for line in lines)
    names = {piece.id: piece.words[0] for piece in pieces}
    return PaperDrawing(sheet, every, tuple(labels), by_piece, tuple(beside), names)


def _lines(piece: PaperPiece, placed: Placed) -> Iterator[DrawnLine]:
    yield from lines_of(piece.shape, placed.at)
    if piece.before is not None:
        for old in changed_lines(piece.before.outline, piece.shape.outline):
            yield DrawnLine("old", tuple(placed.at(p) for p in old))
    if piece.shape.fold_edge is not None:
        yield DrawnLine("grain", lines_of_grain(piece.shape, placed.at))


def lines_of_grain(shape: PieceShape, put: Callable[[Point], Point]) -> Outline:
    """Return the grain of a piece on the fold, a plain line along the middle."""
    return tuple(put(p) for p in shape.grain_or_default())


@dataclass(frozen=True)
class _Said:
    """Words that belong beside a line, the fullest first, at these distances from it."""

    texts: tuple[str, ...]
    line: Outline
    heights: tuple[float, ...]
    aways: tuple[float, ...]


def _written(
    piece: PaperPiece, placed: Placed, lines: Sequence[DrawnLine], unit: Unit
) -> tuple[list[Label], list[str]]:
    """A piece's words where they cross nothing, and those that found no such room."""
    outline = next(line.points for line in lines if line.kind == "cut")
    ground = ClearGround(outline, [_closed(line) for line in lines if line.kind != "cut"])
    title = [(words, LABEL_MM if k else TITLE_MM) for k, words in enumerate(piece.words)]
    labels = ground.block(title)
    found: list[Label] = labels or []
    unwritten = [] if labels else list(piece.words)
    for said in _said_along(piece, placed, unit):
        label = ground.along(said.texts, said.line, said.heights, said.aways)
        more = [label] if label else ground.block([(said.texts[0], said.heights[0])]) or []
        found += more
        unwritten += [] if more else [said.texts[0]]
    return found, unwritten


def _closed(line: DrawnLine) -> Outline:
    return (*line.points, line.points[0]) if line.closed else line.points


def _said_along(piece: PaperPiece, placed: Placed, unit: Unit) -> Iterator[_Said]:
    """Its allowance along each edge of a piece, and what its folds and lines are."""
    shape, inward = piece.shape, _inward(piece.shape, placed)
    if shape.fold_edge is not None:
        a, b = (placed.at(p) for p in shape.fold_edge)
        fold = (*(side * d for d in (INSIDE_MM, 14.0, 20.0) for side in (1, -1)),)  # one side is off the piece
        yield _Said(("place on the fold", "fold"), (a, b), (4.0, 3.0), fold)
    for name in shape.edges:
        points = edge_points(shape.outline, shape.edges[name])
        if path_length(points) < LEAST_LABELLED_MM or _on_fold(shape, points):
            continue
        allowance = shape.allowance_of(name)
        said, short = f"{name}: no seam allowance", f"{name}: 0"
        if allowance > 0:
            long = format_length(allowance, unit)
            said, short = f"{name}: seam allowance {long}", f"{name}: {long}"
        reach = (INSIDE_MM, 0.6, allowance + INSIDE_MM, allowance + 7.0, allowance + 13.0)
        yield _Said((said, short), tuple(placed.at(p) for p in points), EDGE_HEIGHTS, tuple(inward * d for d in reach))
    for inner in shape.lines:
        if inner.kind in LINE_WORDS and len(inner.points) > 1:
            leg = inner.points[: len(inner.points) // 2 + 1] if inner.kind == "dart" else inner.points
            drawn = tuple(placed.at(p) for p in leg)
            yield _Said((LINE_WORDS[inner.kind],), drawn, EDGE_HEIGHTS, (INSIDE_MM, -INSIDE_MM, 6.0, -6.0))
    if piece.before is not None:
        for old in changed_lines(piece.before.outline, shape.outline):
            if path_length(old) > LEAST_LABELLED_MM:
                drawn = tuple(placed.at(p) for p in old)
                yield _Said(("as printed",), drawn, (2.6, 2.1), (INSIDE_MM, -INSIDE_MM, 6.0, -6.0))


def _on_fold(shape: PieceShape, points: Sequence[Point]) -> bool:
    axis = shape.fold_edge[0][1] if shape.fold_edge else None
    return axis is not None and all(abs(y - axis) < 0.05 for _, y in points)


def _inward(shape: PieceShape, placed: Placed) -> float:
    """Whether inside lies to the right (1) or the left (-1) of the outline's way round on the sheet."""
    return 1.0 if signed_area(tuple(placed.at(p) for p in shape.outline)) > 0 else -1.0
