"""Everything out in open formats and in again: the same; twice is noticed; what is damaged is refused whole."""

import io
import json
import random
import zipfile
from contextlib import closing

import jsonschema
import pytest

from rowanseed.cli import main
from rowanseed.formats.csv_table import as_csv
from rowanseed.formats.pattern_json import read_pattern
from rowanseed.services.exchange import BEHIND, ExchangeError, give_out, take_in
from rowanseed.store import access, db, keeping, makes, patterns, photos
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
        assert mixed.new == {"make": 1}
        new = next(m for m in makes.makes(conn) if m.id == max(m.id for m in makes.makes(conn)))
        assert new.name != had.name and new.cloths == had.cloths and new.pattern_id == had.pattern_id
        assert [g.size for g in new.garments] == [g.size for g in had.garments]


def test_a_folder_that_is_damaged_newer_or_says_what_cannot_be_is_refused_whole(home, tmp_path):
    data = given(home)
    new = tmp_path / "new" / "home.db"
    open_household(new)
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    rng = random.Random(3)
    with closing(db.connect(new)) as conn:
        empty = rows_of(conn)
        for change in range(60):
            broken = dict(files)
            table = rng.choice([n for n in files if n.startswith("data/") and len(files[n]) > 10])
            match change % 6:
                case 0:
                    broken["manifest.json"] = rng.choice([b"", b"[]", b'{"format": "other"}', b"{}"])
                case 1:
                    broken["manifest.json"] = files["manifest.json"].replace(b'"version": 1', b'"version": 9')
                case 2:
                    broken[table] = files[table][: len(files[table]) // 2]
                case 3:
                    broken["data/cloth.json"] = files["data/cloth.json"].replace(b'"width"', b'"wide"')
                case 4:
                    broken["data/make.json"] = files["data/make.json"].replace(b'"pattern_id": 1', b'"pattern_id": 77')
                case _:
                    broken[table] = rng.choice([b"[1]", b"null", b'[{"id": {}}]'])
            with pytest.raises(ExchangeError):
                out = io.BytesIO()
                with zipfile.ZipFile(out, "w") as packed:
                    for name, content in broken.items():
                        packed.writestr(name, content)
                take_in(conn, new, out)
            assert rows_of(conn) == empty
        bomb = io.BytesIO()
        with (
            zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packed,
            packed.open("data/note.json", "w", force_zip64=True) as big,
        ):
            for _ in range(310):
                big.write(b" " * 1_000_000)
        with pytest.raises(ExchangeError, match="too large"):
            take_in(conn, new, bomb)
        for junk in (b"", b"hello", data[:2000]):
            with pytest.raises(ExchangeError, match="no folder"):
                take_in(conn, new, io.BytesIO(junk))


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
