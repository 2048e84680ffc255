"""Fit: the body against every size, the advice with its reasons, the size chosen."""

from dataclasses import dataclass, replace
from typing import Literal, get_args

from fastapi import APIRouter, Request, Response

from rowanseed.core.body import measure_again
from rowanseed.core.errors import AdviceError, Finding
from rowanseed.core.fit.advice import Advice, size_advice
from rowanseed.core.fit.ease import ZONES, Zone
from rowanseed.core.fit.kinds import KINDS, Alteration, describe
from rowanseed.core.fit.weigh import SCHOOL_REASONS, Between, School
from rowanseed.core.making import KEY_ZONE, advice_request
from rowanseed.formats.ease_svg import EaseLine, ease_svg
from rowanseed.formats.svg import before_after_svg
from rowanseed.store import db, makes
from rowanseed.store.makes import Garment
from rowanseed.store.people import Person
from rowanseed.web.deps import Home, Household, page, see_other, today
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.makeview import MakeView

router = APIRouter(prefix="/makes/{make_id}/fit", include_in_schema=False)
SCHOOLS: tuple[School, ...] = get_args(School)
BETWEEN: tuple[Between, ...] = get_args(Between)
PROVE: tuple[Literal["", "tissue", "toile"], ...] = ("", "tissue", "toile")


@dataclass(frozen=True)
class Fitting:
    """One garment's fitting: the person, the advice of each school, the ease of every size, the picture."""

    garment: Garment
    person: Person | None
    advice: Advice | None
    others: dict[School, tuple[str, str]]
    problem: str
    lines: list[EaseLine]
    picture: str
    stale: Finding | None = None


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
    others: dict[School, tuple[str, str]] = {}
    for school in SCHOOLS:
        try:
            other = size_advice(replace(asked, school=school))
            reason = next(f.text for f in other.findings if f.code == "reason")
            others[school] = (other.size, reason.partition(": ")[2])
        except AdviceError as error:
            others[school] = ("–", error.text)
    lines = _ease_lines(view, person)
    chosen = garment.size or advice.size
    cut = {zone: view.zones_of(garment).get(zone, chosen) for zone in ZONES}
    picture = ease_svg(lines, {z.zone: z.size for z in advice.zones}, cut, "in" if unit == "in" else "cm")
    stale = measure_again(person.latest.taken_on, today(), person.is_child)
    return Fitting(garment, person, advice, others, "", lines, picture, stale)


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


@dataclass(frozen=True)
class Change:
    """A piece that the alterations changed: its picture, and why it followed (empty when it was altered itself)."""

    number: str
    name: str
    picture: str
    because: str


def _top(view: MakeView, number: str) -> float:
    """The x of a piece's top in the first garment's size, from which a tape measures; 0 while it has no outline."""
    shapes = (p.shapes.get(view.sizes[0]) for p in view.drawn.pieces if p.number == number and view.sizes)
    return next((min(x for x, _ in shape.outline) for shape in shapes if shape), 0.0)


def _changes(view: MakeView) -> list[Change]:
    """Every piece changed in the first garment's size, before and after over each other."""
    if not view.sizes or view.sizes[0] not in view.altered:
        return []
    size = view.sizes[0]
    because = {f.piece: f.because for f in reversed(view.altered[size].followed)}
    out = []
    for old, new in zip(view.drawn.pieces, view.pattern.pieces, strict=True):
        if size in old.shapes and old.shapes[size] != new.shapes[size]:
            title = f"{old.number} {old.name}, before and after"
            out.append(Change(old.number, old.name, before_after_svg(old.shapes[size], new.shapes[size], title),
                              because.get(old.number, "")))  # fmt: skip
    return out


def _page(request: Request, home: Household, make_id: int, form: Form | None, status: int) -> Response:
    view = MakeView(home.conn, make_id, home.settings)
    own = [p for p in view.drawn.pieces if p.in_view(view.make.view)]
    altering = {
        "kinds": KINDS.values(),
        "alterable": own,
        "edges": list(dict.fromkeys(e for p in own for s in p.shapes.values() for e in s.edges)),
        "alterations": [(n, a, describe(a, _top(view, a.piece))) for n, a in enumerate(view.make.plan.alterations)],
        "changes": _changes(view),
        "walk": [*view.not_blended, *(f for done in view.altered.values() for f in done.findings)],
    }
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
        **altering,
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
    zones = {z: form.typed[f"zone-{z}"] for z in ZONES if form.typed.get(f"zone-{z}")}
    if unknown := [s for s in zones.values() if s not in view.pattern.size_names()]:
        form.errors["size"] = f"There is no size {unknown[0]}."
        return _page(request, home, make_id, form, 422)
    kept: dict[str, str] = {z: s for z, s in zones.items() if s != size}
    plan = replace(view.make.plan, zones={**view.make.plan.zones, str(garment): kept})
    with db.write(home.conn):
        makes.put_size(home.conn, make_id, garment, size)
        if kept != view.make.plan.zones.get(str(garment), {}):
            makes.put_plan(home.conn, make_id, view.make.version, plan)
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
        prove=form.choice("prove", PROVE),
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
    view = MakeView(home.conn, make_id, home.settings)
    kind, piece = form.choice("kind", tuple(KINDS)), form.text("piece", "A piece", 40)
    by, at = form.length("by", "How much", 600), form.length("at", most_mm=3000)
    if piece not in {p.number for p in view.drawn.pieces}:
        form.errors["piece"] = "Choose one of the pieces."
    if "at" in KINDS[kind].inputs and at is None and "at" not in form.errors:
        form.errors["at"] = "Say where on the piece, measured from its top."
    if not form.sound or by is None:
        return _page(request, home, make_id, form, 422)
    edge = form.text("edge") if "edge" in KINDS[kind].inputs else ""
    wanted = Alteration(
        kind, piece, -by.mm if form.flag("less") else by.mm, at.mm + _top(view, piece) if at else None, edge
    )
    return _keep_alterations(request, home, view, (*view.make.plan.alterations, wanted), form)


@router.post("/alter/{number}", name="fit_alter_change")
async def change_alteration(request: Request, home: Home, make_id: int, number: int) -> Response:
    """Switch an alteration off or on, or take it away."""
    form = await read_form(request)
    view = MakeView(home.conn, make_id, home.settings)
    kept = list(view.make.plan.alterations)
    if not 0 <= number < len(kept):
        raise db.NotFound("There is no such alteration.")
    if form.flag("drop"):
        kept.pop(number)
    else:
        kept[number] = replace(kept[number], on=not kept[number].on)
    return _keep_alterations(request, home, view, tuple(kept), form)


def _keep_alterations(
    request: Request, home: Household, view: MakeView, alterations: tuple[Alteration, ...], form: Form
) -> Response:
    with db.write(home.conn):
        plan = replace(view.make.plan, alterations=alterations)
        makes.put_plan(home.conn, view.make.id, form.version() or view.make.version, plan)
    return see_other(request, f"/makes/{view.make.id}/fit#alterations")
