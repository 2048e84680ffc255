"""What a lay takes at the least, told at once: by area and by the pieces' own sizes, without laying anything."""

from dataclasses import dataclass

from shapely import Polygon

from rowanseed.core.lay.demand import cutting_shape, single_items, turns_of
from rowanseed.core.lay.model import LayRequest


@dataclass(frozen=True)
class QuickBound:
    """A length no lay goes below, mm, and the piece that is too wide for the cloth in any spread, empty where all fit."""

    length_mm: float
    too_wide: str = ""


def quick_bound(request: LayRequest) -> QuickBound:
    """Return the bound of a request on its cloth. Raises LayError for an outline that cannot be used."""
    usable = request.cloth.width_mm - sum(request.cloth.selvage_mm)
    area, longest = 0.0, 0.0
    for piece in request.pieces:
        poses = single_items(piece, turns_of(piece, request.cloth.one_way))[0].poses
        fitting = [p for p in poses if p.height_mm <= usable + 1e-6 or piece.selvage_edge is not None]
        if not fitting or usable <= 0:
            return QuickBound(0.0, piece.id)
        longest = max(longest, min(p.length_mm for p in fitting))
        area += Polygon(cutting_shape(fitting[0].cut, 0.0, False)).area * piece.cut
    return QuickBound(max(area / usable, longest))
