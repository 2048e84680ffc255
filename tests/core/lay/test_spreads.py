"""Every way of spreading: worked by hand where the best lay can be seen, by property elsewhere, wrong lays named by the check."""

from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import SPREADS, lay
from rowanseed.core.lay.model import LayPiece, Locked
from tests.core.lay.pieces import SHIRT, fold_piece, rect, request, wedge

BAND = LayPiece("band", rect(300.0, 40.0), 1, selvage_edge=((0.0, 40.0), (300.0, 40.0)))
MORE = ("part-fold", "double-fold", "crosswise-fold", "fold-then-single")


def codes(found):
    return {f.code for f in found.findings}


def test_a_front_and_a_back_on_two_folds_lie_side_by_side():
    # Halves 300 wide on 1200 mm of cloth: one fold takes them one behind the other, two folds beside each other.
    pieces = [fold_piece("front", 700.0, 300.0), fold_piece("back", 700.0, 300.0)]
    one, two = (lay(request(pieces, width=1200.0, spread=s)) for s in ("lengthwise-fold", "double-fold"))
    assert one.length_mm == pytest.approx(1400) and two.length_mm == pytest.approx(700)
    assert [(lane.from_mm, lane.to_mm, lane.layers) for lane in two.lanes] == [(0, 300, 2), (300, 600, 2)]
    assert {p.lane for p in two.placements} == {0, 1} and all(p.on_fold for p in two.placements)
    assert "meet between the two folds" in next(f.text for f in two.findings if f.code == "how-to-spread")


def test_a_part_fold_is_as_wide_as_the_fold_piece_and_leaves_the_rest_single():
    # A half 250 wide on the fold and a single panel 500 wide: 250 + 250 + 500 = the whole 1000 mm.
    pieces = [fold_piece("back", 600.0, 250.0), LayPiece("panel", rect(600.0, 500.0), 1)]
    found = lay(request(pieces, width=1000.0, spread="part-fold"))
    assert found.length_mm == pytest.approx(600)
    assert [(lane.to_mm - lane.from_mm, lane.layers) for lane in found.lanes] == [(250, 2), (500, 1)]
    assert lay(request(pieces, width=1000.0, spread="lengthwise-fold")).failed == ()


def test_a_crosswise_fold_takes_twice_its_lane_and_says_where_to_fold_or_cut():
    pieces = [wedge("1", 400.0, 900.0, 700.0, 2, True)]
    plain = lay(request(pieces, width=1000.0, spread="crosswise-fold"))
    assert (plain.length_mm, plain.lanes[0].end_mm, plain.lanes[0].layers) == (
        pytest.approx(800),
        pytest.approx(400),
        2,
    )
    assert "Fold the cloth across" in next(f.text for f in plain.findings if f.code == "how-to-spread")
    napped = lay(request(pieces, width=1000.0, spread="crosswise-fold", nap="one-way"))
    assert "turn the upper layer round" in next(f.text for f in napped.findings if f.code == "how-to-spread")


def test_a_piece_with_a_fold_edge_is_its_own_mirror_image_folded_across():
    found = lay(request([fold_piece("yoke", 200.0, 300.0, 2)], width=700.0, spread="crosswise-fold"))
    (placement,) = found.placements
    assert placement.layers == 2 and not placement.on_fold and found.length_mm == pytest.approx(400)


def test_pairs_are_cut_folded_and_the_odd_and_bias_pieces_from_the_opened_rest():
    pieces = [
        wedge("pair", 500.0, 240.0, 200.0, 3, True),
        LayPiece("binding", rect(400.0, 60.0), 1, grain="bias"),
        fold_piece("back", 500.0, 250.0),
    ]
    found = lay(request(pieces, width=1000.0, spread="fold-then-single"))
    folded, single = found.lanes
    assert (folded.layers, single.layers) == (2, 1) and folded.end_mm == single.start_mm
    where = {(p.piece, p.lane) for p in found.placements}
    assert where == {("pair", 0), ("back", 0), ("pair", 1), ("binding", 1)}
    assert all(min(x for x, _ in p.outline) >= single.start_mm - 0.05 for p in found.placements if p.lane == 1)


def test_a_pair_goes_over_to_the_opened_rest_where_a_long_odd_piece_leaves_room_beside_it():
    # By hand: folded, two legs 700 wide cannot lie on a fold of 750 beside each other, so 1000 and the band's 1000 come to 2000;
    # opened, band and legs lie side by side (80 + 2 x 700 on 1500), and only the pockets are cut folded: 1000 and 150.
    band, pocket = LayPiece("band", rect(1000.0, 80.0), 1), wedge("pocket", 150.0, 140.0, 130.0, 2, True)
    legs = LayPiece("leg", rect(1000.0, 700.0), 2, True)
    asked = request([legs, band, pocket], width=1500.0, spread="fold-then-single")
    found = lay(asked)
    assert found.length_mm == pytest.approx(1150.0, abs=1.0) and check_lay(asked, found) == []
    assert {(p.piece, p.lane) for p in found.placements} == {("pocket", 0), ("leg", 1), ("band", 1)}
    held = lay(replace(asked, locked=(Locked("leg", 0, 0.0, 0.0),)))
    assert ("leg", 0) in {(p.piece, p.lane) for p in held.placements} and held.length_mm > 1900.0


def test_a_spread_without_use_is_said_and_laid_single():
    found = lay(request([wedge("1", 400.0, 300.0, 200.0, 2, True)], spread="fold-then-single"))
    assert found.spread == "single" and "spread-of-no-use" in codes(found)


def test_best_tries_every_spread_and_ranks_them_by_length_with_their_cuts():
    pieces = [
        fold_piece("front", 700.0, 300.0),
        fold_piece("back", 700.0, 300.0),
        LayPiece("pocket", rect(150.0, 130.0), 1),
    ]
    found = lay(request(pieces, width=1200.0, spread="best"))
    lengths = [way.length_mm for way in found.ways]
    assert lengths == sorted(lengths) and found.length_mm == lengths[0]
    assert {way.spread for way in found.ways} == set(SPREADS) and all(way.cuts >= 3 for way in found.ways)


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.data())
def test_any_pieces_in_any_spread_are_laid_soundly_or_said_to_fail(data):
    pieces = []
    for k in range(data.draw(st.integers(1, 5))):
        length, width = data.draw(st.floats(80, 500)), data.draw(st.floats(40, 420))
        kind = data.draw(st.sampled_from(["fold", "pair", "single", "same"]))
        if kind == "fold":
            pieces.append(fold_piece(str(k), length, width / 2, data.draw(st.integers(1, 2))))
        elif kind == "same":
            pieces.append(LayPiece(str(k), rect(length, width), data.draw(st.integers(1, 3))))
        else:
            count = 2 if kind == "pair" else data.draw(st.sampled_from([1, 3]))
            pieces.append(wedge(str(k), length, width, width * 0.6, count, True))
    if data.draw(st.booleans()):
        pieces.append(BAND)
    flaws = data.draw(st.lists(st.tuples(st.floats(0, 500), st.floats(0, 900)), max_size=2))
    asked = request(
        pieces,
        width=data.draw(st.floats(700, 1500)),
        selvage_mm=(data.draw(st.sampled_from([0.0, 12.0])), data.draw(st.sampled_from([0.0, 8.0]))),
        spread=data.draw(st.sampled_from(MORE)),
        gap_mm=data.draw(st.sampled_from([0.0, 3.0])),
        nap=data.draw(st.sampled_from(["none", "one-way"])),
        flaws=tuple((x, y, x + 30, y + 25) for x, y in flaws),
    )
    found = lay(asked)
    assert check_lay(asked, found) == []
    assert "lay-refused" not in codes(found)
    placed = {p.piece for p in found.placements}
    assert placed | set(found.failed) == {p.id for p in pieces}


def test_a_band_on_the_selvage_lies_only_in_a_lane_that_is_wide_enough():
    pieces = [wedge("0", 80.0, 40.0, 24.0, 2, True), fold_piece("2", 80.0, 20.5), BAND]
    asked = request(pieces, width=700.0, spread="double-fold")
    found = lay(asked)
    assert check_lay(asked, found) == [] and "lay-refused" not in codes(found)


@pytest.mark.parametrize("spread", ["part-fold", "double-fold"])
def test_a_piece_locked_on_the_second_lane_stays_there(spread):
    pieces = [fold_piece("back", 600.0, 250.0), wedge("front", 500.0, 240.0, 200.0, 2, True)]
    asked = request(pieces, width=1200.0, spread=spread)
    free = lay(asked)
    front = next(p for p in free.placements if p.piece == "front")
    x, y = min(x for x, _ in front.outline), min(y for _, y in front.outline)
    held = replace(asked, locked=(Locked("front", front.lane, x, y, front.turned, front.face_down),))
    found = lay(held)
    assert check_lay(held, found) == [] and "lock-dropped" not in codes(found)


WRONG = {
    "part-fold": ("wrong-count", lambda p: replace(p, layers=2)),
    "double-fold": ("off-the-fold", lambda p: replace(p, outline=tuple((x, y + 1.0) for x, y in p.outline))),
    "crosswise-fold": ("off-the-cloth", lambda p: replace(p, outline=tuple((x + 900.0, y) for x, y in p.outline))),
    "fold-then-single": ("off-the-cloth", lambda p: replace(p, outline=tuple((x - 300.0, y) for x, y in p.outline))),
}


@pytest.mark.parametrize("spread", MORE)
def test_a_wrong_lay_is_named(spread):
    asked = request(SHIRT, spread=spread, selvage_mm=(10.0, 10.0))
    found = lay(asked)
    code, spoil = WRONG[spread]
    second = spread in ("part-fold", "fold-then-single")
    spoilt = next(
        k
        for k, p in enumerate(found.placements)
        if (p.lane == 1 if second else p.on_fold or spread == "crosswise-fold") and (p.layers == 1 or not second)
    )
    placements = tuple(spoil(p) if k == spoilt else p for k, p in enumerate(found.placements))
    assert code in {f.code for f in check_lay(asked, replace(found, placements=placements))}
    wide = replace(found.lanes[0], to_mm=found.lanes[0].to_mm + 5.0)
    assert "lane-not-the-cloth" in {f.code for f in check_lay(asked, replace(found, lanes=(wide, *found.lanes[1:])))}


def test_a_piece_that_may_lie_off_grain_uses_it_and_no_more_than_it_may():
    # A strip of 300 x 20 turned by 20 degrees is 300 cos 20 + 20 sin 20 = 288.7 mm long.
    strip = LayPiece("strip", rect(300.0, 20.0), 1, off_grain=20.0)
    asked = request([strip], width=400.0, spread="single", nap="one-way")
    leaning = lay(asked)
    assert leaning.length_mm == pytest.approx(288.7, abs=0.1)
    assert lay(replace(asked, pieces=(replace(strip, off_grain=0.0),))).length_mm == pytest.approx(300)
    tight = replace(asked, pieces=(replace(strip, off_grain=4.0),))
    assert "off-grain" in {f.code for f in check_lay(tight, leaning)}
