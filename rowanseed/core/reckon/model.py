"""What a calculator is: its inputs, its results, the practice behind it, and the figure that is drawn of them."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from rowanseed.core.errors import ReckonError
from rowanseed.core.lengths import both, format_length

COMMON = "Common practice, no published source."
GEOMETRY = "Plane geometry."


@dataclass(frozen=True)
class Input:
    """One figure a calculator asks for: a length, a plain number, or a share in per cent; `default` where it may be left out."""

    key: str
    label: str
    kind: Literal["length", "number", "percent"]
    example: str
    default: str = ""


@dataclass(frozen=True)
class Result:
    """One figure answered: mm for lengths, plain otherwise, and how it reads."""

    key: str
    label: str
    value: float
    text: str


FigureKind = Literal["lines", "row", "box", "bars", "rings", "folds", "strips"]


@dataclass(frozen=True)
class Figure:
    """What is drawn of a sum: `values` are named lengths in mm, in the order in which they are drawn.

    lines: lines at distances from an edge; row: marks along an edge; box: length and width; bars: lengths to compare; rings: radii;
    folds: visible width, depth, count; strips: length and width of a piece, strip width.
    """

    kind: FigureKind
    values: tuple[tuple[str, float], ...]


Values = Mapping[str, float]


@dataclass(frozen=True)
class Calculator:
    """A sum with a name, its inputs, the practice behind it, and the reason in a sentence.

    `steps`: ids of sewing operations that it can be used in.
    """

    name: str
    title: str
    reason: str
    inputs: tuple[Input, ...]
    work: Callable[[Values], list[Result]]
    figure: Callable[[Values, Mapping[str, float]], Figure]
    steps: tuple[str, ...] = ()
    source: str = COMMON


def length(key: str, label: str, mm: float) -> Result:
    """A length that was worked out. Raises ReckonError for one below nothing: the figures cannot be meant."""
    return Result(key, label, _real(label, mm), both(mm))


def finely(key: str, label: str, mm: float) -> Result:
    """A length whose rounding counts several times over, as a radius does in its round: told in sixteenths."""
    return Result(key, label, _real(label, mm), both(mm, denominator=16))


def at_least(key: str, label: str, mm: float) -> Result:
    """A length that must not come out short, as what a button passes or what is bought: rounded up, in sixteenths."""
    return Result(key, label, _real(label, mm), both(mm, denominator=16, up=True))


def metres(key: str, label: str, mm: float) -> Result:
    """A long length, as thread, in metres and yards."""
    return Result(key, label, _real(label, mm), f"{format_length(mm, 'm')} ({format_length(mm, 'yd', 1)})")


def _real(label: str, mm: float) -> float:
    if mm < -1e-9:
        raise ReckonError(f"{label} would come out below nothing. Check the figures.")
    return mm


def number(key: str, label: str, value: float, text: str = "") -> Result:
    """A plain number that was worked out."""
    return Result(key, label, value, text or f"{value:g}")
