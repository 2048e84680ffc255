"""Which way round each piece's edges were told: counter-clockwise on its right side, or the other way."""

from collections.abc import Iterator

from rowanseed.core.sew.pieces.model import PiecedGarment, base_of


def way_round(g: PiecedGarment) -> dict[str, bool]:
    """Return for each piece whether its list is turned round, so that the ends of edges that are sewn together meet.

    A seam lays two right sides together, so one edge is walked forward and the other back. What stands beside them says which: the
    same name, the same fate, a seam with one another. The surest seams decide first.
    """
    said = sorted(_seams_say(g), key=lambda each: -abs(each[2]))
    group = {p.id: {p.id: False} for p in g.pieces}
    for one, other, surer in said:
        if surer == 0 or one == other or group[one] is group[other]:
            continue
        flip = (surer < 0) ^ group[one][one] ^ group[other][other]
        both = group[one] | {piece: way ^ flip for piece, way in group[other].items()}
        for piece in both:
            group[piece] = both
    return {p.id: group[p.id][p.id] for p in g.pieces}


def _seams_say(g: PiecedGarment) -> Iterator[tuple[str, str, int]]:
    """Two pieces, and how much more their edges agree if both lists run the same way round than if not."""
    for seam in g.seams:
        for (low, up), (high, also) in zip(seam.pages, seam.pages[1:], strict=False):
            for one, other in zip(low, high, strict=False):
                same = _alike(g, one, 1, other, 1) + _alike(g, one, -1, other, -1)
                across = _alike(g, one, 1, other, -1) + _alike(g, one, -1, other, 1)
                more = across - same if up != also else same - across
                yield g.piece_of(one).id, g.piece_of(other).id, more


def _alike(g: PiecedGarment, one: str, step: int, other: str, other_step: int) -> int:
    a, b = _beside(g, one, step), _beside(g, other, other_step)
    if a is None or b is None:
        return 3 if a is b else 0
    seam = g.seam_of(a)
    sewn = seam is not None and b in seam.edges
    named = base_of(a.rpartition(".")[2]) == base_of(b.rpartition(".")[2])
    ended = g.fates[a].ending == g.fates[b].ending != "joined"
    return 3 * named + 2 * sewn + ended


def _beside(g: PiecedGarment, edge: str, step: int) -> str | None:
    """The edge that stands beside another in its piece's list; none at the fold."""
    piece, name = g.piece_of(edge), edge.rpartition(".")[2]
    at = piece.edges.index(name) + step
    if piece.on_fold and not 0 <= at < len(piece.edges):
        return None
    near = piece.edges[at % len(piece.edges)]
    return None if base_of(near) == "fold" else f"{piece.id}.{near}"
