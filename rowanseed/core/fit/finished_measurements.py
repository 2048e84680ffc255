"""Finished measurements from the geometry: what the pieces, as they will be cut, measure round at each level once sewn.

As on tissue: each piece is measured across at the level, from cut edge to cut edge, less its seam allowances, its darts and
what lies beyond its centre front line; then all that go round the body are added up.
"""

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline
from rowanseed.core.pattern.model import Piece

LIMBS = frozenset({"upper_arm", "wrist", "thigh", "knee", "calf"})  # girths of one of two alike
CENTRE_FRONT = "centre front"

LEAST_SLOPE = 0.5  # an edge crossing flatter than this is not a seam at the level


@dataclass(frozen=True)
class Across:
    """One piece at one level: its width between seam lines, mm, and how many times it goes round."""

    piece: str
    mm: float
    times: float


@dataclass(frozen=True)
class Girth:
    """A finished girth, mm, and the pieces it is made up of."""

    mm: float
    parts: tuple[Across, ...]


def finished_girths(pieces: Iterable[tuple[Piece, PieceShape]]) -> dict[str, Girth]:
    """Every girth the pieces tell a level for, by measurement key, mm.

    Args:
        pieces: the shell's pieces with their shape in the size that is cut.
    """
    parts: dict[str, list[Across]] = {}
    for piece, shape in pieces:
        for level, x in shape.levels.items():
            width = width_at(shape, x)
            if width is None:
                continue
            times = piece.cut * (2 if shape.fold_edge else 1) / (2 if level in LIMBS else 1)
            parts.setdefault(level, []).append(Across(piece.number, width, times))
    return {level: Girth(sum(a.mm * a.times for a in own), tuple(own)) for level, own in parts.items()}


def width_at(shape: PieceShape, x: float) -> float | None:
    """A piece's width between its seam lines at a level, mm, less darts; None where the level misses the piece."""
    xs = [p[0] for p in shape.outline]
    inside = min(max(x, min(xs) + 0.05), max(xs) - 0.05)
    if abs(inside - x) > max(*shape.side_allowances, 1.0):
        return None
    crossings = sorted(_crossings(shape, inside))
    if len(crossings) < 2:
        return None
    low, high = crossings[0], crossings[-1]
    start, end = low[0] + low[1], high[0] - high[1]
    beyond = _centre_front(shape, inside)
    if beyond is not None:
        start, end = (max(start, beyond), end) if beyond - start < end - beyond else (start, min(end, beyond))
    return max(0.0, end - start - sum(_dart_width(line.points, inside) for line in shape.lines if line.kind == "dart"))


def _crossings(shape: PieceShape, x: float) -> list[tuple[float, float]]:
    """Where the cutting line crosses the level: (y, how far in across the grain the seam line of that side lies).

    A level at the underarm is measured along the side, whose seam line begins an allowance further down.
    """
    found = []
    points = shape.outline
    for a, b, allowance in zip(points, (*points[1:], points[0]), shape.side_allowances, strict=True):
        if (a[0] > x) != (b[0] > x):
            slope = abs(b[0] - a[0]) / math.dist(a, b)
            found.append((a[1] + (x - a[0]) / (b[0] - a[0]) * (b[1] - a[1]), allowance / max(slope, LEAST_SLOPE)))
    return found


def _centre_front(shape: PieceShape, x: float) -> float | None:
    """The y of the centre front line at a level."""
    for line in shape.lines:
        if line.kind == CENTRE_FRONT:
            for a, b in zip(line.points, line.points[1:]):
                if min(a[0], b[0]) - 60 <= x <= max(a[0], b[0]) + 60:
                    share = (x - a[0]) / (b[0] - a[0]) if b[0] != a[0] else 0.0
                    return a[1] + share * (b[1] - a[1])
    return None


def _dart_width(points: Outline, x: float) -> float:
    """What a dart folds away at a level: the width of the figure through its points there."""
    if len(points) < 3:
        return 0.0
    ys = []
    for a, b in zip(points, (*points[1:], points[0]), strict=True):
        if (a[0] > x) != (b[0] > x):
            ys.append(a[1] + (x - a[0]) / (b[0] - a[0]) * (b[1] - a[1]))
    return max(ys) - min(ys) if len(ys) >= 2 else 0.0


def eases(girths: Mapping[str, Girth], body: Mapping[str, float]) -> dict[str, float]:
    """What each girth leaves round the body, mm, for every level that both have."""
    return {level: girth.mm - body[level] for level, girth in girths.items() if level in body}
