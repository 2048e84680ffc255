"""Backups: one file with the database, its pictures and their sums, read back before it is called good; and restoring one.

A backup is a zip: `manifest.json`, `household.db` (written by `vacuum into`), `pictures/...`. It is written under another name and
moved to its own when it is whole, so that one cut off half-way is never taken for a backup.
"""

import hashlib
import json
import os
import secrets
import shutil
import sqlite3
import tempfile
import time
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

from rowanseed import __version__
from rowanseed.apart import Refused
from rowanseed.store import db, encrypted, photos
from rowanseed.store.household_file.counts import COUNTED, count_of
from rowanseed.store.household_file.reading import CLEAN, DATABASE, MANIFEST, PICTURES, Read, read_backup
from rowanseed.store.household_file.rows_in import Unsound, copy_rows, faults_in, refuse_other_schema
from rowanseed.store.opening import HouseholdFileError, latest_version, version_of

UNFINISHED, LEFT_S = "unfinished-", 3600.0
DAYS, WEEKS, ASIDE = 7, 5, 10


class BackupError(Exception):
    """A backup that could not be written, or a file that is none; its text says what to do."""


@dataclass(frozen=True)
class Contents:
    """What a backup holds: when and by which version it was made, how many things of each kind, pictures, bytes."""

    made_at: str
    app: str
    schema: int
    counts: dict[str, int]
    pictures: int
    size: int
    faults: tuple[str, ...] = ()
    missing: int = 0

    def words(self) -> str:
        """In one sentence."""
        names = {"person": "people", "supply": "supplies"}
        told = [f"{n} {names.get(kind, kind + 's') if n != 1 else kind}" for kind, n in self.counts.items() if n]
        when = self.made_at.replace("T", " at ")
        lost = f" {self.missing} of its pictures were missing already when it was made." if self.missing else ""
        return f"Made {when} by version {self.app}: {', '.join(told) or 'nothing yet'}, {self.pictures} pictures.{lost}"


def backup_to(database: Path, target: Path) -> Contents:
    """Write a backup of a household to a new file, read it back, and say what it holds.

    Raises:
        BackupError: it could not be written, or what was written is not what was read.
    """
    if target.exists():
        raise BackupError(f"“{target.name}” is there already. Choose another name: no backup is written over another.")
    part = target.with_name(target.name + ".part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=UNFINISHED) as room:
            copy = Path(room) / DATABASE
            with closing(db.connect(database)) as conn:
                db.backup(conn, copy)
            _pack(_ours_alone(copy), photos.folder(database), part)
        contents = written_contents(part)
        with part.open("rb") as file:
            os.fsync(file.fileno())
        part.replace(target)
    except (OSError, sqlite3.Error, HouseholdFileError) as error:
        raise BackupError(f"The backup was not written: {_plain(error)}. Nothing was changed.") from error
    finally:
        part.unlink(missing_ok=True)
    return contents


def encrypted_backup_to(database: Path, target: Path, passphrase: str) -> Contents:
    """Write a backup that only a passphrase opens; what it holds. Raises BackupError."""
    if target.exists():
        raise BackupError(f"“{target.name}” is there already. Choose another name: no backup is written over another.")
    target.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=target.parent, prefix=UNFINISHED) as room:
        plain = Path(room) / "plain.zip"
        contents = backup_to(database, plain)
        try:
            encrypted.encrypt(plain, target, passphrase)
        except encrypted.EncryptionError as error:
            raise BackupError(str(error)) from error
    return contents


def opened_backup(file: Path, target: Path, passphrase: str) -> None:
    """Write what an encrypted backup holds to a new file. Raises BackupError."""
    try:
        encrypted.decrypt(file, target, passphrase)
    except encrypted.EncryptionError as error:
        raise BackupError(str(error)) from error


def _ours_alone(copy: Path) -> Path:
    """A copy of the household's file with nothing in it that we did not make: as it is, or its rows in a schema of ours."""
    try:
        with closing(sqlite3.connect(copy)) as conn:
            refuse_other_schema(conn, int(conn.execute("pragma user_version").fetchone()[0]))
    except Unsound:
        clean = copy.with_name(CLEAN)
        try:
            copy_rows(copy, clean, extra=True)
        except Unsound as error:
            raise BackupError(f"The backup was not written: {error}. Restore an earlier one.") from error
        with closing(sqlite3.connect(clean)) as conn:
            conn.execute("pragma journal_mode = delete")
        return clean
    return copy


def _plain(error: Exception) -> str:
    text = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
    return text[:1].lower() + text[1:].rstrip(".")


def _pack(copy: Path, folder: Path, part: Path) -> None:
    with closing(sqlite3.connect(copy)) as conn:
        conn.row_factory = sqlite3.Row
        spoken_of = pictures_in(conn)
        names = [name for name in spoken_of if (folder / name).is_file()]
        counts = {kind: count_of(conn, kind) for kind in COUNTED}
        schema = int(conn.execute("pragma user_version").fetchone()[0])
    files = {DATABASE: copy, **{PICTURES + name: folder / name for name in names}}
    with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as packed:
        for name, path in files.items():
            how = zipfile.ZIP_STORED if name.startswith(PICTURES) else zipfile.ZIP_DEFLATED
            packed.write(path, name, compress_type=how)
        head = {
            "format": "rowanseed-backup",
            "made_at": datetime.now().isoformat(timespec="seconds"),
            "app": __version__,
            "schema": schema,
            "counts": counts,
            "missing": sorted(set(spoken_of) - set(names)),
            "files": {name: {"bytes": path.stat().st_size, "sha256": _sum_of(path)} for name, path in files.items()},
        }
        packed.writestr(MANIFEST, json.dumps(head, indent=1))


def pictures_in(conn: sqlite3.Connection) -> list[str]:
    """The names of all pictures that a database speaks of."""
    found: set[str] = set()
    tables = [
        r[0] for r in conn.execute("select name from sqlite_master where type = 'table' and sql not like '%virtual%'")
    ]
    for table in tables:
        for row in conn.execute(f'select * from "{table}"'):
            for value in row:
                if isinstance(value, str) and (".jpg" in value or ".png" in value):
                    found.update(photos.NAMED.findall(value))
    return sorted(found)


def _sum_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def written_contents(backup: Path) -> Contents:
    """Hold a backup that was just written here against its own sums, and say what it holds. Raises BackupError."""
    with zipfile.ZipFile(backup) as packed:
        head = json.loads(packed.read(MANIFEST))
        for name, said in head["files"].items():
            with packed.open(name) as file:
                if hashlib.file_digest(file, "sha256").hexdigest() != said["sha256"]:  # type: ignore[arg-type]
                    raise BackupError("The backup was not written: what stands in it is not what was read. Try again.")
    pictures = sum(name.startswith(PICTURES) for name in head["files"])
    size, missing = backup.stat().st_size, len(head["missing"])
    return Contents(head["made_at"], head["app"], head["schema"], head["counts"], pictures, size, missing=missing)


def contents_of(backup: Path) -> Contents:
    """Check a backup by its sums, its schema and every row, in a process of its own, and say what it holds.

    Raises:
        BackupError: it is no backup, damaged, incomplete, changed by something else, of a newer Rowanseed, or has rows that no page
            could read.
    """
    with unpacked(backup) as (read, _):
        contents = told_of(read, backup.stat().st_size, read.faults)
        if contents.faults:
            raise BackupError(faults_told(contents.faults))
        return contents


def faults_told(faults: Sequence[str]) -> str:
    """What keeps a backup from being sound, in sentences."""
    more = f" There are {len(faults) - 3} more such places." if len(faults) > 3 else ""
    return f"This backup is not sound. {' '.join(faults[:3])}{more}"


def told_of(read: Read, size: int, faults: Sequence[str] = ()) -> Contents:
    """What was read of a backup of so many bytes, with what is wrong with it."""
    return Contents(read.made_at, read.app, read.version, read.counts, read.pictures, size, tuple(faults), read.missing)


@contextmanager
def unpacked(backup: Path, beside: Path | None = None, leaving_out: bool = False) -> Iterator[tuple[Read, Path]]:
    """What a backup holds, and a folder with its household in our own schema (`CLEAN`) and its pictures. Raises BackupError."""
    with tempfile.TemporaryDirectory(dir=beside, prefix=UNFINISHED) as room:
        try:
            read = read_backup(backup, Path(room), leaving_out)
        except Refused as error:
            raise BackupError(str(error)) from error
        yield read, Path(room)


def put_in_place(room: Path, database: Path) -> Path | None:
    """Put a household that was read into a folder in the place of the present one; the file in which that is kept aside.

    Raises:
        BackupError: the present state cannot be kept, or the disk fails; nothing was changed then.
    """
    database.parent.mkdir(parents=True, exist_ok=True)
    try:
        kept = _set_aside(database)
        for picture in sorted((room / PICTURES).glob("*")):
            photos.keep_file(database, picture)
        with closing(db.connect(room / CLEAN)) as source, closing(db.connect(database)) as target:
            _keep_access(target, source)
            source.backup(target)
    except (OSError, sqlite3.Error) as error:
        raise BackupError(f"The backup was not restored: {_plain(error)}. The present state is as it was.") from error
    return kept


ACCESS_TABLES = ("guest", "attempt")


def _keep_access(present: sqlite3.Connection, restored: sqlite3.Connection) -> None:
    """Who may come in stays as it is now: no passphrase, device or guest's link that was taken away since comes back."""
    tables = {row["name"] for row in present.execute("select name from sqlite_master where type = 'table'")}
    ours = (
        present.execute("select key, value from setting where key in ('passphrase', 'secret')").fetchall()
        if "setting" in tables
        else []
    )
    with db.write(restored):
        for table in ("session", *ACCESS_TABLES):
            restored.execute(f"delete from {table}")
        if ours:
            restored.execute("delete from setting where key in ('passphrase', 'secret')")
            restored.executemany("insert into setting (key, value) values (?, ?)", [tuple(row) for row in ours])
        for table in ACCESS_TABLES if tables.issuperset(ACCESS_TABLES) else ():
            for row in present.execute(f"select * from {table}").fetchall():
                _keep_row(present, restored, table, dict(row))


def _keep_row(present: sqlite3.Connection, restored: sqlite3.Connection, table: str, row: dict[str, Any]) -> None:
    """Keep a row of who may come in; a guest's only where the make it shows is still the one of that name."""
    if table == "guest":
        asked = "select name from make where id = :make_id"
        make = [conn.execute(asked, row).fetchone() for conn in (present, restored)]
        if None in make or make[0]["name"] != make[1]["name"]:
            return
    marks = ", ".join(f":{name}" for name in row)
    restored.execute(f"insert into {table} ({', '.join(row)}) values ({marks})", row)


def _set_aside(database: Path) -> Path | None:
    if not database.exists():
        return None
    try:
        version_of(database)
    except HouseholdFileError:  # damaged, empty or foreign: kept as it is, whatever it is
        aside = database.with_name(f"{database.name}.aside-{_stamp()}")
        for ending in ("", "-wal", "-shm"):
            part = database.with_name(database.name + ending)
            if part.exists():
                shutil.move(part, aside.with_name(aside.name + ending))
        return aside
    aside = new_name(database, "before-restore")
    backup_to(database, aside)
    return aside


def _stamp() -> str:
    """The moment, and a few letters of chance: two within a second never have the same name."""
    return f"{datetime.now():%Y-%m-%d-%H%M%S}-{secrets.token_hex(3)}"


def new_name(database: Path, why: str) -> Path:
    """A name for a new backup beside the data, one that no other has."""
    return folder_of(database) / f"{database.stem}-{why}-{_stamp()}.zip"


def folder_of(database: Path) -> Path:
    """Where a household's own backups lie."""
    return database.parent / "backups"


def before_migration(database: Path) -> Path:
    """Back a household up as it is, before its file is changed to a newer version. Raises BackupError."""
    target = new_name(database, "before-update")
    backup_to(database, target)
    return target


def daily(database: Path, today: date, elsewhere: Path | None = None) -> list[Path]:
    """The day's backup, beside the data and elsewhere too where a folder is named, unless it is there; older ones by the rule.

    Returns:
        The backups written now.
    Raises:
        BackupError: one could not be written; the others were.
    """
    written, problem = list[Path](), None
    for folder in (folder_of(database), *([elsewhere] if elsewhere else [])):
        target = folder / f"{database.stem}-daily-{today.isoformat()}.zip"
        if not target.exists():
            try:
                if written:
                    shutil.copyfile(written[0], target.with_name(target.name + ".part"))
                    target.with_name(target.name + ".part").replace(target)
                else:
                    backup_to(database, target)
                written.append(target)
            except (BackupError, OSError) as error:
                problem = BackupError(f"The daily backup in “{folder}” was not written: {_plain(error)}")
        _thin(folder, database.stem, today)
    if problem is not None:
        raise problem
    return written


def kept_days(days: Iterable[date], today: date) -> set[date]:
    """Of the days that have a backup, those that are kept: the last seven, and the newest of each of the last five weeks.

    >>> sorted(kept_days([date(2026, 11, d) for d in range(1, 27)], date(2026, 11, 26)))[:3]
    [datetime.date(2026, 11, 1), datetime.date(2026, 11, 8), datetime.date(2026, 11, 15)]
    """
    known = sorted(days, reverse=True)
    kept = {day for day in known if today - day < timedelta(days=DAYS)}
    newest: dict[tuple[int, int], date] = {}
    for day in known:
        newest.setdefault(day.isocalendar()[:2], day)
    monday = today - timedelta(days=today.weekday())
    return kept | {day for day in newest.values() if day >= monday - timedelta(weeks=WEEKS - 1)}


def _thin(folder: Path, stem: str, today: date) -> None:
    """Delete daily backups that the rule does not keep, and all but the newest of those written before a change."""
    found: dict[date, Path] = {}
    for path in folder.glob(f"{stem}-daily-*.zip"):
        with suppress(ValueError):
            found[date.fromisoformat(path.stem.removeprefix(f"{stem}-daily-"))] = path
    keep = kept_days(found, today)
    for left in folder.glob(f"{UNFINISHED}*"):  # of a backup that was cut off; one that runs is younger
        if time.time() - left.stat().st_mtime > LEFT_S:
            shutil.rmtree(left, ignore_errors=True)
    aside = sorted(folder.glob(f"{stem}-before-*.zip"), key=lambda p: p.stat().st_mtime, reverse=True)[ASIDE:]
    for path in (*(p for day, p in found.items() if day not in keep and day <= today), *aside):
        path.unlink(missing_ok=True)


def backups_of(database: Path) -> list[Path]:
    """The backups beside the data, the newest first."""
    found = (
        path for ending in ("", encrypted.ENDING) for path in folder_of(database).glob(f"{database.stem}-*.zip{ending}")
    )
    return sorted(found, key=lambda p: p.stat().st_mtime, reverse=True)


def check(database: Path) -> list[str]:
    """What is wrong with a household, in words: its file, links between its things, pictures that are missing; empty if nothing is.

    Raises:
        HouseholdFileError: the file cannot be opened at all.
    """
    if version_of(database) == 0:
        raise HouseholdFileError(f"There is no household at “{database.name}”.")
    found = list[str]()
    with closing(db.connect(database)) as conn:
        said = [str(row[0]) for row in conn.execute("pragma integrity_check(20)")]
        found += [f"The file: {text}." for text in said if text != "ok"]
        try:
            refuse_other_schema(conn, int(conn.execute("pragma user_version").fetchone()[0]))
        except Unsound as error:
            found.append(f"The file: {error}.")
        if int(conn.execute("pragma user_version").fetchone()[0]) == latest_version():
            found += [fault.words() for _, fault in zip(range(20), faults_in(conn), strict=False)]
        folder = photos.folder(database)
        for name in pictures_in(conn):
            path = folder / name
            if not path.is_file():
                found.append(f"The picture {name} is missing.")
            elif not _sum_of(path).startswith(name.split(".")[0]):
                found.append(f"The picture {name} is damaged.")
    return found
