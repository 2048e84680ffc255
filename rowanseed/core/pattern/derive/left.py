"""What is left of a piece's fold and edges on an outline that was cut out of it."""

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point

ON_FOLD_MM = 0.5


def fold_left(outline: Outline, before: PieceShape) -> tuple[Point, Point] | None:
    """The part of the fold that is left."""
    if before.fold_edge is None:
        return None
    axis = before.fold_edge[0][1]
    on = [p for p in outline if abs(p[1] - axis) < ON_FOLD_MM]
    return (min(on), max(on)) if len(on) > 1 else None


def edges_left(outline: Outline, before: PieceShape) -> dict[str, tuple[int, int]]:
    """The edges whose both ends are still there."""
    at = {(round(x, 1), round(y, 1)): k for k, (x, y) in enumerate(outline)}
    found = {}
    for name, (i, j) in before.edges.items():
        ends = [at.get((round(before.outline[k][0], 1), round(before.outline[k][1], 1))) for k in (i, j)]
        if ends[0] is not None and ends[1] is not None:
            found[name] = (ends[0], ends[1])
    return found
