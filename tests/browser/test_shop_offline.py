"""In the shop, without a connection: the list is there though it was never opened, a piece is judged, what is bought comes home."""

import random
import re

import pytest
from playwright.sync_api import expect

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import parse_length
from tests.patience import until

pytestmark = pytest.mark.browser


IS_KEPT = """async () => {
  for (const name of await caches.keys()) {
    const kept = await caches.open(name);
    const found = await kept.keys();
    if (found.some((r) => r.url.endsWith("/shopping")) && found.some((r) => r.url.includes("shop.js"))) return true;
  }
  return false;
}"""


def test_the_list_goes_to_the_shop_unopened_and_what_is_bought_there_comes_home(own_demo, browser):
    page = browser.new_page(viewport={"width": 390, "height": 844})
    page.goto(own_demo.base + "/")
    page.evaluate("navigator.serviceWorker.ready.then(() => 1)")
    page.reload()
    until(lambda: page.evaluate(IS_KEPT))
    own_demo.kill()
    page.goto(own_demo.base + "/shopping")

    page.locator("#p-width").fill("140 cm")
    page.locator("#p-length").fill("4 yd")
    enough = page.locator(".shelf-told li.enough")
    expect(enough.filter(has_text="Hedgerow overshirt, view A")).to_be_visible()
    page.locator("#p-length").fill("30 cm")
    expect(enough).to_have_count(0)
    page.locator("#p-length").fill("a bit")
    expect(page.locator("#heard-length")).to_contain_text("not a length")
    page.locator("#p-length").fill("130 cm")

    line = page.locator(".shop-list li", has_text="Bark corduroy").first
    line.locator("summary").click()
    line.locator("[name=length]").fill("one and a half")
    line.locator("form[data-bought] button").click()
    expect(line.locator("[data-wrong]")).to_contain_text("not a length")
    line.locator("[name=length]").fill("1.5 m")
    line.locator("form[data-bought] button").click()
    other = page.locator(".shop-list li", has_text="Slate lining").first
    other.locator("button.tick").click()
    page.locator("[data-piece] button").click()
    told = page.locator("[data-offline-words]")
    expect(told).to_contain_text("1 tick and 2 notes are kept on this device")
    page.reload()
    expect(page.locator("button.tick.held")).to_have_count(1)  # the kept page knows what was ticked since

    own_demo.start()
    page.goto(own_demo.base + "/shopping")
    expect(told).to_contain_text("is sent")
    page.goto(own_demo.base + "/shopping")
    expect(page.locator(".finding.care")).to_contain_text("too short by")
    expect(page.locator("button.tick[aria-pressed=true][aria-label^='Slate lining']")).to_be_visible()
    page.goto(own_demo.base + "/cloths")
    expect(page.locator("article", has_text="Piece of")).to_contain_text("130 cm")
    page.close()


def typed_lengths(count):
    """Lengths as people write them, and what is none; the same each time."""
    pick = random.Random(7)
    units = [
        "mm",
        "cm",
        "m",
        "in",
        "in.",
        '"',
        "″",
        "''",
        "ft",
        "'",
        "yd",
        "yds",
        "yards",
        "inches",
        "Metre",
        "",
        "feet",
        "km",
        "i",
    ]
    numbers = [
        "12",
        "1.5",
        "1,5",
        ",5",
        "1 1/2",
        "1-1/2",
        "3/8",
        "2½",
        "½",
        "1⅜",
        "1,500",
        "0,125",
        "7 / 8",
        "1/0",
        "a",
        "",
        "12345678901",
    ]
    for _ in range(count):
        parts = [
            pick.choice(numbers) + pick.choice(["", " "]) + pick.choice(units) for _ in range(pick.choice([1, 1, 2, 3]))
        ]
        yield pick.choice(["", " "]).join(parts)


def test_the_page_reads_lengths_as_the_application_does(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/shopping")
    for unit in ("cm", "in"):
        typed = list(typed_lengths(3000))
        read = page.evaluate("([list, unit]) => list.map((one) => window.rowanLength.read(one, unit))", [typed, unit])
        right = []
        for text in typed:
            try:
                right.append(parse_length(text, unit).mm)
            except LengthError:
                right.append(None)
        assert sum(mm is not None for mm in right) > 600
        apart = [
            (t, a, b)
            for t, a, b in zip(typed, read, right, strict=True)
            if (a is None) != (b is None) or (a and abs(a - b) > 1e-6)
        ]
        assert apart == []


def test_lengths_are_told_as_the_application_tells_them(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/shopping")
    lengths = [k * 7.3 for k in range(300)]
    for unit in ("cm", "in"):
        told = page.evaluate(
            "([list, unit]) => list.map((mm) => window.rowanLength.say(mm, unit, false))", [lengths, unit]
        )
        assert all(re.fullmatch(r"[\d ./]+ (cm|in)", words) for words in told)
        step = 0.5 if unit == "cm" else 25.4 / 16
        assert all(abs(parse_length(words).mm - mm) <= step + 1e-9 for words, mm in zip(told, lengths, strict=True))
