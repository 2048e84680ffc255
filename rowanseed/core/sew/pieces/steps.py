"""The steps that pieces and fates ask for, each a verb on edges and seams, with what must be done before it and why.

What is done to an edge follows from its fate; what comes first follows from the cloth: a shaping before the edge is used, a seam
before its end is crossed or covered, a band made before it is sewn on. Common practice, no source.
"""

from rowanseed.core.sew.model import Need, Operation
from rowanseed.core.sew.pieces.edge_steps import end_edges, shape_edges
from rowanseed.core.sew.pieces.making import Made, StepsAsked, add, base_of, is_foot, rank_of, words_of
from rowanseed.core.sew.pieces.model import EdgeFate, PiecedGarment, Shaping, StackedSeam
from rowanseed.core.sew.pieces.seam_steps import sew_seams

Item = tuple[Operation, tuple[Need, ...]]


def steps_of(asked: StepsAsked) -> list[Item]:
    """Return every step of a garment told by its pieces, each with its needs, in a natural order."""
    made, g = Made(), asked.garment
    every = tuple(p.id for p in g.pieces)
    add(
        made,
        "mark-pieces",
        "mark",
        "Mark every piece: notches, folds, right side",
        every,
        "table",
        "prepare",
        g.pieces[0],
    )
    for edges, shaping in _shapings(g):
        shape_edges(made, g, edges, shaping)
    for seams in sorted(_alike(g), key=lambda some: rank_of(g, some[0])):
        sew_seams(made, asked, seams)
    for edges, fate in sorted(_endings(g), key=lambda item: is_foot(item[0][0])):
        end_edges(made, asked, edges, fate)
    _order(made, g)
    last = add(made, "final-press", "press", "Last pressing", (), "iron", "finish", g.pieces[0])
    made.items[last][1].extend(
        Need(id_, "The garment is whole.", "complete") for id_ in list(made.items) if id_ != last
    )
    return [(op, tuple({need.id: need for need in needs}.values())) for op, needs in made.items.values()]


def _shapings(g: PiecedGarment) -> list[tuple[tuple[str, ...], Shaping]]:
    """Edges that are shaped alike, together."""
    found: dict[tuple[object, ...], list[str]] = {}
    for edge, fate in g.fates.items():
        piece, name = g.piece_of(edge), edge.rpartition(".")[2]
        for shaping in fate.shaping:
            found.setdefault((piece.unit, piece.layer, base_of(name), shaping), []).append(edge)
    return [(tuple(edges), key[3]) for key, edges in found.items()]  # type: ignore[misc]


def _alike(g: PiecedGarment) -> list[list[StackedSeam]]:
    """Seams that are worked alike, left and right, together."""
    found: dict[tuple[object, ...], list[StackedSeam]] = {}
    for seam in g.seams:
        owners = [(g.piece_of(e).unit, g.piece_of(e).layer, base_of(e.rpartition(".")[2])) for e in seam.edges]
        found.setdefault(tuple(sorted(set(owners))), []).append(seam)
    return list(found.values())


def _endings(g: PiecedGarment) -> list[tuple[tuple[str, ...], EdgeFate]]:
    """Edges that are ended alike and run on into one another, together: a hem round front and back."""
    found: dict[tuple[object, ...], list[str]] = {}
    for edge, fate in g.fates.items():
        piece, name = g.piece_of(edge), edge.rpartition(".")[2]
        if fate.ending not in ("joined", "open"):
            found.setdefault((piece.unit, piece.layer, base_of(name), fate), []).append(edge)
    return [(tuple(edges), key[3]) for key, edges in found.items()]  # type: ignore[misc]


def _order(made: Made, g: PiecedGarment) -> None:
    """Add what must be done before an edge is used: what meets it at its ends is whole, what goes on is made."""
    for edge, user in made.used.items():
        op, needs = made.items[user]
        for beside in g.beside(edge):
            first = made.used.get(beside)
            if first is None or first == user or not _comes_first(g, beside, edge):
                continue
            law = "ends" if g.fates[edge].ending == "joined" else "hem"
            words = words_of(g, (beside,))
            why = f"{words[0].upper()}{words[1:]} is done before {op.title[0].lower()}{op.title[1:]} crosses its end."
            needs += [Need(id_, why, law) for id_ in made.whole[beside]]
        if op.phase == "attach":
            made_by = made.pieces.get(g.piece_of(edge).id, ())
            needs += [Need(id_, "It is made before it is sewn on.", "parts") for id_ in made_by if id_ != user]


def _comes_first(g: PiecedGarment, one: str, other: str) -> bool:
    """Whether what is done to one edge comes before what is done to the edge that meets it."""

    def rank(edge: str) -> tuple[int, ...]:
        seam = g.seam_of(edge)
        if seam is not None:
            between, small = rank_of(g, seam)
            return (3 if small and between else 2 if between else 0, 0)
        foot, _ = is_foot(edge)
        return (4 if foot else 1, 0)

    a, b = rank(one), rank(other)
    if a != b:
        return a < b
    order = list(g.fates)
    return order.index(one) < order.index(other)
