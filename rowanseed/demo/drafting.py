"""Drafting by points: lines, arcs through three points and smooth curves, as on paper with a rule and a curve.

Nothing here is shared with the quick shapes, so that their areas can be held against these drafts.
"""

import math
from collections.abc import Callable, Iterable, Mapping

from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.garment_kinds import ZONES
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape
from rowanseed.core.geometry.types import Point, Segment
from rowanseed.core.pattern.model import Piece


class Draft:
    """An outline drawn from point to point; x down the body, y outward from the centre."""

    def __init__(self, x: float, y: float) -> None:
        self.points: list[Point] = [(x, y)]
        self.edges: dict[str, tuple[int, int]] = {}

    def to(self, name: str, *through: Point) -> "Draft":
        """Straight to each point."""
        start = len(self.points) - 1
        self.points += through
        self.edges[name] = (start, len(self.points) - 1)
        return self

    def through(self, name: str, *knots: Point, steps: int = 7) -> "Draft":
        """A smooth curve through the knots (Catmull-Rom, ends doubled)."""
        nodes = [self.points[-1], *knots]
        out: list[Point] = []
        for k in range(len(nodes) - 1):
            before, after = nodes[max(0, k - 1)], nodes[min(len(nodes) - 1, k + 2)]
            out += [_spline(before, nodes[k], nodes[k + 1], after, s / steps) for s in range(1, steps + 1)]
        return self.to(name, *out)

    def quarter(self, name: str, end: Point, flat_first: bool, steps: int = 12) -> "Draft":
        """A quarter of an ellipse to `end`; `flat_first`: it leaves along y, else along x."""
        x0, y0 = self.points[-1]
        x1, y1 = end
        out = []
        for k in range(1, steps + 1):
            a = k / steps * math.pi / 2
            along, across = (1 - math.cos(a), math.sin(a)) if flat_first else (math.sin(a), 1 - math.cos(a))
            out.append((x0 + (x1 - x0) * along, y0 + (y1 - y0) * across))
        return self.to(name, *out)

    def done(
        self,
        last: str,
        fold: bool = False,
        grain: Segment | None = None,
        notches: tuple[Notch, ...] = (),
        marks: tuple[Mark, ...] = (),
        lines: tuple[Line, ...] = (),
        levels: Mapping[str, float] | None = None,
    ) -> PieceShape:
        """The shape; `last` names the closing edge; with `fold` that edge (on y = 0) lies on the fold."""
        end = len(self.points) - 1
        if math.dist(self.points[-1], self.points[0]) < 1e-6:
            self.points.pop()
            self.edges = {n: (i, 0 if j == end else j) for n, (i, j) in self.edges.items()}
        else:
            self.edges[last] = (end, 0)
        outline = tuple((round(x, 2), round(y, 2)) for x, y in self.points)
        edge = (outline[0], outline[-1]) if fold else None
        return PieceShape(outline, edge, grain, notches, marks, lines, dict(self.edges), levels or {})

    def at(self, edge: str, from_end: float) -> Point:
        """The point on an edge so far before its last point, along the edge."""
        first, last = self.edges[edge]
        return point_along(self.points[first : last + 1][::-1], from_end)


def point_along(points: list[Point], distance: float) -> Point:
    """The point so far along a line through points."""
    for a, b in zip(points, points[1:]):
        step = math.dist(a, b)
        if distance <= step and step:
            return (a[0] + (b[0] - a[0]) * distance / step, a[1] + (b[1] - a[1]) * distance / step)
        distance -= step
    return points[-1]


def solved(length: Callable[[float], float], wanted: float, low: float, high: float) -> float:
    """The figure between two at which a rising length is the wanted one."""
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if length(middle) < wanted else (low, middle)
    return (low + high) / 2


def _spline(a: Point, b: Point, c: Point, d: Point, t: float) -> Point:
    def one(p0: float, p1: float, p2: float, p3: float) -> float:
        return 0.5 * (
            2 * p1 + (p2 - p0) * t + (2 * p0 - 5 * p1 + 4 * p2 - p3) * t * t + (3 * p1 - p0 - 3 * p2 + p3) * t**3
        )

    return one(a[0], b[0], c[0], d[0]), one(a[1], b[1], c[1], d[1])


def box(length: float, width: float, fold: bool = False) -> PieceShape:
    """A straight piece; with `fold` its first long edge lies on the fold."""
    draft = Draft(0, 0).to("head", (0, width)).to("side", (length, width)).to("foot", (length, 0))
    return draft.done("fold" if fold else "other side", fold)


def finished_mm(pieces: Iterable[Piece], size: str) -> dict[str, float]:
    """What the pieces of the shell measure round in a size, as the designer would print it, mm."""
    shell = [(p, p.shapes[size]) for p in pieces if p.role == "self"]
    return {level: girth.mm for level, girth in finished_girths(shell).items() if level in ZONES}
