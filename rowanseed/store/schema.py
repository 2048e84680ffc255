"""The schema that our migrations make at a version, and what a file has beyond it or lacks."""

import re
import sqlite3
from collections.abc import Mapping
from contextlib import closing
from dataclasses import dataclass
from functools import lru_cache

from rowanseed.store import db

OBJECTS = "select type, name, sql from sqlite_master where name not like 'sqlite_%' order by type, name"
WORKED_OUT = ("thing", "found")  # the search index: a table, and the virtual table with its shadows; triggers fill them


@dataclass(frozen=True)
class Schema:
    """A database's objects, (type, name), with their SQL, spaces evened; and each table's columns in order."""

    objects: Mapping[tuple[str, str], str]
    columns: Mapping[str, tuple[str, ...]]

    def tables(self) -> list[str]:
        """The tables that hold a household's own rows, in the order in which they were made."""
        return [name for name in self.columns if not is_worked_out(name)]


def is_worked_out(table: str) -> bool:
    """Return whether a table is filled by triggers, and so never taken from a file."""
    return table == WORKED_OUT[0] or table == WORKED_OUT[1] or table.startswith(WORKED_OUT[1] + "_")


def schema_of(conn: sqlite3.Connection) -> Schema:
    """Read a database's schema; nothing in it is run."""
    objects = {(row[0], row[1]): _evened(row[2]) for row in conn.execute(OBJECTS)}
    made = conn.execute(
        "select name from sqlite_master where type = 'table' and name not like 'sqlite_%' order by rowid"
    )
    columns = {}
    for (name,) in made.fetchall():
        quoted = name.replace('"', '""')
        # table_xinfo names generated and hidden columns too, which table_info passes over
        columns[name] = tuple(row[1] for row in conn.execute(f'pragma table_xinfo("{quoted}")'))
    return Schema(objects, columns)


def _evened(sql: str | None) -> str:
    return re.sub(r"\s+", " ", sql or "").strip().lower()


def make_at(conn: sqlite3.Connection, version: int) -> None:
    """Make the tables, indexes and triggers of a version of the data in an empty database."""
    db.migrate(conn, version)


@lru_cache(maxsize=32)
def schema_at(version: int) -> Schema:
    """Return the schema that our migrations make at a version of the data."""
    with closing(sqlite3.connect(":memory:")) as conn:
        conn.row_factory = sqlite3.Row
        make_at(conn, version)
        return schema_of(conn)


def beyond(found: Schema, version: int) -> list[str]:
    """Name what a file has that no Rowanseed of its version made: triggers, views, tables, indexes, columns."""
    ours = schema_at(version)
    named = []
    for (kind, name), sql in found.objects.items():
        own = ours.objects.get((kind, name))
        if own is None:
            named.append(f"{kind} “{name}”")
        elif kind != "table" and own != sql:
            named.append(f"{kind} “{name}”, changed")
        elif kind == "table" and ("virtual" in sql) != ("virtual" in own):
            named.append(f"table “{name}”, of another kind")
    for table, columns in found.columns.items():
        extra = [column for column in columns if table in ours.columns and column not in ours.columns[table]]
        named += [f"column “{column}” of “{table}”" for column in extra if not is_worked_out(table)]
    return named


def lacking(found: Schema, version: int) -> list[str]:
    """Name the tables and columns of a version of the data that a file lacks."""
    named = []
    for table, columns in schema_at(version).columns.items():
        if is_worked_out(table):
            continue
        if ("table", table) not in found.objects:
            named.append(f"table “{table}”")
        else:
            named += [f"column “{c}” of “{table}”" for c in columns if c not in found.columns.get(table, ())]
    return named
