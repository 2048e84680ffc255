"""Carrying a change to the pieces that join: the same line at the same distance, the same edge moved, a seam made to meet.

What follows is worked out from the declared seams; a piece the user chose to leave stays as it is and is named.
"""

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.edge_changes import (
    EDGE_MARGIN_MM,
    altered_shape,
    cap_changed,
    edge_of,
    has_underarm,
    line_across,
    lower_underarm,
)
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.reshape import change_length, change_width
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import Seam, SeamSide
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker, tolerance, walk

LEAST_MM = 0.5
WORTH_MM = 1.5  # a smaller change of a seam is not carried on: it is lost in cutting
MOST_ROUNDS = 24
MOST_STRIPS = 2  # an edge is let in or out at most so often for one alteration
REMARK_MM = 1.0  # a notch is marked anew when it would miss its partner by more


@dataclass(frozen=True)
class Followed:
    """A piece that an alteration was carried to, or was to be carried to, and why."""

    piece: str
    because: str


@dataclass
class Change:
    """One alteration under way: the pieces as they were, those changed so far, what followed and what was left.

    `meant`: how much longer a is to be than b, for each seam, as it was before any alteration. `altered`: the pieces the
    alteration itself was made on, which are not let in or out as well. `remarked`: edges whose notches were marked anew.
    """

    alteration: Alteration
    known: Mapping[str, AlterPiece]
    seams: Sequence[Seam]
    walker: Walker
    meant: list[float]
    changed: dict[str, AlterPiece] = field(default_factory=dict)
    followed: list[Followed] = field(default_factory=list)
    left: list[Followed] = field(default_factory=list)
    altered: set[str] = field(default_factory=set)
    strips: Counter[SeamSide] = field(default_factory=Counter)
    remarked: list[SeamSide] = field(default_factory=list)
    lines: dict[str, float] = field(default_factory=dict)  # the x at which a strip was let in, by piece

    def now(self, number: str) -> AlterPiece:
        """A piece as it stands."""
        return self.changed.get(number) or self.known[number]

    def follow(self, number: str, because: str) -> bool:
        """Whether a piece is to follow; what follows or is left is noted once."""
        noted = self.left if number in self.alteration.leave else self.followed
        if all(other.piece != number for other in noted):
            noted.append(Followed(number, because))
        return noted is self.followed

    def put(self, number: str, shape: PieceShape, itself: bool = True) -> None:
        """Give a piece its new shape, and every piece that is cut like it.

        Args:
            itself: whether the alteration was made on this piece, rather than a strip let in so that a seam meets.
        """
        self.changed[number] = replace(self.known[number], shape=shape)
        if itself:
            self.altered.add(number)
        source = self.known[number].same_as or number
        for piece in self.known.values():
            alike = piece.same_as == source or piece.id == source
            if alike and piece.id != number and self.follow(piece.id, f"it is cut like piece {number}"):
                self.changed[piece.id] = replace(piece, shape=shape)
                self.altered.add(piece.id)


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
    take_layers_along(change)
    for _ in range(MOST_ROUNDS):
        if not _make_one_meet(change):
            break
    remark(change)
    left = {piece.piece for piece in change.left}
    for k, seam in enumerate(seams):
        if any(number in left for number, _ in seam.edges):
            meant[k] = _difference(change, seam)
    return change


def take_layers_along(change: Change) -> None:
    """Make the same alteration on the pieces that lie behind an altered one: linings and facings, by the same line or edge."""
    for number in list(change.altered):
        shell = change.known[number]
        for piece in change.known.values():
            if piece.follows != number or piece.id in change.changed:
                continue
            if not change.follow(piece.id, f"it lies behind piece {number}"):
                continue
            try:
                change.put(piece.id, _layer_altered(change, shell, piece))
            except AlterationError as error:
                change.followed = [f for f in change.followed if f.piece != piece.id]
                change.left.append(Followed(piece.id, f"it lies behind piece {number}, but {error.text}"))


def _layer_altered(change: Change, shell: AlterPiece, layer: AlterPiece) -> PieceShape:
    """A layer's shape with the alteration of its shell, at the same distance from the line that both are measured from."""
    alteration = change.alteration
    if alteration.piece != shell.id and alteration.kind not in ("length", "hem", "strap"):
        alteration = replace(alteration, at_mm=None)
    shift = layer_offset(shell.shape, layer.shape)
    if alteration.kind in ("length", "strap"):
        return change_length(layer.shape, change.lines[shell.id] + shift, alteration.by_mm)
    if alteration.kind == "hem":
        return change_length(layer.shape, line_across(alteration, layer), alteration.by_mm)
    moved_point = replace(alteration, at_mm=None if alteration.at_mm is None else alteration.at_mm + shift)
    shape = altered_shape(moved_point, layer, alteration.at_edge, moved_point.at_mm)
    if alteration.kind == "shoulder" and has_underarm(shape):
        shape = lower_underarm(shape, alteration.by_mm)
    return shape


def layer_offset(shell: PieceShape, layer: PieceShape) -> float:
    """How much further down a layer's own drawing the same place lies than on its shell's, mm.

    By a level that both have, else by the shoulder or the side that both have, else by their tops.
    """
    for level in ("waist", "bust", "hip", "upper_arm", "thigh"):
        if level in shell.levels and level in layer.levels:
            return layer.levels[level] - shell.levels[level]
    for edge in ("shoulder", "armhole", "side"):
        if edge in shell.edges and edge in layer.edges:
            return _head(layer, edge) - _head(shell, edge)
    return min(x for x, _ in layer.outline) - min(x for x, _ in shell.outline)


def _head(shape: PieceShape, edge: str) -> float:
    return min(x for x, _ in edge_points(shape.outline, shape.edges[edge]))


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
        change.lines[number] = line
        change.put(number, change_length(own.shape, line, alteration.by_mm))
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
    return _at_distance(own, line, other, their_edge)


def opposite(piece: AlterPiece, edge: str, line: float, other: AlterPiece, their_edge: str) -> float:
    """The same for a place that may lie at an edge's very end, or beyond it: as far beyond on the other piece."""
    own, theirs = _down(edge_of(piece, edge)), _down(edge_of(other, their_edge))
    if line <= own[0][0]:
        return theirs[0][0] + line - own[0][0]
    if line >= own[-1][0]:
        return theirs[-1][0] + line - own[-1][0]
    return _at_distance(own, line, other, their_edge)


def _at_distance(own: list[Point], line: float, other: AlterPiece, their_edge: str) -> float:
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
    change.put(piece.id, altered_shape(alteration, piece, edge, alteration.at_mm))
    if alteration.kind in ("bust", "bust-dartless", "upper-arm"):
        return  # what joins is made to meet below
    if alteration.kind == "crotch":
        _both_legs(change, piece, edge)
        return
    _partners(change, piece, edge)
    if alteration.kind == "shoulder":
        _lower_underarms(change)


def _partners(change: Change, piece: AlterPiece, edge: str) -> None:
    """The edges that are sewn to the moved one, moved alike."""
    alteration = change.alteration
    for other, mine, theirs in joined(piece, change.seams):
        if mine != edge or other not in change.known or other in change.changed:
            continue
        if not change.follow(other, f"its {theirs} is sewn to the {edge} of piece {piece.id}"):
            continue
        met = None
        if alteration.at_mm is not None:
            met = opposite(piece, edge, alteration.at_mm, change.known[other], theirs)
        own = change.known[other]
        change.put(other, altered_shape(alteration, own, theirs, met))


def _lower_underarms(change: Change) -> None:
    """A lowered shoulder takes the underarm down with it, so that the armhole keeps its length and the sleeve its cap.

    Under a yoke the armhole goes on over the piece below it: there the underarm is lowered on that piece.
    """
    sloped = list(change.altered)
    below = [other for n in sloped for other, _, _ in joined(change.known[n], change.seams) if other in change.known]
    for number in dict.fromkeys((*sloped, *below)):
        own = change.now(number)
        if not has_underarm(own.shape) or (number not in sloped and _is_sloped_itself(change, number)):
            continue
        if number not in sloped and not change.follow(number, "its underarm is lowered by as much as the shoulder"):
            continue
        change.put(number, lower_underarm(own.shape, change.alteration.by_mm))


def _is_sloped_itself(change: Change, number: str) -> bool:
    """Whether a piece has a shoulder of its own, and so is no continuation of a sloped one's armhole."""
    return "shoulder" in change.known[number].shape.edges


def _both_legs(change: Change, piece: AlterPiece, edge: str) -> None:
    """The other leg piece goes as deep, since both meet at the inseam."""
    for other, mine, theirs in joined(piece, change.seams):
        own = change.known.get(other)
        if own is None or other in change.changed or edge not in own.shape.edges or not _meets(piece.shape, mine, edge):
            continue
        if change.follow(other, f"its {theirs} is sewn to the {mine} of piece {piece.id}, which begins at the crotch"):
            change.put(other, altered_shape(change.alteration, own, edge, None))


def _meets(shape: PieceShape, edge: str, other: str) -> bool:
    """Whether two edges share a corner at the foot of the second."""
    if edge not in shape.edges:
        return False
    first, last = shape.edges[other]
    foot = max((first, last), key=lambda k: shape.outline[k][0])
    return foot in shape.edges[edge]


def _make_one_meet(change: Change) -> bool:
    """Let the first seam that no longer meets be met by a piece that has not changed yet; whether there was one."""
    for k, seam in enumerate(change.seams):
        if not any(number in change.changed for number, _ in seam.edges):
            continue
        off = _difference(change, seam) - change.meant[k]
        if not _worth(off, _difference(change, seam) - seam.meant_mm, tolerance(seam)):
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
        off = _difference(change, seam) - change.meant[k]
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
    return change.alteration.kind in ("length", "hem", "strap", "shoulder", "crotch")


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
