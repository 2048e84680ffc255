"""Where a piece is slashed for a bust: its bust point, the hinge on the armhole, the slash at the side and the foot.

Handbook method, from memory.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely import Polygon
from shapely.geometry import Point as Place

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.reshape import SAME, own_edges
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

BUST_POINT = "bust point"
HINGE_SHARE = 1 / 3  # up the armhole from the underarm, about where the front notch lies; common practice
BELOW_UNDERARM_MM = 40.0  # where the side is slashed when the bust point lies above the underarm


@dataclass(frozen=True)
class Slash:
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


def seam_mm(shape: PieceShape, edge: str) -> float:
    """An edge's seam line less what the darts that open on it fold away, mm."""
    return Walker().edge_mm(AlterPiece("", shape), edge)


def bust_point_of(shape: PieceShape, point: Point | None) -> Point:
    """Return the bust point typed, else the one marked on the piece.

    Raises:
        AlterationError: there is none, or it lies outside the piece.
    """
    mark = next((m.at for m in shape.marks if m.name == BUST_POINT), None)
    apex = point or mark
    if apex is None:
        raise AlterationError("Say where the bust point lies: from the top, and from the piece's inner edge.", "at")
    if not Polygon(shape.outline).contains(Place(apex)):
        raise AlterationError("The bust point lies off the piece.", "at")
    return apex


def slashed(shape: PieceShape, side: str, apex: Point) -> Slash:
    """Return a piece's outline with a point at the hinge on the armhole, at the side and at the foot, in mm.

    Raises:
        AlterationError: the armhole or the side is not named, or a slash does not reach it.
    """
    for edge in ("armhole", side):
        if edge not in shape.edges:
            known = ", ".join(own_edges(shape)) or "none"
            raise AlterationError(f"A bust alteration needs an edge “{edge}”; this piece has: {known}.", "edge")
    armhole, sides = shape.edges["armhole"], shape.edges[side]
    step = 1 if armhole[1] == sides[0] else -1
    if step < 0 and armhole[0] != sides[1]:
        raise AlterationError("The armhole and the side do not meet on this piece.", "edge")
    places = [
        _hinge(shape, armhole, step),
        _side_place(shape, sides, step, apex, dart_on_side(shape, side)),
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
    slash = Slash(points, old, index[0], index[1], index[2], old.index(head), old.index(end), apex, step)
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
        from_top = nearest(down, middle(dart.points[0], dart.points[2])).along
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


def dart_on_side(shape: PieceShape, side: str) -> Line | None:
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


def middle(a: Point, b: Point) -> Point:
    """Return the place half way between two."""
    return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
