"""Any order, replayed step by step: what is joined, crossed, covered and closed by then, and which law a step comes too late for.

Nothing of the planner or of `laws` is used: each step is asked whether the things it works on can still be worked on, from the
state that the earlier steps left. Only the vocabulary is shared (verbs, stages, what things are called).
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from rowanseed.core.sew.anatomy import SMALL, TUBES, edges_of, unit_of
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.garment_key import GarmentKey
from rowanseed.core.sew.gravity import PRECAUTIONS, How, Kind, gravity
from rowanseed.core.sew.instances import operations_of
from rowanseed.core.sew.model import Asked, Library, Operation, SewnGarment, several
from rowanseed.core.sew.own_steps import own_operations
from rowanseed.core.sew.stages import CONSUMING, JOINED, OUTSIDE, TURNED, WORKED, stage_of
from rowanseed.core.sew.units import Assembly, Unit
from rowanseed.core.sew.wording import crossing_law, law_between, say

LARGE = (
    "body",
    "bodice",
    "skirt",
    "leg",
    "sleeve",
)  # the pieces whose every edge is used; a small one is made as a whole
GRAVEST = ("stop", "care", "note")
AFTER_ALL = 98  # from this stage on: last looks at the whole garment
ZIP_WORK = ("baste", "press", "insert", "face")  # the opening of a zip is worked with these, the tape put in

HAPPENS = {
    "layers": "What was sewn through one layer alone puckers, and the backing cannot be brought in any more.",
    "marks": "The marks are lost once the tissue is off and the pieces are handled.",
    "stay": "The edge has stretched by then; staying it fixes the wrong length.",
    "shape": "The edge is used at its flat length; the shaping no longer fits in.",
    "parts": "What ends there is missing from the seam and cannot be caught in it later.",
    "flat": "The piece is a tube by then and does not lie under the machine.",
    "crossing": "The end lies under another seam: it can neither be finished nor pressed open there.",
    "finish": "The raw edge is out of reach and frays where nobody can get at it.",
    "clip": "The scissors do not reach it any more, so the edge pulls and will not lie flat.",
    "turn": "It is turned already; it would have to be turned back.",
    "inside": "The space is closed; it would have to be opened again.",
    "through": "The layers shift or miss one another, and the row does not hold what it should.",
    "openings": "An opening that is not stitched or stayed first frays, or there is nothing to sew it to.",
    "hem": "The end is caught in the hem, which has to be unpicked.",
    "ends": "Its end sticks out of the band, collar or facing that should take it in.",
    "try-on": "It cannot be let out again.",
    "complete": "It is missed at the last look.",
    "method": "It can be sewn so, only not in the way that was chosen.",
}  # fmt: skip


@dataclass(frozen=True)
class OrderFinding:
    """Something about an order: the step it concerns, the need it breaks, by which law, on which things, what will happen.

    `kind`: what cloth can not do (`physics`), what comes out worse (`craft`), what was wished, or an answer to what was sent.
    """

    level: str
    code: str
    text: str
    step: str
    needs: str = ""
    law: str = ""
    on: tuple[str, ...] = ()
    kind: Kind = "answer"


@dataclass
class _State:
    """What the steps so far have done to the garment's things."""

    known: tuple[Operation, ...]
    done: list[Operation] = field(default_factory=list)
    on: dict[str, list[Operation]] = field(default_factory=dict)
    touched: dict[str, list[Operation]] = field(default_factory=dict)
    covered: dict[str, list[Operation]] = field(default_factory=dict)
    closed: dict[str, Operation] = field(default_factory=dict)

    def do(self, op: Operation) -> None:
        """Let a step change the state."""
        self.done.append(op)
        for thing in op.on:
            self.on.setdefault(thing, []).append(op)
            for edge in edges_of(thing):
                self.touched.setdefault(edge, []).append(op)
        for thing in op.covers:
            for edge in edges_of(thing):
                self.covered.setdefault(edge, []).append(op)
        self.closed.update(dict.fromkeys(op.closes, op))


Late = tuple[Operation, str, str]  # the earlier step that made it too late, the law, the thing


def check_order(library: Library, garment: SewnGarment, order: Sequence[str]) -> list[OrderFinding]:
    """What is wrong with an order of step ids: laws broken with what will happen, steps left out, doubled, foreign.

    Raises:
        FeatureError: a feature, choice or school the library does not know.
    """
    return list(_checked(GarmentKey(library, garment), tuple(order)))


@lru_cache(maxsize=128)
def _checked(asked: GarmentKey, order: tuple[str, ...]) -> tuple[OrderFinding, ...]:
    library, garment = asked.library, asked.garment
    assembly = assembled(library, garment)
    known = {op.id: op for op in [*operations_of(library, assembly), *own_operations(garment)]}
    found: list[OrderFinding] = []
    state, seen, said = _State(tuple(known.values())), set[str](), set[tuple[str, str]]()
    for step in order:
        if step not in known:
            found.append(
                OrderFinding("care", "not-in-garment", f"“{step}” is no step of this garment.", step, law="once")
            )
        elif step in seen:
            text = f"“{known[step].title}” stands in the order twice."
            found.append(OrderFinding("care", "done-twice", text, step, law="once", on=known[step].on))
        else:
            seen.add(step)
            found += _judge(assembly, state, known[step], said)
            state.do(known[step])
    return (*found, *_left(known, seen), *_left_raw(assembly, state, known, seen))


def _judge(assembly: Assembly, state: _State, op: Operation, said: set[tuple[str, str]]) -> Iterator[OrderFinding]:
    """The findings of doing one step in a state; a pair of steps is named once, by the gravest."""
    judged = [
        (*gravity(op, earlier, law, how), earlier, law, thing)
        for earlier, law, thing, how in _too_late(assembly, state, op)
    ]
    for level, kind, earlier, law, thing in sorted(judged, key=lambda each: GRAVEST.index(each[0])):
        if (earlier.id, op.id) in said:
            continue
        said.add((earlier.id, op.id))
        what = say(assembly, thing) if assembly.has(thing) else ""
        where = f" ({what})" if what else ""
        text = f"“{earlier.title}” comes before “{op.title}”{where}. {HAPPENS[law]}"
        things = tuple(dict.fromkeys((thing, *op.on)))[:4]
        yield OrderFinding(level, "too-early", text, earlier.id, op.id, law, things, kind)


def _left(known: dict[str, Operation], seen: set[str]) -> Iterator[OrderFinding]:
    """Steps that are left out: precautions once for all of their kind, the others each."""
    left = {id_: op for id_, op in known.items() if id_ not in seen}
    for id_, op in left.items():
        if op.verb in PRECAUTIONS:
            continue
        what = f" {op.closes[0].split('.')[0].capitalize()} stays open." if op.closes else ""
        kind: Kind = "physics" if op.verb in CONSUMING else "craft"
        yield OrderFinding("care", "left-out", f"“{op.title}” is left out.{what}", id_, "", "complete", op.on, kind)
    for verb in sorted({op.verb for op in left.values()} & PRECAUTIONS):
        some = [op for op in left.values() if op.verb == verb]
        named = ", ".join(f"“{op.title}”" for op in some[:4]) + (f" and {len(some) - 4} more" if len(some) > 4 else "")
        on = tuple(dict.fromkeys(thing for op in some for thing in op.on))
        text = f"{named}: left out. It is a precaution; one can do without."
        yield OrderFinding("note", "left-out", text, some[0].id, "", "complete", on, "craft")


def _left_raw(assembly: Assembly, state: _State, known: dict[str, Operation], seen: set[str]) -> Iterator[OrderFinding]:
    """Edges of the large pieces that nothing joins, hems, faces or binds, unless a step that was left out would."""
    missed = {edge for id_, op in known.items() if id_ not in seen for thing in op.on for edge in edges_of(thing)}
    for unit in assembly.units.values():
        for name in sorted(unit.edges) if unit.kind in LARGE else ():
            edge = f"{unit.name}.{name}"
            done = state.touched.get(edge, ())
            used = any(op.verb in CONSUMING - {"fold"} | {"insert"} for op in done)
            if used or edge in missed or (name == "upper" and "neck" in unit.edges) or _named_raw(assembly, unit, name):
                continue
            text = f"{say(assembly, edge).capitalize()} is raw at the end: nothing joins, hems, faces or binds it."
            yield OrderFinding("care", "left-raw", text, "", law="complete", on=(edge,))


def _named_raw(assembly: Assembly, unit: Unit, edge: str) -> bool:
    """Whether the description says that an edge stays as it was cut."""
    return edge == "hem" and "none" in several(unit.features.get("hem", assembly.garment.features.get("hem", "none")))


def _too_late(assembly: Assembly, state: _State, op: Operation) -> Iterator[tuple[Operation, str, str, How]]:
    ways: tuple[tuple[How, Iterator[Late]], ...] = (
        ("asked", _asked(state, op)),
        ("thing", _for_its_thing(state, op)),
        ("edge", _for_its_edge(assembly, state, op)),
        ("crossed", _crossed(assembly, state, op)),
        ("reach", _out_of_reach(state, op)),
        ("piece", _for_its_piece(assembly, state, op)),
    )
    for how, late in ways:
        yield from ((earlier, law, thing, how) for earlier, law, thing in late)


def _for_its_thing(state: _State, op: Operation) -> Iterator[Late]:
    """Something later in the life of the same thing is done already."""
    for thing in op.on:
        for other in state.on.get(thing, ()):
            if other.stage > op.stage:
                yield other, law_between(op, other), thing
    for other in state.done:
        if other.stage >= AFTER_ALL and op.stage < other.stage and op.verb:
            yield other, "complete", next(iter(op.on), "")


def _used(state: _State, edge: str) -> list[Operation]:
    """The steps that have used an edge up."""
    return [other for other in state.touched.get(edge, ()) if other.verb in CONSUMING and other.stage >= JOINED]


def _for_its_edge(assembly: Assembly, state: _State, op: Operation) -> Iterator[Late]:
    """The raw edge that it works on is used already, or the used one that it works on was not used before."""
    for edge in dict.fromkeys(edge for thing in op.on for edge in edges_of(thing)):
        if op.stage < JOINED:
            yield from ((user, law_between(op, user), edge) for user in _used(state, edge))
        if op.verb == "stay" and op.stage == stage_of("stay") and edge in op.on:
            handled = (seam for seam, ends in assembly.ends().items() if edge in ends)
            yield from (
                (o, "stay", edge)
                for seam in handled
                for o in state.on.get(seam, ())
                if o.verb == "join" and o.stage >= 0
            )
        if op.verb in CONSUMING and op.stage >= JOINED and edge not in op.on:
            for other in state.on.get(edge, ()):
                if other.stage > op.stage:
                    yield other, law_between(op, other), edge


def _crossed(assembly: Assembly, state: _State, op: Operation) -> Iterator[Late]:
    """Something was sewn over the end of its seam."""
    ends = assembly.ends()
    for seam in op.on:
        for edge in ends.get(seam, ()):
            zip_ = seam.endswith(".zip") and op.verb in ZIP_WORK
            last = (edge, seam) in assembly.last and (op.stage >= JOINED or zip_ or op.verb == "baste")
            for user in _used(state, edge) if 0 <= op.stage <= WORKED and not last else ():
                if user.id != op.id and seam not in user.on:
                    yield user, crossing_law(op, user), seam
    if JOINED <= op.stage <= WORKED:
        yield from _under_the_last_seam(assembly, state, op)
    for edge, some in assembly.edge_ends().items():
        mine = any(edge in edges_of(thing) for thing in op.on)
        for end in some if mine and JOINED <= op.stage <= TURNED else ():
            for user in _used(state, end):
                both = any(end in edges_of(t) for t in op.on) or any(edge in edges_of(t) for t in user.on)
                if not both:
                    yield user, crossing_law(op, user), edge


def _under_the_last_seam(assembly: Assembly, state: _State, op: Operation) -> Iterator[Late]:
    """The seam that its method leaves for last is sewn over its end already."""
    mine = {edge for thing in op.on for edge in edges_of(thing)}
    for edge, seam in assembly.last:
        for other in state.on.get(seam, ()) if edge in mine else ():
            zip_ = seam.endswith(".zip") and other.verb in ZIP_WORK
            if ((other.verb == "join" and other.stage >= JOINED) or zip_) and not set(op.on) & set(other.on):
                yield other, "method" if op.verb in CONSUMING else "crossing", edge


def _out_of_reach(state: _State, op: Operation) -> Iterator[Late]:
    """Its thing is covered, or the space that it works in is closed."""
    for space in op.inside:
        if space in state.closed:
            yield state.closed[space], "inside", next(iter(op.on), "")
    if op.verb in OUTSIDE:
        return
    for edge in dict.fromkeys(edge for thing in op.on for edge in edges_of(thing)):
        for other in state.covered.get(edge, ()):
            if op.stage < other.stage or (op.stage == other.stage and op.layer == other.layer):
                law = {"trim": "clip", "clip": "clip", "grade": "clip", "finish": "finish"}.get(op.verb, "")
                yield other, law or ("turn" if other.verb == "turn" else "inside" if other.closes else "ends"), edge


def _for_its_piece(assembly: Assembly, state: _State, op: Operation) -> Iterator[Late]:
    """The piece that it backs, marks, makes or decorates is joined or handled already."""
    mine = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
    backs = {unit_of(thing) for thing in op.on if thing.endswith(".layer") and op.verb in ("fuse", "baste")}
    whole = {assembly.top if thing == "panel" else thing for thing in op.on if op.stage < JOINED} & set(assembly.units)
    for other in state.done:
        units = {unit_of(edge) for thing in other.on for edge in edges_of(thing)}
        backing = any(thing.endswith(".layer") for thing in other.on)
        if units & backs and other.stage >= 0 and not backing and other.verb not in ("mark", "sample"):
            yield other, "layers", f"{min(units & backs)}.layer"
        if -7 <= op.stage <= -4 and units & mine and other.stage > -4 and other.verb not in ("mark", "sample"):
            yield other, "parts", next(iter(op.on))
        if op.template == "mark-pieces" and other.verb not in ("", "sample", "check"):
            yield other, "marks", next(iter(other.on), "")
        uses = other.verb in CONSUMING and other.stage >= JOINED
        edges = {edge for thing in other.on for edge in edges_of(thing)}
        if uses and any(unit_of(edge) in whole and edge != unit_of(edge) for edge in edges):
            yield other, law_between(op, other), next(iter(op.on))
        made = len(mine) == 1 and next(iter(mine)) in SMALL and 0 <= op.stage <= TURNED
        inner = op.verb not in OUTSIDE or op.verb in ("topstitch", "decorate")
        if made and inner and other.verb in CONSUMING and len(units) > 1 and mine <= units:
            yield other, "ends", next(iter(mine))
        if op.flat and other.verb == "join" and other.stage >= 0:
            tubes = {
                f"{unit}.{seam}"
                for kind, seam in TUBES.items()
                for unit in mine
                if unit.removeprefix("lining.") == kind
            }
            if tubes & edges:
                yield other, "flat", min(tubes & edges)


def _asked(state: _State, op: Operation) -> Iterator[Late]:
    """A step that asked for this one is done already, or one that this one asked to come before."""
    for other in state.done:
        for need in other.needs:
            if _meant(state, need, op, other, users=False):
                yield other, need.law, next(iter(op.on), "")
        for need in op.before:
            if _meant(state, need, other, op, users=True):
                yield other, need.law, next(iter(op.on), "")


def _meant(state: _State, need: Asked, op: Operation, asker: Operation, users: bool) -> bool:
    """Whether a need, asked by a step, means this operation."""
    if op.id == asker.id or (need.on and need.on in asker.on):
        return False
    if not need.on:
        named = [o for o in state.known if need.id in (o.template, o.id)]
        nearest = [o for o in named if o.unit == asker.unit] or [o for o in named if o.layer == asker.layer] or named
        return op in nearest
    if "+" in need.on:
        touches = need.on in op.on
    else:
        touches = any(need.on in edges_of(thing) for thing in op.on)
    if not touches:
        return False
    if users and "+" not in need.on:
        return op.verb in CONSUMING and op.stage >= JOINED
    return users or op.stage <= WORKED or op.verb in ("turn", "close")
