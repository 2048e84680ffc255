"""Rows of a database from elsewhere, copied into one of our own making: never its schema, and only what our models read.

The file's schema is compared with what our migrations make at its version before a row is read; triggers, views and whatever else
it has beyond that are refused by name, since no Rowanseed wrote them.
"""

import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from rowanseed.store import db
from rowanseed.store.household_file.row_models import ROW_MODELS, trouble_with
from rowanseed.store.photos import NAMED
from rowanseed.store.rows import key_of, owners, tables_in_order
from rowanseed.store.schema import beyond, lacking, make_at, schema_at, schema_of

MOST_TOLD = 5
LONGEST_VALUE = 200_000_000  # bytes: a pattern file that was sent, kept as it came
AT_A_TIME = 500


class Unsound(Exception):
    """A household from elsewhere that cannot be taken; its text says why."""


@dataclass(frozen=True)
class Fault:
    """A row that cannot be read: its table and what it is called, the thing it is part of, and why."""

    table: str
    row: str
    kind: str
    thing: str
    why: str

    def words(self) -> str:
        """In one sentence."""
        of = f"{self.kind} “{self.thing}”" if self.thing else f"the table “{self.table}”"
        part = "" if self.table == self.kind else f", in its {self.table.replace('_', ' ')} {self.row}".rstrip()
        return f"{of[:1].upper()}{of[1:]}{part}: {self.why}."


def copy_rows(source: Path, target: Path, extra: bool = False) -> int:
    """Copy a household's rows into a new database of its version, and bring that up to date; the version it was of.

    Nothing in the source is run, and it is not written to. The search index is built anew.

    Args:
        extra: copy also where the source has more than its version has, and leave that behind.
    Raises:
        Unsound: the source is of no version, or has more, or less, than its version has; or its rows cannot be read.
    """
    uri = f"{source.absolute().as_uri()}?mode=ro&immutable=1"
    with closing(sqlite3.connect(uri, uri=True, isolation_level=None)) as held, closing(db.connect(target)) as made:
        held.row_factory = sqlite3.Row
        held.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LONGEST_VALUE)
        held.execute("pragma trusted_schema = off")
        held.execute("pragma cell_size_check = on")
        version = int(held.execute("pragma user_version").fetchone()[0])
        refuse_other_schema(held, version, extra)
        made.execute("pragma foreign_keys = off")
        made.execute("pragma synchronous = off")  # a new file that is thrown away when anything goes wrong
        make_at(made, version)
        with db.write(made):
            for table, columns in schema_at(version).columns.items():
                if table in ROW_MODELS:
                    _copy_table(held, made, table, columns)
            if ("table", "thing") in schema_at(version).objects:
                _keep_last_used(held, made)
        db.migrate(made)
    return version


def refuse_other_schema(conn: sqlite3.Connection, version: int, extra: bool = False) -> None:
    """Raise Unsound where a database has more or less than our migrations make at its version."""
    if version < 1:
        raise Unsound("its database is empty")
    found = schema_of(conn)
    more, missing = beyond(found, version), lacking(found, version)
    if more and not extra:
        raise Unsound(f"its database holds what no Rowanseed writes: {_some(more)}. Something else has changed it")
    if missing:
        raise Unsound(f"its database lacks {_some(missing)}")


def _some(names: list[str]) -> str:
    more = f" and {len(names) - MOST_TOLD} more" if len(names) > MOST_TOLD else ""
    return ", ".join(names[:MOST_TOLD]) + more


def _copy_table(held: sqlite3.Connection, made: sqlite3.Connection, table: str, columns: tuple[str, ...]) -> None:
    names = ", ".join(f'"{name}"' for name in columns)
    marks = ", ".join("?" for _ in columns)
    try:
        rows = held.execute(f'select {names} from "{table}"')
        while batch := rows.fetchmany(AT_A_TIME):
            made.executemany(f'insert into "{table}" ({names}) values ({marks})', [tuple(row) for row in batch])
    except sqlite3.Error as error:  # a trigger that reads JSON, a key that is there twice, text that is not UTF-8
        raise Unsound(f"the rows of “{table}” cannot be read ({error})") from error


def _keep_last_used(held: sqlite3.Connection, made: sqlite3.Connection) -> None:
    """Keep when each thing was used last, which the triggers that found it anew do not know."""
    for kind, ref, used_at in held.execute("select kind, ref, used_at from thing").fetchall():
        if isinstance(used_at, str) and len(used_at) < 30:
            made.execute("update thing set used_at = ? where kind = ? and ref = ?", (used_at, kind, ref))


def faults_in(conn: sqlite3.Connection, pictures: frozenset[str] | None = None) -> Iterator[Fault]:
    """Read every row of an up-to-date household through its model; what cannot be read, with why.

    Args:
        pictures: the names of the pictures that are there; None not to ask for them.
    """
    for table in ROW_MODELS:
        for row in conn.execute(f"select * from {table}"):
            values = dict(row)
            why = trouble_with(table, values)
            if not why and pictures is not None and table != "bin":
                named = {n for v in values.values() if isinstance(v, str) for n in NAMED.findall(v)}
                gone = sorted(named - pictures)
                why = f"its picture {gone[0]} is missing" if gone else ""
            if why:
                yield _fault(conn, table, values, why)
    for table, rowid, parent, _ in conn.execute("pragma foreign_key_check").fetchall():
        row = conn.execute(f"select * from {table} where rowid = ?", (rowid,)).fetchone() if rowid else None
        yield _fault(conn, table, dict(row) if row else {}, f"it speaks of a {parent} that is not there")


def _fault(conn: sqlite3.Connection, table: str, row: Mapping[str, Any], why: str) -> Fault:
    kind, owner = top_of(conn, table, dict(row))
    key = key_of(conn, table, dict(row)) if row else {}
    said = " ".join(str(value) for name, value in key.items() if not name.endswith("_id") and name != "id")
    return Fault(table, said, kind, str(owner.get("name", "")), why)


def top_of(conn: sqlite3.Connection, table: str, row: dict[str, Any]) -> tuple[str, dict[str, Any]]:
    """Return the thing that a row is part of, as its table and its row: itself where it is part of none."""
    for _ in range(len(ROW_MODELS)):
        found = None
        for link in owners(conn, table):
            found = conn.execute(
                f"select * from {link.parent} where {link.key} = :value", {"value": row.get(link.column)}
            ).fetchone()
            if found is not None:
                table, row = link.parent, dict(found)
                break
        if found is None:
            break
    return table, row


THINGS = ("person", "pattern", "cloth", "supply", "shop", "make", "intake")


def leave_out(conn: sqlite3.Connection, pictures: frozenset[str] | None) -> list[str]:
    """Delete the things that have a row which cannot be read, and what cannot be without them; what is lost, in sentences.

    A missing picture costs nothing but the picture: the thing stays.
    """
    left, before = list[str](), _things(conn)
    while bad := list(_with_rows(conn)):
        for kind, row, fault in bad:
            left.append(fault.words())
            key = key_of(conn, kind, row)
            where = " and ".join(f"{name} is :{name}" for name in key)
            conn.execute(f"delete from {kind} where {where}", key)
        _drop_all_orphans(conn)
    _drop_all_orphans(conn)
    left += [fault.words() for fault in faults_in(conn, pictures)]  # only missing pictures are left to be told
    after = _things(conn)
    gone = [f"{kind} “{name}”" for (kind, id_), name in before.items() if (kind, id_) not in after]
    return [*left, f"Left out: {', '.join(gone)}."] if gone else left


def _things(conn: sqlite3.Connection) -> dict[tuple[str, int], str]:
    return {
        (kind, row["id"]): str(row["name"]) for kind in THINGS for row in conn.execute(f"select id, name from {kind}")
    }


def _drop_all_orphans(conn: sqlite3.Connection) -> None:
    for table in tables_in_order(conn):  # each after those that its rows speak of, so that one pass is enough
        _drop_orphans(conn, table)


def _with_rows(conn: sqlite3.Connection) -> Iterator[tuple[str, dict[str, Any], Fault]]:
    for table in ROW_MODELS:
        for found in conn.execute(f"select * from {table}").fetchall():
            row = dict(found)
            why = trouble_with(table, row)
            if why:
                kind, owner = top_of(conn, table, row)
                yield kind, owner, _fault(conn, table, row, why)


def _drop_orphans(conn: sqlite3.Connection, table: str) -> None:
    """Delete rows that speak of what is not there; where the schema says they may do without it, they do."""
    for info in conn.execute(f'pragma foreign_key_list("{table}")').fetchall():
        gone = (
            f"{info['from']} is not null and {info['from']} not in (select {info['to'] or 'id'} from {info['table']})"
        )
        if info["on_delete"] == "SET NULL":
            conn.execute(f"update {table} set {info['from']} = null where {gone}")
        else:
            conn.execute(f"delete from {table} where {gone}")
