"""Pieces on paper by the interface: the plan and the PDF say the same, at full size; read back by another reader of PDF."""

import math

import pypdfium2
import pytest
from shapely import Polygon

MM = 72 / 25.4
TRAPEZE = [[0, 0], [520, 0], [520, 180], [30, 260]]
ASKED = {
    "pieces": [
        {"id": "1", "name": "Front", "size": "12", "outline": TRAPEZE, "seam_line": [[10, 10], [510, 10], [510, 172], [38, 248]],
         "notches": [[260, 0]], "grain": [[60, 90], [420, 90]], "fold_edge": None},
        {"id": "2", "outline": [[0, 0], [90, 0], [90, 60], [0, 60]]},
    ],
}  # fmt: skip


@pytest.mark.parametrize("arrange", ["packed", "each"])
@pytest.mark.parametrize("paper", ["a4", "a3", "letter", "roll:36 in"])
def test_the_plan_and_the_pdf_say_the_same(client, arrange, paper):
    asked = {**ASKED, "paper": paper, "arrange": arrange, "overlap": "1 cm"}
    plan = client.post("/api/v1/sheets", json=asked, headers={"Accept": "application/json"}).json()
    assert plan["square_mm"] == 50
    pdf = client.post("/api/v1/sheets", json=asked)
    assert pdf.headers["content-type"] == "application/pdf"
    read = pypdfium2.PdfDocument(pdf.content)
    assert len(read) == 1 + len(plan["pages"]) and [p["page"] for p in plan["pages"]] == list(range(2, len(read) + 1))
    for page in plan["pages"]:
        wide, high = read[page["page"] - 1].get_size()
        assert wide / MM == pytest.approx(page["width_mm"] + 2 * page["frame"][0], abs=0.1)
        assert high / MM == pytest.approx(page["height_mm"] + 2 * page["frame"][1], abs=0.1)
    for piece, given in zip(sorted(plan["pieces"], key=lambda p: p["id"]), ASKED["pieces"], strict=True):
        was, now = given["outline"], piece["outline"]
        assert Polygon(now).area == pytest.approx(Polygon(was).area, rel=1e-6)
        for (a, b), (c, d) in zip(zip(was, was[1:]), zip(now, now[1:]), strict=True):
            assert math.dist(a, b) == pytest.approx(math.dist(c, d), abs=1e-6)
        for x, y in now:  # every corner stands on a page
            assert any(
                p["x_mm"] <= x <= p["x_mm"] + p["width_mm"] and p["y_mm"] <= y <= p["y_mm"] + p["height_mm"]
                for p in plan["pages"]
            )


def test_a_corner_is_drawn_where_the_plan_says(client):
    asked = {**ASKED, "paper": "a4"}
    plan = client.post("/api/v1/sheets", json=asked, headers={"Accept": "application/json"}).json()
    read = pypdfium2.PdfDocument(client.post("/api/v1/sheets", json=asked).content)
    scale = 6.0
    for piece in plan["pieces"]:
        x, y = piece["outline"][1]
        page = next(
            p for p in plan["pages"]
            if p["x_mm"] + 2 < x < p["x_mm"] + p["width_mm"] - 2 and p["y_mm"] + 2 < y < p["y_mm"] + p["height_mm"] - 2
        )  # fmt: skip
        picture = read[page["page"] - 1].render(scale=scale / MM).to_numpy()
        at_x, at_y = (x - page["x_mm"] + page["frame"][0]) * scale, (y - page["y_mm"] + page["frame"][1]) * scale
        near = picture[int(at_y) - 4 : int(at_y) + 5, int(at_x) - 4 : int(at_x) + 5].min()
        assert near < 90  # a dark line within two thirds of a millimetre


def test_each_piece_begins_a_page_of_its_own(client):
    head = {"Accept": "application/json"}
    packed, each = (
        client.post("/api/v1/sheets", json={**ASKED, "arrange": a}, headers=head).json() for a in ("packed", "each")
    )
    assert len(each["pages"]) == len(packed["pages"]) + 1  # the small one lay beside the large
    tops = {p["id"]: min(y for _, y in p["outline"]) for p in each["pieces"]}
    feet = {p["id"]: max(y for _, y in p["outline"]) for p in each["pieces"]}
    assert tops["2"] > feet["1"]


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"paper": "a9"}, "roll:36 in"),
        ({"paper": "roll:9 m"}, "20 cm to 2 m"),
        ({"overlap": "9 cm"}, "less than or equal to 40"),
        ({"pieces": []}, "at least 1"),
        ({"pieces": [{"id": "1", "outline": [[0, 0], [10, 0], [20, 0]]}]}, "no area"),
        ({"pieces": [{"id": "1", "outline": [[0, 0], [3000, 0], [3000, 3000], [0, 3000]]}]}, "wider than this paper"),
        ({"pieces": [ASKED["pieces"][1], ASKED["pieces"][1]]}, "same id"),
    ],
)
def test_what_cannot_be_printed_is_refused_in_words(client, change, word):
    answer = client.post("/api/v1/sheets", json={**ASKED, **change})
    assert answer.status_code == 422 and word in answer.text
