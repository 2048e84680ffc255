"""The largest size that a length of cloth is enough for."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from rowanseed.core.concede.search import ConcedeRequest, request_with
from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.watch import LayWatch


@dataclass(frozen=True)
class SizesRequest:
    """A role of one garment in several sizes, the smallest first; `asked` has the pattern with all of them altered."""

    asked: ConcedeRequest
    sizes: tuple[str, ...]


@dataclass(frozen=True)
class SizeLength:
    """The lay of one size: its length, whether every piece has a place, and whether the cloth in hand is enough."""

    size: str
    length_mm: float
    complete: bool
    fits: bool


@dataclass(frozen=True)
class SizesFound:
    """The sizes laid so far, smallest first, and the largest that fits, None where none does."""

    sizes: tuple[SizeLength, ...] = ()
    largest: str | None = None
    finished: bool = False


@dataclass
class SizesWatch:
    """Told of every size; asked whether to stop."""

    report: Callable[[SizesFound], None] = lambda so_far: None
    stop: Callable[[], bool] = lambda: False
    clock: Callable[[], float] = lambda: 0.0


def sizes_that_fit(request: SizesRequest, watch: SizesWatch | None = None) -> SizesFound:
    """Lay every size; one that takes a little more than there is, is laid again with more effort."""
    watch = watch or SizesWatch()
    target = request.asked.cloth.for_lay().length_mm
    found: list[SizeLength] = []
    for size in request.sizes:
        if watch.stop():
            return _found(found, finished=False)
        asked = request_with(replace(request.asked, sizes=(size,)), request.asked.allowed)
        if asked is None:
            continue
        try:
            laid = lay(replace(asked, effort="quick"), LayWatch(stop=watch.stop))
            if target is not None and target < laid.length_mm <= target * 1.03 and not laid.failed:
                laid = lay(replace(asked, effort="good"), LayWatch(stop=watch.stop))
        except RowanseedError:
            continue
        fits = not laid.failed and (target is None or laid.length_mm <= target + 1e-6)
        found.append(SizeLength(size, laid.length_mm, not laid.failed, fits))
        watch.report(_found(found, finished=False))
    return _found(found, finished=True)


def _found(sizes: list[SizeLength], finished: bool) -> SizesFound:
    fitting = [s.size for s in sizes if s.fits]
    return SizesFound(tuple(sizes), fitting[-1] if fitting else None, finished)
