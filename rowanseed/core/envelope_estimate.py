"""Is a cloth enough, before any piece is in: by the lengths that the envelope prints.

A width that the envelope does not print is reckoned by area with a tenth more, and a nap that it does not speak of with a tenth
more again: common practice, no published source. Once the pieces are in, the lay says it.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.model import Pattern, Printed
from rowanseed.core.yardage_table import SAME_WIDTH_MM

MORE = 1.1


@dataclass(frozen=True)
class Estimate:
    """What a cloth has to be long for sizes, mm, by which width of the envelope, and whether it is only reckoned."""

    needs_mm: float
    width_mm: float
    reckoned: bool
    has_mm: float | None

    @property
    def enough(self) -> bool:
        """Whether the length in hand suffices; a length that is not known does."""
        return self.has_mm is None or self.has_mm >= self.needs_mm

    def said(self, unit: Unit) -> str:
        """The answer in a sentence."""
        how = "about " if self.reckoned else ""
        by = f", reckoned from {both(self.width_mm, unit)}" if self.reckoned else ""
        if self.has_mm is None:
            return f"It takes {how}{both(self.needs_mm, unit)}{by}."
        left = self.has_mm - self.needs_mm
        word = "Enough, with" if left >= 0 else "Too short, by"
        return f"{word} {how}{both(abs(left), unit)}{' to spare' if left >= 0 else ''}: it takes {both(self.needs_mm, unit)}{by}."


def estimate(pattern: Pattern, view: str, sizes: Sequence[str], cloth: Cloth) -> Estimate | None:
    """What the envelope says that a cloth must be long for one garment of each size; None where it prints nothing for one of them.

    Args:
        sizes: a size for each garment, with repetition.
    """
    one_way = cloth.nap == "one-way" or cloth.print.one_way
    found = [_of_size(pattern.printed, view, size, cloth.width.mm, one_way) for size in sizes]
    if not found or any(f is None for f in found):
        return None
    whole = [f for f in found if f is not None]
    has = cloth.length.mm if cloth.length else None
    return Estimate(sum(f[0] for f in whole), whole[0][1], any(f[2] for f in whole), has)


def _of_size(
    printed: Iterable[Printed], view: str, size: str, width_mm: float, one_way: bool
) -> tuple[float, float, bool] | None:
    """The length for a size, the printed width it goes by, and whether it is reckoned; the nearest width is taken."""
    own = [p for p in printed if p.view == view and size in p.sizes]
    if not own:
        return None
    same_nap = [p for p in own if p.one_way == one_way] or own
    nearest = min(same_nap, key=lambda p: abs(p.width.mm - width_mm))
    length, reckoned = nearest.length.mm, False
    if one_way and not nearest.one_way:
        length, reckoned = length * MORE, True
    if abs(nearest.width.mm - width_mm) > SAME_WIDTH_MM:
        length, reckoned = length * nearest.width.mm / width_mm * MORE, True
    return length, nearest.width.mm, reckoned
