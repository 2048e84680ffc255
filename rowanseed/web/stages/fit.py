"""Fit: the body against every size, the size chosen, alterations and what they carry, seams walked, trials remembered."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Literal, get_args

from fastapi import APIRouter, Request, Response

from rowanseed.core.body import BY_KEY, Measurement
from rowanseed.core.errors import Finding
from rowanseed.core.fit.causes import other_ways
from rowanseed.core.fit.chart_comparison import SCHOOL_REASONS, Between, BustBy
from rowanseed.core.fit.ease import key_zone
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.record import PLACES, TRIALS, FitNote
from rowanseed.core.garment_kinds import OF_SLEEVES, TAPES, ZONES, Zone, a_garment
from rowanseed.core.make.plan import MakePlan
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, fitnotes, keeping, makes
from rowanseed.store.liked import LikedEase, liked_ease
from rowanseed.store.people import Person
from rowanseed.web.deps import Home, Household, now, page, see_other, today, with_undo
from rowanseed.web.fit_asked import Proposal, by_measures, by_posture, proposals
from rowanseed.web.fitview import (
    SCHOOLS,
    Fitting,
    changes,
    fitting,
    refusal,
    seam_rows,
    stack,
    top_of,
)
from rowanseed.web.forms import Form, read_form, whole_number

router = APIRouter(prefix="/makes/{make_id}/fit", include_in_schema=False)
BETWEEN: tuple[Between, ...] = get_args(Between)
BUST_BY: tuple[BustBy, ...] = get_args(BustBy)
PROVE: tuple[Literal["", "tissue", "toile"], ...] = ("", "tissue", "toile")
ANSWERS = ("made", "left", "open")
MOST_REMOVED = 5


def _page(request: Request, home: Household, make_id: int, form: Form | None, status: int) -> Response:
    view = WorkedMake(home.conn, make_id, home.settings)
    shown = _shown(request, view)
    fittings = [fitting(view, g, home.unit) for g in view.make.garments]
    own = [p for p in view.drawn.pieces if p.in_view(view.make.view)]
    rows = seam_rows(view, shown, home.unit)
    context = {
        "view": view,
        "fittings": fittings,
        "garments": [(f.garment.id, f.person) for f in fittings],
        "schools": SCHOOLS,
        "reasons": SCHOOL_REASONS,
        "form": form,
        "zones": ZONES,
        "key": view.make.plan.key or key_zone(view.drawn.garment, view.drawn.cut),
        "overruled": _overruled(fittings),
        "shown": shown,
        "kinds": KINDS.values(),
        "alterable": own,
        "edges": list(dict.fromkeys(e for p in own for s in p.shapes.values() for e in s.edges)),
        "stack": stack(view, shown),
        "changes": changes(view, shown),
        "walk": [*view.not_blended, *(f for done in view.altered.values() for f in done.findings)],
        "seams": rows,
        "untied": view.untied(shown),
        "its_kind": a_garment(view.drawn.garment),
        "unmeasured": lambda person: unmeasured(view, person),
        "loose": sum(1 for row in rows if not row.sound),
        "places": PLACES.values(),
        "trials": TRIALS,
        "proposals": proposals(view, shown),
        "by_measures": by_measures(view, shown),
        "by_posture": by_posture(view, shown),
        "liked": _liked(home, view),
        "child": any(f.person and f.person.is_child for f in fittings),
    }
    return page(request, home, "fit/show.html", context, status)


def unmeasured(view: WorkedMake, person: Person) -> list[Measurement]:
    """What this garment asks of a body and nobody has measured on it yet."""
    known = person.latest.values if person.latest else {}
    pieces = view.drawn.pieces_of(view.make.view)
    sleeveless = bool(pieces) and not any("sleeve" in p.name.lower() for p in pieces)
    asked = [key for key in TAPES[view.drawn.garment] if not (sleeveless and key in OF_SLEEVES)]
    return [BY_KEY[key] for key in asked if key not in known]


def _liked(home: Household, view: WorkedMake) -> LikedEase | None:
    """What the first wearer liked in such a garment, while this make was not told yet what to look for."""
    person_id = next((g.person_id for g in view.make.garments if g.person_id), None)
    if person_id is None or view.make.plan.want_ease or view.make.plan.answered.get("liked"):
        return None
    found = liked_ease(home.conn, person_id, view.drawn.garment)
    return found if found is not None and found.make != view.make.name else None


@router.post("/liked", name="fit_liked")
async def take_liked(request: Request, home: Home, make_id: int) -> Response:
    """Look for the ease that was liked before, or leave it."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    found = _liked(home, view)
    said: Literal["made", "left"] = form.choice("answer", ("made", "left"))
    if found is None:
        raise db.NotFound("There is nothing of the kind to look for.")
    plan = replace(view.make.plan, answered={**view.make.plan.answered, "liked": said})
    if said == "made":
        plan = replace(plan, want_ease=found.eases, school="finished")
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), plan)
    return see_other(request, f"/makes/{make_id}/fit")


def _shown(request: Request, view: WorkedMake) -> str:
    """The size whose pieces are shown: the one asked for in the address, else the first garment's."""
    asked = request.query_params.get("size", "")
    return asked if asked in view.sizes else next(iter(view.sizes), "")


def _overruled(fittings: list[Fitting]) -> dict[int, Finding]:
    """A finding for every garment whose chosen size is not the advised one: it stays visible."""
    return {
        f.garment.id: Finding(
            "care", "overruled", f"You chose size {f.garment.size}; the advice is size {f.advice.size}. Yours is used."
        )
        for f in fittings
        if f.advice and f.garment.size and f.garment.size != f.advice.size
    }


@router.get("", name="fit")
def show(request: Request, home: Home, make_id: int) -> Response:
    """The fit of a make."""
    return _page(request, home, make_id, None, 200)


@router.post("/size", name="fit_size")
async def choose(request: Request, home: Home, make_id: int) -> Response:
    """Take a size for one garment."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    size, garment = form.text("size", "A size", 40), whole_number(form.typed.get("garment", ""))
    if view.drawn.sizes and size not in view.drawn.size_names():
        form.errors["size"] = f"The sizes are {', '.join(view.drawn.size_names())}."
    zones = {z: form.typed[f"zone-{z}"] for z in ZONES if form.typed.get(f"zone-{z}")}
    if unknown := [s for s in zones.values() if s not in view.drawn.size_names()]:
        form.errors["size"] = f"There is no size {unknown[0]}."
    if not form.sound or garment is None:
        return _page(request, home, make_id, form, 422)
    kept: dict[str, str] = {z: s for z, s in zones.items() if s != size}
    plan = replace(view.make.plan, zones={**view.make.plan.zones, str(garment): kept})
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), plan)
        makes.put_size(home.conn, make_id, garment, size)
    handle = form.typed.get("handle", "")
    at = f"#handle-{handle}-{garment}" if handle in ZONES else ""
    return see_other(request, f"/makes/{make_id}/fit{at}")


@router.post("/school", name="fit_school")
async def school(request: Request, home: Home, make_id: int) -> Response:
    """Choose the school, the measurement that decides, what to do between sizes, and the ease or the look wanted."""
    form = await read_form(request, home.unit)
    make = makes.make(home.conn, make_id)
    wanted: dict[Zone, float] = {z: e.mm for z in ZONES if (e := form.length(f"ease-{z}", most_mm=800)) is not None}
    under = form.length("worn_under", most_mm=400)
    looks = ("", *(look.name for look in home.settings.looks))
    plan = replace(
        make.plan,
        school=form.choice("school", SCHOOLS),
        between=form.choice("between", BETWEEN),
        bust_by=form.choice("bust_by", BUST_BY),
        key=form.choice("key", ZONES),
        want_ease=wanted,
        prove=form.choice("prove", PROVE),
        look=form.choice("look", looks),
        worn_under_mm=under.mm if under else 0.0,
        growth_months=form.number("growth_months", "Months", 0, 24)
        if "growth_months" in form.typed
        else make.plan.growth_months,
    )
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), plan)
    return see_other(request, f"/makes/{make_id}/fit")


@router.post("/alter", name="fit_alter")
async def alter(request: Request, home: Home, make_id: int) -> Response:
    """Add an alteration; it is carried to every piece that joins."""
    form = await read_form(request, home.unit)
    view = WorkedMake(home.conn, make_id, home.settings)
    wanted = _read_alteration(form, view)
    if wanted is not None and (problem := refusal(view, next(iter(view.sizes), ""), wanted)) is not None:
        form.errors[problem.field or "by"] = problem.text
    if not form.sound or wanted is None:
        return _page(request, home, make_id, form, 422)
    return _keep(request, home, view, form, alterations=(*view.make.plan.alterations, wanted))


def _read_alteration(form: Form, view: WorkedMake) -> Alteration | None:
    """The alteration a form asks for; None, with the errors in the form, when it cannot be read."""
    kind, piece = form.choice("kind", tuple(KINDS)), form.text("piece", "A piece", 40)
    by, at = form.length("by", "How much", 600), form.length("at", most_mm=3000)
    across = form.length("across", most_mm=1500)
    if piece not in {p.number for p in view.drawn.pieces}:
        form.errors["piece"] = "Choose one of the pieces."
    if not form.sound or by is None:
        return None
    inputs = KINDS[kind].inputs
    if "across" in inputs and (at is None) != (across is None):
        form.errors["across" if at else "at"] = (
            "Give the bust point both ways, or leave both empty for the piece's own mark."
        )
        return None
    return Alteration(
        kind,
        piece,
        -by.mm if form.flag("less") else by.mm,
        at.mm + top_of(view, piece) if at and "at" in inputs else None,
        form.text("edge") if "edge" in inputs else "",
        across_mm=_inner(view, piece) + across.mm if across and "across" in inputs else None,
    )


def _inner(view: WorkedMake, number: str) -> float:
    """The y of a piece's inner edge, from which a tape measures across."""
    shapes = (p.shapes.get(view.sizes[0]) for p in view.drawn.pieces if p.number == number and view.sizes)
    return next((min(y for _, y in shape.outline) for shape in shapes if shape), 0.0)


@router.post("/alter/{number}", name="fit_alter_change")
async def change_alteration(request: Request, home: Home, make_id: int, number: int) -> Response:
    """Switch an alteration off or on, take it away, or say whether a piece that joins is to follow it."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    kept = list(view.make.plan.alterations)
    if not 0 <= number < len(kept):
        raise db.NotFound("There is no such alteration.")
    removed = view.make.plan.removed
    if form.flag("drop"):
        removed = (kept.pop(number), *removed)[:MOST_REMOVED]
    elif piece := form.typed.get("leave", ""):
        kept[number] = replace(kept[number], leave=tuple(dict.fromkeys((*kept[number].leave, piece[:40]))))
    elif piece := form.typed.get("follow", ""):
        kept[number] = replace(kept[number], leave=tuple(p for p in kept[number].leave if p != piece))
    else:
        kept[number] = replace(kept[number], on=not kept[number].on)
    return _keep(request, home, view, form, alterations=tuple(kept), removed=removed)


@router.post("/put-back", name="fit_put_back")
async def put_back(request: Request, home: Home, make_id: int) -> Response:
    """Put back the alteration that was taken away last."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    plan = view.make.plan
    if not plan.removed:
        raise db.NotFound("There is nothing to put back.")
    return _keep(request, home, view, form, alterations=(*plan.alterations, plan.removed[0]), removed=plan.removed[1:])


@router.post("/note", name="fit_note")
async def note(request: Request, home: Home, make_id: int) -> Response:
    """Write down what a trial showed."""
    form = await read_form(request, home.unit)
    view = WorkedMake(home.conn, make_id, home.settings)
    place, _, fault = form.choice("finding", _findings()).partition(" ")
    by, trial = form.length("pinned", "How much", 600), form.choice("trial", tuple(TRIALS))
    words = form.text("words", most=300)
    ids = [g.id for g in view.make.garments]
    garment = whole_number(form.typed.get("garment", "")) or ids[0]
    if garment not in ids:
        form.errors["pinned"] = "There is no such garment in this make."
    if not form.sound or by is None:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        fitnotes.add_note(home.conn, make_id, garment, FitNote(place, fault, by, trial, words), today())
    stage = "wear" if form.typed.get("from") == "wear" else "fit"
    return see_other(request, f"/makes/{make_id}/{stage}#record")


def _findings() -> tuple[str, ...]:
    """Every place with every fault, as the form sends them."""
    return tuple(f"{place.name} {fault.name}" for place in PLACES.values() for fault in place.faults)


@router.post("/note/{note_id}/drop", name="fit_note_drop")
async def drop_note(request: Request, home: Home, make_id: int, note_id: int) -> Response:
    """Take a finding of this make out of the record."""
    await read_form(request)
    with db.write(home.conn):
        gone = keeping.delete(
            home.conn, keeping.KINDS["fit-note"], fitnotes.of_make(home.conn, make_id, note_id), now()
        )
    return see_other(request, with_undo(f"/makes/{make_id}/fit#record", gone))


@router.post("/propose/{note_id}", name="fit_propose")
async def answer(request: Request, home: Home, make_id: int, note_id: int) -> Response:
    """Make a finding into an alteration, leave it, or open it again."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    found = next((p for p in proposals(view, next(iter(view.sizes), "")) if p.stored.id == note_id), None)
    said = form.choice("answer", ANSWERS)
    if found is None or (said == "made" and found.alteration is None):
        raise db.NotFound("There is no such proposal.")
    alteration = _by_cause(form, view, found)
    plan = view.make.plan
    answered: Mapping[str, Literal["made", "left"]] = {k: v for k, v in plan.answered.items() if k != str(note_id)}
    alterations = plan.alterations
    if said == "made" and alteration is not None:
        answered, alterations = {**answered, str(note_id): "made"}, (*alterations, alteration)
    elif said == "left":
        answered = {**answered, str(note_id): "left"}
    return _keep(request, home, view, form, alterations=alterations, answered=answered)


def _by_cause(form: Form, view: WorkedMake, found: Proposal) -> Alteration | None:
    """The alteration of the cause that was chosen; the likeliest where none was. Raises NotFound."""
    number = whole_number(form.typed.get("cause", ""))
    if number is None:
        return found.alteration
    ways = other_ways(found.stored.note, view.drawn, view.make.view, next(iter(view.sizes), ""))
    if not 0 <= number < len(ways):
        raise db.NotFound("There is no such cause.")
    return ways[number].alteration


def _keep(request: Request, home: Household, view: WorkedMake, form: Form, **changed: object) -> Response:
    """Keep the plan with these parts changed, and go back to the alterations."""
    with db.write(home.conn):
        plan: MakePlan = replace(view.make.plan, **changed)  # type: ignore[arg-type]
        makes.put_plan(home.conn, view.make.id, form.opened(view.make.version), plan)
    return see_other(request, f"/makes/{view.make.id}/fit#alterations")
