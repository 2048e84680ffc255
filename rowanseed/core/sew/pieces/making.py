"""What the steps of a pieced garment are made with: the steps so far, a step's adding, what edges and seams are called."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from rowanseed.core.lengths import Unit
from rowanseed.core.sew.model import Doing, Layer, Need, Operation, Phase, Place
from rowanseed.core.sew.pieces.model import PiecedGarment, SewnPiece, StackedSeam
from rowanseed.core.sew.stages import stage_of

MINUTES = {
    "mark": 10,
    "gather": 15,
    "pleat": 20,
    "dart": 10,
    "tuck": 15,
    "ease": 10,
    "shirr": 20,
    "join": 8,
    "attach": 15,
    "finish": 6,
    "press": 4,
    "hem": 15,
    "fold": 8,
    "bind": 20,
    "close": 12,
    "face": 15,
    "make": 12,
    "trim": 5,
    "turn": 5,
    "insert": 10,
    "understitch": 5,
}
SIDED = re.compile(r"[-_ ](?:left|right|l|r)$", re.I)


@dataclass
class Made:
    """The steps so far, and by which of them each edge is used up, each seam sewn and each piece made."""

    items: dict[str, tuple[Operation, list[Need]]] = field(default_factory=dict)
    used: dict[str, str] = field(default_factory=dict)  # edge -> id of the step that uses it
    whole: dict[str, list[str]] = field(default_factory=dict)  # edge -> ids of what is done to it before it is crossed
    pieces: dict[str, list[str]] = field(default_factory=dict)  # piece -> ids of what makes it


@dataclass(frozen=True)
class StepsAsked:
    """What the steps are made for: the garment, whether an overlocker is there, the unit of lengths."""

    garment: PiecedGarment
    overlocker: bool = False
    unit: Unit = "cm"


def add(
    made: Made, id_: str, verb: str, title: str, on: tuple[str, ...], place: Place, phase: Phase, piece: SewnPiece,
    *, after: tuple[Need, ...] = (), covers: tuple[str, ...] = (), closes: tuple[str, ...] = (), checks: tuple[str, ...] = (),
) -> str:  # fmt: skip
    """Add a step; its id, made its own where another has it."""
    own, n = id_, 2
    while own in made.items:
        own, n = f"{id_}-{n}", n + 1
    does = Doing(title[0].upper() + title[1:], place, phase, MINUTES.get(verb, 8), checks=checks)
    layer: Layer = "lining" if piece.layer == "lining" else "shell"
    op = Operation(own, verb, verb, piece.unit, layer, on, does, covers, closes, stage=stage_of(verb))
    needs = list(after)
    if id_ != "mark-pieces":
        needs.append(Need("mark-pieces", "Marks are lost once the pieces are handled.", "marks"))
    made.items[own] = (op, needs)
    return own


def words_of(g: PiecedGarment, edges: Sequence[str]) -> str:
    """What edges are called: `the front's and the back's waist edge`."""
    owners = list(dict.fromkeys(g.piece_of(e).id.replace("-", " ") for e in edges))
    names = list(dict.fromkeys(base_of(e.rpartition(".")[2]).replace("-", " ") for e in edges))
    said = " and ".join(names)
    edge = (
        ""
        if said.split()[-1] in ("edge", "end", "ends", "side", "hem", "neck", "waist", "wrist", "cap", "armhole")
        else " edge"
    )
    return f"{' and '.join(f'the {owner}’s' for owner in owners)} {said}{edge}"


def seam_words(g: PiecedGarment, seams: Sequence[StackedSeam]) -> str:
    """What a seam is called, or those of both sides: `the side seams of front and back`."""
    names = list(dict.fromkeys(base_of(e.rpartition(".")[2]).replace("-", " ") for s in seams for e in s.edges))
    owners = list(dict.fromkeys(g.piece_of(e).id.replace("-", " ") for s in seams for e in s.edges))
    return f"the {' and '.join(names)} seam{'s' if len(seams) > 1 else ''} of {' and '.join(owners)}"


def slug_of(edge: str) -> str:
    """An edge as a part of a step's id."""
    return edge.replace(".", "-").replace("+", "-")


def base_of(name: str) -> str:
    """An edge's name without its side: `side-r` and `side-l` are worked alike."""
    return SIDED.sub("", name) or name


def rank_of(g: PiecedGarment, seam: StackedSeam) -> tuple[bool, bool]:
    """Seams within a unit first, then those between units; bands and facings last."""
    owners = [g.piece_of(e) for e in seam.edges]
    return len({(p.unit, p.layer) for p in owners}) > 1, any(p.small for p in owners)


def is_foot(edge: str) -> tuple[bool, bool]:
    """Hems at the foot come after the edges that run into them."""
    name = edge.rpartition(".")[2]
    return name in ("hem", "bottom", "foot", "lower", "wrist"), name == "hem"
