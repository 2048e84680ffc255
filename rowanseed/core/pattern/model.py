"""A pattern as its envelope and tissue say it: sizes, views, pieces with an outline for every size."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, get_args

from rowanseed.core.errors import OutlineError
from rowanseed.core.fit.ease import Cut, Garment
from rowanseed.core.lay.model import Grain, Outline, Point, Segment
from rowanseed.core.lengths import Length

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
class Notch:
    """A notch on the cutting line: one for front, two for back, as the trade marks them."""

    at: Point
    count: int = 1


@dataclass(frozen=True)
class Mark:
    """A named point inside a piece: dot, button, buttonhole, pocket corner, bust point."""

    name: str
    at: Point


@dataclass(frozen=True)
class Line:
    """An internal line: dart, pleat, fold, lengthen/shorten, centre front.

    A `dart` runs from the end of one leg over its point to the end of the other; what lies between its ends is folded away.
    """

    kind: str
    points: Outline


@dataclass(frozen=True)
class PieceShape:
    """A piece in one size: the cutting line (>= 3 points, mm, x along the grain), fold, grain, marks, named edges.

    An edge (i, j) runs along the outline from its point i to its point j. `levels`: at which x a girth of the body lies, by its
    measurement key: bust, waist, hip, on a sleeve upper_arm and wrist, on a leg thigh.
    """

    outline: Outline
    fold_edge: Segment | None = None
    grainline: Segment | None = None
    notches: tuple[Notch, ...] = ()
    marks: tuple[Mark, ...] = ()
    lines: tuple[Line, ...] = ()
    edges: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    levels: Mapping[str, float] = field(default_factory=dict)

    def area_mm2(self) -> float:
        """Area inside the cutting line, of the half where there is a fold."""
        pairs = zip(self.outline, (*self.outline[1:], self.outline[0]), strict=True)
        return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in pairs)) / 2

    def grain_or_default(self) -> Segment:
        """The grain arrow, else one along the middle of the piece, inside its length."""
        if self.grainline is not None:
            return self.grainline
        xs, ys = [x for x, _ in self.outline], [y for _, y in self.outline]
        length, middle = max(xs) - min(xs), (min(ys) + max(ys)) / 2
        return ((min(xs) + 0.2 * length, middle), (min(xs) + 0.8 * length, middle))


@dataclass(frozen=True)
class Piece:
    """A pattern piece: number, name, how many of which cloth, and its shape in every size it was given for.

    `mirrored`: half of the count are mirror images, as for every pair. `views` empty: in every view. `same_as`: the number of
    the piece it is cut to, as interfacing to its facing. `selvage_edge`: the edge that lies on the selvage, as a waistband's;
    `off_grain`: degrees by which it may lie off its grain.
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
    """An envelope and its pieces. `cut`: how a skirt or trousers hang; `least_stretch`: the share of stretch it asks for."""

    name: str
    label: str = ""
    garment: Garment = "top"
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

    def size_names(self) -> tuple[str, ...]:
        """The sizes, smallest first."""
        return tuple(s.size for s in self.sizes)

    def view(self, name: str) -> View:
        """The named view, else the first."""
        return next((v for v in self.views if v.name == name), self.views[0])

    def pieces_of(self, view: str, role: Role | None = None) -> tuple[Piece, ...]:
        """The pieces of a view, of one cloth or of all."""
        return tuple(p for p in self.pieces if p.in_view(view) and role in (None, p.role))


def refuse_bad_outline(outline: Outline, name: str = "The piece") -> None:
    """Raise OutlineError when an outline has fewer than three points, no area, or crosses itself."""
    from shapely import Polygon  # here, so that reading a pattern does not load the geometry library

    if len(outline) < 3:
        raise OutlineError(f"{name} needs at least three points.", "outline")
    polygon = Polygon(outline)
    if polygon.area < 1.0:
        raise OutlineError(f"{name} encloses no area. Check the figures.", "outline")
    if not polygon.is_valid:
        raise OutlineError(f"The outline of {name.lower()} crosses itself. Check the figures.", "outline")
