"""What neck and head ask of the neck that is cut: its girth on the seam line, and by how much its edges move for another one."""

import math
from collections.abc import Iterator

from rowanseed.core.fit.edge_changes import altered_shape
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.measured_places import neck_half
from rowanseed.core.fit.question import WORTH_MM, Asked, Question, Sized
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import Piece
from rowanseed.core.pattern.seamwalk import AlterPiece

COLLARS = ("collar", "stand")
AT_THE_NECK = (*COLLARS, "facing", "band", "binding", "hood")  # pieces that end at the neck and are no part of it
MOST_WIDER_MM, MOST_LOWER_MM = 12.0, 40.0  # further the neck is drawn anew
TRIES = 12


def asked_by_neck(q: Question) -> Iterator[Asked]:
    """Below a collar the neck seam fits the neck; an edge without one may lie lower, but never round less than the neck itself."""
    own, front = _at_the_neck(q), q.part("front", "neck", "shoulder")
    if not own or front is None or "neck" not in q.body:
        return
    closed = any(word in p.name.lower() for p, _ in q.pieces for word in COLLARS)
    girth, ease = _girth(own), q.ease("neck") if closed else 0.0
    off = q.body["neck"] + ease - girth
    if abs(off) >= WORTH_MM and (closed or off > 0):
        yield from _wider_neck(q, front[0].number, off, q.told("Round the neck it", girth, q.body["neck"], ease))


def asked_by_head(q: Question) -> Iterator[Asked]:
    """What has no opening at the neck goes over the head, as far as a knit gives."""
    own, front = _at_the_neck(q), q.part("front", "neck", "shoulder")
    if q.opens or not own or front is None or "head" not in q.body:
        return
    girth, ease = _girth(own), q.table["at.head"]
    short = q.body["head"] + ease - girth * (1 + q.stretch)
    if short >= WORTH_MM:
        why = q.told("It is pulled over the head: the neck", girth, q.body["head"], ease)
        yield from _wider_neck(q, front[0].number, short / (1 + q.stretch), why)


def _at_the_neck(q: Question) -> Sized:
    """The pieces that the neck is cut in, where the neck of each is known."""
    own = [(p, s) for p, s in q.pieces if "neck" in s.edges and not any(word in p.name.lower() for word in AT_THE_NECK)]
    return own if len(own) > 1 and all(neck_half(shape) is not None for _, shape in own) else []


def _girth(pieces: Sized) -> float:
    """Round the neck on the seam line, both halves of front and back, mm."""
    return 2 * sum(neck_half(shape) or 0.0 for _, shape in pieces)


def _wider_neck(q: Question, piece: str, off: float, why: str) -> Iterator[Asked]:
    """The neck's ends moved, and where that is not enough its centre front too: how far is tried on the pieces."""
    own = _at_the_neck(q)
    by = _tried(own, "neck-width", off, MOST_WIDER_MM)
    effect = f"The neck's ends at the shoulders move by {both(abs(by), q.unit)}, on front and back alike; collar and facing follow."
    yield Asked(Alteration("neck-width", piece, by), why, effect)
    wider = [(p, _changed(p, s, "neck-width", by)) for p, s in own]
    front = [(p, s) for p, s in wider if p.number == piece]
    left = off - (_girth(wider) - _girth(own))
    if abs(left) >= WORTH_MM:
        down = _tried(front, "neck-depth", left, MOST_LOWER_MM)
        words = f"The rest: the front neck is {'lowered' if down > 0 else 'raised'} by {both(abs(down), q.unit)} at its centre."
        yield Asked(Alteration("neck-depth", piece, down), why, words)


def _tried(pieces: Sized, kind: str, off: float, most: float) -> float:
    """By how much a change makes a neck longer by so much, mm, but no more than is drawn so: found by trying."""
    by = math.copysign(1.0, off)
    for _ in range(TRIES):
        gained = _girth([(p, _changed(p, s, kind, by)) for p, s in pieces]) - _girth(pieces)
        if gained * off <= 0:
            return math.copysign(most, off)
        by = math.copysign(min(most, abs(by * off / gained)), off)
    return by


def _changed(piece: Piece, shape: PieceShape, kind: str, by: float) -> PieceShape:
    return altered_shape(Alteration(kind, piece.number, by), AlterPiece(piece.number, shape), KINDS[kind].edge, None)
