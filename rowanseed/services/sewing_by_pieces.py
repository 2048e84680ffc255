"""A make's garment as its pattern's pieces and fates tell it, with what the make says beside them."""

from collections.abc import Collection, Sequence
from dataclasses import replace

from rowanseed.core.pattern.model import Pattern
from rowanseed.core.sew.checker import OrderFinding
from rowanseed.core.sew.model import SewnGarment, Step
from rowanseed.core.sew.numbers import Facts, at_edges, numbers_for
from rowanseed.core.sew.pieces.effect import Told, without_effect
from rowanseed.core.sew.pieces.filled import filled
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.model import PiecedGarment
from rowanseed.core.sew.pieces.of_pattern import garment_of_pattern
from rowanseed.core.sew.pieces.order import check_pieces, ordered, planned_pieces
from rowanseed.core.sew.pieces.said import Said
from rowanseed.formats.sewing import library


def told_by_pieces(pattern: Pattern, view: str, size: str, garment: SewnGarment, facts: Facts) -> Told:
    """What a view's pieces in a size tell, with a make's choices, tools, cloth, own steps and figures. Raises FeatureError."""
    own = garment_of_pattern(pattern, view, size).garment
    return _told(own, garment, facts)


def _told(own: PiecedGarment, garment: SewnGarment, facts: Facts) -> Told:
    said = Said(garment.features, garment.units, garment.schools, garment.tools, garment.cloth, garment.own)
    whole = filled(own, said)
    steps = StepsAsked(whole, "overlocker" in garment.tools, facts.unit, said=said)
    return Told(steps, replace(facts, at=at_edges(whole, facts.at)))


def steps_by_pieces(told: Told, minutes: int) -> list[Step]:
    """The order with its numbers. Raises FeatureError for needs in a circle."""
    _, steps = ordered(told.steps, told.steps.said.cloth, minutes)
    return [replace(s, numbers=numbers_for(s.operation, told.facts)) for s in steps]


def findings_by_pieces(told: Told, order: Sequence[str]) -> list[OrderFinding]:
    """What is wrong with an order; edges of which nothing is said, first."""
    open_ = told.steps.garment.open
    asked = []
    if open_:
        some = ", ".join(edge.replace(".", ", ").replace("-", " ") for edge in open_[:4])
        more = f" and {len(open_) - 4} more" if len(open_) > 4 else ""
        text = f"What becomes of {some}{more} is not said: nothing in the order finishes {'it' if len(open_) == 1 else 'them'}."
        asked = [OrderFinding("care", "edge-open", text, "", "", "complete", tuple(open_), "answer")]
    return [*asked, *check_pieces(planned_pieces(told.steps), order)]


def unused_by_pieces(
    pattern: Pattern, view: str, size: str, garment: SewnGarment, facts: Facts, typed: Collection[str]
) -> list[str]:
    """What was typed for this make (features by name) and changes nothing in it, in sentences. Raises FeatureError."""
    own = garment_of_pattern(pattern, view, size).garment
    known = {f.name: f for f in (*library().features, *library().schools)}
    usual = {f.name: f.choices[0][0] for f in library().features}
    left_out = [
        (name, _told(own, replace(garment, features={k: v for k, v in garment.features.items() if k != name}), facts))
        for name, choice in garment.features.items()
        if name in typed and choice != usual.get(name)
    ]
    said = {name: dict(known[name].choices).get(choice, choice) for name, choice in garment.features.items()}
    names = without_effect(_told(own, garment, facts), left_out)
    return [f"{known[name].title}, {said[name]}: nothing in this garment takes it." for name in names]
