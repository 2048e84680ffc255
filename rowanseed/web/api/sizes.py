"""POST /api/v1/size-advice"""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from rowanseed.core.fit.advice import size_advice
from rowanseed.core.fit.ease import Garment, Zone
from rowanseed.core.fit.scale import SizeRow
from rowanseed.core.fit.weigh import AdviceRequest, Between, School
from rowanseed.web.api.types import FindingOut, In, Mm

router = APIRouter(prefix="/api/v1", tags=["fit"])
SignedMm = Annotated[float, Field(description="Millimetres; may be negative for a knit.")] | Mm


class SizeRowIn(In):
    """One size of a chart: its name and its measurements."""

    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)
    size: Annotated[str, Field(min_length=1, max_length=20)]
    bust: Mm | None = None
    waist: Mm | None = None
    hip: Mm | None = None
    height: Mm | None = None

    def row(self) -> SizeRow:
        """The row in millimetres, measurements that are given."""
        given = {"bust": self.bust, "waist": self.waist, "hip": self.hip, "height": self.height}
        return SizeRow(self.size, {key: mm for key, mm in given.items() if mm is not None})


class AdviceIn(In):
    """A body against a chart, smallest size first."""

    body: dict[str, Mm]
    chart: Annotated[list[SizeRowIn], Field(min_length=1, max_length=60)]
    finished: list[SizeRowIn] | None = None
    key: Zone = "bust"
    school: School = "chart"
    between: Between = "blend"
    want_ease: dict[Zone, SignedMm] | None = None
    drafted_height: Mm | None = None
    garment: Garment | None = None
    stretch: Annotated[float, Field(ge=0, le=3)] | None = None


class ZoneOut(BaseModel):
    """The size at one zone and the ease it leaves."""

    zone: Zone
    size: str
    body_mm: float
    chart_mm: float | None
    finished_mm: float | None
    ease_mm: float | None


class AdviceOut(BaseModel):
    """The size to take, each zone's own, and why."""

    size: str
    zones: list[ZoneOut]
    findings: list[FindingOut]


@router.post("/size-advice", summary="Choose a size by one of three schools")
def advise(asked: AdviceIn) -> AdviceOut:
    """Choose a size by one of three schools, with the ease each zone gets and the reasons."""
    advice = size_advice(
        AdviceRequest(
            asked.body,
            tuple(row.row() for row in asked.chart),
            tuple(row.row() for row in asked.finished or ()),
            asked.key,
            asked.school,
            asked.between,
            asked.want_ease,
            asked.drafted_height,
            asked.garment,
            asked.stretch or 0.0,
        )
    )
    zones = [ZoneOut(**vars(zone)) for zone in advice.zones]
    return AdviceOut(size=advice.size, zones=zones, findings=[FindingOut.of(f) for f in advice.findings])
