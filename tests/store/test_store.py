"""The store: what is written comes back, writes are whole or not at all, two windows cannot overwrite each other."""

import sqlite3
import threading
from dataclasses import replace
from datetime import date, datetime
from importlib import resources

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.engine import lay
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.prints import Print
from rowanseed.demo import overshirt, waistcoat
from rowanseed.store import cloths, db, keeping, makes, patterns, people
from rowanseed.store.settings import Settings, has_demo, put_settings, settings
from tests.core.lay.pieces import SHIRT, request

LEAF = Cloth(
    "Leaf",
    parse_length("150 cm"),
    parse_length("1/2 in"),
    parse_length("2 1/2 yd"),
    print=Print("one-way", repeat_along_mm=92.0),
)


def test_a_persons_measurements_come_back_as_typed_newest_set_first(conn):
    with db.write(conn):
        who = people.add_person(conn, "Ada", False)
        people.add_set(conn, who, date(2025, 1, 1), {"bust": parse_length("37 1/2 in")})
        people.add_set(conn, who, date(2026, 1, 1), {"bust": parse_length("97 cm"), "hip": parse_length("41 in")})
    person = people.person(conn, who)
    assert [s.taken_on.year for s in person.sets] == [2026, 2025]
    assert person.latest.values["bust"].text == "97 cm" and person.sets[1].values["bust"].mm == pytest.approx(952.5)


def test_a_pattern_comes_back_whole_and_by_one_size(conn):
    pattern = overshirt.pattern()
    with db.write(conn):
        pattern_id = patterns.add_pattern(conn, pattern)
    assert patterns.pattern(conn, pattern_id).pattern == pattern
    assert {tuple(p.shapes) for p in patterns.pattern(conn, pattern_id, ["14"]).pattern.pieces} == {("14",)}
    assert patterns.envelope(conn, pattern_id).pattern == replace(pattern, pieces=())


def test_a_piece_is_put_and_its_other_sizes_are_kept(conn):
    pattern = waistcoat.pattern()
    with db.write(conn):
        pattern_id = patterns.add_pattern(conn, pattern)
    front = pattern.pieces[0]
    only_m = replace(front, name="Fore", shapes={"M": front.shapes["L"]})
    with db.write(conn):
        patterns.put_piece(conn, pattern_id, 1, only_m)
    stored = patterns.pattern(conn, pattern_id).pattern.pieces[0]
    assert stored.name == "Fore" and stored.shapes["M"] == front.shapes["L"] and stored.shapes["S"] == front.shapes["S"]
    with db.write(conn):
        patterns.drop_piece(conn, pattern_id, 2, "1", datetime(2026, 11, 26))
    assert [p.number for p in patterns.pattern(conn, pattern_id).pattern.pieces] == ["2", "3", "4", "5", "6", "7"]


def test_a_cloth_comes_back_as_it_was(conn):
    with db.write(conn):
        cloth_id = cloths.add_cloth(conn, LEAF)
    assert cloths.cloth(conn, cloth_id).cloth == LEAF


def new_make(conn):
    with db.write(conn):
        pattern_id = patterns.add_pattern(conn, waistcoat.pattern())
        who = people.add_person(conn, "Ada", False)
        cloth_id = cloths.add_cloth(conn, LEAF)
        make_id = makes.add_make(conn, "Vest", pattern_id, "A", [who, None], date(2026, 5, 1), MakePlan(effort="quick"))
        makes.put_cloth(conn, make_id, "self", cloth_id)
    return make_id, cloth_id


def test_a_make_keeps_its_garments_plan_cloths_ticks_and_lays(conn):
    make_id, cloth_id = new_make(conn)
    found = lay(request(SHIRT))
    with db.write(conn):
        make = makes.make(conn, make_id)
        makes.put_size(conn, make_id, make.garments[0].id, "M")
        makes.put_plan(conn, make_id, 1, replace(make.plan, order=("a", "b")))
        makes.put_lay(conn, make_id, "self", "abc", found, datetime(2026, 5, 2, 10, 30))
        makes.tick(conn, make_id, "cut", "self:1:1", True, datetime(2026, 5, 2))
        makes.tick(conn, make_id, "cut", "self:2:1", True, datetime(2026, 5, 2))
        makes.tick(conn, make_id, "cut", "self:2:1", False, datetime(2026, 5, 2))
    make = makes.make(conn, make_id)
    assert (
        [g.size for g in make.garments] == ["M", None]
        and make.plan.order == ("a", "b")
        and make.cloths == {"self": cloth_id}
    )
    assert makes.lays(conn, make_id)["self"].lay == found
    assert makes.ticks(conn, make_id, "cut") == {"self:1:1"}


def test_next_time_notes_greet_the_same_pattern_and_the_same_main_cloth(conn):
    first, cloth_id = new_make(conn)
    second, _ = new_make(conn)  # another pattern, another cloth
    with db.write(conn):
        makes.add_note(conn, first, "next-time", "Longer.", date(2026, 6, 1))
        makes.add_note(conn, first, "happened", "Frayed.", date(2026, 6, 1))
    pattern_of = {m.id: m.pattern_id for m in makes.makes(conn)}
    assert makes.next_time_notes(conn, second, pattern_of[second]) == []
    assert [n.text for n in makes.next_time_notes(conn, second, pattern_of[first])] == ["Longer."]
    with db.write(conn):
        makes.put_cloth(conn, second, "self", cloth_id)
    assert [n.text for n in makes.next_time_notes(conn, second, pattern_of[second])] == ["Longer."]


def test_a_second_window_cannot_overwrite_the_first(conn):
    with db.write(conn):
        cloth_id = cloths.add_cloth(conn, LEAF)
        who = people.add_person(conn, "Ada", False)
        cloths.update_cloth(conn, cloth_id, 1, replace(LEAF, note="first window"))
    with pytest.raises(db.ChangedMeanwhile), db.write(conn):
        people.update_person(conn, who, 1, "Ida", False, "")
        cloths.update_cloth(conn, cloth_id, 1, replace(LEAF, note="second window"))
    assert cloths.cloth(conn, cloth_id).cloth.note == "first window"
    assert people.person(conn, who).name == "Ada"  # the whole write was rolled back


def test_what_is_not_there_is_said(conn):
    for read in (people.person, patterns.pattern, patterns.envelope, cloths.cloth, makes.make):
        with pytest.raises(db.NotFound):
            read(conn, 99)


def test_the_schema_is_migrated_once_with_wal_and_foreign_keys(conn):
    assert db.migrate(conn) == conn.execute("pragma user_version").fetchone()[0] >= 1
    assert conn.execute("pragma journal_mode").fetchone()[0] == "wal"
    with pytest.raises(sqlite3.IntegrityError):
        conn.execute("insert into piece (pattern_id, number, position, facts) values (99, '1', 1, '{}')")


def test_two_writers_wait_for_each_other(tmp_path):
    path = tmp_path / "two.db"
    first = db.connect(path)
    db.migrate(first)

    def write_many(name):
        mine = db.connect(path)
        for _ in range(20):
            with db.write(mine):
                people.add_person(mine, name, False)
        mine.close()

    threads = [threading.Thread(target=write_many, args=(n,)) for n in ("a", "b", "c")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(people.people(first)) == 60
    first.close()


def test_settings_have_defaults_and_are_kept(conn):
    assert settings(conn) == Settings()
    mine = Settings("in", "1/8 yd", 76.2, (), {"facing-roll": "leave"}, 90)
    with db.write(conn):
        put_settings(conn, mine)
    assert settings(conn) == mine


def test_a_backup_is_a_whole_database(conn, tmp_path):
    with db.write(conn):
        people.add_person(conn, "Ada", False)
    db.backup(conn, tmp_path / "copy.db")
    copy = db.connect(tmp_path / "copy.db")
    assert [p.name for p in people.people(copy)] == ["Ada"]
    copy.close()


def test_clearing_the_demo_leaves_what_is_the_users_own(demo_path):
    conn = db.connect(demo_path)
    with db.write(conn):
        people.add_person(conn, "Ada", False)
        pattern_id = patterns.patterns(conn)[0].id
        make_id = makes.add_make(conn, "My own", pattern_id, "A", [None], date(2026, 11, 1))
    assert has_demo(conn)
    with db.write(conn):
        keeping.clear_demo(conn, datetime(2026, 11, 26))
    assert [p.name for p in people.people(conn)] == ["Ada"]
    assert [m.id for m in makes.makes(conn)] == [make_id] and [p.id for p in patterns.patterns(conn)] == [pattern_id]
    conn.close()


def test_what_is_ticked_stays_ticked_under_a_steps_new_name(tmp_path):
    conn = db.connect(tmp_path / "old.db")
    scripts = resources.files("rowanseed.store").joinpath("migrations")
    for script in sorted((f for f in scripts.iterdir() if f.name[:4] <= "0005"), key=lambda f: f.name):
        conn.executescript(script.read_text(encoding="utf-8"))
    conn.execute("pragma foreign_keys = off")
    old = [("sew", "close-sleeves"), ("sew", "assemble-lining"), ("sew", "sew-hem"), ("cut", "close-sleeves")]
    for list_, item in old:
        conn.execute("insert into tick (make_id, list, item, at) values (1, ?, ?, '2026-01-01')", (list_, item))
    conn.commit()
    db.migrate(conn)
    ticked = {(row[0], row[1]) for row in conn.execute("select list, item from tick")}
    assert set(old) < ticked
    assert {("sew", "sew-sleeve-seams"), ("sew", "sew-side-seams@lining.body")} <= ticked
    assert ("cut", "sew-sleeve-seams") not in ticked
    db.migrate(conn)
    assert {(row[0], row[1]) for row in conn.execute("select list, item from tick")} == ticked
    conn.close()
