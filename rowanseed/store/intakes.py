"""Files and photographs that pieces are taken from, what was read of them, and how far the user is."""

import hashlib
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from rowanseed.store.db import inserted, one, saved

Way = Literal["file", "photo"]


@dataclass(frozen=True)
class StoredIntake:
    """A file or photographs: `options` and `result` as JSON, `state` what the user did on the page."""

    id: int
    way: Way
    name: str
    digest: str
    options: str
    result: str | None
    problem: str
    state: str
    pattern_id: int | None
    at: str
    version: int


INTAKE = (
    "select id, way, name, digest, options, result, problem, state, pattern_id, at, version from intake where id = :id"
)
RECENT = """
select id, way, name, digest, options, null as result, problem, '{}' as state, pattern_id, at, version
from intake order by id desc limit 12
"""
SAME = """
select id, way, name, digest, options, null as result, problem, '{}' as state, pattern_id, at, version
from intake where digest = :digest and id <> :id order by id desc limit 1
"""
INSERT = """
insert into intake (way, name, digest, options, pattern_id, at, demo)
values (:way, :name, :digest, :options, :pattern_id, :at, :demo)
"""
INSERT_FILE = "insert into intake_file (intake_id, position, data) values (:intake_id, :position, :data)"
FILES = "select data from intake_file where intake_id = :id order by position"
FORGET_FILES = "delete from intake_file where intake_id = :id"
RESULT = "update intake set result = :result, problem = :problem where id = :id"
AGAIN = """
update intake set options = :options, result = null, problem = '', version = version + 1 where id = :id and version = :version
"""
STATE = "update intake set state = :state, version = version + 1 where id = :id and version = :version"
DONE = "update intake set pattern_id = :pattern_id where id = :id"


def add(
    conn: sqlite3.Connection,
    way: Way,
    name: str,
    files: Sequence[bytes],
    options: str,
    pattern_id: int | None,
    at: datetime,
    demo: bool = False,
) -> int:
    """Keep files that were sent; the new id."""
    digest = hashlib.sha256(b"".join(files)).hexdigest()
    row = {
        "way": way,
        "name": name[:200],
        "digest": digest,
        "options": options,
        "pattern_id": pattern_id,
        "at": at.isoformat(timespec="seconds"),
        "demo": demo,
    }
    intake_id = inserted(conn.execute(INSERT, row))
    for position, data in enumerate(files):
        conn.execute(INSERT_FILE, {"intake_id": intake_id, "position": position, "data": data})
    return intake_id


def intake(conn: sqlite3.Connection, intake_id: int) -> StoredIntake:
    """One of them. Raises NotFound."""
    return StoredIntake(**dict(one(conn, INTAKE, {"id": intake_id}, "file taken in")))


def recent(conn: sqlite3.Connection) -> list[StoredIntake]:
    """The last ones, the newest first, without what was read."""
    return [StoredIntake(**dict(row)) for row in conn.execute(RECENT)]


def same_as(conn: sqlite3.Connection, stored: StoredIntake) -> StoredIntake | None:
    """The newest other one with the same content, byte for byte."""
    row = conn.execute(SAME, {"digest": stored.digest, "id": stored.id}).fetchone()
    return StoredIntake(**dict(row)) if row else None


def files(conn: sqlite3.Connection, intake_id: int) -> list[bytes]:
    """The files that were sent, or what was made of them."""
    return [bytes(row["data"]) for row in conn.execute(FILES, {"id": intake_id})]


def keep_result(conn: sqlite3.Connection, intake_id: int, result: str | None, problem: str = "") -> None:
    """Keep what was read, or why nothing could be."""
    conn.execute(RESULT, {"id": intake_id, "result": result, "problem": problem})


def replace_files(conn: sqlite3.Connection, intake_id: int, data: Sequence[bytes]) -> None:
    """Put what was made of the files in their place, such as a flat picture."""
    conn.execute(FORGET_FILES, {"id": intake_id})
    for position, part in enumerate(data):
        conn.execute(INSERT_FILE, {"intake_id": intake_id, "position": position, "data": part})


def read_again(conn: sqlite3.Connection, intake_id: int, version: int, options: str) -> None:
    """Have it read again with other options. Raises ChangedMeanwhile."""
    saved(conn.execute(AGAIN, {"id": intake_id, "version": version, "options": options}), "file taken in")


def keep_state(conn: sqlite3.Connection, intake_id: int, version: int, state: str) -> None:
    """Keep what the user did. Raises ChangedMeanwhile."""
    saved(conn.execute(STATE, {"id": intake_id, "version": version, "state": state}), "file taken in")


def belongs_to(conn: sqlite3.Connection, intake_id: int, pattern_id: int) -> None:
    """Note which pattern its pieces went to."""
    conn.execute(DONE, {"id": intake_id, "pattern_id": pattern_id})
