"""Paper: the pieces as they will be cut at full size, for a printer at home, a plotter or a projector; how tissue is changed."""

from dataclasses import dataclass

from fastapi import APIRouter, Request, Response
from starlette.datastructures import QueryParams

from rowanseed.core.errors import RowanseedError
from rowanseed.core.paper.model import PAPERS, Paper, PaperRequest, PaperSheet, Tile, roll
from rowanseed.formats.paper_drawing import PaperDrawing
from rowanseed.formats.paper_dxf import sheet_dxf
from rowanseed.formats.paper_pdf import PaperWords, paper_pdf
from rowanseed.formats.paper_svg import map_svg, sheet_svg
from rowanseed.services.long_work import LongWork, Progress
from rowanseed.services.paper import (
    PaperAsk,
    drawing_of,
    paper_pieces,
    pieces_in,
    request_of,
    tiles_wanted,
    tissue_work,
)
from rowanseed.services.recuts import changed_since_print, remember_printed
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db
from rowanseed.web.deps import Home, Household, Work, now, page_or_part, see_other
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/makes/{make_id}/paper", include_in_schema=False)
FILES = {"pdf": "application/pdf", "svg": "image/svg+xml", "dxf": "image/vnd.dxf"}
PAPER_WORDS = (*((key, paper.name) for key, paper in PAPERS.items()), ("roll", "a roll or a plotter"))


@dataclass(frozen=True)
class _Printed:
    """What is asked for, how far its packing is, and, once it is done, the drawing with its pages."""

    ask: PaperAsk
    request: PaperRequest
    progress: Progress
    drawing: PaperDrawing | None = None
    tiles: tuple[Tile, ...] = ()


def _form(request: Request, home: Household) -> tuple[Form, list[str]]:
    """What the address asks for: its fields, and the pieces that are ticked."""
    asked: QueryParams = request.query_params
    return Form({k: asked[k] for k in asked}, home.unit), asked.getlist("piece")


def _asked(form: Form, ticked: list[str], view: WorkedMake) -> PaperAsk | None:
    """What is to be printed; None, with the errors in the form, where it cannot be read."""
    sizes = list(dict.fromkeys(view.sizes))
    if not sizes:
        return None
    size = form.typed.get("size", sizes[0])
    size = size if size in sizes else sizes[0]
    there = [piece.number for piece, _, _ in pieces_in(view, size)]
    changed = form.typed.get("changed") == "on"
    chosen = tuple(n for n in there if n in ticked) if "paper" in form.typed else tuple(there)
    paper = _paper(form)
    overlap = form.length("overlap", most_mm=40.0) if form.typed.get("overlap") else None
    if "paper" in form.typed and not chosen:
        form.errors["piece"] = "Choose at least one piece."
    if not form.sound or paper is None:
        return None
    return PaperAsk(size, chosen, paper, overlap.mm if overlap is not None else 10.0, changed)


def _paper(form: Form) -> Paper | None:
    kind = form.choice("paper", tuple(key for key, _ in PAPER_WORDS))
    if kind != "roll":
        return PAPERS.get(kind)
    wide = form.length("roll", "The roll's width", 2000.0)
    try:
        return roll(wide.mm) if wide is not None else None
    except RowanseedError as error:
        form.errors["roll"] = error.text
        return None


def _printed(request: Request, view: WorkedMake, work: LongWork, ask: PaperAsk) -> _Printed | None:
    pieces = paper_pieces(view, ask)
    if not pieces:
        return None
    task = request_of(pieces, ask)
    progress = work.look(f"{request.app.state.database}:{view.make.id}:paper", task, patient=False)
    if not isinstance(progress.result, PaperSheet):
        return _Printed(ask, task, progress)
    drawing = drawing_of(view, ask, progress.result)
    return _Printed(ask, task, progress, drawing, tuple(tiles_wanted(task, drawing, ask.only_changed)))


@router.get("", name="paper")
def show(request: Request, home: Home, work: Work, make_id: int) -> Response:
    """The pieces on pages, and how the tissue is changed by hand."""
    view = WorkedMake(home.conn, make_id, home.settings)
    form, ticked = _form(request, home)
    ask = _asked(form, ticked, view)
    printed = _printed(request, view, work, ask) if ask is not None else None
    size = ask.size if ask is not None else next(iter(view.sizes), "")
    shown = pieces_in(view, size) if size else []
    names = {piece.number: f"{piece.number} {piece.name}" for piece, _, _ in shown}
    picture = (
        map_svg(printed.drawing, printed.tiles, names) if printed is not None and printed.drawing is not None else ""
    )
    context = {
        "view": view,
        "form": form,
        "ask": ask,
        "printed": printed,
        "pieces": [
            (piece, before is not None, "paper" not in form.typed or piece.number in ticked)
            for piece, _, before in shown
        ],
        "papers": PAPER_WORDS,
        "sizes": [(s, s) for s in dict.fromkeys(view.sizes)],
        "picture": picture,
        "query": request.url.query,
        "changed_since_print": changed_since_print(view) if size else [],
        "tissue": tissue_work(view, size) if size else [],
    }
    status = 200 if form.sound else 422
    return page_or_part(request, home, "paper/show.html", "paper/_sheet.html", context, status)


@router.post("/printed", name="paper_printed")
async def printed(request: Request, home: Home, work: Work, make_id: int) -> Response:
    """Remember the pieces as they are printed, then give the pages: what changes afterwards is told piece by piece."""
    sent = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    form, ticked = _form(request, home)
    ask, kind = _asked(form, ticked, view), sent.choice("kind", tuple(FILES))
    if ask is not None and sent.sound:
        shapes = {piece.id: piece.shape for piece in paper_pieces(view, ask)}
        with db.write(home.conn):
            remember_printed(view, ask.size, shapes, now())
    return see_other(request, f"/makes/{make_id}/paper/pieces.{kind or 'pdf'}?{request.url.query}")


@router.get("/pieces.{kind}", name="paper_file")
def file(request: Request, home: Home, work: Work, make_id: int, kind: str) -> Response:
    """The pages as PDF, or the whole sheet as SVG or DXF, to true size."""
    if kind not in FILES:
        raise db.NotFound(f"There are {', '.join(FILES)}.")
    view = WorkedMake(home.conn, make_id, home.settings)
    form, ticked = _form(request, home)
    ask = _asked(form, ticked, view)
    printed = _printed(request, view, work, ask) if ask is not None else None
    if printed is None or printed.drawing is None:
        return see_other(request, f"/makes/{make_id}/paper?{request.url.query}")
    heading = f"{view.make.name}, size {printed.ask.size}"
    if kind == "pdf":
        advice = [
            f"{work_.heading}, piece {work_.piece}: {' '.join(work_.steps)}"
            for work_, _ in tissue_work(view, printed.ask.size)
        ]
        words = PaperWords(heading, tuple(advice) if printed.ask.only_changed else ())
        content: bytes | str = paper_pdf(
            printed.drawing, printed.ask.paper, printed.ask.overlap_mm, words, printed.tiles
        )
    else:
        content = sheet_svg(printed.drawing, heading) if kind == "svg" else sheet_dxf(printed.drawing)
    name = f'attachment; filename="pieces-{make_id}.{kind}"'
    return Response(content, media_type=FILES[kind], headers={"Content-Disposition": name})
