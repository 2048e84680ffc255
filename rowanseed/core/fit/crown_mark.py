"""The mark at a cap's crown, which meets the shoulder seam: where that seam goes forward, the mark goes forward as far."""

import math
from dataclasses import replace

import numpy as np

from rowanseed.core.fit.change import Change
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point

CROWN_MM = 30.0  # a mark or notch so near to the cap's highest place is the one that meets the shoulder
CAP, FRONT_SEAM = "cap", "front seam"


def move_crown_marks(change: Change) -> None:
    """Shift the crown's mark on caps drawn in one edge, sewn to an armhole whose shoulder seam moved forward.

    A cap in two halves needs none of it: its crown itself moves, so that each half fits its own armhole.
    """
    sleeves = {n for seam in change.seams for n, _ in seam.edges if any(m in change.altered for m, _ in seam.edges)}
    for number in sorted(sleeves - change.altered):
        shape = change.now(number).shape
        if CAP in shape.edges and FRONT_SEAM in shape.edges and "cap front" not in shape.edges:
            moved = _moved_forward(shape, change.alteration.by_mm)
            if moved != shape and change.follow(number, "its mark meets the shoulder seam, which moved"):
                change.with_notches(number, moved)


def _moved_forward(shape: PieceShape, by: float) -> PieceShape:
    points = edge_points(shape.outline, shape.edges[CAP])
    if not set(shape.edges[CAP]) & set(shape.edges[FRONT_SEAM]):
        return shape
    forward = -1.0 if shape.edges[CAP][0] in shape.edges[FRONT_SEAM] else 1.0
    crown = min(points)
    far = np.concatenate(([0.0], np.cumsum([math.dist(a, b) for a, b in zip(points, points[1:])])))
    whole = path_length(points)

    def at(along: float) -> Point:
        along = min(max(along, 0.0), whole)
        return float(np.interp(along, far, [x for x, _ in points])), float(
            np.interp(along, far, [y for _, y in points])
        )

    def shifted(place: Point) -> Point:
        if math.dist(place, crown) > CROWN_MM:
            return place
        along = nearest(points, place).along
        (ax, ay), (bx, by_) = at(along), at(along + forward * by)
        return (place[0] + bx - ax, place[1] + by_ - ay)

    return replace(
        shape,
        notches=tuple(replace(n, at=shifted(n.at)) for n in shape.notches),
        marks=tuple(replace(m, at=shifted(m.at)) for m in shape.marks),
    )
