"""For everyone: WCAG 2.2 AA by axe-core on every screen, at three widths and in three lights; the drawing enlarged by keys.

Source: W3C, Web Content Accessibility Guidelines 2.2, levels A and AA, and axe-core's best practice, as far as a program can
judge them; every detail open.
"""

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.test_manners import SCREENS

pytestmark = pytest.mark.browser
MORE = [
    "/supplies", "/shops", "/shopping", "/settings/eases", "/patterns/intake", "/patterns/1/yardage", "/patterns/1/pieces/1",
    "/patterns/1/views/A", "/patterns/1/derive", "/makes/2/lay/hand?role=self", "/makes/2/lay/table?role=self&n=2",
    "/makes/3/lay/short", "/makes/2/sew/sheet", "/makes/2/lay/print?role=self", "/cloths/1/prepare", "/cloths/1/photo",
    "/cloths/new", "/patterns/new", "/words", "/guide/first-make", "/guide", "/patterns/intake/1", "/patterns/trace/3",
    "/makes/2/sew/machine", "/makes/2/sew/evenings", "/makes/2/sew/trouble", "/makes/2/sew/tools", "/makes/1/wear/notebook",
    "/makes/1/lay/offcuts?role=self", "/could",
]  # fmt: skip
# What passed is not listed and style sheets, which are our own, are not fetched again: a third of the time.
RULES = {
    "resultTypes": ["violations"],
    "preload": False,
}


@pytest.mark.parametrize(
    ("width", "light"),
    [
        (1280, "light"),
        pytest.param(768, "dark", marks=pytest.mark.wide),
        pytest.param(390, "dim", marks=pytest.mark.wide),
        pytest.param(320, "light", marks=pytest.mark.wide),
    ],
)
def test_no_screen_breaks_a_rule_that_can_be_checked(demo_server, open_page, width, light):
    page, axe, broken = open_page(demo_server), Axe(), []
    page.emulate_media(reduced_motion="reduce")  # no colour is on its way when it is judged
    page.set_viewport_size({"width": width, "height": 844})
    for url in SCREENS + MORE:
        answer = page.goto(demo_server.base + url)
        assert answer.status == 200, url
        page.evaluate("light => { document.documentElement.dataset.bsTheme = light; }", light)
        page.evaluate("document.querySelectorAll('details').forEach((one) => { one.open = true; })")
        over = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        broken += [f"{url}: {over} px too wide"] if over > 0 else []
        for found in axe.run(page, options=RULES).response["violations"]:
            broken.append(f"{url}: {found['id']}, {found['nodes'][0]['html'][:120]}")
    assert not broken, broken[:12]


def test_the_light_is_chosen_on_the_device_and_stays(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base)
    page.select_option("[data-device=light]", "dark")
    page.goto(demo_server.base + "/cloths")
    assert page.evaluate("document.documentElement.dataset.bsTheme") == "dark"
    page.select_option("[data-device=light]", "")
    page.emulate_media(color_scheme="dark")
    page.reload()
    assert page.evaluate("document.documentElement.dataset.bsTheme") == "dark"
    page.emulate_media(color_scheme="light")
    page.reload()
    assert page.evaluate("document.documentElement.dataset.bsTheme") == "light"


def test_the_drawing_at_the_table_begins_on_its_piece_and_is_enlarged_by_keys_and_buttons(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/lay/table?role=self&n=3")

    def shown():
        return [float(v) for v in page.locator(".cloth-figure svg").get_attribute("viewBox").split()]

    piece = page.evaluate(
        "(() => { const b = document.querySelector('[data-focus]').getBBox(); return [b.x, b.y, b.width, b.height]; })()"
    )
    near = shown()
    assert near[0] <= piece[0] + 1 and near[0] + near[2] >= piece[0] + piece[2] - 1
    page.keyboard.press("+")
    assert shown()[2] < near[2]
    page.keyboard.press("0")
    whole = shown()
    assert whole[2] > near[2]
    page.locator("[data-zoom-by]").first.click()
    larger = shown()
    page.keyboard.press("Shift+ArrowRight")
    assert larger[2] < whole[2] and shown()[0] > larger[0]
    page.keyboard.press("0")
    page.keyboard.press("-")
    assert shown() == whole  # never smaller than the whole
    assert page.locator(".walk-nav .btn").first.bounding_box()["height"] >= 56


def test_what_is_wrong_has_the_focus_and_the_title_says_so(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/cloths/new")
    page.fill("#f-name", "Linen")
    page.fill("#f-width", "wide")
    page.locator("#cloth-form button.btn-next, button[form=cloth-form]").first.click()
    page.wait_for_selector("[aria-invalid=true]")
    assert page.title().startswith("Needs a look")
    assert page.evaluate("document.activeElement.id") == "f-width"
    described = page.get_attribute("#f-width", "aria-describedby").split()
    assert (
        "not a length" in page.locator(f"#{described[0]}").inner_text()
        and page.locator(f"#{described[1]}").count() == 1
    )


def test_single_keys_can_be_switched_off_on_a_device(demo_server, open_page):
    """WCAG 2.2, 2.1.4 Character Key Shortcuts."""
    page = open_page(demo_server)
    page.goto(demo_server.base)
    page.locator("[data-show-keys]").click()
    page.locator("[data-keys-off]").check()
    page.locator("[data-close-keys]").click()
    page.keyboard.press("?")
    assert not page.locator("#keys").is_visible()
    page.keyboard.press("g")
    page.keyboard.press("c")
    assert page.url.rstrip("/") == demo_server.base.rstrip("/")


def test_another_window_of_a_make_is_told_of_what_changed(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/wear")
    other = page.context.new_page()
    other.goto(demo_server.base + "/makes/2/sew")
    assert not page.locator("[data-changed-words]").is_visible()
    other.click("text=Done, next step")
    expect(page.locator("[data-changed-words]")).to_be_visible()
    page.click("[data-show-anew]")
    expect(page.locator(".stages >> text=/10 of \\d+ steps/")).to_be_visible()
    other.close()


def test_the_working_hand_is_chosen_on_the_device(demo_server, open_page):
    page = open_page(demo_server)
    step = demo_server.base + "/makes/2/sew/machine"
    page.goto(step)
    done, timer = page.locator("button[value=done]"), page.locator("[data-clock]")
    assert done.bounding_box()["x"] > timer.bounding_box()["x"]
    page.goto(demo_server.base)
    page.select_option("[data-device=hand]", "left")
    page.goto(step)
    assert done.bounding_box()["x"] < timer.bounding_box()["x"]


VOICES = """
window.said = [];
const local = { name: "own", lang: "en-GB", localService: true }, far = { name: "far", lang: "en-US", localService: false };
Object.defineProperty(window, "SpeechSynthesisUtterance", { value: class { constructor(text) { this.text = text; } } });
Object.defineProperty(window, "speechSynthesis", { value: {
  getVoices: () => window.name === "far" ? [far] : [far, local], cancel: () => {}, addEventListener: () => {},
  speak: (part) => window.said.push([part.voice.name, part.text]),
} });
"""


def test_a_step_is_read_out_only_where_that_was_chosen_and_never_by_a_voice_of_the_network(demo_server, open_page):
    page = open_page(demo_server)
    page.add_init_script(VOICES)
    page.goto(demo_server.base + "/makes/2/sew/machine")
    assert page.evaluate("window.said") == []
    page.select_option("[data-device=voice]", "on")
    said = page.evaluate("window.said")
    assert said[0] == ["own", page.inner_text("h1")] and len(said) >= 1
    page.evaluate("window.name = 'far'")
    page.reload()
    assert page.evaluate("window.said") == [] and page.is_visible("[data-voice-words]")
