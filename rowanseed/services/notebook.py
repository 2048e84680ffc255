"""A make on one page for the notebook: what it is, how it was fitted, laid and sewn, what it took and cost, what was learned."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import cast

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.shops import Shop
from rowanseed.core.costs import ClothUsed, CostLine, cost_lines
from rowanseed.core.fit.record import TRIALS
from rowanseed.core.lay.offcuts import offcuts
from rowanseed.core.pattern.model import ROLE_WORDS, Role
from rowanseed.core.sew.model import PLACES
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import notebook, stash

HAPPENED = {
    "begun": "begun",
    "laid": "{} laid",
    "cut-first": "first piece cut",
    "cut-last": "{} pieces cut",
    "sewn-first": "first step done",
    "sewn-last": "{} steps done",
    "finished": "finished and worn",
    "happened": "{}",
    "next-time": "Next time: {}",
}


@dataclass(frozen=True)
class Event:
    """What happened on a day, in words."""

    day: date
    words: str


@dataclass(frozen=True)
class PlaceTime:
    """How long a make was worked on at one place, minutes: timed steps, and those that were not timed by the library."""

    place: str
    timed: int
    steps: int


def shops(view: WorkedMake) -> list[tuple[int, Shop]]:
    """The household's shops by id."""
    return [(stored.id, stored.shop) for stored in stash.shops(view.conn)]


def costs(view: WorkedMake, shop: Shop | None) -> list[CostLine]:
    """What each part of a make costs: a part that was paid keeps the estimate of that day."""
    cloths = [_used(r.role, r.cloth.cloth, r) for r in view.roles if r.cloth is not None and r.kept is not None]
    then = notebook.estimates(view.conn, view.make.id)
    lines = cost_lines(cloths, view.notions if view.sizes else (), shop, notebook.paid(view.conn, view.make.id))
    return [_as_then(line, then) for line in lines]


def _used(name: str, cloth: Cloth, role: WorkedRole) -> ClothUsed:
    """A cloth with the length its lay takes, and the offcuts within that."""
    used = ClothUsed(name, cloth.kind, cloth.name, cloth.width.mm, role.kept.lay.length_mm if role.kept else 0.0)
    if role.kept is None or role.request is None or not role.current:
        return used
    left = [o for o in offcuts(role.kept.lay, role.request.cloth) if o.x_mm + o.length_mm <= used.used_mm + 1.0]
    return replace(used, left=len(left), left_mm2=sum(o.length_mm * o.width_mm * o.layers for o in left))


def _as_then(line: CostLine, then: Mapping[str, Decimal]) -> CostLine:
    kept = then.get(line.what) if line.paid is not None else None
    return line if kept is None else replace(line, estimate=kept, unpriced=0)


def timeline(view: WorkedMake) -> list[Event]:
    """What happened to a make, the earliest first; what began and ended on one day is said once."""
    found = notebook.happened(view.conn, view.make.id)
    ended = {(day, what.removesuffix("-last")) for day, what, _ in found if what.endswith("-last")}
    events = [
        Event(day, HAPPENED[what].format(ROLE_WORDS[cast(Role, words)] if what == "laid" else words))
        for day, what, words in found
        if not (what.endswith("-first") and (day, what.removesuffix("-first")) in ended)
    ]
    trials = [Event(n.written_on, f"{TRIALS[n.note.trial].capitalize()}: {n.note.sentence()}") for n in view.fit_notes]
    return sorted([*events, *trials], key=lambda event: event.day)


def times(view: WorkedMake) -> list[PlaceTime]:
    """How long was worked at each place, where steps were timed."""
    seconds = {step: int(text) for (step, kind), text in view.log.items() if kind == "seconds" and text.isdecimal()}
    found = []
    for place in PLACES:
        own = [s.operation.id for s in view.steps if s.operation.place == place and s.operation.id in seconds]
        if own:
            found.append(PlaceTime(place, round(sum(seconds[i] for i in own) / 60), len(own)))
    return found


def samples(view: WorkedMake) -> list[tuple[str, str]]:
    """What samples showed: the step's title and the settings that were found."""
    titles = {s.operation.id: s.operation.title for s in view.steps}
    return [(titles[step], text) for (step, kind), text in view.log.items() if kind == "sample" and step in titles]
