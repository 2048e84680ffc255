"""The yardage table of a pattern: what every size takes at the usual widths, with and without a nap, each cell a lay of its own.

A cell is known by what its lay was asked for, so that it is worked out again only where a piece has changed.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal, get_args

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.easiest import trial_of
from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.lengths import Length, Unit, both, format_length
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern, Printed, Role
from rowanseed.core.prints import Print
from rowanseed.core.reckon.buying import BuyingStep, length_to_buy

ClothClass = Literal["either-way", "one-way", "check"]
CLASSES: tuple[ClothClass, ...] = get_args(ClothClass)
CLASS_WORDS: dict[ClothClass, str] = {
    "either-way": "without nap",
    "one-way": "with nap or one-way print",
    "check": "check of 10 cm (4 in), matched",
}
CHECK_MM = {"cm": 100.0, "in": 101.6}
SELVAGE_MM = 10.0  # kept clear at each edge of a cloth that is not known yet
# Usual widths on sale (common practice), interfacing apart.
WIDTHS_MM: dict[str, tuple[float, ...]] = {
    "cm": (900.0, 1120.0, 1400.0, 1500.0),
    "in": (36 * 25.4, 45 * 25.4, 54 * 25.4, 60 * 25.4),
}
INTERFACING_MM: dict[str, tuple[float, ...]] = {"cm": (560.0, 900.0), "in": (22 * 25.4, 36 * 25.4)}
SAME_WIDTH_MM = 35.0  # 44 and 45 in, 112 and 115 cm are one width on envelopes
NEAR_MM = 60.0  # a printed figure this near to ours agrees with it


@dataclass(frozen=True)
class CellKey:
    """One cell: a size at a width for a class of cloth."""

    size: str
    width_mm: float
    cloth: ClothClass


@dataclass(frozen=True)
class Cell:
    """What a cell's lay came to: its length, how it is spread, how much of the cloth it uses; `problem` where it cannot be laid.

    `cuts`: how many pieces of cloth are cut out, each layer that is cut at once counted once; `opened`: halves of them that are
    drawn, turned over and drawn again. Both 0 in cells that were kept before they were counted.
    """

    lay_mm: float
    spread: str
    used: float
    problem: str = ""
    cuts: int = 0
    opened: int = 0

    def to_buy(self, straighten_mm: float, step: BuyingStep, shrink: float = 0.0) -> str:
        """The length to buy, as the shop writes it."""
        return self.problem or length_to_buy(self.lay_mm, shrink, straighten_mm, step).text


def cell_of(request: LayRequest, lay: Lay) -> Cell:
    """A finished lay as a cell of the table."""
    problem = next((f.text for f in lay.findings if f.level == "stop"), "too narrow") if lay.failed else ""
    way = trial_of(request, lay)
    return Cell(lay.length_mm, lay.spread, lay.utilisation, problem, way.cuts, way.opened)


def widths_for(role: Role, unit: Unit) -> tuple[float, ...]:
    """The widths on sale that a role's cloth comes in, mm."""
    return (INTERFACING_MM if role == "interfacing" else WIDTHS_MM)["in" if unit == "in" else "cm"]


def sale_cloth(width_mm: float, cloth: ClothClass, unit: Unit) -> Cloth:
    """A cloth as it is on sale: this width, nothing else known but its class."""
    print_ = Print()
    if cloth == "check":
        repeat = CHECK_MM["in" if unit == "in" else "cm"]
        print_ = Print("plaid", True, repeat, repeat)
    return Cloth(
        "on sale",
        Length(width_mm, format_length(width_mm, unit), unit),
        Length(SELVAGE_MM, "1 cm", "cm"),
        nap="one-way" if cloth == "one-way" else "none",
        print=print_,
    )


def keys(sizes: Sequence[str], widths_mm: Sequence[float], classes: Sequence[ClothClass]) -> list[CellKey]:
    """Every cell, row by row: the sizes in their order, then class, then width."""
    return [CellKey(size, width, cloth) for size in sizes for cloth in classes for width in widths_mm]


def cell_request(pattern: Pattern, view: str, role: Role, key: CellKey, unit: Unit) -> LayRequest | None:
    """What a cell's lay is asked for; None where the pieces have no outline in this size."""
    pieces, findings = sized_pieces(pattern, view, role, [key.size])
    if findings or not pieces:
        return None
    plan = MakePlan(spread="best", effort="quick")
    # A check meets across too, which only a single layer or a fold on a bar keeps: it is not laid the other ways.
    seams = pattern.seams if key.cloth == "check" else ()
    request = lay_request(pieces, sale_cloth(key.width_mm, key.cloth, unit), plan, seams=seams)
    return replace(request, spread="lengthwise-fold") if key.cloth == "check" else replace(request, table=True)


def against_printed(printed: Printed, cells: Iterable[tuple[CellKey, Cell]], buy_mm: float, unit: Unit) -> str:
    """Why the envelope's figure and ours differ, in a sentence.

    Args:
        cells: all cells of the same size.
        buy_mm: our length to buy in the same cell.
    """
    apart = printed.length.mm - buy_mm
    if abs(apart) <= NEAR_MM:
        return "The envelope says the same."
    same = {
        key.cloth: cell.lay_mm
        for key, cell in cells
        if abs(key.width_mm - printed.width.mm) <= SAME_WIDTH_MM and not cell.problem
    }
    much = both(abs(apart), unit)
    if apart > 0:
        nap = same.get("one-way", 0.0)
        if not printed.one_way and nap and abs(printed.length.mm - nap) < apart / 2:
            return f"The envelope asks {much} more: about what cloth with a nap takes, which it leaves unsaid."
        return f"The envelope asks {much} more: it prints one figure for several sizes, and its layout is not the shortest."
    if printed.one_way and same.get("either-way", 0.0) <= printed.length.mm:
        return f"The envelope asks {much} less: too short for a nap, it fits only cloth that may lie either way."
    return (
        f"The envelope asks {much} less than any lay found. Check that allowances are not added twice, and whether its layout "
        "cuts a piece from another cloth."
    )


def printed_for(pattern: Pattern, view: str, key: CellKey) -> Printed | None:
    """The figure that the envelope prints for a cell, if the user typed it."""
    for printed in pattern.printed:
        wide = abs(printed.width.mm - key.width_mm) <= SAME_WIDTH_MM
        if printed.view == view and key.size in printed.sizes and wide and printed.one_way == (key.cloth == "one-way"):
            return printed
    return None
