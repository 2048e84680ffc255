"""One nesting problem as arrays: every item's shapes, the rows it may stand on, and where it stands now."""

import math
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rowanseed.core.lay.demand import Item, Pose
from rowanseed.core.lay.layout_arrays import Layout
from rowanseed.core.lay.tables import Floats, Grid, Ints, Shape, Tables, grow, tabulate

MOST_CELLS = 1.5e7  # pairs of poses times rows in a table; a crowded lay gets coarser rows rather than more memory


@dataclass(frozen=True)
class ItemPosition:
    """Where one item stands: its pose's index, and the corner of its cutting shape on the usable strip."""

    pose: int
    x: float
    y: float


Solution = tuple[ItemPosition, ...]
Flags = NDArray[np.bool_]


@dataclass(frozen=True)
class Repeat:
    """The repeat of a print along and across, mm, 0 where it has none; every second column half a repeat further in a half drop."""

    along_mm: float = 0.0
    across_mm: float = 0.0
    half_drop: bool = False


NO_REPEAT = Repeat()


@dataclass
class NestingProblem:
    """The arrays of one nesting problem on one grid."""

    tables: Tables
    item_at: Ints
    item_pose: Ints
    pose_of: Ints
    rmin: Ints
    rmax: Ints
    shift: Floats
    stride: Ints
    phases: Floats
    rng: np.ndarray
    x: Floats = field(default_factory=lambda: np.zeros(0))
    row: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    pose: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    movable: Flags = field(default_factory=lambda: np.zeros(0, np.bool_))
    counts: Flags = field(default_factory=lambda: np.zeros(0, np.bool_))

    @cached_property
    def board(self) -> Layout:
        """The same arrays as the kernels take them; what moves there moves here."""
        t = self.tables
        return Layout(
            self.x, self.row, self.pose, self.item_at, self.item_pose, self.rmin, self.rmax, self.stride, self.phases,
            self.movable, t.size, t.deep, t.step, t.off, t.dmin, t.nd, t.cell, t.span,
        )  # fmt: skip

    @cached_property
    def pairs(self) -> Floats:
        """How much the overlap of each pair of items counts at first: more between large ones, which are to find their places
        before the small ones fill what they leave. The square root of their mean size; 1 for two of middling size."""
        area = self.tables.size[self.pose] * self.tables.deep[self.pose]
        area = np.maximum(area / area.mean(), 1e-6)
        both: Floats = np.sqrt(np.sqrt(area[:, None] * area[None, :]))
        return both

    def length(self) -> float:
        """The far end of the furthest piece; flaws do not count."""
        return float(np.max((self.x + self.tables.size[self.pose])[self.counts]))

    def state(self) -> tuple[Floats, Ints, Ints]:
        """A copy of where everything stands."""
        return self.x.copy(), self.row.copy(), self.pose.copy()

    def restore(self, state: tuple[Floats, Ints, Ints]) -> None:
        """Stand everything where a copied state says."""
        self.x[:], self.row[:], self.pose[:] = state

    def part(self, which: Ints) -> "NestingProblem":
        """A problem of some of the items alone, on the same tables; what moves there does not move here."""
        slots = [np.arange(self.item_at[i], self.item_at[i + 1]) for i in which]
        at = np.concatenate([[0], np.cumsum([len(own) for own in slots])]).astype(np.int64)
        q = np.concatenate(slots)
        return NestingProblem(
            self.tables, at, self.item_pose[q], self.pose_of[q], self.rmin[q], self.rmax[q], self.shift, self.stride[q],
            self.phases, self.rng, np.zeros(len(which)), self.rmin[q][at[:-1]], self.item_pose[q][at[:-1]],
            self.movable[which], self.counts[which],
        )  # fmt: skip

    def solution(self) -> Solution:
        """The items' stands, in item order, from rows to millimetres."""
        out = []
        for i in range(len(self.x)):
            slots = range(self.item_at[i], self.item_at[i + 1])
            own = [q for q in slots if self.item_pose[q] == self.pose[i]]
            # The same shape may lie in several lanes: its row tells in which.
            slot = next((q for q in own if self.rmin[q] <= self.row[i] <= self.rmax[q]), own[0])
            y = float(self.row[i]) * self.tables.step + float(self.shift[self.pose[i]])
            out.append(ItemPosition(int(self.pose_of[slot]), float(self.x[i]), y))
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


def rows_for(item: Item, pose: Pose, grid: Grid, rows: int, raised: float = 0.0) -> tuple[int, int]:
    """The first and last row an item may stand on in a pose; `raised`: how far its shape lies above its row, mm."""
    if pose.y_mm is not None:
        row = math.floor(pose.y_mm / grid.step_mm)
        return row, row
    if pose.band is not None:
        low, high = pose.band
        first = math.ceil((low - raised) / grid.step_mm - 1e-9)
        return first, max(first, math.floor((high - pose.height_mm - raised) / grid.step_mm + 1e-9))
    return 0, 0 if item.at_fold else grid.rows - rows


class Nest:
    """One lane's items, ready to be laid at any effort. Items must all fit the strip's width in some pose."""

    def __init__(
        self, items: list[Item], width_mm: float, gap_mm: float, seed: int, repeat: Repeat = NO_REPEAT
    ) -> None:
        self.items = items
        self.repeat = repeat
        self.width_mm = width_mm
        self.gap_mm = gap_mm
        self.rng = np.array([(seed * 0x9E3779B97F4A7C15 + 0x1234567) & 0xFFFFFFFFFFFFFFFF or 1], np.uint64)

    def problem(self, about_mm: float) -> NestingProblem:
        """Shapes, tables and row limits of all items on a grid of about this step."""
        poses = sum(
            len(item.poses) for item in {(i.piece, i.layers, i.poses[0].face_down): i for i in self.items}.values()
        )
        about = max(about_mm, self.width_mm * poses * poses / MOST_CELLS)
        matched = any(pose.y_phase is not None for item in self.items for pose in item.poses)
        grid = Grid.of(self.width_mm, about)
        if matched:
            grid = Grid.repeating(self.width_mm, about, self.repeat.across_mm)
        shapes: list[Shape] = []
        shift: list[float] = []
        known: dict[tuple[object, ...], int] = {}
        bases: dict[str, list[tuple[int, Pose]]] = {}
        count = 0
        item_at, item_pose, pose_of, rmin, rmax, stride = [0], [], [], [], [], []
        phases: list[tuple[float, float, float, float]] = []
        for item in self.items:
            for number, pose in enumerate(item.poses):
                if pose.height_mm > self.width_mm + 1e-6 and pose.y_mm is None:
                    continue
                pin = math.nan if pose.y_mm is None else round(pose.y_mm, 6)
                stands = (pose.x_phase, None if item.at_fold else pose.y_phase)
                key = (*(round(v, 6) for p in pose.cut for v in p), float(item.at_fold), str(pin), stands)
                index = known.get(key)
                if index is None:
                    index = known[key] = len(shapes)
                    family = bases.setdefault(item.piece, [])
                    shape, raised, count = self.shape(pose, item, family, grid, count)
                    shapes.append(shape)
                    shift.append(raised)
                    phases.append(self._phase(pose, item, grid))
                item_pose.append(index)
                pose_of.append(number)
                first, last = rows_for(item, pose, grid, shapes[index].rows, shift[index])
                pace = 1
                if pose.y_phase is not None and pose.y_mm is None and not item.at_fold:
                    pace = round(self.repeat.across_mm / grid.step_mm)
                    first = math.floor(pose.y_phase % self.repeat.across_mm / grid.step_mm + 1e-9)
                    last = first + max(0, (last - first) // pace) * pace
                rmin.append(first)
                rmax.append(last)
                stride.append(pace)
            item_at.append(len(item_pose))
        tables = tabulate(shapes, grid, self.gap_mm)
        n = len(self.items)
        return NestingProblem(
            tables,
            np.array(item_at),
            np.array(item_pose),
            np.array(pose_of),
            np.array(rmin),
            np.array(rmax),
            np.array(shift),
            np.array(stride),
            np.array(phases),
            self.rng,
            np.array([item.x_mm or 0.0 for item in self.items]),
            np.array([rmin[item_at[i]] for i in range(n)]),
            np.array([item_pose[item_at[i]] for i in range(n)]),
            *self._flags(),
        )

    def _phase(self, pose: Pose, item: Item, grid: Grid) -> tuple[float, float, float, float]:
        """Where a shape may stand along the cloth, as the kernels take it: phase, period, row it counts from, rows to a shift."""
        if pose.x_phase is None or item.x_mm is not None:
            return 0.0, 0.0, 0.0, 0.0
        if not self.repeat.half_drop or pose.y_phase is None:
            return pose.x_phase, self.repeat.along_mm, 0.0, 0.0
        across = self.repeat.across_mm
        columns = math.floor(pose.y_phase / across)
        phase = pose.x_phase + (self.repeat.along_mm / 2 if columns % 2 else 0.0)
        if item.at_fold:
            return phase, self.repeat.along_mm, 0.0, 0.0
        first = math.floor(pose.y_phase % across / grid.step_mm + 1e-9)
        return phase, self.repeat.along_mm, float(first), float(round(across / grid.step_mm))

    def phase_at(self, pose: Pose, x: float) -> tuple[float, float, float, float]:
        """The phase of a pose that keeps to its row: where it stands now, and every repeat from there."""
        if pose.x_phase is None:
            return 0.0, 0.0, 0.0, 0.0
        return x, self.repeat.along_mm, 0.0, 0.0

    def _flags(self) -> tuple[Flags, Flags]:
        """Which items may move, and which count toward the length."""
        return np.array([i.x_mm is None for i in self.items]), np.array([not i.is_flaw for i in self.items])

    def shape(
        self, pose: Pose, item: Item, family: list[tuple[int, Pose]], grid: Grid, count: int
    ) -> tuple[Shape, float, int]:
        """A pose as a shape: how it mirrors an earlier one of its piece, and how far it is raised in its rows."""
        rows = grid.rows_for(pose.height_mm)
        grown = grow(pose.cut, self.gap_mm)
        bound = pose.y_mm if pose.y_mm is not None or item.at_fold else pose.y_phase
        if bound is not None:
            # Bound to a place between two rows: the shape is raised in its row, and is no mirror image of another.
            raised = bound - math.floor(bound / grid.step_mm + 1e-9) * grid.step_mm
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
