"""What the sewing interface answers: steps, findings, features."""

from typing import Literal

from pydantic import BaseModel

from rowanseed.core.sew.gravity import Kind
from rowanseed.core.sew.model import Feature, Place, Step
from rowanseed.web.api.types import FindingOut


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


def step_out(step: Step, covers: tuple[str, ...]) -> StepOut:
    """A step of the core's."""
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
