"""Opening a household's file: what is no household, damaged, newer or gone is refused in words, older ones are migrated.

Before an older file is migrated it is backed up as it is.
"""

import sqlite3
from collections.abc import Callable
from importlib import resources
from pathlib import Path

from rowanseed.store import db

HEADER = b"SQLite format 3\x00"
OURS = ("make", "pattern", "setting")


class HouseholdFileError(Exception):
    """A file that cannot be opened as a household; its text says what to do."""


def latest_version() -> int:
    """The schema's version that this program knows."""
    folder = resources.files("rowanseed.store").joinpath("migrations")
    return max(int(f.name.split("_")[0]) for f in folder.iterdir() if f.name.endswith(".sql"))


def version_of(path: Path) -> int:
    """The schema's version of a household's file, checked to be one; 0 where there is no file yet.

    Raises:
        HouseholdFileError: the file is empty, foreign, damaged, or of a newer Rowanseed.
    """
    if not path.exists():
        return 0
    if path.is_dir():
        raise HouseholdFileError(f"“{path.name}” is a folder. Name a file in it, such as {path.name}/rowanseed.db.")
    try:
        with path.open("rb") as file:
            head = file.read(len(HEADER))
    except OSError as error:
        raise HouseholdFileError(f"“{path.name}” cannot be read: {error.strerror}. Check who owns it.") from error
    if not head:
        raise HouseholdFileError(
            f"“{path.name}” is empty: it was a household before it was damaged, or never one. Restore a backup with "
            "“rowanseed restore”, or delete the empty file to begin anew."
        )
    if head != HEADER:
        raise HouseholdFileError(
            f"“{path.name}” is no Rowanseed household: it is another kind of file. Name another one."
        )
    return _checked(path)


def _checked(path: Path) -> int:
    try:
        conn = sqlite3.connect(path)
        try:
            version = int(conn.execute("pragma user_version").fetchone()[0])
            names = {row[0] for row in conn.execute("select name from sqlite_master where type = 'table'")}
            sound = conn.execute("pragma quick_check(1)").fetchone()[0] == "ok"
        finally:
            conn.close()
    except sqlite3.OperationalError as error:
        if "locked" in str(error) or "busy" in str(error):
            raise HouseholdFileError(f"“{path.name}” is in use by another program. End that one first.") from error
        raise HouseholdFileError(_damaged(path)) from error
    except sqlite3.DatabaseError as error:
        raise HouseholdFileError(_damaged(path)) from error
    if names and not names >= set(OURS):
        raise HouseholdFileError(f"“{path.name}” is a database of another program. Name another file.")
    if not sound:
        raise HouseholdFileError(_damaged(path))
    if version > latest_version():
        raise HouseholdFileError(
            f"“{path.name}” was written by a newer Rowanseed (its data is version {version}, this one knows {latest_version()}). "
            "Install the newer one, or restore a backup that this one wrote."
        )
    return version


def _damaged(path: Path) -> str:
    return (
        f"“{path.name}” is damaged. Nothing was changed. Restore the newest backup: they lie in the folder “backups” beside it, "
        "and “rowanseed restore FILE” takes one; the damaged file is kept aside."
    )


def open_household(path: Path, before_migration: Callable[[Path], object] | None = None) -> None:
    """Make the file where there is none, and bring an older one up to date.

    Args:
        before_migration: called with the path before an older file is changed, to back it up.
    Raises:
        HouseholdFileError: as `version_of`; or the file is gone and its backups are still there.
    """
    version = version_of(path)
    if not path.exists() and list((path.parent / "backups").glob(f"{path.stem}-*.zip")):
        raise HouseholdFileError(
            f"“{path.name}” is not there, but its backups are. Was it moved? Put it back, or restore a backup with “rowanseed "
            "restore FILE”; to begin anew, move the folder “backups” elsewhere."
        )
    if 0 < version < latest_version() and before_migration is not None:
        before_migration(path)
    path.parent.mkdir(parents=True, exist_ok=True)
    conn = db.connect(path)
    try:
        db.migrate(conn)
    finally:
        conn.close()
