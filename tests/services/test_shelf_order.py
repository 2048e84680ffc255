"""The makes' shelf: worked out by hand from ticks, dates and names."""

from datetime import date
from types import SimpleNamespace

from rowanseed.services.shelf_order import found_by, on_the_shelf, ordered
from rowanseed.store import makes


def make(number, name, started, finished=None):
    return SimpleNamespace(id=number, name=name, started_on=started, finished_on=finished)


MAKES = [
    make(1, "apron", date(2026, 1, 1)),
    make(2, "Coat", date(2026, 3, 1)),
    make(3, "shirt", date(2026, 2, 1)),
    make(4, "Bag", date(2026, 5, 1), date(2026, 6, 1)),
    make(5, "dress", date(2026, 4, 1)),
    make(6, "hat", date(2026, 2, 2)),
]


def test_what_is_being_sewn_stands_first_then_what_is_cut_then_the_newest_plan(monkeypatch):
    ticked = {"sew": {3: "2026-05-01", 4: "2026-05-30", 2: "2026-05-09"}, "cut": {3: "2026-05-10", 5: "2026-04-02"}}
    monkeypatch.setattr("rowanseed.services.shelf_order.worked_on", lambda conn, what: ticked[what])
    shelf = on_the_shelf(None, MAKES)
    assert {one.make.id: one.doing for one in shelf} == {
        1: "planning", 2: "sewing", 3: "sewing", 4: "worn", 5: "cutting", 6: "planning"
    }  # fmt: skip
    # the shirt was cut into after the coat was last sewn at
    assert [one.make.id for one in ordered(shelf, "in hand")] == [3, 2, 5, 6, 1, 4]
    assert [one.make.id for one in ordered(shelf, "newest")] == [4, 5, 2, 6, 3, 1]
    assert [one.make.name for one in ordered(shelf, "name")] == ["apron", "Bag", "Coat", "dress", "hat", "shirt"]
    found = found_by(shelf, "RUNA shirt", {3: "Garden shirt Runa", 2: "Runa"})
    assert [one.make.id for one in found] == [3] and len(found_by(shelf, "", {})) == 6


def test_ticks_are_read_by_list_with_their_latest_time(demo_path):
    from contextlib import closing

    from rowanseed.store import db

    with closing(db.connect(demo_path)) as conn:
        sewn = makes.worked_on(conn, "sew")
        rows = conn.execute("select at from tick where list = 'sew' and make_id = 2").fetchall()
        assert sewn[2] == max(row["at"] for row in rows) and set(sewn) < {m.id for m in makes.makes(conn)}
