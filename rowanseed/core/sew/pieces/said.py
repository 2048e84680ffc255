"""What is said of a pieced garment beside its pieces: choices for all of it, for a unit, a piece or a seam; schools; own steps."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from rowanseed.core.sew.model import BY_HAND, ClothTraits, OwnStep, several
from rowanseed.core.sew.pieces.model import PiecedGarment, SewnPiece, StackedSeam, base_of


@dataclass(frozen=True)
class Said:
    """Choices by feature, and by the name of a unit, piece, edge or seam; schools, tools, the cloth, the sewist's own steps."""

    features: Mapping[str, str] = field(default_factory=dict)
    units: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    schools: Mapping[str, str] = field(default_factory=dict)
    tools: frozenset[str] = frozenset()
    cloth: ClothTraits = ClothTraits()
    own: tuple[OwnStep, ...] = ()

    @property
    def by_hand(self) -> bool:
        """Whether there is no machine at all."""
        return BY_HAND in self.tools

    def choices(self, feature: str, names: Sequence[str] = ()) -> tuple[str, ...]:
        """What was chosen of a feature, of the first of these names that says it, else of the whole; empty where nothing was."""
        for name in names:
            if feature in self.units.get(name, {}):
                return several(self.units[name][feature])
        return several(self.features[feature]) if feature in self.features else ()

    def choice(self, feature: str, names: Sequence[str] = ()) -> str:
        """The first of what was chosen; "" where nothing was said."""
        return next(iter(self.choices(feature, names)), "")


def names_of_piece(piece: SewnPiece) -> tuple[str, ...]:
    """By what names a piece may be spoken of: its own, its unit's in its layer."""
    return (piece.id, f"{piece.layer}.{piece.unit}" if piece.layer == "lining" else piece.unit)


def names_of_edges(g: PiecedGarment, edges: Sequence[str]) -> tuple[str, ...]:
    """By what names edges may be spoken of: their own, `unit.edge`, their piece's and their unit's."""
    pieces = [g.piece_of(e) for e in edges]
    units = [f"{names_of_piece(p)[1]}.{base_of(e.rpartition('.')[2])}" for p, e in zip(pieces, edges, strict=True)]
    return tuple(dict.fromkeys([*edges, *units, *(name for p in pieces for name in names_of_piece(p))]))


def names_of_seam(g: PiecedGarment, seam: StackedSeam) -> tuple[str, ...]:
    """By what names a seam may be spoken of: as steps name it, then by its edges."""
    return ("+".join(seam.edges), *names_of_edges(g, seam.edges))
