"""The slashed bust alteration, with a dart and without.

The piece is slashed from its foot straight up to the bust point, on to the armhole, and from the side to the bust point. The
part beside the armhole turns about the end of its slash until the bust point has moved out by the amount; the part below it
moves out as far, level. What opens at the side is the dart, and the centre is let down by what the bust point dropped. Without
a dart the part below is slid up until the side closes, and the hem trued from the centre to the side. Handbook method, from
memory.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from shapely import Polygon
from shapely.geometry import Point as Place

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.bust_slash import Slash, bust_point_of, dart_on_side, middle, seam_mm, slashed
from rowanseed.core.fit.reshape import rebuilt
from rowanseed.core.fit.truing import trued
from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both

SIDE_KEPT_MM = 0.05
DART_BACK_MM = 25.0  # the dart stops about an inch short of the bust point; common practice, no source
Move = Callable[[Point], Point]


@dataclass(frozen=True)
class _Moves:
    """What becomes of each part: the centre, the part beside the armhole, the one below it; and of the foot."""

    centre: Move
    beside: Move
    below: Move
    foot: Move


def slash_bust(shape: PieceShape, by: float, point: Point | None, side: str, dart: bool) -> PieceShape:
    """Open a piece by `by` mm at its bust point (negative: overlap it), with the dart kept or closed into the foot.

    Args:
        point: the bust point; None takes the mark of that name.
    Raises:
        AlterationError: no bust point, no armhole or side edge, or more than one slash can give.
    """
    slash = slashed(shape, side, bust_point_of(shape, point))
    # The part beside the armhole turns on the seam line, so that its length stays.
    hinge, apex = _pivot(slash, shape.allowance_of("armhole")), slash.apex
    turn = _turn(hinge, apex, by * (1.0 if slash.points[slash.side][1] >= apex[1] else -1.0))
    moved_apex = turn(apex)
    dx, dy = moved_apex[0] - apex[0], moved_apex[1] - apex[1]
    old_dart = dart_on_side(shape, side)
    if dart and by < 0:
        _refuse_growing_less(slash, turn, (dx, dy), old_dart)

    def level(place: Point) -> Point:
        return (place[0] + dx, place[1] + dy)

    def centre(place: Point) -> Point:
        # Where the centre is taken up, what is folded away comes to lie on the fold.
        return (max(apex[0], place[0] + dx), place[1]) if place[0] > apex[0] + 1.0 else place

    if dart:
        return _assembled(shape, slash, _Moves(centre, turn, level, centre), old_dart, True)
    at_side = slash.points[slash.side]

    def closed(up: float) -> PieceShape:
        """Without a dart: the part below slid along by `up` until the side closes."""

        def slid(place: Point) -> Point:
            return (place[0] + up, place[1] + dy)

        made = _assembled(shape, slash, _Moves(centre, turn, slid, _hem(slash, dx, up)), old_dart, False)
        return trued(shape, made, darts_kept=False)  # as it will be, so that the side is measured as it will be

    return _keeping_the_side(shape, side, closed, turn(at_side)[0] - at_side[0])


def _keeping_the_side(shape: PieceShape, side: str, closed: Callable[[float], PieceShape], first: float) -> PieceShape:
    """The piece slid so far that its side's seam line keeps its length; by secants from where the slash closes."""

    def off(made: PieceShape) -> float:
        return seam_mm(made, side) - seam_mm(shape, side)

    made, before = closed(first), (first, 0.0)
    miss = off(made)
    at = first - miss
    for _ in range(8):
        if abs(miss) < SIDE_KEPT_MM:
            return made
        before = (before[0], miss) if before[1] == 0.0 else before
        made = closed(at)
        now = off(made)
        slope = (now - before[1]) / ((at - before[0]) or 1e-9)
        before, miss = (at, now), now
        at -= now / slope if abs(slope) > 1e-6 else now
    return made


def _pivot(slash: Slash, allowance_mm: float) -> Point:
    """Where the part beside the armhole turns: an allowance inside the armhole's cut edge, toward the bust point."""
    n = len(slash.points)
    (ax, ay), (bx, by) = slash.points[(slash.hinge - 1) % n], slash.points[(slash.hinge + 1) % n]
    x, y = slash.points[slash.hinge]
    size = math.hypot(bx - ax, by - ay) or 1.0
    inward = (-(by - ay) / size, (bx - ax) / size)
    if inward[0] * (slash.apex[0] - x) + inward[1] * (slash.apex[1] - y) < 0:
        inward = (-inward[0], -inward[1])
    return (x + allowance_mm * inward[0], y + allowance_mm * inward[1])


def _turn(hinge: Point, apex: Point, out: float) -> Move:
    """The turn about the hinge that moves the bust point out by so much across the grain."""
    rx, ry = apex[0] - hinge[0], apex[1] - hinge[1]
    reach = math.hypot(rx, ry)
    if reach < 20.0 or abs(ry + out) >= reach:
        raise AlterationError(
            f"That is more than one slash can open: the armhole is only {both(reach)} from the bust point.", "by"
        )
    angle = math.asin((ry + out) / reach) - math.asin(ry / reach)
    if rx < 0:
        angle = -angle
    cos, sin = math.cos(angle), math.sin(angle)

    def turn(place: Point) -> Point:
        x, y = place[0] - hinge[0], place[1] - hinge[1]
        return (hinge[0] + cos * x - sin * y, hinge[1] + sin * x + cos * y)

    return turn


def _refuse_growing_less(slash: Slash, turn: Move, shift: Point, dart: Line | None) -> None:
    """A small bust takes its amount out of the side's dart: refuse when there is none, or too small a one."""
    place = slash.points[slash.side]
    taken = math.dist(turn(place), (place[0] + shift[0], place[1] + shift[1]))
    there = math.dist(dart.points[0], dart.points[2]) if dart else 0.0
    if there < taken - 0.5:
        raise AlterationError(
            f"The side dart would lose {both(taken)} and has {both(there)}. Use the alteration without a dart.", "kind"
        )


def _hem(slash: Slash, down: float, up: float) -> Move:
    """The foot trued: let down by `down` at the centre, slid by `up` at the side, evenly between."""
    corner = slash.points[slash.corner]
    inner = max((p for p in slash.points if p[0] > slash.apex[0]), key=lambda p: abs(p[1] - corner[1]))

    def move(place: Point) -> Point:
        if place[0] <= slash.apex[0] + 1.0:
            return place
        share = (place[1] - inner[1]) / ((corner[1] - inner[1]) or 1.0)
        return (place[0] + down + (up - down) * min(1.0, max(0.0, share)), place[1])

    return move


def _assembled(shape: PieceShape, slash: Slash, moves: _Moves, dart: Line | None, keep_dart: bool) -> PieceShape:
    """The piece put together again: each run moved with its part, doubled where a slash opened."""
    beside, under = slash.run(slash.hinge, slash.side), slash.run(slash.side, slash.foot)
    rest = slash.run(slash.foot, slash.hinge)[:-1]
    if not keep_dart:
        under = under[1:]
    walked = [(k, moves.beside) for k in beside] + [(k, moves.below) for k in under] + [(k, moves.foot) for k in rest]
    points = [move(slash.points[k]) for k, move in walked]
    points[0] = middle(points[0], slash.points[slash.hinge])
    if not keep_dart:
        _slide_closed(points, slash, beside, under, moves)
    outward = 1.0 if slash.points[slash.corner][1] > slash.apex[1] else -1.0
    _close_overlaps(points, len(beside) - 1 if keep_dart else None, len(beside) + len(under) - 1, outward)
    where: dict[int, int] = {}
    for at, (k, _) in enumerate(walked):
        old = slash.old[k]
        if old is not None:
            where[old] = at
    if slash.step < 0:
        points = points[::-1]
        where = {old: len(points) - 1 - at for old, at in where.items()}
    index = [where[k] for k in range(len(shape.outline))]
    parts = [
        Polygon([slash.points[k] for k in run] + [slash.apex]) for run in (beside, slash.run(slash.side, slash.foot))
    ]
    mover = _by_part(parts, slash.apex, moves)
    plain = replace(shape, lines=tuple(line for line in shape.lines if line is not dart))
    done = rebuilt(plain, points, index, mover)
    lines = _dart_lines(slash, moves, dart, keep_dart)
    levels = {zone: moves.centre((x, 0.0))[0] for zone, x in shape.levels.items()}
    return replace(done, lines=(*done.lines, *lines), levels=levels, grainline=shape.grainline)


def _close_overlaps(points: list[Point], side: int | None, foot: int, outward: float) -> None:
    """Where a slash overlaps, as for a small bust, both its ends become the place between them.

    Args:
        side, foot: the place before each slash; the one after it follows.
        outward: which way across the grain the side lies.
    """
    if side is not None and points[side][0] > points[side + 1][0]:
        points[side] = points[side + 1] = middle(points[side], points[side + 1])
    outer, inner = points[foot], points[foot + 1]
    if (outer[1] - inner[1]) * outward >= 0:
        return
    between = middle(outer, inner)
    for step, sign in ((-1, 1.0), (1, -1.0)):
        k = foot if step < 0 else foot + 1
        while (points[k][1] - between[1]) * outward * sign < 0:
            points[k] = between
            k = (k + step) % len(points)


def _slide_closed(points: list[Point], slash: Slash, beside: list[int], under: list[int], moves: _Moves) -> None:
    """Without a dart: the side above the slash bent out to meet the side below it, and the foot of that part trued."""
    place = slash.points[slash.side]
    short = moves.below(place)[1] - moves.beside(place)[1]
    above = beside[beside.index(slash.underarm) :]
    length = path_length([slash.points[k] for k in above]) or 1.0
    far, first = 0.0, len(beside) - len(above)
    for at, k in enumerate(above):
        far += math.dist(slash.points[above[at - 1]], slash.points[k]) if at else 0.0
        x, y = points[first + at]
        points[first + at] = (x, y + short * far / length)
    for at in range(under.index(slash.corner) if slash.corner in under else 0, len(under)):
        old = slash.points[under[at]]
        points[len(beside) + at] = (moves.foot(old)[0], moves.below(old)[1])


def _by_part(parts: list[Polygon], apex: Point, moves: _Moves) -> Move:
    """Marks and notches go with the part they lie on; the bust point itself stays with the centre."""

    def move(place: Point) -> Point:
        if math.dist(place, apex) < 0.5:
            return place
        at = Place(place)
        if parts[0].distance(at) < 0.5:
            return moves.beside(place)
        return moves.below(place) if parts[1].distance(at) < 0.5 else moves.centre(place)

    return move


def _dart_lines(slash: Slash, moves: _Moves, dart: Line | None, keep: bool) -> list[Line]:
    """The dart that opened at the side, its point short of the bust point; the old one moved where none is kept."""
    turn, below = moves.beside, moves.below
    side = slash.points[slash.side]
    upper, lower = (dart.points[0], dart.points[2]) if dart else (side, side)
    if upper[0] > lower[0]:
        upper, lower = lower, upper
    if not keep:
        return [Line("dart", (turn(upper), turn(dart.points[1]), turn(lower)))] if dart else []
    first, last = turn(upper), below(lower)
    if math.dist(first, last) < 1.0:
        return []
    mouth = middle(first, last)
    apex = below(slash.apex)
    reach = math.dist(mouth, apex)
    share = min(0.5, DART_BACK_MM / reach) if reach else 0.0
    point = (apex[0] + share * (mouth[0] - apex[0]), apex[1] + share * (mouth[1] - apex[1]))
    return [Line("dart", (first, point, last))]
