"""Ease: how much bigger a garment is than the body in it.

Wearing ease is the least needed to move and breathe; design ease is the look. The figures are from memory of general
handbooks (marked so in the trade notes), in mm; a close style cut on purpose may have less.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.garment_kinds import Cut, GarmentKind, Zone

LEAST_WEARING_MM: dict[Zone, float] = {"bust": 50.0, "waist": 15.0, "hip": 40.0}  # from memory
OVER_CLOTHES_MM: dict[GarmentKind, float] = {"jacket": 30.0, "coat": 70.0}  # from memory: 25-40 and 60-75 more
# From memory of general handbooks: under about 12 cm at the bust a coat does not go over a jumper; loose coats have 20 to 30 cm.
LEAST_BUST_MM: dict[GarmentKind, float] = {"jacket": 80.0, "coat": 120.0}
VERY_LOOSE_COAT_MM = 100.0  # added where a look begins at 20 cm or more, so that a loose coat ends at 30 cm
# What a cloth's own body takes up of the ease, round the figure; common practice, no source.
CLOTH_TAKES_MM: dict[str, float] = {"stiff": 20.0, "thick": 25.0, "underlined": 10.0}


@dataclass(frozen=True)
class Look:
    """A look by its bust ease: from (inclusive) to (exclusive), mm, woven cloth, dresses and tops."""

    name: str
    low_mm: float
    high_mm: float


LOOKS: tuple[Look, ...] = (  # from memory
    Look("close", 0, 75),
    Look("fitted", 75, 100),
    Look("semi-fitted", 100, 130),
    Look("loose", 130, 200),
    Look("very loose", 200, 2000),
)
MODERATE_STRETCH, SWIM_STRETCH, SWIM_SHARE = 0.25, 0.60, 0.10  # from memory
USUAL_GIRTH_MM: dict[Zone, float] = {"bust": 920.0, "waist": 740.0, "hip": 980.0}  # where no body is given
VERY_LOOSE_MM = 40.0  # how far into the open end of the last look its middle is taken to lie
_WANTED: dict[GarmentKind, dict[Zone, float]] = {
    "top": {"bust": 100, "waist": 90, "hip": 70},
    "dress": {"bust": 90, "waist": 50, "hip": 70},
    "skirt": {"bust": 90, "waist": 20, "hip": 60},
    "trousers": {"bust": 90, "waist": 20, "hip": 70},
    "jacket": {"bust": 130, "waist": 110, "hip": 100},
    "coat": {"bust": 165, "waist": 150, "hip": 135},
}


def key_zone(garment: GarmentKind | None, cut: Cut = "") -> Zone:
    """The measurement that decides: the bust above the waist, the hip for trousers and close skirts, else the waist."""
    if garment == "trousers" or (garment == "skirt" and cut == "close"):
        return "hip"
    return "waist" if garment == "skirt" else "bust"


def _over(mm: float, garment: GarmentKind | None) -> float:
    """A look's bound with what is worn under a jacket or coat; the closest look begins at nothing all the same."""
    if garment is None or mm <= 0:
        return mm
    return mm + (VERY_LOOSE_COAT_MM if garment == "coat" and 200 <= mm < 1000 else OVER_CLOTHES_MM.get(garment, 0.0))


def look_of(bust_ease_mm: float, garment: GarmentKind | None, looks: Sequence[Look] = LOOKS) -> str:
    """The look that a bust ease gives, jackets and coats counted over what is worn under them."""
    for look in looks:
        if _over(look.low_mm, garment) <= bust_ease_mm < _over(look.high_mm, garment):
            return look.name
    return "tighter than the body"


def ease_for_look(name: str, garment: GarmentKind | None, looks: Sequence[Look] = LOOKS) -> float | None:
    """The bust ease in the middle of a look, jackets and coats counted over what is worn under them; None if unknown."""
    look = next((look for look in looks if look.name == name), None)
    if look is None:
        return None
    low, high = _over(look.low_mm, garment), _over(look.high_mm, garment)
    return (low + high) / 2 if look.high_mm < 1000 else low + VERY_LOOSE_MM


def wanted_ease(
    garment: GarmentKind | None, asked: Mapping[Zone, float], stretch: float, body: Mapping[str, float] | None = None
) -> dict[Zone, float]:
    """The ease to look for at each zone, mm: what was asked, else a default for the garment.

    A knit needs less the more it stretches: half of the default at a quarter of stretch, and from there down to minus a tenth of
    the girth at 60 % and more, as swimwear and leggings are cut (from memory).
    Args:
        body: girths by zone, mm, that the tenth is taken of.
    """
    wanted = dict(_WANTED[garment or "top"])
    for zone, mm in wanted.items():
        if stretch <= MODERATE_STRETCH:
            wanted[zone] = mm * (1.0 - 2.0 * stretch)
        else:
            share = min(1.0, (stretch - MODERATE_STRETCH) / (SWIM_STRETCH - MODERATE_STRETCH))
            tenth = SWIM_SHARE * (body or {}).get(zone, USUAL_GIRTH_MM[zone])
            wanted[zone] = (1.0 - share) * 0.5 * mm - share * tenth
    return {**wanted, **asked}


def least_wearing(zone: Zone, stretch: float, garment: GarmentKind | None = None) -> float:
    """Least wearing ease at a zone, mm; a knit's falls with its stretch and may be negative."""
    least = LEAST_WEARING_MM[zone]
    if zone == "bust" and garment is not None:
        least = max(least, LEAST_BUST_MM.get(garment, 0.0))
    return least - 4.0 * LEAST_WEARING_MM[zone] * stretch
