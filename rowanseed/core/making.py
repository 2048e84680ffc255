"""From a make's decisions to what the engines are asked: lay requests, cutting cards, sewing facts, stage states."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.concede.kinds import conceded_features
from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.fit.alter import Altered, alter
from rowanseed.core.fit.blend import blend
from rowanseed.core.fit.ease import LOOKS, Look, key_zone
from rowanseed.core.fit.finished import Girth, finished_girths
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.scale import SizeRow
from rowanseed.core.fit.seamwalk import AlterPiece
from rowanseed.core.fit.weigh import AdviceRequest
from rowanseed.core.lay.model import Centre, Lay, LayPiece, LayRequest, Match, Point
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, PieceReading, read_lay
from rowanseed.core.lengths import Length
from rowanseed.core.pattern.model import ROLES, Pattern, Piece, PieceShape, Role, Seam
from rowanseed.core.pattern.print_rules import PrintRule, print_rules
from rowanseed.core.plan import Plan
from rowanseed.core.sew.numbers import Facts

BORDER_IN_MM = 20.0  # a hem lies so far inside the selvage that a border runs along, unless the user says where


@dataclass(frozen=True)
class SizedPiece:
    """A piece of one garment in its size, under the id it has in the lay."""

    lay_id: str
    piece: Piece
    size: str
    shape: PieceShape


@dataclass(frozen=True)
class CutCard:
    """One card at the cutting table: a piece as it lies, how many pieces of cloth it yields, what to mark and fuse."""

    key: str
    sized: SizedPiece
    reading: PieceReading
    yields: int
    marks: tuple[str, ...]
    fuse: bool

    @property
    def opened(self) -> bool:
        """Whether half a pattern piece is cut as its whole here: drawn round, turned over on its fold edge, drawn again."""
        return self.sized.shape.fold_edge is not None and not self.reading.placement.on_fold


def roles_of(pattern: Pattern, view: str) -> list[Role]:
    """The cloths a view asks for, shell first."""
    used = {p.role for p in pattern.pieces_of(view)}
    return [role for role in ROLES if role in used]


def needed_sizes(sizes: Sequence[str], blends: Mapping[str, tuple[str, Mapping[str, str]]]) -> list[str]:
    """The sizes whose outlines are needed for these sizes, blended ones (label to size and zones) taken apart."""
    wanted = []
    for label in sizes:
        size, zones = blends.get(label, (label, {}))
        wanted += [size, *zones.values()]
    return list(dict.fromkeys(wanted))


def blended_pattern(
    pattern: Pattern, blends: Mapping[str, tuple[str, Mapping[str, str]]]
) -> tuple[Pattern, list[Finding]]:
    """The pattern with a shape for every blended size under its label, and findings for pieces that cannot be blended."""
    findings: list[Finding] = []
    pieces = []
    for piece in pattern.pieces:
        shapes = dict(piece.shapes)
        for label, (size, zones) in blends.items():
            try:
                shapes[label] = blend(piece.shapes, size, zones, f"Piece {piece.number}, {piece.name},")
            except AlterationError as error:
                findings.append(Finding("stop", "not-blended", error.text))
        pieces.append(replace(piece, shapes=shapes))
    return replace(pattern, pieces=tuple(pieces)), findings


def fit_pieces(pattern: Pattern, size: str) -> tuple[list[AlterPiece], list[Seam]]:
    """The pieces that have an outline in a size, and the seams between them whose edges are all named."""
    own = [p for p in pattern.pieces if size in p.shapes]
    edges = {p.number: p.shapes[size].edges for p in own}
    seams = [s for s in pattern.seams if all(edge in edges.get(number, {}) for number, edge in s.edges)]
    pieces = [
        AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm if p.allowance_included else 0.0) for p in own
    ]
    return pieces, seams


def altered_pattern(
    pattern: Pattern, sizes: Sequence[str], alterations: Sequence[Alteration]
) -> tuple[Pattern, dict[str, Altered]]:
    """The pattern with its pieces altered in these sizes, and for each size what followed and what no longer meets.

    Raises:
        AlterationError: an alteration names a piece that the size does not have.
    """
    if not alterations:
        return pattern, {}
    done: dict[str, Altered] = {}
    shapes: dict[str, dict[str, PieceShape]] = {p.number: dict(p.shapes) for p in pattern.pieces}
    for size in dict.fromkeys(sizes):
        pieces, seams = fit_pieces(pattern, size)
        there = {p.id for p in pieces}
        done[size] = alter(pieces, seams, [a if a.piece in there else replace(a, on=False) for a in alterations])
        for piece in done[size].pieces:
            shapes[piece.id][size] = piece.shape
    changed = tuple(replace(p, shapes=shapes[p.number]) for p in pattern.pieces)
    return replace(pattern, pieces=changed), done


def sized_pieces(
    pattern: Pattern, view: str, role: Role, sizes: Sequence[str]
) -> tuple[list[SizedPiece], list[Finding]]:
    """A role's pieces for garments of these sizes, and findings for shapes that are missing.

    With several garments every id carries its garment's number and size, since one lay holds them all.
    """
    pieces: list[SizedPiece] = []
    missing: dict[str, set[str]] = {}
    for number, size in enumerate(sizes, start=1):
        for piece in pattern.pieces_of(view, role):
            if size not in piece.shapes:
                missing.setdefault(size, set()).add(f"{piece.number} {piece.name}")
                continue
            lay_id = piece.number if len(sizes) == 1 else f"{piece.number}/{number}"
            pieces.append(SizedPiece(lay_id, piece, size, piece.shapes[size]))
    findings = [
        Finding(
            "stop",
            "piece-not-measured",
            f"In size {size} these pieces have no outline yet: {', '.join(sorted(names))}. "
            "Measure them on the tissue, or choose a size that has them.",
        )
        for size, names in missing.items()
    ]
    return pieces, findings


def lay_request(
    pieces: Sequence[SizedPiece], cloth: Cloth, plan: Plan, length_in_hand: bool = True, seams: Sequence[Seam] = ()
) -> LayRequest:
    """The lay of one role's pieces on its cloth; with the pattern's seams, what its print should do is asked for too."""
    rules = kept_rules(pieces, cloth, plan, seams)
    marks: dict[str, dict[str, Point]] = {}
    for garment, rule in rules:
        for mark in rule.marks:
            marks.setdefault(mark.piece + garment, {})[mark.name] = mark.at
    return LayRequest(
        cloth.for_lay(length_in_hand),
        tuple(lay_piece(sized, marks.get(sized.lay_id, {})) for sized in pieces),
        plan.spread,
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
    pieces: Sequence[SizedPiece], cloth: Cloth, plan: Plan, seams: Sequence[Seam]
) -> list[tuple[str, PrintRule]]:
    """The rules that can be kept and are not refused."""
    every = rules_of(pieces, cloth, seams) if seams else []
    return [(g, r) for g, r in every if r.possible and plan.print_rules.get(r.key, r.by_default)]


def _match(rule: PrintRule, garment: str, cloth: Cloth) -> Match:
    a, b = ((m.piece + garment, m.name) for m in rule.marks)
    along, across = cloth.print.repeat_along_mm > 0, rule.across_too and cloth.print.repeat_across_mm > 0
    return Match(a, b, along, across, rule.onto)


def _centre(rule: PrintRule, garment: str, cloth: Cloth, plan: Plan) -> Centre:
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


def lay_piece(sized: SizedPiece, print_marks: Mapping[str, Point] | None = None) -> LayPiece:
    """A piece as the lay engine needs it, its grain arrow as marks, and those that a print is matched by.

    A symmetrical piece cut in an even number is its own mirror image, so that a fold yields two at once.
    """
    piece, shape = sized.piece, sized.shape
    head, foot = shape.grain_or_default()
    mirrored = piece.mirrored or (shape.fold_edge is None and piece.cut % 2 == 0 and is_symmetrical(shape))
    marks = {GRAIN_HEAD: head, GRAIN_FOOT: foot, **{m.name: m.at for m in shape.marks}, **(print_marks or {})}
    allowance = 0.0 if piece.allowance_included else piece.allowance_mm
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
        allowance,
        piece.off_grain,
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


def cut_cards(role: str, lay: Lay, pieces: Sequence[SizedPiece], interfaced: set[str]) -> list[CutCard]:
    """Cards for one lay in cutting order. `interfaced`: names of pieces that interfacing is cut for."""
    by_id = {sized.lay_id: sized for sized in pieces}
    cards, seen = [], dict[str, int]()
    for reading in read_lay(lay):
        sized = by_id.get(reading.placement.piece)
        if sized is None:
            continue
        seen[sized.lay_id] = seen.get(sized.lay_id, 0) + 1
        fold = reading.placement.on_fold
        cards.append(
            CutCard(
                f"{role}:{sized.lay_id}:{seen[sized.lay_id]}",
                sized,
                reading,
                1 if fold else reading.placement.layers,
                what_to_mark(sized.shape),
                sized.piece.name in interfaced and role == "self",
            )
        )
    return cards


def what_to_mark(shape: PieceShape) -> tuple[str, ...]:
    """What to transfer before the tissue comes off."""
    marks = []
    if shape.notches:
        marks.append(f"{len(shape.notches)} notch{'es' if len(shape.notches) > 1 else ''}")
    if shape.fold_edge is not None:
        marks.append("the centre, at both ends of the fold")
    marks += [f"{line.kind} lines" for line in shape.lines]
    marks += [mark.name for mark in shape.marks]
    return (*marks, "the right side")


@dataclass(frozen=True)
class Wearer:
    """For whom the size is chosen: the body as measured, whether a child's and of which age."""

    body: Mapping[str, Length]
    child: bool = False
    age: float | None = None


def advice_request(
    pattern: Pattern,
    wearer: Wearer,
    plan: Plan,
    cloth: Cloth | None = None,
    underlined: bool = False,
    looks: tuple[Look, ...] = LOOKS,
) -> AdviceRequest:
    """A body against a pattern's envelope, by the make's school; the cloth where it is chosen."""
    traits = (*(cloth.takes_room if cloth else ()), *(("underlined",) if underlined else ()))
    return AdviceRequest(
        {key: length.mm for key, length in wearer.body.items()},
        tuple(SizeRow(s.size, _mm(s.body), _mm(s.upto), s.age) for s in pattern.sizes),
        tuple(SizeRow(s.size, _mm(s.finished)) for s in pattern.sizes if s.finished),
        plan.key or key_zone(pattern.garment, pattern.cut),
        plan.school,
        plan.between,
        plan.want_ease or None,
        pattern.drafted_height.mm if pattern.drafted_height else None,
        pattern.garment,
        cloth.stretch if cloth and cloth.knit else 0.0,
        pattern.cut,
        plan.worn_under_mm,
        pattern.least_stretch if cloth else 0.0,
        plan.look,
        looks,
        traits,
        wearer.child,
        wearer.age,
    )


def _mm(lengths: Mapping[str, Length]) -> dict[str, float]:
    return {key: length.mm for key, length in lengths.items()}


def girths_of(pattern: Pattern, view: str, size: str) -> dict[str, Girth]:
    """The finished girths of a view's shell in a size, measured on its pieces."""
    shell = [(p, p.shapes[size]) for p in pattern.pieces_of(view, "self") if size in p.shapes]
    return finished_girths(shell)


def features_of(pattern: Pattern, view: str, plan: Plan) -> dict[str, str]:
    """The garment's features: the view's, what its concessions bring with them, and what the user changed."""
    return {**pattern.view(view).features, **conceded_features(plan.conceded), **plan.features}


def sewing_facts(
    base: Facts,
    pieces: Sequence[SizedPiece],
    waist_mm: float | None,
    hem: str,
    schools: Mapping[str, str] | None = None,
) -> Facts:
    """What the steps' numbers are worked out from: the first garment's pieces and its waist."""
    shapes = {sized.piece.name: sized.shape for sized in pieces}
    allowance = next((s.piece.allowance_mm for s in pieces), base.allowance_mm)
    return replace(base, shapes=shapes, waist_mm=waist_mm, hem=hem, allowance_mm=allowance, schools=schools or {})
