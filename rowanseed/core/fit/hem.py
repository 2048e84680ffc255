"""A hem let down or taken up: its corners follow the slope of the edges that end there, as the seam's own line goes on."""

import math

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.reshape import NEAR_EDGE_MM, SAME, own_edges, rebuilt
from rowanseed.core.geometry.nearest import NearestOn
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point

SLOPE_OVER_MM = 40.0  # a hem's corner goes on as the edge ran over so much


def change_hem(shape: PieceShape, edge: str, by: float) -> PieceShape:
    """Let a hem down, or with a negative `by` take it up: its corners follow the slope of the edges that end there.

    Raises:
        AlterationError: there is no such edge, or less is left than would be taken up.
    """
    if edge not in shape.edges:
        known = ", ".join(own_edges(shape)) or "none"
        raise AlterationError(f"There is no edge “{edge}” on this piece; it has: {known}.", "edge")
    n = len(shape.outline)
    first, last = shape.edges[edge]
    points = list(shape.outline)
    corners = [_along_its_neighbour(shape, points, corner, step, by) for corner, step in ((first, -1), (last, 1))]
    (_, y0), (_, y1) = shape.outline[first], shape.outline[last]
    wide = (y1 - y0) or 1.0

    def on_hem(p: Point) -> Point:
        share = (p[1] - y0) / wide
        return (p[0] + by, corners[0][1] + share * (corners[1][1] - corners[0][1]))

    for k in range(1, (last - first) % n):
        at = (first + k) % n
        points[at] = on_hem(shape.outline[at])
    points[first], points[last] = corners
    line = NearestOn(edge_points(shape.outline, shape.edges[edge]))

    def move(p: Point) -> Point:
        return on_hem(p) if line.at(p).miss < NEAR_EDGE_MM else p

    return rebuilt(shape, points, list(range(n)), move)


def _along_its_neighbour(shape: PieceShape, points: list[Point], corner: int, step: int, by: float) -> Point:
    """Where a hem's corner comes to on the edge that ends in it, or on its line gone on; what is taken up there comes with it."""
    n = len(shape.outline)
    x, y = shape.outline[corner]
    k = corner
    if by >= 0:
        for _ in range(n - 2):
            k = (k + step) % n
            if math.dist(shape.outline[k], (x, y)) >= SLOPE_OVER_MM:
                break
        px, py = shape.outline[k]
        slope = (y - py) / (x - px) if abs(x - px) > SAME else 0.0
        return (x + by, y + by * max(-1.0, min(1.0, slope)))
    for _ in range(n - 2):
        before = (k + step) % n
        (px, py), (qx, qy) = shape.outline[k], shape.outline[before]
        if qx <= x + by + SAME:
            share = (x + by - px) / (qx - px) if abs(qx - px) > SAME else 0.0
            at = (x + by, py + share * (qy - py))
            for gone in _between(corner, k, step, n):
                points[gone] = at
            return at
        k = before
    raise AlterationError("That would take up more than there is above the hem.", "by")


def _between(first: int, last: int, step: int, n: int) -> list[int]:
    found = [first]
    while found[-1] != last:
        found.append((found[-1] + step) % n)
    return found
