"""What a make decided, said at the sewing step that it matters to."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from rowanseed.core.fit.kinds import describe
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.reckon.catalogue import CALCULATORS
from rowanseed.core.sew.order import step_for_piece

if TYPE_CHECKING:
    from rowanseed.services.worked_make import WorkedMake


def figures_at(plan: MakePlan) -> dict[str, list[str]]:
    """What the bench worked out for a make, by the sewing step that it is used in."""
    said: dict[str, list[str]] = {}
    for name, text in plan.figures.items():
        if name in CALCULATORS:
            for step in CALCULATORS[name].steps:
                said.setdefault(step, []).append(f"{CALCULATORS[name].title}: {text}")
    return said


def altered_at(make: "WorkedMake") -> dict[str, list[str]]:
    """What a make changed on its pieces, its own size lines and its lay, in words, by the step that first touches them."""
    said: dict[str, list[str]] = {}
    names = {p.number: p.name for p in make.drawn.pieces}
    for alteration in make.make.plan.alterations:
        if alteration.on and alteration.piece in names:
            name = names[alteration.piece]
            said.setdefault(step_for_piece(make.steps, name), []).append(f"{name}: {describe(alteration)}")
    for piece in make.cut_otherwise:
        if piece.found is not None and piece.found.answer == "narrower":
            said.setdefault(step_for_piece(make.steps, piece.name), []).append(f"{piece.name}: {piece.words[0]}")
    first = step_for_piece(make.steps, "")
    for label in make.blends:
        said.setdefault(first, []).append(f"Cut on several size lines: {label}")
    for role in make.roles:
        single = role.kept is not None and role.kept.lay.spread == "single"
        halves = [s.piece.name for s in role.pieces if s.shape.fold_edge is not None]
        if single and halves:
            words = (
                f"Laid in a single layer: {', '.join(dict.fromkeys(halves))} cut as wholes, right and left pieces apart"
            )
            said.setdefault(first, []).append(words)
    return said


def titles_of(make: "WorkedMake") -> Callable[[str], str]:
    """A step's title by its id; the id itself for a step that the make does not have."""
    titles = {step.operation.id: step.operation.title for step in make.steps}
    return lambda id_: titles.get(id_, id_)
