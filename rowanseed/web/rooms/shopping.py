"""One shopping list across the makes under way: in shop order, less what the stash covers, ticked, printed, as CSV."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import ceil
from urllib.parse import urlencode

from fastapi import APIRouter, Request, Response

from rowanseed.core.bought import Bought, Change, changes, short_of
from rowanseed.core.cloth.shops import Shop, say_money
from rowanseed.core.lengths import Unit, both
from rowanseed.core.pattern.model import ROLE_WORDS
from rowanseed.core.reckon.buying import length_to_buy
from rowanseed.core.shop_round import Call, shop_round
from rowanseed.core.shopping import AISLES, ListLine, Source, Wanted, from_notion, shopping_list, total
from rowanseed.core.yardage_table import widths_for
from rowanseed.formats import csv_table
from rowanseed.services.first_answer import SHRINKS
from rowanseed.services.long_work import LongWork
from rowanseed.services.shop_shelf import PatternTakes, as_laid, not_kept, on_shelf
from rowanseed.services.without_pieces import cloth_in_hand, needs_without_pieces
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import cloths, db, makes, stash
from rowanseed.web.deps import Home, Household, Jobs, Work, now, page, see_other
from rowanseed.web.forms import read_form
from rowanseed.web.rooms.shop import ahead_key

CHEAPEST = -1  # in place of a shop's number: each line where it costs least
LAYING = "its usual pieces are being laid; the list shows them in a moment"
router = APIRouter(prefix="/shopping", include_in_schema=False)


def _under_way(home: Household) -> list[WorkedMake]:
    return [WorkedMake(home.conn, m.id, home.settings) for m in makes.makes(home.conn) if not m.finished_on]


def _wanted(views: Sequence[WorkedMake], work: LongWork, store: str) -> tuple[list[Wanted], list[tuple[str, str, str]]]:
    """Everything the makes under way still need, and what cannot be said yet: make, address, reason."""
    lines: list[Wanted] = []
    open_: list[tuple[str, str, str]] = []
    for view in views:
        make = view.make
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
        return None, ("cloth", f"its {ROLE_WORDS[role.role].lower()} is still to be chosen")
    cloth = role.cloth.cloth
    if role.kept is None or not role.current:
        open_ = ("lay", f"its {ROLE_WORDS[role.role].lower()} is still to be laid")
        return None, open_ if cloth.length is None else ("", "")
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
            view.make.id,
            role.cloth.id,
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
                   f"Size {size}.", kind, need.width_mm, view.settings.step, source, view.make.id,
                   chosen.id if own and chosen is not None else 0)
        )  # fmt: skip
    return lines, []


def _list(
    home: Household, views: Sequence[WorkedMake], shop: Shop | None, work: LongWork, store: str
) -> tuple[list[ListLine], list[tuple[str, str, str]]]:
    wanted, open_ = _wanted(views, work, store)
    have = [s.supply for s in stash.supplies(home.conn)]
    return shopping_list(wanted, have, home.unit, shop), open_


def _shop(home: Household, shop_id: int) -> Shop | None:
    return next((s.shop for s in stash.shops(home.conn) if s.id == shop_id), None)


@dataclass(frozen=True)
class BoughtLine:
    """A line that was bought otherwise: what it is, what that changes, and the cloth whose length it can become (0: none)."""

    line: ListLine
    said: str
    changes: tuple[Change, ...]
    cloth_id: int
    new: str

    @property
    def short(self) -> bool:
        """Whether a make lacks some of it."""
        return short_of(self.changes)


def _bought(lines: Sequence[ListLine], got: Mapping[str, Bought | None], unit: Unit) -> dict[str, BoughtLine]:
    """What was bought otherwise, by the line's key; `new`: the address at which it is kept as a cloth of its own."""
    found: dict[str, BoughtLine] = {}
    for line in lines:
        bought = got.get(line.key)
        if bought is None:
            continue
        own = next((w.cloth_id for w in line.wanted if w.cloth_id), 0)
        is_cloth = any(w.cloth for w in line.wanted) and bought.length is not None
        same = is_cloth and own and not bought.is_other
        fields = {
            "name": bought.what or line.what, "length": bought.length.text if bought.length else "",
            "width": bought.width.text if bought.width else "", "price": bought.price,
        }  # fmt: skip
        new = f"/cloths/new?{urlencode(fields)}" if is_cloth and not same else ""
        found[line.key] = BoughtLine(
            line, bought.said(unit), tuple(changes(bought, line, unit)), own if same else 0, new
        )
    return found


def _printed(
    rows: Sequence[PatternTakes], widths: Sequence[float]
) -> list[tuple[str, list[tuple[float | None, bool]]]]:
    """Each pattern with the length that is surely enough at each width, and whether it is known and not only bounded."""
    found = []
    for row in rows:
        cells: list[tuple[float | None, bool]] = []
        for width in widths:
            fits = [t for t in row.takes if t.size == row.size and t.kind == "either-way" and t.width_mm <= width + 1.0]
            best = min(fits, key=lambda t: t.most_mm, default=None)
            cells.append((best.most_mm if best else None, best is not None and best.by != "bounds"))
        if any(mm is not None for mm, _ in cells):
            found.append((f"{row.title}, size {row.size}" if row.size else row.title, cells))
    return found


def _shelf(home: Household, rows: Sequence[PatternTakes]) -> dict[str, object]:
    """What the shelf's page reckons with: each pattern with what it takes, in whole mm, so that no figure needs a decimal sign."""
    told = [
        {
            "id": row.pattern_id, "title": row.title, "size": row.size, "makes": row.makes,
            "takes": [
                (t.size, t.kind == "one-way", round(t.width_mm), ceil(t.least_mm), ceil(t.most_mm), t.by) for t in row.takes
            ],
        }
        for row in rows
    ]  # fmt: skip
    straighten, shrink = round(home.settings.straighten_mm), round(SHRINKS * 100)
    return {
        "unit": home.unit,
        "straighten": straighten,
        "shrink": shrink,
        "comma": home.settings.decimal == ",",
        "rows": told,
    }


@dataclass(frozen=True)
class Aisle:
    """Some lines under one heading: an aisle, or a shop with what is to be paid there."""

    name: str
    lines: list[ListLine]
    to_pay: str = ""


def _to_pay(call: Call, got: Mapping[str, object]) -> str:
    money = call.to_pay(got)
    return say_money(money, call.shop) if call.shop is not None and money else ""


@router.get("", name="shopping")
def show(request: Request, home: Home, work: Work, jobs: Jobs, shop: int = 0) -> Response:
    """The list."""
    chosen = _shop(home, shop)
    known = stash.shops(home.conn)
    views = _under_way(home)
    lines, open_ = _list(home, views, chosen, work, request.app.state.database)
    got = stash.got(home.conn)
    money = total(lines, dict.fromkeys(got))
    aisles = [Aisle(a, [line for line in lines if line.aisle == a]) for a in AISLES]
    if shop == CHEAPEST:
        wanted, _ = _wanted(views, work, request.app.state.database)
        have = [s.supply for s in stash.supplies(home.conn)]
        calls = shop_round(wanted, have, home.unit, [s.shop for s in known])
        lines = [line for call in calls for line in call.lines]
        aisles = [Aisle(c.name, list(c.lines), _to_pay(c, dict.fromkeys(got))) for c in calls]
    rows = (*filter(None, map(as_laid, views)), *on_shelf(home.conn, home.settings))
    widths = widths_for("self", home.unit)
    running = len(jobs.waiting_for(ahead_key(request.app.state.database)))
    context = {
        "bought": _bought(lines, got, home.unit),
        "shelf": _shelf(home, rows),
        "takes": _printed(rows, widths),
        "widths": widths,
        "cloths": cloths.cloths(home.conn),
        "kept_for": makes.cloths_in_use(home.conn),
        "unlaid": not_kept(home.conn, home.settings),
        "running": running,
        "secure": request.app.state.answers.secure or not request.app.state.answers.locked,
        "aisles": aisles,
        "lines": lines,
        "open": open_,
        "laying": any(why == LAYING for _, _, why in open_),
        "got": got,
        "shops": known,
        "shop": shop,
        "cheapest": CHEAPEST,
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
    return see_other(
        request, "/shopping" + (f"?shop={shop}" if shop.removeprefix("-").isdecimal() and shop != "0" else "")
    )


@router.post("/new", name="shopping_new")
def begin(request: Request, home: Home) -> Response:
    """Take every tick back: a new round."""
    with db.write(home.conn):
        stash.clear_got(home.conn)
    return see_other(request, "/shopping")


@router.get("/list.csv", name="shopping_csv")
def as_csv(request: Request, home: Home, work: Work, shop: int = 0) -> Response:
    """The list as CSV."""
    lines, _ = _list(home, _under_way(home), _shop(home, shop), work, request.app.state.database)
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
