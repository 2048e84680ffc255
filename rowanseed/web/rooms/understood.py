"""What was understood of text that is read, beside its field while it is typed: one address, a reader for each field."""

from collections.abc import Callable

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.fibres import understood as fibre_said
from rowanseed.core.cloth.stash import read_wish
from rowanseed.core.errors import ReckonError
from rowanseed.core.pattern.figures import understood as notions_said
from rowanseed.core.pattern.model import Pattern
from rowanseed.store import cloths
from rowanseed.store.db import NotFound
from rowanseed.web.deps import Home, Household, page
from rowanseed.web.forms import Form, read_form
from rowanseed.web.rooms.cloths import read_cloth_name, read_flaws, read_others
from rowanseed.web.rooms.envelope import read_views
from rowanseed.web.rooms.seams import read_edge_allowances
from rowanseed.web.rooms.supplies import read_prices
from rowanseed.web.stages.machine import read_evenings

router = APIRouter(include_in_schema=False)


def _fibre(form: Form, _: Household) -> None:
    if form.text("fibre"):
        form.echoes["fibre"] = fibre_said(form.text("fibre"))


def _notions(form: Form, _: Household) -> None:
    form.echoes["notions"] = notions_said(form.text("notions"))


def _wish(form: Form, home: Household) -> None:
    try:
        wish = read_wish(form.text("wish"), home.unit, tuple(c.cloth.fibre for c in cloths.cloths(home.conn)))
    except ReckonError as error:
        form.errors["wish"] = error.text
        return
    if said := wish.said(home.unit):
        form.echoes["wish"] = f"Understood: {said}."


READERS: dict[str, Callable[[Form, Household], object]] = {
    "fibre": _fibre,
    "notions": _notions,
    "wish": _wish,
    "evenings": lambda form, _: read_evenings(form),
    "name": lambda form, _: read_cloth_name(form) and None,
    "others": lambda form, _: read_others(form),
    "flaws": lambda form, _: read_flaws(form),
    "prices": lambda form, _: read_prices(form),
    "views": lambda form, _: read_views(form, Pattern("")),
    "edge_allowances": lambda form, _: read_edge_allowances(form, tuple(form.text("edges").split(","))),
}


@router.post("/understood/{field}", name="understood")
async def understood(request: Request, home: Home, field: str) -> Response:
    """What a field's text was understood as, or what of it was not."""
    reader = READERS.get(field)
    if reader is None:
        raise NotFound(field)
    form = await read_form(request, home.unit)
    reader(form, home)
    return page(request, home, "patterns/_cell.html", {"form": form, "name": field})
