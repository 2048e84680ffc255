"""Darts turned to another place, made deeper, aimed anew. Handbook methods, from memory; a dart is a line of three points."""

import math
from dataclasses import replace

from shapely import Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.edge_shapes import points_of, seam_mm
from rowanseed.core.fit.reshape import SAME, move_edge, own_edges
from rowanseed.core.fit.solving import amount_that_leaves_nothing
from rowanseed.core.fit.wedge import centre_is_low
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import ON_EDGE_MM, Line, PieceShape, mapped
from rowanseed.core.geometry.types import Point

ENOUGH_MM = 0.5
AIMED_MM = 60.0  # a dart whose point lies so near the bust point is aimed at it


def the_dart(shape: PieceShape, edge: str = "") -> Line:
    """Return the piece's dart, or the one that opens on an edge.

    Raises:
        AlterationError: there is none, or more than one and no edge tells which.
    """
    darts = [line for line in shape.lines if line.kind == "dart" and len(line.points) == 3]
    if edge and edge in shape.edges:
        darts = [d for d in darts if _opens_on(shape, d, edge)]
    if not darts:
        raise AlterationError("This piece has no dart there.", "edge" if edge else "piece")
    if edge and edge not in shape.edges and len(darts) > 1:
        at = sorted({name for name in own_edges(shape) for d in darts if _opens_on(shape, d, name)})
        raise AlterationError(f"This piece has darts at its {' and its '.join(at)}: say which edge.", "edge")
    return darts[0]


def _opens_on(shape: PieceShape, dart: Line, edge: str) -> bool:
    line = edge_points(shape.outline, shape.edges[edge])
    return max(nearest(line, dart.points[k]).miss for k in (0, 2)) <= ON_EDGE_MM


def turned(shape: PieceShape, to: str, along_mm: float, dart_edge: str = "") -> PieceShape:
    """Return a piece with its dart closed, and opened at another place: slashed from there to the dart's point.

    Args:
        to: the edge at which it opens now.
        along_mm: how far along that edge from its upper end, or its inner one.
    Raises:
        AlterationError: no such dart or edge, or the place lies in the dart itself.
    """
    dart = the_dart(shape, dart_edge)
    place = _place(shape, to, along_mm)
    whole, (a, b, p) = _with_points(shape, (dart.points[0], dart.points[2], place))
    a, b = _in_order(whole, a, b)
    n = len(whole.outline)
    if (p - a) % n <= (b - a) % n:
        raise AlterationError("That lies in the dart itself.", "at")
    tip = dart.points[1]
    first = [(b + k) % n for k in range((p - b) % n + 1)]  # from the dart's second leg on to the new place
    second = [(p + k) % n for k in range((a - p) % n + 1)]  # from the new place on to its first leg
    moves_first = not _holds_centre(whole, first, second)
    pa, pb = whole.outline[a], whole.outline[b]
    turn = _angle(tip, pa) - _angle(tip, pb)
    angle = turn if moves_first else -turn

    def about(q: Point) -> Point:
        cos, sin = math.cos(angle), math.sin(angle)
        x, y = q[0] - tip[0], q[1] - tip[1]
        return (tip[0] + x * cos - y * sin, tip[1] + x * sin + y * cos)

    moving = Polygon([tip, *(whole.outline[k] for k in (first if moves_first else second))]).buffer(0)
    points = [about(whole.outline[k]) if moves_first else whole.outline[k] for k in first]
    others = [whole.outline[k] if moves_first else about(whole.outline[k]) for k in second]
    ring = [*others[:-1], *points]  # the legs are one place now
    index = {k: n_ for n_, k in enumerate(second[:-1])}
    index |= {k: len(second) - 1 + n_ for n_, k in enumerate(first)}
    index[a] = index[b]
    for k in range(n):
        index.setdefault(k, index[b])  # what lay between the legs is folded away
    index_first, index_last = dict(index), dict(index)
    index_last[p], index_first[p] = len(ring) - 1, 0
    edges = {name: (index_first[i], index_last[j]) for name, (i, j) in whole.edges.items()}
    carried = _carried(whole, dart, moving, about)
    opened = Line("dart", (ring[-1], tip, ring[0]))
    shaped = replace(carried, outline=tuple((round(x, 6), round(y, 6)) for x, y in ring), edges=edges)
    return replace(shaped, lines=(*(line for line in carried.lines), opened))


def _carried(shape: PieceShape, dart: Line, moving: Polygon, about: object) -> PieceShape:
    """The shape's marks, notches and lines, those in the turned part turned; without the dart."""
    from shapely import Point as Place

    near = moving.buffer(0.5)

    def at(q: Point) -> Point:
        return about(q) if near.contains(Place(q)) else q  # type: ignore[operator]

    rest = replace(shape, lines=tuple(line for line in shape.lines if line is not dart))
    moved = mapped(rest, at)
    return replace(moved, fold_edge=shape.fold_edge, grainline=shape.grainline)


def _place(shape: PieceShape, edge: str, along_mm: float) -> Point:
    points = points_of(shape, edge)
    down = (points[0][0], abs(points[0][1])) <= (points[-1][0], abs(points[-1][1]))
    points = points if down else points[::-1]
    whole = path_length(points)
    if not 5.0 <= along_mm <= whole - 5.0:
        raise AlterationError("The new place lies off that edge, or at its very end.", "by")
    far = 0.0
    for a, b in zip(points, points[1:], strict=False):
        step = math.dist(a, b)
        if far + step >= along_mm:
            share = (along_mm - far) / step
            return (a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]))
        far += step
    return points[-1]


def _with_points(shape: PieceShape, places: tuple[Point, ...]) -> tuple[PieceShape, list[int]]:
    """The shape with its outline's nearest places made points of it, and which points they are."""
    found: list[int] = []
    for place in places:
        near = nearest(shape.outline, place, closed=True)
        a, b = shape.outline[near.segment], shape.outline[(near.segment + 1) % len(shape.outline)]
        at = (a[0] + near.share * (b[0] - a[0]), a[1] + near.share * (b[1] - a[1]))
        if math.dist(at, a) < 10 * SAME:
            found.append(near.segment)
            continue
        if math.dist(at, b) < 10 * SAME:
            found.append((near.segment + 1) % len(shape.outline))
            continue
        new = near.segment + 1
        outline = (*shape.outline[:new], at, *shape.outline[new:])
        edges = {n: (i + (i >= new), j + (j >= new)) for n, (i, j) in shape.edges.items()}
        found = [k + (k >= new) for k in found]
        found.append(new)
        shape = replace(shape, outline=outline, edges=edges)
    return shape, found


def _in_order(shape: PieceShape, a: int, b: int) -> tuple[int, int]:
    """The legs' places so that the outline goes from the first over the dart's opening to the second."""
    n = len(shape.outline)
    one = path_length([shape.outline[(a + k) % n] for k in range((b - a) % n + 1)])
    other = path_length([shape.outline[(b + k) % n] for k in range((a - b) % n + 1)])
    return (a, b) if one <= other else (b, a)


def _holds_centre(shape: PieceShape, first: list[int], second: list[int]) -> bool:
    """Whether the first part holds the piece's centre, which stays: most of the points that lie nearest to it."""
    low = centre_is_low(shape)
    ys = [y for _, y in shape.outline]
    centre = min(ys) if low else max(ys)

    def on(part: list[int]) -> int:
        return sum(abs(shape.outline[k][1] - centre) < 1.0 for k in part)

    return on(first) > on(second)


def _angle(about: Point, p: Point) -> float:
    return math.atan2(p[1] - about[1], p[0] - about[0])


def deeper(shape: PieceShape, edge: str, by: float, kept: bool) -> PieceShape:
    """Return a piece whose dart on an edge takes in `by` more; with `kept` its side is let out by as much at that edge.

    Raises:
        AlterationError: no dart opens there, or it would take in less than nothing.
    """
    if kept:
        the_dart(shape, edge)
        shape = _let_out(shape, edge, by)
    if edge not in shape.edges:
        return _wider(shape, edge, by)
    # What is taken in counts on the seam line, which the legs cross nearer to the point.
    wanted = seam_mm(shape, edge) - by
    most = max(3 * abs(by), 20.0)
    made = _wider(
        shape, edge, amount_that_leaves_nothing(lambda mm: seam_mm(_wider(shape, edge, mm), edge) - wanted, most, by)
    )
    if abs(seam_mm(made, edge) - wanted) > ENOUGH_MM:
        raise AlterationError("The dart takes in less than that.", "by")
    return made


def _wider(shape: PieceShape, edge: str, by: float) -> PieceShape:
    """The piece with a dart's ends farther apart on the cutting line."""
    dart = the_dart(shape, edge)
    a, tip, b = dart.points
    wide = math.dist(a, b)
    if wide + by < 0:
        raise AlterationError("The dart takes in less than that.", "by")
    ux, uy = ((b[0] - a[0]) / wide, (b[1] - a[1]) / wide) if wide else (0.0, 1.0)
    legs = ((a[0] - ux * by / 2, a[1] - uy * by / 2), tip, (b[0] + ux * by / 2, b[1] + uy * by / 2))
    return replace(shape, lines=tuple(Line("dart", legs) if line is dart else line for line in shape.lines))


def _let_out(shape: PieceShape, edge: str, by: float) -> PieceShape:
    """The side let out where it meets an edge, fading to its other end; what lies on the edge stays."""
    side = points_of(shape, "side")
    points = points_of(shape, edge)
    first = min(math.dist(side[0], points[k]) for k in (0, -1)) <= min(math.dist(side[-1], points[k]) for k in (0, -1))
    outward = 1.0 if centre_is_low(shape) else -1.0
    moved = move_edge(shape, "side", lambda t: by * (1 - t if first else t), 0.0, outward)
    return replace(moved, lines=shape.lines)


def aimed(shape: PieceShape, by: float, across: float) -> PieceShape:
    """Return a piece with its bust point, and the points of the darts aimed at it, lower and farther out by so much."""
    mark = next((m for m in shape.marks if m.name == "bust point"), None)
    darts = [line for line in shape.lines if line.kind == "dart" and len(line.points) == 3]
    if mark is None and not darts:
        raise AlterationError("This piece shows neither a bust point nor a dart.", "piece")
    outward = 1.0 if centre_is_low(shape) else -1.0
    shift = (by, across * outward)

    def moved(p: Point) -> Point:
        return (p[0] + shift[0], p[1] + shift[1])

    centre = mark.at if mark else darts[0].points[1]
    lines = tuple(
        replace(line, points=(line.points[0], moved(line.points[1]), line.points[2]))
        if line in darts and math.dist(line.points[1], centre) <= AIMED_MM
        else line
        for line in shape.lines
    )
    marks = tuple(replace(m, at=moved(m.at)) if m is mark else m for m in shape.marks)
    return replace(shape, lines=lines, marks=marks)
