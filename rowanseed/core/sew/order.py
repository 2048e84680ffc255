"""A safe order with few changes of place, its sittings, and the check of any other order."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.model import PHASES, Garment, Library, Need, Operation, Step
from rowanseed.core.sew.settings import machine_settings

Numbers = Callable[[Operation], Mapping[str, str]]
Item = tuple[Operation, tuple[Need, ...]]
Todo = list[Item]


@dataclass(frozen=True)
class OrderFinding:
    """Something about an order: the step it concerns, the need it breaks, what will happen."""

    level: str
    code: str
    text: str
    step: str
    needs: str = ""


def sequence(library: Library, garment: Garment, numbers: Numbers, sitting_minutes: int = 60) -> list[Step]:
    """The steps of a garment in a safe order that changes place seldom.

    Raises:
        FeatureError: a feature, choice, school or tool the library does not know.
    """
    garment = complete(library, garment)
    ordered = arrange(operations_for(library, garment))
    return in_sittings(
        [Step(op, needs, machine_settings(op, garment.cloth), numbers(op)) for op, needs in ordered], sitting_minutes
    )


def arrange(todo: Todo) -> Todo:
    """Order operations so that every need comes first, with few changes of place.

    The same greedy walk is tried with shorter and longer looks ahead over the phases; the one that changes place least is
    taken, the more orderly one among equals.
    """
    return list(_arranged(tuple(todo)))


@lru_cache(maxsize=256)
def _arranged(todo: tuple[Item, ...]) -> tuple[Item, ...]:
    walks = [_walk(todo, reach, eager) for reach in (1, 0, 2, len(PHASES)) for eager in (True, False)]
    walks.append(_in_library_order(todo))
    return min(walks, key=lambda walk: sum(a[0].place != b[0].place for a, b in zip(walk, walk[1:], strict=False)))


def _walk(todo: tuple[Item, ...], reach: int, eager: bool) -> tuple[Item, ...]:
    """Do what can be done at one place, then go to another.

    Of the operations that may be done now, those up to `reach` phases after the earliest are looked at. `eager` goes where
    most can be done in one go, else where the library's next operation is.
    """
    rest = list(todo)
    done: set[str] = set()
    out: Todo = []
    place = ""
    while rest:
        ready = [item for item in rest if all(n.id in done for n in item[1])]
        if not ready:
            raise FeatureError("The library's needs go round in a circle: " + ", ".join(op.id for op, _ in rest))
        first = min(PHASES.index(op.phase) for op, _ in ready)
        near = [item for item in ready if PHASES.index(item[0].phase) <= first + reach]
        here = [item for item in near if item[0].place == place]
        if not here:
            runs = {op.place: _run(op.place, rest, done) if eager else 0 for op, _ in near}
            place = max(runs, key=lambda p: (runs[p], -_first_at(p, near)))
            here = [item for item in near if item[0].place == place]
        out.append(here[0])
        rest.remove(here[0])
        done.add(here[0][0].id)
    return tuple(out)


def _in_library_order(todo: tuple[Item, ...]) -> tuple[Item, ...]:
    """The library's order, each operation as soon as its needs are done."""
    rest, out, done = list(todo), [], set[str]()
    while rest:
        item = next(i for i in rest if all(n.id in done for n in i[1]))
        rest.remove(item)
        out.append(item)
        done.add(item[0].id)
    return tuple(out)


def _run(place: str, rest: Todo, done: set[str]) -> int:
    """How many operations could be done at a place without leaving it."""
    done, count, going = set(done), 0, True
    while going:
        going = False
        for op, needs in rest:
            if op.place == place and op.id not in done and all(n.id in done for n in needs):
                done.add(op.id)
                count += 1
                going = True
    return count


def _first_at(place: str, near: Todo) -> int:
    return next(i for i, (op, _) in enumerate(near) if op.place == place)


def in_sittings(steps: Sequence[Step], minutes: int) -> list[Step]:
    """Number the sittings: each ends before a step that would run over its minutes."""
    out, sitting, used = [], 1, 0
    for step in steps:
        if used and used + step.operation.minutes > minutes:
            sitting, used = sitting + 1, 0
        used += step.operation.minutes
        out.append(Step(step.operation, step.needs, step.settings, step.numbers, sitting))
    return out


def place_changes(steps: Sequence[Step]) -> int:
    """How often one gets up and goes to another place."""
    places = [s.operation.place for s in steps]
    return sum(a != b for a, b in zip(places, places[1:], strict=False))


def check_order(library: Library, garment: Garment, order: Sequence[str]) -> list[OrderFinding]:
    """What is wrong with an order of step ids: broken needs with what will happen, steps left out, doubled, foreign.

    Raises:
        FeatureError: a feature, choice, school or tool the library does not know.
    """
    needs = {op.id: (op, wanted) for op, wanted in operations_for(library, complete(library, garment))}
    findings: list[OrderFinding] = []
    at: dict[str, int] = {}
    for index, step in enumerate(order):
        if step not in needs:
            findings.append(OrderFinding("care", "not-in-garment", f"“{step}” is no step of this garment.", step))
        elif step in at:
            findings.append(
                OrderFinding("care", "done-twice", f"“{needs[step][0].title}” stands in the order twice.", step)
            )
        else:
            at[step] = index
    for step, (op, wanted) in needs.items():
        if step not in at:
            findings.append(OrderFinding("care", "left-out", f"“{op.title}” is left out.", step))
            continue
        for need in wanted:
            if need.id in at and at[need.id] > at[step]:
                findings.append(
                    OrderFinding(
                        "stop",
                        "too-early",
                        f"“{op.title}” comes before “{needs[need.id][0].title}”. {need.why}",
                        step,
                        need.id,
                    )
                )
    return findings
