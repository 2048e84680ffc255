"""Laws and reasons in words: what a thing is called, which law ties two operations, and what happens where it is broken."""

from rowanseed.core.sew.anatomy import SMALL, edges_of, unit_of
from rowanseed.core.sew.model import Operation
from rowanseed.core.sew.opening import at_back, opens_at_back
from rowanseed.core.sew.units import Assembly

EDGES = {
    "neck": "neck edge", "armhole": "armhole", "waist": "waist edge", "hem": "hem edge",
    "wrist": "sleeve's end", "outer": "outer edge",
    "upper": "upper edge", "front-edge": "front edge", "cap": "sleeve cap", "raglan": "raglan edge", "crotch": "crotch edge",
    "fold": "fold", "layer": "backing", "buttonhole": "buttonholes", "pocket-mouth": "pocket's mouth", "pocket": "pocket",
    "placket": "placket", "vent": "vent", "slit": "slit", "zip": "zip", "dart": "darts", "gap": "turning gap",
    "channel": "channels",
    "casing": "casing", "strap-end": "strap's end", "gusset": "gusset", "panel": "joined pieces", "side": "side seams",
}  # fmt: skip
SHAPING = ("dart", "tuck", "pleat", "gather", "ease", "shirr")


def say(assembly: Assembly, thing: str) -> str:
    """What a thing is called: `the side seams`, `the lining's neck edge`.

    >>> from rowanseed.core.sew.units import Assembly
    """
    seam = next((s for s in assembly.seams() if thing in s.things), None)
    first = next(edges_of(thing))
    unit = unit_of(first)
    lining = "lining’s " if unit.startswith("lining.") else ""
    if seam is not None:
        return f"the {lining}{seam.words}".split(",")[0]
    name = unit.removeprefix("lining.")
    if first == unit:
        return f"the {lining}{name}"
    edge = first.removeprefix(unit + ".")
    owner = "" if name in ("body", "bodice", "sleeve") else f"{name}’s "
    words = EDGES.get(edge, edge)
    words = at_back(words) if opens_at_back(assembly.garment) else words
    return f"the {lining}{owner if not lining else ''}{words}"


def law_between(earlier: Operation, later: Operation) -> str:
    """The law that puts one operation on a thing before another on the same thing."""
    verb = earlier.verb
    for verbs, law in (
        (("mark",), "marks"), (("fuse", "baste"), "layers"), (("stay",), "stay"), (SHAPING, "shape"), (("finish",), "finish"),
    ):  # fmt: skip
        if verb in verbs and (later.verb != "press" or law == "finish"):
            return law
    if later.verb in ("trim", "clip", "grade") or verb in ("trim", "clip", "grade"):
        return "clip"
    if later.verb == "finish":
        return "finish"
    if later.verb == "turn" or verb == "turn":
        return "turn"
    if later.verb == "cut" or (later.verb in ("insert", "make") and verb == "cut"):
        return "openings"
    if later.verb in ("understitch", "topstitch", "buttonhole", "button", "pad", "fasten"):
        return "through"
    if later.verb == "close":
        return "ends"
    if later.verb in ("hem", "fold") or verb in ("hem", "fold"):
        return "hem"
    if verb in ("hang", "try-on"):
        return "try-on"
    return "crossing"


def crossing_law(op: Operation, user: Operation) -> str:
    """The law that puts an operation on a seam before what is done over the seam's end."""
    if op.verb in SHAPING:
        return "shape"
    if user.verb == "hem":
        return "hem"
    if op.verb in ("finish", "press", "trim", "clip", "topstitch", "understitch"):
        return "crossing"
    if user.unit in SMALL or user.verb in ("bind", "face", "attach"):
        return "ends"
    return "parts"


def why(assembly: Assembly, earlier: Operation, later: Operation, thing: str) -> str:
    """Why one operation comes before another, in a sentence about the thing that ties them."""
    what = say(assembly, thing)
    cap = what[0].upper() + what[1:]
    first, then = earlier.verb, later.verb
    if first == "mark":
        return f"{cap}: marked first; once sewn or covered the marks cannot be made."
    if first == "stay":
        return f"{cap} stretches when it is handled, clipped or sewn; it is stayed first."
    if first in ("fuse", "baste") and thing.endswith(".layer"):
        return "What backs the whole piece goes on before anything is sewn through it."
    if first in SHAPING:
        return f"Shaping that ends on {what} is there before that edge is used: its length comes from it."
    if first in ("trim", "clip", "grade") or then in ("trim", "clip", "grade"):
        return f"{cap}: sewn, then trimmed and clipped, while its allowances are open to the scissors."
    if first == "finish":
        return f"{cap}: its raw edges are finished while they can still be reached."
    if first == "press":
        return f"{cap}: pressed before anything crosses or covers it; later the iron does not get in."
    if then == "turn":
        return f"{cap}: sewn and clipped before it is turned."
    if then == "hem":
        return f"{cap} runs into the hem and is complete before the hem is sewn over its end."
    if then == "press":
        return f"{cap}: it is pressed once it is sewn."
    if first in ("topstitch", "understitch"):
        return f"{cap}: stitched while it lies open, before it is crossed or covered."
    if then in ("understitch", "topstitch"):
        return f"{cap}: the stitching holds the finished seam."
    if then == "close":
        return f"{cap}: all inside is done before it is closed."
    return f"{cap} is complete before {_gerund(then)} over its end."


def _gerund(verb: str) -> str:
    return {
        "join": "another seam runs", "attach": "a band or part goes", "bind": "a binding goes", "face": "a facing goes",
        "insert": "a zip goes", "fold": "a fold goes", "baste": "anything is basted",
    }.get(verb, "more is sewn")  # fmt: skip
