"""The kinds of alteration, and one alteration as an object that can be kept, switched off and said in words."""

from dataclasses import dataclass

from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both


@dataclass(frozen=True)
class AlterationKind:
    """A kind of alteration and the inputs it takes beside `piece` and `by`.

    `edge`: the edge it works at unless another is named. `for_less`: what it is called when `by` is negative.
    """

    name: str
    title: str
    about: str
    inputs: tuple[str, ...]
    edge: str = ""


KINDS: dict[str, AlterationKind] = {
    k.name: k
    for k in (
        AlterationKind(
            "length",
            "Lengthen or shorten at a line",
            "A strip let in, or folded out when negative, across the piece: above the waist, below it, or wherever the line is.",
            ("at",),
        ),
        AlterationKind(
            "hem", "Longer or shorter at the hem", "Where there is no line: at the hem itself.", ("edge",), "hem"
        ),
        AlterationKind(
            "strap",
            "Longer or shorter strap",
            "A strip let in across the strap, at its middle unless a place is given; where none can be seen, a place is asked for.",
            ("at",),
        ),
        AlterationKind(
            "side", "Widen or narrow at a seam", "The whole edge moved out, or in when negative.", ("edge",), "side"
        ),
        AlterationKind(
            "taper",
            "In or out by tapering",
            "The edge moved out most at one place, such as waist or hip, fading above and below it.",
            ("edge", "at"),
            "side",
        ),
        AlterationKind(
            "shoulder",
            "Take up a shoulder",
            "The shoulder's outer end lowered, nothing at the neck; the underarm lowered as far: the armhole keeps its length.",
            ("edge",),
            "shoulder",
        ),
        AlterationKind(
            "bust",
            "Full or small bust, with a dart",
            "Slashed from the hem to the bust point and on to the armhole, and from the side to the bust point; opened by "
            "this much on one piece. The side gains a dart, or the one it has grows; negative for a small bust.",
            ("at", "across"),
            "side",
        ),
        AlterationKind(
            "bust-dartless",
            "Full or small bust, without a dart",
            "The same slashes, the new dart closed again: the width runs into the hem, the side seam keeps its length.",
            ("at", "across"),
            "side",
        ),
        AlterationKind(
            "upper-arm",
            "Full upper arm",
            "Both seams let out at the underarm, fading to the hem; the cap lowered so that it still fits its armhole, and the "
            "sleeve lengthened below it by what the cap lost.",
            (),
        ),
        AlterationKind(
            "crotch",
            "Deepen or raise a crotch",
            "The crotch curve lowered at the inseam, fading to nothing at the centre seam.",
            ("edge",),
            "crotch",
        ),
    )
}


@dataclass(frozen=True)
class Alteration:
    """One alteration: what, on which piece, by how much (mm, negative for less), where, and whether it counts.

    `at_mm` is an x on the piece and `across_mm` a y, together the bust point. `leave`: pieces it is not carried to.
    """

    kind: str
    piece: str
    by_mm: float
    at_mm: float | None = None
    edge: str = ""
    on: bool = True
    across_mm: float | None = None
    leave: tuple[str, ...] = ()
    why: str = ""

    @property
    def at_edge(self) -> str:
        """The edge it works at."""
        return self.edge or KINDS[self.kind].edge

    @property
    def point(self) -> Point | None:
        """The bust point, where both its figures are given."""
        return (self.at_mm, self.across_mm) if self.at_mm is not None and self.across_mm is not None else None


def describe(alteration: Alteration, top_mm: float = 0.0) -> str:
    """An alteration in words; `top_mm`: the x of its piece's top, from which its place is measured."""
    kind = KINDS[alteration.kind]
    sign = "" if alteration.by_mm >= 0 else "minus "
    where = (
        f" at {both(alteration.at_mm - top_mm)} from the top"
        if alteration.at_mm is not None and "at" in kind.inputs
        else ""
    )
    return f"{kind.title}, piece {alteration.piece}{where}: {sign}{both(abs(alteration.by_mm))}"
