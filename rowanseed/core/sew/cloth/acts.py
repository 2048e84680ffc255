"""What a step does to cloth: a verb on sheets, edges and lines, in a way, with what it catches, must hold and must spare."""

from dataclasses import dataclass
from typing import Literal

Way = Literal["plain", "edge", "ditch", "hand", "inside", "again"]
Cause = Literal["there", "free", "reach", "turn", "layers", "length", "whole"]

FROM_OUTSIDE = frozenset({"edge", "ditch", "hand"})  # a folded edge is stitched down from its right side
JOINING = frozenset({"join", "attach", "close", "face"})
ENDING = frozenset({"hem", "bind", "casing", "rib", "fold", "insert"})
SHAPING = frozenset({"gather", "dart", "pleat", "tuck", "ease"})
# Flat width in cm that an opening must have for what works on a seam's allowances: scissors, a presser, a hand.
ON_ALLOWANCE = {"trim": 3.0, "clip": 3.0, "grade": 3.0, "finish": 3.0, "understitch": 5.0, "press": 5.0, "pad": 12.0}
ON_TOP = frozenset({"topstitch", "buttonhole", "button", "decorate", "make", "fasten"})
BACKING = frozenset({"fuse", "baste"})
SCISSORS, TURNING, HAND = 3.0, 5.0, 12.0


@dataclass(frozen=True)
class Act:
    """One step as the cloth meets it.

    `on` are lines, edges or sheets. `catches`: of joined lines, the edges that this row takes (all, if none is named). `holds` and
    `spares`: sheets that its stitches must, must not go through. `part` is drawn through the channel between the lines `through`;
    `channels`: lines through each of which whatever hangs by them alone is drawn.
    """

    id: str
    verb: str
    on: tuple[str, ...]
    way: Way = "plain"
    catches: frozenset[str] = frozenset()
    holds: tuple[str, ...] = ()
    spares: tuple[str, ...] = ()
    through: tuple[str, ...] = ()
    part: str = ""
    channels: tuple[tuple[str, ...], ...] = ()


@dataclass(frozen=True)
class Obstacle:
    """Why cloth does not let a step be done: the cause, on what; `guessed` where it rests on lengths that nobody measured."""

    cause: Cause
    thing: str
    guessed: bool = False


class Impossible(Exception):
    """A step that cannot be done, with its obstacle."""

    def __init__(self, cause: Cause, thing: str, guessed: bool = False) -> None:
        """Say the cause and on what."""
        super().__init__(f"{cause}: {thing}")
        self.obstacle = Obstacle(cause, thing, guessed)
