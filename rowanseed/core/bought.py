"""What was bought in the shop, held against what the list asked for: less, more, narrower, or something else."""

from collections.abc import Iterable
from dataclasses import dataclass

from rowanseed.core.lengths import Length, Unit, both
from rowanseed.core.shopping import ListLine, Wanted
from rowanseed.core.yardage_table import SAME_WIDTH_MM


@dataclass(frozen=True)
class Bought:
    """What was bought for a line of the list; what is not said is as the list has it.

    `what`: another thing than the list names; `price`: as it was typed.
    """

    length: Length | None = None
    width: Length | None = None
    what: str = ""
    price: str = ""

    @property
    def is_other(self) -> bool:
        """Whether it is not the thing that the list names."""
        return bool(self.what)

    def said(self, unit: Unit) -> str:
        """What it is, in a few words."""
        width = f"{both(self.width.mm, unit)} wide" if self.width else ""
        length = both(self.length.mm, unit) if self.length else ""
        return ", ".join(part for part in (self.what, length, width, self.price) if part)


@dataclass(frozen=True)
class Change:
    """What a purchase changes for a make, in a sentence; `short_mm`: by how much it lacks, 0 where it does not."""

    make: str
    make_id: int
    text: str
    short_mm: float = 0.0


def changes(bought: Bought, line: ListLine, unit: Unit) -> list[Change]:
    """What a purchase of cloth changes for the makes that wait for it, one after the other as far as it goes.

    A need stands with straightening and shrinkage in it, before it was brought up to the shop's step. A width other than the one it
    was laid on says nothing about its length: the lay says that anew.
    """
    found: list[Change] = []
    left = bought.length.mm if bought.length else None
    for want in line.wanted:
        if not want.cloth:
            continue
        told, left = _change(bought, want, left, unit)
        found += told
    return found


def _change(bought: Bought, want: Wanted, left: float | None, unit: Unit) -> tuple[list[Change], float | None]:
    """What it changes for one make, and what is left for the next."""
    if bought.width is not None and abs(bought.width.mm - want.width_mm) > SAME_WIDTH_MM:
        apart = "narrower" if bought.width.mm < want.width_mm else "wider"
        words = f"it is {apart} than the {both(want.width_mm, unit)} that was reckoned with, so its lay is to be worked out anew."
        return [Change(want.make, want.make_id, words)], left
    if left is None:
        return [], None
    if left < want.amount:
        short = want.amount - left
        words = f"it is too short by {both(short, unit)}: {both(want.amount, unit)} are needed, washing and straightening in it."
        return [Change(want.make, want.make_id, words, short)], 0.0
    rest = left - want.amount
    return [Change(want.make, want.make_id, f"it is enough, with {both(rest, unit)} to spare.")], rest


def short_of(found: Iterable[Change]) -> bool:
    """Whether any make lacks some of it."""
    return any(change.short_mm > 0 for change in found)
