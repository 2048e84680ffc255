"""How much to buy: from the length of a lay to a length at the counter."""

from dataclasses import dataclass
from typing import Literal

from rowanseed.core.errors import LayError, ReckonError
from rowanseed.core.lengths import format_length
from rowanseed.core.reckon.counting import steps_for

BuyingStep = Literal["1/8 yd", "10 cm"]
STEP_MM: dict[BuyingStep, float] = {"1/8 yd": 114.3, "10 cm": 100.0}


@dataclass(frozen=True)
class Shrinkage:
    """Shares lost in washing, along and across the cloth: 0.03 is 3 %."""

    along: float = 0.0
    across: float = 0.0

    def __post_init__(self) -> None:
        """Raise LayError for a share that is negative or half the cloth or more."""
        for name, share in (("along", self.along), ("across", self.across)):
            if not 0 <= share < 0.5:
                raise LayError(f"Shrinkage {name} must be from 0 to under 50 %.", f"shrink_{name}")


@dataclass(frozen=True)
class Buy:
    """A length to buy, in mm up to the step and as the shop writes it; `needed_mm`: before it is brought up to a step."""

    mm: float
    text: str
    needed_mm: float = 0.0


def length_to_buy(lay_mm: float, shrink_along: float, straighten_mm: float, step: BuyingStep) -> Buy:
    """(lay + loss in straightening) / (1 - shrinkage along), up to the seller's step.

    Source: common practice, no published source.

    >>> length_to_buy(2000, 0.03, 50.8, "10 cm").text
    '2.20 m'
    """
    if not 0 <= shrink_along < 0.5:
        raise ReckonError("Shrinkage lies from 0 to under 50 %.", "shrinkage")
    return round_up((lay_mm + straighten_mm) / (1.0 - shrink_along), step)


def round_up(needed_mm: float, step: BuyingStep) -> Buy:
    """Bring a length up to a seller's step.

    >>> round_up(2114.2, "10 cm").text
    '2.20 m'
    """
    needed = needed_mm
    mm = steps_for(needed, STEP_MM[step]) * STEP_MM[step]
    return Buy(mm, format_length(mm, "yd" if step == "1/8 yd" else "m"), needed)
