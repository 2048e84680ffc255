"""From a lay to the open cloth: every piece of cloth, right side up, with the way from the drawn piece to its place."""

import pytest
from shapely import Polygon

from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest, Match
from rowanseed.core.lay.on_cloth import cut_pieces, lane_origin
from rowanseed.core.prints import Print
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


LANES = ["single", "lengthwise-fold", "part-fold", "double-fold", "fold-then-single"]


@pytest.mark.parametrize("spread", LANES)
def test_on_the_open_cloth_nothing_overlaps_and_every_hand_is_there(spread):
    tab = LayPiece("tab", ((0, 0), (260, 30), (240, 120), (0, 90)), 3)
    request = LayRequest(LayCloth(1100.0, (10.0, 10.0)), (*PIECES, tab), spread, (), 2.0, "quick")
    found = lay(request)
    assert found.spread == spread
    outlines = {p.id: p.outline for p in request.pieces}
    cut = cut_pieces(found, request)
    shapes = [Polygon([landed(c, point) for point in outlines[c.piece]]) for c in cut]
    for k, shape in enumerate(shapes):
        x0, y0, x1, y1 = shape.bounds
        assert x0 > -0.01 and y0 > 9.9 and y1 < 1090.1 and x1 < found.length_mm + 0.01
        assert all(shape.intersection(other).area < 1.0 for other in shapes[:k])
    hands = sorted((c.piece, c.mirrored) for c in cut)
    assert hands == [(p, m) for p in ("back", "front", "sleeve") for m in (False, True)] + [("tab", False)] * 3


@pytest.mark.parametrize("spread", [*LANES, "crosswise-fold"])
def test_a_lane_and_its_layers_lie_on_the_open_cloth(spread):
    request = LayRequest(LayCloth(1100.0, (10.0, 10.0)), PIECES, spread, (), 2.0, "quick")
    found = lay(request)
    for number, lane in enumerate(found.lanes):
        origin = lane_origin(found, number, 1100.0, 550.0)
        ends = {origin - (lane.to_mm - lane.from_mm), origin, origin + (lane.to_mm - lane.from_mm)}
        if lane.edges[0] == "selvage":
            ends.remove(min(ends))  # it goes one way only
        assert min(ends) > -1e-6 and max(ends) < 1100.0 + 1e-6
