"""Preparing a cloth before it is cut: a checklist by fibre, care and use, and shrinkage from a marked square.

Everything here is common practice without a published source.
"""

from dataclasses import dataclass
from typing import Literal

from rowanseed.core.cloth.model import Cloth

WOOLS = ("wool", "tweed", "mohair", "cashmere", "alpaca", "flannel")
SILKS = ("silk",)
ACETATES = ("acetate",)
BAST = ("linen", "flax", "hemp", "ramie")
COOLS = ("viscose", "rayon", "modal", "lyocell", "cupro")
MADE = ("polyester", "nylon", "polyamide", "acrylic", "elastane")


@dataclass(frozen=True)
class Task:
    """One thing to do to a cloth: how, and why. `optional` ones do not hold the cutting up."""

    key: str
    title: str
    how: str
    why: str
    caution: str = ""
    optional: bool = False


SQUARE = Task(
    "square",
    "Mark a square",
    "Mark a square of about 25 cm (10 in) with thread, well inside; write its sides down, along and across.",
    "Measured again afterwards it tells what was lost each way, and that goes into every length.",
)
PRESS = Task(
    "press", "Press", "Press the whole length flat, the fold of the bolt above all.", "Creases move the edges."
)
IRON = "Hot iron and steam: keep hands and faces away."


def fibre_family(cloth: Cloth) -> Literal["wool", "silk", "acetate", "bast", "cool", "made", "cotton"]:
    """The family that a fibre named in words is prepared with; cotton when nothing else is said.

    >>> from rowanseed.core.lengths import parse_length
    >>> fibre_family(Cloth("x", parse_length("1 m"), parse_length("0 cm"), fibre="Wool and silk"))
    'wool'
    """
    words = cloth.fibre.lower()
    families = (
        ("wool", WOOLS),
        ("silk", SILKS),
        ("acetate", ACETATES),
        ("bast", BAST),
        ("cool", COOLS),
        ("made", MADE),
    )
    for family, names in families:
        if any(name in words for name in names):
            return family  # type: ignore[return-value]
    return "cotton"


def washable(cloth: Cloth) -> bool:
    """Whether the garment will be washed, as its care says; wool, silk and acetate only when the care says so."""
    care = cloth.care.lower()
    if any(word in care for word in ("dry clean", "dry-clean", "no wash", "steam")):
        return False
    if "wash" in care:
        return True
    return fibre_family(cloth) not in ("wool", "silk", "acetate")


def preparation(cloth: Cloth) -> tuple[Task, ...]:
    """What to do before this cloth is cut, in order."""
    if cloth.kind == "interfacing":
        return _interfacing(cloth)
    tasks = [SQUARE, *_shrinking(cloth)]
    if not cloth.knit:
        tasks.append(_straightening(cloth))
    tasks.append(
        Task("drag", "Let it lie", "Lay it folded with the selvages together: no drag lines, no bubble.",
             "Cloth that is pulled out of true hangs crooked once sewn. Pull it on the bias until it lies flat.")
    )  # fmt: skip
    if cloth.piled:
        tasks.append(
            Task("pile", "Find the pile", "Stroke it along the selvage; chalk arrows on the wrong side, smooth way down.",
                 "Every piece must point the same way, or the garment shades two ways.")
        )  # fmt: skip
    tasks.append(
        Task("side", "Choose the right side", "Mark the wrong side every half metre with chalk.",
             "Where both sides look alike they still age apart.", optional=True)
    )  # fmt: skip
    return (*tasks, PRESS) if not cloth.piled else tuple(tasks)


def _interfacing(cloth: Cloth) -> tuple[Task, ...]:
    sewn = "canvas" in cloth.name.lower() or "sew" in cloth.note.lower()
    if sewn:
        how = "Steam it through, or wash it if the garment will be washed; dry it flat."
        return (
            SQUARE,
            Task("preshrink", "Shrink it", how, "Sewn-in interfacing that shrinks later puckers its piece."),
        )
    return (
        Task("dip", "Dip the fusible", "Lay it in hot water for twenty minutes without wringing; drip dry, do not iron.",
             "What shrinks under the iron bubbles on the cloth.", "Hot water: use tongs."),
        Task("fuse-test", "Fuse a test pair", "Fuse a scrap to the cloth, an unfused one of the same size beside it.",
             "It shows whether the glue strikes through, how stiff it becomes and what it shrinks.", IRON),
    )  # fmt: skip


def _shrinking(cloth: Cloth) -> list[Task]:
    family = fibre_family(cloth)
    if family == "wool" and not washable(cloth):
        return [
            Task("spot", "Steam one spot", "Hold a steaming iron just above one spot for ten seconds; let it cool.",
                 "A mark around the point means that the whole piece must be steam-shrunk.", IRON),
            Task("steam", "Steam-shrink it all", "Flat on a table, each part cold before it is moved; never hanging over an edge.",
                 "Wool shrinks under the iron piece by piece; let it do so before it is cut.", IRON),
        ]  # fmt: skip
    if family == "acetate":
        return [
            Task("soak", "Soak in hot water", "Into hot water until it cools; hang it up, no spin.",
                 "Acetate lets go of its finish once; wrung creases stay.", "Hot water: use tongs.")
        ]  # fmt: skip
    if not washable(cloth):
        return [
            Task("steam", "Steam it through", "Steam from the wrong side, each part cold before it is moved.",
                 "It will meet steam in making; what shrinks should shrink now.", IRON)
        ]  # fmt: skip
    heat = {
        "wool": ("cool, by hand or the wool programme; dry it flat", "Heat and rubbing felt wool."),
        "silk": ("lukewarm by hand; roll it in a towel", "Silk water-spots if only part of it is wetted."),
        "bast": ("as hot as the garment will ever be, and dry it as it will be dried; do it twice", "Linen goes on shrinking."),
        "cool": ("cool, without spinning; hang it along the grain", "Wet viscose is weak and shrinks most along."),
        "made": ("at 40 °C (warm)", "It hardly shrinks, but its finish and loose colour come out."),
        "cotton": ("as hot as the garment will ever be, and through the dryer if the garment will go there",
                   "Cotton loses most in its first wash."),
    }[family]  # fmt: skip
    tasks = [
        Task("wash", "Wash it as the garment will be washed", f"Wash {heat[0]}. {_care_says(cloth)}".strip(), heat[1])
    ]
    if cloth.ravels:
        ends = "Zigzag or overlock both ends first."
        tasks.insert(0, Task("ends", "Finish the ends", ends, "It ravels: the wash would eat a hand's width."))
    return tasks


def _care_says(cloth: Cloth) -> str:
    return f"The care says: {cloth.care}." if cloth.care else ""


def _straightening(cloth: Cloth) -> Task:
    family = fibre_family(cloth)
    if family in ("bast", "wool", "cotton") and not cloth.piled and cloth.weight != "heavy":
        how = "Snip the selvage and tear across both ends; if it will not tear true, pull a thread and cut along it."
    else:
        how = "Pull one thread across at each end and cut along the gap; do not tear."
    return Task("straighten", "Straighten the ends", how, "Only then do the selvages meet and the grain run true.")
