"""Which of the lines in a piece is its grain arrow, its fold, a notch, a dot, and which stays an inner line."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from shapely import LinearRing, LineString
from shapely import Point as Place

from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.types import Outline, Point, Segment
from rowanseed.core.intake.model import Stroke, Words

NOTCH_MM = 16.0  # a tick or triangle at an edge is no longer
AT_EDGE_MM = 1.5
DOT_MM = 14.0
LEAST_GRAIN_MM = 40.0
LEAST_ARROW_MM = 22.0  # with its heads drawn in one line
LEAST_FOLD_MM = 18.0
STRAIGHT_MM = 0.15
PARTED_MM = 0.4  # the ends of a line that a page's edge parted lie so near to each other
FOLD_AWAY_MM = 70.0  # how far a bracketed arrow may lie from its fold
ARROW_MM = 20.0


@dataclass
class Marks:
    """What was found in one piece. `guessed`: which of them were told by their form alone."""

    notches: list[tuple[Point, Stroke]] = field(default_factory=list)
    dots: list[tuple[Point, Stroke]] = field(default_factory=list)
    grains: list[tuple[Segment, Stroke]] = field(default_factory=list)
    folds: list[tuple[Segment, Stroke]] = field(default_factory=list)
    inner: list[tuple[Outline, Stroke]] = field(default_factory=list)
    guessed: set[str] = field(default_factory=set)


def read_marks(strokes: Sequence[Stroke], outlines: Sequence[Outline], words: Sequence[Words]) -> Marks:
    """Return what the strokes in a piece are.

    Args:
        strokes: every line that lies in the piece or touches it.
        outlines: the piece's outlines, of all sizes (>= 1), mm.
        words: the words that stand in it.
    """
    marks = Marks()
    rings = [LinearRing(o) for o in outlines]
    rest: list[Stroke] = []
    for stroke in gone_on(strokes):
        if not _by_sense(stroke, rings, marks):
            rest.append(stroke)
    rest = _crosses(rest, rings, marks)
    heads = [s for s in rest if _span(s.points) <= ARROW_MM]
    for stroke in rest:
        if _span(stroke.points) <= NOTCH_MM and (at := _notch(stroke, rings)) is not None:
            marks.notches.append((at, stroke))
            marks.guessed.add("notch")
        elif (dot := _dot(stroke)) is not None and not stroke.style.colour.startswith("fill"):
            marks.dots.append((dot, stroke))
            marks.guessed.add("dot")
        elif (fold := _bracket(stroke, rings)) is not None:
            marks.folds.append((fold, stroke))
            marks.guessed.add("fold")
        elif not stroke.closed and _is_arrow(stroke, heads, words):
            marks.grains.append((_longest(stroke.points), stroke))
            marks.guessed.add("grain")
        elif path_length(stroke.points) >= 10.0 and not (
            stroke.style.colour.startswith("fill") and _span(stroke.points) < 40
        ):
            marks.inner.append((stroke.points, stroke))
    if not marks.grains and not marks.folds:
        _likely_grain(marks, rings)
    _without_heads(marks)
    return marks


def _by_sense(stroke: Stroke, rings: Sequence[LinearRing], marks: Marks) -> bool:
    """Take a stroke whose layer says what it is; False where it does not."""
    match stroke.sense:
        case "notch":
            at = _notch(stroke, rings) or _middle(stroke.points)
            marks.notches.append((at, stroke))
        case "drill":
            if (crossed := _dot(stroke)) is None and path_length(stroke.points) > 3 * DOT_MM:
                return False
            marks.dots.append((crossed or _middle(stroke.points), stroke))
        case "grain":
            if path_length(stroke.points) >= 15.0:
                marks.grains.append((_longest(stroke.points), stroke))
        case "fold":
            marks.folds.append((_bracket(stroke, rings) or _on_ring(_longest(stroke.points), rings), stroke))
        case "internal":
            marks.inner.append((stroke.points, stroke))
        case _:
            return False
    return True


def _span(points: Outline) -> float:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return max(max(xs) - min(xs), max(ys) - min(ys))


def _middle(points: Outline) -> Point:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


def _ends(points: Outline) -> Segment:
    return points[0], points[-1]


def _longest(points: Outline) -> Segment:
    """Return the longest straight part of a line."""
    best = max(zip(points, points[1:]), key=lambda s: math.dist(*s), default=(points[0], points[-1]))
    whole = (points[0], points[-1])
    return whole if math.dist(*whole) >= math.dist(*best) and len(points) <= 4 else best


def _notch(stroke: Stroke, rings: Sequence[LinearRing]) -> Point | None:
    """Return where a tick, triangle or V stands on an edge: its place on the nearest outline; None where it is none."""
    if _span(stroke.points) > NOTCH_MM or _span(stroke.points) < 1.0:
        return None
    on = [p for p in stroke.points if min(r.distance(Place(p)) for r in rings) <= AT_EDGE_MM]
    if not on:
        return None
    if (len(stroke.points) == 2 and len(on) == 1) or (len(stroke.points) == 2 and _crosses_edge(stroke, rings)):
        place = on[0]
    elif stroke.closed or len(stroke.points) in (3, 4):
        if len(on) == len(stroke.points) and not stroke.closed:
            return None
        place = (sum(p[0] for p in on) / len(on), sum(p[1] for p in on) / len(on))
    else:
        return None
    ring = min(rings, key=lambda r: r.distance(Place(place)))
    foot = ring.interpolate(ring.project(Place(place)))
    return (float(foot.x), float(foot.y))


def _crosses_edge(stroke: Stroke, rings: Sequence[LinearRing]) -> bool:
    line = LineString(stroke.points)
    return any(line.crosses(r) for r in rings)


def _dot(stroke: Stroke) -> Point | None:
    """Return the middle of a small round mark, or None."""
    if not stroke.closed or _span(stroke.points) > DOT_MM or _span(stroke.points) < 0.8 or len(stroke.points) < 4:
        return None
    middle = _middle(stroke.points)
    away = [math.dist(p, middle) for p in stroke.points]
    return middle if max(away) < 1.5 * min(away) + 0.2 else None


def _crosses(strokes: Sequence[Stroke], rings: Sequence[LinearRing], marks: Marks) -> list[Stroke]:
    """Take pairs of short strokes that cross in their middles as marks; return what is left."""
    short = [s for s in strokes if len(s.points) == 2 and 2.0 <= path_length(s.points) <= DOT_MM]
    taken: set[int] = set()
    for k, a in enumerate(short):
        for b in short[k + 1 :]:
            if id(a) in taken or id(b) in taken:
                continue
            if math.dist(_middle(a.points), _middle(b.points)) < 0.5 and LineString(a.points).crosses(
                LineString(b.points)
            ):
                taken |= {id(a), id(b)}
                marks.dots.append((_middle(a.points), a))
                marks.guessed.add("dot")
    return [s for s in strokes if id(s) not in taken]


def gone_on(strokes: Sequence[Stroke]) -> list[Stroke]:
    """Return strokes with those made one that a page's edge parted: alike, and the ends of just two of them meet there."""
    chains = [list(s.points) for s in strokes]
    alive = list(range(len(strokes)))
    while True:
        ends: dict[tuple[int, int], list[tuple[int, bool]]] = {}
        for k in alive:
            if strokes[k].closed:
                continue
            for head in (True, False):
                x, y = chains[k][0 if head else -1]
                ends.setdefault((round(x / PARTED_MM), round(y / PARTED_MM)), []).append((k, head))
        pair = next(
            (
                (a, b)
                for met in ends.values()
                if len(met) == 2 and (a := met[0])[0] != (b := met[1])[0] and _parted(strokes[a[0]], strokes[b[0]])
            ),
            None,
        )
        if pair is None:
            return [replace(strokes[k], points=tuple(chains[k])) for k in alive]
        (one, one_head), (two, two_head) = pair
        first = chains[one][::-1] if one_head else chains[one]
        second = chains[two] if two_head else chains[two][::-1]
        straight = LineString([first[-2], second[1]]).distance(Place(first[-1])) < STRAIGHT_MM
        chains[one] = [*(first[:-1] if straight else first), *second[1:]]
        alive.remove(two)


def _parted(one: Stroke, two: Stroke) -> bool:
    """Whether two strokes may be one that went on from page to page."""
    return one.page != two.page and one.style == two.style and one.layer == two.layer


def _bracket(stroke: Stroke, rings: Sequence[LinearRing]) -> Segment | None:
    """Return the edge that a bracketed arrow points to: a long line with short legs at both ends, square to it, to one side."""
    # Where it went on from page to page it has points on its straight parts.
    points = [(float(x), float(y)) for x, y in LineString(stroke.points).simplify(STRAIGHT_MM).coords]
    if stroke.closed or not 4 <= len(points) <= 12:
        return None
    at = max(range(len(points) - 1), key=lambda k: math.dist(points[k], points[k + 1]))
    a, b = points[at], points[at + 1]
    long = math.dist(a, b)
    if long < LEAST_FOLD_MM or at == 0 or at + 2 == len(points):
        return None
    legs = (points[at - 1], points[at + 2])
    ux, uy = (b[0] - a[0]) / long, (b[1] - a[1]) / long
    sides = []
    for foot, tip in ((a, legs[0]), (b, legs[1])):
        across = -(tip[0] - foot[0]) * uy + (tip[1] - foot[1]) * ux
        along = abs((tip[0] - foot[0]) * ux + (tip[1] - foot[1]) * uy)
        if abs(across) < 3.0 or along > 0.35 * abs(across) or abs(across) > 0.6 * long:
            return None
        sides.append(math.copysign(1.0, across))
    if sides[0] != sides[1]:
        return None
    normal = (-uy * sides[0], ux * sides[0])
    edges = [e for ring in rings if (e := straight_edge(ring, (a, b), normal)) is not None]
    return max(edges, key=lambda e: math.dist(*e), default=None)


def straight_edge(ring: LinearRing, line: Segment, normal: Point) -> Segment | None:
    """Return the straight side of an outline that lies beside a line, parallel to it, on the side where `normal` points."""
    (ax, ay), (bx, by) = line
    long = math.dist(*line)
    ux, uy = (bx - ax) / long, (by - ay) / long
    ring_points = [(float(x), float(y)) for x, y in ring.coords]
    found: list[Point] = []
    least = None
    for p, q in zip(ring_points, ring_points[1:]):
        side = math.dist(p, q)
        if side < 1e-6 or abs((q[0] - p[0]) * uy - (q[1] - p[1]) * ux) > 0.012 * side:
            continue
        away = (p[0] - ax) * normal[0] + (p[1] - ay) * normal[1]
        if -1.0 <= away <= FOLD_AWAY_MM and (least is None or abs(away - least) < 0.5):
            least = away if least is None else least
            found += [p, q]
    if not found:
        return None
    found.sort(key=lambda p: p[0] * ux + p[1] * uy)
    return (found[0], found[-1]) if math.dist(found[0], found[-1]) >= 0.4 * long else None


def _on_ring(line: Segment, rings: Sequence[LinearRing]) -> Segment:
    """Return a fold line as the edge of the outline that it lies on or beside."""
    (ax, ay), (bx, by) = line
    long = math.dist(*line) or 1.0
    for sign in (1.0, -1.0):
        normal = (-(by - ay) / long * sign, (bx - ax) / long * sign)
        edges = [e for ring in rings if (e := straight_edge(ring, line, normal)) is not None]
        if edges:
            return max(edges, key=lambda e: math.dist(*e))
    return line


def _is_arrow(stroke: Stroke, heads: Sequence[Stroke], words: Sequence[Words]) -> bool:
    """Whether a long straight line has arrowheads at its ends, or the word grain beside it."""
    a, b = stroke.points[0], stroke.points[-1]
    straight = math.dist(a, b)
    if _arrow_drawn_in_one(stroke):
        return True
    if straight < LEAST_GRAIN_MM:
        return False
    if straight < 0.995 * path_length(stroke.points):
        return False
    headed = any(
        h is not stroke
        and min(math.dist(end, p) for p in h.points) < 2.5
        and LineString(h.points).length < 3 * ARROW_MM
        for end in (a, b)
        for h in heads
    )
    line = LineString(stroke.points)
    said = any("grain" in w.text.lower() and line.distance(Place(w.at)) < 25.0 for w in words)
    return headed or said


def _arrow_drawn_in_one(stroke: Stroke) -> bool:
    """Whether a line goes straight and ends in a barbed head drawn with it."""
    points = stroke.points
    if not 4 <= len(points) <= 14:
        return False
    sides = [math.dist(p, q) for p, q in zip(points, points[1:])]
    longest = max(sides)
    return (
        longest >= LEAST_ARROW_MM
        and all(s == longest or s <= ARROW_MM for s in sides)
        and _span(points) < longest + 2 * ARROW_MM
    )


def _likely_grain(marks: Marks, rings: Sequence[LinearRing]) -> None:
    """Take the longest straight line that stands free in the piece as its grain, where nothing else is one."""
    free = [
        (points, stroke)
        for points, stroke in marks.inner
        if not stroke.closed
        and len(points) <= 3
        and math.dist(points[0], points[-1]) >= max(LEAST_GRAIN_MM, 0.25 * math.sqrt(abs(_box_area(rings[-1]))))
        and min(r.distance(Place(p)) for r in rings for p in (points[0], points[-1])) > 2.0
    ]
    if len(free) == 1:
        marks.inner.remove(free[0])
        marks.grains.append((_ends(free[0][0]), free[0][1]))
        marks.guessed.add("grain-line")


def _box_area(ring: LinearRing) -> float:
    x0, y0, x1, y1 = ring.bounds
    return float((x1 - x0) * (y1 - y0))


def _without_heads(marks: Marks) -> None:
    """Take the heads of the grain arrow out of the inner lines."""
    tips = [end for grain, _ in marks.grains for end in grain]
    marks.inner = [
        (points, stroke)
        for points, stroke in marks.inner
        if not (_span(points) <= ARROW_MM and any(math.dist(t, p) < 2.5 for t in tips for p in points))
    ]
