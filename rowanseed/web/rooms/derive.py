"""Pieces derived from others: lining, interfacing, underlining from a piece; bands and panels from figures."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from fastapi import APIRouter, Request, Response

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.derive.facing import facing
from rowanseed.core.pattern.derive.layers import Allowance, band, block, interfacing, panel, underlining
from rowanseed.core.pattern.derive.lining import LiningAsk, lining
from rowanseed.core.pattern.derive.whole import WholeAsk, whole_lining
from rowanseed.core.pattern.model import Pattern, Piece, Role
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.garment import assembled, settled_features
from rowanseed.core.sew.model import SewnGarment
from rowanseed.formats.piece_svg import piece_svg
from rowanseed.formats.sewing import library
from rowanseed.store import db, patterns
from rowanseed.web.deps import Home, Household, page, see_other
from rowanseed.web.forms import Form, read_form

router = APIRouter(prefix="/patterns/{pattern_id}/derive", include_in_schema=False)
Kind = Literal["lining", "facing", "interfacing", "block", "underlining", "band", "panel"]
KINDS: tuple[tuple[Kind, str, str], ...] = (
    ("lining", "Lining", "The piece less its facing, with both seams; its length, an ease pleat, lower for a pad."),
    ("facing", "Facing", "A strip along the piece's own edges: neck, front, armhole, hem, or several that follow one another."),
    ("interfacing", "Interfacing", "Cut to the piece, with its allowances or without: schools."),
    ("block", "Fused block", "For small slippery pieces: a block of cloth is fused first, the piece is cut from it."),
    ("underlining", "Underlining", "The piece itself, sewn to it and treated as one layer."),
    ("band", "Straight band", "A waistband, a tie or a strap from measurements."),
    ("panel", "Panel", "An apron or a panel whose fullness is the cloth's own width."),
)  # fmt: skip
KIND_NAMES: tuple[Kind, ...] = tuple(kind for kind, _, _ in KINDS)
ALLOWANCES: tuple[Allowance, ...] = ("all", "outer-off", "none")
PLEATS: tuple[Literal["", "full", "tapering"], ...] = ("", "full", "tapering")
ROLE_OF: dict[Kind, Role] = {
    "lining": "lining", "facing": "self", "interfacing": "interfacing", "block": "interfacing", "underlining": "underlining",
    "band": "self",
    "panel": "self",
}  # fmt: skip


@dataclass(frozen=True)
class Derived:
    """A piece derived in every size that could be, and why some could not."""

    piece: Piece
    problems: tuple[str, ...]


def _mm(length: Length | None) -> float:
    return length.mm if length else 0.0


def _read(form: Form, pattern: Pattern) -> Derived | None:
    """What the form asks for; None with its errors set."""
    kind = form.choice("kind", KIND_NAMES)
    number = form.text("number", "A number", 12)
    name = form.text("name", "A name", 60)
    if any(p.number == number for p in pattern.pieces):
        form.errors["number"] = "There is a piece of this number already."
    if kind in ("band", "panel"):
        return _straight(form, pattern, kind, number, name)
    source = next((p for p in pattern.pieces if p.number == form.typed.get("source")), None)
    if source is None or not source.shapes:
        form.errors["source"] = "Choose a piece that has an outline."
        return None
    make = _maker(form, pattern, source, kind)
    if not form.sound:
        return None
    shapes, problems = _in_every_size(source, make)
    if not shapes:
        form.errors["source"] = problems[0] if problems else "This piece has no outline yet."
        return None
    same = (
        source.number if kind in ("interfacing", "underlining") and form.typed.get("allowance", "all") == "all" else ""
    )
    cut, mirrored = source.cut, source.mirrored
    first = next(iter(shapes.values()))
    if first.fold_edge is None and next(iter(source.shapes.values())).fold_edge is not None:
        cut, mirrored = 2 * cut, True  # what lay on the fold now has a seam down its middle
    piece = Piece(
        number, name, cut, ROLE_OF[kind], mirrored, source.grain, source.allowance_mm, True,
        source.views, shapes, f"Derived from {source.number} {source.name}.", same, follows="" if same else source.number,
    )  # fmt: skip
    return Derived(piece, tuple(problems))


def _maker(form: Form, pattern: Pattern, source: Piece, kind: Kind) -> Callable[[str, PieceShape], PieceShape]:
    """How a shape of the source becomes the derived one."""
    seam = source.allowance_mm
    if kind == "interfacing":
        allowance = form.choice("allowance", ALLOWANCES)
        return lambda size, shape: interfacing(shape, allowance)
    if kind == "facing":
        edges = tuple(name.strip() for name in form.text("edges", "The edges", 200).split(",") if name.strip())
        depth = form.length("depth", "A depth", 300)
        return lambda size, shape: facing(shape, edges, _mm(depth))
    if kind == "block":
        return lambda size, shape: block(shape)
    if kind == "underlining":
        return lambda size, shape: underlining(shape)
    hem, own = form.length("hem", "What the shell's hem takes", 300), form.length("own_hem", most_mm=300)
    pad, beyond = form.length("pad", most_mm=60), form.length("beyond", most_mm=120)
    pleat, free = form.choice("pleat", PLEATS), form.flag("free")
    faced = next((p for p in pattern.pieces if p.number == form.typed.get("facing")), None)
    edge, facing_edge = form.text("edge", most=40), form.text("facing_edge", most=40)
    if faced is not None and not (edge and facing_edge):
        form.errors["facing"] = "Say which edge of the facing lies on which edge of the piece."

    def make(size: str, shape: PieceShape) -> PieceShape:
        facing = faced.shapes.get(size) if faced is not None else None
        ask = LiningAsk(
            seam, facing, edge, facing_edge, pleat, _mm(beyond) or 25.4, free, _mm(hem), _mm(own) or 25.0, _mm(pad)
        )
        return lining(shape, ask)

    return make


def _in_every_size(
    source: Piece, make: Callable[[str, PieceShape], PieceShape]
) -> tuple[dict[str, PieceShape], list[str]]:
    shapes: dict[str, PieceShape] = {}
    problems: list[str] = []
    for size, shape in source.shapes.items():
        try:
            made = make(size, shape)
            refuse_bad_outline(made.outline, f"The piece in size {size}")
            shapes[size] = made
        except Exception as error:
            if not hasattr(error, "text"):
                raise
            problems.append(f"Size {size}: {error.text}")
    return shapes, problems


def _straight(form: Form, pattern: Pattern, kind: Kind, number: str, name: str) -> Derived | None:
    """A band or panel: the same in every size, or for one."""
    long, wide = form.length("long", "A length", 20_000), form.length("wide", "A width", 5000)
    seam, top, hem = form.length("seam", most_mm=60), form.length("top", most_mm=300), form.length("hem", most_mm=300)
    cut = form.number("cut", "How many", 1, 40)
    if not form.sound or long is None or wide is None:
        return None
    allowance = _mm(seam) or 15.0
    try:
        shape = (
            band(long.mm + 2 * allowance, wide.mm, allowance)
            if kind == "band"
            else panel(long.mm, _mm(top), _mm(hem), wide.mm)
        )
    except ShapeError as error:
        form.errors["long"] = error.text
        return None
    sizes = pattern.size_names() or ("one size",)
    note = "A band from its measurements." if kind == "band" else "A panel from its measurements."
    shapes = dict.fromkeys(sizes, shape)
    return Derived(Piece(number, name, cut, "self", False, allowance_mm=allowance, shapes=shapes, note=note), ())


def _page(
    request: Request, home: Household, pattern_id: int, form: Form, derived: Derived | None, status: int,
    whole: tuple[list[Piece], list[str]] | None = None,
) -> Response:  # fmt: skip
    stored = patterns.pattern(home.conn, pattern_id)
    middle = stored.pattern.size_names()[len(stored.pattern.sizes) // 2 :] or ("",)
    shape = None
    if derived is not None:
        shape = _middle(derived.piece, middle[0])
    context = {
        "stored": stored,
        "p": stored.pattern,
        "form": form,
        "kinds": KINDS,
        "kind": form.typed.get("kind", "lining"),
        "pieces": [p for p in stored.pattern.pieces if p.shapes],
        "edges": {p.number: sorted(next(iter(p.shapes.values())).edges) for p in stored.pattern.pieces if p.shapes},
        "derived": derived,
        "svg": piece_svg(shape, f"{derived.piece.number} {derived.piece.name}") if shape and derived else "",
        "whole": whole,
        "views": [(view.name, view.name) for view in stored.pattern.views],
        "whole_svgs": [
            (p, piece_svg(_middle(p, middle[0]), f"{p.number} {p.name}")) for p in (whole[0] if whole else ())
        ],
        "area": sum(abs(s.area_mm2()) for s in ([shape] if shape else [])),
    }
    return page(request, home, "patterns/derive.html", context, status)


def _middle(piece: Piece, size: str) -> PieceShape:
    return piece.shapes.get(size) or next(iter(piece.shapes.values()))


def _whole_ask(home: Household, pattern: Pattern, view: str) -> WholeAsk | None:
    """How this view's lining hangs by its features; None where it has none, or each piece is lined alone."""
    tools = frozenset[str]()
    garment = SewnGarment(pattern.view(view).features, tools, home.settings.schools)
    features = settled_features(library(), garment)
    if features["lining"] in ("none", "flat"):
        return None
    shell = tuple((p, next(iter(p.shapes.values()))) for p in pattern.pieces_of(view) if p.shapes)
    needs = requirements(
        Ask(shell, features, with_pattern=pattern.figures, envelope=pattern.notions, garment=pattern.garment)
    )
    pleat = features["lining-pleat"] if "lining-pleat" in assembled(library(), garment).facts else ""
    return WholeAsk(
        "tapering" if pleat == "tapering" else "full" if pleat else "",
        features["lining-sleeves"] == "own",
        features["lining"] in ("free", "waist"),
        features["lining"] == "waist",
        needs.hem_first.mm + needs.hem_second.mm,
        features["cuff"] not in ("none", "hem"),
    )


@router.post("/whole", name="derive_whole")
async def whole(request: Request, home: Home, pattern_id: int) -> Response:
    """Work out the whole lining of a view; with `keep` its pieces go into the pattern."""
    form = await read_form(request, home.unit)
    form = replace(form, typed={**form.typed, "kind": "lining"})
    pattern = patterns.pattern(home.conn, pattern_id).pattern
    view = form.choice("view", tuple(v.name for v in pattern.views))
    ask = _whole_ask(home, pattern, view)
    if ask is None:
        form.errors["view"] = (
            "This view is not described as lined, or each piece is lined alone. Describe the view first."
        )
        return _page(request, home, pattern_id, form, None, 422)
    made = whole_lining(pattern, view, ask)
    if not form.flag("keep") or not made[0]:
        return _page(request, home, pattern_id, form, None, 200, made)
    version = form.version()
    with db.write(home.conn):
        for piece in made[0]:
            patterns.put_piece(home.conn, pattern_id, version, piece)
            version = patterns.pattern(home.conn, pattern_id).version
    return see_other(request, f"/patterns/{pattern_id}#piece-{made[0][0].number}")


@router.get("", name="derive")
def show(request: Request, home: Home, pattern_id: int, kind: str = "lining") -> Response:
    """The form for a kind of derived piece."""
    return _page(request, home, pattern_id, Form({"kind": kind}, home.unit), None, 200)


@router.post("", name="derive_look")
async def look(request: Request, home: Home, pattern_id: int) -> Response:
    """Work the piece out and show it; with `keep` it goes into the pattern."""
    form = await read_form(request, home.unit)
    stored = patterns.pattern(home.conn, pattern_id)
    derived = _read(form, stored.pattern)
    if derived is None or not form.sound:
        return _page(request, home, pattern_id, form, None, 422)
    if not form.flag("keep"):
        return _page(request, home, pattern_id, form, derived, 200)
    with db.write(home.conn):
        patterns.put_piece(home.conn, pattern_id, form.version(), derived.piece)
    return see_other(request, f"/patterns/{pattern_id}#piece-{derived.piece.number}")
