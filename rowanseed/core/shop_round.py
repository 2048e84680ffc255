"""A round of the shops: each line where it costs least, told shop by shop, so that the list can be taken along and torn apart."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from rowanseed.core.cloth.shops import Shop
from rowanseed.core.lengths import Unit
from rowanseed.core.shopping import ListLine, Supply, Wanted, shopping_list, total

ANYWHERE = "Anywhere"


@dataclass(frozen=True)
class Call:
    """What is bought in one shop, in its steps and at its prices; `shop` None: no shop has a price for it, or it is at home."""

    shop: Shop | None
    lines: tuple[ListLine, ...]

    @property
    def name(self) -> str:
        """The shop's name."""
        return self.shop.name if self.shop is not None else ANYWHERE

    def to_pay(self, got: Mapping[str, object]) -> Decimal:
        """What the lines that are not ticked cost."""
        return total(self.lines, got)


def shop_round(wanted: Sequence[Wanted], stash: Sequence[Supply], unit: Unit, shops: Sequence[Shop]) -> list[Call]:
    """Share the list out among the shops: each line where it costs least, what no shop prices at the end.

    Prices are compared within one currency only: that of the first shop, in their order, that prices the line.
    """
    plain = shopping_list(wanted, stash, unit)
    priced = [(shop, {line.key: line for line in shopping_list(wanted, stash, unit, shop)}) for shop in shops]
    calls: dict[int, list[ListLine]] = {k: [] for k in range(len(shops))}
    rest: list[ListLine] = []
    for line in plain:
        offers = [(k, money) for k, (_, lines) in enumerate(priced) if (money := lines[line.key].money) is not None]
        alike = [(money, k) for k, money in offers if shops[k].currency == shops[offers[0][0]].currency]
        if alike and line.needed:
            at = min(alike)[1]
            calls[at].append(priced[at][1][line.key])
        else:
            rest.append(line)
    found = [Call(shops[k], tuple(lines)) for k, lines in calls.items() if lines]
    return [*found, Call(None, tuple(rest))] if rest else found
