"""Connections that are kept open between requests: opening one reads the schema again and forgets every prepared statement."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from queue import Empty, LifoQueue

from rowanseed.store import db

AT_REST = 8  # as many as browsers ask at once; more are opened when needed and closed after


@dataclass(frozen=True)
class _Open:
    conn: sqlite3.Connection
    file: tuple[int, ...] | None  # the file as this connection left it, None where there is none


class Connections:
    """The connections of one database file, each lent to one request at a time."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._resting: LifoQueue[_Open] = LifoQueue()

    @contextmanager
    def lent(self) -> Iterator[sqlite3.Connection]:
        """Lend a connection; what was left open on it is rolled back, what was written is carried from the log into the file."""
        held = self._taken()
        before = held.conn.total_changes
        try:
            yield held.conn
        finally:
            self._given_back(held, held.conn.total_changes != before)

    def close(self) -> None:
        """Close the connections at rest."""
        with suppress(Empty):
            while True:
                self._resting.get_nowait().conn.close()

    def _taken(self) -> _Open:
        file = _file(self._path)
        with suppress(Empty):
            while True:
                held = self._resting.get_nowait()
                if held.file == file and file is not None:
                    return held
                held.conn.close()  # the file was written, replaced, moved or deleted meanwhile: what is cached may be stale
        return _Open(db.connect(self._path), None)

    def _given_back(self, held: _Open, written: bool) -> None:
        try:
            if held.conn.in_transaction:
                held.conn.rollback()
            if written:  # whoever copies the file by hand finds all of it there, and no log that a file put in its place would meet
                held.conn.execute("pragma wal_checkpoint(truncate)").fetchone()
        except sqlite3.Error:  # a full disk, a closed connection: the next request opens its own
            held.conn.close()
            return
        if self._resting.qsize() < AT_REST:
            self._resting.put(_Open(held.conn, _file(self._path)))
        else:
            held.conn.close()


def _file(path: Path) -> tuple[int, ...] | None:
    try:
        found = os.stat(path)
    except OSError:
        return None
    return found.st_dev, found.st_ino, found.st_size, found.st_mtime_ns
