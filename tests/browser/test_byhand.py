"""Pieces moved in Chromium: by the keyboard alone and by dragging, undone and redone, judged live and by the server."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def piece(page, title):
    return page.locator(f".hand-piece[aria-label^='{title}']").first


def test_with_the_keyboard_alone_a_piece_is_moved_judged_undone_held_and_kept(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/4/lay/hand")
    welt = piece(page, "3 · S")
    welt.focus()
    before = welt.get_attribute("aria-label")
    for _ in range(6):
        page.keyboard.press("Shift+ArrowRight")
    assert welt.get_attribute("aria-label") != before
    expect(page.locator("[data-live]")).to_contain_text("overlaps")
    expect(page.locator("#verdict")).to_contain_text("Not sound.")
    for _ in range(6):
        page.keyboard.press("Control+z")
    assert welt.get_attribute("aria-label") == before
    expect(page.locator("#verdict")).to_contain_text("Checked")
    page.keyboard.press("Control+y")
    page.keyboard.press("Control+z")
    page.keyboard.press("h")
    expect(welt).to_have_attribute("aria-label", before + ", held")
    page.locator("button", has_text="Keep this").focus()
    page.keyboard.press("Enter")
    expect(page.locator("text=1 held")).to_be_visible()


def test_a_piece_dropped_near_its_neighbour_comes_to_lie_against_it(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/4/lay/hand")
    at_the_end = page.locator(".hand-piece[aria-label*=': 0 cm from the cut end']").first
    welt = piece(page, at_the_end.get_attribute("aria-label").split(":")[0])
    welt.scroll_into_view_if_needed()
    box = welt.locator("path").first.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 3, y, steps=2)  # a few millimetres away from the cut end it lay at
    page.mouse.up()
    assert ": 0 cm from the cut end" in welt.get_attribute("aria-label")
    expect(page.locator("#verdict")).to_contain_text("Checked")


def test_a_head_is_not_turned_on_napped_cloth_and_the_page_says_why(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/3/lay/hand")
    leg = piece(page, "2 Back")
    leg.focus()
    page.keyboard.press("r")
    expect(page.locator("[data-live]")).to_contain_text("Back")
    assert "head to the far end" not in leg.get_attribute("aria-label")
