"""Manners of every screen in Chromium: no request leaves the machine, keyboard, width, print, stop."""

import pytest

pytestmark = pytest.mark.browser

SCREENS = [
    "/", "/people", "/people/1", "/people/5", "/people/new", "/patterns", "/patterns/1", "/patterns/1/seams",
    "/patterns/1/envelope", "/patterns/1/pieces/new", "/patterns/1/pieces/new?shape=trouser-back", "/cloths", "/cloths/1",
    "/bench", "/settings", "/makes/new", "/find?q=overshirt", "/away", "/settings/access", "/settings/backups", "/keep/make/2",
    "/login",
    *(f"/makes/2/{stage}" for stage in ("fit", "cloth", "lay", "cut", "sew", "wear")), "/makes/4/fit", "/makes/4/lay",
    "/makes/2/paper", "/makes/2/project",
]  # fmt: skip


def test_no_screen_leaves_the_machine_breaks_its_policy_or_runs_over_the_edge(demo_server, open_page):
    """At 768; at 1280 the rules for everyone are checked, and the width with them. `open_page` watches what is asked for."""
    page = open_page(demo_server)
    page.set_viewport_size({"width": 768, "height": 800})
    for url in SCREENS:
        page.goto(demo_server.base + url)
        over = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        assert over <= 0, f"{url}: {over} px too wide"
    page.wait_for_load_state("networkidle")


def test_the_interface_description_works_offline(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/docs")
    page.wait_for_selector('[data-path="/api/v1/lay"]')
    assert page.locator(".opblock").count() >= 9


def test_the_fonts_are_the_shipped_ones(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base)
    page.evaluate("document.fonts.ready")
    loaded = page.evaluate(
        "[...document.fonts].filter(f => f.status === 'loaded').map(f => f.family.replaceAll('\"', ''))"
    )
    assert {"Bitter", "Atkinson Hyperlegible Next"} <= set(loaded)


def test_the_keyboard_reaches_rooms_stages_the_next_action_and_its_own_sheet(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base)
    page.keyboard.press("?")
    assert page.locator("#keys").is_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    page.keyboard.press("t")
    page.wait_for_url("**/patterns")
    page.goto(demo_server.base + "/makes/2/fit")
    page.keyboard.press("5")
    page.wait_for_url("**/makes/2/sew")
    page.keyboard.press("n")  # one step at a time
    page.wait_for_url("**/makes/2/sew/machine")
    page.keyboard.press("n")  # done
    page.wait_for_url("**/makes/2/sew/machine?step=*")
    page.goto(demo_server.base + "/makes/2/sew")
    page.wait_for_selector(".stages >> text=/10 of \\d+ steps/")
    page.goto(demo_server.base + "/settings")
    page.keyboard.press("Tab")
    assert page.evaluate("document.activeElement.className") == "skip"
    page.keyboard.press("Enter")
    assert page.evaluate("document.activeElement.id") == "main"


def test_a_typed_letter_in_a_field_is_no_shortcut(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/people/new")
    page.fill("#f-name", "")
    page.type("#f-name", "gt?1n")
    assert page.input_value("#f-name") == "gt?1n" and page.url.endswith("/people/new")


def test_steps_move_by_their_arrows_without_a_mouse(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/3/sew")
    first = page.locator("li.step").first.get_attribute("data-step")
    later = page.locator("li.step").first.locator("button[aria-label$='one later']")
    later.focus()
    page.keyboard.press("Enter")
    page.wait_for_selector("text=This is your own order")
    assert page.locator("li.step").nth(1).get_attribute("data-step") == first


def test_laying_shows_progress_and_can_be_stopped(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/4/lay")
    page.locator("summary >> text=Lay them otherwise").click()
    page.select_option("#effort", "best")
    page.click("text=Lay them again")
    page.wait_for_selector("text=/so far/")
    assert page.locator(".cloth-figure svg a").count() >= 12
    page.click("text=Stop and keep this one")
    page.wait_for_selector("text=The same as a table")
    assert page.locator("text=so far").count() == 0


@pytest.mark.parametrize("stage", ["lay", "cut", "sew"])
def test_the_printed_page_leaves_out_what_cannot_be_pressed(demo_server, open_page, stage):
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/makes/2/{stage}")
    page.emulate_media(media="print")
    assert not page.locator(".masthead").is_visible() and not page.locator(".stages").is_visible()
    assert page.locator("main button:visible").count() == 0
    assert page.locator({"lay": ".cloth-figure svg", "cut": ".cut-card", "sew": ".step-list"}[stage]).first.is_visible()


def test_every_picture_has_a_text_and_every_field_its_label(demo_server, open_page):
    page = open_page(demo_server)
    for url in SCREENS:
        page.goto(demo_server.base + url)
        nameless = page.evaluate(
            """() => [...document.querySelectorAll('input:not([type=hidden]), select, textarea')]
            .filter(f => !f.labels?.length && !f.getAttribute('aria-label')).map(f => f.name)"""
        )
        assert nameless == [], url
        assert page.locator("svg:not([aria-label]):not([aria-hidden])").count() == 0, url


def test_what_is_understood_beside_a_field_moves_no_button(demo_server, open_page):
    """A button that moves between press and release is not pressed: what was typed would be lost without a word."""
    page = open_page(demo_server)
    page.goto(demo_server.base + "/patterns/1/pieces/new?shape=rectangle")
    keep = page.locator("text=Keep this piece")
    before = keep.bounding_box()["y"]
    for name in ("length", "width", "allowance"):
        page.fill(f"#f-{name}", "12 cm")
        page.wait_for_selector(f"#echo-{name} .echo >> text=cm")
    assert abs(keep.bounding_box()["y"] - before) < 1
