"""The order of a garment that is told by its pieces, with what was said beside them."""

from collections.abc import Iterator
from dataclasses import replace

from rowanseed.core.sew.garment import chosen
from rowanseed.core.sew.numbers import at_edges, numbers_for
from rowanseed.core.sew.order import place_changes
from rowanseed.core.sew.pieces.as_features import features_of, kind_of
from rowanseed.core.sew.pieces.effect import Told, without_effect
from rowanseed.core.sew.pieces.filled import filled
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.model import PiecedGarment
from rowanseed.core.sew.pieces.order import ordered
from rowanseed.core.sew.pieces.own import unknown_places
from rowanseed.core.sew.pieces.said import Said
from rowanseed.core.sew.pieces.steps import PieceSteps
from rowanseed.core.sew.planner import Objective
from rowanseed.formats.sewing import library
from rowanseed.web.api.sew_answers import SequenceOut, SewFindingOut, step_out
from rowanseed.web.api.sew_asked import SequenceIn

BY_SCHOOL: dict[str, Objective] = {"least-walking": "least-changes", "phases": "phases", "units": "units"}


def told_of(asked: SequenceIn, garment: PiecedGarment) -> Told:
    """What was told of a garment. Raises FeatureError for a feature, school or choice that nobody knows."""
    own = asked.garment()
    chosen(library().features, own.features, "feature")
    chosen(library().schools, own.schools, "school")
    for unit, given in own.units.items():
        chosen(library().features, given, f"feature of {unit}")
    said = Said(own.features, own.units, own.schools, own.tools, own.cloth, own.own)
    whole = filled(garment, said)
    steps = StepsAsked(whole, "overlocker" in own.tools, said=said)
    objective = asked.objective or BY_SCHOOL.get(own.schools.get("order", ""))
    defaults = chosen(library().features, {}, "feature")
    facts = asked.facts_for(
        features_of(whole, own.features, defaults), at_edges(whole, asked.numbers.at()), kind_of(whole)
    )
    return Told(steps, facts, objective)


def by_pieces(asked: SequenceIn, garment: PiecedGarment) -> SequenceOut:
    """The order of a garment by its pieces: open edges are asked about, what changes nothing is named."""
    told = told_of(asked, garment)
    said = told.steps.said
    work, steps = ordered(told.steps, said.cloth, asked.sitting_minutes, told.objective or "least-changes")
    words = f"{len(steps)} steps, {place_changes(steps)} changes of place, {steps[-1].sitting} sittings."
    findings = [SewFindingOut(level="note", code="order", text=words)]
    for edge, side in (*((edge, "") for edge in told.steps.garment.open), *garment.half_said):
        on = f" on the {side}" if side else ""
        text = f"What becomes of {edge}{on} is not said: sewn to another edge, hemmed, bound, or left?"
        findings.append(SewFindingOut(level="care", code="edge-open", text=text, on=[edge]))
    findings += _gave_way(work)
    for name in _unused(asked, garment, told, work):
        text = f"{name} changes nothing in this garment, as its pieces and fates have it."
        findings.append(SewFindingOut(level="note", code="no-effect", text=text, on=[name]))
    numbered = [replace(s, numbers=numbers_for(s.operation, told.facts)) for s in steps]
    return SequenceOut(steps=[step_out(s, s.operation.covers) for s in numbered], findings=findings)


def _gave_way(work: PieceSteps) -> Iterator[SewFindingOut]:
    """What was wished and stands against what the cloth asks."""
    titles = {op.id: op.title for op, _ in work.items}
    for later, earlier in work.gave_way:
        text = f"“{titles[later]}” can not come after “{titles[earlier]}”: what the cloth asks stands against it."
        yield SewFindingOut(level="note", kind="wish", code="wish-gave-way", text=text, on=[later, earlier])


def _unused(asked: SequenceIn, garment: PiecedGarment, told: Told, work: PieceSteps) -> list[str]:
    """The names of what was said and changes nothing: each is left out once, and the answer is the same."""
    unused = without_effect(told, ((name, told_of(less, garment)) for name, less in asked.each_left_out()))
    own = told.steps.said.own
    return [
        *unused,
        *(f"own_steps.{at}.{word}" for at, word, _ in unknown_places(own, [op.id for op, _ in work.items])),
    ]
