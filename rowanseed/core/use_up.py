"""Garments that are wanted put onto cloths in hand, so that as many as can be are made and the least cloth is cut into.

Solved by HiGHS through scipy as whole-number choices: which garment of which cloth. Garments of one cloth are reckoned one behind
the other, so that what is promised fits; laid together they may take less.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from rowanseed.lazily import lazily

optimize = lazily("scipy.optimize")  # most starts and most pages need none of it

SECONDS = 5.0


@dataclass(frozen=True)
class InHand:
    """A cloth by its key, its length in hand and its width, mm."""

    key: int
    has_mm: float
    width_mm: float


@dataclass(frozen=True)
class Given:
    """A garment put onto a cloth: what it takes of it, and what the cloth has left once all its garments are cut, mm."""

    garment: int
    cloth: int
    needs_mm: float
    left_mm: float


@dataclass(frozen=True)
class Assigned:
    """What is made of what; the garments that find no cloth, each with the cloth that lacks least and by how much, mm."""

    given: tuple[Given, ...]
    left_out: Mapping[int, tuple[int, float] | None]


def assigned(wanted: Sequence[int], cloths: Sequence[InHand], needs: Mapping[tuple[int, int], float]) -> Assigned:
    """Return the best way to make what is wanted.

    Args:
        wanted: garments by their keys.
        needs: what a garment takes of a cloth, mm, by (garment, cloth); a pair that is missing cannot be.
    """
    by = {c.key: c for c in cloths}
    pairs = [
        (g, c) for g in wanted for c in by if (need := needs.get((g, c))) is not None and need <= by[c].has_mm + 1e-6
    ]
    chosen = _solved(wanted, cloths, pairs, needs) if pairs else []
    used = {c: sum(needs[g, d] for g, d in chosen if d == c) for _, c in chosen}
    given = tuple(Given(g, c, needs[g, c], by[c].has_mm - used[c]) for g, c in chosen)
    rest = {c.key: c.has_mm - used.get(c.key, 0.0) for c in cloths}
    missing = [g for g in wanted if g not in {g for g, _ in chosen}]
    return Assigned(given, {g: _nearest(g, rest, needs) for g in missing})


def _nearest(
    garment: int, rest: Mapping[int, float], needs: Mapping[tuple[int, int], float]
) -> tuple[int, float] | None:
    short = [(needs[garment, c] - left, c) for c, left in rest.items() if (garment, c) in needs]
    return (min(short)[1], min(short)[0]) if short else None


def _solved(
    wanted: Sequence[int],
    cloths: Sequence[InHand],
    pairs: Sequence[tuple[int, int]],
    needs: Mapping[tuple[int, int], float],
) -> list[tuple[int, int]]:
    """The pairs that are chosen: first the most garments, then the least area of cloth that is cut into."""
    count, n = len(pairs), len(pairs) + len(cloths)
    area = np.array([c.has_mm * c.width_mm for c in cloths])
    price = np.concatenate(
        [-np.ones(count), 0.5 * area / area.sum()]
    )  # all cloths together weigh less than one garment
    rows: list[np.ndarray[tuple[int], np.dtype[np.float64]]] = []
    low: list[float] = []
    high: list[float] = []
    for g in wanted:
        row = np.zeros(n)
        row[[k for k, (a, _) in enumerate(pairs) if a == g]] = 1.0
        rows, low, high = [*rows, row], [*low, 0.0], [*high, 1.0]
    for at, cloth in enumerate(cloths):
        row = np.zeros(n)
        for k, (g, c) in enumerate(pairs):
            if c == cloth.key:
                row[k] = needs[g, c]
        row[count + at] = -cloth.has_mm
        rows, low, high = [*rows, row], [*low, -np.inf], [*high, 1e-6]
    found = optimize.milp(
        price, constraints=optimize.LinearConstraint(np.array(rows), low, high), integrality=np.ones(n),
        bounds=optimize.Bounds(0, 1), options={"time_limit": SECONDS},
    )  # fmt: skip
    return [] if found.x is None else [pair for pair, x in zip(pairs, found.x[:count], strict=True) if x > 0.5]
