"""From a lay to the open cloth: every piece of cloth, right side up, with the way from the drawn piece to its place."""

import pytest

from rowanseed.core.cloth.prints import Print
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest, Match
from rowanseed.core.lay.on_cloth import cut_pieces
from tests.core.lay.test_matching import BACK_MARKS, FRONT_MARKS, PIECES

PLAID = Print("plaid", True, 100.0, 100.0)
SIDE = Match(("front", "side"), ("back", "side"), True, True)


def landed(cut, point):
    a, b, c, d, e, f = cut.to_cloth
    return a * point[0] + c * point[1] + e, b * point[0] + d * point[1] + f


@pytest.mark.parametrize("spread", ["single", "lengthwise-fold"])
def test_every_piece_of_cloth_is_there_once_right_and_left(spread):
    request = LayRequest(LayCloth(1400.0, (10.0, 10.0), None, "none", PLAID), PIECES, spread, (SIDE,), 2.0, "quick")
    found = cut_pieces(lay(request), request)
    assert sorted((c.piece, c.mirrored) for c in found) == [
        (p, m) for p in ("back", "front", "sleeve") for m in (False, True)
    ]  # the back's two halves count for themselves
    for cut in found:
        a, b, c, d, *_ = cut.to_cloth
        assert (a * d - b * c < 0) == cut.mirrored


@pytest.mark.parametrize("spread", ["single", "lengthwise-fold"])
def test_a_front_and_the_half_back_it_is_sewn_to_carry_the_same_bar(spread):
    request = LayRequest(LayCloth(1400.0, (10.0, 10.0), None, "none", PLAID), PIECES, spread, (SIDE,), 2.0, "quick")
    found = lay(request)
    assert found.unmatched == ()
    cut = {(c.piece, c.mirrored): c for c in cut_pieces(found, request)}
    for mirrored in (False, True):
        front = landed(cut["front", mirrored], FRONT_MARKS["side"])
        back = landed(cut["back", not mirrored], BACK_MARKS["side"])  # right side on right side, as they are sewn
        for k in (0, 1):
            assert abs((front[k] - back[k] + 50.0) % 100.0 - 50.0) < 1.5


def test_the_two_halves_of_a_fold_piece_go_on_over_the_fold():
    request = LayRequest(LayCloth(1400.0, (10.0, 10.0)), (PIECES[1],), "lengthwise-fold", effort="quick")
    halves = cut_pieces(lay(request), request)
    assert [round(landed(h, (0.0, 0.0))[1], 6) for h in halves] == [700.0, 700.0]
    assert landed(halves[0], (0.0, 100.0))[1] + landed(halves[1], (0.0, 100.0))[1] == pytest.approx(1400.0)


def test_a_piece_without_marks_is_found_by_its_outline():
    wedge = LayPiece("w", ((0, 0), (300, 40), (300, 200), (0, 160)), 2, True)
    request = LayRequest(LayCloth(1000.0), (wedge,), "single", effort="quick")
    found = lay(request)
    for cut, placement in zip(cut_pieces(found, request), found.placements, strict=True):
        assert landed(cut, wedge.outline[1]) == pytest.approx(placement.outline[1], abs=1e-6)
