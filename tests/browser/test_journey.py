"""The new user's journey, start to end, in Chromium: from an empty database to a sewing order, and back after a kill."""

import re

import pytest
from playwright.sync_api import expect

from rowanseed.demo import overshirt
from rowanseed.formats.pattern_svg import pattern_svg

pytestmark = pytest.mark.browser

SIZES = {
    "12": ("35 in", "27 in", "37 1/2 in", "39 in", "31 in", "40 1/2 in"),
    "14": ("37 in", "29 in", "39 1/2 in", "41 in", "33 in", "42 1/2 in"),
}
PIECES = [
    (
        "bodice-back",
        {"centre_length": "23 1/2 in", "neck_width": "8 cm", "neck_depth": "1 in", "shoulder": "5 1/2 in", "shoulder_drop": "5 cm",
         "armhole_depth": "24 cm", "chest_width": "27 cm", "hem_width": "27 cm"},
    ),
    (
        "bodice-front",
        {"centre_length": "57 cm", "neck_width": "8 cm", "neck_depth": "9 cm", "shoulder": "5 1/2 in", "shoulder_drop": "5 cm",
         "armhole_depth": "24 cm", "chest_width": "28 cm", "hem_width": "28 cm", "overlap": "1 in"},
    ),
    ("sleeve", {"length": "24 in", "cap_height": "13 cm", "width": "40 cm", "hem_width": "26 cm"}),
    ("patch-pocket", {"width": "6 in", "depth": "7 in", "point": "3/4 in"}),
]  # fmt: skip


def fill(page, figures):
    for key, text in figures.items():
        page.fill(f"#f-{key}", text)


def add_person(page):
    page.click("text=A tape measure")
    page.fill("#f-name", "Ada Fenwick")
    page.focus("#f-bust")
    assert page.locator('.tape.on[data-tape="bust"]').count() == 1
    assert "Full bust" in page.locator("[data-words]").inner_text()
    page.fill("#f-bust", "37 1/4 in")
    page.wait_for_selector('#echo-bust >> text="37 1/4 in = 94.6 cm"')
    page.fill("#f-waist", "wide")
    page.click("main button >> text=Keep")
    assert "is not a length" in page.locator("#waist-error").inner_text()
    assert page.input_value("#f-bust") == "37 1/4 in"
    fill(page, {"waist": "29 1/2 in", "hip": "100 cm", "height": "168 cm"})
    page.click("main button >> text=Keep")
    page.wait_for_selector("h1 >> text=Ada Fenwick")


def type_in_envelope(page):
    page.click(".rooms >> text=Patterns")
    page.click("text=Type in a pattern")
    page.fill("#f-name", "Garden shirt")
    page.click("summary >> text=More")
    page.fill("#f-views", "A: with a pocket")
    while page.locator("tbody tr").count() > 1:
        page.locator("tbody tr >> text=Take out").first.click()
    for at, (size, figures) in enumerate(SIZES.items()):
        if at:
            page.click("text=Add a size")
        row = page.locator("tbody tr").nth(at)
        row.locator('[name="size"]').fill(size)
        names = [f"{kind}_{zone}" for kind in ("body", "finished") for zone in ("bust", "waist", "hip")]
        for name, text in zip(names, figures, strict=True):
            row.locator(f'[name="{name}"]').fill(text)
        page.wait_for_selector(f"tbody >> text={SIZES[size][-1]} = ")
    page.click("main button >> text=Keep")
    page.wait_for_selector("h1 >> text=Garden shirt")


def add_pieces(page):
    for shape, figures in PIECES:
        page.click("text=Add a piece")
        page.click(f'a[href$="shape={shape}"]')
        fill(page, figures)
        page.wait_for_selector("#drawing svg")
        page.select_option("#f-size", "14")
        page.click("text=Keep this piece")
        page.wait_for_selector("h2 >> text=Pieces")
    page.click("text=Describe")
    for feature, choice in {
        "neck": "binding",
        "front": "facing",
        "closure": "buttons",
        "sleeve": "set-in",
        "cuff": "hem",
        "pocket": "patch",
    }.items():
        page.select_option(f"#f-{feature}", choice)
    page.click("main button >> text=Keep")


def add_cloth(page):
    page.click(".rooms >> text=Cloth")
    page.click("text=Add a cloth")
    page.click("summary >> text=More")  # the selvage is asked when one looks for it
    fill(page, {"name": "Blue twill", "width": "58 in", "selvage": "1/2 in", "length": "2 1/2 yd"})
    page.select_option("#f-nap", "one-way")
    page.check("#f-prepared")
    page.click("main button >> text=Keep")
    page.wait_for_selector("h1 >> text=Blue twill")


def take_size(page):
    page.click(".rooms >> text=Makes")
    page.click("text=Start a make")
    page.fill("#f-name", "Shirt for the allotment")
    page.select_option("#f-pattern_view", index=1)
    page.check("text=Ada Fenwick")
    page.click("button >> text=Start")
    page.wait_for_selector("text=Advised")
    advice = page.inner_text("main")
    assert "Size 14" in advice and "94.6 cm (37 1/4 in)" in advice
    # 41 - 37 1/4 = 3 3/4 in of ease at the bust of size 14: 9.5 cm.
    assert "+9.5 cm" in advice
    page.click("button >> text=Take this size")
    page.wait_for_selector('.stages .done >> text="size 14"')


def drag(page, step, before):
    """Drag a step before another one, by the events a mouse would send (the list is longer than the window)."""
    carried = {"dataTransfer": page.evaluate_handle("() => new DataTransfer()")}
    step.dispatch_event("dragstart", carried)
    before.dispatch_event("dragover", carried)
    before.dispatch_event("drop", carried)


def test_from_an_empty_table_to_a_sewing_order_and_back_after_a_kill(server, open_page):
    page = open_page(server)
    page.goto(server.base)
    add_person(page)
    type_in_envelope(page)
    add_pieces(page)
    add_cloth(page)
    take_size(page)

    page.click(".stages >> text=Cloth")
    page.select_option("#cloth-self", index=1)
    page.click("button >> text=Use it")
    page.wait_for_selector("td >> text=on sale >> nth=0")
    expect(page.locator("tr.chosen")).to_contain_text("Enough")

    page.click(".stages >> text=Lay")
    page.select_option("#spread", "lengthwise-fold")
    page.click("button >> text=Lay the pieces")
    page.wait_for_selector("text=The same as a table")
    words = page.inner_text("main")
    length = float(re.search(r"Length needed\s+([\d.]+) cm", words)[1])
    assert 60 < length < 2.5 * 91.44 and "Enough: it leaves" in words
    # Both layers are cut at once: the back on the fold, front and sleeve as pairs, both pockets together.
    assert page.locator(".cloth-figure svg a").count() == 4
    assert "on the fold" in words and "both layers" in words
    for row in page.locator("tbody tr").all():
        cells = row.locator("td").all_inner_texts()
        assert cells[5] == cells[6]  # the same distance at both ends of the grain arrow

    page.click("main p >> text=Cut the next piece")
    cut = page.locator("button >> text=/^Cut$/")
    for left in range(cut.count(), 0, -1):
        cut.first.click()
        expect(cut).to_have_count(left - 1)
    page.wait_for_selector(".stages >> text=all cut")

    page.click(".stages >> text=Sew")
    page.click("text=Done, next step")
    page.wait_for_selector(".stages >> text=/1 of \\d+ steps/")
    drag(page, page.locator('li[data-step="sew-hem"]'), page.locator("li.step").first)
    page.wait_for_selector("#steps >> text=Too early")
    assert "The marks are lost once the tissue is off" in page.inner_text("#steps")
    page.click("text=Go back to the safe one")
    expect(page.locator("#steps >> text=Too early")).to_have_count(0)

    page.click(".stages >> text=Wear")
    page.fill("#f-text", "Lower the pocket by 1 in.")
    page.select_option("#f-kind", "next-time")
    page.click("text=Write it down")
    page.wait_for_selector("text=Lower the pocket")

    page.goto("about:blank")  # nothing is asked while nobody answers
    server.kill()
    server.start()
    page.goto(server.base)
    page.click("text=Shirt for the allotment")
    page.click(".stages >> text=Lay")
    assert f"{length:.1f}".removesuffix(".0") in page.inner_text(".figures")
    assert page.locator(".stages >> text=all cut").count() == 1
    page.click(".stages >> text=Wear")
    assert "Lower the pocket" in page.inner_text("main")


class Counted:
    """A page whose fields are counted as they are filled in."""

    def __init__(self, page):
        self.page, self.fields = page, 0

    def __getattr__(self, name):
        if name in ("fill", "select_option", "check", "set_input_files"):
            self.fields += 1
        return getattr(self.page, name)


def laid_on_canvas(server, page, size=""):
    """A cloth in hand, a make of the only pattern, its size taken, and its pieces laid."""
    page.goto(server.base + "/cloths/new")
    for key, text in {"name": "Canvas", "width": "150 cm", "length": "3 m"}.items():
        page.fill(f"#f-{key}", text)
    page.click("main button >> text=Keep")
    page.goto(server.base + "/makes/new")
    page.fill("#f-name", "A make")
    page.select_option("#f-pattern_view", index=1)
    page.click("button >> text=Start")
    page.wait_for_selector(".stages")
    if size:
        page.select_option("select[name=size]", size)
    page.click("button >> text=Take this size")
    page.wait_for_selector('.stages .done >> text="size 14"')
    page.click(".stages >> text=Cloth")
    page.select_option("#cloth-self", index=1)
    page.click("button >> text=Use it")
    page.wait_for_selector("text=3 m in hand")
    page.click(".stages >> text=Lay")
    page.click("button >> text=Lay the pieces")
    page.wait_for_selector("text=The same as a table")


def test_from_a_pattern_file_to_a_lay_in_nine_fields(server, open_page, tmp_path):
    file = tmp_path / "overshirt.svg"
    file.write_text(pattern_svg(overshirt.pattern()), encoding="utf-8")
    page = Counted(open_page(server))
    page.goto(server.base)
    page.click("text=A pattern as a file, or on tissue")
    page.set_input_files("#f-file", str(file))
    page.click("text=Read it")
    page.wait_for_selector("text=/Keep/ >> nth=0")
    page.locator("button.btn-next >> nth=0").click()
    page.wait_for_selector("h2 >> text=Pieces")
    assert page.locator("tbody tr[id^=piece-]").count() >= 9
    laid_on_canvas(server, page, size="14")
    assert "Enough: it leaves" in page.inner_text("main")
    assert page.fields <= 9, page.fields


NINE = [
    ("bodice-back", {"centre_length": "72 cm", "neck_width": "8 cm", "neck_depth": "2 cm", "shoulder": "14 cm",
                     "shoulder_drop": "5 cm", "armhole_depth": "24 cm", "chest_width": "28 cm", "hem_width": "28 cm"}),
    ("bodice-front", {"centre_length": "68 cm", "neck_width": "8 cm", "neck_depth": "9 cm", "shoulder": "14 cm",
                      "shoulder_drop": "5 cm", "armhole_depth": "24 cm", "chest_width": "29 cm", "hem_width": "29 cm",
                      "overlap": "3 cm"}),
    ("sleeve", {"length": "60 cm", "cap_height": "13 cm", "width": "42 cm", "hem_width": "26 cm"}),
    ("patch-pocket", {"width": "14 cm", "depth": "16 cm"}),
]  # fmt: skip
STRIPS = [
    ("Collar", "42 cm", "8 cm"),
    ("Stand", "44 cm", "4 cm"),
    ("Cuff", "26 cm", "12 cm"),
    ("Button band", "68 cm", "7 cm"),
    ("Tab", "12 cm", "6 cm"),
]


def test_nine_pieces_by_their_figures_reach_a_lay_in_sixty_fields(server, open_page):
    page = Counted(open_page(server))
    page.goto(server.base + "/patterns/new")
    page.fill("#f-name", "Allotment shirt")
    page.page.locator('[name="size"]').first.fill("14")
    page.fields += 1
    page.click("main button >> text=Keep")
    page.wait_for_selector("h1 >> text=Allotment shirt")
    for shape, figures in [*NINE, *(("rectangle", {"name": n, "length": a, "width": b}) for n, a, b in STRIPS)]:
        page.click("text=Add a piece")
        page.click(f'a[href$="shape={shape}"]')
        for key, text in figures.items():
            page.fill(f"#f-{key}", text)
        page.click("text=Keep this piece")
        page.wait_for_selector("h2 >> text=Pieces")
    assert page.locator("tbody tr[id^=piece-]").count() == 9
    laid_on_canvas(server, page)
    assert page.fields <= 60, page.fields  # 145 were needed once
