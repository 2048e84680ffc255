"""A lay of several garments begun from parts: a few garments at a time, laid well, one part behind the other.

The search finds a short lay of some twenty items in a fraction of a second, and only a poor one of a hundred: too much is open at
once. So the items are cut into runs as they come, garment by garment, each run is laid by itself, and the whole begins from there.
"""

from dataclasses import replace

import numpy as np

from rowanseed.core.lay.demand import Item
from rowanseed.core.lay.problem import NestingProblem
from rowanseed.core.lay.squeeze import FIRST_SQUEEZE, SearchBudget, State, Watch, best_try, shrink
from rowanseed.core.lay.tables import Ints

MANY = 36  # items; fewer are laid as one
PART = 22  # items of a part, about
TRIES = 3  # lays of a part
CLOSING = 0.3  # of a part's work squeezes the best of them


def begun_from_parts(
    problem: NestingProblem, items: list[Item], gap_mm: float, plan: SearchBudget, watch: Watch
) -> State | None:
    """A lay of all items from parts that were laid one by one; None where they are few, or some are held or bound to a print.

    Args:
        plan: its work is what all parts together may take.
    """
    free = bool(problem.movable.all() and problem.counts.all()) and not bool(problem.phases[:, 1].any())
    if len(items) <= MANY or not free:
        return None
    x, row, pose = problem.state()
    end = 0.0
    silent = Watch(stop=watch.stop)  # part of a lay is no lay to be shown
    for run in _runs(problem, items, max(2, round(len(items) / PART))):
        part = problem.part(run)
        own = replace(plan, work=plan.work * len(run) / len(items), tries=min(TRIES, plan.tries))
        best = best_try(part, own, 0.0, silent)
        part.restore(shrink(part, best, own.work * CLOSING, own.patience, 0.0, silent, coarse=FIRST_SQUEEZE))
        x[run], row[run], pose[run] = part.x + end, part.row, part.pose
        end += part.length() + gap_mm
    return x, row, pose


def _runs(problem: NestingProblem, items: list[Item], count: int) -> list[Ints]:
    """The items cut into runs of whole pieces, about alike in area."""
    area = problem.tables.size[problem.pose] * problem.tables.deep[problem.pose]
    filled = np.cumsum(area) / area.sum()
    ends = [k for k in range(1, len(items)) if items[k].piece != items[k - 1].piece]
    cuts = (
        {min(ends, key=lambda end: abs(filled[end - 1] - part / count)) for part in range(1, count)} if ends else set()
    )
    return np.split(np.arange(len(items)), sorted(cuts))
