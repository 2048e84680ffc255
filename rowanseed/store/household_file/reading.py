"""A backup read in a process of its own: unpacked to limits, held against its own sums, its rows copied and read by their models.

Run as a module it takes a backup, a folder to work in, and whether to leave out what cannot be read; what it makes there is a
household of this version (`CLEAN`) and its pictures. The server waits for it and takes no more of the backup than that.
"""

import hashlib
import shutil
import sqlite3
import zipfile
import zlib
from collections.abc import Sequence
from contextlib import closing
from pathlib import Path
from typing import IO, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from rowanseed.apart import Limits, Refused, TookTooMuch, run_module
from rowanseed.store import db, photos
from rowanseed.store.household_file.counts import COUNTED, count_of
from rowanseed.store.household_file.rows_in import Unsound, copy_rows, faults_in, leave_out
from rowanseed.store.opening import HouseholdFileError, latest_version, version_of

DATABASE, MANIFEST, PICTURES = "household.db", "manifest.json", "pictures/"
CLEAN = "clean.db"
MOST_BYTES, MOST_FILES, MOST_MANIFEST = 8_000_000_000, 200_000, 40_000_000
MOST_RATIO, RATIO_FROM = 200, 64_000_000  # a database packs ten to one; what unpacks to far more is made to
CHUNK = 1 << 20
SECONDS, SECONDS_A_GB = 120.0, 300.0
NO_BACKUP = (
    "“{name}” is no Rowanseed backup, or a damaged one. Backups end in .zip and are written by “rowanseed backup”."
)


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
    counts: Annotated[dict[Annotated[str, Field(max_length=40)], int], Field(max_length=40)]
    files: Annotated[dict[Annotated[str, Field(max_length=100)], Packed], Field(max_length=MOST_FILES)]
    # pictures that the household spoke of and had not, when the backup was written
    missing: Annotated[list[Annotated[str, Field(pattern=photos.NAME)]], Field(max_length=MOST_FILES)] = []


class Read(BaseModel):
    """What a backup held: its manifest's words, the faults that keep it from being whole, or what was left out for them."""

    made_at: str
    app: str
    version: int
    counts: dict[str, int]
    pictures: int
    missing: int
    faults: list[str]


def read_backup(backup: Path, room: Path, leaving_out: bool = False) -> Read:
    """Read a backup into a folder, in a process of its own.

    Raises:
        Refused: it is no backup, damaged, incomplete, changed by something else, newer, or takes too much.
    """
    try:
        size = backup.stat().st_size
    except OSError as error:
        raise Refused(f"There is no file “{backup.name}” there.") from error
    free = shutil.disk_usage(room).free
    limits = Limits(SECONDS + SECONDS_A_GB * size / 1e9)
    try:
        said = run_module(__name__, [str(backup), str(room), str(min(free, MOST_BYTES)), "out" * leaving_out], limits)
    except TookTooMuch as error:
        raise Refused(f"“{backup.name}” takes more time or memory to read than any backup does.") from error
    return Read.model_validate(said)


def apart(arguments: Sequence[str]) -> dict[str, Any]:
    """Read the backup that is named into the folder that is named, no more than so many bytes; what `Read` holds."""
    backup, room, most, leaving = Path(arguments[0]), Path(arguments[1]), int(arguments[2]), arguments[3]
    try:
        with zipfile.ZipFile(backup) as packed:
            head = _manifest(packed)
            _unpack_all(packed, head, room, most, backup.stat().st_size)
        version_of(room / DATABASE)
        version = copy_rows(room / DATABASE, room / CLEAN)
        faults = _faults(room / CLEAN, head, bool(leaving))
    except HouseholdFileError as error:
        raise Refused(str(error).replace(f"“{DATABASE}”", "The database in this backup")) from error
    except Unsound as error:
        raise Refused(f"This backup is not sound: {error}. Nothing was changed. Choose another one.") from error
    except sqlite3.Error as error:
        raise Refused(f"This backup's database is damaged ({error}). Choose another one.") from error
    except OSError as error:
        raise Refused(f"The backup cannot be read: {error.strerror or error}.") from error
    except (zipfile.BadZipFile, zlib.error, KeyError, EOFError, ValueError, NotImplementedError, RuntimeError) as error:
        raise Refused(NO_BACKUP.format(name=backup.name)) from error
    pictures = sum(name.startswith(PICTURES) for name in head.files)
    counts = _counts(room / CLEAN)
    return Read(
        made_at=head.made_at,
        app=head.app,
        version=version,
        counts=counts,
        pictures=pictures,
        missing=len(head.missing),
        faults=faults,
    ).model_dump()


def _manifest(packed: zipfile.ZipFile) -> Manifest:
    if len(packed.infolist()) > MOST_FILES + 2:
        raise ValueError("too many files")
    with packed.open(MANIFEST) as file:
        text = file.read(MOST_MANIFEST + 1)
    if len(text) > MOST_MANIFEST:
        raise ValueError("the manifest is too long")
    try:
        head = Manifest.model_validate_json(text)
    except ValidationError as error:
        raise ValueError("no manifest of ours") from error
    if head.schema_version > latest_version():
        raise Refused(
            f"This backup was written by a newer Rowanseed (its data is version {head.schema_version}, this one knows "
            f"{latest_version()}). Install the newer one."
        )
    return head


def _unpack_all(packed: zipfile.ZipFile, head: Manifest, room: Path, most: int, size: int) -> None:
    """Unpack every file that the manifest names, counted as it comes; what the manifest does not name stays packed."""
    said = sum(file.size for file in head.files.values())
    if said > most:
        raise Refused(f"This backup holds {said / 1e9:.1f} GB; there is room for {most / 1e9:.1f}. Make room first.")
    if said > RATIO_FROM and said > MOST_RATIO * size:
        raise Refused("This backup unpacks to far more than it can hold. It was not written by Rowanseed.")
    beyond = sorted(set(packed.namelist()) - {MANIFEST} - head.files.keys())
    if beyond:
        raise Refused(f"This backup holds “{beyond[0][:80]}”, which its manifest does not name. Choose another one.")
    for name, file in head.files.items():
        unpack(packed, name, file, room / name)


def unpack(packed: zipfile.ZipFile, name: str, said: Packed, target: Path) -> None:
    """Unpack one file, no further than its manifest says, and hold it against its sum."""
    if name != DATABASE and not (name.startswith(PICTURES) and photos.NAME.match(name.removeprefix(PICTURES))):
        raise ValueError(name)
    target.parent.mkdir(exist_ok=True)
    with packed.open(name) as source, target.open("wb") as out:
        size, digest = poured(source, out, said.size)
    if size != said.size or digest != said.sha256:
        raise Refused("This backup is damaged: what it holds does not match its own sums. Choose another one.")
    if name != DATABASE and not digest.startswith(name.removeprefix(PICTURES).split(".")[0]):
        raise Refused(
            f"This backup's picture {name.removeprefix(PICTURES)} is not the one of that name. Choose another one."
        )


def poured(source: IO[bytes], out: IO[bytes], most: int) -> tuple[int, str]:
    """Pour a stream into a file, no more than `most` bytes of it; how many, and their SHA-256. Raises ValueError for more."""
    digest, size = hashlib.sha256(), 0
    while chunk := source.read(CHUNK):
        size += len(chunk)
        if size > most:
            raise ValueError("longer than it says")
        digest.update(chunk)
        out.write(chunk)
    return size, digest.hexdigest()


def _faults(clean: Path, head: Manifest, leaving_out: bool) -> list[str]:
    pictures = frozenset(name.removeprefix(PICTURES) for name in head.files if name.startswith(PICTURES))
    pictures |= frozenset(head.missing)
    with closing(db.connect(clean)) as conn:
        if leaving_out:
            conn.execute("pragma foreign_keys = off")
            with db.write(conn):
                return leave_out(conn, pictures)
        return [fault.words() for _, fault in zip(range(20), faults_in(conn, pictures), strict=False)]


def _counts(clean: Path) -> dict[str, int]:
    with closing(db.connect(clean)) as conn:
        return {kind: count_of(conn, kind) for kind in COUNTED}
