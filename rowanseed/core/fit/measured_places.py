"""Places on a piece at which a body is measured too: on the seam line, where the tape would lie on the sewn garment."""

import math

from rowanseed.core.fit.finished_measurements import width_at
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point


def seam_points(shape: PieceShape, edge: str) -> list[Point]:
    """An edge's points on the seam line, mm."""
    first, last = shape.edges[edge]
    count = len(shape.seam_line)
    return [shape.seam_line[(first + k) % count] for k in range((last - first) % count + 1)]


def lowest(shape: PieceShape, edge: str) -> float:
    """The x of an edge's seam line where it lies furthest down: a neck's at the centre, a cap's at the underarm."""
    return max(x for x, _ in seam_points(shape, edge))


def highest(shape: PieceShape, *edges: str) -> float:
    """The x of the uppermost place of edges on the seam line."""
    return min(x for edge in edges for x, _ in seam_points(shape, edge))


def side_neck(shape: PieceShape) -> Point | None:
    """Where neck and shoulder meet on the seam line; None on a piece without both."""
    if not {"neck", "shoulder"} <= shape.edges.keys():
        return None
    neck, shoulder = seam_points(shape, "neck"), seam_points(shape, "shoulder")
    return min(((math.dist(a, b), a) for a in neck for b in shoulder), key=lambda found: found[0])[1]


def neck_half(shape: PieceShape) -> float | None:
    """A piece's neck on the seam line from the shoulder to the body's centre, mm; None without a neck or a known centre.

    What lies beyond the centre front, an extension for buttons, is no part of it.
    """
    if side_neck(shape) is None:
        return None
    points = seam_points(shape, "neck")
    centre = centre_y(shape, max(x for x, _ in points))
    if centre is None:
        return None
    start = points[0] if abs(points[0][1] - centre) > abs(points[-1][1] - centre) else points[-1]
    walked = points if start == points[0] else points[::-1]
    side, total = math.copysign(1.0, start[1] - centre), 0.0
    for a, b in zip(walked, walked[1:], strict=False):
        inside, outside = (a[1] - centre) * side, (b[1] - centre) * side
        if outside >= 0:
            total += math.dist(a, b)
            continue
        return total + math.dist(a, b) * inside / (inside - outside)
    return total


def across(shape: PieceShape) -> float | None:
    """A piece's width half way down its armhole, from the centre to the armhole's seam line, mm; None without an armhole.

    Half way between shoulder and underarm the back is measured across, and the front: common practice, no published source.
    """
    if not {"armhole", "shoulder"} <= shape.edges.keys():
        return None
    points = seam_points(shape, "armhole")
    return width_at(shape, (min(x for x, _ in points) + max(x for x, _ in points)) / 2)


def centre_y(shape: PieceShape, x: float) -> float | None:
    """The y of the body's centre at a level: the fold, the centre front line, or the centre edge; None where none is known."""
    if shape.fold_edge is not None:
        return shape.fold_edge[0][1]
    for line in shape.lines:
        if line.kind == "centre front":
            return line.points[0][1]
    if "centre" in shape.edges:
        points = edge_points(shape.outline, shape.edges["centre"])
        return min(points, key=lambda p: abs(p[0] - x))[1]
    return None


def has_dart(shape: PieceShape) -> bool:
    """Whether a dart is drawn on a piece."""
    return any(line.kind == "dart" for line in shape.lines)
