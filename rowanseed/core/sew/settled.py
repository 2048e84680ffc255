"""What a description leaves open or contradicts, settled in the usual way, and what was taken, in sentences."""

from collections.abc import Callable
from dataclasses import replace

from rowanseed.core.sew.choices import (
    BANDS,
    RAGLANS,
    ZIPS,
    front_opens,
    has,
    has_upper,
    holds_hem,
    is_enclosed,
    is_lower_only,
    lining_way,
    slit_fastened,
    tied_behind,
    upper_said,
)
from rowanseed.core.sew.model import SewnGarment


def settled(garment: SewnGarment) -> tuple[SewnGarment, list[str]]:
    """The garment with what its features leave open taken in the usual way, and what was taken, in sentences."""
    features, taken = dict(garment.features), list[str]()
    now = garment

    def take(name: str, choice: str, words: str) -> SewnGarment:
        nonlocal now
        features[name] = choice
        now = replace(garment, features=dict(features))
        taken.append(words)
        return now

    if has(now, "legs") and upper_said(now) and not has(now, "waist-seam", "joined"):
        take("waist-seam", "joined", "Legs and an upper part: taken as joined at the waist.")
    if is_lower_only(now) and not has(now, "waist"):
        take(
            "waist",
            "band" if has(now, "closure") else "casing",
            "The waist is not described: "
            + (
                "a band is taken, because it has a closure."
                if has(now, "closure")
                else "elastic in a casing is taken, because it has no closure."
            ),
        )
    if has(now, "closure", "wrap") and not has(now, "front"):
        take("front", "facing", "It wraps over and its front edges are not described: they are taken as faced.")
    if is_lower_only(now) and not has(now, "front"):
        _open_lower(now, take)
    drawn_in = has(now, "waist", "casing", "elastic-sewn") and not has(now, "closure", *ZIPS)
    if has(now, "waist-seam", "joined") and has(now, "waist") and not drawn_in:
        take("waist", "none", "The waist is a seam between bodice and skirt; its other finish is left out.")
    if has(now, "lining", "sewn-in", "bagged", "edge-to-edge", "free") and is_lower_only(now):
        take("lining", "waist", "A lining of a skirt or trousers is taken as joined at the waist.")
    if has(now, "lining", "waist") and has_upper(now):
        take(
            "lining",
            "free",
            "A lining joined at the waist only needs a waist; it is taken as hanging free from the neck.",
        )
    if has(now, "lining", "edge-to-edge") and has(now, "sleeve"):
        take("lining", "bagged", "With sleeves a lining cannot be joined edge to edge; it is taken as bagged.")
    if not has_upper(now) and not is_lower_only(now):
        taken.append("Neither a neck nor a waist is described: only the sides and the hem are sewn. Describe the rest.")
    _settle(lambda: now, take)
    if has(now, "waist", *BANDS, "yoke", "facing") and not is_lower_only(now) and has_upper(now) and has(now, "hem"):
        take("hem", "none", "The band is taken at the lower edge, in place of a hem.")
    banded = has(now, "hem", "banded", "ribbed") or (has(now, "waist", *BANDS) and not has(now, "hem"))
    if has(now, "lining", "bagged") and has_upper(now) and not has(now, "waist-seam") and banded:
        take(
            "lining",
            "sewn-in",
            "The band at the lower edge takes the lining in, so nothing is left to bag: the lining is sewn in, its lower edge "
            "basted to the shell's.",
        )
    _fill_upper(now, take)
    closed_last = lining_way(now) in ("sides", "edge-to-edge") or (
        lining_way(now) == "machine" and has(now, "armhole", "lined")
    )
    if (
        has(now, "zip-at", "side")
        and has(now, "closure", *ZIPS)
        and (closed_last or has(now, "neck", "combined-facing"))
    ):
        take(
            "zip-at", "back", "Its side seams are closed last, through all layers: the zip is taken at the centre back."
        )
    return replace(garment, features=features), taken


def _open_lower(now: SewnGarment, take: Callable[[str, str, str], SewnGarment]) -> None:
    """A skirt or trousers that are fastened open somewhere: down a faced front, or with a zip below the hook."""
    if has(now, "closure", "buttons", "snaps", "placket") and has(now, "legs"):
        take(
            "closure",
            "fly",
            "Trousers that are fastened open at the front: a fly with a zip is taken, the button on its band.",
        )
    elif has(now, "closure", "buttons", "snaps"):
        take("front", "facing", "It is fastened and nothing is said of where it opens: taken as down a faced front.")
    elif has(now, "closure", "hook") and has(now, "waist", *BANDS, "facing", "yoke"):
        take(
            "closure",
            "lapped-zip",
            "A hook closes the waist alone, and nothing opens below it: a lapped zip is taken there, with the hook above it. "
            "A skirt that wraps over is described as one.",
        )


def _between_legs(now: Callable[[], SewnGarment], take: Callable[[str, str, str], SewnGarment]) -> None:
    """What a seam between the legs asks of the rest: one body, closed in front, with leg openings that stretch."""
    in_two = has(now(), "waist-seam", "joined") or has(now(), "legs") or not has_upper(now())
    banded = has(now(), "waist", *BANDS, "yoke", "facing")
    if has(now(), "between-legs") and (in_two or banded or front_opens(now())):
        take("between-legs", "none", "A seam between the legs closes a body in one piece: here it is left out.")
    if has(now(), "between-legs") and not has(now(), "hem", "elastic", "bound", "casing"):
        take("hem", "elastic", "Its leg openings must stretch: elastic, sewn on and turned in, is taken.")
    if has(now(), "between-legs") and has(now(), "lining", "sewn-in", "bagged", "edge-to-edge", "free"):
        take("lining", "flat", "Leg openings take the lining in: each piece is taken as lined by itself.")


def _settle(now: Callable[[], SewnGarment], take: Callable[[str, str, str], SewnGarment]) -> None:
    """What contradicts is settled: one part of the description stands, and the program says which."""
    _between_legs(now, take)
    if has(now(), "lining", "edge-to-edge") and (
        has(now(), "waist-seam", "joined") or has(now(), "collar") or has(now(), "front", "band", "facing", "binding")
    ):
        take(
            "lining",
            "sewn-in",
            "With a waist seam, a collar or a button band the lining is taken as joined at the edges.",
        )
    if has(now(), "lining", "edge-to-edge") and has(now(), "neck"):
        if is_lower_only(replace(now(), features={**now().features, "neck": "none"})):
            take("lining", "sewn-in", "With a finish at waist and neck the lining is taken as joined at the edges.")
        else:
            take("neck", "none", "The lining finishes the neck; its other finish is left out.")
    if has(now(), "collar", "two-piece", "notched") and has(now(), "neck"):
        take("neck", "none", "The collar finishes the neck; its other finish is left out.")
    if has(now(), "collar", "one-piece", "hooded") and has(
        now(), "neck", "binding", "binding-ring", "band", "combined-facing", "casing", "elastic"
    ):
        take("neck", "none", "The collar finishes the neck; its other finish is left out.")
    if has(now(), "shirring", "panel") and has(now(), "lining"):
        take("lining", "none", "A shirred top stretches, a lining does not: none is taken.")
    if has(now(), "shirring", "panel") and has(now(), "straps", "strapless"):
        take("straps", "none", "The shirred panel's own elastic holds its upper edge: it is not faced.")
    if has(now(), "shirring", "panel") or has(now(), "straps", "strapless"):
        for name in ("neck", "armhole", "collar", "sleeve", "yoke"):
            if has(now(), name):
                take(name, "none", f"The top ends straight below the arms: its {name} is left out.")
    if has(now(), "collar", "notched") and not has(now(), "front", "facing"):
        take("front", "facing", "A notched collar needs a faced front.")
    if has(now(), "closure", "fly") and not is_lower_only(now()) and not has(now(), "legs"):
        take("closure", "none", "A fly opens trousers, or a skirt with a waist of its own: here it is left out.")
    if has(now(), "front") and has(now(), "closure", *ZIPS):
        take(
            "closure", "separating-zip", "An open front and a zip: the zip is taken as a separating one down the front."
        )
    if _edge_left_bare(now()):
        where = now().features.get("opening-at", "front")
        take("front", "facing", f"It opens down the {where} and the edge is not described: it is taken as faced.")
    if slit_fastened(now()) and has(now(), "closure", "buttons") and not has(now(), "buttonhole", "loops"):
        take("buttonhole", "loops", "The slit's edges meet and do not overlap: its button is closed with a loop.")
    if has(now(), "lining-sleeves", "none") and has(now(), "lining") and has(now(), "sleeve", *RAGLANS):
        take("lining-sleeves", "own", "A raglan sleeve runs to the neck: its lining is taken as having sleeves.")
    if has(now(), "lining", "bagged") and has(now(), "sleeve") and has(now(), "lining-sleeves", "none"):
        take(
            "lining",
            "sewn-in",
            "With unlined sleeves the lining is taken as joined at the edges, its armholes caught with the sleeves.",
        )
    if has(now(), "lining", "bagged") and has(now(), "waist-seam", "joined") and not has(now(), "sleeve"):
        take("lining", "sewn-in", "With a waist seam and no sleeves the lining is taken as joined at the edges.")
    if has(now(), "lining", "bagged", "edge-to-edge") and has(now(), "closure", *ZIPS) and not has(now(), "sleeve"):
        take("lining", "sewn-in", "With a zip and no sleeves the lining is taken as joined at the edges.")
    _lined_all_round(now, take)
    straight = has(now(), "straps", "strapless") or has(now(), "shirring", "panel")
    bare_neck = not has(now(), "neck") and not has(now(), "collar") and not straight
    if has(now(), "front", "facing") and is_enclosed(now()) and bare_neck:
        take("neck", "facing", "The front facing is taken as running on round the neck; the lining hangs from it.")
    if has(now(), "neck", "combined-facing") and (has(now(), "sleeve") or has(now(), "front", "facing")):
        take(
            "neck",
            "facing",
            "One facing for neck and armholes needs bare armholes; the neck is taken as faced by itself.",
        )
    if has(now(), "neck", "combined-facing") and not has(now(), "armhole", "none"):
        take("armhole", "none", "One facing finishes neck and armholes.")
    if has(now(), "armhole", "cape") and (has(now(), "sleeve") or has(now(), "straps")):
        take("armhole", "none", "A cape has neither sleeves nor straps: usual armholes are taken.")
    if has(now(), "sleeve") and has(now(), "armhole"):
        take("armhole", "none", "The sleeve finishes the armhole; its other finish is left out.")
    if has(now(), "armhole", "facing", "elastic") and is_enclosed(now()):
        take("armhole", "lined", "The lining finishes the armholes; what is named would only lie below it.")
    if has(now(), "armhole", "lined") and not is_enclosed(now()):
        take("armhole", "facing", "Without a joined lining the armholes are taken as faced.")
    if has(now(), "neck-shape", "v-seam") and has(now(), "neck", "binding-ring"):
        take(
            "neck",
            "binding",
            "A binding cut as a ring needs a closed edge; with a V left open a folded binding is taken. Is that right?",
        )
    if has(now(), "neck", "casing", "elastic") and has(now(), "closure"):
        take("neck", "binding", "Elastic runs all round the neck: where the garment opens, a binding is taken.")
    if has(now(), "neck", "casing", "elastic") and not has(now(), "neck-shape", "round"):
        take("neck-shape", "round", "Elastic draws the neck in: it has no corner, point or slit.")
    open_hem = front_opens(now()) and not has(now(), "legs")
    if has(now(), "hem", "elastic") and (open_hem or is_enclosed(now())):
        take(
            "hem",
            "double",
            "Elastic runs all round a lower edge that neither opens nor is lined: it is taken as turned twice.",
        )
    if has(now(), "front", "facing") and has(now(), "collar", "none") and has(now(), "neck", "facing-lining"):
        take("neck", "facing", "With a front facing the neck's facing runs on from it.")


def _lined_all_round(now: Callable[[], SewnGarment], take: Callable[[str, str, str], SewnGarment]) -> None:
    """A lining joined at every edge is turned through shoulders or sides, as far as the garment's form lets it."""
    faced = has(now(), "collar") or has(now(), "neck", "facing", "facing-lining", "combined-facing")
    if has(now(), "front", "lined") and (
        faced or lining_way(now()) not in ("sides", "edge-to-edge", "bagged", "machine")
    ):
        take(
            "front",
            "facing",
            "The open front is taken as faced: only a lining joined to neck and front takes its place.",
        )
    shoulders = not has(now(), "straps") and not has(now(), "shirring", "panel") and not has(now(), "armhole", "cape")
    if not shoulders or lining_way(now()) not in ("sides", "edge-to-edge"):
        return
    if not front_opens(now()):
        take(
            "lining",
            "sewn-in",
            "Joined at every edge, a garment with shoulders and no opening cannot be turned: the lining is taken as joined at "
            "neck and armholes, the hems sewn apart.",
        )
        if not has(now(), "armhole"):
            take("armhole", "lined", "Without sleeves the armholes are joined to the lining.")
    elif has(now(), "lining", "edge-to-edge"):
        take(
            "lining",
            "bagged",
            "With shoulders it is turned through them, both sides open: the lining is taken as bagged.",
        )


def _edge_left_bare(garment: SewnGarment) -> bool:
    """Whether an upper garment is fastened down an edge that nothing finishes: no band, no facing, no lining joined to it."""
    return (
        has_upper(garment)
        and not is_lower_only(garment)
        and (
            has(garment, "closure", "buttons", "snaps", "hook")
            or tied_behind(garment)
            or (has(garment, "closure", "separating-zip") and has(garment, "lining"))
        )
        and not has(garment, "front")
        and not slit_fastened(garment)
        and not has(garment, "straps", "buttoned")
        and (not is_enclosed(garment) or has(garment, "neck", "facing", "facing-lining", "combined-facing"))
    )


def _fill_upper(now: SewnGarment, take: Callable[[str, str, str], SewnGarment]) -> None:
    if not has_upper(now) or is_lower_only(now):
        return
    bare_top = not any(has(now, name) for name in ("neck", "collar", "sleeve", "armhole", "yoke", "straps"))
    if has(now, "boning") and bare_top:
        now = take("straps", "strapless", "A boned top without neck or sleeves is taken as strapless.")
    enclosed = has(now, "lining", "sewn-in", "bagged", "edge-to-edge")
    strapless = has(now, "straps", "strapless") or has(now, "shirring", "panel")
    neck = has(now, "neck") or has(now, "collar") or enclosed or strapless
    if not neck:
        now = take("neck", "facing", "The neck is not described: it is taken as faced.")
    features = now.features
    neck_way = features.get("neck", "none") if has(now, "neck") else ("facing" if not neck else "none")
    combined = has(now, "neck", "combined-facing")
    if not has(now, "sleeve") and not has(now, "armhole") and not strapless and not combined:
        if enclosed:
            take("armhole", "lined", "Without sleeves the armholes are joined to the lining.")
        else:
            way = "binding" if neck_way in ("binding", "binding-ring") else "facing"
            way = "elastic" if neck_way == "elastic" else way
            take(
                "armhole",
                way,
                f"The armholes are not described: {'taken as faced' if way == 'facing' else 'finished as the neck is'}.",
            )
    if holds_hem(now) and has(now, "hem", "double", "single"):
        take(
            "hem",
            "hand",
            "Below its lining the hem is folded once and caught by hand: a second fold would only make a ridge, and a "
            "machine's row would show.",
        )
    felled = lining_way(now) in ("machine", "hand") and holds_hem(now)
    if felled and not has(now, "hem") and not has(now, "waist"):
        take(
            "hem",
            "hand",
            "The lining is felled to a hem and none is described: it is taken as turned up, caught by hand.",
        )
    own = enclosed and has(now, "lining-sleeves", "own")
    if own and has(now, "sleeve") and has(now, "cuff", "hem"):
        take("cuff", "none", "The sleeve's hem is caught inside, below its lining.")
    if has(now, "sleeve") and not has(now, "cuff") and not own:
        take("cuff", "hem", "The sleeve's end is not described: it is taken as hemmed.")
