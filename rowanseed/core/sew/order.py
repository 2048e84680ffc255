"""A sound order of a garment's steps with their settings and numbers, its sittings, and what is done in one go."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.sew.anatomy import edges_of
from rowanseed.core.sew.garment import Item, complete, operations_for
from rowanseed.core.sew.model import Library, Operation, SewnGarment, Step
from rowanseed.core.sew.planner import Objective, in_phases, plan
from rowanseed.core.sew.settings import machine_settings
from rowanseed.core.sew.stages import CONSUMING
from rowanseed.core.sew.units import Assembly

Numbers = Callable[[Operation], Mapping[str, str]]
OBJECTIVES: Mapping[str, Objective] = {"least-walking": "least-changes", "phases": "phases", "units": "units"}


def sequence(
    library: Library,
    garment: SewnGarment,
    numbers: Numbers,
    sitting_minutes: int = 60,
    prefer: Sequence[str] = (),
    objective: Objective | None = None,
) -> list[Step]:
    """The steps of a garment in a sound order with the least changes.

    Args:
        prefer: the pattern's own order, as step ids: it decides where changes do not.
        objective: what the order is to save; the school's where it is not said.

    Raises:
        FeatureError: a feature, choice or school the library does not know.
    """
    garment = complete(library, garment)
    wanted = objective or OBJECTIVES[garment.schools.get("order", "least-walking")]
    planned = plan(preferred(in_phases(operations_for(library, garment)), prefer), wanted)
    steps = [Step(op, needs, machine_settings(op, garment.cloth), numbers(op)) for op, needs in planned.items]
    return in_sittings(steps, sitting_minutes)


def described_order(
    library: Library, garment: SewnGarment, steps: Sequence[Step], objective: Objective | None = None
) -> str:
    """An order in a sentence: its steps, changes and sittings, and how near it is to the least that any order can have."""
    garment = complete(library, garment)
    wanted = objective or OBJECTIVES[garment.schools.get("order", "least-walking")]
    planned = plan(in_phases(operations_for(library, garment)), wanted)
    near = (
        "No order has fewer changes."
        if planned.proved
        else f"Its changes take about {planned.cost:.0f} minutes; no order can take less than {planned.bound:.0f}."
    )
    return f"{len(steps)} steps, {place_changes(steps)} changes of place, {steps[-1].sitting} sittings. {near}"


def covered_by(assembly: Assembly, operations: Sequence[Operation]) -> dict[str, tuple[str, ...]]:
    """For each operation of an order, what is out of reach after it: of what it covers, the edges joined by then."""
    used: set[str] = set()
    found = {}
    for op in operations:
        if op.verb in CONSUMING:
            used |= {edge for thing in op.on for edge in edges_of(thing)}
        covers = list(op.covers)
        if op.verb == "hem":
            covers += [seam for seam, ends in assembly.ends().items() if set(ends) & set(op.covers) and seam in used]
        found[op.id] = tuple(
            thing
            for thing in dict.fromkeys(covers)
            if all(edge in used for edge in edges_of(thing)) or op.verb == "close"
        )
    return found


def preferred(todo: Sequence[Item], order: Sequence[str]) -> list[Item]:
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
