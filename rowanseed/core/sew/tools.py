"""How an operation is done on this cloth, with the tools in hand: what stands in for one that is missing."""

from dataclasses import replace

from rowanseed.core.sew.model import BY_HAND, Doing, Operation, SewnGarment
from rowanseed.core.sew.stages import TURNED

IN_ONE_PASS = ", in one pass"
ONE_PASS_STITCH = "narrow zigzag or stretch stitch, then a zigzag beside it"
WITHOUT_OVERLOCKER = (
    "Without an overlocker: a narrow zigzag or a stretch stitch, then a zigzag beside it over both edges."
)
NO_IRON = "No iron on fur: open it with the fingers or a blunt tool, hold it with clips or a few long stitches."


NO_HOT_IRON = (
    "No hot iron and no steam on leather: open it with a roller or a mallet, hold it with leather cement or tape."
)


def as_done(op: Operation, garment: SewnGarment) -> Operation:
    """An operation as it is done on this cloth with these tools."""
    if garment.cloth.fur and op.place == "iron" and not _lining_alone(op):
        title = op.title.replace("Press ", "Finger-press ").replace(" press ", " finger-press ")
        does = replace(op.does, title=title, place="hand", checks=(NO_IRON, *op.does.checks), cautions=())
    elif garment.cloth.leather and op.place == "iron" and op.verb != "fuse" and not _lining_alone(op):
        title = op.title.replace("Press ", "Roll ").replace(" press ", " roll ")
        does = replace(op.does, title=title, place="hand", checks=(NO_HOT_IRON, *op.does.checks), cautions=())
    elif BY_HAND in garment.tools:
        does = _by_hand(op.does)
    else:
        does = _without(_in_one_pass(op.does, garment), garment)
    return replace(op, does=does) if does is not op.does else op


def _lining_alone(op: Operation) -> bool:
    """Whether only the lining lies under the iron, no fur and no leather: not where its edge was turned with the shell's."""
    return op.stage != TURNED + 1 and all(thing.startswith("lining.") and "+" not in thing for thing in op.on)


def _by_hand(does: Doing) -> Doing:
    """The same without a machine: sewn with backstitches or overcast by hand, about three times as long."""
    hand = next((other for other in does.instead if other.tool == BY_HAND), None)
    if does.place not in ("machine", "overlocker"):
        return does
    done = replace(does, place="hand", minutes=min(240, 3 * does.minutes), stitch="", foot="", needle="")
    return replace(done, minutes=hand.minutes, checks=(hand.how, *does.checks)) if hand else done


def _in_one_pass(does: Doing, garment: SewnGarment) -> Doing:
    """The same on the overlocker, or with what stands in for it, where the garment is sewn and finished in one pass."""
    if not does.one_pass or garment.features.get("seam-finish") != "overlocked-seam":
        return does
    if "overlocker" in garment.tools:
        return replace(does, place="overlocker", checks=("Sewn and finished in one pass, four threads.", *does.checks))
    title = does.title.replace(IN_ONE_PASS, ", and zigzag beside the stitching")
    return replace(does, title=title, stitch=ONE_PASS_STITCH, checks=(WITHOUT_OVERLOCKER, *does.checks))


def _without(does: Doing, garment: SewnGarment) -> Doing:
    for other in does.instead:
        if other.tool not in garment.tools and other.tool != BY_HAND:
            title = does.title.replace(IN_ONE_PASS, ", and zigzag beside the stitching")
            return replace(
                does, title=title, place=other.place, minutes=other.minutes, checks=(other.how, *does.checks)
            )
    return does
