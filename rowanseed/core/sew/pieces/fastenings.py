"""What closes a garment told by its pieces, on the edges that meet: buttons and holes, snaps, hooks, ties. Common practice."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from rowanseed.core.sew.model import Need, Place
from rowanseed.core.sew.pieces.making import Made, StepsAsked, Work, slug_of, words_of
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, SewnPiece, base_of, zips
from rowanseed.core.sew.pieces.said import names_of_piece

MEETING = {
    "front": ("front-edge", "centre-front", "front", "cf", "front-end", "opening", "lap"),
    "back": ("back-edge", "centre-back", "back", "cb", "opening", "lap"),
}
LENGTHWISE = frozenset({"stand", "cuff", "waistband"})
SLITS = frozenset({"slit", "placket", "vent"})
ENDS = frozenset({"end", "end-a", "end-b", "front", "front-edge", "centre-front"})
THROUGH_ALL = "It goes through all the layers that lie there."
HOLES = {
    "machine": ("Sew the buttonholes", "machine"),
    "keyhole": ("Sew the keyhole buttonholes", "machine"),
    "hand": ("Work the buttonholes by hand", "hand"),
    "bound": ("Turn the bound buttonholes’ facing under and fell it round each opening", "hand"),
}
FASTENED = {
    "snaps": ("Sew the snaps along {e}, the ball on the upper side", "fasten"),
    "hook": ("Sew the hooks and eyes along {e}", "fasten"),
    "ties": ("Sew the ties to {e}", "fasten"),
    "wrap": ("Sew the ties, and the inner button or snap, to {e}", "fasten"),
}


@dataclass(frozen=True)
class Bearing:
    """The edges that meet, and by what they are closed."""

    edges: tuple[str, ...]
    kind: str
    holes: str


def bearings(asked: StepsAsked) -> Iterator[Bearing]:
    """The edges of this garment that are closed by something that is sewn on."""
    g, said = asked.garment, asked.said
    found: dict[tuple[str, str], list[str]] = {}
    for piece in g.pieces:
        names = names_of_piece(piece)
        for kind in said.choices("closure", names) if piece.layer == "shell" else ():
            if kind in FASTENED or kind in ("buttons", "placket"):
                found.setdefault((kind, piece.unit), []).extend(_meeting(g, piece, said.choice("opening-at", names)))
    for (kind, unit), edges in found.items():
        if edges and unit != "waistband":
            holes = said.choice("buttonhole", (unit, *(g.piece_of(e).id for e in edges))) or "machine"
            yield Bearing(tuple(edges), kind, holes)
            yield from (
                Bearing((e,), kind, holes) for e in _of_stand(g) if kind == "buttons" and unit in ("body", "bodice")
            )
    yield from _band_ends(asked)
    yield from _cuffs(asked)


def _meeting(g: PiecedGarment, piece: SewnPiece, at: str) -> list[str]:
    """The edges of a piece that meet another when the garment is closed: not sewn to its like, no zip there."""
    wanted = MEETING[at] if at else (*MEETING["front"], *MEETING["back"])
    edges = [f"{piece.id}.{e}" for e in piece.edges if base_of(e) in wanted and not zips(f"{piece.id}.{e}")]
    return [
        e
        for e in edges
        if not _sewn_to_its_like(g, e) and not (piece.on_fold and base_of(e.rpartition(".")[2]) == "fold")
    ]


def _of_stand(g: PiecedGarment) -> list[str]:
    """The end of a collar's stand, which is buttoned above the front."""
    stand = next((p for p in g.pieces if p.unit == "stand" and p.layer == "shell"), None)
    return (
        [f"{stand.id}.{next((e for e in stand.edges if base_of(e).startswith('end')), stand.edges[0])}"]
        if stand
        else []
    )


def _sewn_to_its_like(g: PiecedGarment, edge: str) -> bool:
    seam, piece = g.seam_of(edge), g.piece_of(edge)
    if seam is None:
        return piece.on_fold and g.fates[edge].ending in ("fold", "open")
    owners = [g.piece_of(chain[0]) for chain, _ in seam.pages]
    return sum((p.unit, p.layer) == (piece.unit, piece.layer) for p in owners) > 1


def _band_ends(asked: StepsAsked) -> Iterator[Bearing]:
    """A waistband is closed at its ends by what was said of it."""
    g, said = asked.garment, asked.said
    for piece in g.pieces:
        kind = said.choice("band-closure", names_of_piece(piece)) if piece.unit == "waistband" else ""
        if kind and piece.layer not in BACKINGS and piece.layer != "inner":
            edges = [f"{piece.id}.{e}" for e in piece.edges if base_of(e).startswith("end")] or [
                f"{piece.id}.{piece.edges[0]}"
            ]
            yield Bearing(tuple(edges), "buttons" if kind == "button" else "hook", "machine")


def _cuffs(asked: StepsAsked) -> Iterator[Bearing]:
    """Cuffs over a slit in the sleeve are buttoned."""
    g, said = asked.garment, asked.said
    slit = any(
        base_of(e) in SLITS for p in g.pieces if p.unit == "sleeve" and p.layer == "shell" for e in p.edges
    ) or said.choice("sleeve-vent", ("sleeve",)) not in ("", "none")
    for piece in g.pieces:
        if slit and piece.unit == "cuff" and piece.layer == "shell":
            edges = [f"{piece.id}.{e}" for e in piece.edges if base_of(e).startswith("end")] or [
                f"{piece.id}.{piece.edges[0]}"
            ]
            yield Bearing(tuple(edges), "buttons", said.choice("buttonhole", ("cuff",)) or "machine")


def fasten(made: Made, asked: StepsAsked) -> None:
    """Add the steps that close the garment: once the edges that bear them are whole."""
    for bearing in bearings(asked):
        edges = bearing.edges
        g = asked.garment
        needs = [Need(id_, THROUGH_ALL, "layers") for e in edges for id_ in _made_before(made, g, e)]
        work = Work(made, edges, slug_of(edges[0]), g.piece_of(edges[0]), "finish", tuple(needs))
        unit = g.piece_of(edges[0]).unit
        words = f"the ends of the {unit}" if unit in LENGTHWISE else words_of(g, edges)
        if bearing.kind in FASTENED:
            title, verb = FASTENED[bearing.kind]
            work.then(verb, title.format(e=words), "hand", name=bearing.kind)
        elif bearing.holes == "loops":
            _loops(made, asked, work, words)
        else:
            _buttoned(made, asked, work, words, bearing)


def _made_before(made: Made, g: PiecedGarment, edge: str) -> list[str]:
    """What must be done before something goes through an edge's layers: the edge itself; of a band, all that closes it."""
    piece = g.piece_of(edge)
    own = [f"{piece.id}.{e}" for e in piece.edges] if piece.small else [edge]
    own += [
        near for near in g.beside(edge) if near not in own
    ]  # its ends are done, a hem or a neck, before they are held
    return list(dict.fromkeys(id_ for e in own for id_ in made.whole.get(e, ())))


def _buttoned(made: Made, asked: StepsAsked, work: Work, words: str, bearing: Bearing) -> None:
    if bearing.holes == "bound":
        _bound_first(made, asked, bearing.edges, words)
    title, place = HOLES.get(bearing.holes, HOLES["machine"])
    where: Place = "hand" if place == "hand" else "machine"
    ends = work.piece.unit in LENGTHWISE  # there a button pulls along the band, whatever way the front's holes lie
    along, numbers = ("lengthwise in", ("buttonhole",)) if ends else ("along", ("buttonhole", "buttonhole-spacing"))
    work.then("buttonhole", f"{title} {along} {words}", where, numbers=numbers)
    if bearing.holes != "bound":
        work.then(
            "cut",
            "Cut the buttonholes open, a pin across each end",
            "table",
            "It is stitched before it is cut.",
            "through",
        )
    why = "Each is marked through its buttonhole."
    work.then("button", f"Sew the buttons to the under side, at {words}", "hand", why, "through")


def _bound_first(made: Made, asked: StepsAsked, edges: Sequence[str], words: str) -> None:
    backed = tuple(Need(id_, "Backing goes on flat.", "layers") for e in edges for id_ in made.backing_of(e))
    work = Work(made, tuple(edges), f"bound-{slug_of(edges[0])}", asked.garment.piece_of(edges[0]), "flat", backed)
    work.then(
        "make",
        f"Make the bound buttonholes along {words}, through the outer layer alone",
        numbers=("buttonhole",),
        way="again",
    )
    made.before_used(edges, Need(work.done[0], "It is made before its facing lies behind it.", "flat"))


def _loops(made: Made, asked: StepsAsked, work: Work, words: str) -> None:
    loops = Work(made, work.on, f"loops-{work.slug}", work.piece, "flat")
    loops.then("make", f"Baste the button loops to {words}, pointing inward", way="again")
    made.before_used(work.on, Need(loops.done[0], "Its ends are caught in the seam.", "layers"))
    work.then("button", f"Sew the buttons to the under side, at {words}", "hand", numbers=("buttonhole-spacing",))
