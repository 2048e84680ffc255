"""What the steps of a pieced garment are made with: the steps so far, a step's adding, what edges and seams are called."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from rowanseed.core.lengths import Unit
from rowanseed.core.sew.cloth.acts import Way
from rowanseed.core.sew.model import Doing, Layer, Need, Operation, Phase, Place
from rowanseed.core.sew.pieces.model import PiecedGarment, SewnPiece, StackedSeam, base_of
from rowanseed.core.sew.pieces.said import Said
from rowanseed.core.sew.stages import stage_of

MINUTES = {
    "mark": 10, "gather": 15, "pleat": 20, "dart": 10, "tuck": 15, "ease": 10, "shirr": 20, "join": 8, "attach": 15, "finish": 6,
    "press": 4, "hem": 15, "fold": 8, "bind": 20, "close": 12, "face": 15, "make": 12, "trim": 5, "turn": 5, "insert": 20,
    "understitch": 5, "fuse": 10, "baste": 12, "stay": 5, "buttonhole": 25, "cut": 5, "button": 20, "fasten": 10, "pad": 15,
    "decorate": 20, "topstitch": 10, "try-on": 15, "hang": 5,
}  # fmt: skip
ENDS_SAID = frozenset({"edge", "end", "ends", "side", "hem", "neck", "waist", "wrist", "cap", "armhole", "gap"})


@dataclass
class Made:
    """The steps so far, and by which of them each edge is used up, each seam sewn and each piece made."""

    items: dict[str, tuple[Operation, list[Need]]] = field(default_factory=dict)
    used: dict[str, str] = field(default_factory=dict)  # edge -> id of the step that uses it
    whole: dict[str, list[str]] = field(default_factory=dict)  # edge -> ids of what is done to it before it is crossed
    place: dict[str, int] = field(default_factory=dict)  # edge -> when it is used, in the natural order
    pieces: dict[str, list[str]] = field(default_factory=dict)  # piece -> ids of what makes it
    ways: dict[str, Way] = field(default_factory=dict)  # how a row is sewn where it is not plain

    turning: list[str] = field(default_factory=list)  # the steps by which everything is turned right side out
    turned: dict[str, list[str]] = field(default_factory=dict)  # edge -> ids of what turns it and presses it so

    def backing_of(self, edge: str) -> list[str]:
        """The steps by which what an edge belongs to is backed."""
        return [id_ for id_ in self.whole.get(edge, ()) if self.items[id_][0].verb in ("fuse", "baste")]

    def before_used(self, edges: Sequence[str], need: Need) -> None:
        """Let whatever uses these edges wait for a step."""
        for user in dict.fromkeys(self.used[e] for e in edges if e in self.used):
            self.items[user][1].append(need)


@dataclass(frozen=True)
class StepsAsked:
    """What the steps are made for: the garment, whether an overlocker is there, the unit of lengths, what was said beside it.

    `bagged`: the seams (by their place) that end up inside and are turned; `felled`: those that are closed from outside;
    `runs`: those that are sewn through both layers in one run, after what lies beside them is turned.
    """

    garment: PiecedGarment
    overlocker: bool = False
    unit: Unit = "cm"
    bagged: frozenset[int] = frozenset()
    felled: frozenset[int] = frozenset()
    runs: frozenset[int] = frozenset()
    said: Said = Said()


def add(
    made: Made, id_: str, verb: str, title: str, on: tuple[str, ...], place: Place, phase: Phase, piece: SewnPiece,
    *, after: tuple[Need, ...] = (), covers: tuple[str, ...] = (), closes: tuple[str, ...] = (), checks: tuple[str, ...] = (),
    way: Way = "plain", numbers: tuple[str, ...] = (),
) -> str:  # fmt: skip
    """Add a step; its id, made its own where another has it."""
    own, n = id_, 2
    while own in made.items:
        own, n = f"{id_}-{n}", n + 1
    does = Doing(title[0].upper() + title[1:], place, phase, MINUTES.get(verb, 8), numbers, checks)
    layer: Layer = "lining" if piece.layer == "lining" else "shell"
    op = Operation(own, verb, verb, piece.unit, layer, on, does, covers, closes, stage=stage_of(verb))
    needs = list(after)
    if id_ != "mark-pieces":
        needs.append(Need("mark-pieces", "Marks are lost once the pieces are handled.", "marks"))
    made.items[own] = (op, needs)
    if way != "plain":
        made.ways[own] = way
    return own


@dataclass
class Work:
    """The steps of one thing in a row, each after the one before."""

    made: Made
    on: tuple[str, ...]
    slug: str
    piece: SewnPiece
    phase: Phase
    needs: tuple[Need, ...] = ()
    done: list[str] = field(default_factory=list)

    def then(
        self, verb: str, title: str, place: Place = "machine", why: str = "It is sewn first.", law: str = "clip", *,
        name: str = "", covers: tuple[str, ...] = (), closes: tuple[str, ...] = (), way: Way = "plain",
        numbers: tuple[str, ...] = (),
    ) -> "Work":  # fmt: skip
        """Add the next step: `why` and `law` say why it waits for the one before."""
        after = (Need(self.done[-1], why, law),) if self.done else self.needs
        id_ = f"{name or verb}-{self.slug}"
        self.done.append(
            add(
                self.made,
                id_,
                verb,
                title,
                self.on,
                place,
                self.phase,
                self.piece,
                after=after,
                covers=covers,
                closes=closes,
                way=way,
                numbers=numbers,
            )
        )
        return self


def words_of(g: PiecedGarment, edges: Sequence[str]) -> str:
    """What edges are called: `the front's and the back's waist edge`."""
    owners = list(dict.fromkeys(said_of(g.piece_of(e)) for e in edges))
    names = list(dict.fromkeys(base_of(e.rpartition(".")[2]).replace("-", " ") for e in edges))
    said = " and ".join(names)
    edge = "" if said.split()[-1] in ENDS_SAID else " edge"
    return f"{' and '.join(f'the {owner}’s' for owner in owners)} {said}{edge}"


def seam_words(g: PiecedGarment, seams: Sequence[StackedSeam]) -> str:
    """What a seam is called, or those of both sides: `the side seams of front and back`."""
    names = list(dict.fromkeys(base_of(e.rpartition(".")[2]).replace("-", " ") for s in seams for e in s.edges))
    owners = list(dict.fromkeys(said_of(g.piece_of(e)) for s in seams for e in s.edges))
    several = len(seams) > 1 or all(g.piece_of(e).sides == 2 for s in seams for e in s.edges)
    said = " and ".join(names)
    return f"the {said if said.endswith('seam') else f'{said} seam'}{'s' if several else ''} of {' and '.join(owners)}"


def said_of(piece: SewnPiece) -> str:
    """A piece by its name, with its lining where the name does not say so."""
    name = piece.id.replace("-", " ").replace("_", " ")
    return (
        f"{name} lining" if piece.layer == "lining" and "lining" not in name and name.split()[0] != "lining" else name
    )


def slug_of(edge: str) -> str:
    """An edge as a part of a step's id."""
    return edge.replace(".", "-").replace("+", "-")


def rank_of(g: PiecedGarment, seam: StackedSeam) -> tuple[bool, bool]:
    """Seams within a unit first, then those between units; bands and facings last."""
    owners = [g.piece_of(e) for e in seam.edges]
    return len({(p.unit, p.layer) for p in owners}) > 1, any(p.small and p.unit != "yoke" for p in owners)


def key_of(seam: StackedSeam) -> str:
    """A seam as steps name it: its edges."""
    return "+".join(seam.edges)


def seam_keys(g: PiecedGarment) -> Mapping[str, list[int]]:
    """The places of the seams by the name that steps give them."""
    found: dict[str, list[int]] = {}
    for n, seam in enumerate(g.seams):
        found.setdefault(key_of(seam), []).append(n)
    return found
