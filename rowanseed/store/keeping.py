"""Deleting with a way back, putting away, copying: one mechanism for every kind of thing, from the schema's own foreign keys.

What is deleted goes, with everything that depends on it, into the bin as it stood; taking it back puts every row in its place
again. What the schema says would be left without its thing (`set null`) is remembered too and set back. After thirty days the
bin is emptied.
"""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from rowanseed.store.db import ChangedMeanwhile, NotFound, inserted
from rowanseed.store.rows import (
    Row,
    Rows,
    full,
    gathered,
    has_version,
    insert_rows,
    links_of,
    plain,
    tables_in_order,
    touch_owners,
)

DAYS = 30


class StillUsed(Exception):
    """A thing that others need; its text names them and says what to do."""


class CannotComeBack(Exception):
    """Something whose place is gone or taken; its text says which."""


@dataclass(frozen=True)
class Kind:
    """A kind of thing: its table, how to call one, where its page and its list are, and what of it is copied with it."""

    name: str
    table: str
    said: str
    page: str = ""
    list: str = "/"
    title: str = "select name from {table} where id = :id"
    copied: tuple[str, ...] = ()
    renamed: bool = True
    can_copy: bool = True
    put_away: bool = True
    column: str = "name"


KINDS: Mapping[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("make", "make", "make", "/makes/{id}", "/", copied=("make_garment", "make_cloth")),
        Kind("pattern", "pattern", "pattern", "/patterns/{id}", "/patterns", copied=("piece", "piece_shape", "sheet")),
        Kind("cloth", "cloth", "cloth", "/cloths/{id}", "/cloths"),
        Kind("person", "person", "person", "/people/{id}", "/people", can_copy=False),
        Kind("supply", "supply", "supply", "", "/supplies"),
        Kind("shop", "shop", "shop", "", "/shops"),
        Kind(
            "set", "measurement_set", "set of measurements", "", "/people",
            "select 'Measured ' || taken_on from measurement_set where id = :id", renamed=False, can_copy=False, put_away=False,
        ),
        Kind(
            "piece", "piece", "piece", "", "/patterns",
            "select number || ' ' || json_extract(facts, '$.name') from piece where id = :id",
            renamed=False, can_copy=False, put_away=False,
        ),
        Kind(
            "note", "note", "note", "", "/", "select text from note where id = :id", can_copy=False, put_away=False, column="text",
        ),
        Kind(
            "fit-note", "fit_note", "finding", "", "/", "select place || ', ' || fault from fit_note where id = :id", renamed=False,
            can_copy=False, put_away=False,
        ),
        Kind("file", "intake", "file", "/patterns/intake/{id}", "/patterns/intake", renamed=False, can_copy=False, put_away=False),
    )
}  # fmt: skip
DEMO: tuple[tuple[str, str], ...] = (
    ("intake", "demo = 1"),
    ("make", "demo = 1"),
    ("pattern", "demo = 1 and id not in (select pattern_id from make where demo = 0)"),
    (
        "cloth",
        "demo = 1 and id not in (select c.cloth_id from make_cloth c join make m on m.id = c.make_id where m.demo = 0)",
    ),
    ("person", "demo = 1"),
    ("supply", "demo = 1"),
    ("shop", "demo = 1"),
)


@dataclass(frozen=True)
class Binned:
    """Something that was deleted and can be taken back."""

    id: int
    kind: str
    name: str
    at: str

    @property
    def said(self) -> str:
        """What kind of thing it was, in words."""
        return KINDS[self.kind].said if self.kind in KINDS else self.kind


def kind_of(name: str) -> Kind:
    """A kind by its name. Raises NotFound."""
    if name not in KINDS:
        raise NotFound("There is no such kind of thing.")
    return KINDS[name]


def title_of(conn: sqlite3.Connection, kind: Kind, id_: int) -> str:
    """What a thing is called. Raises NotFound."""
    row = conn.execute(kind.title.format(table=kind.table), {"id": id_}).fetchone()
    if row is None:
        raise NotFound(f"There is no such {kind.said}.")
    return str(row[0])


def used_by(conn: sqlite3.Connection, kind: Kind, id_: int) -> list[str]:
    """The names of what could not be without this thing: it cannot be deleted while they are there."""
    return [name for names in gathered(conn, kind.table, "id = :id", {"id": id_}).holders.values() for name in names]


def goes_with(conn: sqlite3.Connection, kind: Kind, id_: int) -> dict[str, int]:
    """How many rows of which tables are deleted with a thing, and (as `... only left without it`) loosened from it."""
    found = gathered(conn, kind.table, "id = :id", {"id": id_})
    counts: dict[str, int] = {}
    for table, _ in found.rows[1:]:
        counts[table] = counts.get(table, 0) + 1
    return counts


def delete(conn: sqlite3.Connection, kind: Kind, id_: int, at: datetime) -> int:
    """Delete a thing with what depends on it; the bin's number, by which it is taken back.

    Raises:
        NotFound: it is not there. StillUsed: others need it.
    """
    name = title_of(conn, kind, id_)
    found = gathered(conn, kind.table, "id = :id", {"id": id_})
    if found.holders:
        users = ", ".join(f"“{name}”" for names in found.holders.values() for name in names[:5])
        raise StillUsed(
            f"“{name}” is used by {users}. Delete or change those first; or put it away, out of the lists, and they keep it."
        )
    bin_id = _put_in_bin(conn, kind.name, name, found, at)
    touch_owners(conn, *found.rows[0])
    conn.execute(f"delete from {kind.table} where id = :id", {"id": id_})
    return bin_id


PICTURES = {
    "pattern": ("photos", "$"),
    "cloth": ("facts", "$.pictures"),
    "make": ("pictures", "$"),
}  # where a thing's pictures are named


def drop_picture(conn: sqlite3.Connection, kind: Kind, id_: int, picture: str, at: datetime) -> int:
    """Take a picture from a thing; the bin's number, by which it comes back. The file itself stays.

    Raises:
        NotFound: the thing has no such picture.
    """
    column, path = PICTURES[kind.name]
    name = title_of(conn, kind, id_)
    asked = f"select json_extract({column}, :path) as named from {kind.table} where id = :id"
    row = conn.execute(asked, {"path": path, "id": id_}).fetchone()
    before = json.loads(row["named"] or "[]")
    if picture not in before:
        raise NotFound("There is no such picture.")
    left = json.dumps([p for p in before if p != picture])
    new = ":left" if path == "$" else f"json_set({column}, '{path}', json(:left))"
    conn.execute(
        f"update {kind.table} set {column} = {new}, version = version + 1 where id = :id", {"left": left, "id": id_}
    )
    document = {"rows": [], "loose": [], "picture": [kind.name, id_, picture]}
    when = at.isoformat(timespec="seconds")
    values = {"kind": "picture", "name": f"Picture of {name}"[:80], "rows": json.dumps(document), "at": when}
    empty_bin(conn, at)
    return inserted(conn.execute("insert into bin (kind, name, rows, at) values (:kind, :name, :rows, :at)", values))


def _picture_back(conn: sqlite3.Connection, kind_name: str, id_: int, picture: str) -> tuple[str, int]:
    kind = KINDS[kind_name]
    title_of(conn, kind, id_)
    column, path = PICTURES[kind_name]
    conn.execute(
        f"update {kind.table} set {column} = json_insert({column}, '{path}[#]', :picture), version = version + 1 "
        "where id = :id",
        {"picture": picture, "id": id_},
    )
    return kind_name, id_


def clear_demo(conn: sqlite3.Connection, at: datetime) -> int | None:
    """Take the demo data away, save what a make of the user's own still needs; the bin's number, None where there was none."""
    found = Rows()
    for table, which in DEMO:
        some = gathered(conn, table, which, {})
        for name, row in some.rows:
            found.add(name, row)
        found.loose += some.loose
    if not found.rows:
        return None
    order = tables_in_order(conn)
    found.rows.sort(key=lambda entry: order.index(entry[0]))
    found.loose = [entry for entry in found.loose if not any(_same(conn, entry, row) for row in found.rows)]
    bin_id = _put_in_bin(conn, "household", "The demo data", found, at)
    for table, which in DEMO:
        conn.execute(f"delete from {table} where {which}")
    return bin_id


def _same(conn: sqlite3.Connection, loose: tuple[str, Row, str, Any], entry: tuple[str, Row]) -> bool:
    table, key, _, _ = loose
    return entry[0] == table and all(entry[1].get(name) == value for name, value in key.items())


def _put_in_bin(conn: sqlite3.Connection, kind: str, name: str, found: Rows, at: datetime) -> int:
    empty_bin(conn, at)
    document = {
        "rows": [[table, plain(row)] for table, row in found.rows],
        "loose": [[table, plain(key), column, value] for table, key, column, value in found.loose],
    }
    values = {"kind": kind, "name": name[:80], "rows": json.dumps(document), "at": at.isoformat(timespec="seconds")}
    return inserted(conn.execute("insert into bin (kind, name, rows, at) values (:kind, :name, :rows, :at)", values))


def empty_bin(conn: sqlite3.Connection, now: datetime) -> None:
    """Forget what was deleted more than thirty days ago."""
    conn.execute(
        "delete from bin where at < :before", {"before": (now - timedelta(days=DAYS)).isoformat(timespec="seconds")}
    )


def bin_list(conn: sqlite3.Connection, now: datetime) -> list[Binned]:
    """What was deleted in the last thirty days, the last one first."""
    since = (now - timedelta(days=DAYS)).isoformat(timespec="seconds")
    rows = conn.execute("select id, kind, name, at from bin where at >= :since order by id desc", {"since": since})
    return [Binned(row["id"], row["kind"], row["name"], row["at"]) for row in rows]


def binned(conn: sqlite3.Connection, bin_id: int) -> Binned | None:
    """One of those, None where it is not in the bin any more."""
    row = conn.execute("select id, kind, name, at from bin where id = :id", {"id": bin_id}).fetchone()
    return Binned(row["id"], row["kind"], row["name"], row["at"]) if row else None


def forget(conn: sqlite3.Connection, bin_id: int) -> None:
    """Delete for good."""
    conn.execute("delete from bin where id = :id", {"id": bin_id})


def take_back(conn: sqlite3.Connection, bin_id: int) -> tuple[str, int]:
    """Put what was deleted in its place again; its kind and its id, which is new where another took the old one.

    Raises:
        NotFound: it is not in the bin. CannotComeBack: what it belonged to is gone, or its place is taken.
    """
    row = conn.execute("select kind, name, rows from bin where id = :id", {"id": bin_id}).fetchone()
    if row is None:
        raise NotFound("That is not there to be taken back any more.")
    document = json.loads(row["rows"])
    if "picture" in document:
        forget(conn, bin_id)
        return _picture_back(conn, *document["picture"])
    try:
        ids = insert_rows(conn, [(table, full(values)) for table, values in document["rows"]])
        for table, key, column, value in document["loose"]:
            where = " and ".join(f"{name} = :key_{name}" for name in key)
            keys = {f"key_{name}": part for name, part in key.items()}
            parent = next(link.parent for link in links_of(conn) if link.table == table and link.column == column)
            new = ids.get((parent, value), value)
            conn.execute(
                f"update {table} set {column} = :value where {where} and {column} is null", {"value": new, **keys}
            )
    except sqlite3.IntegrityError as error:
        raise CannotComeBack(
            f"“{row['name']}” cannot come back yet: what it belonged to was deleted too, or another has taken its place. "
            "Take that one back first, or rename the other."
        ) from error
    forget(conn, bin_id)
    first_table, first = document["rows"][0]
    touch_owners(conn, first_table, first)
    return str(row["kind"]), int(ids.get((first_table, first.get("id")), first.get("id") or 0))


def copy(conn: sqlite3.Connection, kind: Kind, id_: int, name: str) -> int:
    """Copy a thing with what belongs to it under a new name; the copy's id. Raises NotFound."""
    title_of(conn, kind, id_)
    found = gathered(conn, kind.table, "id = :id", {"id": id_})
    wanted = {kind.table, *kind.copied}
    rows = [(table, dict(row)) for table, row in found.rows if table in wanted]
    first = rows[0][1]
    first["name"] = name
    for given, value in (("demo", 0), ("version", 1), ("put_away", None), ("finished_on", None)):
        if given in first:
            first[given] = value
    if "facts" in first and kind.table in ("cloth", "supply", "shop"):
        first["facts"] = json.dumps({**json.loads(first["facts"]), "name": name})
    if "envelope" in first:
        first["envelope"] = json.dumps({**json.loads(first["envelope"]), "name": name})
    return insert_rows(conn, rows, anew=True)[(kind.table, first["id"])]


def rename(conn: sqlite3.Connection, kind: Kind, id_: int, name: str, seen: str | None = None) -> None:
    """Call a thing otherwise; its version goes on. Raises NotFound; ChangedMeanwhile where its name is not the one `seen`."""
    if title_of(conn, kind, id_) != seen and seen is not None:
        raise ChangedMeanwhile(kind.name)
    document = {"cloth": "facts", "supply": "facts", "shop": "facts", "pattern": "envelope"}.get(kind.table)
    more = f", {document} = json_set({document}, '$.name', :name)" if document else ""
    more += ", version = version + 1" if has_version(conn, kind.table) else ""
    conn.execute(f"update {kind.table} set {kind.column} = :name{more} where id = :id", {"name": name, "id": id_})


def put_away(conn: sqlite3.Connection, kind: Kind, id_: int, at: datetime | None) -> None:
    """Put a thing away: out of the lists, kept whole; or, without a time, take it out again. Raises NotFound."""
    title_of(conn, kind, id_)
    when = at.isoformat(timespec="seconds") if at else None
    conn.execute(
        f"update {kind.table} set put_away = :at, version = version + 1 where id = :id", {"at": when, "id": id_}
    )


def away(conn: sqlite3.Connection) -> list[tuple[Kind, int, str, str]]:
    """Everything that is put away: its kind, id, name and since when, the last one first."""
    found = [
        (kind, row["id"], row["name"], row["put_away"])
        for kind in KINDS.values()
        if kind.put_away
        for row in conn.execute(f"select id, name, put_away from {kind.table} where put_away is not null")
    ]
    return sorted(found, key=lambda entry: entry[3], reverse=True)
