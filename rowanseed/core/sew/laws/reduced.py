"""The needs that are left when wishes give way to laws and what follows from others is left out."""

from collections.abc import Mapping, Sequence

from rowanseed.core.sew.circles import Link, find_circle, topological
from rowanseed.core.sew.model import Need, Operation


def reduced(operations: Sequence[Operation], links: Mapping[Link, Need]) -> dict[str, tuple[Need, ...]]:
    """The needs without those that follow from others by law."""
    links = _law_before_wish([op.id for op in operations], links)
    order = topological([op.id for op in operations], links)
    links = {**links, **_samples(operations, order, links)}
    place = {id_: k for k, id_ in enumerate(order)}
    needs: dict[str, list[Need]] = {id_: [] for id_ in order}
    for (later, _), need in links.items():
        needs[later].append(need)
    before: dict[str, int] = {}  # all that is needed by law, as bits
    kept: dict[str, tuple[Need, ...]] = {}
    for id_ in order:
        own, reached = [], 0
        for need in sorted(needs[id_], key=lambda n: (n.law == "method", -place[n.id])):
            if not reached >> place[need.id] & 1:
                own.append(need)
                if need.law != "method":
                    reached |= before[need.id] | 1 << place[need.id]
        before[id_] = reached
        kept[id_] = tuple(sorted(own, key=lambda n: place[n.id]))
    return kept


def _law_before_wish(ids: Sequence[str], links: Mapping[Link, Need]) -> dict[Link, Need]:
    """The links without wishes of a method that the laws forbid on this garment."""
    kept = dict(links)
    while circle := find_circle(ids, kept):
        wish = next((link for link in zip(circle, circle[1:], strict=False) if kept[link].law == "method"), None)
        if wish is None:
            break
        del kept[wish]
    return kept


def _samples(operations: Sequence[Operation], order: Sequence[str], links: Mapping[Link, Need]) -> dict[Link, Need]:
    """A stitch or a pressing is tried on a scrap before the first work of its kind."""
    by_id = {op.id: op for op in operations}
    tried = [op for op in operations if op.verb == "sample" and not op.on]
    had: dict[str, set[str]] = {}
    found: dict[Link, Need] = {}
    for id_ in order:
        needed = [earlier for later, earlier in links if later == id_]
        had[id_] = set().union(*(had[n] | {by_id[n].place} for n in needed))
        op = by_id[id_]
        for sample in tried:
            if op.verb != "sample" and op.place == sample.place and op.place not in had[id_] and op.stage >= 0:
                found[(id_, sample.id)] = Need(
                    sample.id, "It is tried on a scrap before the first piece is touched.", "method"
                )
    return found
