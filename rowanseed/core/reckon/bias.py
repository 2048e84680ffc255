"""Bias strips: how many a piece of cloth gives, and how large a square a length of binding takes.

Plane geometry; that strips lie at 45 degrees and are joined along the grain is common practice.
"""

import math
from dataclasses import dataclass

from rowanseed.core.errors import ReckonError

MOST_STRIPS = 2000


@dataclass(frozen=True)
class Strips:
    """Strips cut from a piece: the lengths of their shorter edges, mm, longest first; what they give joined; area used."""

    lengths_mm: tuple[float, ...]
    joined_mm: float
    used: float


def strips_from(length_mm: float, width_mm: float, strip_mm: float, seam_mm: float, least_mm: float = 150.0) -> Strips:
    """Strips at 45 degrees from a rectangle, their ends along its sides, joined with a seam at each end.

    A strip between the lines x + y = c and x + y = c + strip * sqrt(2) is as long as the shorter of its edges.
    Args:
        least_mm: shorter strips are left; each join is a seam that shows.
    Raises:
        ReckonError: a figure that is not above 0.
    """
    if min(length_mm, width_mm, strip_mm) <= 0:
        raise ReckonError("Length, width and strip must be above 0.", "strip")
    pitch = strip_mm * math.sqrt(2)
    if (length_mm + width_mm) / pitch > MOST_STRIPS:
        raise ReckonError("The strip is too narrow for a piece of this size.", "strip")
    count = int((length_mm + width_mm) / pitch)
    # The strips are laid from the middle of the piece outwards, where they are longest.
    spare = (length_mm + width_mm) - count * pitch
    lengths = []
    for k in range(count):
        low = spare / 2 + k * pitch
        edge = min(_crossing(c, length_mm, width_mm) for c in (low, low + pitch))
        if edge >= least_mm:
            lengths.append(edge)
    joined = max(0.0, sum(lengths) - seam_mm * math.sqrt(2) * 2 * max(0, len(lengths) - 1))
    used = sum(lengths) * strip_mm / (length_mm * width_mm)
    return Strips(tuple(sorted(lengths, reverse=True)), joined, used)


def _crossing(c: float, length: float, width: float) -> float:
    """How long the line x + y = c runs inside a rectangle."""
    low, high = max(0.0, c - width), min(length, c)
    return max(0.0, high - low) * math.sqrt(2)


def continuous_length(length_mm: float, width_mm: float, strip_mm: float, seam_mm: float) -> float:
    """The length of strip that a rectangle gives when it is sheared, joined to a tube and cut round and round, mm.

    Area is kept: what is left after the two joining seams, by the strip's width, rounded down to whole turns.

    >>> continuous_length(500, 500, 40, 0)
    6250.0
    """
    if strip_mm <= 0 or min(length_mm, width_mm) <= 2 * seam_mm:
        raise ReckonError("The seams leave nothing of the piece.", "seam")
    area = (length_mm - 2 * seam_mm) * (width_mm - 2 * seam_mm)
    return area / strip_mm


def square_for(wanted_mm: float, strip_mm: float, seam_mm: float) -> float:
    """The side of a square that gives this length of strip when it is cut as a tube, mm.

    >>> square_for(6250, 40, 0)
    500.0
    """
    if wanted_mm <= 0 or strip_mm <= 0:
        raise ReckonError("Length and width must be above 0.", "wanted")
    return math.sqrt(wanted_mm * strip_mm) + 2 * seam_mm


def strip_width(finished_mm: float, kind: str) -> float:
    """How wide a strip is cut for a binding of this finished width: single four times, doubled six times, piping by its cord.

    Source: common practice, no published source.
    """
    times = {"single": 4.0, "double": 6.0}
    if kind not in times:
        raise ReckonError("A binding is single or double.", "kind")
    return times[kind] * finished_mm
