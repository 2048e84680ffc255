"""Lines that a drawing program has turned into thin filled shapes: their middle lines are what was drawn."""

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from shapely import LinearRing, Polygon, STRtree, line_interpolate_point, points
from shapely import get_coordinates as coordinates_of

from rowanseed.core.geometry.types import Outline
from rowanseed.core.intake.model import Stroke, Style

WIDEST_MM = 2.0  # a drawn line is narrower; a strip of cloth is wider
LEAST_LONG_MM = 3.0
SLENDER = 6.0  # times as long as wide, at least: else it is a dot


def with_middle_lines(strokes: Sequence[Stroke]) -> list[Stroke]:
    """Return strokes with thin filled shapes as the lines that they were: a ring as one closed line, a sliver as an open one."""
    filled = [k for k, s in enumerate(strokes) if s.closed and s.style.colour.startswith("fill") and len(s.points) > 2]
    polygons = {k: Polygon(strokes[k].points) for k in filled}
    done: dict[int, Stroke] = {}
    gone: set[int] = set()
    for outer, inner, wide in _rings(strokes, filled, polygons):
        done[outer] = replace(
            strokes[outer],
            points=_between(strokes[outer].points, strokes[inner].points),
            style=_line(strokes[outer], wide),
        )
        gone.add(inner)
    for k in filled:
        if k not in done and k not in gone and (middle := _sliver(polygons[k])) is not None:
            line, wide = middle
            done[k] = replace(strokes[k], points=line, closed=False, style=_line(strokes[k], wide))
    return [done.get(k, s) for k, s in enumerate(strokes) if k not in gone]


def _line(stroke: Stroke, wide: float) -> Style:
    colour = stroke.style.colour.removeprefix("fill").strip()
    return replace(stroke.style, colour=colour, width_mm=round(wide, 1))


def _rings(
    strokes: Sequence[Stroke], filled: Sequence[int], polygons: dict[int, Polygon]
) -> list[tuple[int, int, float]]:
    """Outer and inner edges of drawn rings by their numbers, with the line's width: the inner runs all along the outer."""
    alike: dict[object, list[int]] = defaultdict(list)
    for k in filled:
        alike[(strokes[k].style, strokes[k].layer, strokes[k].group, strokes[k].page)].append(k)
    found = []
    for own in alike.values():
        rings = [polygons[k].exterior for k in own]
        tree = STRtree(rings)
        for j, k in enumerate(own):
            for other in (own[int(i)] for i in tree.query(rings[j], predicate="dwithin", distance=WIDEST_MM)):
                wide = (polygons[k].area - polygons[other].area) / max(polygons[k].length, 1e-9)
                if other != k and 0.02 < wide < WIDEST_MM and _follows(polygons[other].exterior, rings[j], wide):
                    found.append((k, other, wide))
    return _each_once(found)


def _each_once(found: Sequence[tuple[int, int, float]]) -> list[tuple[int, int, float]]:
    used: set[int] = set()
    kept = []
    for k, other, wide in sorted(found, key=lambda row: row[2]):
        if not {k, other} & used:
            used |= {k, other}
            kept.append((k, other, wide))
    return kept


def _follows(inner: LinearRing, outer: LinearRing, wide: float) -> bool:
    """Whether one ring runs at the other everywhere, no farther than a mitred corner of a line of this width."""
    share = np.linspace(0.0, 1.0, 65)[:-1]
    far = np.array([outer.distance(p) for p in line_interpolate_point(inner, share, normalized=True)])
    return bool(np.max(far) < 3.0 * wide + 0.1 and np.mean(np.abs(far - wide) < 0.3 * wide + 0.05) > 0.8)


def _between(outer: Outline, inner: Outline) -> Outline:
    """Each corner of the outer edge, half way to the inner edge: to the corner that answers it there, else to the nearest place."""
    ring = LinearRing(inner)
    corners = np.asarray(inner)
    middle = []
    for x, y in outer:
        near = corners[int(np.argmin(np.hypot(*(corners - (x, y)).T)))]
        place = coordinates_of(ring.interpolate(ring.project(points(x, y))))[0]
        far = math.dist((x, y), place)
        to = near if math.dist((x, y), near) < 2.2 * far + 0.05 else place
        middle.append((float((x + to[0]) / 2), float((y + to[1]) / 2)))
    return tuple(middle)


def _sliver(polygon: Polygon) -> tuple[Outline, float] | None:
    """The middle line of a thin straight or bent shape, and its width; None where it is no line."""
    half = polygon.length / 2
    if half < LEAST_LONG_MM or not polygon.is_valid:
        return None
    wide = polygon.area / half
    if wide > WIDEST_MM or half < SLENDER * wide:
        return None
    ring = np.asarray(polygon.exterior.coords[:-1])
    far = np.hypot(*(ring[:, None, :] - ring[None, :, :]).transpose(2, 0, 1)) if len(ring) < 600 else None
    if far is None:
        return None
    a, b = np.unravel_index(int(np.argmax(far)), far.shape)
    first, second = sorted((int(a), int(b)))
    one = ring[first : second + 1]
    two = np.concatenate([ring[second:], ring[: first + 1]])[::-1]
    share = np.linspace(0.0, 1.0, max(len(one), len(two), 2))
    line = (_along(one, share) + _along(two, share)) / 2
    return tuple((float(x), float(y)) for x, y in line), wide


def _along(line: np.ndarray, share: np.ndarray) -> np.ndarray:
    steps = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    at = share * steps[-1]
    return np.stack([np.interp(at, steps, line[:, 0]), np.interp(at, steps, line[:, 1])], axis=1)
