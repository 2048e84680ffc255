"""When the cloth is short: what is given up changes the pieces, the lay and the steps, and is taken back."""

import re

from tests.web.test_pages import wait_for_lay

SHORT = "/makes/3/lay/short"


def look(client, **form):
    answer = client.post(f"{SHORT}/start", data={"role": "self", **form})
    assert answer.status_code == 200, answer.text
    wait_for_lay(client, 3, "self")
    return client.get(str(answer.url))


def test_the_mildest_way_is_found_accepted_and_taken_back(client):
    assert "What could be given up" in client.get("/makes/3/lay").text
    found = look(client, ask="mildest", hem="4 cm", shorter="2 cm")
    assert "The mildest way that fits" in found.text and "The hem faced, not turned" in found.text
    job = re.search(r'name="job" value="(\d+)"', found.text)[1]
    accepted = client.post(f"{SHORT}/accept", data={"job": job, "number": "0"})
    assert "Given up to make the cloth enough" in accepted.text and "too short" not in accepted.text
    assert "Out of date" not in accepted.text  # the lay that was found is kept with it
    steps = client.get("/makes/3/sew").text
    assert 'data-step="sew-hem-facing"' in steps and 'data-step="sew-hem-facing"' not in client.get("/makes/2/sew").text
    assert "The strip:" in client.get("/makes/3/sew?step=sew-hem-facing").text
    version = re.search(r'name="version" value="(\d+)"', accepted.text)[1]
    client.post(f"{SHORT}/back", data={"number": "1", "version": version, "role": "self"})
    back = client.post(f"{SHORT}/back", data={"number": "0", "version": str(int(version) + 1), "role": "self"})
    assert "Given up" not in back.text and 'data-step="sew-hem-facing"' not in client.get("/makes/3/sew").text


def test_nothing_ticked_is_said_and_what_was_typed_is_kept(client):
    answer = client.post(f"{SHORT}/start", data={"role": "self", "ask": "mildest", "shallower": "a lot"})
    assert answer.status_code == 422 and "Tick at least one thing" in answer.text and 'value="a lot"' in answer.text
    assert client.get("/makes/99/lay/short").status_code == 404
    assert client.post(f"{SHORT}/accept", data={"job": "77", "number": "0"}).status_code == 404


def test_the_largest_size_that_fits_is_answered_for_every_size(client):
    found = look(client, ask="sizes")
    sizes = re.findall(r"<tr[^>]*><td>(\d+)</td>", found.text)
    assert len(sizes) >= 5 and "The largest size this cloth is enough for is" in found.text
    assert re.search(r"is enough for is <b>(\d+)</b>", found.text)[1] in sizes


def test_small_things_are_taken_from_an_offcut_with_a_cloth_of_their_own(client):
    refused = client.post(f"{SHORT}/elsewhere", data={"role": "self"})
    assert refused.status_code == 422 and "Tick some of the pieces" in refused.text
    page = client.post(f"{SHORT}/elsewhere", data={"role": "self", "piece": ["3", "4"]})
    assert "From an offcut" in page.text and "Back pocket, Pocket flap" in page.text
    client.post("/makes/3/cloth", data={"role": "offcut", "cloth": "1"})
    assert "From an offcut" in client.get("/makes/3/lay?role=offcut").text
