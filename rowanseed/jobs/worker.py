"""What runs in a worker process: lays, one after another, sent back as they improve."""

import time
from multiprocessing.connection import Connection
from multiprocessing.synchronize import Event

from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import Lay, LayCloth, LayPiece, LayRequest
from rowanseed.core.lay.watch import LayWatch

REPORT_S = 0.12  # no more than eight pictures a second


def warm_up() -> None:
    """Lay one small pair, so that every compiled kernel is loaded."""
    square = ((0.0, 0.0), (120.0, 0.0), (120.0, 90.0), (0.0, 90.0))
    for spread in ("single", "lengthwise-fold"):
        lay(LayRequest(LayCloth(600.0), (LayPiece("1", square, 2, True),), spread, gap_mm=2.0, effort="quick"))


def work(pipe: Connection, stop: Event) -> None:
    """Take (job id, request) from the pipe until it closes; send (`better` | `done` | `failed`, job id, payload)."""
    warm_up()
    while True:
        try:
            job_id, request = pipe.recv()
        except (EOFError, OSError):
            return
        try:
            pipe.send(("done", job_id, lay(request, _watch(pipe, stop, job_id))))
        except RowanseedError as error:
            pipe.send(("failed", job_id, error.text))
        except (BrokenPipeError, EOFError):
            return
        except Exception as error:  # a worker must answer whatever happens, or its job would wait for ever
            pipe.send(("failed", job_id, f"The lay could not be worked out ({type(error).__name__})."))


def _watch(pipe: Connection, stop: Event, job_id: int) -> LayWatch:
    last = 0.0

    def report(better: Lay) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last >= REPORT_S:
            last = now
            pipe.send(("better", job_id, better))

    return LayWatch(report, stop.is_set)
