"""The search itself: reaches what is known by hand, reports only what is shorter, keeps to its limits."""

import math

import pytest

from rowanseed.core.lay.demand import items_for
from rowanseed.core.lay.model import LayPiece
from rowanseed.core.lay.nest import BUDGETS, EFFORT_STEPS, solve
from rowanseed.core.lay.squeeze import Watch
from tests.core.lay.pieces import SHIRT, rect, wedge


def items(*pieces, spread="single", one_way=False):
    return [i for p in pieces for i in items_for(p, spread, one_way)]


def test_two_wedges_head_to_tail_fill_their_rectangle():
    wanted = items(wedge("1", 400.0, 300.0, 100.0, 2, False))
    _, length = solve(wanted, 400.0, 0.0, "quick", 1, 0.0, Watch())
    assert length == pytest.approx(400.0, abs=0.5)


def test_a_known_tiling_is_found_whole():
    # 3 x 2 bricks of 300 x 200 on a strip of 600, turned or not: 600 long at the shortest, nothing left over.
    bricks = items(LayPiece("b", rect(300.0, 200.0), 6, grain="any"))
    _, length = solve(bricks, 600.0, 0.0, "good", 1, 600.0, Watch())
    assert length == pytest.approx(600.0, abs=0.05)


def test_reaching_the_floor_ends_the_search():
    reports = []
    wanted = items(LayPiece("1", rect(500.0, 350.0), 4))
    solve(wanted, 1400.0, 0.0, "best", 1, 500.0, Watch(lambda s, length: reports.append(length)))
    assert reports[-1] == pytest.approx(500.0, abs=0.05)


def test_stands_lie_on_the_strip_and_reports_fall():
    reports = []
    wanted = items(*SHIRT)
    stands, length = solve(wanted, 1400.0, 3.0, "quick", 5, 0.0, Watch(lambda s, reached: reports.append(reached)))
    for item, stand in zip(wanted, stands, strict=True):
        pose = item.poses[stand.pose]
        assert stand.x >= -1e-9 and stand.x + pose.length_mm <= length + 1e-6
        assert stand.y >= -1e-9 and stand.y + pose.height_mm <= 1400 + 1e-6
    assert reports == sorted(reports, reverse=True) and length <= reports[-1] + 1e-6


def test_fold_items_stand_on_row_nought():
    wanted = items(*SHIRT, spread="lengthwise-fold")
    stands, _ = solve(wanted, 700.0, 3.0, "quick", 1, 0.0, Watch())
    assert all(stand.y == 0 for item, stand in zip(wanted, stands, strict=True) if item.at_fold)


def test_other_seeds_may_lay_otherwise_and_the_same_seed_never_does():
    wanted = items(*SHIRT)
    lays = [solve(wanted, 1400.0, 3.0, "quick", seed, 0.0, Watch()) for seed in (1, 1, 2, 3)]
    assert lays[0] == lays[1]
    assert len({lay[0] for lay in lays}) > 1


def test_a_stop_before_anything_is_drawn_still_gives_a_lay():
    stands, length = solve(items(*SHIRT), 1400.0, 3.0, "best", 1, 0.0, Watch(stop=lambda: True))
    assert stands and math.isfinite(length)


def test_each_effort_begins_with_the_lighter_ones_and_works_more():
    assert EFFORT_STEPS["best"] == ("quick", "good", "best") and EFFORT_STEPS["good"] == ("quick", "good")
    assert BUDGETS["quick"].work < BUDGETS["good"].work < BUDGETS["best"].work
