"""Seams and bands: passes, cut lengths. Common practice, no published source."""

from rowanseed.core.errors import ReckonError


def french_seam(allowance_mm: float, first_pass_mm: float) -> float:
    """The second pass of a French seam in an allowance s after a first pass f: s - f, mm.

    >>> round(french_seam(15.875, 6.35) / 25.4, 3)   # 5/8 - 1/4 = 3/8 in
    0.375
    """
    second = allowance_mm - first_pass_mm
    if second <= first_pass_mm:
        raise ReckonError("The second pass must be wider than the first, to enclose its raw edges.", "first_pass")
    return second


def waistband_length(waist_mm: float, overlap_mm: float, allowance_mm: float) -> float:
    """Waist + overlap + two seam allowances, mm.

    >>> waistband_length(720, 30, 15)
    780.0
    """
    return float(waist_mm + overlap_mm + 2 * allowance_mm)


def panel_length(finished_mm: float, top_allowance_mm: float, hem_mm: float) -> float:
    """A straight panel or apron: finished length + top allowance + hem, mm.

    >>> panel_length(600, 15, 50)
    665.0
    """
    return float(finished_mm + top_allowance_mm + hem_mm)


def band_width(finished_mm: float, allowance_mm: float) -> float:
    """A folded band of finished width w: 2w + two seam allowances, mm.

    >>> band_width(40, 15)
    110.0
    """
    return float(2 * finished_mm + 2 * allowance_mm)
