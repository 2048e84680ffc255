"""Cut: one card a piece, in cutting order, ticked off."""

from urllib.parse import quote

from fastapi import APIRouter, Request, Response

from rowanseed.core.lay.engine import SPREAD_WORDS
from rowanseed.formats.piece_svg import before_after_svg, piece_svg
from rowanseed.services.recuts import put_right, remember_cut
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import db, makes
from rowanseed.web.deps import Home, now, page, page_or_part, see_other
from rowanseed.web.forms import read_form, whole_number

router = APIRouter(prefix="/makes/{make_id}/cut", include_in_schema=False)


@router.get("", name="cut")
def show(request: Request, home: Home, make_id: int) -> Response:
    """The cutting cards of every cloth."""
    view = WorkedMake(home.conn, make_id, home.settings)
    context = {"view": view, "piece_svg": piece_svg, "before_after": before_after_svg, "words": SPREAD_WORDS}
    return page(request, home, "cut/show.html", context)


@router.post("/tick", name="cut_tick")
async def tick(request: Request, home: Home, make_id: int) -> Response:
    """Tick a card, or take the tick back."""
    form = await read_form(request)
    key = form.text("key", "A card", 120)
    view = WorkedMake(home.conn, make_id, home.settings)
    card = next((c for cards in view.cards.values() for c in cards if c.key == key), None)
    if card is None:
        raise db.NotFound("There is no such card; the lay may have changed. Load the page again.")
    with db.write(home.conn):
        remember_cut(view, key, form.flag("done"), now())
        makes.tick(home.conn, make_id, "cut", key, form.flag("done"), now())
    if "HX-Request" not in request.headers:
        at = whole_number(form.typed.get("table", ""))
        role = quote(form.typed.get("role", ""))
        url = f"/makes/{make_id}/cut" if at is None else f"/makes/{make_id}/lay/table?role={role}&n={at}"
        return see_other(request, url)
    fresh = WorkedMake(home.conn, make_id, home.settings)
    context = {"view": fresh, "piece_svg": piece_svg, "words": SPREAD_WORDS, "card": card, "next_done": True}
    return page_or_part(request, home, "cut/show.html", "cut/_ticked.html", context)


@router.post("/changed", name="cut_changed")
async def changed(request: Request, home: Home, make_id: int) -> Response:
    """A piece that changed since it was cut is put right, or is to be cut anew."""
    form = await read_form(request)
    key = form.text("key", "A piece", 120)
    how = form.choice("how", ("right", "anew"))
    view = WorkedMake(home.conn, make_id, home.settings)
    with db.write(home.conn):
        put_right(view, key, how == "anew", now())
    return see_other(request, f"/makes/{make_id}/cut")


@router.post("/proved", name="cut_proved")
async def proved(request: Request, home: Home, make_id: int) -> Response:
    """The fit was proved on tissue or toile; the cutting may begin."""
    form = await read_form(request)
    how = form.choice("how", ("tissue", "toile"))
    makes.make(home.conn, make_id)
    with db.write(home.conn):
        makes.tick(home.conn, make_id, "prove", how, True, now())
    return see_other(request, f"/makes/{make_id}/cut")
