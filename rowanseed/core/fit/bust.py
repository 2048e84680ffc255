"""The slashed bust alteration, with a dart and without.

The piece is slashed from its foot straight up to the bust point, on to the armhole, and from the side to the bust point. The
part beside the armhole turns about the end of its slash until the bust point has moved out by the amount; the part below it
moves out as far, level. What opens at the side is the dart, and the centre is let down by what the bust point dropped. Without
a dart the part below is slid up until the side closes, and the hem trued from the centre to the side. Handbook method, from
memory.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from shapely import Polygon
from shapely.geometry import Point as Place

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.reshape import SAME, rebuilt
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

BUST_POINT = "bust point"
SIDE_KEPT_MM = 0.05
DART_BACK_MM = 25.0  # the dart stops about an inch short of the bust point; common practice, no source
HINGE_SHARE = 1 / 3  # up the armhole from the underarm, about where the front notch lies; common practice
BELOW_UNDERARM_MM = 40.0  # where the side is slashed when the bust point lies above the underarm
Move = Callable[[Point], Point]


@dataclass(frozen=True)
class _Moves:
    """What becomes of each part: the centre, the part beside the armhole, the one below it; and of the foot."""

    centre: Move
    beside: Move
    below: Move
    foot: Move


@dataclass(frozen=True)
class _Slash:
    """A piece's outline with a point at each slash, cut into three runs: centre, beside the armhole, below.

    `underarm` and `corner`: where the side begins and ends.
    """

    points: list[Point]
    old: list[int | None]  # the old point that each is, None for one added
    hinge: int
    side: int
    foot: int
    underarm: int
    corner: int
    apex: Point
    step: int  # +1 when the outline runs from armhole to side to foot

    def run(self, first: int, last: int) -> list[int]:
        """Places along the outline from one slash to the next, ends included."""
        out, n = [first], len(self.points)
        while out[-1] != last:
            out.append((out[-1] + self.step) % n)
        return out


def slash_bust(shape: PieceShape, by: float, point: Point | None, side: str, dart: bool) -> PieceShape:
    """Open a piece by `by` mm at its bust point (negative: overlap it), with the dart kept or closed into the foot.

    Args:
        point: the bust point; None takes the mark of that name.
    Raises:
        AlterationError: no bust point, no armhole or side edge, or more than one slash can give.
    """
    slash = _slashed(shape, side, _apex(shape, point))
    # The part beside the armhole turns on the seam line, so that its length stays.
    hinge, apex = _pivot(slash, shape.allowance_of("armhole")), slash.apex
    turn = _turn(hinge, apex, by * (1.0 if slash.points[slash.side][1] >= apex[1] else -1.0))
    moved_apex = turn(apex)
    dx, dy = moved_apex[0] - apex[0], moved_apex[1] - apex[1]
    old_dart = _side_dart(shape, side)
    if dart and by < 0:
        _refuse_growing_less(slash, turn, (dx, dy), old_dart)

    def level(place: Point) -> Point:
        return (place[0] + dx, place[1] + dy)

    def centre(place: Point) -> Point:
        return (place[0] + dx, place[1]) if place[0] > apex[0] + 1.0 else place

    if dart:
        return _assembled(shape, slash, _Moves(centre, turn, level, centre), old_dart, True)
    at_side = slash.points[slash.side]

    def closed(up: float) -> PieceShape:
        """Without a dart: the part below slid along by `up` until the side closes."""

        def slid(place: Point) -> Point:
            return (place[0] + up, place[1] + dy)

        return _assembled(shape, slash, _Moves(centre, turn, slid, _hem(slash, dx, up)), old_dart, False)

    return _keeping_the_side(shape, side, closed, turn(at_side)[0] - at_side[0])


def _keeping_the_side(shape: PieceShape, side: str, closed: Callable[[float], PieceShape], first: float) -> PieceShape:
    """The piece slid so far that its side's seam line keeps its length; by secants from where the slash closes."""

    def off(made: PieceShape) -> float:
        return _seam_mm(made, side) - _seam_mm(shape, side)

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


def _seam_mm(shape: PieceShape, edge: str) -> float:
    """An edge's seam line less what the darts that open on it fold away, mm."""
    return Walker().edge_mm(AlterPiece("", shape), edge)


def _apex(shape: PieceShape, point: Point | None) -> Point:
    mark = next((m.at for m in shape.marks if m.name == BUST_POINT), None)
    apex = point or mark
    if apex is None:
        raise AlterationError("Say where the bust point lies: from the top, and from the piece's inner edge.", "at")
    if not Polygon(shape.outline).contains(Place(apex)):
        raise AlterationError("The bust point lies off the piece.", "at")
    return apex


def _pivot(slash: _Slash, allowance_mm: float) -> Point:
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


def _slashed(shape: PieceShape, side: str, apex: Point) -> _Slash:
    for edge in ("armhole", side):
        if edge not in shape.edges:
            known = ", ".join(shape.edges) or "none"
            raise AlterationError(f"A bust alteration needs an edge “{edge}”; this piece has: {known}.", "edge")
    armhole, sides = shape.edges["armhole"], shape.edges[side]
    step = 1 if armhole[1] == sides[0] else -1
    if step < 0 and armhole[0] != sides[1]:
        raise AlterationError("The armhole and the side do not meet on this piece.", "edge")
    places = [
        _hinge(shape, armhole, step),
        _side_place(shape, sides, step, apex, _side_dart(shape, side)),
        _foot(shape, apex),
    ]
    points: list[Point] = []
    old: list[int | None] = []
    index: dict[int, int] = {}
    for k, point in enumerate(shape.outline):
        points.append(point)
        old.append(k)
        on_side = sorted(((t, n, p) for n, (at, t, p) in enumerate(places) if at == k))
        for t, n, place in on_side:
            if t > 0 and math.dist(place, points[-1]) > SAME:
                points.append(place)
                old.append(None)
            index[n] = len(points) - 1
    head, end = sides if step > 0 else sides[::-1]
    slash = _Slash(points, old, index[0], index[1], index[2], old.index(head), old.index(end), apex, step)
    if len({slash.hinge, slash.side, slash.foot}) < 3 or slash.foot in slash.run(slash.hinge, slash.side):
        raise AlterationError("The slashes do not part this piece: check where the bust point lies.", "at")
    return slash


def _hinge(shape: PieceShape, edge: tuple[int, int], step: int) -> tuple[int, float, Point]:
    """Where the slash meets the armhole: (side of the outline, share along it, the place)."""
    points = edge_points(shape.outline, edge)
    wanted = path_length(points) * (1 - HINGE_SHARE if step > 0 else HINGE_SHARE)
    return _place_along(shape, edge, wanted)


def _place_along(shape: PieceShape, edge: tuple[int, int], wanted: float) -> tuple[int, float, Point]:
    n, far = len(shape.outline), 0.0
    points = edge_points(shape.outline, edge)
    for k, (a, b) in enumerate(zip(points, points[1:])):
        size = math.dist(a, b)
        if far + size >= wanted and size > 0:
            t = (wanted - far) / size
            return (edge[0] + k) % n, t, (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]))
        far += size
    raise AlterationError("An edge of this piece has no length.", "edge")


def _side_place(
    shape: PieceShape, edge: tuple[int, int], step: int, apex: Point, dart: Line | None
) -> tuple[int, float, Point]:
    """Where the side is slashed: at its dart, else level with the bust point, on the upper part of the side."""
    points = edge_points(shape.outline, edge)
    down = points if step > 0 else points[::-1]
    length = path_length(points)
    if dart is not None:
        from_top = nearest(down, _middle(dart.points[0], dart.points[2])).along
    else:
        from_top = max(BELOW_UNDERARM_MM, apex[0] - down[0][0])
    from_top = min(max(from_top, 0.05 * length), 0.6 * length)
    return _place_along(shape, edge, from_top if step > 0 else length - from_top)


def _foot(shape: PieceShape, apex: Point) -> tuple[int, float, Point]:
    """Where a line straight down from the bust point leaves the piece."""
    best: tuple[float, int, float] | None = None
    n = len(shape.outline)
    for k in range(n):
        (ax, ay), (bx, by) = shape.outline[k], shape.outline[(k + 1) % n]
        if (ay > apex[1]) == (by > apex[1]):
            continue
        t = (apex[1] - ay) / (by - ay)
        x = ax + t * (bx - ax)
        if x > apex[0] and (best is None or x < best[0]):
            best = (x, k, t)
    if best is None:
        raise AlterationError("There is no foot below the bust point on this piece.", "at")
    return best[1], best[2], (best[0], apex[1])


def _side_dart(shape: PieceShape, side: str) -> Line | None:
    """The dart that opens at the side, if there is one."""
    points = edge_points(shape.outline, shape.edges[side])
    for line in shape.lines:
        if line.kind == "dart" and len(line.points) == 3:
            ends = (line.points[0], line.points[2])
            if all(min(math.dist(end, p) for p in points) < 15.0 or _on(points, end) for end in ends):
                return line
    return None


def _on(points: Sequence[Point], place: Point) -> bool:
    return any(
        abs(math.dist(a, place) + math.dist(place, b) - math.dist(a, b)) < 0.5 for a, b in zip(points, points[1:])
    )


def _refuse_growing_less(slash: _Slash, turn: Move, shift: Point, dart: Line | None) -> None:
    """A small bust takes its amount out of the side's dart: refuse when there is none, or too small a one."""
    place = slash.points[slash.side]
    taken = math.dist(turn(place), (place[0] + shift[0], place[1] + shift[1]))
    there = math.dist(dart.points[0], dart.points[2]) if dart else 0.0
    if there < taken - 0.5:
        raise AlterationError(
            f"The side dart would lose {both(taken)} and has {both(there)}. Use the alteration without a dart.", "kind"
        )


def _hem(slash: _Slash, down: float, up: float) -> Move:
    """The foot trued: let down by `down` at the centre, slid by `up` at the side, evenly between."""
    corner = slash.points[slash.corner]
    inner = max((p for p in slash.points if p[0] > slash.apex[0]), key=lambda p: abs(p[1] - corner[1]))

    def move(place: Point) -> Point:
        if place[0] <= slash.apex[0] + 1.0:
            return place
        share = (place[1] - inner[1]) / ((corner[1] - inner[1]) or 1.0)
        return (place[0] + down + (up - down) * min(1.0, max(0.0, share)), place[1])

    return move


def _assembled(shape: PieceShape, slash: _Slash, moves: _Moves, dart: Line | None, keep_dart: bool) -> PieceShape:
    """The piece put together again: each run moved with its part, doubled where a slash opened."""
    beside, under = slash.run(slash.hinge, slash.side), slash.run(slash.side, slash.foot)
    rest = slash.run(slash.foot, slash.hinge)[:-1]
    if not keep_dart:
        under = under[1:]
    walked = [(k, moves.beside) for k in beside] + [(k, moves.below) for k in under] + [(k, moves.foot) for k in rest]
    points = [move(slash.points[k]) for k, move in walked]
    points[0] = _middle(points[0], slash.points[slash.hinge])
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
        points[side] = points[side + 1] = _middle(points[side], points[side + 1])
    outer, inner = points[foot], points[foot + 1]
    if (outer[1] - inner[1]) * outward >= 0:
        return
    middle = _middle(outer, inner)
    for step, sign in ((-1, 1.0), (1, -1.0)):
        k = foot if step < 0 else foot + 1
        while (points[k][1] - middle[1]) * outward * sign < 0:
            points[k] = middle
            k = (k + step) % len(points)


def _middle(a: Point, b: Point) -> Point:
    return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)


def _slide_closed(points: list[Point], slash: _Slash, beside: list[int], under: list[int], moves: _Moves) -> None:
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


def _dart_lines(slash: _Slash, moves: _Moves, dart: Line | None, keep: bool) -> list[Line]:
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
    middle = _middle(first, last)
    apex = below(slash.apex)
    reach = math.dist(middle, apex)
    share = min(0.5, DART_BACK_MM / reach) if reach else 0.0
    point = (apex[0] + share * (middle[0] - apex[0]), apex[1] + share * (middle[1] - apex[1]))
    return [Line("dart", (first, point, last))]
