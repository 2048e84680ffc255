"""What kind of garment pieces make: by what they are called, or by what is described of it."""

import re
from collections.abc import Mapping, Sequence

from rowanseed.core.garment_kinds import GarmentKind

WORDS: tuple[tuple[GarmentKind, re.Pattern[str]], ...] = (
    (
        "trousers",
        re.compile(r"\b(trousers?|pants|legs?|shorts|culottes?|leggings|jeans|crotch|fly|hose|pantalon|broek)\b", re.I),
    ),
    ("coat", re.compile(r"\b(coat|overcoat|mantel|manteau|abrigo|jas)\b", re.I)),
    ("jacket", re.compile(r"\b(jacket|blazer|jacke|veste|chaqueta|colbert)\b", re.I)),
    ("dress", re.compile(r"\b(dress|gown|pinafore|kleid|robe|vestido|jurk)\b", re.I)),
    ("skirt", re.compile(r"\b(skirt|gore|rock|jupe|falda|rok)\b", re.I)),
)
BODY = re.compile(r"\b(bodice|sleeve|armhole|yoke|collar|cuff|shirt|blouse|[Üü]rmel|manche|manga|mouw)\b", re.I)
TITLE_COUNTS = 3  # a word in the pattern's own name counts as so many in its pieces'
ABOVE = ("neck", "collar", "sleeve", "armhole", "straps")


def garment_by_names(title: str, pieces: Sequence[str]) -> GarmentKind | None:
    """The kind that a pattern's name and its pieces' names speak of most; None where they speak of none."""
    counts: dict[GarmentKind, int] = {}
    for kind, words in WORDS:
        found = TITLE_COUNTS * bool(words.search(title)) + sum(bool(words.search(name)) for name in pieces)
        if found:
            counts[kind] = found
    above = sum(bool(BODY.search(name)) for name in pieces)
    if counts.get("skirt") and above and "dress" not in counts and not WORDS[4][1].search(title):
        return "dress"  # a skirt's pieces with sleeves or a bodice
    if counts:
        return max(counts, key=lambda kind: counts[kind])
    return "top" if above else None


def garment_by_features(kind: GarmentKind, views: Sequence[Mapping[str, str]]) -> GarmentKind:
    """The kind under which a described garment is filed: as it was, unless every view describes another."""
    described = [features for features in views if features]
    found = {_described(kind, features) for features in described}
    return found.pop() if len(found) == 1 else kind


def _described(kind: GarmentKind, features: Mapping[str, str]) -> GarmentKind:
    above = any(features.get(name, "none") != "none" for name in ABOVE)
    legs = features.get("legs", "none") != "none"
    joined = features.get("waist-seam", "none") != "none"
    if legs and not above:
        return "trousers"
    if above and kind in ("skirt", "trousers") and not legs:
        return "dress" if joined else "top"
    if not above and not joined and features.get("waist", "none") != "none":
        return "skirt"
    return kind
