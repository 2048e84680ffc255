"""How long steps take in this household: the library's minutes, corrected by what was timed, with how sure that is.

The correction is the mean of the logarithms of timed over planned minutes, drawn toward none while little was timed (a normal
prior of so many steps' weight; Gelman and others, Bayesian Data Analysis, 2013, section 2.5). Each place of work has its own, and
a kind of step its own again, drawn toward its place's.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.sew.model import Step, Template
from rowanseed.core.sew.own_steps import OWN

PLACE_WEIGHT, STEP_WEIGHT = 4.0, 3.0  # steps that the prior counts for; common practice, no source
LEAST_S = 20  # a shorter time is a slip of the finger
FURTHEST = math.log(5.0)  # a timer that was forgotten counts for five times the minutes, not more


@dataclass(frozen=True)
class Timed:
    """One step that was timed: its template's id and the seconds."""

    template: str
    seconds: int


@dataclass(frozen=True)
class Pace:
    """Factors on the library's minutes by place and by template, and on how many timed steps each place rests."""

    by_place: Mapping[str, float]
    by_template: Mapping[str, float]
    timed: Mapping[str, int]

    def minutes(self, template: str, place: str, planned: int) -> int:
        """A step's minutes at this pace, at least one."""
        return max(1, round(planned * self.by_template.get(template, self.by_place.get(place, 1.0))))

    def said(self) -> str:
        """The pace in a sentence; empty while nothing was timed."""
        parts = [
            f"{WORDS.get(place, place)} {factor:.1f} times the usual minutes ({self.timed[place]} steps timed)"
            for place, factor in sorted(self.by_place.items(), key=lambda known: -self.timed[known[0]])
        ]
        return f"Minutes are corrected by your own pace: {', '.join(parts)}." if parts else ""


WORDS = {
    "table": "at the table",
    "iron": "at the iron",
    "machine": "at the machine",
    "hand": "by hand",
    "overlocker": "at the overlocker",
}
USUAL = Pace({}, {}, {})


def pace_of(timed: Sequence[Timed], templates: Mapping[str, Template]) -> Pace:
    """Return the pace that timed steps show; those of templates that the library no longer has are left out."""
    logs: dict[str, list[float]] = {}
    place_of: dict[str, str] = {}
    for one in timed:
        template = templates.get(one.template)
        if template is None or one.seconds < LEAST_S or not template.does.minutes:
            continue
        ratio = math.log(one.seconds / 60 / template.does.minutes)
        logs.setdefault(one.template, []).append(max(-FURTHEST, min(FURTHEST, ratio)))
        place_of[one.template] = template.does.place
    by_place, count = {}, {}
    for place in dict.fromkeys(place_of.values()):
        own = [x for template, found in logs.items() if place_of[template] == place for x in found]
        by_place[place], count[place] = sum(own) / (len(own) + PLACE_WEIGHT), len(own)
    by_template = {
        template: (sum(found) + STEP_WEIGHT * by_place[place_of[template]]) / (len(found) + STEP_WEIGHT)
        for template, found in logs.items()
    }
    return Pace(
        {place: math.exp(x) for place, x in by_place.items()},
        {template: math.exp(x) for template, x in by_template.items()},
        count,
    )


def at_pace(steps: Sequence[Step], pace: Pace) -> list[Step]:
    """Return steps with their minutes at this pace; the sewist's own steps keep the minutes she gave."""
    if not pace.timed:
        return list(steps)
    return [step if step.operation.template == OWN else _paced(step, pace) for step in steps]


def _paced(step: Step, pace: Pace) -> Step:
    op = step.operation
    minutes = pace.minutes(op.template, op.place, op.minutes)
    return replace(step, operation=replace(op, does=replace(op.does, minutes=minutes)))
