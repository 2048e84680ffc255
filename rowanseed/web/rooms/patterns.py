"""Patterns: the library, a pattern with its views and their features, files out."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

from fastapi import APIRouter, HTTPException, Query, Request, Response, UploadFile
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile as UploadedFile

from rowanseed.core.cloth.repeat import PhotoError
from rowanseed.core.errors import PatternFileError, ShapeError
from rowanseed.core.garment_kinds import ZONES, GarmentKind
from rowanseed.core.intake.garment import garment_by_features
from rowanseed.core.pattern.joins import suggest_seams
from rowanseed.core.pattern.model import Pattern, Piece, View
from rowanseed.core.sew.proposals import Proposal, proposals
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_json import read_pattern, schema, write_pattern
from rowanseed.formats.pattern_pdf import pattern_pdf
from rowanseed.formats.pattern_svg import pattern_svg
from rowanseed.formats.photo import remade
from rowanseed.formats.piece_svg import piece_svg
from rowanseed.formats.sewing import library, starting_points
from rowanseed.formats.thumb_svg import pieces_thumb_svg
from rowanseed.store import db, keeping, patterns, photos
from rowanseed.web.deps import Home, now, page, page_or_part, see_other, with_undo
from rowanseed.web.forms import Form, read_form
from rowanseed.web.garment_form import SEVERAL, groups, read_features
from rowanseed.web.rooms.intake import begin_page

router = APIRouter(prefix="/patterns", include_in_schema=False)
GARMENTS: tuple[GarmentKind, ...] = ("top", "dress", "skirt", "trousers", "jacket", "coat")


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
    rows = [*patterns.patterns(home.conn), *patterns.patterns(home.conn, put_away=True)]
    alike = [row.id for row in rows if row.name == pattern.name]
    known = next((id_ for id_ in alike if patterns.pattern(home.conn, id_).pattern == pattern), None)
    if known is not None:  # the same file twice is one pattern
        return see_other(request, f"/patterns/{known}?known=1")
    with db.write(home.conn):
        pattern_id = patterns.add_pattern(home.conn, pattern)
    return see_other(request, f"/patterns/{pattern_id}")


@router.get("/{pattern_id}", name="pattern")
def show(request: Request, home: Home, pattern_id: int, taken: int = 0, known: int = 0) -> Response:
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
        "known": known,
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
    with db.write(home.conn):
        gone = keeping.drop_picture(home.conn, keeping.KINDS["pattern"], pattern_id, form.typed.get("photo", ""), now())
    return see_other(request, with_undo(f"/patterns/{pattern_id}", gone))


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


@router.get("/{pattern_id}/pieces.svg", name="pattern_picture")
def picture(home: Home, pattern_id: int) -> Response:
    """The pattern's pieces side by side, for its line in a list; asked for by its version, so that it is kept."""
    pattern = patterns.pattern(home.conn, pattern_id).pattern
    middle = pattern.size_names()[len(pattern.sizes) // 2 :] or ("",)
    found = [piece.shapes.get(middle[0]) or next(iter(piece.shapes.values()), None) for piece in pattern.pieces]
    drawn = pieces_thumb_svg([shape for shape in found if shape is not None])
    if not drawn:
        raise HTTPException(404, "None of its pieces is drawn yet.")
    return Response(drawn, media_type="image/svg+xml", headers={"Cache-Control": "private, max-age=86400"})


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
        kind = garment_by_features(stored.pattern.garment, [v.features for v in views])
        patterns.update_envelope(home.conn, pattern_id, version, replace(stored.pattern, views=views, garment=kind))
    return see_other(request, f"/patterns/{pattern_id}")
