"""Drawing a quick shape: an outline walked edge by edge, with Bézier curves between its corners."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from rowanseed.core.errors import OutlineError, ShapeError
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import Line, Notch, PieceShape
from rowanseed.core.geometry.types import Outline, Point, Segment

Measures = Mapping[str, float]
CURVE_POINTS = 14


@dataclass(frozen=True)
class Measure:
    """A figure taken off the paper: its key, its words, an example, and the least it may be (mm)."""

    key: str
    meaning: str
    example: str
    least_mm: float = 5.0
    optional: bool = False


@dataclass(frozen=True)
class QuickShape:
    """An archetype: two to nine measures give an outline. `on_fold`: half a piece, its fold edge at y = 0."""

    name: str
    title: str
    about: str
    measures: tuple[Measure, ...]
    draw: Callable[[Measures], PieceShape]
    on_fold: bool = False


class Walk:
    """An outline in the making: it starts at a point and goes on edge by edge."""

    def __init__(self, start: Point) -> None:
        self.points: list[Point] = [start]
        self.edges: dict[str, tuple[int, int]] = {}

    def line(self, name: str, *through: Point) -> "Walk":
        """Go straight through the points; the edge has this name."""
        first = len(self.points) - 1
        self.points.extend(through)
        self.edges[name] = (first, len(self.points) - 1)
        return self

    def curve(self, name: str, control1: Point, control2: Point, end: Point) -> "Walk":
        """Go to `end` along a cubic Bézier curve."""
        start = self.points[-1]
        steps = [k / CURVE_POINTS for k in range(1, CURVE_POINTS + 1)]
        return self.line(name, *(_bezier(start, control1, control2, end, t) for t in steps))

    def close(self, name: str) -> "Walk":
        """Name the edge from the last point back to the first; where the walk has come back already there is none."""
        last = len(self.points) - 1
        if not _near(self.points[-1], self.points[0]):
            self.edges[name] = (last, 0)
            return self
        self.points.pop()
        self.edges = {n: (i, 0 if j == last else j) for n, (i, j) in self.edges.items()}
        return self

    def shape(
        self,
        fold: Segment | None = None,
        grain: Segment | None = None,
        notches: tuple[Notch, ...] = (),
        lines: tuple[Line, ...] = (),
        levels: Mapping[str, float] | None = None,
    ) -> PieceShape:
        """The finished shape. Raises ShapeError when the measures give no simple outline."""
        outline: Outline = tuple((round(x, 3), round(y, 3)) for x, y in self.points)
        try:
            refuse_bad_outline(outline)
        except OutlineError as error:
            raise ShapeError(
                "These figures give no piece: an edge crosses another. Check which figure is which."
            ) from error
        return PieceShape(outline, fold, grain, notches, (), lines, dict(self.edges), levels or {})


LONGEST_MM, WIDEST_MM = 3500.0, 1800.0
THIN = 60.0  # times as long as wide: belts and ties are less


def in_doubt(shape: PieceShape) -> str:
    """Return in words what about a shape is hardly meant so, or nothing: larger than cloth, thinner than a tie, a sliver."""
    xs, ys = [p[0] for p in shape.outline], [p[1] for p in shape.outline]
    long, wide = max(xs) - min(xs), max(ys) - min(ys)
    if long > LONGEST_MM or wide > WIDEST_MM:
        return f"This piece would be {long / 10:.0f} by {wide / 10:.0f} cm, larger than most cloth."
    if max(long, wide) > THIN * min(long, wide):
        return f"This piece would be {long / 10:.1f} by {wide / 10:.1f} cm, thinner than a tie."
    if shape.area_mm2() < 0.12 * long * wide:
        return "This piece fills hardly any of its length and width: a figure may be at the wrong place."
    return ""


def _near(a: Point, b: Point) -> bool:
    return math.dist(a, b) < 1e-6


def _bezier(a: Point, b: Point, c: Point, d: Point, t: float) -> Point:
    u = 1 - t
    k = (u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t)
    return (
        k[0] * a[0] + k[1] * b[0] + k[2] * c[0] + k[3] * d[0],
        k[0] * a[1] + k[1] * b[1] + k[2] * c[1] + k[3] * d[1],
    )


def side_of(slant: float, drop: float, what: str) -> float:
    """The second short side of a right triangle with this slant and drop; ShapeError names what is too steep."""
    if slant <= drop:
        raise ShapeError(f"The {what} is shorter than it drops. Check both figures.")
    return math.sqrt(slant * slant - drop * drop)


def need(condition: bool, text: str, field: str) -> None:
    """Raise ShapeError with the text unless the condition holds."""
    if not condition:
        raise ShapeError(text, field)
