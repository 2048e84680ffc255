"""Photographs of tissue: made flat by a worker, a line followed on them click by click, kept as a piece in a size."""

import json
from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field, ValidationError
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile

from rowanseed.core.errors import IntakeError, OutlineError
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.intake.accept import shape_of, with_size
from rowanseed.core.intake.model import SizeLines
from rowanseed.core.intake.pieces import angle_of, moved_lines
from rowanseed.core.pattern.model import ROLES, EnvelopeSize, Pattern, Piece
from rowanseed.formats.readings import FACTS, FlatFacts, FlatPhoto, OtherThing, TracedLine, follow_line
from rowanseed.jobs.tasks import FlattenPhotos
from rowanseed.services.long_work import LongWork, Progress
from rowanseed.store import db, intakes, patterns
from rowanseed.web.deps import Home, Household, Work, now, page, see_other
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.rooms.intake import GARMENTS, begin_page, reading_page

router = APIRouter(prefix="/patterns/trace", include_in_schema=False)
MOST_PHOTOS = 8
Pixel = tuple[Annotated[float, Field(ge=-10, le=100_000)], Annotated[float, Field(ge=-10, le=100_000)]]


class Drawn(BaseModel):
    """What the page keeps of a tracing, in pixels of the flat picture: clicks, the line found, grain, fold, notches, dots."""

    clicks: list[Pixel] = []
    outline: list[Pixel] = []
    grain: list[Pixel] = []
    fold: list[Pixel] = []
    notches: list[Pixel] = []
    dots: list[Pixel] = []


class Frame(BaseModel):
    """How a piece was turned and moved when its first size was kept, so that its other sizes nest."""

    angle: float
    left: float
    top: float


class TraceState(BaseModel):
    """What was done on the page: the last tracing, and the frames of pieces kept, by their number."""

    drawn: Drawn = Drawn()
    frames: dict[str, Frame] = {}


@router.post("")
async def send(request: Request, home: Home) -> Response:
    """Take photographs of one piece, or a scan; a worker makes them flat."""
    data = await request.form()
    form = Form({key: str(value) for key, value in data.items() if isinstance(value, str)}, home.unit)
    sent = [s for s in data.getlist("photos") if isinstance(s, UploadFile) and s.size]
    dpi = _dpi(form)
    square = form.length("square", most_mm=60)
    if not sent:
        form.errors["photo"] = "Choose a photograph first."
    elif len(sent) > MOST_PHOTOS:
        form.errors["photo"] = f"At most {MOST_PHOTOS} photographs of one piece."
    if not form.sound:
        return begin_page(request, home, form, 422)
    files = [await s.read() for s in sent]
    options = json.dumps({"dpi": dpi, "square_mm": square.mm if square else None})
    name = sent[0].filename or "photograph"
    with db.write(home.conn):
        into = whole_number(form.typed.get("pattern", ""))
        intake_id = intakes.add(home.conn, "photo", name, files, options, into, now())
    return see_other(request, f"/patterns/trace/{intake_id}")


def _dpi(form: Form) -> float | None:
    text = form.typed.get("dpi", "").strip().replace(",", ".")
    if not text:
        return None
    try:
        dpi = float(text)
    except ValueError:
        form.errors["dpi"] = "Write the scan's dpi, such as 300."
        return None
    if not 20 <= dpi <= 4800:
        form.errors["dpi"] = "Between 20 and 4800; scanners have 150 to 600."
    return dpi


def _look(request: Request, home: Household, work: LongWork, stored: intakes.StoredIntake) -> Progress:
    """How far the flattening is; the flat picture takes the photographs' place once it is there."""
    options: dict[str, Any] = json.loads(stored.options)
    place = f"{request.app.state.database}:intake:{stored.id}"
    photos = tuple(intakes.files(home.conn, stored.id))
    task = FlattenPhotos(f"{stored.digest}:{stored.version}", options["dpi"], options["square_mm"], photos)
    progress = work.look(place, task, patient=False)
    with db.write(home.conn):
        if progress.result is not None:
            flat: FlatPhoto = progress.result
            intakes.keep_result(home.conn, stored.id, FACTS.dump_json(flat.facts).decode())
            intakes.replace_files(home.conn, stored.id, [flat.jpeg])
        elif progress.problem or progress.stopped:
            intakes.keep_result(home.conn, stored.id, None, progress.problem or "It was stopped.")
    return progress


@router.get("/{intake_id}", name="trace")
def show(request: Request, home: Home, work: Work, intake_id: int, kept: str = "") -> Response:
    """How far the flattening is; then the flat picture to trace on."""
    stored = intakes.intake(home.conn, intake_id)
    if stored.way == "file":
        return see_other(request, f"/patterns/intake/{intake_id}")
    if stored.result is None and not stored.problem:
        progress = _look(request, home, work, stored)
        if progress.running or "HX-Request" in request.headers:
            return reading_page(request, home, stored, progress)
        stored = intakes.intake(home.conn, intake_id)
    return _trace_page(request, home, stored, None, 200, kept)


def _trace_page(
    request: Request, home: Household, stored: intakes.StoredIntake, form: Form | None, status: int, kept: str = ""
) -> Response:
    if stored.result is None:
        context = {"stored": stored, "form": Form({}), "intake": None, "same": None, "options": None, "patterns": []}
        return page(request, home, "intake/failed.html", context, 200)
    state = TraceState.model_validate_json(stored.state)
    if form is not None and form.typed.get("drawn"):
        state = state.model_copy(update={"drawn": _drawn(form)})
    into = patterns.pattern(home.conn, stored.pattern_id).pattern if stored.pattern_id else None
    context = {
        "stored": stored,
        "flat": FACTS.validate_json(stored.result),
        "state": state,
        "drawn": state.drawn.model_dump_json(),
        "form": form,
        "patterns": patterns.patterns(home.conn),
        "garments": [(g, g) for g in GARMENTS],
        "into": into,
        "kept": kept,
        "typed": _typed(into, kept) if form is None else form.typed,
    }
    return page(request, home, "intake/trace.html", context, status)


def _typed(into: Pattern | None, kept: str) -> dict[str, str]:
    """What the form begins with: the next free number; after a piece was kept that piece, in its next size."""
    if into is None:
        return {"number": "1", "cut": "2", "mirrored": "on", "size": ""}
    number, _, size = kept.partition(":")
    piece = next((p for p in into.pieces if p.number == number), None)
    sizes = into.size_names()
    if piece is not None:
        later = sizes[sizes.index(size) + 1 :] if size in sizes else ()
        return {
            "number": piece.number,
            "name": piece.name,
            "cut": str(piece.cut),
            "role": piece.role,
            "mirrored": "on" if piece.mirrored else "",
            "size": later[0] if later else "",
        }
    return {"number": into.free_number(), "cut": "2", "mirrored": "on", "size": sizes[len(sizes) // 2] if sizes else ""}


def _drawn(form: Form) -> Drawn:
    try:
        return Drawn.model_validate_json(form.typed.get("drawn", "{}"))
    except ValidationError:
        form.errors["line"] = "The line could not be read. Trace it again."
        return Drawn()


@router.get("/{intake_id}/flat.jpg", name="trace_flat")
def flat_picture(home: Home, intake_id: int) -> Response:
    """The flat picture."""
    intakes.intake(home.conn, intake_id)
    data = intakes.files(home.conn, intake_id)
    if not data:
        raise db.NotFound("There is no such picture.")
    return Response(data[0], media_type="image/jpeg", headers={"Cache-Control": "private, max-age=600"})


@router.post("/{intake_id}/stop", name="trace_stop")
def stop(request: Request, home: Home, work: Work, intake_id: int) -> Response:
    """Stop making it flat."""
    work.stop(f"{request.app.state.database}:intake:{intake_id}")
    return see_other(request, f"/patterns/trace/{intake_id}")


class FollowIn(BaseModel):
    """Clicks on the flat picture, or none for the piece that lies on the ground."""

    clicks: Annotated[list[Pixel], Field(max_length=400)] | None = None
    closed: bool = False


@router.post("/{intake_id}/follow", name="trace_follow")
async def follow(home: Home, intake_id: int, asked: FollowIn) -> dict[str, Any]:
    """The line through the clicks, in pixels of the flat picture. Raises IntakeError, answered beside the picture."""
    stored = intakes.intake(home.conn, intake_id)
    if stored.result is None:
        raise db.NotFound("There is no flat picture yet.")
    facts = FACTS.validate_json(stored.result)
    flat = FlatPhoto(intakes.files(home.conn, intake_id)[0], facts)
    try:
        line = await run_in_threadpool(follow_line, flat, asked.clicks, asked.closed)
    except IntakeError as error:
        return {"problem": error.text}

    def pixels(points: Sequence[tuple[float, float]]) -> list[list[float]]:
        return [[(x - facts.left) / facts.mm, (y - facts.top) / facts.mm] for x, y in points]

    def thing(found: TracedLine | OtherThing) -> dict[str, Any]:
        return {
            "outline": pixels(found.outline),
            "corners": list(found.corners),
            "unsure": [pixels(part) for part in found.unsure],
            "said": [{"level": f.level, "text": f.text} for f in found.findings],
        }

    return {**thing(line), "others": [thing(other) for other in line.others]}


@router.post("/{intake_id}/keep", name="trace_keep")
async def keep(request: Request, home: Home, intake_id: int) -> Response:
    """Keep what was traced as a piece, or as another size of one."""
    form = await read_form(request, home.unit)
    stored = intakes.intake(home.conn, intake_id)
    if stored.result is None:
        return see_other(request, f"/patterns/trace/{intake_id}")
    facts = FACTS.validate_json(stored.result)
    state = TraceState.model_validate_json(stored.state)
    drawn = _drawn(form)
    into = whole_number(form.typed.get("pattern", ""))
    old = patterns.pattern(home.conn, into) if into is not None else None
    pattern = (
        old.pattern if old else Pattern(form.text("pattern_name", "A name", 120), "", form.choice("garment", GARMENTS))
    )
    facts_of = _read_facts(form, pattern)
    known = next((p for p in pattern.pieces if p.number == form.typed.get("number", "").strip()), None)
    shape, frame = _shape(form, facts, drawn, state.frames.get(known.number) if known else None)
    if not form.sound or shape is None or frame is None:
        return _trace_page(request, home, stored, form, 422)
    size = form.typed.get("size", "").strip() or "one"
    piece = with_size(known or facts_of, size, _with_allowance(known or facts_of, shape))
    state = TraceState(drawn=drawn, frames={**state.frames, piece.number: frame})
    with db.write(home.conn):
        pattern_id = (
            old.id if old else patterns.add_pattern(home.conn, replace(pattern, sizes=(EnvelopeSize(size, {}),)))
        )
        version = old.version if old else 1
        if old and size not in pattern.size_names() and pattern.size_names():
            raise db.NotFound("There is no such size.")
        patterns.put_piece(home.conn, pattern_id, version, piece)
        intakes.keep_state(home.conn, intake_id, form.opened(stored.version), state.model_dump_json())
        intakes.belongs_to(home.conn, intake_id, pattern_id)
    return see_other(request, f"/patterns/trace/{intake_id}?kept={piece.number}:{size}")


def _read_facts(form: Form, pattern: Pattern) -> Piece:
    """The piece's facts as typed; errors stand in the form."""
    number, name = form.text("number", "A number", 40), form.text("name", "A name", 120)
    cut = form.number("cut", "How many", 1, 100)
    size = form.text("size", "A size", 20)
    if size and pattern.sizes and size not in pattern.size_names():
        form.errors["size"] = f"The pattern's sizes are {', '.join(pattern.size_names())}."
    allowance = form.length("allowance", most_mm=100)
    return Piece(
        number,
        name,
        cut,
        form.choice("role", ROLES),
        form.flag("mirrored") and cut > 1,
        "lengthwise",
        allowance.mm if allowance else 15.0,
        form.typed.get("outline_is", "cutting") == "cutting",
    )


def _with_allowance(piece: Piece, shape: PieceShape) -> PieceShape:
    """The shape as it is cut: with the piece's allowance inside it, or added."""
    return next(iter(replace(piece, shapes={"": shape}).shapes.values()))


def _shape(form: Form, facts: FlatFacts, drawn: Drawn, frame: Frame | None) -> tuple[PieceShape | None, Frame | None]:
    """The traced line as a shape, turned to its grain; errors stand in the form."""
    if len(drawn.outline) < 3:
        form.errors["line"] = "Trace the line first: click its corners and close it, or find the piece on the ground."
        return None, None

    def mm(points: list[Pixel]) -> tuple[tuple[float, float], ...]:
        return tuple((x * facts.mm + facts.left, y * facts.mm + facts.top) for x, y in points)

    grain, fold = mm(drawn.grain), mm(drawn.fold)
    lines = SizeLines(
        mm(drawn.outline),
        None,
        mm(drawn.notches),
        (grain[0], grain[1]) if len(grain) == 2 else None,
        (fold[0], fold[1]) if len(fold) == 2 else None,
        mm(drawn.dots),
    )
    if frame is None:
        angle = angle_of(lines.fold_edge or lines.grain or ((0.0, 0.0), (0.0, 1.0)))
        turned = moved_lines(lines, angle, (0.0, 0.0))
        frame = Frame(angle=angle, left=min(x for x, _ in turned.outline), top=min(y for _, y in turned.outline))
    try:
        shape = shape_of(moved_lines(lines, frame.angle, (frame.left, frame.top)))
        refuse_bad_outline(shape.outline, "The line")
    except OutlineError as error:
        form.errors["line"] = f"{error.text} Check that the clicks follow the line in order."
        return None, None
    return shape, frame
