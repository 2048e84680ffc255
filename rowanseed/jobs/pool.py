"""Worker processes for long work (lays, concessions), with progress and cancel.

`JobPool` is the executor the pages use; another one (a cluster's) needs the same four methods. A worker that dies is
reported in its job, with the best lay so far, and replaced. Waiting jobs take turns between those who asked; one that takes too
long is stopped, and so is what takes too much memory.
"""

import itertools
import multiprocessing
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextvars import ContextVar
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.synchronize import Event
from typing import Any, Literal
from weakref import WeakValueDictionary

from rowanseed.jobs.durations import Durations
from rowanseed.jobs.tasks import Task, kind_of
from rowanseed.jobs.worker import work

Status = Literal["waiting", "running", "done", "stopped", "failed"]
KEPT = 64  # finished jobs remembered
MOST_S, GRACE_S = 1200.0, 15.0  # a job is asked to stop after the first, its worker ended after the second
MOST_WAITING = 400
# Who asks: the queue takes turns between them. A page's request sets it.
asker: ContextVar[str] = ContextVar("asker", default="")


@dataclass
class Job:
    """One piece of work: its state, the best result so far (of the task's own kind), and what went wrong if anything did."""

    id: int
    key: str
    task: Task
    on_done: Callable[[Any], None]
    patient: bool = False
    status: Status = "waiting"
    best: Any = None
    problem: str = ""
    at_field: str = ""
    stop_asked: bool = False
    asker: str = ""
    begun: float = 0.0
    takes: float | None = None
    finished: threading.Event = field(default_factory=threading.Event)

    @property
    def over(self) -> bool:
        """Whether nothing more will come."""
        return self.status in ("done", "stopped", "failed")

    @property
    def left(self) -> float | None:
        """About how many seconds it still takes, by what such work took on this machine; None where that is not known."""
        if self.takes is None or self.over:
            return None
        return max(0.0, self.takes - (time.monotonic() - self.begun if self.begun else 0.0))


@dataclass
class _Worker:
    process: Any
    pipe: Connection
    stop: Event
    job: Job | None = None
    watch: threading.Timer | None = None  # a thread of its own, which holds the job: ended with it


class JobPool:
    """Worker processes on this machine, started at the first job."""

    def __init__(self, workers: int = 1, most_s: float = MOST_S) -> None:
        self.most_s = most_s
        self.durations = Durations()
        self._served: dict[str, float] = {}
        self._context = multiprocessing.get_context("spawn")
        self._count = workers
        self._workers: list[_Worker] = []
        self._jobs: dict[int, Job] = {}
        self._waiting: list[Job] = []
        self._ids = itertools.count(1)
        self._lock = threading.RLock()
        self._keepers = ThreadPoolExecutor(max_workers=2, thread_name_prefix="keep")
        # One result at a time is kept for each place; a lock that nobody holds is gone.
        self._keeping = WeakValueDictionary[str, threading.Lock]()
        self._closed = False

    def warm(self) -> None:
        """Start the workers now, so that the first lay need not wait for them."""
        with self._lock:
            while len(self._workers) < self._count and not self._closed:
                self._start_worker()

    def submit(
        self, key: str, task: Task, on_done: Callable[[Any], None] = lambda result: None, patient: bool = False
    ) -> Job:
        """Queue a task. A job with the same key that is still under way is asked to stop; a patient one lets others go first."""
        self.warm()
        with self._lock:
            for job in self._jobs.values():
                if job.key == key and not job.over:
                    self.stop(job.id)
            job = Job(next(self._ids), key, task, on_done, patient, asker=asker.get())
            job.takes = self.durations.about(kind_of(task))
            self._jobs[job.id] = job
            self._waiting.append(job)
            if len(self._waiting) > MOST_WAITING:
                self._waiting.remove(job)
                job.problem = "Too much is waiting already. Wait until some of it is done, and ask again."
                self._end(job, "failed")
            for old in [j for j in list(self._jobs.values()) if j.over][: max(0, len(self._jobs) - KEPT)]:
                del self._jobs[old.id]
            self._hand_out()
        return job

    def get(self, job_id: int) -> Job | None:
        """A job by its id, while it is remembered."""
        with self._lock:
            return self._jobs.get(job_id)

    def last(self, key: str) -> Job | None:
        """The newest job with this key, also one that is over."""
        with self._lock:
            return next((j for j in reversed(self._jobs.values()) if j.key == key), None)

    def under_way(self, key: str) -> Job | None:
        """The unfinished job with this key."""
        with self._lock:
            return next((j for j in reversed(self._jobs.values()) if j.key == key and not j.over), None)

    def waiting_for(self, prefix: str) -> list[Job]:
        """The unfinished jobs whose keys begin so."""
        with self._lock:
            return [j for j in self._jobs.values() if j.key.startswith(prefix) and not j.over]

    def stop(self, job_id: int) -> None:
        """Ask a job to stop and keep the best so far."""
        with self._lock:
            job = self._jobs.get(job_id)
            if job is None or job.over:
                return
            job.stop_asked = True
            if job in self._waiting:
                self._waiting.remove(job)
                self._end(job, "stopped")
            for worker in self._workers:
                if worker.job is job:
                    worker.stop.set()

    def close(self) -> None:
        """End the workers."""
        with self._lock:
            self._closed = True
            workers, self._workers = self._workers, []
        for worker in workers:
            worker.process.terminate()
            worker.process.join(5)
        self._keepers.shutdown(wait=True, cancel_futures=True)

    def _start_worker(self) -> None:
        ours, theirs = self._context.Pipe()
        stop = self._context.Event()
        process = self._context.Process(target=work, args=(theirs, stop), daemon=True)
        process.start()
        theirs.close()
        worker = _Worker(process, ours, stop)
        self._workers.append(worker)
        threading.Thread(target=self._listen, args=(worker,), daemon=True).start()

    def _hand_out(self) -> None:
        for worker in self._workers:
            if worker.job is None and self._waiting:
                job = self._next()
                self._waiting.remove(job)
                worker.stop.clear()
                worker.job, job.status, job.begun = job, "running", time.monotonic()
                self._served[job.asker] = job.begun
                self._watch(worker, job)
                worker.pipe.send((job.id, job.task))

    def _next(self) -> Job:
        """The job whose turn it is: patient ones last, then who has the least running, then who was served longest ago."""
        running = [w.job.asker for w in self._workers if w.job is not None]
        return min(
            self._waiting, key=lambda j: (j.patient, running.count(j.asker), self._served.get(j.asker, 0.0), j.id)
        )

    def _watch(self, worker: _Worker, job: Job) -> None:
        """Ask a job that takes too long to stop, and end its worker when it does not."""

        def end() -> None:
            if worker.job is job:
                worker.process.kill()

        def ask() -> None:
            if worker.job is job:
                job.problem = "This took too long and was stopped. The best so far is kept."
                self.stop(job.id)
                self._look_after(worker, GRACE_S, end)

        self._look_after(worker, self.most_s, ask)

    def _look_after(self, worker: _Worker, seconds: float, do: Callable[[], None]) -> None:
        timer = threading.Timer(seconds, do)
        timer.daemon = True
        with self._lock:
            if worker.watch is not None:
                worker.watch.cancel()
            worker.watch = timer
        timer.start()

    def _listen(self, worker: _Worker) -> None:
        while True:
            try:
                kind, job_id, payload = worker.pipe.recv()
            except (EOFError, OSError):
                self._lost(worker)
                return
            job = self.get(job_id)
            if job is not None and kind == "better":
                job.best = payload
                continue
            with self._lock:
                worker.job = None
                if worker.watch is not None:
                    worker.watch.cancel()
                self._hand_out()
            if job is not None and not self._closed:
                # Not in this thread, which listens to what the worker does next.
                self._keepers.submit(self._finish, job, kind, payload)

    def _finish(self, job: Job, kind: str, payload: Any) -> None:
        """Keep a result, if its job is still the newest for its place, and end the job; outside the pool's lock."""
        if kind == "done":
            job.best = payload
            if not job.stop_asked:
                self.durations.note(kind_of(job.task), time.monotonic() - job.begun)
            with self._lock:
                keeping = self._keeping.setdefault(job.key, threading.Lock())
            with keeping:
                if self.last(job.key) in (job, None):
                    try:
                        job.on_done(payload)
                    except Exception as error:  # the lay is drawn all the same; the page says that it was not kept
                        job.problem = f"The lay could not be kept: {error}"
                else:
                    job.stop_asked = True
        else:
            job.problem, job.at_field = payload
        with self._lock:
            self._end(job, "failed" if kind != "done" else "stopped" if job.stop_asked else "done")

    def _lost(self, worker: _Worker) -> None:
        with self._lock:
            if self._closed:
                return
            self._workers = [w for w in self._workers if w is not worker]
            if worker.watch is not None:
                worker.watch.cancel()
            if worker.job is not None:
                worker.job.problem = (
                    worker.job.problem or "The worker that was at this ended. The last lay is kept; start it again."
                )
                self._end(worker.job, "failed")
            self._start_worker()
            self._hand_out()

    def _end(self, job: Job, status: Status) -> None:
        job.status = status
        job.finished.set()
