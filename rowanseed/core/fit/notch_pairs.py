"""Notches that meet in a seam: kept on their line, inside their edge, and as far from each other's place as they were."""

from dataclasses import dataclass, replace

from rowanseed.core.fit.change import Change
from rowanseed.core.pattern.model import Seam, SeamSide
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker, is_met_turned

REMARK_MM = 0.5  # a notch is marked anew when it would miss its partner by more
FROM_END_MM = 2.0  # no nearer to an edge's end is a notch marked


@dataclass(frozen=True)
class Pairs:
    """The notches of a seam that meet: which of a's, which of b's; whether b is counted from its other end."""

    pairs: tuple[tuple[int, int], ...]
    turned: bool


def pairs_of(a: tuple[AlterPiece, str], b: tuple[AlterPiece, str], walker: Walker) -> Pairs | None:
    """The notches that meet along two edges, by their order; None where they have different numbers of them, or none."""
    one, two = (sorted(walker.notches(*side), key=lambda n: n[1]) for side in (a, b))
    if not one or len(one) != len(two):
        return None
    whole = walker.edge_mm(*b)
    straight = max(abs(p[1] - q[1]) for p, q in zip(one, two))
    turned = max(abs(p[1] - (whole - q[1])) for p, q in zip(one, two[::-1]))
    is_turned = is_met_turned(straight, turned)
    order = two[::-1] if is_turned else two
    return Pairs(tuple((p[0], q[0]) for p, q in zip(one, order)), is_turned)


def remark(change: Change) -> None:
    """Mark notches anew on pieces that followed, so that each pair lies as it did before the alteration."""
    for seam in sorted(change.seams, key=lambda s: sorted(s.edges)):
        if seam.more_a or seam.more_b or not any(number in change.changed for number, _ in seam.edges):
            continue
        if all(number in change.known for number, _ in seam.edges):
            _remark(change, seam)


def _remark(change: Change, seam: Seam) -> None:
    before = [(change.known[number], edge) for number, edge in (seam.a, seam.b)]
    if any(edge not in change.now(piece.id).shape.edges for piece, edge in before):
        return
    kept = pairs_of(before[0], before[1], change.walker)
    if kept is None:
        return
    moved = _who_moves(change, seam)
    if moved is None:
        return
    at = 0 if moved == seam.a else 1
    side, still = (seam.a, seam.b)[at], (seam.a, seam.b)[1 - at]
    now_moved, now_still = change.now(side[0]), change.now(still[0])
    moves: dict[int, float] = {}
    for pair in kept.pairs:
        own, partner = pair[at], pair[1 - at]
        was = _place(change, before[at][0], side[1], own, kept.turned) - _place(
            change, before[1 - at][0], still[1], partner, False
        )
        now = _place(change, now_moved, side[1], own, kept.turned) - _place(change, now_still, still[1], partner, False)
        moves[own] = was - now
    if max(abs(by) for by in moves.values()) > REMARK_MM:
        _move(change, side, moves, kept.turned)


def _who_moves(change: Change, seam: Seam) -> SeamSide | None:
    """The side whose notches are marked anew: the one that followed; never on the piece that was altered."""

    def rank(side: SeamSide) -> tuple[int, SeamSide]:
        number = side[0]
        own = number == change.alteration.piece
        return (3 if own else 2 if number in change.altered else 1 if number in change.changed else 4), side

    best = min((seam.a, seam.b), key=rank)
    return best if rank(best)[0] < 3 or (seam.a[0] == seam.b[0]) else None


def _place(change: Change, piece: AlterPiece, edge: str, notch: int, turned: bool) -> float:
    """How far a notch lies along an edge's seam line, also at its very end, mm."""
    along = change.walker.along(piece, edge, notch)
    return change.walker.edge_mm(piece, edge) - along if turned else along


def _move(change: Change, side: SeamSide, moves: dict[int, float], turned: bool) -> None:
    """Shift an edge's notches along it, each by so much."""
    piece, edge = change.now(side[0]), side[1]
    notches = list(piece.shape.notches)
    whole = change.walker.edge_mm(piece, edge)
    for index, by in moves.items():
        along = change.walker.along(piece, edge, index) + (-by if turned else by)
        along = min(max(along, FROM_END_MM), whole - FROM_END_MM)
        notches[index] = replace(notches[index], at=change.walker.place(piece, edge, along))
    change.remarked.append(side)
    change.with_notches(side[0], replace(piece.shape, notches=tuple(notches)))
