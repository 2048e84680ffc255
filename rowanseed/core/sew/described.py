"""What a garment's features say about its units, before the library's seams are given to them."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace

from rowanseed.core.sew.anatomy import Anatomy, unit_of
from rowanseed.core.sew.model import SewnGarment, several

UnitSpec = tuple[str, str, Mapping[str, str], frozenset[str], frozenset[str]]
ZIPS = ("invisible-zip", "lapped-zip", "centred-zip", "exposed-zip", "open-edge-zip")
BANDS = ("band", "stiff-band", "knit-band")
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

    def facts_of(self, unit: str) -> frozenset[str]:
        """The garment's facts and those of a unit."""
        shell = unit.removeprefix("lining.")
        own = {f"is-{shell}"}
        if shell in self.zip_units:
            own.add("zip-here")
        if shell == self.zip_seam:
            own.add("zip-seam-here")
        vents = has(self.garment, "vent", "vent", "kick-pleat") and shell == self.low
        middle = has(self.garment, "centre-seam", "sewn") and shell in (self.top, self.low)
        if vents or middle or (shell in self.zip_units and shell == self.zip_seam):
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
        for kind in anatomy.joints:
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
                    yield f"{part}.{part_edge}+{receiver}.{edge}", kind.id, kind.words, ends, kind.curved


def has(garment: SewnGarment, name: str, *choices: str) -> bool:
    """Whether a garment has one of these choices of a feature; without choices, whether it has the feature at all."""
    own = several(garment.features.get(name, "none"))
    return any(choice in choices for choice in own) if choices else own != ("none",)


def describe(garment: SewnGarment) -> Described:
    """The units of a completed garment with their edges and openings, and what was taken where the features leave it open."""
    filled, taken = _filled(garment)
    found = Described(filled, taken=tuple(taken))
    found.top, found.low = _main_units(filled)
    if has(filled, "closure", *ZIPS):
        upper = found.top or found.low
        found.zip_units = tuple(dict.fromkeys((upper, found.low) if has(filled, "waist-seam", "joined") else (upper,)))
        found.zip_seam = found.zip_units[-1]
    shell = list(_shell(found))
    found.units = [*shell, *_lining(found, shell)]
    found.facts = frozenset(_facts(found))
    found.last = frozenset(_left_for_last(found))
    return found


def _main_units(garment: SewnGarment) -> tuple[str, str]:
    """The unit that has the neck, and the one that has the hem."""
    lower = "leg" if has(garment, "legs") else "skirt"
    if has(garment, "waist-seam", "joined"):
        return "bodice", lower
    if is_lower_only(garment):
        return "", lower
    return "body", "body"


def is_lower_only(garment: SewnGarment) -> bool:
    """Whether the garment begins at the waist: a skirt, trousers, an apron."""
    upper = any(has(garment, name) for name in UPPER)
    return not upper and (has(garment, "waist") or has(garment, "legs")) and not has(garment, "waist-seam", "joined")


def has_upper(garment: SewnGarment) -> bool:
    """Whether anything above the waist is described."""
    return (
        any(has(garment, name) for name in UPPER)
        or has(garment, "waist-seam", "joined")
        or has(garment, "lining", "bagged", "edge-to-edge")
    )


def _filled(garment: SewnGarment) -> tuple[SewnGarment, list[str]]:
    """The garment with what its features leave open taken in the usual way, and what was taken, in sentences."""
    features, taken = dict(garment.features), list[str]()
    now = garment

    def take(name: str, choice: str, words: str) -> SewnGarment:
        nonlocal now
        features[name] = choice
        now = replace(garment, features=dict(features))
        taken.append(words)
        return now

    if has(now, "legs") and any(has(now, n) for n in UPPER) and not has(now, "waist-seam", "joined"):
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
    if has(now, "waist-seam", "joined") and has(now, "waist"):
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
    _settle(lambda: now, take)
    if has(now, "waist", *BANDS, "yoke") and not is_lower_only(now) and has_upper(now) and has(now, "hem"):
        take("hem", "none", "The band is taken at the lower edge, in place of a hem.")
    _fill_upper(now, take)
    return replace(garment, features=features), taken


def _settle(now: Callable[[], SewnGarment], take: Callable[[str, str, str], SewnGarment]) -> None:
    """What contradicts is settled: one part of the description stands, and the program says which."""
    if has(now(), "lining", "edge-to-edge") and (
        has(now(), "waist-seam", "joined") or has(now(), "collar") or has(now(), "front", "band", "facing")
    ):
        take(
            "lining",
            "sewn-in",
            "With a waist seam, a collar or a button band the lining is taken as joined at the edges.",
        )
    if has(now(), "lining", "edge-to-edge") and has(now(), "neck"):
        take("neck", "none", "The lining finishes the neck; its other finish is left out.")
    if has(now(), "collar", "two-piece", "notched") and has(now(), "neck"):
        take("neck", "none", "The collar finishes the neck; its other finish is left out.")
    if has(now(), "collar", "one-piece", "hooded") and has(
        now(), "neck", "binding", "binding-ring", "band", "combined-facing"
    ):
        take("neck", "none", "The collar finishes the neck; its other finish is left out.")
    if has(now(), "shirring", "panel") and has(now(), "lining"):
        take("lining", "none", "A shirred top stretches, a lining does not: none is taken.")
    if has(now(), "shirring", "panel") or has(now(), "straps", "strapless"):
        for name in ("neck", "armhole", "collar", "sleeve", "yoke"):
            if has(now(), name):
                take(name, "none", f"The top ends straight below the arms: its {name} is left out.")
    if has(now(), "collar", "notched") and not has(now(), "front", "facing"):
        take("front", "facing", "A notched collar needs a faced front.")
    if has(now(), "front") and has(now(), "closure", *ZIPS):
        take(
            "closure", "separating-zip", "An open front and a zip: the zip is taken as a separating one down the front."
        )
    if has(now(), "lining", "bagged") and has(now(), "waist-seam", "joined") and not has(now(), "sleeve"):
        take("lining", "sewn-in", "With a waist seam and no sleeves the lining is taken as joined at the edges.")
    if has(now(), "lining", "bagged", "edge-to-edge") and has(now(), "closure", *ZIPS) and not has(now(), "sleeve"):
        take("lining", "sewn-in", "With a zip and no sleeves the lining is taken as joined at the edges.")
    if has(now(), "neck", "combined-facing") and (has(now(), "sleeve") or has(now(), "front", "facing")):
        take(
            "neck",
            "facing",
            "One facing for neck and armholes needs bare armholes; the neck is taken as faced by itself.",
        )
    if has(now(), "neck", "combined-facing") and not has(now(), "armhole", "none"):
        take("armhole", "none", "One facing finishes neck and armholes.")
    if has(now(), "sleeve") and has(now(), "armhole"):
        take("armhole", "none", "The sleeve finishes the armhole; its other finish is left out.")
    if has(now(), "armhole", "lined") and not _enclosed(now()):
        take("armhole", "facing", "Without a joined lining the armholes are taken as faced.")
    if has(now(), "neck-shape", "v-seam") and has(now(), "neck", "binding-ring"):
        take(
            "neck",
            "binding",
            "A binding cut as a ring needs a closed edge; with a V left open a folded binding is taken. Is that right?",
        )
    if has(now(), "front", "facing") and has(now(), "collar", "none") and has(now(), "neck", "facing-lining"):
        take("neck", "facing", "With a front facing the neck's facing runs on from it.")


def _fill_upper(now: SewnGarment, take: Callable[[str, str, str], SewnGarment]) -> None:
    if not has_upper(now) or is_lower_only(now):
        return
    bare_top = not any(has(now, name) for name in ("neck", "collar", "sleeve", "armhole", "yoke", "straps"))
    if has(now, "boning") and bare_top:
        now = take("straps", "strapless", "A boned top without neck or sleeves is taken as strapless.")
    enclosed = has(now, "lining", "sewn-in", "bagged", "edge-to-edge")
    strapless = has(now, "straps", "strapless") or has(now, "shirring", "panel")
    neck = has(now, "neck") or has(now, "collar") or enclosed or strapless or has(now, "lining", "free")
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
            take(
                "armhole",
                way,
                f"The armholes are not described: {'bound, as the neck is' if way == 'binding' else 'taken as faced'}.",
            )
    own = enclosed and has(now, "lining-sleeves", "own")
    if has(now, "sleeve") and not has(now, "cuff") and not own:
        take("cuff", "hem", "The sleeve's end is not described: it is taken as hemmed.")


def _shell(found: Described) -> Iterator[UnitSpec]:
    g = found.garment
    if found.top:
        yield found.top, found.top, _features_of(found, found.top), _upper_edges(found), _upper_openings(found)
    if found.low and found.low != found.top:
        openings = {"pocket", "pocket-mouth", "dart", "casing", "layer", "panel", "fold"} | _vents(g)
        if found.low in found.zip_units or has(g, "closure", "fly"):
            openings.add("zip")
        if has(g, "closure", "buttons", "snaps", "placket") and not found.top:
            openings |= {"buttonhole"}
        edges = {"waist", "hem"} | ({"crotch"} if found.low == "leg" else set())
        yield found.low, found.low, _features_of(found, found.low), frozenset(edges), frozenset(openings)
    sleeves = has(g, "sleeve") and not has(g, "sleeve", "dolman", "dolman-gusset")
    if sleeves:
        cap = "raglan" if has(g, "sleeve", "raglan") else "cap"
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
    facing["neck"] = facing["neck"] or (facing["front-edge"] and has(g, "collar")) or has(g, "collar", "notched")
    facing["front-edge"] = facing["front-edge"] or has(g, "collar", "notched")
    facing["armhole"] = has(g, "armhole", "facing") or has(g, "neck", "combined-facing")
    facing["waist"] = has(g, "waist", "facing", "yoke")
    facing["hem"] = has(g, "hem", "faced")
    facing["upper"] = has(g, "straps", "strapless") and not has(g, "lining")
    if any(facing.values()):
        yield unit("facing", " ".join([e for e, on in facing.items() if on] + ["outer"]))
    if has(g, "pocket"):
        yield unit("pocket", "pocket-mouth outer")
    if has(g, "straps", "buttoned", "sewn") or has(g, "closure", "ties") or has(g, "belt", "tied"):
        yield unit("strap", "strap-end", "layer buttonhole")
    if has(g, "belt", "belt"):
        yield unit("belt", "outer")
    if has(g, "belt", "loops"):
        yield unit("tab", "outer")
    if has(g, "shirring", "panel"):
        yield unit("panel", "upper")
    if (
        any(has(g, n, "binding", "binding-ring") for n in ("neck", "armhole"))
        or has(g, "cuff", "bound")
        or has(g, "hem", "bound")
        or has(g, "seam-finish", "bound", "hong-kong")
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
    if has(g, "neck-shape", "slit") and has_upper(g):
        return {"vent"} if has(g, "vent", "vent", "kick-pleat") else set()
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
        if has(g, "sleeve", "raglan"):
            edges.add("raglan")
        elif has(g, "sleeve", "dolman", "dolman-gusset"):
            edges.add("wrist")
        else:
            edges.add("armhole")
    if _front_opens(g):
        edges.add("front-edge")
    return frozenset(edges)


def _front_opens(g: SewnGarment) -> bool:
    return (
        has(g, "front")
        or has(g, "collar", "notched")
        or (has(g, "closure", *FASTENED) and not has(g, "straps", "buttoned"))
    )


def _upper_openings(found: Described) -> frozenset[str]:
    g = found.garment
    openings = {"pocket", "pocket-mouth", "dart", "layer", "channel", "panel", "fold", "casing"}
    if found.top in found.zip_units or has(g, "closure", "separating-zip"):
        openings.add("zip")
    if has(g, "closure", "placket"):
        openings |= {"placket", "buttonhole"}
    if has(g, "closure", "buttons", "snaps", "hook") and not has(g, "straps", "buttoned"):
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
            if found.garment.units.get(f"lining.{name}", {}).get("seam-finish") is None and _enclosed(g):
                features["seam-finish"] = "none"
            yield f"lining.{name}", kind, features, frozenset(kept), frozenset(extra)


def _enclosed(g: SewnGarment) -> bool:
    return has(g, "lining", "sewn-in", "bagged", "edge-to-edge")


def _facts(found: Described) -> Iterator[str]:
    """Facts that conditions ask for."""
    g = found.garment
    edges = {name: e for name, _, _, e, _ in found.units}
    yield from (f"unit-{name}" for name in edges)
    yield from _sleeve_facts(found, edges)
    yield from _facing_facts(found, edges)
    yield from _lining_facts(found, edges)
    way = lining_way(g)
    if has(g, "front", "band"):
        yield "banded-front"
    if "front-edge" in edges.get(found.top, ()):
        yield "front-open"
        yield "interfaced-top"
    elif has(g, "closure", "placket", "buttons", "snaps") and found.top and not has(g, "straps", "buttoned"):
        yield "interfaced-top"
    if has(g, "closure", *ZIPS):
        yield "zip"
        if not found.top and (g.schools.get("zip-and-band") == "band-first" or has(g, "waist", "yoke")):
            yield "crotch-last"
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
    if not has(g, "hem", "double", "none"):
        yield "hem-once"
    if has(g, "hem", "banded", "ribbed"):
        yield "hem-band"
    if found.low == found.top and has(g, "waist", "casing", "elastic-sewn", "drawcord"):
        yield "waist-on-body"
    if way in ("sides", "edge-to-edge") or (way == "machine" and has(g, "armhole", "lined")):
        yield "sides-last"


def _sleeve_facts(found: Described, edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    g = found.garment
    top = edges.get(found.top, frozenset())
    if "armhole" in top and not {"upper"} & top and "neck" in top:
        yield "shoulders"
    way = lining_way(g)
    caught = "cap" in edges.get("sleeve", ()) and way == "machine" and "lining.sleeve" not in edges
    if caught:
        yield "armhole-caught"
    if "cap" in edges.get("sleeve", ()):
        flat = g.schools.get("sleeve-setting") == "flat" and not has(g, "sleeve", "two-piece") and not caught
        yield "sleeves-flat" if flat else "sleeves-round"


def _facing_facts(found: Described, edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    """What faces the neck, and how far a facing goes."""
    g = found.garment
    facing, top = edges.get("facing", frozenset()), edges.get(found.top, frozenset())
    if "neck" in facing:
        yield "facing-shoulders"
    if "armhole" in facing:
        yield "armhole-facing"
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


def _lining_facts(found: Described, edges: Mapping[str, frozenset[str]]) -> Iterator[str]:
    """How a lining is joined, and which edges of the shell it finishes."""
    g = found.garment
    way = lining_way(g)
    yield f"lining-{way}"
    facing, top = edges.get("facing", frozenset()), edges.get(found.top, frozenset())
    lined_top = f"lining.{found.top}" in edges
    if way in ("bagged", "sides", "edge-to-edge", "machine", "hand"):
        yield "enclosed"
    if not lined_top:
        if way == "waist":
            yield "lining-hangs"
        return
    yield "lined-top"
    to_facing = bool(facing & {"neck", "front-edge"}) and way != "edge-to-edge"
    bare_neck = (
        "neck" in top and not has(g, "neck") and not has(g, "collar", "two-piece", "notched") and "neck" not in facing
    )
    by_machine = way in ("bagged", "sides", "machine", "edge-to-edge")
    neck, front = False, False
    if to_facing:
        yield "lining-to-facing"
        if way in ("machine", "free") and not has(g, "front", "facing") and not has(g, "collar", "notched"):
            yield "lining-facing-first"
    elif by_machine or way == "hand":
        neck = bare_neck
        front = "front-edge" in top and "front-edge" not in facing and not has(g, "front", "band")
    if neck:
        yield "neck-by-lining"
        yield "neck-covered"
    if front:
        yield "front-by-lining"
    edges_joined = neck or front or (by_machine and has(g, "armhole", "lined")) or ("upper" in top and by_machine)
    if edges_joined and way in ("machine", "sides", "edge-to-edge", "bagged"):
        yield "edges-by-lining"
    if not to_facing and not neck and (way == "free" or "neck" in top):
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
    if way == "free" or (way == "machine" and not felled):
        yield "lining-hangs"
    back_open = bool(found.zip_units) or has(g, "centre-seam", "sewn")
    wanted = not has(g, "lining-pleat", "none")
    if wanted and "neck" in top and not back_open and "lining.sleeve" in edges:
        yield "lining-pleat"


def lining_way(g: SewnGarment) -> str:
    """How a lining is joined: none, flat, waist, free, edge-to-edge, sides (bagged without sleeves), bagged, machine or hand."""
    lining = g.features.get("lining", "none")
    if lining == "bagged":
        return "bagged" if has(g, "sleeve") else "sides"
    if lining == "sewn-in":
        return "hand" if g.schools.get("lining-joining") == "by-hand" else "machine"
    return lining


def _left_for_last(found: Described) -> Iterator[tuple[str, str]]:
    """Edges with the seam that is left for last at them: sewn after the edge, it crosses what was done there."""
    waist = f"{found.low}.waist"
    early_neck = {"sides-last", "neck-by-lining"} <= found.facts or "facing-apart" in found.facts
    if found.zip_units and (early_neck or found.has("neck", "combined-facing")):
        yield (
            f"{found.top}.neck",
            f"{found.top}.zip",
        )  # the neck is lined while the back is open, the zip goes in afterwards
    if found.low == "leg" and found.top and found.zip_units:
        yield waist, "leg.crotch"  # the zip runs over the waist seam into the crotch seam, which is closed below it
    if not found.top and (found.garment.schools.get("zip-and-band") == "band-first" or found.has("waist", "yoke")):
        if found.zip_units:
            yield waist, f"{found.low}.zip"
            yield waist, f"{found.low}.crotch"
    for layer in ("", "lining."):
        top = layer + found.top
        if "sleeves-flat" in found.facts and found.garment.schools.get("sleeve-hem") == "before-setting" and not layer:
            yield "sleeve.wrist", "sleeve.underarm"
        if "sleeves-flat" in found.facts:
            yield f"{top}.armhole", f"{top}.side"
            yield f"{layer}sleeve.cap", f"{layer}sleeve.underarm"
        if found.has("sleeve", "raglan"):
            yield f"{top}.raglan", f"{top}.side"
            yield f"{layer}sleeve.raglan", f"{layer}sleeve.underarm"
        if "facing-apart" in found.facts and not layer:
            yield f"{top}.neck", f"{top}.shoulder"
            yield "facing.neck", "facing.shoulder"
        if found.has("neck", "combined-facing") and not layer:
            yield f"{top}.armhole", f"{top}.side"
            yield "facing.armhole", "facing.side"
        if "sides-last" in found.facts:
            for edge in ("armhole", "upper") + (("hem",) if "lining-hem-joined" in found.facts else ()):
                yield f"{layer}{found.low}.{edge}", f"{layer}{found.low}.side"
                yield f"{top}.{edge}", f"{top}.side"


def layer_of(thing: str) -> str:
    """The layer of a thing."""
    return "lining" if unit_of(thing).startswith("lining.") else "shell"
