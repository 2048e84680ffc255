"""Papers, pieces that go onto them, and where they lie. Millimetres; x across the paper, y down it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.errors import LayError
from rowanseed.core.geometry.types import Outline, Point

LEAST_ROLL_MM, MOST_ROLL_MM = 200.0, 2000.0
LONGEST_PAGE_MM = 5000.0  # a PDF page is at most 14400 points, 5.08 m (ISO 32000-1, annex C)


@dataclass(frozen=True)
class Paper:
    """A paper: its sides, and the edge that is not printed. A roll's height is the longest page that a file can have."""

    name: str
    width_mm: float
    height_mm: float
    margin_mm: float = 10.0
    roll: bool = False

    @property
    def inner(self) -> tuple[float, float]:
        """Width and height inside the margins."""
        return self.width_mm - 2 * self.margin_mm, self.height_mm - 2 * self.margin_mm


PAPERS: dict[str, Paper] = {
    "a4": Paper("A4", 210.0, 297.0),
    "a3": Paper("A3", 297.0, 420.0),
    "letter": Paper("Letter", 215.9, 279.4),
}


def roll(width_mm: float) -> Paper:
    """Return a roll of paper, or a plotter's, of a width. Raises LayError for one that no plotter takes."""
    if not LEAST_ROLL_MM <= width_mm <= MOST_ROLL_MM:
        raise LayError("A roll is 20 cm to 2 m wide.", "roll")
    return Paper("Roll", width_mm, LONGEST_PAGE_MM, roll=True)


@dataclass(frozen=True)
class PaperRequest:
    """Pieces by their ids, to be packed onto a paper; `overlap_mm`: what neighbouring pages share."""

    pieces: tuple[tuple[str, Outline], ...]
    paper: Paper
    overlap_mm: float = 10.0
    gap_mm: float = 8.0

    def __post_init__(self) -> None:
        """Refuse an overlap that leaves no page."""
        if not 0 <= self.overlap_mm <= 40.0:
            raise LayError("Pages share at most 4 cm.", "overlap")

    @property
    def step(self) -> tuple[float, float]:
        """How far apart pages begin, across and down."""
        wide, high = self.paper.inner
        return wide - self.overlap_mm, high - self.overlap_mm


@dataclass(frozen=True)
class Placed:
    """Where a piece lies on the sheet: turned by an angle (radians) about its origin, then moved."""

    id: str
    angle: float
    by: Point

    def at(self, p: Point) -> Point:
        """A place of the piece on the sheet."""
        cos, sin = math.cos(self.angle), math.sin(self.angle)
        return (p[0] * cos - p[1] * sin + self.by[0], p[0] * sin + p[1] * cos + self.by[1])


@dataclass(frozen=True)
class Tile:
    """A page: its column and row, the corner of what it shows, and how much."""

    column: int
    row: int
    left: float
    top: float
    width: float
    height: float

    @property
    def name(self) -> str:
        """What the page is called: its row's letter and its column's number."""
        letters = ""
        row = self.row
        while row >= 0:
            letters = chr(ord("a") + row % 26) + letters
            row = row // 26 - 1
        return f"{letters}{self.column + 1}"


@dataclass(frozen=True)
class PaperSheet:
    """Pieces on one sheet, which pages are cut of: its size, where the pieces lie, the pages."""

    width: float
    height: float
    placed: tuple[Placed, ...]
    tiles: tuple[Tile, ...] = field(default=())

    @property
    def columns(self) -> int:
        """How many pages lie beside each other at most."""
        return max((t.column for t in self.tiles), default=0) + 1

    @property
    def rows(self) -> int:
        """How many pages lie below each other at most."""
        return max((t.row for t in self.tiles), default=0) + 1


def one_below_the_other(sheets: Sequence[PaperSheet]) -> PaperSheet:
    """Return sheets as one, each beginning where the pages of the one before end."""
    if len(sheets) == 1:
        return sheets[0]
    placed: list[Placed] = []
    tiles: list[Tile] = []
    top, row = 0.0, 0
    for sheet in sheets:
        placed += [replace(p, by=(p.by[0], p.by[1] + top)) for p in sheet.placed]
        tiles += [replace(t, row=t.row + row, top=t.top + top) for t in sheet.tiles]
        row += sheet.rows
        top = max(t.top + t.height for t in tiles)
    return PaperSheet(max(s.width for s in sheets), top, tuple(placed), tuple(tiles))
