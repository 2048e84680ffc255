"""Long work behind a page or an interface: begun once, looked at while it goes on, its result remembered, stopped when asked."""

from dataclasses import dataclass
from typing import Any

from rowanseed.jobs.pool import Job, JobPool
from rowanseed.jobs.tasks import Task
from rowanseed.services.remembered import Remembered


@dataclass(frozen=True)
class Progress:
    """How far a piece of work is: its result, or the best so far while it runs, or why there is none; `left`: seconds, about."""

    result: Any = None
    best: Any = None
    problem: str = ""
    running: bool = False
    stopped: bool = False
    left: float | None = None


class LongWork:
    """Work by its place: what is asked for again there is not begun again."""

    def __init__(self, jobs: JobPool, memory: Remembered) -> None:
        self.jobs = jobs
        self.memory = memory

    def look(self, place: str, task: Task, patient: bool = True, again: bool = False) -> Progress:
        """Return how far a task is; begin it where it is not known and not under way.

        Args:
            place: what it is known by; another task for the same place stops the one before.
            patient: whether other work goes first.
            again: whether work that was stopped is begun anew.
        """
        known = self.memory.get((place, _key(task)))
        if known is not None:
            return Progress(result=known)
        job = self.jobs.last(place)
        if job is None or job.task != task or (again and job.status == "stopped"):
            job = self.jobs.submit(place, task, patient=patient)
        return self._seen(place, task, job)

    def _seen(self, place: str, task: Task, job: Job) -> Progress:
        if not job.over:
            return Progress(best=job.best, running=True, left=job.left)
        if job.status == "done":
            self.memory.put((place, _key(task)), job.best)
            return Progress(result=job.best)
        return Progress(best=job.best, problem=job.problem, stopped=job.status == "stopped")

    def stop(self, prefix: str) -> None:
        """Stop everything whose place begins so."""
        for job in reversed(self.jobs.waiting_for(prefix)):
            self.jobs.stop(job.id)


def _key(task: Task) -> int:
    return hash(repr(task))
