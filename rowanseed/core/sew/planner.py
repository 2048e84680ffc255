"""A sound order with the least changes: of place, of unit, of thread, needle, foot and stitch, each at its price in minutes.

A beam goes from one set of finished operations to the next, guided by the fewest changes of place that what is left can have
(`remaining_changes`). No general solver is used: an order whose price depends on each neighbour is what solvers for precedence
alone are worst at, while the fewest changes of place, which weigh most, are found exactly by `place_changes.fewest_changes` and
give the bound that an order is held against.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from rowanseed.core.sew.circles import topological
from rowanseed.core.sew.model import PHASES, Need, Operation
from rowanseed.core.sew.place_changes import fewest_changes

Item = tuple[Operation, tuple[Need, ...]]
Objective = Literal["least-changes", "phases", "units"]
BEAM = 24
BOUND_STATES = 4_000  # sets of operations looked at for the exact number of changes of place


@dataclass(frozen=True)
class Prices:
    """What a change costs, in minutes; common practice, no source."""

    place: float = 2.0
    unit: float = 1.0
    needle: float = 1.5
    thread: float = 1.0
    foot: float = 0.5
    stitch: float = 0.2


PRICES: Mapping[str, Prices] = {
    "least-changes": Prices(),
    "units": Prices(place=0.5, unit=8.0),
}


@dataclass(frozen=True)
class Plan:
    """An order, what its changes cost in minutes, and what no order can cost less than; `proved` where the two are equal."""

    items: tuple[Item, ...]
    cost: float
    bound: float

    @property
    def proved(self) -> bool:
        """Whether no order has a lower cost."""
        return self.cost <= self.bound + 1e-9


def plan(items: Sequence[Item], objective: Objective = "least-changes") -> Plan:
    """Order operations so that every need comes first, with the least changes.

    Args:
        items: operations with their needs, in the order that is liked where nothing else decides.
    Raises:
        FeatureError: the needs go round in a circle.
    """
    return _planned(tuple(items), objective)


@lru_cache(maxsize=256)
def _planned(items: tuple[Item, ...], objective: Objective) -> Plan:
    by_id = {op.id: (op, needs) for op, needs in items}
    links = [(op.id, need.id) for op, needs in items for need in needs]
    liked = topological([op.id for op, _ in items], links)
    if objective == "phases":
        order = tuple(by_id[id_] for id_ in topological([op.id for op, _ in in_phases(items)], links))
        prices = PRICES["least-changes"]
    else:
        prices = PRICES[objective]
        order = _Beam([by_id[id_] for id_ in liked], prices).best()
    return Plan(order, cost_of([op for op, _ in order], prices), _bound(items, prices))


def in_phases(items: Sequence[Item]) -> list[Item]:
    """Operations by the phases of the work, otherwise in their order."""
    return sorted(items, key=lambda item: PHASES.index(item[0].phase))


def cost_of(order: Sequence[Operation], prices: Prices = PRICES["least-changes"]) -> float:
    """What the changes of an order cost, in minutes."""
    total, at, setting = 0.0, None, None
    for op in order:
        total += _change(at, setting, op, prices)
        at = op
        setting = _setting(op) if _set(op) else setting
    return total


def _set(op: Operation) -> bool:
    return op.place == "machine"


def _setting(op: Operation) -> tuple[str, str, str, str]:
    return op.does.needle, op.does.thread, op.does.foot, op.does.stitch


def _change(at: Operation | None, setting: tuple[str, ...] | None, op: Operation, prices: Prices) -> float:
    cost = 0.0
    if at is not None:
        cost += prices.place * (at.place != op.place) + prices.unit * (at.unit != op.unit)
    if setting is not None and _set(op):
        each = (prices.needle, prices.thread, prices.foot, prices.stitch)
        cost += sum(price for price, was, now in zip(each, setting, _setting(op), strict=True) if was != now)
    return cost


def _bound(items: Sequence[Item], prices: Prices) -> float:
    """What no order can cost less than: the fewest changes of place, and each unit and each setting come to but once."""
    if not items:
        return 0.0
    ops = [op for op, _ in items]
    fewest = fewest_changes(items, BOUND_STATES)
    least = fewest.changes if fewest.proved else longest_alternation(items)
    at_machine = [_setting(op) for op in ops if _set(op)]
    each = (prices.needle, prices.thread, prices.foot, prices.stitch)
    settings = sum(price * (len({s[k] for s in at_machine}) - 1) for k, price in enumerate(each)) if at_machine else 0.0
    return prices.place * least + prices.unit * (len({op.unit for op in ops}) - 1) + settings


def longest_alternation(items: Sequence[Item]) -> int:
    """The most changes of place along one chain of needs: no order has fewer."""
    tail = remaining_changes(items)
    return max(tail.values(), default=0)


def remaining_changes(items: Sequence[Item]) -> dict[str, int]:
    """For each operation, the changes of place that the longest chain after it has."""
    place = {op.id: op.place for op, _ in items}
    later: dict[str, list[str]] = {op.id: [] for op, _ in items}
    for op, needs in items:
        for need in needs:
            later[need.id].append(op.id)
    found: dict[str, int] = {}
    for id_ in reversed(topological(list(later), [(b, a) for a, some in later.items() for b in some])):
        found[id_] = max((found[other] + (place[other] != place[id_]) for other in later[id_]), default=0)
    return found


@dataclass
class _State:
    """What is done so far, in which order, at what cost."""

    done: int
    order: tuple[int, ...]
    cost: float
    setting: tuple[str, ...] | None
    free: tuple[int, ...]


class _Beam:
    """A search over sets of finished operations, the most promising ones of each size kept."""

    def __init__(self, items: Sequence[Item], prices: Prices) -> None:
        self.items = items
        self.prices = prices
        self.ops = [op for op, _ in items]
        index = {op.id: k for k, op in enumerate(self.ops)}
        self.needs = [sum(1 << index[n.id] for n in needs) for _, needs in items]
        self.later: list[list[int]] = [[] for _ in items]
        for k, (_, needs) in enumerate(items):
            for need in needs:
                self.later[index[need.id]].append(k)
        tail = remaining_changes(items)
        self.tail = [tail[op.id] for op in self.ops]

    def best(self) -> tuple[Item, ...]:
        """The cheapest order found."""
        start = _State(0, (), 0.0, None, tuple(k for k, needs in enumerate(self.needs) if not needs))
        layer = [start]
        for _ in self.ops:
            found: dict[tuple[int, int, tuple[str, ...] | None], tuple[float, _State]] = {}
            for state in layer:
                for k in self._worth_trying(state):
                    following = self._do(state, k)
                    key = (following.done, k, following.setting)
                    score = following.cost + self._left(following)
                    if key not in found or score < found[key][0]:
                        found[key] = (score, following)
            layer = [state for _, state in sorted(found.values(), key=lambda scored: scored[0])[:BEAM]]
        return tuple(self.items[k] for k in layer[0].order)

    def _worth_trying(self, state: _State) -> Sequence[int]:
        """What can be done next: what costs no change is done at once, in the liked order."""
        if state.order:
            at = self.ops[state.order[-1]]
            for k in sorted(state.free):
                if _change(at, state.setting, self.ops[k], self.prices) == 0:
                    return (k,)
        return state.free

    def _do(self, state: _State, k: int) -> _State:
        op = self.ops[k]
        at = self.ops[state.order[-1]] if state.order else None
        done = state.done | 1 << k
        free = tuple(i for i in state.free if i != k) + tuple(i for i in self.later[k] if not self.needs[i] & ~done)
        waiting = sum(1 for i in state.free if i < k)
        cost = state.cost + _change(at, state.setting, op, self.prices) + 0.01 * waiting
        return _State(done, (*state.order, k), cost, _setting(op) if _set(op) else state.setting, free)

    def _left(self, state: _State) -> float:
        """No less than this many changes of place are left."""
        place = self.ops[state.order[-1]].place
        return self.prices.place * max((self.tail[i] + (self.ops[i].place != place) for i in state.free), default=0)
