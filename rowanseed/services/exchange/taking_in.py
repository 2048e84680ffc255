"""Taking in what was brought, rows and pictures in one act: all of it or nothing."""

import json
import shutil
import sqlite3
import tempfile
import time
from collections.abc import Collection, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from rowanseed.apart import Refused
from rowanseed.core.errors import RowanseedError
from rowanseed.services.exchange.merging import Comparison, compared, here_as_there
from rowanseed.services.exchange.reading import read_folder
from rowanseed.services.restoring import ONE_AT_A_TIME
from rowanseed.store import db, photos
from rowanseed.store.household_file.reading import CLEAN, PICTURES, Read, read_backup
from rowanseed.store.rows import Row, has_version, insert_rows, key_of, links_of, touch_owners

BROUGHT, KEPT_S = "brought-", 86_400.0
FOLDER_FILE, LACKS = "folder.zip", "lacks.json"


class ExchangeError(RowanseedError):
    """Something from elsewhere that cannot be taken in."""

    code = "exchange"


@dataclass(frozen=True)
class Brought:
    """A household from elsewhere that was read and waits for what is chosen: its name (a folder beside the data), what it lacks."""

    name: str
    room: Path
    missing: tuple[str, ...] = ()


@dataclass(frozen=True)
class TakenIn:
    """What came in: how many things of each kind are new; what came back, was there already, is now as it was there."""

    new: dict[str, int]
    back: tuple[str, ...]
    known: tuple[str, ...]
    changed: tuple[str, ...]


def brought_folder(database: Path, source: BinaryIO) -> Brought:
    """Read a folder's zip that was sent, beside the data; what is left of earlier ones is thrown away.

    Raises:
        ExchangeError: it is no such folder, of a newer version, or something in it cannot be.
    """
    room = _room(database)
    try:
        with (room / FOLDER_FILE).open("wb") as out:
            shutil.copyfileobj(source, out, 1 << 20)
        with ONE_AT_A_TIME:
            read = read_folder(room / FOLDER_FILE, room)
    except Refused as error:
        shutil.rmtree(room, ignore_errors=True)
        raise ExchangeError(str(error), "folder") from error
    except BaseException:
        shutil.rmtree(room, ignore_errors=True)
        raise
    (room / FOLDER_FILE).unlink()
    return _noted(Brought(room.name, room, tuple(read.missing)))


def _noted(brought: Brought) -> Brought:
    (brought.room / LACKS).write_text(json.dumps(brought.missing), encoding="utf-8")
    return brought


def brought_backup(database: Path, backup: Path) -> tuple[Brought, Read]:
    """Read a backup beside the data, to take single makes out of it; what cannot be read is left out, and named.

    Raises:
        ExchangeError: it is no backup, damaged, or of a newer version.
    """
    room = _room(database)
    try:
        with ONE_AT_A_TIME:
            read = read_backup(backup, room, leaving_out=True)
    except Refused as error:
        shutil.rmtree(room, ignore_errors=True)
        raise ExchangeError(str(error), "file") from error
    return _noted(Brought(room.name, room, tuple(read.faults))), read


def _room(database: Path) -> Path:
    database.parent.mkdir(parents=True, exist_ok=True)
    for left in database.parent.glob(f"{BROUGHT}*"):
        if time.time() - left.stat().st_mtime > KEPT_S:
            shutil.rmtree(left, ignore_errors=True)
    return Path(tempfile.mkdtemp(prefix=BROUGHT, dir=database.parent))


def brought_before(database: Path, name: str) -> Brought:
    """What was read before and waits. Raises ExchangeError where it is gone."""
    room = database.parent / name
    if not name.startswith(BROUGHT) or "/" in name or not (room / CLEAN).is_file():
        raise ExchangeError("What you sent is not kept any more. Send it again.", "folder")
    return Brought(name, room, tuple(json.loads((room / LACKS).read_text(encoding="utf-8"))))


def throw_away(brought: Brought) -> None:
    """Forget what was read."""
    shutil.rmtree(brought.room, ignore_errors=True)


@contextmanager
def opened(brought: Brought) -> Iterator[sqlite3.Connection]:
    """Lend a connection to what was read."""
    with closing(db.connect(brought.room / CLEAN)) as conn:
        yield conn


def comparison(conn: sqlite3.Connection, brought: Brought, make: int | None = None) -> Comparison:
    """Hold what was read against the present household."""
    with opened(brought) as theirs:
        return compared(conn, theirs, make)


def take_in(
    conn: sqlite3.Connection, database: Path, brought: Brought, there: Collection[str] | None = (), make: int | None = None
) -> TakenIn:  # fmt: skip
    """Take in what is new and what comes back; of what differs, what is chosen as it stands there. Called in no transaction.

    Args:
        there: the keys of the differences that are taken as they stand there; None for all.
        make: the number of the one make that is wanted.
    Raises:
        ExchangeError: something stands against it; nothing was taken in then, no row and no picture.
    """
    added = list[Path]()
    try:
        with db.write(conn):
            found = comparison(conn, brought, make)
            chosen = [d for d in found.differs if there is None or d.key in there]
            links = {(link.table, link.column): link.parent for link in links_of(conn)}
            insert_rows(conn, found.fresh, ids=found.ids)
            for difference in chosen:
                for table, theirs, mine in difference.rows:
                    _take_over(conn, table, here_as_there(links, table, theirs, found.ids), mine)
            added = _keep_pictures(database, brought.room)
    except (sqlite3.Error, OSError) as error:
        for path in added:
            path.unlink(missing_ok=True)
        raise ExchangeError(f"Nothing was taken in: {error}.", "folder") from error
    new = {kind: len(names) for kind, names in found.new.items()}
    return TakenIn(new, tuple(found.back), tuple(found.known), tuple(d.title for d in chosen))


def _take_over(conn: sqlite3.Connection, table: str, theirs: Row, mine: Row | None) -> None:
    """Let a row stand here as it stands there; its own number, version and mark of the demo stay."""
    if mine is None:
        insert_rows(conn, [(table, theirs)])
        touch_owners(conn, table, theirs)
        return
    key = key_of(conn, table, mine)
    values = {n: v for n, v in theirs.items() if n not in key and n not in ("id", "version", "demo", "put_away")}
    more = ", version = version + 1" if has_version(conn, table) else ""
    sets = ", ".join(f"{name} = :{name}" for name in values)
    where = " and ".join(f"{name} is :key_{name}" for name in key)
    keys = {f"key_{name}": value for name, value in key.items()}
    if values:
        conn.execute(f"update {table} set {sets}{more} where {where}", {**values, **keys})
    touch_owners(conn, table, mine)


def _keep_pictures(database: Path, room: Path) -> list[Path]:
    """Keep the pictures that came with it; the files that are new."""
    added = list[Path]()
    try:
        for picture in sorted((room / PICTURES).glob("*")):
            place = photos.folder(database) / picture.name
            if not place.exists():
                added.append(place)
                photos.keep_file(database, picture)
    except OSError:
        for path in added:
            path.unlink(missing_ok=True)
        raise
    return added
