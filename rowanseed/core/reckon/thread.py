"""Thread: what a stitch takes of it, by the geometry of the stitch and by handbook ratios.

Ratios of thread to seam, from memory of apparel handbooks that follow the stitch types of ISO 4915:1991: lockstitch 301
2.5, zigzag 304 7, chainstitch 401 5.5, three-thread overedge 504 14, four-thread 514 18. They hold for medium cloth and about
5 stitches a centimetre, without waste.
"""

from rowanseed.core.errors import ReckonError

RATIOS = {"lockstitch": 2.5, "zigzag": 7.0, "chainstitch": 5.5, "overlock-3": 14.0, "overlock-4": 18.0, "by-hand": 1.6}
WASTE = 0.15  # ends, samples, bobbins that run out (common practice)


def lockstitch_ratio(stitch_mm: float, layers_mm: float) -> float:
    """Thread to seam of a lockstitch by its geometry: two threads run along, and each crosses half the layers twice a stitch.

    >>> round(lockstitch_ratio(2.5, 0.6), 2)   # 2 x (2.5 + 0.6) / 2.5
    2.48
    """
    if stitch_mm <= 0 or layers_mm < 0:
        raise ReckonError("A stitch has a length.", "stitch")
    return 2 * (stitch_mm + layers_mm) / stitch_mm


def thread_for(seam_mm: float, stitch: str, waste: float = WASTE) -> float:
    """Thread that a length of seam takes, mm. Raises ReckonError for a stitch that is not known.

    >>> round(thread_for(10_000, "lockstitch", 0) / 1000)
    25
    """
    if stitch not in RATIOS:
        raise ReckonError(f"Stitches: {', '.join(RATIOS)}.", "stitch")
    return seam_mm * RATIOS[stitch] * (1 + waste)
