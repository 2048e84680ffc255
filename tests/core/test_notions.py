"""Notions from the pieces, worked by hand on straight shapes and looked at on the demo patterns."""

from dataclasses import replace

import pytest

from rowanseed.core.errors import ReckonError
from rowanseed.core.geometry.shape import Line, Mark, PieceShape
from rowanseed.core.make.plan import Trim
from rowanseed.core.notions import NotionsAsk, edge_length, notions, seam_length, trim_for
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import Piece, Seam
from rowanseed.core.reckon.thread import lockstitch_ratio
from rowanseed.core.requirements import Ask, requirements
from rowanseed.demo import overshirt, trousers

PANEL = PieceShape(
    ((0.0, 0.0), (0.0, 300.0), (600.0, 300.0), (600.0, 0.0)),
    edges={"waist": (0, 1), "side": (1, 2), "hem": (2, 3), "centre": (3, 0)},
    levels={"waist": 0.0, "hip": 190.0},
)
SKIRT = NotionsAsk(
    ((Piece("1", "Front", 2, mirrored=True), PANEL), (Piece("2", "Back", 2, mirrored=True), PANEL)),
    (Seam(("1", "side"), ("2", "side")),),
    {"closure": "invisible-zip", "waist": "band"},
)


def of(found, kind):
    return [n for n in found if n.kind == kind]


def test_seams_are_counted_once_and_hems_for_every_piece():
    # two side seams of 600, four hems of 300, a centre seam of 600 in front and one behind, below the zip
    assert seam_length(SKIRT) == pytest.approx(2 * 600 + 4 * 300 + 2 * 600)
    assert edge_length(SKIRT) == pytest.approx(4 * 1800)
    folded = replace(
        SKIRT, pieces=((Piece("1", "Front", 1), replace(PANEL, fold_edge=((0.0, 0.0), (600.0, 0.0)))),), seams=()
    )
    assert edge_length(folded) == pytest.approx(2 * (1800 - 600))


def test_a_zip_is_the_next_on_sale_above_its_opening():
    (zip_,) = of(notions(SKIRT), "zip")
    # waist to hip 19 cm, an invisible one 2.5 cm longer: 21.5, the next on sale 22
    assert zip_.name == "invisible, 22 cm" and "19 cm" in zip_.reason
    marked = replace(PANEL, marks=(Mark("end of zip", (210.0, 5.0)),))
    longer = replace(SKIRT, pieces=((Piece("1", "Front", 2), marked),))
    assert of(notions(longer), "zip")[0].name == "invisible, 24 cm"  # 21 and 2.5
    assert not of(notions(replace(SKIRT, features={"closure": "buttons"})), "zip")


def test_buttons_come_on_whole_cards_and_marks_are_believed_first():
    marks = tuple(Mark(f"button {k}", (50.0 + 80 * k, 10.0)) for k in range(5))
    shirt = replace(
        SKIRT, pieces=((Piece("1", "Front", 2), replace(PANEL, marks=marks)),), features={"closure": "buttons"}
    )
    (buttons,) = of(notions(shirt), "buttons")
    assert buttons.amount == 5 and buttons.text == "2 cards of 3" and "1 to spare" in buttons.reason
    (four,) = of(notions(replace(shirt, count=4)), "buttons")
    assert four.amount == 20 and four.text == "7 cards of 3"


def test_thread_grows_with_the_seams_and_the_overlocker_asks_for_cones():
    machine = of(notions(SKIRT), "thread")[0]
    # 2.4 m of sides and hems, 1.2 m of both centres, 1.15 passes, 2.5 times, 15 % for ends
    assert machine.amount == pytest.approx((2400 + 1200) * 1.15 * 2.5 * 1.15)
    overlocked = notions(replace(SKIRT, tools=frozenset({"overlocker"})))
    assert of(overlocked, "overlock-thread")[0].amount == pytest.approx(7200 * 14 * 1.15)


def test_the_handbook_ratio_of_a_lockstitch_agrees_with_its_geometry():
    """The ratio 2.5 for stitch type 301 is from memory of apparel handbooks; geometry for two layers of 0.6 mm at 2.5 mm."""
    assert lockstitch_ratio(2.5, 0.6) == pytest.approx(2.5, abs=0.1)
    assert lockstitch_ratio(2.5, 3.0) > 4  # thick cloth takes far more


def test_elastic_is_a_tenth_shorter_than_the_waist_and_joined():
    found = notions(replace(SKIRT, features={"waist": "casing"}, waist_mm=800.0))
    assert of(found, "elastic")[0].amount == pytest.approx(745)


def test_elastic_sewn_on_and_turned_in_is_as_long_as_its_edges():
    found = of(notions(replace(SKIRT, features={"hem": "elastic"})), "elastic")
    assert [(n.name, n.amount) for n in found] == [("for the lower edge", pytest.approx(4 * 300 + 50))]
    legs = of(notions(replace(SKIRT, features={"hem": "elastic", "between-legs": "seam"})), "elastic")
    assert legs[0].name == "for the leg openings"


def test_trim_is_its_edges_and_every_turn():
    edges = (("1", "hem"), ("2", "hem"))
    lace = trim_for(SKIRT, Trim("lace", edges), joins=2, ends=0)
    assert lace.amount == pytest.approx(4 * 300 + 4 * 25)
    with pytest.raises(ReckonError):
        trim_for(SKIRT, Trim("lace", ()))


def test_a_binding_says_the_strip_and_the_square_it_is_cut_from():
    binding = trim_for(SKIRT, Trim("hem binding", (("1", "hem"), ("2", "hem")), 10.0))
    assert binding.kind == "bias-tape" and binding.amount == pytest.approx(4 * 300 + 4 * 25)
    # four times 1 cm wide; 4 turns of 40 mm need 226 mm, and their 1300 mm 230 mm: 230 and its two seams of 6 mm
    assert "4 cm (1 5/8 in) wide" in binding.reason and "24.2 cm" in binding.reason


@pytest.mark.parametrize(("module", "size", "least", "most"), [(overshirt, "14", 8, 30), (trousers, "42", 6, 25)])
def test_a_whole_garment_takes_one_or_two_reels_and_every_notion_has_its_reason(module, size, least, most):
    """A shirt or trousers use 8 to 30 m of seams and hems, and one or two reels of 100 m: common practice, no source."""
    pattern = module.pattern()
    pieces = tuple((p, p.shapes[size]) for p in pattern.pieces_of("A") if size in p.shapes)
    need = NotionsAsk(pieces, pattern.seams, pattern.view("A").features, waist_mm=800.0)
    assert least <= seam_length(need) / 1000 <= most
    found = notions(need)
    assert of(found, "thread")[0].text in ("1 reel of 100 m", "2 reels of 100 m")
    assert all(len(n.reason) > 10 for n in found) and len({n.key for n in found}) == len(found)


def test_zips_by_garment_kind_and_the_envelope():
    dress = NotionsAsk(SKIRT.pieces, (), {"closure": "lapped-zip"}, garment="dress")
    assert of(notions(dress), "zip")[0].name == "skirt, 56 cm"  # about 55 cm down a centre back, the next on sale
    printed = replace(SKIRT, envelope="invisible zip 35 cm, thread")
    assert (
        of(notions(printed), "zip")[0].name == "invisible, 35 cm"
        and "envelope" in of(notions(printed), "zip")[0].reason
    )


@pytest.mark.parametrize(
    ("features", "kind"),
    [
        ({"waist-stay": "ribbon"}, "ribbon"), ({"boning": "channels"}, "boning"), ({"waist": "stiff-band"}, "stiffener"),
        ({"cuff": "elastic"}, "elastic"), ({"neck": "casing"}, "elastic"), ({"decoration": "piping"}, "cord"),
        ({"hem": "casing", "legs": "trousers"}, "elastic"),
    ],
)  # fmt: skip
def test_what_lies_inside_is_on_the_list(features, kind):
    (one,) = of(notions(NotionsAsk(SKIRT.pieces, (), features, waist_mm=800.0, wrist_mm=170.0)), kind)
    assert one.amount > 0 and one.reason
    if "cuff" in features:
        assert one.amount == pytest.approx(2 * (170 + 25))
    if kind == "stiffener":
        assert one.amount == pytest.approx(800 + 30)


def test_buttoned_straps_need_no_buttons_down_a_front_that_does_not_open():
    bib = {"straps": "buttoned", "closure": "buttons", "legs": "trousers"}
    assert of(notions(NotionsAsk(SKIRT.pieces, (), bib)), "buttons")[0].amount == 2
    assert of(notions(NotionsAsk(SKIRT.pieces, (), bib | {"front": "facing"})), "buttons")[0].amount > 4


def test_twin_needle_cuff_buttons_and_every_hook_a_step_sews_are_on_the_list():
    knit = notions(NotionsAsk(SKIRT.pieces, (), {"hem": "twin-needle"}, knit=True))
    assert any(n.name.startswith("twin") for n in of(knit, "needles"))
    cuffs = notions(NotionsAsk(SKIRT.pieces, (), {"cuff": "band"}, count=2))
    assert of(cuffs, "buttons")[0].amount == 4
    assert of(notions(replace(SKIRT, steps=("sew-hook",), count=3)), "hooks")[0].amount == 3
    assert not of(notions(replace(SKIRT, steps=("sew-hem",))), "hooks")


def test_a_separating_zip_is_as_long_as_the_front_and_a_front_closed_by_hooks_takes_several():
    front = PieceShape(
        ((0.0, 0.0), (0.0, 200.0), (560.0, 200.0), (560.0, 0.0)),
        edges={"centre": (0, 3), "hem": (2, 3)},
        allowance_mm=0.0,
    )
    need = NotionsAsk(
        ((Piece("1", "Front", 2, shapes={"": front}), front),), (), {"closure": "separating-zip", "hem": "ribbed"}
    )
    (zip_,) = of(notions(need), "zip")
    assert zip_.name.startswith("separating") and "whole front" in zip_.reason
    hooked = replace(need, features={"closure": "hook"}, steps=("sew-front-hooks", "sew-thread-loop"))
    assert of(notions(hooked), "hooks")[0].text == "5"


def test_an_open_edge_zip_and_a_ring_of_binding_are_bought_too():
    open_edge = replace(SKIRT, features={**SKIRT.features, "closure": "open-edge-zip"})
    assert of(notions(open_edge), "zip")[0].name.startswith("skirt")
    ring = replace(SKIRT, features={"neck": "binding-ring"})
    assert [n.name for n in of(notions(ring), "bias-tape")] == ["for the neck"]


def test_a_slit_takes_one_button_unless_more_were_typed():
    slit = {"neck": "binding", "neck-shape": "slit", "closure": "buttons", "buttonhole": "loops"}
    assert requirements(Ask(features=slit)).buttons.total == 1
    bought = of(notions(replace(SKIRT, features=slit)), "buttons")[0]
    assert bought.amount == 1 and bought.reason.startswith("1 button:")
    hooked = requirements(Ask(features=slit | {"closure": "hook", "cuff": "band"})).buttons
    assert (hooked.front, hooked.cuffs) == (0, 2)
    three = requirements(Ask(features=slit, in_make=Figures(buttons=3))).buttons
    assert (three.total, three.places_mm) == (3, ())


def test_thread_counts_what_a_piece_is_sewn_to_itself_by():
    leg = PieceShape(
        ((0.0, 0.0), (0.0, 300.0), (1000.0, 300.0), (1000.0, 0.0), (250.0, -50.0)),
        edges={"waist": (0, 1), "side": (1, 2), "hem": (2, 3), "inseam": (3, 4), "crotch": (4, 0)},
    )
    pieces = tuple((Piece(n, name, 2, mirrored=True), leg) for n, name in (("1", "Front"), ("2", "Back")))
    seams = (Seam(("1", "side"), ("2", "side")), Seam(("1", "inseam"), ("2", "inseam")))
    cased = NotionsAsk(pieces, seams, {"waist": "casing", "closure": "none"})
    side, inseam, crotch = 1000.0, (750.0**2 + 50.0**2) ** 0.5, (250.0**2 + 50.0**2) ** 0.5
    # two sides, two inseams, four hems, the crotch of front and of back once each, one row round the waist
    assert seam_length(cased) == pytest.approx(2 * side + 2 * inseam + 4 * 300 + 2 * crotch + 4 * 300)
    banded = replace(cased, features={"waist": "band", "closure": "fly"})
    assert seam_length(banded) == pytest.approx(2 * side + 2 * inseam + 4 * 300 + 2 * crotch)
    darted = replace(leg, lines=(Line("dart", ((0.0, 100.0), (90.0, 110.0), (0.0, 120.0))),))
    one = replace(banded, pieces=((pieces[0][0], darted), pieces[1]))
    assert seam_length(one) - seam_length(banded) == pytest.approx(2 * (90.0**2 + 10.0**2) ** 0.5)
