"""POST /api/v1/size-advice"""

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from rowanseed.core.fit.advice import size_advice
from rowanseed.core.fit.chart_comparison import CUP_MM, AdviceRequest, Between, BustBy, School
from rowanseed.core.fit.ease import key_zone
from rowanseed.core.fit.ease_table import USUAL
from rowanseed.core.fit.scale import SizeRow
from rowanseed.core.garment_kinds import Cut, GarmentKind, Zone
from rowanseed.web.api.types import FindingOut, In, Mm

router = APIRouter(prefix="/api/v1", tags=["fit"])
MmRange = tuple[Mm, Mm]
Years = Annotated[float, Field(ge=0, le=120)]
Share = Annotated[float, Field(ge=0, le=3)]
LookName = Literal["close", "fitted", "semi-fitted", "loose", "very loose"]
SignedMm = Annotated[float, Field(description="Millimetres; may be negative for a knit.")] | Mm


class SizeRowIn(In):
    """One size of a chart: its name and its measurements; a letter size's range as `[from, to]`, a child's `age` in years."""

    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)
    size: Annotated[str, Field(min_length=1, max_length=20)]
    bust: Mm | MmRange | None = None
    waist: Mm | MmRange | None = None
    hip: Mm | MmRange | None = None
    height: Mm | MmRange | None = None
    age: Years | tuple[Years, Years] | None = None

    def row(self) -> SizeRow:
        """The row in millimetres, measurements that are given."""
        given = {"bust": self.bust, "waist": self.waist, "hip": self.hip, "height": self.height}
        low = {key: mm[0] if isinstance(mm, tuple) else mm for key, mm in given.items() if mm is not None}
        upto = {key: mm[1] for key, mm in given.items() if isinstance(mm, tuple)}
        age = (self.age, self.age) if isinstance(self.age, float) else self.age
        return SizeRow(self.size, low, upto, age)


class AdviceIn(In):
    """A body against a chart, smallest size first.

    `bust_by`: a bust that is not larger than the high bust by the pattern's `cup` is sized by the high bust with that cup, or,
    a school, by the high bust itself. `key` left out: as the garment and its `cut` ask.
    `worn_under`: what the clothes beneath add round the body; `look`: close,
    fitted, semi-fitted, loose or very loose; `cloth`: what takes room; `stretch` and `least_stretch`: shares, 0.25 for a quarter.
    """

    body: dict[str, Mm]
    chart: Annotated[list[SizeRowIn], Field(min_length=1, max_length=60)]
    finished: list[SizeRowIn] | None = None
    key: Zone | None = None
    school: School = "chart"
    between: Between = "blend"
    want_ease: dict[Zone, SignedMm] | None = None
    drafted_height: Mm | None = None
    garment: GarmentKind | None = None
    stretch: Share | None = None
    cut: Cut = ""
    worn_under: Mm = 0.0
    least_stretch: Share = 0.0
    look: LookName | None = None
    cloth: Annotated[list[Literal["stiff", "thick", "underlined"]], Field(max_length=3)] = []
    child: bool = False
    age: Years | None = None
    cup: Mm = CUP_MM
    bust_by: BustBy = "high-bust-and-cup"


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
            asked.key or key_zone(asked.garment, asked.cut),
            asked.school,
            asked.between,
            asked.want_ease,
            asked.drafted_height,
            asked.garment,
            asked.stretch or 0.0,
            asked.cut,
            asked.worn_under,
            asked.least_stretch,
            asked.look or "",
            USUAL,
            tuple(dict.fromkeys(asked.cloth)),
            asked.child,
            asked.age,
            asked.cup,
            asked.bust_by,
        )
    )
    zones = [ZoneOut(**vars(zone)) for zone in advice.zones]
    return AdviceOut(size=advice.size, zones=zones, findings=[FindingOut.of(f) for f in advice.findings])
