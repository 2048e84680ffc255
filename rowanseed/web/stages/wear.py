"""Wear: what happened, what to do differently next time, and the day it was finished."""

from fastapi import APIRouter, Request, Response

from rowanseed.core.fit.record import PLACES, TRIALS
from rowanseed.core.garment_kinds import ZONES, Zone
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, makes
from rowanseed.store.liked import liked_ease, put_liked_ease
from rowanseed.web.deps import Home, Household, page, see_other, today
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/makes/{make_id}/wear", include_in_schema=False)
KINDS = ("happened", "next-time")


def _page(request: Request, home: Household, make_id: int, form: Form | None, status: int) -> Response:
    view = WorkedMake(home.conn, make_id, home.settings)
    context = {
        "view": view,
        "notes": makes.notes(home.conn, make_id),
        "form": form,
        "garments": [(g.id, view.people.get(g.person_id or 0)) for g in view.make.garments],
        "places": PLACES.values(),
        "worn": [(view.people[person_id], eases) for person_id, eases in worn_eases(view)],
        "liked": {p: liked_ease(home.conn, p, view.drawn.garment) for p, _ in worn_eases(view)},
        "trials": TRIALS,
    }
    return page(request, home, "wear/show.html", context, status)


@router.get("", name="wear")
def show(request: Request, home: Home, make_id: int) -> Response:
    """The notes of a make."""
    return _page(request, home, make_id, None, 200)


@router.post("/note", name="wear_note")
async def note(request: Request, home: Home, make_id: int) -> Response:
    """Write a note."""
    form = await read_form(request)
    text, kind = form.text("text", "A note"), form.choice("kind", KINDS)
    makes.make(home.conn, make_id)
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        makes.add_note(home.conn, make_id, kind, text, today())
    return see_other(request, f"/makes/{make_id}/wear")


@router.post("/right", name="wear_right")
async def right(request: Request, home: Home, make_id: int) -> Response:
    """Keep the eases of this make as what its wearers like in such a garment."""
    await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    with db.write(home.conn):
        for person_id, eases in worn_eases(view):
            put_liked_ease(home.conn, person_id, view.drawn.garment, eases, make_id, today())
    return see_other(request, f"/makes/{make_id}/wear")


def worn_eases(view: WorkedMake) -> list[tuple[int, dict[Zone, float]]]:
    """For each wearer, what the pieces left over the body at bust, waist and hip, where both are known."""
    found = []
    for garment in view.make.garments:
        person = view.people.get(garment.person_id or 0)
        if person is None or person.latest is None or not garment.size:
            continue
        girths, body = view.girths(view.label(garment)), person.latest.values
        eases: dict[Zone, float] = {z: girths[z].mm - body[z].mm for z in ZONES if z in girths and z in body}
        if eases:
            found.append((person.id, eases))
    return found


@router.post("/finish", name="wear_finish")
async def finish(request: Request, home: Home, make_id: int) -> Response:
    """Mark the make as worn, or as under way again."""
    form = await read_form(request)
    makes.make(home.conn, make_id)
    with db.write(home.conn):
        makes.finish(home.conn, make_id, today() if form.flag("done") else None)
    return see_other(request, f"/makes/{make_id}/wear")
