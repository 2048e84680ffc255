"""In the shop: what was bought instead, a piece on the shelf that is judged and taken, what is worked out before one goes.

What is sent from here may have been kept on a phone without a connection: each can be sent late, and what it changes is told then.
"""

from dataclasses import replace
from datetime import date
from pathlib import Path

from fastapi import APIRouter, Request, Response

from rowanseed.core.bought import Bought
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lengths import Length
from rowanseed.core.yardage_table import SELVAGE_MM
from rowanseed.services.first_answer import SHRINKS
from rowanseed.services.shop_shelf import unlaid
from rowanseed.services.yardage_tables import keeper
from rowanseed.store import cloths, db, stash
from rowanseed.web.deps import Home, Jobs, now, page, see_other, today
from rowanseed.web.forms import Form, read_form

router = APIRouter(include_in_schema=False)
MOST_WIDE_MM, MOST_LONG_MM = 5000.0, 200_000.0


def ahead_key(database: Path) -> str:
    """What lays are known by that are worked out before one goes to the shop."""
    return f"{database}:shop:"


def read_bought(form: Form) -> Bought:
    """What was bought, from the form's fields; with an error where nothing is said."""
    bought = Bought(
        form.length("length", most_mm=MOST_LONG_MM),
        form.length("width", most_mm=MOST_WIDE_MM),
        form.text("what", most=80),
        form.text("price", most=40),
    )
    if form.sound and bought == Bought():
        form.errors["length"] = "Say what was bought: how long, what, or at what price."
    return bought


@router.post("/shopping/bought", name="shopping_bought")
async def bought(request: Request, home: Home) -> Response:
    """Tick a line with what was bought for it: less, another width, another thing, at a price."""
    form = await read_form(request, home.unit)
    key = form.text("key", "A line", 200)
    got = read_bought(form)
    if not form.sound:
        return page(request, home, "shopping/wrong.html", {"form": form, "key": key, "piece": False}, 422)
    with db.write(home.conn):
        stash.buy(home.conn, key, got, now())
    return see_other(request, "/shopping")


@router.post("/shopping/piece", name="shopping_piece")
async def piece(request: Request, home: Home) -> Response:
    """A piece from the shelf that was bought, into the stash."""
    form = await read_form(request, home.unit)
    cloth = _piece(form, today())
    if cloth is None:
        return page(request, home, "shopping/wrong.html", {"form": form, "key": "", "piece": True}, 422)
    with db.write(home.conn):
        cloth_id = cloths.add_cloth(home.conn, cloth)
    return see_other(request, f"/cloths/{cloth_id}/enough")


def _piece(form: Form, day: date) -> Cloth | None:
    """The piece as a cloth; what is not known of it is left as a cloth has it by default."""
    width = form.length("width", "The width", MOST_WIDE_MM)
    length = form.length("length", "The length", MOST_LONG_MM)
    name = form.text("name", most=80) or f"Piece of {day.isoformat()}"
    price = form.text("price", most=40)
    washed = form.flag("washed")
    if width is None or length is None or not form.sound:
        return None
    return Cloth(
        name, width, Length(SELVAGE_MM, "1 cm", "cm"), length, nap="one-way" if form.flag("one_way") else "none", price=price,
        bought=day.isoformat(), shrink_along=0.0 if washed else SHRINKS, prepared=washed,
    )  # fmt: skip


@router.post("/cloths/{cloth_id}/bought", name="cloth_bought")
async def into_stash(request: Request, home: Home, cloth_id: int) -> Response:
    """Let what was bought be the cloth's length; what was there before becomes a further length of it."""
    form = await read_form(request, home.unit)
    key = form.text("key", "A line", 200)
    got = stash.got(home.conn).get(key)
    stored = cloths.cloth(home.conn, cloth_id)
    if got is not None and got.length is not None:
        before = stored.cloth
        others = (*before.others, before.length) if before.length else before.others
        cloth = replace(
            before, length=got.length, width=got.width or before.width, others=others, price=got.price or before.price
        )
        with db.write(home.conn):
            cloths.update_cloth(home.conn, cloth_id, stored.version, cloth)
            stash.tick(home.conn, key, False, now())
    return see_other(request, f"/cloths/{cloth_id}")


@router.post("/shopping/ahead", name="shopping_ahead")
async def ahead(request: Request, home: Home, jobs: Jobs) -> Response:
    """Lay what is not laid yet at the widths on sale, in the background, so that the shop's answers are figures and not bounds."""
    await read_form(request)
    database = request.app.state.database
    for garment, key, asked in unlaid(home.conn, home.settings):
        name = f"{ahead_key(database)}{garment.pattern_id}:{garment.view}:{key.size}:{key.width_mm}:{key.cloth}"
        jobs.submit(name, asked, keeper(database, garment.pattern_id, garment.view, "self", key, asked), patient=True)
    return see_other(request, "/shopping#piece")
