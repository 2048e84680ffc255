"""Sewing and shopping in Chromium: steps by key, the timer, ticks on a phone, the bench drawn as one types, the table filling."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_steps_go_on_and_back_by_the_arrow_keys_and_by_done(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/4/sew/machine?step=mark-pieces")
    first = page.inner_text("h1")
    page.keyboard.press("ArrowRight")
    page.wait_for_url(lambda url: "step=mark-pieces" not in url)  # loaded: its heading stands before its scripts listen
    expect(page.locator("h1")).not_to_have_text(first)
    page.keyboard.press("ArrowLeft")
    expect(page.locator("h1")).to_have_text(first)


def test_the_timer_counts_and_goes_along_with_the_step(demo_server, open_page):
    page = open_page(demo_server)
    page.clock.install()
    page.goto(demo_server.base + "/makes/5/sew/machine")
    step = page.input_value("[name=step]")
    page.click("[data-clock]")
    page.clock.run_for(2_000)
    expect(page.locator("[data-clock]")).to_contain_text("0:02 · stop")
    page.click("[data-clock]")
    page.click("button >> text=Done")
    page.wait_for_url("**/machine?step=*")
    page.goto(demo_server.base + f"/makes/5/sew/machine?step={step}")
    expect(page.locator("[data-clock]")).to_have_text("0:02")


def test_a_line_is_ticked_on_a_phone_without_anything_running_over_the_edge(demo_server, browser):
    page = browser.new_page(viewport={"width": 390, "height": 844})
    page.goto(demo_server.base + "/shopping")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth + 1")
    tick = page.locator(".tick[aria-pressed=false]").first
    box = tick.bounding_box()
    assert box["width"] >= 44 and box["height"] >= 44  # WCAG 2.2, 2.5.5 target size (enhanced)
    label = tick.get_attribute("aria-label")
    tick.click()
    expect(page.locator(".tick[aria-pressed=true]").first).to_have_attribute(
        "aria-label", label.replace(": bought", ": not bought after all")
    )
    page.close()


def test_a_sum_is_worked_out_and_drawn_as_one_types(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/bench")
    page.fill("#b-double-hem-second_fold", "2 in")
    # a + 2b = 1/4 + 4 in
    expect(page.locator("#r-double-hem")).to_contain_text("4 1/4 in")
    expect(page.locator("#r-double-hem svg")).to_have_attribute(
        "aria-label", "Hem turned twice: first line 1.3 cm; second line 10.8 cm"
    )
    page.fill("#b-double-hem-second_fold", "wide")
    expect(page.locator("#r-double-hem")).to_contain_text("is not a length")


def test_the_comparison_fills_line_by_line(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/4/cloth")
    expect(page.locator("tr.chosen td.n b, tr.chosen .free")).to_have_count(3)
