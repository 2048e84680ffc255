"""Gathers and sleeve ease. Common practice, no published source."""

from rowanseed.core.errors import ReckonError


def gather_ratio(loose_mm: float, finished_mm: float) -> float:
    """Loose edge / finished edge; 1 is flat, 1.5 to 2.5 is usual.

    >>> gather_ratio(1800, 900)
    2.0
    """
    if loose_mm < finished_mm:
        raise ReckonError("The loose edge must be at least as long as the edge it joins.", "loose")
    return loose_mm / finished_mm


def gather_length(finished_mm: float, ratio: float) -> float:
    """The loose edge that gathers to a finished one at a ratio, mm."""
    if not 1 <= ratio <= 5:
        raise ReckonError("A ratio lies between 1 (flat) and 5.", "ratio")
    return finished_mm * ratio


def elastic_length(body_mm: float, share: float, join_mm: float) -> float:
    """Elastic for a casing: a share of the body (0.9: a tenth shorter) plus the join, mm."""
    if not 0.6 <= share <= 1:
        raise ReckonError("Elastic is cut to between 60 and 100 % of the body.", "share")
    return body_mm * share + join_mm
