"""Machine settings for an operation on a cloth. Common practice, no published source."""

from collections.abc import Mapping

from rowanseed.core.sew.model import ClothTraits, Operation

_NEEDLE = {"light": "70/10", "medium": "80/12", "heavy": "100/16"}
_STITCH_MM = {"light": 2.0, "medium": 2.5, "heavy": 3.0}
_OWN_STITCH: Mapping[str, str] = {
    "gather-waist": "4.5 mm, loose upper tension",
    "gather-yoke-edge": "4.5 mm, loose upper tension",
    "ease-sleeve-cap": "4 mm",
    "sew-darts": "as seams, 1.5 mm over the last 2 cm",
    "make-collar": "as seams, 1.5 mm at the points",
    "sew-buttonholes": "buttonhole, 0.4 mm apart",
    "sample-buttonhole": "buttonhole, 0.4 mm apart",
    "zigzag-raw-edges": "zigzag 3 mm wide, 2 mm long",
    "zigzag-finish": "zigzag 3 mm wide, 2 mm long",
    "gather-sleeve-end": "4.5 mm, loose upper tension",
    "run-ease-rows": "4 mm",
    "ease-cap-with-strip": "4 mm",
    "ease-hem": "4.5 mm, loose upper tension",
    "baste-zip": "5 mm, to be taken out",
    "sew-shirring": "4 to 4.5 mm, elastic thread in the bobbin",
    "sample-shirring": "4 to 4.5 mm, elastic thread in the bobbin",
    "sew-decorative": "3.5 mm, thick thread",
    "reinforce-v": "1.5 mm",
    "reinforce-square": "1.5 mm",
    "reinforce-sleeve-slit": "1.5 mm",
    "sew-raglan-dart": "as seams, 1.5 mm over the last 2 cm",
    "keyhole-buttonholes": "keyhole buttonhole, 0.4 mm apart",
    "sew-placket-buttonholes": "buttonhole, 0.4 mm apart",
    "sample-placket-buttonhole": "buttonhole, 0.4 mm apart",
    "sew-applique": "zigzag 2.5 mm wide, 0.4 mm long",
    "tack-pockets": "zigzag 2 mm wide, 0.5 mm long",
    "zigzag-rolled-hem": "zigzag 3 mm wide, 1 mm long",
    "shirr-waist": "zigzag 4 mm wide, 3 mm long",
    "twin-needle-hem": "3 mm, twin needle",
    "blind-hem": "blind hem",
}
_FOOT: Mapping[str, str] = {
    "insert-invisible-zip": "invisible-zip foot",
    "insert-lapped-zip": "zip foot",
    "insert-centred-zip": "zip foot",
    "insert-exposed-zip": "zip foot",
    "insert-fly-zip": "zip foot",
    "baste-piping": "zip or piping foot",
    "sew-placket-buttonholes": "buttonhole foot",
    "sample-placket-buttonhole": "buttonhole foot",
    "keyhole-buttonholes": "buttonhole foot",
    "twin-needle-hem": "standard foot, twin needle",
    "blind-hem": "blind-hem foot",
    "sew-applique": "open-toe foot",
    "sew-buttonholes": "buttonhole foot",
    "sample-buttonhole": "buttonhole foot",
}


def machine_settings(operation: Operation, cloth: ClothTraits) -> dict[str, str]:
    """Settings for an operation, by place of work; empty at the table and by hand."""
    if operation.place == "machine":
        return _machine(operation.id, cloth)
    if operation.place == "overlocker":
        knit = "1.3 to 1.5, against waves" if cloth.knit else "1"
        return {"threads": "3 for finishing, 4 for seams", "differential": knit}
    if operation.place == "iron":
        heat = "low, with a press cloth" if cloth.slippery else "to suit the fibre; try a scrap"
        extra = {"pile": "press face down on pile or a towel, hardly touching"} if cloth.piled else {}
        return {"heat": heat, **extra}
    return {}


def _machine(operation_id: str, cloth: ClothTraits) -> dict[str, str]:
    stitch = _STITCH_MM[cloth.weight] + (0.5 if cloth.piled else 0.0)
    kind = "ballpoint" if cloth.knit else "microtex" if cloth.slippery and cloth.weight == "light" else "universal"
    foot = _FOOT.get(operation_id, "walking foot" if cloth.piled or cloth.slippery else "standard foot")
    plain = f"narrow zigzag, {stitch:.1f} mm long" if cloth.knit else f"{stitch:.1f} mm"
    return {
        "stitch": _OWN_STITCH.get(operation_id, plain),
        "needle": f"{_NEEDLE[cloth.weight]} {kind}",
        "thread": _thread(operation_id, cloth),
        "foot": foot,
    }


def _thread(operation_id: str, cloth: ClothTraits) -> str:
    """The thread above and below."""
    if "shirr" in operation_id and operation_id != "shirr-waist":
        return "all-purpose above, elastic below"
    if "topstitch" in operation_id or operation_id == "sew-decorative":
        return "topstitching above, all-purpose below" if cloth.weight == "heavy" else "all-purpose"
    if cloth.weight == "heavy" and operation_id in (
        "sew-crotch",
        "reinforce-crotch",
        "sew-shoulders",
        "set-two-piece-sleeves",
    ):
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
    return _machine("", cloth)
