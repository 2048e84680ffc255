"""POST /api/v1/sheet"""

import json
from typing import Annotated, Any

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, Field, ValidationError
from starlette.datastructures import UploadFile

from rowanseed.core.errors import IntakeError
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.matching import read_line
from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.sheet_steps import PlacedLine, ReadSheet, SheetStep, sheet_steps
from rowanseed.formats.readings import pages_of, read_sheet_pdf
from rowanseed.formats.sewing import library
from rowanseed.web.api.intake import read_options
from rowanseed.web.api.sew_asked import SequenceIn
from rowanseed.web.api.types import FindingOut, In

router = APIRouter(prefix="/api/v1", tags=["sew"])


class SheetIn(SequenceIn):
    """A garment, as in a sequence, and its sheet's text."""

    text: Annotated[str, Field(max_length=60_000)]


class SheetOptionsIn(In):
    """What is known of a sheet's file: the garment, its languages, the pages that hold the steps."""

    garment: SequenceIn | None = None
    languages: list[str] = ["eng"]
    pages: str | None = None


class FigureOut(BaseModel):
    """A length that a step says."""

    text: str
    mm: float


class PictureOut(BaseModel):
    """A printed picture that belongs to a step."""

    page: int
    box: tuple[float, float, float, float]
    png: str | None = None


class SheetStepOut(BaseModel):
    """A step of the sheet, with the operations that it surely is, and those that it may be."""

    number: str
    heading: str | None
    text: str
    page: int | None
    box: tuple[float, float, float, float] | None
    pictures: list[PictureOut]
    figures: list[FigureOut]
    ids: list[str]
    sure: bool
    offered: list[tuple[str, float]]
    verb: str | None
    on: list[str] | None


class SheetOut(BaseModel):
    """The sheet's steps in reading order."""

    steps: list[SheetStepOut]
    findings: list[FindingOut]


def _bodies() -> dict[str, Any]:
    """Both ways of sending a sheet, for the account that the application gives of itself."""
    schema = SheetIn.model_json_schema(ref_template="#/components/schemas/{model}")
    as_json = {
        "schema": {key: value for key, value in schema.items() if key != "$defs"}
    }  # those of a sequence are there
    form = {
        "schema": {
            "type": "object",
            "required": ["file"],
            "properties": {"file": {"type": "string", "format": "binary"}, "options": {"type": "string"}},
        }
    }
    return {"requestBody": {"required": True, "content": {"application/json": as_json, "multipart/form-data": form}}}


REFUSED = {
    "description": "Validation Error",
    "content": {"application/json": {"schema": {"$ref": "#/components/schemas/HTTPValidationError"}}},
}


@router.post(
    "/sheet", summary="Read an instruction sheet and tie its steps", openapi_extra=_bodies(), responses={422: REFUSED}
)
async def sheet(request: Request) -> SheetOut:
    """A sheet's steps in reading order, each with its figures, what it surely means and what it may mean. Nothing is stored.

    JSON: a garment as in a sequence, and `text`. Or a form with `file` (a PDF that holds text) and `options`.
    """
    if request.headers.get("content-type", "").startswith("multipart/form-data"):
        lines, garment = await _from_file(request)
    else:
        asked = _from_json(await request.body())
        lines, garment = [PlacedLine(line) for line in asked.text.splitlines()], asked.garment()
    read = sheet_steps(lines)
    return await run_in_threadpool(_out, read, garment)


def _from_json(body: bytes) -> SheetIn:
    try:
        return SheetIn.model_validate(json.loads(body))
    except json.JSONDecodeError as error:
        raise RequestValidationError(
            [{"type": "json_invalid", "loc": ("body",), "msg": f"This is no JSON: {error.msg}.", "input": None}]
        ) from error
    except ValidationError as error:
        told = error.errors(include_url=False, include_context=False)
        raise RequestValidationError([{**each, "loc": ("body", *each["loc"])} for each in told]) from error


async def _from_file(request: Request) -> tuple[list[PlacedLine], SewnGarment | None]:
    form = await request.form()
    file = form.get("file")
    if not isinstance(file, UploadFile):
        raise IntakeError("A file is needed: the sheet as a PDF.", "file")
    options = read_options(str(form.get("options") or ""), SheetOptionsIn)
    data = await file.read()
    if data[:8].startswith((b"\x89PNG", b"\xff\xd8")):
        raise IntakeError(
            "The words of a picture can not be read here. Send the text, or a PDF that holds text.", "file"
        )
    lines = await run_in_threadpool(read_sheet_pdf, data, pages_of(options.pages or ""))
    return lines, options.garment.garment() if options.garment else None


def _out(read: ReadSheet, garment: SewnGarment | None) -> SheetOut:
    known = [op for op, _ in operations_for(library(), complete(library(), garment))] if garment is not None else []
    taken: set[str] = set()
    steps = []
    for step in read.steps:
        reading = read_line(step.text, known, frozenset(taken))
        ids = [op.id for op in reading.tied]
        taken |= set(ids)
        on = list(dict.fromkeys(thing for op in reading.tied for thing in op.on))
        verb = reading.tied[0].verb if reading.tied else reading.verb
        steps.append(_step(step, ids, [(g.operation.id, g.sure) for g in reading.offered], verb, on))
    return SheetOut(steps=steps, findings=[FindingOut.of(f) for f in read.findings])


def _step(step: SheetStep, ids: list[str], offered: list[tuple[str, float]], verb: str, on: list[str]) -> SheetStepOut:
    return SheetStepOut(
        number=step.number,
        heading=step.heading or None,
        text=step.text,
        page=step.page,
        box=step.box,
        pictures=[],
        figures=[FigureOut(text=f.text, mm=f.mm) for f in step.figures],
        ids=ids,
        sure=bool(ids),
        offered=offered,
        verb=verb or None,
        on=on or None,
    )
