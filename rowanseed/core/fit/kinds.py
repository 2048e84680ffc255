"""The kinds of alteration, and one alteration as an object that can be kept, switched off and said in words."""

from dataclasses import dataclass
from typing import Literal

from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both

Way = Literal["strip", "wedge", "edge", "slashes", "dart"]
Carry = Literal["same", "opposite", "none"]


@dataclass(frozen=True)
class AlterationKind:
    """A kind of alteration and the inputs it takes beside `piece` and `by`.

    `edge`: the edge it works at unless another is named. `way`: how it is done on tissue. `carry`: whether the edge that it is sewn
    to moves alike, by the opposite, or not at all (what joins is then made to meet). `group`: the part of the body.
    """

    name: str
    title: str
    about: str
    inputs: tuple[str, ...]
    edge: str = ""
    way: Way = "edge"
    carry: Carry = "same"
    group: str = "length and width"


KINDS: dict[str, AlterationKind] = {
    k.name: k
    for k in (
        AlterationKind(
            "length",
            "Lengthen or shorten at a line",
            "A strip let in, or folded out when negative, across the piece: above the waist, below it, or wherever the line is.",
            ("at",),
            way="strip",
        ),
        AlterationKind(
            "hem",
            "Longer or shorter at the hem",
            "Where there is no line: at the hem itself.",
            ("edge",),
            "hem",
            way="strip",
        ),
        AlterationKind(
            "strap",
            "Longer or shorter strap",
            "A strip let in across the strap, at its middle unless a place is given; where none can be seen, a place is asked for.",
            ("at",),
            way="strip",
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
            group="shoulders and neck",
        ),
        AlterationKind(
            "bust",
            "Full or small bust, with a dart",
            "Slashed from the hem to the bust point and on to the armhole, and from the side to the bust point; opened by "
            "this much on one piece. The side gains a dart, or the one it has grows; negative for a small bust.",
            ("at", "across"),
            "side",
            way="slashes",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "bust-dartless",
            "Full or small bust, without a dart",
            "The same slashes, the new dart closed again: the width runs into the hem, the side seam keeps its length.",
            ("at", "across"),
            "side",
            way="slashes",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "upper-arm",
            "Full upper arm",
            "Both seams let out at the underarm, fading to the hem; the cap lowered so that it still fits its armhole, and the "
            "sleeve lengthened below it by what the cap lost.",
            (),
            carry="none",
            group="sleeves",
        ),
        AlterationKind(
            "crotch",
            "Deepen or raise a crotch",
            "The crotch curve lowered at the inseam, fading to nothing at the centre seam.",
            ("edge",),
            "crotch",
            carry="none",
            group="seat and legs",
        ),
        AlterationKind(
            "sway-back",
            "Sway back",
            "A wedge folded out across the back at the waist: this much at the centre, nothing at the side. The hem "
            "rises at the centre by as much and hangs level on the body. Negative lets a wedge in.",
            ("at",),
            way="wedge",
            carry="none",
            group="back",
        ),
        AlterationKind(
            "rounded-back",
            "Rounded back",
            "A wedge let in across the back at the shoulder blades: this much at the centre, nothing at the armhole. "
            "Negative for a very erect back.",
            ("at",),
            way="wedge",
            carry="none",
            group="back",
        ),
        AlterationKind(
            "high-back",
            "High round back",
            "A wedge let in just below the neck: this much at the centre, nothing at the shoulder; collar, facing and "
            "lining follow the neck.",
            ("at",),
            way="wedge",
            carry="none",
            group="back",
        ),
        AlterationKind(
            "across",
            "Broad or narrow across",
            "The armhole moved out half way down, nothing at the shoulder and at the underarm: across the back, or the "
            "chest.",
            (),
            "armhole",
            carry="none",
            group="back",
        ),
        AlterationKind(
            "chest",
            "Hollow or full chest",
            "A wedge across the front between neck and bust: this much let in at the centre, nothing at the armhole; "
            "negative for a hollow chest.",
            ("at",),
            way="wedge",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "bust-point",
            "Bust point moved",
            "The bust point and the points of its darts lower by this much, and outward by the second figure; negative "
            "for higher.",
            ("across",),
            way="dart",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "dart-turned",
            "Dart turned to another place",
            "The dart closed, and opened on the edge named, this far along it from its upper or inner end: slashed "
            "from there to the dart's point.",
            ("edge",),
            "shoulder",
            way="dart",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "dart-deeper",
            "Dart deeper, the edge shorter",
            "The dart that opens on the edge takes in this much more; the waist becomes as much smaller. Negative for "
            "a shallower one.",
            ("edge",),
            "waist",
            way="dart",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "dart-deeper-kept",
            "Dart deeper, the waist kept",
            "The dart takes in this much more, and the side is let out by as much at that edge: the waist stays as it "
            "was.",
            ("edge",),
            "waist",
            way="dart",
            carry="none",
            group="bust and chest",
        ),
        AlterationKind(
            "forward-shoulder",
            "Forward shoulder",
            "The shoulder seam moved to the front at its outer end: lowered there on the front, raised as much on the "
            "back. The armholes together keep their length; the sleeve's mark moves forward as far.",
            ("edge",),
            "shoulder",
            carry="opposite",
            group="shoulders and neck",
        ),
        AlterationKind(
            "shoulder-length",
            "Broad or narrow shoulder",
            "The shoulder longer at its outer end, front and back alike; the armhole follows to half way down. "
            "Negative for a narrow shoulder.",
            ("edge",),
            "shoulder",
            group="shoulders and neck",
        ),
        AlterationKind(
            "neck-width",
            "Wider or narrower neck",
            "The neck's end at the shoulder moved out along the shoulder, on front and back alike; collar and facing "
            "follow.",
            (),
            "shoulder",
            group="shoulders and neck",
        ),
        AlterationKind(
            "neck-depth",
            "Lower or higher neck",
            "The neck lowered at the centre, nothing at the shoulder; negative raises it. Collar and facing follow.",
            (),
            "neck",
            carry="none",
            group="shoulders and neck",
        ),
        AlterationKind(
            "gaping-neck",
            "Gaping neck",
            "A wedge folded out from the neck down to the bust: this much at the neck, nothing at the bust. Negative "
            "lets it out.",
            ("at",),
            "neck",
            way="wedge",
            carry="none",
            group="shoulders and neck",
        ),
        AlterationKind(
            "tummy",
            "Tummy",
            "A wedge let in across the front above the hip: this much at the centre, nothing at the side; the waist "
            "rises there.",
            ("at",),
            way="wedge",
            carry="none",
            group="seat and legs",
        ),
        AlterationKind(
            "seat",
            "Full or flat seat",
            "A wedge across the back at the hip: this much let in at the centre, nothing at the side; negative for a "
            "flat seat.",
            ("at",),
            way="wedge",
            carry="none",
            group="seat and legs",
        ),
        AlterationKind(
            "hip-curve",
            "Hip curve",
            "The side moved out at one height, fading within a hand above and below it: high hips, or hollows when "
            "negative.",
            ("edge", "at"),
            "side",
            group="seat and legs",
        ),
        AlterationKind(
            "rise",
            "Body rise",
            "A strip let in, or folded out, across both legs between waist and crotch.",
            ("at",),
            way="strip",
            group="seat and legs",
        ),
        AlterationKind(
            "crotch-length",
            "Longer or shorter crotch",
            "The inseam's upper end moved out, fading down the inseam; the crotch is longer by as much.",
            (),
            "inseam",
            carry="none",
            group="seat and legs",
        ),
        AlterationKind(
            "thigh",
            "Full or thin thigh",
            "The inseam moved out at the thigh, fading above and below it, on front and back alike.",
            ("at",),
            "inseam",
            group="seat and legs",
        ),
        AlterationKind(
            "calf",
            "Full or thin calf",
            "Side and inseam moved out at the calf by half each, fading above and below it.",
            ("at",),
            "side",
            carry="none",
            group="seat and legs",
        ),
        AlterationKind(
            "bowed-leg",
            "Bowed leg, or knock knees",
            "A wedge across the leg at the knee: this much let in at the side, nothing at the inseam; negative for "
            "knock knees.",
            ("at",),
            "side",
            way="wedge",
            group="seat and legs",
        ),
        AlterationKind(
            "elbow",
            "Full elbow",
            "Both seams of the sleeve out at the elbow by half each, fading above and below it.",
            ("at",),
            "front seam",
            carry="none",
            group="sleeves",
        ),
        AlterationKind(
            "wrist",
            "Wider or narrower wrist",
            "Both seams of the sleeve out at its end by half each, nothing at the underarm: apart from the upper arm.",
            (),
            "front seam",
            carry="none",
            group="sleeves",
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
