"""Sittings on the calendar: evenings of given lengths that end where it is safe to stop; what must hang or dry waits."""

from collections.abc import Sequence, Set
from dataclasses import dataclass
from datetime import date, timedelta

from rowanseed.core.sew.model import Step

MOST_MORE = 60  # evenings that are added when those given do not suffice


@dataclass(frozen=True)
class Evening:
    """One sitting: its day and minutes, what is done in it, and why it ends where it does."""

    day: date
    minutes: int
    steps: tuple[Step, ...]
    ends: str = ""
    added: bool = False

    @property
    def used(self) -> int:
        """Minutes that its steps take."""
        return sum(step.operation.minutes for step in self.steps)


def plan_evenings(
    steps: Sequence[Step], given: Sequence[tuple[date, int]], done: Set[str], today: date, usual_minutes: int = 60
) -> list[Evening]:
    """Spread what is still to be sewn over evenings.

    Nobody stops right after a step that has to be carried on; what hangs or dries goes on when its hours are over. Evenings
    before today are left out; where those given do not suffice, one a day is added.
    Args:
        given: days with their minutes, in any order.
        done: ids of the steps that are ticked.
    """
    left = [step for step in steps if step.operation.id not in done]
    days = sorted((day, minutes) for day, minutes in given if day >= today and minutes > 0)
    ready: dict[str, date] = {}
    out: list[Evening] = []
    while left and len(out) < len(days) + MOST_MORE:
        added = len(out) >= len(days)
        if added:
            after = max([today, *(e.day for e in out)])
            day, minutes = (after + timedelta(days=1) if out else today), usual_minutes
        else:
            day, minutes = days[len(out)]
        evening, ends = _fill(left, day, minutes, ready)
        left = left[len(evening) :]
        out.append(Evening(day, minutes, tuple(evening), ends, added))
    return out


def _fill(left: Sequence[Step], day: date, minutes: int, ready: dict[str, date]) -> tuple[list[Step], str]:
    """What one evening takes, and why it ends there; at least one step, unless all wait."""
    taken: list[Step] = []
    used, ends = 0, ""
    for step in left:
        waits = [ready[n.id] for n in step.needs if n.id in ready and ready[n.id] > day]
        if waits:
            ends = f"{step.operation.title} has to wait: it hangs or dries until {max(waits):%d %b}."
            break
        if taken and used + step.operation.minutes > minutes:
            ends = "The time is up."
            break
        taken.append(step)
        used += step.operation.minutes
        if step.operation.does.wait_hours:
            ready[step.operation.id] = day + timedelta(days=max(1, -(-step.operation.does.wait_hours // 24)))
    held = len(taken)
    while held > 1 and taken[held - 1].operation.does.carry_on and held < len(left):
        held -= 1
    if held < len(taken):
        ends = f"It is safer to stop before “{taken[held].operation.title}”, which is carried on at once."
    return taken[:held], ends
