"""The ground inside a piece that words can still take: clear of its lines, of its cutting line and of one another."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING
from xml.etree.ElementTree import Element

import numpy as np
from reportlab.pdfbase.pdfmetrics import stringWidth  # type: ignore[import-untyped]
from shapely import LineString, Polygon, STRtree, box, contains, intersects, polygons, prepare
from shapely.affinity import rotate
from shapely.geometry.base import BaseGeometry

from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.formats.drawing import tag

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas  # type: ignore[import-untyped]

BOLD_ABOVE_MM = 5.0
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


def draw_label(canvas: "Canvas", label: Label, at: Callable[[Point], Point], mm: float) -> None:
    """Write a label on a PDF's page; `at` gives a place of the sheet in the page's points, `mm` is a millimetre in points."""
    canvas.saveState()
    canvas.translate(*at(label.at))
    canvas.rotate(-math.degrees(label.angle))
    size = label.height * mm
    canvas.setFont("Helvetica-Bold" if label.height > BOLD_ABOVE_MM else "Helvetica", size)
    canvas.setFillGray(0.15)
    canvas.drawCentredString(0, -0.36 * size, label.text)
    canvas.restoreState()


def svg_label(label: Label, fill: str) -> Element:
    """A label as SVG text on a sheet in millimetres."""
    x, y = (f"{value:.2f}" for value in label.at)
    turned = f"rotate({math.degrees(label.angle):.3f} {x} {y})"
    return tag(
        "text", label.text, x=x, y=y, dy="0.36em", font_size=f"{label.height:g}", text_anchor="middle",
        transform=turned, fill=fill,
    )  # fmt: skip


@dataclass
class ClearGround:
    """The ground of one piece: its cutting line, the lines drawn on it, and the words that stand there already."""

    outline: Outline
    lines: Sequence[Outline]
    taken: list[BaseGeometry] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._polygon = Polygon(self.outline).buffer(0)
        prepare(self._polygon)
        self._drawn = STRtree([LineString(line) for line in self.lines if len(line) > 1])

    def has_room_for(self, ground: BaseGeometry) -> bool:
        """Whether words of this ground lie inside and meet nothing."""
        if not self._polygon.contains(ground) or self._drawn.query(ground, predicate="intersects").size:
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
        x, y = self._places()
        # All places at once, and the grid's half sides turned rather than each box: a block that fits nowhere tries hundreds.
        corners = _turned_corners(wide / 2, high / 2, angle)
        grounds = polygons(np.stack([np.stack([x + dx, y + dy], axis=-1) for dx, dy in corners], axis=1))
        free = contains(self._polygon, grounds)
        free[self._drawn.query(grounds, predicate="intersects")[0]] = False
        for other in self.taken:
            free &= ~intersects(grounds, other)
        if not free.any():
            return None
        first = int(np.argmax(free))
        return list(_rows(lines, (float(x[first]), float(y[first])), angle, high))

    def _places(self, rows: int = 28) -> tuple[np.ndarray, np.ndarray]:
        x0, y0, x1, y1 = self._polygon.bounds
        middle = self._polygon.centroid
        share = np.arange(1, rows) / rows
        x, y = (grid.ravel() for grid in np.meshgrid(x0 + (x1 - x0) * share, y0 + (y1 - y0) * share, indexing="ij"))
        order = np.argsort((x - middle.x) ** 2 + (y - middle.y) ** 2, kind="stable")
        return x[order], y[order]


def _turned_corners(wide: float, high: float, angle: float) -> list[Point]:
    """The corners of a box of these half sides about its middle, turned."""
    cos, sin = math.cos(angle), math.sin(angle)
    return [
        (x * cos - y * sin, x * sin + y * cos) for x, y in ((-wide, -high), (wide, -high), (wide, high), (-wide, high))
    ]


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
