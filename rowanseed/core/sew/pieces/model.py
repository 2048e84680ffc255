"""Pieces with their edges in order, seams as stacks of pages, and the fate of every edge that is in no seam."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.errors import FeatureError
from rowanseed.core.pattern.fates import EdgeFate
from rowanseed.core.sew.anatomy import SMALL

BACKINGS = frozenset({"interfacing", "underlining"})  # layers that only back a piece and are caught in its seams
SIDED = re.compile(r"[-_ ](?:left|right|l|r)$", re.I)
ENCLOSING = SMALL | {
    "facing",
    "yoke",
    "belt",
    "strap",
    "tie",
    "tab",
    "band",
    "flap",
    "placket",
}  # made first and then sewn on
CENTRED = frozenset({"yoke", "collar", "stand", "waistband"})  # lie across the middle: cut twice they are two layers
SANDWICHING = frozenset(
    {"yoke", "stand", "waistband", "cuff", "band", "strap", "belt"}
)  # two layers take an edge between them


@dataclass(frozen=True)
class SewnPiece:
    """A piece: its unit and layer, how often it is cut, its edges in order round it."""

    id: str
    unit: str
    layer: str
    cut: int
    edges: tuple[str, ...]
    on_fold: bool = False
    lengths: Mapping[str, float] | None = None  # cm, where the piece is drawn

    @property
    def sides(self) -> int:
        """2 where it is worn left and right."""
        return 2 if self.cut > 1 or self.on_fold else 1

    @property
    def small(self) -> bool:
        """Whether it is made by itself and then sewn on, as bands, collars, facings are."""
        return self.unit in ENCLOSING

    def beside(self, edge: str) -> tuple[str, ...]:
        """The edges that meet an edge at its ends, as `piece.edge`."""
        if len(self.edges) < 2:
            return ()
        at, last = self.edges.index(edge), len(self.edges) - 1
        near = [self.edges[at - 1], self.edges[(at + 1) % len(self.edges)]]
        if self.on_fold and at in (0, last):  # the list begins and ends at the fold
            del near[0 if at == 0 else 1]
        return tuple(f"{self.id}.{name}" for name in dict.fromkeys(near))


@dataclass(frozen=True)
class StackedSeam:
    """A stack of pages along one line: each one edge `piece.edge`, or several in a row, with the right side up or down."""

    pages: tuple[tuple[tuple[str, ...], bool], ...]

    @property
    def edges(self) -> tuple[str, ...]:
        """Every edge of the stack, once."""
        return tuple(dict.fromkeys(edge for chain, _ in self.pages for edge in chain))


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

    @property
    def measured(self) -> bool:
        """Whether every piece is drawn, so that its edges' lengths are known."""
        return all(p.lengths is not None for p in self.pieces)

    def backing_of(self, piece: SewnPiece) -> list[str]:
        """The pieces that an interfacing or underlining backs: of its unit, the one of its name first."""
        if piece.layer not in BACKINGS:
            return []
        alike = [p.id for p in self.pieces if p.unit == piece.unit and p.layer not in BACKINGS]
        named = [p for p in alike if p in piece.id or piece.id in p]
        return named[:1] or alike[:1]

    def seam_of(self, edge: str) -> StackedSeam | None:
        """The first seam that an edge is in."""
        return next((s for s in self.seams if edge in s.edges), None)

    def beside(self, edge: str) -> tuple[str, ...]:
        """The edges that meet an edge at its ends."""
        return self.piece_of(edge).beside(edge.rpartition(".")[2])

    @property
    def half_said(self) -> list[tuple[str, str]]:
        """Edges of which something is said for one side only, with the other."""
        other = {"left": "right", "right": "left"}
        return [(edge, other[fate.side]) for edge, fate in self.fates.items() if fate.side]

    @property
    def open(self) -> list[str]:
        """Edges of which nothing is said."""
        ask = {f"{p.id}.{e}" for p in self.pieces if p.layer not in BACKINGS for e in p.edges}
        return [
            edge
            for edge, fate in self.fates.items()
            if fate.ending == "open" and edge in ask and not zips(edge) and not is_fold(self, edge)
        ]


def pieced(pieces: Sequence[SewnPiece], seams: Sequence[StackedSeam], fates: Mapping[str, EdgeFate]) -> PiecedGarment:
    """Put a garment together out of what was said of it.

    Raises:
        FeatureError: two pieces have one name, a seam or a fate names an edge that is not there, or an edge is both sewn to
            another and ended by itself.
    """
    seams = [_taken_between(_in_rows(seam, pieces), pieces, seams) for seam in seams]
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
        if said is not None and said.side and next(p for p in pieces if edge.startswith(f"{p.id}.")).sides == 1:
            raise FeatureError(
                f"“{edge}” is of a piece that is cut once and not on the fold, so it has no {said.side} side.", "fates"
            )
        whole[edge] = EdgeFate("joined", shaping=shaping) if edge in sewn else said or default
    return PiecedGarment(tuple(pieces), tuple(seams), whole)


def _in_rows(seam: StackedSeam, pieces: Sequence[SewnPiece]) -> StackedSeam:
    """A stack with neighbours of one unit that lie the same way put in a row: front and back neck are one page, not two."""
    owner = {f"{p.id}.{e}": (p.unit, p.layer, p.id) for p in pieces for e in p.edges}
    rows: list[tuple[tuple[str, ...], bool]] = []
    for chain, up in seam.pages:
        last, first = (owner.get(rows[-1][0][-1]), owner.get(chain[0])) if rows else (None, None)
        if last and first and rows[-1][1] == up and last[:2] == first[:2] and chain[0] not in rows[-1][0]:
            rows[-1] = ((*rows[-1][0], *chain), up)
        else:
            rows.append((chain, up))
    return StackedSeam(tuple(rows))


def is_fold(g: PiecedGarment, edge: str) -> bool:
    """Whether an edge is only the line on which a piece is cut on the fold."""
    piece, name = g.piece_of(edge), base_of(edge.rpartition(".")[2])
    if not piece.on_fold or g.seam_of(edge) is not None:
        return False
    return name == "fold" or (
        name in ("centre", "centre-front", "centre-back", "middle") and g.fates[edge].ending in ("fold", "open")
    )


def layered(piece: SewnPiece, seams: Sequence[StackedSeam]) -> bool:
    """Whether two copies of a piece are its two layers, not left and right: what lies across the middle, what is sewn to itself."""
    if piece.cut < 2 or not piece.small:
        return False
    itself = [
        base_of(chain[0].rpartition(".")[2])
        for seam in seams for k, (chain, _) in enumerate(seam.pages)
        if chain[0].rpartition(".")[0] == piece.id and any(chain == other for other, _ in seam.pages[:k])
    ]  # fmt: skip
    if piece.unit in CENTRED:
        return not any(name.startswith("centre") for name in itself)
    return piece.cut >= 4 or bool(itself)


def _taken_between(seam: StackedSeam, pieces: Sequence[SewnPiece], seams: Sequence[StackedSeam]) -> StackedSeam:
    """A seam of a part in two layers with an edge that lies between them, where only the part and the edge were told."""
    if len(seam.pages) != 2:
        return seam
    by = {p.id: p for p in pieces}
    owners = [by.get(chain[0].rpartition(".")[0]) for chain, _ in seam.pages]
    if owners[0] is owners[1]:
        return seam
    for at, part in enumerate(owners):
        alone = {e.rpartition(".")[0] for e in seam.pages[at][0]} == {
            part.id if part else ""
        }  # not one of several in a row
        if part is not None and alone and part.unit in SANDWICHING and layered(part, seams):
            chain, other = seam.pages[at][0], seam.pages[1 - at][0]
            # Both layers' right sides face what lies between, and its right side the outer one, whichever was named first.
            return StackedSeam(((chain, True), (other, False), (chain, False)))
    return seam


def side_of(name: str) -> str:
    """The side of the body that an edge's name ends with: l, r, or none."""
    said = SIDED.search(name)
    return said.group()[1].lower() if said else ""


def base_of(name: str) -> str:
    """An edge's name without its side: `side-r` and `side-l` are worked alike."""
    return "side" if name.lower() in ("left", "right") else SIDED.sub("", name) or name


def is_zip(seam: StackedSeam) -> bool:
    """Whether a seam is a zip's: its tapes are sewn to each edge, and it stays an opening."""
    return all(zips(edge) for edge in seam.edges)


def zips(edge: str) -> bool:
    """Whether an edge is one that a zip is sewn to, by its name."""
    return base_of(edge.rpartition(".")[2]) == "zip"


def is_foot(edge: str) -> tuple[bool, bool]:
    """Hems at the foot come after the edges that run into them."""
    name = edge.rpartition(".")[2]
    return name in ("hem", "bottom", "foot", "lower", "wrist"), name == "hem"
