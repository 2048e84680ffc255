"""By hand: the server confirms, keeps what is sound as the lay, and the rest as a draft that cannot be taken away as a plan."""

import html
import json
import re

from tests.web.test_pages import wait_for_lay

HAND = "/makes/4/lay/hand"


def opened(client):
    page = client.get(HAND).text
    return json.loads(html.unescape(re.search(r'data-lay="([^"]+)"', page)[1]))


def places(data, **change):
    out = [{k: p[k] for k in ("number", "pose", "lane", "x", "y")} for p in data["pieces"]]
    for number, values in change.items():
        next(p for p in out if p["number"] == int(number[1:])).update(values)
    return json.dumps(out)


def test_the_page_carries_what_it_needs_to_judge(client):
    data = opened(client)
    assert data["gap"] == 3.0 and data["lanes"][0]["far"] > 700 and len(data["pieces"]) == 12
    assert all(p["poses"] and p["pose"] < len(p["poses"]) for p in data["pieces"])


def test_a_sound_lay_is_kept_and_an_unsound_one_is_a_draft_only(client):
    data = opened(client)
    far = {"role": "self", "places": places(data, n0={"x": 3000.0})}
    verdict = client.post(f"{HAND}/check", data=far).text
    assert "Checked" in verdict and "longer than the lay kept" in verdict
    before = client.get("/makes/4/lay").text
    first, second = data["pieces"][0], data["pieces"][1]
    on_it = places(data, **{f"n{first['number']}": {"x": second["x"], "y": second["y"]}})
    bad = client.post(f"{HAND}/keep", data={"role": "self", "places": on_it})
    assert "A draft." in bad.text and "Not sound." in bad.text and "overlap" in bad.text
    lay = client.get("/makes/4/lay").text
    assert (
        "A draft by hand is kept" in lay
        and re.search(r"Length needed.*?</dd>", lay, re.S)[0] == re.search(r"Length needed.*?</dd>", before, re.S)[0]
    )  # the plan is still the sound one
    assert client.get("/makes/4/lay/lay.pdf?role=self").status_code == 200
    dropped = client.post(f"{HAND}/drop", data={"role": "self"})
    assert "A draft by hand" not in dropped.text and "A draft." not in client.get(HAND).text
    kept = client.post(f"{HAND}/keep", data=far)
    assert kept.url.path == "/makes/4/lay" and "Out of date" not in kept.text


def test_the_rest_is_laid_around_what_is_held(client):
    data = opened(client)
    held = json.loads(places(data))
    held[3]["held"] = True
    client.post(f"{HAND}/tighten", data={"role": "self", "places": json.dumps(held)})
    wait_for_lay(client, 4, "self")
    again = opened(client)
    assert len(again["held"]) == 1
    there = next(p for p in again["pieces"] if p["number"] == again["held"][0])
    was = next(p for p in data["pieces"] if p["number"] == held[3]["number"])
    assert abs(there["x"] - was["x"]) < 0.2 and abs(there["y"] - was["y"]) < 0.2


def test_nonsense_places_are_refused_in_words(client):
    for nonsense in ("{", '[{"number": 1}]', '[{"number": 0, "pose": 0, "lane": 0, "x": 1e400, "y": 0}]'):
        answer = client.post(f"{HAND}/check", data={"role": "self", "places": nonsense})
        assert answer.status_code in (404, 409), nonsense
    assert client.get("/makes/1/lay/hand?role=cape").status_code == 404


def test_at_the_table_the_pieces_come_one_at_a_time_and_the_cloth_first(client):
    first = client.get("/makes/4/lay/table?role=self").text
    assert "Spread the cloth" in first and "Fold lengthwise" in first and "First piece" in first
    third = client.get("/makes/4/lay/table?role=self&n=3").text
    assert "3 of 12" in third and "From the cut end" in third and 'rel="prev"' in third
    assert "On to cutting" in client.get("/makes/4/lay/table?role=self&n=12").text
    short = client.get("/makes/3/lay/table?n=10").text
    assert "too short" in short and "On to cutting" not in short
