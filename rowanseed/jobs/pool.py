"""Worker processes for long work (lays, concessions), with progress and cancel.

`JobPool` is the executor the pages use; another one (a cluster's) needs the same four methods. A worker that dies is replaced, and
its job given to another once. Waiting jobs take turns between those who asked; one worker is kept for small lays, so that they wait
for no large one, and a large one gives way to those who wait once it has had the time that was asked for. What takes too much
memory is ended.
"""

import itertools
import multiprocessing
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from contextvars import ContextVar
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.synchronize import Event
from typing import Any, Literal
from weakref import WeakValueDictionary

from rowanseed.core.lay.model import Lay
from rowanseed.jobs.durations import Durations
from rowanseed.jobs.tasks import Task, is_small, kind_of, turn_s
from rowanseed.jobs.worker import work

Status = Literal["waiting", "running", "done", "stopped", "failed"]
KEPT = 64  # finished jobs remembered
MOST_S, GRACE_S = 1200.0, 15.0  # a job is asked to stop after the first, its worker ended after the second
MOST_WAITING = 400
LIVES = 2  # workers that a job may be lost with before it is given up
LOOK_S = 1.0  # how often it is looked whether others wait for one that has had its time
LOST = "The worker that was at this ended, and so did the one that took it over: start it again."
TOO_LONG = "This took too long and was stopped. The best so far is kept."
GAVE_WAY = (
    "This was stopped after {:.0f} s, since others wait. The best so far is kept; ask for less at once, or again later."
)
FULL = "Too much is waiting already. Wait until some of it is done, and ask again."
# Who asks: the queue takes turns between them. A page's request sets it.
asker: ContextVar[str] = ContextVar("asker", default="")


@dataclass
class Job:
    """One piece of work: its state, the best result so far (of the task's own kind), and what went wrong if anything did.

    `unserved`: it failed for want of a worker, not for what was asked. `lost`: how many workers ended while they were at it.
    """

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
    unserved: bool = False
    lost: int = 0
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
    kept: bool = False
    job: Job | None = None
    watch: threading.Timer | None = None  # a thread of its own, which holds the job: ended with it


class JobPool:
    """Worker processes on this machine, started at the first job."""

    def __init__(
        self, workers: int = 1, most_s: float = MOST_S, kept: int = 0, turn: Callable[[Task], float] = turn_s,
        grace_s: float = GRACE_S,
    ) -> None:  # fmt: skip
        """Args:
        most_s: after so many seconds a job is stopped whether others wait or not.
        grace_s: a worker that was asked to stop and has not after so many seconds is ended.
        kept: workers beside the others that take small lays only.
        turn: how long a task may keep others waiting, seconds.
        """
        self.most_s = most_s
        self._grace_s = grace_s
        self._kept = kept
        self._turn = turn
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
            while not self._closed and (missing := self._missing()) is not None:
                self._start_worker(missing)

    def _missing(self) -> bool | None:
        """Whether the next worker to be started is a kept one; None where all are there."""
        kept = sum(worker.kept for worker in self._workers)
        if len(self._workers) - kept < self._count:
            return False
        return True if kept < self._kept else None

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
                job.problem, job.unserved = FULL, True
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
            if worker.watch is not None:
                worker.watch.cancel()
            worker.process.terminate()
            worker.process.join(5)
        self._keepers.shutdown(wait=True, cancel_futures=True)

    def _start_worker(self, kept: bool) -> None:
        ours, theirs = self._context.Pipe()
        stop = self._context.Event()
        process = self._context.Process(target=work, args=(theirs, stop), daemon=True)
        process.start()
        theirs.close()
        worker = _Worker(process, ours, stop, kept)
        self._workers.append(worker)
        threading.Thread(target=self._listen, args=(worker,), daemon=True).start()

    def _hand_out(self) -> None:
        for worker in sorted(self._workers, key=lambda w: w.kept):
            job = self._next(worker.kept) if worker.job is None else None
            if job is not None:
                self._waiting.remove(job)
                worker.stop.clear()
                worker.job, job.status, job.begun = job, "running", time.monotonic()
                self._served[job.asker] = job.begun
                self._watch(worker, job)
                with suppress(OSError):  # it ended just now: who listens to it gives its job to another
                    worker.pipe.send((job.id, job.task))

    def _next(self, small: bool = False) -> Job | None:
        """The job whose turn it is, None where none is: patient ones last, then who has the least running, then who waited longest.

        Args:
            small: only small ones that somebody waits for.
        """
        running = [w.job.asker for w in self._workers if w.job is not None]
        waiting = [j for j in self._waiting if not small or (is_small(j.task) and not j.patient)]
        return min(
            waiting,
            key=lambda j: (j.patient, running.count(j.asker), self._served.get(j.asker, 0.0), j.id),
            default=None,
        )

    def _watch(self, worker: _Worker, job: Job) -> None:
        """Ask a job to stop once it has had its time and others wait, or that it may have at all; end its worker if it does not."""

        def end() -> None:
            if worker.job is job:
                worker.process.kill()

        def look() -> None:
            with self._lock:
                if worker.job is not job:
                    return
                ran = time.monotonic() - job.begun
                if ran < self.most_s and not self._is_waited_for(job):
                    self._look_after(worker, min(LOOK_S, max(0.01, self.most_s - ran)), look)
                    return
                job.problem = TOO_LONG if ran >= self.most_s else GAVE_WAY.format(ran)
                self.stop(job.id)
                self._look_after(worker, self._grace_s, end)

        self._look_after(worker, min(self.most_s, self._turn(job.task)), look)

    def _is_waited_for(self, job: Job) -> bool:
        """Whether the worker that a job has is waited for; what is patient waits for what is not, and for its own kind."""
        with self._lock:
            return any(not other.patient or (job.patient and other.asker != job.asker) for other in self._waiting)

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
            job.unserved = kind == "lost"
        with self._lock:
            self._end(job, "failed" if kind != "done" else "stopped" if job.stop_asked else "done")

    def _lost(self, worker: _Worker) -> None:
        with self._lock:
            if self._closed:
                return
            self._workers = [w for w in self._workers if w is not worker]
            if worker.watch is not None:
                worker.watch.cancel()
            job = worker.job
            if job is not None:
                job.lost += 1
                if job.lost < LIVES and not job.stop_asked:
                    job.status = "waiting"
                    self._waiting.insert(0, job)
                elif job.problem and isinstance(
                    job.best, Lay
                ):  # its time was over: what it had found is what it came to
                    self._keepers.submit(self._finish, job, "done", job.best)
                else:
                    job.unserved = not job.problem
                    job.problem = job.problem or LOST
                    self._end(job, "failed")
            self._start_worker(worker.kept)
            self._hand_out()

    def _end(self, job: Job, status: Status) -> None:
        job.status = status
        job.finished.set()
