"""Carrying a change to the pieces that join: the same line at the same distance, the same edge moved, a seam made to meet.

What follows is worked out from the declared seams; a piece the user chose to leave stays as it is and is named.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import partial

from rowanseed.core.fit.change import Change, joined
from rowanseed.core.fit.crown_mark import move_crown_marks
from rowanseed.core.fit.edge_changes import (
    EDGE_MARGIN_MM,
    altered_shape,
    edge_of,
    has_underarm,
    line_across,
    lower_underarm,
    usual_place,
)
from rowanseed.core.fit.hem import change_hem
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.layers import behind, take_layers_along
from rowanseed.core.fit.meeting import difference, make_one_meet
from rowanseed.core.fit.notch_pairs import remark
from rowanseed.core.fit.reshape import change_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

MOST_ROUNDS = 80


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
    change = Change(alteration, known, seams, walker, meant, behind(known, seams))
    if KINDS[alteration.kind].way == "strip":
        _change_lengths(change)
    else:
        _move_edges(change)
    carry_on(change)
    if alteration.kind == "forward-shoulder":
        move_crown_marks(change)
    left = {piece.piece for piece in change.left}
    for k, seam in enumerate(seams):
        if any(number in left for number, _ in seam.edges):
            meant[k] = difference(change, seam)
    return change


def carry_on(change: Change) -> None:
    """Carry what was made to all that joins: seams meet, layers go with their shells, notches lie opposite each other."""
    _make_all_meet(change, with_layers=False)
    take_layers_along(change)
    _make_all_meet(change, with_layers=True)
    remark(change)


def _make_all_meet(change: Change, with_layers: bool) -> None:
    for _ in range(MOST_ROUNDS):
        if not make_one_meet(change, with_layers):
            break


def _change_lengths(change: Change) -> None:
    """A strip across the piece, and across every piece whose joined edge it crosses, at the same distance along it."""
    alteration = change.alteration
    piece = change.known[alteration.piece]
    lines = change.lines
    lines[piece.id] = line_across(alteration, piece)
    change.remake(piece.id, _stripped(change, piece.id))
    last = [piece.id]
    while last:
        met = _met_by(change, last, lines)
        last = []
        for number in sorted(met):
            if number in change.changed or not change.follow(
                number, " and ".join(sorted(because for _, because in met[number]))
            ):
                continue
            # Where two seams tell a little differently where the line lies, it lies between.
            lines[number] = sum(x for x, _ in met[number]) / len(met[number])
            change.remake(number, _stripped(change, number))
            last.append(number)


def _stripped(change: Change, number: str) -> Callable[[PieceShape], PieceShape]:
    """What makes a piece longer or shorter: at its hem, where the alteration is made there and it has one, else by a strip."""
    alteration = change.alteration
    if alteration.kind == "hem" and alteration.at_edge in change.known[number].shape.edges:
        return partial(change_hem, edge=alteration.at_edge, by=alteration.by_mm)
    return partial(change_length, at=change.lines[number], by=alteration.by_mm)


def _met_by(change: Change, last: Sequence[str], lines: Mapping[str, float]) -> dict[str, list[tuple[float, str]]]:
    """The pieces that the line of these goes on over, and for each seam where it lies on them, and why."""
    found: dict[str, list[tuple[float, str]]] = {}
    for number in last:
        own = change.known[number]
        for other, edge, their_edge in joined(own, change.seams):
            if other in change.changed or other not in change.known:
                continue
            met = same_distance(own, edge, lines[number], change.known[other], their_edge)
            if (
                met is not None
                and change.alteration.kind == "hem"
                and change.alteration.at_edge in change.known[other].shape.edges
            ):
                met = line_across(change.alteration, change.known[other])  # at its own hem, ease or not
            if met is not None:
                found.setdefault(other, []).append((met, f"its {their_edge} is sewn to the {edge} of piece {number}"))
    return found


def same_distance(piece: AlterPiece, edge: str, line: float, other: AlterPiece, their_edge: str) -> float | None:
    """Where the same distance from the head end along the joined edge lies on the other piece; None when not crossed."""
    own = _down(edge_of(piece, edge))
    if not own[0][0] + EDGE_MARGIN_MM / 2 < line < own[-1][0] - EDGE_MARGIN_MM / 2:
        return None
    return _at_distance(piece, edge, line, other, their_edge)


def opposite(piece: AlterPiece, edge: str, line: float, other: AlterPiece, their_edge: str) -> float:
    """The same for a place that may lie at an edge's very end, or beyond it: as far beyond on the other piece."""
    own, theirs = _down(edge_of(piece, edge)), _down(edge_of(other, their_edge))
    if line <= own[0][0]:
        return theirs[0][0] + line - own[0][0]
    if line >= own[-1][0]:
        return theirs[-1][0] + line - own[-1][0]
    return _at_distance(piece, edge, line, other, their_edge)


def _at_distance(piece: AlterPiece, edge: str, line: float, other: AlterPiece, their_edge: str) -> float:
    own, far = _down(edge_of(piece, edge)), 0.0
    for a, b in zip(own, own[1:]):
        if a[0] <= line <= b[0] and b[0] > a[0]:
            far += math.dist(a, b) * (line - a[0]) / (b[0] - a[0])
            break
        far += math.dist(a, b)
    # As they are sewn: what darts fold away is no part of either edge.
    walker = Walker()
    far -= sum(intake for at, intake in walker.darts_from_head(piece, edge) if at < far)
    for at, intake in walker.darts_from_head(other, their_edge):
        far += intake if at < far else 0.0
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
    piece, edge = change.known[change.alteration.piece], change.alteration.at_edge
    alteration = change.alteration = replace(change.alteration, at_mm=usual_place(change.alteration, piece))
    change.remake(
        piece.id, lambda shape: altered_shape(alteration, replace(piece, shape=shape), edge, alteration.at_mm)
    )
    if alteration.kind == "crotch":
        _both_legs(change, piece, edge)
        return
    if KINDS[alteration.kind].carry == "none":
        return  # what joins is made to meet below
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
        sign = -1.0 if KINDS[alteration.kind].carry == "opposite" else 1.0
        same = replace(alteration, by_mm=sign * alteration.by_mm)
        change.remake(other, partial(_moved_alike, same, own, theirs, met))


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
        change.remake(number, partial(lower_underarm, by=change.alteration.by_mm))


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
            change.remake(other, partial(_moved_alike, change.alteration, own, edge, None))


def _moved_alike(
    alteration: Alteration, piece: AlterPiece, edge: str, at: float | None, shape: PieceShape
) -> PieceShape:
    return altered_shape(alteration, replace(piece, shape=shape), edge, at)


def _meets(shape: PieceShape, edge: str, other: str) -> bool:
    """Whether two edges share a corner at the foot of the second."""
    if edge not in shape.edges:
        return False
    first, last = shape.edges[other]
    foot = max((first, last), key=lambda k: shape.outline[k][0])
    return foot in shape.edges[edge]
