"""A pattern as its envelope and tissue say it: sizes, views, pieces with an outline for every size."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal, get_args

from rowanseed.core.garment_kinds import Cut, GarmentKind
from rowanseed.core.geometry.shape import PieceShape, with_allowance
from rowanseed.core.geometry.types import Grain
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.fates import EdgeFate
from rowanseed.core.pattern.figures import Figures

Role = Literal["self", "contrast", "lining", "interfacing", "underlining", "offcut"]
ROLES: tuple[Role, ...] = get_args(Role)
ROLE_WORDS: dict[Role, str] = {
    "self": "Main cloth",
    "contrast": "Contrast",
    "lining": "Lining",
    "interfacing": "Interfacing",
    "underlining": "Underlining",
    "offcut": "From an offcut",
}


@dataclass(frozen=True)
class Piece:
    """A pattern piece: number, name, how many of which cloth, and its shape in every size it was given for.

    `mirrored`: half of the count are mirror images, as for every pair. `views` empty: in every view. `same_as`: the number of
    the piece it is cut to, as interfacing to its facing. `selvage_edge`: the edge that lies on the selvage, as a waistband's;
    `off_grain`: degrees by which it may lie off its grain. `edge_allowances`: the allowance of edges that have one of their own.
    `follows`: the number of the piece behind which it lies, as a lining or facing, and whose alterations it follows.
    `figures`: what was typed for a quick shape, by size, its `shape` among them, so that it can be changed.

    A shape given without saying its allowance is taken as the tissue prints it: with `allowance_included` its outline is the
    cutting line, without it the seam line, and the allowance is added at once. So every shape of a piece is as it is cut.
    """

    number: str
    name: str
    cut: int
    role: Role = "self"
    mirrored: bool = False
    grain: Grain = "lengthwise"
    allowance_mm: float = 15.0
    allowance_included: bool = True
    views: tuple[str, ...] = ()
    shapes: Mapping[str, PieceShape] = field(default_factory=dict)
    note: str = ""
    same_as: str = ""
    selvage_edge: str = ""
    off_grain: float = 0.0
    edge_allowances: Mapping[str, float] = field(default_factory=dict)
    follows: str = ""
    figures: Mapping[str, Mapping[str, str]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Make every shape the one that is cut, which knows its own seam line."""
        if any(shape.allowance_mm is None for shape in self.shapes.values()):
            object.__setattr__(self, "shapes", {size: self._as_cut(shape) for size, shape in self.shapes.items()})

    def _as_cut(self, shape: PieceShape) -> PieceShape:
        if shape.allowance_mm is not None:
            return shape
        if self.allowance_included:
            return replace(shape, allowance_mm=self.allowance_mm, allowances=dict(self.edge_allowances))
        return with_allowance(shape, self.allowance_mm, self.edge_allowances)

    def in_view(self, view: str) -> bool:
        """Whether a view uses this piece."""
        return not self.views or view in self.views


SeamSide = tuple[str, str]


@dataclass(frozen=True)
class Seam:
    """Two edges that are sewn together, each (piece number, edge name).

    A side may go on over further edges, as an armhole over front, yoke and back; an edge sewn in twice, as by a pair to one
    band, is named twice. `meant_mm`: how much longer a is meant to be than b on the seam line, and `why`: cap ease, gathers.
    """

    a: SeamSide
    b: SeamSide
    meant_mm: float = 0.0
    more_a: tuple[SeamSide, ...] = ()
    more_b: tuple[SeamSide, ...] = ()
    why: str = ""

    @property
    def sides(self) -> tuple[tuple[SeamSide, ...], tuple[SeamSide, ...]]:
        """Both sides, each with all its edges."""
        return (self.a, *self.more_a), (self.b, *self.more_b)

    @property
    def edges(self) -> tuple[SeamSide, ...]:
        """Every edge of the seam."""
        return (self.a, *self.more_a, self.b, *self.more_b)


@dataclass(frozen=True)
class View:
    """A view on the envelope and the features that the garment then has (feature -> choice)."""

    name: str
    description: str = ""
    features: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class EnvelopeSize:
    """One size of the envelope: body and finished measurements as typed, by measurement key.

    `upto`: the upper ends where a letter size covers a range of bodies. `age`: years a child's size is meant for.
    """

    size: str
    body: Mapping[str, Length]
    finished: Mapping[str, Length] = field(default_factory=dict)
    upto: Mapping[str, Length] = field(default_factory=dict)
    age: tuple[float, float] | None = None


@dataclass(frozen=True)
class Printed:
    """A length that the envelope prints: for a view in some sizes at a width; `one_way`: whether it says "with nap"."""

    view: str
    sizes: tuple[str, ...]
    width: Length
    length: Length
    one_way: bool = False


@dataclass(frozen=True)
class Pattern:
    """An envelope and its pieces. `cut`: how a skirt or trousers hang; `least_stretch`: the share of stretch it asks for.

    `cup`: how much larger than the high bust it is drawn for the full bust to be; None where the envelope does not say.
    `fates`: what becomes of an edge, by `number|edge`. `units`: what a piece is a part of, by its number, against its name.
    """

    name: str
    label: str = ""
    garment: GarmentKind = "top"
    drafted_height: Length | None = None
    sizes: tuple[EnvelopeSize, ...] = ()
    views: tuple[View, ...] = (View("A"),)
    pieces: tuple[Piece, ...] = ()
    notions: str = ""
    note: str = ""
    seams: tuple[Seam, ...] = ()
    cut: Cut = ""
    least_stretch: float = 0.0
    printed: tuple[Printed, ...] = ()
    cup: Length | None = None
    figures: Figures = Figures()
    fates: Mapping[str, EdgeFate] = field(default_factory=dict)
    units: Mapping[str, str] = field(default_factory=dict)

    def size_names(self) -> tuple[str, ...]:
        """The sizes, smallest first."""
        return tuple(s.size for s in self.sizes)

    def free_number(self) -> str:
        """The first number that no piece has."""
        taken = {p.number for p in self.pieces}
        return next(str(k) for k in range(1, len(taken) + 2) if str(k) not in taken)

    def view(self, name: str) -> View:
        """The named view, else the first."""
        return next((v for v in self.views if v.name == name), self.views[0])

    def pieces_of(self, view: str, role: Role | None = None) -> tuple[Piece, ...]:
        """The pieces of a view, of one cloth or of all."""
        return tuple(p for p in self.pieces if p.in_view(view) and role in (None, p.role))
