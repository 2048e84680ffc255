"""A file dropped anywhere, a picture pasted: into the page's own field, or a pattern file to be read; else it is said why not."""

import pytest
from playwright.sync_api import expect

from rowanseed.demo import overshirt
from rowanseed.formats.pattern_svg import pattern_svg

pytestmark = pytest.mark.browser
GIVE = """([how, name, type, text]) => {
  const held = new DataTransfer();
  held.items.add(new File([text], name, { type }));
  const event = how === "drop"
    ? new DragEvent("drop", { dataTransfer: held, bubbles: true, cancelable: true })
    : new ClipboardEvent("paste", { clipboardData: held, bubbles: true, cancelable: true });
  document.querySelector("main").dispatchEvent(event);
}"""


def test_a_picture_that_is_pasted_stands_in_the_page_s_own_field(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/1/wear")
    page.evaluate(GIVE, ["paste", "worn.png", "image/png", "x"])
    assert page.evaluate("document.querySelector('#file').files[0].name") == "worn.png"
    expect(page.locator("[data-given-words]")).to_contain_text("worn.png stands in")
    assert page.evaluate("document.activeElement.id") == "file"


def test_a_pattern_file_dropped_on_any_page_is_read(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/people")
    page.evaluate(GIVE, ["drop", "garden.svg", "image/svg+xml", pattern_svg(overshirt.pattern())])
    page.wait_for_url("**/patterns/intake/*")
    expect(page.locator("h1")).to_contain_text("garden")


def test_what_no_page_takes_is_said_and_nothing_is_sent(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/people")
    sent = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    page.evaluate(GIVE, ["drop", "holiday.png", "image/png", "x"])
    expect(page.locator("[data-given-words]")).to_contain_text("no place for a picture")
    page.evaluate(GIVE, ["drop", "song.mp3", "audio/mpeg", "x"])
    expect(page.locator("[data-given-words]")).to_contain_text("no file that a page here takes")
    assert sent == [] and page.url.endswith("/people")


def test_words_are_pasted_as_ever(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/people/new")
    page.focus("#f-name")
    stopped = page.evaluate("""() => {
      const held = new DataTransfer(); held.setData("text/plain", "Ada");
      const event = new ClipboardEvent("paste", { clipboardData: held, bubbles: true, cancelable: true });
      document.activeElement.dispatchEvent(event); return event.defaultPrevented; }""")
    assert not stopped
