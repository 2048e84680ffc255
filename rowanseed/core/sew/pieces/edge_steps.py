"""The steps of single edges: shaped before they are used; hemmed, bound, faced, banded, folded, made a casing, given a zip."""

from collections.abc import Callable, Sequence

from rowanseed.core.lengths import both
from rowanseed.core.pattern.fates import EdgeFate, Ending, Shaping
from rowanseed.core.sew.model import Need, Place
from rowanseed.core.sew.pieces.making import Made, StepsAsked, Work, slug_of, words_of
from rowanseed.core.sew.pieces.said import names_of_edges

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
    "pointed": "turned twice, 1/2 and 1/2, its points folded square",
    "circular": "turned once over a row that eases its fullness in",
    "overlocked-roll": "rolled on the overlocker",
}
ZIPS = {
    "invisible-zip": "Sew the invisible zip to {e}, each tape by itself, before the seam below is closed",
    "lapped-zip": "Sew the lapped zip to {e}, basted shut and pressed, then take out the basting",
    "centred-zip": "Sew the centred zip to {e}, basted shut and pressed, then take out the basting",
    "exposed-zip": "Sew the zip to {e}, its teeth showing",
    "fly": "Sew the fly’s zip to {e}: to the underlay first, then to the fly",
    "open-edge-zip": "Sew the zip to {e}, each tape to its open edge",
    "separating-zip": "Sew the separating zip to {e}, its two halves level at the hem",
}
GATHERED = {
    "corded": "Zigzag over a cord at {e} and draw it up",
    "overlocked": "Gather {e} on the overlocker, differential at its highest",
}
STRIPS = {
    "bind": ("bind", "the binding"),
    "face": ("face", "a facing strip"),
    "rib": ("attach", "the ribbing"),
    "band": ("attach", "a band"),
}


FIRST_SEWN = "It is sewn on before it is folded over."


NUMBERS = {"gather": ("gathers",), "cartridge": ("cartridge",), "dart": ("dart",), "ease": ("ease-rows",)}


def shape_edges(made: Made, asked: StepsAsked, edges: tuple[str, ...], shaping: Shaping) -> None:
    """Add the steps that shape edges: gathers, pleats, darts and the like, pressed where they are sewn."""
    g = asked.garment
    verb, words = SHAPED[shaping]
    place: Place = "hand" if shaping == "cartridge" else "table" if shaping == "pleat" else "machine"
    numbers = NUMBERS.get(shaping, ())
    if shaping == "gather" and not asked.said.by_hand:
        way = asked.said.choice("gathers", names_of_edges(g, edges))
        words = GATHERED.get(way, words)
        if way == "overlocked":
            place, numbers = ("overlocker" if asked.overlocker else "machine"), ("gathers-overlocked",)
    backed = tuple(Need(id_, "Backing goes on flat.", "layers") for e in edges for id_ in made.whole.get(e, ()))
    work = Work(made, edges, slug_of(edges[0]), g.piece_of(edges[0]), "flat", backed)
    work.then(verb, words.format(e=words_of(g, edges)), place, name=shaping, numbers=numbers)
    if shaping in ("dart", "tuck"):
        pressed = ("dart-pressing",) if shaping == "dart" else ()
        why = "They are sewn first."
        work.then("press", f"Press those {shaping}s", "iron", why, "shape", name=f"press-{shaping}", numbers=pressed)
    for edge in edges:
        made.whole.setdefault(edge, []).extend(work.done)


def end_edges(made: Made, asked: StepsAsked, edges: tuple[str, ...], fate: EdgeFate) -> None:
    """The steps of edges that are ended by themselves."""
    why = "Shaping is there before the edge is used."
    shaped = tuple(Need(id_, why, "shape") for edge in edges for id_ in made.whole.get(edge, ()))
    piece = asked.garment.piece_of(edges[0])
    work = Work(made, edges, slug_of(edges[0]), piece, "attach" if fate.ending in STRIPS else "finish", shaped)
    on_side = f" on the {fate.side}" if fate.side else ""
    END[fate.ending](work, asked, words_of(asked.garment, edges) + on_side, fate)
    for edge in edges:
        made.used[edge] = work.done[0]
        made.whole.setdefault(edge, []).extend(work.done)


def _hem(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    if fate.way == "overlocked-roll":
        where: Place = "overlocker" if asked.overlocker else "machine"
        work.then("hem", f"Hem {words}, {HEMMED[fate.way]}", where, covers=work.on)
        return
    said = ((fate.first_mm, " first"), (fate.second_mm, " then"))
    depth = "".join(f", {both(mm, asked.unit)}{which}" for mm, which in said if mm)
    work.then("fold", f"Fold and press {words}{depth}", "iron", name="press-hem", numbers=("hem",))
    place: Place = "hand" if fate.way in ("blind", "hand") else "machine"
    title = f"Hem {words}, {HEMMED.get(fate.way, 'turned twice')}"
    numbers = ("hem", *(("blind-hem",) if fate.way == "blind" else ()))
    work.then("hem", title, place, "The fold is pressed before it is sewn.", "hem", covers=work.on, numbers=numbers)


def _strip(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    verb, noun = STRIPS[fate.ending]
    if fate.way == "elastic":
        noun = "the elastic, stretched between quarters,"
    elif fate.ending == "bind" and asked.said.choice("binding", names_of_edges(asked.garment, work.on)) == "bought":
        noun = "the bought binding"
    wide = f", {both(fate.width_mm, asked.unit)} wide" if fate.width_mm else ""
    bound = ("binding",) if fate.ending == "bind" else ("elastic",) if fate.way == "elastic" else ()
    work.then(verb, f"Sew {noun}{wide} to {words}", name=fate.ending, numbers=bound)
    if fate.ending == "rib":
        work.then("press", f"Press {noun} away", "iron", law="inside")
    elif fate.ending == "face":
        work.then(
            "turn", f"Turn {noun} to the inside and press", "iron", FIRST_SEWN, "inside", covers=work.on, way="again"
        )
    else:
        work.then(
            "close",
            f"Fold {noun} over {words} and stitch it down",
            why=FIRST_SEWN,
            law="inside",
            covers=work.on,
            way="again",
        )


def _casing(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    wide = f" for elastic {both(fate.width_mm, asked.unit)} wide" if fate.width_mm else ""
    work.then("fold", f"Fold and press the casing at {words}{wide}", "iron", name="fold-casing", numbers=("casing",))
    cord = asked.said.choice("waist", names_of_edges(asked.garment, work.on)) == "drawcord"
    gap = "with two eyelets, or a gap at the front, for the cord" if cord else "leaving a gap for the elastic"
    work.then("make", f"Sew the casing, {gap}", why="It is folded first.", law="hem", name="sew-casing")
    why = "It is drawn through the casing."
    if cord:
        work.then(
            "insert", "Thread the drawcord and knot its ends", "hand", why, "through", name="thread-cord", way="again"
        )
        return
    title = "Thread the elastic, join it and try it on"
    numbers = ("elastic",) if work.on[0].endswith("waist") else ()  # its length is worked out from the waist
    work.then("insert", title, "hand", why, "through", name="thread-elastic", numbers=numbers, way="again")
    why = "The gap is closed over the joined elastic."
    work.then("close", "Close the casing’s gap", why=why, law="inside", name="close-casing", way="again")


def _fold(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    work.then("fold", f"Fold {words} to the wrong side along its line and press", "iron")


def zip_title(asked: StepsAsked, edges: Sequence[str]) -> str:
    """How a zip is sewn to its edges, by the kind that was chosen."""
    kinds = asked.said.choices("closure", names_of_edges(asked.garment, edges))
    words = next((ZIPS[kind] for kind in kinds if kind in ZIPS), "Sew the zip to {e}")
    return words.format(e=words_of(asked.garment, edges))


def _zip(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    if work.piece.layer == "lining":
        work.then("attach", f"Fold in {words} and fell it to the zip’s tape", "hand", name="fell", covers=work.on)
        return
    work.then("insert", zip_title(asked, work.on), name="insert-zip", numbers=("zip",))
    work.then("press", f"Press {words}, from the wrong side", "iron", law="finish")


End = Callable[[Work, StepsAsked, str, EdgeFate], None]
END: dict[Ending, End] = {
    "hem": _hem, "casing": _casing, "bind": _strip, "face": _strip, "rib": _strip, "band": _strip, "fold": _fold, "open": _zip,
}  # fmt: skip
