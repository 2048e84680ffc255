"""Backups and restoring them; files that are no household; what SQLite promises of copies taken while it is written to."""

import json
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
import zipfile
from contextlib import closing
from datetime import date, timedelta

import pytest

from rowanseed.cli import main
from rowanseed.services.restoring import restore
from rowanseed.store import backups, db, people, photos
from rowanseed.store.backups import BackupError, backup_to, check, contents_of, daily, kept_days
from rowanseed.store.opening import HouseholdFileError, latest_version, open_household, version_of

LODEN = {
    "name": "Loden",
    "kind": "main",
    "width": {"mm": 1400, "text": "140 cm", "unit": "cm"},
    "selvage": {"mm": 10, "text": "1 cm", "unit": "cm"},
}


@pytest.fixture
def home(tmp_path):
    """A household with a person, and a cloth with a picture."""
    path = tmp_path / "home" / "rowanseed.db"
    open_household(path)
    name = photos.keep(path, b"not really a picture", "jpg")
    with closing(db.connect(path)) as conn, db.write(conn):
        conn.execute("insert into person (name) values ('Mar')")
        conn.execute(
            "insert into cloth (name, kind, facts) values ('Loden', 'main', ?)",
            (json.dumps(LODEN | {"pictures": [name]}),),
        )
    return path


def names(path):
    with closing(db.connect(path)) as conn:
        return [person.name for person in people.people(conn)]


def rename(path, name):
    with closing(db.connect(path)) as conn, db.write(conn):
        conn.execute("update person set name = ?", (name,))


def test_a_backup_holds_database_and_pictures_and_comes_back_with_what_was_there_kept_aside(home, tmp_path):
    backup = tmp_path / "one.zip"
    made = backup_to(home, backup)
    assert made.counts["person"] == 1 and made.pictures == 1 and "1 person, 1 cloth" in made.words()
    rename(home, "Changed")
    picture = next(photos.folder(home).iterdir())
    picture.unlink()
    assert check(home) == [f"The picture {picture.name} is missing."]
    contents, kept = restore(backup, home)
    assert names(home) == ["Mar"] and check(home) == [] and contents.counts == made.counts
    restore(kept, home)  # undone
    assert names(home) == ["Changed"]


def test_a_backup_is_taken_and_put_in_place_while_the_household_is_open(home, tmp_path):
    with closing(db.connect(home)) as conn:
        conn.execute("select * from person").fetchall()
        backup_to(home, tmp_path / "live.zip")
        rename(home, "Later")
        restore(tmp_path / "live.zip", home)
        assert conn.execute("select name from person").fetchone()[0] == "Mar"


def test_a_backup_is_not_written_over_another_and_a_half_written_one_is_never_left(home, tmp_path, monkeypatch):
    target = tmp_path / "one.zip"
    backup_to(home, target)
    with pytest.raises(BackupError, match="is there already"):
        backup_to(home, target)
    monkeypatch.setattr(
        backups, "written_contents", lambda path: (_ for _ in ()).throw(OSError(28, "No space left on device"))
    )
    with pytest.raises(BackupError, match="no space left"):
        backup_to(home, tmp_path / "two.zip")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["home", "one.zip"]


def damaged_backups(sound):
    """Each way in which a backup can be wrong, and words of the answer."""
    with zipfile.ZipFile(sound) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    head = json.loads(files["manifest.json"])
    picture = next(name for name in files if name.startswith("pictures/"))
    yield {**files, picture: b"x" * len(files[picture])}, "does not match its own sums"
    yield {k: v for k, v in files.items() if k != picture}, "no Rowanseed backup"
    yield {k: v for k, v in files.items() if k != "manifest.json"}, "no Rowanseed backup"
    yield {**files, "manifest.json": b"{}"}, "no Rowanseed backup"
    climbing = {**head, "files": {**head["files"], "../escape.jpg": {"bytes": 1, "sha256": "0" * 64}}}
    yield {**files, "../escape.jpg": b"x", "manifest.json": json.dumps(climbing).encode()}, "no Rowanseed backup"


def test_a_damaged_or_foreign_backup_is_refused_in_words_and_nothing_is_changed(home, tmp_path):
    sound = tmp_path / "sound.zip"
    backup_to(home, sound)
    for files, words in damaged_backups(sound):
        bad = tmp_path / "bad.zip"
        with zipfile.ZipFile(bad, "w") as packed:
            for name, data in files.items():
                packed.writestr(name, data)
        with pytest.raises(BackupError, match=words):
            restore(bad, home)
    for data in (b"", b"hello", sound.read_bytes()[:-200], os.urandom(5000)):
        bad.write_bytes(data)
        with pytest.raises(BackupError, match="no Rowanseed backup"):
            contents_of(bad)
    with pytest.raises(BackupError, match="There is no file"):
        contents_of(tmp_path / "gone.zip")
    assert names(home) == ["Mar"] and not (tmp_path / "escape.jpg").exists()


def test_a_backup_of_an_older_version_is_brought_up_to_date_when_it_is_restored(tmp_path):
    old = old_household(tmp_path / "old" / "rowanseed.db")
    backup_to(old, tmp_path / "old.zip")
    new = tmp_path / "new" / "rowanseed.db"
    contents, kept = restore(tmp_path / "old.zip", new)
    assert contents.schema == 1 and version_of(new) == latest_version() and kept is None and names(new) == ["Old"]


def old_household(path):
    """A household of the first version of the data."""
    path.parent.mkdir(parents=True)
    from importlib import resources

    script = next(
        f for f in resources.files("rowanseed.store").joinpath("migrations").iterdir() if f.name.startswith("0001")
    )
    with closing(sqlite3.connect(path)) as conn:
        conn.executescript(script.read_text())
        conn.execute("insert into person (name) values ('Old')")
        conn.commit()
    return path


def test_a_migration_runs_after_a_backup_of_its_own(tmp_path):
    path = old_household(tmp_path / "home" / "rowanseed.db")
    open_household(path, backups.before_migration)
    (kept,) = backups.backups_of(path)
    assert "before-update" in kept.name and contents_of(kept).schema == 1 and version_of(path) == latest_version()


WRONG_FILES = {
    "empty": (b"", "is empty"),
    "foreign": (b"%PDF-1.4 a letter, and more of it", "another kind of file"),
}


@pytest.mark.parametrize("kind", WRONG_FILES)
def test_a_file_that_is_no_household_is_refused_with_what_to_do(kind, tmp_path):
    data, words = WRONG_FILES[kind]
    path = tmp_path / "rowanseed.db"
    path.write_bytes(data)
    with pytest.raises(HouseholdFileError, match=words):
        open_household(path)
    assert path.read_bytes() == data


def test_a_newer_damaged_foreign_or_moved_household_is_refused_with_what_to_do(home, tmp_path):
    with closing(sqlite3.connect(home)) as conn:
        conn.execute(f"pragma user_version = {latest_version() + 1}")
    with pytest.raises(HouseholdFileError, match="newer Rowanseed"):
        open_household(home)
    with closing(sqlite3.connect(home)) as conn:
        conn.execute(f"pragma user_version = {latest_version()}")
        conn.execute("pragma wal_checkpoint(truncate)")
    data = bytearray(home.read_bytes())
    data[4096:12000] = os.urandom(12000 - 4096)
    broken = tmp_path / "broken" / "rowanseed.db"
    broken.parent.mkdir()
    broken.write_bytes(data)
    with pytest.raises(HouseholdFileError, match="damaged"):
        open_household(broken)
    other = tmp_path / "other.db"
    with closing(sqlite3.connect(other)) as conn:
        conn.execute("create table letters (id integer)")
    with pytest.raises(HouseholdFileError, match="another program"):
        open_household(other)
    with pytest.raises(HouseholdFileError, match="is a folder"):
        open_household(tmp_path)
    daily(home, date(2026, 11, 26))
    shutil.move(home, tmp_path / "elsewhere.db")
    with pytest.raises(HouseholdFileError, match="Was it moved"):
        open_household(home)


def test_a_damaged_household_is_kept_aside_as_it_is_when_a_backup_is_restored(home, tmp_path):
    backup_to(home, tmp_path / "sound.zip")
    home.write_bytes(b"SQLite format 3\x00" + os.urandom(4000))
    for ending in ("-wal", "-shm"):
        home.with_name(home.name + ending).unlink(missing_ok=True)
    _, kept = restore(tmp_path / "sound.zip", home)
    assert names(home) == ["Mar"] and kept.read_bytes().startswith(b"SQLite format 3")


def test_daily_backups_keep_seven_days_and_five_weeks_here_and_elsewhere(home, tmp_path):
    stick = tmp_path / "stick"
    stick.mkdir()
    first = date(2026, 9, 1)
    made = [first + timedelta(days=n) for n in range(80)]
    assert len(daily(home, made[0], stick)) == 2 and daily(home, made[0], stick) == []
    one = next(backups.folder_of(home).glob("*daily*"))
    for day in made[1:-1]:
        shutil.copy(one, one.with_name(f"rowanseed-daily-{day.isoformat()}.zip"))
    daily(home, made[-1], stick)
    kept = sorted(p.name[-14:-4] for p in backups.folder_of(home).glob("*daily*"))
    assert kept == [d.isoformat() for d in sorted(kept_days(made, made[-1]))] and 10 <= len(kept) <= 11
    assert sorted(made[-7:]) == sorted(d for d in kept_days(made, made[-1]) if made[-1] - d < timedelta(days=7))
    with pytest.raises(BackupError, match="was not written"):
        daily(home, made[-1] + timedelta(days=1), tmp_path / "home" / "rowanseed.db")  # no folder


def test_the_commands_back_up_check_and_restore(home, tmp_path, capsys):
    file, where = str(tmp_path / "c.zip"), ["--database", str(home)]
    assert main(["backup", file, *where]) == 0 and main(["check", *where]) == 0 and main(["check", file]) == 0
    rename(home, "Changed")
    assert main(["restore", file, *where]) == 0 and names(home) == ["Mar"]
    assert "brings it back" in capsys.readouterr().out
    assert main(["backup", file, *where]) == 1 and main(["restore", str(tmp_path / "none.zip"), *where]) == 1
    assert main(["backup", str(tmp_path / "d.zip"), "--database", str(tmp_path / "none.db")]) == 1
    next(photos.folder(home).iterdir()).write_bytes(b"other")
    assert main(["check", *where]) == 1 and "is damaged" in capsys.readouterr().err
    home.write_bytes(b"")
    assert main(["serve", *where, "--port", "0"]) == 3 and "is empty" in capsys.readouterr().err


WRITER = """
import sys
from rowanseed.store import db
conn = db.connect(sys.argv[1])
n = 0
while True:
    with db.write(conn):
        conn.execute("insert into note (make_id, kind, text, written_on) values (1, 'next', ?, '2026-11-26')", (str(n),))
        conn.execute("update person set name = ?", (str(n),))
    print(n, flush=True)
    n += 1
"""


def test_copies_of_database_and_wal_taken_at_any_moment_open_sound_and_lose_nothing_acknowledged(home, tmp_path):
    """What a power cut leaves: the files as they stood. Each transaction is there whole or not at all."""
    with closing(db.connect(home)) as conn, db.write(conn):
        conn.execute("insert into pattern (name, garment, envelope) values ('P', 'top', '{}')")
        conn.execute("insert into make (name, pattern_id, view, started_on) values ('M', 1, 'A', '2026-11-26')")
    writer = subprocess.Popen([sys.executable, "-c", WRITER, str(home)], stdout=subprocess.PIPE, text=True)
    rng = random.Random(4)
    try:
        for n in range(12):
            acknowledged = int(writer.stdout.readline())
            time.sleep(rng.random() * 0.05)
            copy = tmp_path / f"cut{n}" / "rowanseed.db"
            copy.parent.mkdir()
            shutil.copy(
                f"{home}-wal", f"{copy}-wal"
            )  # the wal first: what is in the database by then is in the wal too
            shutil.copy(home, copy)
            with closing(db.connect(copy)) as conn:
                assert conn.execute("pragma integrity_check").fetchone()[0] == "ok"
                last = conn.execute("select max(cast(text as integer)) from note").fetchone()[0]
                assert last >= acknowledged and conn.execute("select name from person").fetchone()[0] == str(last)
    finally:
        writer.kill()
        writer.wait()


def test_a_backup_that_is_killed_leaves_no_backup_behind_and_the_household_whole(home, tmp_path):
    target = tmp_path / "out" / "killed.zip"
    code = "import sys; from rowanseed.cli import main; print(1, flush=True); sys.exit(main(['backup', *sys.argv[1:]]))"
    for pause in (0.0, 0.15, 0.3):
        run = subprocess.Popen(
            [sys.executable, "-c", code, str(target), "--database", str(home)], stdout=subprocess.PIPE, text=True
        )
        run.stdout.readline()
        time.sleep(pause)
        run.send_signal(signal.SIGKILL)
        run.wait()
        if target.exists():
            assert contents_of(target).counts["person"] == 1
            target.unlink()
    assert check(home) == []
    backup_to(home, target)  # what a killed one left lying does not stop the next
