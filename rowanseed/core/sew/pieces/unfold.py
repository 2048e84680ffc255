"""The garment as it lies on the table: every sheet that is cut, left and right, unfolded, each seam edge on edge.

A piece that is cut twice gives a left and a right one, mirrored; one on the fold is opened out; a small part that is sewn to itself
has two layers, and so has one that stands twice in a stack. Left is joined to left. A seam of an edge with itself joins its
two copies. Which way round each piece was told is worked out from what its edges meet: with one lining front not mirrored, edges
would cross.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.sew.cloth.sheets import Page, Sheets
from rowanseed.core.sew.pieces.chains import matched, run_on
from rowanseed.core.sew.pieces.model import (
    BACKINGS,
    PiecedGarment,
    SewnPiece,
    StackedSeam,
    base_of,
    is_fold,
    is_zip,
    layered,
    side_of,
)
from rowanseed.core.sew.pieces.turned import way_round

SIDES = ("l", "r")
# Usual lengths in cm, by the name of an edge; only for openings when pieces are not measured. From memory.
USUAL = {
    "neck": 20.0, "shoulder": 12.0, "armhole": 24.0, "side": 40.0, "hem": 50.0, "centre-front": 60.0, "centre-back": 60.0,
    "waist": 38.0, "zip": 20.0, "cap": 24.0, "underarm": 45.0, "wrist": 24.0, "slit": 12.0, "gap": 18.0, "inseam": 75.0,
    "crotch": 25.0, "end": 4.0,
}  # fmt: skip


LEFT_OPEN = frozenset({"raw", "selvage", "open", "enclosed", "fold"})


@dataclass(frozen=True)
class Unfolded:
    """The sheets and lines of a garment, and which of them its pieces, edges and seams (by their place) are."""

    sheets: Sheets
    of_piece: Mapping[str, tuple[str, ...]]
    of_edge: Mapping[str, tuple[str, ...]]
    of_seam: Mapping[int, tuple[str, ...]]


@dataclass(frozen=True)
class Copy:
    """One edge of one cut sheet: which of the piece's layers it is of, and which side of the body."""

    edge: str
    layer: int
    side: str


def unfold(g: PiecedGarment) -> Unfolded:
    """Return what the cloth of a garment is."""
    told = way_round(g)
    copies: dict[str, list[Copy]] = {}
    order: dict[str, list[str]] = {}
    of_piece: dict[str, tuple[str, ...]] = {}
    for piece in sorted(g.pieces, key=lambda p: (p.layer == "lining", p.layer != "shell", p.small)):
        if piece.layer in BACKINGS:
            continue
        cut = list(_cut(g, piece, told[piece.id]))
        of_piece[piece.id] = tuple(sheet for sheet, _ in cut)
        for sheet, rim in cut:
            order[sheet] = [f"{sheet}.{name}" for _, name, _, _ in rim]
            for nominal, name, layer, side in rim:
                copies.setdefault(nominal, []).append(Copy(f"{sheet}.{name}", layer, side))
    lines, of_seam = _lines(g, copies, order)
    long = {copy.edge: _length(g, nominal) for nominal, some in copies.items() for copy in some}
    parted, whole = matched(lines, order, long)
    _caught_with(whole, parted, copies, frozenset(e for pages in lines.values() for chain, _ in pages for e in chain))
    edges = {
        sheet: {each.rpartition(".")[2]: wide for name in names for each, wide in parted[name]}
        for sheet, names in order.items()
    }
    of_edge = {e: tuple(part for copy in some for part, _ in parted[copy.edge]) for e, some in copies.items()}
    free = frozenset(
        part for e, fate in g.fates.items() if e in of_edge
        for part in of_edge[e] if fate.ending in LEFT_OPEN or not of_side(part, fate.side)
    )  # fmt: skip
    of_edge = {e: tuple(part for part in parts if of_side(part, g.fates[e].side)) for e, parts in of_edge.items()}
    sheets = Sheets(edges, whole, _backed(g, of_piece), free, g.measured)
    parts = {
        n: tuple(k for line in some for k in whole if k == line or k.startswith(f"{line}:"))
        for n, some in of_seam.items()
    }
    return Unfolded(sheets, of_piece, of_edge, parts)


def of_side(part: str, side: str) -> bool:
    """Whether an edge of a sheet lies on a side of the body, left or right."""
    return not side or f"@{side[0]}" in part


def _cut(g: PiecedGarment, piece: SewnPiece, told: bool) -> Iterator[tuple[str, list[tuple[str, str, int, str]]]]:
    """Each sheet of a piece: its name and its edges in order as (nominal, own name, layer, side)."""
    layers = 2 if layered(piece, g.seams) else 1
    sides = SIDES if piece.cut // layers >= 2 else ("",)
    for side in sides:
        for layer in range(layers):
            name = piece.id + (f"@{side}" if side else "") + ("'" if layer else "")
            edges = _round(g, piece, layer, side)
            mirrored = told ^ (side == "r") ^ bool(layer)
            yield name, edges[::-1] if mirrored else edges


def _round(g: PiecedGarment, piece: SewnPiece, layer: int, side: str) -> list[tuple[str, str, int, str]]:
    if not piece.on_fold:
        return [(f"{piece.id}.{e}", e, layer, side or side_of(e)) for e in piece.edges]
    half = half_of(g, piece)
    left = [(f"{piece.id}.{e}", f"{e}@l", layer, "l") for e in half]
    return left + [(f"{piece.id}.{e}", f"{e}@r", layer, "r") for e in reversed(half)]


def half_of(g: PiecedGarment, piece: SewnPiece) -> list[str]:
    """The edges of a piece on the fold without the fold, from it to it: the fold is named so, or lies where the list begins."""
    edges = list(piece.edges)
    fold = next((e for e in edges if is_fold(g, f"{piece.id}.{e}")), None)
    if fold is None:
        return edges
    at = edges.index(fold)
    return edges[at + 1 :] + edges[:at]


def _lines(
    g: PiecedGarment, copies: Mapping[str, Sequence[Copy]], order: Mapping[str, Sequence[str]]
) -> tuple[dict[str, tuple[tuple[list[str], bool], ...]], dict[int, tuple[str, ...]]]:
    """Each line's pages as chains of edges, and the lines of each seam; seams that share an edge are rows of one line."""
    lines: dict[str, tuple[tuple[list[str], bool], ...]] = {}
    of_seam: dict[int, tuple[str, ...]] = {}
    for numbers, seam in _stacks(g):
        if is_zip(seam):
            continue
        made = dict(_sided(seam, numbers[0], copies, order))
        lines |= made
        for n in numbers:
            of_seam[n] = tuple(made)
    return lines, of_seam


def _stacks(g: PiecedGarment) -> list[tuple[list[int], StackedSeam]]:
    """Seams with those that share an edge put together: the first as it is, the others' further edges on top of it."""
    found: list[tuple[list[int], StackedSeam]] = []
    for n, seam in enumerate(g.seams):
        at = next((k for k, (_, other) in enumerate(found) if set(seam.edges) & set(other.edges)), None)
        if at is None:
            found.append(([n], seam))
            continue
        numbers, other = found[at]
        more = tuple((chain, False) for chain, _ in seam.pages if not set(chain) & set(other.edges))
        found[at] = ([*numbers, n], StackedSeam((*other.pages, *more)))
    return found


def _sided(
    seam: StackedSeam, n: int, copies: Mapping[str, Sequence[Copy]], order: Mapping[str, Sequence[str]]
) -> Iterator[tuple[str, tuple[tuple[list[str], bool], ...]]]:
    """A seam's lines: one for each side where all its edges have sides, else one through."""
    chains = [chain for chain, _ in seam.pages]
    sided = all(copy.side for chain in chains for e in chain for copy in copies[e])
    itself = len(seam.pages) == 2 and chains[0] == chains[1]
    if itself and sided and all(copy.layer == 0 for e in chains[0] for copy in copies[e]):
        left, right = ([copy.edge for e in chains[0] for copy in copies[e] if copy.side == s] for s in SIDES)
        yield f"{n}", ((left, seam.pages[0][1]), (right, seam.pages[1][1]))
        return
    halves = list(_halves(seam, n, chains, copies, order)) if sided else []
    yield from halves or _halves(seam, n, chains, copies, order, ("",))


def _halves(
    seam: StackedSeam, n: int, chains: Sequence[tuple[str, ...]], copies: Mapping[str, Sequence[Copy]],
    order: Mapping[str, Sequence[str]], sides: Sequence[str] = SIDES,
) -> Iterator[tuple[str, tuple[tuple[list[str], bool], ...]]]:  # fmt: skip
    for side in sides:
        pages: list[tuple[list[str], bool]] = []
        met: set[str] = set()
        for at, (chain, up) in enumerate(seam.pages):
            layers = sorted(set.intersection(*({copy.layer for copy in copies[e]} for e in chain)))
            again = bool(set(chain) & met)
            twice = sum(set(chain) == set(other) for other in chains) > 1
            if twice:
                layers = layers[-1:] if again else layers[:1]
            met |= set(chain)
            some = [(_through(chain, layer, side, copies, order), up != bool(layer and not twice)) for layer in layers]
            pages += some if at else some[::-1]
        if all(edges for edges, _ in pages):
            yield f"{n}{side}", tuple(pages)


def _through(
    chain: Sequence[str],
    layer: int,
    side: str,
    copies: Mapping[str, Sequence[Copy]],
    order: Mapping[str, Sequence[str]],
) -> list[str]:
    """A chain's edges on one side, or on both from one end to the other."""

    def of(which: str) -> list[str]:
        return [
            c.edge
            for e in chain
            for c in copies[e]
            if c.layer == min(layer, copies[e][-1].layer) and c.side in (which, "")
        ]

    if side:
        return of(side)
    left, right = of("l"), of("r")
    if left == right or not left or not right:
        return left or right
    if run_on(left[0], right[0], order):
        return left[::-1] + right
    return left + right[::-1]


def _caught_with(
    whole: dict[str, tuple[Page, ...]], parted: dict[str, list[tuple[str, float]]], copies: Mapping[str, Sequence[Copy]],
    said: frozenset[str],
) -> None:  # fmt: skip
    """An inner layer that lies under its outer one, in a row where other pieces have one layer, is caught in the same row."""
    twins = {
        outer.edge: inner.edge for some in copies.values() for outer in some for inner in some
        if outer.layer == 0 and inner.layer == 1 and outer.side == inner.side and inner.edge not in said and outer.edge in said
    }  # fmt: skip
    parts = {part: twin + part[len(outer) :] for outer, twin in twins.items() for part, _ in parted[outer]}
    for outer, twin in twins.items():
        parted[twin] = [(parts[part], wide) for part, wide in reversed(parted[outer])]
    for line, pages in whole.items():
        row: list[Page] = []
        for page in pages:
            under = [Page(parts[page.edge], not page.up)] if page.edge in parts else []
            row += [*under, page] if page is pages[0] else [page, *under]
        whole[line] = tuple(row)


def _length(g: PiecedGarment, nominal: str) -> float:
    _, _, name = nominal.rpartition(".")
    drawn = g.piece_of(nominal).lengths
    if drawn is not None and name in drawn:
        return drawn[name]
    words = base_of(name)
    return USUAL.get(words) or next((n for key, n in USUAL.items() if key in words), 30.0)


def _backed(g: PiecedGarment, of_piece: Mapping[str, Sequence[str]]) -> frozenset[str]:
    return frozenset(sheet for piece in g.pieces for back in g.backing_of(piece) for sheet in of_piece[back])
