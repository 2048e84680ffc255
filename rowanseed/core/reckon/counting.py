"""How many times a step goes into a length, counted as a sewist counts: no mark is lost since 1/2 in is no round float."""

import math

# A share of a step: far below what can be measured, far above what a length loses as a float.
ALMOST = 1e-6


def steps_in(length_mm: float, step_mm: float) -> int:
    """Return how many whole steps fit into a length.

    >>> steps_in(24 * 25.4, 25.4 / 2), steps_in(12 * 25.4, 25.4 / 2), steps_in(99.9, 10)
    (48, 24, 9)
    """
    return math.floor(length_mm / step_mm + ALMOST)


def steps_for(length_mm: float, step_mm: float) -> int:
    """Return how many steps a length needs, the last one perhaps not whole.

    >>> steps_for(3 * 0.1, 0.1), steps_for(30.1, 10)
    (3, 4)
    """
    return math.ceil(length_mm / step_mm - ALMOST)
