"""Ease: how much bigger a garment is than the body in it.

Wearing ease is the least needed to move and breathe; design ease is the look. The figures are from memory of general
handbooks (marked so in the trade notes), in mm; a close style cut on purpose may have less.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.garment_kinds import Cut, GarmentKind, Zone

LEAST_WEARING_MM: dict[Zone, float] = {"bust": 50.0, "waist": 15.0, "hip": 40.0}  # from memory
OVER_CLOTHES_MM: dict[GarmentKind, float] = {"jacket": 30.0, "coat": 65.0}  # from memory: 25-40 and 60-75 more
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


def look_of(bust_ease_mm: float, garment: GarmentKind | None, looks: Sequence[Look] = LOOKS) -> str:
    """The look that a bust ease gives, jackets and coats counted over what is worn under them."""
    ease = bust_ease_mm - (OVER_CLOTHES_MM.get(garment, 0.0) if garment else 0.0)
    return next((look.name for look in looks if look.low_mm <= ease < look.high_mm), "tighter than the body")


def ease_for_look(name: str, garment: GarmentKind | None, looks: Sequence[Look] = LOOKS) -> float | None:
    """The bust ease in the middle of a look, jackets and coats counted over what is worn under them; None if unknown."""
    look = next((look for look in looks if look.name == name), None)
    if look is None:
        return None
    middle = (look.low_mm + look.high_mm) / 2 if look.high_mm < 1000 else look.low_mm + VERY_LOOSE_MM
    return middle + (OVER_CLOTHES_MM.get(garment, 0.0) if garment else 0.0)


def wanted_ease(garment: GarmentKind | None, asked: Mapping[Zone, float], stretch: float) -> dict[Zone, float]:
    """The ease to look for at each zone: what was asked, else a default for the garment.

    A knit needs less, in proportion to its stretch, down to minus a tenth of the default at 100 % stretch.
    """
    wanted = dict(_WANTED[garment or "top"])
    if stretch > 0:
        wanted = {zone: mm * max(-0.1, 1.0 - 2.0 * stretch) for zone, mm in wanted.items()}
    return {**wanted, **asked}


def least_wearing(zone: Zone, stretch: float) -> float:
    """Least wearing ease at a zone, mm; a knit's falls with its stretch and may be negative."""
    return LEAST_WEARING_MM[zone] - 4.0 * LEAST_WEARING_MM[zone] * stretch
