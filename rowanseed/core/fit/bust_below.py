"""What a bust alteration has done below the bust, and how it is taken out again where only the bust was to change.

Slashing from the foot opens waist and hem by as much as the bust; with the body no larger there, that is taken in at the sides
or by a dart at the waist: common practice, no published source.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.question import WORTH_MM, Asked
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.model import Piece, Seam
from rowanseed.core.pattern.seamwalk import AlterPiece

BUSTS = ("bust", "bust-dartless")


def taken_out_again(
    shell: Sequence[Piece],
    pieces: Sequence[AlterPiece],
    seams: Sequence[Seam],
    alterations: Sequence[Alteration],
    unit: Unit,
) -> list[Asked]:
    """Return what takes in, at waist and hip, what the bust alterations let out there and later ones have not taken in yet.

    Args:
        shell: the pieces that go round the body.
        pieces: all pieces as the tissue has them, in the size that is cut, with their seams.
    """
    changed = [a for a in alterations if a.kind in BUSTS and a.on]
    if not changed:
        return []
    front = next(p for p in pieces if p.id == changed[0].piece)
    unchanged = [replace(a, on=False) if a in changed else a for a in _before_taking(alterations)]
    try:
        before = _shapes(pieces, seams, unchanged)
        after = _shapes(pieces, seams, alterations)
    except AlterationError:
        return []
    at = _at_the_side(front.shape, after[front.id], changed[0])
    was, now = _girths(shell, before), _girths(shell, {**after, front.id: replace(after[front.id], levels=at)})
    edges = 2 * sum(p.cut for p in shell if p.number == front.id)  # the front's own sides, and the backs' that follow
    asked = []
    for level in ("waist", "hip"):
        grown = now.get(level, 0.0) - was.get(level, 0.0)
        if level in at and "side" in front.shape.edges and abs(grown) >= WORTH_MM:
            more = "wider" if grown > 0 else "narrower"
            why = f"The bust change has made the {level} {both(abs(grown), unit)} {more} than it was."
            effect = f"Each side edge moves by {both(abs(grown) / edges, unit)} there, or a waist dart takes it."
            asked.append(Asked(Alteration("taper", front.id, -grown / edges, at[level], "side"), why, effect))
    return asked


def _at_the_side(tissue: PieceShape, changed: PieceShape, by: Alteration) -> Mapping[str, float]:
    """Where a front's levels lie at its side, which is where it is taken in.

    A front slashed without a dart is longer at its centre alone: its side keeps its length, so there the levels stay.
    """
    return changed.levels if by.kind == "bust" else tissue.levels


def _before_taking(alterations: Sequence[Alteration]) -> list[Alteration]:
    """The alterations without those tapers of a side that come after the bust change: they may be what takes it out."""
    first = next(k for k, a in enumerate(alterations) if a.kind in BUSTS and a.on)
    return [a for k, a in enumerate(alterations) if k <= first or a.kind != "taper"]


def _shapes(
    pieces: Sequence[AlterPiece], seams: Sequence[Seam], alterations: Sequence[Alteration]
) -> Mapping[str, PieceShape]:
    return {p.id: p.shape for p in alter(pieces, seams, alterations).pieces}


def _girths(shell: Sequence[Piece], shapes: Mapping[str, PieceShape]) -> Mapping[str, float]:
    own = [(p, shapes[p.number]) for p in shell if p.number in shapes]
    return {level: girth.mm for level, girth in finished_girths(own).items()}
