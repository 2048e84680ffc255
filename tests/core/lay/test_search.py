"""The kernels against slow sums over the same tables: what a place costs, and that no other place costs less."""

import numpy as np
import pytest

from rowanseed.core.lay import search
from rowanseed.core.lay.demand import items_for
from rowanseed.core.lay.model import LayPiece
from rowanseed.core.lay.problem import Nest, Repeat
from tests.core.lay.pieces import SHIRT, rect

SCRATCH = search.ScratchArrays(
    np.empty(400, np.int64), np.empty((400, 4, 64)), np.empty(160), np.empty(160)
)  # for every row at once
LIMIT = 1150.0  # too short for the shirt, so that everything overlaps


@pytest.fixture
def crowded():
    items = [i for p in SHIRT for i in items_for(p, "single", False)]
    problem = Nest(items, 1400.0, 3.0, 1).problem(6.0)
    _strew(problem, np.random.default_rng(7))
    return problem


def _strew(problem, rng):
    for i in range(len(problem.x)):
        q = rng.integers(problem.item_at[i], problem.item_at[i + 1])
        problem.pose[i] = problem.item_pose[q]
        problem.row[i] = rng.integers(problem.rmin[q], problem.rmax[q] + 1)
        problem.x[i] = rng.uniform(0.0, max(0.0, LIMIT - problem.tables.size[problem.pose[i]]))


def _cost(problem, i, w, x, row, pose):
    """What item i would cost at a place, pair by pair; it is put back where it was."""
    before = problem.x[i], problem.row[i], problem.pose[i]
    problem.x[i], problem.row[i], problem.pose[i] = x, row, pose
    total = sum(w[i, j] * search._depth(problem.board, i, j) for j in range(len(problem.x)) if j != i)
    problem.x[i], problem.row[i], problem.pose[i] = before
    return total


def _found(problem, i, q, w, pace=1):
    found = np.array([1e18, 0.0, 0.0, 0.0, 0.0])
    rows = int(problem.rmin[q]), int(problem.rmax[q]) + 1
    pose = int(problem.item_pose[q])
    search._try_rows(problem.board, i, pose, *rows, pace, LIMIT, w, problem.rng, SCRATCH, found)
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
    problem = Nest(items, 700.0, 0.0, 1, Repeat(90.0)).problem(10.0)
    problem.phases[:] = (25.0, 90.0, 0.0, 0.0)
    found = _found(problem, 3, int(problem.item_at[3]), np.ones((4, 4)))
    assert (found[1] - 25.0) % 90.0 == pytest.approx(0.0, abs=1e-6)


def test_overlaps_of_large_pieces_count_for_more():
    sizes = {"large": rect(800.0, 500.0), "small": rect(100.0, 60.0)}
    items = [i for k, o in sizes.items() for i in items_for(LayPiece(k, o, 2), "single", True)]
    pairs = Nest(items, 1400.0, 0.0, 1).problem(6.0).pairs
    assert pairs[0, 1] > 1.0 > pairs[2, 3] and pairs[0, 1] > pairs[0, 2] > pairs[2, 3]
    assert np.array_equal(pairs, pairs.T)


@pytest.mark.parametrize("width", [430.0, 700.0, 1400.0])
@pytest.mark.parametrize("stride", [1, 2, 7, 40])
def test_the_scratch_arrays_have_room_for_every_row_and_place_of_a_move(width, stride):
    # The kernels do not look whether they write past it.
    items = items_for(LayPiece("1", rect(300.0, 200.0), 4), "single", True)
    problem = Nest(items, width, 0.0, 1).problem(2.5)
    problem.stride[:] = stride
    scratch = search._scratch_arrays(problem.board)
    for low, high in zip(problem.rmin, problem.rmax, strict=True):
        pace = search.STRIDE if stride == 1 and high - low > 4 * search.STRIDE else stride
        assert (high - low) // pace + 1 <= len(scratch.held)
    assert len(scratch.held) >= 4 * search.STRIDE + 1
    most = 2 * scratch.taken.shape[2] + 2  # places, when a row is as full as it can be
    assert len(scratch.at) == len(scratch.cost) >= -(-most // search.ABREAST) * search.ABREAST
