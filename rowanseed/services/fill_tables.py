"""Filling the yardage tables of every pattern: what is open is worked out, what is right is left; it goes on where it stopped."""

import threading
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from rowanseed.core.lay.model import LayRequest
from rowanseed.core.yardage_table import CLASSES, CellKey
from rowanseed.jobs.pool import Job, JobPool
from rowanseed.services.yardage_tables import YardageTable, keeper
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
    """How far the filling is."""

    done: int = 0
    failed: int = 0


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

    def over(ok: bool) -> None:
        with lock:
            filled.done += ok
            filled.failed += not ok
            told(filled)
        room.release()

    def after(job: Job) -> None:
        job.finished.wait()
        over(job.status == "done")

    for cell in open_cells(database, check):
        while not room.acquire(timeout=0.5):
            if stop():
                break
        if stop():
            break
        keep = keeper(database, cell.pattern_id, cell.view, cell.role, cell.key, cell.asked)
        job = pool.submit(cell.name, cell.asked, keep, patient=True)
        waiting.append(job.finished)
        threading.Thread(target=after, args=(job,), daemon=True).start()
    for finished in waiting:
        while not finished.wait(0.5):
            if stop():
                return filled
    return filled
