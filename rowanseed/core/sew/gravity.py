"""How grave a step out of its order is: what cloth can not do is a stop, what only comes out worse is a care or a note.

Cloth can not do it where a step finds the edge used up, the layer that it has to hold missing, or its place closed or covered.
Everything else can be sewn: the row is worked on a tube, under a seam's end, on an edge that has stretched. That has a price and is
said so; a precaution that is left for later, or what only the chosen way asks for, is a note.
"""

from typing import Literal

from rowanseed.core.sew.model import Operation
from rowanseed.core.sew.stages import CONSUMING
from rowanseed.core.sew.wording import SHAPING

Level = Literal["note", "care", "stop"]
Kind = Literal["physics", "craft", "wish", "answer"]
# How a step was found to come too late: a need that the content asks, a later part of its own thing's life, its edge used, its
# seam's end crossed, its thing covered or its space closed, its piece joined.
How = Literal["asked", "thing", "edge", "crossed", "reach", "piece"]

PRECAUTIONS = frozenset({"stay", "mark", "sample", "try-on", "hang", "check", "press", "understitch"})
USES = CONSUMING - {"fold"} | {"insert", "make"}  # what a pressed fold does to an edge is undone by opening it
ADDS = frozenset(
    {"join", "attach", "face", "insert", "fuse", "bind", "make", "close"}
)  # what brings a layer for others to hold
THROUGH = frozenset(
    {"buttonhole", "button", "fasten", "cut", "topstitch"}
)  # what goes through all layers that lie there
MAKES = frozenset(SHAPING) | USES
WORKS_ON = frozenset({"press", "understitch", "turn"})
INSIDE = frozenset({"trim", "clip", "grade", "finish", "turn"})
NEVER = frozenset({"inside", "layers"})
SEEN_LATE = frozenset({"complete", "try-on", "method"})


def gravity(late: Operation, earlier: Operation, law: str, how: How) -> tuple[Level, Kind]:
    """Return how grave it is that `earlier` was done before `late`, and of which kind that is."""
    if law == "method":
        return "note", "wish"
    if _cannot_be(late, earlier, law, how):
        return "stop", "physics"
    if law in SEEN_LATE or (late.verb in PRECAUTIONS and late.template != "mark-pieces"):
        return "note", "craft"
    return "care", "craft"


def _cannot_be(late: Operation, earlier: Operation, law: str, how: How) -> bool:
    if law in NEVER:
        return late.verb not in PRECAUTIONS or how == "reach"
    if (
        late.verb in MAKES
        and earlier.verb in WORKS_ON
        and how in ("thing", "edge", "asked")
        and set(late.on) & set(earlier.on)
    ):
        return True  # there is nothing yet that could be pressed, turned or understitched
    brings = late.verb == "baste" or (late.layer == "lining" and late.verb in ADDS)
    if law == "ends" and brings and earlier.verb in USES:
        return True  # the layer that the band or facing has to take in is not there
    if how == "reach":
        return earlier.verb not in ("turn", "press", "understitch")  # what was only turned is turned back
    if late.verb in SHAPING:
        return earlier.verb in USES and law == "shape"
    if how == "piece":
        return law in ("parts", "ends") and late.verb in USES | {"trim", "clip", "grade", "turn"}
    if law == "through":
        return late.verb in ADDS and earlier.verb in THROUGH
    if earlier.verb == "close" and late.verb in INSIDE:
        return True  # its allowances lie in what was closed
    if how == "thing":
        return (late.verb in USES and earlier.verb in USES) or (late.verb == "turn" and earlier.verb == "close")
    if how == "asked":
        return law in ("parts", "openings") and late.verb in ADDS and earlier.verb in USES | THROUGH
    return False
