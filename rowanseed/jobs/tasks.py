"""The kinds of long work, and how each is done: reporting as it improves, stopping when asked."""

import time
from collections.abc import Callable
from typing import Any

from rowanseed.core.concede.search import ConcedeRequest, ConcedeWatch, concede
from rowanseed.core.concede.sizes import SizesRequest, SizesWatch, sizes_that_fit
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.lay.watch import LayWatch

Task = LayRequest | ConcedeRequest | SizesRequest


def run(task: Task, report: Callable[[Any], None], stop: Callable[[], bool]) -> Any:
    """Do a task: a lay answers a `Lay`, concessions `Conceded`, sizes `SizesFound`; reports are of the same kind.

    Raises:
        RowanseedError: the task cannot be done as asked.
    """
    match task:
        case LayRequest():
            return lay(task, LayWatch(report, stop, time.perf_counter))
        case ConcedeRequest():
            return concede(task, ConcedeWatch(report, stop, time.perf_counter))
        case SizesRequest():
            return sizes_that_fit(task, SizesWatch(report, stop, time.perf_counter))
