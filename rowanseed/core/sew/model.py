"""The sewing library's parts and a garment's steps."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, get_args

from rowanseed.core.errors import FeatureError

Place = Literal["table", "iron", "machine", "overlocker", "hand"]
PLACES: tuple[Place, ...] = get_args(Place)
Phase = Literal["prepare", "flat", "join", "attach", "finish"]
PHASES: tuple[Phase, ...] = get_args(Phase)
TOOLS = ("overlocker", "walking-foot", "blind-hem-foot", "buttonhole-foot", "twin-needle", "needle-and-thread-only")
BY_HAND = "needle-and-thread-only"  # no machine at all: every machine step is sewn by hand


@dataclass(frozen=True)
class Feature:
    """A feature of a garment, or a school of practice: its choices (value, words), the first one the default."""

    name: str
    title: str
    choices: tuple[tuple[str, str], ...]
    reason: str = ""

    def refuse_unknown(self, choice: str) -> None:
        """Raise FeatureError unless this is one of the choices."""
        if choice not in dict(self.choices):
            known = ", ".join(value for value, _ in self.choices)
            raise FeatureError(f"{self.title} cannot be “{choice}”. Choose one of: {known}.", self.name)


@dataclass(frozen=True)
class Need:
    """What must be done before, and why; `when` limits it to some garments."""

    id: str
    why: str
    when: tuple[str, ...] = ()


@dataclass(frozen=True)
class Instead:
    """How an operation is done without a tool: where, how long, and in which way."""

    tool: str
    place: Place
    minutes: int
    how: str


@dataclass(frozen=True)
class Operation:
    """One operation of the library. `when`: all conditions hold; `any`: one of them, if given.

    `stitch`, `foot`, `needle`, `thread`: what it sets otherwise than a plain seam.
    `carry_on`: nobody stops right after it; `wait_hours`: how long it hangs, dries or cools before what needs it goes on.
    """

    id: str
    title: str
    place: Place
    phase: Phase
    minutes: int
    when: tuple[str, ...] = ()
    any: tuple[str, ...] = ()
    needs: tuple[Need, ...] = ()
    numbers: tuple[str, ...] = ()
    checks: tuple[str, ...] = ()
    wrong: tuple[tuple[str, str], ...] = ()
    cautions: tuple[str, ...] = ()
    carry_on: bool = False
    wait_hours: int = 0
    instead: tuple[Instead, ...] = ()
    stitch: str = ""
    foot: str = ""
    needle: str = ""
    thread: str = ""


@dataclass(frozen=True)
class Library:
    """Everything the sewing engine knows: features, schools, operations in their natural order."""

    features: tuple[Feature, ...]
    schools: tuple[Feature, ...]
    operations: tuple[Operation, ...]

    def title_of(self, operation_id: str) -> str:
        """An operation's title, or its id when the library has no such operation."""
        return next((o.title for o in self.operations if o.id == operation_id), operation_id)


@dataclass(frozen=True)
class ClothTraits:
    """What of the cloth matters at the machine and the iron; `dense`: denim, canvas and the like; `iron`: its heat in words."""

    weight: Literal["light", "medium", "heavy"] = "medium"
    knit: bool = False
    piled: bool = False
    slippery: bool = False
    ravels: bool = False
    sheer: bool = False
    loose: bool = False
    fur: bool = False
    leather: bool = False
    dense: bool = False
    stretch: float = 0.0
    iron: str = ""


@dataclass(frozen=True)
class SewnGarment:
    """A garment by its features, with the tools in hand and the schools followed."""

    features: Mapping[str, str]
    tools: frozenset[str] = frozenset()
    schools: Mapping[str, str] = field(default_factory=dict)
    cloth: ClothTraits = ClothTraits()


@dataclass(frozen=True)
class Step:
    """An operation in a garment's order, with its needs that this garment has and the numbers worked out for it."""

    operation: Operation
    needs: tuple[Need, ...]
    settings: Mapping[str, str]
    numbers: Mapping[str, str]
    sitting: int = 1
