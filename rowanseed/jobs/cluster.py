"""The executor on several machines: the same methods as the local pool, the work done by workers of a dask scheduler.

Results are kept as the local pool keeps them, once and only while their job is the newest for its place. A worker that is lost
gives its task to another; a scheduler that is lost fails its jobs in words. Workers run this package's code on what they are sent,
so a scheduler has to be trusted as the household's own machine is (see docs/scale.md).
"""

import pickle
import threading
import time
import uuid
from collections.abc import Callable
from typing import Any

from distributed import Client, Event, Future, get_worker
from distributed.scheduler import KilledWorker

from rowanseed.core.errors import RowanseedError
from rowanseed.jobs.pool import MOST_S, Job, JobPool
from rowanseed.jobs.tasks import Task, run

RETRIES = 2
LOOK_S = 0.4  # how often a worker asks whether it is to stop
REPORT_S = 0.5  # and at most how often it sends the best so far
JOIN_S = 10.0


class ClusterPool(JobPool):
    """Jobs on the workers of a scheduler."""

    def __init__(self, address: str, most_s: float = MOST_S) -> None:
        """Join a scheduler.

        Raises:
            OSError: there is none at this address.
        """
        super().__init__(0, most_s)
        self._client = Client(address, set_as_default=False, timeout=JOIN_S, name="rowanseed")
        self._futures: dict[int, tuple[str, Future[Any]]] = {}

    def warm(self) -> None:
        """Nothing to start: workers come and go by themselves."""

    @property
    def workers(self) -> int:
        """How many workers the scheduler has now."""
        return len(self._client.scheduler_info(n_workers=-1)["workers"])

    def stop(self, job_id: int) -> None:
        """Ask a job to stop and keep the best so far."""
        super().stop(job_id)
        with self._lock:
            known = self._futures.get(job_id)
        if known is not None:
            Event(known[0], client=self._client).set()

    def close(self) -> None:
        """Leave the scheduler; what is still under way there is given up."""
        with self._lock:
            self._closed = True
            futures = [future for _, future in self._futures.values()]
        self._client.cancel(futures)
        self._client.close(timeout=JOIN_S)
        self._keepers.shutdown(wait=True, cancel_futures=True)

    def _hand_out(self) -> None:
        while (job := self._next()) is not None:
            self._waiting.remove(job)
            job.status, job.begun = "running", time.monotonic()
            self._served[job.asker] = job.begun
            self._send(job)

    def _send(self, job: Job) -> None:
        token = f"rowanseed-{uuid.uuid4().hex}"
        self._client.subscribe_topic(token, self._hearer(job))
        future = self._client.submit(
            run_there,
            job.task,
            token,
            self.most_s,
            key=token,
            pure=False,
            retries=RETRIES,
            priority=-1 if job.patient else 0,
        )
        self._futures[job.id] = (token, future)
        future.add_done_callback(lambda done: self._keepers.submit(self._answered, job, token, done))

    def _hearer(self, job: Job) -> Callable[[Any], None]:
        def hear(event: Any) -> None:
            if not job.over:
                job.best = pickle.loads(event[1])

        return hear

    def _answered(self, job: Job, token: str, done: "Future[Any]") -> None:
        """Take a future's answer over, whatever became of it."""
        if self._closed:
            return
        kind, payload = _answer_of(done)
        self._client.unsubscribe_topic(token)
        with self._lock:
            self._futures.pop(job.id, None)
        done.release()
        self._finish(job, kind, payload)


def _answer_of(done: "Future[Any]") -> tuple[str, Any]:
    try:
        kind, payload = done.result(timeout=JOIN_S)
    except KilledWorker:
        return "lost", (
            "The workers that were at this ended one after the other: start it again.",
            "",
        )
    except Exception as error:  # whatever became of it, its job must not wait for ever
        return "lost", (f"The workers were lost ({type(error).__name__}): start it again.", "")
    return kind, payload


def run_there(task: Task, token: str, most_s: float) -> tuple[str, Any]:
    """Do a task on a worker: (`done`, result) or (`failed`, (text, field)), telling of what is better on the way."""
    worker = get_worker()
    asked = Event(token)
    began = time.monotonic()
    looked, told, stopped = began, 0.0, threading.Event()

    def stop() -> bool:
        nonlocal looked
        now = time.monotonic()
        if now - looked >= LOOK_S and not stopped.is_set():
            looked = now
            if now - began > most_s or asked.is_set():
                stopped.set()
        return stopped.is_set()

    def report(better: Any) -> None:
        nonlocal told
        now = time.monotonic()
        if now - told >= REPORT_S:
            told = now
            worker.log_event(token, pickle.dumps(better))

    try:
        return "done", run(task, report, stop)
    except RowanseedError as error:
        return "failed", (error.text, error.field)
    except MemoryError:
        return "failed", ("This needs more memory than there is for it. Ask for less at once.", "")
