"""Steps of one's own in a make's order, figures typed at a step, parts that have their own, and views that are not described."""

import re

MAKE = "/makes/3/sew"


def version(client):
    return re.search(r'name="version" value="(\d+)"', client.get(MAKE).text)[1]


def steps(client, page=MAKE):
    return re.findall(r'data-step="([^"]+)"', client.get(page).text)


def add(client, **typed):
    return client.post(f"{MAKE}/own-steps", data={"version": version(client), "own_place": "hand", **typed})


def test_a_pasted_list_becomes_steps_each_after_the_one_before_it(client):
    before = steps(client)
    after, last = "press-side-seams", "final-press"
    got = add(
        client,
        own_text="Embroider the pocket\n\nWash out the pen marks",
        own_after=after,
        own_before=last,
        own_minutes="45",
    )
    assert got.status_code in (200, 303)
    order = steps(client)
    assert [s for s in order if s not in before] == ["own-1", "own-2"]
    assert order.index(after) < order.index("own-1") < order.index("own-2") < order.index(last)
    assert [s for s in order if s in before] and set(before) < set(order)
    page = client.get(f"{MAKE}?step=own-1").text
    assert (
        "Embroider the pocket" in page and "about 45 minutes" in page and "You said that it comes after this." in page
    )
    assert "Embroider the pocket" in client.get(f"{MAKE}/machine?step=own-1").text
    assert "Embroider the pocket" in client.get(f"{MAKE}/evenings").text


def test_a_step_taken_out_leaves_the_others_in_their_place(client):
    add(client, own_text="First\nSecond\nThird", own_after="press-side-seams", own_minutes="5")
    client.post(f"{MAKE}/own-steps/remove", data={"version": version(client), "step": "own-2"})
    order = steps(client)
    assert "own-2" not in order
    assert order.index("press-side-seams") < order.index("own-1") < order.index("own-3")
    assert (
        client.post(f"{MAKE}/own-steps/remove", data={"version": version(client), "step": "own-2"}).status_code == 404
    )


def test_wrong_minutes_are_said_beside_their_field_and_the_text_stays(client):
    got = add(client, own_text="Embroider the pocket", own_minutes="soon")
    assert (
        got.status_code == 422
        and "Minutes, as a whole number" in got.text
        and "Embroider the pocket</textarea>" in got.text
    )
    assert add(client, own_text="   ").status_code == 422
    assert not any(step.startswith("own-") for step in steps(client))


def test_a_figure_typed_at_a_step_stands_in_every_step_of_that_edge(client):
    hems = [step for step in steps(client) if step in ("mark-hem", "press-hem", "sew-hem")]
    got = client.post(
        f"{MAKE}/figure", data={"version": version(client), "step": hems[0], "first": "1/2 in", "second": "2 in"}
    )
    assert got.status_code in (200, 303)
    # Folds a = 1/2 in and b = 2 in: chalk lines at 2a = 1 in and a + 2b = 4 1/2 in.
    for step in hems:
        page = client.get(f"{MAKE}?step={step}").text
        assert "typed for this edge" in page and "4 1/2 in" in page, step
    bad = client.post(
        f"{MAKE}/figure", data={"version": version(client), "step": hems[0], "first": "wide", "second": ""}
    )
    assert bad.status_code == 422 and 'id="first-error"' in bad.text


def test_a_part_may_be_finished_otherwise_than_the_rest(client):
    option = r'<select class="form-select" id="f-[^"]+" name="([^"]+)">.*?<option\s+value="([^"]+)"\s+selected>'
    chosen = dict(re.findall(option, client.get(MAKE).text, re.S))
    name = re.search(r'name="(unit-[a-z]+-seam-finish)"', client.get(MAKE).text)[1]
    client.post(f"{MAKE}/garment", data={**chosen, "version": version(client), name: "french"})
    page = re.sub(r"\s+", " ", client.get(MAKE).text)
    assert re.search(rf'name="{name}">.*?<option value="french" selected>', page)
    assert any(step.startswith("trim-french-") for step in steps(client))


def test_an_undescribed_view_says_so_and_offers_what_its_pieces_show(client):
    page = client.get("/patterns/1/views/A").text
    assert "not described yet" not in page
    typed = {"version": re.search(r'name="version" value="(\d+)"', page)[1]}
    client.post("/patterns/1/views/A", data=typed)
    empty = client.get("/patterns/1/views/A").text
    assert "not described yet" in empty and "There is a piece" in empty
    shirt = client.get("/patterns/1/views/A", params={"from": "shirt"}).text
    assert re.search(r'<option\s+value="two-piece"\s+selected>', shirt)
    seen = client.get("/patterns/1/views/A", params={"from": "proposed"}).text
    assert re.search(r'<option\s+value="two-piece"\s+selected>on a stand', seen)


def test_a_facing_is_derived_from_the_neck_and_put_into_the_pattern(client):
    page = client.get("/patterns/1/derive?kind=facing").text
    asked = {
        "kind": "facing", "version": re.search(r'name="version" value="(\d+)"', page)[1], "number": "20",
        "name": "Back neck facing",
        "source": "2", "edges": "neck", "depth": "2 1/2 in",
    }  # fmt: skip
    shown = client.post("/patterns/1/derive", data=asked)
    assert shown.status_code == 200 and "Back neck facing" in shown.text
    wrong = client.post("/patterns/1/derive", data={**asked, "edges": "wing"})
    assert wrong.status_code == 422 and "no edge “wing”" in wrong.text
    client.post("/patterns/1/derive", data={**asked, "keep": "on"})
    assert "Back neck facing" in client.get("/patterns/1").text


def test_what_was_timed_corrects_the_minutes_of_the_evenings_and_can_be_left_aside(client):
    page = client.get("/makes/2/sew/machine").text
    step = re.search(r'name="step" value="([^"]+)"', page)[1]
    usual = int(re.search(r"about (\d+) minutes", client.get(f"/makes/2/sew/machine?step={step}").text)[1])
    client.post("/makes/2/sew/machine", data={"step": step, "what": "done", "seconds": str(usual * 240)})
    told = int(re.search(r"about (\d+) minutes", client.get(f"/makes/2/sew/machine?step={step}").text)[1])
    assert told > usual
    assert "Minutes are corrected by your own pace" in client.get("/makes/2/sew/evenings").text
    settings = client.get("/settings").text
    assert re.search(r'name="own_pace"\s+checked', settings)
    seen = re.search(r'name="seen" value="([^"]*)"', settings)[1]
    schools = dict(re.findall(r'<select[^>]*name="(school-[^"]+)".*?<option\s+value="([^"]*)"', settings, re.S))
    typed = {"seen": seen, "unit": "cm", "step": "10 cm", "straighten": "5 cm", "sitting_minutes": "60", **schools}
    assert client.post("/settings", data=typed).status_code == 200
    assert f"about {usual} minutes" in client.get(f"/makes/2/sew/machine?step={step}").text
