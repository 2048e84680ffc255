"""What the pages' scripts do on drawings, each by the keyboard alone; where one repeats a rule of the core, on the same cases."""

import io
import json
import math
import random

import pytest
from PIL import Image
from playwright.sync_api import expect
from shapely import Polygon

pytestmark = pytest.mark.browser
DEEP = 0.1  # mm of overlap that counts, in the script as in the checker


def star(rng, x, y, size):
    corners = rng.randint(3, 9)
    turns = sorted(rng.random() * 2 * math.pi for _ in range(corners))
    return [(x + size * rng.uniform(0.4, 1) * math.cos(t), y + size * rng.uniform(0.4, 1) * math.sin(t)) for t in turns]


def test_the_script_judges_overlap_and_distance_as_the_geometry_library_does(demo_server, open_page):
    rng = random.Random(4)
    cases = []
    while len(cases) < 300:
        a, b = star(rng, 0, 0, 100), star(rng, rng.uniform(-180, 180), rng.uniform(-180, 180), 100)
        if Polygon(a).is_valid and Polygon(b).is_valid:
            cases.append((a, b))
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/makes/2/lay/hand?role=self")
    told = page.evaluate("cases => cases.map(([a, b]) => [Geometry.overlap(a, b), Geometry.distance(a, b)])", cases)
    judged = 0
    for (a, b), (overlap, distance) in zip(cases, told, strict=True):
        first, second = Polygon(a), Polygon(b)
        deep = first.buffer(-DEEP * 2).intersects(second) or second.buffer(-DEEP * 2).intersects(first)
        if deep == first.intersects(second):  # neither a hair's breadth in nor out
            judged += 1
            assert overlap == deep, (a, b)
        if not first.intersects(second):
            assert distance == pytest.approx(first.distance(second), abs=1e-6)
    assert judged > 250


def test_a_mark_is_set_on_a_piece_by_keys(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/patterns/1/pieces/1")
    page.click("[data-piece-edit] [data-kind=mark]")
    page.focus("[data-piece-edit] svg")
    for key in ("ArrowDown", "Shift+ArrowDown", "Space"):
        page.keyboard.press(key)
    assert len(json.loads(page.input_value("[data-change] [name=places]"))) == 1
    expect(page.locator("[data-change] [name=mark_name]")).to_be_focused()
    page.keyboard.type("knot")
    page.keyboard.press("Enter")
    page.wait_for_url("**size=*")
    assert "knot" in page.text_content("main")


def test_a_proposed_piece_and_its_marks_are_left_out_by_keys(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/patterns/intake/1")
    page.wait_for_selector(".intake-sheet")
    piece = page.locator(".proposed").first
    at = piece.get_attribute("data-piece")
    piece.focus()
    page.keyboard.press("Space")
    assert not page.is_checked(f"[name=take-{at}]") and piece.get_attribute("aria-checked") == "false"
    page.keyboard.press("Space")
    assert page.is_checked(f"[name=take-{at}]")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Delete")
    assert page.locator(f"[name=left-{at}]").input_value() != ""
    assert "Left out" in page.inner_text(f"[data-row='{at}'] [data-left-words]")
    page.keyboard.press("Delete")
    assert page.locator(f"[name=left-{at}]").input_value() == ""


def test_a_piece_is_found_on_a_photograph_taken_back_and_marked_by_keys(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/patterns/intake/3")
    page.wait_for_selector("[data-trace]")
    page.click("[data-do=find]")
    page.wait_for_selector(".traced")
    drawn = json.loads(page.input_value("[data-drawn]"))
    assert len(drawn["outline"]) > 20 and "Found" in page.inner_text("[data-live]")
    page.focus("[data-trace] svg")
    page.keyboard.press("Backspace")
    assert json.loads(page.input_value("[data-drawn]"))["outline"] == []
    page.click("[data-mode=dot]")
    page.focus("[data-trace] svg")
    for key in ("ArrowRight", "Space"):
        page.keyboard.press(key)
    assert len(json.loads(page.input_value("[data-drawn]"))["dots"]) == 1


def test_four_taps_on_a_photograph_of_cloth_fill_the_corners_fields(demo_server, open_page):
    made = io.BytesIO()
    Image.effect_noise((400, 300), 60).convert("RGB").save(made, "JPEG")
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/cloths/1/photo")
    page.set_input_files("#file", {"name": "cloth.jpg", "mimeType": "image/jpeg", "buffer": made.getvalue()})
    page.locator("#file").evaluate("field => field.form.requestSubmit()")
    page.wait_for_selector("#corners svg")
    box = page.locator("#corners svg").bounding_box()
    for x, y in ((0.2, 0.2), (0.8, 0.2), (0.8, 0.8), (0.2, 0.8)):
        page.locator("#corners svg").click(position={"x": x * box["width"], "y": y * box["height"]})
    places = [(float(page.input_value(f"[name=x{k}]")), float(page.input_value(f"[name=y{k}]"))) for k in range(4)]
    for (x, y), (wanted_x, wanted_y) in zip(places, ((80, 60), (320, 60), (320, 240), (80, 240)), strict=True):
        assert (x, y) == pytest.approx((wanted_x, wanted_y), abs=6)
