"""Heavy modules that are loaded when they are first used, so that the server starts at once and holds only what it works with.

Lays, tracing and reading of files are done by workers and processes of their own; the server only names those functions.
"""

from importlib import import_module
from typing import Any


class _Lazy:
    """Stands for a module, or for one name in it, until something is asked of it."""

    def __init__(self, module: str, name: str) -> None:
        self.__dict__.update(_module=module, _name=name)

    def _it(self) -> Any:
        module = import_module(self._module)
        return getattr(module, self._name) if self._name else module

    def __getattr__(self, attribute: str) -> Any:
        return getattr(self._it(), attribute)

    def __call__(self, *values: Any, **named: Any) -> Any:
        return self._it()(*values, **named)


def lazily(module: str, name: str = "") -> Any:
    """Return what stands for a module, or for a function or class of it, and loads it at the first use.

    >>> lazily("math").sqrt(9.0), lazily("math", "sqrt")(9.0)
    (3.0, 3.0)
    """
    return _Lazy(module, name)
