"""A pattern's edges: what becomes of each, said on its drawings, and the sewing order that follows from them."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import FeatureError
from rowanseed.core.pattern.fates import SHAPINGS, EdgeFate, Shaping, key_of_edge
from rowanseed.core.pattern.model import Pattern, Seam
from rowanseed.core.sew.model import ClothTraits, Step
from rowanseed.core.sew.pieces.filled import filled
from rowanseed.core.sew.pieces.likely import ENDS, likely_ends, likely_mates, said_as
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.model import BACKINGS, PiecedGarment, SewnPiece, StackedSeam, is_fold, zips
from rowanseed.core.sew.pieces.of_pattern import UNITS, OfPattern, garment_of_pattern
from rowanseed.core.sew.pieces.order import ordered
from rowanseed.core.sew.pieces.said import Said
from rowanseed.formats.edges_svg import EdgeDrawn, edges_svg
from rowanseed.store import db, patterns
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form
from rowanseed.web.rooms.seams import shown_size

router = APIRouter(prefix="/patterns/{pattern_id}/edges", include_in_schema=False)
SITTING = 60
UNNAMED = "An edge without a name can not be sewn to another yet: name it on its piece first."
SHAPED: Mapping[str, str] = {
    "gather": "gathered", "cartridge": "in cartridge pleats", "pleat": "pleated", "dart": "with darts", "tuck": "with tucks",
    "ease": "eased", "shirr": "shirred",
}  # fmt: skip


@dataclass(frozen=True)
class EdgeRow:
    """An edge on the page: its number, name and length, how it stands, what it is sewn to, what it may become."""

    number: int
    edge: str
    name: str
    long_mm: float
    state: str
    sewn: str
    taken: str
    said: str
    shaping: str
    ends: Sequence[tuple[str, str]]
    sure: Sequence[tuple[str, str]]
    mates: Sequence[tuple[str, str]]


@dataclass(frozen=True)
class PieceRows:
    """A piece on the page with its drawing and its edges."""

    piece: SewnPiece
    number: str
    name: str
    picture: str
    rows: Sequence[EdgeRow]


def _told(pattern: Pattern, view: str, size: str) -> tuple[OfPattern, PiecedGarment, Said]:
    """The view's garment, the same with what its features say of its edges, and these features. Raises FeatureError."""
    own = garment_of_pattern(pattern, view, size)
    said = Said(pattern.view(view).features)
    return own, filled(own.garment, said), said


def _pieces(pattern: Pattern, own: OfPattern, whole: PiecedGarment, size: str) -> Iterator[PieceRows]:
    names = {p.number: p for p in pattern.pieces}
    number = 0
    for piece in own.garment.pieces:
        if piece.layer in BACKINGS:
            continue
        edges = [f"{piece.id}.{e}" for e in piece.edges]
        rows: list[EdgeRow] = []
        drawn: list[EdgeDrawn] = []
        for edge in edges:
            folded = is_fold(own.garment, edge)
            number += not folded
            row = _row(own, whole, edge, number, names)
            drawn.append(
                EdgeDrawn(
                    number, own.points[edge], "fold" if folded else row.state, f"{number} {row.name}: {_stands(row)}"
                )
            )
            if not folded:
                rows.append(row)
        tissue = names[own.edges[edges[0]][0]]
        picture = edges_svg(tissue.shapes[size].outline, drawn, f"{tissue.name} with its edges")
        yield PieceRows(piece, tissue.number, tissue.name, picture, rows)


def _row(own: OfPattern, whole: PiecedGarment, edge: str, number: int, names: Mapping[str, object]) -> EdgeRow:
    g = own.garment
    fate, seam = g.fates[edge], g.seam_of(edge)
    itself = seam is not None and set(seam.edges) == {edge}
    others = _other_side(own, edge, seam, names) if seam else []
    taken = whole.fates[edge]
    state = "sewn" if seam is not None or zips(edge) else "ended" if taken.ending != "open" else "open"
    meant = ENDS.get(said_as(taken), ("", None))[0] if fate.ending == "open" and taken.ending != "open" else ""
    found = [] if seam else likely_mates(g, edge)
    sure, mates = (
        [(f"sew:{e}", f"sewn to {_named(own, e, names)}") for e, known in found if known is likely]
        for likely in (True, False)
    )
    ends = [(key, ENDS[key][0]) for key in likely_ends(g, edge)]
    kept = own.said.get(edge)  # a seam with its own copy stands as a seam in the garment
    return EdgeRow(
        number, edge, edge.rpartition(".")[2].replace("-", " "), 10.0 * (g.piece_of(edge).lengths or {})[edge.rpartition(".")[2]],
        state, "its other copy" if itself else "; ".join(others), meant, said_as(kept) if kept else "",
        next(iter(taken.shaping), ""), ends, sure, mates,
    )  # fmt: skip


def _other_side(own: OfPattern, edge: str, seam: StackedSeam, names: Mapping[str, object]) -> list[str]:
    """What an edge is sewn to, by piece: the pages of its seam that it is not in."""
    found: dict[str, list[str]] = {}
    for chain, _ in seam.pages:
        for other in chain if edge not in chain else ():
            piece, _, word = _named(own, other, names).rpartition(", ")
            found.setdefault(piece, []).append(word)
    return [f"{piece}, {' and '.join(dict.fromkeys(words))}" for piece, words in found.items()]


def _stands(row: EdgeRow) -> str:
    if row.sewn:
        return f"sewn to {row.sewn}"
    return ENDS[row.said][0] if row.said else row.taken or "not said yet"


def _named(own: OfPattern, edge: str, names: Mapping[str, object]) -> str:
    number, _ = own.edges[edge]
    return f"{getattr(names[number], 'name', number)}, {edge.rpartition('.')[2].replace('-', ' ')}"


def _page(
    request: Request, home: Household, stored: patterns.StoredPattern, form: Form | None, status: int = 200
) -> Response:
    pattern = stored.pattern
    view = pattern.view((form.typed.get("view") if form else None) or request.query_params.get("view", "")).name
    size = shown_size(request, form, pattern)
    context: dict[str, object] = {"stored": stored, "p": pattern, "view": view, "size": size, "form": form, "units": UNITS,
                                  "shapings": [(key, SHAPED[key]) for key in SHAPINGS]}  # fmt: skip
    if not size:
        return page(
            request, home, "patterns/edges.html", {**context, "pieces": [], "steps": [], "wrong": "", "open": 0}, status
        )
    try:
        own, whole, said = _told(pattern, view, size)
        pieces, wrong = list(_pieces(pattern, own, whole, size)), ""
        steps = _order(whole, said, home)
    except FeatureError as error:
        pieces, steps, wrong, whole = [], [], str(error), None
    left = sum(row.state == "open" for each in pieces for row in each.rows)
    return page(
        request,
        home,
        "patterns/edges.html",
        {**context, "pieces": pieces, "steps": steps, "wrong": wrong, "open": left},
        status,
    )


def _order(whole: PiecedGarment, said: Said, home: Household) -> list[Step]:
    tools = frozenset(home.settings.tools)
    said = replace(said, tools=tools, schools=home.settings.schools)
    _, steps = ordered(StepsAsked(whole, "overlocker" in tools, home.unit, said=said), ClothTraits(), SITTING)
    return steps


@router.get("", name="edges")
def show(request: Request, home: Home, pattern_id: int) -> Response:
    """Every piece of a view with its edges, and the order that follows."""
    return _page(request, home, patterns.pattern(home.conn, pattern_id), None)


@router.post("", name="edges_keep")
async def keep(request: Request, home: Home, pattern_id: int) -> Response:
    """Keep what was said of a view's edges and pieces."""
    form = await read_form(request, home.unit)
    stored = patterns.pattern(home.conn, pattern_id)
    pattern = stored.pattern
    view = pattern.view(form.typed.get("view", "")).name
    size = shown_size(request, form, pattern)
    if not size:
        raise db.NotFound("No piece of this pattern is drawn.")
    changed = _changed(form, pattern, garment_of_pattern(pattern, view, size))
    if form.sound:
        try:
            garment_of_pattern(changed, view, size)
        except FeatureError as error:
            form.errors["edges"] = str(error)
    if not form.sound:
        return _page(request, home, stored, form, 422)
    with db.write(home.conn):
        patterns.update_envelope(home.conn, stored.id, form.version(), changed)
    return see_other(request, f"/patterns/{stored.id}/edges?view={view}&size={size}")


def _changed(form: Form, pattern: Pattern, own: OfPattern) -> Pattern:
    """The pattern with what the form says: fates, shapings, new seams, what pieces are parts of."""
    fates, seams, units = dict(pattern.fates), list(pattern.seams), dict(pattern.units)
    for edge, (number, name) in own.edges.items():
        key = key_of_edge(number, name or edge.rpartition(".")[2])
        chosen, shaping = form.typed.get(f"end:{edge}"), form.typed.get(f"shaped:{edge}", "")
        if chosen is None and shaping == "" and f"shaped:{edge}" not in form.typed:
            continue
        if chosen and chosen.startswith("sew:"):
            mate = own.edges.get(chosen[4:])
            if mate is None or not name or not mate[1]:
                form.errors[f"end:{edge}"] = UNNAMED
                continue
            seams.append(Seam((number, name), mate))
            fates.pop(key, None)
            continue
        if chosen and chosen not in ENDS:
            form.errors[f"end:{edge}"] = "Choose what becomes of an edge from the list."
            continue
        fate = ENDS[chosen][1] if chosen else EdgeFate("open")
        shaped: tuple[Shaping, ...] = (shaping,) if shaping in SHAPINGS else ()
        fate = replace(fate, shaping=shaped)
        if fate == EdgeFate("open"):
            fates.pop(key, None)
        else:
            fates[key] = fate
    ids = {own.edges[f"{p.id}.{p.edges[0]}"][0]: p for p in own.garment.pieces}
    for number, piece in ids.items():
        unit = form.typed.get(f"unit:{piece.id}", "")
        if unit and unit != piece.unit:
            if unit not in UNITS:
                form.errors["edges"] = "Choose what a piece is a part of from the list."
            units[number] = unit
    return replace(pattern, fates=fates, seams=tuple(seams), units=units)
