"""Filling the yardage tables of every pattern: what is open is worked out, what is right is left; it goes on where it stopped."""

import queue
import sqlite3
import threading
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.yardage_table import CLASSES, CellKey
from rowanseed.jobs.pool import Job, JobPool
from rowanseed.services.yardage_tables import YardageTable, put_cell
from rowanseed.store import db, patterns
from rowanseed.store.settings import settings

AHEAD = 60  # cells that are handed out before others come back: enough for every worker, few enough to stop soon


@dataclass(frozen=True)
class OpenCell:
    """A cell that is to be worked out."""

    pattern_id: int
    view: str
    role: str
    key: CellKey
    asked: LayRequest

    @property
    def name(self) -> str:
        """What its job is known by."""
        return f"table:{self.pattern_id}:{self.view}:{self.role}:{self.key.size}:{self.key.width_mm}:{self.key.cloth}"


@dataclass
class Filled:
    """How far the filling is: cells that are kept, and such as could not be worked out."""

    done: int = 0
    failed: int = 0


class CellWriter:
    """The one writer of finished cells: what came back while it wrote goes together into its next transaction.

    Many workers finish more cells in a second than a disk takes transactions.
    """

    def __init__(self, database: Path, kept: Callable[[int], None]) -> None:
        self._database = database
        self._kept = kept
        self._finished: queue.SimpleQueue[tuple[OpenCell, Lay] | None] = queue.SimpleQueue()
        self._error: Exception | None = None
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def put(self, cell: OpenCell, lay: Lay) -> None:
        """Have a cell kept. Raises what the writer failed with, so that its job fails too."""
        if self._error is not None:
            raise self._error
        self._finished.put((cell, lay))

    def close(self) -> None:
        """Wait until everything is kept. Raises what the writer failed with."""
        self._finished.put(None)
        self._thread.join()
        if self._error is not None:
            raise self._error

    def _run(self) -> None:
        try:
            with closing(db.connect(self._database)) as conn:
                while self._write(conn, self._waiting()):
                    pass
        except Exception as error:  # told to whoever puts the next cell, or closes
            self._error = error

    def _waiting(self) -> list[tuple[OpenCell, Lay] | None]:
        found = [self._finished.get()]
        while not self._finished.empty():
            found.append(self._finished.get())
        return found

    def _write(self, conn: sqlite3.Connection, found: list[tuple[OpenCell, Lay] | None]) -> bool:
        """Keep some cells; whether there may be more."""
        cells = [one for one in found if one is not None]
        if cells:
            with db.write(conn):
                for cell, lay in cells:
                    put_cell(conn, cell.pattern_id, cell.view, cell.role, cell.key, cell.asked, lay)
            self._kept(len(cells))
        return None not in found


def open_cells(database: Path, check: bool = False) -> Iterator[OpenCell]:
    """Every cell of every pattern that is not worked out or no longer right, pattern by pattern."""
    with closing(db.connect(database)) as conn:
        asked = settings(conn)
        for summary in patterns.patterns(conn):
            pattern = patterns.pattern(conn, summary.id).pattern
            for view in pattern.views:
                first = YardageTable(conn, asked, summary.id, view.name, "self", CLASSES if check else CLASSES[:2])
                for role in first.roles:
                    table = YardageTable(conn, asked, summary.id, view.name, role, first.classes)
                    for key in table.open:
                        request = table.requests[key]
                        if request is not None:
                            yield OpenCell(summary.id, view.name, role, key, request)


def fill(
    database: Path, pool: JobPool, told: Callable[[Filled], None], stop: Callable[[], bool], check: bool = False
) -> Filled:
    """Work out every open cell on a pool's workers; a stop leaves the rest for the next time."""
    filled = Filled()
    room, lock = threading.Semaphore(AHEAD), threading.Lock()
    waiting: list[threading.Event] = []

    def counted(done: int = 0, failed: int = 0) -> None:
        with lock:
            filled.done += done
            filled.failed += failed
            told(filled)

    def after(job: Job) -> None:
        job.finished.wait()
        if job.status != "done":
            counted(failed=1)
        room.release()

    writer = CellWriter(database, lambda kept: counted(done=kept))
    for cell in open_cells(database, check):
        while not room.acquire(timeout=0.5):
            if stop():
                break
        if stop():
            break
        job = pool.submit(cell.name, cell.asked, partial(writer.put, cell), patient=True)
        waiting.append(job.finished)
        threading.Thread(target=after, args=(job,), daemon=True).start()
    while waiting and not stop():
        if waiting[0].wait(0.5):
            waiting.pop(0)
    writer.close()
    return filled
