"""One pool of worker processes for all applications of a test process: a worker's start costs seconds, its work often less.

A pool that an application "closes" ends what is under way, forgets everything, and stays for the next one. Tests of the pool itself
make their own.
"""

from rowanseed.jobs.durations import Durations
from rowanseed.jobs.pool import JobPool
from tests.patience import until


class StayingPool(JobPool):
    """A pool whose closing leaves the workers, idle and with nothing remembered."""

    def close(self):
        for job in self.waiting_for(""):
            self.stop(job.id)
        until(
            lambda: not self.waiting_for("") and all(w.job is None for w in self._workers), "the workers came to rest"
        )
        with self._lock:
            self._jobs.clear()
            self._served.clear()
            self.durations = Durations()

    def end(self):
        """End the workers for good."""
        super().close()


class Pools:
    """The pools of this test process, one for each number of workers."""

    def __init__(self):
        self._pools = {}

    def executor(self, workers, kept=0):
        """Stands in for the application's own `executor`."""
        return self._pools.setdefault((workers, kept), StayingPool(workers, kept=kept))

    def end(self):
        """End every worker."""
        for pool in self._pools.values():
            pool.end()
