"""What a row of each table may hold: one model a table, with a field for each of its columns.

A row that comes from elsewhere is read by its model before it is kept. Documents (JSON columns) are read by the model that the
pages read them by, and no number in them lies beyond what can be measured.
"""

import json
import math
import re
from collections.abc import Callable, Mapping
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal, TypeAlias

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, TypeAdapter, model_validator

from rowanseed.core.bought import Bought
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.shops import Shop
from rowanseed.core.fit.record import PLACES, TRIALS
from rowanseed.core.garment_kinds import GarmentKind, Zone
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.intake.model import Intake, IntakeOptions
from rowanseed.core.lay.model import Lay
from rowanseed.core.lengths import LONGEST_MM, Unit
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.core.shopping import Supply
from rowanseed.core.yardage_table import Cell
from rowanseed.store.photos import NAME
from rowanseed.store.settings import Settings

MOST_NUMBER = 1e12  # beyond any figure that is kept: lengths, counts, bytes, seconds
MOST_DEPTH = 40
TABLE_NAME = re.compile(r"^[a-z_]{1,40}$")


def _bounded(value: object, key: str = "", depth: int = 0) -> None:
    """Refuse numbers that no document of ours holds, wherever they stand in it."""
    if depth > MOST_DEPTH:
        raise ValueError("is nested deeper than anything that is kept")
    if isinstance(value, dict):
        for name, part in value.items():
            _bounded(part, name, depth + 1)
    elif isinstance(value, list):
        for part in value:
            _bounded(part, key, depth + 1)
    elif isinstance(value, int | float) and not isinstance(value, bool):
        length = key == "mm" or key.endswith("_mm")
        if not math.isfinite(value) or abs(value) > (LONGEST_MM if length else MOST_NUMBER):
            raise ValueError(f"has {value:g} as {key or 'a number'}, which nothing can be")
        if key == "mm" and value < 0:
            raise ValueError(f"has {value:g} mm as a length, which none is")


def _json(text: str) -> Any:
    try:
        value = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ValueError("is not JSON") from error
    _bounded(value)
    return value


def _document(model: Any, also: Callable[[Any], None] = lambda found: None) -> AfterValidator:
    """Return what reads a column's document by a model, and holds it to `also` too."""
    adapter: TypeAdapter[Any] = TypeAdapter(model)

    def checked(text: str) -> str:
        _json(text)
        also(adapter.validate_json(text))
        return text

    return AfterValidator(checked)


def _sound_shape(shape: PieceShape) -> None:
    count = len(shape.outline)
    if count < 3:
        raise ValueError(f"has an outline of {count} point{'s' * (count != 1)}; a piece has at least three")
    for x, y in shape.outline:
        if not (abs(x) <= LONGEST_MM and abs(y) <= LONGEST_MM):
            raise ValueError("has a point further off than any cloth is long")
    for name, ends in shape.edges.items():
        if not all(0 <= end < count for end in ends):
            raise ValueError(f"has an edge “{name}” that ends at no point of its outline")


def _picture_names(names: list[str]) -> None:
    for name in names:
        if not NAME.match(name):
            raise ValueError("names a picture otherwise than pictures are named")


def _day(text: str) -> str:
    date.fromisoformat(text)
    return text


def _moment(text: str) -> str:
    datetime.fromisoformat(text)
    return text


def _money(text: str) -> str:
    if text and not (Decimal(text).is_finite() and abs(Decimal(text)) < Decimal(10) ** 12):
        raise ValueError("is no sum of money")
    return text


class _Binned(BaseModel):
    """What the bin keeps of something that was deleted: rows, what was loosened, or a picture's name."""

    model_config = ConfigDict(extra="forbid")
    rows: list[tuple[Annotated[str, Field(pattern=TABLE_NAME)], dict[Annotated[str, Field(pattern=TABLE_NAME)], Any]]]
    loose: list[
        tuple[
            Annotated[str, Field(pattern=TABLE_NAME)],
            dict[Annotated[str, Field(pattern=TABLE_NAME)], int | str],
            Annotated[str, Field(pattern=TABLE_NAME)],
            int | str | None,
        ]
    ]
    picture: tuple[Literal["pattern", "cloth", "make"], int, Annotated[str, Field(pattern=NAME)]] | None = None


Id = Annotated[int, Field(ge=1, le=2**62)]
Flag = Literal[0, 1]
Day: TypeAlias = Annotated[str, AfterValidator(_day)]
Moment: TypeAlias = Annotated[str, AfterValidator(_moment)]
Length = Annotated[float, Field(ge=0, le=LONGEST_MM)]
Signed = Annotated[float, Field(ge=-LONGEST_MM, le=LONGEST_MM)]
Pictures: TypeAlias = Annotated[str, _document(list[str], _picture_names)]
Anything: TypeAlias = Annotated[str, _document(Any)]


class RowModel(BaseModel):
    """A row: exactly the columns of its table, each of its own kind."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


class _Versioned(RowModel):
    id: Id
    demo: Flag
    version: Annotated[int, Field(ge=1, le=2**62)]


class PersonRow(_Versioned):
    """A person."""

    name: str
    is_child: Flag
    note: str
    born_on: Day | None
    posture: Annotated[str, _document(list[str])]
    put_away: Moment | None


class MeasurementSetRow(RowModel):
    """A day on which a person was measured."""

    id: Id
    person_id: Id
    taken_on: Day
    note: str


class MeasurementRow(RowModel):
    """One figure of such a day."""

    set_id: Id
    key: str
    mm: Length
    text: str
    unit: Unit


class PatternRow(_Versioned):
    """A pattern with its envelope."""

    name: str
    label: str
    garment: GarmentKind
    envelope: Annotated[str, _document(Pattern)]
    tags: str
    photos: Pictures
    put_away: Moment | None


class PieceRow(RowModel):
    """A piece of a pattern."""

    id: Id
    pattern_id: Id
    number: str
    position: int
    facts: Annotated[str, _document(Piece)]


class PieceShapeRow(RowModel):
    """A piece in one size."""

    piece_id: Id
    size: str
    shape: Annotated[str, _document(PieceShape, _sound_shape)]


class ClothRow(_Versioned):
    """A cloth of the stash."""

    name: str
    kind: str
    facts: Annotated[str, _document(Cloth)]
    put_away: Moment | None


class MakeRow(_Versioned):
    """A make with its plan."""

    name: str
    pattern_id: Id
    view: str
    plan: Annotated[str, _document(MakePlan)]
    started_on: Day
    finished_on: Day | None
    put_away: Moment | None
    pictures: Pictures


class MakeGarmentRow(RowModel):
    """One garment of a make."""

    id: Id
    make_id: Id
    position: int
    person_id: Id | None
    size: str | None


class MakeClothRow(RowModel):
    """Which cloth a role of a make is cut from."""

    make_id: Id
    role: str
    cloth_id: Id


class LayRow(RowModel):
    """A lay of a role's pieces."""

    make_id: Id
    role: str
    asked: str
    lay: Annotated[str, _document(Lay)]
    length_mm: Length
    short_mm: Length
    spread: str
    laid_at: Moment


class LayDraftRow(RowModel):
    """A lay made by hand that is not sound yet."""

    make_id: Id
    role: str
    asked: str
    lay: Annotated[str, _document(Lay)]
    drawn_at: Moment


class TickRow(RowModel):
    """A line of a make's list that is done."""

    make_id: Id
    list: str
    item: str
    at: Moment


class MadePieceRow(RowModel):
    """A piece as it was cut or printed."""

    make_id: Id
    how: Literal["cut", "print"]
    item: str
    size: str
    shape: Annotated[str, _document(PieceShape, _sound_shape)]
    at: Moment


class NoteRow(RowModel):
    """A note."""

    id: Id
    make_id: Id
    kind: str
    text: str
    written_on: Day


class FitNoteRow(RowModel):
    """What a trial showed at a place."""

    id: Id
    make_id: Id
    garment_id: Id | None
    trial: str
    place: str
    fault: str
    mm: Signed
    text: str
    unit: Unit
    words: str
    written_on: Day

    @model_validator(mode="after")
    def _known(self) -> "FitNoteRow":
        if self.place not in PLACES or self.trial not in TRIALS:
            raise ValueError("speaks of a place or a trial that there is not")
        return self


class SettingRow(RowModel):
    """A setting of the household."""

    key: str
    value: str

    @model_validator(mode="after")
    def _read(self) -> "SettingRow":
        if self.key == "household":
            _json(self.value)
            TypeAdapter(Settings).validate_json(self.value)
        elif self.key == "durations":
            _json(self.value)
        return self


class YardageCellRow(RowModel):
    """A figure of a yardage table."""

    pattern_id: Id
    view: str
    role: str
    size: str
    width_mm: Length
    cloth: str
    asked: str
    cell: Annotated[str, _document(Cell)]


class SupplyRow(_Versioned):
    """A supply."""

    kind: str
    name: str
    facts: Annotated[str, _document(Supply)]
    put_away: Moment | None


class ShopRow(_Versioned):
    """A shop."""

    name: str
    facts: Annotated[str, _document(Shop)]
    put_away: Moment | None


class GotRow(RowModel):
    """A line of the shopping list that was bought."""

    item: str
    at: Moment
    facts: Annotated[str, _document(Bought)] | None = None


class SheetRow(RowModel):
    """A view's sheet as it was typed."""

    pattern_id: Id
    view: str
    text: str


class StepLogRow(RowModel):
    """What was written for a step."""

    make_id: Id
    step: str
    kind: str
    text: str
    at: Moment


class IntakeRow(_Versioned):
    """A file or photographs that pieces are taken from."""

    way: Literal["file", "photo"]
    name: str
    digest: str
    options: Anything
    result: Anything | None
    problem: str
    state: Anything
    pattern_id: Id | None
    at: Moment

    @model_validator(mode="after")
    def _read(self) -> "IntakeRow":
        if self.way == "file":
            TypeAdapter(IntakeOptions).validate_json(self.options)
            if self.result is not None:
                TypeAdapter(Intake).validate_json(self.result)
        return self


class IntakeFileRow(RowModel):
    """One of the files that were sent."""

    intake_id: Id
    position: int
    data: bytes


class GuestRow(RowModel):
    """A guest's link."""

    id: Id
    name: str
    make_id: Id
    digest: str
    made_at: Moment


class SessionRow(RowModel):
    """A device that was let in."""

    digest: str
    device: str
    guest_id: Id | None
    made_at: Moment
    seen_at: Moment


class AttemptRow(RowModel):
    """Attempts that failed, by address."""

    address: str
    failed: int
    until: float
    at: float


class BinRow(RowModel):
    """Something deleted."""

    id: Id
    kind: str
    name: str
    rows: Annotated[str, _document(_Binned)]
    at: Moment


class LikedEaseRow(RowModel):
    """An ease that was worn and judged right."""

    person_id: Id
    garment: GarmentKind
    zone: Zone
    mm: Signed
    make_id: Id | None
    at: Day


class MakeCostRow(RowModel):
    """What a part of a make was estimated at, and what was paid."""

    make_id: Id
    what: str
    estimate: Annotated[str, AfterValidator(_money)]
    paid: Annotated[str, AfterValidator(_money)]


ROW_MODELS: Mapping[str, type[RowModel]] = {
    "person": PersonRow, "measurement_set": MeasurementSetRow, "measurement": MeasurementRow, "pattern": PatternRow,
    "piece": PieceRow, "piece_shape": PieceShapeRow, "cloth": ClothRow, "make": MakeRow, "make_garment": MakeGarmentRow,
    "make_cloth": MakeClothRow, "lay": LayRow, "lay_draft": LayDraftRow, "tick": TickRow, "note": NoteRow,
    "fit_note": FitNoteRow, "setting": SettingRow, "yardage_cell": YardageCellRow, "supply": SupplyRow, "shop": ShopRow,
    "got": GotRow, "sheet": SheetRow, "step_log": StepLogRow, "intake": IntakeRow, "intake_file": IntakeFileRow,
    "guest": GuestRow, "session": SessionRow, "attempt": AttemptRow, "bin": BinRow, "liked_ease": LikedEaseRow,
    "make_cost": MakeCostRow, "made_piece": MadePieceRow,
}  # fmt: skip


def trouble_with(table: str, row: Mapping[str, Any]) -> str:
    """Return what is wrong with a row of the newest version, in words, empty where nothing is."""
    try:
        ROW_MODELS[table].model_validate(dict(row))
    except (ValueError, ArithmeticError) as error:  # Pydantic's and Decimal's own are of these
        return _told(error)
    return ""


def _told(error: Exception) -> str:
    errors = getattr(error, "errors", None)
    if not callable(errors):
        return str(error)
    first = errors(include_url=False, include_input=False, include_context=False)[0]
    where = ".".join(str(part) for part in first["loc"])
    said = str(first["msg"]).removeprefix("Value error, ")
    return f"{where}: {said}" if where else said
