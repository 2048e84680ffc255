"""A bounded memory of what was worked out, by everything that it was worked out from."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, TypeVar, cast

T = TypeVar("T")
_MISSING = object()


class Remembered:
    """The last results, least recently used ones forgotten first; safe to be asked from several threads."""

    def __init__(self, most: int = 256) -> None:
        self._most = most
        self._held: OrderedDict[Hashable, Any] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Any:
        """Return what is remembered under a key, else None."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key]
        return None

    def put(self, key: Hashable, value: Any) -> None:
        """Remember a value."""
        with self._lock:
            self._held[key] = value
            self._held.move_to_end(key)
            while len(self._held) > self._most:
                self._held.popitem(last=False)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._held.clear()

    def once(self, key: Hashable, work: Callable[[], T]) -> T:
        """Return what is remembered under a key; work it out where nothing is, outside the lock."""
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return cast(T, self._held[key])
        value = work()
        self.put(key, value)
        return value
