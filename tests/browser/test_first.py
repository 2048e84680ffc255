"""The first answers of a new user, counted in Chromium: fields, clicks and pages to a size, to "enough", to what to buy."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_size_enough_and_what_to_buy_in_six_fields_one_click_and_one_page(server, browser):
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(server.base + "/")
    pages, clicks, fields = 1, 1, 0
    page.locator("label.garment", has_text="Dress with sleeves").click()
    for name, text in (("bust", "92"), ("waist", "74"), ("hip", "98"), ("width", "150"), ("length", "3 m")):
        page.fill(f"#f-{name}", text)
        fields += 1
    expect(page.locator(".verdict .big").first).to_have_text("92")
    expect(page.locator(".verdict")).to_contain_text("Enough")
    expect(page.locator("#answer table")).to_contain_text("Zip")
    assert fields + 1 <= 9 and clicks <= 3 and pages == 1
    # The question is the address: it is there again after another page.
    page.click(".rooms >> text=Bench")
    page.go_back()
    expect(page.locator("#f-bust")).to_have_value("92")
    expect(page.locator(".verdict .big").first).to_have_text("92")
    page.fill("[name=name]", "Summer dress")
    page.fill("#f-waist", "75")
    expect(page.locator("#echo-waist")).to_contain_text("75 cm")
    expect(page.locator("[name=name]")).to_have_value("Summer dress")
    page.click("text=Keep it")
    expect(page.locator("h1")).to_have_text("Summer dress")
    page.close()


def test_only_the_figures_that_a_garment_needs_are_asked(server, browser):
    page = browser.new_page(viewport={"width": 390, "height": 800})
    page.goto(server.base + "/which-size")
    page.locator("label.garment", has_text="Trousers").click()
    expect(page.locator("#f-bust")).to_be_hidden()
    page.locator("label.garment", has_text="Coat, lined").click()
    expect(page.locator("#f-bust")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.keyboard.press("ArrowRight")  # the pictures are one group of choices for the keys too
    expect(page.locator("input[name=garment]:checked")).to_have_value("waistcoat")
    page.close()
