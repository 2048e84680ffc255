"""One shopping list across the makes under way: in shop order, less what the stash covers, ticked, printed, as CSV."""

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.shops import Shop, say_money
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import ROLE_WORDS
from rowanseed.core.reckon.buying import length_to_buy
from rowanseed.core.shopping import AISLES, ListLine, Source, Wanted, from_notion, shopping_list, total
from rowanseed.formats import csv_table
from rowanseed.services.long_work import LongWork
from rowanseed.services.without_pieces import cloth_in_hand, needs_without_pieces
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import db, makes, stash
from rowanseed.web.deps import Home, Household, Work, now, page, see_other
from rowanseed.web.forms import read_form

LAYING = "its usual pieces are being laid; the list shows them in a moment"
router = APIRouter(prefix="/shopping", include_in_schema=False)


def _wanted(home: Household, work: LongWork, store: str) -> tuple[list[Wanted], list[tuple[str, str, str]]]:
    """Everything the makes under way still need, and what cannot be said yet: make, address, reason."""
    lines: list[Wanted] = []
    open_: list[tuple[str, str, str]] = []
    for make in makes.makes(home.conn):
        if make.finished_on:
            continue
        view = WorkedMake(home.conn, make.id, home.settings)
        if not view.sizes:
            open_.append((make.name, f"/makes/{make.id}/fit", "its size is still to be chosen"))
            continue
        for role in view.roles:
            line, why = _cloth(view, role)
            if line is not None:
                lines.append(line)
            elif why[1]:
                open_.append((make.name, f"/makes/{make.id}/{why[0]}", why[1]))
        if view.by_usual_pieces:
            found, unknown = _without_pieces(view, work, store)
            lines += found
            open_ += [(make.name, f"/makes/{make.id}/cloth", words) for words in unknown]
        shell = view.role("self")
        cloth = shell.cloth.cloth.name if shell is not None and shell.cloth is not None else ""
        source: Source = "usual" if view.by_usual_pieces else "pieces"
        lines += [from_notion(make.name, notion, cloth, source) for notion in view.notions]
    return lines, open_


def _cloth(view: WorkedMake, role: WorkedRole) -> tuple[Wanted | None, tuple[str, str]]:
    """A role's cloth where it is still to be bought; else nothing, with the stage and reason where that cannot be said."""
    s = view.settings
    if role.cloth is None:
        return None, ("cloth", f"its {role.role} cloth is still to be chosen")
    cloth = role.cloth.cloth
    if role.kept is None or not role.current:
        return (
            (None, ("lay", f"its {role.role} cloth is still to be laid")) if cloth.length is None else (None, ("", ""))
        )
    if cloth.length is not None and not role.kept.lay.short_mm:
        return None, ("", "")
    shrink = 0.0 if cloth.prepared else cloth.shrink_along
    buy = length_to_buy(role.kept.lay.length_mm, shrink, s.straighten_mm, s.step)
    why = "the lay, straightening and shrinkage"
    if cloth.length is not None:
        why = f"the length in hand, {cloth.length.text}, is too short for its lay"
    return (
        Wanted(
            view.make.name,
            "cloth",
            cloth.name,
            buy.needed_mm,
            buy.text,
            why,
            cloth.kind,
            cloth.width.mm,
            s.step,
            "pieces",
        ),
        ("", ""),
    )


def _without_pieces(view: WorkedMake, work: LongWork, store: str) -> tuple[list[Wanted], list[str]]:
    """The cloths of a make whose pieces are not in, by the envelope or by usual pieces; and what is not known yet."""
    chosen, name = cloth_in_hand(view), view.make.name
    needs = needs_without_pieces(view, work, store)
    total = sum(need.laid_mm or 0.0 for _, need in needs if need.role == "self")
    lines: list[Wanted] = []
    for size, need in needs:
        own = need.role == "self"
        if need.laid_mm is None or need.buy is None:
            return lines, [need.progress.problem or LAYING]
        if own and chosen is not None and chosen.cloth.length is not None:
            left = chosen.cloth.for_lay().length_mm
            if left is not None and left >= total:
                continue
        kind = "main" if own else need.role
        what = chosen.cloth.name if own and chosen is not None else f"{ROLE_WORDS[need.role]} for {name}"
        source: Source = "envelope" if need.by == "envelope" else "usual"
        lines.append(
            Wanted(name, "cloth", f"{what}, {both(need.width_mm, view.settings.unit)} wide", need.buy.needed_mm, need.buy.text,
                   f"Size {size}.", kind, need.width_mm, view.settings.step, source)
        )  # fmt: skip
    return lines, []


def _list(
    home: Household, shop: Shop | None, work: LongWork, store: str
) -> tuple[list[ListLine], list[tuple[str, str, str]]]:
    wanted, open_ = _wanted(home, work, store)
    have = [s.supply for s in stash.supplies(home.conn)]
    return shopping_list(wanted, have, home.unit, shop), open_


def _shop(home: Household, shop_id: int) -> Shop | None:
    return next((s.shop for s in stash.shops(home.conn) if s.id == shop_id), None)


@router.get("", name="shopping")
def show(request: Request, home: Home, work: Work, shop: int = 0) -> Response:
    """The list."""
    chosen = _shop(home, shop)
    lines, open_ = _list(home, chosen, work, request.app.state.database)
    got = stash.got(home.conn)
    money = total(lines, dict.fromkeys(got))
    context = {
        "aisles": [(a, [line for line in lines if line.aisle == a]) for a in AISLES],
        "lines": lines,
        "open": open_,
        "laying": any(why == LAYING for _, _, why in open_),
        "got": got,
        "shops": stash.shops(home.conn),
        "shop": shop,
        "sum": say_money(money, chosen) if chosen and money else "",
        "unpriced": sum(1 for line in lines if line.needed and line.money is None and line.key not in got),
    }
    return page(request, home, "shopping/show.html", context)


@router.post("/tick", name="shopping_tick")
async def tick(request: Request, home: Home) -> Response:
    """Tick a line, or take the tick back."""
    form = await read_form(request)
    key = form.text("key", "A line", 200)
    with db.write(home.conn):
        stash.tick(home.conn, key, form.flag("done"), now())
    shop = form.typed.get("shop", "")
    return see_other(request, "/shopping" + (f"?shop={shop}" if shop.isdigit() and shop != "0" else ""))


@router.post("/new", name="shopping_new")
def begin(request: Request, home: Home) -> Response:
    """Take every tick back: a new round."""
    with db.write(home.conn):
        stash.clear_got(home.conn)
    return see_other(request, "/shopping")


@router.get("/list.csv", name="shopping_csv")
def as_csv(request: Request, home: Home, work: Work, shop: int = 0) -> Response:
    """The list as CSV."""
    lines, _ = _list(home, _shop(home, shop), work, request.app.state.database)
    rows = [
        (
            line.aisle,
            line.what,
            line.text,
            line.covered,
            ", ".join(line.makes),
            line.price,
            " ".join(line.reasons),
            ", ".join(line.sources),
        )
        for line in lines
    ]
    head = ("aisle", "what", "to_buy", "in_stash", "for", "price", "why", "from")
    headers = {"Content-Disposition": 'attachment; filename="shopping.csv"'}
    return Response(csv_table.as_csv(head, rows), media_type="text/csv; charset=utf-8", headers=headers)
