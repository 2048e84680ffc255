"""GET /api/v1/features, POST /api/v1/sequence, POST /api/v1/sequence/check"""

from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Literal, Self

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.cloth.model import Weight
from rowanseed.core.errors import FeatureError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import Piece
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.effect import without_effect
from rowanseed.core.sew.garment import assembled, settled_features
from rowanseed.core.sew.gravity import Kind
from rowanseed.core.sew.model import TOOLS, ClothTraits, Feature, OwnStep, Place, SewnGarment, Step, joined, several
from rowanseed.core.sew.numbers import AtThing, Facts, numbers_for
from rowanseed.core.sew.order import covered_by, described_order, place_changes, sequence
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.model import PiecedGarment
from rowanseed.core.sew.pieces.order import check_pieces, ordered, planned_pieces
from rowanseed.core.sew.planner import Objective
from rowanseed.formats.sewing import library
from rowanseed.web.api.pieces import FateIn, GarmentPieceIn, GarmentSeamIn, garment_of
from rowanseed.web.api.types import FindingOut, In, Mm, OutlineIn

router = APIRouter(prefix="/api/v1", tags=["sew"])


class SewClothIn(In):
    """What of the cloth matters at the machine."""

    weight: Weight = "medium"
    knit: bool = False
    piled: bool = False
    slippery: bool = False
    ravels: bool = False
    sheer: bool = False
    loose: bool = False
    fur: bool = False
    leather: bool = False
    dense: bool = False
    stretch: Annotated[float, Field(ge=0, le=3)] = 0.0
    fibre: Annotated[str, Field(max_length=120)] = ""

    def traits(self) -> ClothTraits:
        """The core's traits, the iron by the fibre."""
        given = self.model_dump(exclude={"fibre"})
        return ClothTraits(**given, iron=care_of(self.fibre).iron_words() if self.fibre else "")


class SewPieceIn(In):
    """A piece the numbers may be taken from: its name, outline and named edges."""

    name: str = ""
    id: str = ""
    outline: OutlineIn
    edges: dict[str, tuple[int, int]] = {}


class HemIn(In):
    """The folds of a hem; `second` is the only one of a hem turned once."""

    first: Mm | None = None
    second: Mm | None = None


class AtThingIn(In):
    """Figures of one edge or seam."""

    first: Mm | None = None
    second: Mm | None = None
    allowance: Mm | None = None

    def figures(self) -> AtThing:
        """The core's figures."""
        return AtThing(self.first, self.second, self.allowance)


class NumbersIn(In):
    """Figures typed for this garment: they stand in the steps before the pattern's and the practice's.

    Figures of one edge or seam are typed by its name: `"skirt.hem": {"second": "2 in"}`, `"skirt.side": {"allowance": "1 in"}`.
    """

    model_config = ConfigDict(extra="allow")

    hem: HemIn = HemIn()
    allowance: Mm | None = None
    buttons: Annotated[int, Field(ge=0, le=200)] | None = None
    button: Mm | None = None
    overlap: Mm | None = None
    zip: Mm | None = None

    @model_validator(mode="after")
    def _things(self) -> "NumbersIn":
        for name, own in (self.model_extra or {}).items():
            if "." not in name:
                known = ", ".join(type(self).model_fields)
                raise ValueError(f"There is no figure called “{name}”. Known: {known}, or an edge such as skirt.hem.")
            AtThingIn.model_validate(own)
        return self

    def at(self) -> dict[str, AtThing]:
        """The figures of single edges and seams."""
        return {name: AtThingIn.model_validate(own).figures() for name, own in (self.model_extra or {}).items()}

    def figures(self) -> Figures:
        """The core's figures."""

        def length(mm: float | None) -> Length | None:
            return None if mm is None else Length(mm, f"{mm:g} mm", "mm")

        return Figures(
            self.buttons,
            length(self.button),
            None,
            length(self.hem.first),
            length(self.hem.second),
            length(self.overlap),
            length(self.zip),
        )


Choice = str | list[str]


class OwnStepIn(In):
    """A step in the sewist's own words; `after` and `before` name steps by id."""

    text: Annotated[str, Field(min_length=1, max_length=300)]
    id: Annotated[str, Field(max_length=60)] = ""
    place: Place = "table"
    minutes: Annotated[int, Field(ge=0, le=600)] = 10
    after: Annotated[list[str], Field(max_length=50)] = []
    before: Annotated[list[str], Field(max_length=50)] = []
    verb: str | None = None
    on: Annotated[list[str], Field(max_length=20)] = []


class SequenceIn(In):
    """A garment by its features, or by its pieces; `units`: what one of its units, or one seam, has otherwise than the rest."""

    model_config = ConfigDict(extra="forbid")  # a key that nobody knows would be taken and do nothing

    features: dict[str, Choice] = {}
    units: dict[str, dict[str, Choice]] = {}
    equipment: list[str] = []
    schools: dict[str, str] = {}
    sitting_minutes: Annotated[int, Field(ge=10, le=600)] = 60
    cloth: SewClothIn | None = None
    pieces: Annotated[list[GarmentPieceIn | SewPieceIn], Field(max_length=200)] = []
    seams: Annotated[list[GarmentSeamIn], Field(max_length=400)] = []
    fates: Annotated[dict[str, FateIn], Field(max_length=800)] = {}
    numbers: NumbersIn = NumbersIn()
    own_steps: Annotated[list[OwnStepIn], Field(max_length=200)] = []
    objective: Objective | None = None

    @field_validator("features", "units")
    @classmethod
    def _not_empty(cls, given: dict[str, object]) -> dict[str, object]:
        for own in given.values():
            if own == [] or (isinstance(own, dict) and [] in own.values()):
                raise ValueError("A list of choices names at least one; “none” where there is none.")
        return given

    @model_validator(mode="after")
    def _told(self) -> Self:
        if "features" not in self.model_fields_set and not any(isinstance(p, GarmentPieceIn) for p in self.pieces):
            raise ValueError("Give features, or pieces with their units.")
        return self

    def pieced(self) -> PiecedGarment | None:
        """The garment by its pieces, where any piece says its unit. Raises FeatureError."""
        own = [p for p in self.pieces if isinstance(p, GarmentPieceIn)]
        if not own:
            if self.seams or self.fates:
                raise FeatureError("Seams and fates speak of pieces: give pieces with their units.", "pieces")
            return None
        return garment_of(own, self.seams, self.fates)

    def garment(self) -> SewnGarment:
        """The core's garment."""
        cloth = self.cloth.traits() if self.cloth else ClothTraits()
        features = {name: one_word(choice) for name, choice in self.features.items()}
        units = {unit: {name: one_word(choice) for name, choice in own.items()} for unit, own in self.units.items()}
        own = tuple(
            OwnStep(
                s.id or f"own-{k}",
                s.text,
                s.place,
                s.minutes,
                tuple(s.after),
                tuple(s.before),
                s.verb or "",
                tuple(s.on),
            )
            for k, s in enumerate(self.own_steps, 1)
        )
        return SewnGarment(features, frozenset(self.equipment), self.schools, cloth, units, own)

    def facts(self) -> Facts:
        """What the numbers are worked out from."""
        shapes = {
            p.name or p.id: PieceShape(tuple(p.outline), edges=p.edges, allowance_mm=self.numbers.allowance or 0.0)
            for p in self.pieces
            if isinstance(p, SewPieceIn) and all(0 <= i < len(p.outline) for edge in p.edges.values() for i in edge)
        }
        pieces = tuple((Piece(str(k), name, 1, shapes={"": s}), s) for k, (name, s) in enumerate(shapes.items()))
        features = {n: several(c)[0] for n, c in settled_features(library(), self.garment()).items()}
        required = requirements(
            Ask(pieces, features, self.numbers.figures(), weight=self.cloth.weight if self.cloth else "medium")
        )
        allowance = self.numbers.allowance
        facts = Facts(
            hem=features["hem"],
            lining_pleat=features["lining-pleat"],
            sleeve=features["sleeve"],
            straps=features["straps"],
            yoke=features["yoke"],
            knit=bool(self.cloth and self.cloth.knit),
            shapes=shapes,
            schools=self.schools,
            required=required,
            at=self.numbers.at(),
        )
        return facts if allowance is None else replace(facts, allowance_mm=allowance)


def one_word(choice: Choice) -> str:
    """A choice, or several, as the core writes them."""
    return choice if isinstance(choice, str) else joined(choice)


class CheckIn(SequenceIn):
    """A garment and an order of its step ids."""

    order: Annotated[list[str], Field(max_length=1000)]


class NeedOut(BaseModel):
    """What must be done before, why, and by which law; `method` where only the chosen way of working asks for it."""

    id: str
    why: str
    law: str


class StepOut(BaseModel):
    """One step in its place."""

    id: str
    title: str
    place: Place
    needs: list[NeedOut]
    settings: dict[str, str]
    numbers: dict[str, str]
    checks: list[str]
    wrong: list[tuple[str, str]]
    cautions: list[str]
    minutes: int
    sitting: int
    verb: str
    unit: str
    layer: str
    on: list[str]
    covers: list[str]
    closes: list[str]


class SewFindingOut(FindingOut):
    """Something to know of a garment as it was described; `kind` as in a checked order."""

    kind: Kind = "answer"
    on: list[str] = []


class SequenceOut(BaseModel):
    """The steps in a safe order."""

    steps: list[StepOut]
    findings: list[SewFindingOut]


class OrderFindingOut(BaseModel):
    """Something about an order."""

    level: Literal["note", "care", "stop"]
    code: str
    text: str
    step: str
    needs: str
    law: str
    on: list[str]
    kind: Kind


class CheckOut(BaseModel):
    """What is wrong with an order; nothing above `note` for a sound one."""

    findings: list[OrderFindingOut]


class ChoiceOut(BaseModel):
    """One choice of a feature or school."""

    value: str
    title: str


class FeatureOut(BaseModel):
    """A feature or school and its choices, the first one the default."""

    name: str
    title: str
    reason: str = ""
    choices: list[ChoiceOut]
    units: list[str]

    @staticmethod
    def of(feature: Feature) -> "FeatureOut":
        """A feature of the library."""
        choices = [ChoiceOut(value=value, title=title) for value, title in feature.choices]
        units = list(feature.units)
        return FeatureOut(name=feature.name, title=feature.title, reason=feature.reason, choices=choices, units=units)


class FeaturesOut(BaseModel):
    """Everything a garment may have."""

    features: list[FeatureOut]
    schools: list[FeatureOut]
    equipment: list[str]


def _step_out(step: Step, covers: tuple[str, ...]) -> StepOut:
    op = step.operation
    return StepOut(
        id=op.id,
        title=op.title,
        place=op.place,
        needs=[NeedOut(id=n.id, why=n.why, law=n.law) for n in step.needs],
        settings=dict(step.settings),
        numbers=dict(step.numbers),
        checks=list(op.does.checks),
        wrong=list(op.does.wrong),
        cautions=list(op.does.cautions),
        minutes=op.minutes,
        sitting=step.sitting,
        verb=op.verb,
        unit=op.unit,
        layer=op.layer,
        on=list(op.on),
        covers=list(covers),
        closes=list(op.closes),
    )


@router.get("/features", summary="Every feature, school and tool")
def features() -> FeaturesOut:
    """Every feature and school with its choices."""
    known = library()
    return FeaturesOut(
        features=[FeatureOut.of(f) for f in known.features],
        schools=[FeatureOut.of(s) for s in known.schools],
        equipment=list(TOOLS),
    )


@router.post("/sequence", summary="A safe sewing order")
def order(asked: SequenceIn) -> SequenceOut:
    """A safe order with few changes of place, in sittings; by pieces and fates where the pieces say their units."""
    pieced = asked.pieced()
    if pieced is not None:
        return _by_pieces(asked, pieced)
    facts, garment = asked.facts(), asked.garment()
    steps = sequence(
        library(), garment, lambda op: numbers_for(op, facts), asked.sitting_minutes, objective=asked.objective
    )
    assembly = assembled(library(), garment)
    said = described_order(library(), garment, steps, asked.objective)
    findings = [SewFindingOut(level="note", code="order", text=said)]
    findings += [SewFindingOut(level="note", code="taken", text=text) for text in assembly.taken]
    unused = without_effect(library(), garment)
    findings += [SewFindingOut(level="note", code="choice-without-effect", text=text) for text in unused]
    for name in sorted(set(garment.units) - set(assembly.units)):
        if not assembly.has(name):
            known = ", ".join(assembly.units)
            text = f"This garment has no part called “{name}”; it has: {known}. What was said of it changes nothing."
            findings.append(SewFindingOut(level="note", code="unit-without-effect", text=text))
    if unknown := sorted(set(asked.equipment) - set(TOOLS)):
        words = f"These tools change no step here: {', '.join(unknown)}."
        findings.append(SewFindingOut(level="note", code="tool-without-effect", text=words))
    covers = covered_by(assembly, [s.operation for s in steps])
    return SequenceOut(steps=[_step_out(s, covers[s.operation.id]) for s in steps], findings=findings)


def _piece_steps(asked: SequenceIn, garment: PiecedGarment) -> StepsAsked:
    return StepsAsked(garment, "overlocker" in asked.equipment)


def _by_pieces(asked: SequenceIn, garment: PiecedGarment) -> SequenceOut:
    """The order of a garment by its pieces: open edges are asked about, features beside pieces change nothing and say so."""
    cloth = asked.cloth.traits() if asked.cloth else ClothTraits()
    _, steps = ordered(_piece_steps(asked, garment), cloth, asked.sitting_minutes, asked.objective or "least-changes")
    said = f"{len(steps)} steps, {place_changes(steps)} changes of place, {steps[-1].sitting} sittings."
    findings = [SewFindingOut(level="note", code="order", text=said)]
    for edge in garment.open:
        text = f"What becomes of {edge} is not said: sewn to another edge, hemmed, bound, or left?"
        findings.append(SewFindingOut(level="care", code="edge-open", text=text, on=[edge]))
    for edge, side in garment.half_said:
        text = f"What becomes of {edge} on the {side} is not said: sewn to another edge, hemmed, bound, or left?"
        findings.append(SewFindingOut(level="care", code="edge-open", text=text, on=[edge]))
    taken: tuple[tuple[str, Iterable[object]], ...] = (
        ("features", asked.features), ("units", asked.units), ("schools", asked.schools),
        ("own_steps", range(len(asked.own_steps))),
        ("numbers", sorted(asked.numbers.model_fields_set)),
    )  # fmt: skip
    for name in (f"{what}.{each}" for what, several_ in taken for each in several_):
        text = f"{name} changes nothing: the garment is told by its pieces and fates."
        findings.append(SewFindingOut(level="note", code="no-effect", text=text, on=[name]))
    return SequenceOut(steps=[_step_out(s, s.operation.covers) for s in steps], findings=findings)


@router.post("/sequence/check", summary="Check any order")
def check(asked: CheckIn) -> CheckOut:
    """Each need that an order breaks, with what would happen."""
    pieced = asked.pieced()
    if pieced is not None:
        told = check_pieces(planned_pieces(_piece_steps(asked, pieced)), asked.order)
        return CheckOut(findings=[OrderFindingOut.model_validate({**vars(f), "on": list(f.on)}) for f in told])
    found = check_order(library(), asked.garment(), asked.order)
    return CheckOut(findings=[OrderFindingOut.model_validate({**vars(f), "on": list(f.on)}) for f in found])
