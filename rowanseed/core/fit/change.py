"""One alteration under way: the pieces as they were, those changed so far, what followed and what was left."""

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.tracking import Field, tracked, untracked
from rowanseed.core.fit.truing import trued
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Seam, SeamSide
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

INSIDE = ("strip", "wedge", "slashes")  # ways that move what lies inside a piece
Remake = Callable[[PieceShape], PieceShape]


@dataclass(frozen=True)
class Followed:
    """A piece that an alteration was carried to, or was to be carried to, and why."""

    piece: str
    because: str


@dataclass
class Change:
    """One alteration under way: the pieces as they were, those changed so far, what followed and what was left.

    `meant`: how much longer a is to be than b, for each seam, as it was before any alteration. `behind`: the piece behind which
    each layer lies. `altered`: the pieces the alteration itself was made on. `layers`: those that were moved with their shell.
    `lines`: where a strip was let in, by piece. `tries`: how often a piece was drawn anew so that a seam meets. `remarked`: edges
    whose notches were marked anew.
    """

    alteration: Alteration
    known: Mapping[str, AlterPiece]
    seams: Sequence[Seam]
    walker: Walker
    meant: list[float]
    behind: Mapping[str, str] = field(default_factory=dict)
    changed: dict[str, AlterPiece] = field(default_factory=dict)
    followed: list[Followed] = field(default_factory=list)
    left: list[Followed] = field(default_factory=list)
    altered: set[str] = field(default_factory=set)
    layers: set[str] = field(default_factory=set)
    tries: Counter[str] = field(default_factory=Counter)
    remarked: list[SeamSide] = field(default_factory=list)
    lines: dict[str, float] = field(default_factory=dict)
    _started: dict[str, PieceShape] = field(default_factory=dict)
    _under_way: dict[str, PieceShape] = field(default_factory=dict)

    def now(self, number: str) -> AlterPiece:
        """A piece as it stands."""
        return self.changed.get(number) or self.known[number]

    def follow(self, number: str, because: str) -> bool:
        """Whether a piece is to follow; what follows or is left is noted once."""
        noted = self.left if number in self.alteration.leave else self.followed
        if all(other.piece != number for other in noted):
            noted.append(Followed(number, because))
        return noted is self.followed

    def unfollow(self, number: str) -> None:
        """Strike a piece from those that follow: it could not."""
        self.followed = [f for f in self.followed if f.piece != number]

    def remake(self, number: str, make: Remake, itself: bool = True) -> None:
        """Give a piece the shape that is made of its own, broken lines drawn true, and every piece that is cut like it.

        Args:
            itself: whether the alteration is made on this piece, rather than the piece drawn anew so that a seam meets.
        Raises:
            AlterationError: it cannot be made.
        """
        before = self.known[number].shape
        kept = not itself or KINDS[self.alteration.kind].way not in ("dart", "slashes")
        if number in self.behind.values():
            start = self._under_way.get(number)
            if start is None:
                start = self._started[number] = tracked(before, KINDS[self.alteration.kind].way in INSIDE)
            done = self._under_way[number] = trued(self._started[number], make(start), kept)
            shape = untracked(done)
        else:
            shape = trued(before, make(self.now(number).shape), kept)
        self._put(number, shape, itself)

    def take(self, number: str, shape: PieceShape, tracks: tuple[PieceShape, PieceShape]) -> None:
        """Give a piece a shape that was made elsewhere; `tracks`: the piece before and after, with points followed along it."""
        self._started[number], self._under_way[number] = tracks
        self._put(number, shape, itself=True)

    def field_of(self, number: str) -> Field | None:
        """What was done to a piece behind which others lie; None where nothing was."""
        if number not in self._under_way:
            return None
        return Field(self._started[number], self._under_way[number])

    def forget(self, number: str) -> None:
        """Take back what was done to a piece, so that it is done anew."""
        self._started.pop(number, None)
        self._under_way.pop(number, None)

    def with_notches(self, number: str, shape: PieceShape) -> None:
        """Give a piece the same shape with its notches elsewhere."""
        self._put(number, shape, itself=False)

    def _put(self, number: str, shape: PieceShape, itself: bool) -> None:
        self.changed[number] = replace(self.known[number], shape=shape)
        if itself:
            self.altered.add(number)
        source = self.known[number].same_as or number
        for piece in self.known.values():
            alike = piece.same_as == source or piece.id == source
            if alike and piece.id != number and self.follow(piece.id, f"it is cut like piece {number}"):
                self.changed[piece.id] = replace(piece, shape=shape)
                if itself:
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
