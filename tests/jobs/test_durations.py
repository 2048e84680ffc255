"""How long work still takes, by what such work took on this machine."""

import time
from contextlib import closing
from dataclasses import replace

from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.jobs.durations import KEPT, Durations
from rowanseed.jobs.pool import Job, JobPool
from rowanseed.jobs.tasks import kind_of
from rowanseed.store import db
from rowanseed.store.settings import durations, put_durations
from tests.patience import PATIENCE_S

SQUARE = LayPiece("a", ((0.0, 0.0), (0.0, 100.0), (100.0, 100.0), (100.0, 0.0)), cut=2)
ASKED = LayRequest(LayCloth(500.0), (SQUARE,), effort="quick")


def test_the_middle_of_the_newest_is_told_and_nothing_where_none_was_done():
    taken = Durations()
    assert taken.about("a") is None
    for seconds in (4.0, 100.0, 5.0):
        taken.note("a", seconds)
    assert taken.about("a") == 5.0 and taken.about("b") is None
    for _ in range(KEPT):
        taken.note("a", 1.0)  # the machine became faster
    assert taken.about("a") == 1.0
    other = Durations()
    other.take_over(taken.kept())
    assert other.kept() == taken.kept()


def test_lays_of_another_effort_or_many_more_pieces_are_another_kind():
    many = replace(ASKED, pieces=(replace(SQUARE, cut=40),))
    assert len({kind_of(ASKED), kind_of(many), kind_of(replace(ASKED, effort="good"))}) == 3


def test_a_job_says_how_long_it_still_takes_and_one_that_is_over_nothing():
    job = Job(1, "k", ASKED, lambda result: None, begun=time.monotonic() - 2.0, takes=10.0)
    assert 7.5 < job.left < 8.1
    assert Job(1, "k", ASKED, lambda result: None).left is None
    job.status = "done"
    assert job.left is None


def test_the_pool_learns_from_what_it_did():
    pool = JobPool()
    try:
        first = pool.submit("k", ASKED)
        assert first.takes is None and first.finished.wait(PATIENCE_S)
        second = pool.submit("k", ASKED)
        assert second.takes is not None and second.takes < PATIENCE_S and second.finished.wait(PATIENCE_S)
    finally:
        pool.close()


def test_it_is_kept_over_a_restart_and_nonsense_is_nothing(tmp_path):
    with closing(db.connect(tmp_path / "h.db")) as conn:
        db.migrate(conn)
        with db.write(conn):
            put_durations(conn, {"a": [1.5, 2.0]})
        assert durations(conn) == {"a": [1.5, 2.0]}
        conn.execute("update setting set value = '[1]' where key = 'durations'")
        assert durations(conn) == {}
