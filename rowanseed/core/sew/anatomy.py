"""The usual parts of a garment, as the library gives them: kinds of unit, their seams, the seams between them, openings."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

# The seam that makes a tube of a unit, and the units that are made before they are put to their place.
TUBES: Mapping[str, str] = {"body": "side", "bodice": "side", "skirt": "side", "leg": "inseam", "sleeve": "underarm"}
SMALL = frozenset(
    (
        "collar",
        "stand",
        "hood",
        "cuff",
        "waistband",
        "yoke",
        "pocket",
        "strap",
        "belt",
        "tab",
        "panel",
        "facing",
        "binding",
    )
)


@dataclass(frozen=True)
class SeamKind:
    """A seam that a kind of unit has: where it ends, and what sewing it has beyond any other seam.

    `curved`: it cannot be sewn as a French or felled seam; `apart`: its edges must open, so each is finished by itself;
    `covered`: it is never finished, being hidden between layers.
    """

    name: str
    units: tuple[str, ...]
    id: str
    words: str
    when: tuple[str, ...] = ()
    ends: tuple[str, ...] = ()
    curved: bool = False
    apart: bool = False
    covered: bool = False
    minutes: int = 10
    numbers: tuple[str, ...] = ()
    checks: tuple[str, ...] = ()
    wrong: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class JointKind:
    """A seam between two units: `part` is the edge of the one that is joined, `receiver` the other's (a body's by default)."""

    part: str
    receiver: str
    id: str
    words: str
    ends: tuple[str, ...] = ()
    curved: bool = False
    when: tuple[str, ...] = ()


@dataclass(frozen=True)
class Anatomy:
    """All that garments usually have."""

    seams: tuple[SeamKind, ...] = ()
    joints: tuple[JointKind, ...] = ()
    openings: tuple[tuple[str, tuple[str, ...]], ...] = ()


def edges_of(thing: str) -> Iterator[str]:
    """The edges of a thing: both of a seam between units, else the thing itself.

    >>> list(edges_of("sleeve.cap+body.armhole"))
    ['sleeve.cap', 'body.armhole']
    """
    yield from thing.split("+")


def unit_of(edge: str) -> str:
    """The unit of an edge or a seam within a unit; a unit is its own.

    >>> unit_of("lining.body.side"), unit_of("skirt.hem"), unit_of("pocket"), unit_of("lining.body")
    ('lining.body', 'skirt', 'pocket', 'lining.body')
    """
    parts = edge.split(".")
    if parts[0] == "lining":
        return ".".join(parts[:2])
    return parts[0]


def layer_of(thing: str) -> str:
    """The layer of a thing."""
    return "lining" if unit_of(thing).startswith("lining.") else "shell"
