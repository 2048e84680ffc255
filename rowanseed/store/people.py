"""People and their dated measurement sets."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import cast

from rowanseed.core.lengths import Length, Unit
from rowanseed.store.db import inserted, one, saved


@dataclass(frozen=True)
class MeasurementSet:
    """Measurements taken on one day, by key, as typed."""

    id: int
    taken_on: date
    note: str
    values: Mapping[str, Length]


@dataclass(frozen=True)
class Person:
    """A person with the newest set first."""

    id: int
    name: str
    is_child: bool
    note: str
    demo: bool
    version: int
    born_on: date | None = None
    sets: tuple[MeasurementSet, ...] = ()
    posture: tuple[str, ...] = ()

    @property
    def latest(self) -> MeasurementSet | None:
        """The newest set, or None before the first."""
        return self.sets[0] if self.sets else None


PEOPLE = """
select id, name, is_child, note, demo, version, born_on, posture from person where put_away is null or :everyone order by name, id
"""
PERSON = "select id, name, is_child, note, demo, version, born_on, posture from person where id = :id"
SETS_OF_PERSON = """
select s.id, s.taken_on, s.note, m.key, m.mm, m.text, m.unit
from measurement_set s left join measurement m on m.set_id = s.id
where s.person_id = :person_id
order by s.taken_on desc, s.id desc, m.rowid
"""
INSERT_PERSON = """
insert into person (name, is_child, note, demo, born_on, posture) values (:name, :is_child, :note, :demo, :born_on, :posture)
"""
UPDATE_PERSON = """
update person set name = :name, is_child = :is_child, note = :note, born_on = :born_on, posture = :posture, version = version + 1
where id = :id and version = :version
"""
TOUCH = "update person set version = version + 1 where id = :id and version = :version"
INSERT_SET = "insert into measurement_set (person_id, taken_on, note) values (:person_id, :taken_on, :note)"
INSERT_MEASUREMENT = """
insert into measurement (set_id, key, mm, text, unit) values (:set_id, :key, :mm, :text, :unit)
"""


def people(conn: sqlite3.Connection, everyone: bool = False) -> list[Person]:
    """Everyone who is not put away (with `everyone`, those too), by name, with their sets."""
    return [_person(conn, row) for row in conn.execute(PEOPLE, {"everyone": everyone}).fetchall()]


def person(conn: sqlite3.Connection, person_id: int) -> Person:
    """One person. Raises NotFound."""
    return _person(conn, one(conn, PERSON, {"id": person_id}, "person"))


def _person(conn: sqlite3.Connection, row: sqlite3.Row) -> Person:
    sets: dict[int, MeasurementSet] = {}
    values: dict[int, dict[str, Length]] = {}
    for r in conn.execute(SETS_OF_PERSON, {"person_id": row["id"]}):
        held = values.setdefault(r["id"], {})
        if r["key"] is not None:
            held[r["key"]] = Length(r["mm"], r["text"], cast(Unit, r["unit"]))
        sets.setdefault(r["id"], MeasurementSet(r["id"], date.fromisoformat(r["taken_on"]), r["note"], held))
    return Person(
        row["id"],
        row["name"],
        bool(row["is_child"]),
        row["note"],
        bool(row["demo"]),
        row["version"],
        date.fromisoformat(row["born_on"]) if row["born_on"] else None,
        tuple(sets.values()),
        tuple(json.loads(row["posture"])),
    )


def add_person(
    conn: sqlite3.Connection,
    name: str,
    is_child: bool,
    note: str = "",
    demo: bool = False,
    born_on: date | None = None,
    posture: Sequence[str] = (),
) -> int:
    """Add a person; the new id."""
    values = {
        "name": name,
        "is_child": is_child,
        "note": note,
        "demo": demo,
        "born_on": _iso(born_on),
        "posture": json.dumps(posture),
    }
    return inserted(conn.execute(INSERT_PERSON, values))


def _iso(day: date | None) -> str | None:
    return day.isoformat() if day else None


def update_person(
    conn: sqlite3.Connection,
    person_id: int,
    version: int,
    name: str,
    is_child: bool,
    note: str,
    born_on: date | None = None,
    posture: Sequence[str] = (),
) -> None:
    """Change a person. Raises ChangedMeanwhile when `version` is no longer the stored one."""
    values = {
        "name": name,
        "is_child": is_child,
        "note": note,
        "born_on": _iso(born_on),
        "posture": json.dumps(posture),
    }
    saved(conn.execute(UPDATE_PERSON, {"id": person_id, "version": version, **values}), "person")


def touch(conn: sqlite3.Connection, person_id: int, version: int) -> None:
    """Note that a person is about to change, from a page that showed this version. Raises ChangedMeanwhile."""
    saved(conn.execute(TOUCH, {"id": person_id, "version": version}), "person")


def add_set(
    conn: sqlite3.Connection, person_id: int, taken_on: date, values: Mapping[str, Length], note: str = ""
) -> int:
    """Add a dated set; the new id."""
    set_id = inserted(
        conn.execute(INSERT_SET, {"person_id": person_id, "taken_on": taken_on.isoformat(), "note": note})
    )
    for key, length in values.items():
        conn.execute(
            INSERT_MEASUREMENT,
            {"set_id": set_id, "key": key, "mm": length.mm, "text": length.text, "unit": length.unit},
        )
    return set_id
