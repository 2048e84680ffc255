"""The projector's view in Chromium: what lies on the corners of the rectangle, keystone and all; keys; what is kept."""

import pytest

pytestmark = pytest.mark.browser

KEYSTONE = [[120.0, 90.0], [700.0, 140.0], [640.0, 520.0], [160.0, 470.0]]


def test_four_corners_make_a_millimetre_true_and_keys_move_the_pattern_along_the_cloth(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/project?wide=40+cm&high=25+cm")
    page.click("#project-start")
    page.evaluate(f"localStorage.setItem('project-400-250', JSON.stringify({{to: {KEYSTONE}, at: [0, 0]}}))")
    page.reload()
    page.click("#project-start")

    def shown(x, y):
        """Where a millimetre of the pattern appears: a dot put there and measured."""
        return page.evaluate(
            """([x, y]) => { const dot = document.createElementNS("http://www.w3.org/2000/svg", "rect");
            for (const [k, v] of Object.entries({x, y, width: 0.01, height: 0.01})) dot.setAttribute(k, v);
            document.getElementById("projected").append(dot); const box = dot.getBoundingClientRect(); dot.remove();
            return [box.x, box.y]; }""",
            [x, y],
        )

    room = page.evaluate("(({left, top}) => [left, top])(document.getElementById('stage').getBoundingClientRect())")
    for (x, y), corner in zip([(0, 0), (400, 0), (400, 250), (0, 250)], KEYSTONE, strict=True):
        assert shown(x, y) == pytest.approx([corner[0] + room[0], corner[1] + room[1]], abs=0.6)
    middle = shown(200, 125)
    crossing = page.evaluate(
        f"rowanProject.mapped(rowanProject.mapOf([[0,0],[400,0],[400,250],[0,250]], {KEYSTONE}), [200, 125])"
    )
    assert middle == pytest.approx([crossing[0] + room[0], crossing[1] + room[1]], abs=0.6)
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Shift+ArrowRight")  # 10 cm along the cloth
    assert shown(100, 125) == pytest.approx(middle, abs=0.6)
    page.keyboard.press("n")
    assert page.text_content("[data-said]")
    page.keyboard.press("i")
    assert page.evaluate("document.getElementById('stage').classList.contains('inverted')")
    page.keyboard.press("Escape")
    assert page.evaluate("document.getElementById('stage').hidden")


def test_a_corner_is_moved_by_keys_and_remembered(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/project")
    page.click("#project-start")
    where = "document.querySelector('[data-corner=\"0\"]').style.left"
    before = float(page.evaluate(where).removesuffix("px"))
    page.focus('[data-corner="0"]')
    page.keyboard.press("Shift+ArrowLeft")
    page.keyboard.press("ArrowLeft")
    assert float(page.evaluate(where).removesuffix("px")) == pytest.approx(before - 11)
    page.reload()
    page.click("#project-start")
    assert float(page.evaluate(where).removesuffix("px")) == pytest.approx(before - 11)


def test_a_rectangle_that_is_none_is_told_beside_its_field(demo_server, open_page):
    page = open_page(demo_server)
    page.goto(demo_server.base + "/makes/2/project?wide=1+cm&high=21+cm")
    assert "at least 5 cm" in page.text_content("main") and page.input_value("#f-wide") == "1 cm"
    assert page.locator("#project-start").count() == 0
