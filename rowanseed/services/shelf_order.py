"""The makes on their shelf: being sewn, cut, planned or worn; found by words; in the order in which one goes on with them."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from rowanseed.store.makes import Make, worked_on

Doing = Literal["sewing", "cutting", "planning", "worn"]
DOINGS: tuple[Doing, ...] = get_args(Doing)
DOING_WORDS: Mapping[Doing, str] = {
    "sewing": "being sewn",
    "cutting": "being cut",
    "planning": "being planned",
    "worn": "worn",
}
Order = Literal["in hand", "newest", "name"]
ORDERS: tuple[Order, ...] = get_args(Order)


@dataclass(frozen=True)
class MakeOnShelf:
    """A make, what is being done with it, and when that was last gone on with (ISO, empty: never)."""

    make: Make
    doing: Doing
    last: str = ""


def on_the_shelf(conn: sqlite3.Connection, every: Sequence[Make]) -> list[MakeOnShelf]:
    """Return what is being done with each make, by its ticks alone, so that a long shelf is told at once."""
    sewn, cut = worked_on(conn, "sew"), worked_on(conn, "cut")
    found = []
    for make in every:
        doing: Doing = (
            "worn" if make.finished_on else "sewing" if make.id in sewn else "cutting" if make.id in cut else "planning"
        )
        found.append(MakeOnShelf(make, doing, max(sewn.get(make.id, ""), cut.get(make.id, ""))))
    return found


def ordered(shelf: Sequence[MakeOnShelf], order: Order) -> list[MakeOnShelf]:
    """Sort a shelf: `in hand` puts first what is being sewn, then what is being cut, what was last gone on with before the rest."""
    if order == "name":
        return sorted(shelf, key=lambda one: one.make.name.casefold())
    newest = sorted(shelf, key=lambda one: (one.make.started_on, one.make.id), reverse=True)
    if order == "newest":
        return newest
    latest = sorted(newest, key=lambda one: one.last, reverse=True)
    return sorted(latest, key=lambda one: DOINGS.index(one.doing))


def found_by(shelf: Sequence[MakeOnShelf], words: str, more: Mapping[int, str]) -> list[MakeOnShelf]:
    """The makes that have all of these words in their name or in `more`, by make: pattern, people."""
    asked = words.casefold().split()
    return [one for one in shelf if all(w in f"{one.make.name} {more.get(one.make.id, '')}".casefold() for w in asked)]
