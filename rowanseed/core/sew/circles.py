"""Needs as links between ids: sorted so that every need comes first, or the circle that they go round in."""

from collections.abc import Iterable, Mapping, Sequence

from rowanseed.core.errors import FeatureError

Link = tuple[str, str]  # what comes later, what it needs


def topological(ids: Sequence[str], links: Iterable[Link]) -> list[str]:
    """The ids so that every need comes first, otherwise in their order.

    Raises:
        FeatureError: the needs go round in a circle; it names those that do.
    """
    needs: dict[str, set[str]] = {id_: set() for id_ in ids}
    for later, earlier in links:
        needs[later].add(earlier)
    out, rest = _sorted(ids, needs)
    if rest:
        raise FeatureError("The needs go round in a circle: " + " ← ".join(_circle(rest, needs)))
    return out


def find_circle(ids: Sequence[str], links: Iterable[Link]) -> list[str]:
    """One circle of needs, each id followed by what it needs, the first one again at the end; empty where there is none."""
    needs: dict[str, set[str]] = {id_: set() for id_ in ids}
    for later, earlier in links:
        needs[later].add(earlier)
    _, rest = _sorted(ids, needs)
    return _circle(rest, needs) if rest else []


def _sorted(ids: Sequence[str], needs: Mapping[str, set[str]]) -> tuple[list[str], list[str]]:
    """The ids so that every need comes first, and those that cannot be placed."""
    out: list[str] = []
    done: set[str] = set()
    rest = list(ids)
    while id_ := next((i for i in rest if needs[i] <= done), None):
        rest.remove(id_)
        out.append(id_)
        done.add(id_)
    return out, rest


def _circle(rest: Sequence[str], needs: Mapping[str, set[str]]) -> list[str]:
    left, seen = set(rest), list[str]()
    at = rest[0]
    while at not in seen:
        seen.append(at)
        at = min(needs[at] & left)
    return [*seen[seen.index(at) :], at]
