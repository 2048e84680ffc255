"""How the allowances of each seam are finished: by the garment's choice, the seam's own, its curve and what will hide it."""

from typing import TYPE_CHECKING

from rowanseed.core.sew.anatomy import SeamKind
from rowanseed.core.sew.choices import has
from rowanseed.core.sew.described import Described

if TYPE_CHECKING:
    from rowanseed.core.sew.units import Unit

EDGES_FIRST = ("pinked", "turned", "hong-kong")  # each edge by itself, before it is joined
OVERCAST = ("overlocked", "zigzag", "hand")
ONE_RUN = {"french": "french", "flat-felled": "felled", "overlocked-seam": "one-pass", "none": "bare"}


def finish_of_seam(described: Described, unit: "Unit", kind: SeamKind) -> str:
    """How a seam within a unit is finished.

    bare, edges-first, together, bound, bound-first, french, felled, one-pass, piped, covered or yoked.
    """
    if kind.covered or unit.kind in ("collar", "stand", "hood", "facing", "cuff", "waistband", "yoke"):
        return "covered"
    chosen = described.garment.units.get(f"{unit.name}.{kind.name}", {}).get(
        "seam-finish", unit.features.get("seam-finish", "overlocked")
    )
    if kind.name in ("yoke", "shoulder") and has(described.garment, "yoke", "double") and kind.id != "dolman-seams":
        return "yoked"
    if kind.name == "yoke" and has(described.garment, "gathers", "yoke") and chosen in OVERCAST:
        return "together"  # a gathered edge by itself cannot be overcast
    if kind.name == "yoke" and chosen in ("bound", "hong-kong"):
        return "bound-together"  # it is pressed to one side, toward the yoke
    if kind.name == "tier":
        return {"none": "bare", "overlocked-seam": "one-pass"}.get(chosen, "together")
    return _method(described, chosen, kind.curved, kind.apart or _runs_into_slit(described, kind, unit.name))


def finish_of_joint(described: Described, thing: str, curved: bool) -> str:
    """The same for a seam between units: both edges are finished together."""
    layer = thing.startswith("lining.")
    g = described.garment
    unit = thing.split(".")[1 if layer else 0]
    unit = f"lining.{unit}" if layer else unit
    features = next((f for name, _, f, _, _ in described.units if name == unit), g.features)
    chosen = g.units.get(thing, {}).get("seam-finish", features.get("seam-finish", "overlocked"))
    flat = "sleeves-flat" in described.facts or "raglan" in thing
    if thing.split("+")[0].endswith(".cap"):
        if chosen == "flat-felled":
            return "felled" if flat else "together"
        if chosen in ("bound", "hong-kong"):
            return "bound-together"
        if chosen in ("none", "overlocked-seam"):
            return ONE_RUN[chosen]
        return "french" if chosen == "french" and flat else "together"
    if "waist" in thing and not layer and has(g, "gathers", "cartridge"):
        return "covered"  # both edges are turned in before they are sewn fold to edge
    if "waist" in thing:
        return (
            ONE_RUN[chosen]
            if chosen in ("none", "overlocked-seam")
            else ("bound-together" if chosen in ("bound", "hong-kong") else "together")
        )
    return _method(described, chosen, curved, False)


def _runs_into_slit(described: Described, kind: SeamKind, unit: str) -> bool:
    """Whether the seam's edges must open because it runs into a slit, a vent or a zip."""
    tied = "slit-in-side" in described.facts and unit == (described.top or described.low)
    slit = kind.name == "side" and (tied or described.has("vent", "slit"))
    vent = kind.name == "centre-back" and described.has("vent", "vent", "kick-pleat")
    return slit or vent or kind.name == "centre-front" or (kind.name == "crotch" and described.zip_in_crotch)


def _method(described: Described, chosen: str, curved: bool, apart: bool) -> str:
    if chosen == "none":
        return "bare"
    if chosen in EDGES_FIRST:
        return "edges-first"
    if chosen == "bound":
        return "bound-first" if apart else "bound"  # a zip's tape, a slit's or vent's fold lies over the bound edge
    if chosen == "piped":
        return "piped" if not apart else "edges-first"
    if apart:
        return "edges-first"
    if chosen in ("french", "flat-felled") and curved:
        return "together"
    if chosen in ONE_RUN:
        return ONE_RUN[chosen]
    together = described.garment.schools.get("seam-pressing") == "together"
    return "together" if together else "edges-first"
