"""The sewing library from its TOML files in `rowanseed/content`, validated by a schema."""

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.anatomy import Anatomy, JointKind, SeamKind
from rowanseed.core.sew.model import (
    TOOLS,
    Asked,
    Doing,
    Feature,
    Instead,
    Layer,
    Library,
    Phase,
    Place,
    StartingPoint,
    Template,
)
from rowanseed.core.sew.numbers import SUMS
from rowanseed.core.sew.stages import STAGES
from rowanseed.core.sew.trouble import Trouble, TroubleCheck

FILES = ("prepare", "shaping", "seams", "openings", "edges", "sleeves", "lining", "hems", "closing")
Words = Annotated[str, Field(min_length=3)]
Id = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]*$")]
SeamId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]*(\{seam\})?(-[a-z]+)?$")]
LAWS = ("layers", "marks", "stay", "shape", "parts", "flat", "crossing", "finish", "clip", "turn", "inside", "through", "openings",
        "hem", "ends", "try-on", "once", "complete", "hands", "care", "method")  # fmt: skip


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class FeatureEntry(_Strict):
    """A feature or school as the file writes it."""

    name: Id
    title: Words
    choices: list[tuple[Id, Words]] = Field(min_length=2)
    reason: str = ""
    units: list[str] = []
    group: str = ""


class NeedEntry(_Strict):
    """A need as the file writes it, of a template or of what is done to a thing: every need has its law and reason."""

    id: Id = ""
    on: str = ""
    law: Literal[LAWS]  # type: ignore[valid-type]
    why: Annotated[str, Field(min_length=10)]
    when: list[str] = []


class InsteadEntry(_Strict):
    """How an operation is done without a tool, as the file writes it."""

    tool: Literal[TOOLS]  # type: ignore[valid-type]
    place: Place
    minutes: Annotated[int, Field(ge=1, le=240)]
    how: Words


class OperationEntry(_Strict):
    """A template as the file writes it."""

    id: SeamId
    title: Words
    verb: Literal[tuple(STAGES)]  # type: ignore[valid-type]
    units: list[Id] = []
    layers: list[Layer] = ["shell"]
    seams: list[str] = []
    methods: list[str] = []
    on: list[str] = []
    covers: list[str] = []
    closes: list[str] = []
    inside: list[str] = []
    stage: int | None = None
    flat: bool = False
    collect: bool = False
    place: Place
    phase: Phase
    minutes: Annotated[int, Field(ge=1, le=240)]
    when: list[str] = []
    any: list[str] = []
    needs: list[NeedEntry] = []
    before: list[NeedEntry] = []
    numbers: list[Literal[tuple(SUMS)]] = []  # type: ignore[valid-type]
    checks: list[Words] = []
    wrong: list[tuple[Words, Words]] = []
    cautions: list[Words] = []
    carry_on: bool = False
    wait_hours: Annotated[int, Field(ge=0, le=168)] = 0
    one_pass: bool = False
    instead: list[InsteadEntry] = []
    stitch: str = ""
    foot: str = ""
    needle: Literal["", "twin", "topstitch"] = ""
    thread: str = ""


class SeamEntry(_Strict):
    """A seam of a kind of unit, as the anatomy's file writes it."""

    name: Id
    units: list[Id]
    id: Id
    words: Words
    when: list[str] = []
    ends: list[Words] = []
    curved: bool = False
    apart: bool = False
    covered: bool = False
    minutes: Annotated[int, Field(ge=1, le=240)] = 10
    numbers: list[Literal[tuple(SUMS)]] = []  # type: ignore[valid-type]
    checks: list[Words] = []
    wrong: list[tuple[Words, Words]] = []


class JointEntry(_Strict):
    """A seam between units, as the anatomy's file writes it."""

    part: str
    receiver: str
    id: Id
    words: Words
    when: list[str] = []
    ends: list[Id] = []
    curved: bool = False


class OpeningEntry(_Strict):
    """An opening or shaping and the edges that it may end on."""

    name: Id
    ends: list[Id]


class AnatomyFile(_Strict):
    """The whole anatomy."""

    seam: list[SeamEntry]
    joint: list[JointEntry]
    opening: list[OpeningEntry]


class PlaceEntry(_Strict):
    """What holds for work at a place, or of a verb, where an operation says nothing of its own."""

    checks: list[Words] = Field(min_length=1)
    wrong: list[tuple[Words, Words]] = Field(min_length=1)


@cache
def _places() -> dict[str, PlaceEntry]:
    return {name: PlaceEntry.model_validate(raw) for name, raw in tomllib.loads(_text("places.toml")).items()}


def _usual(e: "OperationEntry") -> PlaceEntry:
    """What holds for work of this verb, or else for work at this place."""
    return _places().get(e.verb) or _places()[e.place]


class TroubleEntry(_Strict):
    """A trouble as the file writes it: its checks as what to look at, the cure, minutes; the easiest first."""

    id: Id
    title: Words
    words: list[Words] = []
    checks: list[tuple[Words, Words, Annotated[int, Field(ge=1, le=1440)]]] = Field(min_length=2)


@cache
def troubles() -> tuple[Trouble, ...]:
    """The troubles. Raises pydantic.ValidationError when the file breaks its schema."""
    entries = [TroubleEntry.model_validate(raw) for raw in tomllib.loads(_text("troubles.toml"))["trouble"]]
    return tuple(
        Trouble(e.id, e.title, tuple(TroubleCheck(*check) for check in e.checks), tuple(e.words)) for e in entries
    )


class StartEntry(_Strict):
    """A common garment as the file writes it."""

    name: Id
    title: Words
    features: dict[Id, str] = Field(min_length=2)


@cache
def starting_points() -> tuple[StartingPoint, ...]:
    """Common garments to begin a view's description from.

    Raises:
        pydantic.ValidationError: the file breaks its schema.
        FeatureError: it names a feature or a choice that is not there.
    """
    entries = [StartEntry.model_validate(raw) for raw in tomllib.loads(_text("starting_points.toml"))["start"]]
    for entry in entries:
        check_features(entry.features)
    return tuple(StartingPoint(e.name, e.title, e.features) for e in entries)


def check_features(features: Mapping[str, str]) -> None:
    """Raise FeatureError for a feature or a choice that the library does not know."""
    known = {feature.name: feature for feature in library().features}
    for name, choice in features.items():
        if name not in known:
            raise FeatureError(f"There is no feature called “{name}”. Known: {', '.join(known)}.", name)
        known[name].refuse_unknown(choice)


def _text(name: str) -> str:
    return resources.files("rowanseed.content").joinpath(name).read_text(encoding="utf-8")


class LibraryError(ValueError):
    """A content file names an operation that the library does not have."""


def refuse_unknown_ids(ids: set[str], named: dict[str, set[str]]) -> None:
    """Raise LibraryError, naming the place, for an id that is named somewhere and that no operation has."""
    for where, some in named.items():
        if unknown := sorted(some - ids):
            raise LibraryError(f"{where}: there is no operation {', '.join(unknown)}.")


@cache
def library() -> Library:
    """The sewing library.

    Raises:
        pydantic.ValidationError: a content file breaks its schema.
        LibraryError: a file names an operation that is not there.
    """
    features = tomllib.loads(_text("features.toml"))
    entries = [
        OperationEntry.model_validate(raw)
        for name in FILES
        for raw in tomllib.loads(_text(f"operations/{name}.toml"))["operation"]
    ]
    named = {need.id for entry in entries for need in (*entry.needs, *entry.before) if need.id}
    refuse_unknown_ids({entry.id for entry in entries}, {"needs": named})
    return Library(
        tuple(_feature(f) for f in features["feature"]),
        tuple(_feature(s) for s in features["school"]),
        _anatomy(),
        tuple(_template(entry) for entry in entries),
    )


def _anatomy() -> Anatomy:
    file = AnatomyFile.model_validate(tomllib.loads(_text("anatomy.toml")))
    seams = tuple(
        SeamKind(
            e.name, tuple(e.units), e.id, e.words, tuple(e.when), tuple(e.ends), e.curved, e.apart, e.covered, e.minutes,
            tuple(e.numbers), tuple(e.checks), tuple(e.wrong),
        )
        for e in file.seam
    )  # fmt: skip
    joints = tuple(
        JointKind(e.part, e.receiver, e.id, e.words, tuple(e.ends), e.curved, tuple(e.when)) for e in file.joint
    )
    return Anatomy(seams, joints, tuple((e.name, tuple(e.ends)) for e in file.opening))


def _feature(raw: object) -> Feature:
    entry = FeatureEntry.model_validate(raw)
    return Feature(entry.name, entry.title, tuple(entry.choices), entry.reason, tuple(entry.units), entry.group)


def _template(e: OperationEntry) -> Template:
    return Template(
        e.id,
        e.verb,
        _doing(e),
        tuple(e.units),
        tuple(e.layers),
        tuple(e.on),
        tuple(e.seams),
        tuple(e.methods),
        tuple(e.covers),
        tuple(e.closes),
        tuple(e.inside),
        e.stage,
        e.flat,
        e.collect,
        tuple(e.when),
        tuple(e.any),
        _asked(e.needs),
        _asked(e.before),
    )


def _asked(needs: list[NeedEntry]) -> tuple[Asked, ...]:
    return tuple(Asked(n.why, n.id, n.on, n.law, tuple(n.when)) for n in needs)


def _doing(e: OperationEntry) -> Doing:
    return Doing(
        e.title,
        e.place,
        e.phase,
        e.minutes,
        tuple(e.numbers),
        tuple(e.checks or _usual(e).checks),
        tuple(e.wrong or _usual(e).wrong),
        tuple(e.cautions),
        e.carry_on,
        e.wait_hours,
        e.one_pass,
        tuple(Instead(i.tool, i.place, i.minutes, i.how) for i in e.instead),
        e.stitch,
        e.foot,
        e.needle,
        e.thread,
    )
