"""Pieces by figures taken off the paper with a tape measure: quick shapes and polygons, typed, changed, another size."""

from dataclasses import replace
from urllib.parse import quote

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Grain
from rowanseed.core.intake.accept import with_size
from rowanseed.core.lengths import Unit
from rowanseed.core.pattern.model import ROLES, Pattern, Piece
from rowanseed.core.pattern.quick import FREEHAND, QUICK_SHAPES, draw_quick, in_doubt, read_measures
from rowanseed.formats.piece_svg import before_after_svg, piece_svg
from rowanseed.store import db, patterns
from rowanseed.web.deps import Home, Household, now, page, see_other, with_undo
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/patterns", include_in_schema=False)
GRAINS: tuple[Grain, ...] = ("lengthwise", "crosswise", "bias", "any")


@router.get("/{pattern_id}/pieces/new", name="piece_new")
def new_piece(
    request: Request,
    home: Home,
    pattern_id: int,
    shape: str = "",
    number: str = "",
    size: str = "",
    like: str = "",
    edit: bool = False,
) -> Response:
    """The form for a piece: first which shape, then its figures; with a number, another size of that piece.

    Another size begins with the figures of the last one (`like`), a change with its own (`edit`).
    """
    stored = patterns.pattern(home.conn, pattern_id)
    piece = next((p for p in stored.pattern.pieces if p.number == number), None)
    if piece and not edit and not size:
        size = _next_size(stored.pattern, piece)
        like = like or next(reversed(list(piece.figures)), "")
    figures = dict(piece.figures.get(size if edit else like, {})) if piece else {}
    shape = shape or figures.get("shape", "")
    if not shape:
        shapes = [(s, piece_svg(_example(s.name), s.title)) for s in QUICK_SHAPES.values()]
        context = {"stored": stored, "p": stored.pattern, "shapes": shapes, "number": number}
        return page(request, home, "patterns/choose_shape.html", context)
    typed = (
        _piece_typed(piece) if piece else {"number": str(len(stored.pattern.pieces) + 1), "cut": "2", "mirrored": "on"}
    )
    if shape in QUICK_SHAPES and not piece:
        typed["name"] = QUICK_SHAPES[shape].title
        if QUICK_SHAPES[shape].on_fold:
            typed.update(cut="1", mirrored="")
    typed = {**figures, **typed, "size": size}
    return _piece_form(request, home, stored, shape, Form(typed), 200)


def _next_size(pattern: Pattern, piece: Piece) -> str:
    """The size after the largest that a piece is drawn in, else the first that it lacks."""
    sizes = pattern.size_names()
    drawn = [k for k, s in enumerate(sizes) if s in piece.shapes]
    later = sizes[drawn[-1] + 1 :] if drawn else sizes
    return next((s for s in (*later, *sizes) if s not in piece.shapes), "")


def _example(name: str) -> PieceShape:
    return draw_quick(name, {m.key: m.example for m in QUICK_SHAPES[name].measures})


def _piece_typed(piece: Piece) -> dict[str, str]:
    flags = {"mirrored": "on" if piece.mirrored else "", "included": "on" if piece.allowance_included else ""}
    return {
        "number": piece.number,
        "name": piece.name,
        "cut": str(piece.cut),
        "role": piece.role,
        "grain": piece.grain,
        "allowance": f"{piece.allowance_mm / 10:g} cm",
        "views": ", ".join(piece.views),
        **flags,
    }


@router.post("/{pattern_id}/pieces/draw", name="piece_draw")
async def draw(request: Request, home: Home, pattern_id: int, focus: str = "") -> Response:
    """The drawing of the figures typed so far, or what is missing; with `focus` what a larger figure there would change."""
    form = await read_form(request, home.unit)
    shape, problem = _drawn(form, home.unit)
    context = {"drawing": shape, "problem": problem, "svg": piece_svg, "focus": _focus(form, focus, home.unit)}
    return page(request, home, "patterns/_drawing.html", context)


def _focus(form: Form, key: str, unit: Unit) -> tuple[str, str] | None:
    """In a picture and in words, what one figure of a quick shape is: the piece as it is, and with that figure a tenth larger.

    Figures that are not typed yet are those of the example.
    """
    quick = QUICK_SHAPES.get(form.typed.get("shape", ""))
    measure = next((m for m in quick.measures if m.key == key), None) if quick else None
    if quick is None or measure is None:
        return None
    typed = {m.key: form.typed.get(m.key, "").strip() or m.example for m in quick.measures}
    try:
        figures = read_measures(quick, typed, unit)
        larger = {**figures, key: max(figures[key] * 1.1, figures[key] + 10.0)}
        return before_after_svg(quick.draw(figures), quick.draw(larger), measure.meaning), measure.meaning
    except ShapeError:
        return None


def _drawn(form: Form, unit: Unit) -> tuple[PieceShape | None, ShapeError | None]:
    try:
        return draw_quick(form.typed.get("shape", ""), form.typed, unit), None
    except ShapeError as error:
        return None, error


@router.post("/{pattern_id}/pieces", name="piece_keep")
async def keep_piece(request: Request, home: Home, pattern_id: int) -> Response:
    """Keep a piece, or another size of one."""
    form = await read_form(request, home.unit)
    stored = patterns.pattern(home.conn, pattern_id)
    shape, problem = _drawn(form, home.unit)
    if problem is not None:
        form.errors[problem.field or "shape"] = problem.text
    elif shape is not None and (doubt := in_doubt(shape)) and not form.flag("sure"):
        form.errors["sure"] = f"{doubt} Check the figures and their units; tick this if it is meant so."
    piece = _read_piece(form, stored.pattern, shape)
    if piece is None:
        return _piece_form(request, home, stored, form.typed.get("shape", ""), form, 422)
    old = next((p for p in stored.pattern.pieces if p.number == piece.number), None)
    piece = replace(piece, figures={**(old.figures if old else {}), **_figures(form, next(iter(piece.shapes)))})
    size, new = next(iter(piece.shapes.items()))
    if old is not None:
        piece = with_size(replace(piece, shapes=old.shapes), size, new)
    with db.write(home.conn):
        patterns.put_piece(home.conn, pattern_id, form.version(), piece)
    if old is None:
        return see_other(request, f"/patterns/{pattern_id}#piece-{piece.number}")
    return see_other(request, f"/patterns/{pattern_id}/pieces/{quote(piece.number)}?size={quote(size)}")


def _figures(form: Form, size: str) -> dict[str, dict[str, str]]:
    """What was typed for a quick shape, kept with its size so that it can be changed later."""
    shape = form.typed.get("shape", "")
    keys = [m.key for m in QUICK_SHAPES[shape].measures] if shape in QUICK_SHAPES else ["points"]
    return {size: {"shape": shape, **{key: form.typed.get(key, "") for key in keys}}}


@router.post("/{pattern_id}/pieces/{number}/drop", name="piece_drop")
async def drop_piece(request: Request, home: Home, pattern_id: int, number: str) -> Response:
    """Take a piece out."""
    form = await read_form(request)
    with db.write(home.conn):
        gone = patterns.drop_piece(home.conn, pattern_id, form.version(), number, now())
    return see_other(request, with_undo(f"/patterns/{pattern_id}", gone))


@router.post("/{pattern_id}/pieces/{number}/copy", name="piece_copy")
async def copy_piece(request: Request, home: Home, pattern_id: int, number: str) -> Response:
    """Copy a piece in all its sizes under the next free number: a left half that differs, a lining cut like the shell."""
    form = await read_form(request)
    stored = patterns.pattern(home.conn, pattern_id)
    piece = next((p for p in stored.pattern.pieces if p.number == number), None)
    if piece is None:
        raise db.NotFound(f"There is no piece {number}.")
    free = stored.pattern.free_number()
    with db.write(home.conn):
        again = replace(piece, number=free, name=f"{piece.name} (copy)"[:120])
        patterns.put_piece(home.conn, pattern_id, form.opened(stored.version), again)
    return see_other(request, f"/patterns/{pattern_id}/pieces/{quote(free)}")


def _read_piece(form: Form, pattern: Pattern, shape: PieceShape | None) -> Piece | None:
    number, name = form.text("number", "A number", 40), form.text("name", "A name", 120)
    allowance = form.length("allowance", most_mm=100)
    views = tuple(v.strip() for v in form.typed.get("views", "").split(",") if v.strip())
    known = {v.name for v in pattern.views}
    if unknown := [v for v in views if v not in known]:
        form.errors["views"] = f"There is no view {unknown[0]}; the views are {', '.join(sorted(known))}."
    size = form.text("size", "A size", 40)
    cut = form.number("cut", "How many", 1, 100)
    if size and pattern.sizes and size not in pattern.size_names():
        form.errors["size"] = f"The sizes are {', '.join(pattern.size_names())}."
    mirrored = form.flag("mirrored") and cut > 1 and (shape is None or shape.fold_edge is None)
    if not form.sound or shape is None:
        return None
    return Piece(
        number,
        name,
        cut,
        form.choice("role", ROLES),
        mirrored,
        form.choice("grain", GRAINS),
        allowance.mm if allowance else 15.0,
        form.flag("included"),
        views,
        {size: shape},
    )


def _piece_form(
    request: Request, home: Household, stored: patterns.StoredPattern, shape: str, form: Form, status: int
) -> Response:
    if shape != FREEHAND and shape not in QUICK_SHAPES:
        raise db.NotFound("There is no such quick shape.")
    keys = [m.key for m in QUICK_SHAPES[shape].measures] if shape != FREEHAND else ["points"]
    begun = any(form.typed.get(key) for key in keys)
    drawing = _drawn(Form({**form.typed, "shape": shape}), home.unit)[0] if begun else None
    if not begun and shape != FREEHAND:
        drawing = _example(shape)
    context = {
        "stored": stored,
        "p": stored.pattern,
        "shape_name": shape,
        "quick": QUICK_SHAPES.get(shape),
        "form": form,
        "roles": ROLES,
        "grains": GRAINS,
        "drawing": drawing,
        "example": not begun,
        "problem": None,
        "svg": piece_svg,
    }
    return page(request, home, "patterns/piece.html", context, status)
