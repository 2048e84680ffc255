"""What was said of a pieced garment and changes nothing in it, found by leaving each word out: no list of what acts is kept."""

from collections.abc import Iterable
from dataclasses import dataclass, field

from rowanseed.core.sew.model import Need, Operation
from rowanseed.core.sew.numbers import Facts, numbers_for
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.steps import steps_of
from rowanseed.core.sew.planner import Objective
from rowanseed.core.sew.settings import machine_settings

Answer = tuple[tuple[Operation, tuple[Need, ...], dict[str, str], dict[str, str]], ...]


@dataclass(frozen=True)
class Told:
    """All that was told of a garment: its pieces with what is said beside them, its figures, the wish for its order."""

    steps: StepsAsked
    facts: Facts = field(default_factory=Facts)
    objective: Objective | None = None

    def answer(self) -> tuple[Answer, Objective]:
        """What is answered: each step with its needs, settings and numbers."""
        cloth = self.steps.said.cloth
        return tuple(
            (op, needs, machine_settings(op, cloth), numbers_for(op, self.facts))
            for op, needs in steps_of(self.steps).items
        ), self.objective or "least-changes"


def without_effect(whole: Told, left_out: Iterable[tuple[str, Told]]) -> list[str]:
    """Return the names of what was said without which the same is answered. Raises FeatureError for needs in a circle."""
    answered = whole.answer()
    return [name for name, told in left_out if told.answer() == answered]
