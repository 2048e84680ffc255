"""Supplies in the stash that are no cloth, and the shops with their price lists."""

from dataclasses import replace
from typing import Literal

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.model import CLOTH_KINDS
from rowanseed.core.cloth.shops import STEPS, Price, Shop, read_price
from rowanseed.core.errors import LengthError, ReckonError
from rowanseed.core.lengths import Unit, format_length
from rowanseed.core.notions import COUNTED, KIND_WORDS, NOTION_KINDS, NotionKind
from rowanseed.core.shopping import Supply
from rowanseed.store import db, keeping, stash
from rowanseed.web.deps import Home, Household, now, page, see_other, with_undo
from rowanseed.web.forms import Form, read_form, typed_length, whole_number

router = APIRouter(include_in_schema=False)
PERS: tuple[Literal["m", "yd", "each"], ...] = ("m", "yd", "each")
MOST_PRICES = 200


@router.get("/supplies", name="supplies")
def show(request: Request, home: Home) -> Response:
    """Everything that is no cloth."""
    return _page(request, home, Form({}, home.unit), 200)


def _page(request: Request, home: Household, form: Form, status: int) -> Response:
    context = {
        "supplies": stash.supplies(home.conn),
        "form": form,
        "words": KIND_WORDS,
        "kinds": [(k, KIND_WORDS[k]) for k in NOTION_KINDS],
    }
    return page(request, home, "cloths/supplies.html", context, status)


@router.post("/supplies", name="supply_add")
async def add(request: Request, home: Home) -> Response:
    """Add a supply."""
    form = await read_form(request, home.unit)
    kind = form.choice("kind", NOTION_KINDS)
    supply = Supply(kind, form.text("name", most=80), _amount(form, kind, home.unit), form.text("note", most=200))
    if not form.sound:
        return _page(request, home, form, 422)
    with db.write(home.conn):
        stash.add_supply(home.conn, supply)
    return see_other(request, "/supplies")


def _amount(form: Form, kind: NotionKind, unit: Unit) -> float:
    text = form.typed.get("amount", "").strip()
    if kind in COUNTED or kind == "elastic-thread":
        number = whole_number(text)
        if number is None or number > 100_000:
            form.errors["amount"] = "How many, as a whole number."
            return 0.0
        return float(number)
    try:
        return typed_length(text, unit).mm
    except LengthError:
        form.errors["amount"] = "How much, as a length: 3 m, 200 m, 2 yd."
        return 0.0


@router.post("/supplies/{supply_id}/amount", name="supply_amount")
async def change(request: Request, home: Home, supply_id: int) -> Response:
    """What is left of a supply; nothing left takes it out."""
    form = await read_form(request, home.unit)
    stored = stash.supply(home.conn, supply_id)
    if form.typed.get("amount", "").strip() in ("", "0"):
        with db.write(home.conn):
            gone = keeping.delete(home.conn, keeping.KINDS["supply"], supply_id, now())
        return see_other(request, with_undo("/supplies", gone))
    amount = _amount(form, stored.supply.kind, home.unit)
    if not form.sound:
        return _page(request, home, form, 422)
    with db.write(home.conn):
        stash.update_supply(home.conn, supply_id, form.version(), replace(stored.supply, amount=amount))
    return see_other(request, "/supplies")


@router.get("/shops", name="shops")
def shops(request: Request, home: Home) -> Response:
    """The shops and what they ask."""
    return _shops(request, home, Form({}, home.unit), 200)


def _shops(request: Request, home: Household, form: Form, status: int) -> Response:
    kinds = _kind_words()
    context = {
        "shops": stash.shops(home.conn),
        "form": form,
        "step_choices": [(s, s) for s in STEPS],
        "lines": _lines,
        "kinds": kinds,
    }
    return page(request, home, "cloths/shops.html", context, status)


def _lines(shop: Shop) -> str:
    """A shop's prices as they are typed, one a line."""
    out = []
    for p in shop.prices:
        width = f"{p.width_mm:g} mm" if p.width_mm else ""
        out.append("; ".join((p.what, p.name, width, f"{p.price}", p.per)))
    return "\n".join(out)


def _kind_words() -> list[tuple[str, str]]:
    cloths = [(kind, f"{kind} cloth" if kind == "main" else kind) for kind in CLOTH_KINDS]
    return cloths + [(kind, KIND_WORDS[kind]) for kind in NOTION_KINDS]


def read_prices(form: Form) -> tuple[Price, ...]:
    """Prices, one a line: what; name; width; price; m, yd or each."""
    known = {*CLOTH_KINDS, *NOTION_KINDS}
    found = []
    for line in form.text("prices", most=20_000).splitlines()[:MOST_PRICES]:
        parts = [part.strip() for part in line.split(";")]
        if not any(parts):
            continue
        words = f"“{line.strip()[:60]}”"
        try:
            what, name, width, price, per = parts
            if what not in known or per not in PERS:
                raise ValueError
            mm = typed_length(width, form.unit).mm if width else 0.0
            found.append(Price(what, name, read_price(price), per, mm))
        except (ReckonError, LengthError) as error:
            form.errors["prices"] = f"{words}: {error.text}"
        except ValueError:
            form.errors["prices"] = (
                f"{words}: write what; name; width; price; m, yd or each, such as main; ; 150 cm; 14.50; m."
            )
    if found:
        form.echoes["prices"] = f"Understood: {'; '.join(_price_said(price, form) for price in found)}."
    return tuple(found)


def _price_said(price: Price, form: Form) -> str:
    kind = dict(_kind_words()).get(price.what, price.what).lower()
    wide = f", {format_length(price.width_mm, form.unit)} wide" if price.width_mm else ""
    named = f" “{price.name}”" if price.name else ""
    per = "each" if price.per == "each" else f"a {price.per}"
    return f"{kind}{named}{wide}: {price.price} {per}"


@router.post("/shops", name="shop_add")
async def add_shop(request: Request, home: Home) -> Response:
    """Add a shop, or change one."""
    form = await read_form(request, home.unit)
    shop = Shop(
        form.text("name", "A name", 80),
        form.text("currency", most=4) or "€",
        form.choice("step", STEPS),
        read_prices(form),
    )
    if not form.sound:
        return _shops(request, home, form, 422)
    number = whole_number(form.typed.get("id", ""))
    with db.write(home.conn):
        if number is not None:
            stash.update_shop(home.conn, stash.shop(home.conn, number).id, form.version(), shop)
        else:
            stash.add_shop(home.conn, shop)
    return see_other(request, "/shops")


@router.post("/shops/{shop_id}/drop", name="shop_drop")
def drop(request: Request, home: Home, shop_id: int) -> Response:
    """Forget a shop."""
    with db.write(home.conn):
        gone = keeping.delete(home.conn, keeping.KINDS["shop"], shop_id, now())
    return see_other(request, with_undo("/shops", gone))
