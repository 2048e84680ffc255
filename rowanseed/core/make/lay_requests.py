"""What the lay engine is asked for: pieces, cloth, what the print should do, several makes together."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import replace

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.geometry.shape import PieceShape, mirror_image
from rowanseed.core.geometry.types import Point
from rowanseed.core.lay.model import Centre, LayPiece, LayRequest, Match
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Piece, Seam
from rowanseed.core.pattern.print_rules import PrintRule, print_rules

BORDER_IN_MM = 20.0  # a hem lies so far inside the selvage that a border runs along, unless the user says where


def lay_request(
    pieces: Sequence[SizedPiece], cloth: Cloth, plan: MakePlan, length_in_hand: bool = True, seams: Sequence[Seam] = ()
) -> LayRequest:
    """The lay of one role's pieces on its cloth; with the pattern's seams, what its print should do is asked for too."""
    rules = kept_rules(pieces, cloth, plan, seams)
    marks: dict[str, dict[str, Point]] = {}
    for garment, rule in rules:
        for mark in rule.marks:
            marks.setdefault(mark.piece + garment, {})[mark.name] = mark.at
    return LayRequest(
        cloth.for_lay(length_in_hand),
        tuple(lay_piece(sized, marks.get(sized.lay_id, {}), from_the_back=cloth.fur) for sized in pieces),
        "single" if cloth.fur else plan.spread,
        tuple(_match(rule, garment, cloth) for garment, rule in rules if len(rule.marks) == 2),
        plan.gap_mm,
        plan.effort,
        locked=plan.locked.get(pieces[0].piece.role, ()) if pieces else (),
        centres=tuple(_centre(rule, garment, cloth, plan) for garment, rule in rules if len(rule.marks) == 1),
    )


def laid_together(requests: Mapping[str, LayRequest]) -> LayRequest:
    """Several makes of one cloth in one lay: every piece carries its make's name; cloth, spread and gap are the first one's.

    Nothing is held, since what was held lay on another lay.
    """
    first = next(iter(requests.values()))

    def own(make: str, mark: tuple[str, str]) -> tuple[str, str]:
        return f"{make}:{mark[0]}", mark[1]

    return replace(
        first,
        pieces=tuple(replace(p, id=f"{make}:{p.id}") for make, r in requests.items() for p in r.pieces),
        matches=tuple(
            replace(m, a=own(make, m.a), b=own(make, m.b)) for make, r in requests.items() for m in r.matches
        ),
        centres=tuple(replace(c, mark=own(make, c.mark)) for make, r in requests.items() for c in r.centres),
        locked=(),
    )


def rules_of(pieces: Sequence[SizedPiece], cloth: Cloth, seams: Sequence[Seam]) -> list[tuple[str, PrintRule]]:
    """What the print should do on each garment, with the ending that the garment's pieces have in the lay."""
    garments: dict[str, dict[str, tuple[Piece, PieceShape]]] = {}
    for sized in pieces:
        ending = sized.lay_id.removeprefix(sized.piece.number)
        garments.setdefault(ending, {})[sized.piece.number] = (sized.piece, sized.shape)
    return [(ending, rule) for ending, own in garments.items() for rule in print_rules(own, seams, cloth.print)]


def kept_rules(
    pieces: Sequence[SizedPiece], cloth: Cloth, plan: MakePlan, seams: Sequence[Seam]
) -> list[tuple[str, PrintRule]]:
    """The rules that can be kept and are not refused."""
    every = rules_of(pieces, cloth, seams) if seams else []
    return [(g, r) for g, r in every if r.possible and plan.print_rules.get(r.key, r.by_default)]


def _match(rule: PrintRule, garment: str, cloth: Cloth) -> Match:
    a, b = ((m.piece + garment, m.name) for m in rule.marks)
    along, across = cloth.print.repeat_along_mm > 0, rule.across_too and cloth.print.repeat_across_mm > 0
    return Match(a, b, along, across, rule.onto)


def _centre(rule: PrintRule, garment: str, cloth: Cloth, plan: MakePlan) -> Centre:
    (mark,) = rule.marks
    where = (mark.piece + garment, mark.name)
    if rule.lengthwise:
        return Centre(where, plan.print_at.get(rule.key, 0.0), None)
    # A motif is drawn in the middle of its repeat; bars tell themselves where their middle lies.
    motif = cloth.print.kind in ("motif", "panel")
    middle = cloth.print.repeat_across_mm / 2 if motif else cloth.print.axis_across_mm
    if cloth.print.kind == "border":
        middle = cloth.width.mm - cloth.selvage.mm - BORDER_IN_MM
    return Centre(
        where, cloth.print.repeat_along_mm / 2 if rule.both_ways else None, plan.print_at.get(rule.key, middle)
    )


def lay_piece(
    sized: SizedPiece, print_marks: Mapping[str, Point] | None = None, from_the_back: bool = False
) -> LayPiece:
    """A piece as the lay engine needs it, its grain arrow as marks, and those that a print is matched by.

    A symmetrical piece cut in an even number is its own mirror image, so that a fold yields two at once. Cloth that is cut
    from the back, as fur, is seen from there: what is no pair lies printed side down, so its mirror image is laid.
    """
    piece, shape = sized.piece, sized.shape
    if from_the_back and not piece.mirrored and shape.fold_edge is None:
        shape = mirror_image(shape)
    head, foot = shape.grain_or_default()
    mirrored = piece.mirrored or (shape.fold_edge is None and piece.cut % 2 == 0 and is_symmetrical(shape))
    marks = {GRAIN_HEAD: head, GRAIN_FOOT: foot, **{m.name: m.at for m in shape.marks}, **(print_marks or {})}
    edge = shape.edges.get(piece.selvage_edge)
    selvage = (shape.outline[edge[0]], shape.outline[edge[1]]) if edge else None
    return LayPiece(
        sized.lay_id,
        shape.outline,
        piece.cut,
        mirrored,
        shape.fold_edge,
        piece.grain,
        selvage,
        marks,
        off_grain=piece.off_grain,
    )


def is_symmetrical(shape: PieceShape, tolerance_mm: float = 0.5) -> bool:
    """Whether a shape is its own mirror image about a line along the grain."""
    ys = [y for _, y in shape.outline]
    twice = min(ys) + max(ys)
    image = [(x, twice - y) for x, y in shape.outline]

    def near(point: Point) -> bool:
        return any(abs(point[0] - x) < tolerance_mm and abs(point[1] - y) < tolerance_mm for x, y in shape.outline)

    return all(near(point) for point in image)


def fingerprint(request: LayRequest) -> str:
    """A short digest of what a lay must fit: cloth, pieces, rules, gap; another one means that the lay is out of date.

    How it was sought (spread, effort, seed, what is held) is left out: a sound lay stays one when the next is sought otherwise.
    """
    fits = (request.cloth, request.pieces, request.matches, request.centres, request.gap_mm)
    return hashlib.sha256(repr(fits).encode()).hexdigest()[:16]
