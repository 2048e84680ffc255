"""Ease: how much bigger a garment is than the body in it.

Wearing ease is the least needed to move and breathe; design ease is the look. The figures are those of `ease_table`, in mm; a
close style cut on purpose may have less.
"""

from collections.abc import Mapping

from rowanseed.core.fit.ease_table import USUAL, EaseTable
from rowanseed.core.garment_kinds import ZONES, Cut, GarmentKind, Zone

USUAL_GIRTH_MM: dict[Zone, float] = {"bust": 920.0, "waist": 740.0, "hip": 980.0}  # where no body is given
VERY_LOOSE_MM = 40.0  # how far into the open end of the last look its middle is taken to lie


def key_zone(garment: GarmentKind | None, cut: Cut = "") -> Zone:
    """The measurement that decides: the bust above the waist, the hip for trousers and close skirts, else the waist."""
    if garment == "trousers" or (garment == "skirt" and cut == "close"):
        return "hip"
    return "waist" if garment == "skirt" else "bust"


def _over(mm: float, garment: GarmentKind | None, table: EaseTable) -> float:
    """A look's bound with what is worn under a jacket or coat; the closest look begins at nothing all the same."""
    if garment is None or mm <= 0:
        return mm
    if garment == "coat" and 200 <= mm < 1000:
        return mm + table["over.loose-coat"]  # so that a loose coat ends at 30 cm
    return mm + table.get(f"over.{garment}")


def look_of(bust_ease_mm: float, garment: GarmentKind | None, table: EaseTable = USUAL) -> str:
    """The look that a bust ease gives, jackets and coats counted over what is worn under them."""
    for look in table.looks:
        if _over(look.low_mm, garment, table) <= bust_ease_mm < _over(look.high_mm, garment, table):
            return look.name
    return "tighter than the body"


def ease_for_look(name: str, garment: GarmentKind | None, table: EaseTable = USUAL) -> float | None:
    """The bust ease in the middle of a look, jackets and coats counted over what is worn under them; None if unknown."""
    look = next((look for look in table.looks if look.name == name), None)
    if look is None:
        return None
    low, high = _over(look.low_mm, garment, table), _over(look.high_mm, garment, table)
    return (low + high) / 2 if look.high_mm < 1000 else low + VERY_LOOSE_MM


def wanted_ease(
    garment: GarmentKind | None,
    asked: Mapping[Zone, float],
    stretch: float,
    body: Mapping[str, float] | None = None,
    table: EaseTable = USUAL,
) -> dict[Zone, float]:
    """The ease to look for at each zone, mm: what was asked, else the table's for the garment, less on a knit.

    Args:
        stretch: the cloth's, as a share of its length.
        body: girths by zone, mm, of which a close knit is cut smaller by a share.
    """
    wanted: dict[Zone, float] = {}
    for zone in ZONES:
        own = table.get(f"wanted.{garment or 'top'}.{zone}") or table[f"wanted.dress.{zone}"]
        wanted[zone] = ease_on_knit(own, (body or {}).get(zone, USUAL_GIRTH_MM[zone]), stretch, table)
    return {**wanted, **asked}


def ease_on_knit(ease_mm: float, girth_mm: float, stretch: float, table: EaseTable = USUAL) -> float:
    """An ease as a knit needs it: half at a stable knit's stretch, from there down to less than the body as swimwear is cut."""
    moderate, swim = table["stretch.moderate"] / 100, max(table["stretch.swim"], table["stretch.moderate"] + 1) / 100
    if stretch <= moderate:
        return ease_mm * (1.0 - 0.5 * stretch / moderate)
    share = min(1.0, (stretch - moderate) / (swim - moderate))
    return (1.0 - share) * 0.5 * ease_mm - share * table["stretch.smaller"] / 100 * girth_mm


def least_wearing(zone: Zone, stretch: float, garment: GarmentKind | None = None, table: EaseTable = USUAL) -> float:
    """Least wearing ease at a zone, mm; a knit's falls with its stretch and may be negative."""
    usual = table[f"least.{zone}"]
    least = max(usual, table.get(f"least-bust.{garment}")) if zone == "bust" else usual
    return least - 4.0 * usual * stretch
