"""At the machine: one step fills the screen, with what to set and put back, a sample, a timer; evenings, the sheet, and trouble."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile

from rowanseed.core.errors import IntakeError, ReckonError
from rowanseed.core.sew.evening_words import read_evening
from rowanseed.core.sew.evenings import plan_evenings
from rowanseed.core.sew.garment import without_tools
from rowanseed.core.sew.model import Step
from rowanseed.core.sew.settings import to_put_back, to_set, usual_settings
from rowanseed.core.sew.sheet import (
    LINE,
    Offer,
    compare,
    lines_as_steps,
    offers,
    operations_meant,
    read_sheet,
    with_lines,
)
from rowanseed.core.sew.sheet_steps import SheetStep, sheet_steps
from rowanseed.core.sew.trouble import find
from rowanseed.formats.readings import pages_of, read_sheet_pdf
from rowanseed.formats.sewing import library, troubles
from rowanseed.formats.step_svg import step_svg
from rowanseed.services.step_words import titles_of
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, makes, sewing
from rowanseed.web.deps import Home, Household, now, page, see_other, today
from rowanseed.web.forms import Form, read_form, stamp, whole_number

router = APIRouter(prefix="/makes/{make_id}/sew", include_in_schema=False)
AT_MACHINE = ("machine", "overlocker")
MOST_SHEET = 20_000


def _neighbours(steps: list[Step], at: int) -> tuple[Step | None, Step | None]:
    """The machine step before, and the next one."""
    place = steps[at].operation.place
    before = next((s for s in reversed(steps[:at]) if s.operation.place == place), None)
    after = next((s for s in steps[at + 1 :] if s.operation.place == place), None)
    return before, after


@router.get("/machine", name="sew_machine")
def show(request: Request, home: Home, make_id: int, step: str = "") -> Response:
    """One step, readable at arm's length."""
    view = WorkedMake(home.conn, make_id, home.settings)
    steps = view.steps
    if not steps:
        return see_other(request, f"/makes/{make_id}/sew")
    at = next((k for k, s in enumerate(steps) if s.operation.id == step), -1)
    if at < 0:
        at = next((k for k, s in enumerate(steps) if s.operation.id not in view.over), len(steps) - 1)
    current = steps[at]
    before, after = _neighbours(steps, at)
    own = current.operation.place in AT_MACHINE
    back = (
        to_put_back(current.settings, usual_settings(view.garment.cloth))
        if current.operation.place == "machine"
        else []
    )
    kept = after.settings if after else {}
    title = titles_of(view)
    context = {
        "view": view,
        "current": current,
        "number": at + 1,
        "total": len(steps),
        "before": steps[at - 1] if at else None,
        "after": steps[at + 1] if at + 1 < len(steps) else None,
        "set": to_set(before.settings if before and own else None, current.settings),
        "back": [change for change in back if kept.get(change[0]) != change[1]],
        "svg": step_svg(current.operation, view.sewing_facts),
        "log": view.log,
        "done": current.operation.id in view.sewn,
        "skipped": view.log.get((current.operation.id, "skipped"), ""),
        "sample": view.log.get((current.operation.id, "sample"), ""),
        "seconds": view.log.get((current.operation.id, "seconds"), ""),
        "samples": [
            (s.operation.title, view.log[(s.operation.id, "sample")])
            for s in steps
            if (s.operation.id, "sample") in view.log and s.operation.id != current.operation.id
        ],
        "earlier": [
            (title(step), text, make) for step, text, make in sewing.samples_on_the_same_cloth(home.conn, make_id)
        ],
    }
    return page(request, home, "sew/machine.html", context)


@router.post("/machine", name="sew_machine_done")
async def done(request: Request, home: Home, make_id: int) -> Response:
    """Tick a step, skip it with the reason, or undo either; keep what its sample showed and how long it took."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    ids = [s.operation.id for s in view.steps]
    step, what = form.typed.get("step", ""), form.choice("what", ("done", "skip", "undo", "keep"))
    if step not in ids:
        raise db.NotFound("There is no such step in this make.")
    reason, seconds = form.text("reason", most=300), form.typed.get("seconds", "")
    if what == "skip" and not reason:
        reason = "left out"
    with db.write(home.conn):
        if "sample" in form.typed:
            sewing.put_log(home.conn, make_id, step, "sample", form.text("sample", most=500), now())
        taken = whole_number(seconds)
        if taken is not None and 0 < taken < 86_400:
            sewing.put_log(home.conn, make_id, step, "seconds", str(taken), now())
        if what != "keep":
            makes.tick(home.conn, make_id, "sew", step, what == "done", now())
            sewing.put_log(home.conn, make_id, step, "skipped", reason if what == "skip" else "", now())
    at = ids.index(step)
    go = ids[at + 1] if what in ("done", "skip") and at + 1 < len(ids) else step
    return see_other(request, f"/makes/{make_id}/sew/machine?step={go}")


@router.get("/evenings", name="sew_evenings")
def evenings(request: Request, home: Home, make_id: int) -> Response:
    """The sittings on the calendar, planned anew from what is really done."""
    return _evenings(request, home, WorkedMake(home.conn, make_id, home.settings), None, 200)


def _evenings(request: Request, home: Household, view: WorkedMake, form: Form | None, status: int) -> Response:
    usual = view.make.plan.sitting_minutes or home.settings.sitting_minutes
    planned = plan_evenings(view.steps, view.make.plan.evenings, view.over, today(), usual)
    typed = "\n".join(f"{day.isoformat()} {minutes}" for day, minutes in view.make.plan.evenings)
    context = {
        "view": view,
        "planned": planned,
        "usual": usual,
        "form": form or Form({"evenings": typed}, home.unit),
        "pace": view.pace.said(),
        "left": sum(s.operation.minutes for s in view.steps if s.operation.id not in view.over),
    }
    return page(request, home, "sew/evenings.html", context, status)


def read_evenings(form: Form) -> tuple[tuple[date, int], ...]:
    """Days with their minutes, one a line: `2026-12-01 90`, `Tue 1 h 30`; a day given twice has both times."""
    found: dict[date, int] = {}
    for line in form.text("evenings", most=4000).splitlines():
        if not line.strip():
            continue
        try:
            day, minutes = read_evening(line, today())
            found[day] = found.get(day, 0) + minutes
        except ReckonError as error:
            form.errors["evenings"] = error.text
    days = sorted(found.items())
    if days:
        said = "; ".join(f"{day:%a} {day.day} {day:%b %Y}, {minutes} min" for day, minutes in days)
        form.echoes["evenings"] = f"Understood: {said}."
    return tuple(days)


@router.post("/evenings", name="sew_evenings_keep")
async def keep_evenings(request: Request, home: Home, make_id: int) -> Response:
    """Keep the evenings and plan anew."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    given = read_evenings(form)
    if not form.sound:
        return _evenings(request, home, view, form, 422)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), replace(view.make.plan, evenings=given))
    return see_other(request, f"/makes/{make_id}/sew/evenings")


@router.get("/sheet", name="sew_sheet")
def sheet(request: Request, home: Home, make_id: int) -> Response:
    """The sheet's own steps beside the safe order."""
    return _sheet(request, home, WorkedMake(home.conn, make_id, home.settings), None, 200)


def _sheet(
    request: Request, home: Household, view: WorkedMake, form: Form | None, status: int, heard: Sequence[str] = ()
) -> Response:
    sheets = sewing.sheets(home.conn, view.make.pattern_id)
    text = sheets.get(view.make.view, "")
    lines = read_sheet(text, sheets, view.make.view)
    matched = offers(library(), view.garment, lines, view.make.plan.sheet)
    compared = compare(library(), view.garment, operations_meant(matched)) if lines else None
    context = {
        "view": view,
        "form": form or Form({"sheet": text}, home.unit),
        "heard": heard,
        "seen": form.typed.get("seen", "") if form else stamp(text),
        "offers": matched,
        "compared": compared,
        "steps": view.steps,
        "title_of": titles_of(view),
        "kept": compared is not None and _operations_in(view.make.plan.order) == list(compared.order),
        "sure": _how_sure,
        "risks": {f.step: f for f in compared.findings if f.kind != "wish"} if compared else {},
        "shift": compared.shift if compared else {},
    }
    return page(request, home, "sew/sheet.html", context, status)


def _operations_in(order: Sequence[str]) -> list[str]:
    """An order without the steps in the sheet's own words."""
    return [id_ for id_ in order if not id_.startswith(LINE)]


def _how_sure(offer: Offer) -> str:
    """How sure the meaning of a line is, in words."""
    if offer.asked:
        return "as you said"
    if offer.ids:
        return "surely this"
    if offer.sure:
        return f"perhaps: {', '.join(op.title.lower() for op in offer.offered[:2])}"
    return "nothing here is like it"


@router.post("/sheet", name="sew_sheet_keep")
async def keep_sheet(request: Request, home: Home, make_id: int) -> Response:
    """Keep the sheet of this view, as it was typed or pasted."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    text = form.text("sheet", most=MOST_SHEET)
    if not form.sound:
        return _sheet(request, home, view, form, 422)
    with db.write(home.conn):
        now_there = sewing.sheets(home.conn, view.make.pattern_id).get(view.make.view, "")
        if "seen" in form.typed and form.typed["seen"] != stamp(now_there):
            raise db.ChangedMeanwhile("This sheet was changed in another window since you opened it.")
        sewing.put_sheet(home.conn, view.make.pattern_id, view.make.view, text)
    return see_other(request, f"/makes/{make_id}/sew/sheet")


@router.post("/sheet/file", name="sew_sheet_file")
async def read_file(request: Request, home: Home, make_id: int) -> Response:
    """Read the steps out of a sheet's PDF into the field, to be looked through; nothing is kept until the form is."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    sent = (await request.form()).get("file")
    kept = sewing.sheets(home.conn, view.make.pattern_id).get(view.make.view, "")
    shown = Form({"sheet": kept, "pages": form.typed.get("pages", ""), "seen": stamp(kept)}, home.unit)
    try:
        if not isinstance(sent, UploadFile) or not sent.size:
            raise IntakeError("Choose the sheet's PDF.", "file")
        pages = pages_of(form.typed.get("pages", ""))
        read = sheet_steps(await run_in_threadpool(read_sheet_pdf, await sent.read(), pages))
    except IntakeError as error:
        shown.errors["file"] = error.text
        return _sheet(request, home, view, shown, 422)
    text = "\n".join(_as_line(step) for step in read.steps)
    heard = [
        f"{len(read.steps)} steps were read. Look through them; nothing is kept yet.",
        *(f.text for f in read.findings),
    ]
    return _sheet(request, home, view, Form({**shown.typed, "sheet": text}, home.unit), 200, heard)


def _as_line(step: SheetStep) -> str:
    return f"{step.number}. {step.text}"


@router.post("/sheet/match", name="sew_sheet_match")
async def match(request: Request, home: Home, make_id: int) -> Response:
    """Say which operations the lines mean."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    sheets = sewing.sheets(home.conn, view.make.pattern_id)
    lines = read_sheet(sheets.get(view.make.view, ""), sheets, view.make.view)
    ids = {s.operation.id for s in view.steps} | {""}
    chosen = {}
    for line in lines:
        picked = [form.typed.get(f"line-{line.number}{part}") for part in ("", "-too")]
        if picked[0] is not None and all(pick in ids for pick in picked if pick):
            chosen[line.text] = " ".join(dict.fromkeys(pick for pick in picked if pick))
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), replace(view.make.plan, sheet=chosen))
    return see_other(request, f"/makes/{make_id}/sew/sheet#both")


@router.post("/sheet/order", name="sew_sheet_order")
async def take_order(request: Request, home: Home, make_id: int) -> Response:
    """Sew in the sheet's order, its warnings kept in sight; or go back to the safe one."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    order: tuple[str, ...] = ()
    own = tuple(step for step in view.make.plan.own_steps if not step.id.startswith(LINE))
    if form.flag("use"):
        sheets = sewing.sheets(home.conn, view.make.pattern_id)
        lines = read_sheet(sheets.get(view.make.view, ""), sheets, view.make.view)
        matched = offers(library(), view.garment, lines, view.make.plan.sheet)
        said = lines_as_steps(matched)
        order = with_lines(compare(library(), replace(view.garment, own=own), operations_meant(matched)).order, said)
        own = (*own, *said)
    with db.write(home.conn):
        makes.put_plan(
            home.conn, make_id, form.opened(view.make.version), replace(view.make.plan, order=order, own_steps=own)
        )
    return see_other(request, f"/makes/{make_id}/sew")


@router.get("/trouble", name="sew_trouble")
def trouble(request: Request, home: Home, make_id: int, symptom: str = "", step: str = "") -> Response:
    """From a symptom to checks in the order of ease."""
    view = WorkedMake(home.conn, make_id, home.settings)
    context = {
        "view": view,
        "found": find(troubles(), symptom),
        "symptom": symptom,
        "step": step,
        "asked": bool(symptom.strip()),
    }
    return page(request, home, "sew/trouble.html", context)


@router.post("/trouble", name="sew_trouble_found")
async def found(request: Request, home: Home, make_id: int) -> Response:
    """What it was goes into the log of the make."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    known = next((t for t in troubles() if t.id == form.typed.get("trouble")), None)
    number = whole_number(form.typed.get("check", ""))
    if known is None or number is None or number >= len(known.checks):
        raise db.NotFound("There is no such trouble.")
    check = known.checks[number]
    at = next((s.operation.title for s in view.steps if s.operation.id == form.typed.get("step")), "")
    where = f" at “{at}”" if at else ""
    with db.write(home.conn):
        makes.add_note(home.conn, make_id, "happened", f"{known.title}{where}: {check.look} {check.cure}", today())
    return see_other(request, f"/makes/{make_id}/wear")


@router.get("/tools", name="sew_tools")
def tools(request: Request, home: Home, make_id: int) -> Response:
    """What the tools that are missing change."""
    view = WorkedMake(home.conn, make_id, home.settings)
    return page(request, home, "sew/tools.html", {"view": view, "changed": without_tools(library(), view.garment)})
