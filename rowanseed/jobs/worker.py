"""What runs in a worker process: tasks, one after another, their results sent back as they improve."""

import ctypes
import gc
import os
import resource
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from multiprocessing.connection import Connection
from multiprocessing.synchronize import Event
from typing import Any

from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.jobs.tasks import run

MOST_BYTES = 6_000_000_000  # of address space, compiled code and libraries with it
REPORT_S = 0.12  # no more than eight pictures a second


def warm_up() -> None:
    """Lay one small pair, so that every compiled kernel is loaded."""
    square = ((0.0, 0.0), (120.0, 0.0), (120.0, 90.0), (0.0, 90.0))
    for spread in ("single", "lengthwise-fold"):
        lay(LayRequest(LayCloth(600.0), (LayPiece("1", square, 2, True),), spread, gap_mm=2.0, effort="quick"))


@contextmanager
def left_out(module: str) -> Iterator[None]:
    """Not to be imported in here, where it is wanted if it is there and not needed; afterwards it can be."""
    if module in sys.modules:
        yield
        return
    sys.modules[module] = None  # type: ignore[assignment]
    try:
        yield
    finally:
        del sys.modules[module]


def give_back() -> None:
    """Hand memory that the last task needed back to the system, where the C library can (glibc)."""
    gc.collect()
    with suppress(AttributeError, OSError):
        ctypes.CDLL(None).malloc_trim(0)


def work(pipe: Connection, stop: Event) -> None:
    """Take (job id, request) from the pipe until it closes; send (`better` | `done` | `failed`, job id, payload)."""
    resource.setrlimit(resource.RLIMIT_AS, (MOST_BYTES, MOST_BYTES))
    with suppress(OSError):
        os.nice(10)  # a page that is waited for goes before a lay that takes seconds anyway
    with left_out("scipy"):  # the compiler loads it for linear algebra, which no kernel has: 16 MB of every worker
        warm_up()
    while True:
        give_back()
        try:
            job_id, task = pipe.recv()
        except (EOFError, OSError):
            return
        try:
            pipe.send(("done", job_id, run(task, _reporter(pipe, job_id), stop.is_set)))
        except RowanseedError as error:
            pipe.send(("failed", job_id, (error.text, error.field)))
        except (BrokenPipeError, EOFError):
            return
        except MemoryError:
            pipe.send(("failed", job_id, ("This needs more memory than there is for it. Ask for less at once.", "")))
        except Exception as error:  # a worker must answer whatever happens, or its job would wait for ever
            pipe.send(("failed", job_id, (f"This could not be worked out ({type(error).__name__}).", "")))


def _reporter(pipe: Connection, job_id: int) -> Callable[[Any], None]:
    last = 0.0

    def report(better: Any) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last >= REPORT_S:
            last = now
            pipe.send(("better", job_id, better))

    return report
