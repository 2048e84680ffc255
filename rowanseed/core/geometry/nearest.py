"""The place on a line through points that is nearest to a point."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from rowanseed.core.geometry.types import Point


@dataclass(frozen=True)
class Nearest:
    """A place on a line: on which segment, how far along it as a share, how far from the line's start and from the point, mm."""

    segment: int
    share: float
    along: float
    miss: float


class NearestOn:
    """A line through two points or more, made ready so that many places are asked of it; `closed`: it returns to its start."""

    def __init__(self, points: Sequence[Point], closed: bool = False) -> None:
        at = np.array(points)
        if closed:
            at = np.concatenate((at, at[:1]))
        self._from = at[:-1]
        self._steps = at[1:] - at[:-1]
        self._sizes = np.einsum("ij,ij->i", self._steps, self._steps)
        self._divide = np.where(self._sizes > 0, self._sizes, 1.0)
        self._lengths = np.sqrt(self._sizes)

    def at(self, place: Point) -> Nearest:
        """The nearest place on the line."""
        to = np.array(place) - self._from
        share = np.clip(np.einsum("ij,ij->i", to, self._steps) / self._divide, 0.0, 1.0)
        off = to - share[:, None] * self._steps
        misses = np.einsum("ij,ij->i", off, off)
        k = int(np.argmin(misses))
        along = float(self._lengths[:k].sum() + share[k] * self._lengths[k])
        return Nearest(k, float(share[k]), along, float(np.sqrt(misses[k])))


def nearest(points: Sequence[Point], place: Point, closed: bool = False) -> Nearest:
    """The nearest place on a line through two points or more; `closed`: the line returns to its start."""
    return NearestOn(points, closed).at(place)
