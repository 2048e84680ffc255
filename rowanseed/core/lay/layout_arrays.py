"""A layout as arrays, and the places where a shape may stand in it, for the compiled search.

Items stand at x (mm) and row, in a pose that is the number of a shape; item i may take the poses
`item_pose[item_at[i]:item_at[i + 1]]`, each on every `stride`-th row between its rmin and rmax. Where a print must match, a shape
stands only at certain x: `ph[p]` is (phase, period, row where it counts from, rows after which it shifts by half a period);
a period of 0 leaves it free, a fourth of 0 never shifts.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from rowanseed.core.lay.compiled import compiled

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class Layout(NamedTuple):
    """Where the items stand, what each may do, and the tables of forbidden positions, as `slices` says."""

    x: Floats
    row: Ints
    pose: Ints
    item_at: Ints
    item_pose: Ints
    rmin: Ints
    rmax: Ints
    stride: Ints
    ph: Floats
    movable: NDArray[np.bool_]
    size: Floats
    deep: Floats
    step: float
    off: Ints
    dmin: Ints
    nd: Ints
    cell: NDArray[np.int32]
    span: Floats


@compiled()
def random_share(rng):
    """A number in [0, 1) from an xorshift generator; rng holds its one word of state."""
    v = rng[0]
    v ^= (v << np.uint64(13)) & np.uint64(0xFFFFFFFFFFFFFFFF)
    v ^= v >> np.uint64(7)
    v ^= (v << np.uint64(17)) & np.uint64(0xFFFFFFFFFFFFFFFF)
    rng[0] = v
    return (v >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@compiled()
def _phase(p, r, ph):
    """Where shape p's positions on row r are counted from."""
    if ph[p, 3] > 0.0 and round((r - ph[p, 2]) / ph[p, 3]) % 2 != 0:
        return ph[p, 0] + ph[p, 1] / 2
    return ph[p, 0]


@compiled()
def snap_up(at, p, r, ph):
    """The first x not below `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = _phase(p, r, ph)
    return phase + np.ceil((at - phase) / period - 1e-9) * period


@compiled()
def snap_down(at, p, r, ph):
    """The last x not above `at` where shape p may stand on row r."""
    period = ph[p, 1]
    if period <= 0.0:
        return at
    phase = _phase(p, r, ph)
    return phase + np.floor((at - phase) / period + 1e-9) * period
