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
    steps = _push_onto_a_neighbour(page)
    assert welt.get_attribute("aria-label") != before
    expect(page.locator("#verdict")).to_contain_text("Not sound.")
    for _ in range(steps):
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


def _push_onto_a_neighbour(page) -> int:
    """Nudge the focused piece until the page says that it overlaps another; how often."""
    ways = ["ArrowLeft"] * 40 + ["ArrowRight"] * 80 + ["ArrowLeft"] * 40 + ["ArrowUp"] * 40 + ["ArrowDown"] * 80
    for steps, way in enumerate(ways, start=1):
        page.keyboard.press(f"Shift+{way}")
        if "overlaps" in page.locator("[data-live]").inner_text():
            return steps
    raise AssertionError("it met no other piece on its way")


def test_a_piece_dropped_near_its_neighbour_comes_to_lie_against_it(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/4/lay/hand")
    welt = page.locator(".hand-piece[aria-label*=': 0 cm from the cut end']").last.element_handle()
    welt.scroll_into_view_if_needed()
    box = welt.query_selector("path").bounding_box()
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


def test_a_finger_drags_a_piece_as_a_mouse_does(demo_server, browser):
    context = browser.new_context(viewport={"width": 1024, "height": 768}, has_touch=True)
    page = context.new_page()
    page.goto(demo_server.base + "/makes/4/lay/hand")
    welt = piece(page, "3 · S")
    welt.scroll_into_view_if_needed()
    before = welt.get_attribute("aria-label")
    box = welt.locator("path").first.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    finger = context.new_cdp_session(page)

    def touch(kind, *at):
        finger.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [{"x": p[0], "y": p[1]} for p in at]})

    touch("touchStart", (x, y))
    for step in range(1, 9):
        touch("touchMove", (x + 10 * step, y))
    touch("touchEnd")
    assert welt.get_attribute("aria-label") != before
    welt.focus()
    page.keyboard.press("Control+z")
    assert welt.get_attribute("aria-label") == before
    context.close()
