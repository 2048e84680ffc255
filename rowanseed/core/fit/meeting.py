"""Making a seam meet again: a strip let in or out across the edge of a piece that has not changed itself, notches marked anew."""

from collections.abc import Mapping
from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.change import Change
from rowanseed.core.fit.edge_changes import (
    cap_changed,
)
from rowanseed.core.fit.kinds import KINDS
from rowanseed.core.fit.reshape import change_length, change_width
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import Seam, SeamSide
from rowanseed.core.pattern.seamwalk import AlterPiece, tolerance, walk

LEAST_MM = 0.5
WORTH_MM = 1.5  # a smaller change of a seam is not carried on: it is lost in cutting
MOST_STRIPS = 2  # an edge is let in or out at most so often for one alteration
LENGTHWISE = ("shoulder", "crotch", "sway-back", "rounded-back", "high-back", "chest", "tummy", "seat", "bowed-leg")
REMARK_MM = 1.0  # a notch is marked anew when it would miss its partner by more


def make_one_meet(change: Change) -> bool:
    """Let the first seam that no longer meets be met by a piece that has not changed yet; whether there was one."""
    for k, seam in enumerate(change.seams):
        if not any(number in change.changed for number, _ in seam.edges):
            continue
        off = difference(change, seam) - change.meant[k]
        if not _worth(off, difference(change, seam) - seam.meant_mm, tolerance(seam)):
            continue
        ways = [(edge, sign) for side, sign in _giving_way(seam) for edge in dict.fromkeys(side)]
        # A piece that follows already takes up what is left, before another one has to follow.
        ways.sort(key=lambda way: way[0][0] not in change.changed)
        for edge, sign in ways:
            if _may_follow(change, seam, edge):
                _let_in(change, edge, sign * off / seam.edges.count(edge))
                return True
    return False


def _giving_way(seam: Seam) -> list[tuple[tuple[SeamSide, ...], float]]:
    """The sides that may be let in or out, with the sign of the change; in an eased seam only the side that is eased."""
    a, b = seam.sides
    ways = [(b, 1.0), (a, -1.0)]
    if abs(seam.meant_mm) > LEAST_MM:
        return ways[1:] if seam.meant_mm > 0 else ways[:1]
    return ways


def _worth(off: float, from_meant: float, tolerated: float) -> bool:
    """Whether a seam that changed by so much is to be made to meet: one the walk would tell of always is."""
    return abs(off) > tolerated - LEAST_MM or (abs(off) > LEAST_MM and abs(from_meant) > tolerated - LEAST_MM)


def _may_follow(change: Change, seam: Seam, edge: SeamSide) -> bool:
    """Whether this edge's piece follows; the reason is noted."""
    if edge[0] in change.altered or edge[0] not in change.known or change.strips[edge] >= MOST_STRIPS:
        return False
    other = next((e for e in seam.edges if e[0] in change.changed), seam.a)
    because = f"its {edge[1]} is sewn to the {other[1]} of piece {other[0]}, which changed its length"
    return change.follow(edge[0], because)


def difference(change: Change, seam: Seam) -> float:
    """How much longer a is than b as the pieces stand."""
    lengths = []
    for side in seam.sides:
        total = 0.0
        for number, edge in side:
            piece = change.now(number)
            total += change.walker.edge_mm(piece, edge) if edge in piece.shape.edges else 0.0
        lengths.append(total)
    return lengths[0] - lengths[1]


def _let_in(change: Change, place: SeamSide, by: float) -> None:
    """Let a strip in across an edge, or fold one out, so that it grows by so much on the seam line.

    Along the grain where the alteration works along it, across where it works across, unless the edge runs one way only; the
    second time the other way. A strip along the grain also serves the piece's other edges that it crosses and that need it.
    """
    number, edge = place
    piece = change.now(number)
    if edge == "cap":
        change.strips[place] += 1
        change.put(number, cap_changed(piece, by), itself=False)
        return
    along, across = _extent(piece, edge, 0), _extent(piece, edge, 1)
    lengthwise = _is_lengthwise(change) != (change.strips[place] > 0)
    if along[1] - along[0] > 2 * (across[1] - across[0]):
        lengthwise = True
    elif across[1] - across[0] > 2 * (along[1] - along[0]):
        lengthwise = False
    at = sum(along) / 2 if lengthwise else sum(across) / 2
    wanted = {edge: by, **(_also_crossed(change, number, at, by) if lengthwise else {})}
    shape = _strip_for(change, piece, at, wanted, lengthwise)
    for served in wanted:
        change.strips[(number, served)] += 1
    change.put(number, shape, itself=False)


def _extent(piece: AlterPiece, edge: str, axis: int) -> tuple[float, float]:
    values = [point[axis] for point in edge_points(piece.shape.outline, piece.shape.edges[edge])]
    return min(values), max(values)


def _also_crossed(change: Change, number: str, at: float, by: float) -> dict[str, float]:
    """The piece's other edges that a line across it crosses and that need to change the same way, and by how much."""
    found: dict[str, float] = {}
    for k, seam in enumerate(change.seams):
        off = difference(change, seam) - change.meant[k]
        for side, sign in ((seam.sides[0], -1.0), (seam.sides[1], 1.0)):
            for other, edge in side:
                if other != number or off * sign * by <= 0 or abs(off) < LEAST_MM:
                    continue
                low, high = _extent(change.now(number), edge, 0)
                if low < at < high:
                    found[edge] = sign * off
    return found


def _strip_for(
    change: Change, piece: AlterPiece, at: float, wanted: Mapping[str, float], lengthwise: bool
) -> PieceShape:
    """The piece with the strip that makes these edges, taken together, as much longer as is wanted."""
    reshape = change_length if lengthwise else change_width
    by = sum(wanted.values())

    def total(shape: PieceShape) -> float:
        return sum(change.walker.edge_mm(replace(piece, shape=shape), edge) for edge in wanted)

    before, strip, shape = total(piece.shape), by / len(wanted), piece.shape
    for _ in range(6):
        shape = reshape(piece.shape, at, strip)
        gained = total(shape) - before
        if abs(gained - by) < WORTH_MM / 50:
            break
        strip *= by / gained if gained * by > 0 else 1.5
        if abs(strip) > 8 * abs(by) + 20:
            names = " and ".join(wanted)
            raise AlterationError(
                f"The {names} of piece {piece.id} would have to change by {both(abs(by))}, which a strip cannot give.",
                "by",
            )
    return shape


def _is_lengthwise(change: Change) -> bool:
    """Whether the alteration changes lengths along the grain rather than widths."""
    return KINDS[change.alteration.kind].way == "strip" or change.alteration.kind in LENGTHWISE


def remark(change: Change) -> None:
    """Mark notches anew on pieces that followed, so that they meet their partners as they did before."""
    for seam in change.seams:
        if seam.more_a or seam.more_b or not any(number in change.changed for number, _ in seam.edges):
            continue
        if not all(change.walker.notches(change.known[number], edge) for number, edge in seam.edges):
            continue
        before = walk(list(change.known.values()), [seam], change.walker)[0]
        now = walk([change.now(number) for number in change.known], [seam], change.walker)[0]
        if not before.notch_pairs or len(before.notch_pairs) != len(now.notch_pairs):
            continue
        own = change.alteration.piece
        side = seam.b if seam.b[0] in change.changed and seam.b[0] != own else seam.a
        if side[0] not in change.changed or side[0] == own:
            continue
        sign = -1.0 if side == seam.a else 1.0
        moves = [(p - q) - (r - s) for (p, q), (r, s) in zip(now.notch_pairs, before.notch_pairs, strict=True)]
        if max(abs(m) for m in moves) > REMARK_MM:
            _move_notches(change, side, [sign * m for m in moves])


def _move_notches(change: Change, side: SeamSide, moves: list[float]) -> None:
    """Shift an edge's notches along it, each by so much from its head end."""
    piece = change.now(side[0])
    places = sorted(change.walker.notches(piece, side[1]), key=lambda place: place[1])
    notches = list(piece.shape.notches)
    for (index, at), by in zip(places, moves, strict=True):
        notches[index] = replace(notches[index], at=change.walker.place(piece, side[1], at + by))
    change.remarked.append(side)
    change.put(side[0], replace(piece.shape, notches=tuple(notches)), itself=False)
