"""Work on a piece that lies flat: stayed first, shaped and finished, before a seam makes a tube of it."""

from rowanseed.core.sew.anatomy import TUBES, edges_of, unit_of
from rowanseed.core.sew.laws.links import Laws
from rowanseed.core.sew.stages import JOINED, WORKED
from rowanseed.core.sew.wording import why

STAYED = 2  # staystitching, tape: before the piece is handled
LIGHTEST = ("shoulder", "raglan", "side", "waist")  # until these are sewn a piece hangs on nothing
HANDLING = frozenset(
    {"dart", "tuck", "pleat", "gather", "join", "attach", "insert", "face", "cut"}
)  # what pulls a piece through the machine
SHRINKING = frozenset({"gather", "ease", "shirr"})  # what makes a flat piece a shaped one
ALONG = (".hem", ".wrist")  # edges between which the seams of a tube run


def stayed(laws: Laws, seam: str, edge: str) -> None:
    """An edge is stayed before the pieces are handled to sew the seams that end on it."""
    for op in laws.on.get(edge, []):
        if op.verb == "stay" and op.stage == STAYED:
            for join in laws.on.get(seam, []):
                if join.verb == "join" and join.stage >= 0:
                    laws.need(join, op, "stay", why(laws.assembly, op, join, edge))
                elif join.verb == "finish" and join.stage < JOINED:
                    laws.need(join, op, "method", why(laws.assembly, op, join, edge))


def stayed_first(laws: Laws) -> None:
    """Edges are stayed before anything else of their piece is sewn, since each handling stretches them."""
    for stay in laws.operations:
        if stay.verb != "stay" or stay.stage != STAYED:
            continue
        units = {unit_of(edge) for thing in stay.on for edge in edges_of(thing)}
        for op in laws.operations:
            own = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
            if own & units and op.verb in HANDLING and op.stage > STAYED and not set(op.on) & set(stay.on):
                laws.need(op, stay, "method", "Each handling of the piece stretches an edge that is not stayed yet.")


def shaped_flat(laws: Laws) -> None:
    """Darts and tucks are sewn and pressed while their piece lies flat, before its seams and its zip."""
    for op in laws.operations:
        darts = op.verb in ("dart", "press") and any(thing.endswith(".dart") for thing in op.on)
        if not darts and (op.verb != "tuck" or op.stage < 0):
            continue
        units = {unit_of(thing) for thing in op.on}
        for join in laws.operations:
            own = {unit_of(edge) for thing in join.on for edge in edges_of(thing)}
            zipped = join.verb == "insert" and any(thing.endswith(".zip") for thing in join.on)
            sewn = join.verb in ("join", "attach", "face") or zipped
            basted = join.verb == "baste" and any(thing.endswith(".side") for thing in join.on)
            if own & units and ((sewn and join.stage >= 0) or basted):
                laws.need(join, op, "method", "Darts and tucks are sewn while the piece lies flat.")


def finished_flat(laws: Laws) -> None:
    """Raw edges of pieces are finished before the pieces are gathered, eased to shape or folded across them."""
    for finish in laws.operations:
        if finish.verb != "finish" or finish.stage >= JOINED:
            continue
        units = {unit_of(edge) for thing in finish.on for edge in edges_of(thing)}
        for op in laws.operations:
            own = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
            folded = op.verb in ("fold", "hem") or (
                op.verb == "press" and any(thing.endswith(ALONG) for thing in op.on)
            )
            if own & units and (folded or op.verb in SHRINKING):
                laws.need(op, finish, "method", "Raw edges are finished while the pieces lie flat as they were cut.")


def flat(laws: Laws) -> None:
    """What is sewn onto a piece comes before the seam that makes a tube of it."""
    for op in laws.operations:
        if not op.flat:
            continue
        for name in {unit_of(edge) for thing in op.on for edge in edges_of(thing)}:
            unit = laws.assembly.units.get(name)
            tube = TUBES.get(unit.kind) if unit else None
            for user in laws.touching.get(f"{name}.{tube}", ()) if tube else ():
                if user.verb == "join" and user.stage >= 0:
                    laws.need(user, op, "flat", why(laws.assembly, op, user, f"{name}.{tube}"))
            for edge in LIGHTEST if tube and op.place == "machine" else ():
                for user in laws.consumers(f"{name}.{edge}"):
                    if user.stage >= JOINED:
                        laws.need(user, op, "method", "A piece is lightest to turn before it hangs on anything.")


def tubes(laws: Laws) -> None:
    """Of the seams along a tube all but the last are done with, felled and pressed, before the last one closes it."""
    for unit in laws.assembly.units.values():
        closing = unit.seams.get(TUBES.get(unit.kind, ""))
        if closing is None:
            continue
        along = {edge for edge in closing.ends if edge.endswith(ALONG)}
        for seam in unit.seams.values():
            if seam is closing or seam.thing in closing.ends or closing.thing in seam.ends or not along & {*seam.ends}:
                continue
            if seam.kind is not None and seam.kind.apart:
                continue  # it waits for its zip
            for op in laws.on.get(seam.thing, []):
                for join in laws.on.get(closing.thing, []):
                    if join.verb == "join" and join.stage == JOINED <= op.stage <= WORKED and join is not op:
                        laws.need(join, op, "method", "It is done while the piece still lies open.")
