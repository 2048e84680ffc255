"""People, their dated measurements, and the figure that shows where each tape goes."""

from collections.abc import Mapping
from datetime import date

from fastapi import APIRouter, Request, Response

from rowanseed.core.body import ADULT_YEARS, BY_KEY, FIRST, MEASUREMENTS, age_on, measure_again, slips
from rowanseed.core.fit.posture import POSTURES
from rowanseed.core.garment_kinds import GARMENT_KINDS, TAPES, a_garment
from rowanseed.core.lengths import Length
from rowanseed.formats.change_svg import change_svg
from rowanseed.formats.figure_svg import figures_svg
from rowanseed.store import db, people
from rowanseed.web.deps import Home, Household, page, see_other, today
from rowanseed.web.forms import Form, read_form, whole_number

router = APIRouter(prefix="/people", include_in_schema=False)
GARMENT_WORDS: dict[str, str] = {"": "most garments"} | {kind: a_garment(kind) for kind in GARMENT_KINDS}


@router.get("", name="people")
def index(request: Request, home: Home) -> Response:
    """Everyone, with the newest girths."""
    rows = []
    for person in people.people(home.conn):
        stale = measure_again(person.latest.taken_on, today(), person.is_child) if person.latest else None
        rows.append((person, stale))
    return page(request, home, "people/index.html", {"rows": rows})


@router.get("/new", name="person_new")
def new(request: Request, home: Home) -> Response:
    """The form for a person and her first measurements."""
    form = Form({"taken_on": today().isoformat(), "for": request.query_params.get("for", "")})
    return page(request, home, "people/new.html", _figure_context(form, {}))


@router.post("/new")
async def add(request: Request, home: Home) -> Response:
    """Add a person with her first set."""
    form = await read_form(request, home.unit)
    name = form.text("name", "A name", 80)
    born_on = form.day("born_on", latest=today())
    values, taken_on = _read_set(form)
    if not form.sound:
        return page(request, home, "people/new.html", _figure_context(form, values), 422)
    with db.write(home.conn):
        is_child = form.flag("is_child") or _is_young(born_on)
        person_id = people.add_person(
            home.conn, name, is_child, form.text("note"), born_on=born_on, posture=_posture(form)
        )
        if values:
            people.add_set(home.conn, person_id, taken_on, values)
    return see_other(request, f"/people/{person_id}")


def _posture(form: Form) -> tuple[str, ...]:
    return tuple(p.key for p in POSTURES if form.flag(f"posture-{p.key}"))


def _is_young(born_on: date | None) -> bool:
    return born_on is not None and age_on(born_on, today()) < ADULT_YEARS


@router.post("/figure", name="person_figure")
async def figure(request: Request, home: Home) -> Response:
    """What the field just typed in was understood as, and a question beside it where it looks like a slip."""
    form = await read_form(request, home.unit)
    key = request.query_params.get("key", "")
    if key not in BY_KEY:
        raise db.NotFound("There is no such measurement.")
    values, _ = _read_set(form)
    person_id = whole_number(request.query_params.get("person", ""))
    latest = people.person(home.conn, person_id).latest if person_id else None
    merged = {**(latest.values if latest else {}), **values}
    asked = slips(merged, latest.values if latest else None) if key in values else {}
    return page(request, home, "people/_echo.html", {"form": form, "key": key, "question": asked.get(key)})


@router.get("/{person_id}", name="person")
def show(request: Request, home: Home, person_id: int) -> Response:
    """A person with every set, and the form for another."""
    return _person_page(request, home, person_id, None, 200)


@router.post("/{person_id}/measure", name="person_measure")
async def measure(request: Request, home: Home, person_id: int) -> Response:
    """Add a dated set; what was left empty is taken over from the newest set."""
    form = await read_form(request, home.unit)
    person = people.person(home.conn, person_id)
    values, taken_on = _read_set(form)
    if not values and form.sound:
        form.errors["bust"] = "Give at least one measurement."
    if not form.sound:
        return _person_page(request, home, person_id, form, 422)
    kept = dict(person.latest.values) if person.latest else {}
    with db.write(home.conn):
        people.touch(home.conn, person_id, form.opened(person.version))
        people.add_set(home.conn, person_id, taken_on, {**kept, **values}, form.text("note"))
    asked_by = whole_number(form.typed.get("make", ""))
    return see_other(request, f"/makes/{asked_by}/fit" if asked_by else f"/people/{person_id}")


@router.post("/{person_id}", name="person_change")
async def change(request: Request, home: Home, person_id: int) -> Response:
    """Change a person's name and note."""
    form = await read_form(request)
    name, born_on = form.text("name", "A name", 80), form.day("born_on", latest=today())
    if not form.sound:
        return _person_page(request, home, person_id, form, 422)
    is_child = form.flag("is_child") or _is_young(born_on)
    with db.write(home.conn):
        version = form.version()
        people.update_person(home.conn, person_id, version, name, is_child, form.text("note"), born_on, _posture(form))
    return see_other(request, f"/people/{person_id}")


def _person_page(request: Request, home: Household, person_id: int, form: Form | None, status: int) -> Response:
    person = people.person(home.conn, person_id)
    latest = person.latest
    stale = measure_again(latest.taken_on, today(), person.is_child) if latest else None
    shown = [m for m in MEASUREMENTS if any(m.key in s.values for s in person.sets)]
    charted = [(m.label, {s.taken_on: s.values[m.key] for s in person.sets if m.key in s.values}) for m in shown]
    context = {
        **_figure_context(
            form or Form({"taken_on": today().isoformat(), **_asked_for(request)}),
            latest.values if latest else {},
            person.sets[1].values if len(person.sets) > 1 else None,
            person.is_child,
        ),
        "person": person,
        "stale": stale,
        "shown": shown,
        "chart": change_svg(charted, home.unit),
        "age": age_on(person.born_on, today()) if person.born_on else None,
    }
    return page(request, home, "people/show.html", context, status)


def _asked_for(request: Request) -> dict[str, str]:
    """The garment that is measured for, and the make that asks, where the address says so."""
    return {key: request.query_params[key] for key in ("for", "make") if key in request.query_params}


def _figure_context(
    form: Form, values: object, earlier: Mapping[str, Length] | None = None, is_child: bool = False
) -> dict[str, object]:
    known = values if isinstance(values, dict) else {}
    garment = next((kind for kind in GARMENT_KINDS if kind == form.typed.get("for")), None)
    own = TAPES[garment] if garment else FIRST
    more = [t for t in MEASUREMENTS if t.key not in own]
    return {
        "form": form,
        "garment": garment or "",
        "garments": ("", *GARMENT_KINDS),
        "garment_words": GARMENT_WORDS,
        "first": [BY_KEY[key] for key in own],
        "more": more,
        "more_open": any(form.typed.get(t.key) or (not garment and t.key in known) for t in more),
        "postures": POSTURES,
        "questions": slips(known, earlier),
        "today": today(),
        "figure": figures_svg(is_child),
    }


def _read_set(form: Form) -> tuple[dict[str, Length], date]:
    """The measurements and the date of a submitted set; errors go into the form."""
    values = {key: length for key in BY_KEY if (length := form.length(key, most_mm=5000)) is not None}
    return values, form.day("taken_on", needed=True, latest=today()) or today()
