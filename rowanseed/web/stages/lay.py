"""Lay: every piece on its cloth to scale, with progress while it is worked out."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import SPREAD_WORDS
from rowanseed.core.lay.engine import SPREADS as EVERY_SPREAD
from rowanseed.core.lay.finish import how_to_spread
from rowanseed.core.lay.model import AskedSpread, Effort, Lay, LayCloth, LayRequest, Locked, Placement, Spread
from rowanseed.core.lay.offcuts import Offcut, offcuts
from rowanseed.core.lay.on_cloth import lane_origin
from rowanseed.core.lay.reading import PieceReading, read_lay
from rowanseed.core.lengths import Length, Unit, format_length, parse_length
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.reckon.buying import Buy
from rowanseed.formats.lay_export import lay_csv, lay_dxf, lay_pdf
from rowanseed.formats.photo import as_data
from rowanseed.formats.svg import LayDrawing
from rowanseed.jobs.pool import Job
from rowanseed.services.remembered import Remembered
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import cloths, db, drafts, makes, photos
from rowanseed.web.deps import Home, Household, Jobs, now, page, page_or_part, see_other
from rowanseed.web.forms import read_form, whole_number
from rowanseed.web.print_placement import fold_of

router = APIRouter(prefix="/makes/{make_id}/lay", include_in_schema=False)
# A spread in the row of figures, where there is room for two words.
SHORT_WORDS: dict[Spread, str] = {
    "single": "single",
    "lengthwise-fold": "folded",
    "part-fold": "part fold",
    "double-fold": "two folds",
    "crosswise-fold": "across",
    "fold-then-single": "in turn",
}
SPREADS: tuple[AskedSpread, ...] = ("easiest", "best", *EVERY_SPREAD)
FILES = {"svg": "image/svg+xml", "dxf": "image/vnd.dxf", "pdf": "application/pdf", "csv": "text/csv; charset=utf-8"}
EFFORTS: tuple[Effort, ...] = ("quick", "good", "best")


_PICTURES = Remembered(48)  # of lays, by all that they show


@dataclass(frozen=True)
class Drawn:
    """A lay as the page shows it."""

    lay: Lay
    svg: str
    readings: list[PieceReading]
    titles: dict[str, tuple[str, str]]
    halves: set[str]
    buy: Buy | None
    stale: bool
    left_mm: float = 0.0  # what the cloth in hand has beyond this lay


def titles_of(view: WorkedMake, role: WorkedRole) -> dict[str, tuple[str, str]]:
    """How each piece of a lay is called: its number, with its size where several garments share the lay, and its name."""
    return {
        s.lay_id: (s.piece.number if len(view.sizes) == 1 else f"{s.piece.number} · {s.size}", s.piece.name)
        for s in role.pieces
    }


def draw(view: WorkedMake, role: WorkedRole, lay: Lay, stale: bool) -> Drawn:
    """A lay with its picture and its table."""
    assert role.cloth is not None
    cloth, titles, unit, fold = role.cloth.cloth, titles_of(view, role), view.settings.unit, fold_of(role)
    in_hand = role.request.cloth.length_mm if role.request else None

    def work() -> tuple[list[PieceReading], str]:
        read = read_lay(lay)
        return read, LayDrawing(lay, cloth, unit, lambda i: titles.get(i, (i, "")), in_hand, fold).svg(read)

    told = (repr(cloth), repr(titles), unit, in_hand, fold, stale)
    readings, picture = _PICTURES.once((_seen(lay), *told), work)
    halves = {s.lay_id for s in role.pieces if s.shape.fold_edge is not None}
    left = in_hand - lay.length_mm if in_hand is not None and not lay.short_mm and not lay.failed else 0.0
    bought = role.to_buy(view.settings)
    return Drawn(lay, picture, readings, titles, halves, bought, stale, max(left, 0.0))


def _seen(lay: Lay) -> tuple[object, ...]:
    """All of a lay that its picture shows, as a key."""
    stands = tuple(
        (p.piece, p.lane, p.turned, p.face_down, p.layers, p.on_fold, tuple(p.outline), tuple(sorted(p.marks.items())))
        for p in lay.placements
    )
    return (lay.spread, lay.length_mm, lay.width_mm, lay.short_mm, lay.failed, lay.unmatched, lay.lanes, stands)


def _context(view: WorkedMake, role: WorkedRole, job: Job | None) -> dict[str, object]:
    drawn = None
    if job is not None and job.best is not None and not job.over:
        drawn = draw(view, role, job.best, stale=False)
    elif role.kept is not None and role.cloth is not None and role.pieces:
        drawn = draw(view, role, role.kept.lay, stale=not role.current)
    locks = view.make.plan.locked.get(role.role, ())
    held = {r.number for r in drawn.readings if place_of(r.placement) in locks} if drawn else set()
    return {
        "view": view,
        "role": role,
        "job": job,
        "drawn": drawn,
        "held": held,
        "drafted": drafts.draft(view.conn, view.make.id, role.role) is not None,
        "spreads": SPREADS,
        "words": SPREAD_WORDS,
        "short_words": SHORT_WORDS,
        "efforts": EFFORTS,
    }


def _role(view: WorkedMake, name: str) -> WorkedRole:
    role = view.role(name) if name else next(iter(view.roles), None)
    if role is None:
        raise db.NotFound("This view has no such cloth.")
    return role


def job_key(database: Path, make_id: int, role: str) -> str:
    """What a lay's job is known by."""
    return f"{database}:{make_id}:{role}"


@router.get("", name="lay")
def show(request: Request, home: Home, jobs: Jobs, make_id: int, role: str = "") -> Response:
    """The lay of one role."""
    view = WorkedMake(home.conn, make_id, home.settings)
    if not view.roles:
        return page(request, home, "lay/empty.html", {"view": view})
    chosen = _role(view, role)
    job = jobs.last(job_key(request.app.state.database, make_id, chosen.role))
    if job is not None and job.over and not job.problem:
        job = None
    return page(request, home, "lay/show.html", _context(view, chosen, job))


@router.get("/table", name="lay_table")
def at_the_table(request: Request, home: Home, make_id: int, role: str = "", n: int = 0) -> Response:
    """One piece at a time, filling the screen: first how the cloth is spread, then every piece in cutting order."""
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = _role(view, role)
    kept = chosen.kept
    if kept is None or chosen.request is None or not chosen.current or not kept.lay.placements:
        raise db.ChangedMeanwhile("There is no lay that is up to date. Lay the pieces again first.")
    drawn = draw(view, chosen, kept.lay, stale=False)
    number = min(max(n, 0), len(drawn.readings))
    assert chosen.cloth is not None  # a drawn lay has its cloth
    drawing = LayDrawing(
        kept.lay,
        chosen.cloth.cloth,
        home.unit,
        lambda i: drawn.titles.get(i, (i, "")),
        chosen.request.cloth.length_mm,
        fold_of(chosen),
    )
    reading = drawn.readings[number - 1] if number else None
    lanes = [kept.lay.lanes[r.placement.lane].layers for r in drawn.readings[max(number - 2, 0) : number]]
    context = {
        "view": view,
        "role": chosen,
        "drawn": drawn,
        "number": number,
        "reading": reading,
        "svg": drawing.svg(drawn.readings, focus=number),
        "spread": how_to_spread(kept.lay, chosen.request.cloth.one_way),
        "card": view.cards.get(chosen.role, [])[number - 1]
        if 0 < number <= len(view.cards.get(chosen.role, []))
        else None,
        "reopen": kept.lay.spread == "fold-then-single" and len(set(lanes)) == 2,
    }
    return page(request, home, "lay/table.html", context)


@router.get("/lay.{kind}", name="lay_file")
def give_out(request: Request, home: Home, make_id: int, kind: str, role: str = "") -> Response:
    """The lay as a file: SVG and DXF to true size, PDF for printing, CSV the places. Only one that is up to date and sound."""
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = _role(view, role)
    kept = chosen.kept
    if kind not in FILES or kept is None or not chosen.pieces:
        raise db.NotFound("There is no such file of a lay.")
    if not chosen.current or chosen.request is None or check_lay(chosen.request, kept.lay):
        raise db.ChangedMeanwhile("Size, cloth or pieces changed since this lay was made. Lay them again first.")
    drawn = draw(view, chosen, kept.lay, stale=False)
    headers = {"Content-Disposition": f'attachment; filename="lay-{make_id}-{chosen.role}.{kind}"'}
    content = _file(view, chosen, drawn, kind)
    if isinstance(content, str) and chosen.cloth is not None and chosen.cloth.cloth.tile:
        content = _standing_alone(content, request.app.state.database, chosen.cloth.cloth.tile)
    return Response(content, media_type=FILES[kind], headers=headers)


def _standing_alone(svg: str, database: Path, tile: str) -> str:
    """A drawing that carries the photograph of its print, since the file will be read where no address of ours answers."""
    carried = as_data(photos.path_of(database, tile).read_bytes(), tile.rpartition(".")[2])
    return svg.replace(f'href="/photos/{tile}"', f'href="{carried}"')


def _file(view: WorkedMake, role: WorkedRole, drawn: Drawn, kind: str) -> bytes | str:
    def titles(lay_id: str) -> tuple[str, str]:
        return drawn.titles.get(lay_id, (lay_id, ""))

    if kind == "dxf":
        return lay_dxf(drawn.lay, titles)
    if kind == "csv":
        return lay_csv(drawn.readings, titles, view.settings.unit)
    assert role.cloth is not None  # a drawn lay has its cloth
    if kind == "pdf":
        heading = f"{view.make.name}: {role.cloth.cloth.name}, {SPREAD_WORDS[drawn.lay.spread]}"
        return lay_pdf(drawn.lay, drawn.readings, titles, heading, view.settings.unit)
    in_hand = role.request.cloth.length_mm if role.request else None
    drawing = LayDrawing(drawn.lay, role.cloth.cloth, view.settings.unit, titles, in_hand, fold_of(role))
    return drawing.svg(drawn.readings, to_size=True)


@router.post("/start", name="lay_start")
async def start(request: Request, home: Home, jobs: Jobs, make_id: int) -> Response:
    """Start laying one role's pieces; the choice of spread and effort is kept."""
    form = await read_form(request, home.unit)
    gap = form.length("gap", most_mm=50)
    spread, effort = form.choice("spread", SPREADS), form.choice("effort", EFFORTS)
    make = makes.make(home.conn, make_id)
    if form.sound:
        plan = replace(make.plan, spread=spread, effort=effort, gap_mm=gap.mm if gap else make.plan.gap_mm)
        if plan != make.plan:
            with db.write(home.conn):
                makes.put_plan(home.conn, make_id, form.opened(make.version), plan)
    view = WorkedMake(home.conn, make_id, home.settings)
    role = _role(view, form.typed.get("role", ""))
    if not form.sound or role.request is None:
        return page(request, home, "lay/show.html", {**_context(view, role, None), "form": form, "refused": True}, 422)
    database = request.app.state.database
    key = job_key(database, make_id, role.role)
    jobs.submit(key, role.request, keeper(database, make_id, role.role, role.request))
    return see_other(request, f"/makes/{make_id}/lay?role={role.role}")


def keeper(database: Path, make_id: int, role: str, asked: LayRequest) -> Callable[[Lay], None]:
    """What keeps a finished lay; it runs outside any request, so it opens its own connection."""

    def keep(lay: Lay) -> None:
        conn = db.connect(database)
        try:
            with db.write(conn):
                makes.put_lay(conn, make_id, role, fingerprint(asked), lay, now())
        finally:
            conn.close()

    return keep


def _remaining(view: WorkedMake, role: WorkedRole) -> list[Offcut]:
    if role.kept is None or role.request is None or not role.current:
        raise db.ChangedMeanwhile("Size, cloth or pieces changed since this lay was made. Lay them again first.")
    return offcuts(role.kept.lay, role.request.cloth)


@router.get("/offcuts", name="lay_offcuts")
def remains(request: Request, home: Home, make_id: int, role: str = "") -> Response:
    """The largest rectangles that remain of the cloth."""
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = _role(view, role)
    context = {"view": view, "role": chosen, "rest": _remaining(view, chosen)}
    return page_or_part(request, home, "lay/offcuts.html", "lay/_offcuts.html", context)


@router.post("/offcuts", name="lay_keep_offcut")
async def keep_offcut(request: Request, home: Home, make_id: int) -> Response:
    """Put one of the offcuts into the stash, as a cloth of its own."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = _role(view, form.typed.get("role", ""))
    number = whole_number(form.typed.get("number", ""))
    rest = _remaining(view, chosen)
    if number is None or number >= len(rest) or chosen.cloth is None:
        raise db.NotFound("There is no such offcut.")
    assert chosen.kept is not None and chosen.request is not None  # or nothing would remain of it
    whole, laid_on = chosen.cloth.cloth, chosen.request.cloth
    offcut = _as_cloth(whole, rest[number], chosen.kept.lay, laid_on, view.make.name, home.unit)
    with db.write(home.conn):
        cloth_id = cloths.add_cloth(home.conn, offcut)
    return see_other(request, f"/cloths/{cloth_id}")


def _as_cloth(whole: Cloth, rest: Offcut, lay: Lay, laid_on: LayCloth, make: str, unit: Unit) -> Cloth:
    """An offcut with all that is known of its cloth; it has no selvage but where it is the whole width."""

    def length(mm: float) -> Length:
        return parse_length(format_length(mm, unit))

    across = lane_origin(lay, rest.lane, laid_on.width_mm, laid_on.width_mm / 2) + rest.y_mm if rest.y_mm else 0.0
    edge = whole.selvage if rest.width_mm == laid_on.width_mm else Length(0.0, f"0 {unit}", unit)
    alike = "; two alike" if rest.layers == 2 else ""
    note = f"left from {make}{alike}"
    name = f"{whole.name}, offcut"[:80]
    # It was laid washed, and it begins elsewhere in the print; the further lengths are not part of it.
    return replace(
        whole,
        name=name,
        width=length(rest.width_mm),
        length=length(rest.length_mm),
        selvage=edge,
        flaws=(),
        note=note,
        others=(),
        prepared=True,
        shrink_along=0.0,
        shrink_across=0.0,
        print=laid_on.print.seen_from(rest.x_mm, across) if laid_on.print else whole.print,
    )


@router.post("/hold", name="lay_hold")
async def hold(request: Request, home: Home, make_id: int) -> Response:
    """Hold a piece where it lies, or let it go: the next lay is made around what is held."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    role = _role(view, form.typed.get("role", ""))
    number = whole_number(form.typed.get("number", ""))
    readings = read_lay(role.kept.lay) if role.kept and role.current else []
    reading = next((r for r in readings if r.number == number), None)
    if reading is None:
        raise db.NotFound("There is no such piece in this lay; it may have changed. Load the page again.")
    held, there = view.make.plan.locked.get(role.role, ()), place_of(reading.placement)
    kept = tuple(lock for lock in held if lock != there)
    kept = kept if len(kept) < len(held) else (*held, there)
    # What is held lies on a lane of this spread, so the spread is held with it.
    spread = role.kept.lay.spread if role.kept and kept else view.make.plan.spread
    plan = replace(view.make.plan, locked={**view.make.plan.locked, role.role: kept}, spread=spread)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), plan)
    return see_other(request, f"/makes/{make_id}/lay?role={role.role}#row-{number}")


def place_of(placement: Placement) -> Locked:
    """Where a placement lies, as it is held."""
    x, y = min(x for x, _ in placement.outline), min(y for _, y in placement.outline)
    turned, face_down = placement.turned, placement.face_down
    return Locked(placement.piece, placement.lane, round(x, 3), round(y, 3), turned, face_down)


@router.get("/progress/{job_id}", name="lay_progress")
def progress(request: Request, home: Home, jobs: Jobs, make_id: int, job_id: int, role: str) -> Response:
    """The best lay so far; once the job is over, the page's own part."""
    job = jobs.get(job_id)
    return _lay_part(request, home, make_id, role, job)


@router.post("/stop/{job_id}", name="lay_stop")
def stop(request: Request, home: Home, jobs: Jobs, make_id: int, job_id: int, role: str) -> Response:
    """Stop laying and keep the best so far."""
    job = jobs.get(job_id)
    if job is not None:
        jobs.stop(job_id)
        job.finished.wait(2.0)
    if "HX-Request" not in request.headers:
        return see_other(request, f"/makes/{make_id}/lay?role={role}")
    return _lay_part(request, home, make_id, role, job)


def _lay_part(request: Request, home: Household, make_id: int, role: str, job: Job | None) -> Response:
    view = WorkedMake(home.conn, make_id, home.settings)
    context = _context(view, _role(view, role), job)
    response = page(request, home, "lay/_lay.html", context)
    if job is None or job.over:
        response.headers["HX-Refresh"] = "true"  # stages, findings and the next action follow from the lay
    return response
