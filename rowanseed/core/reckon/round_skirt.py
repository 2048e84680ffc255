"""Circle skirts: the radii of waist and hem. Plane geometry."""

import math
from dataclasses import dataclass

from rowanseed.core.errors import ReckonError


@dataclass(frozen=True)
class RoundSkirt:
    """Radii on the cloth, mm: the waist's cutting line (its seam line less the allowance), the hem's with the hem added."""

    waist_mm: float
    hem_mm: float
    hem_round_mm: float


def round_skirt(waist_mm: float, length_mm: float, share: float, seam_mm: float, hem_mm: float) -> RoundSkirt:
    """A skirt that is a share of a circle: its waist seam has radius waist / (2 pi share).

    Raises:
        ReckonError: a share outside a quarter to two circles, or a waist that leaves no radius.

    >>> round(round_skirt(720, 600, 1, 0, 0).waist_mm, 1)   # 720 / (2 pi)
    114.6
    """
    if not 0.2 <= share <= 2:
        raise ReckonError("A quarter of a circle to two whole ones.", "share")
    radius = waist_mm / (2 * math.pi * share)
    if radius <= seam_mm:
        raise ReckonError("The allowance is wider than the radius at the waist.", "seam")
    outer = radius + length_mm + hem_mm
    return RoundSkirt(radius - seam_mm, outer, 2 * math.pi * share * (radius + length_mm))
