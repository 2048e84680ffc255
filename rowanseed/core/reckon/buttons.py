"""Buttons and buttonholes. Common practice, no published source."""

import math
from dataclasses import dataclass

from rowanseed.core.errors import ReckonError


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
    if bottom_mm <= top_mm:
        raise ReckonError("The lowest buttonhole must lie below the first.", "bottom")
    spacing = (bottom_mm - top_mm) / (count - 1)
    cards = math.ceil(count / max(1, per_card))
    return ButtonPlan(tuple(top_mm + spacing * k for k in range(count)), spacing, cards, cards * per_card - count)
