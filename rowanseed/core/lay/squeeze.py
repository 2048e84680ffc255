"""Making a lay shorter: starts, even steps with exchanges, and squeezing, all by guided overlap minimisation.

Everything here works on the arrays of one `NestingProblem`, changing it as it goes. Budgets are counted in work, not seconds, so
that the same seed gives the same lay on any machine; `Watch` reports progress and can stop the work between chunks.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from rowanseed.core.lay.problem import NestingProblem, Solution
from rowanseed.core.lay.tables import Floats, Ints
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from rowanseed.core.lay import search
    from rowanseed.core.lay.snapping import snap_up
else:  # the compiler is loaded where a lay is made, not where one is shown
    search, snap_up = lazily("rowanseed.core.lay.search"), lazily("rowanseed.core.lay.snapping", "snap_up")

CHUNK = 1.2e6
SHARE_OF_STARTS = 0.7  # of the work goes into several lays from the start, the rest into the best of them
EXPLORING = 0.75  # of a try's work goes into even steps, the rest into ever smaller ones
COARSE = 0.02  # the first steps, as a share of the length
EVEN = 0.005  # those that follow
GIVE_UP_AFTER = 16  # failures at one length after which a try is given up
FIRST_SQUEEZE = 0.006  # the share of the length by which the best of them is squeezed first
FINEST = 0.0006  # the least share of the length worth squeezing for


State = tuple[Floats, Ints, Ints]
Report = Callable[[Solution, float], None]


@dataclass
class Watch:
    """Told of every shorter lay; asked between chunks of work whether to stop."""

    report: Report = lambda solution, length: None
    stop: Callable[[], bool] = lambda: False


@dataclass(frozen=True)
class SearchBudget:
    """What an effort means: row step, work for separation and for the polish, and how many lays are tried from how many starts."""

    step_mm: float
    work: float
    starts: int
    polish_work: float
    patience: int
    tries: int = 1


def best_try(
    problem: NestingProblem, plan: SearchBudget, floor_mm: float, watch: Watch, first: State | None = None
) -> State:
    """The shortest of several lays, each from starts of its own: which large pieces lie together is settled early.

    Args:
        first: a lay that is tried in place of the first starts.
    """
    best, least, spent = problem.state(), math.inf, 0.0
    share = plan.work * SHARE_OF_STARTS / plan.tries
    while least == math.inf or spent < plan.work * SHARE_OF_STARTS - 0.5 * share:
        if least < math.inf and (watch.stop() or least <= floor_mm + 0.05):
            break
        tried = first if first is not None and least == math.inf else starts(problem, plan, watch)
        tried, work = explore(problem, tried, share * EXPLORING, plan.patience, floor_mm, watch)
        closing = share * (1.0 - EXPLORING)
        tried = shrink(problem, tried, closing, plan.patience, floor_mm, watch, coarse=FIRST_SQUEEZE)
        spent += max(work + closing, 0.1 * share)
        problem.restore(tried)
        if problem.length() < least - 1e-6:
            best, least = tried, problem.length()
    return best


def starts(problem: NestingProblem, plan: SearchBudget, watch: Watch) -> State:
    """The best of some randomised bottom-left lays; the first takes the pieces by area."""
    t = problem.tables
    n = len(problem.x)
    area = np.array(
        [
            t.size[problem.item_pose[problem.item_at[i]]] * t.deep[problem.item_pose[problem.item_at[i]]]
            for i in range(n)
        ]
    )
    best, least, spent = problem.state(), math.inf, 0
    generator = np.random.default_rng(int(problem.rng[0] & np.uint64(0xFFFFFFFF)))
    for trial in range(plan.starts):
        if trial and (watch.stop() or spent > 0.5 * plan.work):
            break
        spread = 0.0 if trial == 0 else 0.1 + 0.5 * (trial % 4)
        order = np.argsort(-np.log(area) + spread * generator.standard_normal(n), kind="stable")
        _, work = search.bottom_left(problem.board, order, ~problem.movable, 0.0 if trial == 0 else 8.0, problem.rng)
        spent += work
        length = problem.length()
        if length < least - 1e-6:
            best, least = problem.state(), length
            watch.report(problem.solution(), length)
    return best


def explore(
    problem: NestingProblem, best: State, budget: float, patience: int, floor_mm: float, watch: Watch
) -> tuple[State, float]:
    """Shorten a lay by even steps, from one overlapping lay to the next: where a step fails, two large items of one of the
    least overlapping lays seen at this length change places, and the overlaps are worked out of that. It ends early when a length
    has withstood many of them: guided local search with a pool of infeasible solutions.

    Returns: the shortest lay, and the work done.
    """
    problem.restore(best)
    length, spent, step = problem.length(), 0.0, COARSE
    pool: list[tuple[float, State]] = []
    large = _largest(problem)
    generator = np.random.default_rng(int(problem.rng[0] & np.uint64(0xFFFFFFFF)))
    while spent < budget and length > floor_mm + 0.05 and not watch.stop():
        limit = max(floor_mm, length * (1.0 - step))
        left, work = separate(problem, limit, budget - spent, patience, watch)
        spent += work
        if left == 0.0:
            if problem.length() >= length - 1e-9:
                break  # a locked piece holds the length where it is
            best, length, pool = problem.state(), problem.length(), []
            watch.report(problem.solution(), length)
            continue
        step = max(EVEN, 0.6 * step)
        pool = sorted([*pool, (left, problem.state())], key=lambda known: known[0])
        if len(pool) > GIVE_UP_AFTER:
            break
        problem.restore(pool[min(int(abs(generator.normal()) * 0.25 * len(pool)), len(pool) - 1)][1])
        if len(large) > 1:
            i, j = generator.choice(large, 2, replace=False)
            _swap(problem, int(i), int(j))
    return best, spent


def _largest(problem: NestingProblem) -> Ints:
    """The movable items that make up most of the area: which of them lies where decides the length."""
    area = problem.tables.size[problem.pose] * problem.tables.deep[problem.pose] * problem.movable
    order = np.argsort(-area, kind="stable")
    enough = int(np.searchsorted(np.cumsum(area[order]), 0.85 * area.sum())) + 1
    return order[: min(enough, int(np.count_nonzero(problem.movable)))]


def separate(problem: NestingProblem, limit: float, budget: float, patience: int, watch: Watch) -> tuple[float, float]:
    """Work overlaps out within a limit, looking up between chunks of work; (overlap left, work done)."""
    left, spent, w = math.inf, 0.0, problem.pairs.copy()
    while spent < budget:
        left, work = search.separate(
            problem.board, problem.pairs, w, limit, problem.rng, min(CHUNK, budget - spent), patience
        )
        spent += work
        if left == 0.0 or work <= CHUNK or watch.stop():
            break
    return left, spent


def shrink(
    problem: NestingProblem,
    best: State,
    budget: float,
    patience: int,
    floor_mm: float,
    watch: Watch,
    coarse: float = COARSE,
    perturb: bool = True,
) -> State:
    """Shorten a lay: squeeze it into less and less length, separating what then overlaps, until the budget is spent.

    Without `perturb` (items bound to a window of rows) a length that fails twice in a row ends it.
    """
    problem.restore(best)
    length, step, spent, fails = problem.length(), coarse, 0.0, 0
    generator = np.random.default_rng(int(problem.rng[0] & np.uint64(0xFFFFFFFF)))
    while spent < budget and length > floor_mm + 0.05 and not watch.stop():
        limit = max(floor_mm, length * (1.0 - step))
        if fails and perturb:
            _perturb(problem, limit, fails, generator)
        left, work = separate(problem, limit, budget - spent, patience, watch)
        spent += work
        if left == 0.0 and problem.length() >= length - 1e-9:
            break  # a locked piece holds the length where it is
        if left == 0.0:
            best, length, fails = problem.state(), problem.length(), 0
            watch.report(problem.solution(), length)
        else:
            fails += 1
            step = max(step * 0.6, FINEST)
            problem.restore(best)
            if not perturb and step <= FINEST and fails > 1:
                break
    return best


def _perturb(problem: NestingProblem, limit: float, fails: int, generator: np.random.Generator) -> None:
    """Disturb a lay that would not shrink: put two items of like size in each other's place."""
    n = len(problem.x)
    t = problem.tables
    for _ in range(1 + fails % 3):
        i, j = generator.integers(n), generator.integers(n)
        if (
            i == j
            or not (problem.movable[i] and problem.movable[j])
            or t.size[problem.pose[i]] + t.size[problem.pose[j]] < 0.1 * limit
        ):
            continue
        _swap(problem, int(i), int(j))


def _swap(problem: NestingProblem, i: int, j: int) -> None:
    """Put two items in each other's place, as near as their rows and phases allow."""
    rows = problem.row.copy()
    for a, b in ((i, j), (j, i)):
        slot = problem.item_at[a]
        first, pace = int(problem.rmin[slot]), int(problem.stride[slot])
        row = min(max(int(rows[b]), first), int(problem.rmax[slot]))
        problem.row[a] = first + (row - first) // pace * pace
        problem.pose[a] = problem.item_pose[slot]
    problem.x[i], problem.x[j] = float(problem.x[j]), float(problem.x[i])
    for k in (i, j):
        problem.x[k] = snap_up(problem.x[k], problem.pose[k], problem.row[k], problem.phases)
