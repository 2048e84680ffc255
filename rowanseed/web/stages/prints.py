"""Prints: what matches where on this garment, kept or refused; what matching costs; seams and garment as they would look."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.engine import lay
from rowanseed.store import db, makes
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.makeview import MakeView, RoleView
from rowanseed.web.print_placement import endings, garment_print

router = APIRouter(prefix="/makes/{make_id}/lay/print", include_in_schema=False)


def _role(view: MakeView, name: str) -> RoleView:
    role = view.role(name) if name else next(iter(view.roles), None)
    if role is None or role.cloth is None or not role.pieces:
        raise db.NotFound("Choose the size and the cloth first; then it can be seen where its print lands.")
    return role


def _context(view: MakeView, role: RoleView, garment: int, form: Form | None) -> dict[str, object]:
    every = endings(role)
    ending = every[garment] if 0 <= garment < len(every) else every[0]
    shown = role.kept.lay if role.kept is not None and role.current else None
    return {
        "view": view,
        "role": role,
        "form": form,
        "garment": garment,
        "garments": [(k, view.sizes[k]) for k in range(len(every))],
        "seen": garment_print(view, role, shown, ending),
        "laid": shown,
    }


@router.get("", name="print")
def show(request: Request, home: Home, make_id: int, role: str = "", garment: int = 0) -> Response:
    """The print on one garment."""
    view = MakeView(home.conn, make_id, home.settings)
    return page(request, home, "prints/show.html", _context(view, _role(view, role), garment, None))


@router.post("", name="print_keep")
async def keep(request: Request, home: Home, make_id: int) -> Response:
    """Keep or refuse what the print should do; the lay is then out of date."""
    form = await read_form(request, home.unit)
    ticked = {str(v) for v in (await request.form()).getlist("keep")}
    view = MakeView(home.conn, make_id, home.settings)
    role = _role(view, form.typed.get("role", ""))
    seen = garment_print(view, role, None, endings(role)[0])
    if seen is None:
        raise db.NotFound("This cloth has no print that could be matched.")
    rules = [row.rule for row in seen.rows if row.rule.possible]
    places = {r.key: form.length(f"at-{r.key}", most_mm=5000) for r in rules if len(r.marks) == 1}
    if not form.sound:
        return page(request, home, "prints/show.html", _context(view, role, 0, form), 422)
    chosen = {r.key: r.key in ticked for r in rules if (r.key in ticked) != r.by_default}
    at = {key: length.mm for key, length in places.items() if length is not None}
    others = {k: v for k, v in view.make.plan.print_rules.items() if k not in {r.key for r in rules}}
    plan = replace(view.make.plan, print_rules={**others, **chosen}, print_at=at)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), plan)
    return see_other(request, f"/makes/{make_id}/lay/print?role={role.role}")


@router.get("/cost", name="print_cost")
def cost(request: Request, home: Home, make_id: int, role: str) -> Response:
    """What matching costs: the same lay, quickly, with and without, and the rule of thumb beside it."""
    view = MakeView(home.conn, make_id, home.settings)
    chosen = _role(view, role)
    context: dict[str, object] = {"view": view, "role": chosen}
    if chosen.request is not None:
        context |= _cost(home, chosen)
    return page(request, home, "prints/_cost.html", context)


def _cost(home: Household, role: RoleView) -> dict[str, object]:
    """Lengths with and without matching, and one repeat for every matched row of pieces."""
    assert role.request is not None
    asked = replace(role.request, effort="quick", spread="best", locked=())
    try:
        matched = lay(asked)
        plain = lay(replace(asked, matches=(), centres=(), spread=matched.spread))
    except RowanseedError as error:
        return {"problem": error.text}
    print_ = asked.cloth.print
    repeat = print_.repeat_along_mm if print_ is not None else 0.0
    rows = len({frozenset((m.a[0], m.b[0])) for m in asked.matches if m.along and not m.onto})
    return {"matched": matched, "plain": plain, "repeat": repeat, "rows": rows, "thumb": repeat * rows}
