"""The pages, driven as forms without script: what is typed is kept, errors stand beside their field."""

import re
from contextlib import closing

import pytest
from fastapi.testclient import TestClient

from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.model import Pattern, View
from rowanseed.store import db, makes, patterns, people
from rowanseed.web import create_app
from tests.patience import PATIENCE_S, until
from tests.web.waiting import settled

PAGES = [
    "/", "/?all=true", "/makes/new", "/people", "/people/new", "/people/1", "/patterns", "/patterns/new", "/patterns/1",
    "/patterns/1/envelope", "/patterns/1/views/A", "/patterns/1/pieces/new", "/patterns/1/pieces/new?shape=sleeve",
    "/patterns/1/pieces/new?shape=freehand&number=3", "/cloths", "/cloths/new", "/cloths/1", "/bench", "/settings", "/docs",
    *(f"/makes/{m}/{s}" for m in (1, 2, 3, 4) for s in ("fit", "cloth", "lay", "cut", "sew", "wear")),
    "/makes/4/lay?role=lining", "/makes/2/sew?step=sew-hem", "/makes/2/cloth/needs?role=self",
]  # fmt: skip


@pytest.mark.parametrize("url", PAGES)
def test_a_page_of_the_demo_is_whole(client, url):
    answer = client.get(url)
    assert answer.status_code == 200
    assert "None" not in re.sub(r"<[^>]*>", " ", answer.text)
    if "needs" not in url:
        assert '<main id="main"' in answer.text and answer.text.count("<h1") == (0 if url == "/docs" else 1)
    assert " style=" not in answer.text and not re.search(r"<[^>]+ on\w+=", answer.text)


@pytest.mark.parametrize("url", ["/", "/people", "/patterns", "/cloths", "/makes/new", "/settings", "/bench"])
def test_a_page_of_an_empty_database_says_what_to_do(empty, url):
    assert empty.get(url).status_code == 200


@pytest.mark.parametrize(
    "url",
    [
        "/nowhere",
        "/people/99999999999999999999",
        "/people/99",
        "/makes/99/fit",
        "/makes/x/fit",
        "/cloths/99",
        "/patterns/99",
        "/makes/1/lay?role=hat",
    ],
)
def test_what_is_not_there_is_a_page_with_404(client, url):
    answer = client.get(url)
    assert answer.status_code == 404 and "<h1>" in answer.text


def test_a_person_is_added_with_mixed_units_and_shown_as_typed(empty):
    form = {"name": "Ada", "taken_on": "2026-05-01", "bust": "38 1/2", "waist": "79,5 cm", "hip": "41½ in"}
    assert empty.post("/people/new", data=form).status_code == 200
    text = empty.get("/people/1").text
    assert "38 1/2 cm" in text  # a bare number takes the household's unit, and says so
    assert "79,5 cm" in text and "41½ in" in text


def test_a_bad_measurement_stands_beside_its_field_and_nothing_is_lost(empty):
    form = {"name": "Ada", "taken_on": "2026-05-01", "bust": "wide", "waist": "79 cm"}
    answer = empty.post("/people/new", data=form)
    assert answer.status_code == 422
    assert "is not a length" in answer.text and 'id="bust-error"' in answer.text
    assert 'value="79 cm"' in answer.text and 'value="wide"' in answer.text and 'value="Ada"' in answer.text
    assert "79 cm = 31 1/8 in" in answer.text


@pytest.mark.parametrize(("day", "word"), [("2999-01-01", "still to come"), ("yesterday", "year-month-day")])
def test_a_day_that_cannot_be_is_said(empty, day, word):
    assert word in empty.post("/people/new", data={"name": "Ada", "taken_on": day}).text


def test_measuring_again_takes_over_what_was_left_empty(client):
    client.post("/people/1/measure", data={"taken_on": "2026-11-20", "waist": "32 in"})
    conn = db.connect(client.app.state.database)
    latest = people.person(conn, 1).latest
    assert latest.values["waist"].text == "32 in" and latest.values["hip"].text == "40 1/2 in"
    assert "Give at least one" in client.post("/people/1/measure", data={"taken_on": "2026-11-20"}).text
    conn.close()


@pytest.mark.parametrize(
    ("typed", "echo"),
    [("5/8 in", "5/8 in = 1.6 cm"), ("97", "97 cm = 38 1/4 in"), ("wide", "is not a length"), ("", "")],
)
def test_the_echo_beside_a_length_field(client, typed, echo):
    assert echo in client.post("/lengths/echo", data={"bust": typed}).text


ENVELOPE = {
    "name": "Bell skirt", "label": "Thistledown 7", "garment": "skirt", "views": "A: plain\nB",
    "size": ["12", "14"], "body_bust": ["", ""], "body_waist": ["28 in", "30 in"], "body_hip": ["38", "40 in"],
    "finished_bust": ["", ""], "finished_waist": ["29 in", "31 in"], "finished_hip": ["", ""],
}  # fmt: skip


def test_an_envelope_is_typed_in_and_kept(empty):
    assert empty.post("/patterns/new", data={**ENVELOPE, "body_hip": ["38 in", "40 in"]}).status_code == 200
    text = empty.get("/patterns/1").text
    assert "Bell skirt" in text and "28 in" in text and "31 in" in text
    assert 'value="30 in"' in empty.get("/patterns/1/envelope").text


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"body_waist": ["28 parsecs", "30 in"]}, "not a unit"),
        ({"body_waist": ["30 in", "28 in"]}, "smallest size first"),
        ({"size": ["12", "12"]}, "stands here twice"),
        ({"size": ["", "14"]}, "Which size?"),
        ({"name": ""}, "A name is needed"),
        ({"views": " "}, "at least one view"),
    ],
)
def test_a_slip_in_the_envelope_stands_beside_it_and_nothing_is_lost(empty, change, words):
    answer = empty.post("/patterns/new", data={**ENVELOPE, **change})
    assert answer.status_code == 422 and words in answer.text and "Thistledown 7" in answer.text


def test_a_piece_is_drawn_while_typing_and_kept_for_its_size(client):
    figures = {"shape": "patch-pocket", "width": "6 in", "depth": "18 cm", "point": "2 cm"}
    assert "<svg" in client.post("/patterns/2/pieces/draw", data=figures).text
    assert "figure is needed" in client.post("/patterns/2/pieces/draw", data={"shape": "patch-pocket"}).text
    piece = {**figures, "version": "1", "size": "40", "number": "9", "name": "Coin pocket", "cut": "1", "role": "self",
             "grain": "lengthwise", "allowance": "1 cm", "included": "on"}  # fmt: skip
    assert client.post("/patterns/2/pieces", data=piece).status_code == 200
    assert "Coin pocket" in client.get("/patterns/2").text
    wrong = client.post("/patterns/2/pieces", data={**piece, "version": "2", "width": "wide", "cut": "0", "size": "99"})
    assert (
        wrong.status_code == 422
        and "is not a length" in wrong.text
        and "a whole number" in wrong.text
        and "The sizes are" in wrong.text
    )


def test_a_pattern_goes_out_and_comes_back_as_a_file(client):
    file = client.get("/patterns/1/file.json")
    assert file.headers["content-disposition"].startswith("attachment")
    answer = client.post("/patterns/import", files={"file": ("p.json", file.content, "application/json")})
    assert answer.status_code == 200 and "Hedgerow overshirt" in answer.text
    broken = client.post(
        "/patterns/import", files={"file": ("p.json", file.content.replace(b'"cut": 1', b'"cut": 0', 1))}
    )
    assert broken.status_code == 422 and "pieces.0.cut" in broken.text


def test_a_cloth_is_kept_as_typed_and_errors_keep_the_form(empty):
    good = {"name": "Leaf", "width": "58 in", "selvage": "1/2 in", "length": "2 1/4 yd", "kind": "main", "print_kind": "one-way",
            "repeat_along": "9 cm", "weight": "medium", "nap": "none", "shrink_along": "3"}  # fmt: skip
    assert empty.post("/cloths/new", data=good).status_code == 200
    text = empty.get("/cloths/1").text
    assert 'value="2 1/4 yd"' in text and 'value="3"' in text
    bad = empty.post("/cloths/new", data={**good, "width": "1 in", "shrink_along": "90", "ground": "red;"})
    assert bad.status_code == 422
    for words in ("leave no cloth", "Between 0 and 50", "Choose a colour", 'value="2 1/4 yd"'):
        assert words in bad.text


def test_a_second_window_gets_a_plain_message(client):
    form = {"name": "Marit", "version": "1", "note": "first"}
    assert client.post("/people/1", data=form).status_code == 200
    second = client.post("/people/1", data={**form, "note": "second"})
    assert second.status_code == 409 and "Nothing was overwritten" in second.text


def test_the_fit_says_the_advice_the_ease_and_an_overruled_size(client):
    text = client.get("/makes/2/fit").text
    assert "Size 14" in text and "ease" in text
    client.post("/makes/2/fit/size", data={"garment": "2", "size": "18"})
    text = client.get("/makes/2/fit").text
    assert "You chose size 18" in text
    assert "out of date" in client.get("/makes/2/lay").text.lower()
    assert client.post("/makes/2/fit/size", data={"garment": "2", "size": "99"}).status_code == 422


def test_the_school_can_be_changed_and_errors_are_said(client):
    form = {"version": "2", "school": "at-least", "between": "larger", "key": "bust", "ease-bust": "3 in"}
    version = re.search(r'name="version" value="(\d+)"', client.get("/makes/2/fit").text)[1]
    assert client.post("/makes/2/fit/school", data={**form, "version": version}).status_code == 200
    assert "or above" in client.get("/makes/2/fit").text
    assert client.post("/makes/2/fit/school", data={**form, "ease-bust": "lots"}).status_code == 422


def test_the_needs_of_a_cloth_are_worked_out_at_each_width(client):
    text = client.get("/makes/3/cloth/needs?role=self").text
    assert "112 cm wide, on sale" in text and text.count("<tr") >= 6
    assert "too short" in settled(client, "/makes/3/cloth/needs?role=self", ("working out",))


def wait_for_lay(client, make_id, role):
    jobs = client.app.state.jobs
    for job in list(jobs._jobs.values()):
        assert job.finished.wait(PATIENCE_S)
    return client.get(f"/makes/{make_id}/lay?role={role}").text


def test_a_lay_is_started_shown_with_progress_and_kept(client):
    client.post("/makes/2/fit/size", data={"garment": "2", "size": "16"})
    form = {"role": "self", "spread": "lengthwise-fold", "effort": "quick", "gap": "1/8 in"}
    started = client.post("/makes/2/lay/start", data=form)
    assert started.status_code == 200 and "Laying the pieces" in started.text
    text = wait_for_lay(client, 2, "self")
    assert "Length needed" in text and "folded" in text and "<svg" in text and "The same as a table" in text
    assert client.post("/makes/2/lay/start", data={**form, "gap": "some"}).status_code == 422


def test_a_lay_is_stopped_and_the_best_so_far_is_kept(client):
    client.post("/makes/4/lay/start", data={"role": "self", "spread": "single", "effort": "best", "gap": "3 mm"})
    job = next(iter(client.app.state.jobs._jobs.values()))
    until(lambda: job.best is not None)
    part = client.get(f"/makes/4/lay/progress/{job.id}?role=self", headers={"HX-Request": "true"})
    assert "so far" in part.text and "<html" not in part.text
    stopped = client.post(f"/makes/4/lay/stop/{job.id}?role=self", headers={"HX-Request": "true"})
    assert "Length needed" in stopped.text and "so far" not in stopped.text
    assert job.status == "stopped"


def test_a_short_cloth_keeps_the_cut_stage_waiting(client):
    assert "The cloth in hand is too short by" in client.get("/makes/3/lay").text
    assert "before you cut" in client.get("/makes/3/cut").text


def test_cutting_cards_are_ticked_and_unticked(client):
    page = client.get("/makes/4/cut").text
    key = re.search(r'name="key" value="([^"]+)"', page)[1]
    cards = page.count('<article class="cut-card')
    part = client.post("/makes/4/cut/tick", data={"key": key, "done": "on"}, headers={"HX-Request": "true"})
    assert "Not cut after all" in part.text and f"1 of {cards} cut" in part.text and "<html" not in part.text
    client.post("/makes/4/cut/tick", data={"key": key, "done": ""})
    assert f"0 of {cards} cut" in client.get("/makes/4/cut").text
    assert client.post("/makes/4/cut/tick", data={"key": "self:cape:1", "done": "on"}).status_code == 404


def test_a_size_changed_after_the_cut_is_told_piece_by_piece_and_cut_anew(client):
    page = client.get("/makes/4/cut").text
    keys = [k for k in re.findall(r'name="key" value="([^"]+)"', page) if k.startswith(("self:1/2", "self:1/3"))]
    for key in keys:
        client.post("/makes/4/cut/tick", data={"key": key, "done": "on"})
    assert "Changed since it was cut" not in client.get("/makes/4/cut").text
    version = re.search(r'name="version" value="(\d+)"', client.get("/makes/4/fit").text)[1]
    client.post("/makes/4/fit/size", data={"version": version, "garment": "5", "size": "XL"})
    told = re.search(r'<section id="changed".*?</section>', client.get("/makes/4/cut").text, re.S)[0]
    assert told.count("<article") == 1 and "cut in size M, and size XL is chosen" in told and "Cut it anew" in told
    item = re.search(r'name="key" value="([^"]+)"', told)[1]
    client.post("/makes/4/cut/changed", data={"key": item, "how": "anew"})
    assert "Changed since it was cut" not in client.get("/makes/4/cut").text
    with db.connect(client.app.state.database) as conn:
        assert item not in makes.ticks(conn, 4, "cut") and set(keys) - {item} <= makes.ticks(conn, 4, "cut")


def test_steps_are_ticked_and_a_step_moved_too_early_is_answered(client):
    page = client.get("/makes/3/sew").text
    steps = re.findall(r'data-step="([^"]+)"', page)
    client.post("/makes/3/sew/tick", data={"step": steps[0], "done": "on"})
    assert "1 of" in client.get("/makes/3/sew").text
    part = client.post(
        "/makes/3/sew/move", data={"step": "sew-hem", "before": "mark-pieces"}, headers={"HX-Request": "true"}
    )
    assert "Too early" in part.text and "The marks are lost once the tissue is off" in part.text
    assert "your own order" in part.text
    assert re.findall(r'data-step="([^"]+)"', client.get("/makes/3/sew").text)[0] == "sew-hem"
    client.post("/makes/3/sew/own-order")
    assert re.findall(r'data-step="([^"]+)"', client.get("/makes/3/sew").text) == steps
    assert client.post("/makes/3/sew/move", data={"step": "sew-wings", "before": "mark-pieces"}).status_code == 404


def test_a_makes_garment_can_differ_from_its_view(client):
    page = client.get("/makes/3/sew").text
    version = re.search(r'name="version" value="(\d+)"', page)[1]
    chosen = dict(
        re.findall(
            r'<select class="form-select" id="f-[^"]+" name="([^"]+)">.*?<option value="([^"]+)" selected>', page, re.S
        )
    )
    client.post("/makes/3/sew/garment", data={**chosen, "version": version, "hem": "blind"})
    assert "Sew the hem blind" in client.get("/makes/3/sew").text


def test_notes_are_kept_and_next_time_greets_the_next_make(client):
    client.post("/makes/3/wear/note", data={"text": "Cut the legs longer.", "kind": "next-time"})
    assert client.post("/makes/3/wear/note", data={"text": " ", "kind": "happened"}).status_code == 422
    client.post("/makes/new", data={"name": "Again", "pattern_view": "2|A", "people": "2"})
    assert "Cut the legs longer." in client.get("/makes/6/fit").text
    client.post("/makes/3/wear/finish", data={"done": "on"})
    conn = db.connect(client.app.state.database)
    assert makes.make(conn, 3).finished_on is not None
    conn.close()


def test_a_make_needs_a_name_and_a_pattern(client):
    answer = client.post("/makes/new", data={"name": "", "pattern_view": ""})
    assert answer.status_code == 422 and "A name is needed" in answer.text and "Choose a pattern" in answer.text


def test_the_settings_change_the_unit_and_errors_are_said(client):
    form = {"unit": "in", "step": "1/8 yd", "straighten": "2 in", "sitting_minutes": "45", "tool-overlocker": "on"}
    assert client.post("/settings", data=form).status_code == 200
    assert re.search(r"\d+ (\d/\d )?in</dd>", client.get("/makes/2/lay").text)
    bad = client.post("/settings", data={**form, "straighten": "some", "sitting_minutes": "3"})
    assert bad.status_code == 422 and "not a length" in bad.text and "from 10 to 600" in bad.text


def test_the_bench_works_as_one_types(client):
    part = client.post("/bench/single-hem", data={"fold": "1 1/2 in"}, headers={"HX-Request": "true"})
    assert f"{parse_length('3 in').mm / 10:.1f} cm (3 in)" in part.text and "<html" not in part.text
    assert client.post("/bench/single-hem", data={"fold": "wide"}, headers={"HX-Request": "true"}).status_code == 422
    assert client.post("/bench/juggling", data={}).status_code == 404


def test_the_demo_can_be_cleared(client):
    client.post("/settings/clear-demo")
    assert "What have you in your hand?" in client.get("/").text


def test_the_empty_shelf_leads_a_new_user(empty):
    text = empty.get("/").text
    assert "/people/new" in text and "/patterns/new" in text and "/cloths/new" in text


def test_an_alteration_is_carried_shown_before_and_after_and_makes_the_lay_out_of_date(client):
    page = client.get("/makes/3/fit").text
    version = re.search(r'name="version" value="(\d+)"', page)[1]
    form = {"version": version, "kind": "length", "piece": "1", "at": "50 cm", "by": "3/4 in", "less": "on"}
    text = client.post("/makes/3/fit/alter", data=form).text
    assert "minus 1.9 cm (3/4 in)" in text
    assert "its side is sewn to the side of piece 1" in text and text.count("piece-change") == 2
    assert "out of date" in client.get("/makes/3/lay").text
    switched = client.post("/makes/3/fit/alter/0", data={}).text
    assert "switched off" in switched and "piece-change" not in switched
    gone = client.post("/makes/3/fit/alter/0", data={"drop": "on"}).text
    assert "No alteration yet" in gone and "out of date" not in client.get("/makes/3/lay").text


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"by": "some"}, "not a length"),
        ({"at": ""}, "Say where"),
        ({"piece": "99"}, "Choose one of the pieces"),
        ({"by": ""}, "is needed"),
    ],
)
def test_a_slip_in_an_alteration_stands_beside_its_field(client, change, words):
    form = {"kind": "taper", "piece": "1", "at": "50 cm", "by": "1 in"}
    answer = client.post("/makes/3/fit/alter", data={**form, **change})
    assert answer.status_code == 422 and words in answer.text


def test_an_alteration_that_cannot_be_made_is_refused_and_visible(client):
    client.post("/makes/3/fit/alter", data={"kind": "length", "piece": "1", "at": "9 m", "by": "1 in"})
    assert "9 m" not in client.get("/makes/3/fit").text
    text = client.post("/makes/3/fit/alter", data={"kind": "length", "piece": "1", "at": "250 cm", "by": "1 in"}).text
    assert "lies off the piece" in text


def test_the_three_schools_stand_side_by_side_with_their_reasons(client):
    text = client.get("/makes/2/fit").text
    for words in ("Body chart", "Finished garment", "At least the body", "is at or above the high bust"):
        assert words in text


def test_a_fit_to_be_proved_is_asked_for_before_the_first_cut(client):
    version = re.search(r'name="version" value="(\d+)"', client.get("/makes/4/fit").text)[1]
    client.post("/makes/4/fit/school", data={"version": version, "school": "finished", "key": "bust", "prove": "toile"})
    page = client.get("/makes/4/cut").text
    assert "Prove it first" in page and "to be proved first" in page
    client.post("/makes/4/cut/proved", data={"how": "toile"})
    assert "Prove it first" not in client.get("/makes/4/cut").text


def test_zones_cut_on_their_own_lines_change_the_pieces_and_the_lay(client):
    form = {"garment": "2", "size": "14", "zone-hip": "18", "zone-waist": ""}
    text = client.post("/makes/2/fit/size", data=form).text
    assert "size 14, hip 18" in text and "out of date" in text
    client.post("/makes/2/lay/start", data={"role": "self", "spread": "best", "effort": "quick", "gap": "3 mm"})
    laid = wait_for_lay(client, 2, "self")
    assert "Length needed" in laid and "not-blended" not in laid
    assert client.post("/makes/2/fit/size", data={**form, "zone-hip": "99"}).status_code == 422
    back = client.post("/makes/2/fit/size", data={**form, "zone-hip": ""}).text
    assert "hip 18" not in back


def test_an_alterations_place_is_said_as_it_was_typed_also_where_a_piece_rises_above_its_side(client):
    # The trouser back's seat rises 26 mm above its side: measured from its top, 50 cm stays 50 cm.
    text = client.post("/makes/3/fit/alter", data={"kind": "length", "piece": "2", "at": "50 cm", "by": "2 cm"}).text
    assert "piece 2 at 50 cm (19 5/8 in) from the top: 2 cm" in text


@pytest.mark.parametrize(("kind", "start"), [("svg", "<svg "), ("dxf", "  0\nSECTION"), ("pdf", "%PDF")])
def test_a_lay_goes_out_as_a_file_only_while_it_is_up_to_date(client, kind, start):
    answer = client.get(f"/makes/2/lay/lay.{kind}?role=self")
    assert answer.status_code == 200 and answer.content[:400].decode("latin-1").startswith(start)
    assert "attachment" in answer.headers["content-disposition"]
    client.post("/makes/2/fit/alter/0", data={})
    assert client.get(f"/makes/2/lay/lay.{kind}?role=self").status_code == 409
    assert client.get("/makes/2/lay/lay.exe?role=self").status_code == 404


def test_a_piece_held_stays_when_the_rest_is_laid_again(client):
    page = client.get("/makes/2/lay?role=self").text
    assert ">Hold<" in page and "1 held" not in page
    held = client.post("/makes/2/lay/hold", data={"role": "self", "number": "2"}).text
    assert "1 held" in held and "out of date" not in held
    row = re.search(r'<tr id="row-2">.*?</tr>', held, re.S)[0]
    from_end = re.search(r'<td class="n">([\d.]+ cm)</td>', row)[1]
    piece = re.search(r"<b>([^<]+)</b>", row)[1]
    client.post(
        "/makes/2/lay/start", data={"role": "self", "spread": "lengthwise-fold", "effort": "quick", "gap": "3 mm"}
    )
    again = settled(client, "/makes/2/lay?role=self", ("Laying the pieces",))
    rows = [r for r in re.findall(r"<tr id=\"row-\d+\">.*?</tr>", again, re.S) if ">held<" in r]
    assert len(rows) == 1 and from_end in rows[0] and f"<b>{piece}</b>" in rows[0]
    assert "1 held" not in client.post("/makes/2/lay/hold", data={"role": "self", "number": _number(rows[0])}).text


def _number(row):
    return re.search(r'id="row-(\d+)"', row)[1]


def test_flaws_are_typed_kept_and_kept_off(client):
    form = {
        "name": "Spotted",
        "kind": "main",
        "width": "150 cm",
        "selvage": "1 cm",
        "flaws": "20 cm, 30 cm, 5 cm, 4 cm",
    }
    page = client.post("/cloths/new", data=form)
    assert "20 cm, 30 cm, 5 cm, 4 cm" in page.text
    wrong = client.post("/cloths/new", data={**form, "flaws": "20 cm, 30 cm"})
    assert wrong.status_code == 422 and "four lengths" in wrong.text and "20 cm, 30 cm" in wrong.text


def test_what_the_cloths_form_does_not_show_survives_a_change(client):
    before = re.search(r'name="version" value="(\d+)"', client.get("/cloths/2").text)[1]
    form = {
        "name": "Bark corduroy",
        "kind": "main",
        "width": "142 cm",
        "selvage": "1 cm",
        "nap": "one-way",
        "stiff": "on",
    }
    changed = client.post("/cloths/2", data={**form, "version": before, "knit": "on", "stretch": "25"}).text
    assert re.search(r'name="stiff"[^>]*checked', changed) and 'value="25"' in changed


def test_what_remains_is_listed_and_can_be_kept_in_the_stash(client):
    page = client.get("/makes/4/lay/offcuts?role=self").text
    assert "What remains of" in page and "Keep in the stash" in page
    part = client.get("/makes/4/lay/offcuts?role=self", headers={"HX-Request": "true"}).text
    assert "<html" not in part and "from the cut end" in part
    along = re.search(r'<td class="n">([\d.]+ cm)</td>', part)[1]
    kept = client.post("/makes/4/lay/offcuts", data={"role": "self", "number": "0"}).text
    assert "Rook-grey wool, offcut" in kept and f'value="{along}"' in kept and "left from Four choir waistcoats" in kept
    assert client.post("/makes/4/lay/offcuts", data={"role": "self", "number": "99"}).status_code == 404


def test_the_shelf_shows_each_lay_its_next_action_with_minutes_and_what_waits(client):
    page = client.get("/").text
    assert page.count('class="thumb"') == 5 and re.search(r"Go on with Sew.*?about \d+ min", page, re.S)
    assert "Slate lining is to be prepared." in page
    worn = page[page.index("First overshirt") :]
    assert "about" not in worn.split("</article>")[0]


def test_an_empty_household_begins_with_what_is_in_the_hand(tmp_path):
    with TestClient(create_app(tmp_path / "new.db", warm=False), base_url="http://127.0.0.1") as http:
        page = http.get("/").text
        for url in ("/patterns/new", "/people/new", "/patterns/intake", "/cloths/new", "/guide/lay", "/makes/new"):
            assert f'href="{url}"' in page and http.get(url).status_code == 200
        assert page.count("minute") >= 5


def test_the_shelf_begins_with_what_is_being_sewn_and_is_searched_and_sorted(client):
    def names(address):
        return re.findall(r'<h2><a href="/makes/\d+">([^<]+)', client.get(address).text)

    assert names("/")[0] == "Leaf overshirt" and names("/")[-1] == "First overshirt, in canvas"
    assert names("/?words=oswin corduroy") == ["Corduroy trousers"] and names("/?words=waistcoat") == [
        "Four choir waistcoats"
    ]
    assert names("/?doing=worn") == ["First overshirt, in canvas"] and names("/?doing=sewing") == ["Leaf overshirt"]
    assert names("/?sort=name") == sorted(names("/"), key=str.casefold)
    nothing = client.get("/?words=velvet&doing=worn").text
    assert "No make that is worn has all of these words" in nothing and 'value="velvet"' in nothing
    part = client.get("/?words=oswin", headers={"HX-Request": "true"}).text
    assert part.lstrip().startswith('<div id="makes"') and "<html" not in part


def test_a_pattern_without_a_photograph_is_known_by_its_pieces(client):
    assert 'src="/patterns/1/pieces.svg?v=' in client.get("/patterns").text
    answer = client.get("/patterns/1/pieces.svg")
    assert (
        answer.headers["content-type"] == "image/svg+xml"
        and answer.text.startswith("<svg")
        and "http://www.w3.org/2000/svg" in answer.text
    )
    assert answer.text.count("<path") >= 5
    bare = Pattern("Bare", sizes=(), views=(View("A"),))
    with closing(db.connect(client.app.state.database)) as conn, db.write(conn):
        number = patterns.add_pattern(conn, bare)
    assert client.get(f"/patterns/{number}/pieces.svg").status_code == 404  # nothing is drawn of it yet
    assert f"/patterns/{number}/pieces.svg" not in client.get("/patterns").text
