"""Shrinkage, measured on a marked square."""

from dataclasses import dataclass

from rowanseed.core.errors import ReckonError

MOST_LOSS = 0.4  # a share beyond which it was measured wrong


@dataclass(frozen=True)
class MarkedSquare:
    """A marked square before and after, sides along and across, mm."""

    before_along: float
    before_across: float
    after_along: float
    after_across: float


def shrinkage(square: MarkedSquare) -> tuple[float, float]:
    """The shares lost along and across; cloth that grew counts as 0.

    Raises:
        ReckonError: a side is missing, or lost so much that it was measured wrong.

    >>> shrinkage(MarkedSquare(250, 250, 240, 245))
    (0.04, 0.02)
    """
    shares = []
    for name, before, after in (
        ("along", square.before_along, square.after_along),
        ("across", square.before_across, square.after_across),
    ):
        if before <= 0 or after <= 0:
            raise ReckonError("Write all four sides of the square.", f"after_{name}")
        share = 1 - after / before
        if share > MOST_LOSS:
            raise ReckonError(f"It cannot have lost {share:.0%} {name}. Measure again.", f"after_{name}")
        shares.append(round(max(0.0, share), 4))
    return shares[0], shares[1]
