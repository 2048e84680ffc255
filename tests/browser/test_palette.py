"""The field that goes anywhere, by the keys alone; and how much the first page weighs."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_by_the_keys_alone_one_goes_anywhere(here, browser):
    page = browser.new_page()
    page.goto(here.base + "/people")
    page.keyboard.press("Control+k")
    page.keyboard.type("shoping")
    expect(page.locator("#quick a").first).to_contain_text("Shopping list")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.locator("h1")).to_have_text("Shopping")
    page.keyboard.press("/")
    page.keyboard.type("corduroy")
    expect(page.locator("#quick a").first).to_contain_text("orduroy")
    page.keyboard.press("Escape")
    expect(page.locator("#quick")).to_be_hidden()
    page.close()


def test_the_first_page_weighs_less_than_150_kilobytes(server, browser):
    context = browser.new_context()
    page = context.new_page()
    seen = {}
    session = context.new_cdp_session(page)
    session.send("Network.enable")
    session.on(
        "Network.loadingFinished", lambda event: seen.__setitem__(event["requestId"], event["encodedDataLength"])
    )
    page.goto(server.base + "/", wait_until="networkidle")
    page.evaluate("document.fonts.ready")
    assert 20_000 < sum(seen.values()) < 150_000, sum(seen.values())
    context.close()
