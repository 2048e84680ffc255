"""Which closed outlines are sizes of one piece, which a piece's seam line, and which lie in it as a mark."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from shapely import LinearRing, Point, Polygon, STRtree, distance, points, prepare

from rowanseed.core.geometry.types import Outline
from rowanseed.core.intake.names import size_rank
from rowanseed.core.intake.outlines import Closed, resampled

SAME = 0.9995  # two outlines that cover each other so far are one drawn twice
PARALLEL_MM = 45.0  # from one size's line to the next
NEXT_SIZE = 0.72  # the next smaller size covers at least this much
SAMPLES = 96


@dataclass
class Nest:
    """The outlines of one piece, largest first; `sizes` is filled once they are known."""

    members: list[Closed] = field(default_factory=list)
    seams: list[Closed] = field(default_factory=list)
    inside: list[Closed] = field(default_factory=list)

    @property
    def outer(self) -> Closed:
        """The largest outline."""
        return self.members[0]


def valid_polygon(closed: Closed) -> Polygon:
    """Return an outline as a polygon without crossings."""
    polygon = Polygon(closed.outline)
    if polygon.is_valid:
        return polygon
    mended = polygon.buffer(0)
    if mended.geom_type == "MultiPolygon":
        mended = max(mended.geoms, key=lambda part: part.area)
    return mended if not mended.is_empty else Polygon([(0, 0), (1e-3, 0), (0, 1e-3)])


def nested(outlines: Sequence[Closed]) -> list[Nest]:
    """Return the pieces that outlines are: nested ones as sizes of one, a second line of one size as its seam line.

    Lines of known and different sizes belong together where they lie over each other; lines of unknown size where the inner one
    runs nearly parallel to the next. What lies inside and is neither is a mark on the piece.
    """
    order = _once(sorted(outlines, key=lambda c: -c.area))
    polygons = [valid_polygon(c) for c in order]
    for polygon in polygons:
        prepare(polygon)
    tree = STRtree(polygons)
    nests: list[Nest] = []
    nest_of: dict[int, Nest] = {}
    for k, closed in enumerate(order):
        larger = [int(j) for j in tree.query(polygons[k], predicate="intersects") if j < k]
        home = _home(k, closed, order, polygons, larger, nest_of)
        if home is None:
            home = Nest([closed])
            nests.append(home)
        nest_of[k] = home
    return nests


def _home(
    k: int,
    closed: Closed,
    order: Sequence[Closed],
    polygons: Sequence[Polygon],
    larger: Sequence[int],
    nest_of: dict[int, Nest],
) -> Nest | None:
    """Return the nest that an outline belongs to, put into its place there, or None where it is a piece of its own."""
    larger = [j for j in larger if "" in (pair := (order[j].stroke.group, closed.stroke.group)) or pair[0] == pair[1]]
    for j in sorted(larger, reverse=True):  # the smallest of the larger ones first
        other, nest = order[j], nest_of[j]
        shared = polygons[j].intersection(polygons[k]).area
        within = shared / polygons[k].area
        if within < 0.6:
            continue
        if other not in nest.members and within > 0.95:
            continue
        if closed.stroke.sense == "seam" and within > 0.9:
            nest.seams.append(closed)
            return nest
        if _another_size(closed, other, nest, shared / polygons[j].area, within):
            nest.members.append(closed)
            return nest
    for j in sorted(larger, reverse=True):
        nest = nest_of[j]
        if order[j] in nest.members and polygons[j].intersection(polygons[k]).area > 0.9 * polygons[k].area:
            if _is_seam(closed, nest):
                nest.seams.append(closed)
            else:
                nest.inside.append(closed)
            return nest
    return None


def _another_size(closed: Closed, other: Closed, nest: Nest, covered: float, within: float) -> bool:
    size = closed.stroke.size
    if closed.stroke.sense in ("internal", "drill", "notch", "grain", "fold", "seam"):
        return False
    if size is not None:
        taken = {m.stroke.size for m in nest.members}
        return size not in taken and None not in taken and covered > 0.4 and within > 0.6
    if any(m.stroke.size is not None for m in nest.members):
        return False
    if other is not nest.members[-1] or covered < NEXT_SIZE or within < 0.9:
        return False
    return farthest(closed, other) < PARALLEL_MM


def farthest(inner: Closed, outer: Closed) -> float:
    """Return how far the inner of two outlines lies from the outer, where it is farthest, mm."""
    return float(np.max(distance(points(resampled(inner.outline, SAMPLES)), LinearRing(outer.outline))))


def _is_seam(closed: Closed, nest: Nest) -> bool:
    """Whether an outline is the seam line of one that has its size: all along the same distance inside, but at a fold."""
    mine = [m for m in nest.members if m.stroke.size == closed.stroke.size]
    return bool(mine) and closed.stroke.size is not None and even_distance(closed, mine[0]) is not None


def even_distance(inner: Closed, outer: Closed) -> float | None:
    """Return the distance at which one outline runs evenly inside another; None where it does not."""
    return even_distance_of(inner.outline, outer.outline)


def even_distance_of(inner: Outline, outer: Outline) -> float | None:
    """Return the distance at which one outline runs inside another, mm, where it is the same along most of it.

    Where both lie on each other, as at a fold, does not count; a hem may have more.
    """
    far = distance(points(resampled(inner, 2 * SAMPLES)), LinearRing(outer))
    apart = np.sort(far[far > 0.5])
    if len(apart) < SAMPLES:
        return None
    middle = float(np.median(apart))
    alike = np.abs(apart - middle) < 0.6
    return middle if 3.0 <= middle <= 40.0 and float(np.mean(alike)) > 0.6 else None


def _once(outlines: Sequence[Closed]) -> list[Closed]:
    """Return outlines without those drawn twice."""
    kept: list[Closed] = []
    for closed in outlines:
        twin = next(
            (
                k
                for k in kept[-40:]
                if abs(k.area - closed.area) < (1 - SAME) * k.area
                and k.stroke.size == closed.stroke.size
                and k.stroke.group == closed.stroke.group
                and Point(k.outline[0]).distance(LinearRing(closed.outline)) < 0.5
                and valid_polygon(k).intersection(valid_polygon(closed)).area > SAME * k.area
            ),
            None,
        )
        if twin is None:
            kept.append(closed)
    return kept


def in_order(nest: Nest) -> list[Closed]:
    """Return a nest's outlines smallest first: by their sizes where all are known, else by area."""
    if all(m.stroke.size is not None for m in nest.members):
        return sorted(nest.members, key=lambda m: size_rank(m.stroke.size or ""))
    return sorted(nest.members, key=lambda m: m.area)
