"""The easiest way to cut: worked by hand on six rectangles, on cloth that has room for a fold and on cloth that has not."""

from dataclasses import replace

import pytest

from rowanseed.core.lay.easiest import easiest_that_fits, trial_of, work_to_cut
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest, Match, SpreadTrial

# Three pairs of 450 by 600 on cloth 1400 wide: on the fold one beside another has no room, so three rows of 600; in a single
# layer three lie side by side, two rows.
PAIRS = tuple(LayPiece(name, ((0, 0), (600, 0), (600, 450), (0, 450)), 2, mirrored=True) for name in "abc")


def laid(length, pieces=PAIRS, **more):
    return lay(LayRequest(LayCloth(1400.0, length_mm=length), pieces, "easiest", effort="quick", **more))


def test_with_cloth_enough_the_fold_with_half_the_cuts_is_taken_and_the_shortest_named():
    found = laid(2000.0)
    assert found.spread == "lengthwise-fold" and len(found.placements) == 3 and found.length_mm == pytest.approx(1800.0)
    said = next(f.text for f in found.findings if f.code == "easiest")
    assert "3 cuts" in said and "60 cm" in said and "6 cuts" in said


def test_with_cloth_for_the_single_layer_only_that_is_taken():
    found = laid(1250.0)
    assert found.spread in ("single", "crosswise-fold") and found.length_mm <= 1250.0 and not found.short_mm


def test_where_nothing_fits_or_nothing_is_in_hand_the_shortest_is_taken():
    shortest = lay(LayRequest(LayCloth(1400.0), PAIRS, "best", effort="quick"))
    for length in (None, 900.0):
        found = laid(length)
        assert (found.spread, found.length_mm) == (shortest.spread, pytest.approx(shortest.length_mm))
        assert not any(f.code == "easiest" for f in found.findings)


def test_a_half_opened_out_and_a_print_on_the_fold_count_as_work():
    request = LayRequest(LayCloth(1400.0, length_mm=2000.0), PAIRS)
    fold, single = SpreadTrial("lengthwise-fold", 1800, 3), SpreadTrial("single", 1200, 6)
    assert easiest_that_fits(request, [single, fold]) == fold
    assert work_to_cut(request, replace(fold, opened=2)) == 9.0
    matched = replace(request, matches=(Match(("a", "m"), ("b", "m")),))
    assert easiest_that_fits(matched, [single, fold]) == single
    assert easiest_that_fits(request, [replace(fold, failed=1)]) is None


def test_a_fold_piece_that_is_laid_in_a_single_layer_is_opened_out():
    half = LayPiece("back", ((0, 0), (600, 0), (600, 300), (0, 300)), fold_edge=((0, 0), (600, 0)))
    request = LayRequest(LayCloth(1400.0), (half,), "single", effort="quick")
    assert trial_of(request, lay(request)).opened == 1
    folded = replace(request, spread="lengthwise-fold")
    assert trial_of(folded, lay(folded)).opened == 0
