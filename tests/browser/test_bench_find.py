"""A sum on the bench is found by a word of it, and families without one are out of the way."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_a_sum_is_found_by_any_word_of_it(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/bench")
    sums, families = page.locator("[data-sum]:visible"), page.locator("[data-family]:visible")
    every = sums.count()
    assert every > 10 and families.count() > 3
    page.fill("[data-find-sum]", "button")
    left = sums.count()
    assert 0 < left < every
    expect(page.locator("[data-sums-told]")).to_have_text(f"{left} of {every}")
    assert families.count() < 5 and all(
        "button" in words for words in [one.get_attribute("data-sum") for one in sums.all()]
    )
    page.fill("[data-find-sum]", "zzz")
    assert sums.count() == 0 and families.count() == 0
    page.fill("[data-find-sum]", "")
    assert sums.count() == every
