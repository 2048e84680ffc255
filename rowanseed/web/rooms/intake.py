"""Patterns in from files: sent, read by a worker, looked through on the drawing, taken over as pieces."""

import json
from dataclasses import replace

from fastapi import APIRouter, Request, Response
from pydantic import TypeAdapter
from starlette.datastructures import UploadFile

from rowanseed.core.errors import IntakeError, PatternFileError
from rowanseed.core.garment_kinds import GarmentKind
from rowanseed.core.intake.garment import garment_by_names
from rowanseed.core.intake.model import Intake, IntakeOptions
from rowanseed.core.intake.witness import asks_scale, choices, longest_piece
from rowanseed.core.lengths import format_length
from rowanseed.core.pattern.model import EnvelopeSize, Pattern
from rowanseed.demo.samples import sample
from rowanseed.formats.intake.read import kind_of
from rowanseed.formats.intake.rul_in import looks_like_rules
from rowanseed.formats.intake_svg import intake_svg
from rowanseed.formats.pattern_json import read_pattern
from rowanseed.formats.scale_choice_svg import scale_choice_svg
from rowanseed.jobs.tasks import ReadFile
from rowanseed.services.long_work import LongWork, Progress
from rowanseed.store import db, intakes, keeping, patterns
from rowanseed.web.deps import Home, Household, Work, now, page, page_or_part, see_other, with_undo
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.intake_form import PieceRow, read_pieces, read_sizes, rows_of, usual_allowance

router = APIRouter(prefix="/patterns/intake", include_in_schema=False)
GARMENTS: tuple[GarmentKind, ...] = ("top", "dress", "skirt", "trousers", "jacket", "coat")
SAMPLE_FILES = ("trousers-a4.pdf", "overshirt.svg", "waistcoat.dxf", "piece-on-a-table.jpg", "nested-sheet.jpg")
_INTAKE = TypeAdapter(Intake)
_OPTIONS = TypeAdapter(IntakeOptions)


@router.get("", name="intake_new")
def new(request: Request, home: Home, pattern: int | None = None) -> Response:
    """How pieces come in: from a file, from photographs, by figures."""
    return begin_page(request, home, Form({"pattern": str(pattern or "")}, home.unit), 200)


def begin_page(request: Request, home: Household, form: Form, status: int) -> Response:
    """The page on which files and photographs are sent."""
    context = {
        "form": form,
        "patterns": patterns.patterns(home.conn),
        "recent": intakes.recent(home.conn),
        "samples": SAMPLE_FILES,
    }
    return page(request, home, "intake/new.html", context, status)


@router.post("")
async def send(request: Request, home: Home, work: Work) -> Response:
    """Take a file in; it is read by a worker."""
    data = await request.form()
    form = Form({key: str(value) for key, value in data.items() if isinstance(value, str)}, home.unit)
    sent = [s for s in data.getlist("file") if isinstance(s, UploadFile) and s.size]
    # A grading table may come with its DXF file, in any order.
    named = sorted([(s.filename or "", await s.read()) for s in sent[:3]], key=lambda f: looks_like_rules(f[1]))
    content = named[0][1] if named else b""
    try:
        if not content:
            raise IntakeError("Choose a file first.", "file")
        kind = kind_of(content)
        if kind == "json":
            pattern = read_pattern(content)
            with db.write(home.conn):
                pattern_id = patterns.add_pattern(home.conn, pattern)
            return see_other(request, f"/patterns/{pattern_id}")
    except (IntakeError, PatternFileError) as error:
        form.errors["file"] = error.text
        return begin_page(request, home, form, 422)
    if len(named) > 2 or (len(named) == 2 and not looks_like_rules(named[1][1])):
        form.errors["file"] = "One file at a time; only a grading table (RUL) may come with its DXF."
        return begin_page(request, home, form, 422)
    name = named[0][0] or f"file.{kind}"
    into = whole_number(form.typed.get("pattern", ""))
    with db.write(home.conn):
        intake_id = intakes.add(home.conn, "file", name, [f for _, f in named], "{}", into, now())
    return see_other(request, f"/patterns/intake/{intake_id}")


def _look(request: Request, home: Household, work: LongWork, stored: intakes.StoredIntake) -> Progress:
    """How far the reading is; what came of it is kept once it is there."""
    place = f"{request.app.state.database}:intake:{stored.id}"
    options = _OPTIONS.validate_json(stored.options)
    data = intakes.files(home.conn, stored.id)
    grading = data[1] if len(data) > 1 else None
    task = ReadFile(f"{stored.digest}:{stored.version}", options, data[0] if data else b"", grading)
    progress = work.look(place, task, patient=False)
    if progress.result is not None:
        with db.write(home.conn):
            intakes.keep_result(home.conn, stored.id, _INTAKE.dump_json(progress.result).decode())
    elif progress.problem or progress.stopped:
        with db.write(home.conn):
            intakes.keep_result(home.conn, stored.id, None, progress.problem or "Reading was stopped.")
    return progress


@router.get("/samples/{name}", name="intake_sample")
def sample_file(name: str) -> Response:
    """A sample file to try the ways in with."""
    if name not in SAMPLE_FILES:
        raise db.NotFound("There is no such sample.")
    return Response(
        sample(name),
        media_type="application/octet-stream",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


@router.get("/{intake_id}", name="intake")
def show(request: Request, home: Home, work: Work, intake_id: int) -> Response:
    """How far the reading is; when it is done, the pieces found."""
    stored = intakes.intake(home.conn, intake_id)
    if stored.way == "photo":
        return see_other(request, f"/patterns/trace/{intake_id}")
    if stored.result is None and not stored.problem:
        progress = _look(request, home, work, stored)
        if progress.running or "HX-Request" in request.headers:
            return reading_page(request, home, stored, progress)
        stored = intakes.intake(home.conn, intake_id)
    return _review(request, home, stored, None, 200)


def reading_page(request: Request, home: Household, stored: intakes.StoredIntake, progress: Progress) -> Response:
    """How far a reading is; the page that waits for it goes on to what came of it."""
    if not progress.running:
        return see_other(request, f"/patterns/{'trace' if stored.way == 'photo' else 'intake'}/{stored.id}")
    context = {"stored": stored, "progress": progress}
    return page_or_part(request, home, "intake/reading.html", "intake/_reading.html", context)


@router.post("/{intake_id}/stop", name="intake_stop")
def stop(request: Request, home: Home, work: Work, intake_id: int) -> Response:
    """Stop reading."""
    work.stop(f"{request.app.state.database}:intake:{intake_id}")
    return see_other(request, f"/patterns/intake/{intake_id}")


def _review(
    request: Request,
    home: Household,
    stored: intakes.StoredIntake,
    form: Form | None,
    status: int,
    rows: list[PieceRow] | None = None,
) -> Response:
    options = _OPTIONS.validate_json(stored.options)
    same = intakes.same_as(home.conn, stored)
    context = {
        "stored": stored,
        "options": options,
        "form": form,
        "same": same,
        "patterns": patterns.patterns(home.conn),
        "garments": [(g, g) for g in GARMENTS],
        "intake": None,
    }
    if stored.result is None:
        return page(request, home, "intake/review.html", context, status if form else 200)
    intake = _INTAKE.validate_json(stored.result)
    into = _into(home, form, stored)
    allowance = usual_allowance(intake)
    asked = asks_scale(intake)
    context |= {
        "asked": asked,
        "scales": _scales(intake) if asked else [],
        "long": longest_piece(intake) if asked else None,
        "intake": intake,
        "rows": rows or rows_of(intake, form),
        "drawing": intake_svg(intake, f"What was found in {stored.name}"),
        "into": into,
        "allowance": format_length(allowance, home.unit) if allowance is not None else "",
        "seen_allowance": allowance,
        "name": (name := stored.name.rsplit(".", 1)[0].replace("_", " ").replace("-", " ").strip().capitalize()),
        "guessed": garment_by_names(name, [piece.name for piece in intake.pieces]),
    }
    return page(request, home, "intake/review.html", context, status)


def _scales(intake: Intake) -> list[dict[str, object]]:
    """The scales that may be meant, each with its drawing."""
    outline = list(longest_piece(intake).sizes.values())[-1].outline
    return [{"factor": f, "long_mm": mm, "drawing": scale_choice_svg(outline, f)} for f, mm in choices(intake)]


@router.post("/{intake_id}/large", name="intake_large")
async def large(request: Request, home: Home, intake_id: int) -> Response:
    """Read the file again as large as the user says that it is."""
    form = await read_form(request, home.unit)
    stored = intakes.intake(home.conn, intake_id)
    if stored.result is None:
        return see_other(request, f"/patterns/intake/{intake_id}")
    intake = _INTAKE.validate_json(stored.result)
    factor = _factor(form, intake)
    if factor is None or not form.sound:
        return _review(request, home, stored, form, 422, rows_of(intake, None))
    options = replace(_OPTIONS.validate_json(stored.options), scale=intake.scale * factor)
    with db.write(home.conn):
        intakes.read_again(home.conn, intake_id, form.opened(stored.version), _OPTIONS.dump_json(options).decode())
    return see_other(request, f"/patterns/intake/{intake_id}")


def _factor(form: Form, intake: Intake) -> float | None:
    """By what the user says that everything is larger: by the largest piece's length, or as picked."""
    every = choices(intake)
    long = form.length("long_is", most_mm=20_000)
    if long is not None and every:
        return long.mm / (every[0][1] / every[0][0])
    picked = next((f for f, _ in every if form.typed.get("factor") == f"{f:.9g}"), None)
    if picked is None and form.sound:
        form.errors["factor"] = "Pick one, or write how long the piece is."
    return picked


def _into(home: Household, form: Form | None, stored: intakes.StoredIntake) -> int | None:
    if form is not None:
        return whole_number(form.typed.get("pattern", ""))
    return stored.pattern_id


@router.post("/{intake_id}/again", name="intake_again")
async def again(request: Request, home: Home, intake_id: int) -> Response:
    """Read the file again with what the user says of it."""
    form = await read_form(request, home.unit)
    stored = intakes.intake(home.conn, intake_id)
    options = _read_options(form)
    if not form.sound:
        return _review(request, home, stored, form, 422)
    with db.write(home.conn):
        intakes.read_again(home.conn, intake_id, form.opened(stored.version), _OPTIONS.dump_json(options).decode())
    return see_other(request, f"/patterns/intake/{intake_id}")


def _read_options(form: Form) -> IntakeOptions:
    unit = form.typed.get("unit") or None
    if unit not in (None, "mm", "cm", "in"):
        form.errors["unit"] = "Choose mm, cm or in."
    scale = _scale(form)
    counts = {key: _count(form, key) for key in ("columns", "rows")}
    overlap, margin = form.length("overlap", most_mm=200), form.length("margin", most_mm=200)
    return IntakeOptions(
        unit=unit,
        scale=scale,
        columns=counts["columns"],
        rows=counts["rows"],
        overlap=overlap.mm if overlap else None,
        margin=margin.mm if margin else None,
        places=_page_places(form),
    )


def _count(form: Form, key: str) -> int | None:
    return form.number(key, "Pages", 1, 60) if form.typed.get(key, "").strip() else None


def _scale(form: Form) -> float | None:
    """The scale from what a line measures on the paper and in the drawing; or as typed."""
    text = form.typed.get("scale", "").strip().replace(",", ".")
    if not text:
        return None
    try:
        percent = float(text.rstrip("% "))
    except ValueError:
        form.errors["scale"] = "Write a percentage, such as 100 or 102.5."
        return None
    if not 1 <= percent <= 10_000:
        form.errors["scale"] = "Between 1 and 10000 %."
    return percent / 100


def _page_places(form: Form) -> tuple[tuple[int, float, float], ...]:
    """Where pages were dragged to, mm."""
    text = form.typed.get("places", "").strip()
    if not text:
        return ()
    try:
        places = tuple((int(p), float(x), float(y)) for p, x, y in json.loads(text))
    except (ValueError, TypeError):
        form.errors["places"] = "The pages' places could not be read. Drag a page again."
        return ()
    return places if all(abs(x) < 1e5 and abs(y) < 1e5 for _, x, y in places) else ()


@router.post("/{intake_id}/keep", name="intake_keep")
async def keep(request: Request, home: Home, intake_id: int) -> Response:
    """Take pieces over into a new pattern or one that is there."""
    form = await read_form(request, home.unit)
    stored = intakes.intake(home.conn, intake_id)
    if stored.result is None:
        return see_other(request, f"/patterns/intake/{intake_id}")
    intake = _INTAKE.validate_json(stored.result)
    if asks_scale(intake):
        form.errors["factor"] = "Say first how large it is: nothing in the file tells it."
        return _review(request, home, stored, form, 422, rows_of(intake, form))
    into = whole_number(form.typed.get("pattern", ""))
    old = patterns.pattern(home.conn, into) if into is not None else None
    sizes = read_sizes(form, intake, old.pattern if old and old.pattern.sizes else None)
    pattern = (
        old.pattern if old else Pattern(form.text("pattern_name", "A name", 120), "", form.choice("garment", GARMENTS))
    )
    rows = rows_of(intake, form)
    pieces = read_pieces(form, intake, rows, sizes, pattern)
    if not form.sound:
        return _review(request, home, stored, form, 422, rows)
    with db.write(home.conn):
        if old is None:
            names = [sizes[s] for s in intake.sizes if s in sizes]
            begun = replace(pattern, sizes=tuple(EnvelopeSize(n, {}) for n in names), pieces=tuple(pieces))
            pattern_id = patterns.add_pattern(home.conn, begun)
        else:
            pattern_id, version = old.id, old.version
            for piece in pieces:
                patterns.put_piece(home.conn, pattern_id, version, piece)
                version += 1
        intakes.belongs_to(home.conn, intake_id, pattern_id)
    return see_other(request, f"/patterns/{pattern_id}?taken={len(pieces)}")


@router.post("/{intake_id}/drop", name="intake_drop")
def drop(request: Request, home: Home, intake_id: int) -> Response:
    """Forget a file that was taken in; pieces kept from it stay."""
    with db.write(home.conn):
        gone = keeping.delete(home.conn, keeping.KINDS["file"], intake_id, now())
    return see_other(request, with_undo("/patterns/intake", gone))
