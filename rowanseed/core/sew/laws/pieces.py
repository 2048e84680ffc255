"""Pieces: made whole and made up before they are used, backed before anything is sewn through them."""

from rowanseed.core.sew.anatomy import SMALL, edges_of, unit_of
from rowanseed.core.sew.laws.links import Laws
from rowanseed.core.sew.stages import CONSUMING, JOINED, OUTSIDE, TURNED
from rowanseed.core.sew.wording import law_between, why

PIECED = (-7, -4)  # stages at which a piece is put together before it is used


def layers(laws: Laws) -> None:
    """What backs a whole piece is on before anything is sewn through the piece."""
    for op in laws.operations:
        backed = {
            unit_of(thing) for thing in op.on if thing.endswith(".layer") and op.verb in ("fuse", "baste", "trim")
        }
        for other in laws.operations if backed else ():
            own = {unit_of(edge) for thing in other.on for edge in edges_of(thing)} & backed
            backing = any(thing.endswith(".layer") for thing in other.on)
            if own and other.stage >= 0 and not backing and other.verb not in ("mark", "sample"):
                laws.need(other, op, "layers", why(laws.assembly, op, other, f"{sorted(own)[0]}.layer"))


def made_whole(laws: Laws) -> None:
    """A piece cut in two, or tucked before it is cut to shape, is a whole piece before anything else is done to it."""
    for op in laws.operations:
        if not PIECED[0] <= op.stage <= PIECED[1]:
            continue
        units = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
        for other in laws.operations:
            own = {unit_of(edge) for thing in other.on for edge in edges_of(thing)}
            if own & units and other.stage > PIECED[1] and other.verb not in ("mark", "sample"):
                laws.need(other, op, "parts", "A piece is made whole before anything else is done to it.")


def made_before_use(laws: Laws) -> None:
    """A collar, a pocket, a band is made before it is put to its place."""
    for user in laws.operations:
        units = {unit_of(edge) for thing in user.on for edge in edges_of(thing)}
        if len(units) < 2 or user.verb not in CONSUMING:
            continue
        for unit in units & SMALL:
            for op in laws.operations:
                own = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
                if own == {unit} and 0 <= op.stage <= TURNED and op.verb not in OUTSIDE - {"topstitch", "decorate"}:
                    laws.need(user, op, "ends", why(laws.assembly, op, user, unit))


def whole_pieces(laws: Laws) -> None:
    """What is done to a whole piece, or to the panel in it, comes before the piece is joined to anything."""
    for op in laws.operations:
        for thing in op.on if op.stage < JOINED else ():
            unit = laws.assembly.top if thing == "panel" else thing
            if unit not in laws.assembly.units or (thing != unit and op.stage < 0):
                continue
            for edge, users in laws.touching.items():
                if unit_of(edge) == unit and edge != unit:
                    for user in users:
                        if user.verb in CONSUMING and user.stage >= JOINED:
                            laws.need(user, op, law_between(op, user), why(laws.assembly, op, user, thing))
