"""Moving pieces by hand: the lay that comes of it is judged by the checker, whatever the spread."""

from dataclasses import replace
from functools import cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowanseed.core.errors import LayError
from rowanseed.core.lay.byhand import HandPlace, hand_pieces, lay_by_hand, what_is_wrong
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import SPREADS, lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest

SQUARE = ((0.0, 0.0), (200.0, 0.0), (200.0, 150.0), (0.0, 150.0))
WEDGE = ((0.0, 0.0), (300.0, 40.0), (300.0, 200.0), (0.0, 160.0))
PIECES = (
    LayPiece("1", SQUARE, 1, fold_edge=((0.0, 0.0), (200.0, 0.0))),
    LayPiece("2", WEDGE, 2, mirrored=True),
    LayPiece("3", ((0, 0), (90, 0), (90, 60), (0, 60)), 1),
)


def asked(spread="lengthwise-fold", **cloth):
    return LayRequest(LayCloth(1000.0, (10.0, 10.0), **cloth), PIECES, spread, gap_mm=2.0, effort="quick")


def places(request, base):
    return [HandPlace(p.number, p.pose, p.lane, p.x, p.y) for p in hand_pieces(request, base)]


def moved(all_places, number, **change):
    return [replace(p, **change) if p.number == number else p for p in all_places]


@pytest.mark.parametrize("spread", SPREADS)
def test_a_lay_that_no_hand_has_moved_is_the_same_lay(spread):
    request = asked(spread)
    base = lay(request)
    again = lay_by_hand(request, base, places(request, base))
    assert again.spread == base.spread and again.length_mm == pytest.approx(base.length_mm, abs=0.01)
    for a, b in zip(again.placements, base.placements, strict=True):
        assert (a.piece, a.lane, a.face_down, a.turned, a.layers) == (b.piece, b.lane, b.face_down, b.turned, b.layers)
        for (ax, ay), (bx, by) in zip(a.outline, b.outline, strict=True):
            assert (ax, ay) == pytest.approx((bx, by), abs=1e-6)
    assert check_lay(request, again) == []


def test_a_piece_put_on_another_is_named_and_one_moved_on_makes_the_lay_longer():
    request = asked()
    base = lay(request)
    start = places(request, base)
    small = next(p.number for p in hand_pieces(request, base) if p.item.piece == "3")
    wedge = next(p for p in hand_pieces(request, base) if p.item.piece == "2")
    on_it = lay_by_hand(request, base, moved(start, small, x=wedge.x + 50, y=wedge.y + 60))
    assert {f.code for f in what_is_wrong(request, on_it)} == {"overlap"}
    further = lay_by_hand(request, base, moved(start, small, x=700.0, y=100.0))
    assert what_is_wrong(request, further) == [] and further.length_mm == pytest.approx(790.0)


def test_a_fold_piece_stays_on_the_fold_wherever_the_hand_takes_it():
    request = asked()
    base = lay(request)
    fold = next(p.number for p in hand_pieces(request, base) if p.item.at_fold)
    made = lay_by_hand(request, base, moved(places(request, base), fold, x=900.0, y=77.0))
    own = made.placements[fold]
    assert own.on_fold and min(y for _, y in own.outline) == 0.0 and what_is_wrong(request, made) == []


def test_a_head_is_not_offered_a_turn_on_one_way_cloth():
    request = asked(nap="one-way")
    assert {pose.turned for p in hand_pieces(request, lay(request)) for pose in p.item.poses} == {0.0}


def test_turning_over_one_of_a_pair_in_a_single_layer_is_two_of_one_hand():
    request = asked("single")
    base = lay(request)
    right = next(p for p in hand_pieces(request, base) if p.item.piece == "2" and not p.item.poses[p.pose].face_down)
    over = next(k for k, pose in enumerate(right.item.poses) if pose.face_down and pose.turned == 0.0)
    made = lay_by_hand(request, base, moved(places(request, base), right.number, pose=over, x=2000.0, y=100.0))
    assert {f.code for f in what_is_wrong(request, made)} == {"wrong-hand"}


def test_cloth_in_hand_that_no_longer_reaches_is_said():
    request = asked(length_mm=700.0)
    base = lay(request)
    small = next(p.number for p in hand_pieces(request, base) if p.item.piece == "3")
    made = lay_by_hand(request, base, moved(places(request, base), small, x=700.0, y=100.0))
    assert made.short_mm == pytest.approx(90.0) and "cloth-too-short" in {f.code for f in made.findings}


@pytest.mark.parametrize(
    "wrong", [{"pose": 99}, {"lane": 3}, {"x": float("nan")}, {"y": 1e9}, {"number": 55}], ids=lambda w: next(iter(w))
)
def test_a_place_that_is_none_is_refused(wrong):
    request = asked()
    base = lay(request)
    with pytest.raises(LayError):
        lay_by_hand(request, base, [replace(places(request, base)[0], **wrong)])


@cache
def folded():
    """One lay for all that hands may do to it."""
    return lay(asked())


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 2), st.floats(0, 900), st.floats(0, 480))
def test_whatever_the_hand_does_a_sound_verdict_is_the_checkers(number, x, y):
    request = asked()
    base = folded()
    made = lay_by_hand(request, base, moved(places(request, base), number, x=x, y=y))
    assert (what_is_wrong(request, made) == []) == (check_lay(request, made) == [])
    assert made.placements and len(made.placements) == len(
        base.placements
    )  # an unsound draft is still there to go on with
