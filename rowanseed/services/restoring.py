"""Restoring a household: the backup is read apart, its pages are opened once, and only then it takes the present one's place."""

import threading
from collections.abc import Sequence
from contextlib import closing
from pathlib import Path

from rowanseed.apart import Limits, Refused, TookTooMuch, run_module
from rowanseed.services.remembered import Remembered
from rowanseed.store import backups, db
from rowanseed.store.backups import BackupError, Contents
from rowanseed.store.encrypted import is_encrypted
from rowanseed.store.household_file.reading import CLEAN, PICTURES

# The pages are the outermost package: they are run as a process of their own, by name.
OPEN_PAGES = "rowanseed.web.opened_pages"
SECONDS, SECONDS_A_MAKE = 60.0, 2.0
ONE_AT_A_TIME = threading.Semaphore(1)  # a reading may take a gigabyte
LOOKED_AT: Remembered = Remembered(16)


def contents_of(backup: Path) -> Contents:
    """Return what a backup holds, with the faults that keep it from being sound: rows no model reads, pages that do not open.

    Raises:
        BackupError: it is no backup, damaged, incomplete, changed by something else, or of a newer Rowanseed.
    """
    try:
        found = backup.stat()
    except OSError as error:
        raise BackupError(f"There is no file “{backup.name}” there.") from error
    key = (
        found.st_ino,
        found.st_size,
        found.st_mtime_ns,
    )  # a file that was looked at is not read again for the next page
    known: Contents | None = LOOKED_AT.get(key)
    if known is None:
        with ONE_AT_A_TIME, backups.unpacked(backup) as (read, room):
            faults = (*read.faults, *(() if read.faults else pages_that_fail(room, read.counts["make"])))
            known = backups.told_of(read, backup.stat().st_size, faults)
        LOOKED_AT.put(key, known)
    return known


def _mark_of(backup: Path) -> tuple[int, int, int]:
    """What tells a file from others: what was looked at once is not looked at again for the next page."""
    try:
        found = backup.stat()
    except OSError as error:
        raise BackupError(f"There is no file “{backup.name}” there.") from error
    return found.st_ino, found.st_size, found.st_mtime_ns


def refuse_encrypted(backup: Path) -> None:
    """Raise BackupError where a backup has to be opened by its passphrase first."""
    if is_encrypted(backup):
        raise BackupError(f"“{backup.name}” is encrypted. Open it with its passphrase first.")


def sound_contents_of(backup: Path) -> Contents:
    """Return what a backup holds. Raises BackupError also where it is not sound."""
    contents = contents_of(backup)
    if contents.faults:
        raise BackupError(backups.faults_told(contents.faults))
    return contents


def pages_that_fail(room: Path, makes: int) -> tuple[str, ...]:
    """Open every page of every make of a household that was read into a folder; a sentence for each that does not open."""
    if not makes:
        return ()
    photos = room / "photos"
    if (room / PICTURES).is_dir() and not photos.exists():
        photos.symlink_to(room / PICTURES, target_is_directory=True)
    limits = Limits(SECONDS + SECONDS_A_MAKE * makes, memory=3_000_000_000)
    try:
        failed: Sequence[str] = run_module(OPEN_PAGES, [str(room / CLEAN)], limits)
    except (Refused, TookTooMuch) as error:
        return (f"Its pages could not all be opened ({error}).",)
    return tuple(failed)


def restore(backup: Path, database: Path, leaving_out: bool = False) -> tuple[Contents, Path | None]:
    """Put a backup in the place of the present household; what was there is kept aside first, as a backup or as it is.

    Args:
        leaving_out: restore what can be read of a backup that is not sound, without the things that cannot; pages that do not
            open stay.
    Returns:
        What was restored (what was left out among its faults), and the file that the present state was kept in (None where there
        was none): restoring that undoes this.
    Raises:
        BackupError: the backup is refused, or the present state cannot be kept; nothing was changed then.
    """
    refuse_encrypted(backup)
    database.parent.mkdir(parents=True, exist_ok=True)
    with ONE_AT_A_TIME, backups.unpacked(backup, database.parent, leaving_out) as (read, room):
        faults = tuple(read.faults)
        if not leaving_out:
            looked_at = LOOKED_AT.get(_mark_of(backup))
            faults = looked_at.faults if looked_at is not None else faults or pages_that_fail(room, read.counts["make"])
            if faults:
                raise BackupError(backups.faults_told(faults))
        contents = backups.told_of(read, backup.stat().st_size, faults)
        kept = backups.put_in_place(room, database)
    with closing(db.connect(database)) as conn:
        conn.execute("pragma wal_checkpoint(truncate)").fetchone()
    return contents, kept
