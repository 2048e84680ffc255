"""POST /api/v1/sheets: pieces at full size on paper, as PDF or as the plan of its pages."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Request, Response
from fastapi.responses import JSONResponse
from pydantic import BaseModel, BeforeValidator, Field, WithJsonSchema

from rowanseed.core.errors import LayError, LengthError
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import Line, Notch, PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import parse_length
from rowanseed.core.paper.model import PAPERS, Paper, PaperRequest, PaperSheet, one_below_the_other, roll
from rowanseed.formats.paper_drawing import PaperPiece, paper_drawing
from rowanseed.formats.paper_pdf import SQUARE_MM, PaperWords, paper_pdf
from rowanseed.web.api.lay import worked_by_workers
from rowanseed.web.api.types import In, Mm, OutlineIn, PointIn, SegmentIn
from rowanseed.web.deps import Jobs

MAP_PAGES = 1  # the map with the test squares comes before the pages that are glued
PAPER_WORDS = "The paper is a4, a3, letter, or a roll with its width such as roll:36 in."
router = APIRouter(prefix="/api/v1", tags=["pattern"])


def _paper(value: Any) -> Paper:
    """A paper from its name. Raises ValueError for one that is not known."""
    name, _, wide = str(value).strip().lower().partition(":")
    if name in PAPERS and not wide:
        return PAPERS[name]
    if name != "roll" or not wide.strip():
        raise ValueError(PAPER_WORDS)
    try:
        return roll(parse_length(wide).mm)
    except (LengthError, LayError) as error:
        raise ValueError(error.text) from error


PaperIn = Annotated[
    Paper,
    BeforeValidator(_paper),
    WithJsonSchema(
        {"anyOf": [{"enum": [*PAPERS]}, {"type": "string", "pattern": r"^roll: ?(?:[2-9][0-9]|1[0-9]{2}) cm$"}]}
    ),
]


class SheetPieceIn(In):
    """A piece in one size as it is cut; its seam line, where it is to be printed, is given, not worked out."""

    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: Annotated[str, Field(max_length=120)] = ""
    size: Annotated[str, Field(max_length=40)] = ""
    outline: OutlineIn
    seam_line: OutlineIn | None = None
    notches: Annotated[list[PointIn], Field(max_length=200)] = []
    grain: SegmentIn | None = None
    fold_edge: SegmentIn | None = None

    def piece(self) -> PaperPiece:
        """The piece with its words. Raises OutlineError for an outline that encloses nothing."""
        refuse_bad_outline(tuple(self.outline), f"Piece {self.id}")
        seam = (Line("seam", (*self.seam_line, self.seam_line[0])),) if self.seam_line else ()
        shape = PieceShape(
            tuple(self.outline),
            self.fold_edge,
            self.grain,
            notches=tuple(Notch(at) for at in self.notches),
            lines=seam,
        )
        size = f"Size {self.size}." if self.size else ""
        words = tuple(text for text in (f"{self.id} {self.name}".strip(), size) if text)
        return PaperPiece(self.id, words, shape, size=self.size)


class SheetsIn(In):
    """Pieces, the paper, what neighbouring pages share, and whether pieces are packed or each begins a page."""

    pieces: Annotated[list[SheetPieceIn], Field(min_length=1, max_length=120)]
    paper: PaperIn = PAPERS["a4"]
    overlap: Annotated[Mm, Field(le=40)] = 10.0
    arrange: Literal["packed", "each"] = "packed"


class SheetPageOut(BaseModel):
    """A page: its number in the PDF, its row and column from 1, and the part of the plan that its frame shows."""

    page: int
    row: int
    column: int
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    frame: Point


class SheetPlacedOut(BaseModel):
    """A piece where it lies on the plan, its points in the order in which they came."""

    id: str
    outline: list[Point]


class SheetsOut(BaseModel):
    """The plan of the pages; a place (x, y) of it lies on a page at x - x_mm and y - y_mm inside its frame.

    `frame`: how far the frame lies from the left and the top of the paper. `square_mm`: the side of the test square on page 1.
    """

    pages: list[SheetPageOut]
    pieces: list[SheetPlacedOut]
    square_mm: float
    frame: Point


@router.post(
    "/sheets",
    summary="Pieces at full size on paper: a PDF, or with `Accept: application/json` its plan",
    response_model=SheetsOut,
    responses={200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def make_sheets(request: Request, jobs: Jobs, asked: SheetsIn) -> Response:
    """Pack pieces onto pages of a paper. Nothing is stored."""
    if len({p.id for p in asked.pieces}) != len(asked.pieces):
        raise LayError("Two pieces have the same id.", "pieces")
    pieces = [p.piece() for p in asked.pieces]
    groups = [pieces] if asked.arrange == "packed" else [[p] for p in pieces]
    wanted = [
        PaperRequest(tuple((p.id, p.shape.outline) for p in group), asked.paper, asked.overlap) for group in groups
    ]
    sheets: list[PaperSheet] = await worked_by_workers(request, jobs, wanted)
    sheet = one_below_the_other(sheets)
    if "application/json" in request.headers.get("accept", ""):
        return JSONResponse(_plan(sheet, pieces, asked.paper).model_dump())
    words = PaperWords("Pieces at full size", ("Measure the square on this page before you cut.",))
    drawing = paper_drawing(sheet, pieces, "cm")
    data = paper_pdf(drawing, asked.paper, asked.overlap, words)
    return Response(
        data, media_type="application/pdf", headers={"Content-Disposition": 'inline; filename="pieces.pdf"'}
    )


def _plan(sheet: PaperSheet, pieces: list[PaperPiece], paper: Paper) -> SheetsOut:
    margin = (paper.margin_mm, paper.margin_mm)
    outlines = {p.id: p.shape.outline for p in pieces}
    pages = [
        SheetPageOut(
            page=MAP_PAGES + k,
            row=tile.row + 1,
            column=tile.column + 1,
            x_mm=tile.left,
            y_mm=tile.top,
            width_mm=tile.width,
            height_mm=tile.height,
            frame=margin,
        )
        for k, tile in enumerate(sheet.tiles, start=1)
    ]
    placed = [SheetPlacedOut(id=p.id, outline=[p.at(q) for q in outlines[p.id]]) for p in sheet.placed]
    return SheetsOut(pages=pages, pieces=placed, square_mm=SQUARE_MM, frame=margin)
