"""GET /api/v1/features, POST /api/v1/sequence, POST /api/v1/sequence/check"""

from dataclasses import replace
from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.cloth.model import Weight
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import Piece
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.model import TOOLS, ClothTraits, Feature, Place, SewnGarment, Step
from rowanseed.core.sew.numbers import Facts, numbers_for
from rowanseed.core.sew.order import check_order, place_changes, sequence
from rowanseed.formats.sewing import library
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


class NumbersIn(In):
    """Figures typed for this garment: they stand in the steps before the pattern's and the practice's."""

    hem: HemIn = HemIn()
    allowance: Mm | None = None
    buttons: Annotated[int, Field(ge=0, le=200)] | None = None
    button: Mm | None = None
    overlap: Mm | None = None
    zip: Mm | None = None

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


class SequenceIn(In):
    """A garment by its features."""

    features: dict[str, str]
    equipment: list[str] = []
    schools: dict[str, str] = {}
    sitting_minutes: Annotated[int, Field(ge=10, le=600)] = 60
    cloth: SewClothIn | None = None
    pieces: list[SewPieceIn] = []
    numbers: NumbersIn = NumbersIn()

    def garment(self) -> SewnGarment:
        """The core's garment."""
        cloth = self.cloth.traits() if self.cloth else ClothTraits()
        return SewnGarment(self.features, frozenset(self.equipment), self.schools, cloth)

    def facts(self) -> Facts:
        """What the numbers are worked out from."""
        shapes = {
            p.name or p.id: PieceShape(tuple(p.outline), edges=p.edges, allowance_mm=self.numbers.allowance or 0.0)
            for p in self.pieces
            if all(0 <= i < len(p.outline) for edge in p.edges.values() for i in edge)
        }
        pieces = tuple((Piece(str(k), name, 1, shapes={"": s}), s) for k, (name, s) in enumerate(shapes.items()))
        required = requirements(
            Ask(pieces, self.features, self.numbers.figures(), weight=self.cloth.weight if self.cloth else "medium")
        )
        allowance = self.numbers.allowance
        facts = Facts(hem=self.features.get("hem", "double"), shapes=shapes, schools=self.schools, required=required)
        return facts if allowance is None else replace(facts, allowance_mm=allowance)


class CheckIn(SequenceIn):
    """A garment and an order of its step ids."""

    order: Annotated[list[str], Field(max_length=1000)]


class NeedOut(BaseModel):
    """What must be done before, and why."""

    id: str
    why: str


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


class SequenceOut(BaseModel):
    """The steps in a safe order."""

    steps: list[StepOut]
    findings: list[FindingOut]


class OrderFindingOut(BaseModel):
    """Something about an order."""

    level: Literal["note", "care", "stop"]
    code: str
    text: str
    step: str
    needs: str


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

    @staticmethod
    def of(feature: Feature) -> "FeatureOut":
        """A feature of the library."""
        choices = [ChoiceOut(value=value, title=title) for value, title in feature.choices]
        return FeatureOut(name=feature.name, title=feature.title, reason=feature.reason, choices=choices)


class FeaturesOut(BaseModel):
    """Everything a garment may have."""

    features: list[FeatureOut]
    schools: list[FeatureOut]
    equipment: list[str]


def _step_out(step: Step) -> StepOut:
    op = step.operation
    return StepOut(
        id=op.id,
        title=op.title,
        place=op.place,
        needs=[NeedOut(id=n.id, why=n.why) for n in step.needs],
        settings=dict(step.settings),
        numbers=dict(step.numbers),
        checks=list(op.checks),
        wrong=list(op.wrong),
        cautions=list(op.cautions),
        minutes=op.minutes,
        sitting=step.sitting,
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
    """A safe order with few changes of place, in sittings."""
    facts = asked.facts()
    steps = sequence(library(), asked.garment(), lambda op: numbers_for(op, facts), asked.sitting_minutes)
    text = f"{len(steps)} steps, {place_changes(steps)} changes of place, {steps[-1].sitting} sittings."
    findings = [FindingOut(level="note", code="order", text=text)]
    if unknown := sorted(set(asked.equipment) - set(TOOLS)):
        words = f"These tools change no step here: {', '.join(unknown)}."
        findings.append(FindingOut(level="note", code="tool-without-effect", text=words))
    return SequenceOut(steps=[_step_out(s) for s in steps], findings=findings)


@router.post("/sequence/check", summary="Check any order")
def check(asked: CheckIn) -> CheckOut:
    """Each need that an order breaks, with what would happen."""
    found = check_order(library(), asked.garment(), asked.order)
    return CheckOut(findings=[OrderFindingOut.model_validate(vars(f)) for f in found])
