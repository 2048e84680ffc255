"""Edges of which nothing is said, given the fate that a choice means for the garment or its unit: a neck bound, a hem blind."""

from collections.abc import Callable, Mapping
from dataclasses import replace

from rowanseed.core.pattern.fates import EdgeFate, Ending, Shaping
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, SewnPiece, base_of
from rowanseed.core.sew.pieces.said import Said, names_of_edges

# By the name of an edge: the feature that speaks of it, and what its choices do to it.
NECK: Mapping[str, Ending] = {
    "facing": "face", "facing-lining": "face", "combined-facing": "face", "binding": "bind", "binding-ring": "bind",
    "band": "rib", "casing": "casing", "elastic": "casing",
}  # fmt: skip
ARMHOLE: Mapping[str, Ending] = {"facing": "face", "binding": "bind", "elastic": "casing"}
WRIST: Mapping[str, Ending] = {
    "hem": "hem", "bound": "bind", "elastic": "casing", "knit-band": "rib", "faced": "face", "band": "band",
}  # fmt: skip
WAIST: Mapping[str, Ending] = {
    "casing": "casing", "facing": "face", "knit-band": "rib", "band": "band", "drawcord": "casing", "elastic-sewn": "rib",
}  # fmt: skip
FRONT: Mapping[str, Ending] = {"facing": "face", "band": "band", "binding": "bind"}
HEM: Mapping[str, Ending] = {
    "faced": "face", "none": "raw", "bound": "bind", "banded": "band", "ribbed": "rib", "casing": "casing", "elastic": "casing",
}  # fmt: skip
HEM_WAYS = frozenset(
    {"double", "single", "blind", "rolled", "narrow", "hand", "twin-needle", "pointed", "circular", "overlocked-roll"}
)
MEANS: Mapping[str, tuple[str, Mapping[str, Ending]]] = {
    "neck": ("neck", NECK), "armhole": ("armhole", ARMHOLE), "wrist": ("cuff", WRIST), "waist": ("waist", WAIST),
    "centre-front": ("front", FRONT), "front-edge": ("front", FRONT), "cf": ("front", FRONT),
    **dict.fromkeys(("hem", "bottom", "foot", "lower"), ("hem", HEM)),
}  # fmt: skip
GATHERS: Mapping[str, Shaping] = {
    "waist": "gather",
    "corded": "gather",
    "overlocked": "gather",
    "cartridge": "cartridge",
}
SHAPES: Mapping[str, Shaping] = {"darts": "dart", "tucks": "tuck", "pleats": "pleat", "box-pleats": "pleat"}
LOWER = frozenset({"skirt", "leg", "peplum"})


def filled(g: PiecedGarment, said: Said) -> PiecedGarment:
    """Return the garment with what choices say of its edges; what its own fates say goes before them."""
    fates = {edge: _fate(g, said, edge, fate) for edge, fate in g.fates.items()}
    return replace(g, fates=fates)


def _fate(g: PiecedGarment, said: Said, edge: str, fate: EdgeFate) -> EdgeFate:
    piece = g.piece_of(edge)
    if piece.layer in BACKINGS:
        return fate
    name, spoken = base_of(edge.rpartition(".")[2]), names_of_edges(g, [edge])
    for step in (_ended, _hemmed, _shaped):
        fate = step(g, piece, name, fate, lambda feature: said.choices(feature, spoken))
    return fate


Choices = Callable[[str], tuple[str, ...]]


def _ended(g: PiecedGarment, piece: SewnPiece, name: str, fate: EdgeFate, choices: Choices) -> EdgeFate:
    """An open edge of the shell with the ending that a choice means."""
    if fate.ending != "open" or piece.layer != "shell" or piece.small or name not in MEANS:
        return fate
    feature, means = MEANS[name]
    ending = next((means[c] for c in choices(feature) if c in means), None)
    if ending == "raw" and any(p.unit == piece.unit and p.layer == "lining" for p in g.pieces):
        return fate  # no hem of its own: it is sewn to its lining's
    if ending is not None:
        way = "elastic" if "elastic-sewn" in choices(feature) else ""
        return replace(fate, ending=ending, way=way)
    hems = feature == "hem" and any(c in HEM_WAYS for c in choices("hem"))
    return replace(fate, ending="hem") if hems else fate


def _hemmed(g: PiecedGarment, piece: SewnPiece, name: str, fate: EdgeFate, choices: Choices) -> EdgeFate:
    """A hem of which no way is said."""
    if fate.ending != "hem" or fate.way:
        return fate
    return replace(fate, way=next((c for c in choices("hem") if c in HEM_WAYS), ""))


def _shaped(g: PiecedGarment, piece: SewnPiece, name: str, fate: EdgeFate, choices: Choices) -> EdgeFate:
    """The waist, which is what gathers, darts and pleats of the garment are said of; a skirt's only, for gathers."""
    if fate.shaping or name != "waist" or fate.ending != "joined" or piece.small or piece.layer == "inner":
        return fate
    own = [SHAPES[c] for c in choices("shaping") if c in SHAPES]
    if piece.unit in LOWER:
        own += [GATHERS[c] for c in choices("gathers") if c in GATHERS]
    return replace(fate, shaping=tuple(dict.fromkeys(own)))
