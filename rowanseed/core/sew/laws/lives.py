"""What is done to one thing in the order of its life, what templates ask for themselves, what is said of a whole space."""

from collections.abc import Iterable

from rowanseed.core.sew.laws.links import Laws
from rowanseed.core.sew.model import Asked, Operation
from rowanseed.core.sew.stages import WORKED
from rowanseed.core.sew.wording import law_between, why


def asked_for(laws: Laws) -> None:
    """What templates ask for themselves."""
    for op in laws.operations:
        for need in op.needs:
            for other in _meant(laws, need, op):
                laws.need(op, other, need.law, need.why)
        for need in op.before:
            for other in _meant(laws, need, op, users=True):
                laws.need(other, op, need.law, need.why)


def _meant(laws: Laws, need: Asked, op: Operation, users: bool = False) -> Iterable[Operation]:
    if need.on:
        if need.on in op.on:
            return []  # what is said of every seam of a kind is not said of the seam itself
        if "+" in need.on:
            found = laws.on.get(need.on, [])
        else:
            found = laws.consumers(need.on) if users else laws.touching.get(need.on, [])
        return [o for o in found if o.id != op.id and (users or o.stage <= WORKED or o.verb in ("turn", "close"))]
    named = [o for o in laws.operations if o.template == need.id or o.id == need.id]
    own = [o for o in named if o.unit == op.unit]
    same_layer = [o for o in named if o.layer == op.layer]
    return own or same_layer or named


def ages(laws: Laws) -> None:
    """Whatever is done to one thing is done in the order of its life."""
    for thing, ops in laws.on.items():
        for later in ops:
            for earlier in ops:
                if earlier.stage < later.stage:
                    laws.need(later, earlier, law_between(earlier, later), why(laws.assembly, earlier, later, thing))


def inside(laws: Laws) -> None:
    """All that works inside a space comes before the space is closed; what closes it last comes after the rest of its closing."""
    for closing in laws.operations:
        for space in closing.closes:
            for op in laws.operations:
                if space in op.inside and op.id != closing.id:
                    laws.need(
                        closing, op, "inside", f"It is done inside the {space.split('.')[0]}, which is closed here."
                    )
