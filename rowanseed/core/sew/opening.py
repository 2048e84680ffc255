"""An opening down the back in place of the front: the same operations, told of the other side."""

import re
from collections.abc import Iterable
from dataclasses import replace

from rowanseed.core.sew.anatomy import edges_of
from rowanseed.core.sew.model import Doing, Operation, SewnGarment

OPENED = ("front-edge", "placket", "buttonhole")
NECK_PARTS = ("collar", "stand", "hood")  # what is told of their ends is told of the opening
OTHER = {"front": "back", "back": "front", "Front": "Back", "Back": "Front"}
SIDE = re.compile(r"\b(front|back|Front|Back)(?=s?\b)")


def opens_at_back(garment: SewnGarment) -> bool:
    """Whether buttons, snaps, hooks or bands close the garment down its back."""
    return garment.features.get("opening-at") == "back"


def at_back(words: str) -> str:
    """A sentence about a front opening told of one at the back.

    >>> at_back("Sew the bands to the fronts")
    'Sew the bands to the backs'
    """
    return SIDE.sub(lambda found: OTHER[found.group()], words)


def as_it_opens(op: Operation, garment: SewnGarment) -> Operation:
    """An operation in the words of this garment's opening: those on its edges, and on what ends there, may lie at the back."""
    things = [edge for thing in (*op.on, *op.covers) for edge in edges_of(thing)]
    opened = any(thing.rpartition(".")[2] in OPENED for thing in things)
    if not opens_at_back(garment) or not (opened or op.unit in NECK_PARTS or op.unit == "facing"):
        return op
    return replace(op, does=_turned(op.does))


def _turned(does: Doing) -> Doing:
    return replace(
        does,
        title=at_back(does.title),
        checks=tuple(_each(does.checks)),
        wrong=tuple((at_back(what), at_back(help_)) for what, help_ in does.wrong),
    )


def _each(words: Iterable[str]) -> Iterable[str]:
    return (at_back(line) for line in words)
