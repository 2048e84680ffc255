"""Rows that belong together, found and put back by the schema's own foreign keys: a table that is added later takes part."""

import base64
import json
import sqlite3
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

Row = dict[str, Any]
TABLES = """
select name from sqlite_master where type = 'table' and name not like 'sqlite_%' and name not like 'found%' and name <> 'thing'
"""
# Where a document speaks of rows by their numbers: the table and column, the document's key, the table whose numbers are its keys.
DOCUMENT_LINKS = (("make", "plan", "zones", "make_garment"), ("make", "plan", "answered", "fit_note"))
NEVER_KEPT = frozenset({"session", "guest", "attempt", "yardage_cell"})  # who may come in; what is worked out again


@dataclass(frozen=True)
class Link:
    """A foreign key: rows of `table` speak in `column` of rows of `parent`, by its column `key`."""

    table: str
    column: str
    parent: str
    key: str
    rule: str


@dataclass
class Rows:
    """Rows that go together, parents first, and what is loosened by it: (table, row's key, column, value)."""

    rows: list[tuple[str, Row]] = field(default_factory=list)
    loose: list[tuple[str, Row, str, Any]] = field(default_factory=list)
    holders: dict[str, list[str]] = field(default_factory=dict)
    seen: set[str] = field(default_factory=set)

    def add(self, table: str, row: Row) -> bool:
        """Add a row unless it is there; whether it was added."""
        mark = f"{table} {json.dumps(plain(row), sort_keys=True)}"
        if mark in self.seen:
            return False
        self.seen.add(mark)
        self.rows.append((table, row))
        return True


def touch_owners(conn: sqlite3.Connection, table: str, row: Row) -> None:
    """What a thing is a part of has changed: its version goes on, so that nothing worked out of it before is taken for it."""
    for link in links_of(conn):
        if link.table == table and link.rule == "CASCADE" and has_version(conn, link.parent):
            conn.execute(
                f"update {link.parent} set version = version + 1 where {link.key} = :value",
                {"value": row.get(link.column)},
            )


def owners(conn: sqlite3.Connection, table: str) -> list[Link]:
    """What rows of a table are a part of: deleted with it."""
    return [link for link in links_of(conn) if link.table == table and link.rule == "CASCADE"]


def has_version(conn: sqlite3.Connection, table: str) -> bool:
    """Whether rows of a table have versions."""
    return any(info["name"] == "version" for info in conn.execute(f'pragma table_info("{table}")'))


def insert_rows(
    conn: sqlite3.Connection, rows: list[tuple[str, Row]], anew: bool = False, ids: dict[tuple[str, Any], int] | None = None
) -> dict[tuple[str, Any], int]:  # fmt: skip
    """Insert rows, parents first; those whose id is taken (with `anew`, all) get a new one, and what speaks of them follows.

    Args:
        ids: new ids that are known before, of things that are there already.
    Returns:
        The new ids, by table and old id, of the rows that got one.
    """
    links = links_of(conn)
    ids = {} if ids is None else ids
    household = set(tables(conn))
    for table, row in rows:
        if table not in household:
            raise sqlite3.IntegrityError(
                f"no table {table!r}"
            )  # a row that was kept as a document names its table itself
        known = {info["name"] for info in conn.execute(f'pragma table_info("{table}")')}
        values = {name: value for name, value in row.items() if name in known}
        for link in links:
            if link.table == table and (link.parent, values.get(link.column)) in ids:
                values[link.column] = ids[(link.parent, values[link.column])]
        if "id" in values:
            taken = conn.execute(f"select 1 from {table} where id = :id", {"id": values["id"]}).fetchone()
            if anew or taken:
                old = values.pop("id")
                ids[(table, old)] = _insert(conn, table, values)
                continue
        _insert(conn, table, values)
    _renumber_documents(conn, rows, ids)
    return ids


def _renumber_documents(
    conn: sqlite3.Connection, rows: list[tuple[str, Row]], ids: Mapping[tuple[str, Any], int]
) -> None:
    """Let the documents of inserted rows speak of other rows by their new numbers."""
    for table, column, _, _ in DOCUMENT_LINKS:
        for name, row in rows:
            document = renumbered(table, row, ids).get(column) if name == table else None
            if document is not None and document != row.get(column):
                now = ids.get((table, row["id"]), row["id"])
                conn.execute(
                    f"update {table} set {column} = :document where id = :id", {"document": document, "id": now}
                )


def renumbered(table: str, row: Mapping[str, Any], ids: Mapping[tuple[str, Any], int]) -> Row:
    """Return a row whose documents speak of other rows by new numbers, where they have got some."""
    new = dict(row)
    for owner, column, key, parent in DOCUMENT_LINKS:
        if owner != table or not isinstance(new.get(column), str):
            continue
        document = json.loads(new[column])
        spoken = document.get(key) or {}
        if any(old.isdecimal() and (parent, int(old)) in ids for old in spoken):
            document[key] = {
                str(ids.get((parent, int(old)), old)) if old.isdecimal() else old: value
                for old, value in spoken.items()
            }
            new[column] = json.dumps(document, separators=(",", ":"), ensure_ascii=False)
    return new


def _insert(conn: sqlite3.Connection, table: str, values: Row) -> int:
    names = ", ".join(values)
    marks = ", ".join(f":{name}" for name in values)
    return conn.execute(f"insert into {table} ({names}) values ({marks})", values).lastrowid or 0


def gathered(conn: sqlite3.Connection, table: str, which: str, values: Row) -> Rows:
    """The rows of a table that are meant, with all that depends on them, parents first."""
    found = Rows()
    todo = [(table, dict(row)) for row in conn.execute(f"select * from {table} where {which}", values)]
    links = links_of(conn)
    while todo:
        name, row = todo.pop(0)
        if not found.add(name, row):
            continue
        for link in links:
            if link.parent != name or link.table in NEVER_KEPT or row.get(link.key) is None:
                continue
            for child in conn.execute(
                f"select * from {link.table} where {link.column} = :value", {"value": row[link.key]}
            ):
                if link.rule == "CASCADE":
                    todo.append((link.table, dict(child)))
                elif link.rule == "SET NULL":
                    found.loose.append(
                        (link.table, key_of(conn, link.table, dict(child)), link.column, child[link.column])
                    )
                else:
                    found.holders.setdefault(link.table, []).append(_holder(conn, link.table, dict(child)))
    order = tables_in_order(conn)
    found.rows.sort(key=lambda entry: order.index(entry[0]))
    return found


def _holder(conn: sqlite3.Connection, table: str, row: Row) -> str:
    """What to call a row that holds a thing: the make whose cloth it is, or its own name."""
    if "make_id" in row:
        return str(conn.execute("select name from make where id = :id", {"id": row["make_id"]}).fetchone()[0])
    return str(row.get("name", table))


def key_of(conn: sqlite3.Connection, table: str, row: Row) -> Row:
    """What tells a row from others of its table."""
    names = [info["name"] for info in conn.execute(f'pragma table_info("{table}")') if info["pk"]]
    return {name: row[name] for name in names}


def tables(conn: sqlite3.Connection) -> list[str]:
    """Every table that holds something of the household's, in no order."""
    return [row["name"] for row in conn.execute(TABLES)]


def links_of(conn: sqlite3.Connection) -> list[Link]:
    """Every foreign key of the schema."""
    return list(_each_link(conn))


def _each_link(conn: sqlite3.Connection) -> Iterator[Link]:
    for table in tables(conn):
        for row in conn.execute(f'pragma foreign_key_list("{table}")'):
            yield Link(table, row["from"], row["table"], row["to"] or "id", row["on_delete"])


def tables_in_order(conn: sqlite3.Connection) -> list[str]:
    """Every table, each after those that its rows speak of."""
    links, left, done = links_of(conn), tables(conn), list[str]()
    while left:
        ready = [t for t in left if all(k.parent in done or k.parent == t for k in links if k.table == t)]
        done += ready
        left = [t for t in left if t not in ready]
    return done


def plain(row: Mapping[str, Any]) -> Row:
    """A row as JSON can hold it."""
    return {name: {"base64": base64.b64encode(v).decode()} if isinstance(v, bytes) else v for name, v in row.items()}


def full(row: Mapping[str, Any]) -> Row:
    """A row as the database holds it, from `plain`."""
    return {name: base64.b64decode(v["base64"]) if isinstance(v, dict) else v for name, v in row.items()}
