"""The least walking: an order that changes place as seldom as any safe order can, found exactly.

Staying at a place costs nothing, so everything that can be done there is done before leaving it. What is left to choose is where
to go next; breadth first over what is then done, the first way to finish has the fewest changes there are.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from rowanseed.core.sew.model import Need, Operation

Item = tuple[Operation, tuple[Need, ...]]
MOST_STATES = 60_000


@dataclass(frozen=True)
class Fewest:
    """The places to go to in turn, and whether fewer changes are proved impossible; `changes` is a bound where they are not."""

    places: tuple[str, ...]
    changes: int
    proved: bool


@dataclass(frozen=True)
class _Graph:
    """Operations as bits: what each needs, and which are done at each place."""

    needs: tuple[int, ...]
    at: tuple[tuple[str, int], ...]
    whole: int

    def stay(self, done: int, place: int) -> int:
        """What is done after doing everything that can be done at a place without leaving it."""
        here = self.at[place][1]
        while True:
            more = done
            rest = here & ~done
            while rest:
                bit = rest & -rest
                rest ^= bit
                if not self.needs[bit.bit_length() - 1] & ~more:
                    more |= bit
            if more == done:
                return done
            done = more


def _graph(todo: Sequence[Item]) -> _Graph:
    index = {op.id: k for k, (op, _) in enumerate(todo)}
    needs = tuple(sum({1 << index[n.id] for n in wanted}) for _, wanted in todo)
    places = list(dict.fromkeys(op.place for op, _ in todo))
    at = tuple((p, sum(1 << k for k, (op, _) in enumerate(todo) if op.place == p)) for p in places)
    return _Graph(needs, at, (1 << len(todo)) - 1)


def fewest_changes(todo: Sequence[Item], most_states: int = MOST_STATES) -> Fewest:
    """The fewest changes of place over all safe orders.

    Args:
        most_states: sets of done operations looked at before the search gives up; the answer is then the best of a beam, unproved.
    """
    graph = _graph(todo)
    if not todo:
        return Fewest((), 0, True)
    layer: dict[int, tuple[int, ...]] = {}
    for place in range(len(graph.at)):
        done = graph.stay(0, place)
        if done:
            layer.setdefault(done, (place,))
    proved, seen = True, len(layer)
    known = set(layer)
    while graph.whole not in layer:
        layer = _undominated(_next(graph, layer, known))
        if not layer:
            return Fewest((), 0, False)  # needs that go round in a circle
        seen += len(layer)
        if seen > most_states:
            # Too many to look at all: go on with those that have done most.
            layer = dict(sorted(layer.items(), key=lambda kept: -kept[0].bit_count())[:400])
            proved = False
        known |= set(layer)
    way = layer[graph.whole]
    return Fewest(tuple(graph.at[place][0] for place in way), len(way) - 1, proved)


def _next(graph: _Graph, layer: dict[int, tuple[int, ...]], known: set[int]) -> dict[int, tuple[int, ...]]:
    """Everything that is reached by going to one more place."""
    found: dict[int, tuple[int, ...]] = {}
    for done, way in layer.items():
        for place in range(len(graph.at)):
            if place != way[-1]:
                more = graph.stay(done, place)
                if more != done and more not in known:
                    found.setdefault(more, (*way, place))
    return found


def _undominated(layer: dict[int, tuple[int, ...]]) -> dict[int, tuple[int, ...]]:
    """Of the sets reached with as many changes, those that no other one contains: more done is never worse."""
    kept: list[int] = []
    for done in sorted(layer, key=lambda d: -d.bit_count()):
        if not any(done & ~other == 0 for other in kept):
            kept.append(done)
    return {done: layer[done] for done in kept}
