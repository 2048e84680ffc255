"""Making seams meet again: who gives way, by how much at each of its edges, and the piece drawn anew to that.

A seam is made to meet by the side that was not altered; a piece on the altered side never gives way for it, since both its seams
would change. Which side is named first, and in what order pieces and seams stand, changes nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import permutations

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.change import Change
from rowanseed.core.fit.to_length import is_curved, to_length
from rowanseed.core.pattern.model import Seam, SeamSide

LEAST_MM = 0.5  # a smaller change of a seam is not carried on: it is lost in cutting
TRIM_MM = 30.0  # what was altered alike, or lies behind what was, is still trued by so much
TRUED_MM = 4.0
GATHERED = 0.12  # more than this share is no ease any more; common practice, no source
MOST_TRIES = 3  # a piece is drawn anew at most so often for one alteration
MOST_PAIRED = 4  # edges of one side that are paired with those of the other


@dataclass(frozen=True)
class _Giving:
    """The edges of one side that give way in a seam, and how much longer each becomes, mm."""

    seam: Seam
    needs: dict[SeamSide, float]
    rank: int
    because: str


def make_one_meet(change: Change, with_layers: bool) -> bool:
    """Let the first piece that should draw its edges anew, so that seams meet, do so; whether there was one.

    Args:
        with_layers: the layers lie behind their shells as these now are; before that their seams wait.
    """
    found: list[_Giving] = []
    for k, seam in enumerate(change.seams):
        if not any(number in change.changed for number, _ in seam.edges):
            continue
        if not with_layers and any(number in change.behind for number, _ in seam.edges):
            continue
        off = difference(change, seam) - change.meant[k]
        if abs(off) > LEAST_MM:
            given = _given(change, seam, off)
            if given is not None:
                found.append(given)
    if not found:
        return False
    first = min(found, key=lambda g: (g.rank, min(sorted(g.needs))))
    number = min(sorted(first.needs))[0]
    own = [g for g in found if g.rank == first.rank and any(n == number for n, _ in g.needs)]
    _redraw(change, number, own)
    return True


def _redraw(change: Change, number: str, given: Sequence[_Giving]) -> None:
    """Draw a piece anew with all its edges that give way at once."""
    change.tries[number] += 1
    if not change.follow(number, given[0].because):
        change.tries[number] = MOST_TRIES
        return
    piece = change.now(number)
    wanted: dict[str, float] = {}
    for one in given:
        for (own, edge), need in one.needs.items():
            if own == number and edge not in wanted:
                wanted[edge] = change.walker.edge_mm(piece, edge) + need
    sewn = {edge for seam in change.seams for n, edge in seam.edges if n == number}
    try:
        change.remake(number, lambda shape: to_length(replace(piece, shape=shape), wanted, sewn), itself=False)
    except AlterationError:
        change.tries[number] = MOST_TRIES  # the walk says what does not meet
        if number not in change.changed:
            change.unfollow(number)


def difference(change: Change, seam: Seam) -> float:
    """How much longer a is than b as the pieces stand, mm."""
    a, b = (_side_mm(change, side) for side in seam.sides)
    return a - b


def _side_mm(change: Change, side: Sequence[SeamSide]) -> float:
    total = 0.0
    for number, edge in side:
        piece = change.now(number)
        total += change.walker.edge_mm(piece, edge) if edge in piece.shape.edges else 0.0
    return total


def _given(change: Change, seam: Seam, off: float) -> _Giving | None:
    """Which side of a seam gives way, and how; None where neither may.

    Args:
        off: how much longer a is than it should be beside b, mm.
    """
    ways = []
    for at, sign in ((0, -1.0), (1, 1.0)):
        side, other = seam.sides[at], seam.sides[1 - at]
        ranks = {edge: _rank(change, edge, off) for edge in side}
        if not _is_eased_side(seam, at) and _keeps_its_length(change, seam, side):
            # What is gathered on, or an armhole, is only trued, where it was altered alike or lies behind what was.
            small = abs(off) <= TRUED_MM
            ranks = {edge: rank if small and rank is not None and rank >= 2 else None for edge, rank in ranks.items()}
        giving = [edge for edge in dict.fromkeys(side) if ranks[edge] is not None]
        if not giving:
            continue
        altered_here = any(number in change.altered - change.layers for number, _ in side)
        best = min(rank for rank in ranks.values() if rank is not None)
        if altered_here and best < 3:
            # Beside what was altered nothing gives way; what was altered alike may still be trued.
            giving = [edge for edge in giving if ranks[edge] == 3]
            best = 3
        giving = [edge for edge in giving if ranks[edge] == best]
        if giving:
            ways.append((best, sorted(giving), side, other, sign))
    if not ways:
        return None
    rank, giving, side, other, sign = min(ways, key=lambda way: (way[0], len(way[1]), way[1]))
    needs = _shared_out(change, giving, side, other, sign * off)
    partner = next((e for e in sorted(other) if e[0] in change.changed), other[0])
    first = giving[0]
    because = f"its {first[1]} is sewn to the {partner[1]} of piece {partner[0]}, which changed its length"
    return _Giving(seam, needs, rank, because)


def _is_eased_side(seam: Seam, at: int) -> bool:
    """Whether a side may give way by what is meant: in an eased or gathered seam only the side that is eased does."""
    if abs(seam.meant_mm) <= LEAST_MM:
        return True
    return (seam.meant_mm > 0) == (at == 0)


def _keeps_its_length(change: Change, seam: Seam, side: Sequence[SeamSide]) -> bool:
    """Whether the side that is not eased keeps its length: where the other is gathered on it, and an armhole for its cap."""
    if abs(seam.meant_mm) > GATHERED * _side_mm(change, side):
        return True
    return any(edge in change.now(n).shape.edges and is_curved(change.now(n).shape, edge) for n, edge in side)


def _rank(change: Change, edge: SeamSide, off: float) -> int | None:
    """How ready an edge's piece is to give way, the least first; None where it may not."""
    number = edge[0]
    if number not in change.known or change.tries[number] >= MOST_TRIES:
        return None
    if edge[1] not in change.now(number).shape.edges:
        return None
    if change.alteration.piece in (number, change.known[number].same_as or number):
        return None
    if number in change.altered and number not in change.layers:
        return 3 if abs(off) <= TRIM_MM else None
    if number in change.layers or number in change.behind:
        return 2 if abs(off) <= TRIM_MM or number not in change.layers else None
    return 1 if number in change.changed else 0


def _shared_out(
    change: Change, giving: Sequence[SeamSide], side: Sequence[SeamSide], other: Sequence[SeamSide], need: float
) -> dict[SeamSide, float]:
    """How much longer each giving edge becomes: each by what its own partner changed where they pair, else by their lengths."""
    times = {edge: side.count(edge) for edge in giving}
    if len(giving) == len(other) == len(side) and 1 < len(side) <= MOST_PAIRED:
        partners = _paired(change, giving, other)
        own = {edge: _grown(change, partners[edge]) - _grown(change, edge) for edge in giving}
        rest = (need - sum(own.values())) / len(giving)
        return {edge: own[edge] + rest for edge in giving}
    lengths = {edge: max(1.0, change.walker.edge_mm(change.now(edge[0]), edge[1])) for edge in giving}
    whole = sum(lengths[edge] * times[edge] for edge in giving)
    return {edge: need * lengths[edge] / whole for edge in giving}


def _grown(change: Change, edge: SeamSide) -> float:
    """How much longer an edge is than before the alteration, mm."""
    now, was = change.now(edge[0]), change.known[edge[0]]
    return change.walker.edge_mm(now, edge[1]) - change.walker.edge_mm(was, edge[1])


def _paired(change: Change, giving: Sequence[SeamSide], other: Sequence[SeamSide]) -> dict[SeamSide, SeamSide]:
    """Which edge goes to which where as many lie on both sides, as the halves of a cap: by their lengths before the alteration."""

    def mm(edge: SeamSide) -> float:
        return change.walker.edge_mm(change.known[edge[0]], edge[1])

    mine, theirs = [mm(e) for e in giving], [mm(e) for e in other]
    best = min(
        permutations(range(len(other))),
        key=lambda order: (round(sum(abs(mine[k] - theirs[at]) for k, at in enumerate(order)), 3), order),
    )
    return {edge: other[at] for edge, at in zip(giving, best, strict=True)}
