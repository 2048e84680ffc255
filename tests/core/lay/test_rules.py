"""Flaws, edges on the selvage and locked pieces: kept by the engine, checked by the checker."""

from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.demand import flaw_band
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, Locked
from tests.core.lay.pieces import SHIRT, rect, request, wedge

BAND = LayPiece("band", rect(700.0, 80.0), 1, selvage_edge=((0.0, 0.0), (700.0, 0.0)))


def codes(found):
    return {f.code for f in found.findings}


def one(found, piece):
    return next(p for p in found.placements if p.piece == piece)


def ys(placement):
    return [y for _, y in placement.outline]


def test_a_flaw_is_kept_clear_of_and_costs_its_length():
    # Four of 350 fill the width of 1400; a flaw at the cut end pushes them past it.
    squares = [LayPiece("1", rect(500.0, 350.0), 4)]
    clear = lay(request(squares, spread="single"))
    spoilt = request(squares, spread="single", flaws=((0.0, 600.0, 40.0, 640.0),))
    found = lay(spoilt)
    assert clear.length_mm == pytest.approx(500) and found.length_mm == pytest.approx(540, abs=0.5)
    assert check_lay(spoilt, found) == [] and not codes(found) & {"lay-refused", "not-matched"}


def test_a_flaw_that_lies_in_the_waste_costs_nothing_and_does_not_count():
    asked = request([LayPiece("1", rect(500.0, 350.0), 2)], spread="single", flaws=((900.0, 0.0, 950.0, 1400.0),))
    assert lay(asked).length_mm == pytest.approx(500)


@pytest.mark.parametrize(
    ("low", "high", "band"),
    [(100, 200, (500, 600)), (900, 1000, (200, 300)), (600, 780, (0, 100)), (650, 900, (0, 200))],
)
def test_a_flaw_on_the_open_cloth_is_found_again_on_the_fold(low, high, band):
    assert flaw_band(LayCloth(1400.0), "lengthwise-fold", low, high) == band
    assert flaw_band(LayCloth(1400.0), "single", low, high) == (low, high)


def test_a_piece_laid_on_a_flaw_is_named():
    found = lay(request(SHIRT, spread="single", gap_mm=3.0))
    x, y = one(found, "back").outline[0]
    spoilt = request(SHIRT, spread="single", gap_mm=3.0, flaws=((x - 20, y - 20, x + 20, y + 20),))
    assert "on-a-flaw" in {f.code for f in check_lay(spoilt, found)}


@pytest.mark.parametrize("spread", ["single", "lengthwise-fold"])
def test_a_selvage_edge_lies_on_the_selvages_outer_edge(spread):
    asked = request([BAND, *SHIRT], spread=spread, selvage_mm=(12.0, 12.0), gap_mm=3.0)
    found = lay(asked)
    width = found.lanes[0].to_mm
    band = ys(one(found, "band"))
    assert max(band) == pytest.approx(width) or (spread == "single" and min(band) == pytest.approx(0))
    assert check_lay(asked, found) == []
    assert all(min(ys(p)) >= 12 - 1e-6 for p in found.placements if p.piece != "band") or spread != "single"


def test_a_band_moved_off_the_selvage_is_named():
    asked = request([BAND], spread="single", selvage_mm=(12.0, 12.0))
    found = lay(asked)
    placement = found.placements[0]
    away = 1.0 if min(ys(placement)) < 1 else -1.0
    moved = replace(placement, outline=tuple((x, y + away) for x, y in placement.outline))
    assert {f.code for f in check_lay(asked, replace(found, placements=(moved,)))} == {"off-the-selvage"}


@pytest.mark.parametrize("edge", [((0.0, 0.0), (0.0, 80.0)), ((0.0, 40.0), (700.0, 40.0))])
def test_an_edge_that_cannot_lie_on_the_selvage_is_said(edge):
    found = lay(request([replace(BAND, selvage_edge=edge)], spread="single"))
    assert found.failed == ("band",) and codes(found) == {"selvage-edge-impossible"}


def test_a_locked_piece_stays_and_the_others_are_laid_round_it():
    held = Locked("sleeve", 0, 333.3, 444.4)
    asked = request(SHIRT, spread="single", gap_mm=3.0, locked=(held,))
    found = lay(asked)
    corners = [(min(x for x, _ in p.outline), min(ys(p))) for p in found.placements if p.piece == "sleeve"]
    assert any(c == pytest.approx((333.3, 444.4)) for c in corners)
    assert check_lay(asked, found) == []


def test_a_lock_moved_is_named_and_a_lock_that_cannot_be_held_is_said():
    asked = request(SHIRT, spread="single", gap_mm=3.0, locked=(Locked("sleeve", 0, 333.3, 444.4),))
    found = lay(request(SHIRT, spread="single", gap_mm=3.0))
    assert "lock-moved" in {f.code for f in check_lay(asked, found)}
    napped = request(SHIRT, spread="single", nap="one-way", locked=(Locked("sleeve", 0, 0.0, 0.0, 180.0),))
    assert "lock-dropped" in codes(lay(napped))


def test_everything_locked_ends_at_once():
    asked = request(
        [LayPiece("1", rect(200.0, 100.0))], spread="single", effort="good", locked=(Locked("1", 0, 500.0, 40.0),)
    )
    found = lay(asked)
    assert found.length_mm == pytest.approx(700) and check_lay(asked, found) == []


FLAW = st.tuples(st.floats(0, 900), st.floats(0, 1000), st.floats(5, 90), st.floats(5, 90)).map(
    lambda f: (f[0], f[1], f[0] + f[2], f[1] + f[3])
)


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(FLAW, max_size=4), st.sampled_from(["single", "lengthwise-fold"]), st.booleans())
def test_any_flaws_and_bands_are_laid_soundly(flaws, spread, banded):
    pieces = [
        wedge("1", 400.0, 300.0, 200.0, 2, True),
        LayPiece("2", rect(250.0, 180.0), 3),
        *([BAND] if banded else []),
    ]
    asked = request(pieces, width=1200.0, selvage_mm=(10.0, 10.0), spread=spread, gap_mm=2.0, flaws=tuple(flaws))
    found = lay(asked)
    assert check_lay(asked, found) == [] and not found.failed


@pytest.mark.parametrize("spread", ["single", "lengthwise-fold", "part-fold", "double-fold"])
def test_a_piece_whose_allowance_is_added_is_held_by_its_own_outline(spread):
    pieces = [
        LayPiece("1", rect(300.0, 150.0), 2, True, allowance_mm=15.0),
        LayPiece("2", rect(200.0, 100.0), 2, True, allowance_mm=15.0),
    ]
    asked = request(pieces, width=1200.0, spread=spread)
    first = next(p for p in lay(asked).placements if p.piece == "2")
    x, y = min(x for x, _ in first.outline), min(y for _, y in first.outline)
    held = replace(asked, locked=(Locked("2", first.lane, x, y, first.turned, first.face_down),))
    found = lay(held)
    assert check_lay(held, found) == [] and "lock-dropped" not in codes(found)


@pytest.mark.parametrize("nap", ["none", "one-way"])
@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    flaws=st.lists(
        st.tuples(st.integers(0, 2200), st.integers(0, 900), st.integers(5, 60), st.integers(5, 60)),
        min_size=1,
        max_size=3,
    )
)
def test_in_cloth_folded_across_the_flaws_of_both_layers_are_kept_clear_of(nap, flaws):
    spots = tuple((float(x), float(y), float(x + dx), float(y + dy)) for x, y, dx, dy in flaws)
    pieces = [LayPiece("1", rect(420.0, 330.0), 4, True), LayPiece("2", rect(300.0, 200.0), 2, True)]
    asked = request(pieces, width=1000.0, spread="crosswise-fold", nap=nap, flaws=spots)
    found = lay(asked)
    assert check_lay(asked, found) == []
    if found.spread != "crosswise-fold":
        return
    fold = found.lanes[0].end_mm
    assert found.length_mm == pytest.approx(2 * fold)
    for p in found.placements:  # every corner unfolded by hand, upper layer and lower
        xs, ys = [x for x, _ in p.outline], [y for _, y in p.outline]
        upper = (
            (min(xs) + fold, 1000 - max(ys), max(xs) + fold, 1000 - min(ys))
            if nap == "one-way"
            else (2 * fold - max(xs), min(ys), 2 * fold - min(xs), max(ys))
        )
        for x0, y0, x1, y1 in ((min(xs), min(ys), max(xs), max(ys)), upper):
            for a0, b0, a1, b1 in spots:
                assert x1 <= a0 + 0.1 or a1 <= x0 + 0.1 or y1 <= b0 + 0.1 or b1 <= y0 + 0.1


def test_a_piece_on_a_flaw_of_the_upper_layer_is_named():
    pieces = [LayPiece("1", rect(400.0, 900.0), 2, True)]
    clean = request(pieces, width=1000.0, spread="crosswise-fold")
    found = lay(clean)
    # the fold lies at 400: 600 to 640 on the open cloth lies over 160 to 200
    spoilt = replace(clean, cloth=replace(clean.cloth, flaws=((600.0, 300.0, 640.0, 340.0),)))
    assert "on-a-flaw" in {f.code for f in check_lay(spoilt, found)}
