"""A pattern's seams, the levels of its pieces and the bust point: what alterations and finished measures go by."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.body import BY_KEY
from rowanseed.core.errors import AlterationError, LengthError, OutlineError
from rowanseed.core.fit.bust_slash import BUST_POINT
from rowanseed.core.fit.finished_measurements import LIMBS
from rowanseed.core.garment_kinds import ZONES
from rowanseed.core.geometry.shape import Mark, PieceShape, with_other_allowances
from rowanseed.core.lengths import Unit, both, format_length, parse_length
from rowanseed.core.make.pieces import fit_pieces
from rowanseed.core.pattern.joins import suggest_seams
from rowanseed.core.pattern.layers_behind import is_layer, shell_of
from rowanseed.core.pattern.model import Pattern, Piece, Seam, SeamSide
from rowanseed.core.pattern.seamwalk import walk
from rowanseed.formats.walk_svg import walk_svg
from rowanseed.store import db, patterns
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.fitview import SeamRow, seam_row
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/patterns/{pattern_id}/seams", include_in_schema=False)
LEVELS = (*ZONES, *sorted(LIMBS & set(BY_KEY)))
MOST_SEAMS = 200
MOST_ALLOWANCE_MM = 200.0


@dataclass(frozen=True)
class Placed:
    """A piece with its levels from its top, mm, and its bust point from its top and its inner edge."""

    piece: Piece
    levels: Mapping[str, float]
    bust: tuple[float, float] | None


def _placed(piece: Piece, shape: PieceShape) -> Placed:
    top, inner = min(x for x, _ in shape.outline), min(y for _, y in shape.outline)
    bust = next((mark.at for mark in shape.marks if mark.name == BUST_POINT), None)
    levels = {key: x - top for key, x in shape.levels.items()}
    return Placed(piece, levels, (bust[0] - top, bust[1] - inner) if bust else None)


def _page(
    request: Request, home: Household, stored: patterns.StoredPattern, form: Form | None, status: int = 200
) -> Response:
    pattern = stored.pattern
    size = shown_size(request, form, pattern)
    sides = [
        (f"{p.number}|{edge}", f"{p.number} {p.name}, {edge}")
        for p in pattern.pieces
        if size in p.shapes
        for edge in p.shapes[size].edges
    ]
    context = {
        "stored": stored,
        "p": pattern,
        "size": size,
        "sizes": _sizes(pattern),
        "rows": _rows(pattern, size, home),
        "sides": sides,
        "suggested": suggest_seams(pattern, size) if size else [],
        "levels": LEVELS,
        "labels": {key: BY_KEY[key].label for key in LEVELS},
        "placed": [_placed(p, p.shapes[size]) for p in pattern.pieces if size in p.shapes],
        "own_allowances": {p.number: _say_allowances(p, home.unit) for p in pattern.pieces},
        "layers": [(p, p.follows, shell_of(pattern, p)) for p in pattern.pieces if is_layer(p) and not p.same_as],
        "shells": [p for p in pattern.pieces if not is_layer(p)],
        "form": form,
    }
    return page(request, home, "patterns/seams.html", context, status)


def _sizes(pattern: Pattern) -> list[str]:
    return [s for s in pattern.size_names() if any(s in p.shapes for p in pattern.pieces)] or list(
        dict.fromkeys(s for p in pattern.pieces for s in p.shapes)
    )


def shown_size(request: Request, form: Form | None, pattern: Pattern) -> str:
    """The size that is shown: the one asked for, else the middle one that is measured."""
    sizes = _sizes(pattern)
    asked = (form.typed.get("size") if form else None) or request.query_params.get("size", "")
    return asked if asked in sizes else sizes[len(sizes) // 2] if sizes else ""


def _rows(pattern: Pattern, size: str, home: Household) -> list[tuple[int, SeamRow]]:
    """Every seam of the size with its place in the pattern's list, walked."""
    if not size:
        return []
    pieces, seams = fit_pieces(pattern, size)
    names = {p.number: p.name for p in pattern.pieces}
    return [
        (pattern.seams.index(w.seam), seam_row(w, names, walk_svg(w, names, home.unit))) for w in walk(pieces, seams)
    ]


@router.get("", name="seams")
def show(request: Request, home: Home, pattern_id: int) -> Response:
    """The seams of a pattern, walked in one size, and the levels of its pieces."""
    return _page(request, home, patterns.pattern(home.conn, pattern_id), None)


def _side(form: Form, name: str, pattern: Pattern, needed: bool = True) -> SeamSide | None:
    """An edge chosen in a form as `number|edge`."""
    number, _, edge = form.typed.get(name, "").partition("|")
    if not number and not needed:
        return None
    piece = next((p for p in pattern.pieces if p.number == number), None)
    if piece is None or not any(edge in shape.edges for shape in piece.shapes.values()):
        form.errors[name] = "Choose an edge."
        return None
    return number, edge


@router.post("", name="seam_add")
async def add(request: Request, home: Home, pattern_id: int) -> Response:
    """Declare a seam."""
    form = await read_form(request, home.unit)
    stored = patterns.pattern(home.conn, pattern_id)
    a, b = _side(form, "a", stored.pattern), _side(form, "b", stored.pattern)
    more = [side for name in ("b2", "b3") if (side := _side(form, name, stored.pattern, needed=False))]
    meant = form.length("meant", most_mm=2000)
    if a and b and a == b and not more:
        form.errors["b"] = "An edge is not sewn to itself."
    if len(stored.pattern.seams) >= MOST_SEAMS:
        form.errors["a"] = f"A pattern has at most {MOST_SEAMS} seams."
    if not form.sound or a is None or b is None:
        return _page(request, home, stored, form, 422)
    difference = (meant.mm if meant else 0.0) * (-1.0 if form.flag("shorter") else 1.0)
    seam = Seam(a, b, difference, (), tuple(more), form.text("why", most=120))
    return _keep(request, home, stored, form, replace(stored.pattern, seams=(*stored.pattern.seams, seam)))


@router.post("/suggested", name="seams_suggested")
async def take_suggested(request: Request, home: Home, pattern_id: int) -> Response:
    """Declare every seam that the edges suggest."""
    form = await read_form(request)
    stored = patterns.pattern(home.conn, pattern_id)
    found = suggest_seams(stored.pattern, shown_size(request, form, stored.pattern))
    return _keep(request, home, stored, form, replace(stored.pattern, seams=(*stored.pattern.seams, *found)))


@router.post("/{number}/drop", name="seam_drop")
async def drop(request: Request, home: Home, pattern_id: int, number: int) -> Response:
    """Take a seam out."""
    form = await read_form(request)
    stored = patterns.pattern(home.conn, pattern_id)
    if not 0 <= number < len(stored.pattern.seams):
        raise db.NotFound("There is no such seam.")
    kept = tuple(s for n, s in enumerate(stored.pattern.seams) if n != number)
    return _keep(request, home, stored, form, replace(stored.pattern, seams=kept))


def _keep(request: Request, home: Household, stored: patterns.StoredPattern, form: Form, pattern: Pattern) -> Response:
    with db.write(home.conn):
        patterns.update_envelope(home.conn, stored.id, form.version(), pattern)
    return see_other(request, f"/patterns/{stored.id}/seams?size={form.typed.get('size', '')}")


@router.post("/tie", name="seam_tie")
async def tie(request: Request, home: Home, pattern_id: int) -> Response:
    """Say that a lining or facing lies behind another piece and follows its alterations; empty unties it."""
    form = await read_form(request)
    stored = patterns.pattern(home.conn, pattern_id)
    pieces = {p.number: p for p in stored.pattern.pieces}
    layer, shell = pieces.get(form.typed.get("layer", "")), form.typed.get("shell", "")
    if layer is None or (shell and (shell not in pieces or shell == layer.number)):
        raise db.NotFound("There is no such piece.")
    with db.write(home.conn):
        patterns.put_piece(home.conn, stored.id, form.version(), replace(layer, follows=shell))
    back = form.typed.get("make", "")
    return see_other(request, f"/makes/{back}/fit" if back.isdigit() else f"/patterns/{stored.id}/seams#layers")


@router.post("/levels", name="seam_levels")
async def levels(request: Request, home: Home, pattern_id: int) -> Response:
    """Say where the levels of a piece lie, and its bust point, measured from its top and its inner edge."""
    form = await read_form(request, home.unit)
    stored = patterns.pattern(home.conn, pattern_id)
    piece = next((p for p in stored.pattern.pieces if p.number == form.typed.get("piece", "")), None)
    if piece is None:
        raise db.NotFound("There is no such piece.")
    given = {key: form.length(f"level-{key}", most_mm=3000) for key in LEVELS}
    edges = ("", *dict.fromkeys(e for shape in piece.shapes.values() for e in shape.edges))
    edge = form.choice("selvage_edge", edges)
    lean = form.number("off_grain", "Degrees", 0, 45) if form.typed.get("off_grain", "").strip() else 0
    down, across = form.length("bust_down", most_mm=3000), form.length("bust_across", most_mm=1500)
    if (down is None) != (across is None) and form.sound:
        form.errors["bust_down"] = "Give the bust point both ways: down from the top, and across from the inner edge."
    own = read_edge_allowances(form, edges)
    if not form.sound:
        return _page(request, home, stored, form, 422)
    try:
        piece = replace(
            piece,
            edge_allowances=own,
            shapes={
                s: with_other_allowances(shape, own, piece.allowance_included) for s, shape in piece.shapes.items()
            },
        )
        shapes = {
            size: _marked(
                shape, {k: v.mm for k, v in given.items() if v}, (down.mm, across.mm) if down and across else None
            )
            for size, shape in piece.shapes.items()
        }
    except (AlterationError, OutlineError) as error:
        form.errors["edge_allowances" if isinstance(error, OutlineError) else error.field or "bust_down"] = error.text
        return _page(request, home, stored, form, 422)
    with db.write(home.conn):
        kept = replace(piece, shapes=shapes, selvage_edge=edge, off_grain=float(lean))
        patterns.put_piece(home.conn, stored.id, form.version(), kept)
    return see_other(request, f"/patterns/{stored.id}/seams?size={form.typed.get('size', '')}#piece-{piece.number}")


def _say_allowances(piece: Piece, unit: Unit) -> str:
    return ", ".join(f"{edge} {format_length(mm, unit)}" for edge, mm in piece.edge_allowances.items())


def read_edge_allowances(form: Form, edges: tuple[str, ...]) -> dict[str, float]:
    """Allowances of single edges, written `hem 4 cm, neck 1 cm`, mm by edge."""
    found: dict[str, float] = {}
    for part in (p.strip() for p in form.text("edge_allowances", most=400).replace(";", ",").split(",")):
        edge = next((e for e in sorted(edges, key=len, reverse=True) if e and part.startswith(f"{e} ")), "")
        if not part:
            continue
        try:
            found[edge] = parse_length(part.removeprefix(edge).strip(), form.unit).mm
        except LengthError:
            edge = ""
        if not edge or found[edge] > MOST_ALLOWANCE_MM:
            known = ", ".join(e for e in edges if e) or "none is named"
            form.errors["edge_allowances"] = (
                f"“{part[:40]}”: write an edge and its allowance, such as hem 4 cm. Edges: {known}."
            )
            return {}
    if found:
        said = "; ".join(f"{edge} {format_length(mm, form.unit)}" for edge, mm in found.items())
        form.echoes["edge_allowances"] = f"Understood: {said}."
    return found


def _marked(shape: PieceShape, levels_mm: dict[str, float], bust: tuple[float, float] | None) -> PieceShape:
    """A shape with its levels and bust point, each so far from the top and the inner edge of its own outline."""
    xs, ys = [x for x, _ in shape.outline], [y for _, y in shape.outline]
    top, inner, foot = min(xs), min(ys), max(xs)
    for key, mm in levels_mm.items():
        if top + mm > foot:
            raise AlterationError(
                f"The piece is only {both(foot - top)} long, so this level lies below it.", f"level-{key}"
            )
    others = tuple(m for m in shape.marks if m.name != BUST_POINT)
    point = (Mark(BUST_POINT, (top + bust[0], inner + bust[1])),) if bust else ()
    return replace(shape, levels={key: top + mm for key, mm in levels_mm.items()}, marks=(*others, *point))
