"""Nesting items on one lane: short lays by guided overlap minimisation at a shrinking length.

Every stage works on the tables of `tables.py`. Budgets are counted in work, not seconds, so that the same seed gives
the same lay on any machine; `Watch` reports progress and can stop the work between chunks.
"""

import math
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from rowanseed.core.lay.demand import Item
from rowanseed.core.lay.model import Effort
from rowanseed.core.lay.parts import begun_from_parts
from rowanseed.core.lay.problem import NO_REPEAT, Nest, NestingProblem, Repeat, Solution, rows_for
from rowanseed.core.lay.squeeze import (
    CHUNK,
    FIRST_SQUEEZE,
    SHARE_OF_STARTS,
    SearchBudget,
    State,
    Watch,
    best_try,
    shrink,
    starts,
)
from rowanseed.core.lay.tables import Grid, tabulate
from rowanseed.core.lay.tiling import tiling
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from rowanseed.core.lay import search
else:  # the compiler is loaded where a lay is made, not where one is shown
    search = lazily("rowanseed.core.lay.search")


ESTIMATE_BUDGET = SearchBudget(8.0, 4e5, 8, 0.0, 20)  # to tell arrangements apart before one of them is worked out
BUDGETS: dict[Effort, SearchBudget] = {
    "quick": SearchBudget(6.0, 0.7e7, 8, 0.2e7, 40, 2),
    "good": SearchBudget(3.0, 5e7, 8, 0.8e7, 50, 6),
    "best": SearchBudget(2.5, 2.6e8, 16, 2.4e7, 80, 18),
}
# A cell of a table with few pieces: their lay is found in a quarter of the lightest effort (bench/yardage).
TABLE_BUDGET = SearchBudget(6.0, 0.18e7, 8, 0.05e7, 40, 2)
FEW_ITEMS = 12
USUAL_ITEMS = 24  # those of a garment; more of them get more work
SHARE_OF_PARTS = 0.6  # of the work goes into parts of a lay of many items
SHARE_ON_PRINT = 0.5  # of the work, where a print is matched: 24 matched lays came out as long as with all of it
MOST_TIMES = 4.0  # more work for it
EFFORT_STEPS: dict[Effort, tuple[Effort, ...]] = {
    "quick": ("quick",),
    "good": ("quick", "good"),
    "best": ("quick", "good", "best"),
}
FINE_MM = 0.75
WINDOW = 8


def solve(
    items: list[Item],
    width_mm: float,
    gap_mm: float,
    effort: Effort,
    seed: int,
    floor_mm: float,
    watch: Watch,
    repeat: Repeat = NO_REPEAT,
    table: bool = False,
) -> tuple[Solution, float]:
    """Lay items on a strip as short as the effort allows; (stands in item order, length in mm).

    Each effort begins with the next lighter one: something is drawn at once, and trying harder is never longer.

    Args:
        floor_mm: a length below which no lay can go; reaching it ends the search.
        repeat: of the print, where poses may stand only at one phase of it.
        table: whether it is a cell of a table, of which there are many.
    """
    nest = Nest(items, width_mm, gap_mm, seed, repeat)
    best: Solution = ()
    length = math.inf
    told = math.inf

    def report(solution: Solution, reached: float) -> None:
        nonlocal told
        if reached < told - 1e-6:
            told = reached
            watch.report(solution, reached)

    tiled = tiling(items, width_mm, gap_mm)
    if tiled is not None:
        report(*tiled)
        return tiled  # nothing is shorter than cloth without waste
    for step in EFFORT_STEPS[effort]:
        if best and (watch.stop() or length <= floor_mm + 0.05):
            break
        plan = TABLE_BUDGET if table and step == "quick" and len(items) <= FEW_ITEMS else BUDGETS[step]
        plan = _on_print(_for_many(plan, step, len(items)), step, repeat)
        found, reached = _solve_once(nest, plan, floor_mm, Watch(report, watch.stop))
        if reached < length:
            best, length = found, reached
    return best, length


def _for_many(plan: SearchBudget, effort: Effort, items: int) -> SearchBudget:
    """The budget where several garments are laid at once: more work in proportion, but for the effort that answers at once."""
    times = min(MOST_TIMES, items / USUAL_ITEMS)
    if effort == "quick" or times <= 1.0:
        return plan
    return replace(plan, work=plan.work * times, polish_work=plan.polish_work * times)


def _on_print(plan: SearchBudget, effort: Effort, repeat: Repeat) -> SearchBudget:
    """The budget where poses keep to a print: fewer places are left to try, and each costs more to look up (bench/prints)."""
    if repeat == NO_REPEAT or effort == "quick":
        return plan
    return replace(plan, work=plan.work * SHARE_ON_PRINT, polish_work=plan.polish_work * SHARE_ON_PRINT)


def estimate_length(
    items: list[Item], width_mm: float, gap_mm: float, seed: int, floor_mm: float, repeat: Repeat = NO_REPEAT
) -> float:
    """About how long a lay of these items comes out, found in a fraction of the lightest effort, mm."""
    problem = Nest(items, width_mm, gap_mm, seed, repeat).problem(ESTIMATE_BUDGET.step_mm)
    watch = Watch()
    problem.restore(
        shrink(
            problem,
            starts(problem, ESTIMATE_BUDGET, watch),
            ESTIMATE_BUDGET.work,
            ESTIMATE_BUDGET.patience,
            floor_mm,
            watch,
        )
    )
    return problem.length()


def _solve_once(nest: Nest, plan: SearchBudget, floor_mm: float, watch: Watch) -> tuple[Solution, float]:
    """Several lays from random starts, the best of them shrunk further, then a polish on finer rows."""
    problem = nest.problem(plan.step_mm)
    of_parts = replace(plan, work=plan.work * SHARE_OF_PARTS)
    begun = begun_from_parts(problem, nest.items, nest.gap_mm, of_parts, watch)
    if begun is not None:
        plan = replace(plan, work=plan.work - of_parts.work)
    best = best_try(problem, plan, floor_mm, watch, begun)
    rest = plan.work * (1.0 - SHARE_OF_STARTS)
    best = shrink(problem, best, rest, plan.patience, floor_mm, watch, coarse=FIRST_SQUEEZE)
    problem.restore(best)
    rough, length = problem.solution(), problem.length()
    fine = None if watch.stop() else _finer_problem(nest, problem, best)
    if fine is None:
        return rough, length
    polished = shrink(fine, fine.state(), plan.polish_work, plan.patience, floor_mm, watch, coarse=0.004, perturb=False)
    fine.restore(polished)
    if fine.length() < length - 1e-6:
        return fine.solution(), fine.length()
    return rough, length


def _finer_problem(nest: Nest, problem: NestingProblem, best: State) -> NestingProblem | None:
    """The same lay on a fine grid: poses kept, each item free to move a few millimetres across.

    None when it cannot be made legal on the new rows without growing by a twentieth.
    """
    problem.restore(best)
    grid = Grid.of(nest.width_mm, FINE_MM)
    stands = problem.solution()
    shapes, shift, limits, at, phases = [], [], [], [], []
    for i, stand in enumerate(stands):
        item = nest.items[i]
        pose = item.poses[stand.pose]
        if pose.y_phase is not None and not item.at_fold:
            pose = replace(pose, y_mm=stand.y, y_phase=None)  # it keeps to its row of the print
        shape, raised, _ = nest.shape(pose, item, [], grid, i)
        first, last = rows_for(item, pose, grid, shape.rows, raised)
        near = min(max(round((stand.y - raised) / grid.step_mm), first), last)
        shapes.append(shape)
        shift.append(raised)
        at.append(near)
        limits.append((max(first, near - WINDOW), min(last, near + WINDOW)))
        phases.append(nest.phase_at(pose, stand.x))
    rmin, rmax = np.array(limits).T.copy()
    dmin = rmin[None, :] - rmax[:, None]
    nd = rmax[None, :] - rmin[:, None] - dmin + 1
    tables = tabulate(shapes, grid, nest.gap_mm, (dmin, nd))
    n = len(stands)
    index = np.arange(n)
    fine = NestingProblem(
        tables,
        np.arange(n + 1),
        index,
        np.array([s.pose for s in stands]),
        rmin,
        rmax,
        np.array(shift),
        np.ones(n, np.int64),
        np.array(phases),
        nest.rng,
        np.array([s.x for s in stands]),
        np.array(at),
        index.copy(),
        problem.movable,
        problem.counts,
    )
    return fine if _settle(fine) else None


def _settle(fine: NestingProblem) -> bool:
    """Make a lay legal on its new rows by small shifts, letting its length grow a little; whether it worked."""
    limit = fine.length()
    for _ in range(12):
        left, _ = search.separate(fine.board, fine.pairs, fine.pairs.copy(), limit, fine.rng, CHUNK, 60)
        if left == 0.0:
            return True
        limit *= 1.004
    return False
