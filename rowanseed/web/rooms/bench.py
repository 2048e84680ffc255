"""The bench: small calculators, worked out as one types."""

from dataclasses import replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon import sums_cloth, sums_fastenings, sums_fullness, sums_hems, sums_linings
from rowanseed.core.reckon.catalogue import CALCULATORS, figure_of, reckon
from rowanseed.core.reckon.model import Calculator
from rowanseed.formats.bench_svg import bench_figure
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import makes
from rowanseed.store.db import NotFound, write
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form, whole_number

router = APIRouter(prefix="/bench", include_in_schema=False)
FAMILIES = (
    ("Hems, seams and bands", sums_hems),
    ("Fullness", sums_fullness),
    ("Fastenings and trims", sums_fastenings),
    ("Linings and collars", sums_linings),
    ("Cloth and thread", sums_cloth),
)


def _page(request: Request, home: Household, worked: dict[str, dict[str, object]], status: int = 200) -> Response:
    every = {name: worked.get(name) or _worked(home, c, None) for name, c in CALCULATORS.items()}
    families = [(title, [every[c.name] for c in family.CALCULATORS]) for title, family in FAMILIES]
    form = Form({}, home.unit)
    form.errors = {name: str(w["problem"]) for name, w in worked.items() if w["problem"]}
    context = {"families": families, "makes": _makes(home), "form": form}
    return page(request, home, "bench/index.html", context, status)


def _makes(home: Household) -> list[makes.Make]:
    """Makes that a sum can be used in."""
    return [make for make in makes.makes(home.conn) if not make.finished_on]


@router.get("", name="bench")
def index(request: Request, home: Home, make: int = 0) -> Response:
    """Every calculator with its example worked out, or with the figures of a make."""
    if not make:
        return _page(request, home, {})
    figures = _figures_of(WorkedMake(home.conn, make, home.settings))
    worked = {
        name: _worked(
            home, CALCULATORS[name], Form({i.key: i.example for i in CALCULATORS[name].inputs} | typed, home.unit)
        )
        for name, typed in figures.items()
    }
    return _page(request, home, worked)


def _figures_of(view: WorkedMake) -> dict[str, dict[str, str]]:
    """What a make requires, as the inputs of the sums that work with it."""
    r = view.required

    def mm(value: float) -> str:
        return f"{value:.1f} mm"

    found = {
        "double-hem": {"first_fold": mm(r.hem_first.mm), "second_fold": mm(r.hem_second.mm)},
        "single-hem": {"fold": mm(r.hem_second.mm)},
        "zip": {"opening": mm(r.opening.mm)},
        "french-seam": {"allowance": mm(r.allowance_mm)},
    }
    waist = view.sewing_facts.waist_mm
    if waist is not None:
        found["waistband"] = {"waist": mm(waist), "overlap": mm(r.overlap.mm), "allowance": mm(r.allowance_mm)}
        found["elastic"] = {"body": mm(waist)}
    if r.buttons is not None:
        found["buttonhole"] = {"diameter": mm(r.buttons.across.mm), "thickness": mm(r.buttons.thick.mm)}
        if len(r.buttons.places_mm) > 1:
            places = r.buttons.places_mm
            found["buttons"] = {"top": mm(places[0]), "bottom": mm(places[-1]), "count": str(len(places))}
    return found


@router.post("/{name}", name="bench_work")
async def work(request: Request, home: Home, name: str) -> Response:
    """Work one calculator out."""
    if name not in CALCULATORS:
        raise NotFound("There is no such calculator.")
    form = await read_form(request, home.unit)
    worked = _worked(home, CALCULATORS[name], form)
    status = 422 if worked["problem"] else 200
    if "HX-Request" in request.headers:
        return page(request, home, "bench/_results.html", {"w": worked, "makes": _makes(home)}, status)
    return _page(request, home, {name: worked}, status)


@router.post("/{name}/use", name="bench_use")
async def use(request: Request, home: Home, name: str) -> Response:
    """Keep a sum's results in a make: they stand with the steps that use them."""
    if name not in CALCULATORS:
        raise NotFound("There is no such calculator.")
    form = await read_form(request, home.unit)
    worked = _worked(home, CALCULATORS[name], form)
    number = whole_number(form.typed.get("make", ""))
    if worked["problem"] or number is None:
        return _page(request, home, {name: worked}, 422)
    make = makes.make(home.conn, number)
    said = "; ".join(f"{r.label} {r.text}" for r in reckon(name, form.typed, home.unit))
    with write(home.conn):
        makes.put_plan(home.conn, make.id, make.version, replace(make.plan, figures={**make.plan.figures, name: said}))
    steps = CALCULATORS[name].steps
    return see_other(request, f"/makes/{make.id}/sew" + (f"?step={steps[0]}" if steps else ""))


def _worked(home: Household, calculator: Calculator, form: Form | None) -> dict[str, object]:
    typed = form.typed if form else {i.key: i.example for i in calculator.inputs}
    found: dict[str, object] = {"c": calculator, "typed": typed, "results": [], "problem": None, "figure": ""}
    try:
        results = reckon(calculator.name, typed, home.unit)
        figure = bench_figure(figure_of(calculator, typed, home.unit), calculator.title, home.unit)
        return {**found, "results": results, "figure": figure}
    except ReckonError as error:
        return {**found, "problem": error}
