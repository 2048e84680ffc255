"""The executor on a scheduler's workers: results, progress, stop, a worker that is lost, and a scheduler that is not there."""

import os
import re
import shutil
import signal
import subprocess
import sys
from contextlib import closing
from dataclasses import replace

import pytest

from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.jobs.executor import SCHEDULER, NoScheduler, executor
from rowanseed.services.fill_tables import fill, open_cells
from rowanseed.store import db
from tests.patience import PATIENCE_S, until

SHAPE = ((0.0, 0.0), (0.0, 240.0), (180.0, 300.0), (420.0, 250.0), (500.0, 0.0))
ASKED = LayRequest(
    LayCloth(1400.0), tuple(LayPiece(str(n), SHAPE, 2, True) for n in range(6)), "single", effort="quick"
)
LONG = replace(ASKED, pieces=tuple(LayPiece(str(n), SHAPE, 4, True) for n in range(8)), effort="best")


def started(command, folder, says):
    """A process of the cluster, and the line of its log that says it is there."""
    path = folder / f"{len(list(folder.iterdir()))}.log"
    with path.open("wb") as log:
        process = subprocess.Popen([sys.executable, "-m", *command], stdout=log, stderr=log, cwd=folder)
    found = until(
        lambda: re.search(says, path.read_text()) or (process.poll() is not None and "ended"), path.read_text()
    )
    assert found != "ended", path.read_text()
    return process, found


@pytest.fixture(scope="module")
def scheduler(tmp_path_factory):
    folder = tmp_path_factory.mktemp("cluster")
    command = ["distributed.cli.dask_scheduler", "--host", "127.0.0.1", "--port", "0", "--no-dashboard"]
    process, found = started(command, folder, r"(tcp://127\.0\.0\.1:\d+)")
    yield found[1], folder
    process.terminate()
    process.wait(PATIENCE_S)


def worker(scheduler):
    address, folder = scheduler
    command = [
        "distributed.cli.dask_worker",
        address,
        "--nthreads",
        "1",
        "--no-dashboard",
        "--no-nanny",
        "--host",
        "127.0.0.1",
    ]
    return started(command, folder, "Registered to")[0]


@pytest.fixture
def pool(scheduler, monkeypatch):
    monkeypatch.setenv(SCHEDULER, scheduler[0])
    processes = [worker(scheduler) for _ in range(2)]
    pool = executor(1)
    yield pool
    pool.close()
    for process in processes:
        process.terminate()
        process.wait(PATIENCE_S)


def test_lays_are_made_reported_stopped_and_kept_once(pool):
    assert pool.workers == 2
    kept = []
    job = pool.submit("a", ASKED, kept.append)
    assert job.finished.wait(PATIENCE_S) and job.status == "done" and not job.best.failed and kept == [job.best]
    long = pool.submit("b", LONG)
    until(lambda: long.best is not None)
    assert not long.over  # told of on the way
    pool.stop(long.id)
    assert long.finished.wait(PATIENCE_S) and long.status == "stopped" and long.best.placements
    first, second = pool.submit("c", LONG, kept.append), pool.submit("c", ASKED, kept.append)
    assert first.finished.wait(PATIENCE_S) and second.finished.wait(PATIENCE_S)
    assert (first.status, second.status) == ("stopped", "done") and kept[1:] == [second.best]
    wrong = pool.submit("d", replace(ASKED, pieces=()))
    assert wrong.finished.wait(PATIENCE_S) and wrong.status == "failed" and "nothing to lay" in wrong.problem.lower()


def test_a_worker_that_is_lost_gives_its_task_to_another(scheduler, pool):
    extra = worker(scheduler)
    jobs = [pool.submit(f"l{n}", replace(ASKED, seed=n + 1, effort="good")) for n in range(6)]
    until(lambda: any(job.status == "running" for job in jobs))
    os.kill(extra.pid, signal.SIGKILL)
    extra.wait()
    assert all(job.finished.wait(PATIENCE_S) for job in jobs)
    assert [job.status for job in jobs] == ["done"] * 6


def test_tables_are_filled_on_the_cluster_and_go_on_where_they_stopped(pool, demo_file, tmp_path):
    own = tmp_path / "h.db"
    shutil.copy(demo_file, own)
    with closing(db.connect(own)) as conn:
        conn.execute("delete from yardage_cell")
        conn.commit()
    there = sum(1 for _ in open_cells(own))
    told = []
    some = fill(own, pool, lambda filled: told.append(filled.done), lambda: len(told) >= 5)
    assert 5 <= some.done < there and some.failed == 0
    until(lambda: sum(1 for _ in open_cells(own)) <= there - 5)


def test_a_scheduler_that_is_not_there_is_told_in_words(monkeypatch):
    monkeypatch.setattr("rowanseed.jobs.cluster.JOIN_S", 1.0)
    monkeypatch.setenv(SCHEDULER, "tcp://127.0.0.1:9")
    with pytest.raises(NoScheduler, match="No scheduler answers"):
        executor(1)
