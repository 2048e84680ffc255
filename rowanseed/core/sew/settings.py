"""Machine settings for an operation on a cloth. Common practice, no published source."""

from collections.abc import Mapping

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.sew.model import ClothTraits, Operation

VERY_STRETCHY = 0.4  # a knit that stretches by more takes a stretch needle
STRAINED = ("sew-crotch", "reinforce-crotch", "sew-shoulders", "set-two-piece-sleeves")
_NEEDLE = {"light": "70/10", "medium": "80/12", "heavy": "90/14"}
_STITCH_MM = {"light": 2.0, "medium": 2.5, "heavy": 3.0}


def machine_settings(operation: Operation, cloth: ClothTraits) -> dict[str, str]:
    """Settings for an operation, by place of work; empty at the table and by hand."""
    if operation.place == "machine":
        return _machine(operation, cloth)
    if operation.place == "overlocker":
        knit = "1.3 to 1.5, against waves" if cloth.knit else "1"
        return {"threads": "3 for finishing, 4 for seams", "differential": knit}
    if operation.place == "iron":
        extra = {"pile": "press face down on pile or a towel, hardly touching"} if cloth.piled else {}
        return {"heat": cloth.iron or care_of("").iron_words(), **extra}
    return {}


def _machine(operation: Operation | None, cloth: ClothTraits) -> dict[str, str]:
    stitch = _STITCH_MM[cloth.weight] + (0.5 if cloth.piled else 0.0)
    plain = f"narrow zigzag, {stitch:.1f} mm long" if cloth.knit else f"{stitch:.1f} mm"
    foot = "walking foot" if cloth.piled or cloth.slippery else "standard foot"
    return {
        "stitch": (operation.does.stitch if operation else "") or plain,
        "needle": needle_for(cloth, operation.does.needle if operation else ""),
        "thread": _thread(operation, cloth),
        "foot": (operation.does.foot if operation else "") or foot,
    }


def needle_for(cloth: ClothTraits, kind: str = "") -> str:
    """The needle for a cloth, size and kind; `kind`: where the operation asks for one of its own.

    Sizes in metric hundredths and as singer numbers. Common practice, no source.
    """
    size = _NEEDLE[cloth.weight]
    if cloth.weight == "heavy" and (cloth.piled or cloth.fur):
        size = "100/16"
    if kind == "twin":
        return "twin 4.0/75 stretch" if cloth.knit else "twin 4.0/80"
    if kind == "topstitch" and cloth.weight != "light":
        return f"{'100/16' if cloth.weight == 'heavy' else '90/14'} topstitch"
    if cloth.leather:
        return f"{'100/16' if cloth.weight == 'heavy' else '90/14'} leather"
    if cloth.knit:
        return f"{size} {'stretch' if cloth.stretch >= VERY_STRETCHY else 'ballpoint'}"
    if cloth.slippery and cloth.weight == "light":
        return f"{size} microtex"
    return f"{size} {'jeans' if cloth.dense and cloth.weight != 'light' else 'universal'}"


def _thread(operation: Operation | None, cloth: ClothTraits) -> str:
    """The thread above and below."""
    own = operation.does.thread if operation else ""
    if own and not (own.startswith("topstitching") and cloth.weight != "heavy"):
        return own
    if cloth.weight == "heavy" and operation is not None and operation.template in STRAINED:
        return "strong"
    return {"light": "fine", "medium": "all-purpose", "heavy": "all-purpose, strong where it is strained"}[cloth.weight]


Change = tuple[str, str, str]  # what, as it stood, as it has to stand


def to_set(before: Mapping[str, str] | None, now: Mapping[str, str]) -> list[Change]:
    """What has to be changed at the machine for a step, against the machine step before it; all of it where there is none."""
    return [
        (what, (before or {}).get(what, ""), value) for what, value in now.items() if (before or {}).get(what) != value
    ]


def to_put_back(now: Mapping[str, str], usual: Mapping[str, str]) -> list[Change]:
    """What a step leaves at the machine that the usual seam does not have: forgotten, it spoils the next one."""
    return [(what, value, usual[what]) for what, value in now.items() if what in usual and usual[what] != value]


def usual_settings(cloth: ClothTraits) -> dict[str, str]:
    """The settings of a plain seam on this cloth."""
    return _machine(None, cloth)
