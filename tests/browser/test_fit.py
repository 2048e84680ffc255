"""Fit in Chromium: the line dragged from size to size, an alteration carried and left, a finding that becomes one."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def drag(page, handle, to):
    box = page.locator(handle).bounding_box()
    target = page.locator(f".ease-fig g:has(> title:text-matches('^size {to}:')) circle").last.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(target["x"] + target["width"] / 2, box["y"] + box["height"] / 2, steps=6)
    page.mouse.up()


def hip_row(page):
    return page.locator("table:has(th:text-is('From the pieces')) tr", has_text="Full hip")


def test_dragging_the_line_at_a_zone_blends_it_and_everything_follows(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/fit")
    before = hip_row(page).locator("td").nth(2).inner_text()
    drag(page, "#handle-hip-2", "16")
    expect(page.locator("h3", has_text="size 14, hip 16")).to_be_visible()
    after = hip_row(page).locator("td").nth(2).inner_text()
    # Size 16 is finished 2 in, 5.1 cm, larger round the hip.
    assert float(after.split()[0]) - float(before.split()[0]) == pytest.approx(5.1, abs=0.3)
    expect(page.locator("#handle-hip-2")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    expect(page.locator("h3", has_text="size 14, hip 12")).to_be_visible()
    expect(page.locator(".stages a[href$='/lay']")).to_contain_text("out of date")


def test_an_alteration_says_what_follows_and_a_piece_left_stays_named(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/fit#alterations")
    page.get_by_text("Add an alteration").click()
    page.select_option("#f-kind", "bust")
    expect(page.locator("[data-input=edge]")).to_be_hidden()
    expect(page.locator("#kind-about")).to_contain_text("Slashed from the hem")
    page.select_option("#f-piece", "3")
    page.fill("#f-by", "3/4 in")
    page.get_by_role("button", name="Alter", exact=True).last.click()
    row = page.locator(".stack > li").nth(2)
    expect(row).to_contain_text("Carried to 8 Button band")
    row.locator("li", has_text="Carried to 8 Button band").get_by_role("button", name="Leave it as it was").click()
    expect(page.locator(".stack > li").nth(2)).to_contain_text("8 Button band is left as it was")
    expect(page.locator("#seams")).to_contain_text("do not meet")
    page.locator(".stack > li").nth(2).get_by_role("button", name="Let it follow").click()
    expect(page.locator("#seams")).not_to_contain_text("do not meet")
    page.locator(".stack > li").nth(2).get_by_role("button", name="Take away").click()
    page.get_by_role("button", name="Put it back").click()
    expect(page.locator(".stack > li")).to_have_count(3)


def test_what_a_trial_showed_becomes_an_alteration(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/3/fit#record")
    page.select_option("#f-finding", "waist wide")
    page.fill("#f-pinned", "2 cm")
    page.get_by_role("button", name="Write it down").click()
    proposal = page.locator("#proposals tr", has_text="2 cm too wide at the waist")
    proposal.get_by_role("button", name="Alter").click()
    expect(page.locator(".stack > li")).to_contain_text("Because: 2 cm too wide at the waist")
    expect(page.locator("#proposals")).to_contain_text("made")
