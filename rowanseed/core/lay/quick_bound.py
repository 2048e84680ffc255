"""What a lay takes at the least, told at once: by area and by the pieces' own sizes, without laying anything."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely import Polygon

from rowanseed.core.lay.demand import cutting_shape, single_items, turns_of
from rowanseed.core.lay.model import LayPiece, LayRequest


@dataclass(frozen=True)
class QuickBound:
    """A length no lay goes below, mm, and the piece that is too wide for the cloth in any spread, empty where all fit."""

    length_mm: float
    too_wide: str = ""


@dataclass(frozen=True)
class Extent:
    """A piece as far as a bound asks: each way it may lie as (length along, height across), mm, and its area times its count.

    `count`: how many lie in a single layer, halves on the fold opened out.
    """

    piece: str
    ways: tuple[tuple[float, float], ...]
    area_mm2: float
    count: int = 1
    at_selvage: bool = False


def extents(pieces: Sequence[LayPiece], one_way: bool) -> tuple[Extent, ...]:
    """Return what bounds on any width are worked out from. Raises LayError for an outline that cannot be used."""
    found = []
    for piece in pieces:
        items = single_items(piece, turns_of(piece, one_way))
        poses = items[0].poses
        area = Polygon(cutting_shape(poses[0].cut, 0.0, False)).area * piece.cut
        ways = tuple((p.length_mm, p.height_mm) for p in poses)
        found.append(Extent(piece.id, ways, area, len(items), piece.selvage_edge is not None))
    return tuple(found)


def bound_on(pieces: Sequence[Extent], usable_mm: float) -> QuickBound:
    """Return the bound of pieces on a cloth whose usable width is given."""
    area, longest = 0.0, 0.0
    for piece in pieces:
        fitting = [length for length, height in piece.ways if height <= usable_mm + 1e-6 or piece.at_selvage]
        if not fitting or usable_mm <= 0:
            return QuickBound(0.0, piece.piece)
        longest = max(longest, min(fitting))
        area += piece.area_mm2
    return QuickBound(max(area / usable_mm, longest))


def in_rows(pieces: Sequence[Extent], usable_mm: float, gap_mm: float) -> list[tuple[str, float, float, float, float]]:
    """Return a plain lay in a single layer: each piece in its own box, box by box in rows across the cloth, the longest first.

    As (piece, x, y, length, height), mm; empty where a piece is too wide. No search finds less use for the cloth, so what
    this leaves room for is surely enough.
    """
    boxes: list[tuple[float, float, str]] = []
    for piece in pieces:
        fitting = [(length, height) for length, height in piece.ways if height <= usable_mm + 1e-6]
        if not fitting or piece.at_selvage:
            return []
        boxes += [(*min(fitting), piece.piece)] * piece.count
    placed, x, y, row = [], 0.0, 0.0, 0.0
    for length, height, piece_id in sorted(boxes, reverse=True):
        if y > 0.0 and y + height > usable_mm + 1e-6:
            x, y, row = x + row + gap_mm, 0.0, 0.0
        placed.append((piece_id, x, y, length, height))
        y, row = y + height + gap_mm, max(row, length)
    return placed


def quick_bound(request: LayRequest) -> QuickBound:
    """Return the bound of a request on its cloth. Raises LayError for an outline that cannot be used."""
    usable = request.cloth.width_mm - sum(request.cloth.selvage_mm)
    return bound_on(extents(request.pieces, request.cloth.one_way), usable)
