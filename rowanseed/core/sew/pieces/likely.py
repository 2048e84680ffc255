"""What an edge may become, the likeliest first: by its name, its part and what is as long. Common practice, no source."""

from collections.abc import Iterator

from rowanseed.core.pattern.fates import EdgeFate
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, SewnPiece, base_of, is_fold
from rowanseed.core.sew.pieces.of_pattern import MIRRORED, ZIPPED

# What can be done to any edge that is in no seam, by a short key: its words and what it is kept as.
ENDS: dict[str, tuple[str, EdgeFate]] = {
    "hem": ("hemmed, turned twice", EdgeFate("hem", "double")),
    "hem-single": ("hemmed, turned once", EdgeFate("hem", "single")),
    "hem-blind": ("hemmed blind", EdgeFate("hem", "blind")),
    "hem-narrow": ("hemmed narrow", EdgeFate("hem", "narrow")),
    "hem-hand": ("hemmed by hand", EdgeFate("hem", "hand")),
    "hem-rolled": ("rolled", EdgeFate("hem", "rolled")),
    "bind": ("bound", EdgeFate("bind")),
    "face": ("faced with a strip", EdgeFate("face")),
    "band": ("given a band", EdgeFate("band")),
    "rib": ("given ribbing", EdgeFate("rib")),
    "casing": ("made a casing for elastic or a cord", EdgeFate("casing")),
    "fold": ("folded under and pressed", EdgeFate("fold")),
    "enclosed": ("shut in by what it is sewn into", EdgeFate("enclosed")),
    "mirror": ("sewn to its own other copy", EdgeFate("joined", MIRRORED)),
    "zip": ("sewn to its other copy below a zip", EdgeFate("joined", ZIPPED)),
    "selvage": ("left, it is the selvage", EdgeFate("selvage")),
    "raw": ("left raw on purpose", EdgeFate("raw")),
}
FIRST: tuple[tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]], ...] = (
    # words of the edge, units (none: any), what comes first
    (
        ("hem", "bottom", "lower", "foot"),
        ("body", "bodice", "skirt", "leg", "peplum"),
        ("hem", "hem-blind", "hem-narrow", "face", "casing"),
    ),
    (("hem", "wrist"), ("sleeve",), ("hem", "hem-narrow", "casing", "bind", "rib")),
    (("top", "head", "upper"), ("pocket",), ("hem", "face", "bind")),
    ((), ("pocket",), ("fold", "enclosed")),
    (("end",), ("waistband", "band", "stand", "placket"), ("enclosed", "mirror", "fold")),
    ((), ("collar", "stand", "cuff", "flap", "tab", "strap", "belt", "tie", "hood"), ("mirror", "enclosed", "fold")),
    ((), ("waistband", "band", "placket"), ("fold", "enclosed", "hem")),
    (("outer", "inner", "shoulder", "end"), ("facing",), ("hem-narrow", "bind", "raw", "enclosed")),
    (("centre-back",), (), ("mirror", "zip", "face", "hem")),
    (("centre-front", "front", "front-edge", "cf"), (), ("face", "mirror", "band", "fold", "hem-narrow")),
    (("crotch",), (), ("mirror",)),
    (("waist",), (), ("casing", "face", "bind", "rib")),
    (("neck", "armhole"), (), ("bind", "face", "rib")),
)
TRUNKS = frozenset({"body", "bodice", "skirt", "leg"})
JOINED = frozenset({"side", "shoulder", "inseam", "crotch", "waist", "princess", "panel", "yoke", "raglan"})
# Edges of two parts that are sewn together: a part and its edges, the other and its own.
PAIRS: tuple[tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...], tuple[str, ...]], ...] = (
    (("collar",), ("neck",), ("stand",), ("upper", "top", "outer")),
    (("collar", "stand", "hood", "facing"), ("neck",), ("body", "bodice", "yoke"), ("neck",)),
    (("sleeve",), ("cap",), ("body", "bodice", "yoke"), ("armhole",)),
    (("facing",), ("armhole",), ("body", "bodice"), ("armhole",)),
    (("facing",), ("waist",), ("skirt", "leg"), ("waist",)),
    (("cuff",), ("upper", "top", "wrist", "side", "neck", "edge"), ("sleeve",), ("hem", "wrist", "foot")),
    (("waistband",), ("side", "lower", "low", "waist", "foot", "edge"), ("skirt", "leg"), ("waist",)),
    (
        ("yoke",),
        ("foot", "low", "lower", "back", "front"),
        ("body", "bodice", "skirt"),
        ("yoke", "upper", "top", "shoulder"),
    ),
    (("yoke",), ("shoulder",), ("body", "bodice"), ("shoulder",)),
    (
        ("band", "placket", "facing"),
        ("side", "front", "inner", "outer", "centre-front"),
        ("body", "bodice"),
        ("centre-front", "front-edge", "front", "cf"),
    ),
)
NEAR = 0.12  # a share by which edges that may be sewn together differ at most, gathers aside
MOST_MATES = 6


def likely_ends(g: PiecedGarment, edge: str) -> list[str]:
    """The keys of what an edge may become by itself, the likeliest first."""
    piece, name = g.piece_of(edge), base_of(edge.rpartition(".")[2])
    first = next(
        (
            keys
            for words, units, keys in FIRST
            if (not words or name in words or name.split("-")[0] in words) and (not units or piece.unit in units)
        ),
        (),
    )
    twin = piece.cut > 1
    return [key for key in dict.fromkeys((*first, *ENDS)) if twin or key not in ("mirror", "zip")]


def likely_mates(g: PiecedGarment, edge: str) -> list[tuple[str, bool]]:
    """The free edges that one may be sewn to, the likeliest first, and whether their names go together too."""
    piece = g.piece_of(edge)
    found = [(*score, other) for other in g.fates if (score := _alike(g, piece, edge, other)) is not None]
    return [(other, named) for named, _, other in sorted(found, key=lambda each: (-each[0], -each[1]))[:MOST_MATES]]


def _alike(g: PiecedGarment, piece: SewnPiece, edge: str, other: str) -> tuple[bool, float] | None:
    """Whether the names of two edges go together, and how near their lengths are; None where they can hardly be sewn together."""
    mate = g.piece_of(other)
    if mate.id == piece.id or g.seam_of(other) is not None or {piece.layer, mate.layer} & BACKINGS or is_fold(g, other):
        return None
    if {piece.layer, mate.layer} == {"lining", "shell"} and piece.unit != mate.unit:
        return None
    one, two = ((p.unit, base_of(e.rpartition(".")[2])) for p, e in ((piece, edge), (mate, other)))
    a, b = (_all_round(p, e) for p, e in ((piece, edge), (mate, other)))
    near = 1.0 - abs(a - b) / max(a, b) if a and b else 0.0
    if {piece.layer, mate.layer} == {"lining", "shell"}:
        named = one == two and one[1] not in JOINED
    else:
        named = _go_together(one, two) or _go_together(two, one)
    return (named, near) if named or near > 1.0 - NEAR else None


def _go_together(one: tuple[str, str], two: tuple[str, str]) -> bool:
    """Whether two edges are sewn together in most garments, by their units and names."""
    (unit, name), (other, word) = one, two
    if unit == other or (unit in TRUNKS and other in TRUNKS):
        return name == word and name in JOINED
    return any(
        unit in units and name in words and other in others and word in ends for units, words, others, ends in PAIRS
    )


def _all_round(piece: SewnPiece, edge: str) -> float:
    """An edge's length, of both halves where its piece lies on the fold, cm."""
    own = (piece.lengths or {}).get(edge.rpartition(".")[2], 0.0)
    return own * (2 if piece.on_fold else 1)


def said_as(fate: EdgeFate) -> str:
    """The key of what an edge was said to become; "" for nothing, or for figures that no key has."""
    return next((key for key, (_, kept) in ENDS.items() if (kept.ending, kept.way) == (fate.ending, fate.way)), "")


def every_word() -> Iterator[tuple[str, str]]:
    """Each key with its words."""
    return ((key, words) for key, (words, _) in ENDS.items())
