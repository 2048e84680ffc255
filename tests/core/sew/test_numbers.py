"""The numbers at the machine, against the trade's check values (common practice, no source)."""

import pytest

from rowanseed.core.pattern.quick import draw_quick
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.numbers import Facts, cap_and_armhole, numbers_for
from rowanseed.core.sew.settings import machine_settings
from rowanseed.demo import overshirt
from tests.core.sew.test_library import LIBRARY

BY_ID = {op.id: op for op in LIBRARY.operations}
INCHES = Facts("in")


def say(op, facts=INCHES, name=None):
    numbers = numbers_for(BY_ID[op], facts)
    return numbers[name] if name else " ".join(numbers.values())


def test_a_hem_turned_twice_by_a_quarter_and_one_inch_has_its_lines_at_a_half_and_two_and_a_quarter():
    assert "chalk lines 1/2 in (1.3 cm) and 2 1/4 in (5.7 cm)" in say("press-hem")


def test_a_single_hem_of_an_inch_has_its_line_at_two():
    assert "chalk line 2 in" in say("press-hem", Facts("in", hem="single"))


def test_a_french_seam_in_five_eighths_is_a_quarter_and_three_eighths():
    assert "1/4 in" in say("french-first-pass", name="french-seam")
    assert "3/8 in" in say("french-first-pass", name="french-seam")


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


def test_buttonholes_are_spaced_on_the_fronts_own_length():
    front = draw_quick("rectangle", {"length": "63.5 cm", "width": "20 cm"})
    shape = type(front)(front.outline, edges={"centre": front.edges["side"]})
    # From 1.5 cm to 8 cm above the hem of 63.5: 54 cm in six gaps, 9 cm each.
    assert "every 9 cm (3 1/2 in)" in say("sew-buttonholes", Facts("cm", shapes={"Front": shape}), "buttonhole-spacing")


def test_every_operations_numbers_can_be_said_without_knowing_the_pieces():
    for op in LIBRARY.operations:
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
    got = machine_settings(BY_ID["sew-side-seams"], cloth)
    assert (got["needle"], got["stitch"]) == (needle, stitch)


def test_thick_cloth_takes_the_walking_foot_and_pile_is_hardly_pressed():
    assert machine_settings(BY_ID["sew-side-seams"], ClothTraits(piled=True))["foot"] == "walking foot"
    assert "pile" in machine_settings(BY_ID["press-side-seams"], ClothTraits(piled=True))
    assert machine_settings(BY_ID["mark-pieces"], ClothTraits()) == {}
    assert "waves" in machine_settings(BY_ID["finish-raw-edges"], ClothTraits(knit=True))["differential"]
