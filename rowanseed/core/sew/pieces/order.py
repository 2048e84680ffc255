"""A sound order of the steps that pieces and fates ask for, and any order of them held against the cloth and the craft."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.checker import OrderFinding
from rowanseed.core.sew.circles import topological
from rowanseed.core.sew.cloth.acts import JOINING
from rowanseed.core.sew.cloth.replay import Stopped, replay, turns_of, unpick
from rowanseed.core.sew.gravity import PRECAUTIONS, Kind, Level
from rowanseed.core.sew.model import ClothTraits, Need, Operation, Step
from rowanseed.core.sew.order import in_sittings
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.model import base_of
from rowanseed.core.sew.pieces.own import without_wishes
from rowanseed.core.sew.pieces.steps import Item, PieceSteps, steps_of
from rowanseed.core.sew.planner import Objective, in_phases, plan
from rowanseed.core.sew.settings import machine_settings

WORSE = "It comes out worse so, or has to be done again."
ROUNDS = 24
GIVES_WAY = frozenset({"ends", "crossing"})
NAMED = 6  # so many stops name what would have to be unpicked; an order that is all wrong would be slow to read
CAUSES = {
    "there": "what it works on is not there, or used up",
    "free": "its edge is taken already, or out of reach",
    "reach": "it lies in what is closed by then, and nothing reaches in",
    "turn": "nothing can be turned out of what is closed by then, and a plain seam cannot shut itself in",
    "layers": "a layer that it has to catch is not there, or one that it must not catch lies behind it",
    "length": "its edge is sewn already, and its length is fixed",
    "whole": "the garment is not whole",
}


def ordered(
    asked: StepsAsked, cloth: ClothTraits, minutes: int, objective: Objective = "least-changes"
) -> tuple[PieceSteps, list[Step]]:
    """Return the steps in an order that the cloth allows, with the least changes of place.

    Raises:
        FeatureError: the pieces ask for steps that wait for one another in a circle.
    """
    work = planned_pieces(asked, objective)
    items = plan(in_phases(work.items), objective).items
    return work, in_sittings([Step(op, needs, machine_settings(op, cloth), {}) for op, needs in items], minutes)


def planned_pieces(asked: StepsAsked, objective: Objective = "least-changes") -> PieceSteps:
    """Return the steps with all that the cloth asks to come first, learned by trying their order on it. Raises FeatureError."""
    work = _tried(steps_of(asked), _as_liked)
    return _tried(work, lambda items: [op.id for op, _ in plan(in_phases(items), objective).items])


def _tried(work: PieceSteps, order: Callable[[Sequence[Item]], Sequence[str]]) -> PieceSteps:
    """Try an order on the cloth and learn from each step that cannot be done, until all can or nothing more is learned."""
    for _ in range(ROUNDS):
        acts = work.acts
        stopped, _ = replay(work.unfolded.sheets, [acts[id_] for id_ in order(work.items)])
        better = _learned(work, stopped) if stopped else None
        if better is None:
            break
        work = better
    return work


def _as_liked(items: Sequence[Item]) -> list[str]:
    """The steps in their natural order, as far as needs allow. Raises FeatureError for a circle."""
    liked = [op.id for op, _ in in_phases(items)]
    return list(topological(liked, [(op.id, need.id) for op, needs in items for need in needs]))


def _learned(work: PieceSteps, stopped: Sequence[Stopped]) -> PieceSteps | None:
    """The steps with what a refused order taught: what comes first, or the seam that is closed from outside; none if nothing."""
    by = {op.id: op for op, _ in work.items}
    for stop in stopped:
        op = by[stop.act.id]
        if stop.obstacle.cause == "turn" and op.verb in JOINING and not work.asked.felled:
            return steps_of(replace(work.asked, felled=_closed_last(work, op)))
        why = f"It can not be done later: {CAUSES[stop.obstacle.cause]}."
        bars = unpick(work.unfolded.sheets, stop, turns_of(list(work.acts.values())))
        better: PieceSteps | None = work if bars else None
        for later in bars if len(bars) == 2 else bars[:1]:
            better = _waits(better, later, Need(op.id, why, "inside")) if better is not None else None
        if better is not None:
            return better
    return None


def _waits(work: PieceSteps, later: str, need: Need) -> PieceSteps | None:
    items = tuple((op, (*needs, need) if op.id == later else needs) for op, needs in work.items)
    thing = next(op.on for op, _ in items if op.id == later)
    own = {op.id for op, _ in items if op.on == thing}
    # Where the craft wants it the other way round, the cloth is followed: what would cross the later seam does not wait for it.
    freed = tuple((op, tuple(n for n in needs if n.id not in own or n.law not in GIVES_WAY)) for op, needs in items)
    plain = tuple((op, without_wishes(needs)) for op, needs in freed)
    for tried in (items, freed, plain):
        try:
            _as_liked(tried)
        except FeatureError:
            continue
        return replace(work, items=tried)
    return None


def _closed_last(work: PieceSteps, op: Operation) -> frozenset[int]:
    """The seams that are felled from outside: the lining's hem, else its other edges, else the one that shut itself in."""
    g = work.asked.garment

    def lined(n: int) -> bool:
        return len({g.piece_of(e).layer == "lining" for e in g.seams[n].edges}) > 1

    for names in (("hem",), ("waist",), ("wrist",)):
        some = [
            n
            for n in sorted(work.asked.bagged)
            if lined(n) and base_of(g.seams[n].edges[0].rpartition(".")[2]) in names
        ]
        if some:
            return frozenset(some)
    keys = {n for n, seam in enumerate(g.seams) if "+".join(seam.edges) in op.on}
    return frozenset(keys)


def check_pieces(work: PieceSteps, order: Sequence[str]) -> list[OrderFinding]:
    """Return what is wrong with an order of these steps: what cloth does not allow, what comes out worse, what is left out.

    Only what cloth does not allow is a stop; a stop names what would have to be unpicked.
    """
    known = {op.id: (op, needs) for op, needs in work.items}
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
            done.append(id_)
    stopped = _stops(work, known, done)
    found += stopped
    told = {(f.step, f.needs) for f in stopped} | {(f.needs, f.step) for f in stopped}
    for at, id_ in enumerate(done):
        found += [f for f in _too_early(known[id_][0], known, done[:at]) if (f.step, f.needs) not in told]
    for id_, (op, _) in known.items():
        if id_ not in done:
            level = "note" if op.verb in PRECAUTIONS else "care"
            text = f"“{op.title}” is left out."
            found.append(OrderFinding(level, "left-out", text, id_, "", "complete", op.on, "craft"))
    return found


def _stops(work: PieceSteps, known: dict[str, Item], done: Sequence[str]) -> list[OrderFinding]:
    acts = work.acts
    stopped, _ = replay(work.unfolded.sheets, [acts[id_] for id_ in done])
    turns, found = turns_of([acts[id_] for id_ in done]), list[OrderFinding]()
    for at, stop in enumerate(stopped):
        op = known[stop.act.id][0]
        bars = unpick(work.unfolded.sheets, stop, turns) if at < NAMED else ()
        first = known[bars[0]][0] if bars else None
        undone = f" “{first.title}” would have to be unpicked." if first is not None else ""
        text = f"“{op.title}” can not be done there: {CAUSES[stop.obstacle.cause]}.{undone}"
        law = {"length": "shape", "layers": "layers", "whole": "complete"}.get(stop.obstacle.cause, "inside")
        level: Level = "care" if stop.obstacle.guessed else "stop"
        kind: Kind = "craft" if stop.obstacle.guessed else "physics"
        step, needs = (first.id, op.id) if first is not None else (op.id, "")
        found.append(OrderFinding(level, "too-early" if needs else "impossible", text, step, needs, law, op.on, kind))
    return found


def _too_early(late: Operation, known: dict[str, Item], before: Sequence[str]) -> Iterator[OrderFinding]:
    """The steps done already that are better done after this one."""
    for id_ in before:
        earlier, needs = known[id_]
        need = next((n for n in needs if n.id == late.id), None)
        if need is None:
            continue
        level = "note" if need.law == "complete" or late.verb in PRECAUTIONS else "care"
        text = f"“{earlier.title}” comes before “{late.title}”. {need.why} {WORSE}"
        yield OrderFinding(level, "too-early", text, id_, late.id, need.law, late.on, "craft")
