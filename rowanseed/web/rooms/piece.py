"""A piece's own page: what it is, its edges, allowances and marks, corrected on its drawing, in one size or in all."""

import json
import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import OutlineError, RowanseedError, ShapeError
from rowanseed.core.geometry.shape import with_other_allowances
from rowanseed.core.geometry.types import Grain, Point
from rowanseed.core.lengths import format_length
from rowanseed.core.pattern import editing
from rowanseed.core.pattern.model import ROLES, Pattern, Piece
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.formats.piece_edit_svg import piece_edit_svg
from rowanseed.store import db, patterns
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form, whole_number

router = APIRouter(prefix="/patterns/{pattern_id}/pieces/{number}", include_in_schema=False)
GRAINS: tuple[Grain, ...] = ("lengthwise", "crosswise", "bias", "any")
LINE_KINDS = ("line", "dart", "pleat", "fold", "lengthen", "button line", "pocket place")
ALIKE = 0.006  # two edges that differ by no more are as long as each other


@dataclass(frozen=True)
class EdgeRow:
    """An edge as the page shows it: its length on the seam line, its allowance, another piece's edge that is as long."""

    name: str
    long_mm: float
    allowance: str
    as_long: str


def _find(home: Household, pattern_id: int, number: str) -> tuple[patterns.StoredPattern, Piece]:
    stored = patterns.pattern(home.conn, pattern_id)
    piece = next((p for p in stored.pattern.pieces if p.number == number), None)
    if piece is None:
        raise db.NotFound(f"There is no piece {number}.")
    return stored, piece


def _size(request: Request, form: Form | None, pattern: Pattern, piece: Piece) -> str:
    asked = (form.typed.get("size") if form else None) or request.query_params.get("size", "")
    order = [s for s in pattern.size_names() if s in piece.shapes] or list(piece.shapes)
    return asked if asked in piece.shapes else order[len(order) // 2] if order else ""


@router.get("", name="piece")
def show(request: Request, home: Home, pattern_id: int, number: str) -> Response:
    """The piece in one size."""
    stored, piece = _find(home, pattern_id, number)
    return _page(request, home, stored, piece, None, 200)


def _page(
    request: Request, home: Household, stored: patterns.StoredPattern, piece: Piece, form: Form | None, status: int
) -> Response:
    pattern = stored.pattern
    size = _size(request, form, pattern, piece)
    shape = piece.shapes.get(size)
    order = [s for s in pattern.size_names() if s in piece.shapes] or list(piece.shapes)
    others = {z: s for z, s in piece.shapes.items() if z != size and len(order) <= 14}
    drawing = piece_edit_svg(shape, others, f"{piece.number} {piece.name}, size {size}") if shape else ""
    typed = {
        "name": piece.name,
        "cut": str(piece.cut),
        "role": piece.role,
        "grain": piece.grain,
        "mirrored": "on" if piece.mirrored else "",
        "views": ", ".join(piece.views),
        "note": piece.note,
        "allowance": format_length(piece.allowance_mm, home.unit),
        "included": "on" if piece.allowance_included else "",
    }
    context = {
        "stored": stored,
        "p": pattern,
        "piece": piece,
        "size": size,
        "sizes": order,
        "shape": shape,
        "drawing": drawing,
        "edges": _edges(pattern, piece, size, home) if shape else [],
        "form": form or Form(typed, home.unit),
        "failed": form is not None,
        "line_kinds": LINE_KINDS,
        "unlike": len({len(s.outline) for s in piece.shapes.values()}) > 1,
        "quick": piece.figures.get(size, {}).get("shape", ""),
    }
    return page(request, home, "patterns/piece_page.html", context, status)


def _edges(pattern: Pattern, piece: Piece, size: str, home: Household) -> list[EdgeRow]:
    shape, walker = piece.shapes[size], Walker()
    mine = {edge: walker.edge_mm(AlterPiece(piece.number, shape), edge) for edge in shape.edges}
    rows = []
    for edge, long in mine.items():
        own = shape.allowances.get(edge)
        rows.append(
            EdgeRow(
                edge,
                long,
                format_length(own, home.unit) if own is not None else "",
                _as_long(pattern, piece, size, edge, long),
            )
        )
    return rows


def _as_long(pattern: Pattern, piece: Piece, size: str, edge: str, long: float) -> str:
    """In words, another piece's edge that is as long as one, where just one is; nothing for edges on the fold or of a few cm."""
    if long < 40 or edge == "fold":
        return ""
    found = []
    for other in pattern.pieces:
        if other.number == piece.number or size not in other.shapes or other.role != piece.role:
            continue
        there = AlterPiece(other.number, other.shapes[size])
        for name in other.shapes[size].edges:
            if name != "fold" and abs(Walker().edge_mm(there, name) - long) <= ALIKE * long:
                found.append(f"as long as {name} of {other.number} {other.name}")
    return found[0] if len(found) == 1 else ""


@router.post("/facts", name="piece_facts")
async def facts(request: Request, home: Home, pattern_id: int, number: str) -> Response:
    """Keep what the piece is."""
    form = await read_form(request, home.unit)
    stored, piece = _find(home, pattern_id, number)
    name, cut = form.text("name", "A name", 120), form.number("cut", "How many", 1, 100)
    allowance = form.length("allowance", "The allowance", most_mm=100)
    views = tuple(v.strip() for v in form.typed.get("views", "").split(",") if v.strip())
    known = {v.name for v in stored.pattern.views}
    if unknown := [v for v in views if v not in known]:
        form.errors["views"] = f"There is no view {unknown[0]}; the views are {', '.join(sorted(known))}."
    role, grain = form.choice("role", ROLES), form.choice("grain", GRAINS)
    if not form.sound or allowance is None:
        return _page(request, home, stored, piece, form, 422)
    changed = replace(
        piece,
        name=name,
        cut=cut,
        role=role,
        grain=grain,
        views=views,
        note=form.text("note"),
        mirrored=form.flag("mirrored") and cut > 1 and not any(s.fold_edge for s in piece.shapes.values()),
    )
    try:
        changed = _with_allowance(changed, allowance.mm, form.flag("included"))
    except OutlineError as error:
        form.errors["allowance"] = error.text
        return _page(request, home, stored, piece, form, 422)
    return _keep(request, home, stored, changed, form)


def _with_allowance(piece: Piece, mm: float, included: bool) -> Piece:
    """The piece with another allowance: inside its drawn line, or added to it; what was added before is taken off first."""
    if abs(mm - piece.allowance_mm) < 1e-6 and included == piece.allowance_included:
        return piece
    if included:
        shapes = {z: replace(s, allowance_mm=mm) for z, s in piece.shapes.items()}
        if not piece.allowance_included:
            shapes = {z: replace(s, outline=piece.shapes[z].seam_line) for z, s in shapes.items()}
        return replace(piece, allowance_mm=mm, allowance_included=True, shapes=shapes)
    drawn = {z: s.seam_line if not piece.allowance_included else s.outline for z, s in piece.shapes.items()}
    bare = {z: replace(s, outline=drawn[z], allowance_mm=None) for z, s in piece.shapes.items()}
    return replace(piece, allowance_mm=mm, allowance_included=False, shapes=bare)


def _keep(request: Request, home: Household, stored: patterns.StoredPattern, piece: Piece, form: Form) -> Response:
    with db.write(home.conn):
        patterns.put_piece(home.conn, stored.id, form.opened(stored.version), piece)
    size = form.typed.get("size", "")
    return see_other(request, f"/patterns/{stored.id}/pieces/{piece.number}" + (f"?size={size}" if size else ""))


@router.post("/edges", name="piece_edges")
async def edges(request: Request, home: Home, pattern_id: int, number: str) -> Response:
    """Keep the edges' names and their own allowances."""
    form = await read_form(request, home.unit)
    stored, piece = _find(home, pattern_id, number)
    size = _size(request, form, stored.pattern, piece)
    names: dict[str, str] = {}
    own: dict[str, float] = {}
    for k, edge in enumerate(piece.shapes[size].edges):
        names[edge] = form.text(f"edge-{k}", most=40)
        allowance = form.length(f"own-{k}", most_mm=200)
        if allowance is not None and names[edge]:
            own[names[edge]] = allowance.mm
    if form.sound:
        try:
            changed = editing.renamed_edges(piece, names)
            if own != dict(changed.edge_allowances):
                shapes = {
                    z: with_other_allowances(s, own, changed.allowance_included) for z, s in changed.shapes.items()
                }
                changed = replace(changed, edge_allowances=own, shapes=shapes)
            return _keep(request, home, stored, changed, form)
        except (ShapeError, OutlineError) as error:
            form.errors["edge"] = error.text
    return _page(request, home, stored, piece, form, 422)


@router.post("/change", name="piece_change")
async def change(request: Request, home: Home, pattern_id: int, number: str) -> Response:
    """One correction on the drawing: an edge from corner to corner, a notch, a mark, the grain, the fold, a point."""
    form = await read_form(request, home.unit)
    stored, piece = _find(home, pattern_id, number)
    size = _size(request, form, stored.pattern, piece)
    try:
        return _keep(request, home, stored, _changed(form, piece, size), form)
    except RowanseedError as error:
        form.errors["change"] = error.text
        return _page(request, home, stored, piece, form, 422)


def _changed(form: Form, piece: Piece, size: str) -> Piece:
    everywhere = form.flag("everywhere")
    places = _places(form)
    ends = (whole_number(form.typed.get("from", "")), whole_number(form.typed.get("to", "")))
    kinds: dict[str, Callable[[], Piece]] = {
        "edge": lambda: editing.named_edge(piece, size, form.text("edge_name", most=40), _two(ends), everywhere),
        "notch": lambda: editing.added_notch(piece, size, _first(places), _count(form), everywhere),
        "mark": lambda: editing.added_mark(piece, size, form.text("mark_name", most=60), _first(places), everywhere),
        "line": lambda: editing.added_line(
            piece, size, form.choice("line_kind", LINE_KINDS), tuple(places), everywhere
        ),
        "grain": lambda: editing.with_grain(piece, size, _pair(places)),
        "fold": lambda: editing.on_fold(piece, form.typed.get("edge", "")),
        "point": lambda: editing.moved_point(
            piece, size, ends[0] if ends[0] is not None else -1, _first(places), everywhere
        ),
        "drop": lambda: editing.without(
            piece, size, form.typed.get("what", ""), ends[0] if ends[0] is not None else -1, everywhere
        ),
        "rename": lambda: editing.renamed_mark(
            piece,
            size,
            form.typed.get("what", "marks"),
            ends[0] if ends[0] is not None else -1,
            form.text("mark_name", "A name", 60),
        ),
    }
    kind = form.typed.get("kind", "")
    if kind not in kinds:
        raise ShapeError("Choose what to change.", "change")
    return kinds[kind]()


def _count(form: Form) -> int:
    return min(3, max(1, whole_number(form.typed.get("count", "1")) or 1))


def _places(form: Form) -> list[Point]:
    """The places that were clicked, in the piece's own coordinates, mm."""
    try:
        read = [(float(x), float(y)) for x, y in json.loads(form.typed.get("places") or "[]")]
    except (ValueError, TypeError) as error:
        raise ShapeError("The place could not be read. Click again.", "change") from error
    return [p for p in read if all(math.isfinite(c) and abs(c) < 1e5 for c in p)]


def _first(places: list[Point]) -> Point:
    if not places:
        raise ShapeError("Click a place on the piece first.", "change")
    return places[0]


def _pair(places: list[Point]) -> tuple[Point, Point]:
    if len(places) < 2:
        raise ShapeError("Click both ends.", "change")
    return places[0], places[1]


def _two(ends: tuple[int | None, int | None]) -> tuple[int, int]:
    if ends[0] is None or ends[1] is None:
        raise ShapeError("Click two corners first.", "change")
    return ends[0], ends[1]
