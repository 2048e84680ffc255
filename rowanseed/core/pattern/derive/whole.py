"""The whole lining of a view at once: a piece for every part of the shell that it covers, as the view's features ask."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from rowanseed.core.errors import RowanseedError
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.derive.lining import SEWN_LONGER_MM, LiningAsk, lining
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

NOT_LINED = (
    "facing", "collar", "stand", "cuff", "waistband", "band", "pocket", "flap", "welt", "placket", "fly", "strap", "belt", "tab",
    "loop", "binding", "hood", "tie", "yoke facing",
)  # fmt: skip
FACED = ("front edge", "centre", "neck", "waist")
MEETS_MM = 2.0


@dataclass(frozen=True)
class WholeAsk:
    """How a view's lining hangs: what its features, and the shell's hem, say of it.

    Args:
        pleat: `full`, `tapering` or empty: at the centre of the back.
        sleeves: whether the sleeves are lined. free: whether it hangs free at the hem. below_waist: whether it begins at the waist.
        hem_mm: what the shell's hem takes, of a sleeve without a cuff too. cuffed: whether a cuff takes the sleeve's end.
    """

    pleat: Literal["", "full", "tapering"] = ""
    sleeves: bool = True
    free: bool = False
    below_waist: bool = False
    hem_mm: float = 40.0
    cuffed: bool = False


def whole_lining(
    pattern: Pattern, view: str, ask: WholeAsk, numbers: Collection[str] = ()
) -> tuple[list[Piece], list[str]]:
    """The lining's pieces, and in words what could not be derived.

    A piece that has a lining already is left out. `numbers`: taken by other pieces; the new ones are the shell's with an L.
    """
    taken = {*numbers, *(piece.number for piece in pattern.pieces)}
    lined = {piece.follows for piece in pattern.pieces if piece.role == "lining"}
    lined |= {piece.same_as for piece in pattern.pieces if piece.role == "lining"}
    made, problems = list[Piece](), list[str]()
    shell = [p for p in pattern.pieces_of(view, "self") if p.shapes and _is_lined(p, ask)]
    for source in shell:
        if source.number in lined:
            continue
        number = next(n for n in (f"L{source.number}", f"L{source.number}b", f"L{source.number}c") if n not in taken)
        shapes = dict[str, PieceShape]()
        for size, shape in source.shapes.items():
            try:
                shapes[size] = _in_size(pattern, view, source, size, shape, ask)
                refuse_bad_outline(shapes[size].outline, f"The lining in size {size}")
            except RowanseedError as error:
                shapes.pop(size, None)
                problems.append(f"{source.number} {source.name}, size {size}: {error.text}")
        if shapes:
            taken.add(number)
            made.append(_piece(source, number, shapes))
    return made, problems


def _is_lined(piece: Piece, ask: WholeAsk) -> bool:
    name = piece.name.lower()
    if any(word in name.replace("neckband", "band") for word in NOT_LINED):
        return False
    if "sleeve" in name:
        return ask.sleeves and not ask.below_waist
    if ask.below_waist:
        return not any(word in name for word in ("bodice", "yoke"))
    return True


def _in_size(pattern: Pattern, view: str, source: Piece, size: str, shape: PieceShape, ask: WholeAsk) -> PieceShape:
    sleeve = "sleeve" in source.name.lower()
    back = "back" in source.name.lower() and not sleeve
    centred = shape.fold_edge is not None or "centre" in shape.edges
    ended = any("hem" in edge or edge in ("foot", "wrist") for edge in shape.edges) and not (sleeve and ask.cuffed)
    # Without a hem the lining is as long as its piece.
    base = LiningAsk(source.allowance_mm, free=ask.free and not sleeve, hem_mm=ask.hem_mm if ended else SEWN_LONGER_MM)
    if back and centred and "neck" in shape.edges and ask.pleat:
        base = replace(base, pleat=ask.pleat)
    for facing, edge in _facings(pattern, view, size, source, shape):
        base = replace(base, facing=facing, edge=edge, facing_edge=edge)
        break
    return lining(shape, base)


def _facings(
    pattern: Pattern, view: str, size: str, source: Piece, shape: PieceShape
) -> Iterator[tuple[PieceShape, str]]:
    """The facing that lies on this piece: one of its side, with an edge of the same name and length."""
    side = next((word for word in ("front", "back") if word in source.name.lower()), "")
    walker = Walker()
    for piece in pattern.pieces_of(view, "self"):
        name = piece.name.lower()
        facing = piece.shapes.get(size)
        if "facing" not in name or facing is None or (side and side not in name and "neck" not in name):
            continue
        for edge in FACED:
            if edge in shape.edges and edge in facing.edges:
                ours, theirs = (
                    walker.edge_mm(AlterPiece(n, s), edge) for n, s in (("piece", shape), ("facing", facing))
                )
                if abs(ours - theirs) <= MEETS_MM:
                    yield facing, edge


def _piece(source: Piece, number: str, shapes: Mapping[str, PieceShape]) -> Piece:
    first = next(iter(shapes.values()))
    cut, mirrored = source.cut, source.mirrored
    if first.fold_edge is None and next(iter(source.shapes.values())).fold_edge is not None:
        cut, mirrored = 2 * cut, True  # what lay on the fold now has a seam down its middle
    return Piece(
        number, f"{source.name} lining", cut, "lining", mirrored, source.grain, source.allowance_mm, True, source.views,
        dict(shapes), f"Derived from {source.number} {source.name}.", follows=source.number,
    )  # fmt: skip
