"""Where the focus is can be seen on every control: a ring of 2 px with a contrast of 3 to 1, neither cut off nor covered.

Source: W3C, Web Content Accessibility Guidelines 2.2, 2.4.7, 2.4.11 and 2.4.13; contrast by its definition of relative luminance.
"""

from pathlib import Path

import pytest

from tests.browser.test_manners import SCREENS
from tests.browser.test_reachable import MORE

pytestmark = pytest.mark.browser
MEASURE = (Path(__file__).parent / "focus.js").read_text()
OPEN = "document.querySelectorAll('details').forEach((one) => { one.open = true; })"


def measured(page, light):
    page.keyboard.press("Tab")  # so that the browser shows the ring as to one who uses keys
    page.evaluate("light => { document.documentElement.dataset.bsTheme = light; }", light)
    page.evaluate(OPEN)
    return page.evaluate(MEASURE)


@pytest.mark.parametrize(
    ("width", "light", "forced"),
    [
        (1280, "light", "none"),
        pytest.param(768, "dark", "none", marks=pytest.mark.wide),
        pytest.param(390, "dim", "none", marks=pytest.mark.wide),
        pytest.param(1280, "light", "active", marks=pytest.mark.wide),
    ],
)
def test_every_control_shows_the_focus(demo_server, open_page, width, light, forced):
    page, broken, count = open_page(demo_server), [], 0
    page.emulate_media(reduced_motion="reduce", forced_colors=forced)
    page.set_viewport_size({"width": width, "height": 844})
    for url in SCREENS + MORE:
        page.goto(demo_server.base + url)
        controls, bad = measured(page, light)
        count += controls
        broken += [f"{url}: {why}, {name}" for why, name in bad]
    assert count > 1500
    assert not broken, broken[:12]


@pytest.mark.parametrize(
    ("style", "why"),
    [
        (".btn:focus-visible { outline: none !important; }", "no ring"),
        (".btn:focus-visible { outline: 1px solid black !important; }", "no ring"),
        (".btn:focus-visible { outline-color: #EEE6D8 !important; }", "contrast"),
        ("main::after { content: ''; position: fixed; inset: 0; background: red; z-index: 99; }", "hidden"),
        (".lead-line { overflow: hidden; } .lead-line .btn { outline-offset: 40px !important; }", "cut"),
    ],
)
def test_a_ring_that_nobody_sees_is_found(demo_server, open_page, style, why):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/people")
    assert measured(page, "light")[1] == []
    page.evaluate(
        "css => { const sheet = new CSSStyleSheet(); sheet.replaceSync(css); document.adoptedStyleSheets.push(sheet); }",
        style,
    )
    assert any(found.startswith(why) for found, _ in measured(page, "light")[1])
