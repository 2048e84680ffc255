"""Cloth: what each role needs, chosen from the stash, and what to buy at which width."""

from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.errors import Finding
from rowanseed.core.lay.engine import SPREAD_WORDS, lay
from rowanseed.core.lay.yardage import length_to_buy
from rowanseed.core.lengths import Length, both, format_length
from rowanseed.core.making import lay_request
from rowanseed.store import cloths, db, makes
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.makeview import MakeView, RoleView

router = APIRouter(prefix="/makes/{make_id}/cloth", include_in_schema=False)
WIDTHS_MM = {"cm": (900.0, 1120.0, 1400.0, 1500.0), "in": (914.4, 1143.0, 1371.6, 1524.0)}
KIND_OF_ROLE = {"self": "main", "contrast": "main", "lining": "lining", "interfacing": "interfacing"}


@dataclass(frozen=True)
class WidthNeed:
    """What a role needs at one width: the lay, the length to buy, and what stands against it."""

    title: str
    lay_mm: float | None
    buy_text: str
    layers: str
    findings: tuple[Finding, ...]


def _page(request: Request, home: Household, make_id: int, form: Form | None, status: int) -> Response:
    view = MakeView(home.conn, make_id, home.settings)
    stash = cloths.cloths(home.conn)
    choices = {
        r.role: sorted(stash, key=lambda c: c.cloth.kind != KIND_OF_ROLE.get(r.role, "main")) for r in view.roles
    }
    context = {"view": view, "choices": choices, "form": form, "sizes_open": not view.sizes}
    return page(request, home, "cloth/show.html", context, status)


@router.get("", name="make_cloth")
def show(request: Request, home: Home, make_id: int) -> Response:
    """The cloths of a make."""
    return _page(request, home, make_id, None, 200)


@router.post("", name="choose_cloth")
async def choose(request: Request, home: Home, make_id: int) -> Response:
    """Choose a role's cloth."""
    form = await read_form(request)
    view = MakeView(home.conn, make_id, home.settings)
    role, chosen = form.typed.get("role", ""), whole_number(form.typed.get("cloth", ""))
    if view.role(role) is None:
        form.errors["role"] = "This view has no such cloth."
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    cloth_id = cloths.cloth(home.conn, chosen).id if chosen is not None else None
    with db.write(home.conn):
        makes.put_cloth(home.conn, make_id, role, cloth_id)
    return see_other(request, f"/makes/{make_id}/cloth")


@router.get("/needs", name="cloth_needs")
def needs(request: Request, home: Home, make_id: int, role: str) -> Response:
    """What a role needs from the chosen cloth and at the widths on sale, by quick lays."""
    view = MakeView(home.conn, make_id, home.settings)
    found = view.role(role)
    if found is None:
        raise db.NotFound("This view has no such cloth.")
    rows = _needs(home, view, found)
    return page(request, home, "cloth/_needs.html", {"rows": rows, "role": found, "view": view})


def _needs(home: Household, view: MakeView, role: RoleView) -> list[WidthNeed]:
    pieces = role.pieces
    if not pieces or role.findings:
        return []
    rows = []
    if role.cloth is not None:
        rows.append(
            _need(home, view, role, role.cloth.cloth, f"{role.cloth.cloth.name}, {role.cloth.cloth.width.text}")
        )
    base = role.cloth.cloth if role.cloth else Cloth("on sale", Length(0.0, "", "cm"), Length(10.0, "1 cm", "cm"))
    for mm in WIDTHS_MM[home.settings.unit]:
        width = Length(mm, format_length(mm, home.unit), home.unit)
        on_sale = replace(base, width=width, length=None, prepared=False)
        rows.append(_need(home, view, role, on_sale, f"{width.text} wide, on sale"))
    return rows


def _need(home: Household, view: MakeView, role: RoleView, cloth: Cloth, title: str) -> WidthNeed:
    plan = replace(view.make.plan, effort="quick", spread="best")
    found = lay(lay_request(role.pieces, cloth, plan, length_in_hand=False, seams=view.pattern.seams))
    if found.failed:
        return WidthNeed(title, None, "does not fit this width", "", found.findings)
    shrink = 0.0 if cloth.prepared else cloth.shrink_along
    buy = length_to_buy(found.length_mm, shrink, home.settings.straighten_mm, home.settings.step)
    findings = list(found.findings)
    if cloth.length is not None:
        have = cloth.for_lay().length_mm or 0.0
        text = (
            f"Enough: {both(have - found.length_mm, home.unit)} is left."
            if have >= found.length_mm
            else f"{both(found.length_mm - have, home.unit)} too short."
        )
        findings.append(Finding("note" if have >= found.length_mm else "stop", "in-hand", text))
    layers = SPREAD_WORDS[found.spread]
    return WidthNeed(title, found.length_mm, buy.text, layers, tuple(findings))
