"""Sew: the steps by place and sitting, one large current step, the order dragged and checked."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.lengths import format_length
from rowanseed.core.make.sewing import features_of
from rowanseed.core.sew.checker import OrderFinding
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.model import Step
from rowanseed.core.sew.numbers import AtThing
from rowanseed.core.sew.order import place_changes, runs
from rowanseed.formats.sewing import library
from rowanseed.formats.step_svg import step_svg
from rowanseed.services.step_words import titles_of
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, makes
from rowanseed.web.deps import Home, Household, now, page, page_or_part, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.garment_form import described_form, read_features, read_units

router = APIRouter(prefix="/makes/{make_id}/sew", include_in_schema=False)


def sew_context(view: WorkedMake, step_id: str) -> dict[str, object]:
    """What the Sew page shows, with one step large."""
    steps = view.steps
    early: dict[str, list[OrderFinding]] = {}
    for finding in view.order_findings:
        early.setdefault(finding.step, []).append(finding)
    current = _current(view, steps, step_id)
    at = steps.index(current) if current else 0
    return {
        "view": view,
        "steps": steps,
        "current": current,
        "svg": step_svg(current.operation, view.sewing_facts) if current else "",
        "before": steps[at - 1] if at else None,
        "after": steps[at + 1] if at + 1 < len(steps) else None,
        "early": early,
        "too_early": {step for step, found in early.items() if any(f.level != "note" for f in found)},
        "step_choices": [("", "no particular step"), *((s.operation.id, s.operation.title) for s in steps)],
        "changes": place_changes(steps),
        "runs": runs(steps),
        "minutes": sum(s.operation.minutes for s in steps),
        "title_of": titles_of(view),
        "fixed": bool(view.make.plan.order),
        "assembly": assembled(library(), view.garment),
        "pieces_tell": bool(view.sizes)
        and any(view.sizes[0] in p.shapes for p in view.pattern.pieces_of(view.make.view)),
        "described": bool(features_of(view.pattern, view.make.view, view.make.plan)),
        "described_form": described_form(view.garment, view.make.plan.units),
        "own_steps": {step.id for step in view.make.plan.own_steps},
        "figures": _figures(view, current),
        "form": None,
    }


def _figures(view: WorkedMake, current: Step | None) -> list[tuple[str, str, str]]:
    """The figures that can be typed at a step: the field, its words, what was typed for this edge or seam."""
    if current is None or not current.operation.on:
        return []
    typed = view.make.plan.at.get(current.operation.on[0], AtThing())
    numbers, unit = current.operation.does.numbers, view.settings.unit
    fields = [("first", "First fold", typed.first_mm), ("second", "Second fold, or the only one", typed.second_mm)]
    shown = fields if "hem" in numbers else []
    if {"seam", "french-seam"} & set(numbers):
        shown = [*shown, ("allowance", "Seam allowance here", typed.allowance_mm)]
    return [(name, words, "" if mm is None else format_length(mm, unit)) for name, words, mm in shown]


def _current(view: WorkedMake, steps: list[Step], step_id: str) -> Step | None:
    """The step asked for, else the first that is not ticked, else the last."""
    asked = next((s for s in steps if s.operation.id == step_id), None)
    return asked or next((s for s in steps if s.operation.id not in view.sewn), steps[-1] if steps else None)


@router.get("", name="sew")
def show(request: Request, home: Home, make_id: int, step: str = "") -> Response:
    """The sewing order with one step large."""
    view = WorkedMake(home.conn, make_id, home.settings)
    return page(request, home, "sew/show.html", sew_context(view, step))


@router.get("/unused", name="sew_unused")
def unused(request: Request, home: Home, make_id: int) -> Response:
    """What the garment is described with and nothing in it takes."""
    view = WorkedMake(home.conn, make_id, home.settings)
    return page(request, home, "sew/_unused.html", {"unused": view.unused})


@router.post("/tick", name="sew_tick")
async def tick(request: Request, home: Home, make_id: int) -> Response:
    """Tick a step and go on to the next, or take the tick back."""
    form = await read_form(request)
    step = form.text("step", "A step", 80)
    view = WorkedMake(home.conn, make_id, home.settings)
    if step not in {s.operation.id for s in view.steps}:
        raise db.NotFound("There is no such step in this make.")
    done = form.flag("done")
    with db.write(home.conn):
        makes.tick(home.conn, make_id, "sew", step, done, now())
    return see_other(request, f"/makes/{make_id}/sew" + ("" if done else f"?step={step}"))


@router.post("/move", name="sew_move")
async def move(request: Request, home: Home, make_id: int) -> Response:
    """Put a step before another one (or first); the order is the user's from then on, and is checked."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    step, before = form.typed.get("step", ""), form.typed.get("before", "")
    ids = [s.operation.id for s in view.steps]
    if step not in ids or (before and before not in ids):
        raise db.NotFound("There is no such step in this make.")
    if step != before:
        ids.remove(step)
        ids.insert(ids.index(before) if before else len(ids), step)
    return _keep_order(request, home, view, form, tuple(ids), step)


@router.post("/own-order", name="sew_order_back")
async def back(request: Request, home: Home, make_id: int) -> Response:
    """Go back to the program's order."""
    form = await read_form(request)
    return _keep_order(request, home, WorkedMake(home.conn, make_id, home.settings), form, (), "")


def _keep_order(
    request: Request, home: Household, view: WorkedMake, form: Form, order: tuple[str, ...], moved: str
) -> Response:
    make = view.make
    with db.write(home.conn):
        makes.put_plan(home.conn, make.id, form.opened(make.version), replace(make.plan, order=order))
    if "HX-Request" not in request.headers:
        return see_other(request, f"/makes/{make.id}/sew")
    context = {**sew_context(WorkedMake(home.conn, make.id, home.settings), ""), "moved": moved}
    return page_or_part(request, home, "sew/show.html", "sew/_steps.html", context)


@router.post("/by-pieces", name="sew_by_pieces")
async def by_pieces(request: Request, home: Home, make_id: int) -> Response:
    """Sew in the order that pieces and the fates of their edges give, or again by the garment's description."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    plan = replace(view.make.plan, by_pieces=form.flag("on"), order=())
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), plan)
    return see_other(request, f"/makes/{make_id}/sew")


@router.post("/garment", name="sew_garment")
async def garment(request: Request, home: Home, make_id: int) -> Response:
    """Change what this make's garment has, and the schools it follows."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = read_features(form, library().features)
    units = read_units(form, library().features, assembled(library(), view.garment))
    drawn = features_of(view.pattern, view.make.view, replace(view.make.plan, features={}))
    defaults = {f.name: f.choices[0][0] for f in library().features}
    features = {n: c for n, c in chosen.items() if c != drawn.get(n, defaults[n])}
    schools = {s.name: form.choice(f"school-{s.name}", tuple(v for v, _ in s.choices)) for s in library().schools}
    kept = {s.name: home.settings.schools.get(s.name, s.choices[0][0]) for s in library().schools}
    own = {n: c for n, c in schools.items() if c != kept[n]}
    plan = replace(view.make.plan, features=features, schools=own, order=(), units=units)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), plan)
    return see_other(request, f"/makes/{make_id}/sew")
