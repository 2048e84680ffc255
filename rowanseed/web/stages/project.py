"""Projecting: pieces or the whole lay at full size on the cutting table, made true by a rectangle of known size."""

from fastapi import APIRouter, Request, Response

from rowanseed.formats.project_svg import lay_svg, pieces_svg
from rowanseed.services.paper import pieces_in
from rowanseed.services.worked_make import WorkedMake
from rowanseed.web.deps import Home, page
from rowanseed.web.forms import Form

router = APIRouter(prefix="/makes/{make_id}/project", include_in_schema=False)
RECTANGLE = {"cm": ("29.7 cm", "21 cm"), "in": ("11 in", "8 1/2 in")}  # a sheet of paper, laid lengthwise
LEAST_MM = 50.0


@router.get("", name="project")
def show(request: Request, home: Home, make_id: int) -> Response:
    """The view for the projector."""
    view = WorkedMake(home.conn, make_id, home.settings)
    asked = request.query_params
    form = Form({k: asked[k] for k in asked}, home.unit)
    usual = RECTANGLE["in" if home.unit == "in" else "cm"]
    sides = []
    for name, words in zip(("wide", "high"), usual, strict=True):
        length = (
            form.length(name, most_mm=3000.0) if form.typed.get(name) else Form({name: words}, home.unit).length(name)
        )
        if length is not None and length.mm < LEAST_MM:
            form.errors[name] = "Take a rectangle of at least 5 cm: a larger one is more exact."
        sides.append(length.mm if length is not None else 0.0)
    size = asked.get("size", "")
    size = size if size in view.sizes else next(iter(view.sizes), "")
    role = next(
        (r for r in view.roles if r.kept is not None and r.current and r.role == asked.get("role", r.role)), None
    )
    whole = asked.get("show") == "lay" and role is not None
    picture = ""
    if whole and role is not None and role.kept is not None:
        titles = {s.lay_id: (s.piece.number, s.piece.name) for s in role.pieces}
        picture = lay_svg(role.kept.lay, lambda i: titles.get(i, (i, "")))
    elif size:
        picture = pieces_svg([(f"{p.number} {p.name}", shape) for p, shape, _ in pieces_in(view, size)])
    context = {
        "view": view,
        "form": form,
        "picture": picture if form.sound else "",
        "wide_mm": sides[0],
        "high_mm": sides[1],
        "usual": usual,
        "shows_lay": whole,
        "has_lay": role is not None,
    }
    return page(request, home, "project/show.html", context, 200 if form.sound else 422)
