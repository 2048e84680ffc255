"""Edges: prepared before they are used, used once the seams that end on them are whole, covered last."""

from rowanseed.core.sew.anatomy import edges_of, unit_of
from rowanseed.core.sew.laws.flatness import stayed
from rowanseed.core.sew.laws.links import Laws
from rowanseed.core.sew.model import Operation
from rowanseed.core.sew.stages import CONSUMING, JOINED, OUTSIDE, TURNED, WORKED
from rowanseed.core.sew.wording import crossing_law, law_between, why

ZIP_VERBS = ("baste", "press", "insert", "face")  # what puts a zip into its opening


def prepared(laws: Laws) -> None:
    """What is done to a raw edge comes before the edge is used, what is done to a used one after it."""
    for edge in laws.touching:
        for user in laws.consumers(edge):
            for op in laws.touching.get(edge, []):
                if op.stage < JOINED:
                    laws.need(user, op, law_between(op, user), why(laws.assembly, op, user, edge))
                elif edge in op.on and op.stage > user.stage and edge not in user.on:
                    laws.need(op, user, law_between(user, op), why(laws.assembly, user, op, edge))


def basted_on(laws: Laws) -> None:
    """A layer or a strap is basted to an edge once both are stayed, pleated and gathered."""
    for op in laws.operations:
        if op.verb != "attach" or op.stage >= JOINED:
            continue
        for edge in {edge for thing in op.on if "+" in thing for edge in edges_of(thing)}:
            for earlier in laws.touching.get(edge, []):
                if earlier.stage < op.stage:
                    laws.need(op, earlier, law_between(earlier, op), why(laws.assembly, earlier, op, edge))


def whole_ends(laws: Laws) -> None:
    """Seams and shaping that end on an edge are complete before it is used, but for the seam that a method leaves for last."""
    for seam, ends in laws.assembly.ends().items():
        for edge in ends:
            for user in laws.consumers(edge):
                _cross(laws, seam, edge, user)
    for seam, ends in laws.assembly.ends().items():
        for edge in ends:
            stayed(laws, seam, edge)
    for edge, ends in laws.assembly.edge_ends().items():
        for end in ends:
            for user in laws.consumers(end):
                for op in laws.touching.get(edge, []):
                    own = any(end in edges_of(thing) for thing in op.on) or any(edge in edges_of(t) for t in user.on)
                    if JOINED <= op.stage <= TURNED and not own:
                        laws.need(user, op, crossing_law(op, user), why(laws.assembly, op, user, edge))


def _cross(laws: Laws, seam: str, edge: str, user: Operation) -> None:
    last = (edge, seam) in laws.assembly.last
    for op in laws.on.get(seam, []):
        if op.id == user.id or op.stage > WORKED or op.stage < 0:
            continue
        closing = op.verb == "baste" or (op.verb in ZIP_VERBS and seam.endswith(".zip"))
        if not last or (op.stage < JOINED and not closing):
            laws.need(user, op, crossing_law(op, user), why(laws.assembly, op, user, seam))
    if last:
        own = laws.on.get(seam, [])
        joins = [
            op
            for op in own
            if (op.verb == "join" and op.stage >= JOINED) or (op.verb in ZIP_VERBS and seam.endswith(".zip"))
        ]
        for join in joins:
            for op in laws.touching.get(edge, []):
                if JOINED <= op.stage <= WORKED and not set(op.on) & set(join.on):
                    law = "method" if op.verb in CONSUMING else "crossing"
                    laws.need(join, op, law, why(laws.assembly, op, join, edge))


def zip_edges(laws: Laws) -> None:
    """The edges that a zip is sewn to are finished, and the seams that end on them whole, before it covers them."""
    ends = laws.assembly.ends()
    for op in laws.operations:
        zipped = {unit_of(thing) for thing in op.on if op.verb == "insert" and thing.endswith(".zip")}
        for name in zipped & set(laws.assembly.units):
            for seam in laws.assembly.units[name].seams.values():
                if seam.kind is None or not seam.kind.apart:
                    continue
                for earlier in laws.on.get(seam.thing, []):
                    if earlier.verb == "finish" and earlier.stage < JOINED:
                        laws.need(op, earlier, "finish", why(laws.assembly, earlier, op, seam.thing))
                for crossing in (thing for thing, on in ends.items() if seam.thing in on):
                    for earlier in laws.on.get(crossing, []):
                        if 0 <= earlier.stage <= WORKED:
                            words = why(laws.assembly, earlier, op, crossing)
                            laws.need(op, earlier, crossing_law(earlier, op), words)


def basted_seams(laws: Laws) -> None:
    """What comes before a seam comes before it is basted, since the basting closes the pieces as the seam will."""
    for op in laws.operations:
        seams = {thing for thing in op.on if op.verb == "baste" and "+" not in thing}
        joins = {join.id for thing in seams for join in laws.on[thing] if join.verb == "join" and join.stage >= JOINED}
        for (later, earlier), need in list(laws.links.items()):
            if later in joins and earlier != op.id:
                laws.need(op, next(o for o in laws.operations if o.id == earlier), "method", need.why)


def covered(laws: Laws) -> None:
    """What is done to a thing comes before the step that puts it out of reach."""
    for closing in laws.operations:
        for thing in closing.covers:
            for edge in edges_of(thing):
                for op in laws.touching.get(edge, []):
                    later = (
                        op.verb in OUTSIDE
                        or op.stage > closing.stage
                        or (op.stage == closing.stage and op.layer != closing.layer)
                    )
                    if op.id != closing.id and not later:
                        laws.need(closing, op, _law_of_cover(op, closing), why(laws.assembly, op, closing, thing))


def _law_of_cover(op: Operation, closing: Operation) -> str:
    if op.verb in ("trim", "clip", "grade"):
        return "clip"
    if op.verb == "finish":
        return "finish"
    if closing.verb == "turn":
        return "turn"
    return "inside" if closing.closes else "ends"
