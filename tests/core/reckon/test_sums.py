"""The sums against plane geometry, and every calculator's example, figure and steps."""

import doctest
import importlib
import math
import pkgutil
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Polygon, box

import rowanseed.core
from rowanseed.core.errors import ReckonError
from rowanseed.core.lengths import MM_PER
from rowanseed.core.reckon.bias import continuous_length, square_for, strips_from, strips_needed
from rowanseed.core.reckon.buttons import through_bust
from rowanseed.core.reckon.catalogue import CALCULATORS, figure_of, reckon
from rowanseed.core.reckon.counting import steps_for, steps_in
from rowanseed.core.reckon.pleats import cartridge_marks, pleats, shirring
from rowanseed.core.reckon.round_skirt import round_skirt
from rowanseed.formats.bench_svg import bench_figure
from rowanseed.formats.sewing import library

IN = MM_PER["in"]


@given(st.floats(200, 2000), st.floats(200, 2000), st.floats(20, 80))
def test_bias_strips_lie_in_the_piece_and_never_give_more_than_its_area(a, b, strip):
    cut = strips_from(a, b, strip, 0.0, least_mm=0.0)
    assert cut.used <= 1 + 1e-9
    assert max(cut.joined_mm, continuous_length(a, b, strip, 0.0)) * strip <= a * b + 1e-6
    # the longest strip, drawn: a band at 45 degrees clipped to the rectangle holds it
    longest = cut.lengths_mm[0]
    assert longest <= math.sqrt(2) * min(a, b) + 1e-6
    middle = (a + b) / 2
    inside = LineString([(middle - 9999, 9999), (middle + 9999, -9999)]).intersection(box(0, 0, a, b)).length
    assert longest <= inside + strip * 2


def test_a_square_gives_back_the_length_it_was_worked_out_for():
    side = square_for(6000, 40, 6)
    assert continuous_length(side, side, 40, 6) >= 6000 - 1e-6
    assert all(continuous_length(less, less, 40, 6) < 6000 for less in (side - 1, side - 20, side - 60))


def test_a_tube_is_cut_in_whole_turns():
    # 50 cm square, two seams of 6 mm: 488 mm are left, 345 mm between the bias edges: 8 strips of 4 cm, each 690 mm round
    assert continuous_length(500, 500, 40, 6) == pytest.approx(8 * 488 * math.sqrt(2))
    # and of a long piece the better way round: 280 mm hold 4 turns of 849 mm, 849 mm hold 21 of 283 mm
    assert continuous_length(1200, 400, 40, 0) == pytest.approx(21 * 400 * math.sqrt(2))


def test_more_binding_takes_more_strips_and_more_squares():
    few, many = strips_needed(10_000, 40, 6), strips_needed(100_000, 40, 6)
    assert few[0] < many[0] and few[1] < many[1]
    for (strips, squares), wanted in ((few, 10_000), (many, 100_000)):
        per_square = strips_from(500, 500, 40, 6)
        assert (squares - 1) * len(per_square.lengths_mm) < strips <= squares * len(per_square.lengths_mm)
        assert squares * sum(per_square.lengths_mm) > wanted


@pytest.mark.parametrize("share", [0.25, 0.5, 0.75, 1.0, 2.0])
def test_the_waist_of_a_round_skirt_is_its_share_of_a_circle(share):
    skirt = round_skirt(720, 600, share, 15, 20)
    seam_line = skirt.waist_mm + 15
    assert 2 * math.pi * seam_line * share == pytest.approx(720)
    assert skirt.hem_mm - 20 - seam_line == pytest.approx(600)
    ring = Polygon([(seam_line * math.cos(t / 500), seam_line * math.sin(t / 500)) for t in range(3142)])
    assert ring.length * share == pytest.approx(720, rel=0.002)
    with pytest.raises(ReckonError):
        round_skirt(720, 600, 5, 15, 20)


def test_pleats_add_up_and_shirring_counts_its_rows():
    row = pleats(800, 40, 20)
    assert row.cloth_mm == pytest.approx(800 + 20 * 2 * 20)
    # 12 cm at half an inch: a row at 0 and 9 more; half of 90 cm each
    assert shirring(120, 900, 0.5 * IN, 0.5, 12_000).rows == 10
    assert shirring(120, 900, 0.5 * IN, 0.5, 4_000).bobbins == math.ceil(10 * 450 / 4000)


def test_one_button_lies_at_the_bust_and_the_rest_are_as_even_as_can_be():
    plan = through_bust(15, 615, 200, 7)
    places = [15 + plan.above_mm * k for k in range(plan.above + 1)]
    assert places[-1] == pytest.approx(200)
    assert 200 + plan.below_mm * (6 - plan.above) == pytest.approx(615)
    for other in range(1, 6):
        apart = abs((200 - 15) / other - (615 - 200) / (6 - other))
        assert abs(plan.above_mm - plan.below_mm) <= apart + 1e-9


CHECKS = {  # values of the trade, common practice without a source
    ("double-hem", "second_line_mm"): 2.25 * IN,
    ("single-hem", "line_mm"): 3 * IN,
    ("hem-that-loses", "trim_mm"): IN - 3,  # an inch to lose, of which the roll takes 3 mm
    ("french-seam", "second_pass_mm"): 0.375 * IN,
    ("waistband", "length_mm"): 790,  # 72 + 1 of ease + 3 + 2 x 1.5
    ("panel", "length_mm"): 665,
    ("lining-at-facing", "width_mm"): 300 - 100 + 1.25 * IN,
    ("ease-pleat", "whole_mm"): 2 * IN,
    ("cartridge-pleats", "second_row_mm"): 1.125 * IN,
    ("lining-hem", "sewn_mm"): 1000 + 0.5 * IN,
    ("shirring", "gathered_mm"): 450,
    ("zip", "buy_mm"): 200,
    ("square", "along"): 0.032,
}


@pytest.mark.parametrize(("name", "key"), CHECKS)
def test_check_values_of_the_trade(name, key):
    calculator = CALCULATORS[name]
    results = {r.key: r.value for r in reckon(name, {i.key: i.example for i in calculator.inputs})}
    assert results[key] == pytest.approx(CHECKS[(name, key)])


def known_ids():
    """The ids of steps that a garment may have: those of the library, a seam's own put in where it asks for one."""
    seams = {*(seam.id for seam in library().anatomy.seams), *(joint.id for joint in library().anatomy.joints)}
    return {t.id.format(seam=seam) for t in library().templates for seam in seams}


@pytest.mark.parametrize("name", CALCULATORS)
def test_every_sum_has_a_reason_a_figure_and_steps_that_exist(name):
    calculator = CALCULATORS[name]
    typed = {i.key: i.example for i in calculator.inputs}
    assert len(calculator.reason) > 15 and calculator.source
    assert all(r.text for r in reckon(name, typed))
    drawing = bench_figure(figure_of(calculator, typed), calculator.title, "cm")
    assert drawing.startswith("<svg") and "nan" not in drawing and drawing.count("<") > 4
    assert set(calculator.steps) <= known_ids()
    for key in typed:
        with pytest.raises(ReckonError) as caught:
            reckon(name, {**typed, key: "many"})
        assert caught.value.field == key


def test_the_worked_examples_in_the_core_s_docstrings_hold():
    failed = tried = 0
    for found in pkgutil.walk_packages(rowanseed.core.__path__, "rowanseed.core."):
        result = doctest.testmod(importlib.import_module(found.name))
        failed, tried = failed + result.failed, tried + result.attempted
    assert failed == 0 and tried >= 30


@pytest.mark.parametrize(
    ("length_in", "step_in", "marks"), [(24, 0.5, 49), (12, 0.5, 25), (10, 0.1, 101), (7, 0.7, 11)]
)
def test_no_mark_is_lost_because_inches_are_no_round_floats(length_in, step_in, marks):
    assert steps_in(length_in * 25.4, step_in * 25.4) + 1 == marks
    assert steps_for(length_in * 25.4, step_in * 25.4) + 1 == marks


@given(st.integers(1, 400), st.fractions(Fraction(1, 16), 40, max_denominator=16))
def test_steps_are_counted_as_fractions_are(count, step):
    """Held against exact fractions: what is so many steps long has so many steps in it, in inches and in centimetres."""
    for unit in (25.4, 10.0):
        length = float(count * step) * unit
        assert steps_in(length, float(step) * unit) == steps_for(length, float(step) * unit) == count
    assert cartridge_marks(float(count) * 12.7 + 25.4) == count + 3


def test_a_french_seam_that_leaves_nothing_to_trim_to_is_refused_with_what_to_do():
    with pytest.raises(ReckonError, match="trimmed to nothing"):
        reckon("french-seam", {"allowance": 6.35, "first_pass": 3.175})
    assert [r.key for r in reckon("french-seam", {"allowance": 15.875, "first_pass": 9.525})] == [
        "second_pass_mm",
        "trim_mm",
    ]


def test_a_circles_radius_is_told_in_sixteenths_and_a_straight_edge_is_not_clipped():
    # By hand: 72 cm / (2 pi) less 1.5 cm of allowance is 9.96 cm, 3.921 in: 3 15/16 by sixteenths, 3 7/8 by eighths, and the
    # sixteenth between them makes the waist 2 pi x 1.6 mm, a centimetre, smaller.
    skirt = {"waist": 720.0, "long": 600.0, "share": 1.0, "seam": 15.0, "hem": 10.0}
    radius = next(r for r in reckon("circle-skirt", skirt) if r.key == "waist_radius_mm")
    assert "3 15/16 in" in radius.text
    assert reckon("clips", {"curve": 400.0, "radius": 2000.0})[0].value == 0
    assert reckon("clips", {"curve": 400.0, "radius": 80.0})[1].value == 32  # 40 cm by 1.27 cm
