"""Everything out as one folder in open formats: JSON by table with schemas, CSV, SVG, pictures.

Who may come in, what was deleted and what is worked out again stay behind.
"""

import base64
import json
import re
import sqlite3
import zipfile
from datetime import datetime
from pathlib import Path
from typing import Any, BinaryIO

from rowanseed import __version__
from rowanseed.formats.csv_table import as_csv
from rowanseed.formats.pattern_json import write_pattern
from rowanseed.formats.pattern_svg import pattern_svg
from rowanseed.store import backups, cloths, makes, patterns, people, photos, stash
from rowanseed.store.opening import latest_version
from rowanseed.store.rows import tables_in_order

FORMAT, VERSION = "rowanseed-folder", 1
BEHIND = frozenset({"session", "guest", "attempt", "bin", "thing", "yardage_cell"})
SECRET = ("passphrase", "secret")
DOCUMENTS = frozenset({"facts", "plan", "envelope", "shape", "lay", "options", "result", "state", "photos", "value"})
KINDS_JSON = {"INTEGER": "integer", "REAL": "number", "TEXT": "string", "BLOB": "object"}
README = """Everything of a Rowanseed household, in open formats.

data/*.json      every table, a list of rows; lengths are millimetres, with the text as it was typed beside them
schemas/*.json   JSON Schemas (draft 2020-12) of those files
tables/*.csv     people's measurements, cloths, supplies, makes and notes, for a spreadsheet
patterns/        each pattern as a pattern file and its pieces to true size as SVG
pictures/        the photographs

Rowanseed takes the whole of it in again, under Settings or with “rowanseed import”.
"""


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
