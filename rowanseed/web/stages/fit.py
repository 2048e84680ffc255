"""Fit: the body against every size, the advice with its reasons, the size chosen."""

from dataclasses import dataclass, replace
from typing import get_args

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import AdviceError, Finding
from rowanseed.core.fit.advice import SCHOOL_REASONS, Advice, Between, School, size_advice
from rowanseed.core.fit.ease import ZONES, Zone
from rowanseed.core.making import KEY_ZONE, advice_request
from rowanseed.formats.ease_svg import EaseLine, ease_svg
from rowanseed.store import db, makes
from rowanseed.store.makes import Garment
from rowanseed.store.people import Person
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.makeview import MakeView

router = APIRouter(prefix="/makes/{make_id}/fit", include_in_schema=False)
SCHOOLS: tuple[School, ...] = get_args(School)
BETWEEN: tuple[Between, ...] = get_args(Between)


@dataclass(frozen=True)
class Fitting:
    """One garment's fitting: the person, the advice of each school, the ease of every size, the picture."""

    garment: Garment
    person: Person | None
    advice: Advice | None
    others: dict[School, str]
    problem: str
    lines: list[EaseLine]
    picture: str


def _fitting(view: MakeView, garment: Garment, unit: str) -> Fitting:
    person = view.people.get(garment.person_id) if garment.person_id else None
    if person is None or person.latest is None:
        text = "No measurements yet: choose the size yourself, or add them under People." if person else ""
        return Fitting(garment, person, None, {}, text, [], "")
    asked = advice_request(view.pattern, person.latest.values, view.make.plan)
    try:
        advice = size_advice(asked)
    except AdviceError as error:
        return Fitting(garment, person, None, {}, error.text, [], "")
    others: dict[School, str] = {}
    for school in SCHOOLS:
        try:
            others[school] = size_advice(replace(asked, school=school)).size
        except AdviceError:
            others[school] = "needs finished measurements"
    lines = _ease_lines(view, person)
    chosen = garment.size or advice.size
    picture = ease_svg(lines, {z.zone: z.size for z in advice.zones}, chosen, "in" if unit == "in" else "cm")
    return Fitting(garment, person, advice, others, "", lines, picture)


def _ease_lines(view: MakeView, person: Person) -> list[EaseLine]:
    """For each zone, what every size leaves: finished measure less the body's, chart measure less the body's without it."""
    assert person.latest is not None
    lines = []
    for zone in ZONES:
        body = person.latest.values.get(zone)
        if body is None:
            continue
        finished = all(zone in s.finished for s in view.pattern.sizes)
        rows = [(s.size, (s.finished if finished else s.body).get(zone)) for s in view.pattern.sizes]
        eases = {size: length.mm - body.mm for size, length in rows if length is not None}
        if eases:
            lines.append(EaseLine(zone, body, finished, eases))
    return lines


def _page(request: Request, home: Household, make_id: int, form: Form | None, status: int) -> Response:
    view = MakeView(home.conn, make_id, home.settings)
    fittings = [_fitting(view, g, home.unit) for g in view.make.garments]
    context = {
        "view": view,
        "fittings": fittings,
        "schools": SCHOOLS,
        "reasons": SCHOOL_REASONS,
        "form": form,
        "zones": ZONES,
        "key": view.make.plan.key or KEY_ZONE[view.pattern.garment],
        "overruled": _overruled(fittings),
    }
    return page(request, home, "fit/show.html", context, status)


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
    view = MakeView(home.conn, make_id, home.settings)
    size, garment = form.text("size", "A size", 40), whole_number(form.typed.get("garment", ""))
    if view.pattern.sizes and size not in view.pattern.size_names():
        form.errors["size"] = f"The sizes are {', '.join(view.pattern.size_names())}."
    if not form.sound or garment is None:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        makes.put_size(home.conn, make_id, garment, size)
    return see_other(request, f"/makes/{make_id}/fit")


@router.post("/school", name="fit_school")
async def school(request: Request, home: Home, make_id: int) -> Response:
    """Choose the school, the measurement that decides, what to do between sizes, and the ease wanted."""
    form = await read_form(request, home.unit)
    make = makes.make(home.conn, make_id)
    wanted: dict[Zone, float] = {z: e.mm for z in ZONES if (e := form.length(f"ease-{z}", most_mm=800)) is not None}
    plan = replace(
        make.plan,
        school=form.choice("school", SCHOOLS),
        between=form.choice("between", BETWEEN),
        key=form.choice("key", ZONES),
        want_ease=wanted,
    )
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), plan)
    return see_other(request, f"/makes/{make_id}/fit")
