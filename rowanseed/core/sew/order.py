"""A safe order with few changes of place, its sittings, and the check of any other order."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.model import PHASES, Library, Need, Operation, SewnGarment, Step
from rowanseed.core.sew.place_changes import fewest_changes
from rowanseed.core.sew.settings import machine_settings

Numbers = Callable[[Operation], Mapping[str, str]]
Item = tuple[Operation, tuple[Need, ...]]
Todo = list[Item]
REACH = 1  # phases that may be begun while an earlier one is under way


@dataclass(frozen=True)
class OrderFinding:
    """Something about an order: the step it concerns, the need it breaks, what will happen."""

    level: str
    code: str
    text: str
    step: str
    needs: str = ""


def sequence(
    library: Library, garment: SewnGarment, numbers: Numbers, sitting_minutes: int = 60, prefer: Sequence[str] = ()
) -> list[Step]:
    """The steps of a garment in a safe order that changes place as seldom as can be.

    Args:
        prefer: the pattern's own order, as step ids: it decides where walking does not.

    Raises:
        FeatureError: a feature, choice, school or tool the library does not know.
    """
    garment = complete(library, garment)
    ordered = arrange(
        preferred(operations_for(library, garment), prefer), garment.schools.get("order", "least-walking")
    )
    return in_sittings(
        [Step(op, needs, machine_settings(op, garment.cloth), numbers(op)) for op, needs in ordered], sitting_minutes
    )


def arrange(todo: Todo, by: str = "least-walking") -> Todo:
    """Order operations so that every need comes first.

    Args:
        by: `least-walking`, with the fewest changes of place that any safe order has, phases kept together where that costs none;
            `phases`, the library's own order, an operation as soon as its needs are done.
    Raises:
        FeatureError: the needs go round in a circle.
    """
    return list(_arranged(tuple(todo), by))


@lru_cache(maxsize=256)
def _arranged(todo: tuple[Item, ...], by: str) -> tuple[Item, ...]:
    if by == "phases":
        return _in_library_order(todo)
    way = fewest_changes(todo).places
    if todo and not way:
        raise FeatureError("The library's needs go round in a circle: " + ", ".join(op.id for op, _ in todo))
    return _along(todo, way)


def preferred(todo: Todo, order: Sequence[str]) -> Todo:
    """Operations in the order that is liked: those it names as it names them, what they need just before them, the rest after."""
    needs = {op.id: wanted for op, wanted in todo}
    place = {id_: k for k, id_ in enumerate(order) if id_ in needs}
    rank: dict[str, int] = {}

    def visit(id_: str, at: int) -> None:
        if rank.get(id_, len(order)) <= at and id_ in rank:
            return
        rank[id_] = min(at, place.get(id_, at))
        for need in needs[id_]:
            visit(need.id, rank[id_])

    for id_, at in place.items():
        visit(id_, at)
    return sorted(todo, key=lambda item: rank.get(item[0].id, len(order)))


def _along(todo: tuple[Item, ...], way: tuple[str, ...]) -> tuple[Item, ...]:
    """The operations along a way from place to place: at each visit what must be done by then, and what suits the phase."""
    latest = _latest_visits(todo, way)
    rest, done, out = list(todo), set[str](), list[Item]()
    for visit, place in enumerate(way):
        going = True
        while going:
            going = False
            front = min((PHASES.index(op.phase) for op, _ in rest), default=0)
            for item in rest:
                op, needs = item
                due = latest[op.id] <= visit
                if op.place != place or not (due or PHASES.index(op.phase) <= front + REACH):
                    continue
                if all(n.id in done for n in needs):
                    out.append(item)
                    rest.remove(item)
                    done.add(op.id)
                    going = True
                    break
    return tuple(out)


def _latest_visits(todo: tuple[Item, ...], way: tuple[str, ...]) -> dict[str, int]:
    """The last visit at which each operation may be done without holding up another."""
    place = {op.id: op.place for op, _ in todo}
    later: dict[str, list[str]] = {op.id: [] for op, _ in todo}
    for op, needs in todo:
        for need in needs:
            later[need.id].append(op.id)
    found: dict[str, int] = {}
    for op, _ in reversed(_in_library_order(todo)):
        limit = len(way) - 1
        for other in later[op.id]:
            limit = min(limit, found[other] - (place[other] != op.place))
        found[op.id] = max((v for v in range(limit + 1) if way[v] == op.place), default=0)
    return found


def _in_library_order(todo: tuple[Item, ...]) -> tuple[Item, ...]:
    """The library's order, each operation as soon as its needs are done."""
    rest, out, done = list(todo), [], set[str]()
    while rest:
        item = next((i for i in rest if all(n.id in done for n in i[1])), None)
        if item is None:
            raise FeatureError("The library's needs go round in a circle: " + ", ".join(op.id for op, _ in rest))
        rest.remove(item)
        out.append(item)
        done.add(item[0].id)
    return tuple(out)


def in_sittings(steps: Sequence[Step], minutes: int) -> list[Step]:
    """Number the sittings: each ends before a step that would run over its minutes."""
    out, sitting, used = [], 1, 0
    for step in steps:
        if used and used + step.operation.minutes > minutes:
            sitting, used = sitting + 1, 0
        used += step.operation.minutes
        out.append(Step(step.operation, step.needs, step.settings, step.numbers, sitting))
    return out


def step_for_piece(steps: Sequence[Step], piece: str) -> str:
    """The id of the first step that is about a piece, by the words of its name; else of the first step of all."""
    words = [w for w in piece.lower().split() if len(w) > 3]
    for step in steps:
        title = step.operation.title.lower()
        if any(word in title or word.rstrip("s") in title for word in words):
            return step.operation.id
    return steps[0].operation.id if steps else ""


@dataclass(frozen=True)
class Run:
    """Steps done in one go at a place: how many, and whether their pieces can be fed one behind the other."""

    place: str
    count: int
    chained: bool


def runs(steps: Sequence[Step]) -> dict[str, Run]:
    """The runs of at least two steps at one place, by the id of their first step; sewing of one kind is chained."""
    found: dict[str, Run] = {}
    start = 0
    for k in range(1, len(steps) + 1):
        if k < len(steps) and steps[k].operation.place == steps[start].operation.place:
            continue
        own = [s.operation for s in steps[start:k]]
        if len(own) > 1:
            kinds = [op.id.split("-")[0] for op in own]
            at_machine = own[0].place in ("machine", "overlocker")
            found[own[0].id] = Run(own[0].place, len(own), at_machine and any(kinds.count(kind) > 1 for kind in kinds))
        start = k
    return found


def place_changes(steps: Sequence[Step]) -> int:
    """How often one gets up and goes to another place."""
    places = [s.operation.place for s in steps]
    return sum(a != b for a, b in zip(places, places[1:], strict=False))


def check_order(library: Library, garment: SewnGarment, order: Sequence[str]) -> list[OrderFinding]:
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
