"""Inner loops compiled by numba, kept on disk where that may be written, compiled anew at each start where not."""

from collections.abc import Callable, Collection
from typing import Any, TypeVar

from numba import njit

F = TypeVar("F", bound=Callable[..., Any])


def compiled(fastmath: Collection[str] = ()) -> Callable[[F], F]:
    """Compile a function to run without the interpreter's lock; its code is kept where a folder for it can be written.

    Args:
        fastmath: what of floating point arithmetic may be rearranged, in LLVM's words.
    """
    options: dict[str, Any] = {"nogil": True, "fastmath": set(fastmath) or False}

    def compile_(function: F) -> F:
        try:
            made: F = njit(cache=True, **options)(function)
        except RuntimeError:  # no place for it: half a minute at each start, and every lay works all the same
            made = njit(**options)(function)
        return made

    return compile_
