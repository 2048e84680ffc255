"""A whole order held against the cloth: each step that cannot be done, why, and what must be unpicked for it."""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from itertools import combinations

from rowanseed.core.sew.cloth.acts import ENDING, JOINING, ON_TOP, Act, Impossible, Obstacle
from rowanseed.core.sew.cloth.half_made import HalfMade
from rowanseed.core.sew.cloth.sheets import Sheets


@dataclass(frozen=True)
class Stopped:
    """A step that cloth does not allow where it stands, and the steps that were done before it."""

    act: Act
    obstacle: Obstacle
    done: tuple[Act, ...]


MOST_ROWS = 16
BARS = JOINING | ENDING | ON_TOP | {"turn", "undo", "fuse", "baste"}


def turns_of(acts: Sequence[Act]) -> frozenset[str]:
    """The lines that some step turns."""
    return frozenset(thing for act in acts if act.verb == "turn" for thing in act.on)


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
            stopped.append(Stopped(act, impossible.obstacle, tuple(done)))
        else:
            done.append(act)
    return stopped, cloth


def _could(sheets: Sheets, done: Sequence[Act], act: Act, turns: frozenset[str]) -> bool:
    """Whether a step could be done after others; what among these hangs on a row that is taken out falls out with it."""
    cloth = HalfMade(sheets, turns)
    for each in done:
        with suppress(Impossible):
            cloth.do(each)
    try:
        cloth.do(act)
    except Impossible:
        return False
    return True


def unpick(sheets: Sheets, stop: Stopped, turns: frozenset[str]) -> tuple[str, ...]:
    """The latest single step without which a stopped one could be done, else every step since it last could, else two rows.

    Only rows, ends and turnings are tried: nothing else shuts a way or uses an edge.
    """
    done = stop.done
    bars = [at for at in range(len(done)) if done[at].verb in BARS]
    for at in reversed(bars):
        if _could(sheets, [*done[:at], *done[at + 1 :]], stop.act, turns):
            return (done[at].id,)
    for at in reversed(bars):
        if _could(sheets, done[:at], stop.act, turns):
            return tuple(each.id for each in done[at:])
    rows = [at for at in bars if done[at].verb in JOINING][-MOST_ROWS:]
    for one, other in combinations(reversed(rows), 2):  # shell and lining, each by a step of its own
        rest = [act for at, act in enumerate(done) if at not in (one, other)]
        if _could(sheets, rest, stop.act, turns):
            return done[one].id, done[other].id
    return ()
