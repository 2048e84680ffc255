"""What a page shows of a print on a garment: the rules it may keep, the seams and the made-up garment as they would look."""

from dataclasses import dataclass

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.model import Lay
from rowanseed.core.lay.on_cloth import cut_pieces
from rowanseed.core.lay.print_alignment import fold_axis, matched_across
from rowanseed.core.make.lay_requests import kept_rules, rules_of
from rowanseed.core.pattern.print_rules import PrintRule
from rowanseed.formats.preview_svg import Preview
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole


@dataclass(frozen=True)
class RuleRow:
    """A rule as the page lists it: whether it is kept, how its seam would look, and at which place of the repeat it is set."""

    rule: PrintRule
    kept: bool
    svg: str
    at_mm: float


@dataclass(frozen=True)
class PrintView:
    """A garment's rules, its made-up front and back."""

    rows: list[RuleRow]
    front: str
    back: str


def garment_print(
    view: WorkedMake, role: WorkedRole, lay: Lay | None, ending: str = "", picture: str = ""
) -> PrintView | None:
    """The print on one garment of a make; None where the cloth has no print that could be matched."""
    if role.cloth is None or not role.pieces or role.request is None:
        return None
    cloth: Cloth = role.cloth.cloth
    rules = [rule for g, rule in rules_of(role.pieces, cloth, view.pattern.seams) if g == ending]
    if not rules:
        return None
    kept = {r.key for g, r in kept_rules(role.pieces, cloth, view.make.plan, view.pattern.seams) if g == ending}
    pieces = {
        s.piece.number: (s.piece, s.shape) for s in role.pieces if s.lay_id.removeprefix(s.piece.number) == ending
    }
    preview = None
    if lay is not None and lay.placements and lay.spread != "crosswise-fold":
        preview = Preview(pieces, cut_pieces(lay, role.request), ending, cloth)
    at = view.make.plan.print_at
    rows = [
        RuleRow(r, r.key in kept, preview.seam(r) if preview and len(r.marks) == 2 else "", at.get(r.key, 0.0))
        for r in rules
    ]
    if preview is None:
        return PrintView(rows, "", "")
    seams = view.pattern.seams
    return PrintView(rows, preview.garment("front", seams, rules), preview.garment("back", seams, rules))


def endings(role: WorkedRole) -> list[str]:
    """The endings by which the pieces of each garment are told apart in the lay; one empty one for a single garment."""
    return list(dict.fromkeys(s.lay_id.removeprefix(s.piece.number) for s in role.pieces))


def fold_of(role: WorkedRole) -> float | None:
    """Where the cloth is folded on a bar, from its edge; None where it is folded in the middle."""
    request = role.request
    if request is None or request.cloth.print is None or not matched_across(request):
        return None
    return fold_axis(request.cloth.print, request.cloth.width_mm)
