"""Pieces moved by hand: what each may do where it lies, and the lay that a hand's moves make, sound or not.

A hand starts from a lay that was made: the spread and its lanes stay, pieces are moved, turned and turned over. What comes of
it is a lay like any other, judged by the independent checker; one that is not sound is a draft.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import Finding, LayError
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.demand import Item, Pose, lane_items, placed, turns_of
from rowanseed.core.lay.finish import with_findings
from rowanseed.core.lay.model import Lane, Lay, LayPiece, LayRequest, Placement

FAR_MM = 100_000.0
SAME_MM = 0.05


@dataclass(frozen=True)
class HandPiece:
    """One piece under the hand: its item with every pose it may take, and where it lies: pose, lane, corner (mm on the lane)."""

    number: int
    item: Item
    pose: int
    lane: int
    x: float
    y: float


@dataclass(frozen=True)
class HandPlace:
    """Where the hand has put one piece, by its number in the lay it started from."""

    number: int
    pose: int
    lane: int
    x: float
    y: float


def hand_pieces(request: LayRequest, lay: Lay) -> list[HandPiece]:
    """The placements of a lay as pieces that a hand can move, in the lay's order.

    Raises:
        LayError: the lay is not of these pieces.
    """
    pieces = {p.id: p for p in request.pieces}
    out = []
    for number, placement in enumerate(lay.placements):
        piece = pieces.get(placement.piece)
        if piece is None or not 0 <= placement.lane < len(lay.lanes):
            raise LayError("This lay is of other pieces. Lay them again first.", "pieces")
        item = _item(piece, lay.lanes[placement.lane], placement, request.cloth.one_way)
        pose = _pose_of(item, placement)
        shown = item.poses[pose].outline
        x, y = (min(p[k] for p in placement.outline) - min(p[k] for p in shown) for k in (0, 1))
        out.append(HandPiece(number, item, pose, placement.lane, x, 0.0 if item.at_fold else y))
    return out


def _item(piece: LayPiece, lane: Lane, placement: Placement, one_way: bool) -> Item:
    """A piece's item in this lane with every pose its grain, nap and pairing allow."""
    turns = turns_of(piece, one_way)
    items = lane_items(piece, turns, lane.layers, lane.edges[0] == "fold")
    if lane.layers == 2:
        return next(i for i in items if i.layers == placement.layers)
    if not piece.mirrored or piece.fold_edge is not None:
        return items[0]
    # A hand may turn a right-hand piece over, if it turns a left-hand one too: the checker counts them.
    faces = {pose.face_down: i for i in items for pose in i.poses}
    poses = tuple(pose for face in sorted(faces) for pose in faces[face].poses)
    return replace(items[0], poses=poses)


def _pose_of(item: Item, placement: Placement) -> int:
    """Which of an item's poses a placement shows."""
    x0, y0 = (min(p[k] for p in placement.outline) for k in (0, 1))
    shown = [(x - x0, y - y0) for x, y in placement.outline]

    def off(pose: Pose) -> float:
        px, py = (min(p[k] for p in pose.outline) for k in (0, 1))
        if len(pose.outline) != len(shown) or pose.face_down != placement.face_down:
            return math.inf
        return max(math.dist(a, (x - px, y - py)) for a, (x, y) in zip(shown, pose.outline, strict=True))

    return min(range(len(item.poses)), key=lambda k: off(item.poses[k]))


def lay_by_hand(request: LayRequest, base: Lay, places: Sequence[HandPlace]) -> Lay:
    """The lay a hand has made: every piece where it was put, the lanes as long as they then reach, its findings anew.

    Raises:
        LayError: a place names no piece, pose or lane of this lay, or lies off the earth.
    """
    pieces = hand_pieces(request, base)
    moved = {p.number: _as_placed(pieces, p, len(base.lanes)) for p in places}
    placements = tuple(moved.get(p.number) or base.placements[p.number] for p in pieces)
    lanes = _lanes(base, placements)
    length = max(lane.end_mm for lane in lanes) * (2.0 if base.spread == "crosswise-fold" else 1.0)
    keep = tuple(f for f in base.findings if f.code == "lock-dropped")
    in_hand = request.cloth.length_mm
    short = max(0.0, length - in_hand) if in_hand is not None else 0.0
    made = replace(base, placements=placements, lanes=lanes, length_mm=length, findings=keep, short_mm=short, ways=())
    return made if check_lay(_as_laid(request), made) else with_findings(made, _as_laid(request))


def _as_laid(request: LayRequest) -> LayRequest:
    """A request without its locks: a hand may move what it held."""
    return replace(request, locked=())


def _as_placed(pieces: Sequence[HandPiece], place: HandPlace, lanes: int) -> Placement:
    if not 0 <= place.number < len(pieces):
        raise LayError("There is no such piece in this lay.", "places")
    piece = pieces[place.number]
    if not 0 <= place.pose < len(piece.item.poses) or not 0 <= place.lane < lanes:
        raise LayError(f"Piece {piece.item.piece} cannot lie so.", "places")
    if not all(math.isfinite(v) and abs(v) <= FAR_MM for v in (place.x, place.y)):
        raise LayError(f"Piece {piece.item.piece} lies nowhere near the cloth.", "places")
    y = 0.0 if piece.item.at_fold else place.y
    return replace(placed(piece.item, piece.item.poses[place.pose], place.x, y), lane=place.lane)


def _lanes(base: Lay, placements: Sequence[Placement]) -> tuple[Lane, ...]:
    """The lanes as far as the pieces reach; where two follow each other the first keeps its length."""

    def reach(lane: int | None) -> float:
        own = (p for p in placements if lane is None or p.lane == lane)
        return max((x for p in own for x, _ in p.outline), default=0.0)

    if base.spread == "fold-then-single":
        first, second = base.lanes
        return first, replace(second, end_mm=max(reach(1), second.start_mm))
    return tuple(replace(lane, end_mm=max(reach(None), 0.0)) for lane in base.lanes)


def what_is_wrong(request: LayRequest, lay: Lay) -> list[Finding]:
    """Everything the checker finds in a lay made by hand; an empty list means that it may be cut."""
    return check_lay(_as_laid(request), lay)
