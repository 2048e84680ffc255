"""A folder of open formats read in a process of its own into a household of our own making, as backups are.

Run as a module it takes a zip and a folder to work in, and makes `CLEAN` and the pictures there.
"""

import base64
import binascii
import json
import shutil
import sqlite3
import zipfile
import zlib
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from rowanseed.apart import Limits, Refused, TookTooMuch, run_module
from rowanseed.services.exchange.give_out import BEHIND, DOCUMENTS, FORMAT, SECRET, VERSION
from rowanseed.store import db, photos
from rowanseed.store.household_file.reading import CLEAN, MOST_FILES, MOST_RATIO, PICTURES, RATIO_FROM, poured
from rowanseed.store.household_file.rows_in import Fault, faults_in
from rowanseed.store.opening import latest_version
from rowanseed.store.schema import is_worked_out, make_at, schema_of

MOST_BYTES, MOST_DATA_BYTES, MOST_MANIFEST = 2_000_000_000, 300_000_000, 1_000_000
SECONDS, SECONDS_A_GB = 120.0, 300.0
NO_FOLDER = "This is no folder of a Rowanseed household, or it is damaged."
TOO_LARGE = "That is too large to be taken in."
NEWER = "This folder was written by a newer Rowanseed. Install that one first."
NOT_SOUND = "Something in this folder is not what its schema says it is: nothing was taken in. {why}"
MISSING = "picture"
NOT_THINGS = frozenset({"session", "guest", "attempt", "bin"})


class FolderRead(BaseModel):
    """What a folder held: when it was written, and the sentences about pictures that it speaks of and does not have."""

    made_at: str
    missing: list[str]


def read_folder(folder: Path, room: Path) -> FolderRead:
    """Read a folder's zip into `room`, in a process of its own. Raises Refused, with what to do."""
    limits = Limits(SECONDS + SECONDS_A_GB * folder.stat().st_size / 1e9)
    most = min(shutil.disk_usage(room).free, MOST_BYTES)
    try:
        return FolderRead.model_validate(run_module(__name__, [str(folder), str(room), str(most)], limits))
    except TookTooMuch as error:
        raise Refused("This takes more time or memory to read than any folder does.") from error


def apart(arguments: Sequence[str]) -> dict[str, Any]:
    """Read the folder's zip that is named into the folder that is named; what `FolderRead` holds."""
    folder, room, most = Path(arguments[0]), Path(arguments[1]), int(arguments[2])
    try:
        with zipfile.ZipFile(folder) as packed:
            head = _head(packed, most, folder.stat().st_size)
            with closing(db.connect(room / CLEAN)) as conn:
                _fill(conn, packed, int(head["schema"]))
                _unpack_pictures(packed, room)
                missing = _missing(conn, room)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, OSError) as error:
        raise Refused(NO_FOLDER) from error
    return FolderRead(made_at=str(head.get("made_at", ""))[:40], missing=missing).model_dump()


def _head(packed: zipfile.ZipFile, most: int, size: int) -> dict[str, Any]:
    said = {info.filename: info.file_size for info in packed.infolist()}
    data = sum(n for name, n in said.items() if name.startswith("data/"))
    total = sum(said.values())
    if total > most or data > MOST_DATA_BYTES or len(said) > MOST_FILES:
        raise Refused(TOO_LARGE)
    if total > RATIO_FROM and total > MOST_RATIO * size:
        raise Refused("This folder unpacks to far more than it can hold. It was not written by Rowanseed.")
    try:
        head = json.loads(_text(packed, "manifest.json", MOST_MANIFEST))
        if head["format"] != FORMAT:
            raise KeyError("format")
        if head["version"] > VERSION or head["schema"] > latest_version():
            raise Refused(NEWER)
        if not int(head["schema"]) >= 1:
            raise ValueError("schema")
        return dict(head)
    except (KeyError, ValueError, TypeError, RecursionError, AttributeError) as error:
        raise Refused(NO_FOLDER) from error


def _text(packed: zipfile.ZipFile, name: str, most: int) -> bytes:
    with packed.open(name) as file:
        text = file.read(most + 1)
    if len(text) > most:
        raise Refused(TOO_LARGE)
    return text


def _fill(conn: sqlite3.Connection, packed: zipfile.ZipFile, version: int) -> None:
    """Make the schema of the folder's version, put its rows in, bring that up to date, and read each by its model."""
    conn.execute("pragma foreign_keys = off")
    conn.execute("pragma synchronous = off")
    make_at(conn, version)
    left = MOST_DATA_BYTES
    try:
        with db.write(conn):
            for name in packed.namelist():
                if name.startswith("data/") and name.endswith(".json"):
                    text = _text(packed, name, left)
                    left -= len(text)
                    _fill_table(conn, name[len("data/") : -len(".json")], text)
        db.migrate(conn)
    except sqlite3.Error as error:
        raise Refused(NOT_SOUND.format(why=f"A row cannot be kept ({error}).")) from error
    wrong = next((fault for fault in faults_in(conn)), None)
    if wrong is not None:
        raise Refused(NOT_SOUND.format(why=wrong.words()))


def _fill_table(conn: sqlite3.Connection, table: str, text: bytes) -> None:
    columns = schema_of(conn).columns.get(table, ())
    if not columns or table in BEHIND or is_worked_out(table):
        raise Refused(NOT_SOUND.format(why=f"It has a table “{table[:40]}”, which no folder has."))
    for row in _rows(table, text):
        beyond = sorted(row.keys() - set(columns))
        if beyond:
            raise Refused(
                NOT_SOUND.format(why=f"data/{table}.json has “{beyond[0][:40]}”, which its schema does not name.")
            )
        if table == "setting" and row.get("key") in SECRET:
            continue
        marks = ", ".join(f":{name}" for name in row)
        conn.execute(f"insert into {table} ({', '.join(row)}) values ({marks})", _stored(table, row))


def _rows(table: str, text: bytes) -> Iterator[dict[str, Any]]:
    try:
        rows = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise Refused(NOT_SOUND.format(why=f"data/{table}.json is not JSON.")) from error
    if not isinstance(rows, list) or not all(isinstance(row, dict) and row for row in rows):
        raise Refused(NOT_SOUND.format(why=f"data/{table}.json is no list of rows."))
    yield from rows


def _stored(table: str, row: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in row.items():
        if name in DOCUMENTS and isinstance(value, dict | list):
            found[name] = json.dumps(value, separators=(",", ":"), ensure_ascii=False)
        elif isinstance(value, dict):
            try:
                found[name] = base64.b64decode(value["base64"], validate=True)
            except (KeyError, TypeError, binascii.Error) as error:
                raise Refused(NOT_SOUND.format(why=f"data/{table}.json has a “{name}” that is no data.")) from error
        elif isinstance(value, list) or (isinstance(value, int) and abs(value) > 2**62):
            raise Refused(NOT_SOUND.format(why=f"data/{table}.json has a “{name}” that no row has."))
        else:
            found[name] = value
    return found


def _unpack_pictures(packed: zipfile.ZipFile, room: Path) -> None:
    (room / PICTURES).mkdir()
    for info in packed.infolist():
        name = info.filename.removeprefix(PICTURES)
        if name == info.filename or not photos.NAME.match(name):
            continue
        with packed.open(info) as source, (room / PICTURES / name).open("wb") as out:
            try:
                _, digest = poured(source, out, info.file_size)
            except ValueError as error:
                raise Refused(TOO_LARGE) from error
        if not digest.startswith(name.split(".")[0]):
            raise Refused(f"The folder's picture {name} is not the one of that name. Nothing was taken in.")


def _missing(conn: sqlite3.Connection, room: Path) -> list[str]:
    there = frozenset(path.name for path in (room / PICTURES).iterdir())
    return [_said(fault) for _, fault in zip(range(20), faults_in(conn, there), strict=False)]


def _said(fault: Fault) -> str:
    return fault.words()
