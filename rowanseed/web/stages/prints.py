"""Prints: what matches where on this garment, kept or refused; what matching costs; seams and garment as they would look."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.lay.model import LayRequest
from rowanseed.services.long_work import LongWork
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import db, makes
from rowanseed.web.deps import Home, Work, page, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.print_placement import endings, garment_print

router = APIRouter(prefix="/makes/{make_id}/lay/print", include_in_schema=False)


def _role(view: WorkedMake, name: str) -> WorkedRole:
    role = view.role(name) if name else next(iter(view.roles), None)
    if role is None or role.cloth is None or not role.pieces:
        raise db.NotFound("Choose the size and the cloth first; then it can be seen where its print lands.")
    return role


def _context(view: WorkedMake, role: WorkedRole, garment: int, form: Form | None) -> dict[str, object]:
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
    view = WorkedMake(home.conn, make_id, home.settings)
    return page(request, home, "prints/show.html", _context(view, _role(view, role), garment, None))


@router.post("", name="print_keep")
async def keep(request: Request, home: Home, make_id: int) -> Response:
    """Keep or refuse what the print should do; the lay is then out of date."""
    form = await read_form(request, home.unit)
    ticked = {str(v) for v in (await request.form()).getlist("keep")}
    view = WorkedMake(home.conn, make_id, home.settings)
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
def cost(request: Request, home: Home, work: Work, make_id: int, role: str) -> Response:
    """What matching costs: the same lay, quickly, with and without, and the rule of thumb beside it."""
    view = WorkedMake(home.conn, make_id, home.settings)
    chosen = _role(view, role)
    context: dict[str, object] = {"view": view, "role": chosen}
    if chosen.request is not None:
        context |= _cost(work, f"{request.app.state.database}:{make_id}:{role}:print:", chosen.request)
    return page(request, home, "prints/_cost.html", context)


def _cost(work: LongWork, place: str, request: LayRequest) -> dict[str, object]:
    """Lengths with and without matching, and one repeat for every matched row of pieces; `running` while they are laid."""
    asked = replace(request, effort="quick", spread="best", locked=())
    with_match = work.look(f"{place}matched", asked, patient=False)
    if with_match.result is None:
        return {"running": with_match.running, "problem": with_match.problem}
    unmatched = replace(asked, matches=(), centres=(), spread=with_match.result.spread)
    without = work.look(f"{place}plain", unmatched, patient=False)
    if without.result is None:
        return {"running": without.running, "problem": without.problem}
    print_ = asked.cloth.print
    repeat = print_.repeat_along_mm if print_ is not None else 0.0
    rows = len({frozenset((m.a[0], m.b[0])) for m in asked.matches if m.along and not m.onto})
    matched = with_match.result
    return {"matched": matched, "plain": without.result, "repeat": repeat, "rows": rows, "thumb": repeat * rows}
