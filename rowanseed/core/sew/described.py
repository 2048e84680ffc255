"""What a garment's features say about its units, before the library's seams are given to them."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

from rowanseed.core.sew.anatomy import Anatomy
from rowanseed.core.sew.choices import (
    BANDS,
    RAGLANS,
    ZIPS,
    band_under_facing,
    front_opens,
    has,
    has_upper,
    is_enclosed,
    is_lower_only,
    lining_way,
    seam_placket,
    stand_takes_facing,
)
from rowanseed.core.sew.conditions import holds
from rowanseed.core.sew.facts import facts_of
from rowanseed.core.sew.model import SewnGarment, several
from rowanseed.core.sew.settled import settled

DRAWN_IN = ("waist", "corded", "overlocked", "cartridge")  # gathers at the waist
UnitSpec = tuple[str, str, Mapping[str, str], frozenset[str], frozenset[str]]


@dataclass
class Described:
    """The garment as its features describe it, what had to be taken where they leave it open, and facts about it."""

    garment: SewnGarment
    units: list[UnitSpec] = field(default_factory=list)
    facts: frozenset[str] = frozenset()
    taken: tuple[str, ...] = ()
    last: frozenset[tuple[str, str]] = frozenset()
    without: frozenset[tuple[str, str]] = frozenset()
    zip_units: tuple[str, ...] = ()
    zip_seam: str = ""
    top: str = ""
    low: str = ""

    def has(self, name: str, *choices: str) -> bool:
        """Whether the garment has one of these choices of a feature; without choices, whether it has the feature at all."""
        return has(self.garment, name, *choices)

    @property
    def zip_place(self) -> str:
        """Where the zip is: at the centre `back`, in the left `side` seam or at the centre `front`; nowhere where there is none."""
        if not self.zip_units:
            return ""
        return next((place for place in ("side", "front") if has(self.garment, "zip-at", place)), "back")

    @property
    def zip_window(self) -> bool:
        """Whether the zip lies in a window cut into a whole front, with no seam below it."""
        whole = self.top == self.low and not self.has("lining")
        return whole and self.has("closure", "exposed-zip") and self.zip_place == "front"

    @property
    def zip_in_crotch(self) -> bool:
        """Whether the zip lies in the crotch seam of legs, which then ends at its mark."""
        return self.low == "leg" and self.low in self.zip_units and not self.zip_at_side

    @property
    def zip_at_side(self) -> bool:
        """Whether the zip is in the left side seam."""
        return self.zip_place == "side"

    def facts_of(self, unit: str) -> frozenset[str]:
        """The garment's facts and those of a unit."""
        shell = unit.removeprefix("lining.")
        own = {f"is-{shell}"}
        if shell in self.zip_units:
            own.add("zip-here")
        if shell == self.zip_seam:
            own.add("zip-seam-here")
        in_back = shell in self.zip_units and self.zip_place == "back"
        if in_back:
            own.add("zip-back-here")
        vents = has(self.garment, "vent", "vent", "kick-pleat") and shell == self.low
        middle = has(self.garment, "centre-seam", "sewn") and shell in (self.top, self.low)
        if vents or middle or (in_back and shell == self.zip_seam):
            own.add("centre-back")
        if unit.startswith("lining."):
            own.add("is-lining")
            if unit == f"lining.{self.low}" and lining_way(self.garment) in ("bagged", "sides"):
                own.add("gap-here")
        elif unit == (self.top or self.low):
            own.add("is-first")
        if unit == self.low:
            own.add("is-low")
        if any(name == unit and "waist" in edges for name, _, _, edges, _ in self.units):
            own.add("has-waist")
        return self.facts | own

    def joints(self, anatomy: Anatomy) -> Iterator[tuple[str, str, str, tuple[str, ...], bool]]:
        """The seams between units of one layer: thing, id, words, the edges on which they end, whether they curve."""
        edges = {name: edges for name, _, _, edges, _ in self.units}
        done = set[str]()
        for kind in anatomy.joints:
            if not all(holds(c, self.garment, self.facts) for c in kind.when):
                continue
            part_unit, part_edge = kind.part.split(".")
            for layer in ("", "lining."):
                part = layer + part_unit
                if "." in kind.receiver:
                    receiver, edge = kind.receiver.split(".")
                else:
                    receiver, edge = self.top, kind.receiver
                receiver = layer + receiver
                if part_edge in edges.get(part, ()) and edge in edges.get(receiver, ()):
                    ends = tuple(f"{receiver}.{e}" for e in kind.ends if e in edges[receiver])
                    thing = f"{part}.{part_edge}+{receiver}.{edge}"
                    if thing in done:
                        continue
                    done.add(thing)
                    yield thing, kind.id, kind.words, ends, kind.curved


def describe(garment: SewnGarment) -> Described:
    """The units of a completed garment with their edges and openings, and what was taken where the features leave it open."""
    filled, taken = settled(garment)
    found = Described(filled, taken=tuple(taken))
    found.top, found.low = _main_units(filled)
    if has(filled, "closure", *ZIPS):
        upper = found.top or found.low
        found.zip_units = tuple(dict.fromkeys((upper, found.low) if has(filled, "waist-seam", "joined") else (upper,)))
        if not found.zip_window:
            found.zip_seam = found.zip_units[-1]
        _hem_before_pleats(found)
    shell = list(_shell(found))
    found.units = [*shell, *_lining(found, shell)]
    found.facts = frozenset(facts_of(found))
    if {"lining-hand", "shoulders"} <= found.facts:
        found.without = frozenset({(f"lining.{found.top}", "shoulder")})  # it is folded over and felled by hand
    found.last = frozenset(_left_for_last(found))
    return found


def _hem_before_pleats(found: Described) -> None:
    """A hem sewn before the pleats is given up where the zip's seam, which ends on it, is closed after the waist."""
    filled = found.garment
    folded = has(filled, "shaping", "pleats", "box-pleats") or has(filled, "gathers", "cartridge")
    if folded and has(filled, "waist-seam", "joined") and filled.schools.get("pleat-hem") == "first":
        found.garment = replace(filled, schools={**filled.schools, "pleat-hem": "last"})
        found.taken += (
            "The zip's seam runs over the waist seam down to the hem: the hem is sewn last, after the pleats.",
        )


def _main_units(garment: SewnGarment) -> tuple[str, str]:
    """The unit that has the neck, and the one that has the hem."""
    lower = "leg" if has(garment, "legs") else "skirt"
    if has(garment, "waist-seam", "joined"):
        return "bodice", lower
    if is_lower_only(garment):
        return "", lower
    return "body", "body"


def _shell(found: Described) -> Iterator[UnitSpec]:
    g = found.garment
    if found.top:
        yield found.top, found.top, _features_of(found, found.top), _upper_edges(found), _upper_openings(found)
    if found.low and found.low != found.top:
        openings = {"pocket", "pocket-mouth", "dart", "casing", "layer", "panel", "fold"} | _vents(g)
        if found.low in found.zip_units or has(g, "closure", "fly"):
            openings.add("zip")
        if has(g, "closure", "buttons", "snaps") and not found.top:
            openings |= {"buttonhole"}
        if seam_placket(g):
            openings.add("placket")
        edges = {"waist", "hem"} | ({"crotch"} if found.low == "leg" else set())
        edges |= {"front-edge"} if not found.top and has(g, "front") else set()
        yield found.low, found.low, _features_of(found, found.low), frozenset(edges), frozenset(openings)
    sleeves = has(g, "sleeve") and not has(g, "sleeve", "dolman", "dolman-gusset")
    if sleeves:
        cap = "raglan" if has(g, "sleeve", *RAGLANS) else "cap"
        openings = {"dart", "layer"} | ({"placket"} if has(g, "sleeve-vent", "continuous-lap", "placket") else set())
        openings |= {"vent"} if has(g, "sleeve-vent", "vent") else set()
        yield "sleeve", "sleeve", _features_of(found, "sleeve"), frozenset({cap, "wrist"}), frozenset(openings)
    yield from _small_units(found)


def _small_units(found: Described) -> Iterator[UnitSpec]:
    g, every = found.garment, frozenset[str]()

    def unit(name: str, edges: str, openings: str = "layer") -> UnitSpec:
        return name, name, _features_of(found, name), frozenset(edges.split()), frozenset(openings.split()) | every

    if has(g, "collar", "one-piece", "two-piece", "notched") or has(g, "neck", "band"):
        yield unit("collar", "neck outer side")
    if has(g, "collar", "two-piece"):
        yield unit("stand", "neck outer")
    if has(g, "collar", "hooded"):
        yield unit("hood", "neck outer")
    if has(g, "cuff", "band", "gathered-band", "knit-band"):
        yield unit("cuff", "outer fold side", "layer buttonhole")
    if has(g, "waist", *BANDS) or has(g, "hem", "ribbed", "banded"):
        yield unit("waistband", "waist fold side", "layer buttonhole")
    if has(g, "waist", "yoke"):
        yield unit("yoke", "waist outer")
    facing = {
        "neck": has(g, "neck", "facing", "facing-lining", "combined-facing"),
        "front-edge": has(g, "front", "facing"),
    }
    under_collar = has(g, "collar") and not stand_takes_facing(g)
    under_collar = under_collar or band_under_facing(g)
    facing["neck"] = facing["neck"] or (facing["front-edge"] and under_collar) or has(g, "collar", "notched")
    facing["front-edge"] = facing["front-edge"] or has(g, "collar", "notched")
    facing["armhole"] = has(g, "armhole", "facing") or has(g, "neck", "combined-facing")
    facing["waist"] = has(g, "waist", "facing", "yoke")
    facing["hem"] = has(g, "hem", "faced") and lining_way(g) not in ("bagged", "sides", "edge-to-edge")
    facing["upper"] = has(g, "straps", "strapless") and not is_enclosed(g)
    if any(facing.values()):
        yield unit("facing", " ".join([e for e, on in facing.items() if on] + ["outer"]))
    if has(g, "pocket"):
        yield unit("pocket", "pocket-mouth outer")
    if has(g, "straps", "buttoned", "sewn") or has(g, "closure", "ties", "wrap") or has(g, "belt", "tied"):
        yield unit("strap", "strap-end", "layer buttonhole")
    if has(g, "belt", "belt"):
        yield unit("belt", "outer")
    if has(g, "belt", "loops"):
        yield unit("tab", "outer")
    if has(g, "shirring", "panel"):
        yield unit("panel", "upper")
    if (
        any(has(g, n, "binding", "binding-ring") for n in ("neck", "front", "armhole"))
        or has(g, "cuff", "bound")
        or has(g, "hem", "bound")
        or has(g, "seam-finish", "bound", "hong-kong")
        or any(own.get("seam-finish") in ("bound", "hong-kong") for own in g.units.values())
    ):
        yield unit("binding", "fold")


def _features_of(found: Described, name: str) -> Mapping[str, str]:
    """The features of a unit: the garment's, with what was said of this unit."""
    features = dict(found.garment.features)
    own = found.garment.units.get(name, {})
    if "shaping" not in own:
        features["shaping"] = _shaping_of(found, name, several(features.get("shaping", "none")))
    return {**features, **own}


def _shaping_of(found: Described, name: str, all_: tuple[str, ...]) -> str:
    """Which of the garment's darts, tucks and pleats a unit takes: pleats the skirt, tucks the bodice, darts both."""
    shell = name.removeprefix("lining.")
    if shell not in (found.top, found.low):
        return "none"
    if found.top == found.low or not found.top:
        return "+".join(all_) or "none"
    lower = {"pleats", "box-pleats", "released-tucks"}
    if shell == found.low and has(found.garment, "gathers", *DRAWN_IN):
        all_ = tuple(s for s in all_ if s != "darts")  # what is drawn into the waist has no darts there
    if len(all_) == 1:
        lower = lower - {"released-tucks"}
        own = [s for s in all_ if (s in lower) == (shell == found.low) or s == "darts"]
    else:
        own = [
            s
            for s in all_
            if (s == "darts" and shell == found.top) or ((s in lower) == (shell == found.low) and s != "darts")
        ]
    return "+".join(own) or "none"


def _vents(g: SewnGarment) -> set[str]:
    if has(g, "neck-shape", "slit") and has_upper(g) and not has(g, "waist-seam", "joined"):
        return {"vent"} if has(g, "vent") else set()  # the slit of this unit is the neck's
    return {"vent": {"vent"}, "kick-pleat": {"vent"}, "slit": {"slit"}}.get(g.features.get("vent", "none"), set())


def _upper_edges(found: Described) -> frozenset[str]:
    g = found.garment
    edges = {"waist"} if found.low != found.top or has(g, "waist", *BANDS, "facing", "yoke") else {"hem"}
    if not has_upper(g):
        return frozenset(edges)
    if has(g, "straps", "strapless") or has(g, "shirring", "panel"):
        edges.add("upper")
    else:
        edges.add("neck")
        if has(g, "straps", "buttoned", "sewn"):
            edges.add("upper")
        if has(g, "sleeve", *RAGLANS):
            edges.add("raglan")
        elif has(g, "sleeve", "dolman", "dolman-gusset"):
            edges.add("wrist")
        elif not has(g, "armhole", "cape"):
            edges.add("armhole")
    if front_opens(g):
        edges.add("front-edge")
    return frozenset(edges)


def _upper_openings(found: Described) -> frozenset[str]:
    g = found.garment
    openings = {"pocket", "pocket-mouth", "dart", "layer", "channel", "panel", "fold", "casing"}
    if found.top in found.zip_units or has(g, "closure", "separating-zip"):
        openings.add("zip")
    if has(g, "closure", "placket"):
        openings |= {"placket", "buttonhole"}
    if has(g, "closure", "buttons", "snaps", "hook") and (has(g, "front") or not has(g, "straps", "buttoned")):
        openings.add("buttonhole")
    if has(g, "sleeve", "dolman-gusset"):
        openings.add("gusset")
    if has(g, "neck-shape", "slit"):
        openings.add("slit")
    if found.low == found.top:
        openings |= _vents(g)
    return frozenset(openings)


def _lining(found: Described, shell: list[UnitSpec]) -> Iterator[UnitSpec]:
    """The lining's units: those of the shell that it covers."""
    g = found.garment
    if not has(g, "lining") or has(g, "lining", "flat"):
        return
    wanted = ["skirt", "leg"] if has(g, "lining", "waist") else ["body", "bodice", "skirt", "leg"]
    if has(g, "lining-sleeves", "own") and not has(g, "lining", "waist"):
        wanted.append("sleeve")
    for name, kind, _, edges, openings in shell:
        if name in wanted:
            own = {"gap"} if name in ("body", "bodice", "skirt") else set()
            kept = {e for e in edges if e != "wrist" or kind == "sleeve" or has(g, "sleeve", "dolman", "dolman-gusset")}
            extra = {"dart", "channel", "pocket"} & openings | own | ({"zip"} & openings)
            features = {**_features_of(found, name), "seam-finish": g.features.get("seam-finish", "none")}
            features.update(found.garment.units.get(f"lining.{name}", {}))
            if found.garment.units.get(f"lining.{name}", {}).get("seam-finish") is None and is_enclosed(g):
                features["seam-finish"] = "none"
            yield f"lining.{name}", kind, features, frozenset(kept), frozenset(extra)


def _left_for_last(found: Described) -> Iterator[tuple[str, str]]:
    """Edges with the seam that is left for last at them: sewn after the edge, it crosses what was done there."""
    waist = f"{found.low}.waist"
    lined = "sides-last" in found.facts and found.facts & {"neck-by-lining", "edges-by-lining"}
    early_neck = bool(lined) or "facing-apart" in found.facts
    if found.zip_units and not found.zip_at_side and (early_neck or found.has("neck", "combined-facing")):
        # The upper edge is lined or faced while the back is open, the zip goes in afterwards.
        yield from ((f"{found.top}.{edge}", f"{found.top}.zip") for edge in ("neck", "upper"))
    if found.low == "leg" and found.top and found.zip_units and not found.zip_at_side:
        yield waist, "leg.crotch"  # the zip runs over the waist seam into the crotch seam, which is closed below it
    if found.zip_units and not found.top and found.has("waist", "yoke"):
        yield waist, f"{found.low}.zip"  # it runs on into the hip yoke
    if "crotch-last" in found.facts:
        yield waist, f"{found.low}.crotch"
        if "band-halves" not in found.facts:
            yield waist, f"{found.low}.zip"
    if found.garment.schools.get("sleeve-end") == "flat":
        yield "sleeve.wrist", "sleeve.underarm"
        yield f"{found.top}.wrist", f"{found.top}.side"
    for layer in ("", "lining."):
        top = layer + found.top
        if "sleeves-flat" in found.facts and found.garment.schools.get("sleeve-hem") == "before-setting" and not layer:
            yield "sleeve.wrist", "sleeve.underarm"
        if "sleeves-flat" in found.facts:
            yield f"{top}.armhole", f"{top}.side"
            yield from ((f"{top}.armhole", f"{top}.{name}") for name in ("left-side", "zip") if found.zip_at_side)
            yield f"{layer}sleeve.cap", f"{layer}sleeve.underarm"
        if found.has("sleeve", *RAGLANS):
            yield f"{top}.raglan", f"{top}.side"
            yield f"{layer}sleeve.raglan", f"{layer}sleeve.underarm"
        if "facing-apart" in found.facts and not layer:
            yield f"{top}.neck", f"{top}.shoulder"
            yield "facing.neck", "facing.shoulder"
        if found.has("neck", "combined-facing"):
            yield f"{top}.armhole", f"{top}.side"
        if found.has("neck", "combined-facing") and not layer:
            yield "facing.armhole", "facing.side"
            yield "facing.outer", "facing.side"
        if "sides-last" in found.facts:
            bound = found.has("armhole", "binding")  # a bound armhole waits until the sides are sewn
            early = () if bound else ("armhole",)
            for edge in (*early, "upper") + (("hem",) if "lining-hem-joined" in found.facts else ()):
                yield f"{layer}{found.low}.{edge}", f"{layer}{found.low}.side"
                yield f"{top}.{edge}", f"{top}.side"
