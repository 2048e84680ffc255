"""Rename, copy, put away and delete on the pages, with the way back on the page that follows."""

import re
import threading
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from dataclasses import replace

import pytest

from rowanseed.store import cloths, db, patterns


def undo(client, page):
    """Press Undo on the page that follows a deletion."""
    url = re.search(r'action="(/away/\d+/back)"', page.text)[1]
    back = re.search(r'name="back"\s*value="([^"]*)"', page.text)[1]
    return client.post(url, data={"back": back})


def test_a_make_is_renamed_copied_put_away_and_deleted_each_with_a_way_back(client):
    assert "/keep/make/2" in client.get("/makes/2/fit").text
    assert "Renamed" in client.post("/keep/make/2/rename", data={"name": "Renamed"}).text
    copied = client.post("/keep/make/2/copy", data={"name": "Its copy"})
    assert "Its copy" in copied.text and "/makes/" in str(copied.url)
    away = client.post("/keep/make/2/away", data={})
    assert "is put away" in away.text and "Renamed</a>" not in away.text
    assert "Renamed" in client.get("/away").text
    assert client.post("/keep/make/2/away", data={"again": "on"}).url.path.startswith("/makes/2")
    look = client.get("/keep/make/2").text
    assert "With it go" in look and "1 garment" in look
    gone = client.post("/keep/make/2/delete", data={})
    assert "was deleted" in gone.text and client.get("/makes/2/fit").status_code == 404
    assert client.get("/makes/2/fit").status_code == 404 and undo(client, gone).status_code == 200
    assert "Renamed" in client.get("/makes/2/fit").text


def test_a_cloth_in_use_is_not_deleted_and_says_by_what(client):
    page = client.get("/keep/cloth/1").text
    assert "cannot be deleted while it is used by" in page
    refused = client.post("/keep/cloth/1/delete", data={})
    assert refused.status_code == 422 and "Delete or change those first" in refused.text
    client.post("/keep/cloth/1/away", data={})
    used = client.get("/makes/1/cloth").text
    assert "is put away" not in used and client.get("/cloths/1").status_code == 200


def test_the_demo_a_piece_a_note_and_a_set_are_taken_out_with_a_way_back(client):
    cleared = client.post("/settings/clear-demo")
    assert "The demo data” was deleted" in cleared.text and "What have you in your hand?" in client.get("/").text
    undo(client, cleared)
    assert "What have you in your hand?" not in client.get("/").text
    version = re.search(r'name="version" value="(\d+)"', client.get("/patterns/1").text)[1]
    taken = client.post("/patterns/1/pieces/7/drop", data={"version": version})
    assert "7 Chest pocket” was deleted" in taken.text
    assert 'id="piece-7"' not in taken.text and 'id="piece-7"' in undo(client, taken).text
    client.post("/makes/2/wear/note", data={"text": "Hem a finger longer", "kind": "next-time"})
    page = client.get("/makes/2/wear").text
    note = re.search(r"/keep/note/(\d+)/delete", page)[1]
    corrected = client.post(
        f"/keep/note/{note}/rename", data={"name": "Hem two fingers longer", "back": "/makes/2/wear"}
    )
    assert "Hem two fingers longer" in corrected.text
    gone = client.post(f"/keep/note/{note}/delete", data={"back": "/makes/2/wear"})
    assert (
        gone.url.path == "/makes/2/wear" and gone.text.count("Hem two fingers longer") == 1
    )  # in the line that says so
    assert "Hem two fingers longer" in undo(client, gone).text
    person = client.get("/people/1").text
    set_ = re.search(r"/keep/set/(\d+)/delete", person)[1]
    less = client.post(f"/keep/set/{set_}/delete", data={"back": "/people/1"})
    assert less.text.count("/keep/set/") == person.count("/keep/set/") - 1
    assert undo(client, less).text.count("/keep/set/") == person.count("/keep/set/")


def test_what_comes_back_to_a_place_that_is_gone_says_so(client):
    client.post("/makes/2/wear/note", data={"text": "Loose", "kind": "happened"})
    note = re.search(r"/keep/note/(\d+)/delete", client.get("/makes/2/wear").text)[1]
    client.post(f"/keep/note/{note}/delete", data={"back": "/makes/2/wear"})
    client.post("/keep/make/2/delete", data={})
    page = client.get("/away").text
    first = re.findall(r'action="(/away/\d+/back)"', page)[-1]
    refused = client.post(first, data={})
    assert refused.status_code == 422 and "Take that one back first" in refused.text
    client.post(re.findall(r'action="(/away/\d+/back)"', page)[0], data={})
    assert client.post(first, data={}).status_code == 200 and "Loose" in client.get("/makes/2/wear").text


def test_unknown_kinds_and_numbers_and_foreign_ways_back_are_answered_in_words(client):
    for url in ("/keep/dragon/1", "/keep/make/999", "/keep/make/99999999999999999999"):
        assert client.get(url).status_code == 404, url
    assert client.post("/away/999/back", data={}).status_code == 404
    assert client.post("/keep/person/1/copy", data={"name": "X"}).status_code == 404
    gone = client.post("/keep/supply/1/delete", data={"back": "//evil.example"}, follow_redirects=False)
    assert gone.headers["location"].startswith("/?gone=")
    assert client.get("/?gone=abc").status_code == 200 and client.get("/?away=make-999").status_code == 200


def test_backups_are_written_looked_into_restored_and_undone_on_the_pages(client):
    assert "None yet" in client.get("/settings/backups").text
    name = re.search(r'href="/settings/backups/(demo-kept[^"/]+\.zip)"', client.post("/settings/backups/now").text)[1]
    look = client.get(f"/settings/backups/{name}/restore").text
    assert "In the backup" in look and "Here now" in look
    client.post("/keep/make/2/rename", data={"name": "After the backup"})
    restored = client.post(f"/settings/backups/{name}/restore", data={})
    assert "is in place" in restored.text and "After the backup" not in client.get("/").text
    client.post(re.search(r'action="(/settings/backups/[^"]+before-restore[^"]+/restore)"', restored.text)[1], data={})
    assert "After the backup" in client.get("/").text
    data = client.get("/settings/backups/new.zip").content
    taken = client.post("/settings/backups/upload", files={"file": ("mine.zip", data, "application/zip")})
    assert taken.status_code == 200 and "Every sum in it is right" in taken.text
    for bad in (b"", b"PK\x03\x04 no", data[: len(data) // 2]):
        answer = client.post("/settings/backups/upload", files={"file": ("bad.zip", bad, "application/zip")})
        assert answer.status_code == 422 and "“bad.zip” is no Rowanseed backup" in answer.text
    assert client.get("/settings/backups/..%2Fdemo.db").status_code == 404
    assert client.post("/settings/backups/upload", data={}).status_code == 422


def test_a_folder_that_differs_is_shown_side_by_side_and_taken_as_chosen(client):
    folder = client.get("/settings/backups/everything.zip").content
    send = {"folder": ("all.zip", folder, "application/zip")}
    same = client.post("/settings/backups/folder", files=send)
    assert "nothing new" in same.text
    client.post("/keep/make/2/delete", data={})
    with closing(db.connect(client.app.state.database)) as conn, db.write(conn):
        conn.execute("update person set note = 'taller now' where id = 1")
    asked = client.post("/settings/backups/folder", files=send)
    url = str(asked.url)
    assert (
        "/brought/" in url
        and "New here" in asked.text
        and "taller now" in asked.text
        and "Keep it as it is here" in asked.text
    )
    assert 'name="at-person:1"' in asked.text
    taken = client.post(url, data={"at-person:1": "here", "do": "chosen"})
    assert "1 make" in taken.text and "taller now" in client.get("/people/1").text
    assert client.get(url).status_code == 422  # what was sent is not kept any longer
    again = client.post("/settings/backups/folder", files=send)
    there = client.post(str(again.url), data={"at-person:1": "there", "do": "chosen"})
    assert "Now as it is there" in there.text and "taller now" not in client.get("/people/1").text


def test_one_make_comes_out_of_a_backup_on_the_pages(client):
    name = re.search(
        r'href="/settings/backups/(demo-kept[^"/]+\.zip)"', client.post("/settings/backups/now", data={}).text
    )[1]
    client.post("/keep/make/2/delete", data={})
    assert client.get("/makes/2").status_code == 404
    page = client.post(f"/settings/backups/{name}/makes", data={})
    assert "Which make?" in page.text
    link = re.search(r'href="(/settings/backups/brought/[^"]+\?make=2)"', page.text)[1]
    there = client.get(link.replace("make=2", "make=3")).text
    assert "the same" in there and "Take it in<" not in there  # what is here already is not offered
    look = client.get(link)
    assert "New here" in look.text and "Otherwise" not in look.text
    client.post(link.partition("?")[0], data={"make": "2", "do": "chosen"})
    assert client.get("/makes/2").status_code == 200


@pytest.mark.apart
def test_an_encrypted_backup_is_written_said_to_be_and_opened_on_the_pages(client):
    weak = client.post("/settings/backups/now", data={"passphrase": "short", "again": "short"})
    assert weak.status_code == 422 and "At least" in weak.text
    uneven = client.post("/settings/backups/now", data={"passphrase": "otter kettle pinewood", "again": "otter"})
    assert uneven.status_code == 422 and "not the same" in uneven.text
    words = {"passphrase": "otter kettle pinewood", "again": "otter kettle pinewood"}
    listed = client.post("/settings/backups/now", data=words).text
    name = re.search(r'href="/settings/backups/(demo-kept[^"/]+\.zip\.age)"', listed)[1]
    assert "encrypted</span>" in listed
    look = client.get(f"/settings/backups/{name}/restore").text
    assert "is encrypted" in look and "Restore it" not in look
    wrong = client.post(f"/settings/backups/{name}/open", data={"passphrase": "no"})
    assert wrong.status_code == 422 and "does not open" in wrong.text
    opened = client.post(f"/settings/backups/{name}/open", data={"passphrase": "otter kettle pinewood"})
    assert "demo-opened-" in str(opened.url) and "every page of every make opens" in opened.text
    sent = client.post("/settings/backups/now", data={**words, "do": "send"})
    assert sent.content.startswith(b"age-encryption.org/v1")
    brought = client.post("/settings/backups/upload", files={"file": ("mine.zip.age", sent.content, "application/zip")})
    assert "is encrypted" in brought.text and str(brought.url).endswith(".zip.age/restore")


def test_two_backups_within_a_second_have_names_of_their_own(client):
    for _ in range(2):
        client.post("/settings/backups/now", data={})
    shown = client.get("/settings/backups").text
    assert len(set(re.findall(r'href="/settings/backups/(demo-kept[^"/]+\.zip)"', shown))) == 2


def test_a_folder_for_backups_must_be_there(client, tmp_path):
    page = client.get("/settings").text
    typed = {"unit": "cm", "step": "10 cm", "straighten": "5 cm", "sitting_minutes": "60"}
    selects = dict(re.findall(r'<select[^>]*name="(school-[^"]+)".*?<option\s+value="([^"]*)"', page, re.S))
    for folder in ("relative", str(tmp_path / "none"), "/x" * 3000, "/\x00"):
        answer = client.post("/settings", data={**typed, **selects, "backup_folder": folder})
        assert answer.status_code == 422 and "Name a folder that is there" in answer.text
    assert client.post("/settings", data={**typed, **selects, "backup_folder": str(tmp_path)}).status_code == 200


def test_a_picture_is_taken_out_with_a_way_back(client, demo_path):
    name = "a" * 40 + ".jpg"
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        patterns.set_photos(conn, 1, [name])
        stored = cloths.cloth(conn, 1)
        cloths.update_cloth(conn, 1, stored.version, replace(stored.cloth, pictures=(name,)))
    for page, drop, field in (
        ("/patterns/1", "/patterns/1/photo-drop", "photo"),
        ("/cloths/1/prepare", "/cloths/1/picture/drop", "picture"),
    ):
        assert name in client.get(page).text
        gone = client.post(drop, data={field: name, "version": "1"})
        assert "was deleted" in gone.text and f"/photos/{name}" not in gone.text
        undo(client, gone)
        assert f"/photos/{name}" in client.get(page).text
        assert client.post(drop, data={field: "b" * 40 + ".jpg"}).status_code == 404


def test_the_same_pattern_file_twice_is_one_pattern(client):
    text = client.get("/patterns/1/file.json").content
    again = client.post("/patterns/import", files={"file": ("p.json", text, "application/json")})
    assert "was here already" in again.text and client.get("/patterns/4").status_code == 404
    other = client.post(
        "/patterns/import", files={"file": ("p.json", text.replace(b"Hedgerow", b"Hazel"), "application/json")}
    )
    assert other.url.path == "/patterns/4"


RACES = [
    ("/people/1", {"name": "A"}, {"name": "B"}),
    ("/patterns/1/views/A", {"neck": "facing"}, {"neck": "binding"}),
    ("/cloths/1/prepare", {"task": "wash", "done": "on"}, {"task": "press", "done": "on"}),
    ("/makes/1/sew/own-steps", {"own_text": "One"}, {"own_text": "Two"}),
    ("/makes/1/cloth/figures", {"figure-hem_first": "1 cm"}, {"figure-hem_first": "2 cm"}),
    ("/supplies/1/amount", {"amount": "3"}, {"amount": "4"}),
]


@pytest.mark.parametrize(("url", "one", "other"), RACES, ids=[url for url, _, _ in RACES])
def test_of_two_who_save_at_once_from_the_same_page_one_is_told(client, demo_path, url, one, other):
    """Two threads, the same version, released together: never are both taken, never is one lost without a word."""
    table, id_ = (
        {"people": "person", "patterns": "pattern", "cloths": "cloth", "makes": "make", "supplies": "supply"}[
            url.split("/")[1]
        ],
        1,
    )
    for _ in range(4):
        with closing(db.connect(demo_path)) as conn:
            version = conn.execute(f"select version from {table} where id = ?", (id_,)).fetchone()[0]
        start = threading.Barrier(2)

        def save(typed, start=start, version=version):
            start.wait()
            return client.post(url, data={**typed, "version": str(version)}, follow_redirects=False).status_code

        with ThreadPoolExecutor(2) as pool:
            codes = sorted(pool.map(save, (one, other)))
        assert codes in ([303, 409], [204, 409], [200, 409]) or codes == [422, 422], codes
        assert codes != [422, 422], "the form itself was refused"


def test_a_piece_is_copied_in_all_its_sizes_under_the_next_free_number(client, demo_path):
    with closing(db.connect(demo_path)) as conn:
        stored = patterns.pattern(conn, 1)
        answer = client.post("/patterns/1/pieces/1/copy", data={"version": stored.version})
        after = patterns.pattern(conn, 1).pattern
    assert answer.status_code == 200 and "(copy)" in answer.text
    new = after.pieces[-1]
    assert new.number not in {p.number for p in stored.pattern.pieces} and new.shapes == after.pieces[0].shapes
    assert client.post("/patterns/1/pieces/1/copy", data={"version": stored.version}).status_code == 409


def test_a_name_that_another_tab_changed_is_not_changed_unseen(client):
    sent = {"name": "Corduroy, brown", "seen": "some other name"}
    assert client.post("/keep/cloth/1/rename", data=sent).status_code == 409
