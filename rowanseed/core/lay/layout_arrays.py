"""A layout as arrays, for the compiled search.

Items stand at x (mm) and row, in a pose that is the number of a shape; item i may take the poses
`item_pose[item_at[i]:item_at[i + 1]]`, each on every `stride`-th row between its rmin and rmax. Where a print must match, a shape
stands only at certain x: `ph[p]` is (phase, period, row where it counts from, rows after which it shifts by half a period);
a period of 0 leaves it free, a fourth of 0 never shifts.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

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
