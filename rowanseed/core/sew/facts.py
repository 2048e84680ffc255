"""Facts about a garment that its templates ask for: how its sleeves are set, what faces its neck, how its lining is joined."""

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING

from rowanseed.core.requirements import BOUND_EDGES, FOLDED_HEMS
from rowanseed.core.sew.choices import (
    BANDS,
    RAGLANS,
    ZIPS,
    band_under_facing,
    front_opens,
    has,
    holds_hem,
    is_enclosed,
    is_tailored,
    lining_way,
    seam_placket,
    slit_fastened,
    stand_takes_facing,
    v_has_point,
)

if TYPE_CHECKING:
    from rowanseed.core.sew.described import Described


def facts_of(found: "Described") -> Iterator[str]:
    """Facts that conditions ask for."""
    g = found.garment
    edges = {name: e for name, _, _, e, _ in found.units}
    yield from (f"unit-{name}" for name in edges)
    yield from _sleeve_facts(found, edges)
    yield from _facing_facts(found, edges)
    yield from _lining_facts(found, edges)
    yield from _turning_facts(found, edges)
    yield from _fastening_facts(found)
    way = lining_way(g)
    neck_zip = found.top in found.zip_units and not found.zip_at_side
    if (
        "front-edge" in edges.get(found.top, ())
        or has(g, "closure", "placket")
        or has(g, "neck-shape", "slit")
        or neck_zip
    ):
        yield "neck-open"
    if has(g, "interfacing", "sewn") or g.cloth.piled:
        yield "strips-sewn"  # what is fused elsewhere is sewn in: the iron crushes a pile, and tailoring by hand fuses nothing
    if slit_fastened(g):
        yield "slit-fastened"
    if has(g, "neck-shape", "slit") and found.low == found.top:
        yield "slit-at-neck"
    if has(g, "collar", "notched") and is_tailored(g):
        yield "tailored-front"
    if v_has_point(g):
        yield "v-point"
    if stand_takes_facing(g):
        yield "stand-takes-facing"
    if band_under_facing(g):
        yield "band-under-facing"
    bound_neck = has(g, "front", "facing") and has(g, "neck", "binding", "band") and not is_enclosed(g)
    if has(g, "front", "band", "binding") or bound_neck or stand_takes_facing(g):
        yield "banded-front"
    if "front-edge" in edges.get(found.top or found.low, ()):
        yield "front-open"
        if found.low != "leg":
            yield "hem-open"
            # Front and zip are turned with their inner layer before the band takes both in.
            turned = is_enclosed(g) or (has(g, "front", "facing") and has(g, "lining"))
            if has(g, "closure", "separating-zip") and has(g, "hem", "banded", "ribbed") and not turned:
                yield "zip-over-band"
        yield "interfaced-top"
    elif has(g, "closure", "placket", "buttons", "snaps") and found.top and not has(g, "straps", "buttoned"):
        yield "interfaced-top"
    opened = g.features.get("opening-at", "front")
    if has(g, "yoke") and g.features.get("yoke-at", "back") in (opened, "both"):
        if has(g, "closure", "placket"):
            yield "placket-in-yoke"
        if has(g, "neck-shape", "slit"):
            yield "slit-in-yoke"
    if has(g, "closure", *ZIPS):
        yield "zip"
        if found.zip_window:
            yield "zip-window"
        if found.zip_in_crotch:
            yield "zip-in-crotch"
        if (
            not found.top
            and not found.zip_at_side
            and (g.schools.get("zip-and-band") == "band-first" or has(g, "waist", "yoke"))
        ):
            yield "crotch-last"
    banded_legs = found.low == "leg" and not found.top and has(g, "waist", "band", "stiff-band")
    if banded_legs and g.schools.get("waistband-cut") == "halves":
        yield "band-halves"
        yield "crotch-last"
    if _crotch_first(found):
        yield "crotch-first"
    if not found.top:
        yield "is-lower"
    else:
        yield "has-top"
    if not found.top and has(g, "closure", "buttons", "snaps"):
        yield "interfaced-low"
    shaped = has(g, "shaping", "pleats", "box-pleats") or has(
        g, "gathers", "waist", "corded", "overlocked", "cartridge"
    )
    if not shaped:
        yield "smooth-waist"
    if has(g, "gathers", "cartridge"):
        yield "cartridge"
    if found.low != found.top and has(g, "pocket"):
        yield "pocket-low"
    if (
        g.schools.get("pleat-hem") == "first"
        and "waist" in edges.get(found.low, ())
        and (has(g, "shaping", "pleats", "box-pleats") or has(g, "gathers", "cartridge"))
    ):
        yield "hem-first"
    if has(g, "hem", "single", "blind", "hand", "twin-needle"):  # folded once, so its raw edge shows inside
        yield "hem-once"
        yield "wrist-once"
    elif has(g, "seam-finish", *BOUND_EDGES) and not has(g, "hem", *FOLDED_HEMS):
        yield "wrist-once"
    if holds_hem(g):
        yield "hem-inside"
    if has(g, "waist", "knit-band") and has(g, "hem", "ribbed"):
        yield "two-ribs"
    elif found.low == "leg" and has(g, "hem", "ribbed"):
        yield "leg-ribs"
    if has(g, "hem", "banded", "ribbed"):
        yield "hem-band"
    if has(g, "hem", "banded") and has(g, "vent", "slit"):
        yield "hem-slit"
    if found.low == found.top and has(g, "waist", "casing", "elastic-sewn", "drawcord"):
        yield "waist-on-body"
    if way in ("sides", "edge-to-edge") or (way == "machine" and has(g, "armhole", "lined")):
        yield "sides-last"


def _fastening_facts(found: "Described") -> Iterator[str]:
    """What is buttoned or hooked, beside the front."""
    g = found.garment
    opened = has(g, "sleeve-vent", "continuous-lap", "placket") and not has(g, "closure", "snaps")
    banded = has(g, "cuff", "band", "gathered-band")
    cuff = banded and opened
    if banded and not has(g, "sleeve-vent") and g.schools.get("sleeve-end") != "flat":
        yield "cuff-ring"
    opened_below = has(g, "closure", "fly", *ZIPS) or seam_placket(g)
    band = opened_below and not found.top and has(g, "waist", "band", "stiff-band") and has(g, "band-closure", "button")
    if cuff:
        yield "cuff-buttoned"
    if band:
        yield "band-buttoned"
    legs = has(g, "hem", "banded") and has(g, "vent", "slit") and found.low == "leg"
    if legs:
        yield "leg-band-buttoned"
    if has(g, "waist", *BANDS) or not has(g, "hem", "banded", "ribbed"):
        yield "band-hooked"
    if band or legs:
        yield "waistband-buttoned"
    if cuff or band or legs or has(g, "closure", "buttons") or has(g, "straps", "buttoned"):
        yield "buttoned"
    if has(g, "closure", "fly") and has(g, "waist", *BANDS):
        yield "fly-hooked"
    if seam_placket(g):
        yield "seam-placket"
    if has(g, "closure", "wrap"):
        yield "slit-in-band" if not found.top and has(g, "waist", *BANDS) else "slit-in-side"


def _crotch_first(found: "Described") -> bool:
    """Whether the crotch seams are sewn flat: the school's wish, unless band, zip or opening leave the crotch for last."""
    g = found.garment
    halves = has(g, "waist", "band", "stiff-band") and g.schools.get("waistband-cut") == "halves"
    band_first = g.schools.get("zip-and-band") == "band-first" or has(g, "waist", "yoke")
    late = found.zip_in_crotch and (bool(found.top) or band_first)
    opened = bool(found.top) and front_opens(g)
    return found.low == "leg" and g.schools.get("leg-seams") == "crotch-first" and not (halves or late or opened)


def _sleeve_facts(found: "Described", edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    g = found.garment
    top = edges.get(found.top, frozenset())
    if "armhole" in top and not {"upper"} & top and "neck" in top:
        yield "shoulders"
    way = lining_way(g)
    bare_sleeve = "cap" in edges.get("sleeve", ()) and "lining.sleeve" not in edges
    caught = bare_sleeve and way == "machine"
    over_lining = bare_sleeve and way == "free" and f"lining.{found.top}" in edges
    if over_lining:
        yield "sleeves-after-lining"  # the armhole takes the lining in, a ring, before the sleeve covers it
    if caught:
        yield "armhole-caught"
    if "cap" in edges.get("sleeve", ()):
        flat = g.schools.get("sleeve-setting") == "flat" and not has(g, "sleeve", "two-piece")
        flat = flat and not caught and not over_lining
        yield "sleeves-flat" if flat else "sleeves-round"
        if flat:
            yield "sleeve-run"
        if flat and g.schools.get("sleeve-hem") == "before-setting":
            yield "wrist-before-seam"
        if flat and g.cloth.knit and has(g, "sleeve", "set-in"):
            yield "cap-stretched"
    if has(g, "sleeve", *RAGLANS):
        yield "sleeve-run"


def _facing_facts(found: "Described", edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    """What faces the neck, and how far a facing goes."""
    g = found.garment
    facing, top = edges.get("facing", frozenset()), edges.get(found.top, frozenset())
    if "neck" in facing and "upper" not in top:  # with straps there is no shoulder to be sewn
        yield "facing-shoulders"
    if "armhole" in facing:
        yield "armhole-facing"
        if found.zip_at_side and found.top in found.zip_units and has(g, "straps", "sewn", "buttoned"):
            yield "armhole-facing-at-zip"  # it opens up to the upper edge; with shoulders the seam is closed above it
    if "waist" in facing:
        yield "waist-facing"
    notched = has(g, "collar", "notched")
    if "neck" in facing and not notched:
        yield "neck-faced"
        yield "neck-covered"
    front = has(g, "front", "facing") and not notched
    if "neck" in facing and front:
        yield "front-facing-neck"
    alone = "neck" in facing and not notched and not front and not has(g, "neck", "combined-facing")
    if alone:
        yield "neck-facing-alone"
    if has(g, "closure", *ZIPS) and not has(g, "closure", "separating-zip") and not has(g, "lining", "sewn-in", "free"):
        back = "neck" in facing and not front and not notched
        if back and found.top in found.zip_units and not found.zip_at_side:
            yield "neck-facing-at-zip"
        if "waist" in facing:
            yield "waist-facing-at-zip"
    whole_ring = {"neck", "armhole"} <= top and not {"upper"} & top
    if (
        alone
        and whole_ring
        and has(g, "neck", "facing")
        and not has(g, "collar")
        and not has(g, "yoke")
        and not has(g, "lining")
        and g.schools.get("facing-order") == "apart"
    ):
        yield "facing-apart"


def _turning_facts(found: "Described", edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    """How neck and armholes are turned where both are sewn with one layer, facing or lining.

    Front or back is pulled out through the shoulders where it opens from neck to hem; a garment that is closed all round cannot be
    (its neck is a ring within a ring): its armholes are sewn one at a time with the rest rolled up between the layers.
    """
    g = found.garment
    combined = has(g, "neck", "combined-facing")
    if combined and not _armholes_rolled(found, edges):
        yield "combined-turned"
    if _armholes_rolled(found, edges):
        yield "armholes-rolled"
        if combined:
            yield "neck-facing-alone"
    elif _turned_over_shoulders(found, edges):
        yield "through-shoulders"


def _turned_over_shoulders(found: "Described", edges: Mapping[str, frozenset[str]]) -> bool:
    """Whether neck and armholes are both sewn with one layer on a garment that has shoulders."""
    g, top = found.garment, edges.get(found.top, frozenset())
    both = has(g, "neck", "combined-facing") or (lining_way(g) == "machine" and has(g, "armhole", "lined"))
    return both and {"armhole", "neck"} <= top and "upper" not in top


def _armholes_rolled(found: "Described", edges: Mapping[str, frozenset[str]]) -> bool:
    opens = "front-edge" in edges.get(found.top, ()) or (found.top in found.zip_units and not found.zip_at_side)
    return _turned_over_shoulders(found, edges) and not opens


def _lining_facts(found: "Described", edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    """How a lining is joined, and which edges of the shell it finishes."""
    g = found.garment
    way = lining_way(g)
    yield f"lining-{way}"
    free_by_hand = way == "free" and g.schools.get("lining-joining") == "by-hand"
    if free_by_hand:
        yield "lining-free-by-hand"
    facing, top = edges.get("facing", frozenset()), edges.get(found.top, frozenset())
    lined_top = f"lining.{found.top}" in edges
    if way in ("bagged", "sides", "edge-to-edge", "machine", "hand"):
        yield "enclosed"
    if not lined_top:
        if way == "waist":
            yield "lining-hangs"
        return
    yield "lined-top"
    if "armhole" in edges[f"lining.{found.top}"] and has(g, "armhole", "binding") and way != "free":
        yield "armhole-taken-in"
    to_facing = bool(facing & {"neck", "front-edge"}) and way != "edge-to-edge"
    bare_neck = (
        "neck" in top and not has(g, "neck") and not has(g, "collar", "two-piece", "notched") and "neck" not in facing
    )
    by_machine = way in ("bagged", "sides", "machine", "edge-to-edge")
    neck, front = False, False
    if to_facing:
        yield "lining-to-facing"
        apart = way in ("machine", "free") and not has(g, "front", "facing") and not has(g, "collar", "notched")
        round_armholes = way == "sides" or (way == "machine" and has(g, "armhole", "lined"))
        whole = not has(g, "neck", "combined-facing") and not has(g, "collar", "notched")
        if (apart and not free_by_hand) or (round_armholes and whole):
            yield "lining-facing-first"
    elif by_machine or way == "hand":
        neck = bare_neck
        front = "front-edge" in top and "front-edge" not in facing and not has(g, "front", "band", "binding")
    if neck:
        yield "neck-by-lining"
        yield "neck-covered"
    if front:
        yield "front-by-lining"
    edges_joined = neck or front or (by_machine and has(g, "armhole", "lined")) or ("upper" in top and by_machine)
    alone = not neck and not front and "upper" not in top
    if (
        edges_joined
        and way in ("machine", "sides", "edge-to-edge", "bagged")
        and not (alone and _armholes_rolled(found, edges))
    ):
        yield "edges-by-lining"
        if alone:
            yield "armholes-alone"
        faced = "neck" in facing and not has(g, "front", "facing") and not has(g, "collar", "notched")
        if way == "machine" and faced:
            yield "neck-turned"  # the neck's facing is turned with the edges that the lining takes in
    loose = "upper" in top and "neck" not in top
    if not neck and ((way == "free" and loose) or (not to_facing and (way == "free" or "neck" in top))):
        yield "lining-neck-basted"
    hem = (
        "hem" in edges.get(found.low, ())
        and "hem" in edges.get(f"lining.{found.low}", ())
        and not has(g, "hem", "banded", "ribbed")
    )
    if way in ("bagged", "sides", "edge-to-edge") and hem:
        yield "lining-hem-joined"
        yield "hem-joined"
    felled = way == "machine" and "front-edge" in top and hem
    if felled:
        yield "lining-hem-felled"
    banded = has(g, "hem", "banded", "ribbed")
    if way == "free" or (way == "machine" and not felled and not banded):
        yield "lining-hangs"
    back_open = found.zip_place == "back" or has(g, "centre-seam", "sewn")
    wanted = not has(g, "lining-pleat", "none")
    if wanted and "neck" in top and not back_open and "lining.sleeve" in edges:
        yield "lining-pleat"
