"""What a garment's features choose, asked of one or several of them."""

from rowanseed.core.requirements import closes_slit_alone, placket_in_seam
from rowanseed.core.sew.model import SewnGarment, several

ZIPS = ("invisible-zip", "lapped-zip", "centred-zip", "exposed-zip", "open-edge-zip")
BANDS = ("band", "stiff-band", "knit-band")
RAGLANS = ("raglan", "yoke-sleeve")  # a sleeve whose seams run to the neck
FASTENED = ("buttons", "snaps", "hook", "separating-zip")
UPPER = (
    "yoke",
    "neck",
    "collar",
    "front",
    "sleeve",
    "armhole",
    "straps",
    "shirring",
    "boning",
    "shoulder-pads",
    "back-stay",
    "inside-pocket",
)


def has(garment: SewnGarment, name: str, *choices: str) -> bool:
    """Whether a garment has one of these choices of a feature; without choices, whether it has the feature at all."""
    own = several(garment.features.get(name, "none"))
    return any(choice in choices for choice in own) if choices else own != ("none",)


def upper_said(garment: SewnGarment) -> bool:
    """Whether anything of an upper part is described; a yoke or an open front alone, beside a waist's finish, is the skirt's."""
    said = {name for name in UPPER if has(garment, name)}
    low_too = {"yoke"} if has(garment, "legs") else {"yoke", "front"}
    return bool(said) and not (said <= low_too and (has(garment, "legs") or has(garment, "waist")))


def is_lower_only(garment: SewnGarment) -> bool:
    """Whether the garment begins at the waist: a skirt, trousers, an apron."""
    return (
        not upper_said(garment)
        and (has(garment, "waist") or has(garment, "legs"))
        and not has(garment, "waist-seam", "joined")
    )


def has_upper(garment: SewnGarment) -> bool:
    """Whether anything above the waist is described."""
    return (
        upper_said(garment) or has(garment, "waist-seam", "joined") or has(garment, "lining", "bagged", "edge-to-edge")
    )


def is_enclosed(g: SewnGarment) -> bool:
    """Whether a lining encloses the shell's seams."""
    return has(g, "lining", "sewn-in", "bagged", "edge-to-edge")


def tied_behind(g: SewnGarment) -> bool:
    """Whether the garment opens down its back and is tied there: a smock."""
    return has(g, "closure", "ties") and has(g, "opening-at", "back") and upper_said(g)


def slit_fastened(g: SewnGarment) -> bool:
    """Whether a button or a hook closes the slit at the neck alone, and no edge."""
    return closes_slit_alone(g.features)


def seam_placket(g: SewnGarment) -> bool:
    """Whether a skirt opens with a placket in its side seam, closed by what sits on its waist."""
    return placket_in_seam(g.features) and is_lower_only(g) and not has(g, "front")


def front_opens(g: SewnGarment) -> bool:
    """Whether the garment opens down its whole front."""
    return (
        has(g, "front")
        or has(g, "collar", "notched")
        or (has(g, "closure", *FASTENED) and not has(g, "straps", "buttoned") and not slit_fastened(g))
        or tied_behind(g)
        or has(g, "closure", "wrap")
    )


def stand_takes_facing(g: SewnGarment) -> bool:
    """Whether the ends of front facings lie in the stand; below a lining the facing runs on round the neck, over it."""
    return has(g, "collar", "two-piece") and has(g, "front", "facing") and not is_enclosed(g)


def band_under_facing(g: SewnGarment) -> bool:
    """Whether a neck band lies between the shell and the facing that runs on round the neck of a lined garment."""
    return has(g, "neck", "band") and has(g, "front", "facing") and is_enclosed(g)


def is_tailored(g: SewnGarment) -> bool:
    """Whether a garment is built up as a jacket or a coat is: lined, padded, canvassed, with shaped sleeves; no pyjama, no robe."""
    built = ("lining", "shoulder-pads", "interlining", "underlining", "back-stay")
    shaped = has(g, "sleeve", "two-piece") or has(g, "interfacing", "sewn")
    return shaped or any(has(g, name) for name in built) or g.schools.get("tailoring") == "by-hand"


def v_has_point(g: SewnGarment) -> bool:
    """Whether a V at the neck ends in a point of cloth: one that opens down the front only slants to the edge there."""
    opened = has(g, "closure", "placket", "separating-zip") or front_opens(g)
    return has(g, "neck-shape", "v") and not (opened and not has(g, "opening-at", "back"))


def holds_hem(g: SewnGarment) -> bool:
    """Whether the shell's hem is hidden by a lining that is felled or turned down to it."""
    way = lining_way(g)
    return way in ("bagged", "hand") or (way == "machine" and front_opens(g))


def lining_way(g: SewnGarment) -> str:
    """How a lining is joined: none, flat, waist, free, edge-to-edge, sides (bagged without sleeves), bagged, machine or hand."""
    lining = g.features.get("lining", "none")
    if lining == "bagged":
        return "bagged" if has(g, "sleeve") or has(g, "armhole", "cape") else "sides"
    if lining == "sewn-in":
        by_hand = g.schools.get("lining-joining") == "by-hand" and not has(g, "straps", "strapless")
        return "hand" if by_hand else "machine"  # a strapless edge is turned with its lining
    return lining
