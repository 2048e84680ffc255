"""Bias strips: how many a piece of cloth gives, and how large a square a length of binding takes.

Plane geometry; that strips lie at 45 degrees and are joined along the grain is common practice.
"""

import math
from dataclasses import dataclass

from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon.counting import steps_in

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
    count = steps_in(length_mm + width_mm, pitch)
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

    Sheared, its bias edges are the width's diagonal long and lie length / sqrt(2) apart: as many whole turns as strips fit
    between them. Each of the two joining seams takes its allowance twice. The way round that gives more is taken.

    >>> round(continuous_length(500, 500, 40, 0))   # 353.6 / 40 is 8 turns of 707.1
    5657
    """
    if strip_mm <= 0 or min(length_mm, width_mm) <= 2 * seam_mm:
        raise ReckonError("The seams leave nothing of the piece.", "seam")
    a, b = length_mm - 2 * seam_mm, width_mm - 2 * seam_mm
    return max(_turns(a, b, strip_mm), _turns(b, a, strip_mm))


def _turns(apart: float, across: float, strip: float) -> float:
    return steps_in(apart / math.sqrt(2), strip) * across * math.sqrt(2)


def square_for(wanted_mm: float, strip_mm: float, seam_mm: float) -> float:
    """The side of the smallest square that gives this length of strip when it is cut as a tube in whole turns, mm.

    >>> side = square_for(6250, 40, 0)
    >>> round(side), continuous_length(side, side, 40, 0) >= 6250 > continuous_length(side - 1, side - 1, 40, 0)
    (509, True)
    """
    if wanted_mm <= 0 or strip_mm <= 0:
        raise ReckonError("Length and width must be above 0.", "wanted")
    root = math.sqrt(2)
    most = math.ceil(math.sqrt(wanted_mm / (2 * strip_mm))) + 1
    # So many turns need room for their strips, and each turn to be long enough.
    sides = [max(turns * strip_mm * root, wanted_mm / (turns * root)) for turns in range(1, most + 1)]
    return min(sides) + 2 * seam_mm


def strips_needed(length_mm: float, strip_mm: float, seam_mm: float, piece_mm: float = 500.0) -> tuple[int, int]:
    """How many strips a length takes, cut from how many squares of `piece_mm`, the longest strips of each square first.

    >>> strips_needed(1200, 40, 6)
    (2, 1)
    """
    cut = strips_from(piece_mm, piece_mm, strip_mm, seam_mm)
    if not cut.lengths_mm:
        raise ReckonError("The strip is too wide for a piece of this size.", "strip")
    loss = 2 * math.sqrt(2) * seam_mm
    total, count = 0.0, 0
    while total < length_mm:
        own = cut.lengths_mm[count % len(cut.lengths_mm)]
        total += own - (loss if count else 0.0)
        count += 1
        if count > MOST_STRIPS:
            raise ReckonError("That is more binding than anybody joins from strips.", "wanted")
    return count, math.ceil(count / len(cut.lengths_mm))


def strip_width(finished_mm: float, kind: str) -> float:
    """How wide a strip is cut for a binding of this finished width: single four times, doubled six times, piping by its cord.

    Source: common practice, no published source.
    """
    times = {"single": 4.0, "double": 6.0}
    if kind not in times:
        raise ReckonError("A binding is single or double.", "kind")
    return times[kind] * finished_mm
