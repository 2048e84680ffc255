"""Everything out in open formats and in again: the same; twice is noticed; what is damaged is refused whole."""

import io
import json
import zipfile
from contextlib import closing

import jsonschema
import pytest

from rowanseed.cli import main
from rowanseed.formats.csv_table import as_csv
from rowanseed.formats.pattern_json import read_pattern
from rowanseed.services.exchange import taking_in
from rowanseed.services.exchange.give_out import BEHIND, give_out
from rowanseed.services.exchange.taking_in import ExchangeError
from rowanseed.store import access, db, keeping, makes, patterns, photos
from rowanseed.store.backups import backup_to
from rowanseed.store.opening import open_household
from rowanseed.store.rows import tables_in_order


@pytest.fixture
def home(demo_path):
    """The demo household with a picture and a passphrase."""
    name = photos.keep(demo_path, b"a picture", "jpg")
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        patterns.set_photos(conn, 1, [name])
        access.set_passphrase(conn, "heron bobbin lantern")
    return demo_path


def given(path):
    out = io.BytesIO()
    with closing(db.connect(path)) as conn:
        give_out(conn, path, out)
    return out.getvalue()


def take_in(conn, path, source, there=()):
    """Read a folder and take it in, in one go."""
    brought = taking_in.brought_folder(path, source)
    try:
        return taking_in.take_in(conn, path, brought, there)
    finally:
        taking_in.throw_away(brought)


def packed_anew(data, **changed):
    """A folder with some of its files changed; a table's rows by a function."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            table = name.removeprefix("data/").removesuffix(".json")
            content = old.read(name)
            if table != name and table in changed:
                rows = json.loads(content)
                content = json.dumps(changed[table](rows) or rows)
            elif name.startswith("pictures/") and changed.get("pictures") == "none":
                continue
            new.writestr(name, content)
    return io.BytesIO(out.getvalue())


def rows_of(conn):
    found = {}
    for table in tables_in_order(conn):
        if table in BEHIND or table == "setting":
            continue
        found[table] = sorted(repr(sorted(_read(dict(row)).items())) for row in conn.execute(f"select * from {table}"))
    return found


def _read(row):
    for name, value in row.items():
        if isinstance(value, str) and value[:1] in ("[", "{"):
            row[name] = json.loads(value)
    return row


def test_everything_goes_out_and_comes_in_the_same_and_keeps_to_its_schemas(home, tmp_path):
    data = given(home)
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        names = packed.namelist()
        assert {"README.txt", "manifest.json", "tables/measurements.csv"} <= set(names)
        for name in names:
            if name.startswith("data/"):
                schema = json.loads(packed.read(name.replace("data/", "schemas/").replace(".json", ".schema.json")))
                jsonschema.Draft202012Validator(schema).validate(json.loads(packed.read(name)))
        shirt = next(n for n in names if n.startswith("patterns/1-") and n.endswith(".json"))
        with closing(db.connect(home)) as conn:
            assert read_pattern(packed.read(shirt)).pieces == patterns.pattern(conn, 1).pattern.pieces
        assert shirt.replace(".json", ".svg") in names and sum(n.startswith("pictures/") for n in names) == 1
        assert b"heron" not in data and not any("session" in n or "bin" in n for n in names)
        assert b"argon2" not in packed.read("data/setting.json")
    new = tmp_path / "new" / "home.db"
    open_household(new)
    with closing(db.connect(home)) as old, closing(db.connect(new)) as conn:
        taken = take_in(conn, new, io.BytesIO(data))
        assert rows_of(conn) == rows_of(old) and taken.known == () and taken.new["make"] == len(makes.makes(old))
    assert [p.name for p in photos.folder(new).iterdir()] == [p.name for p in photos.folder(home).iterdir()]


def test_what_comes_in_twice_is_noticed_and_what_is_new_comes_beside_what_is_there(home, tmp_path):
    data = given(home)
    with closing(db.connect(home)) as conn:
        before = rows_of(conn)
        again = take_in(conn, home, io.BytesIO(data))
        assert rows_of(conn) == before and again.new == {} and len(again.known) > 15
        with db.write(conn):
            keeping.rename(conn, keeping.KINDS["make"], 2, "Another one")
            conn.execute("delete from cloth where id not in (select cloth_id from make_cloth)")
        had = makes.make(conn, 2)
        mixed = take_in(conn, home, io.BytesIO(data))
        assert mixed.new == {"make": 1} and mixed.back == ()
        new = next(m for m in makes.makes(conn) if m.id == max(m.id for m in makes.makes(conn)))
        assert new.name != had.name and new.cloths == had.cloths and new.pattern_id == had.pattern_id
        assert [g.size for g in new.garments] == [g.size for g in had.garments]


def broken(table, column, value):
    """Make the first row of a table say what cannot be."""

    def change(rows):
        document, _, key = column.partition(".")
        if key:
            rows[0][document][key] = value
        else:
            rows[0][document] = value

    return {table: change}


CANNOT_BE = {
    "a body of -1e308 mm": (broken("measurement", "mm", -1e308), "measurement bust: mm"),
    "a body of infinite size": (broken("measurement", "mm", 1e309), "not JSON|mm"),
    "an outline of one point": (broken("piece_shape", "shape.outline", [[0, 0]]), "1 point"),
    "an edge that ends nowhere": (broken("piece_shape", "shape.edges", {"side": [0, 4000]}), "side"),
    "a plan that is a word": (broken("make", "plan", "as you like"), "plan"),
    "a plan of another kind": (broken("make", "plan.school", "guess"), "school"),
    "a cloth without a width": (broken("cloth", "facts", {"name": "Loden"}), "width"),
    "a cloth of a thousand miles": (
        broken("cloth", "facts.width", {"mm": 1.6e9, "text": "1000 mi", "unit": "m"}),
        "mm",
    ),
    "a make of no pattern": (broken("make", "pattern_id", 77), "pattern"),
    "a number that is a word": (broken("make", "id", "one"), "cannot be kept"),
    "a column that no table has": (broken("person", "shoe", 42), "shoe"),
    "rows that are numbers": ({"note": lambda rows: [1]}, "no list of rows"),
    "an envelope of nothing": (broken("pattern", "envelope", {}), "envelope"),
    "a day that never was": (broken("make", "started_on", "2026-02-31"), "started_on"),
}


@pytest.mark.parametrize("what", CANNOT_BE)
def test_what_cannot_be_is_refused_where_it_stands_and_nothing_is_taken_in(what, home):
    change, words = CANNOT_BE[what]
    data = given(home)
    with closing(db.connect(home)) as conn:
        before, pictures = rows_of(conn), sorted(photos.folder(home).iterdir())
        with pytest.raises(ExchangeError, match=words):
            take_in(conn, home, packed_anew(data, **change))
        assert rows_of(conn) == before and sorted(photos.folder(home).iterdir()) == pictures
    assert not list(home.parent.glob("brought-*"))


def test_a_folder_that_is_damaged_newer_or_larger_inside_is_refused_whole(home, tmp_path):
    data = given(home)
    new = tmp_path / "new" / "home.db"
    open_household(new)
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    manifest = files["manifest.json"]
    heads = (
        b"",
        b"[]",
        b'{"format": "other"}',
        b"{}",
        manifest.replace(b'"version": 1', b'"version": 9'),
        b" " * 2_000_000,
    )
    with closing(db.connect(new)) as conn:
        empty = rows_of(conn)
        for head in heads:
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w") as packed:
                for name, content in {**files, "manifest.json": head}.items():
                    packed.writestr(name, content)
            out.seek(0)
            with pytest.raises(ExchangeError):
                take_in(conn, new, out)
        bomb = io.BytesIO()
        with (
            zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed,
            packed.open("data/note.json", "w", force_zip64=True) as big,
        ):
            for _ in range(310):
                big.write(b" " * 1_000_000)
        bomb.seek(0)
        with pytest.raises(ExchangeError, match="too large"):
            take_in(conn, new, bomb)
        for junk in (b"", b"hello", data[:2000]):
            with pytest.raises(ExchangeError, match="no folder"):
                take_in(conn, new, io.BytesIO(junk))
        assert rows_of(conn) == empty


def test_a_missing_picture_is_said_and_is_a_choice(home, tmp_path):
    without = packed_anew(given(home), pictures="none")
    new = tmp_path / "new" / "home.db"
    open_household(new)
    brought = taking_in.brought_folder(new, without)
    assert len(brought.missing) == 1 and "picture" in brought.missing[0] and "Pattern “" in brought.missing[0]
    file = tmp_path / "without.zip"
    file.write_bytes(without.getvalue())
    assert main(["import", str(file), "--database", str(new)]) == 1
    with closing(db.connect(new)) as conn:
        assert makes.makes(conn) == []
    assert main(["import", str(file), "--without-pictures", "--database", str(new)]) == 0
    with closing(db.connect(new)) as conn:
        assert len(makes.makes(conn)) > 3


def test_what_was_deleted_here_comes_back_and_what_differs_is_chosen_one_by_one(home):
    data = given(home)
    with closing(db.connect(home)) as conn:
        before = rows_of(conn)
        with db.write(conn):
            conn.execute("delete from make where id = 1")
            conn.execute("delete from measurement_set where id = (select min(id) from measurement_set)")
            conn.execute("delete from piece where id = (select max(id) from piece)")
            conn.execute("update person set note = 'written here since' where id = 2")
            conn.execute("update cloth set facts = json_set(facts, '$.note', 'here') where id = 1")
            had = conn.execute("select version from person where id = 2").fetchone()[0]
        brought = taking_in.brought_folder(home, io.BytesIO(data))
        found = taking_in.comparison(conn, brought)
        assert list(found.new) == ["make"] and len(found.new["make"]) == 1
        assert any("measurements" in t for t in found.back) and any(": piece" in t for t in found.back)
        apart = {d.key: d for d in found.differs}
        assert apart.keys() == {"person:2", "cloth:1"}
        assert apart["person:2"].fields[0][:2] == ("note", "written here since")
        assert apart["cloth:1"].fields[0][1] == "here"
        taken = taking_in.take_in(conn, home, brought, {"cloth:1"})
        assert taken.new == {"make": 1} and len(taken.changed) == 1
        row = conn.execute("select note, version from person where id = 2").fetchone()
        assert tuple(row) == ("written here since", had)
        all_there = taking_in.take_in(conn, home, brought, None)
        assert all_there.new == {} and all_there.back == ()
        taking_in.throw_away(brought)
        assert rows_of(conn) == {**before, **{t: rows_of(conn)[t] for t in ("person", "cloth", "make", "pattern")}}
        for table in ("person", "cloth", "make", "pattern"):
            columns = [r["name"] for r in conn.execute(f"pragma table_info({table})") if r["name"] != "version"]
            assert conn.execute(f"select count(*) from {table}").fetchone()[0] == len(before[table]), columns
        assert conn.execute("select note from person where id = 2").fetchone()[0] != "written here since"


def test_rows_and_pictures_come_in_one_act(home, tmp_path, monkeypatch):
    new = tmp_path / "new" / "home.db"
    open_household(new)
    brought = taking_in.brought_folder(new, io.BytesIO(given(home)))
    monkeypatch.setattr(
        photos, "keep_file", lambda *args: (_ for _ in ()).throw(OSError(28, "No space left on device"))
    )
    with closing(db.connect(new)) as conn:
        with pytest.raises(ExchangeError, match="Nothing was taken in"):
            taking_in.take_in(conn, new, brought)
        assert makes.makes(conn) == [] and not any(photos.folder(new).glob("*"))
        monkeypatch.undo()
        assert taking_in.take_in(conn, new, brought).new["make"] > 3
        assert len(list(photos.folder(new).iterdir())) == 1


def test_one_make_comes_out_of_a_backup_with_what_it_needs_and_nothing_else(home, tmp_path):
    backup, new = tmp_path / "all.zip", tmp_path / "new" / "home.db"
    with closing(db.connect(home)) as conn, db.write(conn):
        garment = conn.execute("select id, make_id from make_garment where person_id is not null").fetchone()
        plan = json.dumps({"zones": {str(garment["id"]): {"bust": "12", "hip": "14"}}})
        conn.execute("update make set plan = ? where id = ?", (plan, garment["make_id"]))
    backup_to(home, backup)
    open_household(new)
    with closing(db.connect(new)) as conn:
        for _ in range(40):  # its numbers are taken: everything gets new ones
            with db.write(conn):
                conn.execute("insert into person (name) values ('Other')")
        brought, read = taking_in.brought_backup(new, backup)
        assert read.faults == []
        taken = taking_in.take_in(conn, new, brought, make=garment["make_id"])
        (make,) = makes.makes(conn)
        assert taken.new["make"] == 1 and taken.new["pattern"] == 1 and make.cloths
        assert set(taken.new) <= {"make", "pattern", "cloth", "person"}
        (only,) = (g for g in make.garments if str(g.id) in make.plan.zones)
        assert make.plan.zones[str(only.id)] == {"bust": "12", "hip": "14"}  # its size lines follow its new number
        assert only.person_id > 40


@pytest.mark.apart
def test_the_commands_write_it_and_take_it_in(home, tmp_path, capsys):
    target = tmp_path / "all.zip"
    assert main(["export", str(target), "--database", str(home)]) == 0 and target.exists()
    assert main(["export", str(target), "--database", str(home)]) == 1  # nothing is written over
    assert main(["import", str(target), "--database", str(tmp_path / "fresh" / "home.db")]) == 0
    assert "There already: 0" in capsys.readouterr().out
    assert main(["import", str(tmp_path / "none.zip"), "--database", str(home)]) == 1


def test_no_cell_of_a_table_is_taken_for_a_formula():
    # OWASP, CSV injection: cells that begin with = + - @, tab or carriage return (from memory).
    table = as_csv(("a", "=b"), [("=1+1", "+1"), ("-2 cm", "@x"), ("\tx", "\rx"), (-2.5, "plain")])
    for text in ("'=b", "'=1+1", "'+1", "'-2 cm", "'@x", "'\tx", "'\rx"):
        assert text in table
    assert "\n-2.5,plain" in table  # a number is no formula
