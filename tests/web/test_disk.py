"""When the disk is full, read-only or in use: reading goes on, a page says what to do, what was typed comes back. Two tabs, too."""

import re
import sqlite3
from contextlib import closing
from datetime import date

import pytest

from rowanseed.store import db, makes, people

NOTE = {"text": "Hem a finger longer next time", "kind": "next-time"}


@pytest.fixture
def full(monkeypatch):
    """From now on no connection may make the file any larger: what a full disk does."""
    opened = db._opened

    def tight(path, wal=True):
        conn = opened(path, wal)
        conn.execute(f"pragma max_page_count = {conn.execute('pragma page_count').fetchone()[0]:d}")
        return conn

    return lambda: monkeypatch.setattr(db, "_opened", tight)


def test_on_a_full_disk_reading_goes_on_and_what_was_typed_comes_back(client, full):
    full()
    texts = [f"{NOTE['text']}, {'and so on ' * 180}{n}" for n in range(40)]
    refused = None
    for text in texts:  # the pages that are there fill up first
        answer = client.post(
            "/makes/2/wear/note", data={**NOTE, "text": text}, headers={"Referer": "http://127.0.0.1/makes/2/wear"}
        )
        if answer.status_code != 200:
            refused = (text, answer)
            break
    assert refused is not None
    text, answer = refused
    assert answer.status_code == 503 and "The disk is full" in answer.text and text[:60] in answer.text
    assert 'href="/makes/2/wear"' in answer.text
    shown = client.get("/makes/2/wear")
    assert shown.status_code == 200 and text not in shown.text  # not acknowledged, not there; what was acknowledged is
    assert all(earlier in shown.text for earlier in texts[: texts.index(text)])


def test_a_file_that_may_only_be_read_is_read_and_the_refusal_says_what_to_do(client, monkeypatch):
    opened = db._opened

    def only_read(path, wal=True):
        conn = opened(path, wal)
        conn.execute("pragma query_only = on")
        return conn

    monkeypatch.setattr(db, "_opened", only_read)
    assert client.get("/makes/2/lay").status_code == 200 and client.get("/find?q=overshirt").status_code == 200
    answer = client.post("/makes/2/wear/note", data=NOTE)
    assert answer.status_code == 503 and "may only be read" in answer.text and NOTE["text"] in answer.text


def test_where_not_even_the_log_can_be_opened_the_file_is_read_as_it_stands(demo_path, monkeypatch):
    with closing(db.connect(demo_path)) as conn:
        conn.execute("pragma wal_checkpoint(truncate)")
    opened = db._opened

    def refused(path, wal=True):
        if wal:
            raise sqlite3.OperationalError("attempt to write a readonly database")
        return opened(path, wal)

    monkeypatch.setattr(db, "_opened", refused)
    with closing(db.connect(demo_path)) as conn:
        assert len(people.people(conn)) == 5
        with pytest.raises(sqlite3.OperationalError, match="readonly"):
            conn.execute("delete from person")


def test_while_another_program_holds_the_file_one_reads_and_is_told_to_wait(client, demo_path, monkeypatch):
    monkeypatch.setattr(db, "BUSY_MS", 50)
    with closing(sqlite3.connect(demo_path)) as holder:
        holder.execute("begin immediate")
        assert client.get("/makes/2/wear").status_code == 200
        answer = client.post("/makes/2/wear/note", data=NOTE)
        assert answer.status_code == 503 and "in use" in answer.text and NOTE["text"] in answer.text
        holder.rollback()
    assert client.post("/makes/2/wear/note", data=NOTE).status_code == 200


def hidden(page, form, name="version"):
    """A hidden field's value in the form with this action, or the page's first."""
    part = page[page.index(form) :] if form else page
    return re.search(rf'name="{name}"\s+value="([^"]*)"', part)[1]


TWICE = [
    ("/makes/1/fit", "/makes/1/fit/size", 'action="/makes/1/fit/size"', "version", {"size": "14"}, {"size": "16"}),
    ("/makes/1/cloth", "/makes/1/cloth", 'name="role"', "version", {"role": "self", "cloth": "2"}, {"role": "self", "cloth": "3"}),
    ("/people/1", "/people/1/measure", 'action="/people/1/measure"', "version", {"bust": "97 cm", "taken_on": "2026-11-20"},
     {"bust": "99 cm", "taken_on": "2026-11-20"}),
    ("/makes/1/sew/sheet", "/makes/1/sew/sheet", "", "seen", {"sheet": "1. Sew darts."}, {"sheet": "1. Sew the shoulders."}),
]  # fmt: skip


@pytest.mark.parametrize(("shown", "sent", "form", "name", "first", "second"), TWICE, ids=[t[1] for t in TWICE])
def test_two_tabs_never_overwrite_each_other_unseen(client, demo_path, shown, sent, form, name, first, second):
    page = client.get(shown).text
    mark = {name: hidden(page, form, name)}
    if "size" in first:
        with closing(db.connect(demo_path)) as conn:
            mark["garment"] = str(makes.make(conn, 1).garments[0].id)
    assert client.post(sent, data={**first, **mark}).status_code == 200
    late = client.post(sent, data={**second, **mark}, headers={"Referer": f"http://127.0.0.1{shown}"})
    assert late.status_code == 409 and "Nothing was overwritten" in late.text
    value = next(v for k, v in second.items() if k not in ("role", "taken_on"))
    assert value in late.text and f'href="{shown}"' in late.text and "data-typed-again" in late.text
    again = {**mark, name: hidden(client.get(shown).text, form, name)}
    assert client.post(sent, data={**second, **again}).status_code == 200


def test_two_tabs_on_the_settings(client):
    page = client.get("/settings").text
    selects = dict(re.findall(r'<select[^>]*name="(school-[^"]+)".*?<option\s+value="([^"]*)"', page, re.S))
    typed = {
        "unit": "cm",
        "step": "10 cm",
        "straighten": "5 cm",
        "sitting_minutes": "60",
        **selects,
        "seen": hidden(page, "", "seen"),
    }
    assert client.post("/settings", data={**typed, "sitting_minutes": "45"}).status_code == 200
    late = client.post("/settings", data={**typed, "sitting_minutes": "90"})
    assert late.status_code == 409 and "90" in late.text


def test_a_set_of_the_same_day_does_not_replace_the_first(client, demo_path):
    day = {"taken_on": date.today().isoformat()}
    for value in ("97 cm", "99 cm"):
        client.post("/people/1/measure", data={"bust": value, **day})
    with closing(db.connect(demo_path)) as conn:
        assert {s.values["bust"].text for s in people.person(conn, 1).sets} >= {"97 cm", "99 cm"}
