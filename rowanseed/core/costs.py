"""What a make costs: each cloth by the length used, the notions together, by a shop's prices, beside what was paid."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from rowanseed.core.cloth.shops import Shop, cost, price_of
from rowanseed.core.notions import Notion
from rowanseed.core.shopping import amount_sold

NOTIONS = "notions"


@dataclass(frozen=True)
class ClothUsed:
    """A cloth of a make: its role, kind and name, how wide it is, how much of it was laid, mm, and what of that is offcuts.

    `left`: how many rectangles worth keeping lie within the length laid; `left_mm2`: their areas together, each layer counted.
    """

    role: str
    kind: str
    name: str
    width_mm: float
    used_mm: float
    left: int = 0
    left_mm2: float = 0.0


@dataclass(frozen=True)
class CostLine:
    """One part of a make: what it is, its estimate (None where a price is not known), what was paid, how many prices lack.

    `left`: offcuts worth keeping within the length used, `worth` what the same cloth costs by their area.
    """

    what: str
    words: str
    used_mm: float | None
    estimate: Decimal | None
    paid: Decimal | None
    unpriced: int = 0
    left: int = 0
    worth: Decimal | None = None


def cost_lines(
    cloths: Iterable[ClothUsed], notions: Iterable[Notion], shop: Shop | None, paid: Mapping[str, Decimal]
) -> list[CostLine]:
    """Every cloth with what its used length costs at a shop, then all notions in one line.

    Args:
        paid: what was paid, by the role of a cloth or `notions`.
    """
    lines = []
    for cloth in cloths:
        price = price_of(shop, cloth.kind, cloth.name, cloth.width_mm) if shop else None
        estimate = cost(price, cloth.used_mm) if price else None
        worth = cost(price, cloth.left_mm2 / cloth.width_mm) if price and cloth.left else None
        own = paid.get(cloth.role)
        unpriced = int(price is None)
        lines.append(CostLine(cloth.role, cloth.name, cloth.used_mm, estimate, own, unpriced, cloth.left, worth))
    bought = [n for n in notions if n.amount]
    known = [_of_notion(n, shop) for n in bought]
    priced = [money for money in known if money is not None]
    words = ", ".join(dict.fromkeys(n.kind.replace("-", " ") for n in bought))
    if bought:
        estimate = sum(priced, Decimal(0)) if priced else None
        lines.append(CostLine(NOTIONS, words, None, estimate, paid.get(NOTIONS), len(known) - len(priced)))
    return lines


def _of_notion(notion: Notion, shop: Shop | None) -> Decimal | None:
    price = price_of(shop, notion.kind, notion.name) if shop else None
    if price is None:
        return None
    return cost(price, amount_sold(notion.kind, notion.amount) if price.per == "each" else notion.amount)


def total(figures: Iterable[Decimal | None]) -> Decimal | None:
    """The sum of what is known; None where nothing is."""
    known = [figure for figure in figures if figure is not None]
    return sum(known, Decimal(0)) if known else None
