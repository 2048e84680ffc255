"""A whole order held against the cloth: each step that cannot be done, why, and what must be unpicked for it."""

from collections.abc import Sequence
from dataclasses import dataclass

from rowanseed.core.sew.cloth.acts import Act, Impossible, Obstacle
from rowanseed.core.sew.cloth.half_made import HalfMade
from rowanseed.core.sew.cloth.sheets import Sheets


@dataclass(frozen=True)
class Stopped:
    """A step that cloth does not allow where it stands, and the steps without which it could be done."""

    id: str
    obstacle: Obstacle
    unpick: tuple[str, ...]


def turns_of(acts: Sequence[Act]) -> frozenset[str]:
    """The lines that some step turns."""
    return frozenset(thing for act in acts if act.verb == "turn" for thing in act.on)


def obstacle(sheets: Sheets, acts: Sequence[Act], turns: frozenset[str]) -> tuple[Act, Obstacle] | None:
    """The first of these steps that cannot be done, and why; none if all can."""
    cloth = HalfMade(sheets, turns)
    for act in acts:
        try:
            cloth.do(act)
        except Impossible as impossible:
            return act, impossible.obstacle
    return None


def replay(sheets: Sheets, acts: Sequence[Act]) -> tuple[list[Stopped], HalfMade]:
    """Do an order step by step; return what cannot be done and the cloth at the end.

    A step that cannot be done is left out, and the order goes on without it: what comes after is judged by what is there.
    """
    turns, done, stopped = turns_of(acts), list[Act](), list[Stopped]()
    cloth = HalfMade(sheets, turns)
    for act in acts:
        try:
            cloth.do(act)
        except Impossible as impossible:
            stopped.append(Stopped(act.id, impossible.obstacle, unpick(sheets, done, act, turns)))
            cloth = HalfMade(sheets, turns)
            for each in done:
                cloth.do(each)
            continue
        done.append(act)
    return stopped, cloth


def unpick(sheets: Sheets, done: Sequence[Act], act: Act, turns: frozenset[str]) -> tuple[str, ...]:
    """The latest single step without which this one could be done, else every step since it last could."""
    for at in reversed(range(len(done))):
        rest = [*done[:at], *done[at + 1 :]]
        if obstacle(sheets, [*rest, act], turns) is None:
            return (done[at].id,)
    for at in reversed(range(len(done))):
        if obstacle(sheets, [*done[:at], act], turns) is None:
            return tuple(each.id for each in done[at:])
    return ()
