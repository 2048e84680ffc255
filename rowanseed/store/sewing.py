"""What is written down while sewing: sheets of a pattern's views, and for each step of a make why it was skipped, what its sample
showed, how long it took."""

import sqlite3
from datetime import datetime

SHEETS = "select view, text from sheet where pattern_id = :pattern_id"
PUT_SHEET = """
insert into sheet (pattern_id, view, text) values (:pattern_id, :view, :text)
on conflict do update set text = excluded.text
"""
LOG = "select step, kind, text from step_log where make_id = :make_id"
PUT_LOG = """
insert into step_log (make_id, step, kind, text, at) values (:make_id, :step, :kind, :text, :at)
on conflict do update set text = excluded.text, at = excluded.at
"""
DROP_LOG = "delete from step_log where make_id = :make_id and step = :step and kind = :kind"


TIMED = "select step, text from step_log where kind = 'seconds' order by at desc limit 2000"
SAMPLES_ON = """
select distinct l.step, l.text, m.name as make, l.at from step_log l join make m on m.id = l.make_id
join make_cloth theirs on theirs.make_id = l.make_id join make_cloth own on own.cloth_id = theirs.cloth_id
where l.kind = 'sample' and own.make_id = :make_id and l.make_id <> :make_id order by l.at desc limit 20
"""


def timed(conn: sqlite3.Connection) -> list[tuple[str, int]]:
    """Every step that was timed, in any make, the newest first: its id and the seconds."""
    rows = conn.execute(TIMED).fetchall()
    return [(row["step"], int(row["text"])) for row in rows if row["text"].isdecimal()]


def samples_on_the_same_cloth(conn: sqlite3.Connection, make_id: int) -> list[tuple[str, str, str]]:
    """What samples showed in other makes of a cloth that this make uses too: the step's id, the words, the make's name."""
    return [(row["step"], row["text"], row["make"]) for row in conn.execute(SAMPLES_ON, {"make_id": make_id})]


def sheets(conn: sqlite3.Connection, pattern_id: int) -> dict[str, str]:
    """The sheets of a pattern's views, as they were typed, by view."""
    return {row["view"]: row["text"] for row in conn.execute(SHEETS, {"pattern_id": pattern_id})}


def put_sheet(conn: sqlite3.Connection, pattern_id: int, view: str, text: str) -> None:
    """Keep a view's sheet."""
    conn.execute(PUT_SHEET, {"pattern_id": pattern_id, "view": view, "text": text})


def step_log(conn: sqlite3.Connection, make_id: int) -> dict[tuple[str, str], str]:
    """What was written for a make's steps, by step and kind (`skipped`, `sample`, `seconds`)."""
    return {(row["step"], row["kind"]): row["text"] for row in conn.execute(LOG, {"make_id": make_id})}


def put_log(conn: sqlite3.Connection, make_id: int, step: str, kind: str, text: str, at: datetime) -> None:
    """Write something down for a step; an empty text takes it away."""
    if text:
        conn.execute(PUT_LOG, {"make_id": make_id, "step": step, "kind": kind, "text": text, "at": at.isoformat()})
    else:
        conn.execute(DROP_LOG, {"make_id": make_id, "step": step, "kind": kind})
