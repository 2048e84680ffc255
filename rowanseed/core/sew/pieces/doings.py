"""A step as the cloth meets it: its verb on lines, edges and sheets, left and right at once."""

from rowanseed.core.sew.cloth.acts import JOINING, ON_ALLOWANCE, SHAPING, Act, Way
from rowanseed.core.sew.model import Operation
from rowanseed.core.sew.pieces.making import seam_keys
from rowanseed.core.sew.pieces.model import PiecedGarment
from rowanseed.core.sew.pieces.unfold import Unfolded

# What a verb does to an edge that is in no seam: it ends it, in the cloth's words; its second pass, folds and turns change nothing.
ENDS = {"hem": "hem", "bind": "bind", "face": "bind", "attach": "rib", "make": "casing", "insert": "insert"}
NOTHING = "check"
THROUGH = frozenset({"buttonhole", "button", "fasten"})  # what goes through all the layers that lie at an edge


def act_of(op: Operation, way: Way, g: PiecedGarment, unfolded: Unfolded) -> Act:
    """Return what a step does to the cloth."""
    if way == "again":
        return Act(op.id, NOTHING, ())
    if op.verb in THROUGH:
        return _through(op, unfolded)
    if op.verb == "cut":
        return Act(op.id, "cut", (f"made:{op.id.replace('cut-', 'buttonhole-', 1)}",))  # they share the edge's name
    seams = seam_keys(g)
    lines: list[str] = []
    catches: set[str] = set()
    edges: list[str] = []
    sheets: list[str] = []
    for thing in op.on:
        numbers = [n for n in seams.get(thing, ()) if unfolded.of_seam.get(n)]
        for n in numbers:
            lines += unfolded.of_seam[n]
            catches |= {part for e in g.seams[n].edges for part in unfolded.of_edge[e]}
        if not numbers:
            for each in thing.split("+"):
                edges += unfolded.of_edge.get(each, ())
                sheets += unfolded.of_piece.get(each, ())
    if lines:
        return Act(
            op.id, op.verb, tuple(dict.fromkeys(lines)), way, frozenset(catches) if op.verb in JOINING else frozenset()
        )
    if edges:
        kept = op.verb in SHAPING or op.verb in ON_ALLOWANCE or op.verb in ENDS
        return Act(op.id, NOTHING if not kept else ENDS.get(op.verb, op.verb), tuple(edges))
    return Act(op.id, op.verb if op.verb in ("fuse", "baste") else NOTHING, tuple(sheets))


def _through(op: Operation, unfolded: Unfolded) -> Act:
    """What is sewn through an edge's layers: holes on one side, what they take on the other; every sheet joined there is held."""
    side = "@r" if op.verb == "buttonhole" else "@l"
    parts = [part for thing in op.on for part in unfolded.of_edge.get(thing, ())]
    part = next((part for part in parts if side in part), parts[0] if parts else "")
    if not part:
        return Act(op.id, NOTHING, ())
    sheets, own = unfolded.sheets, part.rpartition(".")[0]
    pages = sheets.lines.get(sheets.line_of.get(part, ""), ())
    held = tuple(dict.fromkeys(page.sheet for page in pages if page.sheet != own))
    return Act(op.id, op.verb, (own,), holds=held)
