"""A household from elsewhere held against the one that is there, row by row: what is new, what comes back, what differs.

A thing is the same where number and name are the same, or where its name is the only one of its kind on both sides. What belongs to
it is told apart by what a sewist tells it by: a set of measurements by its day, a piece by its number, a shape by its size.
"""

import json
import sqlite3
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from rowanseed.core.lengths import both
from rowanseed.services.exchange.give_out import BEHIND, DOCUMENTS
from rowanseed.store.rows import Row, key_of, links_of, owners, renumbered, tables_in_order

TOP = ("person", "pattern", "cloth", "supply", "shop", "make", "intake")
# What tells rows of one thing apart, where it is not the table's own key.
TOLD_BY: Mapping[str, tuple[str, ...]] = {
    "measurement_set": ("person_id", "taken_on", "note"),
    "piece": ("pattern_id", "number"),
    "make_garment": ("make_id", "position"),
    "note": ("make_id", "kind", "text", "written_on"),
    "fit_note": ("make_id", "trial", "place", "fault", "written_on", "words"),
}
UNLIKE = frozenset({"id", "version", "demo", "put_away"})  # what may differ between two of the same
# What says how far one is: missing here, it may have been taken back on purpose, so it is asked about.
PROGRESS = frozenset({"tick", "got", "step_log", "lay_draft", "made_piece"})
# Rows that are told as one difference: shapes of one piece, figures of one day, ticks of one list.
TOGETHER: Mapping[str, tuple[str, ...]] = {
    "piece_shape": ("piece_id",), "measurement": ("set_id",), "tick": ("make_id", "list"), "step_log": ("make_id",), "got": (),
    "intake_file": ("intake_id",), "made_piece": ("make_id", "how"),
}  # fmt: skip
WORDS = {
    "measurement_set": "measurements", "measurement": "measurements", "piece_shape": "shapes", "make_garment": "garment",
    "make_cloth": "cloth", "lay_draft": "lay by hand", "tick": "ticks", "step_log": "notes at steps", "fit_note": "finding",
    "liked_ease": "ease liked", "make_cost": "cost", "got": "shopping list", "setting": "settings", "intake_file": "file",
    "intake": "file", "sheet": "sheet", "made_piece": "pieces as they were cut",
}  # fmt: skip
SETTINGS = ("household",)
MOST_SHOWN, LONGEST = 12, 160


@dataclass
class Difference:
    """Something that is otherwise here than there: what it is called, and each field as it stands here and there."""

    key: str
    title: str
    fields: list[tuple[str, str, str]] = field(default_factory=list)
    rows: list[tuple[str, Row, Row | None]] = field(default_factory=list)
    more: int = 0

    def add(self, table: str, there: Row, here: Row | None) -> None:
        """Add a row, with what differs in it."""
        self.rows.append((table, there, here))
        for name, mine, theirs in _fields_apart(table, there, here):
            if len(self.fields) < MOST_SHOWN:
                self.fields.append((name, mine, theirs))
            else:
                self.more += 1


@dataclass
class Comparison:
    """What a household from elsewhere would bring.

    `new`: names of things that are not here, by kind; `back`: what was deleted of things that are; `known`: names of things
    that are here already; `differs`: what is here otherwise. `fresh`: the rows of the first two. `ids`: their numbers here.
    """

    new: dict[str, list[str]] = field(default_factory=dict)
    back: list[str] = field(default_factory=list)
    known: list[str] = field(default_factory=list)
    differs: list[Difference] = field(default_factory=list)
    fresh: list[tuple[str, Row]] = field(default_factory=list)
    ids: dict[tuple[str, Any], int] = field(default_factory=dict)


def compared(conn: sqlite3.Connection, brought: sqlite3.Connection, make: int | None = None) -> Comparison:
    """Hold a household that was brought against the present one.

    Args:
        make: the number of the one make there that is wanted, with what it needs; None for everything.
    """
    found = Comparison()
    rows = list(_rows_of(brought, make))
    names = {(table, row["id"]): str(row["name"]) for table, row in rows if table in TOP}
    matches = _Matches(conn, found.ids)
    paired = [(table, row, matches.of(table, row)) for table, row in rows]
    apart: dict[str, Difference] = {}
    for table, row, here in paired:
        thing = _thing(brought, table, row)
        inside = table in TOP or thing is None or thing in found.ids
        if table in TOP and here is not None:
            found.known.append(names[(table, row["id"])])
        if here is not None:
            if not _same(matches.links, table, row, here, found.ids):
                _differs(apart, table, row, here, _title(brought, table, row, thing, names))
        elif table in TOP:
            found.new.setdefault(table, []).append(names[(table, row["id"])])
            found.fresh.append((table, row))
        elif inside and table in PROGRESS and (thing is not None or found.known):
            _differs(apart, table, row, None, _title(brought, table, row, thing, names))
        else:
            if inside:
                found.back.append(_title(brought, table, row, thing, names))
            found.fresh.append((table, row))
    found.differs = list(apart.values())
    found.back = list(dict.fromkeys(found.back))
    return found


def _rows_of(brought: sqlite3.Connection, make: int | None) -> Iterator[tuple[str, Row]]:
    wanted = None if make is None else _needed_by(brought, make)
    for table in tables_in_order(brought):
        if table in BEHIND:
            continue
        for found in brought.execute(f"select * from {table}"):
            row = dict(found)
            if table == "setting" and row["key"] not in SETTINGS:
                continue
            if wanted is not None and not _is_wanted(brought, table, row, wanted):
                continue
            yield table, row


def _needed_by(brought: sqlite3.Connection, make: int) -> set[tuple[str, int]]:
    """The things that one make cannot be without: itself, its pattern, its cloths, the people it is for."""
    wanted = {("make", make)}
    for table, column, sql in (
        ("pattern", "pattern_id", "select pattern_id from make where id = :make"),
        ("cloth", "cloth_id", "select cloth_id from make_cloth where make_id = :make"),
        ("person", "person_id", "select person_id from make_garment where make_id = :make and person_id is not null"),
    ):
        wanted |= {(table, int(row[column])) for row in brought.execute(sql, {"make": make})}
    return wanted


def _is_wanted(brought: sqlite3.Connection, table: str, row: Row, wanted: set[tuple[str, int]]) -> bool:
    if table in TOP:
        return (table, row["id"]) in wanted
    # what is a part of two things (a liked ease speaks of a make) is wanted with the first that is
    thing = _thing(brought, table, row)
    return thing is not None and thing in wanted


def _thing(conn: sqlite3.Connection, table: str, row: Mapping[str, Any]) -> tuple[str, Any] | None:
    """The thing that a row is part of, by its table and number; None for what is of no thing, such as a setting."""
    while table not in TOP:
        link = next(iter(owners(conn, table)), None)
        if link is None:
            return None
        value = row[link.column]
        if link.parent in TOP:
            return link.parent, value
        parent = conn.execute(f"select * from {link.parent} where {link.key} = :value", {"value": value}).fetchone()
        table, row = link.parent, dict(parent)
    return table, row["id"]


class _Matches:
    """Finds the row here that a row there is; remembers the numbers, for the rows that speak of them."""

    def __init__(self, conn: sqlite3.Connection, ids: dict[tuple[str, Any], int]) -> None:
        self.conn, self.ids = conn, ids
        self.links = {(link.table, link.column): link.parent for link in links_of(conn)}
        self.taken: set[tuple[str, Any]] = set()

    def of(self, table: str, row: Row) -> Row | None:
        """The row here, each taken once."""
        here = self._named(table, row) if table in TOP else self._told_by(table, row)
        if here is None:
            return None
        if "id" in here:
            if (table, here["id"]) in self.taken:
                return None
            self.taken.add((table, here["id"]))
            self.ids[(table, row["id"])] = here["id"]
        return here

    def _named(self, table: str, row: Row) -> Row | None:
        named = [dict(r) for r in self.conn.execute(f"select * from {table} where name = :name", {"name": row["name"]})]
        by_number = [r for r in named if r["id"] == row["id"]]
        return by_number[0] if by_number else named[0] if len(named) == 1 else None

    def _told_by(self, table: str, row: Row) -> Row | None:
        columns = TOLD_BY.get(table) or tuple(key_of(self.conn, table, row))
        values: Row = {}
        for column in columns:
            parent = self.links.get((table, column))
            if parent is not None and row[column] is not None:
                if (parent, row[column]) not in self.ids:
                    return None  # it belongs to what is not here
                values[column] = self.ids[(parent, row[column])]
            else:
                values[column] = row[column]
        where = " and ".join(f"{column} is :{column}" for column in values)
        for found in self.conn.execute(f"select * from {table} where {where}", values):
            here = dict(found)
            if "id" not in here or (table, here["id"]) not in self.taken:
                return here
        return None


def here_as_there(
    links: Mapping[tuple[str, str], str], table: str, row: Row, ids: Mapping[tuple[str, Any], int]
) -> Row:
    """Return a row from there with the numbers that the things it speaks of have here."""
    new = renumbered(table, row, ids)
    for (name, column), parent in links.items():
        if name == table and (parent, new.get(column)) in ids:
            new[column] = ids[(parent, new[column])]
    return new


def _same(
    links: Mapping[tuple[str, str], str], table: str, there: Row, here: Row, ids: Mapping[tuple[str, Any], int]
) -> bool:
    return _plain(here_as_there(links, table, there, ids)) == _plain(here)


def _plain(row: Row) -> dict[str, Any]:
    return {name: _read(name, value) for name, value in row.items() if name not in UNLIKE}


def _read(name: str, value: Any) -> Any:
    if name in DOCUMENTS and isinstance(value, str) and value[:1] in ("{", "["):
        return json.loads(value)
    return value


def _differs(apart: dict[str, Difference], table: str, there: Row, here: Row | None, title: str) -> None:
    key = f"{table}:" + ",".join(str(there[name]) for name in _told_together(table, there))
    apart.setdefault(key, Difference(key, title)).add(table, there, here)


def _told_together(table: str, row: Row) -> tuple[str, ...]:
    """The columns whose values are shared by the rows that are told as one difference."""
    if table in TOGETHER:
        return TOGETHER[table]
    if "id" in row:
        return ("id",)
    return tuple(
        name for name in row if name.endswith("_id") or name in ("role", "view", "key", "what", "zone", "garment")
    )


def _title(
    brought: sqlite3.Connection,
    table: str,
    row: Row,
    thing: tuple[str, Any] | None,
    names: Mapping[tuple[str, Any], str],
) -> str:
    """What a row is called: its thing and its name, and which part of it it is."""
    if table in TOP:
        return f"{WORDS.get(table, table)} “{row['name']}”"
    word = WORDS.get(table, table)
    if thing is None:
        return word
    part = ""
    if table == "piece_shape":
        piece = brought.execute("select number from piece where id = :id", {"id": row["piece_id"]}).fetchone()
        part = f" of piece {piece['number']}"
    elif table == "measurement":
        day = brought.execute("select taken_on from measurement_set where id = :id", {"id": row["set_id"]}).fetchone()
        part = f" of {day['taken_on']}"
    elif table in ("measurement_set", "piece", "make_cloth", "lay", "note", "make_cost", "fit_note"):
        told = {
            "measurement_set": "taken_on",
            "piece": "number",
            "note": "text",
            "make_cost": "what",
            "fit_note": "place",
        }
        part = f" {str(row[told.get(table, 'role')])[:40]}"
    return f"{WORDS.get(thing[0], thing[0])} “{names.get(thing, '')}”: {word}{part}"


def _fields_apart(table: str, there: Row, here: Row | None) -> Iterator[tuple[str, str, str]]:
    """The name of each field that differs, as it stands here and there."""
    if here is None:
        yield (
            _label(table, there),
            "not here",
            "done" if table in ("tick", "got") else _short(there.get("text", "there")),
        )
        return
    mine, theirs = _plain(here), _plain(there)
    if {"mm", "text", "unit"} <= theirs.keys() and any(mine[n] != theirs[n] for n in ("mm", "text", "unit")):
        yield _label(table, there), str(mine["text"]), str(theirs["text"])
        mine = {**mine, **{n: theirs[n] for n in ("mm", "text", "unit")}}
    for name in theirs:
        if mine.get(name) == theirs[name] or name.endswith("_id"):
            continue
        if isinstance(theirs[name], dict) and isinstance(mine.get(name), dict):
            for key in {**mine[name], **theirs[name]}:
                ours, other = mine[name].get(key), theirs[name].get(key)
                if ours != other:
                    yield _label(table, there, key.removesuffix("_mm")), _of(key, ours), _of(key, other)
        else:
            yield _label(table, there, name.removesuffix("_mm")), _of(name, mine.get(name)), _of(name, theirs[name])


def _of(name: str, value: Any) -> str:
    """A field's value in words, lengths in centimetres and inches."""
    if name.endswith("_mm") and isinstance(value, int | float) and not isinstance(value, bool):
        return both(float(value))
    return _short(value)


def _label(table: str, row: Row, name: str = "") -> str:
    told = {"piece_shape": "size", "measurement": "key", "tick": "item", "step_log": "step", "got": "item"}.get(table)
    words = name.replace("_", " ")
    return f"{str(row[told]).replace('_', ' ')}{', ' + words if words else ''}" if told else words


def _short(value: Any) -> str:
    if value is None or value == "":
        return "nothing"
    if isinstance(value, list) and len(value) > 4 and all(isinstance(point, list) for point in value):
        return f"{len(value)} points"
    if isinstance(value, dict) and set(value) == {"mm", "text", "unit"}:
        return str(value["text"])
    if isinstance(value, bytes):
        return f"{len(value)} bytes"
    text = value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
    return text if len(text) <= LONGEST else text[: LONGEST - 1] + "…"
