"""Pieces that fill the cloth without a gap: known dissections, rectangles cut up at random, and what does not tile."""

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.instances import jigsaw
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.demand import items_for
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.core.lay.tiling import tiling
from tests.core.lay.pieces import SHIRT, rect


def laid(pieces, width, **cloth):
    """The checked lay of pieces on plain cloth in a single layer, without a gap, at the lightest effort."""
    request = LayRequest(LayCloth(width, **cloth), tuple(pieces), "single", (), 0.0, "quick")
    found = lay(request)
    assert check_lay(request, found) == []
    return found


def test_nine_squares_fill_the_squared_rectangle():
    # The smallest rectangle cut into squares no two of which are alike, 33 x 32: Z. Moron, Przeglad Mat. Fiz. 3 (1925).
    squares = [LayPiece(f"s{side}", rect(10.0 * side, 10.0 * side)) for side in (18, 15, 14, 10, 9, 8, 7, 4, 1)]
    assert laid(squares, 320.0).length_mm == pytest.approx(330.0, abs=0.05)


def test_the_seven_tans_fill_their_square():
    # The tangram, an old puzzle: its square of side 4 units cut into seven.
    tans = {
        "large 1": [(0, 0), (4, 0), (2, 2)],
        "large 2": [(0, 0), (2, 2), (0, 4)],
        "middle": [(4, 2), (4, 4), (2, 4)],
        "small 1": [(4, 0), (4, 2), (3, 1)],
        "small 2": [(2, 2), (3, 3), (1, 3)],
        "square": [(3, 1), (4, 2), (3, 3), (2, 2)],
        "parallelogram": [(0, 4), (1, 3), (3, 3), (2, 4)],
    }
    pieces = [LayPiece(name, tuple((100.0 * x, 100.0 * y) for x, y in points)) for name, points in tans.items()]
    assert laid(pieces, 400.0).length_mm == pytest.approx(400.0, abs=0.05)


@settings(max_examples=12)
@given(seed=st.integers(0, 10_000), count=st.integers(5, 14), one_way=st.booleans())
def test_a_rectangle_cut_up_is_found_whole_again(seed, count, one_way):
    cut = jigsaw(seed, count, 1400.0, 1000.0)
    pieces = list(cut.pieces)
    random.Random(seed).shuffle(pieces)
    rounded = [LayPiece(p.id, tuple((round(x, 2), round(y, 2)) for x, y in p.outline)) for p in pieces]
    found = laid(rounded, 1400.0, nap="one-way" if one_way else "none")
    assert found.length_mm == pytest.approx(1000.0, abs=0.1)


def test_halves_lie_on_the_fold_and_pairs_through_both_layers():
    # Folded, 500 wide: two unlike halves end to end along the fold, a pair of either hand beside each.
    fold = ((0.0, 0.0), (300.0, 0.0))
    low = LayPiece("l", ((0.0, 0.0), (300.0, 0.0), (380.0, 200.0), (0.0, 200.0)), 1, False, fold)
    high = LayPiece("h", ((0.0, 0.0), (380.0, 0.0), (300.0, 200.0), (0.0, 200.0)), 1, False, ((0.0, 0.0), (380.0, 0.0)))
    pair = LayPiece("p", ((0.0, 0.0), (380.0, 0.0), (300.0, 200.0), (0.0, 200.0)), 4, True)
    band = LayPiece("b", rect(680.0, 100.0), 2, True)
    request = LayRequest(LayCloth(1000.0), (low, high, pair, band), "lengthwise-fold", (), 0.0, "quick")
    found = lay(request)
    assert check_lay(request, found) == []
    assert found.length_mm == pytest.approx(680.0, abs=0.05)


@pytest.mark.parametrize("gap", [0.0, 3.0])
def test_a_garment_does_not_tile(gap):
    assert tiling([i for p in SHIRT for i in items_for(p, "single", False)], 1400.0, gap) is None


def test_with_a_gap_or_another_width_nothing_tiles():
    squares = [i for k in range(6) for i in items_for(LayPiece(f"q{k}", rect(200.0, 200.0)), "single", False)]
    assert tiling(squares, 600.0, 0.0)[1] == pytest.approx(400.0)
    assert tiling(squares, 600.0, 1.0) is None
    assert tiling(squares, 700.0, 0.0) is None
