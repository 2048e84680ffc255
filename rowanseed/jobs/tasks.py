"""The kinds of long work, and how each is done: reporting as it improves, stopping when asked."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from rowanseed.core.concede.search import ConcedeRequest, ConcedeWatch, concede
from rowanseed.core.concede.sizes import SizesRequest, SizesWatch, sizes_that_fit
from rowanseed.core.intake.model import IntakeOptions
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.lay.watch import LayWatch
from rowanseed.core.paper.model import PaperRequest
from rowanseed.core.paper.pack import pack


@dataclass(frozen=True)
class ReadFile:
    """Read a pattern file into proposed pieces. `digest` stands for the file where tasks are told apart."""

    digest: str
    options: IntakeOptions
    data: bytes = field(repr=False, compare=False)
    grading: bytes | None = field(default=None, repr=False, compare=False)


@dataclass(frozen=True)
class FlattenPhotos:
    """Make photographs flat and to scale, or a scan by its dpi."""

    digest: str
    dpi: float | None
    square_mm: float | None
    photos: tuple[bytes, ...] = field(repr=False, compare=False)


@dataclass(frozen=True)
class Told:
    """How far a reading is: what is being done, and the share that is done."""

    text: str
    share: float


FEW, MANY = 8, 24  # pieces of a lay: how long it takes goes by about so many

Task = LayRequest | ConcedeRequest | SizesRequest | ReadFile | FlattenPhotos | PaperRequest


def kind_of(task: Task) -> str:
    """What a task is alike to in how long it takes: its kind, a lay's effort, spread and number of pieces too."""
    name = type(task).__name__
    if not isinstance(task, LayRequest):
        return name
    cut = sum(piece.cut for piece in task.pieces)
    return f"{name} {task.effort} {task.spread} {'few' if cut < FEW else 'some' if cut < MANY else 'many'}"


SMALL_PIECES, SMALL_POINTS = 60, 6_000
# How long a task goes on while others wait, seconds: some four times what a garment's takes at each effort.
TURN_S: dict[str, float] = {"quick": 10.0, "good": 20.0, "best": 60.0}
OTHER_TURN_S = 90.0


def is_small(task: Task) -> bool:
    """Return whether a task is a lay that takes a second or two whatever it holds."""
    if not isinstance(task, LayRequest) or task.effort == "best":
        return False
    cut = sum(piece.cut for piece in task.pieces)
    return cut <= SMALL_PIECES and sum(len(piece.outline) for piece in task.pieces) <= SMALL_POINTS


def turn_s(task: Task) -> float:
    """Return how long a task may keep others waiting, seconds, by what was asked for."""
    return TURN_S[task.effort] if isinstance(task, LayRequest) else OTHER_TURN_S


def run(task: Task, report: Callable[[Any], None], stop: Callable[[], bool]) -> Any:
    """Do a task: a lay answers a `Lay`, concessions `Conceded`, sizes `SizesFound`; reports are of the same kind.

    A reading answers `Intake` or `FlatPhoto`, a packing `PaperSheet`; both report `Told`.

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
        case PaperRequest():
            return pack(task, lambda text, share: report(Told(text, share)), stop)
        case ReadFile():
            from rowanseed.formats.readings import take_in  # 11 MB that a worker which only lays does not need

            return take_in(task.data, task.options, lambda text, share: report(Told(text, share)), stop, task.grading)
        case FlattenPhotos():
            from rowanseed.formats.readings import flatten_photos

            return flatten_photos(
                task.photos, task.dpi, task.square_mm, lambda text, share: report(Told(text, share)), stop
            )
