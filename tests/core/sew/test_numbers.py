"""The numbers at the machine, against the trade's check values (common practice, no source)."""

from dataclasses import replace

import pytest

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.figures import Figures, read_notions
from rowanseed.core.pattern.model import Piece
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.numbers import SUMS, AtThing, Facts, cap_and_armhole, numbers_for
from rowanseed.core.sew.settings import machine_settings
from rowanseed.demo import overshirt
from tests.core.sew.test_library import LIBRARY, standing

BY_ID = {t.id: standing(t) for t in reversed(LIBRARY.templates)}
INCHES = Facts("in")


def facts(unit="in", own=None, pieces=(), envelope="", **features):
    own = own or Figures()
    return Facts(unit, required=requirements(Ask(tuple(pieces), features, own, envelope=envelope, unit=unit)))


def say(op, facts=INCHES, name=None):
    numbers = numbers_for(BY_ID[op], facts)
    return numbers[name] if name else " ".join(numbers.values())


def test_a_hem_turned_twice_by_a_quarter_and_one_inch_has_its_lines_at_a_half_and_two_and_a_quarter():
    assert "chalk lines 1/2 in (1.3 cm) and 2 1/4 in (5.7 cm)" in say("press-hem")


def test_a_single_hem_of_an_inch_has_its_line_at_two():
    assert "chalk line 2 in" in say("press-hem", facts(hem="single"))


SLEEVE_HEM = replace(BY_ID["hem-sleeves"], on=("sleeve.wrist",))


def sleeve_of(allowance_mm):
    shape = PieceShape(
        ((0, 0), (0, 300), (400, 300), (400, 0)),
        edges={"wrist": (0, 1)},
        allowances={"wrist": allowance_mm} if allowance_mm else {},
    )
    return Piece("3", "Sleeve", 2, shapes={"M": shape}), shape


@pytest.mark.parametrize(
    ("sleeve_mm", "features", "said"),
    [
        (None, {"hem": "bound", "seam-finish": "hong-kong"}, "One fold of 1 1/2 in"),  # a bound edge is turned up once
        (None, {"hem": "faced"}, "Folds of 1/4 in (0.6 cm) and 1 in"),
        (None, {"hem": "ribbed", "lining": "bagged"}, "One fold of 1 1/2 in"),  # caught inside, below its lining
        (None, {"hem": "narrow"}, "Folds of 1/4 in (0.6 cm) and 1/4 in"),
        (44.45, {"hem": "double"}, "Folds of 1/4 in (0.6 cm) and 1 1/2 in (3.8 cm) (the sleeve's hem as it is drawn)"),
    ],
)
def test_a_sleeves_hem_is_its_own(sleeve_mm, features, said):
    # Common practice, no source: the edge as it is drawn, else folded as the body's hem where that is folded at all.
    assert said in numbers_for(SLEEVE_HEM, facts(pieces=(sleeve_of(sleeve_mm),), **features))["hem"]


def test_a_hem_depth_typed_in_the_make_is_the_sleeves_too_and_one_typed_for_the_wrist_stands_before_it():
    typed = facts(own=Figures(hem_second=parse_length("2 in")))
    assert "and 2 in" in numbers_for(SLEEVE_HEM, typed)["hem"] and "and 2 in" in say("press-hem", typed)
    own = replace(typed, at={"sleeve.wrist": AtThing(second_mm=19.05)})
    assert "and 3/4 in" in numbers_for(SLEEVE_HEM, own)["hem"]
    assert "and 2 in" in numbers_for(replace(BY_ID["press-hem"], on=("body.hem",)), own)["hem"]


def test_a_french_seam_in_five_eighths_is_a_quarter_and_three_eighths():
    assert "1/4 in" in say("french-{seam}", name="french-seam")
    assert "3/8 in" in say("french-{seam}", name="french-seam")


def test_a_waistband_of_72_with_3_overlap_is_cut_78():
    assert "cut 78 cm" in say("make-waistband", Facts("cm", allowance_mm=15.0, waist_mm=720.0))


def test_the_elastic_is_nine_tenths_of_the_waist_and_a_join():
    assert "74.5 cm" in say("thread-elastic", Facts("cm", waist_mm=800.0))


def test_cap_ease_is_measured_on_the_seam_line_and_is_what_the_pattern_means():
    pattern = overshirt.pattern()
    shapes = {p.name: p.shapes["14"] for p in pattern.pieces if p.role == "self"}
    facts = Facts("cm", allowance_mm=15.0, shapes=shapes)
    cap, armhole = cap_and_armhole(facts)
    meant = sum(seam.meant_mm for seam in pattern.seams if seam.why == "cap ease")
    assert cap - armhole == pytest.approx(meant, abs=0.5)
    assert "2.2 cm (7/8 in) to ease in" in say("set-sleeves-flat", facts, "cap-ease")


def front_of(length_mm, name="Front", role="self"):
    shape = PieceShape(
        ((0, 0), (0, 200), (length_mm, 200), (length_mm, 0)), edges={"neck": (0, 1), "hem": (2, 3), "centre": (3, 0)}
    )
    piece = Piece(name, name, 2, role, True, allowance_mm=15.0, edge_allowances={"hem": 40.0}, shapes={"M": shape})
    return piece, piece.shapes["M"]


def test_buttonholes_are_spaced_on_the_front_alone_from_its_seam_line_by_the_buttons_typed():
    # 63.5 cm cut, 1.5 cm off at the neck and 4 cm of hem: 58 cm; linings and a second front are not added to it
    pieces = [front_of(635), front_of(635, "Front lining", "lining"), front_of(290, "Front facing", "lining")]
    told = say("sew-buttonholes", facts("cm", pieces=pieces, closure="buttons"), "buttonhole-spacing")
    # from 1.5 cm to 8 cm above the hem: 48.5 cm; about every 9 cm are 6 buttons, 9.7 cm apart
    assert "6 on a front of 58 cm" in told and "every 9.7 cm" in told
    typed = facts("cm", Figures(buttons=12), pieces, closure="buttons", cuff="band")
    assert "10 on a front" in say("sew-buttonholes", typed, "buttonhole-spacing")
    assert typed.required.buttons.total == 12 and typed.required.buttons.cuffs == 2


def test_the_buttonhole_is_the_typed_button_and_its_thickness():
    own = Figures(button=parse_length("11.8 mm"), button_thick=parse_length("2 mm"))
    told = facts("in", own, [front_of(635)], closure="buttons")
    assert told.required.buttons.hole_mm == pytest.approx(13.8)
    assert SUMS["buttonhole"](told).startswith("9/16 in")


def test_a_two_inch_hem_typed_once_is_told_as_two_inches():
    own = Figures(hem_first=parse_length("1/4 in"), hem_second=parse_length("2 in"))
    # lines at 2a and a + 2b: 1/2 and 4 1/4 in
    assert "1/2 in (1.3 cm) and 4 1/4 in" in say("press-hem", facts(own=own)) and "typed in this make" in say(
        "press-hem", facts(own=own)
    )
    drawn = facts("cm", pieces=[front_of(635)], hem="double")
    # the hem's own 4 cm, of which the first fold takes 1/4 in
    assert drawn.required.hem_second.mm == pytest.approx(40 - 6.35) and "drawn" in say("press-hem", drawn)


def test_a_waistband_is_told_as_it_is_drawn_with_the_overlap_that_was_typed():
    band = Piece("5", "Waistband", 1, shapes={"M": PieceShape(((0, 0), (0, 110), (810, 110), (810, 0)))})
    own = Figures(overlap=parse_length("4 cm"))
    known = Facts("cm", waist_mm=720.0, required=requirements(Ask(((band, band.shapes["M"]),), {"waist": "band"}, own)))
    # 81 cm cut less two allowances of 1.5: 78; 72 of waist and 4 of overlap leave 2 of ease; 11 less 3, halved: 4 wide
    told = say("make-waistband", known)
    assert "78 cm (30 3/4 in) between its ends, 4 cm" in told and "2 cm (3/4 in) of ease" in told


def test_the_envelopes_notions_are_read_and_what_is_typed_wins():
    read = read_notions("Seven buttons 5/8 in, 1 zip 9 in, elastic 3 cm wide, thread")
    assert (read.buttons, read.button.mm, read.zip.mm, read.elastic.mm) == (7, 15.875, pytest.approx(228.6), 30.0)
    told = facts(envelope="12 buttons of 18 mm", pieces=[front_of(635)], closure="buttons").required.buttons
    assert (told.total, told.across.mm) == (12, 18.0) and "envelope" in told.source
    typed = facts(own=Figures(buttons=5), envelope="12 buttons", pieces=[front_of(635)], closure="buttons")
    assert typed.required.buttons.total == 5


def test_every_operations_numbers_can_be_said_without_knowing_the_pieces():
    for op in BY_ID.values():
        assert all(numbers_for(op, Facts()).values())


@pytest.mark.parametrize(
    ("cloth", "needle", "stitch"),
    [
        (ClothTraits(), "80/12 universal", "2.5 mm"),
        (ClothTraits("heavy", piled=True), "100/16 universal", "3.5 mm"),
        (ClothTraits("light", slippery=True), "70/10 microtex", "2.0 mm"),
        (ClothTraits(knit=True), "80/12 ballpoint", "narrow zigzag, 2.5 mm long"),
    ],
)
def test_needle_and_stitch_follow_the_cloth(cloth, needle, stitch):
    got = machine_settings(BY_ID["sew-{seam}"], cloth)
    assert (got["needle"], got["stitch"]) == (needle, stitch)


def test_thick_cloth_takes_the_walking_foot_and_pile_is_hardly_pressed():
    assert machine_settings(BY_ID["sew-{seam}"], ClothTraits(piled=True))["foot"] == "walking foot"
    assert "pile" in machine_settings(BY_ID["press-{seam}"], ClothTraits(piled=True))
    assert machine_settings(BY_ID["mark-pieces"], ClothTraits()) == {}
    assert "waves" in machine_settings(BY_ID["finish-raw-edges"], ClothTraits(knit=True))["differential"]


def test_an_armhole_is_trimmed_to_a_width_and_ease_rows_follow_the_allowance():
    # An allowance of 5/8 in less 1/4 in is 3/8 in; rows at 3/8 and 5/8 in. With 1 cm there is nothing to trim.
    assert "from 5/8 in" in say("trim-armholes", name="armhole-trim") and "to 3/8 in" in say(
        "trim-armholes", name="armhole-trim"
    )
    assert "3/8 in" in say("ease-sleeve-cap", name="cap-ease") and "5/8 in" in say("ease-sleeve-cap", name="cap-ease")
    narrow = replace(INCHES, allowance_mm=10.0)
    assert "stays as it is" in say("trim-armholes", narrow, "armhole-trim")


def test_gathers_are_told_from_the_edges_that_meet():
    skirt = PieceShape(
        ((0.0, 0.0), (0.0, 900.0), (500.0, 900.0), (500.0, 0.0)), edges={"waist": (0, 1)}, allowance_mm=0.0
    )
    bodice = PieceShape(
        ((0.0, 0.0), (0.0, 360.0), (300.0, 360.0), (300.0, 0.0)), edges={"waist": (0, 1)}, allowance_mm=0.0
    )
    told = numbers_for(BY_ID["draw-up-gathers"], Facts(shapes={"Skirt front": skirt, "Bodice front": bodice}))[
        "gather-ratio"
    ]
    assert "90 cm" in told and "36 cm" in told and "2.5 to 1" in told and "9 cm" in told


def test_a_zip_is_as_long_as_its_garment_opens():
    # Down a dress's back about 55 cm, a jacket's front about 60 cm, a skirt to the hip about 20 cm: common practice, no source.
    def opening(**features):
        return facts("cm", **features).required.opening.mm

    assert opening(closure="invisible-zip", neck="facing", armhole="facing") == 550.0
    assert opening(closure="separating-zip", collar="hooded", sleeve="set-in") == 600.0
    assert opening(closure="lapped-zip", waist="band") == 200.0


def test_plackets_cuffs_and_a_buttoned_band_have_their_buttons():
    def buttons(**features):
        told = facts("cm", **features).required.buttons
        return told and (told.front, told.cuffs, told.elsewhere)

    assert buttons(closure="placket") == (3, 0, 0)
    assert buttons(closure="none", cuff="band") == (0, 2, 0)
    assert buttons(closure="placket", waist="band") is None  # a skirt's, hooked on its band
    assert buttons(closure="placket", waist="band", **{"band-closure": "button"}) == (0, 0, 1)
    assert buttons(closure="fly", waist="band") is None  # its band is hooked
    assert buttons(**{"closure": "fly", "waist": "band", "band-closure": "button"}) == (0, 0, 1)


def test_a_gathered_cap_is_gathered_and_not_eased():
    told = say("set-sleeves-flat", replace(facts("cm"), sleeve="gathered"), "cap-ease")
    assert "drawn up between the notches" in told and "ease" not in told


def test_no_number_names_a_shoulder_that_a_garment_with_straps_does_not_have():
    # Common practice, no source: with straps the rows begin where these are sewn in, and their buttonholes lie along the pull.
    strapped = Facts("cm", straps="buttoned")
    for step in ("staystitch-neck", "staystitch-armholes", "staystitch-lining"):
        assert "from the straps' places to" in say(step, strapped) and "from shoulder to" in say(step)
    assert "Along the strap" in say("sew-buttonholes", strapped) and "Upright" in say("sew-buttonholes")
    assert "from above the bust to below it in one run" in say("staystitch-panels")


def test_the_shoulder_says_how_much_is_eased_where_the_pieces_tell_it():
    # The overshirt's yoke is 7.8 mm longer than its front on the seam line (6 declared, 3 allowed); the rest is common practice.
    def eased(facts):
        return SUMS["shoulder-ease"](facts)

    shirt = overshirt.pattern()
    pieces = {p.name: p.shapes["12"] for p in shirt.pieces if p.role == "self"}
    assert "ease the back's 0.8 cm (1/4 in) to the front" in eased(Facts("cm", shapes=pieces))
    assert "Often the back shoulder" in eased(Facts("cm"))
    assert not eased(Facts("cm", knit=True)) and not eased(Facts("cm", yoke="double"))
    alike = {
        name: PieceShape(((0, 0), (0, 120), (300, 120), (300, 0)), edges={"shoulder": (0, 1)})
        for name in ("Back", "Front")
    }
    assert not eased(Facts("cm", shapes=alike))
