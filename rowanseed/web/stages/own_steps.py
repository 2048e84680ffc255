"""The sewist's own steps in a make's order, and figures that she types at a step."""

from collections.abc import Sequence
from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.make.plan import MakePlan
from rowanseed.core.sew.model import PLACES, OwnStep
from rowanseed.core.sew.numbers import AtThing
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, makes
from rowanseed.web.deps import Home, page, see_other
from rowanseed.web.forms import read_form, whole_number
from rowanseed.web.stages.sew import sew_context

router = APIRouter(prefix="/makes/{make_id}/sew", include_in_schema=False)
MOST_STEPS = 200
MOST_MINUTES = 600


@router.post("/own-steps", name="own_steps")
async def add(request: Request, home: Home, make_id: int) -> Response:
    """Add steps in her own words, one a line, each after the one before it."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    ids = ("", *(step.operation.id for step in view.steps))
    lines = [
        line.strip() for line in form.text("own_text", "The step in your words", 8000).splitlines() if line.strip()
    ]
    place = form.choice("own_place", PLACES)
    minutes = whole_number(form.typed.get("own_minutes", "10").strip() or "10")
    if minutes is None or minutes > MOST_MINUTES:
        form.errors["own_minutes"] = f"Minutes, as a whole number up to {MOST_MINUTES}."
    if len(lines) + len(view.make.plan.own_steps) > MOST_STEPS:
        form.errors["own_text"] = f"No more than {MOST_STEPS} steps of your own."
    after, before = form.choice("own_after", ids), form.choice("own_before", ids)
    if not form.sound or minutes is None:
        return page(request, home, "sew/show.html", {**sew_context(view, ""), "form": form}, 422)
    added = _chained(view.make.plan.own_steps, lines, place, minutes, after, before)
    plan = replace(view.make.plan, own_steps=(*view.make.plan.own_steps, *added))
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), _in_her_order(plan, added, after))
    return see_other(request, f"/makes/{make_id}/sew?step={added[0].id}")


def _chained(
    known: Sequence[OwnStep], lines: Sequence[str], place: str, minutes: int, after: str, before: str
) -> tuple[OwnStep, ...]:
    """New steps, each after the one before it, the last one before the step that she named."""
    number = max((int(step.id.removeprefix("own-")) for step in known if step.id[4:].isdigit()), default=0)
    at = next(p for p in PLACES if p == place)
    out: list[OwnStep] = []
    for k, line in enumerate(lines, 1):
        needs = (out[-1].id,) if out else ((after,) if after else ())
        last = (before,) if before and k == len(lines) else ()
        out.append(OwnStep(f"own-{number + k}", line[:300], at, minutes, needs, last))
    return tuple(out)


def _in_her_order(plan: MakePlan, added: Sequence[OwnStep], after: str) -> MakePlan:
    """The plan with the new steps in the order that she made herself, where she did."""
    if not plan.order:
        return plan
    order = list(plan.order)
    at = order.index(after) + 1 if after in order else len(order)
    order[at:at] = [step.id for step in added]
    return replace(plan, order=tuple(order))


@router.post("/own-steps/remove", name="own_step_remove")
async def remove(request: Request, home: Home, make_id: int) -> Response:
    """Take one of her own steps out of the order; what came after it comes after what it came after."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    plan, gone = view.make.plan, form.typed.get("step", "")
    step = next((s for s in plan.own_steps if s.id == gone), None)
    if step is None:
        raise db.NotFound("There is no such step of your own.")
    kept = tuple(_without(s, step) for s in plan.own_steps if s.id != gone)
    order = tuple(id_ for id_ in plan.order if id_ != gone)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), replace(plan, own_steps=kept, order=order))
    return see_other(request, f"/makes/{make_id}/sew")


def _without(step: OwnStep, gone: OwnStep) -> OwnStep:
    if gone.id not in (*step.after, *step.before):
        return step
    after = tuple(dict.fromkeys(id_ for a in step.after for id_ in (gone.after if a == gone.id else (a,))))
    return replace(step, after=after, before=tuple(b for b in step.before if b != gone.id))


@router.post("/figure", name="sew_figure")
async def figure(request: Request, home: Home, make_id: int) -> Response:
    """Change a figure at a step: it holds for that edge or seam in every step, card and drawing of this make."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    step = next((s for s in view.steps if s.operation.id == form.typed.get("step")), None)
    if step is None or not step.operation.on:
        raise db.NotFound("There is no such step in this make.")
    lengths = {name: form.length(name, most_mm=500) for name in ("first", "second", "allowance") if name in form.typed}
    if not form.sound:
        context = {**sew_context(view, step.operation.id), "form": form}
        return page(request, home, "sew/show.html", context, 422)
    mm = {f"{name}_mm": length.mm if length else None for name, length in lengths.items()}
    thing = step.operation.on[0]
    before = view.make.plan.at.get(thing, AtThing())
    at = {**view.make.plan.at, thing: replace(before, **mm)}
    kept = {name: figures for name, figures in at.items() if figures != AtThing()}
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), replace(view.make.plan, at=kept))
    return see_other(request, f"/makes/{make_id}/sew?step={step.operation.id}")
