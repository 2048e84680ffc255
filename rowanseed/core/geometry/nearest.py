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


def nearest(points: Sequence[Point], place: Point, closed: bool = False) -> Nearest:
    """The nearest place on a line through two points or more; `closed`: the line returns to its start."""
    at = np.array(points)
    if closed:
        at = np.concatenate((at, at[:1]))
    steps = at[1:] - at[:-1]
    sizes = np.einsum("ij,ij->i", steps, steps)
    to = np.array(place) - at[:-1]
    share = np.clip(np.einsum("ij,ij->i", to, steps) / np.where(sizes > 0, sizes, 1.0), 0.0, 1.0)
    off = to - share[:, None] * steps
    misses = np.einsum("ij,ij->i", off, off)
    k = int(np.argmin(misses))
    lengths = np.sqrt(sizes)
    along = float(lengths[:k].sum() + share[k] * lengths[k])
    return Nearest(k, float(share[k]), along, float(np.sqrt(misses[k])))
