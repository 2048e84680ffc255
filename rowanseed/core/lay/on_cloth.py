"""A lay opened out: every piece of cloth where it lies on the open cloth, right side up, and the way from a piece to its cloth."""

import math
from dataclasses import dataclass

import numpy as np

from rowanseed.core.lay.model import Lay, LayPiece, LayRequest, Placement
from rowanseed.core.lay.print_alignment import fold_axis, matched_across

Affine = tuple[float, float, float, float, float, float]  # x' = a x + c y + e, y' = b x + d y + f


@dataclass(frozen=True)
class CutPiece:
    """One piece of cloth: which, whether it is the mirror image of what is drawn, and the way from the drawn piece to the cloth."""

    piece: str
    mirrored: bool
    to_cloth: Affine


def cut_pieces(lay: Lay, request: LayRequest) -> list[CutPiece]:
    """Every piece of cloth that a lay yields, on the open cloth seen from its right side.

    Not for a fold across: there the layers lie one after the other along the cloth.
    """
    drawn = {p.id: p for p in request.pieces}
    fold = _fold(request, lay)
    found = []
    for placement in lay.placements:
        piece = drawn.get(placement.piece)
        if piece is None:
            continue
        way = _way(piece, placement)
        origin = lane_origin(lay, placement.lane, request.cloth.width_mm, fold)
        if lay.lanes[placement.lane].layers == 1:
            way = _across(way, 1.0, origin)
            found.append(CutPiece(placement.piece, _flips(way), way))
            if piece.fold_edge is not None:  # opened out: its other half, from the same cloth
                found.append(CutPiece(placement.piece, not _flips(way), _other_half(piece, way)))
            continue
        # One layer lies beyond the fold, the other is its mirror image on this side of it.
        over, under = _across(way, 1.0, origin), _across(way, -1.0, origin)
        down = _flips(way)
        both = [CutPiece(placement.piece, down, over), CutPiece(placement.piece, not down, under)]
        if placement.layers == 1:  # a same-handed piece that lies printed side down is cut from the layer that is
            both = both[1:] if down and not piece.mirrored else both[:1]
        if piece.fold_edge is not None and not placement.on_fold:  # opened out in a doubled lane: its other half too
            both += [CutPiece(c.piece, not c.mirrored, _other_half(piece, c.to_cloth)) for c in tuple(both)]
        found += both
    return found


def lane_origin(lay: Lay, number: int, width_mm: float, fold_mm: float) -> float:
    """Where a lane's first edge lies on the open cloth, mm from the cloth's own first edge.

    Args: width_mm: of the open cloth; fold_mm: where a lengthwise fold lies on it.
    """
    lane = lay.lanes[number]
    width = lane.to_mm - lane.from_mm
    if lay.spread == "part-fold":  # folded as far as its doubled lane is wide; the single one goes on where that ends
        return (lay.lanes[0].to_mm - lay.lanes[0].from_mm) * (number + 1)
    if lay.spread == "double-fold":
        return width if number == 0 else width_mm - width
    return fold_mm if lane.edges[0] == "fold" else 0.0


def _fold(request: LayRequest, lay: Lay) -> float:
    print_, width = request.cloth.print, request.cloth.width_mm
    if lay.spread == "single" or print_ is None or not matched_across(request):
        return width / 2
    return fold_axis(print_, width)


def _way(piece: LayPiece, placement: Placement) -> Affine:
    """The turn and shift that carry a drawn piece to where it is laid: of those it may have taken the one that fits."""
    drawn, laid = np.array(piece.outline), np.array(placement.outline)
    name = next((m for m in piece.marks if m in placement.marks), None)
    best, least = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), math.inf
    for a, b, c, d in _turns(placement):
        turned = np.column_stack((a * drawn[:, 0] + c * drawn[:, 1], b * drawn[:, 0] + d * drawn[:, 1]))
        if name is not None:
            (x, y), to = piece.marks[name], placement.marks[name]
            e, f = to[0] - a * x - c * y, to[1] - b * x - d * y
        else:
            e, f = (laid.min(axis=0) - turned.min(axis=0)).tolist()
        apart = np.linalg.norm((turned + np.array((e, f)))[:, None, :] - laid[None, :, :], axis=2).min(axis=1)
        if float(apart.max()) < least - 1e-9:
            best, least = (a, b, c, d, e, f), float(apart.max())
    return best


def _turns(placement: Placement) -> list[tuple[float, float, float, float]]:
    """The turns a placement may have made: its angle, right side up or down, and for a half either way along its fold."""
    angle = math.radians(placement.turned)
    c, s = math.cos(angle), math.sin(angle)
    turns = [(c, s, -s, c), (c, s, s, -c)]
    if placement.turned % 180 == 0:
        turns += [(sx, 0.0, 0.0, sy) for sx in (c, -c) for sy in (1.0, -1.0)]
    return turns


def _other_half(piece: LayPiece, way: Affine) -> Affine:
    """The way of a half's mirror image about its fold edge."""
    assert piece.fold_edge is not None
    axis = (piece.fold_edge[0][1] + piece.fold_edge[1][1]) / 2
    a, b, c, d, e, f = way
    return a, b, -c, -d, e + 2 * axis * c, f + 2 * axis * d


def _across(way: Affine, sign: float, shift: float) -> Affine:
    a, b, c, d, e, f = way
    return a, sign * b, c, sign * d, e, sign * f + shift


def _flips(way: Affine) -> bool:
    """Whether an affine map turns a piece over: its determinant is negative."""
    a, b, c, d, *_ = way
    return a * d - b * c < 0
