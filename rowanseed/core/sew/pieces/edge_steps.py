"""The steps of single edges: shaped before they are used; hemmed, bound, faced, banded, folded, made a casing, given a zip."""

from collections.abc import Callable

from rowanseed.core.lengths import both
from rowanseed.core.sew.model import Need, Place
from rowanseed.core.sew.pieces.making import Made, StepsAsked, Work, slug_of, words_of
from rowanseed.core.sew.pieces.model import EdgeFate, Ending, PiecedGarment, Shaping

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


FIRST_SEWN = "It is sewn on before it is folded over."


def shape_edges(made: Made, g: PiecedGarment, edges: tuple[str, ...], shaping: Shaping) -> None:
    """Add the steps that shape edges: gathers, pleats, darts and the like, pressed where they are sewn."""
    verb, words = SHAPED[shaping]
    place: Place = "hand" if shaping == "cartridge" else "table" if shaping == "pleat" else "machine"
    backed = tuple(Need(id_, "Backing goes on flat.", "layers") for e in edges for id_ in made.whole.get(e, ()))
    work = Work(made, edges, slug_of(edges[0]), g.piece_of(edges[0]), "flat", backed)
    work.then(verb, words.format(e=words_of(g, edges)), place, name=shaping)
    if shaping in ("dart", "tuck"):
        work.then("press", f"Press those {shaping}s", "iron", "They are sewn first.", "shape", name=f"press-{shaping}")
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
    said = ((fate.first_mm, " first"), (fate.second_mm, " then"))
    depth = "".join(f", {both(mm, asked.unit)}{which}" for mm, which in said if mm)
    work.then("fold", f"Fold and press {words}{depth}", "iron", name="press-hem")
    place: Place = "hand" if fate.way in ("blind", "hand") else "machine"
    title = f"Hem {words}, {HEMMED.get(fate.way, 'turned twice')}"
    work.then("hem", title, place, "The fold is pressed before it is sewn.", "hem", covers=work.on)


def _strip(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    verb, noun = STRIPS[fate.ending]
    wide = f", {both(fate.width_mm, asked.unit)} wide" if fate.width_mm else ""
    work.then(verb, f"Sew {noun}{wide} to {words}", name=fate.ending)
    if fate.ending == "rib":
        work.then("press", f"Press {noun} away", "iron", law="inside")
    elif fate.ending == "face":
        work.then("turn", f"Turn {noun} to the inside and press", "iron", FIRST_SEWN, "inside", covers=work.on)
    else:
        work.then("close", f"Fold {noun} over {words} and stitch it down", why=FIRST_SEWN, law="inside", covers=work.on)


def _casing(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    wide = f" for elastic {both(fate.width_mm, asked.unit)} wide" if fate.width_mm else ""
    work.then("fold", f"Fold and press the casing at {words}{wide}", "iron", name="fold-casing")
    work.then(
        "make", "Sew the casing, leaving a gap for the elastic", why="It is folded first.", law="hem", name="sew-casing"
    )
    why = "It is drawn through the casing."
    work.then("insert", "Thread the elastic, join it and try it on", "hand", why, "through", name="thread-elastic")
    why = "The gap is closed over the joined elastic."
    work.then("close", "Close the casing’s gap", why=why, law="inside", name="close-casing")


def _fold(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    work.then("fold", f"Fold {words} to the wrong side along its line and press", "iron")


def _zip(work: Work, asked: StepsAsked, words: str, fate: EdgeFate) -> None:
    if work.piece.layer == "lining":
        work.then("attach", f"Fold in {words} and fell it to the zip’s tape", "hand", name="fell", covers=work.on)
        return
    work.then("insert", f"Sew the zip to {words}", name="insert-zip")
    work.then("press", f"Press {words}, from the wrong side", "iron", law="finish")


End = Callable[[Work, StepsAsked, str, EdgeFate], None]
END: dict[Ending, End] = {
    "hem": _hem, "casing": _casing, "bind": _strip, "face": _strip, "rib": _strip, "band": _strip, "fold": _fold, "open": _zip,
}  # fmt: skip
