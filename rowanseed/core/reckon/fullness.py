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


def how_full(ratio: float) -> str:
    """What a ratio looks like, in words.

    >>> how_full(1.1), how_full(2)
    ('ease, too little to gather: ease it in', 'full')
    """
    if ratio < 1.2:
        return "ease, too little to gather: ease it in"
    return "soft" if ratio < 1.75 else "full" if ratio < 2.4 else "very full, for light cloth"


def cap_ease_words(ease_mm: float) -> str:
    """What a sleeve cap's ease means: a shirt's flat cap has about 1 cm, a set-in sleeve's about 2.5 cm."""
    if ease_mm < 0:
        return "the cap is shorter than its armhole: measure again"
    if ease_mm < 12:
        return "usual for a shirt's flat cap, set in before the side seam"
    return "usual" if ease_mm <= 40 else "more than eases in: gather it, or take it out of the cap"


def gather_length(finished_mm: float, ratio: float) -> float:
    """The loose edge that gathers to a finished one at a ratio, mm."""
    if not 1 <= ratio <= 5:
        raise ReckonError("A ratio lies between 1 (flat) and 5.", "ratio")
    return finished_mm * ratio


def casing_width(elastic_mm: float, more_mm: float) -> float:
    """A casing between its stitched edges: the elastic and so much more that it lies flat and can be drawn through, mm."""
    if elastic_mm <= 0:
        raise ReckonError("An elastic has a width.", "width")
    return elastic_mm + more_mm


def elastic_length(body_mm: float, share: float, join_mm: float) -> float:
    """Elastic for a casing: a share of the body (0.9: a tenth shorter) plus the join, mm."""
    if not 0.6 <= share <= 1:
        raise ReckonError("Elastic is cut to between 60 and 100 % of the body.", "share")
    return body_mm * share + join_mm
