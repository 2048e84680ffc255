"""What a lay is asked for and what it answers. Millimetres; x along the cloth from the cut end, y across it."""

import math
from dataclasses import dataclass, field
from typing import Literal

from rowanseed.core.errors import Finding, LayError
from rowanseed.core.geometry.types import Grain, Outline, Point, Segment
from rowanseed.core.prints import Print

Nap = Literal["none", "one-way"]
Spread = Literal["single", "lengthwise-fold", "part-fold", "double-fold", "crosswise-fold", "fold-then-single"]
AskedSpread = Literal[
    "single", "lengthwise-fold", "part-fold", "double-fold", "crosswise-fold", "fold-then-single", "best", "easiest"
]
Effort = Literal["quick", "good", "best"]
Edge = Literal["fold", "selvage", "cut"]
# What no cloth, print or garment is beyond; without these bounds one request could take the machine.
LEAST_WIDTH_MM, MOST_WIDTH_MM, MOST_LENGTH_MM = 10.0, 20_000.0, 1_000_000.0
LEAST_REPEAT_MM = 1.0
MOST_FLAWS, MOST_PIECES, MOST_POINTS, MOST_MATCHES = 200, 2_000, 200_000, 2_000
MOST_GAP_MM = 100.0


@dataclass(frozen=True)
class LayCloth:
    """The cloth of a lay: whole width, each selvage's width, length in hand (None: as long as needed)."""

    width_mm: float
    selvage_mm: tuple[float, float] = (0.0, 0.0)
    length_mm: float | None = None
    nap: Nap = "none"
    print: Print | None = None
    flaws: tuple[tuple[float, float, float, float], ...] = ()

    def __post_init__(self) -> None:
        """Refuse what no cloth is, with the field that must change."""
        if not LEAST_WIDTH_MM <= self.width_mm <= MOST_WIDTH_MM:
            raise LayError(f"Cloth is {LEAST_WIDTH_MM / 10:g} cm to {MOST_WIDTH_MM / 1000:g} m wide.", "cloth.width")
        if self.length_mm is not None and not 0 < self.length_mm <= MOST_LENGTH_MM:
            raise LayError("Cloth is at most a kilometre long, and longer than nothing.", "cloth.length")
        if not all(0 <= edge <= self.width_mm for edge in self.selvage_mm):
            raise LayError("A selvage is within the cloth's width.", "cloth.selvage")
        if len(self.flaws) > MOST_FLAWS:
            raise LayError(f"At most {MOST_FLAWS} flaws; buy other cloth.", "cloth.flaws")
        if not all(abs(mm) <= MOST_LENGTH_MM for flaw in self.flaws for mm in flaw):
            raise LayError("A flaw lies on the cloth.", "cloth.flaws")
        if self.print is not None:
            refuse_impossible(self.print)

    @property
    def one_way(self) -> bool:
        """Whether nap or print forbids turning a piece head to tail."""
        return self.nap == "one-way" or (self.print is not None and self.print.one_way)


def refuse_impossible(print_: Print) -> None:
    """Raise LayError for a repeat or an offset that no print has."""
    for name in ("repeat_along", "repeat_across"):
        mm = getattr(print_, f"{name}_mm")
        if mm and not LEAST_REPEAT_MM <= mm <= MOST_WIDTH_MM:
            raise LayError(
                f"A repeat is {LEAST_REPEAT_MM:g} mm to {MOST_WIDTH_MM / 1000:g} m; leave it empty for none.",
                f"cloth.print.{name}",
            )
    for name in ("offset_along", "offset_across", "axis_along", "axis_across"):
        if not abs(getattr(print_, f"{name}_mm")) <= MOST_LENGTH_MM:
            raise LayError("Where the print begins lies on the cloth.", f"cloth.print.{name}")


@dataclass(frozen=True)
class LayPiece:
    """A piece to be cut: its outline (n >= 3 points), how many, and how it may lie.

    With a fold edge the outline is half the piece. `mirrored`: half of the count are mirror images.
    `allowance_mm` is to be added around the outline, not on the fold. `off_grain`: degrees by which it may lie off its grain, for
    small hidden pieces; never on a fold or with an edge on the selvage.
    """

    id: str
    outline: Outline
    cut: int = 1
    mirrored: bool = False
    fold_edge: Segment | None = None
    grain: Grain = "lengthwise"
    selvage_edge: Segment | None = None
    marks: dict[str, Point] = field(default_factory=dict)
    allowance_mm: float = 0.0
    off_grain: float = 0.0


@dataclass(frozen=True)
class Match:
    """Two marks, (piece, mark), that should fall on the same phase of the print's repeat.

    `onto`: b is laid on a, as a pocket is, and not sewn edge to edge: the same hand of both belongs together.
    """

    a: tuple[str, str]
    b: tuple[str, str]
    along: bool = True
    across: bool = False
    onto: bool = False


@dataclass(frozen=True)
class Centre:
    """A mark, (piece, mark), that should lie at a place of the print: mm from where the repeat begins, along, across or both."""

    mark: tuple[str, str]
    along_mm: float | None = None
    across_mm: float | None = None


@dataclass(frozen=True)
class Locked:
    """A placement the user holds: the piece's corner (least x, least y on the lane) and how it lies."""

    piece: str
    lane: int
    x: float
    y: float
    turned: float = 0.0
    face_down: bool = False


@dataclass(frozen=True)
class LayRequest:
    """Everything a lay depends on. The same request gives the same lay.

    `table`: it is a cell of a table, of which the shortest length is wanted: spreads that cannot be it are not worked out.
    """

    cloth: LayCloth
    pieces: tuple[LayPiece, ...]
    spread: AskedSpread = "best"
    matches: tuple[Match, ...] = ()
    gap_mm: float = 0.0
    effort: Effort = "good"
    seed: int = 1
    locked: tuple[Locked, ...] = ()
    centres: tuple[Centre, ...] = ()
    table: bool = False

    def __post_init__(self) -> None:
        """Refuse more than any garment asks for."""
        if sum(piece.cut for piece in self.pieces) > MOST_PIECES:
            raise LayError(f"At most {MOST_PIECES} pieces in one lay. Part it.", "pieces")
        if sum(len(piece.outline) + len(piece.marks) for piece in self.pieces) > MOST_POINTS:
            raise LayError(
                f"At most {MOST_POINTS} points and marks in one lay. Trace the outlines more coarsely.", "pieces"
            )
        for name in ("matches", "locked", "centres"):
            if len(getattr(self, name)) > MOST_MATCHES:
                raise LayError(f"At most {MOST_MATCHES} of these in one lay.", name)
        if not (0 <= self.gap_mm <= MOST_GAP_MM and math.isfinite(self.gap_mm)):
            raise LayError("The room between pieces is at most 10 cm.", "gap")
        if abs(self.seed) >= 2**63:
            raise LayError("A seed is a whole number of at most eighteen figures.", "seed")


@dataclass(frozen=True)
class Lane:
    """A strip of the laid-out cloth: where it lies across and along, its layers, its two long edges."""

    from_mm: float
    to_mm: float
    start_mm: float
    end_mm: float
    layers: int
    edges: tuple[Edge, Edge]


@dataclass(frozen=True)
class Placement:
    """One piece laid: outline in lane coordinates, the same points in the same order as asked for."""

    piece: str
    lane: int
    outline: Outline
    turned: float
    face_down: bool
    layers: int
    on_fold: bool
    marks: dict[str, Point] = field(default_factory=dict)


@dataclass(frozen=True)
class SpreadTrial:
    """One spread that was tried: the length it takes, the cuts it asks for, the pieces it cannot take, halves opened out."""

    spread: Spread
    length_mm: float
    cuts: int
    failed: int = 0
    opened: int = 0


@dataclass(frozen=True)
class Lay:
    """A lay: the length it takes, its bounds, where every piece lies and what to know about it.

    `short_mm` is how much the cloth in hand lacks, 0 when it is enough; `failed` names the pieces that have no place. `ways`:
    where every spread was tried, all of them, the shortest first. `unmatched`: the numbers of the matches, and after them the
    centrings, that could not be kept.
    """

    length_mm: float
    width_mm: float
    bound_mm: float
    fold_bound_mm: float
    spread: Spread
    seconds: float
    lanes: tuple[Lane, ...]
    placements: tuple[Placement, ...]
    findings: tuple[Finding, ...] = ()
    short_mm: float = 0.0
    failed: tuple[str, ...] = ()
    ways: tuple[SpreadTrial, ...] = ()
    unmatched: tuple[int, ...] = ()

    @property
    def utilisation(self) -> float:
        """Share of the laid length that is cut into pieces, 0 to 1."""
        return self.bound_mm / self.length_mm if self.length_mm else 0.0
