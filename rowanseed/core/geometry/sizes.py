"""Marks from one size of a piece to another: what lies on the outline goes by its share of the edge, what lies inside stays."""

import math
from collections.abc import Sequence

import numpy as np

from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.types import Outline, Point

CORNER_DEG = 28.0
SPAN_MM = 6.0  # a corner is judged over so much of the line to both sides


def corners(outline: Outline, least_deg: float = CORNER_DEG) -> list[int]:
    """Return the numbers of an outline's points where it turns sharply: a corner, not a curve.

    >>> corners(((0.0, 0.0), (0.0, 50.0), (50.0, 100.0), (100.0, 50.0), (100.0, 0.0)))
    [0, 1, 2, 3, 4]
    """
    count = len(outline)
    points = np.asarray(outline)
    sides = np.hypot(*(np.roll(points, -1, axis=0) - points).T)
    turned: list[tuple[float, int]] = []
    for k in range(count):
        before, after = _away(points, sides, k, -1), _away(points, sides, k, 1)
        u, v = points[k] - before, after - points[k]
        turn = abs(math.degrees(math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])))
        if turn >= least_deg:
            turned.append((turn, k))
    kept: list[int] = []
    for _, k in sorted(turned, key=lambda t: (-t[0], t[1])):
        if all(math.dist(outline[k], outline[j]) > SPAN_MM for j in kept):
            kept.append(k)
    return sorted(kept)


def _away(
    points: np.ndarray[tuple[int, int], np.dtype[np.float64]],
    sides: np.ndarray[tuple[int], np.dtype[np.float64]],
    k: int,
    step: int,
) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    """Return the point of an outline that lies SPAN_MM along it from point k, or the first point beyond, in one direction."""
    count, gone, at = len(points), 0.0, k
    while True:
        side = sides[at] if step > 0 else sides[at - 1]
        if gone + side >= SPAN_MM or (side <= 0 and gone > 4 * SPAN_MM):
            share = (SPAN_MM - gone) / side if side > 0 else 0.0
            nxt = (at + step) % count
            return np.asarray(points[at] + share * (points[nxt] - points[at]))
        gone += float(side)
        at = (at + step) % count
        if at == k:
            return np.asarray(points[k - step])


def carried(places: Sequence[Point], outline: Outline, other: Outline) -> list[Point]:
    """Return places on one size's outline as they lie on another's: at the same share of the way from corner to corner.

    Where the two have different numbers of corners the nearest point of the other outline is taken.
    """
    pair = matched_corners(outline, other)
    if pair is None:
        return [_foot(other, p) for p in places]
    mine, theirs = pair
    result = []
    for place in places:
        along = _along(outline, place)
        k = _between(outline, mine, along)
        a, b = mine[k], mine[(k + 1) % len(mine)]
        begin, end = _length_to(outline, a), _length_to(outline, b)
        whole = (end - begin) % _round(outline) or _round(outline)
        share = ((along - begin) % _round(outline)) / whole
        c, d = theirs[k], theirs[(k + 1) % len(theirs)]
        begin, end = _length_to(other, c), _length_to(other, d)
        whole = (end - begin) % _round(other) or _round(other)
        result.append(_at(other, begin + share * whole))
    return result


def matched_corners(outline: Outline, other: Outline) -> tuple[list[int], list[int]] | None:
    """Return the corners of two sizes' outlines in pairs, or None where they do not match one to one.

    The other outline must run the same way round.
    """
    mine, theirs = corners(outline), corners(other)
    if len(mine) < 2 or len(mine) != len(theirs):
        return None
    size = max(max(x for x, _ in outline) - min(x for x, _ in outline), 1.0)
    best = min(
        (theirs[k:] + theirs[:k] for k in range(len(theirs))),
        key=lambda order: sum(math.dist(outline[i], other[j]) for i, j in zip(mine, order)),
    )
    far = max(math.dist(outline[i], other[j]) for i, j in zip(mine, best))
    return (mine, best) if far < 0.5 * size else None


def _foot(outline: Outline, place: Point) -> Point:
    near = nearest(outline, place, closed=True)
    a, b = outline[near.segment], outline[(near.segment + 1) % len(outline)]
    return (a[0] + near.share * (b[0] - a[0]), a[1] + near.share * (b[1] - a[1]))


def _round(outline: Outline) -> float:
    return sum(math.dist(outline[k - 1], outline[k]) for k in range(len(outline)))


def _length_to(outline: Outline, k: int) -> float:
    return sum(math.dist(outline[j], outline[j + 1]) for j in range(k))


def _along(outline: Outline, place: Point) -> float:
    near = nearest(outline, place, closed=True)
    a, b = outline[near.segment], outline[(near.segment + 1) % len(outline)]
    return _length_to(outline, near.segment) + near.share * math.dist(a, b)


def _between(outline: Outline, corner_points: Sequence[int], along: float) -> int:
    """Return the number of the corner after which a place lies."""
    starts = [_length_to(outline, k) for k in corner_points]
    before = [k for k, start in enumerate(starts) if start <= along + 1e-9]
    return before[-1] if before else len(starts) - 1


def _at(outline: Outline, along: float) -> Point:
    along %= _round(outline)
    for k in range(len(outline)):
        a, b = outline[k], outline[(k + 1) % len(outline)]
        side = math.dist(a, b)
        if along <= side:
            share = along / side if side else 0.0
            return (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]))
        along -= side
    return outline[0]
