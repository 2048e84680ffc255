"""What comes first and last of all: marks, fastenings, the last look."""

from rowanseed.core.sew.laws.links import Laws
from rowanseed.core.sew.stages import JOINED, WORKED

LAST = 98
SEWING = frozenset({"join", "attach", "insert", "face", "bind"})
FASTENING = frozenset({"buttonhole", "button", "fasten"})
FASTENED = (".buttonhole", ".zip", ".slit")


def marks(laws: Laws) -> None:
    """The marks of the pattern are made before a piece is handled."""
    first = next((op for op in laws.operations if op.template == "mark-pieces"), None)
    if first is None:
        return
    for op in laws.operations:
        if op.verb not in ("", "sample", "check"):
            laws.need(
                op, first, "marks", "Marks are made while the tissue is still on; handled pieces lose their place."
            )
    for mark in laws.operations:
        whole = set(mark.on) & set(laws.assembly.units) if mark.verb == "mark" and mark is not first else set()
        for op in laws.operations if whole else ():
            if op.verb not in ("mark", "check") and mark.stage == 0 and mark.place == "table":
                words = "Left and right are told apart while the pieces still lie as they were cut."
                laws.need(op, mark, "method", words)


def fastened_last(laws: Laws) -> None:
    """Buttonholes, buttons, hooks and snaps come once the shell is sewn together and turned out."""
    shell = [
        op for op in laws.operations if op.layer == "shell" and (JOINED <= op.stage <= WORKED or op.verb == "turn")
    ]
    things = {thing for op in shell if op.verb in SEWING for thing in op.on}
    sewn = [op for op in shell if things & set(op.on)]
    for op in laws.operations:
        if op.phase == "finish" and op.verb in FASTENING and any(thing.endswith(FASTENED) for thing in op.on):
            for other in sewn:
                laws.need(op, other, "method", "The garment is sewn together before it is fastened.")


def pressed_first(laws: Laws) -> None:
    """What is sewn on the shell is pressed, closed and topstitched before the last try-on, which judges it finished."""
    done = [
        op
        for op in laws.operations
        if op.verb in ("press", "topstitch", "turn", "close")
        and op.phase != "finish"
        and "lining" not in " ".join(op.on)
    ]
    for op in laws.operations:
        if op.verb == "try-on" and op.phase == "finish":
            for other in done:
                laws.need(
                    op,
                    other,
                    "method",
                    "What is sewn so far is pressed, closed and topstitched: only then it hangs as it will.",
                )


def at_the_end(laws: Laws) -> None:
    """The last pressing and the last checks come after all the rest."""
    for op in laws.operations:
        for other in laws.operations if op.stage >= LAST else ():
            if other.stage < op.stage:
                laws.need(op, other, "complete", "It is the last look at the whole garment.")
