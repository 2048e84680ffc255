"""Which edges of a pattern's pieces are likely sewn together, by their names and lengths; the sewist confirms."""

from collections.abc import Iterator
from itertools import combinations

from rowanseed.core.pattern.model import Pattern, Piece, Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

ALIKE = ("side", "side hip", "shoulder", "inseam")  # edges that join the edge of the same name on the neighbour
NEAR = 0.06  # a share by which edges that are sewn together may differ at most, beside what is eased
CAP_EASE_MM = 25.0  # a set-in sleeve's cap against its armhole; common practice, no source


def suggest_seams(pattern: Pattern, size: str) -> list[Seam]:
    """Seams that the edges of a size suggest and that are not declared yet.

    Front and back at sides, shoulders and inseams; a sleeve's two seams, its cap to the armholes, with the ease it has.
    """
    declared = {frozenset(seam.edges) for seam in pattern.seams}
    shell = [p for p in pattern.pieces if p.role == "self" and size in p.shapes and not p.same_as]
    found = [*_neighbours(shell, size), *_sleeves(shell, size)]
    return [seam for seam in found if frozenset(seam.edges) not in declared]


def _mm(piece: Piece, size: str, edge: str) -> float:
    return Walker().edge_mm(AlterPiece(piece.number, piece.shapes[size]), edge)


def _neighbours(shell: list[Piece], size: str) -> Iterator[Seam]:
    for a, b in combinations(shell, 2):
        for edge in ALIKE:
            if edge not in a.shapes[size].edges or edge not in b.shapes[size].edges:
                continue
            mine, theirs = _mm(a, size, edge), _mm(b, size, edge)
            if abs(mine - theirs) <= NEAR * max(mine, theirs):
                ease = round(mine - theirs, 1) if edge == "shoulder" and abs(mine - theirs) > 2 else 0.0
                yield Seam((a.number, edge), (b.number, edge), ease, why="shoulder eased" if ease else "")


def _sleeves(shell: list[Piece], size: str) -> Iterator[Seam]:
    for sleeve in shell:
        edges = sleeve.shapes[size].edges
        if "front seam" in edges and "back seam" in edges:
            yield Seam((sleeve.number, "front seam"), (sleeve.number, "back seam"))
        for half in ("front", "back"):
            cap = f"cap {half}"
            bodies = [p for p in shell if "armhole" in p.shapes[size].edges and half in p.name.lower()]
            if cap not in edges or not bodies:
                continue
            ease = round(_mm(sleeve, size, cap) - sum(_mm(p, size, "armhole") for p in bodies), 1)
            if abs(ease) <= 2 * CAP_EASE_MM:
                first, *more = [(p.number, "armhole") for p in bodies]
                yield Seam((sleeve.number, cap), first, max(0.0, ease), (), tuple(more), "cap ease")
