"""A piece that lies cut, or printed, held against what it would be cut by now: trimmed, sewn with less, marked anew, cut anew.

Cloth can be taken off and not put on. The new piece is laid on the cut one as a sewist would lay it, with the grain kept: moved,
never turned; a half on the fold is moved along its fold alone. What of it lies over the edge is missing, what of the cut one lies
beside it is trimmed.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import shapely
from shapely import LineString, Point, Polygon
from shapely.affinity import translate

from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape, mapped
from rowanseed.core.paper.changed import CHANGED_MM

Answer = Literal["same", "mark", "trim", "narrower", "anew"]
LEAST_ALLOWANCE_MM = 6.35  # a quarter of an inch: less ravels out of the seam; common practice, no source
MISSING_COSTS = 20.0  # cloth that is missing counts for more than cloth that is trimmed
EVERY_MM = 6.0
FINEST_MM = 0.2
SMALLEST_MM2 = 2.0
SEAMS = "seam lines"


@dataclass(frozen=True)
class AtEdge:
    """How much is trimmed or missing at an edge at most, mm, and the allowance that is left where something is missing."""

    edge: str
    mm: float
    allowance_mm: float = 0.0
    left_mm: float = 0.0


@dataclass(frozen=True)
class Recut:
    """What becomes of a cut piece: the answer, where something is taken off or missing, what is marked anew, and why.

    `was` is the cut piece as the new one lies on it. `why`: `size`, `allowance` or `shape`.
    """

    answer: Answer
    trim: tuple[AtEdge, ...] = ()
    missing: tuple[AtEdge, ...] = ()
    marks: tuple[str, ...] = ()
    why: str = ""
    was: PieceShape | None = None


def recut(was: PieceShape, now: PieceShape, other_size: bool = False) -> Recut:
    """Return what becomes of a piece that was cut as `was` and would be cut as `now`.

    The allowance of a seam may shrink to a quarter of an inch before the piece is cut anew; what is moved by less than half a
    millimetre is no change.
    """
    # As it lies first: the lines of a pattern's sizes and of an alteration share their places.
    here = _held(was, now, other_size)
    return here if here.answer != "anew" else _held(_laid(was, now), now, other_size)


def _held(laid: PieceShape, now: PieceShape, other_size: bool) -> Recut:
    old, new = Polygon(laid.outline).buffer(0), Polygon(now.outline).buffer(0)
    trim = tuple(_apart(now, old, outside=False))
    missing = tuple(_apart(now, old, outside=True))
    over = new.difference(old.buffer(CHANGED_MM, join_style="mitre"))
    if not missing and over.area > SMALLEST_MM2:
        missing = (AtEdge("", max(old.distance(Point(p)) for p in _corners(over))),)
    # Where the line itself is told, the allowance is told with it.
    marks = tuple(m for m in _marks(laid, now) if m != SEAMS or not (missing or trim))
    if not missing and not trim and not marks:
        return Recut("same")
    why = "size" if other_size else _why(laid, now)
    answer: Answer = "mark"
    if missing:
        answer = "narrower" if all(m.left_mm >= LEAST_ALLOWANCE_MM for m in missing) else "anew"
    elif trim:
        answer = "trim"
    return Recut(answer, trim, missing, marks, why, laid)


def _why(was: PieceShape, now: PieceShape) -> str:
    lines = [Polygon(s.seam_line).buffer(0) for s in (was, now)]
    apart = lines[0].symmetric_difference(lines[1]).buffer(-CHANGED_MM / 2)
    return "allowance" if apart.is_empty and not _same_allowances(was, now) else "shape"


def _same_allowances(was: PieceShape, now: PieceShape) -> bool:
    names = set(was.edges) | set(now.edges)
    return all(abs(was.allowance_of(e) - now.allowance_of(e)) < CHANGED_MM for e in names)


def _laid(was: PieceShape, now: PieceShape) -> PieceShape:
    """Return the cut piece moved to where the new one loses least on it."""
    old, new = Polygon(was.outline).buffer(0), Polygon(now.outline).buffer(0)
    corners = shapely.points(now.outline)
    folded = now.fold_edge is not None and was.fold_edge is not None

    def cost(move: tuple[float, float]) -> float:
        there = translate(old, *move)
        both = there.intersection(new).area
        over = float(shapely.distance(there, corners).max())  # shared between two sides rather than all at one
        return float(MISSING_COSTS * (new.area - both) + (there.area - both) + 50.0 * over + 0.01 * math.hypot(*move))

    down = now.fold_edge[0][1] - was.fold_edge[0][1] if folded and now.fold_edge and was.fold_edge else 0.0
    best = min(_starts(old, new, down if folded else None), key=cost)
    least, step = cost(best), 8.0
    while step >= FINEST_MM:
        ways = [(step, 0.0), (-step, 0.0), *(() if folded else ((0.0, step), (0.0, -step)))]
        found = min(((best[0] + x, best[1] + y) for x, y in ways), key=cost)
        if cost(found) < least - 1e-6:
            best, least = found, cost(found)
        else:
            step /= 2.0
    # A piece that was not moved at all stays where it is to the last digit.
    return was if cost((0.0, 0.0)) <= least + 1e-3 else mapped(was, lambda p: (p[0] + best[0], p[1] + best[1]))


def _starts(old: Polygon, new: Polygon, down: float | None) -> list[tuple[float, float]]:
    """Return moves worth beginning from: where it lies, and each side or the middle of both in line."""
    ox, oy, ou, ov = old.bounds
    nx, ny, nu, nv = new.bounds
    along = [0.0, nx - ox, nu - ou, (nx + nu - ox - ou) / 2.0]
    across = [0.0, ny - oy, nv - ov, (ny + nv - oy - ov) / 2.0] if down is None else [down]
    return [(x, y) for x in along for y in across]


def _apart(now: PieceShape, old: Polygon, outside: bool) -> Iterator[AtEdge]:
    """Give each edge of the new piece that lies outside (inside) the cut one, with the most it does so, square to the edge."""
    edges = now.edges or {"": (0, len(now.outline) - 1)}
    clockwise = -1.0 if Polygon(now.outline).exterior.is_ccw else 1.0
    for name, edge in edges.items():
        line = LineString(edge_points(now.outline, edge))
        if line.length < FINEST_MM or (now.fold_edge is not None and _on_fold(line, now)):
            continue
        most = max((_off(line, k, old, outside, clockwise) for k in _along(line)), default=0.0)
        if most > CHANGED_MM:
            allowance = now.allowance_of(name)
            yield AtEdge(name, most, allowance, allowance - most if outside else allowance)


def _along(line: LineString) -> Iterator[float]:
    count = max(2, math.ceil(line.length / EVERY_MM))
    yield from (line.length * (k + 0.5) / count for k in range(count))


def _off(line: LineString, at: float, old: Polygon, outside: bool, clockwise: float) -> float:
    """Return how far the cut edge lies from a place on the new one, square to it: inward where cloth is missing, else outward."""
    here = line.interpolate(at)
    if old.buffer(1e-6).contains(here) == outside:
        return 0.0
    near = float(old.exterior.distance(here))
    if near <= CHANGED_MM:
        return 0.0
    a, b = line.interpolate(max(0.0, at - 0.5)), line.interpolate(min(line.length, at + 0.5))
    size = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    side = clockwise if outside else -clockwise
    nx, ny = (b.y - a.y) / size * side, -(b.x - a.x) / size * side
    # What lies beyond the end of the neighbouring edge is that edge's own: square to this one nothing is near.
    reach = 1.6 * near + 1.0
    ray = LineString([(here.x, here.y), (here.x + nx * reach, here.y + ny * reach)])
    met = ray.intersection(old.exterior)
    return float(met.distance(here)) if not met.is_empty else 0.0


def _on_fold(line: LineString, shape: PieceShape) -> bool:
    assert shape.fold_edge is not None
    axis = shape.fold_edge[0][1]
    return all(abs(y - axis) < CHANGED_MM for _, y in line.coords)


def _corners(over: object) -> list[tuple[float, float]]:
    parts = getattr(over, "geoms", [over])
    return [(float(x), float(y)) for part in parts for x, y in part.exterior.coords]


def _marks(was: PieceShape, now: PieceShape) -> Iterator[str]:
    """Give what has to be marked anew: notches, darts and other lines, dots, and seams whose allowance is another."""
    if _elsewhere([n.at for n in was.notches], [n.at for n in now.notches]):
        yield "notches"
    for kind in sorted({line.kind for line in now.lines}):
        there = [p for line in was.lines if line.kind == kind for p in line.points]
        if _elsewhere(there, [p for line in now.lines if line.kind == kind for p in line.points]):
            yield f"{kind} lines"
    if _elsewhere([m.at for m in was.marks], [m.at for m in now.marks]):
        yield "dots"
    if not _same_allowances(was, replace(now, edges={e: v for e, v in now.edges.items() if e in was.edges})):
        yield SEAMS


def _elsewhere(was: list[tuple[float, float]], now: list[tuple[float, float]]) -> bool:
    """Return whether any of the places to be marked has none of the old ones within what marking loses."""
    return any(all(math.dist(p, q) > 2 * CHANGED_MM for q in was) for p in now)
