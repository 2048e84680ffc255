"""Deleting with a way back: whatever a thing has goes with it and comes back as it was; who needs it is named."""

import json
from datetime import date, datetime, timedelta

import pytest

from rowanseed.demo.load import load_demo
from rowanseed.store import cloths, db, keeping, makes, patterns, people
from rowanseed.store.keeping import KINDS, CannotComeBack, StillUsed
from rowanseed.store.rows import plain, tables

NOW = datetime(2026, 11, 26, 12, 0)


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    path = tmp_path_factory.mktemp("keep") / "demo.db"
    with_demo = db.connect(path)
    db.migrate(with_demo)
    load_demo(with_demo, date(2026, 11, 24), "quick")
    yield with_demo
    with_demo.close()


@pytest.fixture
def conn(demo):
    """The demo household, as it was again after each test."""
    demo.execute("begin")
    yield demo
    demo.execute("rollback")


def everything(conn):
    """All rows of all tables but the bin, versions left out."""
    found = {}
    for table in tables(conn):
        if table in ("bin", "yardage_cell"):
            continue
        rows = [{k: v for k, v in dict(r).items() if k != "version"} for r in conn.execute(f"select * from {table}")]
        found[table] = sorted(json.dumps(plain(row), sort_keys=True) for row in rows)
    return found


def first_of(conn, kind):
    """A thing of a kind that nothing holds, or one whose holders are out of the way."""
    table = KINDS[kind].table
    return next(
        (r["id"] for r in conn.execute(f"select id from {table}") if not keeping.used_by(conn, KINDS[kind], r["id"])),
        None,
    )


@pytest.mark.parametrize("kind", ["make", "cloth", "person", "supply", "shop", "set", "piece", "file"])
def test_what_is_deleted_comes_back_as_it_was_with_all_that_belonged_to_it(kind, conn):
    keeping.copy(conn, KINDS["cloth"], 1, "Spare")  # every other cloth is in a make
    before = everything(conn)
    id_ = first_of(conn, kind)
    assert id_ is not None
    gone = keeping.delete(conn, KINDS[kind], id_, NOW)
    assert everything(conn) != before
    assert keeping.binned(conn, gone).said == KINDS[kind].said
    assert keeping.take_back(conn, gone) == (kind, id_)
    assert everything(conn) == before and keeping.bin_list(conn, NOW) == []


def test_who_needs_a_thing_is_named_and_nothing_is_deleted(conn):
    before = everything(conn)
    used = conn.execute("select cloth_id from make_cloth").fetchone()[0]
    users = keeping.used_by(conn, KINDS["cloth"], used)
    with pytest.raises(StillUsed, match=users[0]):
        keeping.delete(conn, KINDS["cloth"], used, NOW)
    with pytest.raises(StillUsed, match="put it away"):
        keeping.delete(conn, KINDS["pattern"], 1, NOW)
    assert everything(conn) == before


def test_a_pattern_goes_with_its_pieces_once_its_makes_are_gone_and_all_come_back_in_turn(conn):
    before = everything(conn)
    gone = [keeping.delete(conn, KINDS["make"], m.id, NOW) for m in makes.makes(conn) if m.pattern_id == 1]
    assert keeping.goes_with(conn, KINDS["pattern"], 1)["piece"] == len(patterns.pattern(conn, 1).pattern.pieces)
    pattern = keeping.delete(conn, KINDS["pattern"], 1, NOW)
    with pytest.raises(CannotComeBack, match="Take that one back first"):
        conn.execute("savepoint s")
        keeping.take_back(conn, gone[0])
    conn.execute("rollback to s")
    for one in (pattern, *gone):
        keeping.take_back(conn, one)
    assert everything(conn) == before


def test_the_whole_demo_is_cleared_save_what_an_own_make_needs_and_can_be_taken_back(conn):
    own = keeping.copy(conn, KINDS["make"], 1, "Mine")
    before = everything(conn)
    kept = makes.make(conn, own)
    gone = keeping.clear_demo(conn, NOW)
    assert [m.name for m in makes.makes(conn)] == ["Mine"]
    assert {c.id for c in cloths.cloths(conn)} == set(kept.cloths.values()) and people.people(conn) == []
    assert patterns.pattern(conn, kept.pattern_id).pattern.pieces
    keeping.take_back(conn, gone)
    assert everything(conn) == before
    assert keeping.clear_demo(conn, NOW) is not None and keeping.clear_demo(conn, NOW) is None


def test_what_comes_back_gets_a_new_number_where_another_has_taken_its_own(conn):
    last = conn.execute("select max(id) from make").fetchone()[0]
    had = makes.make(conn, last)
    notes = [n.text for n in makes.notes(conn, last)]
    gone = keeping.delete(conn, KINDS["make"], last, NOW)
    other = makes.add_make(conn, "Other", had.pattern_id, had.view, [None], date(2026, 11, 26))
    assert other == last
    kind, back = keeping.take_back(conn, gone)
    again = makes.make(conn, back)
    assert kind == "make" and back != last and again.name == had.name and len(again.garments) == len(had.garments)
    assert again.cloths == had.cloths and [n.text for n in makes.notes(conn, back)] == notes
    assert makes.make(conn, last).name == "Other"


def test_a_copy_has_what_belongs_to_it_and_no_lay_tick_or_note(conn):
    had = makes.make(conn, 3)
    new = makes.make(conn, keeping.copy(conn, KINDS["make"], 3, "Again"))
    assert (
        new.name == "Again"
        and new.cloths == had.cloths
        and [g.size for g in new.garments] == [g.size for g in had.garments]
    )
    assert not makes.lays(conn, new.id) and not makes.notes(conn, new.id) and not new.demo and new.finished_on is None
    cloth = cloths.cloth(conn, keeping.copy(conn, KINDS["cloth"], 1, "More of it"))
    assert cloth.cloth.name == "More of it" and cloth.cloth.width == cloths.cloth(conn, 1).cloth.width
    pattern = patterns.pattern(conn, keeping.copy(conn, KINDS["pattern"], 1, "Shirt two")).pattern
    assert pattern.name == "Shirt two" and pattern.pieces == patterns.pattern(conn, 1).pattern.pieces


def test_a_new_name_stands_everywhere(conn):
    for kind, name in (
        ("cloth", "Renamed"),
        ("pattern", "Renamed"),
        ("make", "Renamed"),
        ("supply", "Renamed"),
        ("person", "R"),
    ):
        keeping.rename(conn, KINDS[kind], 1, name)
        assert keeping.title_of(conn, KINDS[kind], 1) == name
    assert cloths.cloth(conn, 1).cloth.name == patterns.pattern(conn, 1).pattern.name == "Renamed"


def test_what_is_put_away_is_out_of_the_lists_and_goes_on_being_used(conn):
    used = conn.execute("select cloth_id from make_cloth").fetchone()[0]
    keeping.put_away(conn, KINDS["cloth"], used, NOW)
    keeping.put_away(conn, KINDS["make"], 1, NOW)
    assert used not in {c.id for c in cloths.cloths(conn)} and used in {c.id for c in cloths.cloths(conn, [used])}
    assert 1 not in {m.id for m in makes.makes(conn)} and makes.make(conn, 1).name
    assert {(kind.name, id_) for kind, id_, _, _ in keeping.away(conn)} == {("cloth", used), ("make", 1)}
    keeping.put_away(conn, KINDS["make"], 1, None)
    assert 1 in {m.id for m in makes.makes(conn)}


def test_after_thirty_days_it_is_gone(conn):
    gone = keeping.delete(conn, KINDS["supply"], first_of(conn, "supply"), NOW)
    late = NOW + timedelta(days=31)
    assert keeping.bin_list(conn, late) == []
    keeping.delete(conn, KINDS["shop"], first_of(conn, "shop"), late)
    with pytest.raises(db.NotFound):
        keeping.take_back(conn, gone)


def test_taking_out_a_piece_and_taking_it_back_each_make_a_new_version_of_the_pattern(conn):
    stored = patterns.pattern(conn, 1)
    gone = patterns.drop_piece(conn, 1, stored.version, "7", NOW)
    without = patterns.pattern(conn, 1)
    assert without.version > stored.version and "7" not in {p.number for p in without.pattern.pieces}
    keeping.take_back(conn, gone)
    again = patterns.pattern(conn, 1)
    assert again.version > without.version and again.pattern.pieces == stored.pattern.pieces
