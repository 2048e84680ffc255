"""Wear: what happened, what to do differently next time, what it cost, its pictures, and the page for the notebook."""

from decimal import Decimal

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.core.cloth.shops import Shop, read_price, say_money
from rowanseed.core.costs import CostLine, total
from rowanseed.core.errors import ReckonError
from rowanseed.core.fit.kinds import describe
from rowanseed.core.fit.record import PLACES, TRIALS
from rowanseed.core.garment_kinds import ZONES, Zone
from rowanseed.core.lay.engine import SPREAD_WORDS
from rowanseed.services.notebook import costs, samples, shops, timeline, times
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, keeping, makes, notebook
from rowanseed.store.liked import liked_ease, put_liked_ease
from rowanseed.web.deps import Home, Household, now, page, see_other, today, with_undo
from rowanseed.web.fitview import top_of
from rowanseed.web.forms import Form, read_form
from rowanseed.web.make_picture import make_picture
from rowanseed.web.pictures import picture_sent

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
        "pictures": notebook.pictures(home.conn, make_id),
        "timeline": timeline(view),
        **_money(view, request.query_params.get("shop", "")),
    }
    return page(request, home, "wear/show.html", context, status)


def _money(view: WorkedMake, chosen: str) -> dict[str, object]:
    """What a make cost by a shop's prices, the first shop's unless another is chosen, in words."""
    known = shops(view)
    shop_id, shop = next(((i, s) for i, s in known if str(i) == chosen), known[0] if known else (0, None))
    lines = costs(view, shop)
    return {
        "shops": known,
        "said": lambda money: _said(money, shop),
        "shop": shop_id,
        "costs": [
            (line, _said(line.estimate, shop), "" if line.paid is None else f"{line.paid:.2f}") for line in lines
        ],
        "estimated": _said(total(line.estimate for line in lines), shop),
        "paid": _said(total(line.paid for line in lines), shop),
        "unpriced": sum(line.unpriced for line in lines if line.paid is None),
    }


def _said(money: Decimal | None, shop: Shop | None) -> str:
    if money is None:
        return ""
    return say_money(money, shop) if shop else f"{money:.2f}"


@router.get("/notebook", name="wear_notebook")
def for_the_notebook(request: Request, home: Home, make_id: int) -> Response:
    """A make on one page, to be printed for the notebook."""
    view = WorkedMake(home.conn, make_id, home.settings)
    garments = [(view.people.get(g.person_id or 0), view.label(g)) for g in view.make.garments if g.size]
    context = {
        "view": view,
        "spread_words": SPREAD_WORDS,
        "garments": [(p, label, view.girths(label) if label else {}) for p, label in garments],
        "altered": [describe(a, top_of(view, a.piece)) for a in view.make.plan.alterations if a.on],
        "notes": makes.notes(home.conn, make_id),
        "samples": samples(view),
        "times": times(view),
        "timeline": timeline(view),
        "pictures": notebook.pictures(home.conn, make_id)[:3],
        "trials": TRIALS,
        "picture": make_picture(view),
        **_money(view, request.query_params.get("shop", "")),
    }
    return page(request, home, "wear/notebook.html", context)


@router.post("/paid", name="wear_paid")
async def write_paid(request: Request, home: Home, make_id: int) -> Response:
    """Write down what was paid for each part, beside what it is estimated at today."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = next((s for i, s in shops(view) if str(i) == form.typed.get("shop", "")), None)
    figures: dict[str, tuple[Decimal | None, Decimal | None]] = {}
    for line in costs(view, chosen):
        figures[line.what] = (line.estimate, _paid(form, line))
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        notebook.put_paid(home.conn, make_id, figures)
    return see_other(request, f"/makes/{make_id}/wear#cost")


def _paid(form: Form, line: CostLine) -> Decimal | None:
    text = form.typed.get(f"paid-{line.what}", "").strip()
    if not text:
        return None
    try:
        return read_price(text)
    except ReckonError as error:
        form.errors[f"paid-{line.what}"] = error.text
        return None


@router.post("/picture", name="wear_picture")
async def add_picture(request: Request, home: Home, make_id: int) -> Response:
    """Add a picture of the finished garment, made anew."""
    form = await read_form(request)
    makes.make(home.conn, make_id)
    try:
        name = await picture_sent(request, len(notebook.pictures(home.conn, make_id)), "make")
    except PhotoError as error:
        form.errors["file"] = error.text
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        notebook.add_picture(home.conn, make_id, name)
    return see_other(request, f"/makes/{make_id}/wear#pictures")


@router.post("/picture/drop", name="wear_picture_drop")
async def drop_picture(request: Request, home: Home, make_id: int) -> Response:
    """Take a picture away; it can be had back."""
    form = await read_form(request)
    with db.write(home.conn):
        gone = keeping.drop_picture(home.conn, keeping.KINDS["make"], make_id, form.typed.get("picture", ""), now())
    return see_other(request, with_undo(f"/makes/{make_id}/wear#pictures", gone))


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
