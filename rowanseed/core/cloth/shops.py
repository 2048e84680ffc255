"""Shops: in what steps each cuts, in which currency, what it asks for what; and what a length costs there.

Prices are decimal numbers in the shop's own currency; nothing is converted between currencies.
"""

import math
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal, InvalidOperation
from typing import Literal, get_args

from rowanseed.core.errors import ReckonError
from rowanseed.core.lengths import MM_PER, Unit, format_length

ShopStep = Literal["10 cm", "25 cm", "50 cm", "1 m", "1/8 yd", "1/4 yd", "1/2 yd", "1 yd"]
STEPS: tuple[ShopStep, ...] = get_args(ShopStep)
STEP_MM: dict[ShopStep, float] = {
    "10 cm": 100.0,
    "25 cm": 250.0,
    "50 cm": 500.0,
    "1 m": 1000.0,
    "1/8 yd": 114.3,
    "1/4 yd": 228.6,
    "1/2 yd": 457.2,
    "1 yd": 914.4,
}
CENT = Decimal("0.01")


@dataclass(frozen=True)
class Price:
    """What a shop asks: for a cloth by the metre or yard at a width (mm, 0: any), or for one of a notion.

    `what`: a cloth's kind, or a notion's; `name`: which of them, "" for any.
    """

    what: str
    name: str
    price: Decimal
    per: Literal["m", "yd", "each"] = "m"
    width_mm: float = 0.0


@dataclass(frozen=True)
class Shop:
    """A shop: its name, currency sign, the step it cuts in, and its kept prices."""

    name: str
    currency: str = "€"
    step: ShopStep = "10 cm"
    prices: tuple[Price, ...] = ()


def read_price(text: str) -> Decimal:
    """Read a price such as 12, 12.50 or 12,50. Raises ReckonError."""
    try:
        price = Decimal(text.strip().replace(",", "."))
    except InvalidOperation as error:
        raise ReckonError("Write a price, such as 12.50.", "price") from error
    if not price.is_finite() or not 0 <= price < 100_000:
        raise ReckonError("A price lies between 0 and 100 000.", "price")
    return price


def cut_length(wanted_mm: float, shop: Shop) -> float:
    """The length a shop cuts for what is wanted, up to its step, mm.

    >>> cut_length(2010, Shop("x", step="25 cm"))
    2250.0
    """
    step = STEP_MM[shop.step]
    return math.ceil(wanted_mm / step - 1e-9) * step


def say_cut(mm: float, shop: Shop) -> str:
    """A cut length as the shop writes it."""
    unit: Unit = "yd" if shop.step.endswith("yd") else "m"
    return format_length(mm, unit)


def price_of(shop: Shop, what: str, name: str, width_mm: float = 0.0) -> Price | None:
    """The most particular price a shop has: by name, then by width (within 4 cm), then by kind."""

    def rank(price: Price) -> tuple[bool, bool]:
        return (bool(price.name), bool(price.width_mm))

    fits = [
        p
        for p in shop.prices
        if p.what == what
        and (not p.name or p.name.lower() == name.lower())
        and (not p.width_mm or abs(p.width_mm - width_mm) <= 40.0)
    ]
    return max(fits, key=rank, default=None)


def cost(price: Price, amount: float) -> Decimal:
    """What an amount costs: mm of cloth by the metre or yard, a count of what is sold singly; to the cent.

    >>> cost(Price("main", "", Decimal("12.50")), 2200)
    Decimal('27.50')
    """
    per = Decimal(1) if price.per == "each" else Decimal(str(MM_PER[price.per]))
    return (price.price * Decimal(str(round(amount, 3))) / per).quantize(CENT, ROUND_HALF_UP)


def say_money(amount: Decimal, shop: Shop) -> str:
    """An amount of money with the shop's sign."""
    return f"{shop.currency} {amount:.2f}"
