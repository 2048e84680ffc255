"""Moves on one piece's shape: a strip let in or folded out across it, or an edge moved.

Every move gives a new shape with the same named edges; marks, notches, grain and fold go with it.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from rowanseed.core.errors import AlterationError, OutlineError
from rowanseed.core.geometry.nearest import NearestOn, nearest
from rowanseed.core.geometry.outline import edge_points, path_length, refuse_bad_outline, signed_area
from rowanseed.core.geometry.shape import ON_EDGE_MM, PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.lengths import both

Profile = Callable[[float], float]
NEAR_EDGE_MM = 8.0  # a notch or mark within this of an edge goes with it
SQUARE_SHARE = 0.2  # an edge that runs this much square to a movement is measured that way
HIDDEN = "~"  # names of what is followed through an alteration and is no edge of the piece begin with it
FADE_MM = 45.0  # marks so near to an edge that is moved go with it, less the farther off they lie
RIGID_MM = 20.0  # and nearer than this all the way
SAME = 1e-4  # nearer than this two places are one; also keeps slivers of rounding out of folded strips


def own_edges(shape: PieceShape) -> list[str]:
    """The names of a shape's edges, without what is only followed through an alteration; two names of one edge are one."""
    found: dict[tuple[int, int], str] = {}
    for name, at in shape.edges.items():
        if not name.startswith(HIDDEN):
            found.setdefault(at, name)
    return list(found.values())


def change_length(shape: PieceShape, at: float, by: float) -> PieceShape:
    """Let in a strip `by` mm long at x = `at`, or with a negative `by` fold one out, and true the sides it breaks.

    Lengthening adds `by` x the piece's width at the line to its area. Folding out exactly the strip that was let in gives the
    first outline back.
    Raises:
        AlterationError: the line lies off the piece, or the strip reaches past its end.
    """
    xs = [x for x, _ in shape.outline]
    if not min(xs) < at < max(xs):
        raise AlterationError(
            f"The line lies off the piece: {_from_top(at - min(xs))}, and the piece is {both(max(xs) - min(xs))} long.",
            "at",
        )
    if by < 0 and at - by >= max(xs):
        raise AlterationError("That would fold out more than is left below the line.", "by")
    far = at + max(0.0, -by)

    def move(point: Point) -> Point:
        x, y = point
        if by >= 0:
            return (x + by, y) if x > at + SAME else (x, y)
        return (x, y) if x <= at else (at, y) if x <= far else (x + by, y)

    snapped = tuple((_snap(x, at, far), y) for x, y in shape.outline)
    outline, index, jogs = _cut_across(snapped, at, far, by, move)
    outline = _without_spikes(_trued(outline, shape, index, jogs), at) if by < 0 else outline
    changed = rebuilt(shape, outline, index, move)
    return replace(changed, levels={zone: move((x, 0.0))[0] for zone, x in shape.levels.items()})


def _from_top(mm: float) -> str:
    return f"it is {both(abs(mm))} {'below' if mm >= 0 else 'above'} its top"


def change_width(shape: PieceShape, at: float, by: float) -> PieceShape:
    """Let in a strip `by` mm wide along the grain at y = `at`, or with a negative `by` fold one out.

    Raises:
        AlterationError: as for `change_length`, across instead of along.
    """
    turned = change_length(replace(_transposed(shape), levels={}), at, by)
    return replace(_transposed(turned), levels=shape.levels)


def _transposed(shape: PieceShape) -> PieceShape:
    """The shape with along and across exchanged."""

    def swap(point: Point) -> Point:
        return (point[1], point[0])

    def ends(segment: tuple[Point, Point]) -> tuple[Point, Point]:
        return swap(segment[0]), swap(segment[1])

    return replace(
        shape,
        outline=tuple(swap(p) for p in shape.outline),
        fold_edge=ends(shape.fold_edge) if shape.fold_edge else None,
        grainline=ends(shape.grainline) if shape.grainline else None,
        notches=tuple(replace(n, at=swap(n.at)) for n in shape.notches),
        marks=tuple(replace(m, at=swap(m.at)) for m in shape.marks),
        lines=tuple(replace(line, points=tuple(swap(p) for p in line.points)) for line in shape.lines),
    )


def _snap(x: float, *lines: float) -> float:
    return next((line for line in lines if abs(x - line) < 10 * SAME), x)


def _cut_across(
    outline: Outline, at: float, far: float, by: float, move: Callable[[Point], Point]
) -> tuple[list[Point], list[int], list[tuple[int, float, int]]]:
    """The outline with the strip let in or out: points, where each old point went, and jogs.

    A jog is (the new index below the line, how far its side is out of line, the old side it lies on).
    """
    points: list[Point] = []
    index: list[int] = []
    jogs: list[tuple[int, float, int]] = []
    n = len(outline)
    for k in range(n):
        p, q = outline[k], outline[(k + 1) % n]
        index.append(len(points))
        points.append(move(p))
        down = q[0] > p[0]
        for line, low in sorted(((at, False), (far, True)), reverse=not down) if by < 0 else ((at, False),):
            if (p[0] <= line) == (q[0] <= line):
                continue
            y = p[1] + (line - p[0]) / (q[0] - p[0]) * (q[1] - p[1])
            if by >= 0:
                pair = [(at, y), (at + by, y)]
                points += pair if down else pair[::-1]
                continue
            points.append((at, y))
            if low:
                jogs.append((len(points) - 1, y, k))
    return points, index, _jog_sizes(points, jogs, at)


def _jog_sizes(points: list[Point], lows: list[tuple[int, float, int]], at: float) -> list[tuple[int, float, int]]:
    """For each place where a side comes out below a folded strip, how far it must be brought back across."""
    jogs = []
    for where, y, side in lows:
        n = len(points)
        # The same side's place above the strip is the furthest neighbour that still lies on the line.
        best = y
        for step in (-1, 1):
            k = where
            while abs(points[(k + step) % n][0] - at) < SAME and abs(k - where) < n:
                k += step
                best = points[k % n][1]
            if k != where:
                break
        jogs.append((where, best - y, side))
    return jogs


def _trued(points: list[Point], shape: PieceShape, index: list[int], jogs: list[tuple[int, float, int]]) -> list[Point]:
    """Sides broken by a folded-out strip, brought back into line: the break fades out toward the edge's lower end."""
    out = list(points)
    n, total = len(points), len(shape.outline)
    for where, jog, side in jogs:
        if abs(jog) < 1e-6:
            continue
        down = points[(where + 1) % n][0] > points[where][0] + SAME
        step = 1 if down else -1
        last = _edge_end(shape, side, total, step)
        run = [where]
        while run[-1] != index[last] and len(run) < n:
            run.append((run[-1] + step) % n)
        lengths = [0.0]
        for a, b in zip(run, run[1:]):
            lengths.append(lengths[-1] + math.dist(points[a], points[b]))
        for k, far in zip(run, lengths):
            share = 1.0 - far / lengths[-1] if lengths[-1] else 1.0
            out[k] = (out[k][0], out[k][1] + jog * share)
    return out


def _without_spikes(points: list[Point], at: float) -> list[Point]:
    """Places folded onto the line that go out along it and come back to where they began are one place."""
    out, n = list(points), len(points)
    on_line = [abs(x - at) < SAME for x, _ in points]
    for first in range(n):
        if not on_line[first] or on_line[first - 1]:
            continue
        count = 1
        while count < n and on_line[(first + count) % n]:
            count += 1
        last = (first + count - 1) % n
        if math.dist(out[first], out[last]) < 0.01:
            for k in range(count):
                out[(first + k) % n] = out[first]
    return out


def _edge_end(shape: PieceShape, side: int, total: int, step: int) -> int:
    """The old point where the named edge that a side lies on ends, going this way; else the side's own end."""
    for first, last in shape.edges.values():
        if (side - first) % total < (last - first) % total:
            return last if step > 0 else first
    return (side + 1) % total if step > 0 else side


def move_edge(
    shape: PieceShape, edge: str, profile: Profile, dx: float, dy: float, along_it: bool = False
) -> PieceShape:
    """Move an edge's points by `profile(t)` mm along (dx, dy), t from 0 at its first point to 1 at its last.

    The edges beside it follow at the shared corner and fade to nothing at their far end.
    Args:
        along_it: t is the share of the edge's own length, for an edge that is drawn out and not moved aside.
    Raises:
        AlterationError: no such edge.
    """
    if edge not in shape.edges:
        known = ", ".join(own_edges(shape)) or "none"
        raise AlterationError(f"There is no edge “{edge}” on this piece; it has: {known}.", "edge")
    n = len(shape.outline)
    shift = [0.0] * n
    axis = 0 if abs(dx) > abs(dy) else 1
    first, last = shape.edges[edge]
    _spread(shape.outline, shift, (first, last), profile, axis, along_it)
    start, end = profile(0.0), profile(1.0)
    for name, (i, j) in shape.edges.items():
        if name.startswith(HIDDEN):
            continue
        if name != edge and j == first and i != last:
            _spread(shape.outline, shift, (i, j), lambda t: start * t, axis)
        elif name != edge and i == last and j != first:
            _spread(shape.outline, shift, (i, j), lambda t: end * (1.0 - t), axis)
    moved = [(x + shift[k] * dx, y + shift[k] * dy) for k, (x, y) in enumerate(shape.outline)]

    line = NearestOn(shape.outline, closed=True)

    def follow(point: Point) -> Point:
        near = _shift_near(line, shift, point)
        return (point[0] + near * dx, point[1] + near * dy)

    return rebuilt(shape, moved, list(range(n)), follow)


def displaced(shape: PieceShape, shifts: Sequence[Point]) -> PieceShape:
    """A shape with each point of its outline moved; what lies near goes along, less the farther from the outline."""
    line = NearestOn(shape.outline, closed=True)

    def move(place: Point) -> Point:
        near = line.at(place)
        share = min(1.0, max(0.0, (FADE_MM - near.miss) / (FADE_MM - RIGID_MM)))
        if not share:
            return place
        (ax, ay), (bx, by) = shifts[near.segment], shifts[(near.segment + 1) % len(shifts)]
        x, y = ax + near.share * (bx - ax), ay + near.share * (by - ay)
        return (place[0] + share * x, place[1] + share * y)

    moved = [(x + dx, y + dy) for (x, y), (dx, dy) in zip(shape.outline, shifts, strict=True)]
    made = rebuilt(shape, moved, list(range(len(moved))), move)
    return replace(made, fold_edge=shape.fold_edge, grainline=shape.grainline)


def subdivided(shape: PieceShape, edge: str, step_mm: float = 15.0) -> PieceShape:
    """The same shape with points added along an edge, so that it can be bent."""
    if edge not in shape.edges:
        return shape
    first, last = shape.edges[edge]
    n = len(shape.outline)
    return _subdivided(shape, lambda k: (k - first) % n < (last - first) % n, step_mm)


def subdivided_all(shape: PieceShape, step_mm: float) -> PieceShape:
    """The same shape with points added all round its outline."""
    return _subdivided(shape, lambda k: True, step_mm)


def _subdivided(shape: PieceShape, parted: Callable[[int], bool], step_mm: float) -> PieceShape:
    n = len(shape.outline)
    points: list[Point] = []
    index: list[int] = []
    for k in range(n):
        p, q = shape.outline[k], shape.outline[(k + 1) % n]
        index.append(len(points))
        points.append(p)
        if parted(k):
            parts = math.ceil(math.dist(p, q) / step_mm)
            points += [(p[0] + (q[0] - p[0]) * i / parts, p[1] + (q[1] - p[1]) * i / parts) for i in range(1, parts)]
    edges = {name: (index[i], index[j]) for name, (i, j) in shape.edges.items()}
    return replace(shape, outline=tuple(points), edges=edges)


def _shift_near(outline: NearestOn, shift: list[float], place: Point) -> float:
    """How far the outline moved where a notch lies on it; a mark further inside the piece stays."""
    near = outline.at(place)
    if near.miss > NEAR_EDGE_MM:
        return 0.0
    before, after = shift[near.segment], shift[(near.segment + 1) % len(shift)]
    return before + near.share * (after - before)


def _spread(
    outline: Outline, shift: list[float], edge: tuple[int, int], profile: Profile, axis: int, along_it: bool = False
) -> None:
    """Give every point of an edge its shift, by how far along the edge it lies.

    Counted square to the movement where the edge runs that way, since the movement itself does not change that: an edge moved
    out and in again comes back to where it was.
    Args:
        axis: 0 when the edge moves along x, else 1.
    """
    points = edge_points(outline, edge)
    square = [abs(b[1 - axis] - a[1 - axis]) for a, b in zip(points, points[1:])]
    steps = (
        square
        if sum(square) > SQUARE_SHARE * path_length(points) and not along_it
        else [math.dist(a, b) for a, b in zip(points, points[1:])]
    )
    total, far = sum(steps) or 1.0, 0.0
    for k in range(len(points)):
        far += steps[k - 1] if k else 0.0
        shift[(edge[0] + k) % len(outline)] = profile(far / total)


def rebuilt(shape: PieceShape, points: list[Point], index: list[int], move: Callable[[Point], Point]) -> PieceShape:
    """The shape on a new outline: doubled points dropped, edges and marks carried over, or AlterationError."""
    kept: list[Point] = []
    where: list[int] = []
    for point in points:
        if kept and math.dist(kept[-1], point) < SAME:
            where.append(len(kept) - 1)
            continue
        kept.append(point)
        where.append(len(kept) - 1)
    if len(kept) > 1 and math.dist(kept[-1], kept[0]) < SAME:
        kept.pop()
    size = len(kept)
    outline = tuple((round(x, 6), round(y, 6)) for x, y in kept)
    try:
        refuse_bad_outline(outline, "The altered piece")
    except OutlineError as error:
        raise AlterationError(f"{error.text} The alteration is not made.", "by") from error
    if signed_area(outline) * signed_area(shape.outline) <= 0:
        raise AlterationError("The piece would turn inside out. The alteration is not made.", "by")
    edges = {name: (where[index[i]] % size, where[index[j]] % size) for name, (i, j) in shape.edges.items()}

    def ends(segment: tuple[Point, Point]) -> tuple[Point, Point]:
        return move(segment[0]), move(segment[1])

    on_line = _on_line(shape, outline, [where[k] % size for k in index], move)
    return replace(
        shape,
        outline=outline,
        edges=edges,
        fold_edge=ends(shape.fold_edge) if shape.fold_edge else None,
        grainline=ends(shape.grainline) if shape.grainline else None,
        notches=tuple(replace(n, at=on_line(n.at)) for n in shape.notches),
        marks=tuple(replace(m, at=move(m.at)) for m in shape.marks),
        lines=tuple(
            replace(line, points=tuple((on_line if line.kind == "dart" else move)(p) for p in line.points))
            for line in shape.lines
        ),
    )


def _on_line(
    shape: PieceShape, outline: Outline, went: list[int], move: Callable[[Point], Point]
) -> Callable[[Point], Point]:
    """What carries a place that lies on the outline to the same side of the new one, exactly; others as `move` does.

    Args:
        went: the new point that each old one became.
    """
    n, size = len(shape.outline), len(outline)
    line = NearestOn(shape.outline, closed=True)

    def at(place: Point) -> Point:
        near = line.at(place)
        if near.miss > ON_EDGE_MM:
            return move(place)
        first, last = went[near.segment], went[(near.segment + 1) % n]
        side = [outline[(first + k) % size] for k in range((last - first) % size + 1)]
        if len(side) < 2:
            return side[0]
        moved = move(place)
        there = nearest(side, moved)
        a, b = side[there.segment], side[there.segment + 1]
        return (a[0] + there.share * (b[0] - a[0]), a[1] + there.share * (b[1] - a[1]))

    return at
