"""The tablet at the table: the connection drops, the make stays readable, ticks are kept and sent; long choices; slips."""

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_a_make_stays_readable_without_a_connection_and_what_is_ticked_meanwhile_is_sent(own_demo, browser):
    page = browser.new_page()
    page.goto(own_demo.base + "/makes/3/cut")
    page.evaluate("navigator.serviceWorker.ready.then(() => 1)")
    page.reload()  # now through the worker, which keeps it
    page.goto(own_demo.base + "/makes/3/sew")
    page.goto(own_demo.base + "/makes/3/cut")
    cut = page.locator("form[data-kept-offline] button.btn-next")
    left = cut.count()
    own_demo.kill()
    page.goto(own_demo.base + "/makes/3/sew")
    expect(page.locator("h1")).to_be_visible()
    page.goto(own_demo.base + "/makes/3/cut")
    cut.first.click()
    expect(page.locator("[data-offline-words]")).to_contain_text("1 tick is kept on this device")
    own_demo.start()
    page.goto(own_demo.base + "/makes/3/cut")
    expect(page.locator("[data-offline-words]")).to_contain_text("is sent")
    page.goto(own_demo.base + "/makes/3/cut")
    expect(cut).to_have_count(left - 1)
    page.close()


def test_a_tick_on_what_has_changed_since_is_told(own_demo, browser):
    page = browser.new_page()
    page.goto(own_demo.base + "/makes/3/cut")
    page.evaluate("""localStorage.setItem('rowanseed-kept',
        JSON.stringify([{url: '/makes/3/cut/tick', body: 'key=gone&done=on', what: '9 Old piece'}]))""")
    page.reload()
    expect(page.locator("[data-offline-words]")).to_contain_text("9 Old piece: that has changed since")
    page.close()


def test_a_long_choice_is_found_by_typing(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/patterns/1/views/A")
    select = page.locator("select[name=closure]")
    field = page.locator("input.narrow[aria-label='Find in Closure']")
    assert select.locator("option").count() >= 13
    field.fill("separ")
    assert select.locator("option").all_text_contents() == ["separating zip down the front"]
    field.fill("")
    assert select.locator("option").count() >= 13


def test_a_form_that_was_begun_is_not_left_by_a_slip(demo_server, open_page):
    page = open_page(demo_server)
    asked = []
    page.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.dismiss()))
    page.goto(demo_server.base + "/people/new")
    page.locator("input[name=name]").fill("Half typed")
    with page.expect_event("dialog"):
        page.locator(".rooms a >> text=Cloth").click(no_wait_after=True)
    assert asked == ["beforeunload"] and "/people/new" in page.url
    assert page.locator("input[name=name]").input_value() == "Half typed"


def test_two_tabs_show_both_versions_and_the_later_one_is_saved_only_when_it_is_meant(demo_server, browser):
    first, second = browser.new_page(), browser.new_page()
    for page in (first, second):
        page.goto(demo_server.base + "/makes/4/sew/sheet")
    first.locator("textarea[name=sheet]").fill("1. Sew the darts.")
    first.click("text=Read them")
    second.locator("textarea[name=sheet]").fill("1. Sew the shoulders.")
    second.click("text=Read them")
    expect(second.locator("h1")).to_have_text("Changed meanwhile")
    expect(second.locator("td[data-there]").first).to_have_text("1. Sew the darts.")
    assert second.locator("[name=sheet]").input_value() == "1. Sew the shoulders."
    second.click("[data-save-typed]")
    first.goto(demo_server.base + "/makes/4/sew/sheet")
    expect(first.locator("textarea[name=sheet]")).to_have_value("1. Sew the shoulders.")
    first.close()
    second.close()
