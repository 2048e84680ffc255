"""Finished girths from the pieces, by hand on plain ones and against the measure the demo was drafted for."""

from dataclasses import replace

import pytest

from rowanseed.core.fit.finished_measurements import eases, finished_girths, width_at
from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.pattern.model import Piece
from rowanseed.demo import overshirt, trousers, waistcoat

PANEL = PieceShape(
    ((0, 0), (400, 0), (400, 300), (0, 200)), edges={"side": (2, 3)}, levels={"waist": 0.0, "hip": 200.0}
)


def test_a_width_is_measured_between_the_seam_lines():
    # At x = 200 the panel runs from 0 to 250; the slanting side takes 15 mm across its own direction: 15 / cos.
    slant = (400**2 + 100**2) ** 0.5 / 400
    assert width_at(replace(PANEL, allowance_mm=15.0), 200.0) == pytest.approx(250 - 15 - 15 * slant)
    assert width_at(PANEL, 200.0) == pytest.approx(250)
    assert width_at(PANEL, 900.0) is None


def test_a_fold_loses_no_allowance_and_counts_twice():
    folded = replace(PANEL, fold_edge=((0, 0), (400, 0)))
    girth = finished_girths([(Piece("1", "Front", 1, allowance_mm=0.0), folded)])["hip"]
    assert girth.mm == pytest.approx(500) and girth.parts[0].times == 2


def test_darts_are_folded_away_and_what_lies_beyond_the_centre_front_does_not_count():
    darted = replace(PANEL, lines=(Line("dart", ((0, 100), (300, 110), (0, 120))),))
    # The dart narrows from 20 mm at x = 0 to nothing at 300: a third of it is left at 200.
    assert width_at(darted, 200.0) == pytest.approx(250 - 20 / 3)
    overlapped = replace(PANEL, lines=(Line("centre front", ((0, 20), (400, 20))),))
    assert width_at(overlapped, 200.0) == pytest.approx(230)


def test_a_limb_is_measured_round_one_of_two():
    sleeve = replace(PANEL, levels={"upper_arm": 200.0})
    assert finished_girths([(Piece("4", "Sleeve", 2, allowance_mm=0.0), sleeve)])["upper_arm"].mm == pytest.approx(250)


@pytest.mark.parametrize(("module", "zone", "ease_mm"), [(overshirt, "bust", 130.0), (waistcoat, "bust", 90.0)])
def test_the_demo_pieces_measure_round_the_bust_what_they_were_drafted_for(module, zone, ease_mm):
    pattern = module.pattern()
    for size in pattern.sizes:
        girths = finished_girths([(p, p.shapes[size.size]) for p in pattern.pieces_of("A", "self")])
        assert eases(girths, {zone: size.body[zone].mm})[zone] == pytest.approx(ease_mm, abs=2.5)


def test_the_trousers_measure_round_the_hip_body_and_ease():
    pattern = trousers.pattern()
    girths = finished_girths([(p, p.shapes["40"]) for p in pattern.pieces_of("A", "self")])
    assert girths["hip"].mm == pytest.approx(1000 + 100 + 12, abs=3)  # hip, ease, and the draft's 14 - 8 mm twice
