"""What a pattern file says, entry by entry: the shapes its reader checks and its published schema is made from."""

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, WithJsonSchema

from rowanseed.core.errors import LengthError, OutlineError
from rowanseed.core.garment_kinds import Cut, GarmentKind
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.types import Grain
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.fates import Ending, Shaping
from rowanseed.core.pattern.model import Role

FORMAT: Literal["rowanseed-pattern/1"] = "rowanseed-pattern/1"


def _length_text(value: Any) -> str:
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise ValueError('a length is needed, such as "38 in" or "97 cm"')
    try:
        length = parse_length(value)
    except LengthError as error:
        raise ValueError(error.text) from error
    # Never in powers of ten, which no length is written in.
    return length.text if isinstance(value, str) else f"{value:.6f}".rstrip("0").rstrip(".") + " mm"


LengthText = Annotated[
    str, BeforeValidator(_length_text), WithJsonSchema({"type": ["string", "number"], "examples": ["38 in", "97 cm"]})
]
Coordinate = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]
XY = tuple[Coordinate, Coordinate]
Segment = tuple[XY, XY]
Years = Annotated[float, Field(ge=0, le=120, allow_inf_nan=False)]
Key = Annotated[str, Field(min_length=1, max_length=40)]
Title = Annotated[str, Field(min_length=1, max_length=120)]


def _simple(outline: list[XY]) -> list[XY]:
    try:
        refuse_bad_outline(tuple(outline), "The outline")
    except OutlineError as error:
        raise ValueError(error.text) from error
    return outline


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class NotchEntry(_Part):
    """A notch on the cutting line: 1 for front, 2 for back."""

    at: XY
    count: Annotated[int, Field(ge=1, le=3)] = 1


class MarkEntry(_Part):
    """A named point: dot, button, corner."""

    name: Title
    at: XY


class LineEntry(_Part):
    """An internal line: dart, pleat, fold, lengthen."""

    kind: Title
    points: Annotated[list[XY], Field(min_length=2, max_length=500)]


class ShapeEntry(_Part):
    """A piece in one size; half the piece where there is a fold edge.

    Where `allowance` is given the outline is the cutting line with so much inside it (`allowances`: at single edges). Where it is
    not, the piece says whether its outline is the cutting line or the seam line.
    """

    outline: Annotated[list[XY], Field(min_length=3, max_length=4000), AfterValidator(_simple)]
    fold_edge: Segment | None = None
    grainline: Segment | None = None
    notches: list[NotchEntry] = []
    marks: list[MarkEntry] = []
    lines: list[LineEntry] = []
    edges: dict[Key, tuple[int, int]] = {}
    levels: dict[Key, Coordinate] = {}
    allowance: LengthText | None = None
    allowances: dict[Key, LengthText] = {}


class PieceEntry(_Part):
    """A piece and its shape in each size."""

    number: Key
    name: Title
    cut: Annotated[int, Field(ge=1, le=100)]
    role: Role = "self"
    mirrored: bool = False
    grain: Grain = "lengthwise"
    allowance: LengthText = "15 mm"
    allowance_included: bool = True
    edge_allowances: dict[Key, LengthText] = {}
    views: list[Key] = []
    note: str = ""
    shapes: dict[Key, ShapeEntry] = {}
    same_as: str = ""
    selvage_edge: str = ""
    off_grain: Annotated[float, Field(ge=0, le=45)] = 0.0
    follows: str = ""
    figures: dict[Key, dict[Key, Annotated[str, Field(max_length=4000)]]] = {}


class SeamEntry(_Part):
    """Two edges sewn together, each [piece number, edge name]; `meant`: how much longer a is meant to be than b, mm, `why`.

    `more_a` and `more_b`: further edges that a side goes on over, as an armhole over yoke and back.
    """

    a: tuple[Key, Key]
    b: tuple[Key, Key]
    meant: Annotated[float, Field(ge=-2000, le=2000)] = 0.0
    more_a: Annotated[list[tuple[Key, Key]], Field(max_length=20)] = []
    more_b: Annotated[list[tuple[Key, Key]], Field(max_length=20)] = []
    why: Annotated[str, Field(max_length=120)] = ""


class SizeEntry(_Part):
    """A size with its body and finished measurements; `upto`: upper ends of ranges; `age`: first and last year."""

    size: Key
    body: dict[Key, LengthText]
    finished: dict[Key, LengthText] = {}
    upto: dict[Key, LengthText] = {}
    age: tuple[Years, Years] | None = None


class ViewEntry(_Part):
    """A view and the features that its garment has."""

    name: Key
    description: str = ""
    features: dict[Key, Annotated[str, Field(min_length=1, max_length=120)]] = {}


class PrintedEntry(_Part):
    """A length that the envelope prints, for a view in some sizes at a width."""

    view: Key
    sizes: Annotated[list[Key], Field(min_length=1, max_length=60)]
    width: LengthText
    length: LengthText
    one_way: bool = False


class FiguresEntry(_Part):
    """Figures of the garment, typed once."""

    buttons: Annotated[int, Field(ge=0, le=200)] | None = None
    button: LengthText | None = None
    button_thick: LengthText | None = None
    hem_first: LengthText | None = None
    hem_second: LengthText | None = None
    overlap: LengthText | None = None
    zip: LengthText | None = None
    elastic: LengthText | None = None


class FateEntry(_Part):
    """What becomes of an edge (piece number, edge name), and how it is shaped before; depths in mm."""

    edge: tuple[Key, Key]
    fate: Ending
    way: Annotated[str, Field(max_length=40)] = ""
    first: Annotated[float, Field(ge=0, le=1000)] | None = None
    second: Annotated[float, Field(ge=0, le=1000)] | None = None
    width: Annotated[float, Field(ge=0, le=1000)] | None = None
    shaping: Annotated[list[Shaping], Field(max_length=7)] = []
    side: Literal["", "left", "right"] = ""


class PatternFile(_Part):
    """A pattern as a file."""

    format: Literal["rowanseed-pattern/1"]
    name: Title
    label: str = ""
    garment: GarmentKind = "top"
    drafted_height: LengthText | None = None
    sizes: Annotated[list[SizeEntry], Field(max_length=200)] = []
    views: Annotated[list[ViewEntry], Field(min_length=1, max_length=60)] = [ViewEntry(name="A")]
    pieces: Annotated[list[PieceEntry], Field(max_length=500)] = []
    seams: list[SeamEntry] = []
    fates: Annotated[list[FateEntry], Field(max_length=4000)] = []
    units: dict[Key, Key] = {}
    notions: str = ""
    note: str = ""
    cut: Cut = ""
    least_stretch: Annotated[float, Field(ge=0, le=3)] = 0.0
    printed: Annotated[list[PrintedEntry], Field(max_length=400)] = []
    cup: LengthText | None = None
    figures: FiguresEntry | None = None
