"""Lays held against the table: folds that cannot serve, panels, fur, cloth that still shrinks, what is left of it."""

from dataclasses import replace

import pytest
from shapely import Polygon

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lay.byhand import HandPlace, hand_pieces, lay_by_hand, what_is_wrong
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import SPREADS, lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.core.lay.on_cloth import cut_pieces
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Piece
from rowanseed.core.prints import Print

HALF = LayPiece("band", ((0, 0), (300, 0), (300, 60), (0, 80)), 2, fold_edge=((0, 0), (300, 0)), grain="crosswise")
PAIR = LayPiece("side", ((0, 0), (400, 0), (400, 250), (0, 220)), 2, True)


@pytest.mark.parametrize("grain", ["crosswise", "bias"])
@pytest.mark.parametrize("spread", ["best", *SPREADS])
def test_a_half_that_cannot_lie_on_the_fold_is_opened_out(grain, spread):
    asked = LayRequest(LayCloth(1400.0), (replace(HALF, grain=grain), PAIR), spread, effort="quick")
    found = lay(asked)
    assert found.failed == () and check_lay(asked, found) == []
    bands = [p for p in found.placements if p.piece == "band"]
    assert sum(p.layers for p in bands) == 2 and not any(p.on_fold for p in bands)
    # opened out: twice the half's 21 000 mm2
    assert all(Polygon(p.outline).area == pytest.approx(2 * 21_000, rel=0.001) for p in bands)
    if found.spread != "crosswise-fold":
        assert len([c for c in cut_pieces(found, asked) if c.piece == "band"]) == 4  # two wholes of two halves
    places = [HandPlace(p.number, p.pose, p.lane, p.x, p.y) for p in hand_pieces(asked, found)]
    assert what_is_wrong(asked, lay_by_hand(asked, found, places)) == []


def test_a_turned_piece_on_a_panel_print_is_refused_by_the_checker():
    plain = LayRequest(LayCloth(1400.0), (replace(PAIR, cut=4),), "single", effort="quick")
    found = lay(plain)
    first, *others = found.placements
    left = min(x for x, _ in first.outline)
    over = replace(first, turned=180.0, outline=tuple((400 - x + 2 * left, y) for x, y in first.outline))
    turned = replace(found, placements=(over, *others))
    panel = replace(plain, cloth=replace(plain.cloth, print=Print("panel", True, 500.0, 500.0)))
    assert "head-turned" in {f.code for f in check_lay(panel, turned)}


def cloth(**more):
    return Cloth("x", parse_length("140 cm"), parse_length("2 cm"), parse_length("3 m"), **more)


def test_cloth_that_still_shrinks_takes_repeat_flaws_and_selvage_along():
    shrinking = cloth(
        shrink_along=0.10, shrink_across=0.05, flaws=((1000.0, 200.0, 1100.0, 240.0),),
        print=Print("plaid", True, 100.0, 80.0, 10.0, 20.0, axis_across_mm=40.0),
    )  # fmt: skip
    laid = shrinking.for_lay()
    assert (laid.width_mm, laid.length_mm, *laid.selvage_mm) == pytest.approx((1330.0, 2700.0, 19.0, 19.0))
    assert laid.flaws[0] == pytest.approx((900.0, 190.0, 990.0, 228.0))
    print_ = laid.print
    assert (print_.repeat_along_mm, print_.repeat_across_mm, print_.offset_along_mm) == pytest.approx((90.0, 76.0, 9.0))
    assert (print_.offset_across_mm, print_.axis_across_mm) == pytest.approx((19.0, 38.0))
    assert replace(shrinking, prepared=True).for_lay().print == shrinking.print


def test_a_part_of_a_print_begins_where_it_was_cut():
    print_ = Print("plaid", True, 100.0, 80.0, 10.0, 20.0).seen_from(250.0, 50.0)
    # 10 - 250 = -240, which is 60 of a repeat of 100; 20 - 50 = -30, which is 50 of 80
    assert (print_.offset_along_mm, print_.offset_across_mm) == (60.0, 50.0)


def test_pile_runs_up_unless_the_user_says_down_and_hairs_hang():
    assert "Pile up" in cloth(piled=True, nap="one-way").pile_words
    assert "Pile down" in cloth(piled=True, nap="one-way", pile_runs="down").pile_words
    assert "hang down" in cloth(fur=True, piled=True, nap="one-way").pile_words
    assert cloth().pile_words == "" == cloth(piled=True).pile_words


def test_fur_is_laid_in_one_layer_seen_from_its_back():
    flap = PieceShape(((0, 0), (0, 100), (200, 60), (200, 0)))
    sized = SizedPiece("1", Piece("1", "Flap", 1, shapes={"M": flap}), "M", flap)
    asked = lay_request([sized], cloth(fur=True, nap="one-way"), MakePlan(spread="lengthwise-fold", effort="quick"))
    assert asked.spread == "single" and asked.pieces[0].outline[1] == (0, -100)
    found = lay(asked)
    assert found.spread == "single" and check_lay(asked, found) == []
    assert "from behind" in cloth(fur=True).fur_words and "No iron" in cloth(fur=True).fur_words
