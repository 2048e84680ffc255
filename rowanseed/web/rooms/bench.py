"""The bench: small calculators, worked out as one types."""

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon.catalogue import CALCULATORS, reckon
from rowanseed.core.reckon.model import Calculator
from rowanseed.store.db import NotFound
from rowanseed.web.deps import Home, Household, page
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/bench", include_in_schema=False)


@router.get("", name="bench")
def index(request: Request, home: Home) -> Response:
    """Every calculator with its example worked out."""
    return page(request, home, "bench/index.html", {"worked": [_worked(home, c, None) for c in CALCULATORS.values()]})


@router.post("/{name}", name="bench_work")
async def work(request: Request, home: Home, name: str) -> Response:
    """Work one calculator out."""
    if name not in CALCULATORS:
        raise NotFound("There is no such calculator.")
    form = await read_form(request, home.unit)
    worked = _worked(home, CALCULATORS[name], form)
    if "HX-Request" in request.headers:
        return page(request, home, "bench/_results.html", {"w": worked}, 422 if worked["problem"] else 200)
    every = [worked if c.name == name else _worked(home, c, None) for c in CALCULATORS.values()]
    return page(request, home, "bench/index.html", {"worked": every}, 422 if worked["problem"] else 200)


def _worked(home: Household, calculator: Calculator, form: Form | None) -> dict[str, object]:
    typed = form.typed if form else {i.key: i.example for i in calculator.inputs}
    try:
        return {"c": calculator, "typed": typed, "results": reckon(calculator.name, typed, home.unit), "problem": None}
    except ReckonError as error:
        return {"c": calculator, "typed": typed, "results": [], "problem": error}
