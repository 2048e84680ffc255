"""Pieces with their edges in order, seams as stacks of pages, and the fate of every edge that is in no seam."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.anatomy import SMALL

Ending = Literal[
    "joined", "hem", "bind", "face", "band", "casing", "rib", "fold", "enclosed", "selvage", "raw", "open",
]  # fmt: skip
ENDINGS: tuple[Ending, ...] = get_args(Ending)
Shaping = Literal["gather", "cartridge", "pleat", "dart", "tuck", "ease", "shirr"]
SHAPINGS: tuple[Shaping, ...] = get_args(Shaping)
HEM_WAYS = ("single", "double", "narrow", "blind", "hand", "rolled", "faced", "twin-needle")
ENCLOSING = SMALL | {"facing", "yoke", "belt", "strap", "tie", "tab"}  # units that are made first and then sewn on


@dataclass(frozen=True)
class SewnPiece:
    """A piece: its unit and layer, how often it is cut, its edges in order round it."""

    id: str
    unit: str
    layer: str
    cut: int
    edges: tuple[str, ...]

    @property
    def small(self) -> bool:
        """Whether it is made by itself and then sewn on, as bands, collars, facings are."""
        return self.unit in ENCLOSING

    def beside(self, edge: str) -> tuple[str, ...]:
        """The edges that meet an edge at its ends, as `piece.edge`."""
        if len(self.edges) < 2:
            return ()
        at = self.edges.index(edge)
        near = (self.edges[at - 1], self.edges[(at + 1) % len(self.edges)])
        return tuple(f"{self.id}.{name}" for name in dict.fromkeys(near))


@dataclass(frozen=True)
class StackedSeam:
    """Edges sewn along one line, each `piece.edge` with its right side up or down."""

    pages: tuple[tuple[str, bool], ...]

    @property
    def edges(self) -> tuple[str, ...]:
        """Every edge of the stack, once."""
        return tuple(dict.fromkeys(edge for edge, _ in self.pages))


@dataclass(frozen=True)
class EdgeFate:
    """What becomes of an edge: its ending with its way and depths in mm, and how it is shaped before."""

    ending: Ending
    way: str = ""
    first_mm: float | None = None
    second_mm: float | None = None
    width_mm: float | None = None
    shaping: tuple[Shaping, ...] = ()


@dataclass(frozen=True)
class PiecedGarment:
    """A garment by its pieces, seams and fates; every edge is in a seam or has a fate, `open` where nobody said one."""

    pieces: tuple[SewnPiece, ...]
    seams: tuple[StackedSeam, ...]
    fates: Mapping[str, EdgeFate]

    def piece_of(self, edge: str) -> SewnPiece:
        """The piece that an edge belongs to."""
        name = edge.rpartition(".")[0]
        return next(p for p in self.pieces if p.id == name)

    def seam_of(self, edge: str) -> StackedSeam | None:
        """The first seam that an edge is in."""
        return next((s for s in self.seams if edge in s.edges), None)

    def beside(self, edge: str) -> tuple[str, ...]:
        """The edges that meet an edge at its ends."""
        return self.piece_of(edge).beside(edge.rpartition(".")[2])

    @property
    def open(self) -> list[str]:
        """Edges of which nothing is said."""
        return [edge for edge, fate in self.fates.items() if fate.ending == "open"]


def pieced(pieces: Sequence[SewnPiece], seams: Sequence[StackedSeam], fates: Mapping[str, EdgeFate]) -> PiecedGarment:
    """Put a garment together out of what was said of it.

    Raises:
        FeatureError: two pieces have one name, a seam or a fate names an edge that is not there, or an edge is both sewn to
            another and ended by itself.
    """
    names = [p.id for p in pieces]
    twice = next((n for n in names if names.count(n) > 1), None)
    if twice is not None:
        raise FeatureError(f"Two pieces are called “{twice}”.", "pieces")
    known = [f"{p.id}.{edge}" for p in pieces for edge in p.edges]
    for edge in (*(e for s in seams for e in s.edges), *fates):
        if edge not in known:
            raise FeatureError(
                f"There is no edge “{edge}”. Known: {', '.join(known[:12])}.", "fates" if edge in fates else "seams"
            )
    sewn = {edge for s in seams for edge in s.edges}
    whole: dict[str, EdgeFate] = {}
    for edge in known:
        said = fates.get(edge)
        if edge in sewn and said is not None and said.ending not in ("joined", "open"):
            raise FeatureError(f"The edge “{edge}” lies in a seam, so it cannot be a {said.ending} too.", "fates")
        if said is not None and said.ending == "joined" and edge not in sewn:
            raise FeatureError(f"The edge “{edge}” is called joined, and no seam names it.", "fates")
        default = EdgeFate("joined") if edge in sewn else EdgeFate("open")
        shaping = said.shaping if said is not None else ()
        whole[edge] = EdgeFate("joined", shaping=shaping) if edge in sewn else said or default
    return PiecedGarment(tuple(pieces), tuple(seams), whole)
