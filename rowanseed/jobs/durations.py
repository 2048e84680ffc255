"""How long each kind of work took on this machine, so that what goes on can say about how long it still takes."""

import statistics
import threading
from collections import deque
from collections.abc import Mapping, Sequence

KEPT = 9  # the newest of each kind: a machine that became faster is believed soon


class Durations:
    """Seconds by kind of work, the newest last; safe to use from several threads."""

    def __init__(self) -> None:
        self._taken: dict[str, deque[float]] = {}
        self._lock = threading.Lock()

    def note(self, kind: str, seconds: float) -> None:
        """Remember how long a piece of work took that was not stopped."""
        with self._lock:
            self._taken.setdefault(kind, deque(maxlen=KEPT)).append(round(seconds, 2))

    def about(self, kind: str) -> float | None:
        """How long such work takes, the middle of what it took; None where none was done yet."""
        with self._lock:
            taken = self._taken.get(kind)
            return statistics.median(taken) if taken else None

    def kept(self) -> dict[str, list[float]]:
        """All of it, to be kept over a restart."""
        with self._lock:
            return {kind: list(taken) for kind, taken in self._taken.items()}

    def take_over(self, kept: Mapping[str, Sequence[float]]) -> None:
        """Begin with what was kept."""
        for kind, taken in kept.items():
            for seconds in taken:
                self.note(kind, seconds)
