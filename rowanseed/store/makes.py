"""Makes: their garments, cloths by role, lays, ticks and notes."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from functools import lru_cache
from typing import Literal

from pydantic import TypeAdapter

from rowanseed.core.lay.model import Lay
from rowanseed.core.make.plan import MakePlan
from rowanseed.store.db import inserted, one, saved

_PLAN = TypeAdapter(MakePlan)
_LAY = TypeAdapter(Lay)


@dataclass(frozen=True)
class MakeGarment:
    """One garment of a make: for whom, in which size (None until chosen)."""

    id: int
    position: int
    person_id: int | None
    size: str | None


@dataclass(frozen=True)
class Make:
    """A make from decision to wearing."""

    id: int
    name: str
    pattern_id: int
    view: str
    plan: MakePlan
    started_on: date
    finished_on: date | None
    demo: bool
    version: int
    garments: tuple[MakeGarment, ...]
    cloths: Mapping[str, int]


@dataclass(frozen=True)
class StoredLay:
    """A lay of one role's pieces, and a fingerprint of what it was asked for."""

    role: str
    asked: str
    lay: Lay
    laid_at: datetime


@dataclass(frozen=True)
class Note:
    """A note from wearing or making: kind `happened` or `next-time`."""

    id: int
    make_id: int
    kind: str
    text: str
    written_on: date


MAKES = "select * from make where put_away is null order by finished_on is not null, started_on desc, id desc"
MAKE = "select * from make where id = :id"
GARMENTS = "select id, position, person_id, size from make_garment where make_id = :make_id order by position, id"
CLOTHS_OF_MAKE = "select role, cloth_id from make_cloth where make_id = :make_id"
WORKED_ON = "select make_id, max(at) as at from tick where list = :list group by make_id"
CLOTHS_IN_USE = """
select distinct c.cloth_id, m.name from make_cloth c join make m on m.id = c.make_id where m.finished_on is null order by m.name
"""
INSERT_MAKE = """
insert into make (name, pattern_id, view, plan, started_on, demo)
values (:name, :pattern_id, :view, :plan, :started_on, :demo)
"""
INSERT_GARMENT = """
insert into make_garment (make_id, position, person_id, size) values (:make_id, :position, :person_id, :size)
"""
UPDATE_PLAN = """
update make set plan = :plan, version = version + 1 where id = :id and version = :version
"""
TOUCH = "update make set version = version + 1 where id = :id and version = :version"
UPDATE_VIEW = "update make set view = :view, version = version + 1 where id = :id"
UPDATE_SIZE = "update make_garment set size = :size where id = :id and make_id = :make_id"
FINISH = "update make set finished_on = :finished_on, version = version + 1 where id = :id"
PUT_CLOTH = """
insert into make_cloth (make_id, role, cloth_id) values (:make_id, :role, :cloth_id)
on conflict (make_id, role) do update set cloth_id = excluded.cloth_id
"""
DROP_CLOTH = "delete from make_cloth where make_id = :make_id and role = :role"
PUT_LAY = """
insert into lay (make_id, role, asked, lay, length_mm, short_mm, spread, laid_at)
values (:make_id, :role, :asked, :lay, :length_mm, :short_mm, :spread, :laid_at)
on conflict (make_id, role) do update set asked = excluded.asked, lay = excluded.lay, length_mm = excluded.length_mm,
  short_mm = excluded.short_mm, spread = excluded.spread, laid_at = excluded.laid_at
"""
LAYS = "select role, asked, lay, laid_at from lay where make_id = :make_id order by role"
LAY_FACTS = "select role, asked, length_mm, short_mm, spread from lay where make_id = :make_id order by role"
TICK = "insert into tick (make_id, list, item, at) values (:make_id, :list, :item, :at) on conflict do nothing"
UNTICK = "delete from tick where make_id = :make_id and list = :list and item = :item"
TICKS = "select item from tick where make_id = :make_id and list = :list"
INSERT_NOTE = "insert into note (make_id, kind, text, written_on) values (:make_id, :kind, :text, :written_on)"
NOTES = "select id, make_id, kind, text, written_on from note where make_id = :make_id order by id"
NEXT_TIME = """
select n.id, n.make_id, n.kind, n.text, n.written_on
from note n join make m on m.id = n.make_id
where n.kind = 'next-time' and m.id <> :make_id and (m.pattern_id = :pattern_id
  or exists (select 1 from make_cloth a join make_cloth b on a.cloth_id = b.cloth_id and a.role in ('self', 'contrast')
             where a.make_id = m.id and b.make_id = :make_id))
order by n.id desc
"""


def makes(conn: sqlite3.Connection) -> list[Make]:
    """Every make, those under way first, newest first."""
    return [_make(conn, row) for row in conn.execute(MAKES).fetchall()]


def worked_on(conn: sqlite3.Connection, what: Literal["cut", "sew"]) -> dict[int, str]:
    """The makes of which something is cut, or sewn, each with when that last was (ISO)."""
    return {row["make_id"]: row["at"] for row in conn.execute(WORKED_ON, {"list": what})}


def cloths_in_use(conn: sqlite3.Connection) -> dict[int, tuple[str, ...]]:
    """The cloths that makes under way are cut from, with the makes' names: they are kept for these."""
    kept: dict[int, tuple[str, ...]] = {}
    for row in conn.execute(CLOTHS_IN_USE):
        kept[row["cloth_id"]] = (*kept.get(row["cloth_id"], ()), row["name"])
    return kept


def make(conn: sqlite3.Connection, make_id: int) -> Make:
    """One make. Raises NotFound."""
    return _make(conn, one(conn, MAKE, {"id": make_id}, "make"))


def _make(conn: sqlite3.Connection, row: sqlite3.Row) -> Make:
    garments = tuple(
        MakeGarment(g["id"], g["position"], g["person_id"], g["size"])
        for g in conn.execute(GARMENTS, {"make_id": row["id"]})
    )
    cloths = {r["role"]: r["cloth_id"] for r in conn.execute(CLOTHS_OF_MAKE, {"make_id": row["id"]})}
    finished = row["finished_on"]
    return Make(
        row["id"],
        row["name"],
        row["pattern_id"],
        row["view"],
        _PLAN.validate_json(row["plan"]),
        date.fromisoformat(row["started_on"]),
        date.fromisoformat(finished) if finished else None,
        bool(row["demo"]),
        row["version"],
        garments,
        cloths,
    )


def add_make(
    conn: sqlite3.Connection,
    name: str,
    pattern_id: int,
    view: str,
    people: list[int | None],
    started_on: date,
    plan: MakePlan | None = None,
    demo: bool = False,
) -> int:
    """Start a make, one garment for each person given (None: for nobody in particular); the new id."""
    document = _PLAN.dump_json(plan or MakePlan()).decode()
    make_id = inserted(
        conn.execute(
            INSERT_MAKE,
            {
                "name": name,
                "pattern_id": pattern_id,
                "view": view,
                "plan": document,
                "started_on": started_on.isoformat(),
                "demo": demo,
            },
        )
    )
    for position, person_id in enumerate(people, start=1):
        conn.execute(INSERT_GARMENT, {"make_id": make_id, "position": position, "person_id": person_id, "size": None})
    return make_id


def put_plan(conn: sqlite3.Connection, make_id: int, version: int, plan: MakePlan) -> None:
    """Change what was decided. Raises ChangedMeanwhile."""
    saved(
        conn.execute(UPDATE_PLAN, {"id": make_id, "version": version, "plan": _PLAN.dump_json(plan).decode()}), "make"
    )


def touch(conn: sqlite3.Connection, make_id: int, version: int) -> None:
    """Note that a make is about to change, from a page that showed this version. Raises ChangedMeanwhile."""
    saved(conn.execute(TOUCH, {"id": make_id, "version": version}), "make")


def put_view(conn: sqlite3.Connection, make_id: int, view: str) -> None:
    """Make another view of the pattern."""
    conn.execute(UPDATE_VIEW, {"id": make_id, "view": view})


def put_size(conn: sqlite3.Connection, make_id: int, garment_id: int, size: str | None) -> None:
    """Choose a garment's size."""
    conn.execute(UPDATE_SIZE, {"make_id": make_id, "id": garment_id, "size": size})


def finish(conn: sqlite3.Connection, make_id: int, finished_on: date | None) -> None:
    """Mark a make as finished, or as under way again (None)."""
    conn.execute(FINISH, {"id": make_id, "finished_on": finished_on.isoformat() if finished_on else None})


def put_cloth(conn: sqlite3.Connection, make_id: int, role: str, cloth_id: int | None) -> None:
    """Choose the cloth of a role, or none."""
    if cloth_id is None:
        conn.execute(DROP_CLOTH, {"make_id": make_id, "role": role})
    else:
        conn.execute(PUT_CLOTH, {"make_id": make_id, "role": role, "cloth_id": cloth_id})


def put_lay(conn: sqlite3.Connection, make_id: int, role: str, asked: str, lay: Lay, laid_at: datetime) -> None:
    """Keep a lay of a role; it replaces the one before."""
    conn.execute(
        PUT_LAY,
        {
            "make_id": make_id,
            "role": role,
            "asked": asked,
            "lay": _LAY.dump_json(lay).decode(),
            "length_mm": lay.length_mm,
            "short_mm": lay.short_mm,
            "spread": lay.spread,
            "laid_at": laid_at.isoformat(timespec="seconds"),
        },
    )


def lays(conn: sqlite3.Connection, make_id: int) -> dict[str, StoredLay]:
    """The lays of a make, by role."""
    return {
        r["role"]: StoredLay(r["role"], r["asked"], _lay_of(r["lay"]), datetime.fromisoformat(r["laid_at"]))
        for r in conn.execute(LAYS, {"make_id": make_id})
    }


@lru_cache(maxsize=128)
def _lay_of(document: str) -> Lay:
    """A lay from its document; the same document is read once."""
    return _LAY.validate_json(document)


def lay_facts(conn: sqlite3.Connection, make_id: int) -> list[sqlite3.Row]:
    """Each lay's role, fingerprint, length and shortage, without its placements."""
    return conn.execute(LAY_FACTS, {"make_id": make_id}).fetchall()


def tick(conn: sqlite3.Connection, make_id: int, list_: str, item: str, done: bool, at: datetime) -> None:
    """Tick an item of a list (`cut`, `sew`), or take the tick back."""
    params = {"make_id": make_id, "list": list_, "item": item}
    if done:
        conn.execute(TICK, {**params, "at": at.isoformat(timespec="seconds")})
    else:
        conn.execute(UNTICK, params)


def ticks(conn: sqlite3.Connection, make_id: int, list_: str) -> set[str]:
    """The ticked items of a list."""
    return {r["item"] for r in conn.execute(TICKS, {"make_id": make_id, "list": list_})}


def add_note(conn: sqlite3.Connection, make_id: int, kind: str, text: str, written_on: date) -> int:
    """Write a note; the new id."""
    return inserted(
        conn.execute(
            INSERT_NOTE, {"make_id": make_id, "kind": kind, "text": text, "written_on": written_on.isoformat()}
        )
    )


def notes(conn: sqlite3.Connection, make_id: int) -> list[Note]:
    """A make's notes, oldest first."""
    return [_note(r) for r in conn.execute(NOTES, {"make_id": make_id})]


def next_time_notes(conn: sqlite3.Connection, make_id: int, pattern_id: int) -> list[Note]:
    """What other makes of this pattern, or with one of this make's cloths, asked to remember."""
    return [_note(r) for r in conn.execute(NEXT_TIME, {"make_id": make_id, "pattern_id": pattern_id})]


def _note(row: sqlite3.Row) -> Note:
    return Note(row["id"], row["make_id"], row["kind"], row["text"], date.fromisoformat(row["written_on"]))
