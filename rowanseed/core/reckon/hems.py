"""Hems: where the chalk lines go. Common practice, no published source."""

from dataclasses import dataclass

from rowanseed.core.errors import ReckonError


@dataclass(frozen=True)
class HemLines:
    """Chalk lines from the raw edge, and the cloth the hem takes, mm."""

    first_mm: float
    second_mm: float | None
    takes_mm: float


def double_hem(first_fold_mm: float, second_fold_mm: float) -> HemLines:
    """A hem turned twice, first by a and then by b: fold to chalk lines at 2a and at a + 2b from the raw edge.

    >>> lines = double_hem(6.35, 25.4)   # 1/4 in and 1 in: 1/2 and 2 1/4 in
    >>> lines.first_mm / 25.4, lines.second_mm / 25.4
    (0.5, 2.25)
    """
    if first_fold_mm > second_fold_mm:
        raise ReckonError("The first fold must be no wider than the second, or it shows below it.", "first_fold")
    return HemLines(2 * first_fold_mm, first_fold_mm + 2 * second_fold_mm, first_fold_mm + second_fold_mm)


def single_hem(fold_mm: float) -> HemLines:
    """A hem turned once by h: fold to a chalk line at 2h from the raw edge.

    >>> round(single_hem(38.1).first_mm / 25.4, 6)   # 1 1/2 -> 3 in
    3.0
    """
    return HemLines(2 * fold_mm, None, fold_mm)
