"""Preparing a cloth before it is cut: a checklist by fibre, care and use, and shrinkage from a marked square.

Everything here is common practice without a published source.
"""

from dataclasses import dataclass, replace

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.cloth.model import Cloth


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


def washable(cloth: Cloth) -> bool:
    """Whether the garment will be washed, as its care says; wool, silk and acetate only when the care says so."""
    label = cloth.care.lower()
    own = care_of(cloth.fibre, cloth.care)
    if own.washing == "dry-clean":
        return False
    return "wash" in label or own.delicate.name not in ("wool", "silk", "acetate", "leather")


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
    if cloth.piled or cloth.fur:
        return tuple(tasks)
    iron = f"{PRESS.how} Iron: {care_of(cloth.fibre).iron_words()}."
    return (*tasks, replace(PRESS, how=iron))


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


WASH_HOW = {
    "hand": "cool, by hand or a hand-wash programme, no spin; dry it flat",
    "cool": "cool, without spinning; hang it along the grain",
    "warm": "at 40 °C (warm)",
    "hot": "as hot as the garment will ever be, and dry it as it will be dried",
}


def _shrinking(cloth: Cloth) -> list[Task]:
    care = care_of(cloth.fibre, cloth.care)
    names = {part.fibre.name for part in care.parts}
    if "leather" in names:
        return []
    if "wool" in names and not washable(cloth):
        return [
            Task("spot", "Steam one spot", "Hold a steaming iron just above one spot for ten seconds; let it cool.",
                 "A mark around the point means that the whole piece must be steam-shrunk.", IRON),
            Task("steam", "Steam-shrink it all", "Flat on a table, each part cold before it is moved; never hanging over an edge.",
                 "Wool shrinks under the iron piece by piece; let it do so before it is cut.", IRON),
        ]  # fmt: skip
    if care.delicate.name == "acetate" and care.washing != "dry-clean":
        return [
            Task("soak", "Soak in hot water", "Into hot water until it cools; hang it up, no spin.",
                 "Acetate lets go of its finish once; wrung creases stay.", "Hot water: use tongs.")
        ]  # fmt: skip
    if not washable(cloth):
        return [
            Task("steam", "Steam it through", "Steam from the wrong side, each part cold before it is moved.",
                 "It will meet steam in making; what shrinks should shrink now.", IRON)
        ]  # fmt: skip
    how, why = WASH_HOW[care.washing], f"{care.delicate.name.capitalize()} is in it: shrinks {care.shrinks}."
    tasks = [Task("wash", "Wash it as the garment will be washed", f"Wash {how}. {_care_says(cloth)}".strip(), why)]
    if cloth.ravels:
        ends = "Zigzag or overlock both ends first."
        tasks.insert(0, Task("ends", "Finish the ends", ends, "It ravels: the wash would eat a hand's width."))
    return tasks


def _care_says(cloth: Cloth) -> str:
    return f"The care says: {cloth.care}." if cloth.care else ""


def _straightening(cloth: Cloth) -> Task:
    if care_of(cloth.fibre).tears and not cloth.piled and cloth.weight != "heavy":
        how = "Snip the selvage and tear across both ends; if it will not tear true, pull a thread and cut along it."
    elif care_of(cloth.fibre).delicate.name == "linen" and cloth.weight != "heavy" and not cloth.piled:
        how = (
            "Pull one thread across at each end and cut along the gap: the edge stays flat. Others snip the selvage and tear, "
            "which is quicker; then press the torn ends flat, for tearing draws them out."
        )
    else:
        how = "Pull one thread across at each end and cut along the gap; do not tear."
    return Task("straighten", "Straighten the ends", how, "Only then do the selvages meet and the grain run true.")
