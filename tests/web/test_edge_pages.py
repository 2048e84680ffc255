"""What becomes of each edge, said on the pages, and a make sewn in the order that follows."""

import re

from tests.web.test_envelope_text import form

PATTERN = "/patterns/1/edges"
LIKELY = {
    "end:back.hem": "hem-blind", "end:front.hem": "hem-blind", "end:sleeve.hem": "hem", "end:front.neck-step": "enclosed",
    "end:collar.neck": "sew:collar-stand.upper", "end:collar.front": "mirror", "end:collar.outer": "mirror",
    "end:chest-pocket.top": "hem", "end:chest-pocket.side": "fold", "end:chest-pocket.foot": "fold",
    "end:chest-pocket.other-side": "fold", "end:button-band.head": "fold", "end:button-band.foot": "fold",
    "end:button-band.other-side": "fold",
}  # fmt: skip


def version(page):
    return re.search(r'name="version" value="(\d+)"', page)[1]


def kept(client, **more):
    page = client.get(PATTERN).text
    return client.post(PATTERN, data={"version": version(page), "view": "A", **LIKELY, **more}, follow_redirects=True)


def test_every_edge_stands_on_the_page_with_what_it_is_sewn_to_or_may_become(client):
    page = client.get(PATTERN).text
    assert re.search(r"<b>15 edges</b>\s+are not said yet", page)
    assert page.count('<svg class="edges"') == 8  # interfacing only backs a piece: it has no edges of its own to say
    row = page[page.index('name="end:collar.neck"') :][:900]
    assert row.index("sewn to Collar stand, upper") < row.index("sewn to its own other copy")
    assert "sewn to Sleeve, cap back and cap front" in page and "The order that follows" in page


def test_what_is_said_is_kept_and_becomes_the_order(client):
    page = kept(client, **{"shaped:sleeve.cap-front": "ease"}).text
    assert "Every edge is said." in page and "Sew the collar’s neck" not in page
    order = re.findall(r'<li><span class="place \w+">\w+</span> (.*?)</li>', page)
    assert any("the collar stand’s upper edge to the collar’s neck" in s for s in order)
    assert any("blind" in s for s in order) and any("Run the easing rows at the sleeve’s cap front" in s for s in order)
    assert re.search(
        r"Collar, neck to Collar stand, upper edge|Collar.{0,40}neck to", client.get("/patterns/1/seams").text
    )


def test_what_cannot_be_is_told_and_nothing_is_lost(client):
    page = client.get(PATTERN).text
    answer = client.post(
        PATTERN, data={"version": version(page), "view": "A", "end:back.hem": "frill", "end:front.hem": "hem-blind"}
    )
    assert answer.status_code == 422 and "from the list" in answer.text
    row = answer.text[answer.text.index('name="end:front.hem"') :]
    assert 'value="hem-blind" selected' in row[:900]
    answer = client.post(PATTERN, data={"version": version(page), "view": "A", "unit:back": "wing"})
    assert answer.status_code == 422
    unit = client.post(
        PATTERN, data={"version": version(page), "view": "A", "unit:chest-pocket": "flap"}, follow_redirects=True
    )
    assert re.search(r'name="unit:chest-pocket".*?<option selected>flap', unit.text, re.S)


def test_a_make_is_sewn_by_its_pieces_and_by_its_description_again(client):
    kept(client)
    before = client.get("/makes/2/sew").text
    assert "Sew by its pieces" in before
    answer = client.post("/makes/2/sew/by-pieces", data={"version": version(before), "on": "on"}, follow_redirects=True)
    assert "Sew by the description again" in answer.text and "“" not in "".join(
        re.findall(r'finding stop">(.*?)</p>', answer.text)
    )
    assert "Sew the collar stand’s upper edge" in answer.text
    steps = re.findall(r'data-step="([^"]+)"', answer.text)
    assert "join-collar-stand-upper" in steps
    ticked = client.post(
        "/makes/2/sew/tick", data={"step": "mark-pieces", "done": "on", "version": version(answer.text)}
    )
    assert ticked.status_code in (200, 303)
    machine = client.get("/makes/2/sew/machine?step=join-collar-stand-upper")
    assert machine.status_code == 200 and "both layers of the stand" in machine.text
    for path in ("/makes/2/sew/evenings", "/makes/2/sew/sheet", "/makes/2/sew/unused", "/makes/2", "/makes/2/cut"):
        assert client.get(path).status_code == 200, path
    moved = client.post(
        "/makes/2/sew/move", follow_redirects=True,
        data={"version": version(client.get("/makes/2/sew").text), "step": "join-collar-stand-neck", "before": "mark-pieces"},
    )  # fmt: skip
    assert "would have to be unpicked" in moved.text or "comes before" in moved.text
    back = client.post("/makes/2/sew/by-pieces", data={"version": version(moved.text), "on": ""}, follow_redirects=True)
    assert "Sew by its pieces" in back.text and "join-collar-stand-upper" not in back.text


def test_a_make_with_edges_not_said_yet_says_so_at_its_order(client):
    page = client.get("/makes/2/sew").text
    answer = client.post("/makes/2/sew/by-pieces", data={"version": version(page), "on": "on"}, follow_redirects=True)
    assert "is not said: nothing in the order finishes them" in answer.text


def test_a_pattern_without_pieces_says_what_is_missing(empty):
    assert empty.post("/patterns/new", data=form(), follow_redirects=True).status_code == 200
    page = empty.get("/patterns/1/edges")
    assert page.status_code == 200 and "No piece is drawn yet" in page.text
