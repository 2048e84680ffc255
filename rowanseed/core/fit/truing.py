"""Lines that an alteration broke, drawn true again: edges smooth, darts with legs alike and their ends on the edge.

As is done on tissue after every slash and fold. Common practice, no source.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from rowanseed.core.fit.reshape import own_edges, rebuilt, subdivided
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.geometry.types import Point

Vectors = npt.NDArray[np.float64]
WINDOW_MM = 9.0  # a turn is judged over so much on each side of a place
STEP_MM = 1.5
SHARPER_DEG = 6.0  # than anything an edge had before: a corner that an alteration made
REACHES_MM = (22.0, 35.0, 55.0, 80.0, 120.0)
FINE_MM = 4.0
END_MM = 8.0
LEGS_MM = 0.05
NEAR_DART_MM = 8.0  # an end so far off its edge is put back on it
DRAWN_ALIKE_MM = 2.0  # legs that were drawn so much alike are meant alike
MOST_SHIFT_MM = 40.0


def trued(before: PieceShape, after: PieceShape, darts_kept: bool) -> PieceShape:
    """A piece after an alteration with its broken lines drawn true; one that is as it was comes back unchanged.

    Args:
        darts_kept: its darts take in what they did; else the alteration has changed that.
    """
    if after.outline == before.outline and after.lines == before.lines:
        return after
    shape = after
    for edge in [name for name in own_edges(before) if name in after.edges]:
        shape = _smoothed(before, shape, edge)
    return darts_trued(before, shape, darts_kept)


def _smoothed(before: PieceShape, shape: PieceShape, edge: str) -> PieceShape:
    """The shape with an edge's new corners drawn as curves that run on from what lies beside them; the least reach that does it."""
    was = _turns(before, edge)
    limit = max((turn for _, turn in was), default=0.0) + SHARPER_DEG
    if max((turn for _, turn in _turns(shape, edge)), default=0.0) <= limit:
        return shape
    fine = subdivided(shape, edge, FINE_MM)
    best = shape
    for reach in REACHES_MM:
        made = _bridged(fine, edge, limit, reach)
        if made is None:
            continue
        best = made
        if max((turn for _, turn in _turns(made, edge)), default=0.0) <= limit:
            return made
    return best


def _turns(shape: PieceShape, edge: str) -> list[tuple[float, float]]:
    """How sharply an edge turns: places along it, mm, and degrees; where a dart opens is no turn."""
    points = edge_points(shape.outline, shape.edges[edge])
    whole = path_length(points)
    if whole < 4 * WINDOW_MM:
        return []
    mouths = mouths_on(shape, edge)
    at = np.arange(WINDOW_MM, whole - WINDOW_MM, STEP_MM)
    for low, high in mouths:
        at = at[(at < low - WINDOW_MM) | (at > high + WINDOW_MM)]
    places = [_at(points, at + by) for by in (-WINDOW_MM, 0.0, WINDOW_MM)]
    one, two = places[1] - places[0], places[2] - places[1]
    turn = np.arctan2(two[:, 1], two[:, 0]) - np.arctan2(one[:, 1], one[:, 0])
    degrees = np.degrees(np.abs((turn + math.pi) % (2 * math.pi) - math.pi))
    return list(zip(at.tolist(), degrees.tolist(), strict=True))


def _at(points: Sequence[Point], along: Vectors) -> Vectors:
    """Places at distances along a line; distances n, places n x 2, mm."""
    line = np.array(points)
    far = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))))
    return np.column_stack([np.interp(along, far, line[:, k]) for k in (0, 1)])


def mouths_on(shape: PieceShape, edge: str) -> list[tuple[float, float]]:
    """Where darts open on an edge: from and to, mm along its cutting line."""
    points = edge_points(shape.outline, shape.edges[edge])
    found = []
    for line in shape.lines:
        if line.kind == "dart" and len(line.points) == 3:
            ends = [nearest(points, line.points[k]) for k in (0, 2)]
            if max(end.miss for end in ends) <= NEAR_DART_MM:
                found.append((min(e.along for e in ends), max(e.along for e in ends)))
    return found


def _bridged(shape: PieceShape, edge: str, limit: float, reach: float) -> PieceShape | None:
    """The shape with each corner of an edge bridged by a curve; None where a dart leaves no room."""
    place = shape.edges[edge]
    points = edge_points(shape.outline, place)
    whole = path_length(points)
    sharp = [at for at, turn in _turns(shape, edge) if turn > limit]
    if not sharp:
        return None
    # An edge's very ends stay as they are: their direction says where the seam lines meet.
    spans: list[list[float]] = []
    for at in sharp:
        if spans and at - reach <= spans[-1][1]:
            spans[-1][1] = min(whole - END_MM, at + reach)
        else:
            spans.append([max(END_MM, at - reach), min(whole - END_MM, at + reach)])
    for low, high in mouths_on(shape, edge):
        for span in spans:
            if span[0] < high and low < span[1]:
                # The curve ends at the dart, on the side on which the corner lies.
                if low - span[0] > span[1] - high:
                    span[1] = low - 1.0
                else:
                    span[0] = high + 1.0
    far = [0.0]
    for a, b in zip(points, points[1:]):
        far.append(far[-1] + math.dist(a, b))
    moved = list(shape.outline)
    n = len(moved)
    for low, high in spans:
        if high - low < 2 * FINE_MM:
            continue
        bridge = _bridge(points, low, high, whole)
        for k, at in enumerate(far):
            if low < at < high:
                moved[(place[0] + k) % n] = bridge((at - low) / (high - low))
    return rebuilt(shape, moved, list(range(n)), lambda p: p)


def _bridge(points: Sequence[Point], low: float, high: float, whole: float) -> Callable[[float], Point]:
    """A cubic from one place of a line to another that leaves and arrives as the line does there."""
    span = high - low
    ends = _at(points, np.array([low, high]))
    chord = ends[1] - ends[0]
    size = float(np.hypot(*chord)) or 1.0

    def heading(at: float, back: bool) -> Vectors:
        other = at - WINDOW_MM if back else at + WINDOW_MM
        if not 0.0 <= other <= whole:
            # At the edge's own end it goes on as it begins there.
            back = not back
            other = at - WINDOW_MM if back else at + WINDOW_MM
        pair = _at(points, np.array([other, at] if back else [at, other]))
        step: Vectors = pair[1] - pair[0]
        return step / (float(np.hypot(*step)) or 1.0)

    leave, arrive = heading(low, True) * size, heading(high, False) * size

    def at(t: float) -> Point:
        h = (2 * t**3 - 3 * t**2 + 1, t**3 - 2 * t**2 + t, -2 * t**3 + 3 * t**2, t**3 - t**2)
        x, y = h[0] * ends[0] + h[1] * leave + h[2] * ends[1] + h[3] * arrive
        return float(x), float(y)

    assert span > 0
    return at


def darts_trued(before: PieceShape, shape: PieceShape, kept: bool) -> PieceShape:
    """The shape with every dart's ends on its edge and its legs as long as each other, where they were drawn so.

    Both ends slide along the edge alike, so that the dart takes in as much; with `kept` as much as it did before.
    """
    drawn = [line for line in before.lines if line.kind == "dart" and len(line.points) == 3]
    askew = [line for line in drawn if abs(_leg(line, 0) - _leg(line, 2)) > DRAWN_ALIKE_MM]
    lines = []
    for k, line in enumerate(shape.lines):
        was = before.lines[k] if k < len(before.lines) else None
        plain = line.kind != "dart" or len(line.points) != 3 or (was is not None and was in askew)
        wide = math.dist(was.points[0], was.points[2]) if kept and was is not None and was in drawn else None
        lines.append(line if plain else _legs_alike(shape, line, wide))
    return replace(shape, lines=tuple(lines))


def _leg(line: Line, end: int) -> float:
    return math.dist(line.points[end], line.points[1])


def _legs_alike(shape: PieceShape, dart: Line, wide: float | None) -> Line:
    """A dart with its ends on its edge, as far from its point the one as the other; `wide`: what it takes in, None as it is."""
    edge = min(
        own_edges(shape),
        key=lambda name: max(
            nearest(edge_points(shape.outline, shape.edges[name]), dart.points[k]).miss for k in (0, 2)
        ),
        default=None,
    )
    if edge is None:
        return dart
    points = edge_points(shape.outline, shape.edges[edge])
    ends = [nearest(points, dart.points[k]) for k in (0, 2)]
    if max(end.miss for end in ends) > NEAR_DART_MM:
        return dart
    whole, tip = path_length(points), dart.points[1]
    now = math.dist(dart.points[0], dart.points[2])
    wide = now if wide is None else wide
    true = max(end.miss for end in ends) < LEGS_MM and abs(_leg(dart, 0) - _leg(dart, 2)) < LEGS_MM
    if true and abs(now - wide) < LEGS_MM:
        return dart
    half = (wide - now) / 2 * (1.0 if ends[0].along <= ends[1].along else -1.0)
    first_at, last_at = ends[0].along - half, ends[1].along + half

    def legs(by: float) -> tuple[Point, Point, float]:
        a, b = ((float(x), float(y)) for x, y in _at(points, np.array([first_at + by, last_at + by])))
        return a, b, math.dist(a, tip) - math.dist(b, tip)

    low = max(-MOST_SHIFT_MM, -min(first_at, last_at))
    high = min(MOST_SHIFT_MM, whole - max(first_at, last_at))
    first, last = legs(low)[2], legs(high)[2]
    if first * last > 0:
        a, b, _ = legs(0.0)
        return replace(dart, points=(a, tip, b))
    for _ in range(50):
        middle = (low + high) / 2
        off = legs(middle)[2]
        if (off > 0) == (first > 0):
            low = middle
        else:
            high = middle
    a, b, _ = legs((low + high) / 2)
    return replace(dart, points=(a, tip, b))
