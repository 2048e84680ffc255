"""Backups: one file with the database, its pictures and their sums, read back before it is called good; and restoring one.

A backup is a zip: `manifest.json`, `household.db` (written by `vacuum into`), `pictures/...`. It is written under another name and
moved to its own when it is whole, so that one cut off half-way is never taken for a backup.
"""

import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import time
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from rowanseed import __version__
from rowanseed.store import db, photos
from rowanseed.store.opening import HouseholdFileError, open_household, version_of

DATABASE, MANIFEST, PICTURES = "household.db", "manifest.json", "pictures/"
MOST_BYTES = 8_000_000_000
COUNTED = ("make", "pattern", "person", "cloth", "supply", "shop", "note")
UNFINISHED, LEFT_S = "unfinished-", 3600.0
DAYS, WEEKS, ASIDE = 7, 5, 10
CHUNK = 1 << 20


class Packed(BaseModel):
    """One file in a backup, as its manifest has it."""

    model_config = ConfigDict(populate_by_name=True)
    size: Annotated[int, Field(ge=0, le=MOST_BYTES, alias="bytes")]
    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


class Manifest(BaseModel):
    """What a backup says of itself."""

    format: Literal["rowanseed-backup"]
    made_at: Annotated[str, Field(max_length=40)]
    app: Annotated[str, Field(max_length=40)]
    schema_version: Annotated[int, Field(alias="schema")]
    counts: dict[Annotated[str, Field(max_length=40)], int]
    files: Annotated[dict[Annotated[str, Field(max_length=100)], Packed], Field(max_length=200_000)]


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

    def words(self) -> str:
        """In one sentence."""
        names = {"person": "people", "supply": "supplies"}
        told = [f"{n} {names.get(kind, kind + 's') if n != 1 else kind}" for kind, n in self.counts.items() if n]
        when = self.made_at.replace("T", " at ")
        return f"Made {when} by version {self.app}: {', '.join(told) or 'nothing yet'}, {self.pictures} pictures."


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
            _pack(copy, photos.folder(database), part)
        contents = contents_of(part)
        with part.open("rb") as file:
            os.fsync(file.fileno())
        part.replace(target)
    except (OSError, sqlite3.Error, HouseholdFileError) as error:
        raise BackupError(f"The backup was not written: {_plain(error)}. Nothing was changed.") from error
    finally:
        part.unlink(missing_ok=True)
    return contents


def _plain(error: Exception) -> str:
    text = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
    return text[:1].lower() + text[1:].rstrip(".")


def _pack(copy: Path, folder: Path, part: Path) -> None:
    with closing(sqlite3.connect(copy)) as conn:
        conn.row_factory = sqlite3.Row
        names = [name for name in pictures_in(conn) if (folder / name).is_file()]
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
            "files": {name: {"bytes": path.stat().st_size, "sha256": _sum_of(path)} for name, path in files.items()},
        }
        packed.writestr(MANIFEST, json.dumps(head, indent=1))


def count_of(conn: sqlite3.Connection, kind: str) -> int:
    """How many things of a kind there are, of those that are counted; an older household may not know the kind."""
    assert kind in COUNTED
    if conn.execute("select 1 from sqlite_master where name = ?", (kind,)).fetchone() is None:
        return 0
    return int(conn.execute(f"select count(*) from {kind}").fetchone()[0])


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
                    found.update(PICTURE.findall(value))
    return sorted(found)


PICTURE = re.compile(r"(?<![0-9a-f])[0-9a-f]{40}\.(?:jpg|png)")


def _sum_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def contents_of(backup: Path) -> Contents:
    """Check a backup by its sums and its database, and say what it holds.

    Raises:
        BackupError: it is no backup, damaged, incomplete, or of a newer Rowanseed.
    """
    with _unpacked(backup) as (head, _):
        pictures = sum(name.startswith(PICTURES) for name in head.files)
        return Contents(head.made_at, head.app, head.schema_version, head.counts, pictures, backup.stat().st_size)


@contextmanager
def _unpacked(backup: Path, beside: Path | None = None) -> Iterator[tuple[Manifest, Path]]:
    """A backup's manifest and a folder with its files, each checked by its sum, the database by its own check too."""
    with tempfile.TemporaryDirectory(dir=beside) as room:
        yield _read_into(backup, Path(room)), Path(room)


def _read_into(backup: Path, room: Path) -> Manifest:
    try:
        with zipfile.ZipFile(backup) as packed:
            head = Manifest.model_validate_json(packed.read(MANIFEST))
            for name, said in head.files.items():
                _unpack(packed, name, said, room / name)
        if version_of(room / DATABASE) == 0:
            raise BackupError("This backup's database is empty. Choose another backup.")
        _refuse_broken_links(room / DATABASE)
    except (zipfile.BadZipFile, zlib.error, KeyError, EOFError, ValueError, NotImplementedError) as error:
        raise BackupError(
            f"“{backup.name}” is no Rowanseed backup, or a damaged one. Backups end in .zip and are written by “rowanseed backup”."
        ) from error
    except HouseholdFileError as error:
        raise BackupError(str(error).replace(f"“{DATABASE}”", "The database in this backup")) from error
    except FileNotFoundError as error:
        raise BackupError(f"There is no file “{backup.name}” there.") from error
    except OSError as error:
        raise BackupError(f"The backup cannot be read: {_plain(error)}.") from error
    return head


def _unpack(packed: zipfile.ZipFile, name: str, said: Packed, target: Path) -> None:
    if name != DATABASE and not (name.startswith(PICTURES) and photos.NAME.match(name.removeprefix(PICTURES))):
        raise ValueError(name)
    target.parent.mkdir(exist_ok=True)
    digest, size = hashlib.sha256(), 0
    with packed.open(name) as source, target.open("wb") as out:
        while chunk := source.read(CHUNK):
            size += len(chunk)
            if size > said.size:
                raise ValueError(name)
            digest.update(chunk)
            out.write(chunk)
    if size != said.size or digest.hexdigest() != said.sha256:
        raise BackupError("This backup is damaged: what it holds does not match its own sums. Choose another one.")


def _refuse_broken_links(database: Path) -> None:
    with closing(sqlite3.connect(database)) as conn:
        if conn.execute("pragma foreign_key_check").fetchone() is not None:
            raise BackupError(
                "This backup is damaged: things in it speak of others that are not there. Choose another one."
            )


def restore(backup: Path, database: Path) -> tuple[Contents, Path | None]:
    """Put a backup in the place of the present household; what was there is kept aside first, as a backup or as it is.

    Returns:
        What was restored, and the file that the present state was kept in (None where there was none): restoring that undoes this.
    Raises:
        BackupError: the backup is refused, or the present state cannot be kept; nothing was changed then.
    """
    contents = contents_of(backup)
    database.parent.mkdir(parents=True, exist_ok=True)
    kept = _set_aside(database)
    try:
        with _unpacked(backup, database.parent) as (_, room):
            open_household(room / DATABASE)  # an older one is brought up to date before it is put in place
            for picture in sorted((room / PICTURES).glob("*")):
                photos.keep_file(database, picture)
            with closing(db.connect(room / DATABASE)) as source, closing(db.connect(database)) as target:
                _keep_access(target, source)
                source.backup(target)
    except (OSError, sqlite3.Error) as error:
        raise BackupError(f"The backup was not restored: {_plain(error)}. The present state is as it was.") from error
    return contents, kept


def _keep_access(present: sqlite3.Connection, restored: sqlite3.Connection) -> None:
    """Who may come in stays as it is now: a passphrase that was changed since does not come back, and no device is let in anew."""
    known = present.execute("select 1 from sqlite_master where name = 'setting'").fetchone()
    ours = (
        present.execute("select key, value from setting where key in ('passphrase', 'secret')").fetchall()
        if known
        else []
    )
    with db.write(restored):
        restored.execute("delete from session")
        if ours:
            restored.execute("delete from setting where key in ('passphrase', 'secret')")
            restored.executemany("insert into setting (key, value) values (?, ?)", [tuple(row) for row in ours])


def _set_aside(database: Path) -> Path | None:
    if not database.exists():
        return None
    stamp = datetime.now().strftime("%Y-%m-%d-%H%M%S")
    try:
        version_of(database)
    except HouseholdFileError:  # damaged, empty or foreign: kept as it is, whatever it is
        aside = _free(database.with_name(f"{database.name}.aside-{stamp}"))
        for ending in ("", "-wal", "-shm"):
            part = database.with_name(database.name + ending)
            if part.exists():
                shutil.move(part, aside.with_name(aside.name + ending))
        return aside
    aside = _free(folder_of(database) / f"{database.stem}-before-restore-{stamp}.zip")
    backup_to(database, aside)
    return aside


def _free(path: Path) -> Path:
    """A name that no file has."""
    return next(p for n in range(1, 1000) if not (p := path if n == 1 else path.with_stem(f"{path.stem}-{n}")).exists())


def folder_of(database: Path) -> Path:
    """Where a household's own backups lie."""
    return database.parent / "backups"


def before_migration(database: Path) -> Path:
    """Back a household up as it is, before its file is changed to a newer version. Raises BackupError."""
    stamp = datetime.now().strftime("%Y-%m-%d-%H%M%S")
    target = _free(folder_of(database) / f"{database.stem}-before-update-{stamp}.zip")
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
    return sorted(folder_of(database).glob(f"{database.stem}-*.zip"), key=lambda p: p.stat().st_mtime, reverse=True)


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
        broken = conn.execute("pragma foreign_key_check").fetchall()
        found += [f"A row of {row[0]} speaks of a {row[2]} that is not there." for row in broken[:20]]
        folder = photos.folder(database)
        for name in pictures_in(conn):
            path = folder / name
            if not path.is_file():
                found.append(f"The picture {name} is missing.")
            elif not _sum_of(path).startswith(name.split(".")[0]):
                found.append(f"The picture {name} is damaged.")
    return found
