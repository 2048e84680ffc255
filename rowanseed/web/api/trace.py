"""POST /api/v1/trace, GET /api/v1/trace/board.pdf"""

from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Query, Request, Response, UploadFile
from pydantic import BaseModel, Field

from rowanseed.core.geometry.types import Point
from rowanseed.formats.board_pdf import board_pdf
from rowanseed.formats.readings import trace_photo
from rowanseed.web.api.intake import gone, read_options
from rowanseed.web.api.types import FindingOut, In, Mm, PointIn

router = APIRouter(prefix="/api/v1/trace", tags=["pattern"])


class TraceIn(In):
    """What is to be traced: pixels of the picture along a line, or null for the piece that lies on the ground."""

    clicks: Annotated[list[PointIn], Field(max_length=400)] | None = None
    closed: bool = True
    dpi: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)] | None = None
    square: Mm | None = None


class TraceOut(BaseModel):
    """A traced line, mm."""

    outline: list[Point]
    error_mm: float
    mm_per_pixel: float
    corners: list[int]
    findings: list[FindingOut]


@router.post("", summary="Trace a piece in a photograph with a calibration sheet, or in a scan")
def trace(request: Request, photo: Annotated[UploadFile, File()], options: Annotated[str, Form()] = "") -> TraceOut:
    """Make a photograph flat and follow a line in it, or find the piece on the ground. Nothing is stored."""
    asked = read_options(options, TraceIn)
    traced = trace_photo(photo.file.read(), asked.clicks, asked.closed, asked.dpi, asked.square, gone(request))
    return TraceOut(
        outline=list(traced.outline),
        error_mm=traced.error_mm,
        mm_per_pixel=traced.mm_per_pixel,
        corners=list(traced.corners),
        findings=[FindingOut.of(f) for f in traced.findings],
    )


@router.get("/board.pdf", name="board", summary="Calibration sheets to print", response_class=Response)
def board(paper: Literal["a4", "letter"] = "a4", sheets: Annotated[int, Query(ge=1, le=8)] = 4) -> Response:
    """The calibration sheets, one a page."""
    headers = {"Content-Disposition": 'inline; filename="calibration-sheets.pdf"'}
    return Response(board_pdf(paper, sheets), media_type="application/pdf", headers=headers)
