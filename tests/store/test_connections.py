"""Connections kept between requests: lent to one at a time, clean, and never on a file that is no longer there."""

import sqlite3
from contextlib import closing

import pytest

from rowanseed.store import db
from rowanseed.store.connections import AT_REST, Connections


@pytest.fixture
def path(tmp_path):
    """A database with one table."""
    with closing(db.connect(tmp_path / "a.db")) as conn:
        conn.execute("create table thing (name text)")
    return tmp_path / "a.db"


def names(conn):
    return [name for (name,) in conn.execute("select name from thing").fetchall()]


def test_a_connection_is_lent_again_and_two_at_once_are_two(path):
    held = Connections(path)
    with held.lent() as first, held.lent() as second:
        assert first is not second
    with held.lent() as again:
        assert again in (first, second)
    held.close()
    with pytest.raises(sqlite3.ProgrammingError):
        first.execute("select 1")


def test_what_a_request_left_open_is_rolled_back(path):
    held = Connections(path)
    with held.lent() as conn:
        conn.execute("begin immediate")
        conn.execute("insert into thing values ('half')")
    with held.lent() as again:
        assert again is conn and not again.in_transaction and names(again) == []
    held.close()


def test_what_is_written_stands_in_the_file_itself(path):
    held = Connections(path)
    with held.lent() as conn, db.write(conn):
        conn.execute("insert into thing values ('whole')")
    copy = path.with_name("copy.db")
    copy.write_bytes(path.read_bytes())  # by hand, without the log beside it, while the application runs
    with closing(sqlite3.connect(copy)) as conn:
        assert names(conn) == ["whole"]
    held.close()


def test_a_file_put_in_its_place_is_seen(path):
    held = Connections(path)
    with held.lent() as conn:
        assert names(conn) == []
    with closing(db.connect(path.with_name("b.db"))) as other:
        other.execute("create table thing (name text)")
        other.execute("insert into thing values ('new')")
    for ending in ("", "-wal", "-shm"):
        path.with_name(path.name + ending).unlink(missing_ok=True)
    path.with_name("b.db").rename(path)
    with held.lent() as conn:
        assert names(conn) == ["new"]
    held.close()


def test_a_file_copied_over_it_is_seen_too(path):
    held = Connections(path)
    with held.lent() as conn, db.write(conn):
        conn.execute("insert into thing values ('old')")
    with closing(sqlite3.connect(path.with_name("b.db"))) as other:
        other.execute("create table thing (name text)")
        other.execute("insert into thing values ('new')")
        other.commit()
    path.write_bytes(path.with_name("b.db").read_bytes())
    with held.lent() as conn:
        assert names(conn) == ["new"] and conn.execute("pragma integrity_check").fetchone()[0] == "ok"
    held.close()


def test_no_more_stay_open_than_are_asked_at_once(path):
    held = Connections(path)
    lent = [held.lent() for _ in range(AT_REST + 3)]
    conns = [one.__enter__() for one in lent]
    for one in lent:
        one.__exit__(None, None, None)
    alive = 0
    for conn in conns:
        try:
            conn.execute("select 1")
            alive += 1
        except sqlite3.ProgrammingError:
            pass
    assert alive == AT_REST
    held.close()
