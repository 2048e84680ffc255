"""What a blend of size lines asks of the pieces that have no zones: yoke, collar, stand, sleeve, facing and lining.

They go with what they are sewn to, as they do with an alteration.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from rowanseed.core.fit.change import Change
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.layers import behind
from rowanseed.core.fit.meeting import difference
from rowanseed.core.fit.propagation import carry_on
from rowanseed.core.fit.tracking import tracked
from rowanseed.core.geometry.nearest import NearestOn
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

NOTHING = Alteration("side", "", 0.0)  # what is carried is no alteration of one piece


def carried_from_blend(
    pieces: Sequence[AlterPiece], blended: Mapping[str, PieceShape], seams: Sequence[Seam]
) -> dict[str, PieceShape]:
    """The shapes of all pieces once those with zones are blended: the others follow, so that every seam meets as it did.

    Args:
        pieces: in the garment's own size throughout.
        blended: the pieces whose zones have sizes of their own, drawn point for point as before.
    """
    known = {piece.id: piece for piece in pieces}
    change = Change(NOTHING, known, seams, Walker(), [], behind(known, seams))
    change.meant = [difference(change, seam) for seam in seams]
    for number, shape in blended.items():
        if number in known and shape != known[number].shape:
            change.take(number, shape, _tracks(known[number].shape, shape))
    carry_on(change)
    return {number: change.now(number).shape for number in known}


def _tracks(before: PieceShape, after: PieceShape) -> tuple[PieceShape, PieceShape]:
    """A piece with points followed along its outline, as it was and as it is, where both are drawn point for point alike."""
    start = tracked(before, inside=False)
    line = NearestOn(before.outline, closed=True)

    def at(place: Point) -> Point:
        near = line.at(place)
        (ax, ay), (bx, by) = after.outline[near.segment], after.outline[(near.segment + 1) % len(after.outline)]
        return (ax + near.share * (bx - ax), ay + near.share * (by - ay))

    return start, replace(start, outline=tuple(at(p) for p in start.outline))
