"""The one amount at which nothing is left over, found by trying."""

import math
from collections.abc import Callable

from rowanseed.core.errors import AlterationError

ENOUGH_MM = 0.02
ROUNDS = 16


def amount_that_leaves_nothing(off: Callable[[float], float], most: float, first: float | None = None) -> float:
    """The amount at which `off` is nothing, by secants from none, mm; where there is none, the best that was tried.

    Args:
        off: what is left over at an amount; raises AlterationError where it cannot be made.
        most: no more than this is tried, either way.
        first: tried first; else what is left over at none, the other way.
    """
    was, miss = 0.0, off(0.0)
    now = -miss if first is None else first
    best = (abs(miss), was)
    for _ in range(ROUNDS):
        if abs(miss) < ENOUGH_MM:
            break
        now = max(-most, min(most, now))
        try:
            left = off(now)
        except AlterationError:
            left = math.nan
        if math.isnan(left):
            now = (now + was) / 2
            continue
        slope = (left - miss) / ((now - was) or 1e-9)
        was, miss = now, left
        best = min(best, (abs(miss), was))
        now = was - left / slope if abs(slope) > 1e-4 else was - left
    return best[1]
