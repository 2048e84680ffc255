"""The ground inside a piece that words can still take: clear of its lines, of its cutting line and of one another."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from reportlab.pdfbase.pdfmetrics import stringWidth  # type: ignore[import-untyped]
from shapely import LineString, Polygon, STRtree, box
from shapely.affinity import rotate
from shapely.geometry.base import BaseGeometry
from shapely.prepared import prep

from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.types import Outline, Point

ROOM_MM = 0.5  # between words and what they keep clear of: a printer's line is half as wide
# The middle of an edge is where one looks first; near its ends a corner or a notch is likelier.
SHARES = (0.5, 0.42, 0.58, 0.34, 0.66, 0.26, 0.74, 0.18, 0.82, 0.1, 0.9)


@dataclass(frozen=True)
class Label:
    """Words on the sheet: where their middle stands, how they are turned (radians, clockwise on paper), how high they are."""

    text: str
    at: Point
    angle: float = 0.0
    height: float = 4.0

    @property
    def ground(self) -> BaseGeometry:
        """What the words cover, as the sheet's type is wide, mm."""
        x, y = self.at
        wide, high = width_of(self.text, self.height) / 2 + ROOM_MM, self.height * 0.6 + ROOM_MM
        return rotate(box(x - wide, y - high, x + wide, y + high), self.angle, origin=(x, y), use_radians=True)


def width_of(text: str, height: float) -> float:
    """How wide words are in the sheet's type, by the tables that every PDF reader has, mm."""
    return float(stringWidth(text, "Helvetica-Bold", height))


@dataclass
class ClearGround:
    """The ground of one piece: its cutting line, the lines drawn on it, and the words that stand there already."""

    outline: Outline
    lines: Sequence[Outline]
    taken: list[BaseGeometry] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._polygon = Polygon(self.outline).buffer(0)
        self._inside = prep(self._polygon)
        self._drawn = STRtree([LineString(line) for line in self.lines if len(line) > 1])

    def has_room_for(self, ground: BaseGeometry) -> bool:
        """Whether words of this ground lie inside and meet nothing."""
        if not self._inside.contains(ground) or self._drawn.query(ground, predicate="intersects").size:
            return False
        return not any(ground.intersects(other) for other in self.taken)

    def along(
        self, texts: Sequence[str], line: Sequence[Point], heights: Sequence[float], aways: Sequence[float]
    ) -> Label | None:
        """Take ground beside a line for the first of these words that finds it, in the largest letters; None without room.

        Args:
            aways: distances of the words' nearer side from the line, mm; positive to the right of its way round on the sheet.
        """
        for text in texts:
            for height in heights:
                for share in SHARES:
                    for away in aways:
                        label = beside(text, line, share, height, away)
                        if self.has_room_for(label.ground):
                            self.taken.append(label.ground)
                            return label
        return None

    def block(self, lines: Sequence[tuple[str, float]]) -> list[Label] | None:
        """Take ground for lines of words one below the other, or in one row, upright or along the piece; None without room."""
        row = [(" \N{MIDDLE DOT} ".join(text for text, _ in lines), min(height for _, height in lines))]
        for shrunk in (1.0, 0.8, 0.65):
            for words in (lines, row) if len(lines) > 1 else (lines,):
                for angle in (0.0, math.pi / 2):
                    found = self._block_at([(text, height * shrunk) for text, height in words], angle)
                    if found is not None:
                        self.taken += [label.ground for label in found]
                        return found
        return None

    def _block_at(self, lines: Sequence[tuple[str, float]], angle: float) -> list[Label] | None:
        """Words as a block turned by an angle, at the place of a grid nearest to the piece's middle that has room."""
        high = sum(1.45 * height for _, height in lines) + 2 * ROOM_MM
        wide = max(width_of(text, height) for text, height in lines) + 2 * ROOM_MM
        for x, y in self._places():
            whole = rotate(
                box(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2), angle, origin=(x, y), use_radians=True
            )
            if self.has_room_for(whole):
                return list(_rows(lines, (x, y), angle, high))
        return None

    def _places(self, rows: int = 28) -> list[Point]:
        x0, y0, x1, y1 = self._polygon.bounds
        middle = self._polygon.centroid
        grid = [(x0 + (x1 - x0) * i / rows, y0 + (y1 - y0) * j / rows) for i in range(1, rows) for j in range(1, rows)]
        return sorted(grid, key=lambda at: (at[0] - middle.x) ** 2 + (at[1] - middle.y) ** 2)


def _rows(lines: Sequence[tuple[str, float]], at: Point, angle: float, high: float) -> Iterator[Label]:
    down = -high / 2 + ROOM_MM
    for text, height in lines:
        middle = down + 1.45 * height / 2
        yield Label(text, (at[0] - middle * math.sin(angle), at[1] + middle * math.cos(angle)), angle, height)
        down += 1.45 * height


def beside(text: str, line: Sequence[Point], share: float, height: float, away: float) -> Label:
    """Return words beside a place of a line, never upside down; `share` of its length, 0 to 1."""
    (x, y), angle = _place_on(line, share)
    off = math.copysign(abs(away) + height * 0.6 + ROOM_MM, away)
    at = (x - off * math.sin(angle), y + off * math.cos(angle))
    return Label(text, at, angle + math.pi if math.cos(angle) < -1e-9 else angle, height)


def _place_on(line: Sequence[Point], share: float) -> tuple[Point, float]:
    """A place of a line and the line's direction there, radians."""
    due, far = share * path_length(line), 0.0
    for a, b in zip(line, line[1:], strict=False):
        step = math.dist(a, b)
        if step > 1e-6 and far + step >= due:
            part = (due - far) / step
            return (a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1])), math.atan2(b[1] - a[1], b[0] - a[0])
        far += step
    a, b = line[0], line[-1]
    return b, math.atan2(b[1] - a[1], b[0] - a[0])
