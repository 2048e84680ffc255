"""Carrying a change to the pieces that join: the same line at the same distance, the same edge moved, a seam made to meet.

What follows is worked out from the declared seams; a piece the user chose to leave stays as it is and is named.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.moves import EDGE_MARGIN_MM, edge_of, line_across, moved, strip_across
from rowanseed.core.fit.reshape import change_length, change_width
from rowanseed.core.fit.seamwalk import TOLERANCE_MM, AlterPiece, Walker, edge_points
from rowanseed.core.lay.model import Point
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import PieceShape, Seam, SeamSide

LEAST_MM = 0.5
WORTH_MM = 1.5  # a smaller change of a seam is not carried on: it is lost in cutting
MOST_ROUNDS = 12


@dataclass(frozen=True)
class Followed:
    """A piece that an alteration was carried to, or was to be carried to, and why."""

    piece: str
    because: str


@dataclass
class Change:
    """One alteration under way: the pieces as they were, those changed so far, what followed and what was left.

    `meant`: how much longer a is to be than b, for each seam, as it was before any alteration.
    """

    alteration: Alteration
    known: Mapping[str, AlterPiece]
    seams: Sequence[Seam]
    walker: Walker
    meant: list[float]
    changed: dict[str, AlterPiece] = field(default_factory=dict)
    followed: list[Followed] = field(default_factory=list)
    left: list[Followed] = field(default_factory=list)

    def now(self, number: str) -> AlterPiece:
        """A piece as it stands."""
        return self.changed.get(number) or self.known[number]

    def follow(self, number: str, because: str) -> bool:
        """Whether a piece is to follow; one that is left is noted once."""
        if number in self.alteration.leave:
            if all(other.piece != number for other in self.left):
                self.left.append(Followed(number, because))
            return False
        self.followed.append(Followed(number, because))
        return True


def apply(
    alteration: Alteration,
    known: Mapping[str, AlterPiece],
    seams: Sequence[Seam],
    walker: Walker,
    meant: list[float],
) -> Change:
    """Make one alteration on its piece and carry it.

    Args:
        meant: for each seam, the difference to keep; updated where a piece was left and its seam no longer meets.
    Raises:
        AlterationError: it cannot be made, on its piece or on one that must follow.
    """
    change = Change(alteration, known, seams, walker, meant)
    if alteration.kind in ("length", "hem", "strap"):
        _change_lengths(change)
    else:
        _move_edges(change)
    for _ in range(MOST_ROUNDS):
        _copy_alike(change)
        if not _make_one_meet(change):
            break
    left = {piece.piece for piece in change.left}
    for k, seam in enumerate(seams):
        if any(number in left for number, _ in seam.edges):
            meant[k] = _difference(change, seam)
    return change


def joined(piece: AlterPiece, seams: Sequence[Seam]) -> list[tuple[str, str, str]]:
    """The plain seams of a piece, edge to edge: the other piece, this piece's edge, the other's."""
    out = []
    for seam in seams:
        if seam.more_a or seam.more_b:
            continue
        for (mine, edge), (other, theirs) in ((seam.a, seam.b), (seam.b, seam.a)):
            if mine == piece.id and other != piece.id:
                out.append((other, edge, theirs))
    return out


def _change_lengths(change: Change) -> None:
    """A strip across the piece, and across every piece whose joined edge it crosses, at the same distance along it."""
    alteration = change.alteration
    piece = change.known[alteration.piece]
    todo: list[tuple[str, float, str]] = [(piece.id, line_across(alteration, piece), "")]
    while todo:
        number, line, because = todo.pop(0)
        if number in change.changed or (because and not change.follow(number, because)):
            continue
        own = change.known[number]
        change.changed[number] = strip_across(own, line, alteration.by_mm)
        for other, edge, their_edge in joined(own, change.seams):
            if other in change.changed or other not in change.known:
                continue
            met = same_distance(own, edge, line, change.known[other], their_edge)
            if met is not None:
                todo.append((other, met, f"its {their_edge} is sewn to the {edge} of piece {number}"))


def same_distance(piece: AlterPiece, edge: str, line: float, other: AlterPiece, their_edge: str) -> float | None:
    """Where the same distance from the head end along the joined edge lies on the other piece; None when not crossed."""
    own = _down(edge_of(piece, edge))
    if not own[0][0] + EDGE_MARGIN_MM / 2 < line < own[-1][0] - EDGE_MARGIN_MM / 2:
        return None
    far = 0.0
    for a, b in zip(own, own[1:]):
        if a[0] <= line <= b[0] and b[0] > a[0]:
            far += math.dist(a, b) * (line - a[0]) / (b[0] - a[0])
            break
        far += math.dist(a, b)
    theirs = _down(edge_of(other, their_edge))
    for a, b in zip(theirs, theirs[1:]):
        step = math.dist(a, b)
        if far <= step:
            return a[0] + (b[0] - a[0]) * far / step if step else a[0]
        far -= step
    return theirs[-1][0] - EDGE_MARGIN_MM


def _down(points: list[Point]) -> list[Point]:
    """An edge's points from its head end to its foot end."""
    return points if points[0][0] <= points[-1][0] else points[::-1]


def _move_edges(change: Change) -> None:
    """An edge moved on its piece and on the piece it is sewn to, so that the seam still meets."""
    alteration = change.alteration
    piece, edge = change.known[alteration.piece], alteration.at_edge
    change.changed[piece.id] = replace(piece, shape=moved(alteration, piece, edge, alteration.at_mm))
    if alteration.kind in ("bust", "bust-dartless", "upper-arm"):
        return  # what joins is made to meet below
    if alteration.kind == "crotch":
        _both_legs(change, piece, edge)
        return
    for other, mine, theirs in joined(piece, change.seams):
        if mine != edge or other not in change.known or other in change.changed:
            continue
        if not change.follow(other, f"its {theirs} is sewn to the {edge} of piece {piece.id}"):
            continue
        met = None
        if alteration.at_mm is not None:
            met = same_distance(piece, edge, alteration.at_mm, change.known[other], theirs)
        own = change.known[other]
        change.changed[other] = replace(own, shape=moved(alteration, own, theirs, met))


def _both_legs(change: Change, piece: AlterPiece, edge: str) -> None:
    """The other leg piece goes as deep, since both meet at the inseam."""
    for other, mine, theirs in joined(piece, change.seams):
        own = change.known.get(other)
        if own is None or other in change.changed or edge not in own.shape.edges or not _meets(piece.shape, mine, edge):
            continue
        if change.follow(other, f"its {theirs} is sewn to the {mine} of piece {piece.id}, which begins at the crotch"):
            change.changed[other] = replace(own, shape=moved(change.alteration, own, edge, None))


def _meets(shape: PieceShape, edge: str, other: str) -> bool:
    """Whether two edges share a corner at the foot of the second."""
    if edge not in shape.edges:
        return False
    first, last = shape.edges[other]
    foot = max((first, last), key=lambda k: shape.outline[k][0])
    return foot in shape.edges[edge]


def _copy_alike(change: Change) -> None:
    """Pieces cut to one shape stay alike: a copy takes its source's shape, and the source its copy's."""
    for number in list(change.changed):
        source = change.changed[number].same_as or number
        for piece in change.known.values():
            if piece.id in change.changed or (piece.same_as != source and piece.id != source):
                continue
            if change.follow(piece.id, f"it is cut like piece {number}"):
                change.changed[piece.id] = replace(piece, shape=change.changed[number].shape)


def _make_one_meet(change: Change) -> bool:
    """Let the first seam that no longer meets be met by a piece that has not changed yet; whether there was one."""
    for k, seam in enumerate(change.seams):
        sides = seam.sides
        if not any(number in change.changed for number, _ in seam.edges):
            continue
        off = _difference(change, seam) - change.meant[k]
        if not _worth(off, _difference(change, seam) - seam.meant_mm):
            continue
        for side, sign in ((sides[1], 1.0), (sides[0], -1.0)):
            free = [edge for edge in dict.fromkeys(side) if edge[0] not in change.changed and edge[0] in change.known]
            free = [edge for edge in free if _may_follow(change, seam, edge)]
            if free:
                times = sum(side.count(edge) for edge in free)
                for edge in free:
                    _lengthen_edge(change, edge, sign * off / times)
                return True
    return False


def _worth(off: float, from_meant: float) -> bool:
    """Whether a seam that changed by so much is to be made to meet: one the walk would tell of always is."""
    return abs(off) > WORTH_MM or (abs(off) > LEAST_MM and abs(from_meant) > TOLERANCE_MM - LEAST_MM)


def _may_follow(change: Change, seam: Seam, edge: SeamSide) -> bool:
    """Whether this edge's piece follows; the reason is noted."""
    if any(left.piece == edge[0] for left in change.left):
        return False
    other = next((e for e in seam.edges if e[0] in change.changed), seam.a)
    because = f"its {edge[1]} is sewn to the {other[1]} of piece {other[0]}, which changed its length"
    return change.follow(edge[0], because)


def _difference(change: Change, seam: Seam) -> float:
    """How much longer a is than b as the pieces stand."""
    lengths = []
    for side in seam.sides:
        total = 0.0
        for number, edge in side:
            piece = change.now(number)
            total += change.walker.edge_mm(piece, edge) if edge in piece.shape.edges else 0.0
        lengths.append(total)
    return lengths[0] - lengths[1]


def _lengthen_edge(change: Change, place: SeamSide, by: float) -> None:
    """Let a strip in across an edge, or fold one out, so that it grows by so much on the seam line."""
    number, edge = place
    piece = change.known[number]
    points = edge_points(piece.shape.outline, piece.shape.edges[edge])
    xs, ys = [x for x, _ in points], [y for _, y in points]
    along = max(xs) - min(xs), max(ys) - min(ys)
    lengthwise = along[0] > along[1] if max(along) > 2 * min(along) else _is_lengthwise(change)
    at = (min(xs) + max(xs)) / 2 if lengthwise else (min(ys) + max(ys)) / 2
    reshape = change_length if lengthwise else change_width
    wanted = change.walker.edge_mm(piece, edge) + by
    strip, shape = by, piece.shape
    for _ in range(6):
        shape = reshape(piece.shape, at, strip)
        miss = wanted - change.walker.edge_mm(replace(piece, shape=shape), edge)
        if abs(miss) < WORTH_MM / 50:
            break
        gained = wanted - miss - change.walker.edge_mm(piece, edge)
        strip *= by / gained if gained * by > 0 else 1.5
        if abs(strip) > 8 * abs(by) + 20:
            raise AlterationError(
                f"The {edge} of piece {number} would have to change by {both(abs(by))}, which a strip cannot give.",
                "by",
            )
    change.changed[number] = replace(piece, shape=shape)


def _is_lengthwise(change: Change) -> bool:
    """Whether the alteration changes lengths along the grain rather than widths."""
    return change.alteration.kind in ("length", "hem", "strap", "shoulder", "crotch")
