"""POST /api/v1/intake"""

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

from anyio import from_thread
from fastapi import APIRouter, File, Form, Request, UploadFile
from pydantic import BaseModel, Field, ValidationError

from rowanseed.core.errors import IntakeError
from rowanseed.core.geometry.types import Point, Segment
from rowanseed.core.intake.model import Intake, IntakeOptions, ProposedPiece, SizeLines
from rowanseed.formats.readings import take_in
from rowanseed.web.api.types import FindingOut, In, Mm

router = APIRouter(prefix="/api/v1", tags=["pattern"])


class TilesIn(In):
    """How pages are put together: columns and rows, what neighbours share, the paper's edge that is not printed."""

    columns: Annotated[int, Field(ge=1, le=60)] | None = None
    rows: Annotated[int, Field(ge=1, le=60)] | None = None
    overlap: Mm | None = None
    margin: Mm | None = None


class OptionsIn(In):
    """What is known of the file; null where it is to be found out."""

    kind: Literal["auto", "svg", "dxf", "pdf", "json"] = "auto"
    unit: Literal["mm", "cm", "in"] | None = None
    scale: Annotated[float, Field(gt=0.001, lt=1000, allow_inf_nan=False)] | None = None
    tiles: TilesIn | None = None
    layers: dict[str, str] = {}

    def core(self) -> IntakeOptions:
        """The same as the core takes it."""
        t = self.tiles or TilesIn()
        return IntakeOptions(
            self.kind, self.unit, self.scale, t.columns, t.rows, t.overlap, t.margin, (), dict(self.layers)
        )


class LinesOut(BaseModel):
    """A piece in one size, mm, x along the grain where one is known."""

    outline: list[Point]
    seam_line: list[Point] | None
    notches: list[Point]
    grain: Segment | None
    fold_edge: Segment | None
    points: list[Point]
    internal: list[list[Point]]


class PieceOut(BaseModel):
    """A proposed piece in its sizes."""

    name: str
    number: str
    cut: int
    role: str
    mirrored: bool
    text: str
    sizes: dict[str, LinesOut]
    findings: list[FindingOut]


class PageOut(BaseModel):
    """Where a page lies on the sheet, mm."""

    page: int
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float


class IntakeOut(BaseModel):
    """What was read of a file."""

    kind: str
    unit: str
    scale: float
    sizes: list[str]
    pieces: list[PieceOut]
    findings: list[FindingOut]
    pages: list[PageOut]


OptionsOf = TypeVar("OptionsOf", bound=BaseModel)


def read_options(text: str, model: type[OptionsOf]) -> OptionsOf:
    """Read the options of a form with a file.

    Raises:
        IntakeError: they are no JSON object, or one of them is not as it should be; the field is named.
    """
    try:
        return model.model_validate_json(text or "{}")
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(["options", *(str(part) for part in first["loc"])])
        raise IntakeError(f"{where}: {first['msg'].removeprefix('Value error, ')}", where) from error


def gone(request: Request) -> Callable[[], bool]:
    """What asks whether the caller went away, for work done in one of the server's threads."""
    return lambda: bool(from_thread.run(request.is_disconnected))


@router.post("/intake", summary="Read a pattern file and propose its pieces")
def intake(
    request: Request,
    file: Annotated[UploadFile, File()],
    options: Annotated[str, Form()] = "",
    grading: Annotated[UploadFile | None, File()] = None,
) -> IntakeOut:
    """Read an SVG, DXF, PDF or pattern file into proposed pieces with every size. Nothing is stored.

    `grading`: a grading table (RUL) beside a DXF file.
    """
    asked = read_options(options, OptionsIn).core()
    rules = grading.file.read() if grading else None
    return _out(take_in(file.file.read(), asked, grading=rules, stop=gone(request)))


def _out(read: Intake) -> IntakeOut:
    pages = [PageOut(page=p, x_mm=x, y_mm=y, width_mm=w, height_mm=h) for p, x, y, w, h in read.arrangement]
    return IntakeOut(
        kind=read.kind,
        unit=read.unit,
        scale=read.scale,
        sizes=list(read.sizes),
        pieces=[_piece(p) for p in read.pieces],
        findings=[FindingOut.of(f) for f in read.findings],
        pages=pages,
    )


def _piece(piece: ProposedPiece) -> PieceOut:
    return PieceOut(
        name=piece.name,
        number=piece.number,
        cut=piece.cut,
        role=piece.role or "self",
        mirrored=piece.mirrored,
        text=piece.text,
        sizes={size: _lines(lines) for size, lines in piece.sizes.items()},
        findings=[FindingOut.of(f) for f in piece.findings],
    )


def _lines(lines: SizeLines) -> LinesOut:
    return LinesOut(
        outline=list(lines.outline),
        seam_line=list(lines.seam_line) if lines.seam_line else None,
        notches=list(lines.notches),
        grain=lines.grain,
        fold_edge=lines.fold_edge,
        points=list(lines.points),
        internal=[list(line) for line in lines.internal],
    )
