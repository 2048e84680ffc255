"""The sewing library from its TOML files in `rowanseed/content`, validated by a schema."""

import tomllib
from functools import cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from rowanseed.core.sew.model import PHASES, TOOLS, Feature, Instead, Library, Need, Operation, Phase, Place
from rowanseed.core.sew.numbers import SUMS
from rowanseed.core.sew.trouble import Trouble, TroubleCheck

FILES = ("basics.toml", "shaping.toml", "necks.toml", "sleeves.toml", "pockets.toml", "closures.toml", "inside.toml",
         "finishes.toml", "cloths.toml")  # fmt: skip
Words = Annotated[str, Field(min_length=3)]
Id = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]*$")]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class FeatureEntry(_Strict):
    """A feature or school as the file writes it."""

    name: Id
    title: Words
    choices: list[tuple[Id, Words]] = Field(min_length=2)
    reason: str = ""


class NeedEntry(_Strict):
    """A need as the file writes it: every need has its reason."""

    id: Id
    why: Annotated[str, Field(min_length=10)]
    when: list[str] = []


class InsteadEntry(_Strict):
    """How an operation is done without a tool, as the file writes it."""

    tool: Literal[TOOLS]  # type: ignore[valid-type]
    place: Place
    minutes: Annotated[int, Field(ge=1, le=240)]
    how: Words


class OperationEntry(_Strict):
    """An operation as the file writes it."""

    id: Id
    title: Words
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
    instead: list[InsteadEntry] = []


class PlaceEntry(_Strict):
    """What holds for work at a place where an operation says nothing of its own."""

    checks: list[Words] = Field(min_length=1)
    wrong: list[tuple[Words, Words]] = Field(min_length=1)


@cache
def _places() -> dict[str, PlaceEntry]:
    return {name: PlaceEntry.model_validate(raw) for name, raw in tomllib.loads(_text("places.toml")).items()}


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


def _text(name: str) -> str:
    return resources.files("rowanseed.content").joinpath(name).read_text(encoding="utf-8")


class SettingsFile(_Strict):
    """What operations set otherwise than a plain seam, by their ids."""

    stitch: dict[Id, Words]
    foot: dict[Id, Words]
    needle: dict[Id, Literal["twin", "topstitch"]]
    thread: dict[Id, Words]


class LibraryError(ValueError):
    """A content file names an operation that the library does not have."""


@cache
def _settings() -> SettingsFile:
    return SettingsFile.model_validate(tomllib.loads(_text("settings.toml")))


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
        for raw in tomllib.loads(_text(f"operations/{name}"))["operation"]
    ]
    # What has to come before others may say so itself: its need is then theirs.
    asked: dict[str, list[NeedEntry]] = {}
    for entry in entries:
        for later in entry.before:
            asked.setdefault(later.id, []).append(later.model_copy(update={"id": entry.id}))
    ids = {entry.id for entry in entries}
    settings = _settings()
    refuse_unknown_ids(
        ids,
        {
            "settings.toml": {*settings.stitch, *settings.foot, *settings.needle, *settings.thread},
            "before": set(asked),
            "needs": {need.id for entry in entries for need in entry.needs},
        },
    )
    own = sorted(entries, key=lambda entry: PHASES.index(entry.phase))
    return Library(
        tuple(_feature(f) for f in features["feature"]),
        tuple(_feature(s) for s in features["school"]),
        tuple(_operation(entry, asked.pop(entry.id, [])) for entry in own),
    )


def _feature(raw: object) -> Feature:
    entry = FeatureEntry.model_validate(raw)
    return Feature(entry.name, entry.title, tuple(entry.choices), entry.reason)


def _operation(e: OperationEntry, asked: list[NeedEntry]) -> Operation:
    return Operation(
        e.id,
        e.title,
        e.place,
        e.phase,
        e.minutes,
        tuple(e.when),
        tuple(e.any),
        tuple(Need(n.id, n.why, tuple(n.when)) for n in _once([*e.needs, *asked])),
        tuple(e.numbers),
        tuple(e.checks or _places()[e.place].checks),
        tuple(e.wrong or _places()[e.place].wrong),
        tuple(e.cautions),
        e.carry_on,
        e.wait_hours,
        tuple(Instead(i.tool, i.place, i.minutes, i.how) for i in e.instead),
        _settings().stitch.get(e.id, ""),
        _settings().foot.get(e.id, ""),
        _settings().needle.get(e.id, ""),
        _settings().thread.get(e.id, ""),
    )


def _once(needs: list[NeedEntry]) -> list[NeedEntry]:
    """Needs without those that are said twice; the first reason stands."""
    seen: dict[str, NeedEntry] = {}
    for need in needs:
        seen.setdefault(need.id, need)
    return list(seen.values())
