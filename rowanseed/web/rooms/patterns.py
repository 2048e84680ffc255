"""Patterns: views with their features, pieces by quick shapes, files in and out."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Query, Request, Response, UploadFile
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile as UploadedFile

from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.core.errors import PatternFileError, ShapeError
from rowanseed.core.garment_kinds import ZONES, GarmentKind
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Grain
from rowanseed.core.intake.accept import with_size
from rowanseed.core.lengths import Unit
from rowanseed.core.pattern.joins import suggest_seams
from rowanseed.core.pattern.model import ROLES, Pattern, Piece, View
from rowanseed.core.pattern.quick import FREEHAND, QUICK_SHAPES, draw_quick, in_doubt, read_measures
from rowanseed.core.sew.proposals import Proposal, proposals
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_json import read_pattern, schema, write_pattern
from rowanseed.formats.pattern_pdf import pattern_pdf
from rowanseed.formats.pattern_svg import pattern_svg
from rowanseed.formats.photo import remade
from rowanseed.formats.piece_svg import before_after_svg, piece_svg
from rowanseed.formats.sewing import library, starting_points
from rowanseed.store import db, patterns, photos
from rowanseed.web.deps import Home, Household, now, page, page_or_part, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.garment_form import SEVERAL, groups, read_features
from rowanseed.web.rooms.intake import begin_page

router = APIRouter(prefix="/patterns", include_in_schema=False)
GARMENTS: tuple[GarmentKind, ...] = ("top", "dress", "skirt", "trousers", "jacket", "coat")
GRAINS: tuple[Grain, ...] = ("lengthwise", "crosswise", "bias", "any")


@router.get("", name="patterns")
def index(
    request: Request, home: Home, words: Annotated[str, Query(max_length=200)] = "", sort: str = "name", away: int = 0
) -> Response:
    """The patterns, by any word, in an order."""
    chosen = sort if sort in patterns.SORTS else "name"
    gone = patterns.patterns(home.conn, put_away=True)
    context = {
        "patterns": patterns.patterns(home.conn, words, chosen),
        "any": bool(words) or bool(patterns.patterns(home.conn)),
        "words": words,
        "sort": chosen,
        "put_away": gone,
        "just_away": next((p for p in gone if p.id == away), None),
    }
    return page_or_part(request, home, "patterns/index.html", "patterns/_list.html", context)


@router.get("/schema.json", name="pattern_schema")
def published_schema() -> dict[str, object]:
    """The schema of the pattern file."""
    return schema()


@router.post("/import", name="pattern_import")
async def take_in(request: Request, home: Home, file: UploadFile) -> Response:
    """Take in a pattern file of our own format."""
    try:
        pattern = read_pattern(await file.read())
    except PatternFileError as error:
        return begin_page(request, home, Form({}, home.unit, {"file": error.text}), 422)
    with db.write(home.conn):
        pattern_id = patterns.add_pattern(home.conn, pattern)
    return see_other(request, f"/patterns/{pattern_id}")


@router.get("/{pattern_id}", name="pattern")
def show(request: Request, home: Home, pattern_id: int, taken: int = 0) -> Response:
    """A pattern: its envelope, views and pieces."""
    stored = patterns.pattern(home.conn, pattern_id)
    tags, photos_of = patterns.tags_and_photos(home.conn, pattern_id)
    middle = stored.pattern.size_names()[len(stored.pattern.sizes) // 2 :] or ("",)
    thumbs = {p.number: _thumb(p, middle[0]) for p in stored.pattern.pieces}
    in_order = stored.pattern.size_names()
    context = {
        "stored": stored,
        "p": stored.pattern,
        "thumbs": thumbs,
        "zones": ZONES,
        "library": library(),
        "tags": tags,
        "photos": photos_of,
        "taken": taken,
        "suggested": len(suggest_seams(stored.pattern, _drawn_size(stored.pattern))) if taken else 0,
        "drawn_in": {p.number: [s for s in in_order if s in p.shapes] or list(p.shapes) for p in stored.pattern.pieces},
    }
    return page(request, home, "patterns/show.html", context)


def _drawn_size(pattern: Pattern) -> str:
    """The middle one of the sizes that pieces are drawn in."""
    drawn = [s for s in pattern.size_names() if any(s in p.shapes for p in pattern.pieces)]
    return drawn[len(drawn) // 2] if drawn else ""


@router.post("/{pattern_id}/own", name="pattern_own")
async def own(request: Request, home: Home, pattern_id: int) -> Response:
    """Keep a pattern's name and words, and a photograph of its envelope where one is sent."""
    data = await request.form()
    sent = data.get("photo")
    form = await read_form(request, home.unit)
    stored = patterns.envelope(home.conn, pattern_id)
    name = form.text("name", "A name", 120)
    picture = ""
    if isinstance(sent, UploadedFile) and sent.size:
        try:
            picture = photos.keep(request.app.state.database, await run_in_threadpool(remade, await sent.read()), "jpg")
        except PhotoError as error:
            form.errors["photo"] = error.text
    if not form.sound:
        text = " ".join(form.errors.values())
        raise ShapeError(text, "photo")
    with db.write(home.conn):
        if name != stored.pattern.name:
            patterns.rename(home.conn, pattern_id, form.opened(stored.version), name)
        patterns.set_tags(home.conn, pattern_id, form.text("tags", most=300))
        if picture:
            _, before = patterns.tags_and_photos(home.conn, pattern_id)
            patterns.set_photos(home.conn, pattern_id, [*before, picture][-8:])
    return see_other(request, f"/patterns/{pattern_id}")


@router.post("/{pattern_id}/photo-drop", name="pattern_photo_drop")
async def drop_photo(request: Request, home: Home, pattern_id: int) -> Response:
    """Take a photograph of the envelope out."""
    form = await read_form(request)
    _, before = patterns.tags_and_photos(home.conn, pattern_id)
    with db.write(home.conn):
        patterns.set_photos(home.conn, pattern_id, [p for p in before if p != form.typed.get("photo")])
    return see_other(request, f"/patterns/{pattern_id}")


@router.post("/{pattern_id}/copy", name="pattern_copy")
def copy(request: Request, home: Home, pattern_id: int) -> Response:
    """Copy a pattern with all its pieces."""
    stored = patterns.pattern(home.conn, pattern_id)
    tags, own_photos = patterns.tags_and_photos(home.conn, pattern_id)
    with db.write(home.conn):
        new_id = patterns.add_pattern(home.conn, replace(stored.pattern, name=f"{stored.pattern.name} (copy)"[:120]))
        patterns.set_tags(home.conn, new_id, tags)
        patterns.set_photos(home.conn, new_id, own_photos)
    return see_other(request, f"/patterns/{new_id}")


@router.post("/{pattern_id}/put-away", name="pattern_put_away")
async def put_away(request: Request, home: Home, pattern_id: int) -> Response:
    """Put a pattern away; the page that follows takes it back."""
    form = await read_form(request)
    with db.write(home.conn):
        patterns.put_away(home.conn, pattern_id, form.version(), now().isoformat(timespec="seconds"))
    return see_other(request, f"/patterns?away={pattern_id}")


@router.post("/{pattern_id}/take-back", name="pattern_take_back")
def take_back(request: Request, home: Home, pattern_id: int) -> Response:
    """Take a pattern back."""
    with db.write(home.conn):
        patterns.take_back(home.conn, pattern_id)
    return see_other(request, f"/patterns/{pattern_id}")


def _file(text: str | bytes, kind: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=kind, headers=headers)


@router.get("/{pattern_id}/file.svg", name="pattern_svg_file")
def give_out_svg(home: Home, pattern_id: int) -> Response:
    """The pieces as SVG to true size."""
    return _file(
        pattern_svg(patterns.pattern(home.conn, pattern_id).pattern), "image/svg+xml", f"pattern-{pattern_id}.svg"
    )


@router.get("/{pattern_id}/file.dxf", name="pattern_dxf_file")
def give_out_dxf(home: Home, pattern_id: int) -> Response:
    """The pieces as DXF in the apparel convention."""
    return _file(
        pattern_dxf(patterns.pattern(home.conn, pattern_id).pattern), "image/vnd.dxf", f"pattern-{pattern_id}.dxf"
    )


@router.get("/{pattern_id}/file.pdf", name="pattern_pdf_file")
def give_out_pdf(home: Home, pattern_id: int, paper: Literal["a4", "a3", "letter", "sheet"] = "a4") -> Response:
    """The pieces as PDF to true size, on pages to be glued or on one sheet, a layer for each size."""
    pattern = patterns.pattern(home.conn, pattern_id).pattern
    return _file(pattern_pdf(pattern, paper), "application/pdf", f"pattern-{pattern_id}-{paper}.pdf")


def _thumb(piece: Piece, size: str) -> str:
    shape = piece.shapes.get(size) or next(iter(piece.shapes.values()), None)
    return piece_svg(shape, f"{piece.number} {piece.name}") if shape else ""


@router.get("/{pattern_id}/file.json", name="pattern_file")
def give_out(home: Home, pattern_id: int) -> Response:
    """The pattern as a file."""
    stored = patterns.pattern(home.conn, pattern_id)
    headers = {"Content-Disposition": f'attachment; filename="pattern-{pattern_id}.json"'}
    return Response(write_pattern(stored.pattern), media_type="application/json", headers=headers)


@router.get("/{pattern_id}/views/{view}", name="view_features")
def features(
    request: Request, home: Home, pattern_id: int, view: str, start: Annotated[str, Query(alias="from")] = ""
) -> Response:
    """What a view's garment has; with `from`, filled in from a common garment, another view, or what was seen in the pieces."""
    stored = patterns.pattern(home.conn, pattern_id)
    pattern, own = stored.pattern, stored.pattern.view(view)
    seen = proposals(pattern.pieces_of(view), f"{pattern.name} {own.description}", pattern.notions, own.features)
    titles = {feature.name: feature for feature in library().features}
    context = {
        "stored": stored,
        "p": pattern,
        "view": own,
        "library": library(),
        "groups": groups(library().features),
        "several": SEVERAL,
        "starts": starting_points(),
        "from": start,
        "chosen": _begun(pattern, own, start, seen),
        "proposed": seen,
        "titles": titles,
        "words": lambda proposal: dict(titles[proposal.feature].choices)[proposal.choice],
    }
    return page(request, home, "patterns/features.html", context)


def _begun(pattern: Pattern, own: View, start: str, seen: Sequence[Proposal]) -> dict[str, str]:
    """The features that a description begins from: its own, with what was seen; another view's or a common garment's instead."""
    if start.startswith("view:"):
        return dict(next((v.features for v in pattern.views if v.name == start.removeprefix("view:")), own.features))
    common = next((s.features for s in starting_points() if s.name == start), None)
    if common is not None:
        return dict(common)
    more = {proposal.feature: proposal.choice for proposal in seen} if start == "proposed" else {}
    return {**own.features, **more}


@router.post("/{pattern_id}/views/{view}")
async def change_features(request: Request, home: Home, pattern_id: int, view: str) -> Response:
    """Keep a view's features; a feature at its default is not written down."""
    form = await read_form(request)
    stored = patterns.envelope(home.conn, pattern_id)
    defaults = {feature.name: feature.choices[0][0] for feature in library().features}
    read = read_features(form, library().features)
    chosen = {name: choice for name, choice in read.items() if choice != defaults[name]}
    views = tuple(replace(v, features=chosen) if v.name == view else v for v in stored.pattern.views)
    with db.write(home.conn):
        version = form.version()
        patterns.update_envelope(home.conn, pattern_id, version, replace(stored.pattern, views=views))
    return see_other(request, f"/patterns/{pattern_id}")


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
        patterns.drop_piece(home.conn, pattern_id, form.version(), number)
    return see_other(request, f"/patterns/{pattern_id}")


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
