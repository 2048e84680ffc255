"""The fit record: what trials and wearing showed, place by place."""

import sqlite3
from dataclasses import dataclass
from datetime import date
from typing import cast

from rowanseed.core.fit.record import FitNote
from rowanseed.core.lengths import Length, Unit
from rowanseed.store.db import inserted, one


@dataclass(frozen=True)
class StoredFitNote:
    """A fit note with the make it comes from and the person it was seen on."""

    id: int
    make_id: int
    make_name: str
    pattern_id: int
    garment_id: int | None
    person_id: int | None
    size: str | None
    written_on: date
    note: FitNote
    person_name: str = ""


_COLUMNS = """
select n.id, n.make_id, m.name as make_name, m.pattern_id, n.garment_id, g.person_id, g.size, n.written_on,
  n.trial, n.place, n.fault, n.mm, n.text, n.unit, n.words, coalesce(p.name, '') as person_name
from fit_note n join make m on m.id = n.make_id left join make_garment g on g.id = n.garment_id
  left join person p on p.id = g.person_id
"""
NOTES_OF_MAKE = _COLUMNS + "where n.make_id = :make_id order by n.id"
NOTES_FOR_MAKE = (
    _COLUMNS
    + """
where n.make_id <> :make_id and (m.pattern_id = :pattern_id
  or g.person_id in (select person_id from make_garment where make_id = :make_id and person_id is not null))
order by n.id desc
"""
)
INSERT_NOTE = """
insert into fit_note (make_id, garment_id, trial, place, fault, mm, text, unit, words, written_on)
values (:make_id, :garment_id, :trial, :place, :fault, :mm, :text, :unit, :words, :written_on)
"""
NOTE_OF_MAKE = "select id from fit_note where id = :id and make_id = :make_id"


def notes_of_make(conn: sqlite3.Connection, make_id: int) -> list[StoredFitNote]:
    """A make's own notes, oldest first."""
    return [_note(r) for r in conn.execute(NOTES_OF_MAKE, {"make_id": make_id})]


def notes_for_make(conn: sqlite3.Connection, make_id: int, pattern_id: int) -> list[StoredFitNote]:
    """What other makes of this pattern, or for the same people, showed; newest first."""
    return [_note(r) for r in conn.execute(NOTES_FOR_MAKE, {"make_id": make_id, "pattern_id": pattern_id})]


def add_note(conn: sqlite3.Connection, make_id: int, garment_id: int | None, note: FitNote, written_on: date) -> int:
    """Write a note down; the new id."""
    values = {
        "make_id": make_id,
        "garment_id": garment_id,
        "trial": note.trial,
        "place": note.place,
        "fault": note.fault,
        "mm": note.by.mm,
        "text": note.by.text,
        "unit": note.by.unit,
        "words": note.words,
        "written_on": written_on.isoformat(),
    }
    return inserted(conn.execute(INSERT_NOTE, values))


def of_make(conn: sqlite3.Connection, make_id: int, note_id: int) -> int:
    """The id of a finding, made sure to be one of this make. Raises NotFound."""
    return int(one(conn, NOTE_OF_MAKE, {"id": note_id, "make_id": make_id}, "finding")["id"])


def _note(r: sqlite3.Row) -> StoredFitNote:
    by = Length(r["mm"], r["text"], cast(Unit, r["unit"]))
    return StoredFitNote(
        r["id"],
        r["make_id"],
        r["make_name"],
        r["pattern_id"],
        r["garment_id"],
        r["person_id"],
        r["size"],
        date.fromisoformat(r["written_on"]),
        FitNote(r["place"], r["fault"], by, r["trial"], r["words"]),
        r["person_name"],
    )
