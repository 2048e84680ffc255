"""What an alteration does to every place of a piece: followed by points along its outline and a grid inside, as it is made.

A layer behind a piece is moved by what its shell did, whatever was done to the shell: so both are altered alike at the same place.
"""

import math
from dataclasses import replace

import numpy as np
import numpy.typing as npt
from shapely import Polygon, contains_xy

from rowanseed.core.fit.reshape import HIDDEN, subdivided_all
from rowanseed.core.geometry.nearest import NearestOn
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import Mark, PieceShape
from rowanseed.core.geometry.types import Outline, Point

STEP_MM = 8.0
GRID_MM = 40.0
SAME_MM = 1e-6
STRAIGHT_MM = 0.005

Vectors = npt.NDArray[np.float64]


def tracked(shape: PieceShape, inside: bool) -> PieceShape:
    """The shape with points along its outline that an alteration takes along; `untracked` drops them.

    Args:
        inside: with a grid of marks too, for an alteration that moves what lies inside.
    """
    dense = subdivided_all(shape, STEP_MM)
    edges = {**dense.edges, **{f"{HIDDEN}{k}": (k, k) for k in range(len(dense.outline))}}
    dense = replace(dense, edges=edges)
    if not inside:
        return dense
    xs, ys = zip(*dense.outline, strict=True)
    area = Polygon(dense.outline)
    grid = [
        (x, y)
        for x in np.arange(min(xs) + GRID_MM / 2, max(xs), GRID_MM).tolist()
        for y in np.arange(min(ys) + GRID_MM / 2, max(ys), GRID_MM).tolist()
        if contains_xy(area, x, y)
    ]
    marks = tuple(Mark(f"{HIDDEN}{k}", place) for k, place in enumerate(grid))
    return replace(dense, marks=(*dense.marks, *marks))


def untracked(shape: PieceShape) -> PieceShape:
    """The shape without what `tracked` put there, and without points on straight lines that nothing needs."""
    edges = {name: at for name, at in shape.edges.items() if not name.startswith(HIDDEN)}
    plain = replace(shape, edges=edges, marks=tuple(m for m in shape.marks if not m.name.startswith(HIDDEN)))
    return without_idle_points(plain)


def without_idle_points(shape: PieceShape) -> PieceShape:
    """The shape without points that lie on the straight line between their neighbours and begin or end no edge."""
    needed = {k for pair in shape.edges.values() for k in pair}
    n = len(shape.outline)
    kept: list[int] = []
    for k, p in enumerate(shape.outline):
        before = shape.outline[kept[-1]] if kept else shape.outline[-1]
        after = shape.outline[(k + 1) % n]
        if k in needed or not kept or _off(before, p, after) > STRAIGHT_MM:
            kept.append(k)
    if len(kept) < 4 or len(kept) == n:
        return shape
    place = {k: at for at, k in enumerate(kept)}
    edges = {name: (place[i], place[j]) for name, (i, j) in shape.edges.items()}
    return replace(shape, outline=tuple(shape.outline[k] for k in kept), edges=edges)


def _off(a: Point, p: Point, b: Point) -> float:
    """How far a point lies off the line between two, mm; what lies beyond them is far off."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = dx * dx + dy * dy
    if size < SAME_MM:
        return math.dist(a, p)
    t = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / size
    if not 0.0 <= t <= 1.0:
        return math.inf
    return math.dist(p, (a[0] + t * dx, a[1] + t * dy))


class Field:
    """Where the places of a piece went that was tracked: `outline` as it was, and `by`, what each point of it was moved by.

    `outline` has n points, `by` is n x 2, in mm; `edges` are the piece's own.
    """

    def __init__(self, before: PieceShape, after: PieceShape) -> None:
        self.outline: Outline = before.outline
        self._points = np.array(before.outline)
        gone = np.array([after.outline[after.edges[f"{HIDDEN}{k}"][0]] for k in range(len(self._points))])
        self.by: Vectors = gone - self._points
        was = {m.name: m.at for m in before.marks if m.name.startswith(HIDDEN)}
        now = {m.name: m.at for m in after.marks}
        names = [name for name in was if name in now]
        self._inside = np.array([was[name] for name in names]).reshape(-1, 2)
        self._inside_by = np.array([now[name] for name in names]).reshape(-1, 2) - self._inside
        self.edges = {name: at for name, at in before.edges.items() if not name.startswith(HIDDEN)}
        self._ring = NearestOn(self.outline, closed=True)
        self._lines = {name: NearestOn(edge_points(self.outline, at)) for name, at in self.edges.items()}

    def along(self, edge: str, place: Point) -> Point:
        """What a place was moved by that lies beside an edge: as the nearest place of that edge."""
        near = self._lines[edge].at(place)
        return self._on_side((self.edges[edge][0] + near.segment) % len(self.outline), near.share)

    def beside(self, place: Point) -> tuple[float, Point]:
        """How far from the outline a place lies, and what the nearest place of the outline was moved by."""
        near = self._ring.at(place)
        return near.miss, self._on_side(near.segment, near.share)

    def _on_side(self, segment: int, share: float) -> Point:
        a, b = self.by[segment], self.by[(segment + 1) % len(self.outline)]
        x, y = a + share * (b - a)
        return float(x), float(y)

    def within(self, place: Point) -> Point:
        """What a place inside was moved by: between those places of the grid, or of the outline, that lie nearest."""
        far, on_line = self.beside(place)
        if far < SAME_MM:
            return on_line
        if not len(self._inside):
            weights = 1.0 / np.maximum(np.hypot(*(self._points - np.array(place)).T), 1.0) ** 3
            x, y = (weights[:, None] * self.by).sum(axis=0) / weights.sum()
            return float(x), float(y)
        off = np.hypot(*(self._inside - np.array(place)).T)
        near = np.argsort(off)[:4]
        weights = np.append(1.0 / np.maximum(off[near], 1.0) ** 2, 1.0 / max(far, 1.0) ** 2)
        moves = np.vstack((self._inside_by[near], np.array(on_line)))
        x, y = (weights[:, None] * moves).sum(axis=0) / weights.sum()
        return float(x), float(y)
