"""The words of a sheet's line: what of them names no edge is taken out, the rest is parted into clauses of a verb and its things.

"Right sides together", "from waist to hem", "matching side seams" say how, not what: their words are no edges to be sewn. The words
are those that sheets commonly use; common practice, no source.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

# What says how, how far or until when, and names nothing that is worked on.
_SIDES = (
    r"\s+sides?\s+(?:of\s+(?:the\s+)?(?:fabric|cloth)\s+)?(?:together|facing|out(?:side)?|up|down|inside)\b(?:\s+up\b)?"
)
_LIST = r"(?:,(?!\s*and\b)[^.;,]*\band\s+(?:side|centre|center|shoulder|notch|waist|dot)[^.;,]*)?"
ASIDE = re.compile(
    "|".join(
        (
            r"\([^)]*\)",
            r"\b(?:with\s+)?(?:the\s+)?(?:right|wrong|both)" + _SIDES,
            r"\b(?:on|to|onto|from)\s+(?:the\s+)?(?:right|wrong|other|inside|outside)(?:\s+sides?)?\b(?:\s+of\b)?",
            r"\b(?:wrong|right)\s+side\s+of\b|\braw\s+edges\s+even\b|\bfrom\s+the\s+(?:raw\s+)?edge\b|\bclose\s+to\b",
            r"\b(?:lower|upper|inner)?\s*fold\s+(?:line\s+)?of\b",
            r"\bmatching\b[^.;,]*" + _LIST,
            r"\b(?:catching|continuing|leaving|measuring)\b[^.;]*|\bby\s+(?:turning|folding|pulling)\b[^.;]*",
            r"\bfrom\s+(?:the\s+)?[\w ]{2,30}?\s+to\s+(?:the\s+)?\w+(?:\s+(?:waist|hem|edge|end|seam))?\b",
            r"\bbetween\s+(?:the\s+)?(?:notches|dots|marks)\b|\bat\s+(?:the\s+)?(?:marks?|dots?|notches|placement\s+lines?)\b",
            r"\b(?:so\s+that|until|while|before\s+you|as\s+far\s+as)\b[^.;]*",
            r"\bas\s+one\b|\bin\s+one\s+go\b|\bin\s+the\s+same\s+way\b|\bin\s+thirds\b|\bof\s+each\s+leg\b",
            r"\bwith\s+the\s+[\w ]+\s+on\s+top\b|\bto\s+(?:fit|neaten|shape|size)\b[^.;,]*",
            r"\b(?:along|over)\s+(?:the\s+)?(?:marked|seam|fold|stitching)\s+lines?\b",
        )
    ),
    re.I,
)
AGAIN = re.compile(r"\b(?:again|twice|to\s+reinforce\b[^.;,]*)", re.I)
TWO = re.compile(r"\b(?:to|into|onto)\s+(?:the\s+)?(?!fit\b|form\b)")
_TOGETHER = """
neck facings | neck facing | front facing = facing
neckband | neck band = neckband
waistband | waist band = waistband
belt loops | belt loop = loops
inside leg | inner leg | inside-leg = inseam
outside leg | outer leg = side
upper edge of the trousers = leg waist-edge
top edge of the skirt | upper edge of the skirt | upper edge of skirt = skirt waist-edge
lower edge of sleeve | lower edge of the sleeve | sleeve end | sleeve ends = wrist
sleeve hem | sleeve hems | hem of the sleeve = sleeve-hem
sleeve opening = slit
head of the sleeve | sleeve head | sleeve cap = cap
centre back | center back = centre-back
centre front | center front = centre-front
in the ditch = in-the-ditch
zip tape | zipper tape | concealed zip | concealed zipper | invisible zip | invisible zipper = zip
zip opening = zip
bottom edge | hem edge = hem
rise seam = crotch seam
pull up | draw up = pull-up
turn up = turn-up
press up = turn-up press
slip hem = slip-stitch hem
sew on = sew
draw the gathers up = pull-up gathers
zip's seam | below the zip | below zip | below the zipper | below zipper | seam below the zip = zip-seam
slip stitch = slip-stitch
top stitch | top-stitch | edge stitch = topstitch
stay-stitch | stay stitch = staystitch
under stitch = understitch
zig zag = zigzag
pocket facing | pocket bag | pocket bags = pocket
slanted edge | slanting edge = pocket-mouth
gathering stitches | gathering threads = gather
ease lines | easing threads = ease
iron interfacing | apply interfacing | interface = fuse interfacing
seam allowances | seam allowance = allowance
hook and eye = hook
outer edges | outer edge = outer-edge
armhole facing = facing armhole
"""
# Longest first: what belongs together is made one word before parts of it are.
TOGETHER = sorted(
    (
        (words.strip(), one.strip())
        for line in _TOGETHER.strip().splitlines()
        for several, _, one in [line.rpartition("=")]
        for words in several.split("|")
    ),
    key=lambda pair: -len(pair[0]),
)
# The plain verb that a word means. `prepare` says nothing by itself: what follows it does.
VERB_WORDS: Mapping[str, str] = {
    "join": "sew stitch join seam machine",
    "attach": "attach apply set",
    "insert": "insert",
    "prepare": "pin place put position lay match slip run divide",
    "press": "press iron steam",
    "stay": "staystitch reinforce stay",
    "fuse": "fuse",
    "baste": "baste tack",
    "gather": "gather gathering",
    "draw": "pull-up",
    "ease": "ease",
    "trim": "trim grade layer",
    "clip": "clip snip notch",
    "turn": "turn",
    "understitch": "understitch",
    "topstitch": "topstitch edgestitch edge-stitch",
    "hem": "hem blindstitch",
    "up": "turn-up",
    "cut": "cut slash slit",
    "mark": "mark chalk",
    "fold": "fold form",
    "finish": "overlock serge zigzag overcast finish neaten",
    "hand": "slipstitch slip-stitch fell hand-sew catch",
    "ditch": "in-the-ditch",
    "close": "close",
    "try-on": "try",
    "make": "make work construct",
    "thread": "thread",
    "overlap": "overlap",
}
VERBS = {word: plain for plain, words in VERB_WORDS.items() for word in words.split()}
# Things that lines call by their plain names, and such as have several.
_PLAIN_THINGS = """
neckband shoulder side yoke tier cuff collar stand pocket pocket-mouth sleeve sleeve-hem wrist lining waistband
buttonhole button dart pleat tuck inseam crotch placket facing hook cap underarm centre-back centre-front interfacing
elastic casing binding hood strap tie welt flap vent fly bodice skirt band raglan gusset piping princess panel belt
lapel outer-edge allowance shield extension ribbon lace raw length gap shell tape bar ring zip-seam
"""
_THING_WORDS: Mapping[str, str] = {
    "neck": "neck neckline",
    "armhole": "armhole armhole armscye",
    "waist": "waist waistline waist-edge",
    "hem": "hem hemline",
    "zip": "zip zipper",
    "loops": "loops loop",
    "leg": "leg trouser trousers",
    "gather": "gathers",
    "slit": "slit opening",
    "thread": "threads",
}
THINGS = {name: name for name in _PLAIN_THINGS.split()} | {
    w: plain for plain, words in _THING_WORDS.items() for w in words.split()
}
FILLING = frozenset({"allowance", "raw", "thread"})  # what every piece has: it says nothing about which is meant
WORD = re.compile(r"[a-z][a-z-]*")
PARTS = re.compile(r"[.;:]+|,\s*(?:then\s+)?|\s+(?:and|then)\s+(?=(?:then\s+)?[a-z-]+\b)")


@dataclass(frozen=True)
class Clause:
    """One doing of a line: its plain verbs, the first one first, and the things that it names.

    `own`: none is carried over from the clause before; `two`: one thing is said to go to another.
    """

    verbs: tuple[str, ...]
    things: frozenset[str]
    own: bool = True
    two: bool = False


def clauses(text: str) -> list[Clause]:
    """The doings of a line, in its order.

    What only prepares (pin, place) goes on into the next verb; a verb without a thing of its own takes those before it, as in
    "sew the side seams; press open".
    """
    found: list[Clause] = []
    waiting, two, held = frozenset[str](), False, ""
    for part in PARTS.split(_plain(text)):
        verbs, things = _words(part or "")
        if not verbs and not things:
            continue
        two = two or _goes_to(part) or "attach" in verbs
        if not verbs and found:  # a further thing of the verb before: "sew shoulder and side seams"
            found[-1] = replace(found[-1], things=found[-1].things | things)
            continue
        if not set(verbs) - {"prepare"} or (verbs[0] == "baste" and not things):
            waiting, held = waiting | things, "baste" if "baste" in verbs else held
            continue
        verbs = tuple(v for v in verbs if v != "prepare")
        before = found[-1].things if found else frozenset()
        named = (things | waiting) - FILLING
        if named == {"hem"} and "hem" not in WORD.findall(part.replace("hem the top", "")) and before:
            named |= before
        found.append(Clause(verbs, named or before, bool(named), two))
        waiting, two, held = frozenset(), False, ""
    if waiting and not found:
        found.append(Clause((held,) if held else (), waiting, two=two))
    return found


def _goes_to(part: str) -> bool:
    """Whether one thing that is named goes to another."""
    found = TWO.search(part)
    return found is not None and bool(_words(part[: found.start()])[1]) and bool(_words(part[found.end() :])[1])


def _plain(text: str) -> str:
    """A line in lower case, phrases that name no edge taken out, words that belong together made one."""
    plain = AGAIN.sub(" reinforce ", ASIDE.sub(" ", text.lower().replace("’", "'")))
    for words, one in TOGETHER:
        plain = re.sub(rf"\b{words}\b", one, plain)
    return re.sub(r"\bsew\s+the\s+(?=slip)", "", plain)


def _words(part: str) -> tuple[tuple[str, ...], frozenset[str]]:
    verbs: list[str] = []
    things: set[str] = set()
    for word in WORD.findall(part):
        single = word[:-1] if word.endswith("s") and not word.endswith("ss") else word
        verb = next((VERBS[form] for form in (word, single) if form in VERBS and word != "layers"), "")
        thing = next((THINGS[form] for form in (word, single) if form in THINGS), "")
        if (
            verb
            and not (thing and (verbs or things))
            and word != "seams"
            and not (word == "seam" and (things or verbs))
        ):
            if verb not in verbs:
                verbs.append(verb)
        elif thing:
            things.add(thing)
    if "stay" in verbs:
        verbs = [v for v in verbs if v != "join"]  # what is stitched again is reinforced
    if "hem" in verbs and not things & {"sleeve-hem", "wrist"}:
        things.add("sleeve-hem" if "sleeve" in things else "hem")
    if "finish" not in verbs:
        things.discard("raw")
    if "zip" in things:
        things.discard("slit")
    return tuple(verbs), frozenset(things)
