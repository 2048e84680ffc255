"""Cloth: what each role needs, chosen from the stash, and what to buy at which width."""

from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.shops import cost, cut_length, price_of, say_money
from rowanseed.core.concede.offer import HemDepths, offers
from rowanseed.core.concede.search import ConcedeRequest
from rowanseed.core.envelope_estimate import estimate
from rowanseed.core.errors import Finding
from rowanseed.core.lay.engine import SPREAD_WORDS
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.lengths import Length, both, format_length
from rowanseed.core.make.concessions import describe_concession
from rowanseed.core.make.lay_requests import laid_together
from rowanseed.core.make.plan import Trim
from rowanseed.core.reckon.buying import length_to_buy
from rowanseed.core.yardage_table import widths_for
from rowanseed.services.comparison import Candidate, Compared, compare, place_of
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import cloths, db, makes, stash
from rowanseed.store.search import last_used
from rowanseed.web.deps import Home, Household, Work, page, see_other
from rowanseed.web.figures_form import LABELS, read_figures, typed_figures
from rowanseed.web.forms import Form, read_form, whole_number
from rowanseed.web.stages.concede import NOT_AT_FIRST

router = APIRouter(prefix="/makes/{make_id}/cloth", include_in_schema=False)
MOST_BY_ENVELOPE = 20  # cloths that are told while no piece is in
KIND_OF_ROLE = {
    "self": "main", "contrast": "main", "lining": "lining", "interfacing": "interfacing", "underlining": "underlining",
}  # fmt: skip


@dataclass(frozen=True)
class WidthNeed:
    """What a role needs of one cloth or at one width: the lay, the length to buy, cost and waste, and what stands against it."""

    lay_mm: float | None
    buy_text: str
    layers: str
    waste: float
    cost: str
    findings: tuple[Finding, ...]
    short_mm: float = 0.0


def _page(request: Request, home: Household, make_id: int, form: Form | None, status: int) -> Response:
    view = WorkedMake(home.conn, make_id, home.settings)
    stash = cloths.cloths(home.conn, view.make.cloths.values())
    used = last_used(home.conn, "cloth")
    stash.sort(key=lambda c: used.get(c.id, ""), reverse=True)
    choices = {
        r.role: sorted(stash, key=lambda c: c.cloth.kind != KIND_OF_ROLE.get(r.role, "main")) for r in view.roles
    }
    context = {
        "view": view,
        "choices": choices,
        "kind_of_role": KIND_OF_ROLE,
        "undescribed": next((r.role for r in view.roles if r.cloth and _to_be_asked(r.cloth.cloth)), ""),
        "form": form,
        "sizes_open": not view.sizes,
        "figures_form": form
        if form and any(k.startswith("figure-") for k in form.typed)
        else Form(typed_figures(view.make.plan.own)),
        "figure_labels": LABELS,
        "figure_hints": _figure_hints(view),
        "by_envelope": _by_envelope(home, view) if not view.sizes or not any(r.pieces for r in view.roles) else [],
    }
    return page(request, home, "cloth/show.html", context, status)


def _to_be_asked(cloth: Cloth) -> bool:
    """Whether it was added by its name and lengths alone; of an interfacing its pressing stands on its own selvage."""
    return not cloth.fibre and cloth.kind != "interfacing"


def _by_envelope(home: Household, view: WorkedMake) -> list[tuple[cloths.StoredCloth, str, bool]]:
    """Each cloth of the stash with what the envelope's own lengths say of it, those that suffice first, while no piece is in."""
    sizes = [g.size for g in view.make.garments if g.size]
    if len(sizes) < len(view.make.garments):
        return []
    found = [
        (c, estimate(view.drawn, view.make.view, sizes, c.cloth))
        for c in cloths.cloths(home.conn)
        if c.cloth.kind == "main"
    ]
    said = [(c, e.said(home.unit), e.enough) for c, e in found if e is not None and c.cloth.length is not None]
    return sorted(said, key=lambda row: not row[2])[:MOST_BY_ENVELOPE]


def _figure_hints(view: WorkedMake) -> dict[str, str]:
    """What stands now for each figure, and where it comes from."""
    r, unit = view.required, view.settings.unit
    hints = {
        "hem_first": f"Now {both(r.hem_first.mm, unit)}, {r.hem_first.source}.",
        "hem_second": f"Now {both(r.hem_second.mm, unit)}, {r.hem_second.source}.",
    }
    if view.garment.features.get("waist") in ("band", "stiff-band"):
        hints["overlap"] = f"Now {both(r.overlap.mm, unit)}, {r.overlap.source}."
    closure = view.garment.features.get("closure", "none")
    if "zip" in closure or closure == "fly":
        hints["zip"] = f"Now {both(r.zip.mm, unit)}, {r.zip.source}."
    if r.buttons is not None:
        hints["buttons"] = f"Now {r.buttons.total}: {r.buttons.words()}."
        hints["button"] = f"Now {both(r.buttons.across.mm, unit)}, {r.buttons.across.source}."
    return hints


@router.get("", name="make_cloth")
def show(request: Request, home: Home, make_id: int) -> Response:
    """The cloths of a make."""
    return _page(request, home, make_id, None, 200)


@router.post("", name="choose_cloth")
async def choose(request: Request, home: Home, make_id: int) -> Response:
    """Choose a role's cloth."""
    form = await read_form(request)
    view = WorkedMake(home.conn, make_id, home.settings)
    role, chosen = form.typed.get("role", ""), whole_number(form.typed.get("cloth", ""))
    if view.role(role) is None:
        form.errors["role"] = "This view has no such cloth."
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    cloth_id = cloths.cloth(home.conn, chosen).id if chosen is not None else None
    with db.write(home.conn):
        makes.touch(home.conn, make_id, form.opened(view.make.version))
        makes.put_cloth(home.conn, make_id, role, cloth_id)
    return see_other(request, f"/makes/{make_id}/cloth")


@router.post("/trim", name="cloth_trim")
async def trim(request: Request, home: Home, make_id: int) -> Response:
    """Piping, lace, braid or a binding along edges of this make's pieces."""
    sent = await request.form()
    form = await read_form(request, home.unit)
    view = WorkedMake(home.conn, make_id, home.settings)
    known = {(number, edge) for number, _, edge in view.edges}
    picked = tuple(pair for value in sent.getlist("edge") if (pair := _pair(str(value))) in known)
    name = form.text("trim_name", "A name", 60)
    shows = form.length("shows", most_mm=100)
    if not picked:
        form.errors["edge"] = "Choose at least one edge."
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    added = Trim(name, picked, shows.mm if shows else 0.0)
    with db.write(home.conn):
        plan = replace(view.make.plan, trims=(*view.make.plan.trims, added))
        makes.put_plan(home.conn, make_id, form.opened(view.make.version), plan)
    return see_other(request, f"/makes/{make_id}/cloth#notions")


def _pair(value: str) -> tuple[str, str]:
    number, _, edge = value.partition("|")
    return number, edge


@router.post("/figures", name="cloth_figures")
async def figures(request: Request, home: Home, make_id: int) -> Response:
    """Figures of this garment, against the pattern's: buttons, hem folds, overlap, zip, elastic."""
    form = await read_form(request, home.unit)
    view = WorkedMake(home.conn, make_id, home.settings)
    own = read_figures(form)
    if not form.sound:
        return _page(request, home, make_id, form, 422)
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.version(), replace(view.make.plan, own=own))
    return see_other(request, f"/makes/{make_id}/cloth#notions")


@router.post("/trim/drop", name="cloth_trim_drop")
async def drop_trim(request: Request, home: Home, make_id: int) -> Response:
    """Take a trim away."""
    form = await read_form(request)
    make = makes.make(home.conn, make_id)
    kept = tuple(t for t in make.plan.trims if t.name != form.typed.get("trim_name"))
    with db.write(home.conn):
        makes.put_plan(home.conn, make_id, form.opened(make.version), replace(make.plan, trims=kept))
    return see_other(request, f"/makes/{make_id}/cloth#notions")


@router.get("/needs", name="cloth_needs")
def needs(request: Request, home: Home, work: Work, make_id: int, role: str, again: bool = False) -> Response:
    """The comparison of a role's cloths and widths: all of them, at once by their bounds, then as they are laid."""
    view, found = _found(home, make_id, role)
    lines = compare(work, str(request.app.state.database), view, found, _candidates(home, found), again)
    rows = [(line, _need(home, found, line)) for line in lines]
    context = {
        "rows": rows,
        "running": any(line.progress.running for line in lines),
        "stopped": any(line.progress.stopped for line in lines),
        "role": found,
        "view": view,
        "together": _sharing(home, view, found),
    }
    return page(request, home, "cloth/_needs.html", context)


@router.post("/needs/stop", name="cloth_needs_stop")
async def stop_needs(request: Request, home: Home, work: Work, make_id: int) -> Response:
    """Stop laying the cloths of the comparison; what is known stays."""
    form = await read_form(request)
    view, found = _found(home, make_id, form.typed.get("role", ""))
    work.stop(place_of(str(request.app.state.database), view, found))
    return see_other(request, f"/makes/{make_id}/cloth#role-{found.role}")


@router.get("/need", name="cloth_need")
def need(request: Request, home: Home, work: Work, make_id: int, role: str, line: str) -> Response:
    """The figures of one line."""
    view, found = _found(home, make_id, role)
    candidate = next((c for c in _candidates(home, found) if c.key == line), None)
    if candidate is None:
        raise db.NotFound("There is no such cloth or width to compare.")
    (compared,) = compare(work, str(request.app.state.database), view, found, [candidate])
    context = {"rows": [(compared, _need(home, found, compared))], "role": found, "view": view}
    return page(request, home, "cloth/_rows.html", context)


@router.get("/giving-up", name="cloth_giving_up")
def giving_up(request: Request, home: Home, work: Work, make_id: int, role: str, line: str) -> Response:
    """What could be given up so that a cloth that is too short is enough: the mildest set, worked out by a worker."""
    view, found = _found(home, make_id, role)
    candidate = next((c for c in _candidates(home, found) if c.key == line and c.cloth.length is not None), None)
    if candidate is None or not view.sizes:
        raise db.NotFound("There is no such cloth to compare.")
    offered = offers(view.pattern, view.make.view, found.role, view.sizes[0], candidate.cloth.for_lay(), HemDepths())
    allowed = tuple(c for c in offered if c.kind not in NOT_AT_FIRST)
    plan = replace(view.make.plan, effort="quick")
    asked = ConcedeRequest(view.fitted, view.make.view, found.role, tuple(view.sizes), candidate.cloth, plan, allowed)
    progress = work.look(f"{request.app.state.database}:{make_id}:{role}:{line}:giving-up", asked, patient=False)
    names = {p.number: p.name for p in view.pattern.pieces}
    context = {
        "progress": progress,
        "found": progress.result or progress.best,
        "words": lambda c: describe_concession(c, names),
        "view": view,
        "role": found,
        "c": candidate,
    }
    return page(request, home, "cloth/_giving_up.html", context)


@router.get("/together", name="cloth_together")
def together(request: Request, home: Home, work: Work, make_id: int, role: str, other: int) -> Response:
    """This make and another one of the same cloth, laid together: what one order saves."""
    view, found = _found(home, make_id, role)
    second = WorkedMake(home.conn, other, home.settings)
    theirs = second.role(role)
    if found.request is None or theirs is None or theirs.request is None:
        raise db.NotFound("Both makes need their size and this cloth first.")
    asked = {str(view.make.id): _quick(found.request), str(second.make.id): _quick(theirs.request)}
    place = f"{request.app.state.database}:{make_id}:{role}:together:{other}:"
    wanted = {**asked, "both": laid_together(asked)}
    seen = {name: work.look(place + name, task) for name, task in wanted.items()}
    context: dict[str, object] = {
        "other": second.make,
        "role": found,
        "view": view,
        "running": any(p.running for p in seen.values()),
        "problem": next((p.problem for p in seen.values() if p.problem), ""),
    }
    if all(p.result is not None for p in seen.values()):
        alone = [p.result.length_mm for name, p in seen.items() if name != "both"]
        context |= {"together": seen["both"].result.length_mm, "apart": sum(alone)}
    return page(request, home, "cloth/_together.html", context)


def _quick(request: LayRequest) -> LayRequest:
    cloth = replace(request.cloth, length_mm=None)
    return replace(request, cloth=cloth, effort="quick", spread="best", locked=())


def _found(home: Household, make_id: int, role: str) -> tuple[WorkedMake, WorkedRole]:
    view = WorkedMake(home.conn, make_id, home.settings)
    found = view.role(role)
    if found is None:
        raise db.NotFound("This view has no such cloth.")
    return view, found


def _sharing(home: Household, view: WorkedMake, role: WorkedRole) -> list[makes.Make]:
    """Other makes under way that are cut from the same cloth."""
    if role.cloth is None:
        return []
    return [
        make
        for make in makes.makes(home.conn)
        if make.id != view.make.id and not make.finished_on and make.cloths.get(role.role) == role.cloth.id
    ]


def _candidates(home: Household, role: WorkedRole) -> list[Candidate]:
    """The chosen cloth, the others of its kind in the stash, and the widths on sale."""
    if not role.pieces or role.findings:
        return []
    kind = KIND_OF_ROLE.get(role.role, "main")
    lines = []
    stash_ = [c for c in cloths.cloths(home.conn) if c.cloth.kind == kind]
    own = role.cloth.id if role.cloth else None
    for stored in sorted(stash_, key=lambda c: c.id != own):
        title = f"{stored.cloth.name}, {stored.cloth.width.told(home.unit)}"
        lines.append(Candidate(f"cloth-{stored.id}", title, stored.cloth, stored.id, stored.id == own))
    if role.cloth is not None and all(line.cloth_id != own for line in lines):
        title = f"{role.cloth.cloth.name}, {role.cloth.cloth.width.told(home.unit)}"
        lines.insert(0, Candidate(f"cloth-{role.cloth.id}", title, role.cloth.cloth, role.cloth.id, True))
    base = role.cloth.cloth if role.cloth else Cloth("on sale", Length(0.0, "", "cm"), Length(10.0, "1 cm", "cm"))
    for mm in widths_for(role.role, home.unit):
        width = Length(mm, format_length(mm, home.unit), home.unit)
        on_sale = replace(base, name="", width=width, length=None, others=(), prepared=False, flaws=())
        lines.append(Candidate(f"width-{round(mm)}", f"{width.text} wide, on sale", on_sale))
    return lines


def _need(home: Household, role: WorkedRole, compared: Compared) -> WidthNeed | None:
    """The figures of a line, None while its lay is not known."""
    line, found = compared.candidate, compared.lay
    unit = home.settings.unit
    if compared.bound.too_wide:
        text = f"Piece {compared.bound.too_wide} is wider than this cloth."
        return WidthNeed(None, "does not fit this width", "", 0.0, "", (Finding("stop", "piece-too-wide", text),))
    if compared.progress.problem:
        return WidthNeed(None, "–", "", 0.0, "", (Finding("stop", "not-laid", compared.progress.problem),))
    if found is None and compared.ruled_out and compared.have_mm is not None:
        short = compared.bound.length_mm - compared.have_mm
        text = f"At least {both(short, unit)} too short, by its area alone."
        return WidthNeed(
            None,
            f"over {both(compared.bound.length_mm, unit)}",
            "",
            0.0,
            "",
            (Finding("stop", "in-hand", text),),
            short,
        )
    if found is None:
        return None
    if found.failed:
        return WidthNeed(None, "does not fit this width", "", 0.0, "", found.findings)
    shrink = 0.0 if line.cloth.prepared else line.cloth.shrink_along
    buy = length_to_buy(found.length_mm, shrink, home.settings.straighten_mm, home.settings.step)
    findings, short = list(found.findings), 0.0
    if line.cloth.length is not None:
        have = line.cloth.for_lay().length_mm or 0.0
        short = max(0.0, found.length_mm - have)
        text = (
            f"{both(short, home.unit)} too short."
            if short
            else f"Enough: {both(have - found.length_mm, home.unit)} is left."
        )
        findings.append(Finding("stop" if short else "note", "in-hand", text))
    kind = KIND_OF_ROLE.get(role.role, "main")
    cost_ = "" if line.cloth.length is not None else _cheapest(home, kind, line, buy.needed_mm)
    return WidthNeed(
        found.length_mm, buy.text, SPREAD_WORDS[found.spread], 1.0 - found.utilisation, cost_, tuple(findings), short
    )


def _cheapest(home: Household, kind: str, line: Candidate, buy_mm: float) -> str:
    """What the length costs in each shop that has a price for it."""
    said = []
    for stored in stash.shops(home.conn):
        price = price_of(stored.shop, kind, line.cloth.name, line.cloth.width.mm)
        if price is not None:
            said.append(f"{say_money(cost(price, cut_length(buy_mm, stored.shop)), stored.shop)} at {stored.shop.name}")
    return "; ".join(said)
