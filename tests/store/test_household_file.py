"""Backups that somebody changed: only rows are taken, each through its model; what is wrong is said before anything is changed."""

import hashlib
import io
import json
import shutil
import sqlite3
import sys
import zipfile
from contextlib import closing

import pytest

from rowanseed.apart import Limits, TookTooMuch, run_module
from rowanseed.cli import main
from rowanseed.services import restoring
from rowanseed.store import backups, db, photos
from rowanseed.store.backups import BackupError
from rowanseed.store.household_file import reading
from rowanseed.store.household_file.row_models import ROW_MODELS
from rowanseed.store.household_file.rows_in import faults_in
from rowanseed.store.opening import latest_version
from rowanseed.store.schema import schema_at


@pytest.fixture(scope="module")
def whole(demo_file, tmp_path_factory):
    """The demo household with a picture, and its backup."""
    folder = tmp_path_factory.mktemp("whole")
    home = shutil.copy(demo_file, folder / "demo.db")
    name = photos.keep(home, b"a picture", "jpg")
    with closing(db.connect(home)) as conn, db.write(conn):
        conn.execute("update make set pictures = ? where id = 1", (json.dumps([name]),))
    backups.backup_to(home, folder / "whole.zip")
    return folder / "whole.zip"


@pytest.fixture
def home(whole, tmp_path):
    return shutil.copy(whole.parent / "demo.db", tmp_path / "demo.db")


def changed(whole, target, sql, drop=()):
    """A backup whose database somebody changed, with sums that are right."""
    with zipfile.ZipFile(whole) as packed:
        files = {name: packed.read(name) for name in packed.namelist() if name not in drop}
    file = target.with_suffix(".db")
    file.write_bytes(files["household.db"])
    with closing(sqlite3.connect(file)) as conn:
        conn.executescript(sql)
        conn.commit()
    files["household.db"] = file.read_bytes()
    head = json.loads(files["manifest.json"])
    head["files"] = {
        name: {"bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}
        for name, data in files.items()
        if name != "manifest.json"
    }
    files["manifest.json"] = json.dumps(head).encode()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in files.items():
            packed.writestr(name, data)
    return target


BY_SOMEBODY = {
    "create trigger help after update on make begin delete from person; end": "trigger “help”",
    "drop trigger thing_in; create trigger thing_in after insert on thing begin delete from person; end": "“thing_in”, changed",
    "create view all_of_it as select * from person": "view “all_of_it”",
    "create table letters (id integer)": "table “letters”",
    "create index quick on person (lower(name))": "index “quick”",
    "alter table person add column shoe text": "column “shoe” of “person”",
    "alter table person add column twice text generated always as (name || name) virtual": "column “twice”",
    "drop table lay": "lacks table “lay”",
    "alter table liked_ease drop column at": "column “at” of “liked_ease”",
    "pragma user_version = 99": "newer",
    "pragma user_version = 0": "empty",
    "update make set plan = 'as you like' where id = 1": "plan: is not JSON",
    'update make set plan = \'{"school": "guess"}\' where id = 1': "plan.school",
    "update measurement set mm = -1e308": "measurement.*mm",
    "update measurement set mm = 9e999": "measurement.*mm",
    "update person set is_child = 'yes'": "is_child",
    "update piece_shape set shape = json_set(shape, '$.outline', json('[[0,0]]'))": "1 point",
    "update make set started_on = 'some day'": "started_on",
    "insert into bin (kind, name, rows, at) values ('make', 'x', '{\"rows\": [[\"person; drop\", {}]], \"loose\": []}', "
    "'2026-11-01T00:00:00')": "Bin",
    "pragma foreign_keys = off; delete from pattern where id = 1": "pattern that is not there",
}


@pytest.mark.parametrize("sql", BY_SOMEBODY)
def test_a_backup_that_somebody_changed_is_not_sound_and_nothing_is_changed(sql, whole, home, tmp_path):
    bad = changed(whole, tmp_path / "bad.zip", sql)
    before = dumped(home)
    for act in (lambda: backups.contents_of(bad), lambda: restoring.restore(bad, home)):
        with pytest.raises(BackupError, match=BY_SOMEBODY[sql]):
            act()
    assert dumped(home) == before and not list(tmp_path.glob("backups/*"))


def dumped(path):
    with closing(db.connect(path)) as conn:
        return list(conn.iterdump())


def test_a_picture_that_the_manifest_lacks_is_said_before(whole, tmp_path):
    with zipfile.ZipFile(whole) as packed:
        picture = next(name for name in packed.namelist() if name.startswith("pictures/"))
    bad = changed(whole, tmp_path / "bad.zip", "", drop=(picture,))
    with pytest.raises(BackupError, match=r"picture .* is missing"):
        backups.contents_of(bad)


def test_a_page_that_does_not_open_makes_a_backup_unsound(whole, home, tmp_path, monkeypatch):
    # A view that the pattern has not is JSON, is text, and stands in the row's model; only the page knows better.
    bad = changed(whole, tmp_path / "bad.zip", "update make set view = 'no such view' where id = 1")
    assert restoring.pages_that_fail.__doc__
    said = restoring.contents_of(bad).faults
    opened = {text for text in said if "does not open" in text}
    if opened:  # where the page copes with it, the backup is sound
        with pytest.raises(BackupError, match="does not open"):
            restoring.restore(bad, home)
    monkeypatch.setattr(restoring, "OPEN_PAGES", "tests.store.pages_that_break")
    restoring.LOOKED_AT.clear()
    with pytest.raises(BackupError, match="Fit of “Overshirt” does not open"):
        restoring.restore(whole, home)
    restoring.LOOKED_AT.clear()


@pytest.mark.apart
def test_every_page_of_the_demo_opens_and_its_backup_is_sound(whole, home):
    contents = restoring.contents_of(whole)
    assert contents.faults == () and contents.pictures == 1
    restoring.restore(whole, home)
    assert backups.check(home) == []


def test_what_can_be_read_of_an_unsound_backup_is_restored_and_the_rest_is_named(whole, home, tmp_path):
    bad = changed(
        whole,
        tmp_path / "bad.zip",
        "update make set plan = 'as you like' where id = 1; update cloth set facts = '{}' "
        "where id = (select cloth_id from make_cloth where make_id = 2 limit 1)",
    )
    with closing(db.connect(home)) as conn:
        makes = [row[0] for row in conn.execute("select name from make order by id")]
    contents, _ = restoring.restore(bad, home, leaving_out=True)
    told = " ".join(contents.faults)
    assert f"Make “{makes[0]}”: plan: is not JSON" in told and "Left out" in told and "Cloth “" in told
    with closing(db.connect(home)) as conn:
        assert [row[0] for row in conn.execute("select name from make order by id")] == makes[1:]
        assert list(faults_in(conn)) == [] and conn.execute("pragma foreign_key_check").fetchone() is None
    assert restoring.contents_of(bad).faults  # it stays unsound


def test_a_guests_link_that_was_taken_away_does_not_come_back(whole, home, tmp_path):
    sql = "insert into guest (id, name, make_id, digest, made_at) values (1, 'Old', 1, 'old', '2026-11-01T00:00:00')"
    with_guest = changed(whole, tmp_path / "guest.zip", sql)
    with closing(db.connect(home)) as conn, db.write(conn):
        conn.execute(sql.replace("'Old', 1, 'old'", "'New', 2, 'new'"))
    restoring.restore(with_guest, home)
    with closing(db.connect(home)) as conn:
        assert [row["name"] for row in conn.execute("select name from guest")] == ["New"]


def test_every_table_has_a_model_with_a_field_for_each_column():
    columns = {t: set(c) for t, c in schema_at(latest_version()).columns.items() if t in ROW_MODELS}
    assert columns == {table: set(model.model_fields) for table, model in ROW_MODELS.items()}
    assert set(schema_at(latest_version()).tables()) == set(ROW_MODELS)


def test_a_backup_of_a_household_that_something_else_changed_holds_our_rows_alone(home, tmp_path):
    with closing(sqlite3.connect(home)) as conn:
        conn.executescript("create trigger help after update on make begin delete from person; end")
    assert any("trigger “help”" in text for text in backups.check(home))
    backups.backup_to(home, tmp_path / "clean.zip")
    assert backups.contents_of(tmp_path / "clean.zip").counts["person"] > 0


@pytest.mark.apart
def test_what_is_larger_inside_than_it_says_or_than_any_backup_is_refused_without_being_unpacked(whole, tmp_path):
    def packed(name, manifest, **more):
        with zipfile.ZipFile(tmp_path / name, "w", zipfile.ZIP_DEFLATED) as out:
            out.writestr("manifest.json", manifest)
            for inside, data in more.items():
                out.writestr(inside.replace("_", "."), data)
        return tmp_path / name

    head = json.loads(zipfile.ZipFile(whole).read("manifest.json"))

    def saying(size):
        files = {"household.db": {"bytes": size, "sha256": "0" * 64}}
        return json.dumps({**head, "files": files})

    short = packed("short.zip", saying(10), household_db=b"\0" * 90_000_000)
    honest = packed("honest.zip", saying(90_000_000), household_db=b"\0" * 90_000_000)
    long_head = packed("head.zip", b'{"format": "' + b" " * 80_000_000 + b'"}')
    deep = packed("deep.zip", b'{"files":' + b"[" * 5_000_000)
    for bad, words in (
        (short, "no Rowanseed backup"),
        (honest, "far more than it can hold"),
        (long_head, "no Rowanseed backup"),
        (deep, "no Rowanseed backup"),
    ):
        with pytest.raises(BackupError, match=words):
            backups.contents_of(bad)


@pytest.mark.apart
def test_a_process_apart_is_ended_when_it_takes_too_much(tmp_path):
    for module, limits in (("takes_memory", Limits(30, 600_000_000)), ("takes_time", Limits(1, 600_000_000))):
        with pytest.raises(TookTooMuch):
            run_module(f"tests.store.{module}", [], limits)


def test_reading_a_backup_needs_no_more_of_the_server_than_waiting(whole, tmp_path, monkeypatch):
    """Nothing of the backup is opened in this process: the only thing done with it is to hand its name on."""
    asked = []
    monkeypatch.setattr(reading, "run_module", lambda *args: asked.append(args) or {})
    with pytest.raises(ValueError):
        reading.read_backup(whole, tmp_path)
    assert asked[0][0] == "rowanseed.store.household_file.reading" and asked[0][1][0] == str(whole)


def test_an_encrypted_backup_says_nothing_without_its_passphrase_and_all_with_it(home, tmp_path, capsys, monkeypatch):
    file, where = tmp_path / "kept.zip.age", ["--database", str(home)]
    monkeypatch.setattr(sys, "stdin", io.StringIO("otter kettle pinewood\n"))
    assert main(["backup", str(file), "--encrypt", *where]) == 0 and "encrypted" in capsys.readouterr().out
    data = file.read_bytes()
    assert data.startswith(b"age-encryption.org/v1") and b"household.db" not in data and b"rowanseed" not in data
    assert {p.name for p in tmp_path.iterdir()} >= {file.name} and not list(tmp_path.glob("*.part"))
    with pytest.raises(BackupError, match="is encrypted"):
        restoring.restore(file, home)
    monkeypatch.setattr(sys, "stdin", io.StringIO("otter kettle pinewoods\n"))
    assert main(["check", str(file)]) == 1 and "does not open" in capsys.readouterr().err
    with closing(db.connect(home)) as conn, db.write(conn):
        conn.execute("update person set name = 'Changed'")
    monkeypatch.setattr(sys, "stdin", io.StringIO("otter kettle pinewood\n"))
    assert main(["restore", str(file), *where]) == 0
    with closing(db.connect(home)) as conn:
        assert conn.execute("select count(*) from person where name = 'Changed'").fetchone()[0] == 0
    with pytest.raises(BackupError, match="At least"):
        backups.encrypted_backup_to(home, tmp_path / "weak.zip.age", "short")
    cut = tmp_path / "cut.zip.age"
    cut.write_bytes(data[:-40])
    with pytest.raises(BackupError, match="damaged"):
        backups.opened_backup(cut, tmp_path / "cut.zip", "otter kettle pinewood")
    assert not (tmp_path / "cut.zip").exists()
