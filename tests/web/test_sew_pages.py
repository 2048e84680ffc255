"""Sewing as a user meets it: one step at a time, evenings, the sheet, trouble; forms without script."""

import re

from rowanseed.store import db, makes, sewing

SHEET = """1. Sew darts
2. Sew yoke to back
3. Sew shoulders
4. Hem the lower edge
5. Attach collar
6. Set in sleeves"""


def step_of(text):
    return re.search(r'name="step" value="([a-z-]+)"', text)[1]


def test_one_step_fills_the_screen_with_what_to_set_and_put_back(client):
    text = client.get("/makes/2/sew/machine?step=ease-sleeve-cap").text
    assert "Put back afterwards" in text and "4 mm" in text and "Set</dt>" in text and "step " in text
    assert "<svg" in text and 'rel="next"' in text and "Something is wrong" in text


def test_at_the_machine_everything_that_is_set_is_there_and_what_changed_stands_out(client):
    """Stitch, needle, thread and foot of each step; marked is what differs from the machine step before it, worked out here."""
    page, seen, last = client.get("/makes/2/sew/machine?step=sew-yoke").text, 0, None
    steps = re.findall(r'data-step="([a-z0-9-]+)"', client.get("/makes/2/sew").text)
    for step in steps:
        page = client.get(f"/makes/2/sew/machine?step={step}").text
        box = re.search(r'<dl class="setbox">(.*?)</dl>', page, re.S)
        if 'class="place machine"' not in page:
            continue
        rows = re.findall(r'<dd( class="new")?><span class="soft">([a-z ]+)</span>\s*<b>([^<]+)</b>', box[1])
        now = {what: value for _, what, value in rows}
        assert {"stitch", "needle", "thread", "foot"} <= set(now)
        if last is not None:
            assert {what for new, what, _ in rows if new} == {
                what for what, value in now.items() if last.get(what) != value
            }
            assert ("As it is set" in box[1]) == (last == now)
        last, seen = now, seen + 1
    assert seen > 10


def test_what_alterations_and_the_lay_changed_stands_with_the_step_that_it_touches(client):
    text = client.get("/makes/2/sew/machine?step=give-sleeve-mark").text
    assert "Changed in this make." in text and "Sleeve:" in text
    whole = client.get("/makes/3/sew/machine?step=mark-pieces").text
    # every piece of the trousers is one of a pair: nothing is opened out, so nothing is said of halves
    assert "cut as wholes" not in whole and "single layer" not in whole


def test_how_pieces_are_held_for_cutting_is_told_at_the_cutting_table_by_school(client):
    assert "Hold the tissue down with weights" in client.get("/makes/4/cut").text
    page = client.get("/settings").text
    version = {"unit": "cm", "step": "10 cm", "straighten": "5 cm", "sitting_minutes": "60", "school-holding": "pins"}
    assert "Holding pieces for cutting" in page
    client.post("/settings", data=version)
    assert "Pin within the allowances" in client.get("/makes/4/cut").text


def test_steps_done_in_one_go_are_shown_so(client):
    text = client.get("/makes/2/sew").text
    assert "in one go at the machine" in text and "fed one behind the other" in text


def test_done_goes_on_to_the_next_skipping_keeps_its_reason_and_both_are_undone(client):
    first = step_of(client.get("/makes/2/sew/machine").text)
    after = client.post("/makes/2/sew/machine", data={"step": first, "what": "done", "seconds": "95"})
    assert step_of(after.text) != first
    second = step_of(after.text)
    client.post("/makes/2/sew/machine", data={"step": second, "what": "skip", "reason": "the cloth does not ravel"})
    shown = client.get(f"/makes/2/sew/machine?step={second}").text
    assert "skipped: the cloth does not ravel" in shown
    assert second not in step_of(client.get("/makes/2/sew/machine").text)
    assert "1:35" in client.get(f"/makes/2/sew/machine?step={first}").text
    client.post("/makes/2/sew/machine", data={"step": second, "what": "undo"})
    client.post("/makes/2/sew/machine", data={"step": first, "what": "undo"})
    assert step_of(client.get("/makes/2/sew/machine").text) == first
    assert client.post("/makes/2/sew/machine", data={"step": "fly", "what": "done"}).status_code == 404


def test_what_a_sample_showed_is_kept_and_stands_with_later_steps(client):
    client.post("/makes/2/sew/machine", data={"step": "sample-stitch", "what": "keep", "sample": "2.4 mm, tension 3"})
    assert 'value="2.4 mm, tension 3"' in client.get("/makes/2/sew/machine?step=sample-stitch").text
    assert "2.4 mm, tension 3" in client.get("/makes/2/sew/machine?step=sew-shoulders").text


def test_evenings_are_planned_from_what_is_done_and_a_wrong_line_is_said(client):
    assert "added" in client.get("/makes/2/sew/evenings").text
    client.post("/makes/2/sew/evenings", data={"evenings": "2999-12-01 90\n2999-12-03 45 min"})
    text = client.get("/makes/2/sew/evenings").text
    assert "Sun 1 Dec 2999" in text and "of 45 minutes" in text
    bad = client.post("/makes/2/sew/evenings", data={"evenings": "tomorrow, long"})
    assert bad.status_code == 422 and 'id="evenings-error"' in bad.text and "tomorrow, long" in bad.text


def test_the_sheet_is_read_matched_compared_and_its_order_kept_with_warnings(client, demo_path):
    client.post("/makes/2/sew/sheet", data={"sheet": SHEET})
    text = client.get("/makes/2/sew/sheet").text
    assert "Both orders" in text and "too early in the sheet" in text
    number = re.search(r'name="line-(5)"', text)[1]
    client.post("/makes/2/sew/sheet/match", data={f"line-{number}": "attach-collar", "line-1": ""})
    client.post("/makes/2/sew/sheet/order", data={"use": "on"})
    steps = client.get("/makes/2/sew").text
    assert "This is your own order" in steps and "comes before" in steps
    conn = db.connect(demo_path)
    assert makes.make(conn, 2).plan.sheet["Attach collar"] == "attach-collar"
    assert sewing.sheets(conn, 1)["A"] == SHEET
    conn.close()
    client.post("/makes/2/sew/sheet/order", data={})
    assert "This is your own order" not in client.get("/makes/2/sew").text


def test_a_sheet_that_is_too_long_is_refused_and_stays(client):
    bad = client.post("/makes/2/sew/sheet", data={"sheet": "Sew it\n" * 4000})
    assert bad.status_code == 422 and "Keep this under" in bad.text and "Sew it" in bad.text


def test_a_symptom_leads_to_checks_and_the_finding_goes_into_the_log(client):
    text = client.get("/makes/2/sew/trouble?symptom=the seam puckers&step=sew-shoulders").text
    assert text.index("Seams pucker") < text.index("Is the tension too tight?")
    client.post("/makes/2/sew/trouble", data={"trouble": "puckers", "check": "0", "step": "sew-shoulders"})
    assert "Seams pucker at “Sew the shoulder seams”: Is the tension too tight?" in client.get("/makes/2/wear").text
    assert "Nothing here is called so" in client.get("/makes/2/sew/trouble?symptom=zzzz").text
    assert client.post("/makes/2/sew/trouble", data={"trouble": "puckers", "check": "99"}).status_code == 404


def test_missing_tools_are_said_with_what_takes_their_place(client):
    text = client.get("/makes/2/sew/tools").text
    assert "Without buttonhole foot" in text and "in four passes of close zigzag" in text


def test_the_interface_takes_every_feature_school_and_cloth(client):
    known = client.get("/api/v1/features").json()
    assert len(known["features"]) >= 40 and "needle-and-thread-only" in known["equipment"]
    asked = {
        "features": {"collar": "notched", "lining": "bagged", "closure": "fly", "sleeve": "two-piece"},
        "equipment": ["overlocker"],
        "schools": {"tailoring": "by-hand"},
        "cloth": {"fur": True, "weight": "heavy"},
    }
    answer = client.post("/api/v1/sequence", json=asked).json()
    ids = [s["id"] for s in answer["steps"]]
    assert "shave-fur" in ids and "pad-stitch-lapels" in ids
    assert client.post("/api/v1/sequence/check", json={**asked, "order": ids}).json() == {"findings": []}
    wrong = client.post("/api/v1/sequence/check", json={**asked, "order": ids[::-1]}).json()
    assert any(f["level"] == "stop" for f in wrong["findings"])
