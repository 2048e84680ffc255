"""Machine settings for an operation on a cloth. Common practice, no published source."""

from collections.abc import Mapping

from rowanseed.core.cloth.fibres import care_of
from rowanseed.core.sew.model import ClothTraits, Operation

ELASTIC = "elastic thread, wound by hand without pull; count the turns of its screw and put them back"
VERY_STRETCHY = 0.4  # a knit that stretches by more takes a stretch needle
STRAINED = ("sew-crotch", "reinforce-crotch", "sew-shoulders", "set-two-piece-sleeves")
_NEEDLE = {"light": "70/10", "medium": "80/12", "heavy": "90/14"}
_STITCH_MM = {"light": 2.0, "medium": 2.5, "heavy": 3.0}


def machine_settings(operation: Operation, cloth: ClothTraits) -> dict[str, str]:
    """Settings for an operation, by place of work; empty at the table and where nothing is sewn."""
    if operation.place == "machine":
        return _machine(operation, cloth)
    if operation.place == "overlocker":
        return _overlocker(operation, cloth)
    if operation.place == "hand":
        return _by_hand(operation, cloth)
    if operation.place == "iron":
        extra = {"pile": "press face down on pile or a towel, hardly touching"} if cloth.piled else {}
        return {"heat": cloth.iron or care_of("").iron_words(), **extra}
    return {}


def _overlocker(operation: Operation, cloth: ClothTraits) -> dict[str, str]:
    """Threads, needles and differential feed; common practice, no source."""
    if operation.verb == "gather":
        return {
            "threads": "4",
            "differential": "as high as it goes",
            "stitch": "as long as it goes, the needle thread tight",
        }
    flat = "1.3 to 1.5, against waves" if cloth.knit else "1"
    if operation.verb in ("join", "attach"):
        return {"threads": "4, both needles in", "differential": flat}
    return {
        "threads": "3, the left needle out (narrow) or the right one (wide)",
        "differential": flat,
        "knife": "trims threads only",
    }


# The stitch of hand work by what is done, and what tells it further; common practice, no source.
_HAND_STITCH = {
    "join": "backstitch, 2 to 3 mm",
    "attach": "fell stitch, 3 mm apart",
    "close": "fell stitch, 3 mm apart",
    "hem": "catch stitch, loose",
    "baste": "basting, about 1 cm",
    "finish": "overcast, 3 mm deep",
    "gather": "running stitch, even",
    "pad": "loose stab stitch",
    "stay": "small backstitch",
    "fasten": "through all but the outer layer",
    "button": "four times through, a shank as thick as the cloth",
    "buttonhole": "buttonhole stitch, close",
    "insert": "prick stitch",
    "dart": "backstitch, fine at the point",
    "decorate": "as marked",
    "bind": "backstitch in the crease",
    "face": "backstitch, 2 to 3 mm",
    "topstitch": "prick stitch",
    "understitch": "prick stitch",
}
_HAND_THREAD = {
    "baste": "basting thread",
    "button": "strong, doubled",
    "gather": "strong, doubled",
    "buttonhole": "buttonhole twist",
}


def _by_hand(operation: Operation, cloth: ClothTraits) -> dict[str, str]:
    if operation.verb == "insert" and any(thing.endswith((".casing", ".channel")) for thing in operation.on):
        return {"tool": "bodkin or safety pin"} if operation.on[0].endswith(".casing") else {}  # drawn in, not sewn
    stitch = _HAND_STITCH.get(operation.verb)
    if stitch is None:
        return {}
    needle = {"light": "sharp, no. 10", "medium": "sharp, no. 8", "heavy": "sharp, no. 6"}[cloth.weight]
    usual = {"light": "fine", "medium": "all-purpose", "heavy": "strong"}[cloth.weight]
    return {"stitch": stitch, "needle": needle, "thread": _HAND_THREAD.get(operation.verb, usual)}


def _machine(operation: Operation | None, cloth: ClothTraits) -> dict[str, str]:
    stitch = _STITCH_MM[cloth.weight] + (0.5 if cloth.piled or cloth.leather else 0.0)
    plain = f"narrow zigzag, {stitch:.1f} mm long" if cloth.knit else f"{stitch:.1f} mm"
    foot = "walking foot" if cloth.piled or cloth.slippery or cloth.leather else "standard foot"
    bobbin = {"bobbin": ELASTIC} if operation is not None and operation.verb == "shirr" else {}
    return {
        **bobbin,
        "stitch": (operation.does.stitch if operation else "") or plain,
        "needle": needle_for(cloth, operation.does.needle if operation else ""),
        "thread": _thread(operation, cloth),
        "foot": (operation.does.foot if operation else "") or foot,
    }


def needle_for(cloth: ClothTraits, kind: str = "") -> str:
    """The needle for a cloth, size and kind; `kind`: where the operation asks for one of its own.

    Sizes in metric hundredths and as the older numbers beside them. Common practice, no source.
    """
    size = _NEEDLE[cloth.weight]
    if cloth.weight == "heavy" and (cloth.piled or cloth.fur):
        size = "100/16"
    if kind == "twin":
        return "twin 4.0/75 stretch" if cloth.knit else "twin 4.0/80"
    if kind == "topstitch" and cloth.weight == "heavy":  # on lighter cloth the seams' thread does, and so their needle
        return "100/16 topstitch"
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
