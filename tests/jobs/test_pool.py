"""Long work outside the request: progress, stop, a worker that dies, errors in words."""

import os
import signal
import subprocess
import sys
import threading
from dataclasses import replace
from types import SimpleNamespace

import pytest

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.model import LayPiece
from rowanseed.jobs.pool import JobPool, _Worker, asker
from rowanseed.jobs.tasks import is_small
from rowanseed.jobs.worker import left_out
from tests.core.lay.pieces import SHIRT, rect, request
from tests.patience import PATIENCE_S, until

LONG = request(SHIRT, gap_mm=3.0, effort="best", spread="single")
SHORT = replace(LONG, effort="quick")


@pytest.fixture(scope="module")
def pool():
    pool = JobPool(1)
    pool.warm()
    yield pool
    pool.close()


def test_a_job_is_done_kept_and_remembered(pool):
    kept = []
    job = pool.submit("make 1", SHORT, kept.append)
    assert job.finished.wait(PATIENCE_S) and job.status == "done"
    assert kept == [job.best] and check_lay(SHORT, job.best) == [] and pool.get(job.id) is job


def test_progress_shows_the_best_so_far_and_a_stop_keeps_it(pool):
    kept = []
    job = pool.submit("make 1", LONG, kept.append)
    until(lambda: job.best is not None)
    assert not job.over and pool.under_way("make 1") is job
    pool.stop(job.id)
    assert job.finished.wait(PATIENCE_S) and job.status == "stopped"
    assert kept and check_lay(LONG, kept[0]) == []


def test_a_new_job_for_the_same_lay_stops_the_old_one(pool):
    first = pool.submit("make 1", LONG, lambda lay: None)
    second = pool.submit("make 1", SHORT, lambda lay: None)
    assert second.finished.wait(PATIENCE_S) and first.status == "stopped" and second.status == "done"


def test_an_overtaken_result_is_never_kept_over_the_newer_one():
    pool = JobPool(2)
    try:
        kept = []
        first = pool.submit("make 1", LONG, lambda lay: kept.append("older"))
        until(lambda: first.best is not None)
        # the older one is held back as if its worker answered late: the newer one is done and kept before it
        second = pool.submit("make 1", SHORT, lambda lay: kept.append("newer"))
        assert second.finished.wait(PATIENCE_S) and first.finished.wait(PATIENCE_S)
        assert kept == ["newer"] and (first.status, second.status) == ("stopped", "done")
    finally:
        pool.close()


def test_keeping_a_result_does_not_hold_the_pool_up():
    pool = JobPool(2)
    try:
        began, go_on = threading.Event(), threading.Event()

        def slow(lay):
            began.set()
            assert go_on.wait(PATIENCE_S)

        first = pool.submit("make 1", SHORT, slow)
        assert began.wait(PATIENCE_S)
        other = pool.submit("make 2", SHORT)
        assert other.finished.wait(PATIENCE_S) and not first.over
        go_on.set()
        assert first.finished.wait(PATIENCE_S) and first.status == "done"
    finally:
        pool.close()


def test_a_waiting_job_is_stopped_before_it_begins(pool):
    first = pool.submit("make 1", LONG, lambda lay: None)
    waiting = pool.submit("make 2", LONG, lambda lay: None)
    pool.stop(waiting.id)
    assert waiting.status == "stopped"
    pool.stop(first.id)
    assert first.finished.wait(PATIENCE_S)


def test_a_request_that_cannot_be_laid_fails_in_words(pool):
    job = pool.submit("make 1", request([LayPiece("1", rect(9.0, 9.0), 0)]), lambda lay: None)
    assert job.finished.wait(PATIENCE_S) and job.status == "failed" and "at least once" in job.problem


def test_a_lay_that_cannot_be_kept_says_so(pool):
    def broken(lay):
        raise OSError("disk full")

    job = pool.submit("make 1", SHORT, broken)
    assert job.finished.wait(PATIENCE_S) and "disk full" in job.problem and job.best is not None


def test_a_worker_that_dies_is_replaced_and_gives_its_job_to_another_once(pool):
    job = pool.submit("make 1", LONG, lambda lay: None)
    until(lambda: job.best is not None)
    pool._workers[0].process.kill()
    until(lambda: job.lost == 1 and job.status == "running")
    assert not job.over and not job.problem
    pool._workers[0].process.kill()
    assert job.finished.wait(PATIENCE_S) and job.status == "failed" and job.unserved and "start it again" in job.problem
    assert job.best is not None  # what was found before is not thrown away
    again = pool.submit("make 1", SHORT, lambda lay: None)
    assert again.finished.wait(PATIENCE_S) and again.status == "done"


def test_a_job_that_was_stopped_is_not_given_on(pool):
    job = pool.submit("make 1", LONG, lambda lay: None)
    until(lambda: job.best is not None)
    job.stop_asked = True
    pool._workers[0].process.kill()
    assert job.finished.wait(PATIENCE_S) and job.status == "failed" and job.lost == 1


class Still:
    """A pool whose workers never answer: what is handed to whom is seen without a process."""

    def __init__(self, workers, kept):
        self.pool = JobPool(workers, kept=kept)
        self.pool._start_worker = self.start
        self.pool.warm()

    def start(self, kept):
        process = SimpleNamespace(terminate=lambda: None, join=lambda seconds: None)
        self.pool._workers.append(_Worker(process, SimpleNamespace(send=lambda what: None), threading.Event(), kept))

    def running(self):
        return [w.job.key if w.job else "" for w in self.pool._workers]


@pytest.fixture
def still():
    """Makes pools whose workers never answer."""
    made = []
    yield lambda workers, kept: made.append(Still(workers, kept)) or made[-1]
    for each in made:
        each.pool.close()
    asker.set("")


def test_a_small_lay_waits_for_no_large_one_and_a_table_does_not_take_its_place(still):
    large = replace(LONG, effort="best")
    assert is_small(SHORT) and is_small(replace(SHORT, effort="good")) and not is_small(large)
    many = replace(SHORT, pieces=tuple(replace(p, id=f"{p.id}{n}") for n in range(40) for p in SHORT.pieces))
    assert not is_small(many)  # quick was asked for, and it is not
    held = still(2, kept=1)
    for n in range(6):
        held.pool.submit(f"absurd {n}", replace(large, seed=n))
    held.pool.submit("table", SHORT, patient=True)
    assert held.running() == ["absurd 0", "absurd 1", ""]
    held.pool.submit("small", SHORT)
    assert held.running() == ["absurd 0", "absurd 1", "small"]


def test_a_job_that_had_its_time_gives_way_to_those_who_wait_and_says_so():
    pool = JobPool(1, turn=lambda task: 0.0)
    pool.warm()
    try:
        first = pool.submit("large 1", LONG)
        until(lambda: first.best is not None)
        assert first.status == "running"  # nobody waits: it goes on though its time is over
        second = pool.submit("large 2", replace(LONG, seed=2))
        assert first.finished.wait(PATIENCE_S) and first.status == "stopped" and "others wait" in first.problem
        assert first.best is not None
        pool.stop(second.id)
        assert second.finished.wait(PATIENCE_S)
    finally:
        pool.close()


def test_a_patient_job_gives_way_too_but_a_table_s_own_cells_wait_for_each_other(still):
    held = still(1, kept=0)
    asker.set("a")
    cell = held.pool.submit("cell 1", SHORT, patient=True)
    held.pool.submit("cell 2", SHORT, patient=True)
    assert not held.pool._is_waited_for(cell)
    held.pool.submit("page", SHORT)
    assert held.pool._is_waited_for(cell)


def test_waiting_jobs_take_turns_between_those_who_asked():
    pool = JobPool(1)
    pool.warm()
    order = []

    def submit(who, n):
        asker.set(who)
        return pool.submit(f"{who} {n}", replace(SHORT, seed=n), lambda found: order.append(f"{who}{n}"))

    try:
        jobs = [submit("a", n) for n in range(1, 6)] + [submit("b", n) for n in range(1, 3)]
        for job in jobs:
            assert job.finished.wait(PATIENCE_S)
        until(lambda: len(order) == 7)
        # a's first runs already when the others come; from then on b is served in turn, not after all of a's.
        assert order.index("b1") <= 2 and order.index("b2") <= 4
    finally:
        asker.set("")
        pool.close()


def test_a_job_that_takes_too_long_is_stopped_with_the_best_so_far_and_its_worker_ended_if_it_does_not_stop():
    pool = JobPool(1, most_s=1.5, grace_s=PATIENCE_S)
    pool.warm()
    try:
        until(lambda: pool.submit("w", SHORT).finished.wait(PATIENCE_S))
        job = pool.submit("long", LONG)
        assert (
            job.finished.wait(PATIENCE_S)
            and job.status == "stopped"
            and "took too long" in job.problem
            and job.best is not None
        )
    finally:
        pool.close()


def test_a_worker_that_does_not_stop_is_ended_and_what_it_had_found_is_kept():
    pool, kept = JobPool(1, grace_s=0.2), []
    pool.warm()
    try:
        job = pool.submit("long", LONG, kept.append)
        until(lambda: job.best is not None)
        worker = pool._workers[0]
        os.kill(worker.process.pid, signal.SIGSTOP)  # it hears nothing any more
        pool.most_s = 0.0
        pool._watch(worker, job)
        assert job.finished.wait(PATIENCE_S) and job.status == "stopped" and "The best so far is kept" in job.problem
        assert kept == [job.best] and check_lay(LONG, job.best) == []
        assert pool.submit("next", SHORT).finished.wait(PATIENCE_S)
    finally:
        pool.close()


def watches():
    return {t for t in threading.enumerate() if isinstance(t, threading.Timer) and not t.finished.is_set()}


def test_the_watch_over_a_job_ends_with_it(pool):
    before = watches()  # those of other pools in this process
    for n in range(6):
        assert pool.submit(f"watched {n}", SHORT).finished.wait(PATIENCE_S)
    assert watches() - before == set()


def test_more_than_can_wait_is_refused_in_words(monkeypatch):
    monkeypatch.setattr("rowanseed.jobs.pool.MOST_WAITING", 3)
    pool = JobPool(1)
    try:
        jobs = [pool.submit(f"m {n}", replace(LONG, seed=n)) for n in range(8)]
        refused = [job for job in jobs if job.status == "failed"]
        assert 3 <= len(refused) <= 4 and all("Too much is waiting" in job.problem for job in refused)
    finally:
        pool.close()


def test_what_is_left_out_while_the_kernels_load_can_be_imported_afterwards():
    code = (
        "import sys\n"
        "from rowanseed.jobs.worker import left_out, warm_up\n"
        "with left_out('scipy'):\n"
        "    warm_up()\n"
        "assert not any(m.split('.')[0] == 'scipy' for m in sys.modules)\n"
        "import scipy.ndimage\n"
    )
    subprocess.run([sys.executable, "-c", code], check=True)
    with left_out("json"):  # it is there already: nothing is taken away
        assert sys.modules["json"] is not None
