"""The steps that choices add beside the fates of edges, one row a choice. Common practice, no source."""

from dataclasses import dataclass
from typing import Literal

from rowanseed.core.sew.model import Place

TRUNK = ("body", "bodice", "skirt", "leg")
TOP = ("body", "bodice")
SIDES = ("side", "outseam", "inseam", "centre-front", "princess", "panel", "underarm")
FLAT = "It lies flat there; closed round, it is worked in a tube."


@dataclass(frozen=True)
class Addition:
    """Steps that a choice of a feature adds: each a verb, its words ({p} the piece, {e} the edge) and its place of work."""

    feature: str
    choices: tuple[str, ...]
    units: tuple[str, ...]
    edges: tuple[str, ...]
    when: Literal["before", "after"]
    steps: tuple[tuple[str, str, Place], ...]
    why: str = FLAT
    law: str = "flat"
    one: bool = False  # done to the first piece that has such an edge, not to each
    layer: str = "shell"
    seam: bool = False  # only where the edge lies in a seam of its own layer
    once: bool = False  # done once in the garment, not once in each unit
    prefer: str = "front"  # of several pieces, the one with this word in its name


POCKET: tuple[str, str, Place] = ("make", "Finish the pocket’s top edge, press its other edges under", "iron")
ADDITIONS = (
    Addition(
        "pocket",
        ("patch",),
        TRUNK,
        SIDES,
        "before",
        (POCKET, ("attach", "Sew the patch pocket to the {p}", "machine")),
        one=True,
    ),
    Addition(
        "pocket",
        ("patch-flap",),
        TRUNK,
        SIDES,
        "before",
        (
            ("make", "Make the pocket and its flap", "machine"),
            ("attach", "Sew the patch pocket to the {p}, the flap above it", "machine"),
        ),
        one=True,
    ),
    Addition(
        "pocket",
        ("welt", "double-welt", "welt-flap"),
        TRUNK,
        SIDES,
        "before",
        (
            ("mark", "Mark the welt’s place on the {p}, a piece of interfacing behind it", "table"),
            ("make", "Make the {c} pocket in the {p}: sew, cut, turn, close its bag", "machine"),
        ),
        one=True,
    ),
    Addition(
        "pocket",
        ("side-seam",),
        TRUNK,
        ("side", "outseam"),
        "before",
        (
            ("attach", "Sew the pocket bags to {e}, between their marks", "machine"),
            ("press", "Press the pocket bags away from the garment", "iron"),
        ),
        "The seam is then sewn round the bags in one run.",
        "parts",
    ),
    Addition(
        "pocket",
        ("slant",),
        TRUNK,
        ("side", "outseam", "pocket-mouth"),
        "before",
        (
            ("attach", "Sew the pocket’s facing to the slant edge of the {p}, turn and topstitch it", "machine"),
            ("make", "Close the pocket’s bag and baste it at side and waist", "machine"),
        ),
        "Its bag is caught in side and waist.",
        "layers",
        one=True,
    ),
    Addition(
        "decoration",
        ("stitching", "tucks", "lace", "applique"),
        TRUNK,
        SIDES,
        "before",
        (("decorate", "Work the {c} on the {p}", "machine"),),
        one=True,
    ),
    Addition(
        "trouser-crease",
        ("pressed",),
        ("leg",),
        ("side", "outseam", "inseam"),
        "before",
        (("press", "Press the crease into the {p}, from the marked line", "iron"),),
        one=True,
    ),
    Addition(
        "shoulder-pads",
        ("sewn",),
        TOP,
        ("armhole", "shoulder"),
        "after",
        (("pad", "Sew the shoulder pads to the shoulder’s allowances", "hand"),),
        "The sleeve hangs over the pad.",
        "inside",
        one=True,
        seam=True,
    ),
    Addition(
        "back-stay",
        ("sewn",),
        TOP,
        ("armhole",),
        "before",
        (("stay", "Baste the back stay to the {p}, within the allowances", "hand"),),
        one=True,
        prefer="back",
    ),
    Addition(
        "boning",
        ("channels",),
        TOP,
        ("side", "princess", "panel"),
        "after",
        (
            ("make", "Sew the boning channels along {e}", "machine"),
            ("insert", "Slide in the bones, 6 mm short of both ends", "hand"),
        ),
        "The seam is pressed before its channel lies on it.",
        "press",
        one=True,
    ),
    Addition(
        "waist-stay",
        ("ribbon",),
        ("bodice", "skirt", "body"),
        ("waist",),
        "after",
        (("fasten", "Tack the waist stay inside along {e}, its hook at the opening", "hand"),),
        "It holds the finished waist.",
        "inside",
        one=True,
    ),
    Addition(
        "belt",
        ("loops",),
        ("skirt", "leg", "body"),
        ("waist",),
        "before",
        (("make", "Make the belt loops", "machine"), ("baste", "Baste the belt loops to {e}", "machine")),
        "Their ends are caught in the waist.",
        "layers",
        one=True,
    ),
    Addition(
        "belt",
        ("belt", "tied"),
        ("skirt", "leg", "body"),
        ("waist", "hem"),
        "after",
        (("make", "Make the belt: sew, turn and press it", "machine"),),
        "It is fitted to the finished waist.",
        "complete",
        one=True,
    ),
    Addition(
        "label",
        ("sewn",),
        (*TRUNK, "yoke"),
        ("neck", "waist"),
        "before",
        (("attach", "Sew the label to the inside of the {p} or its facing, below its upper edge", "machine"),),
        one=True,
        prefer="back",
        once=True,
    ),
    Addition(
        "inside-pocket",
        ("welt",),
        TOP,
        ("side",),
        "before",
        (("make", "Make the inside pocket in the {p}", "machine"),),
        one=True,
        layer="lining",
    ),
    Addition(
        "fit",
        ("to-be-tried", "fitted"),
        TRUNK,
        ("side", "outseam"),
        "before",
        (
            ("baste", "Baste {e} to try it on", "hand"),
            ("try-on", "Try on, pin the fit and mark it; take the basting out", "table"),
        ),
        "It can still be let out or taken in.",
        "try-on",
        one=True,
    ),
)
