"""Pleats, tucks and shirring. Common practice, no published source."""

from dataclasses import dataclass

from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon.counting import steps_for, steps_in

IN = 25.4


@dataclass(frozen=True)
class Pleats:
    """A row of pleats: how many, what each shows and takes, the cloth it needs, density (cloth / covered length)."""

    count: int
    visible_mm: float
    takes_mm: float
    cloth_mm: float
    density: float


def pleats(finished_mm: float, visible_mm: float, depth_mm: float) -> Pleats:
    """Knife pleats of a visible width and a depth over a finished length: each takes its visible part and twice its depth.

    >>> pleats(800, 40, 40)
    Pleats(count=20, visible_mm=40.0, takes_mm=120.0, cloth_mm=2400.0, density=3.0)
    """
    if visible_mm <= 0 or depth_mm <= 0 or finished_mm < visible_mm:
        raise ReckonError("Visible width and depth must be above 0, and fit the finished length.", "visible")
    count = round(finished_mm / visible_mm)
    takes = finished_mm / count + 2 * depth_mm
    return Pleats(count, finished_mm / count, takes, takes * count, takes * count / finished_mm)


def density(cloth_mm: float, covered_mm: float) -> float:
    """How full a panel from selvage to selvage is: its width / the length it covers.

    >>> density(1500, 500)
    3.0
    """
    if covered_mm <= 0 or covered_mm > cloth_mm:
        raise ReckonError("The covered length must be above 0 and no longer than the cloth.", "covered")
    return cloth_mm / covered_mm


def cartridge_marks(edge_mm: float) -> int:
    """Cartridge pleats: marks every 1/2 in along the edge, on two rows 1/8 in and 1 1/8 in from the fold."""
    if edge_mm < IN:
        raise ReckonError("The edge is too short for cartridge pleats.", "edge")
    return steps_in(edge_mm, IN / 2) + 1


@dataclass(frozen=True)
class Shirring:
    """Rows of shirring: their number, the elastic thread they take, the bobbins to wind."""

    rows: int
    thread_mm: float
    bobbins: int


def shirring(deep_mm: float, wide_mm: float, apart_mm: float, sample: float, bobbin_mm: float) -> Shirring:
    """Rows over a panel: elastic thread runs at the gathered length below cloth that lies flat above.

    Args:
        sample: what a good sample shrinks to, about 0.5; tension winds the thread on stretched, so that a row takes about
            this share of the cloth's width in thread.
        bobbin_mm: elastic thread that a bobbin holds.
    """
    if min(deep_mm, wide_mm) < apart_mm:
        raise ReckonError("The panel is smaller than the rows are apart.", "deep")
    if not 0.3 <= sample <= 1 or min(deep_mm, wide_mm, apart_mm, bobbin_mm) <= 0:
        raise ReckonError("A sample shrinks to between 0.3 and 1 of its width; the rest must be above 0.", "sample")
    rows = steps_in(deep_mm, apart_mm) + 1
    thread = rows * wide_mm * sample
    return Shirring(rows, thread, steps_for(thread, bobbin_mm))
