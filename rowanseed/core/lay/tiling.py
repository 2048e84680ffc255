"""Pieces that fill the cloth without a gap, found by their complementary edges.

Where all pieces together fill a rectangle as wide as the cloth, such as squares of patchwork or a cloth that was cut up, no row
of a grid meets them exactly, so that the search loses a row between each two. Here the first free corner of the rectangle is
filled again and again by a piece whose corner is no wider and whose edge lies flush there; what does not tile is soon given up.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon
from shapely.affinity import translate

from rowanseed.core.lay.demand import Item
from rowanseed.core.lay.problem import ItemPosition, Solution
from rowanseed.core.lay.tables import Floats

MISFIT_MM = 0.06  # how far an edge may lie off the one it is laid against: points are given to some decimals
SLIVER_MM = 0.04  # what is thinner is no free cloth
NEAREST_MM = 1e-4  # to which coordinates of what is free are rounded, so that it stays sound
MEET_MM = 0.15  # corners nearer than this are one corner
WIDER = 0.03  # radians by which a corner may seem wider than the free one, for short edges
MOST_TRIES = 300  # pieces tried at corners before it is given up
MOST_ITEMS = 60


@dataclass(frozen=True)
class _Corner:
    """A corner of a shape walked anticlockwise: its place and angle, the direction of the edge that leaves it, how long that edge
    and the one before are, and the angles at their far ends."""

    at: tuple[float, float]
    angle: float
    leaves: float
    run: float
    run_before: float
    far_angle: float
    far_angle_before: float

    def takes(self, own: "_Corner") -> bool:
        """Whether a piece's corner may lie in this free one, its edge flush along the one that leaves; from both edges alone."""
        turn = abs((own.leaves - self.leaves + math.pi) % (2 * math.pi) - math.pi)
        if turn * min(own.run, self.run) > MISFIT_MM or own.angle > self.angle + WIDER:
            return False
        if own.run > self.run + MISFIT_MM and self.far_angle < math.pi - WIDER:
            return False
        before = own.run_before > self.run_before + MISFIT_MM and self.far_angle_before < math.pi - WIDER
        return not (before and self.filled_by(own))

    def filled_by(self, own: "_Corner") -> bool:
        """Whether a piece's corner takes the whole angle."""
        return self.angle - own.angle < WIDER


@dataclass(frozen=True)
class _Shape:
    """One pose of an item."""

    pose: int
    body: Polygon
    corners: tuple[_Corner, ...]
    at_fold: bool
    look: tuple[object, ...]  # alike where two may stand for each other


Placed = list[tuple[int, _Shape, float, float]]


def tiling(items: list[Item], width_mm: float, gap_mm: float) -> tuple[Solution, float] | None:
    """A lay in which all items together fill the strip from edge to edge, and its length in mm; None where none was found.

    Args:
        items: what is to be placed; nothing is tried where one is held, a flaw, or bound to a place, a band or a print.
        width_mm: of the strip; `gap_mm`: between pieces; only pieces without a gap can tile.
    """
    if gap_mm > 0 or not 2 <= len(items) <= MOST_ITEMS or any(_bound(item) for item in items):
        return None
    shapes = [[_shape(number, pose.cut, item) for number, pose in enumerate(item.poses)] for item in items]
    length = sum(own[0].body.area for own in shapes) / width_mm
    if any(min(pose.length_mm for pose in item.poses) > length + MISFIT_MM for item in items):
        return None
    laid = _Tiler(shapes, length, width_mm).lay()
    if laid is None:
        return None
    moved = _evened(laid, width_mm)
    solution: list[ItemPosition | None] = [None] * len(items)
    for (item, shape, _, _), (x, y) in zip(laid, moved, strict=True):
        solution[item] = ItemPosition(shape.pose, float(x), 0.0 if shape.at_fold else float(y))
    stands = tuple(s for s in solution if s is not None)
    return stands, max(s.x + item.poses[s.pose].length_mm for s, item in zip(stands, items, strict=True))


def _bound(item: Item) -> bool:
    bound = any(
        p.y_mm is not None or p.band is not None or p.x_phase is not None or p.y_phase is not None for p in item.poses
    )
    return bound or item.is_flaw or item.x_mm is not None


def _shape(pose: int, outline: tuple[tuple[float, float], ...], item: Item) -> _Shape:
    body = shapely.geometry.polygon.orient(Polygon(outline))
    points = sorted((round(x, 2), round(y, 2)) for x, y in body.exterior.coords[:-1])
    return _Shape(pose, body, tuple(_corners(body)), item.at_fold, (item.layers, item.at_fold, tuple(points)))


def _corners(body: Polygon) -> Iterator[_Corner]:
    points = np.array(body.exterior.coords[:-1])
    along = np.roll(points, -1, axis=0) - points
    run = np.hypot(along[:, 0], along[:, 1])
    heading = np.arctan2(along[:, 1], along[:, 0])
    angle = (math.pi - (heading - np.roll(heading, 1))) % (2 * math.pi)
    for k in range(len(points)):
        far = angle[(k + 1) % len(points)]
        at = float(points[k, 0]), float(points[k, 1])
        numbers = (float(v) for v in (angle[k], heading[k], run[k], run[k - 1], far, angle[k - 1]))
        yield _Corner(at, *numbers)


class _Tiler:
    """Fills a rectangle corner by corner, taking back what leads nowhere."""

    def __init__(self, shapes: list[list[_Shape]], length: float, width: float):
        self.shapes = shapes
        self.free = shapely.box(0.0, 0.0, length, width)
        self.tries = 0

    def lay(self) -> Placed | None:
        """All items with their places, or None."""
        return self._fill(self.free, [], frozenset(range(len(self.shapes))))

    def _fill(self, free: Polygon | MultiPolygon, placed: Placed, left: frozenset[int]) -> Placed | None:
        if not left:
            return placed
        corner = _first_corner(free)
        if corner is None:
            return None
        at = _exactly(corner.at, placed, self.free.bounds)
        for item, shape, own in self._flush(corner, left):
            if self.tries >= MOST_TRIES:
                return None
            self.tries += 1
            dx, dy = at[0] - own.at[0], 0.0 if shape.at_fold else at[1] - own.at[1]
            if shape.at_fold and abs(at[1] - own.at[1]) > MEET_MM:
                continue
            body = translate(shape.body, dx, dy)
            if body.difference(free).area > MISFIT_MM * body.length:
                continue
            done = self._fill(_less(free, body), [*placed, (item, shape, dx, dy)], left - {item})
            if done is not None:
                return done
        return None

    def _flush(self, corner: _Corner, left: frozenset[int]) -> list[tuple[int, _Shape, _Corner]]:
        """What may lie in a corner with an edge along its first side: what fills its angle first, then the larger."""
        found = []
        seen = set()
        for item in sorted(left):
            for shape in self.shapes[item]:
                if shape.look in seen:
                    continue
                seen.add(shape.look)
                for own in shape.corners:
                    if corner.takes(own):
                        found.append((not corner.filled_by(own), -shape.body.area, item, shape, own))
        found.sort(key=lambda way: way[:3])
        return [way[2:] for way in found]


def _less(free: Polygon | MultiPolygon, body: Polygon) -> Polygon | MultiPolygon:
    """What is left free, without slivers: thin leftovers are where two outlines do not agree in the last decimal."""
    rest = free.difference(body)
    inner = rest.buffer(-SLIVER_MM / 2, join_style="mitre", mitre_limit=30.0)
    cleaned: Polygon | MultiPolygon = shapely.set_precision(
        inner.buffer(SLIVER_MM / 2, join_style="mitre", mitre_limit=30.0), NEAREST_MM
    )
    return cleaned


def _first_corner(free: Polygon | MultiPolygon) -> _Corner | None:
    """The free corner nearest the cut end, of those the lowest: whatever covers it has a corner there."""
    parts = [p for p in getattr(free, "geoms", [free]) if p.area > 1.0]
    if not parts:
        return None
    part = min(parts, key=lambda p: p.bounds[0])
    body = shapely.geometry.polygon.orient(part.simplify(SLIVER_MM))
    return min(_corners(body), key=lambda c: (round(c.at[0] / MEET_MM), c.at[1]))


def _exactly(at: tuple[float, float], placed: Placed, bounds: tuple[float, float, float, float]) -> tuple[float, float]:
    """A free corner's place, from the corner of a piece or of the cloth that makes it."""
    x0, y0, _, y1 = bounds
    x, y = at
    marks = [(c.at[0] + dx, c.at[1] + dy) for _, shape, dx, dy in placed for c in shape.corners] + [(x0, y0), (x0, y1)]
    nearest = min(marks, key=lambda m: math.dist(m, at))
    if math.dist(nearest, at) < MEET_MM:
        x, y = nearest
    return (x0 if abs(x - x0) < MEET_MM else x), (y0 if abs(y - y0) < MEET_MM else y)


def _evened(laid: Placed, width_mm: float) -> Floats:
    """The places (items, 2) with what the outlines disagree in shared out among all, by least squares over corners that meet
    each other, an edge, or an edge of the cloth."""
    n = len(laid)
    rows, right = [1e-3 * np.eye(2 * n)], [np.zeros(2 * n)]  # what meets nothing stays

    def asked(i: int, j: int | None, normal: tuple[float, float], by: float) -> None:
        row = np.zeros((1, 2 * n))
        row[0, 2 * i : 2 * i + 2] = normal
        if j is not None:
            row[0, 2 * j : 2 * j + 2] = -normal[0], -normal[1]
        rows.append(row)
        right.append(np.array([by]))

    for i, (_, shape, dx, dy) in enumerate(laid):
        for own in shape.corners:
            x, y = own.at[0] + dx, own.at[1] + dy
            if abs(x) < MEET_MM:
                asked(i, None, (1.0, 0.0), -x)
            for edge in (0.0, width_mm):
                if abs(y - edge) < MEET_MM:
                    asked(i, None, (0.0, 1.0), edge - y)
            for j, (_, other, ox, oy) in enumerate(laid):
                for normal, off in _meets((x, y), other, ox, oy) if i != j else ():
                    asked(i, j, normal, off)
    by = np.linalg.lstsq(np.vstack(rows), np.concatenate(right), rcond=None)[0]
    places: Floats = np.array([(dx, dy) for _, _, dx, dy in laid]) + by.reshape(n, 2)
    return places


def _meets(at: tuple[float, float], other: _Shape, ox: float, oy: float) -> Iterator[tuple[tuple[float, float], float]]:
    """The edges of another piece that a corner lies on, each as its normal and how far the corner is off it along that."""
    for c in other.corners:
        ux, uy = math.cos(c.leaves), math.sin(c.leaves)
        px, py = at[0] - c.at[0] - ox, at[1] - c.at[1] - oy
        along, off = px * ux + py * uy, px * uy - py * ux
        if abs(off) < MEET_MM and -MEET_MM < along < c.run + MEET_MM:
            yield (uy, -ux), -off
