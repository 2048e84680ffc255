"""Opening the database, migrating it, writing to it.

WAL, foreign keys on, a busy timeout, one connection for each request; writes run in `BEGIN IMMEDIATE` and are on
disk when `write` returns.
"""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from pathlib import Path

BUSY_MS = 5000


class ChangedMeanwhile(Exception):
    """Someone else, or another tab, has saved this since it was read."""


class NotFound(Exception):
    """There is no such row."""


def connect(path: Path | str) -> sqlite3.Connection:
    """Open a connection. The thread pool may carry a request from one thread to another, so any thread may use it.

    Where file or folder may only be read, what is there is read all the same; writing then fails in its words.
    """
    try:
        return _opened(path)
    except sqlite3.OperationalError as error:
        if "readonly" not in str(error) and "unable to open" not in str(error):
            raise
    where = Path(path).absolute().as_uri()
    try:
        conn = _opened(f"{where}?mode=ro", wal=False)
        conn.execute("select 1 from sqlite_master").fetchone()
    except sqlite3.OperationalError:  # not even the log's index can be written beside it: the file as it stands
        conn = _opened(f"{where}?immutable=1", wal=False)
    return conn


def _opened(path: Path | str, wal: bool = True) -> sqlite3.Connection:
    conn = sqlite3.connect(path, isolation_level=None, check_same_thread=False, uri=not wal)
    conn.row_factory = sqlite3.Row
    if wal:
        conn.execute("pragma journal_mode = wal")
    conn.execute("pragma synchronous = full")
    conn.execute("pragma foreign_keys = on")
    conn.execute(f"pragma busy_timeout = {BUSY_MS:d}")
    return conn


def migrate(conn: sqlite3.Connection, upto: int | None = None) -> int:
    """Bring the schema up to date, or to a version; the version reached. Each script is its own transaction."""
    version = int(conn.execute("pragma user_version").fetchone()[0])
    folder = resources.files("rowanseed.store").joinpath("migrations")
    for script in sorted((f for f in folder.iterdir() if f.name.endswith(".sql")), key=lambda f: f.name):
        number = int(script.name.split("_")[0])
        if number > version and (upto is None or number <= upto):
            conn.executescript(script.read_text(encoding="utf-8"))
            version = number
    return version


@contextmanager
def write(conn: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """A write transaction, committed on leaving, rolled back on an error."""
    conn.execute("begin immediate")
    try:
        yield conn
        conn.execute("commit")
    except BaseException:
        if conn.in_transaction:  # a full disk has rolled it back already
            conn.execute("rollback")
        raise


def one(conn: sqlite3.Connection, sql: str, params: dict[str, object], what: str) -> sqlite3.Row:
    """The one row a query answers. Raises NotFound, naming what was looked for."""
    row: sqlite3.Row | None = conn.execute(sql, params).fetchone()
    if row is None:
        raise NotFound(f"There is no such {what}.")
    return row


def inserted(cursor: sqlite3.Cursor) -> int:
    """The id of the row just inserted."""
    assert cursor.lastrowid is not None  # an insert always has one
    return cursor.lastrowid


def saved(cursor: sqlite3.Cursor, what: str) -> None:
    """Raise ChangedMeanwhile when a versioned update touched no row."""
    if cursor.rowcount == 0:
        raise ChangedMeanwhile(f"This {what} was changed in another window since you opened it.")


def backup(conn: sqlite3.Connection, target: Path) -> None:
    """Write a whole copy of the database to a new file."""
    conn.execute("vacuum into ?", (str(target),))


def db_file(conn: sqlite3.Connection) -> str:
    """Return the file that a connection is open on, empty for one in memory."""
    return str(conn.execute("pragma database_list").fetchone()["file"])
