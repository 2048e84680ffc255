"""Buttons and buttonholes. Common practice, no published source."""

import math
from dataclasses import dataclass

from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon.counting import steps_for


@dataclass(frozen=True)
class ButtonPlan:
    """Distances of the buttonholes from the top edge, mm; how many cards to buy and what is left over."""

    at_mm: tuple[float, ...]
    spacing_mm: float
    cards: int
    spare: int


def buttonhole_length(diameter_mm: float, thickness_mm: float) -> float:
    """Button's diameter + its thickness, mm.

    >>> buttonhole_length(15, 3)
    18.0
    """
    return float(diameter_mm + thickness_mm)


def button_plan(top_mm: float, bottom_mm: float, count: int, per_card: int) -> ButtonPlan:
    """Even places for `count` buttons from `top_mm` to `bottom_mm` below the top edge, and whole cards to buy.

    Raises:
        ReckonError: fewer than two buttons, or no length between the ends.

    >>> button_plan(15, 615, 7, 3).spacing_mm
    100.0
    """
    if count < 2:
        raise ReckonError("Two buttons are the least that can be spaced.", "count")
    if per_card < 1:
        raise ReckonError("A card holds at least one button.", "per_card")
    if bottom_mm <= top_mm:
        raise ReckonError("The lowest buttonhole must lie below the first.", "bottom")
    spacing = (bottom_mm - top_mm) / (count - 1)
    cards = math.ceil(count / per_card)
    return ButtonPlan(tuple(top_mm + spacing * k for k in range(count)), spacing, cards, cards * per_card - count)


@dataclass(frozen=True)
class BustPlan:
    """Buttons with one at the fullest point of the bust: how many above it, and the spacing above and below, mm."""

    above: int
    above_mm: float
    below_mm: float


def through_bust(top_mm: float, bottom_mm: float, bust_mm: float, count: int) -> BustPlan:
    """Places for `count` buttons with one at the bust, the others even above and below, as alike in spacing as can be.

    Raises:
        ReckonError: fewer than three buttons, or a bust that is not between the ends.

    >>> through_bust(0, 600, 200, 7)
    BustPlan(above=2, above_mm=100.0, below_mm=100.0)
    """
    if count < 3:
        raise ReckonError("Three buttons are the least with one at the bust.", "count")
    if not top_mm < bust_mm < bottom_mm:
        raise ReckonError("The fullest point lies between the first and the last buttonhole.", "bust")
    ways = [
        BustPlan(above, (bust_mm - top_mm) / above, (bottom_mm - bust_mm) / (count - 1 - above))
        for above in range(1, count - 1)
    ]
    return min(ways, key=lambda way: abs(way.above_mm - way.below_mm))


def zip_to_buy(opening_mm: float, step_mm: float) -> float:
    """The shortest zip on sale that is at least as long as the opening, mm.

    >>> zip_to_buy(185, 20)
    200.0
    """
    if opening_mm <= 0 or step_mm <= 0:
        raise ReckonError("Opening and step must be above 0.", "opening")
    return float(steps_for(opening_mm, step_mm) * step_mm)
