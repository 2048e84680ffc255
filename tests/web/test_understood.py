"""Beside every field whose text is read stands what was understood, or what was not, before anything is kept."""

import re

import pytest

TEXTS = [
    ("fibre", "95% cotton 5% elastane", "95 % cotton"),
    ("notions", "7 buttons of 15 mm", "7 buttons"),
    (
        "wish",
        "at least 1.6 m, 140 wide, opaque",
        "at least 160 cm (63 in) long, at least 140 cm (55 1/8 in) wide, opaque",
    ),
    ("evenings", "2026-12-01 1 h 30", "Tue 1 Dec 2026, 90 min"),
    ("others", "1.2 m\n1 1/2 yd", "137.2 cm"),
    (
        "flaws",
        "120 cm, 30 cm, 5 cm, 4 cm",
        "5 cm long and 4 cm wide, 120 cm from the cut end and 30 cm from the first edge",
    ),
    ("prices", "main; linen; 150 cm; 14.50; m", "main cloth “linen”, 150 cm wide: 14.50 a m"),
    ("views", "A: with a collar\nB", "A, with a collar; B"),
    ("edge_allowances", "hem 4 cm, neck 1 cm", "hem 4 cm; neck 1 cm"),
]
WRONG = [
    ("wish", "at least blue", "is not understood"),
    ("evenings", "1/12 90", "reads two ways"),
    ("others", "a bit", "is not a length"),
    ("flaws", "120 cm, 30 cm", "write four lengths"),
    ("prices", "main 14.50", "write what; name"),
    ("edge_allowances", "cuff 4 cm", "Edges: hem, neck"),
]


@pytest.mark.parametrize(("field", "text", "said"), TEXTS)
def test_what_was_understood_is_said(client, field, text, said):
    answer = client.post(f"/understood/{field}", data={field: text, "edges": "hem,neck"})
    assert answer.status_code == 200 and said in answer.text and "field-error" not in answer.text


@pytest.mark.parametrize(("field", "text", "said"), WRONG)
def test_what_was_not_is_asked_about(client, field, text, said):
    answer = client.post(f"/understood/{field}", data={field: text, "edges": "hem,neck"})
    assert "field-error" in answer.text and said in answer.text


def test_of_several_lines_what_was_understood_stands_beside_what_was_not(client):
    answer = client.post("/understood/evenings", data={"evenings": "2026-12-08 90\n1/12 60"})
    assert "reads two ways" in answer.text and "Tue 8 Dec 2026, 90 min" in answer.text


def test_nothing_is_said_of_an_empty_field_and_no_other_field_is_read(client):
    for field, *_ in TEXTS:
        answer = client.post(f"/understood/{field}", data={"edges": "hem"})
        assert "Understood" not in answer.text
    assert client.post("/understood/colour", data={"colour": "red"}).status_code == 404


@pytest.mark.parametrize(
    ("url", "fields"),
    [
        ("/cloths", {"wish"}),
        ("/cloths/1", {"fibre", "others", "flaws"}),
        ("/patterns/1/envelope", {"views", "notions"}),
        ("/makes/1/sew/evenings", {"evenings"}),
        ("/shops", {"prices"}),
        ("/patterns/1/seams", {"edge_allowances"}),
    ],
)
def test_the_pages_ask_for_it_and_have_its_place_once(client, url, fields):
    text = client.get(url).text
    assert set(re.findall(r'hx-post="/understood/(\w+)"', text)) == fields
    for target in re.findall(r'hx-post="/understood/[^>]*hx-target="#([^"]+)"', text):
        assert text.count(f'id="{target}"') == 1
