"""The sewist's own steps as operations: in her words, tied to things where she said so, else to the steps that she named."""

from rowanseed.core.sew.anatomy import edges_of, unit_of
from rowanseed.core.sew.model import Asked, Doing, Operation, OwnStep, SewnGarment
from rowanseed.core.sew.stages import STAGES, stage_of

OWN = "own"  # the template of every step of her own


def own_operations(garment: SewnGarment) -> list[Operation]:
    """The steps that the sewist added, as operations of the garment."""
    return [own_operation(step) for step in garment.own]


def own_operation(step: OwnStep) -> Operation:
    """A step of hers as an operation."""
    tied = step.verb in STAGES and bool(step.on)
    unit = unit_of(next(edges_of(step.on[0]))) if tied else "garment"
    return Operation(
        step.id,
        OWN,
        step.verb if tied else "",
        unit,
        "lining" if unit.startswith("lining.") else "shell",
        step.on if tied else (),
        Doing(step.text, step.place, "attach", step.minutes),
        stage=stage_of(step.verb) if tied else 0,
        needs=tuple(Asked("You said that it comes after this.", id_) for id_ in step.after),
        before=tuple(Asked("You said that it comes before this.", id_) for id_ in step.before),
    )
