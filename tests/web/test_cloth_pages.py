"""Cloth, yardage and shopping as a user meets them: forms without script, errors beside their fields, nothing lost."""

import csv
import io
import re
from contextlib import closing
from dataclasses import replace
from datetime import date

import pytest
from PIL import Image

from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Printed, View
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import cloths, db, makes, patterns
from rowanseed.store.settings import Settings
from tests.patience import until
from tests.web.waiting import settled


def version(text):
    return re.search(r'name="version" value="(\d+)"', text)[1]


def test_a_wish_puts_what_suits_first_and_says_what_the_others_lack(client):
    text = client.get("/cloths?wish=at least 2 m, 140 wide, opaque").text
    assert "Suits" in text and "too narrow" in text
    assert text.index("Suits") < text.index("too narrow")
    wrong = client.get("/cloths?wish=2 m, glittery")
    assert wrong.status_code == 422 and "is not understood" in wrong.text and 'value="2 m, glittery"' in wrong.text


def test_cloth_says_for_which_make_it_is_kept(client):
    text = client.get("/cloths").text
    assert "Kept for Corduroy trousers" in text and "Kept for First overshirt" not in text  # that one is finished


def test_further_lengths_and_opacity_are_kept(client):
    page = client.get("/cloths/1").text
    fields = {"name": "Leaf", "width": "150 cm", "length": "1 m", "others": "40 cm\n2 1/2 yd", "version": version(page)}
    client.post("/cloths/1", data={**fields, "kind": "main"})
    again = client.get("/cloths/1").text
    assert "40 cm\n2 1/2 yd" in again and 'id="f-opaque" name="opaque">' in again
    bad = client.post("/cloths/1", data={**fields, "others": "much", "version": version(again)})
    assert bad.status_code == 422 and "“much”" in bad.text


def test_tasks_are_dated_and_the_last_one_makes_the_cloth_prepared(client):
    for _ in range(9):
        page = client.get("/cloths/7/prepare").text
        left = re.search(
            r'name="task"\s+value="([a-z-]+)"><input\s+type="hidden"\s+name="done"\s+value="on"><button\s+class="btn btn-sm btn-n',
            page,
        )
        if left is None:
            break
        client.post("/cloths/7/prepare", data={"task": left[1], "done": "on", "version": version(page)})
    assert "It is prepared." in page and "Done on 20" in page
    client.post("/cloths/7/prepare", data={"task": "wash", "done": "", "version": version(page)})
    assert "1 to do before it is cut" in client.get("/cloths/7/prepare").text
    assert client.post("/cloths/7/prepare", data={"task": "fly", "version": "1"}).status_code == 404


def test_the_square_goes_into_every_length_and_a_missing_side_is_asked_for(client):
    page = client.get("/cloths/7/prepare").text
    sides = {"before_along": "10 in", "before_across": "10 in", "after_along": "9 1/2 in", "after_across": "10 in"}
    wrong = client.post("/cloths/7/square", data={**sides, "after_along": "", "version": version(page)})
    assert wrong.status_code == 422 and 'id="after_along-error"' in wrong.text and 'value="10 in"' in wrong.text
    client.post("/cloths/7/square", data={**sides, "version": version(page)})
    assert "<b>5.0 %</b> along" in client.get("/cloths/7/prepare").text
    low = client.post("/cloths/7/square", data={**sides, "after_along": "1 in", "version": version(page)})
    assert "Measure again" in low.text


def test_a_picture_is_added_made_anew_and_taken_away(client):
    out = io.BytesIO()
    Image.new("RGB", (80, 60), "#8A9A7B").save(out, "PNG")
    page = client.get("/cloths/1/prepare").text
    client.post(
        "/cloths/1/picture", data={"version": version(page)}, files={"file": ("x.png", out.getvalue(), "image/png")}
    )
    text = client.get("/cloths/1/prepare").text
    name = re.search(r'src="/photos/([0-9a-f]+\.jpg)"', text)[1]
    assert client.get(f"/photos/{name}").status_code == 200
    client.post("/cloths/1/picture/drop", data={"picture": name, "version": version(text)})
    assert name not in client.get("/cloths/1/prepare").text
    bad = client.post("/cloths/1/picture", data={"version": "9"}, files={"file": ("x.png", b"no", "image/png")})
    assert bad.status_code == 422 and "not a photograph" in bad.text


def filled(client, url):
    until(lambda: not client.app.state.jobs.waiting_for(str(client.app.state.database)))
    return client.get(url).text


def print_on_the_envelope(client):
    """What the envelope prints is typed; a line that cannot be read is said beside its field, and stays."""
    page = client.get("/patterns/1/envelope").text
    sizes = re.findall(r'name="size" value="([^"]*)"', page)
    form = {"name": "Overshirt", "garment": "top", "views": "A\nB", "version": version(page), "size": sizes,
            "printed": "A; 14; 90 cm; 90 cm"}  # fmt: skip
    wrong = client.post("/patterns/1/envelope", data={**form, "printed": "A, 14, much"})
    assert (
        wrong.status_code == 422
        and "“much” is no view, no size and no length" in wrong.text
        and "A, 14, much" in wrong.text
    )
    assert client.post("/patterns/1/envelope", data=form).status_code == 200


def test_the_yardage_table_fills_is_kept_and_is_worked_out_anew_only_where_a_piece_changed(client, demo_path):
    url = "/patterns/1/yardage?view=A&role=interfacing"
    assert "Work out the 28 figures" in client.get(url).text
    print_on_the_envelope(client)
    client.post("/patterns/1/yardage/fill", data={"view": "A", "role": "interfacing"})
    text = filled(client, url)
    assert "printed 90 cm" in text and "Against the envelope" in text
    assert "Work out" not in text and text.count("<b>") >= 28
    lines = list(csv.DictReader(io.StringIO(client.get("/patterns/1/yardage/table.csv?view=A&role=interfacing").text)))
    assert len(lines) == 28
    narrow = [float(r["lay_mm"]) for r in lines if r["width_mm"] == "560.0" and r["class"] == "without nap"]
    wide = [float(r["lay_mm"]) for r in lines if r["width_mm"] == "900.0" and r["class"] == "without nap"]
    assert all(a > b for a, b in zip(narrow, wide, strict=True)) and narrow[0] < narrow[-1]
    conn = db.connect(demo_path)
    stored = patterns.pattern(conn, 1)
    band = next(p for p in stored.pattern.pieces if p.number == "11")
    shape = band.shapes["14"]
    longer = replace(shape, outline=tuple((x * 1.1, y) for x, y in shape.outline), fold_edge=None)
    with db.write(conn):
        patterns.put_piece(conn, 1, stored.version, replace(band, shapes={**band.shapes, "14": longer}))
    conn.close()
    assert "Work out the other 4 figures" in client.get(url).text


def test_cloths_are_compared_line_by_line_with_cost_and_waste(client):
    first = client.get("/makes/2/cloth/needs?role=self").text
    # at once every cloth and width has at least its bound, the chosen one first
    assert "over " in first and "150 cm wide, on sale" in first and first.count("<tr") >= 8
    assert first.index('class="chosen"') < first.index("on sale")
    own = settled(client, "/makes/2/cloth/need?role=self&line=cloth-1")
    assert "Enough:" in own
    sale = settled(client, "/makes/2/cloth/need?role=self&line=width-1500")
    assert re.search(r"€ \d+\.\d\d at The corner draper", sale) and " %</td>" in sale
    assert client.get("/makes/2/cloth/need?role=self&line=width-3").status_code == 404


def test_a_cloth_that_is_too_short_says_what_could_be_given_up(client):
    own = f"cloth-{WorkedMake(db.connect(client.app.state.database), 3, Settings()).make.cloths['self']}"
    assert "What could be given up" in settled(client, f"/makes/3/cloth/need?role=self&line={own}")
    said = settled(client, f"/makes/3/cloth/giving-up?role=self&line={own}")
    assert re.search(r"Enough with: .*saves|the most that is saved is [\d.]+ cm", said) and "/lay/short" in said
    assert client.get("/makes/3/cloth/giving-up?role=self&line=width-1500").status_code == 404


def test_two_makes_of_one_cloth_are_laid_together(client):
    client.post("/makes/5/cloth", data={"role": "interfacing", "cloth": "5"})
    table = settled(client, "/makes/2/cloth/needs?role=interfacing", ("working out",))
    other = re.search(r"together\?role=interfacing&(?:amp;)?other=(\d+)", table)[1]
    said = settled(client, f"/makes/2/cloth/together?role=interfacing&other={other}")
    together, apart = (float(v) for v in re.findall(r"([\d.]+) cm \(", said)[:2])
    assert together <= apart + 0.2


def test_the_shopping_list_counts_all_makes_less_the_stash_and_is_ticked(client):
    text = client.get("/shopping").text
    assert "in the stash" in text and "Buttons" in text
    assert "Go there" not in text  # every make of the demo is laid
    lines = list(csv.DictReader(io.StringIO(client.get("/shopping/list.csv").text)))
    threads = {r["what"]: r["for"] for r in lines if r["what"].startswith("Sewing thread")}
    # A reel matches one cloth: each cloth of the makes under way has its own, and what is finished asks for none.
    assert "Corduroy trousers" in next(f for w, f in threads.items() if "Bark corduroy" in w)
    assert len(threads) >= 2 and not any("First overshirt" in f for f in threads.values())
    key = re.search(r'name="key" value="(buttons:[^"]*)"', text)[1]
    client.post("/shopping/tick", data={"key": key, "done": "on", "shop": "0"})
    assert 'aria-pressed="true"' in client.get("/shopping").text
    priced = client.get("/shopping?shop=1").text
    assert "€" in priced and "Still to pay" in priced
    client.post("/shopping/new")
    assert 'aria-pressed="true"' not in client.get("/shopping").text


def test_a_cloth_still_to_be_bought_is_on_the_list_with_its_length(client):
    lines = list(csv.DictReader(io.StringIO(client.get("/shopping/list.csv").text)))
    lining = next(r for r in lines if r["what"] == "Slate lining")
    assert lining["aisle"] == "Lining" and re.fullmatch(r"\d\.\d0 m", lining["to_buy"])


def test_supplies_are_added_used_up_and_wrong_ones_refused_beside_their_field(client):
    bad = client.post("/supplies", data={"kind": "elastic", "name": "soft", "amount": "some"})
    assert bad.status_code == 422 and 'id="amount-error"' in bad.text and 'value="soft"' in bad.text
    client.post("/supplies", data={"kind": "snaps", "name": "brass", "amount": "12"})
    text = client.get("/supplies").text
    assert "brass" in text
    number = re.findall(r"/supplies/(\d+)/amount", text)[-1]
    client.post(f"/supplies/{number}/amount", data={"amount": "", "version": "1"})
    assert client.get("/supplies").text.count("/amount") == text.count("/amount") - 1


def test_shops_keep_their_steps_and_prices(client):
    bad = client.post("/shops", data={"name": "Ell", "step": "1 m", "prices": "main; ; 150 cm; dear; m"})
    assert bad.status_code == 422 and "Write a price" in bad.text and "dear" in bad.text
    client.post("/shops", data={"name": "Ell", "currency": "£", "step": "1 m", "prices": "main; ; 150 cm; 9.5; m"})
    assert "£" in settled(client, "/makes/2/cloth/need?role=self&line=width-1500")


def test_the_whole_lining_is_derived_as_the_view_asks_and_kept_at_once(client):
    page = client.get("/patterns/1/derive").text
    refused = client.post("/patterns/1/derive/whole", data={"version": version(page), "view": "A"})
    assert refused.status_code == 422 and "not described as lined" in refused.text
    described = {"neck": "facing", "sleeve": "set-in", "lining": "bagged", "hem": "hand"}
    client.post("/patterns/1/views/A", data={**described, "version": version(client.get("/patterns/1/views/A").text)})
    page = client.get("/patterns/1/derive").text
    form = {"version": version(page), "view": "A"}
    shown = client.post("/patterns/1/derive/whole", data=form).text
    assert "Back lining" in shown and "Sleeve lining" in shown and "Collar lining" not in shown
    client.post("/patterns/1/derive/whole", data={**form, "keep": "on"})
    kept = client.get("/patterns/1").text
    assert "Back lining" in kept and "L1" in kept
    again = client.post(
        "/patterns/1/derive/whole", data={"version": version(client.get("/patterns/1/derive").text), "view": "A"}
    )
    assert "has its lining already" in again.text


def test_a_lining_is_derived_from_the_waistcoat_s_front_and_put_into_the_pattern(client):
    page = client.get("/patterns/3/derive").text
    form = {"kind": "lining", "version": version(page), "number": "20", "name": "Front lining, derived",
            "source": "1", "facing": "7",
            "edge": "centre", "facing_edge": "centre", "hem": "0 cm", "pleat": "", "pad": "0 cm"}  # fmt: skip
    shown = client.post("/patterns/3/derive", data=form)
    assert shown.status_code == 200 and "Put it into the pattern" in shown.text and "<svg" in shown.text
    client.post("/patterns/3/derive", data={**form, "keep": "on"})
    assert "Front lining, derived" in client.get("/patterns/3").text
    wrong = client.post("/patterns/3/derive", data={**form, "number": "21", "facing_edge": "rim"})
    assert wrong.status_code == 422 and "There is no edge rim on the facing" in wrong.text
    twice = client.post("/patterns/3/derive", data={**form, "number": "1"})
    assert "There is a piece of this number already" in twice.text


@pytest.mark.parametrize(("kind", "more"), [("band", {"seam": "1 cm"}), ("panel", {"top": "1.5 cm", "hem": "5 cm"})])
def test_bands_and_panels_are_drawn_from_figures(client, kind, more):
    form = {
        "kind": kind,
        "version": "1",
        "number": "30",
        "name": "Tie",
        "long": "90 cm",
        "wide": "3 cm",
        "cut": "2",
        **more,
    }
    shown = client.post("/patterns/2/derive", data=form).text
    assert "Cut 2 of main cloth" in shown
    assert client.post("/patterns/2/derive", data={**form, "long": "long"}).status_code == 422


def test_a_sum_is_used_in_a_make_and_stands_with_its_step(client):
    used = client.post("/bench/gathers/use", data={"loose": "180 cm", "finished": "90 cm", "make": "2"})
    assert used.status_code == 200
    client.post("/bench/double-hem/use", data={"first_fold": "1/4 in", "second_fold": "1 in", "make": "2"})
    assert "Hem turned twice: First chalk line" in client.get("/makes/2/sew?step=press-hem").text
    bad = client.post("/bench/gathers/use", data={"loose": "9 cm", "finished": "90 cm", "make": "2"})
    assert bad.status_code == 422 and "at least as long" in bad.text


def test_the_lay_warns_while_the_cloth_is_not_prepared(client, demo_path):
    conn = db.connect(demo_path)
    number = makes.make(conn, 1).cloths["self"]
    assert not cloths.cloth(conn, number).cloth.prepared
    conn.close()
    assert "is not prepared yet" in client.get("/makes/1/lay").text
    assert "is not prepared yet" not in client.get("/makes/3/lay").text


def test_a_binding_along_real_edges_goes_onto_the_shopping_list_and_is_taken_away(client):
    missing = client.post("/makes/2/cloth/trim", data={"trim_name": "hem binding", "shows": "1 cm"})
    assert (
        missing.status_code == 422
        and "Choose at least one edge." in missing.text
        and 'value="hem binding"' in missing.text
    )
    client.post("/makes/2/cloth/trim", data={"trim_name": "hem binding", "shows": "1 cm", "edge": ["3|hem", "1|hem"]})
    text = client.get("/makes/2/cloth").text
    assert "hem binding" in text and "bias strips 4 cm" in text
    assert "hem binding" in client.get("/shopping/list.csv").text
    client.post("/makes/2/cloth/trim/drop", data={"trim_name": "hem binding"})
    assert "bias strips" not in client.get("/makes/2/cloth").text


@pytest.mark.parametrize("url", ["/shopping", "/supplies", "/shops", "/cloths?wish=1 m"])
def test_the_rooms_of_an_empty_household_answer(empty, url):
    answer = empty.get(url)
    assert answer.status_code == 200 and '<main id="main"' in answer.text


def test_all_of_many_cloths_are_compared_and_the_laying_can_be_stopped(client):
    for k in range(30):
        client.post("/cloths/new", data={"name": f"Length {k}", "width": "150 cm", "length": "90 cm", "opaque": "on"})
    first = client.get("/makes/2/cloth/needs?role=self").text
    assert all(f"Length {k}," in first for k in range(30))
    # 90 cm are too short by area alone: said at once, and not laid
    assert first.count("by its area alone") >= 30
    client.post("/makes/2/cloth/needs/stop", data={"role": "self"})
    assert "Stopped." in settled(
        client, "/makes/2/cloth/needs?role=self", ("working out",)
    )  # the one under way ends a moment later


def test_an_offcut_is_a_cloth_of_its_own(client):
    conn = db.connect(client.app.state.database)
    role = WorkedMake(conn, 2, Settings()).role("self")
    cloth = cloths.cloth(conn, role.cloth.id)
    with db.write(conn):
        changed = replace(cloth.cloth, others=(parse_length("1 m"),), shrink_along=0.05, prepared=True)
        cloths.update_cloth(conn, cloth.id, cloth.version, changed)
    answer = client.post("/makes/2/lay/offcuts", data={"role": "self", "number": "0"})
    kept = cloths.cloths(conn)
    (rest,) = [c.cloth for c in kept if c.cloth.name.endswith(", offcut")]
    assert answer.status_code == 200 and rest.others == () and rest.shrink_along == 0.0 and rest.prepared


def test_a_figure_that_cannot_be_meant_is_asked_about(client):
    form = {"name": "Short", "width": "150", "length": "2.5", "opaque": "on"}
    asked = client.post("/cloths/new", data=form)
    assert asked.status_code == 422 and "is it 2.5 m?" in asked.text and 'value="2.5"' in asked.text
    assert client.post("/cloths/new", data={**form, "length": "2.5 cm"}).status_code == 200  # said, so meant


def test_figures_typed_in_a_make_reach_steps_notions_and_the_bench(client):
    page = client.get("/makes/2/cloth").text
    version = re.search(r'name="version" value="(\d+)"', page)[1]
    sent = {
        "version": version,
        "figures": "1",
        "figure-buttons": "9",
        "figure-button": "18 mm",
        "figure-hem_second": "2 in",
    }
    assert client.post("/makes/2/cloth/figures", data=sent).status_code == 200
    assert "9 buttons" in client.get("/makes/2/cloth").text
    assert "9 on a front" in client.get("/makes/2/sew?step=sew-buttonholes").text
    assert "18.0 mm" in client.get("/bench?make=2").text
    assert "9 buttons" in client.get("/shopping").text and "2 in" in client.get("/makes/2/sew?step=press-hem").text
    bad = client.post("/makes/2/cloth/figures", data={**sent, "figure-buttons": "many"})
    assert bad.status_code == 422 and 'value="many"' in bad.text
    stale = client.post("/makes/2/cloth/figures", data={**sent, "version": version})
    assert stale.status_code == 409


def test_before_any_piece_is_in_the_envelope_s_lengths_say_which_cloth_is_enough(client, demo_path):
    printed = (Printed("A", ("M",), parse_length("150 cm"), parse_length("190 cm")),)
    pattern = Pattern("Smock", "", "dress", sizes=(EnvelopeSize("M", {}),), printed=printed, views=(View("A"),))
    with closing(db.connect(demo_path)) as conn, db.write(conn):
        make = makes.add_make(conn, "Smock", patterns.add_pattern(conn, pattern), "A", [None], date.today())
        makes.put_size(conn, make, makes.make(conn, make).garments[0].id, "M")
    page = client.get(f"/makes/{make}/cloth").text
    told = page[page.index("Is a cloth enough?") :].split("</section>")[0]
    lines = re.findall(r"<li>(.*?)</li>", told, re.S)
    assert any("Enough, with" in line for line in lines)
    assert [("Enough" in line) for line in lines] == sorted((("Enough" in line) for line in lines), reverse=True)
    assert "Is a cloth enough?" not in client.get("/makes/2/cloth").text  # with pieces the lays say it
