"""The nester's arrays: shapes cut into slabs, and the tables of forbidden positions for each pair of them."""

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon
from shapely.geometry import JOIN_STYLE

from rowanseed.core.geometry.types import Outline
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from rowanseed.core.lay import slices
else:
    slices = lazily("rowanseed.core.lay.slices")

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Grid:
    """Rows across a lane: `rows` steps of `step_mm` fill its usable width exactly."""

    width_mm: float
    rows: int

    @property
    def step_mm(self) -> float:
        """Distance of two rows."""
        return self.width_mm / self.rows

    @staticmethod
    def of(width_mm: float, about_mm: float) -> "Grid":
        """The grid on this width whose step is nearest to, and not above, `about_mm`."""
        return Grid(width_mm, max(1, math.ceil(width_mm / about_mm - 1e-9)))

    @staticmethod
    def repeating(width_mm: float, about_mm: float, repeat_mm: float) -> "Grid":
        """A grid whose step divides a repeat; it may leave less than a step of the width unused."""
        step = repeat_mm / max(1, math.ceil(repeat_mm / about_mm - 1e-9))
        rows = max(1, math.floor(width_mm / step + 1e-9))
        return Grid(rows * step, rows)

    def rows_for(self, height_mm: float) -> int:
        """How many whole rows a height takes."""
        return max(1, math.ceil(height_mm / self.step_mm - 1e-6))


@dataclass(frozen=True)
class Shape:
    """A polygon grown by half the gap, in local coordinates, mirrored from base number `base` or not."""

    base: int
    flip_x: bool
    flip_y: bool
    grown: Outline
    length_mm: float
    rows: int


@dataclass(frozen=True)
class Tables:
    """The flat tables of `slices`, with each shape's length and height as the nester counts them."""

    size: Floats
    deep: Floats
    step: float
    off: Ints
    dmin: Ints
    nd: Ints
    cell: NDArray[np.int32]
    span: Floats


def grow(outline: Outline, gap_mm: float) -> Outline:
    """An outline grown by half the gap; two such that only touch keep the whole gap between them."""
    if gap_mm <= 0:
        return outline
    polygon = Polygon(outline).buffer(gap_mm / 2, join_style=JOIN_STYLE.mitre, mitre_limit=2.0)
    return tuple((float(x), float(y)) for x, y in polygon.exterior.coords[:-1])


def _slabs(shapes: list[Shape]) -> tuple[Floats, Ints, Ints]:
    blocks: list[Any] = []
    part_at, shape_at = [0], [0]
    for shape in shapes:
        points = np.array(shape.grown, dtype=np.float64)
        slabs, part = slices.cut_into_slabs(points[:, 0].copy(), points[:, 1].copy())
        blocks.append(slabs)
        for number in range(int(part[-1]) + 1):
            part_at.append(part_at[-1] + int(np.count_nonzero(part == number)))
        shape_at.append(len(part_at) - 1)
    return np.concatenate(blocks), np.array(part_at), np.array(shape_at)


def tabulate(shapes: list[Shape], grid: Grid, gap_mm: float, window: tuple[Ints, Ints] | None = None) -> Tables:
    """Tabulate every pair of shapes over all row differences at which they can meet.

    Args:
        window: instead, the first row difference and the number of them for each pair (n x n each).
    """
    rows = np.array([s.rows for s in shapes])
    if window is None:
        extra = math.ceil(gap_mm / grid.step_mm) + 1
        dmin = -(rows[None, :] + extra) * np.ones((len(shapes), 1), np.int64)
        nd = rows[:, None] + extra - dmin + 1
    else:
        dmin, nd = window
    dmin, nd = np.ascontiguousarray(dmin, np.int64), np.ascontiguousarray(nd, np.int64)
    slabs, part_at, shape_at = _slabs(shapes)
    size = np.array([s.length_mm for s in shapes])
    off, cell, lo, hi = slices.build_tables(
        slabs,
        part_at,
        shape_at,
        np.array([s.base for s in shapes]),
        np.array([s.flip_x for s in shapes]),
        np.array([s.flip_y for s in shapes]),
        size,
        rows,
        grid.step_mm,
        dmin,
        nd,
    )
    return Tables(
        size,
        rows * grid.step_mm + gap_mm,
        grid.step_mm,
        off,
        dmin,
        nd,
        cell.astype(np.int32),
        np.stack((lo, hi), axis=1),
    )
