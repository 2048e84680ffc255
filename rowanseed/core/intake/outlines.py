"""Closed outlines of lines that a file draws in parts: ends that meet are joined, dashes bridged, crossings taken apart."""

import math
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely import LineString, MultiLineString, Polygon, STRtree, get_parts, polygonize, unary_union

from rowanseed.core.geometry.outline import path_length, signed_area
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.dash_lengths import by_dash_length
from rowanseed.core.intake.model import Stroke

TOUCH_MM = 0.06  # ends this near are one point
GAP_MM = 1.2  # a gap that is bridged, with a note
DASH_GAP_MM = 8.0  # between dashes, where they go on in the same direction
LEAST_AREA_MM2 = 400.0
CORNER_SINE = 0.2  # a gentler turn is a curve's
MOST_OUTLINE_POINTS = 3000


@dataclass(frozen=True)
class Closed:
    """A closed outline and the stroke that it is of, or the first of those; `bridged`: the longest gap, mm.

    `shared`: part of it is drawn once, with another size's line. `kind`: the kind of line that its size is told by, where
    cutting and seam line differ in the rest.
    """

    outline: Outline
    stroke: Stroke
    bridged: float = 0.0
    parts: int = 1
    shared: bool = False
    kind: str = ""

    @property
    def area(self) -> float:
        """Area inside, mm2."""
        return abs(signed_area(self.outline))


def closed_outlines(strokes: Sequence[Stroke]) -> tuple[list[Closed], list[Stroke]]:
    """Return the closed outlines of a file that are large enough to be pieces or parts of them, and the strokes left open."""
    found = [Closed(s.points, s) for s in strokes if s.closed]
    open_ones = [s for s in strokes if not s.closed and s.points[0] != s.points[-1]]
    drawn: dict[tuple[object, ...], list[Stroke]] = defaultdict(list)
    for stroke in open_ones:
        drawn[_kind(stroke)].append(stroke)
    by_kind: dict[tuple[object, ...], list[Stroke]] = defaultdict(list)
    for alike in drawn.values():
        for stroke in by_dash_length(alike):
            by_kind[_kind(stroke)].append(stroke)
    left = [s for s in strokes if not s.closed and s.points[0] == s.points[-1]]  # points: drill holes, notches
    for alike in by_kind.values():
        chains = joined(alike)
        shut = [c for c in chains if c.closed]
        found += [Closed(c.points, c.stroke, c.bridged, c.parts) for c in shut]
        rest = [c for c in chains if not c.closed]
        faces, unused = _around(rest)
        found += faces
        left += unused
    return [_light(c) for c in found if c.area >= LEAST_AREA_MM2 and _wide(c.outline)] + [
        c for c in found if not (c.area >= LEAST_AREA_MM2 and _wide(c.outline)) and c.area > 0
    ], left


def _kind(stroke: Stroke) -> tuple[object, ...]:
    return (
        stroke.layer,
        stroke.group,
        stroke.size,
        stroke.sense,
        stroke.style.colour,
        stroke.style.dashed,
        stroke.style.dashes,
    )


def _wide(outline: Outline) -> bool:
    xs, ys = [p[0] for p in outline], [p[1] for p in outline]
    return min(max(xs) - min(xs), max(ys) - min(ys)) >= 10.0


def _light(closed: Closed) -> Closed:
    """Return an outline without points that add nothing (the curves were flattened by parts)."""
    if len(closed.outline) <= MOST_OUTLINE_POINTS:
        return closed
    line = Polygon(closed.outline).simplify(0.05).exterior.coords[:-1]
    return replace(closed, outline=tuple((float(x), float(y)) for x, y in line))


@dataclass
class Chain:
    """Strokes joined end to end."""

    points: Outline
    closed: bool
    stroke: Stroke
    bridged: float
    parts: int
    of: tuple[Stroke, ...] = ()


def joined(strokes: Sequence[Stroke]) -> list[Chain]:
    """Join strokes of one kind end to end: where ends touch, then over small gaps, then dash to dash."""
    chains = [Chain(s.points, False, s, 0.0, 1, (s,)) for s in strokes if path_length(s.points) > 0]
    lengths = sorted(path_length(c.points) for c in chains)
    dashes = len(lengths) > 12 and lengths[len(lengths) // 2] < 15.0
    for gap in (TOUCH_MM, GAP_MM, *((DASH_GAP_MM,) if dashes else ())):
        chains = _join_all(chains, gap, any_way=False)
    if dashes:  # a gap may fall on a corner: there the long rows of dashes that are left go on in any direction
        rows = [c for c in chains if c.closed or path_length(c.points) > 3 * DASH_GAP_MM]
        chains = [*_join_all(rows, DASH_GAP_MM, any_way=True), *(c for c in chains if c not in rows)]
    return chains


def _join_all(chains: list[Chain], gap: float, any_way: bool) -> list[Chain]:
    for _ in range(40):
        chains, changed = _join_once(chains, gap, any_way)
        if not changed:
            break
    return [_shut(c, gap) for c in chains]


def _shut(chain: Chain, gap: float) -> Chain:
    miss = math.dist(chain.points[0], chain.points[-1])
    if chain.closed or miss > gap or len(chain.points) < 4 or path_length(chain.points) < 4 * max(gap, 5.0):
        return chain
    points = chain.points[:-1] if miss <= TOUCH_MM else chain.points
    if gap > GAP_MM and (corner := _corner(_leaving(chain, False), _leaving(chain, True))):
        points = (*points, corner)
    return replace_chain(chain, points, True, max(chain.bridged, miss if miss > TOUCH_MM else 0.0))


def replace_chain(chain: Chain, points: Outline, closed: bool, bridged: float) -> Chain:
    """The chain with other points."""
    return Chain(points, closed, chain.stroke, bridged, chain.parts, chain.of)


def _join_once(chains: list[Chain], gap: float, any_way: bool) -> tuple[list[Chain], bool]:
    """Join every pair of ends that are each other's best; (chains, whether any were joined)."""
    open_ones = [c for c in chains if not c.closed]
    done = [c for c in chains if c.closed]
    ends = [(k, head) for k in range(len(open_ones)) for head in (True, False)]
    best = _best_ends(open_ones, ends, gap, any_way)
    used: set[int] = set()
    result: list[Chain] = []
    for end, other in best.items():
        if best.get(other) != end or end[0] == other[0] or end[0] in used or other[0] in used:
            continue
        used |= {end[0], other[0]}
        result.append(_linked(open_ones[end[0]], end[1], open_ones[other[0]], other[1]))
    rest = [c for k, c in enumerate(open_ones) if k not in used]
    return [*done, *rest, *result], bool(result)


End = tuple[int, bool]


def _best_ends(chains: Sequence[Chain], ends: Sequence[End], gap: float, any_way: bool) -> dict[End, End]:
    """Return for each end the end that it best goes on to, within a gap: the straightest of the nearest."""
    cells: dict[tuple[int, int], list[End]] = defaultdict(list)
    places = {end: chains[end[0]].points[0 if end[1] else -1] for end in ends}
    for end, (x, y) in places.items():
        cells[(math.floor(x / gap), math.floor(y / gap))].append(end)
    best: dict[End, End] = {}
    for end, (x, y) in places.items():
        cx, cy = math.floor(x / gap), math.floor(y / gap)
        near = [
            e for dx in (-1, 0, 1) for dy in (-1, 0, 1) for e in cells.get((cx + dx, cy + dy), ()) if e[0] != end[0]
        ]
        costs = [(cost, e) for e in near if (cost := _cost(chains, end, e, gap, any_way)) is not None]
        if costs:
            best[end] = min(costs)[1]
    return best


def _cost(chains: Sequence[Chain], a: End, b: End, gap: float, any_way: bool) -> float | None:
    """Return how badly one end goes on to another: its distance and its turn; None where it does not."""
    (p, u), (q, v) = _leaving(chains[a[0]], a[1]), _leaving(chains[b[0]], b[1])
    miss = math.dist(p, q)
    if miss > gap:
        return None
    turn = 1 + u[0] * v[0] + u[1] * v[1]  # 0 where the second goes straight on
    if gap > GAP_MM:  # dash to dash: both point over the gap
        if miss < 1e-9:
            return turn
        over = ((q[0] - p[0]) / miss, (q[1] - p[1]) / miss)
        ahead = u[0] * over[0] + u[1] * over[1]
        if ahead < 0.75 and miss > 1.5 and not any_way:
            return None
        return miss * (2.0 - ahead)
    return miss / gap + 0.2 * turn


def _leaving(chain: Chain, head: bool) -> tuple[Point, Point]:
    """Return an end of a chain and the direction in which it leaves there."""
    points = chain.points if head else chain.points[::-1]
    end = points[0]
    back = next((p for p in points[1:] if math.dist(p, end) > 0.3), points[-1])
    far = math.dist(end, back) or 1.0
    return end, ((end[0] - back[0]) / far, (end[1] - back[1]) / far)


def _linked(a: Chain, a_head: bool, b: Chain, b_head: bool) -> Chain:
    first = a.points[::-1] if a_head else a.points
    second = b.points if b_head else b.points[::-1]
    miss = math.dist(first[-1], second[0])
    corner = _corner(_leaving(a, a_head), _leaving(b, b_head)) if miss > GAP_MM else None
    points = (*first, *((corner,) if corner else ()), *(second[1:] if miss <= TOUCH_MM else second))
    bridged = max(a.bridged, b.bridged, miss if miss > TOUCH_MM else 0.0)
    return Chain(
        points,
        False,
        a.stroke if len(a.points) >= len(b.points) else b.stroke,
        bridged,
        a.parts + b.parts,
        (*a.of, *b.of),
    )


def _corner(a: tuple[Point, Point], b: tuple[Point, Point]) -> Point | None:
    """Where two ends that a gap parts would meet if both went on straight: a corner that fell into the gap; None where none did."""
    (p, u), (q, v) = a, b
    across = u[0] * v[1] - u[1] * v[0]
    if abs(across) < CORNER_SINE:
        return None
    apart = (q[0] - p[0], q[1] - p[1])
    far_a = (apart[0] * v[1] - apart[1] * v[0]) / across
    far_b = (apart[0] * u[1] - apart[1] * u[0]) / across
    reach = math.hypot(*apart)
    if not (0.0 < far_a <= reach and 0.0 < far_b <= reach):
        return None
    return (p[0] + far_a * u[0], p[1] + far_a * u[1])


def _around(chains: Sequence[Chain]) -> tuple[list[Closed], list[Stroke]]:
    """Return what open lines enclose together, where they meet or cross (an inner line that ends on the outline), and the rest."""
    long = [c for c in chains if path_length(c.points) > 25.0]
    if len(long) < 2 or len(long) > 3000:
        return [], _as_strokes(chains)
    net = unary_union(MultiLineString([_reached(c.points) for c in long]))
    faces = [f for f in get_parts(polygonize(list(get_parts(net)))) if f.area > 1.0]
    if not faces:
        return [], _as_strokes(chains)
    found = []
    shells = [Polygon(p.exterior) for p in get_parts(unary_union(faces)) if p.area >= LEAST_AREA_MM2]
    for shell in shells:
        ring = tuple((float(x), float(y)) for x, y in shell.exterior.coords[:-1])
        near = max(long, key=lambda c: LineString(c.points).intersection(shell.exterior.buffer(0.05)).length)
        found.append(Closed(ring, near.stroke, near.bridged, len(long)))
    return found, _inner(chains, shells)


def _reached(points: Outline) -> Outline:
    """Return a line a little longer at both ends, so that it reaches a line that it stops just short of."""
    (ax, ay), (bx, by) = points[0], points[1]
    (cx, cy), (dx, dy) = points[-1], points[-2]
    first, last = math.dist(points[0], points[1]) or 1.0, math.dist(points[-1], points[-2]) or 1.0
    e = 0.3
    start = (ax + e * (ax - bx) / first, ay + e * (ay - by) / first)
    stop = (cx + e * (cx - dx) / last, cy + e * (cy - dy) / last)
    return (start, *points, stop)


def _inner(chains: Sequence[Chain], shells: Sequence[Polygon]) -> list[Stroke]:
    """Return the lines that are not part of an outline found, as strokes."""
    tree = STRtree([s.exterior for s in shells])
    left = []
    for stroke in _as_strokes(chains):
        line = LineString(stroke.points)
        on = sum(line.intersection(shells[k].exterior.buffer(0.1)).length for k in tree.query(line.buffer(0.2)))
        if on < 0.7 * line.length:
            left.append(stroke)
    return left


def _as_strokes(chains: Iterable[Chain]) -> list[Stroke]:
    """Return chains that enclose nothing as strokes: rows of dashes as one, of other lines that only meet each by itself."""
    return [
        stroke
        for c in chains
        for stroke in ([replace(c.stroke, points=c.points, closed=False)] if c.parts == 1 or c.parts > 8 else c.of)
    ]


def resampled(outline: Outline, count: int) -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    """Return `count` points at equal distances along a closed outline, count x 2."""
    points = np.asarray([*outline, outline[0]], dtype=np.float64)
    steps = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    at = np.linspace(0.0, along[-1], count, endpoint=False)
    return np.stack([np.interp(at, along, points[:, 0]), np.interp(at, along, points[:, 1])], axis=1)
