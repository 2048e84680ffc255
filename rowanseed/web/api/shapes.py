"""GET /api/v1/shapes, POST /api/v1/shapes/{name}"""

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import BaseModel, ConfigDict

from rowanseed.core.geometry.types import Point, Segment
from rowanseed.core.pattern.quick import FREEHAND, QUICK_SHAPES, draw_quick
from rowanseed.web.api.types import In

ShapeName = Annotated[str, Path(json_schema_extra={"enum": [*QUICK_SHAPES, FREEHAND]})]
router = APIRouter(prefix="/api/v1", tags=["pattern"])


class MeasureOut(BaseModel):
    """A figure a shape asks for."""

    name: str
    meaning: str
    example: str
    optional: bool = False


class ShapeInfo(BaseModel):
    """A quick shape."""

    name: str
    title: str
    about: str
    on_fold: bool
    measurements: list[MeasureOut]


class DrawIn(In):
    """The figures, each a length; for `freehand` the corners as one text, `points`."""

    model_config = ConfigDict(extra="ignore")
    measurements: dict[str, float | str]


class DrawOut(BaseModel):
    """The outline in mm, x along the grain; half the piece where there is a fold edge."""

    outline: list[Point]
    fold_edge: Segment | None
    area_mm2: float


@router.get("/shapes", summary="The quick shapes and their measurements")
def shapes() -> list[ShapeInfo]:
    """The quick shapes with their measurements."""
    known = [
        ShapeInfo(
            name=s.name,
            title=s.title,
            about=s.about,
            on_fold=s.on_fold,
            measurements=[
                MeasureOut(name=m.key, meaning=m.meaning, example=m.example, optional=m.optional) for m in s.measures
            ],
        )
        for s in QUICK_SHAPES.values()
    ]
    corners = MeasureOut(
        name="points", meaning="Corners: along the grain, then across", example="0 cm, 0 cm; 40 cm, 0 cm; 40 cm, 15 cm"
    )
    free = ShapeInfo(
        name=FREEHAND,
        title="Freehand polygon",
        about="Any outline by its corners.",
        on_fold=False,
        measurements=[corners],
    )
    return [*known, free]


@router.post("/shapes/{name}", summary="Draw a quick shape from its figures")
def draw(name: ShapeName, asked: DrawIn) -> DrawOut:
    """Draw a shape from its figures."""
    shape = draw_quick(name, dict(asked.measurements))
    return DrawOut(outline=list(shape.outline), fold_edge=shape.fold_edge, area_mm2=shape.area_mm2())
