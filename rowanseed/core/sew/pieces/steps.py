"""The steps that pieces and fates ask for, each a verb on edges and seams, with what must be done before it and why.

What is done to an edge follows from its fate; what comes first follows from the cloth: a shaping before the edge is used, a seam
before its end is crossed or covered, a band made before it is sewn on. Common practice, no source.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

from rowanseed.core.pattern.fates import EdgeFate, Shaping
from rowanseed.core.sew.cloth.acts import Act, Way
from rowanseed.core.sew.cloth.rooms import Rooms
from rowanseed.core.sew.model import Need, Operation, Place
from rowanseed.core.sew.pieces.additions import add_backing, add_more, add_stays
from rowanseed.core.sew.pieces.doings import act_of
from rowanseed.core.sew.pieces.edge_steps import END, end_edges, shape_edges
from rowanseed.core.sew.pieces.fastenings import fasten
from rowanseed.core.sew.pieces.making import Made, StepsAsked, add, said_of, slug_of, words_of
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, StackedSeam, base_of, is_fold, is_foot, zips
from rowanseed.core.sew.pieces.own import add_own, settled_wishes
from rowanseed.core.sew.pieces.seam_finish import finish_of
from rowanseed.core.sew.pieces.seam_steps import (
    BETWEEN,
    ON,
    channel_edges,
    draw_through,
    encloses_itself,
    is_gap,
    rank,
    runs_of,
    sew_seams,
    tube_after_sleeve,
    turn_bag,
    turned_in,
    twice_in,
    zip_rank,
)
from rowanseed.core.sew.pieces.unfold import Unfolded, unfold

Item = tuple[Operation, tuple[Need, ...]]


@dataclass(frozen=True)
class PieceSteps:
    """Every step of a garment told by its pieces, how its rows are sewn, and the cloth that they are done to."""

    asked: StepsAsked
    items: tuple[Item, ...]
    ways: Mapping[str, Way]
    unfolded: Unfolded
    gave_way: tuple[
        tuple[str, str], ...
    ] = ()  # wishes that stood against what the cloth asks: what was to come later, after what

    @property
    def acts(self) -> dict[str, Act]:
        """Each step as the cloth meets it, by its id."""
        g = self.asked.garment
        acts = {op.id: act_of(op, self.ways.get(op.id, "plain"), g, self.unfolded) for op, _ in self.items}
        channels = self._channels() if self.asked.runs else ()
        return {
            id_: replace(act, channels=channels) if id_.startswith("draw-through") else act for id_, act in acts.items()
        }

    def _channels(self) -> tuple[tuple[str, ...], ...]:
        """The lines of the shoulders, shell and lining together, for each side."""
        g, edges = self.asked.garment, channel_edges(self.asked.garment)
        lines = [
            line for n, s in enumerate(g.seams) if set(s.edges) <= edges for line in self.unfolded.of_seam.get(n, ())
        ]
        sides = {line: line.lstrip("0123456789")[:1] for line in lines}
        return tuple(tuple(line for line in lines if sides[line] == side) for side in dict.fromkeys(sides.values()))


def steps_of(asked: StepsAsked) -> PieceSteps:
    """Return every step of a garment told by its pieces, each with its needs, in a natural order."""
    made, g = Made(), asked.garment
    unfolded = unfold(g)
    asked = replace(asked, bagged=bagged_in(g, unfolded), runs=runs_of(g))
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
    _back(made, g)
    add_backing(made, asked)
    add_stays(made, asked)
    for edges, shaping in _shapings(g):
        shape_edges(made, asked, edges, shaping)
    for at, (_, used, do) in enumerate(sorted(_jobs(made, asked), key=lambda job: job[0])):
        made.place |= dict.fromkeys(used, at)
        do()
    lined = {g.seams.index(s) for s in turned_in(g)}
    if lined and not lined & asked.felled and (asked.runs or not lined & asked.bagged):
        draw_through(made, asked)
    bag = [g.seams[n] for n in sorted(asked.bagged) if n not in asked.felled and not is_gap(g.seams[n])]
    if bag:
        turn_bag(made, asked, bag)
    _order(made, g)
    for edge, ids in made.turned.items():
        made.whole[edge].extend(ids)
    add_more(made, asked)
    fasten(made, asked)
    add_own(made, asked)
    last = add(made, "final-press", "press", "Last pressing", (), "iron", "finish", g.pieces[0])
    made.items[last][1].extend(
        Need(id_, "The garment is whole.", "complete") for id_ in list(made.items) if id_ != last
    )
    items = tuple((op, tuple({need.id: need for need in needs}.values())) for op, needs in made.items.values())
    if asked.said.by_hand:
        items = tuple((_by_hand(op), needs) for op, needs in items)
    items, gave_way = settled_wishes(items)
    return PieceSteps(asked, items, made.ways, unfolded, gave_way)


def _by_hand(op: Operation) -> Operation:
    """A step of the machine done with needle and thread: it takes about three times as long."""
    if op.place not in ("machine", "overlocker"):
        return op
    return replace(op, does=replace(op.does, place="hand", minutes=3 * op.does.minutes))


def _jobs(made: Made, asked: StepsAsked) -> Iterator[tuple[tuple[int, int], Sequence[str], Callable[[], None]]]:
    """What is done to edges, seams and ends, each with its place in the natural order: ends in the middle, the foot's late."""
    g = asked.garment
    for seams in _alike(asked):
        yield rank(asked, seams), [e for s in seams for e in s.edges], partial(sew_seams, made, asked, seams)
    for k, (edges, fate) in enumerate(_endings(g)):
        foot, last = is_foot(edges[0])
        units = {g.piece_of(e).unit for e in edges}
        late = 2 * len(g.seams) + k  # after a tube that is closed late
        place = zip_rank(g, units, k) if zips(edges[0]) else (BETWEEN + last, late) if foot else (ON, k)
        yield place, edges, partial(end_edges, made, asked, edges, fate)


def bagged_in(g: PiecedGarment, unfolded: Unfolded) -> frozenset[int]:
    """The seams between layers whose allowances lie shut in when all is sewn: they are sewn inside out and turned."""
    lines = unfolded.sheets.lines
    caught = {line: frozenset(p.edge for p in pages) for line, pages in lines.items()}
    rooms = Rooms(unfolded.sheets, caught)
    found = set[int]()
    for n, seam in enumerate(g.seams):
        layers = {g.piece_of(e).layer for e in seam.edges}
        units = {g.piece_of(e).unit for e in seam.edges}
        between = len(layers) > 1 and not (layers == {"lining", "inner"} or "waistband" in units or twice_in(g, seam))
        if between and any(not rooms.outside(rooms.allowance(line), 0.0) for line in unfolded.of_seam.get(n, ())):
            found.add(n)
    return frozenset(found)


def _back(made: Made, g: PiecedGarment) -> None:
    """Interfacing and underlining go on before the first seam of what they back."""
    for piece in g.pieces:
        for backed in g.backing_of(piece):
            owner = next(p for p in g.pieces if p.id == backed)
            verb, how = ("fuse", "Fuse") if piece.layer == "interfacing" else ("baste", "Baste")
            title = f"{how} the {said_of(piece)} to the wrong side of the {said_of(owner)}"
            place: Place = "iron" if verb == "fuse" else "hand"
            id_ = add(made, f"{verb}-{slug_of(piece.id)}", verb, title, (backed,), place, "prepare", owner)
            for edge in owner.edges:
                made.whole.setdefault(f"{backed}.{edge}", []).append(id_)


def _shapings(g: PiecedGarment) -> list[tuple[tuple[str, ...], Shaping]]:
    """Edges that are shaped alike, together."""
    found: dict[tuple[object, ...], list[str]] = {}
    for edge, fate in g.fates.items():
        piece, name = g.piece_of(edge), edge.rpartition(".")[2]
        for shaping in fate.shaping:
            found.setdefault((piece.unit, piece.layer, base_of(name), shaping), []).append(edge)
    return [(tuple(edges), key[3]) for key, edges in found.items()]  # type: ignore[misc]


def _alike(asked: StepsAsked) -> list[list[StackedSeam]]:
    """Seams that are worked alike, left and right, together; all that makes a small part in one round."""
    g, runs = asked.garment, asked.runs
    found: dict[tuple[object, ...], list[StackedSeam]] = {}
    for seam in g.seams:
        pieces = {g.piece_of(e).id for e in seam.edges}
        if len(pieces) == 1 and encloses_itself(g, [seam]):
            found.setdefault((*pieces, "round"), []).append(seam)
            continue
        if g.seams.index(seam) in runs:
            found.setdefault(("run", base_of(seam.edges[0].rpartition(".")[2])), []).append(seam)
            continue
        if tube_after_sleeve(asked, seam):
            found.setdefault(("tube", g.piece_of(seam.edges[0]).layer), []).append(seam)
            continue
        owners = [(g.piece_of(e).unit, g.piece_of(e).layer, base_of(e.rpartition(".")[2])) for e in seam.edges]
        found.setdefault((*sorted(set(owners)), finish_of(asked, seam)), []).append(seam)
    return list(found.values())


def _endings(g: PiecedGarment) -> list[tuple[tuple[str, ...], EdgeFate]]:
    """Edges that are ended alike and run on into one another, together: a hem round front and back."""
    found: dict[tuple[object, ...], list[str]] = {}
    for edge, fate in g.fates.items():
        piece, name = g.piece_of(edge), edge.rpartition(".")[2]
        if fate.ending == "open" and zips(edge) and piece.layer == "shell":
            found.setdefault(("zip", piece.layer, "", fate), []).append(edge)
            continue
        if piece.layer not in BACKINGS and (
            fate.ending in END and (fate.ending != "open" or zips(edge)) and not is_fold(g, edge)
        ):
            found.setdefault((piece.unit, piece.layer, base_of(name), fate), []).append(edge)
    return [(tuple(edges), key[3]) for key, edges in found.items()]  # type: ignore[misc]


def _order(made: Made, g: PiecedGarment) -> None:
    """Add what must be done before an edge is used: what meets it at its ends is whole, what goes on is made."""
    for edge, user in made.used.items():
        op, needs = made.items[user]
        for beside in g.beside(edge):
            first = made.used.get(beside)
            if first is None or first == user or made.place[beside] > made.place[edge]:
                continue
            law = "ends" if g.fates[edge].ending == "joined" else "hem"
            words = words_of(g, (beside,))
            why = f"{words[0].upper()}{words[1:]} is done before {op.title[0].lower()}{op.title[1:]} crosses its end."
            needs += [Need(id_, why, law) for id_ in made.whole[beside]]
        if op.phase == "attach":
            made_by = made.pieces.get(g.piece_of(edge).id, ())
            needs += [Need(id_, "It is made before it is sewn on.", "parts") for id_ in made_by if id_ != user]
