"""The sewing library's parts and a garment's steps."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, get_args

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.anatomy import Anatomy

Place = Literal["table", "iron", "machine", "overlocker", "hand"]
PLACES: tuple[Place, ...] = get_args(Place)
Layer = Literal["shell", "lining"]
Phase = Literal["prepare", "flat", "join", "attach", "finish"]
PHASES: tuple[Phase, ...] = get_args(Phase)
TOOLS = ("overlocker", "walking-foot", "blind-hem-foot", "buttonhole-foot", "twin-needle", "needle-and-thread-only")
BY_HAND = "needle-and-thread-only"  # no machine at all: every machine step is sewn by hand


def several(choice: str) -> tuple[str, ...]:
    """The choices of a feature that has more than one: `darts+pleats`."""
    return tuple(choice.split("+"))


def joined(choices: Sequence[str]) -> str:
    """Several choices of a feature as one word."""
    return "+".join(choices)


@dataclass(frozen=True)
class Feature:
    """A feature of a garment, or a school of practice: its choices (value, words), the first one the default.

    `units`: the kinds of unit that may have it; `group`: the part of a description that it belongs to.
    """

    name: str
    title: str
    choices: tuple[tuple[str, str], ...]
    reason: str = ""
    units: tuple[str, ...] = ()
    group: str = ""

    def refuse_unknown(self, choice: str) -> None:
        """Raise FeatureError unless this is one of the choices, or several of them joined by `+`."""
        known = dict(self.choices)
        for one in several(choice):
            if one not in known:
                raise FeatureError(f"{self.title} cannot be “{one}”. Choose one of: {', '.join(known)}.", self.name)


@dataclass(frozen=True)
class Need:
    """What must be done before, by which law, and why. `law` is `method` where only the chosen way of working asks for it."""

    id: str
    why: str
    law: str = "method"


@dataclass(frozen=True)
class StartingPoint:
    """A common garment to begin a description from."""

    name: str
    title: str
    features: Mapping[str, str]


@dataclass(frozen=True)
class Asked:
    """A need as a template writes it: of a template (`id`) or of all that is done to a thing (`on`), with its law and reason.

    `when` limits it to some garments. A need without a law of its own is the method's.
    """

    why: str
    id: str = ""
    on: str = ""
    law: str = "method"
    when: tuple[str, ...] = ()


@dataclass(frozen=True)
class Instead:
    """How an operation is done without a tool: where, how long, and in which way."""

    tool: str
    place: Place
    minutes: int
    how: str


@dataclass(frozen=True)
class Doing:
    """What an operation is, whoever it is done to: its words, where and how long, and what it sets at the machine.

    `carry_on`: nobody stops right after it; `wait_hours`: how long it hangs, dries or cools before what needs it goes on;
    `one_pass`: where seams are sewn and finished in one pass, so is this one.
    """

    title: str
    place: Place
    phase: Phase
    minutes: int
    numbers: tuple[str, ...] = ()
    checks: tuple[str, ...] = ()
    wrong: tuple[tuple[str, str], ...] = ()
    cautions: tuple[str, ...] = ()
    carry_on: bool = False
    wait_hours: int = 0
    one_pass: bool = False
    instead: tuple[Instead, ...] = ()
    stitch: str = ""
    foot: str = ""
    needle: str = ""
    thread: str = ""


@dataclass(frozen=True)
class Template:
    """One way of doing one thing, whatever garment it is done to: a verb on kinds of edges, seams, units or spaces.

    Args:
        units: the kinds of unit that it is done to; an instance is made for each that has all the things of `on`.
        layers: the layers that it is done to.
        on: things by name, `{u}` standing for the unit; `thing if condition & condition` is limited to some garments, `thing?` is
            left out where the unit has none.
        seams: for a template of seams, their names (`*`: all); `{seam}` in id and title stands for the seam's own.
        methods: for a template of seams, the ways of finishing it belongs to.
        covers: things out of reach afterwards. closes: spaces closed by it. inside: spaces it works in.
        stage: its place in the life of its thing, where the verb alone does not say it.
        flat: it must be done before the unit becomes a tube.
        collect: one operation for all its seams of a layer, not one for each.
    """

    id: str
    verb: str
    does: Doing
    units: tuple[str, ...] = ()
    layers: tuple[str, ...] = ("shell",)
    on: tuple[str, ...] = ()
    seams: tuple[str, ...] = ()
    methods: tuple[str, ...] = ()
    covers: tuple[str, ...] = ()
    closes: tuple[str, ...] = ()
    inside: tuple[str, ...] = ()
    stage: int | None = None
    flat: bool = False
    collect: bool = False
    when: tuple[str, ...] = ()
    any: tuple[str, ...] = ()
    needs: tuple[Asked, ...] = ()
    before: tuple[Asked, ...] = ()

    @property
    def title(self) -> str:
        """Its words."""
        return self.does.title


@dataclass(frozen=True)
class Operation:
    """A template done to the things of one garment. `template` is the id it has in the library."""

    id: str
    template: str
    verb: str
    unit: str
    layer: Layer
    on: tuple[str, ...]
    does: Doing
    covers: tuple[str, ...] = ()
    closes: tuple[str, ...] = ()
    inside: tuple[str, ...] = ()
    stage: int = 0
    flat: bool = False
    needs: tuple[Asked, ...] = ()
    before: tuple[Asked, ...] = ()

    @property
    def title(self) -> str:
        """Its words."""
        return self.does.title

    @property
    def place(self) -> Place:
        """Where it is done."""
        return self.does.place

    @property
    def phase(self) -> Phase:
        """The part of the work that it belongs to."""
        return self.does.phase

    @property
    def minutes(self) -> int:
        """How long it takes."""
        return self.does.minutes


@dataclass(frozen=True)
class Library:
    """Everything the sewing engine knows: features, schools, the anatomy of units, templates in their natural order."""

    features: tuple[Feature, ...]
    schools: tuple[Feature, ...]
    anatomy: Anatomy
    templates: tuple[Template, ...]

    @cached_property
    def _by_id(self) -> Mapping[str, Template]:
        return {t.id: t for t in self.templates}

    def template(self, operation_id: str) -> Template | None:
        """The template of an operation's id, whatever unit it is done to."""
        return self._by_id.get(operation_id.partition("@")[0])


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
class OwnStep:
    """A step in the sewist's own words; `verb` and `on` where she said what it does, else only its place in the order."""

    id: str
    text: str
    place: Place = "table"
    minutes: int = 10
    after: tuple[str, ...] = ()
    before: tuple[str, ...] = ()
    verb: str = ""
    on: tuple[str, ...] = ()


@dataclass(frozen=True)
class DeclaredSeam:
    """A seam within one unit as the pattern declares it.

    Args:
        unit: `top` and `low` stand for the garment's upper and lower part, else the unit's name.
        name: the seam's name within the unit. words: how a step calls it.
        ends: the edges that it runs into on either piece.
    """

    unit: str
    name: str
    words: str
    ends: tuple[str, ...] = ()


@dataclass(frozen=True)
class SewnGarment:
    """A garment by its features, with the tools in hand and the schools followed.

    A feature with several choices joins them by `+`. `units`: what a unit (or a seam, by its name) has otherwise than the rest.
    `own`: steps that the sewist added. `declared`: seams that its pattern declares.
    """

    features: Mapping[str, str]
    tools: frozenset[str] = frozenset()
    schools: Mapping[str, str] = field(default_factory=dict)
    cloth: ClothTraits = ClothTraits()
    units: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    own: tuple[OwnStep, ...] = ()
    declared: tuple[DeclaredSeam, ...] = ()


@dataclass(frozen=True)
class Step:
    """An operation in a garment's order, with its needs that this garment has and the numbers worked out for it."""

    operation: Operation
    needs: tuple[Need, ...]
    settings: Mapping[str, str]
    numbers: Mapping[str, str]
    sitting: int = 1
