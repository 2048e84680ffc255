"""A print described in a form, drawn as it is typed; its rules on a make, what they cost, and the garment as it would look."""

import re

from tests.web.test_pages import wait_for_lay
from tests.web.waiting import settled


def form_of(client, cloth_id):
    page = client.get(f"/cloths/{cloth_id}").text
    fields = dict(
        re.findall(r'<input class="form-control[^"]*" id="f-[a-z_]+" name="([a-z_]+)"[^>]*value="([^"]*)"', page)
    )
    version = re.search(r'name="version" value="(\d+)"', page)[1]
    return {**fields, "version": version, "kind": "main", "weight": "medium", "nap": "none", "print_kind": "plaid"}


def check_cloth(client):
    page = client.get("/cloths").text
    return int(re.search(r'<a href="/cloths/(\d+)">Hedgerow check', page)[1])


BARS = {
    "bar_way": ["across", "across", "along"],
    "bar_at": ["0", "8.4 cm", "1 in"],
    "bar_width": ["6 cm", "1.2 cm", "1/2 in"],
    "bar_colour": ["#6E7F63", "#B23A1E", "#3F5873"],
}


def test_bars_are_kept_and_say_whether_the_plaid_is_even(client):
    cloth_id = check_cloth(client)
    form = form_of(client, cloth_id)
    kept = client.post(f"/cloths/{cloth_id}", data={**form, **BARS})
    assert kept.status_code == 200 and 'value="84 mm"' in kept.text and 'value="25.4 mm"' in kept.text
    sett = client.post("/cloths/sett", data={**form, **BARS}).text
    assert "Even: it reads the same both ways" in sett and "3 cm from where a repeat begins" in sett and "<svg" in sett
    lopsided = {**BARS, "bar_at": ["0", "7 cm", "1 in"]}
    assert "Uneven" in client.post("/cloths/sett", data={**form, **lopsided}).text


def test_a_bar_outside_its_repeat_is_said_beside_the_bars_and_kept_as_typed(client):
    cloth_id = check_cloth(client)
    wrong = {**BARS, "bar_at": ["0", "15 cm", "lots"]}
    answer = client.post(f"/cloths/{cloth_id}", data={**form_of(client, cloth_id), **wrong})
    assert answer.status_code == 422 and "write where it begins" in answer.text and 'value="lots"' in answer.text


def lay_the_check(client):
    client.post("/makes/2/cloth", data={"role": "self", "cloth": str(check_cloth(client))})
    form = {"role": "self", "spread": "lengthwise-fold", "effort": "quick", "gap": "3 mm"}
    client.post("/makes/2/lay/start", data=form)
    return wait_for_lay(client, 2, "self")


def test_the_lay_of_a_plaid_keeps_its_matches_and_the_garment_is_seen(client):
    lay = lay_the_check(client)
    assert "Fold on the middle of a bar" in lay and "Where the print lands" in lay
    seen = client.get("/makes/2/lay/print?role=self").text
    assert "Front, as it would be made up" in seen and seen.count('class="preview"') >= 5
    assert "does not match" in seen and "the seam slopes across the cloth" in seen
    cost = settled(client, "/makes/2/lay/print/cost?role=self")
    assert "So matching takes" in cost and "3 matched rows" in cost


def test_a_rule_is_refused_and_the_hem_set_on_a_bar(client):
    lay_the_check(client)
    page = client.get("/makes/2/lay/print?role=self").text
    version = re.search(r'name="version" value="(\d+)"', page)[1]
    keys = re.findall(r'name="keep" value="([^"]+)"[^>]* checked', page)
    assert "seam:3.side=1.side" in keys
    kept = [k for k in keys if k != "pocket:7"] + ["hem:1"]
    form = {"role": "self", "version": version, "keep": kept, "at-hem:1": "3 cm"}
    answer = client.post("/makes/2/lay/print", data=form)
    again = re.findall(r'name="keep" value="([^"]+)"[^>]* checked', answer.text)
    assert set(again) == set(kept) and 'value="3 cm"' in answer.text
    assert "Out of date" in client.get("/makes/2/lay").text  # another place on the print is another lay
    wrong = client.post("/makes/2/lay/print", data={**form, "version": str(int(version) + 1), "at-hem:1": "some"})
    assert wrong.status_code == 422 and 'value="some"' in wrong.text


def test_a_broken_match_is_named_when_a_piece_is_moved_by_hand(client):
    import html
    import json

    lay_the_check(client)
    page = client.get("/makes/2/lay/hand").text
    data = json.loads(html.unescape(re.search(r'data-lay="([^"]+)"', page)[1]))
    places = [{k: p[k] for k in ("number", "pose", "lane", "x", "y")} for p in data["pieces"]]
    sleeve = next(p for p in data["pieces"] if p["name"] == "Sleeve")
    next(p for p in places if p["number"] == sleeve["number"])["x"] += 4.0
    verdict = client.post("/makes/2/lay/hand/check", data={"role": "self", "places": json.dumps(places)}).text
    assert "do not match: 4.0 mm apart on the print" in verdict and "as it would be made up" in verdict


def test_cloth_without_a_print_to_match_says_so(client):
    assert "has no print that could be matched" in client.get("/makes/4/lay/print?role=self").text
