"""Nesting items on one lane: short lays by guided overlap minimisation at a shrinking length.

Every stage works on the tables of `tables.py`. Budgets are counted in work, not seconds, so that the same seed gives
the same lay on any machine; `Watch` reports progress and can stop the work between chunks.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from rowanseed.core.lay import search
from rowanseed.core.lay.demand import Item, Pose
from rowanseed.core.lay.model import Effort
from rowanseed.core.lay.tables import Floats, Grid, Ints, Shape, Tables, grow, tabulate


@dataclass(frozen=True)
class Plan:
    """What an effort means: row step, work for separation, number of random starts, polish steps."""

    step_mm: float
    work: float
    starts: int
    polish_work: float
    patience: int


PLANS: dict[Effort, Plan] = {
    "quick": Plan(6.0, 1.5e7, 30, 0.5e7, 40),
    "good": Plan(3.0, 1.6e8, 120, 3e7, 80),
    "best": Plan(2.5, 9e8, 400, 1e8, 120),
}
EFFORT_STEPS: dict[Effort, tuple[Effort, ...]] = {
    "quick": ("quick",),
    "good": ("quick", "good"),
    "best": ("quick", "good", "best"),
}
CHUNK = 6e6
MOST_CELLS = 1.5e7  # pairs of poses times rows in a table; a crowded lay gets coarser rows rather than more memory
FINE_MM = 0.75
WINDOW = 8
FINEST = 0.0006  # the least share of the length worth squeezing for


@dataclass(frozen=True)
class Stand:
    """Where one item stands: its pose's index, and the corner of its cutting shape on the usable strip."""

    pose: int
    x: float
    y: float


Solution = tuple[Stand, ...]
Flags = NDArray[np.bool_]
Report = Callable[[Solution, float], None]


@dataclass
class Watch:
    """Told of every shorter lay; asked between chunks of work whether to stop."""

    report: Report = lambda solution, length: None
    stop: Callable[[], bool] = lambda: False


@dataclass
class Bench:
    """The arrays of one nesting problem on one grid."""

    tables: Tables
    item_at: Ints
    item_pose: Ints
    pose_of: Ints
    rmin: Ints
    rmax: Ints
    shift: Floats
    rng: np.ndarray
    x: Floats = field(default_factory=lambda: np.zeros(0))
    row: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    pose: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    movable: Flags = field(default_factory=lambda: np.zeros(0, np.bool_))
    counts: Flags = field(default_factory=lambda: np.zeros(0, np.bool_))

    def length(self) -> float:
        """The far end of the furthest piece; flaws do not count."""
        return float(np.max((self.x + self.tables.size[self.pose])[self.counts]))

    def state(self) -> tuple[Floats, Ints, Ints]:
        """A copy of where everything stands."""
        return self.x.copy(), self.row.copy(), self.pose.copy()

    def restore(self, state: tuple[Floats, Ints, Ints]) -> None:
        """Stand everything where a copied state says."""
        self.x[:], self.row[:], self.pose[:] = state

    def solution(self) -> Solution:
        """The items' stands, in item order, from rows to millimetres."""
        out = []
        for i in range(len(self.x)):
            slots = range(self.item_at[i], self.item_at[i + 1])
            slot = next(q for q in slots if self.item_pose[q] == self.pose[i])
            y = float(self.row[i]) * self.tables.step + float(self.shift[self.pose[i]])
            out.append(Stand(int(self.pose_of[slot]), float(self.x[i]), y))
        return tuple(out)


def _mirrors(pose: Pose, first: Pose) -> tuple[bool, bool] | None:
    """How a pose mirrors the first one of its item, (in x, in y), or None when it is no mirror image of it."""
    if abs(pose.length_mm - first.length_mm) > 1e-6 or len(pose.cut) != len(first.cut):
        return None
    own, other = np.array(pose.cut), np.array(first.cut)
    for flip_x in (False, True):
        for flip_y in (False, True):
            image = other.copy()
            if flip_x:
                image[:, 0] = first.length_mm - image[:, 0]
            if flip_y:
                image[:, 1] = first.height_mm - image[:, 1]
            if np.allclose(own, image, atol=1e-6):
                return flip_x, flip_y
    return None


def _rows_for(item: Item, pose: Pose, grid: Grid, rows: int) -> tuple[int, int]:
    """The first and last row an item may stand on in a pose."""
    if pose.y_mm is not None:
        row = math.floor(pose.y_mm / grid.step_mm)
        return row, row
    return 0, 0 if item.at_fold else grid.rows - rows


class Nest:
    """One lane's items, ready to be laid at any effort. Items must all fit the strip's width in some pose."""

    def __init__(self, items: list[Item], width_mm: float, gap_mm: float, seed: int) -> None:
        self.items = items
        self.width_mm = width_mm
        self.gap_mm = gap_mm
        self.rng = np.array([(seed * 0x9E3779B97F4A7C15 + 0x1234567) & 0xFFFFFFFFFFFFFFFF or 1], np.uint64)

    def bench(self, about_mm: float) -> Bench:
        """Shapes, tables and row limits of all items on a grid of about this step."""
        poses = sum(
            len(item.poses) for item in {(i.piece, i.layers, i.poses[0].face_down): i for i in self.items}.values()
        )
        grid = Grid.of(self.width_mm, max(about_mm, self.width_mm * poses * poses / MOST_CELLS))
        shapes: list[Shape] = []
        shift: list[float] = []
        known: dict[tuple[object, ...], int] = {}
        bases: dict[str, list[tuple[int, Pose]]] = {}
        count = 0
        item_at, item_pose, pose_of, rmin, rmax = [0], [], [], [], []
        for item in self.items:
            for number, pose in enumerate(item.poses):
                if pose.height_mm > self.width_mm + 1e-6 and pose.y_mm is None:
                    continue
                pin = math.nan if pose.y_mm is None else round(pose.y_mm, 6)
                key = (*(round(v, 6) for p in pose.cut for v in p), float(item.at_fold), str(pin))
                index = known.get(key)
                if index is None:
                    index = known[key] = len(shapes)
                    family = bases.setdefault(item.piece, [])
                    shape, raised, count = self.shape(pose, item, family, grid, count)
                    shapes.append(shape)
                    shift.append(raised)
                item_pose.append(index)
                pose_of.append(number)
                first, last = _rows_for(item, pose, grid, shapes[index].rows)
                rmin.append(first)
                rmax.append(last)
            item_at.append(len(item_pose))
        tables = tabulate(shapes, grid, self.gap_mm)
        n = len(self.items)
        return Bench(
            tables,
            np.array(item_at),
            np.array(item_pose),
            np.array(pose_of),
            np.array(rmin),
            np.array(rmax),
            np.array(shift),
            self.rng,
            np.array([item.x_mm or 0.0 for item in self.items]),
            np.array([rmin[item_at[i]] for i in range(n)]),
            np.array([item_pose[item_at[i]] for i in range(n)]),
            *self._flags(),
        )

    def _flags(self) -> tuple[Flags, Flags]:
        """Which items may move, and which count toward the length."""
        return np.array([i.x_mm is None for i in self.items]), np.array([not i.is_flaw for i in self.items])

    def shape(
        self, pose: Pose, item: Item, family: list[tuple[int, Pose]], grid: Grid, count: int
    ) -> tuple[Shape, float, int]:
        """A pose as a shape: how it mirrors an earlier one of its piece, and how far it is raised in its rows."""
        rows = grid.rows_for(pose.height_mm)
        grown = grow(pose.cut, self.gap_mm)
        if pose.y_mm is not None:
            # Bound to a place between two rows: the shape is raised in its row, and is no mirror image of another.
            raised = pose.y_mm - math.floor(pose.y_mm / grid.step_mm) * grid.step_mm
            moved = tuple((x, y + raised) for x, y in grown)
            rows = grid.rows_for(pose.height_mm + raised)
            return Shape(count, False, False, moved, pose.length_mm, rows), raised, count + 1
        if not item.at_fold:
            for base, first in family:
                flips = _mirrors(pose, first)
                if flips is None:
                    continue
                raised = rows * grid.step_mm - pose.height_mm if flips[1] else 0.0
                moved = tuple((x, y + raised) for x, y in grown)
                return Shape(base, flips[0], flips[1], moved, pose.length_mm, rows), raised, count
        family.append((count, pose))
        return Shape(count, False, False, grown, pose.length_mm, rows), 0.0, count + 1


def solve(
    items: list[Item], width_mm: float, gap_mm: float, effort: Effort, seed: int, floor_mm: float, watch: Watch
) -> tuple[Solution, float]:
    """Lay items on a strip as short as the effort allows; (stands in item order, length in mm).

    Each effort begins with the next lighter one: something is drawn at once, and trying harder is never longer.

    Args:
        floor_mm: a length below which no lay can go; reaching it ends the search.
    """
    nest = Nest(items, width_mm, gap_mm, seed)
    best: Solution = ()
    length = math.inf
    told = watch.report

    def report(solution: Solution, reached: float) -> None:
        if reached < length - 1e-6:
            told(solution, reached)

    for step in EFFORT_STEPS[effort]:
        if best and (watch.stop() or length <= floor_mm + 0.05):
            break
        found, reached = _solve_once(nest, PLANS[step], floor_mm, Watch(report, watch.stop))
        if reached < length:
            best, length = found, reached
    return best, length


def _solve_once(nest: "Nest", plan: Plan, floor_mm: float, watch: Watch) -> tuple[Solution, float]:
    """Random starts, then shrinking, then a polish on finer rows."""
    bench = nest.bench(plan.step_mm)
    best = _starts(bench, plan, watch)
    best = _shrink(bench, best, plan.work, plan.patience, floor_mm, watch)
    bench.restore(best)
    rough, length = bench.solution(), bench.length()
    fine = None if watch.stop() else _fine_bench(nest, bench, best)
    if fine is None:
        return rough, length
    polished = _shrink(fine, fine.state(), plan.polish_work, plan.patience, floor_mm, watch, coarse=0.004, shake=False)
    fine.restore(polished)
    if fine.length() < length - 1e-6:
        return fine.solution(), fine.length()
    return rough, length


def _starts(bench: Bench, plan: Plan, watch: Watch) -> tuple[Floats, Ints, Ints]:
    """The best of some randomised bottom-left lays; the first takes the pieces by area."""
    t = bench.tables
    n = len(bench.x)
    area = np.array(
        [t.size[bench.item_pose[bench.item_at[i]]] * t.deep[bench.item_pose[bench.item_at[i]]] for i in range(n)]
    )
    best, least, spent = bench.state(), math.inf, 0
    generator = np.random.default_rng(int(bench.rng[0] & np.uint64(0xFFFFFFFF)))
    for trial in range(plan.starts):
        if trial and (watch.stop() or spent > 0.5 * plan.work):
            break
        spread = 0.0 if trial == 0 else 0.1 + 0.5 * (trial % 4)
        order = np.argsort(-np.log(area) + spread * generator.standard_normal(n), kind="stable")
        _, work = search.bottom_left(
            order,
            ~bench.movable,
            bench.x,
            bench.row,
            bench.pose,
            bench.item_at,
            bench.item_pose,
            bench.rmin,
            bench.rmax,
            t.size,
            *t.lookup,
            0.0 if trial == 0 else 8.0,
            bench.rng,
        )
        spent += work
        length = bench.length()
        if length < least - 1e-6:
            best, least = bench.state(), length
            watch.report(bench.solution(), length)
    return best


def _shrink(
    bench: Bench,
    best: tuple[Floats, Ints, Ints],
    budget: float,
    patience: int,
    floor_mm: float,
    watch: Watch,
    coarse: float = 0.02,
    shake: bool = True,
) -> tuple[Floats, Ints, Ints]:
    """Shorten a lay: squeeze it into less and less length, separating what then overlaps, until the budget is spent.

    Without `shake` (items bound to a window of rows) a length that fails twice in a row ends it.
    """
    t = bench.tables
    n = len(bench.x)
    bench.restore(best)
    length, step, spent, fails = bench.length(), coarse, 0.0, 0
    generator = np.random.default_rng(int(bench.rng[0] & np.uint64(0xFFFFFFFF)))
    while spent < budget and length > floor_mm + 0.05 and not watch.stop():
        limit = max(floor_mm, length * (1.0 - step))
        w = np.ones((n, n))
        if fails and shake:
            _shake(bench, limit, fails, generator)
        left = math.inf
        while spent < budget:
            left, work = search.separate(
                bench.x,
                bench.row,
                bench.pose,
                bench.item_at,
                bench.item_pose,
                bench.rmin,
                bench.rmax,
                t.size,
                t.deep,
                t.step,
                *t.lookup,
                w,
                bench.movable,
                limit,
                bench.rng,
                min(CHUNK, budget - spent),
                patience,
            )
            spent += work
            if left == 0.0 or work <= CHUNK or watch.stop():
                break
        if left == 0.0 and bench.length() >= length - 1e-9:
            break  # a locked piece holds the length where it is
        if left == 0.0:
            best, length, fails = bench.state(), bench.length(), 0
            watch.report(bench.solution(), length)
        else:
            fails += 1
            step = max(step * 0.6, FINEST)
            bench.restore(best)
            if not shake and step <= FINEST and fails > 1:
                break
    return best


def _shake(bench: Bench, limit: float, fails: int, generator: np.random.Generator) -> None:
    """Disturb a lay that would not shrink: put two items of like size in each other's place."""
    n = len(bench.x)
    t = bench.tables
    for _ in range(1 + fails % 3):
        i, j = generator.integers(n), generator.integers(n)
        if (
            i == j
            or not (bench.movable[i] and bench.movable[j])
            or t.size[bench.pose[i]] + t.size[bench.pose[j]] < 0.1 * limit
        ):
            continue
        for a, b in ((i, j), (j, i)):
            slot = bench.item_at[a]
            bench.row[a] = min(max(int(bench.row[b]), int(bench.rmin[slot])), int(bench.rmax[slot]))
            bench.pose[a] = bench.item_pose[slot]
        bench.x[i], bench.x[j] = float(bench.x[j]), float(bench.x[i])


def _fine_bench(nest: Nest, bench: Bench, best: tuple[Floats, Ints, Ints]) -> Bench | None:
    """The same lay on a fine grid: poses kept, each item free to move a few millimetres across.

    None when it cannot be made legal on the new rows without growing by a twentieth.
    """
    bench.restore(best)
    grid = Grid.of(nest.width_mm, FINE_MM)
    stands = bench.solution()
    shapes, shift, limits, at = [], [], [], []
    for i, stand in enumerate(stands):
        item = nest.items[i]
        pose = item.poses[stand.pose]
        shape, raised, _ = nest.shape(pose, item, [], grid, i)
        first, last = _rows_for(item, pose, grid, shape.rows)
        near = min(max(round((stand.y - raised) / grid.step_mm), first), last)
        shapes.append(shape)
        shift.append(raised)
        at.append(near)
        limits.append((max(first, near - WINDOW), min(last, near + WINDOW)))
    rmin, rmax = np.array(limits).T.copy()
    dmin = rmin[None, :] - rmax[:, None]
    nd = rmax[None, :] - rmin[:, None] - dmin + 1
    tables = tabulate(shapes, grid, nest.gap_mm, (dmin, nd))
    n = len(stands)
    index = np.arange(n)
    fine = Bench(
        tables,
        np.arange(n + 1),
        index,
        np.array([s.pose for s in stands]),
        rmin,
        rmax,
        np.array(shift),
        nest.rng,
        np.array([s.x for s in stands]),
        np.array(at),
        index.copy(),
        bench.movable,
        bench.counts,
    )
    return fine if _settle(fine) else None


def _settle(fine: Bench) -> bool:
    """Make a lay legal on its new rows by small shifts, letting its length grow a little; whether it worked."""
    t = fine.tables
    n = len(fine.x)
    limit = fine.length()
    for _ in range(12):
        w = np.ones((n, n))
        left, _ = search.separate(
            fine.x,
            fine.row,
            fine.pose,
            fine.item_at,
            fine.item_pose,
            fine.rmin,
            fine.rmax,
            t.size,
            t.deep,
            t.step,
            *t.lookup,
            w,
            fine.movable,
            limit,
            fine.rng,
            CHUNK,
            60,
        )
        if left == 0.0:
            return True
        limit *= 1.004
    return False
