"""Everything out as one folder in open formats, and back in: JSON by table with schemas, CSV, SVG, pictures.

Who may come in, what was deleted and what is worked out again stay behind. Coming in, a thing that is there already is noticed
and left as it is; what has its number taken gets a new one; nothing is kept unless all of it can be read.
"""

import base64
import json
import re
import sqlite3
import zipfile
import zlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any, BinaryIO

from pydantic import ValidationError

from rowanseed import __version__
from rowanseed.core.errors import RowanseedError
from rowanseed.formats.csv_table import as_csv
from rowanseed.formats.pattern_json import write_pattern
from rowanseed.formats.pattern_svg import pattern_svg
from rowanseed.store import backups, cloths, db, makes, patterns, people, photos, stash
from rowanseed.store.opening import latest_version
from rowanseed.store.rows import insert_rows, owners, tables_in_order
from rowanseed.store.settings import settings

FORMAT, VERSION = "rowanseed-folder", 1
BEHIND = frozenset({"session", "guest", "attempt", "bin", "thing", "yardage_cell"})
SECRET = ("passphrase", "secret")
DOCUMENTS = frozenset({"facts", "plan", "envelope", "shape", "lay", "options", "result", "state", "photos", "value"})
TOP = ("person", "pattern", "cloth", "supply", "shop", "make", "intake")
UNLIKE = frozenset({"id", "version", "demo", "put_away", "pattern_id", "at"})  # what may differ between two of the same
ALONE = {"setting": "key", "got": "item"}  # tables of no thing: what is there stays
UNREADABLE = "Something in this folder is not what its schema says it is: nothing was taken in."
KINDS_JSON = {"INTEGER": "integer", "REAL": "number", "TEXT": "string", "BLOB": "object"}
MOST_BYTES, MOST_DATA_BYTES = 2_000_000_000, 300_000_000  # of all of it; of the tables, which are read whole
README = """Everything of a Rowanseed household, in open formats.

data/*.json      every table, a list of rows; lengths are millimetres, with the text as it was typed beside them
schemas/*.json   JSON Schemas (draft 2020-12) of those files
tables/*.csv     people's measurements, cloths, supplies, makes and notes, for a spreadsheet
patterns/        each pattern as a pattern file and its pieces to true size as SVG
pictures/        the photographs

Rowanseed takes the whole of it in again, under Settings or with “rowanseed import”.
"""


class ExchangeError(RowanseedError):
    """A folder that cannot be taken in."""

    code = "exchange"


@dataclass(frozen=True)
class TakenIn:
    """What came in: how many things of each kind are new, and the names of those that were there already."""

    new: Mapping[str, int]
    known: tuple[str, ...]


def give_out(conn: sqlite3.Connection, database: Path, target: BinaryIO) -> None:
    """Write everything to a zip of the folder."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as out:
        out.writestr("README.txt", README)
        counts: dict[str, int] = {}
        for table in tables_in_order(conn):
            if table in BEHIND:
                continue
            rows = [
                _readable(dict(row)) for row in conn.execute(f"select * from {table}") if not _is_secret(table, row)
            ]
            counts[table] = len(rows)
            out.writestr(f"data/{table}.json", json.dumps(rows, indent=1, ensure_ascii=False))
            out.writestr(f"schemas/{table}.schema.json", json.dumps(_schema(conn, table), indent=1))
        head = {"format": FORMAT, "version": VERSION, "app": __version__, "schema": latest_version(), "counts": counts,
                "made_at": datetime.now().isoformat(timespec="seconds")}  # fmt: skip
        out.writestr("manifest.json", json.dumps(head, indent=1))
        for name, text in _tables(conn):
            out.writestr(f"tables/{name}.csv", text)
        for row in conn.execute("select id from pattern order by id").fetchall():
            pattern = patterns.pattern(conn, row["id"]).pattern
            stem = f"patterns/{row['id']}-{re.sub(r'[^a-z0-9]+', '-', pattern.name.lower()).strip('-')[:40]}"
            out.writestr(f"{stem}.json", write_pattern(pattern))
            if any(piece.shapes for piece in pattern.pieces):
                out.writestr(f"{stem}.svg", pattern_svg(pattern))
        folder = photos.folder(database)
        for name in backups.pictures_in(conn):
            if (folder / name).is_file():
                out.write(folder / name, f"pictures/{name}", compress_type=zipfile.ZIP_STORED)


def _is_secret(table: str, row: sqlite3.Row) -> bool:
    return table == "setting" and row["key"] in SECRET


def _readable(row: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in row.items():
        if isinstance(value, bytes):
            found[name] = {"base64": base64.b64encode(value).decode()}
        else:
            found[name] = json.loads(value) if name in DOCUMENTS and _is_document(value) else value
    return found


def _is_document(value: object) -> bool:
    return isinstance(value, str) and value.startswith(("{", "["))


def _stored(row: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in row.items():
        if name in DOCUMENTS and isinstance(value, dict | list):
            found[name] = json.dumps(value, separators=(",", ":"), ensure_ascii=False)
        elif isinstance(value, dict):
            found[name] = base64.b64decode(value["base64"], validate=True)
        else:
            found[name] = value
    return found


def _schema(conn: sqlite3.Connection, table: str) -> dict[str, Any]:
    columns: dict[str, Any] = {}
    required = []
    for info in conn.execute(f'pragma table_info("{table}")'):
        kind = KINDS_JSON.get(info["type"].upper(), "string")
        needed = bool(info["notnull"] or info["pk"])
        columns[info["name"]] = {} if info["name"] in DOCUMENTS else {"type": kind if needed else [kind, "null"]}
        if needed and info["dflt_value"] is None:
            required.append(info["name"])
    item = {"type": "object", "properties": columns, "required": required}
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": table, "type": "array", "items": item}


def _tables(conn: sqlite3.Connection) -> list[tuple[str, str]]:
    measured = [
        (person.name, taken.taken_on.isoformat(), key, length.text, round(length.mm, 1))
        for person in people.people(conn, everyone=True) for taken in person.sets for key, length in taken.values.items()
    ]  # fmt: skip
    stashed = [
        (c.name, c.kind, c.width.text, c.length.text if c.length else "", c.fibre, c.care, c.note)
        for c in (stored.cloth for stored in cloths.cloths(conn))
    ]
    supplies = [(s.supply.kind, s.supply.name, s.supply.says("cm"), s.supply.note) for s in stash.supplies(conn)]
    every = makes.makes(conn)
    made = [
        (m.name, m.view, m.started_on.isoformat(), m.finished_on.isoformat() if m.finished_on else "") for m in every
    ]
    notes = [(m.name, n.written_on.isoformat(), n.kind, n.text) for m in every for n in makes.notes(conn, m.id)]
    return [
        ("measurements", as_csv(("person", "taken on", "measurement", "as typed", "mm"), measured)),
        ("cloths", as_csv(("name", "kind", "width", "length", "fibre", "care", "note"), stashed)),
        ("supplies", as_csv(("kind", "name", "there is", "note"), supplies)),
        ("makes", as_csv(("name", "view", "started", "finished"), made)),
        ("notes", as_csv(("make", "written on", "kind", "text"), notes)),
    ]


def take_in(conn: sqlite3.Connection, database: Path, source: BinaryIO) -> TakenIn:
    """Take a folder in, all of it or nothing; called in no transaction.

    Raises:
        ExchangeError: it is no such folder, of a newer version, or something in it cannot be read.
    """
    try:
        with zipfile.ZipFile(source) as packed:
            sizes = {info.filename: info.file_size for info in packed.infolist()}
            read_whole = sum(size for name, size in sizes.items() if name.startswith("data/"))
            if sum(sizes.values()) > MOST_BYTES or read_whole > MOST_DATA_BYTES:
                raise ExchangeError("That is too large to be taken in.", "file")
            tables = _read(conn, packed)
            taken = _insert(conn, tables)
            for name in packed.namelist():
                plain = name.removeprefix("pictures/")
                if plain != name and photos.NAME.match(plain):
                    photos.keep_named(database, plain, packed.read(name))
    except (zipfile.BadZipFile, zlib.error, EOFError, KeyError, NotImplementedError, UnicodeDecodeError) as error:
        raise ExchangeError("This is no folder of a Rowanseed household, or it is damaged.", "file") from error
    return taken


def _read(conn: sqlite3.Connection, packed: zipfile.ZipFile) -> list[tuple[str, dict[str, Any]]]:
    try:
        head = json.loads(packed.read("manifest.json"))
        if head["format"] != FORMAT:
            raise KeyError("format")
        if head["version"] > VERSION or head["schema"] > latest_version():
            raise ExchangeError("This folder was written by a newer Rowanseed. Install that one first.", "file")
        rows = []
        there = set(packed.namelist())
        for table in tables_in_order(conn):
            if table in BEHIND or f"data/{table}.json" not in there:
                continue
            known = {info["name"] for info in conn.execute(f'pragma table_info("{table}")')}
            for row in json.loads(packed.read(f"data/{table}.json")):
                rows.append((table, _stored({name: value for name, value in row.items() if name in known})))
        return rows
    except (ValueError, TypeError, AttributeError, RecursionError) as error:
        raise ExchangeError(UNREADABLE, "file") from error


def _insert(conn: sqlite3.Connection, rows: list[tuple[str, dict[str, Any]]]) -> TakenIn:
    new: dict[str, int] = {}
    known = list[str]()
    ids: dict[tuple[str, Any], int] = {}
    left = set[tuple[str, Any]]()
    here = {table: {_alike(dict(row)): row["id"] for row in conn.execute(f"select * from {table}")} for table in TOP}
    fresh = list[tuple[str, dict[str, Any]]]()
    for table, row in rows:
        same = here[table].get(_alike(row)) if table in TOP else None
        if same is not None:
            ids[(table, row.get("id"))] = same
            left.add((table, row.get("id")))
            known.append(str(row["name"]))
        elif table in ALONE and _is_there(conn, table, row):
            continue
        elif any((link.parent, row.get(link.column)) in left for link in owners(conn, table)):
            left.add((table, row.get("id")))
        else:
            fresh.append((table, row))
            if table in TOP:
                new[table] = new.get(table, 0) + 1
    try:
        with db.write(conn):
            insert_rows(conn, fresh, ids=ids)
            _read_all(conn)
    except (sqlite3.Error, ValidationError, RowanseedError, ValueError, TypeError, KeyError, OverflowError) as error:
        raise ExchangeError(UNREADABLE, "file") from error
    return TakenIn(new, tuple(known))


def _is_there(conn: sqlite3.Connection, table: str, row: Mapping[str, Any]) -> bool:
    name = ALONE[table]
    if table == "setting" and row.get(name) in SECRET:
        return True
    return conn.execute(f"select 1 from {table} where {name} = :value", {"value": row.get(name)}).fetchone() is not None


def _alike(row: Mapping[str, Any]) -> str:
    """What two rows share that are the same thing, whatever their numbers."""
    kept = {name: value for name, value in row.items() if name not in UNLIKE}
    for name in kept.keys() & DOCUMENTS:
        if _is_document(kept[name]):
            kept[name] = json.loads(kept[name])
    return json.dumps(kept, sort_keys=True, default=str)


def _read_all(conn: sqlite3.Connection) -> None:
    """Read everything once as the pages do: what cannot be read is not kept."""
    readers: tuple[Callable[[sqlite3.Connection], object], ...] = (
        settings, lambda c: people.people(c, everyone=True), cloths.cloths, stash.supplies, stash.shops,
    )  # fmt: skip
    for reader in readers:
        reader(conn)
    for row in conn.execute("select id from pattern").fetchall():
        patterns.pattern(conn, row["id"])
    for row in conn.execute("select id from make").fetchall():
        makes.make(conn, row["id"])
        makes.lays(conn, row["id"])
        makes.notes(conn, row["id"])
