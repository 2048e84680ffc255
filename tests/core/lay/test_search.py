"""The kernels against slow sums over the same tables: what a place costs, and that no other place costs less."""

import numpy as np
import pytest

from rowanseed.core.lay import search
from rowanseed.core.lay.demand import items_for
from rowanseed.core.lay.model import LayPiece
from rowanseed.core.lay.problem import Nest, Repeat
from tests.core.lay.pieces import SHIRT, rect

DESK = search.Desk(
    np.empty(400, np.int64), np.empty((400, 4, 64)), np.empty(160), np.empty(160)
)  # for every row at once
LIMIT = 1150.0  # too short for the shirt, so that everything overlaps


@pytest.fixture
def crowded():
    items = [i for p in SHIRT for i in items_for(p, "single", False)]
    bench = Nest(items, 1400.0, 3.0, 1).bench(6.0)
    _strew(bench, np.random.default_rng(7))
    return bench


def _strew(bench, rng):
    for i in range(len(bench.x)):
        q = rng.integers(bench.item_at[i], bench.item_at[i + 1])
        bench.pose[i] = bench.item_pose[q]
        bench.row[i] = rng.integers(bench.rmin[q], bench.rmax[q] + 1)
        bench.x[i] = rng.uniform(0.0, max(0.0, LIMIT - bench.tables.size[bench.pose[i]]))


def _cost(bench, i, w, x, row, pose):
    """What item i would cost at a place, pair by pair; it is put back where it was."""
    before = bench.x[i], bench.row[i], bench.pose[i]
    bench.x[i], bench.row[i], bench.pose[i] = x, row, pose
    total = sum(w[i, j] * search._depth(bench.board, i, j) for j in range(len(bench.x)) if j != i)
    bench.x[i], bench.row[i], bench.pose[i] = before
    return total


def _found(bench, i, q, w, pace=1):
    found = np.array([1e18, 0.0, 0.0, 0.0, 0.0])
    rows = int(bench.rmin[q]), int(bench.rmax[q]) + 1
    pose = int(bench.item_pose[q])
    search._try_rows(bench.board, i, pose, *rows, pace, LIMIT, w, bench.rng, DESK, found)
    return found


@pytest.mark.parametrize("i", range(6))
def test_the_place_found_costs_what_it_says_and_no_other_costs_less(crowded, i):
    rng = np.random.default_rng(i)
    w = rng.uniform(1.0, 50.0, (len(crowded.x),) * 2)
    q = int(crowded.item_at[i])
    least, x, row, pose, _ = _found(crowded, i, q, w)
    assert _cost(crowded, i, w, x, int(row), int(pose)) == pytest.approx(least, abs=1e-3)
    top = LIMIT - crowded.tables.size[int(pose)]
    for _ in range(400):
        other = rng.integers(crowded.rmin[q], crowded.rmax[q] + 1)
        assert _cost(crowded, i, w, rng.uniform(0.0, top), other, int(pose)) >= least - 1e-3


def test_rows_apart_are_the_same_rows_as_one_by_one(crowded):
    w = np.ones((len(crowded.x),) * 2)
    q = int(crowded.item_at[0])
    every, apart = _found(crowded, 0, q, w), _found(crowded, 0, q, w, pace=5)
    assert apart[0] >= every[0] - 1e-9
    assert (int(apart[2]) - crowded.rmin[q]) % 5 == 0
    assert _cost(crowded, 0, w, apart[1], int(apart[2]), int(apart[3])) == pytest.approx(apart[0], abs=1e-3)


def test_a_shape_bound_to_a_print_is_only_tried_where_it_may_stand():
    items = items_for(LayPiece("1", rect(300.0, 200.0), 4), "single", True)
    bench = Nest(items, 700.0, 0.0, 1, Repeat(90.0)).bench(10.0)
    bench.phases[:] = (25.0, 90.0, 0.0, 0.0)
    found = _found(bench, 3, int(bench.item_at[3]), np.ones((4, 4)))
    assert (found[1] - 25.0) % 90.0 == pytest.approx(0.0, abs=1e-6)


def test_overlaps_of_large_pieces_count_for_more():
    sizes = {"large": rect(800.0, 500.0), "small": rect(100.0, 60.0)}
    items = [i for k, o in sizes.items() for i in items_for(LayPiece(k, o, 2), "single", True)]
    pairs = Nest(items, 1400.0, 0.0, 1).bench(6.0).pairs
    assert pairs[0, 1] > 1.0 > pairs[2, 3] and pairs[0, 1] > pairs[0, 2] > pairs[2, 3]
    assert np.array_equal(pairs, pairs.T)


@pytest.mark.parametrize("width", [430.0, 700.0, 1400.0])
@pytest.mark.parametrize("stride", [1, 2, 7, 40])
def test_the_desk_has_room_for_every_row_and_place_of_a_move(width, stride):
    # The kernels do not look whether they write past it.
    items = items_for(LayPiece("1", rect(300.0, 200.0), 4), "single", True)
    bench = Nest(items, width, 0.0, 1).bench(2.5)
    bench.stride[:] = stride
    desk = search._desk(bench.board)
    for low, high in zip(bench.rmin, bench.rmax, strict=True):
        pace = search.STRIDE if stride == 1 and high - low > 4 * search.STRIDE else stride
        assert (high - low) // pace + 1 <= len(desk.held)
    assert len(desk.held) >= 4 * search.STRIDE + 1
    most = 2 * desk.taken.shape[2] + 2  # places, when a row is as full as it can be
    assert len(desk.at) == len(desk.cost) >= -(-most // search.ABREAST) * search.ABREAST
