"""What a make leaves: its cost beside the estimate, pictures, its days, and the page for the notebook."""

import io
import re
from contextlib import closing
from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest
from PIL import Image

from rowanseed.core.cloth.shops import Price, Shop
from rowanseed.core.costs import ClothUsed, cost_lines, total
from rowanseed.core.notions import Notion
from rowanseed.store import db, notebook

SHOP = Shop(
    "Corner", "€", "10 cm", (Price("main", "", Decimal("12.50")), Price("buttons", "", Decimal("0.80"), "each"))
)
CLOTHS = [
    ClothUsed("self", "main", "Oat canvas", 1500.0, 2200.0),
    ClothUsed("lining", "lining", "Viscose", 1400.0, 1100.0),
]
NOTIONS = [Notion("buttons", "15 mm", 7, "7", ""), Notion("zip", "", 200, "20 cm", "")]


def test_a_cloth_costs_its_length_and_notions_their_number_and_what_has_no_price_is_counted():
    main, lining, notions = cost_lines(CLOTHS, NOTIONS, SHOP, {"lining": Decimal("9")})
    assert (main.estimate, main.paid) == (Decimal("27.50"), None)  # 2.2 m at 12.50 a metre
    assert (lining.estimate, lining.paid, lining.unpriced) == (None, Decimal("9"), 1)
    assert notions.estimate == Decimal("5.60") and notions.unpriced == 1  # seven at 0.80; the zip has no price
    assert total(line.estimate for line in (main, lining, notions)) == Decimal("33.10")
    assert total([None]) is None and cost_lines(CLOTHS, [], None, {})[0].estimate is None


def test_offcuts_are_worth_what_the_same_cloth_costs_by_their_area():
    # 0.6 square metres of cloth 1.5 m wide are 0.4 m of it: 5.00 at 12.50 a metre.
    line, bare = cost_lines([replace(CLOTHS[0], left=2, left_mm2=600_000.0), CLOTHS[0]], [], SHOP, {})
    assert (line.left, line.worth) == (2, Decimal("5.00")) and line.estimate == Decimal("27.50")
    assert (bare.left, bare.worth) == (0, None)


def test_a_makes_page_tells_its_offcuts_within_the_length_used(client):
    page = client.get("/makes/2/wear").text
    assert re.search(r"of that 2 offcuts worth\s+keeping, about €", page)
    assert 'href="/makes/2/lay/offcuts?role=interfacing"' in page


def test_what_was_paid_stands_beside_the_estimate_of_that_day(client, demo_path):
    page = client.get("/makes/1/wear").text
    assert "€ 19.37" in page and "Oat canvas" in page
    shop = re.search(r'name="shop" value="(\d+)"', page)[1]
    wrong = client.post("/makes/1/wear/paid", data={"shop": shop, "paid-self": "dear", "paid-notions": "6"})
    assert (
        wrong.status_code == 422
        and "Write a price" in wrong.text
        and 'value="dear"' in wrong.text
        and 'value="6"' in wrong.text
    )
    kept = client.post("/makes/1/wear/paid", data={"shop": shop, "paid-self": "24,50", "paid-notions": ""})
    assert kept.status_code == 200 and 'value="24.50"' in kept.text
    with closing(db.connect(demo_path)) as conn:
        assert notebook.paid(conn, 1) == {"self": Decimal("24.50")}
        assert notebook.estimates(conn, 1) == {"self": Decimal("19.37")}
        conn.execute("delete from shop")
        conn.commit()
    assert "19.37" in client.get("/makes/1/wear").text  # the shop is gone, the estimate of that day is not


def photograph():
    made = io.BytesIO()
    Image.new("RGB", (60, 80), (120, 90, 60)).save(made, "JPEG")
    return made.getvalue()


def test_a_picture_of_the_garment_is_added_taken_away_and_had_back(client):
    assert client.post("/makes/1/wear/picture", files={"file": ("x.txt", b"no picture")}).status_code == 422
    added = client.post("/makes/1/wear/picture", files={"file": ("me.jpg", photograph())}).text
    name = re.search(r'src="/photos/([0-9a-f]{40}\.jpg)" alt="First overshirt', added)[1]
    assert client.get(f"/photos/{name}").status_code == 200
    assert name in client.get("/makes/1/wear/notebook").text
    gone = client.post("/makes/1/wear/picture/drop", data={"picture": name})
    assert (
        f"/photos/{name}" not in gone.text
        and client.post("/makes/1/wear/picture/drop", data={"picture": name}).status_code == 404
    )
    back = re.search(r'action="(/away/\d+/back)"', gone.text)[1]
    assert client.post(back, data={"back": "/makes/1/wear"}).status_code == 200
    assert f"/photos/{name}" in client.get("/makes/1/wear").text


def test_the_days_of_a_make_stand_in_their_order_each_thing_once(client):
    with closing(db.connect(client.app.state.database)) as conn:
        days = notebook.happened(conn, 1)
    assert [day for day, _, _ in days] == sorted(day for day, _, _ in days) and days[0][1] == "begun"
    page = client.get("/makes/1/wear").text
    told = re.search(r'<section id="days">.*?</section>', page, re.S)[0]
    assert "pieces cut" in told and "first piece cut" not in told  # both on one day
    assert "too wide at the hip" in told and "finished and worn" in told


@pytest.mark.parametrize("make", [1, 2, 3])
def test_the_page_for_the_notebook_says_what_was_made_of_what_and_what_was_learned(client, make):
    page = client.get(f"/makes/{make}/wear/notebook")
    assert page.status_code == 200 and "<h2>Size</h2>" in page.text and "laid" in page.text
    if make == 1:
        for words in ("size 14", "Oat canvas", "44 of 44 steps", "Next time: Lengthen the sleeve", "€ 28.37 estimated"):
            assert words in page.text, words


def test_an_empty_make_has_a_page_too(client):
    client.post("/makes/new", data={"name": "Bare", "pattern_view": "1|A", "people": ""})
    number = max(int(n) for n in re.findall(r'href="/makes/(\d+)"', client.get("/").text))
    page = client.get(f"/makes/{number}/wear/notebook").text
    assert "Not chosen yet." in page and date.today().strftime("%Y") in page
