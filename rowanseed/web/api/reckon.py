"""GET /api/v1/reckon, POST /api/v1/reckon/{name}"""

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import BaseModel, RootModel

from rowanseed.core.reckon.catalogue import CALCULATORS, reckon

SumName = Annotated[str, Path(json_schema_extra={"enum": [*CALCULATORS]})]
router = APIRouter(prefix="/api/v1", tags=["bench"])


class InputOut(BaseModel):
    """A figure a calculator asks for."""

    name: str
    meaning: str
    kind: str
    example: str
    default: str


class CalculatorOut(BaseModel):
    """A calculator and the practice behind it."""

    name: str
    title: str
    reason: str
    source: str
    inputs: list[InputOut]


class ResultOut(BaseModel):
    """One figure answered."""

    name: str
    meaning: str
    value: float
    text: str


class ReckonIn(RootModel[dict[str, float | str]]):
    """The figures by name."""


@router.get("/reckon", summary="The bench calculators")
def calculators() -> list[CalculatorOut]:
    """Every calculator with its inputs and source."""
    return [
        CalculatorOut(
            name=c.name,
            title=c.title,
            reason=c.reason,
            source=c.source,
            inputs=[
                InputOut(name=i.key, meaning=i.label, kind=i.kind, example=i.example, default=i.default)
                for i in c.inputs
            ],
        )
        for c in CALCULATORS.values()
    ]


@router.post("/reckon/{name}", summary="Work out a calculator")
def work_out(name: SumName, asked: ReckonIn) -> list[ResultOut]:
    """Work out one calculator."""
    return [ResultOut(name=r.key, meaning=r.label, value=r.value, text=r.text) for r in reckon(name, dict(asked.root))]
