"""The steps of single edges: shaped before they are used; hemmed, bound, faced, banded or made a casing."""

from rowanseed.core.lengths import both
from rowanseed.core.sew.model import Need, Place
from rowanseed.core.sew.pieces.making import Made, StepsAsked, add, slug_of, words_of
from rowanseed.core.sew.pieces.model import EdgeFate, PiecedGarment, Shaping

SHAPED = {
    "gather": ("gather", "Run gathering rows at {e} and draw them up"),
    "cartridge": ("gather", "Run the cartridge rows at {e}, even and deep"),
    "pleat": ("pleat", "Fold and baste the pleats at {e}"),
    "dart": ("dart", "Sew the darts that end on {e}"),
    "tuck": ("tuck", "Sew the tucks that end on {e}"),
    "ease": ("ease", "Run the easing rows at {e}"),
    "shirr": ("shirr", "Shirr along {e}, the cloth held flat"),
}
HEMMED = {
    "single": "turned once",
    "double": "turned twice",
    "narrow": "turned twice, narrow",
    "blind": "blind",
    "hand": "by hand",
    "rolled": "rolled",
    "faced": "with a facing strip",
    "twin-needle": "in two rows with the twin needle",
}
STRIPS = {
    "bind": ("bind", "the binding"),
    "face": ("face", "a facing strip"),
    "rib": ("attach", "the ribbing"),
    "band": ("attach", "a band"),
}


def shape_edges(made: Made, g: PiecedGarment, edges: tuple[str, ...], shaping: Shaping) -> None:
    """Add the steps that shape edges: gathers, pleats, darts and the like, pressed where they are sewn."""
    verb, words = SHAPED[shaping]
    place: Place = "hand" if shaping == "cartridge" else "table" if shaping == "pleat" else "machine"
    title = words.format(e=words_of(g, edges))
    id_ = add(made, f"{shaping}-{slug_of(edges[0])}", verb, title, edges, place, "flat", g.piece_of(edges[0]))
    press: tuple[str, ...] = ()
    if shaping in ("dart", "tuck"):
        sewn = Need(id_, "They are sewn first.", "shape")
        press = (
            add(
                made,
                f"press-{shaping}-{slug_of(edges[0])}",
                "press",
                f"Press those {shaping}s",
                edges,
                "iron",
                "flat",
                g.piece_of(edges[0]),
                after=(sewn,),
            ),
        )
    for edge in edges:
        made.whole.setdefault(edge, []).extend((id_, *press))


def end_edges(made: Made, asked: StepsAsked, edges: tuple[str, ...], fate: EdgeFate) -> None:
    """The steps of edges that are ended by themselves."""
    make = {"hem": _hem, "casing": _casing, "bind": _strip, "face": _strip, "rib": _strip, "band": _strip}.get(
        fate.ending
    )
    if make is None:
        return
    why = "Shaping is there before the edge is used."
    shaped = tuple(Need(id_, why, "shape") for edge in edges for id_ in made.whole.get(edge, ()))
    done = make(made, asked, edges, fate, shaped)
    for edge in edges:
        made.used[edge] = done[0]
        made.whole.setdefault(edge, []).extend(done)


def _hem(made: Made, asked: StepsAsked, edges: tuple[str, ...], fate: EdgeFate, shaped: tuple[Need, ...]) -> list[str]:
    piece, words, slug = asked.garment.piece_of(edges[0]), words_of(asked.garment, edges), slug_of(edges[0])
    depth = "".join(
        f", {both(mm, asked.unit)}{w}" for mm, w in ((fate.first_mm, " first"), (fate.second_mm, " then")) if mm
    )
    fold = add(
        made,
        f"press-hem-{slug}",
        "fold",
        f"Fold and press {words}{depth}",
        edges,
        "iron",
        "finish",
        piece,
        after=shaped,
    )
    place: Place = "hand" if fate.way in ("blind", "hand") else "machine"
    folded = Need(fold, "The fold is pressed before it is sewn.", "hem")
    title = f"Hem {words}, {HEMMED.get(fate.way, 'turned twice')}"
    return [fold, add(made, f"hem-{slug}", "hem", title, edges, place, "finish", piece, after=(folded,), covers=edges)]


def _strip(
    made: Made, asked: StepsAsked, edges: tuple[str, ...], fate: EdgeFate, shaped: tuple[Need, ...]
) -> list[str]:
    piece, words, slug = asked.garment.piece_of(edges[0]), words_of(asked.garment, edges), slug_of(edges[0])
    verb, noun = STRIPS[fate.ending]
    wide = f", {both(fate.width_mm, asked.unit)} wide" if fate.width_mm else ""
    first = add(
        made,
        f"{fate.ending}-{slug}",
        verb,
        f"Sew {noun}{wide} to {words}",
        edges,
        "machine",
        "attach",
        piece,
        after=shaped,
    )
    sewn = Need(first, "It is sewn on before it is folded over.", "inside")
    if fate.ending == "rib":
        return [
            first,
            add(made, f"press-{slug}", "press", f"Press {noun} away", edges, "iron", "attach", piece, after=(sewn,)),
        ]
    if fate.ending == "face":
        title = f"Turn {noun} to the inside and press"
        return [
            first,
            add(made, f"turn-{slug}", "turn", title, edges, "iron", "attach", piece, after=(sewn,), covers=edges),
        ]
    title = f"Fold {noun} over {words} and stitch it down"
    return [
        first,
        add(made, f"close-{slug}", "close", title, edges, "machine", "attach", piece, after=(sewn,), covers=edges),
    ]


def _casing(
    made: Made, asked: StepsAsked, edges: tuple[str, ...], fate: EdgeFate, shaped: tuple[Need, ...]
) -> list[str]:
    piece, words, slug = asked.garment.piece_of(edges[0]), words_of(asked.garment, edges), slug_of(edges[0])
    wide = f" for elastic {both(fate.width_mm, asked.unit)} wide" if fate.width_mm else ""
    steps = [
        add(
            made,
            f"fold-casing-{slug}",
            "fold",
            f"Fold and press the casing at {words}{wide}",
            edges,
            "iron",
            "finish",
            piece,
            after=shaped,
        )
    ]
    for id_, verb, title, at, why, law in (
        (
            f"sew-casing-{slug}",
            "make",
            "Sew the casing, leaving a gap for the elastic",
            "machine",
            "It is folded first.",
            "hem",
        ),
        (
            f"thread-elastic-{slug}",
            "insert",
            "Thread the elastic, join it and try it on",
            "hand",
            "It is drawn through the casing.",
            "through",
        ),
        (
            f"close-casing-{slug}",
            "close",
            "Close the casing's gap",
            "machine",
            "The gap is closed over the joined elastic.",
            "inside",
        ),
    ):
        place: Place = "hand" if at == "hand" else "machine"
        steps.append(add(made, id_, verb, title, edges, place, "finish", piece, after=(Need(steps[-1], why, law),)))
    return steps
