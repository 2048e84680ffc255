"""Watching a lay while it is worked out, and which of two lays is the better one."""

from collections.abc import Callable
from dataclasses import dataclass

from rowanseed.core.lay.model import Lay


@dataclass
class LayWatch:
    """Told of every better lay while the work goes on; asked whether to stop and keep the best so far.

    `clock`: seconds by the caller's clock; the core has none.
    """

    report: Callable[[Lay], None] = lambda lay: None
    stop: Callable[[], bool] = lambda: False
    clock: Callable[[], float] = lambda: 0.0


def rank(lay: Lay) -> tuple[int, float]:
    """What makes a lay better: more pieces placed, then less cloth."""
    return (len(lay.failed), lay.length_mm)
