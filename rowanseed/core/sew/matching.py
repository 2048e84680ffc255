"""What a line of a sheet may mean: its verbs and things held against those of the garment's operations, and how sure that is."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.sew.anatomy import edges_of, unit_of
from rowanseed.core.sew.model import Operation

OFFERED = 3
SURE = 0.62  # what is likelier is tied without asking
MARGIN = 0.06  # by which the likeliest must stand before the next
LEAST = 0.3  # what is likelier is offered

# The plain verb that words of sheets mean; what only prepares a step says nothing.
_VERB_WORDS: Mapping[str, str] = {
    "sew": "stitch sew join attach seam insert set apply machine face",
    "press": "press iron steam pressing",
    "stay": "staystitch stay-stitch reinforce stay",
    "fuse": "fuse interface",
    "baste": "baste tack",
    "gather": "gather",
    "ease": "easing ease",
    "trim": "trim clip grade layer notch",
    "turn": "turn",
    "understitch": "understitch",
    "topstitch": "topstitch edgestitch edge-stitch",
    "hem": "hem hemming blindstitch blind",
    "cut": "cut slash slit",
    "mark": "mark",
    "fold": "fold",
    "finish": "overlock serge zigzag overcast finish",
    "fell": "slipstitch slip-stitch fell",
    "try-on": "try",
    "make": "make work construct form",
    "bind": "bind",
    "insert": "thread",
    "hang": "hang",
    "pad": "pad",
}
VERBS = {word: plain for plain, words in _VERB_WORDS.items() for word in words.split()}
# The plain verbs that say what an operation does, the one that says it best first.
MEANS: Mapping[str, str] = {
    "join": "sew",
    "attach": "sew fell baste",
    "bind": "bind sew",
    "insert": "sew insert",
    "face": "sew",
    "press": "press",
    "stay": "stay",
    "fuse": "fuse",
    "baste": "baste",
    "gather": "gather",
    "ease": "ease",
    "trim": "trim",
    "clip": "trim",
    "grade": "trim",
    "turn": "turn",
    "understitch": "understitch",
    "topstitch": "topstitch",
    "hem": "hem sew fell",
    "cut": "cut",
    "mark": "mark",
    "fold": "fold turn press",
    "finish": "finish sew",
    "close": "fell sew fold",
    "try-on": "try-on mark",
    "make": "make sew press fold hem",
    "buttonhole": "make sew",
    "button": "sew",
    "fasten": "sew baste fell",
    "dart": "sew",
    "tuck": "sew",
    "pleat": "fold baste",
    "shirr": "sew gather",
    "decorate": "sew",
    "pad": "sew pad",
    "hang": "hang",
    "undo": "cut",
    "sample": "sew",
    "check": "",
}
# Things, plain, by the words that sheets have for them.
_THING_WORDS: Mapping[str, str] = {
    "neck": "neckline neck",
    "armhole": "armhole armholes armscye",
    "waist": "waist waistline",
    "hem": "hem hemline",
    "shoulder": "shoulder",
    "side": "side",
    "yoke": "yoke",
    "tier": "tier tiers",
    "cuff": "cuff",
    "collar": "collar",
    "stand": "stand neckband",
    "pocket": "pocket",
    "sleeve": "sleeve",
    "zip": "zip zipper",
    "lining": "lining",
    "waistband": "waistband",
    "buttonhole": "buttonhole",
    "button": "button",
    "dart": "dart",
    "pleat": "pleat",
    "tuck": "tuck",
    "inseam": "inseam",
    "crotch": "crotch rise",
    "placket": "placket opening",
    "facing": "facing",
    "hook": "hook eye",
    "cap": "cap",
    "underarm": "underarm",
    "back": "back",
    "centre": "centre center",
    "interfacing": "interfacing",
    "elastic": "elastic",
    "casing": "casing",
    "binding": "binding",
    "hood": "hood",
    "strap": "strap",
    "tie": "tie",
    "loop": "loop",
    "welt": "welt",
    "flap": "flap",
    "vent": "vent",
    "fly": "fly",
    "bodice": "bodice",
    "skirt": "skirt",
    "gather": "gathers gathering",
    "band": "band",
    "raglan": "raglan",
    "gusset": "gusset",
    "piping": "piping",
    "princess": "princess",
    "panel": "panel",
    "marks": "notches dots",
    "edge": "edge",
    "points": "points corner",
    "tape": "tape",
    "length": "length",
    "wrist": "wrist",
    "ring": "ring",
    "belt": "belt",
    "pad": "pad",
    "lapel": "lapel",
    "invisible": "invisible",
    "lapped": "lapped",
    "centred": "centred",
}
THINGS = {word: plain for plain, words in _THING_WORDS.items() for word in words.split()}
HIDDEN: Mapping[str, tuple[str, ...]] = {
    "underarm": ("sleeve", "underarm"), "cap": ("sleeve", "cap"), "centre-back": ("centre", "back"), "wrist": ("sleeve", "wrist"),
}  # fmt: skip
ASIDE = frozenset(
    {"edge", "back", "centre", "points", "tape", "marks", "length", "skirt", "bodice", "band"}
)  # say little alone


@dataclass(frozen=True)
class Guess:
    """An operation that a line may mean, and how sure that is, from 0 to 1."""

    operation: Operation
    sure: float


def guesses(text: str, operations: Sequence[Operation]) -> list[Guess]:
    """The operations that a line may mean, likeliest first; none where nothing is shared."""
    verbs, things = _read(text)
    if not things:
        return []
    scored = [Guess(op, round(_score(verbs, things, op), 3)) for op in operations]
    likely = sorted((g for g in scored if g.sure >= LEAST), key=lambda g: -g.sure)
    return likely[:OFFERED]


def tied(found: Sequence[Guess]) -> Operation | None:
    """The operation that a line is tied to without asking: sure, and clearly before the next; None where it is not."""
    if not found or found[0].sure < SURE:
        return None
    if len(found) > 1 and found[0].sure - found[1].sure < MARGIN:
        return None
    return found[0].operation


def verbs_of(text: str) -> set[str]:
    """The plain verbs of a line."""
    return _read(text)[0]


def _read(text: str) -> tuple[set[str], set[str]]:
    """The plain verbs and things of a line."""
    verbs, things = set(), set()
    for word in re.findall(r"[a-z][a-z-]+", text.lower()):
        single = word[:-1] if word.endswith("s") and not word.endswith("ss") else word
        for form in (word, single):
            if form in VERBS and form != "seam":
                verbs.add(VERBS[form])
            if form in THINGS:
                things.add(THINGS[form])
    return verbs, things


def _things_of(op: Operation) -> set[str]:
    """What an operation is about: its things' names, and the things that its words name."""
    found = set(_read(op.title)[1])
    for thing in op.on:
        for edge in edges_of(thing):
            name = edge.removeprefix(unit_of(edge)).removeprefix(".")
            found |= set(HIDDEN.get(name, (THINGS.get(name, name),))) if name else {unit_of(edge)}
    if op.layer == "lining":
        found.add("lining")
    return found - {"body", "leg", "panel", ""}


def _score(verbs: set[str], things: set[str], op: Operation) -> float:
    own, said = _things_of(op), _read(op.title)[1]

    def weight(of: set[str]) -> float:
        return sum(0.4 if thing in ASIDE else 1.0 for thing in of)

    shared = weight(things & own)
    if not shared or ("lining" in things) != ("lining" in own):
        return 0.0
    covered = shared / weight(things)
    if "facing" in own and "facing" not in things:
        covered *= 0.6  # a line that means a facing says so
    needed = weight(things & said) / max(weight(said), 0.4) if said else covered
    verb = 1.0 if verbs & set(MEANS.get(op.verb, "").split()) else (0.75 if not verbs else 0.35)
    first = 0.08 if _main(verbs, op) else 0.0
    return min(1.0, verb * (0.6 * covered + 0.4 * needed) + first)


def _main(verbs: set[str], op: Operation) -> bool:
    """Whether the operation does just what the line's verb says first."""
    means = MEANS.get(op.verb, "").split()
    return bool(means) and means[0] in verbs
