"""The steps of seams: sewn and finished, made and turned, sewn on; a band closed by the row that sews it on, a bag by its gap."""

from collections import Counter
from collections.abc import Collection, Sequence

from rowanseed.core.sew.model import Need
from rowanseed.core.sew.pieces.edge_steps import zip_title
from rowanseed.core.sew.pieces.making import (
    Made,
    StepsAsked,
    Work,
    key_of,
    rank_of,
    said_of,
    seam_words,
    slug_of,
    words_of,
)
from rowanseed.core.sew.pieces.model import PiecedGarment, SewnPiece, StackedSeam, base_of, is_foot, is_zip
from rowanseed.core.sew.pieces.seam_finish import finish, finished_lining, sew_and_finish

ENCLOSES_EDGE = frozenset({"waistband", "cuff", "band", "pocket", "tab", "strap", "belt", "tie", "placket"})
TURNED = frozenset({"collar", "stand", "cuff", "strap", "tie", "tab", "belt", "flap", "hood", "pocket"})
CUT_BACK = "The allowances are cut back while the scissors reach them."
INSIDE_FIRST = "What lies inside is done while the garment is inside out."
CLOSED_LAST = "It is the way in and out until everything inside is done."


def sew_seams(made: Made, asked: StepsAsked, seams: Sequence[StackedSeam]) -> None:
    """The steps of a seam, or of those of both sides: made, sewn, trimmed and turned, or finished and pressed."""
    g = asked.garment
    edges = list(dict.fromkeys(e for s in seams for e in s.edges))
    why = "Shaping is there before the edge is used: its length comes from it."
    shaped = tuple(Need(id_, why, "shape") for e in edges for id_ in made.whole.get(e, ()))
    work = Work(made, tuple(map(key_of, seams)), slug_of(edges[0]), g.piece_of(edges[0]), "join", shaped)
    if all(map(is_zip, seams)):
        _zip(work, asked, edges)
    elif is_gap(seams[0]):
        _gap(work, g, edges)
    elif _felled(asked, seams):
        _fell(work, g, seams)
    elif all(tube_after_sleeve(asked, s) for s in seams):
        sew_and_finish(work, asked, seams, seam_words(g, seams), apart=False, run=" in one run")
    elif any(g.seams.index(s) in asked.runs for s in seams):
        _in_one_run(work, g, seams)
    elif len({(p.unit, p.layer) for p in map(g.piece_of, edges)}) > 1:
        _between(work, asked, seams)
    elif encloses_itself(g, seams):
        _made_alone(work, g, seams)
    else:
        _within(work, asked, seams)
    for edge in edges:
        made.used[edge] = work.done[0]
        made.whole.setdefault(edge, []).extend(work.done)


def between_layers(g: PiecedGarment, seam: StackedSeam) -> bool:
    """Whether a seam joins a lining to what it lines, edge to edge."""
    layers = {g.piece_of(e).layer for e in seam.edges}
    units = {g.piece_of(e).unit for e in seam.edges}
    return "lining" in layers and len(layers) > 1 and "waistband" not in units and not twice_in(g, seam)


def turned_in(g: PiecedGarment) -> list[StackedSeam]:
    """The seams by which a lining hangs from upper edges that it is turned in from; not those that a band takes in as well."""
    times = Counter(e for s in g.seams for e in s.edges)
    return [
        s for s in g.seams
        if between_layers(g, s) and len(s.pages) == 2
        and not any(is_foot(e)[0] or times[e] > 1 or g.piece_of(e).layer == "inner" for e in s.edges)
    ]  # fmt: skip


def runs_of(g: PiecedGarment) -> frozenset[int]:
    """The seams that close a garment lined at neck and armholes, by their place: those that an armhole runs into from a shoulder.

    A shoulder is a seam that has such an edge at both its ends; what the edge meets at its other end is closed last, through
    shell and lining in one run, else the parts could not be drawn through the shoulders.
    """
    plain, channels = _plain(g), channel_edges(g)
    arms = {n for e in channels for n in g.beside(e)}
    after = {n for a in arms for n in g.beside(a) if n in plain and n not in channels and not is_gap_edge(n)}
    sides = {e for e in after if base_of(e.rpartition(".")[2]) == "side"} or after  # one way in is enough
    return frozenset(n for n, s in enumerate(g.seams) if set(s.edges) & sides and not between_layers(g, s))


def _plain(g: PiecedGarment) -> set[str]:
    """The edges of a body's seams that are within a layer."""
    lined = {e for s in g.seams if between_layers(g, s) for e in s.edges}
    body = {p.id for p in g.pieces if p.unit not in ("sleeve", "leg", "waistband")}
    return {e for s in g.seams for e in s.edges if e not in lined and g.piece_of(e).id in body}


def channel_edges(g: PiecedGarment) -> set[str]:
    """The edges of shoulders and straps: within a layer, and joined to the other layer at both their ends."""
    lined = {e for s in g.seams if between_layers(g, s) for e in s.edges if not is_foot(e)[0]}
    return {e for e in _plain(g) if len(g.beside(e)) == 2 and set(g.beside(e)) <= lined}


def is_gap_edge(edge: str) -> bool:
    """Whether an edge is a part of a gap for turning."""
    return base_of(edge.rpartition(".")[2]) == "gap"


def is_gap(seam: StackedSeam) -> bool:
    """Whether a seam is a gap that is left for turning and closed by hand."""
    return any(base_of(e.rpartition(".")[2]) == "gap" for e in seam.edges)


def encloses_itself(g: PiecedGarment, seams: Sequence[StackedSeam]) -> bool:
    """Whether a seam makes a small part that is turned right side out."""
    return all(g.piece_of(e).unit in TURNED for s in seams for e in s.edges)


def twice_in(g: PiecedGarment, seam: StackedSeam) -> bool:
    """Whether a piece lies on both sides of a seam, as a band does that takes the edge in."""
    owners = [g.piece_of(chain[0]).id for chain, _ in seam.pages]
    return len(owners) > 2 and owners[0] == owners[-1]


def folded_in(g: PiecedGarment, seam: StackedSeam) -> SewnPiece | None:
    """The piece that is folded lengthwise before the seam: both its long edges lie in it."""
    for chain, _ in seam.pages:
        piece = g.piece_of(chain[0])
        if sum(g.piece_of(e).id == piece.id for e in seam.edges) > len(chain):
            return piece
    return None


def _felled(asked: StepsAsked, seams: Sequence[StackedSeam]) -> bool:
    return any(asked.garment.seams.index(s) in asked.felled for s in seams)


def _zip(work: Work, asked: StepsAsked, edges: Sequence[str]) -> None:
    work.phase = "join"
    work.then("insert", zip_title(asked, edges), name="insert-zip", numbers=("zip",))
    work.then("press", "Press the zip’s edges, from the wrong side", "iron", "It is sewn in first.", "finish")


def _gap(work: Work, g: PiecedGarment, edges: Sequence[str]) -> None:
    work.phase, owner = "finish", g.piece_of(edges[0]).layer
    title = f"Close {words_of(g, edges)} by hand, the folded edges slip-stitched together"
    work.then("close", title, "hand", closes=(owner,), way="hand")


def _fell(work: Work, g: PiecedGarment, seams: Sequence[StackedSeam]) -> None:
    edges = [e for s in seams for e in s.edges]
    own = [e for e in edges if g.piece_of(e).layer == "lining"] or edges[:1]
    others = [e for e in edges if e not in own]
    to = f" to {words_of(g, others)}" if others else ""
    work.phase, work.piece = "finish", g.piece_of(own[0])
    title = f"Fell {words_of(g, own)}{to} by hand, folded under and from the right side"
    work.then("attach", title, "hand", name="fell", covers=tuple(edges), way="hand")


def _in_one_run(work: Work, g: PiecedGarment, seams: Sequence[StackedSeam]) -> None:
    shell = [s for s in seams if g.piece_of(s.edges[0]).layer != "lining"] or list(seams)
    name = seam_words(g, shell)
    work.phase = "attach"
    work.then("join", f"Sew {name} and of the lining, each in one run through both", name="sew")
    work.then("press", f"Press {name} and of the lining", "iron", "It is sewn first.", "finish")


def _within(work: Work, asked: StepsAsked, seams: Sequence[StackedSeam]) -> None:
    name, piece = seam_words(asked.garment, seams), work.piece
    bare = piece.layer != "lining" or finished_lining(asked, asked.garment, seams)
    if bare and not piece.small:
        sew_and_finish(work, asked, seams, name, apart=True)
    else:
        work.then("join", f"Sew {name}", name="sew", numbers=("seam",))
        work.then("press", f"Press {name} open", "iron", law="finish")
    if piece.small:
        work.made.pieces.setdefault(piece.id, []).append(work.done[-1])


def _made_alone(work: Work, g: PiecedGarment, seams: Sequence[StackedSeam]) -> None:
    """A small part is sewn round, trimmed, turned and pressed before it goes on."""
    piece, name = work.piece, seam_words(g, seams)
    work.phase = "flat"
    work.then("join", f"Sew {name}", name="sew", numbers=("seam",))
    work.then("trim", f"Trim, layer and clip {name}", "table", "It is sewn before it is trimmed.", numbers=("clip",))
    work.then("turn", f"Turn the {piece.unit} and ease out its corners", "table", CUT_BACK, covers=work.on)
    work.then("press", f"Press the {piece.unit}, its seam on the edge", "iron", "It is turned first.", "turn")
    for edge in {e for s in seams for e in s.edges}:
        work.made.pieces.setdefault(g.piece_of(edge).id, []).append(work.done[-1])


def _between(work: Work, asked: StepsAsked, seams: Sequence[StackedSeam]) -> None:
    """A part is sewn to another; a folded band that lies on both sides is closed by the same row."""
    g = asked.garment
    edges = list(dict.fromkeys(e for s in seams for e in s.edges))
    part = _part(g, edges)
    own = [e for e in edges if (g.piece_of(e).unit, g.piece_of(e).layer) == (part.unit, part.layer)]
    others = [e for e in edges if e not in own]
    work.piece, work.phase, work.slug = part, "attach", slug_of(own[0])
    to = f" to {words_of(g, others)}" if others else ""
    folded = folded_in(g, seams[0])
    if folded is not None:
        _fold(work, own, folded, any(twice_in(g, s) for s in seams))
    if any(twice_in(g, s) for s in seams):
        _taken_in(work, to, edges, words_of(g, own[:1]))
        return
    numbers = ("seam", *(("gather-ratio",) if any("gather" in g.fates[e].shaping for e in edges) else ()))
    work.then("attach" if part.unit in ENCLOSES_EDGE else "join", f"Sew {words_of(g, own)}{to}", numbers=numbers)
    name = f"the seam of {words_of(g, own)}"
    lined = len({g.piece_of(e).layer == "lining" for e in edges}) > 1
    foot = any(base_of(e.rpartition(".")[2]) in ("hem", "wrist") for e in edges)
    if ((part.small and part.unit != "band") or lined) and not foot:
        work.then("grade", f"Layer {name} and clip its curves", "table")
        bagged = any(g.seams.index(s) in asked.bagged for s in seams)
        if part.unit == "facing" and not lined and not bagged:
            _turn_facing(work, asked, words_of(g, own))
    elif part.layer != "lining" and not lined:
        finish(work, asked, seams, name, apart=False)
    work.then("press", f"Press {name}", "iron", "It is pressed once its allowances are done.", "finish")


def _turn_facing(work: Work, asked: StepsAsked, words: str) -> None:
    """A facing is turned, its edge kept inside as the school has it."""
    roll = asked.said.schools.get("facing-roll", "understitch")
    why = CUT_BACK
    if roll == "understitch":
        work.then("understitch", f"Understitch {words}", why=CUT_BACK)
        why = "The row is sewn while it lies out."
    work.then("turn", "Turn the facing to the inside", "table", why, "through", covers=work.on)
    if roll == "topstitch":
        work.then("topstitch", f"Topstitch {words}", why="It is turned first.", law="turn", numbers=("edge-stitch",))


def _part(g: PiecedGarment, edges: Sequence[str]) -> SewnPiece:
    """The piece that is sewn on: a small part first, then what belongs to a lining, then the first named."""
    owners = [g.piece_of(e) for e in edges]
    return next(
        (p for p in owners if p.small and p.unit != "yoke"), next((p for p in owners if p.layer == "lining"), owners[0])
    )


def _fold(work: Work, own: Sequence[str], part: SewnPiece, taken_in: bool) -> None:
    """A band is folded and pressed before it is sewn on."""
    name = said_of(part)
    fold = Work(work.made, tuple(own), slug_of(part.id), part, "flat")
    ends = ", its allowances and ends in" if taken_in else ", right side out"
    fold.then("fold", f"Fold and press the {name} lengthwise{ends}", "iron")
    made = tuple(Need(id_, "It is joined before it is folded.", "parts") for id_ in work.made.pieces.get(part.id, ()))
    work.made.items[fold.done[0]][1].extend(made)
    work.needs = (*work.needs, Need(fold.done[0], "It is folded before it is sewn on.", "parts"))


def _taken_in(work: Work, to: str, edges: Sequence[str], words: str) -> None:
    """A part in two layers takes the edge in and is closed by the same row; a yoke's in a plain row, rolled out of the way."""
    part = work.piece
    verb = "attach" if part.unit in ENCLOSES_EDGE else "join"
    title = f"Sew {words}{to}, both layers of the {part.unit} in one row"
    plain = part.unit == "yoke"
    covers, closes = (() if plain else tuple(edges)), (() if plain else (part.unit,))
    work.then(verb, title, covers=covers, closes=closes, way="plain" if plain else "edge", numbers=("seam",))
    if plain:
        work.then("grade", f"Layer the seam of {words}", "table")
    work.then("press", f"Press the seam of {words}", "iron", law="finish", way="plain" if plain else "edge")


def draw_through(made: Made, asked: StepsAsked) -> None:
    """What is joined to its lining at the upper edges is turned, before the seams beside them are closed where it has to be."""
    g = asked.garment
    lined = turned_in(g)
    sewn = tuple(Need(made.whole[s.edges[0]][-1], CUT_BACK, "clip") for s in lined)
    piece = g.piece_of(lined[0].edges[0])
    work = Work(made, tuple(map(key_of, lined)), slug_of(piece.id), piece, "attach", sewn)
    title = "Turn the lining to the inside, ease out the corners and press, the seam a little inward"
    if asked.runs:
        title = "Turn right side out, drawing what hangs by a sewn shoulder through it, and press the edges"
    work.then("turn", title, "iron", name="draw-through", covers=work.on)
    for edge in {e for s in lined for e in s.edges}:
        made.turned[edge] = work.done
    for n in asked.runs:
        user = made.used[g.seams[n].edges[0]]
        made.items[user][1].append(Need(work.done[0], "Closed before, they could not be turned.", "through"))


def turn_bag(made: Made, asked: StepsAsked, seams: Sequence[StackedSeam]) -> None:
    """What is sewn inside out all round is turned through its gap before that is closed."""
    g = asked.garment
    piece = g.piece_of(seams[0].edges[0])
    inside = [s for n, s in enumerate(g.seams) if n not in asked.felled and not is_gap(s)]
    sewn = tuple(Need(made.whole[s.edges[0]][-1], INSIDE_FIRST, "crossing") for s in inside)
    work = Work(made, tuple(map(key_of, seams)), slug_of(piece.id), piece, "finish", sewn)
    work.then(
        "turn", "Turn everything right side out and ease out the corners", "table", name="turn-out", covers=work.on
    )
    work.then(
        "press",
        "Press the turned edges, the seam a little to the inside",
        "iron",
        "It is turned first.",
        "turn",
        name="press-out",
    )
    made.turning.append(work.done[0])
    for edge in {e for s in seams for e in s.edges}:
        made.turned[edge] = work.done
    for id_, (op, needs) in made.items.items():
        if op.verb in ("close", "attach") and made.ways.get(id_) == "hand" and _opens(g, op.on, asked):
            needs.append(Need(work.done[0], CLOSED_LAST, "through"))


def _opens(g: PiecedGarment, on: Sequence[str], asked: StepsAsked) -> bool:
    return any(key_of(s) in on and (is_gap(s) or n in asked.felled) for n, s in enumerate(g.seams))


WITHIN, LINED, ON, RUN, BETWEEN, SMALL_PARTS, LAST = range(7)


def rank(asked: StepsAsked, seams: Sequence[StackedSeam]) -> tuple[int, int]:
    """When seams are sewn, beside those that meet them: within a unit, between units, small parts, what is closed last.

    Where a garment is lined at neck and armholes these come before the sides, and what crosses the sides after them.
    """
    g, first = asked.garment, seams[0]
    place = min(g.seams.index(s) for s in seams)
    if is_gap(first) or _felled(asked, seams):
        return LAST, place
    if place in asked.runs:
        return RUN, place
    foot = any(is_foot(e)[0] for e in first.edges)
    if asked.runs and len({g.piece_of(e).layer == "lining" for e in first.edges}) > 1 and not foot:
        return LINED, place
    between, small = rank_of(g, first)
    if not between and tube_after_sleeve(asked, first):
        return BETWEEN, len(g.seams) + place
    if is_zip(first):
        return zip_rank(g, {g.piece_of(e).unit for e in first.edges}, place)
    return (SMALL_PARTS if small and between else BETWEEN if between else WITHIN), place


def tube_after_sleeve(asked: StepsAsked, seam: StackedSeam) -> bool:
    """Whether a seam closes a sleeve, or the body's side, that is joined at the armhole while both lie flat."""
    if asked.said.schools.get("sleeve-setting") != "flat":
        return False
    beside = {base_of(n.rpartition(".")[2]) for e in seam.edges for n in asked.garment.beside(e)}
    foot = any(is_foot(n)[0] for e in seam.edges for n in asked.garment.beside(e))
    return foot and any(name in ("armhole", "cap") or name.startswith("cap-") for name in beside)


def zip_rank(g: PiecedGarment, units: Collection[str], place: int) -> tuple[int, int]:
    """When a zip is sewn in: as soon as its edges are there, one over a waist's seam once that is sewn."""
    return (BETWEEN, len(g.seams) + place) if len(units) > 1 else (ON, place)
