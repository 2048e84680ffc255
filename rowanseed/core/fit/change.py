"""One alteration under way: the pieces as they were, those changed so far, what followed and what was left."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Seam, SeamSide
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker


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
