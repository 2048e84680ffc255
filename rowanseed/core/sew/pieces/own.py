"""The sewist's own steps among those of a pieced garment: where she said, else beside what she tied them to."""

from collections.abc import Sequence

from rowanseed.core.sew.circles import find_circle
from rowanseed.core.sew.model import Need, Operation, OwnStep
from rowanseed.core.sew.own_steps import own_operation
from rowanseed.core.sew.pieces.making import Made, StepsAsked
from rowanseed.core.sew.stages import JOINED, stage_of

Item = tuple[Operation, tuple[Need, ...]]
WISH = "method"
SAID_AFTER, SAID_BEFORE = "You said that it comes after this.", "You said that it comes before this."


def add_own(made: Made, asked: StepsAsked) -> None:
    """Add her steps: after and before the steps that she named, else before or after the use of the edges that she named."""
    for step in asked.said.own:
        op = own_operation(step)
        made.items[op.id] = (op, [Need(id_, SAID_AFTER, WISH) for id_ in step.after])
        made.ways[op.id] = "again"
    for step in asked.said.own:
        for id_ in step.before:
            if id_ in made.items:
                made.items[id_][1].append(Need(step.id, SAID_BEFORE, WISH))
        if not step.after and not step.before:
            _beside(made, asked, made.items[step.id][0])


def _beside(made: Made, asked: StepsAsked, op: Operation) -> None:
    """A step that is tied to edges: before they are used if that is when its verb is done, else once they are whole."""
    edges = _edges(made, asked, op.on)
    if not op.verb or not edges:
        return
    if stage_of(op.verb) < JOINED:
        made.before_used(edges, Need(op.id, "Once the edge is sewn it can not be done so well.", WISH))
    else:
        whole = dict.fromkeys(id_ for e in edges for id_ in made.whole.get(e, ()))
        made.items[op.id][1].extend(Need(id_, "The edge is sewn first.", WISH) for id_ in whole)


def _edges(made: Made, asked: StepsAsked, on: Sequence[str]) -> list[str]:
    """The edges that she named, by themselves, in a seam or by their unit."""
    g = asked.garment
    parts = [part for thing in on for part in thing.split("+")]
    return [
        f"{p.id}.{e}" for p in g.pieces for e in p.edges
        if any(name in parts for name in (f"{p.id}.{e}", f"{p.unit}.{e}", f"{p.layer}.{p.unit}.{e}"))
    ]  # fmt: skip


def unknown_places(own: Sequence[OwnStep], ids: Sequence[str]) -> list[tuple[int, str, str]]:
    """The steps that she named and that the garment has not: whose (by place), `after` or `before`, the id."""
    return [
        (at, word, id_)
        for at, step in enumerate(own)
        for word, named in (("after", step.after), ("before", step.before))
        for id_ in named
        if id_ not in ids
    ]


def settled_wishes(items: Sequence[Item]) -> tuple[tuple[Item, ...], tuple[tuple[str, str], ...]]:
    """The steps without wishes that stand against cloth and craft, and those wishes (what was to come later, after what)."""
    ids = [op.id for op, _ in items]
    links = [(op.id, n.id) for op, needs in items for n in needs if n.law != WISH and n.id in ids]
    wished = [(op.id, n.id) for op, needs in items for n in needs if n.law == WISH and n.id in ids]
    gave_way: list[tuple[str, str]] = []
    for wish in wished:
        if find_circle(ids, [*links, wish]):
            gave_way.append(wish)
        else:
            links.append(wish)
    kept = set(links)
    return tuple((op, tuple(n for n in needs if (op.id, n.id) in kept)) for op, needs in items), tuple(gave_way)


def without_wishes(needs: Sequence[Need]) -> tuple[Need, ...]:
    """Needs without what was only wished."""
    return tuple(need for need in needs if need.law != WISH)
