"""What remains of a lay's cloth: the largest rectangles that no piece touches.

The cloth is taken in squares of a centimetre; a rectangle is made of squares that are wholly free, so that what is said is there.
"""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from rowanseed.core.lay.model import Lane, Lay, LayCloth

SQUARE_MM = 10.0
LEAST_MM = 100.0  # a shorter side is a scrap; common practice, no source
MOST = 4


@dataclass(frozen=True)
class Offcut:
    """A free rectangle: how long along the cloth and how wide, where it lies on its lane, and in how many layers, mm."""

    length_mm: float
    width_mm: float
    x_mm: float
    y_mm: float
    lane: int
    layers: int


def offcuts(lay: Lay, cloth: LayCloth) -> list[Offcut]:
    """The largest free rectangles of a lay, largest first, and before them what is left of the length in hand."""
    found = []
    for number, lane in enumerate(lay.lanes):
        taken = [shapely.Polygon(p.outline) for p in lay.placements if p.lane == number]
        free = _free_squares(lane, taken)
        for _ in range(MOST):
            area, (r0, r1, c0, c1) = _largest(free)
            length, width = (c1 - c0) * SQUARE_MM, (r1 - r0) * SQUARE_MM
            if area == 0 or min(length, width) < LEAST_MM:
                break
            found.append(Offcut(length, width, lane.start_mm + c0 * SQUARE_MM, r0 * SQUARE_MM, number, lane.layers))
            free[r0:r1, c0:c1] = False
    best = sorted(found, key=lambda o: -o.length_mm * o.width_mm * o.layers)[:MOST]
    if cloth.length_mm is not None and cloth.length_mm - lay.length_mm >= LEAST_MM:
        rest = cloth.length_mm - lay.length_mm
        best.insert(0, Offcut(rest, cloth.width_mm, lay.length_mm, 0.0, 0, 1))
    return best


def _free_squares(lane: Lane, taken: list[shapely.Polygon]) -> NDArray[np.bool_]:
    """Which squares of a lane, by row across and column along, no piece touches."""
    columns = int((lane.end_mm - lane.start_mm) // SQUARE_MM)
    rows = int((lane.to_mm - lane.from_mm) // SQUARE_MM)
    free = np.ones((rows, columns), np.bool_)
    for piece in taken:
        x0, y0, x1, y1 = piece.bounds
        c0, c1 = (int((v - lane.start_mm) // SQUARE_MM) for v in (x0, x1))
        r0, r1 = (int(v // SQUARE_MM) for v in (y0, y1))
        c0, c1, r0, r1 = max(c0, 0), min(c1, columns - 1), max(r0, 0), min(r1, rows - 1)
        if c0 > c1 or r0 > r1:
            continue
        left = lane.start_mm + np.arange(c0, c1 + 1) * SQUARE_MM
        low = np.arange(r0, r1 + 1) * SQUARE_MM
        xs, ys = np.meshgrid(left, low)
        squares = shapely.box(xs, ys, xs + SQUARE_MM, ys + SQUARE_MM)
        shapely.prepare(piece)
        free[r0 : r1 + 1, c0 : c1 + 1] &= ~shapely.intersects(piece, squares)
    return free


def _largest(free: NDArray[np.bool_]) -> tuple[int, tuple[int, int, int, int]]:
    """The largest all-free rectangle of a grid: its squares, and (first row, row after, first column, column after)."""
    best, where = 0, (0, 0, 0, 0)
    heights = np.zeros(free.shape[1], np.int64)
    for row in range(free.shape[0]):
        heights = np.where(free[row], heights + 1, 0)
        stack: list[tuple[int, int]] = []  # (first column, height), heights rising
        for column, height in enumerate([*heights.tolist(), 0]):
            first = column
            while stack and stack[-1][1] >= height:
                first, tall = stack.pop()
                if tall * (column - first) > best:
                    best, where = tall * (column - first), (row - tall + 1, row + 1, first, column)
            stack.append((first, height))
    return best, where
