"""A slash that opens at one edge of a piece and hinges at the other: a wedge let in, or folded out. Handbook method, from memory.

The part beyond the slash slides by what the slash is open there. So the edge at which it opens stays straight, as a centre on the
fold must, the hinge keeps its length, and the area grows by half of the opening times the width.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.reshape import SAME, rebuilt
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point

CENTRES = ("centre back", "centre front", "centre", "crotch")
BLADE_SHARE = 0.45  # down the armhole, where the shoulder blades and the chest lie; common practice, no source
NAPE_MM = 15.0  # below the neck's lowest point
TUMMY_MM = 80.0  # above the hip; common practice, no source


@dataclass(frozen=True)
class Wedge:
    """A slash across a piece. `axis`: 0 where the moving part slides along the grain, 1 where it slides across it.

    `line`: where the slash lies on that axis; `full` and `hinge`: where on the other axis it opens most, and not at all; `side`:
    which part moves, 1 beyond the line, -1 before it. `spread`: how far to both sides of the line the opening is shared out, so
    that an edge that runs across it bends and does not break; mm.
    """

    axis: int
    line: float
    full: float
    hinge: float
    side: int
    spread: float = 0.0

    def share(self, p: Point) -> float:
        """How far the slash is open at a point's place along it, 0 to 1."""
        span = self.full - self.hinge
        return min(1.0, max(0.0, (p[1 - self.axis] - self.hinge) / span)) if span else 0.0

    def beyond(self, p: Point) -> float:
        """How far a point lies on the moving side of the slash, mm."""
        return self.side * (p[self.axis] - self.line)

    def moved(self, p: Point, by: float) -> Point:
        """Where a point comes to when the slash is opened by so much, or closed; what is folded away comes to lie on the slash."""
        far = self.beyond(p)
        if self.spread:
            part = min(1.0, max(0.0, (far + self.spread) / (2 * self.spread)))
            moved = p[self.axis] + self.side * by * self.share(p) * part
            return (moved, p[1]) if self.axis == 0 else (p[0], moved)
        if far <= SAME:
            return p
        now = self.line + self.side * max(0.0, far + by * self.share(p))
        return (now, p[1]) if self.axis == 0 else (p[0], now)

    @property
    def ends(self) -> tuple[Point, Point]:
        """The slash: the place where it opens, and its hinge."""
        if self.axis == 0:
            return (self.line, self.full), (self.line, self.hinge)
        return (self.full, self.line), (self.hinge, self.line)


def wedged(shape: PieceShape, wedge: Wedge, by: float) -> PieceShape:
    """Return a shape with a wedge `by` mm wide at its open end let in, or with a negative `by` folded out.

    Raises:
        AlterationError: the slash does not cross the piece, or more would be folded out than there is.
    """
    points: list[Point] = []
    index: list[int] = []
    crossed = 0
    n = len(shape.outline)
    for k in range(n):
        p, q = shape.outline[k], shape.outline[(k + 1) % n]
        index.append(len(points))
        points.append(wedge.moved(p, by))
        before, after = wedge.beyond(p) > SAME, wedge.beyond(q) > SAME
        if before == after:
            continue
        crossed += 1
        at = _crossing(wedge, p, q)
        if wedge.spread:
            continue
        opened = wedge.moved(_nudged(wedge, at), by) if by > 0 else at
        points += [at, opened] if after else [opened, at]
    if crossed < 2:
        raise AlterationError("The slash does not cross this piece. Say where, from its top.", "at")
    changed = rebuilt(shape, points, index, lambda p: wedge.moved(p, by))
    if wedge.axis == 1:
        return changed
    return replace(changed, levels={zone: wedge.moved((x, wedge.full), by)[0] for zone, x in shape.levels.items()})


def _crossing(wedge: Wedge, p: Point, q: Point) -> Point:
    a = wedge.axis
    share = (wedge.line - p[a]) / (q[a] - p[a])
    other = p[1 - a] + share * (q[1 - a] - p[1 - a])
    return (wedge.line, other) if a == 0 else (other, wedge.line)


def _nudged(wedge: Wedge, at: Point) -> Point:
    """The same place a hair beyond the slash, so that it moves."""
    step = 2 * SAME * wedge.side
    return (at[0] + step, at[1]) if wedge.axis == 0 else (at[0], at[1] + step)


def wedge_of(alteration: Alteration, shape: PieceShape) -> Wedge:
    """Return the slash that a kind of alteration makes in a piece, where it is usual or at the place that was typed.

    Raises:
        AlterationError: the piece lacks what tells the place, or the line lies off it.
    """
    try:
        return WEDGES[alteration.kind](alteration, shape)
    except _Unknown as missing:
        raise AlterationError(f"This piece does not show {missing}. Say where, from its top.", "at") from missing


class _Unknown(Exception):
    """What a piece would have to show, in words."""


def _across(
    alteration: Alteration, shape: PieceShape, usual: Callable[[PieceShape], float], side: int, outward: bool = False
) -> Wedge:
    """Return a slash across the piece, open at its centre, or with `outward` at its other side."""
    line = alteration.at_mm if alteration.at_mm is not None else usual(shape)
    # The hinge lies on the seam line: there the seam keeps its length.
    places = crossings([*shape.seam_line, shape.seam_line[0]], line)
    if len(places) < 2:
        raise AlterationError("The line lies off the piece.", "at")
    low, high = min(places), max(places)
    inner, outer = (low, high) if centre_is_low(shape) else (high, low)
    full, hinge = (outer, inner) if outward else (inner, outer)
    return Wedge(0, line, full, _kept(shape, line, side, full, hinge), side)


def _kept(shape: PieceShape, line: float, side: int, full: float, hinge: float) -> float:
    """Return where the slash is hinged so that no part of the edge there moves: where that edge comes nearest to the open end."""
    seam, n = shape.seam_line, len(shape.seam_line)
    for first, last in shape.edges.values():
        part = [seam[(first + k) % n] for k in range((last - first) % n + 1)]
        if any(abs(y - hinge) < 0.5 for y in crossings(part, line)):
            beyond = [y for x, y in part if side * (x - line) > 0]
            return min([hinge, *beyond], key=lambda y: abs(y - full))
    return hinge


def crossings(points: Sequence[Point], line: float) -> list[float]:
    """Return where an open line crosses a line across the piece."""
    found = []
    for p, q in zip(points, points[1:], strict=False):
        if (p[0] <= line) != (q[0] <= line):
            found.append(p[1] + (line - p[0]) / (q[0] - p[0]) * (q[1] - p[1]))
    return found


def centre_is_low(shape: PieceShape) -> bool:
    """Whether a piece's centre lies at its least y: by its fold, a centre or crotch edge, else away from its side and armhole."""
    ys = [y for _, y in shape.outline]
    middle = (min(ys) + max(ys)) / 2
    if shape.fold_edge is not None:
        return shape.fold_edge[0][1] < middle
    for name in CENTRES:
        if name in shape.edges:
            return _mean_y(shape, name) < middle
    for name in ("side", "armhole"):
        if name in shape.edges:
            return _mean_y(shape, name) > middle
    return True


def _mean_y(shape: PieceShape, edge: str) -> float:
    points = edge_points(shape.outline, shape.edges[edge])
    return sum(y for _, y in points) / len(points)


def _span(shape: PieceShape, edge: str) -> tuple[float, float]:
    if edge not in shape.edges:
        raise _Unknown(f"an edge “{edge}”")
    xs = [x for x, _ in edge_points(shape.outline, shape.edges[edge])]
    return min(xs), max(xs)


def _level(shape: PieceShape, *names: str) -> float:
    found = next((shape.levels[name] for name in names if name in shape.levels), None)
    if found is None:
        raise _Unknown(f"where its {names[0].replace('_', ' ')} lies")
    return found


def _blades(shape: PieceShape) -> float:
    low, high = _span(shape, "armhole")
    return low + BLADE_SHARE * (high - low)


def _nape(shape: PieceShape) -> float:
    return _span(shape, "neck")[1] + NAPE_MM


def _knee(shape: PieceShape) -> float:
    low, high = _span(shape, "inseam")
    return (low + high) / 2


def _hip(shape: PieceShape) -> float:
    return _level(shape, "hip", "thigh")


def _gaping(alteration: Alteration, shape: PieceShape) -> Wedge:
    """A slash from the neck down to the bust, hinged there; what lies outside of it slides inward."""
    points = edge_points(shape.outline, shape.edges["neck"]) if "neck" in shape.edges else []
    if not points:
        raise _Unknown("an edge “neck”")
    foot = alteration.at_mm if alteration.at_mm is not None else _level(shape, "bust")
    ys = [y for _, y in points]
    line, half = (min(ys) + max(ys)) / 2, (max(ys) - min(ys)) / 2
    return Wedge(1, line, min(x for x, _ in points), foot, 1 if centre_is_low(shape) else -1, half)


WEDGES: dict[str, Callable[[Alteration, PieceShape], Wedge]] = {
    "sway-back": lambda a, s: _across(a, s, lambda s: _level(s, "waist"), 1),
    "rounded-back": lambda a, s: _across(a, s, _blades, -1),
    "high-back": lambda a, s: _across(a, s, _nape, -1),
    "chest": lambda a, s: _across(a, s, _blades, -1),
    "tummy": lambda a, s: _across(a, s, lambda s: _level(s, "hip") - TUMMY_MM, -1),
    "seat": lambda a, s: _across(a, s, _hip, -1),
    "bowed-leg": lambda a, s: _across(a, s, _knee, 1, outward=True),
    "gaping-neck": _gaping,
}
