"""Seams and bands: passes, cut lengths. Common practice, no published source."""

from rowanseed.core.errors import ReckonError

LEAST_TRIM_MM = 1.5  # about 1/16 in: an edge trimmed closer to its stitches pulls out of them
ENCLOSED_MM = 3.0  # how far the raw edges stay inside the second pass, about 1/8 in


def french_seam(allowance_mm: float, first_pass_mm: float) -> float:
    """The second pass of a French seam in an allowance s after a first pass f: s - f, mm.

    >>> round(french_seam(15.875, 6.35) / 25.4, 3)   # 5/8 - 1/4 = 3/8 in
    0.375
    >>> round(french_seam(15.875, 9.525) / 25.4, 3)   # 5/8 - 3/8 = 1/4 in, the first seam trimmed
    0.25
    """
    second = allowance_mm - first_pass_mm
    if first_pass_mm <= 0 or second <= ENCLOSED_MM:
        raise ReckonError(
            "The two passes together take the allowance: each needs more than 3 mm (1/8 in).", "first_pass"
        )
    if first_pass_mm >= second - 0.5 and second - ENCLOSED_MM < LEAST_TRIM_MM:
        raise ReckonError(
            "The second pass is so narrow that the first seam would have to be trimmed to nothing. Sew the first pass "
            "narrower, or give the seam more allowance.",
            "first_pass",
        )
    return second


def french_trim(allowance_mm: float, first_pass_mm: float) -> float | None:
    """To what the first seam's allowance is trimmed so that the second pass encloses it, mm; None where it does as it is.

    >>> french_trim(15.875, 6.35), round(french_trim(15.875, 9.525), 2)
    (None, 3.35)
    """
    second = french_seam(allowance_mm, first_pass_mm)
    return None if first_pass_mm < second - 0.5 else second - ENCLOSED_MM


def waistband_length(waist_mm: float, overlap_mm: float, allowance_mm: float, ease_mm: float = 0.0) -> float:
    """Waist + wearing ease + overlap + two seam allowances, mm.

    >>> waistband_length(720, 30, 15)
    780.0
    """
    return float(waist_mm + ease_mm + overlap_mm + 2 * allowance_mm)


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
