"""What is done to a piece or an edge beside its fate: pockets, pads, loops, labels, decoration, stays. Common practice, no source.

Each is a row: the choice that asks for it, the units and edges that it is done to, and whether it comes before these edges are used
or after they are whole. A choice whose edges the garment has not does nothing, and is told so.
"""

from collections.abc import Iterator, Sequence

from rowanseed.core.sew.cloth.acts import Way
from rowanseed.core.sew.model import Need, Place
from rowanseed.core.sew.pieces.addition_rows import ADDITIONS, FLAT, SIDES, TRUNK, Addition
from rowanseed.core.sew.pieces.making import Made, StepsAsked, Work, key_of, slug_of, words_of
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, SewnPiece, StackedSeam, base_of
from rowanseed.core.sew.pieces.said import names_of_piece
from rowanseed.core.sew.pieces.seam_steps import TURNED

BACKS = {
    "interfacing": ("collar", "stand", "cuff", "waistband", "facing"),
    "underlining": (*TRUNK, "sleeve"),
    "interlining": (*TRUNK, "sleeve"),
}
LAID_ON: dict[tuple[str, str], tuple[str, str, Place]] = {
    ("interfacing", "fusible"): ("fuse", "Fuse interfacing to the wrong side of {p}", "iron"),
    ("interfacing", "sewn"): ("baste", "Baste sew-in interfacing to the wrong side of {p}", "hand"),
    ("underlining", "basted"): ("baste", "Baste the underlining to the wrong side of {p}", "hand"),
    ("interlining", "basted"): ("baste", "Baste the interlining to the wrong side of {p}", "hand"),
}
STAYED = ("neck", "waist")
PATCHES = frozenset({"patch", "patch-flap"})
PATCHED = frozenset({"pocket", "flap", "tab"})


def add_backing(made: Made, asked: StepsAsked) -> None:
    """Interfacing, underlining and interlining that were chosen, where no piece of its own is told for them: before any seam."""
    g, said = asked.garment, asked.said
    told = {p.unit for p in g.pieces if p.layer in BACKINGS}
    for (feature, choice), (verb, title, place) in LAID_ON.items():
        pieces = [
            p for p in g.pieces
            if choice in said.choices(feature, names_of_piece(p)) and p.layer not in (*BACKINGS, "lining") and p.unit not in told
            and (p.unit in BACKS[feature] or feature in said.units.get(p.id, {}) or feature in said.units.get(p.unit, {}))
        ]  # fmt: skip
        if not pieces:
            continue
        names = " and ".join(f"the {p.id.replace('-', ' ')}" for p in pieces)
        work = Work(made, tuple(p.id for p in pieces), feature, pieces[0], "prepare")
        numbers = (
            ("interfacing-cut", *(("fuse-time",) if verb == "fuse" else ()))
            if feature == "interfacing"
            else ("diagonal-basting",)
        )
        work.then(verb, title.format(p=names), place, numbers=numbers)
        for p in pieces:
            for edge in p.edges:
                made.whole.setdefault(f"{p.id}.{edge}", []).extend(work.done)


def add_stays(made: Made, asked: StepsAsked) -> None:
    """A staystitch at edges that are cut on a curve and handled before they are used; a knit takes none."""
    g = asked.garment
    if asked.said.cloth.knit:
        return
    for name in STAYED:
        edges = tuple(
            f"{p.id}.{e}" for p in g.pieces for e in p.edges
            if p.layer == "shell" and not p.small and base_of(e) == name and not g.fates[f"{p.id}.{e}"].shaping
            and g.fates[f"{p.id}.{e}"].ending not in ("selvage", "casing", "fold", "hem", "raw")
        )  # fmt: skip
        if not edges:
            continue
        work = Work(made, edges, name, g.piece_of(edges[0]), "flat")
        numbers = ("staystitch",) if name == "neck" else ("staystitch-waist",)
        work.then("stay", f"Staystitch {words_of(g, edges)}", name="staystitch", numbers=numbers)
        for edge in edges:
            made.whole.setdefault(edge, []).extend(work.done)


def add_more(made: Made, asked: StepsAsked) -> None:
    """Add what was chosen beside the fates, before or after the edges that it is done to."""
    loose = _loose_parts(made, asked)
    for row in ADDITIONS:
        for choice, pieces in _asking(asked, row):
            if not (loose and choice in PATCHES):
                _add(made, asked, row, choice, pieces)
    _topstitch(made, asked)


def _loose_parts(made: Made, asked: StepsAsked) -> bool:
    """Pockets, flaps, tabs that are told as pieces and lie in no seam are sewn on once their edges are ended; whether any are."""
    g = asked.garment
    loose = [
        p
        for p in g.pieces
        if p.unit in PATCHED
        and p.layer == "shell"
        and "welt" not in p.id
        and not any(g.seam_of(f"{p.id}.{e}") for e in p.edges)
    ]
    for part in loose:
        trunk = [p for p in g.pieces if p.unit in TRUNK and p.layer == "shell"]
        named = [p for p in trunk if asked.said.choice("pocket", names_of_piece(p)) in PATCHES]
        side = "back" if "back" in part.id else "front"
        under = next((p for p in [*named, *trunk] if side in p.id), trunk[0] if trunk else part)
        edges = [f"{part.id}.{e}" for e in part.edges]
        needs = tuple(
            Need(id_, "Its edges are done before it is sewn on.", "parts")
            for e in edges
            for id_ in made.whole.get(e, ())
        )
        work = Work(made, (part.id, under.id), slug_of(part.id), part, "flat", needs)
        work.then(
            "attach",
            f"Sew the {part.id.replace('-', ' ')} to the {under.id.replace('-', ' ')} at its marks",
            way="again",
        )
        sides = [f"{under.id}.{e}" for e in under.edges if base_of(e) in SIDES]
        made.before_used(sides, Need(work.done[-1], FLAT, "flat"))
    return bool(loose)


def _asking(asked: StepsAsked, row: Addition) -> Iterator[tuple[str, list[SewnPiece]]]:
    g, said = asked.garment, asked.said
    own = [
        p
        for p in g.pieces
        if p.unit in row.units and p.layer == row.layer and any(base_of(e) in row.edges for e in p.edges)
    ]
    for choice in row.choices:
        pieces = [p for p in own if choice in said.choices(row.feature, names_of_piece(p))]
        pieces.sort(key=lambda p: (row.prefer not in p.id, "front" in p.id))
        units = list(dict.fromkeys(p.unit for p in pieces))
        for unit in units[:1] if row.once else units:
            some = [p for p in pieces if p.unit == unit]
            named = [p for p in some if row.feature in said.units.get(p.id, {})]
            yield (
                choice,
                named or (some[:1] if row.one and row.when == "before" and "{e}" not in row.steps[-1][1] else some),
            )


def _add(made: Made, asked: StepsAsked, row: Addition, choice: str, pieces: Sequence[SewnPiece]) -> None:
    g = asked.garment
    after = row.when == "after"
    every = [
        (base_of(e), f"{p.id}.{e}") for p in pieces for e in p.edges if not row.seam or _shell_seam(g, f"{p.id}.{e}")
    ]
    name = next((n for n in row.edges if any(n == own for own, _ in every)), None)
    if name is None:
        return
    edges = tuple(edge for own, edge in every if own == name)
    ids = [id_ for e in edges for id_ in (made.whole.get(e, ()) if after else made.backing_of(e))]
    why, law = (row.why, row.law) if after else ("Backing goes on flat.", "layers")
    needs = tuple(Need(id_, why, law) for id_ in dict.fromkeys(ids))
    on = edges if after or "{e}" in row.steps[-1][1] else tuple(p.id for p in pieces)
    work = Work(made, on, f"{choice}-{slug_of(pieces[0].unit)}", pieces[0], "finish" if after else "flat", needs)
    words = {"p": pieces[0].id.replace("-", " "), "e": words_of(g, edges), "c": choice.replace("-", " ")}
    if "{e}" not in row.steps[-1][1] and not after:
        work.slug = f"{choice}-{slug_of(pieces[0].id)}"
    for verb, title, place in row.steps:
        way: Way = "plain" if verb == "pad" else "again"  # the rest lies on a piece, which surfaces can not say
        work.then(verb, title.format(**words), place, "It is made first.", "parts", way=way)
    if row.law == "inside":
        inside = Need(work.done[-1], "It lies inside and is done while the garment is inside out.", "crossing")
        for id_ in made.turning:
            made.items[id_][1].append(inside)
    if not after:
        used = [f"{p.id}.{e}" for p in pieces for e in p.edges if base_of(e) in row.edges]
        made.before_used(used, Need(work.done[-1], row.why, row.law))


def _shell_seam(g: PiecedGarment, edge: str) -> bool:
    """Whether an edge lies in a seam whose allowances stay within reach of its own layer."""
    seam = g.seam_of(edge)
    return seam is not None and len({g.piece_of(e).layer for e in seam.edges}) == 1


def _topstitch(made: Made, asked: StepsAsked) -> None:
    """A row along the edges that were turned, once they are pressed; all of one part in one step."""
    g, said = asked.garment, asked.said
    found: dict[str, list[StackedSeam]] = {}
    for seam in g.seams:
        pieces = [g.piece_of(e) for e in seam.edges]
        part = _topstitched(pieces)
        names = [name for p in pieces for name in names_of_piece(p)]
        if part is not None and "edges" in said.choices("topstitching", names):
            found.setdefault(part.id, []).append(seam)
    for seams in found.values():
        edges = list(dict.fromkeys(e for s in seams for e in s.edges))
        needs = [Need(id_, "It is turned and pressed first.", "turn") for e in edges for id_ in made.whole.get(e, ())]
        part = _topstitched([g.piece_of(e) for e in edges]) or g.piece_of(edges[0])
        work = Work(made, tuple(map(key_of, seams)), slug_of(part.id), part, "finish", tuple(needs))
        work.then(
            "topstitch", f"Topstitch along the edges of the {part.id.replace('-', ' ')}", numbers=("edge-stitch",)
        )


def _topstitched(pieces: Sequence[SewnPiece]) -> SewnPiece | None:
    """The part on whose edge a seam lies: one that is sewn to itself and turned, a facing or a yoke sewn to the garment."""
    units = {p.unit for p in pieces}
    wanted = TURNED if len(units) == 1 else {"facing", "yoke"}
    if len({p.layer == "lining" for p in pieces}) > 1:
        return None
    return next((p for p in pieces if p.unit in wanted), None)
