"""Two spreads one after the other along the cloth: pairs folded, then the odd and bias pieces from the opened rest."""

from collections.abc import Sequence
from dataclasses import replace

from rowanseed.core.lay.finish import finished
from rowanseed.core.lay.model import Lay, LayPiece, LayRequest, Placement
from rowanseed.core.lay.one_lane import lay_one_lane
from rowanseed.core.lay.watch import LayWatch


def lay_in_turn(request: LayRequest, watch: LayWatch) -> Lay | None:
    """Pairs and fold pieces folded lengthwise, then the odd, same-handed and bias pieces from the opened rest."""
    began = watch.clock()
    folded, rest = _in_turn(request.pieces)
    if not folded or not rest:
        return None
    endless = replace(request.cloth, length_mm=None)
    locks = [[held for held in request.locked if held.lane == k] for k in (0, 1)]
    first = lay_one_lane(
        replace(request, cloth=endless, pieces=folded, locked=tuple(locks[0])), "lengthwise-fold", watch, None
    )
    at = first.length_mm
    flaws = tuple((x0 - at, y0, x1 - at, y1) for x0, y0, x1, y1 in request.cloth.flaws if max(x0, x1) > at)
    held = tuple(replace(lock, lane=0, x=lock.x - at) for lock in locks[1])
    later = replace(request, cloth=replace(endless, flaws=flaws), pieces=rest, locked=held)
    second = lay_one_lane(later, "single", watch, None)
    placements = (*first.placements, *(_further(p, at) for p in second.placements))
    lanes = (*first.lanes, *(replace(lane, start_mm=at, end_mm=at + second.length_mm) for lane in second.lanes))
    noted = ("one-layer-only",)
    lay = Lay(
        at + second.length_mm,
        second.width_mm,
        first.bound_mm + second.bound_mm,
        first.fold_bound_mm,
        "fold-then-single",
        watch.clock() - began,
        lanes,
        placements,
        tuple(f for f in (*first.findings, *second.findings) if f.code not in noted),
        0.0,
        tuple(dict.fromkeys((*first.failed, *second.failed))),
    )
    return finished(lay, request)


def _further(placement: Placement, x: float) -> Placement:
    """A placement of the second part: its lane, and further along the cloth."""
    moved = tuple((px + x, py) for px, py in placement.outline)
    marks = {name: (px + x, py) for name, (px, py) in placement.marks.items()}
    return replace(placement, lane=1, outline=moved, marks=marks)


def _in_turn(pieces: Sequence[LayPiece]) -> tuple[tuple[LayPiece, ...], tuple[LayPiece, ...]]:
    """What is cut folded, and what from the opened rest; an odd one of a pair goes with the rest."""
    folded, rest = [], []
    for piece in pieces:
        if piece.grain == "bias" or (piece.fold_edge is None and not piece.mirrored):
            rest.append(piece)
        elif piece.fold_edge is not None or piece.cut % 2 == 0:
            folded.append(piece)
        else:
            if piece.cut > 1:
                folded.append(replace(piece, cut=piece.cut - 1))
            rest.append(replace(piece, cut=1))
    return tuple(folded), tuple(rest)
