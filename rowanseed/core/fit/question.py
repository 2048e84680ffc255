"""What is asked of the pieces by a body: the question, with its eases, and an alteration that answers it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.fit.chart_comparison import CUP_MM
from rowanseed.core.fit.ease import ease_on_knit
from rowanseed.core.fit.ease_table import USUAL, EaseTable
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.model import Piece

WORTH_MM = 8.0  # a smaller difference is lost in sewing


@dataclass(frozen=True)
class Asked:
    """An alteration that a measure asks for, why, and what it does."""

    alteration: Alteration
    why: str
    effect: str


Sized = Sequence[tuple[Piece, PieceShape]]


@dataclass(frozen=True)
class Question:
    """A body held against pieces.

    `pieces`: the shell's, with their shape as they would be cut. `body`: measures by their keys, mm. `stretch`: the cloth's share.
    `cup`: how much larger than the high bust the pattern is drawn for, mm. `opens`: whether it has an opening at the neck; without
    one it is pulled over the head. `exact`: whether lengths, shoulders and the bust's place
    are compared too, as on a garment that follows the body.
    """

    pieces: Sized
    body: Mapping[str, float]
    unit: Unit
    exact: bool = True
    table: EaseTable = USUAL
    stretch: float = 0.0
    cup: float = CUP_MM
    opens: bool = True

    def ease(self, key: str) -> float:
        """The ease a measure needs, mm; on a knit less, round the figure less than the body."""
        own = self.table[f"at.{key}"]
        return ease_on_knit(own, self.body.get(key, 0.0), self.stretch, self.table) if self.stretch else own

    def part(self, words: str, *edges: str) -> tuple[Piece, PieceShape] | None:
        """The first piece of a name with these edges."""
        named = ((p, s) for p, s in self.pieces if words in p.name.lower() and set(edges) <= s.edges.keys())
        return next(named, None)

    def told(self, what: str, has: float, wants: float, ease: float) -> str:
        """A difference in a sentence."""
        spare = f" and {both(ease, self.unit)} of ease" if ease > 0 else ""
        spare = f", {both(-ease, self.unit)} smaller than it on this stretch" if ease < 0 else spare
        return (
            f"{what} measures {both(has, self.unit)} on the pieces; the body asks for {both(wants, self.unit)}{spare}."
        )
