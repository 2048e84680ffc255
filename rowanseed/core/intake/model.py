"""What a file holds (lines and words, in millimetres, y down) and what is proposed of it (pieces in their sizes)."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from rowanseed.core.errors import Finding
from rowanseed.core.geometry.types import Outline, Point, Segment

Kind = Literal["svg", "dxf", "pdf", "json"]
Sense = Literal["", "cut", "seam", "notch", "drill", "grain", "fold", "internal", "ignore"]
Arrangement = tuple[
    tuple[int, float, float, float, float], ...
]  # page, left, top, width, height on the joined sheet, mm


@dataclass(frozen=True)
class Style:
    """How a line is drawn: its colour as the file says it, its width in mm, whether it is dashed, and by which dashes."""

    colour: str = ""
    width_mm: float = 0.0
    dashed: bool = False
    dashes: str = ""


@dataclass(frozen=True)
class Stroke:
    """A line as it is drawn: its points (>= 2, the first not repeated when closed), layer, block or group, style, page.

    `sense`: what the file says that it is, as a DXF layer does; empty where it does not. `size`: the size that the file names.
    `clip`: the box (left, top, right, bottom) outside which the document does not show it. `label`: what the file calls it, or what
    it lies in, where that reads like a name.
    """

    points: Outline
    closed: bool = False
    layer: str = ""
    group: str = ""
    style: Style = Style()
    page: int = 0
    sense: Sense = ""
    size: str | None = None
    clip: tuple[float, float, float, float] | None = None
    label: str = ""


@dataclass(frozen=True)
class Words:
    """A piece of text and where it begins; `height`: of its letters, mm."""

    text: str
    at: Point
    height: float = 3.0
    layer: str = ""
    group: str = ""
    page: int = 0
    size: str | None = None


@dataclass(frozen=True)
class PageBox:
    """A page of a document, mm."""

    width: float
    height: float


@dataclass(frozen=True)
class Drawing:
    """Everything that a file draws. `guessed_unit`: whether the scale was guessed. `blocks`: whether a group is a piece."""

    kind: Kind
    strokes: tuple[Stroke, ...] = ()
    words: tuple[Words, ...] = ()
    unit: str = "mm"
    scale: float = 1.0
    pages: tuple[PageBox, ...] = ()
    pictures: int = 0
    blocks: bool = False
    findings: tuple[Finding, ...] = ()
    arrangement: Arrangement = ()

    def with_finding(self, finding: Finding) -> "Drawing":
        """The same with one more finding."""
        return replace(self, findings=(*self.findings, finding))


@dataclass(frozen=True)
class IntakeOptions:
    """What the user says about a file; None where the program is to find it out.

    `columns`, `rows`, `overlap`, `margin` (mm) tell how pages are put together; `layers` which size a layer or style is.
    """

    kind: str = "auto"
    unit: str | None = None
    scale: float | None = None
    columns: int | None = None
    rows: int | None = None
    overlap: float | None = None
    margin: float | None = None
    places: tuple[tuple[int, float, float], ...] = ()
    layers: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class SizeLines:
    """A piece in one size as the file draws it: cutting line (>= 3 points) and what lies in it, mm."""

    outline: Outline
    seam_line: Outline | None = None
    notches: tuple[Point, ...] = ()
    grain: Segment | None = None
    fold_edge: Segment | None = None
    points: tuple[Point, ...] = ()
    internal: tuple[Outline, ...] = ()


@dataclass(frozen=True)
class ProposedPiece:
    """A piece that was found: its words, its lines for each size, and what was guessed.

    `origin`: where the piece stood in the file, and `turned` by how much it was turned to lay its grain along x, so that it can be
    shown on the drawing: a point p of the piece stood at origin + p turned back.
    """

    name: str
    number: str
    cut: int
    sizes: Mapping[str, SizeLines]
    findings: tuple[Finding, ...] = ()
    role: str = ""
    mirrored: bool = False
    text: str = ""
    origin: Point = (0.0, 0.0)
    turned: float = 0.0


@dataclass(frozen=True)
class Intake:
    """What was read of a file: its scale, its sizes smallest first, the pieces proposed."""

    kind: Kind
    unit: str
    scale: float
    sizes: tuple[str, ...]
    pieces: tuple[ProposedPiece, ...]
    findings: tuple[Finding, ...] = ()
    arrangement: Arrangement = ()
