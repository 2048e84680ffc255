"""A sound order of the steps that pieces and fates ask for, and any order of them held against what must come before."""

from collections.abc import Iterator, Sequence

from rowanseed.core.sew.checker import OrderFinding
from rowanseed.core.sew.gravity import PRECAUTIONS, gravity
from rowanseed.core.sew.model import ClothTraits, Need, Operation, Step
from rowanseed.core.sew.order import in_sittings
from rowanseed.core.sew.pieces.steps import Item
from rowanseed.core.sew.planner import Objective, in_phases, plan
from rowanseed.core.sew.settings import machine_settings

WORSE = "It comes out worse so, or has to be undone."


def ordered(
    items: Sequence[Item], cloth: ClothTraits, minutes: int, objective: Objective = "least-changes"
) -> list[Step]:
    """Return the steps in a sound order with the least changes of place.

    Raises:
        FeatureError: the pieces ask for steps that wait for one another in a circle.
    """
    planned = plan(in_phases(items), objective)
    return in_sittings([Step(op, needs, machine_settings(op, cloth), {}) for op, needs in planned.items], minutes)


def check_pieces(items: Sequence[Item], order: Sequence[str]) -> list[OrderFinding]:
    """Return what is wrong with an order of these steps: what comes too early, what is foreign, doubled or left out."""
    known = {op.id: (op, needs) for op, needs in items}
    found: list[OrderFinding] = []
    done: list[str] = []
    for id_ in order:
        if id_ not in known:
            found.append(
                OrderFinding("care", "not-in-garment", f"“{id_}” is no step of this garment.", id_, law="once")
            )
        elif id_ in done:
            text = f"“{known[id_][0].title}” stands in the order twice."
            found.append(OrderFinding("care", "done-twice", text, id_, law="once", on=known[id_][0].on))
        else:
            found += _too_early(known[id_][0], known, done)
            done.append(id_)
    for id_, (op, _) in known.items():
        if id_ not in done:
            level = "note" if op.verb in PRECAUTIONS else "care"
            found.append(
                OrderFinding(level, "left-out", f"“{op.title}” is left out.", id_, "", "complete", op.on, "craft")
            )
    return found


def _too_early(
    late: Operation, known: dict[str, tuple[Operation, tuple[Need, ...]]], done: Sequence[str]
) -> Iterator[OrderFinding]:
    """The steps done already that needed this one first, directly or by way of others."""
    for id_ in done:
        earlier, needs = known[id_]
        need = next((n for n in needs if n.id == late.id), None)
        if need is None:
            continue
        level, kind = gravity(late, earlier, need.law, "edge" if need.law == "shape" else "asked")
        text = f"“{earlier.title}” comes before “{late.title}”. {need.why} {WORSE}"
        yield OrderFinding(level, "too-early", text, id_, late.id, need.law, late.on, kind)
