"""A form for a new thing that was left half filled: what was typed is there again, until it is kept or begun anew."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def left(page, base, path):
    """Leave a page though it asks, and come back to it."""
    page.once("dialog", lambda dialog: dialog.accept())
    page.goto(base + "/bench")
    page.goto(base + path)


def test_what_was_typed_is_there_again_until_it_is_kept(demo_server, open_page):
    page, base = open_page(demo_server), demo_server.base
    page.goto(base + "/cloths/new")
    page.fill("#f-name", "Green twill")
    page.fill("#f-width", "1 1/2 yd")
    page.click("summary >> text=More")
    page.select_option("#f-nap", "one-way")
    left(page, base, "/cloths/new")
    assert page.input_value("#f-name") == "Green twill" and page.input_value("#f-width") == "1 1/2 yd"
    assert (
        page.input_value("#f-nap") == "one-way" and page.locator("#f-nap").is_visible()
    )  # what is folded opens for it
    expect(page.locator(".finding.note >> text=What you had typed here stands here again")).to_be_visible()
    expect(page.locator("#echo-width")).to_contain_text("137.2 cm")  # understood again
    page.locator("#cloth-form button.btn-next").click()
    page.wait_for_url("**/cloths/*")
    page.goto(base + "/cloths/new")
    assert page.input_value("#f-name") == "" and page.locator("text=stands here again").count() == 0


def test_begun_anew_the_form_is_as_it_was(demo_server, open_page):
    page, base = open_page(demo_server), demo_server.base
    page.goto(base + "/people/new")
    page.fill("#f-name", "Half typed")
    left(page, base, "/people/new")
    assert page.input_value("#f-name") == "Half typed"
    page.click("text=Begin anew")
    assert page.input_value("#f-name") == ""
    page.reload()
    assert page.input_value("#f-name") == "" and page.locator("text=stands here again").count() == 0


def test_what_was_refused_is_shown_by_the_server_and_not_twice(demo_server, open_page):
    page, base = open_page(demo_server), demo_server.base
    page.goto(base + "/cloths/new")
    page.fill("#f-name", "Linen")
    page.fill("#f-width", "wide")
    page.locator("#cloth-form button.btn-next").click()
    page.wait_for_selector("[aria-invalid=true]")
    assert page.input_value("#f-width") == "wide" and page.locator("text=stands here again").count() == 0
