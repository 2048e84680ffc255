"""GET /api/v1/features, POST /api/v1/sequence, POST /api/v1/sequence/check"""

from fastapi import APIRouter

from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.effect import without_effect
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.model import TOOLS
from rowanseed.core.sew.numbers import numbers_for
from rowanseed.core.sew.order import covered_by, described_order, sequence
from rowanseed.core.sew.pieces.order import check_pieces, planned_pieces
from rowanseed.formats.sewing import library
from rowanseed.web.api.sew_answers import (
    CheckOut,
    FeatureOut,
    FeaturesOut,
    OrderFindingOut,
    SequenceOut,
    SewFindingOut,
    step_out,
)
from rowanseed.web.api.sew_asked import CheckIn, SequenceIn
from rowanseed.web.api.sew_pieces import by_pieces, told_of

router = APIRouter(prefix="/api/v1", tags=["sew"])


@router.get("/features", summary="Every feature, school and tool")
def features() -> FeaturesOut:
    """Every feature and school with its choices."""
    known = library()
    return FeaturesOut(
        features=[FeatureOut.of(f) for f in known.features],
        schools=[FeatureOut.of(s) for s in known.schools],
        equipment=list(TOOLS),
    )


@router.post("/sequence", summary="A safe sewing order")
def order(asked: SequenceIn) -> SequenceOut:
    """A safe order with few changes of place, in sittings; by pieces and fates where the pieces say their units."""
    pieced = asked.pieced()
    if pieced is not None:
        return by_pieces(asked, pieced)
    facts, garment = asked.facts(), asked.garment()
    steps = sequence(
        library(), garment, lambda op: numbers_for(op, facts), asked.sitting_minutes, objective=asked.objective
    )
    assembly = assembled(library(), garment)
    said = described_order(library(), garment, steps, asked.objective)
    findings = [SewFindingOut(level="note", code="order", text=said)]
    findings += [SewFindingOut(level="note", code="taken", text=text) for text in assembly.taken]
    unused = without_effect(library(), garment)
    findings += [SewFindingOut(level="note", code="choice-without-effect", text=text) for text in unused]
    for name in sorted(set(garment.units) - set(assembly.units)):
        if not assembly.has(name):
            known = ", ".join(assembly.units)
            text = f"This garment has no part called “{name}”; it has: {known}. What was said of it changes nothing."
            findings.append(SewFindingOut(level="note", code="unit-without-effect", text=text))
    if unknown := sorted(set(asked.equipment) - set(TOOLS)):
        words = f"These tools change no step here: {', '.join(unknown)}."
        findings.append(SewFindingOut(level="note", code="tool-without-effect", text=words))
    covers = covered_by(assembly, [s.operation for s in steps])
    return SequenceOut(steps=[step_out(s, covers[s.operation.id]) for s in steps], findings=findings)


@router.post("/sequence/check", summary="Check any order")
def check(asked: CheckIn) -> CheckOut:
    """Each need that an order breaks, with what would happen."""
    pieced = asked.pieced()
    if pieced is not None:
        found = check_pieces(planned_pieces(told_of(asked, pieced).steps), asked.order)
    else:
        found = check_order(library(), asked.garment(), asked.order)
    return CheckOut(findings=[OrderFindingOut.model_validate({**vars(f), "on": list(f.on)}) for f in found])
