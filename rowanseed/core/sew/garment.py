"""From a garment's features to the operations it takes, each with the needs that the laws give it."""

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.choices import front_opens, has, lining_way
from rowanseed.core.sew.garment_key import GarmentKey
from rowanseed.core.sew.instances import operations_of
from rowanseed.core.sew.laws.needs import needs_of
from rowanseed.core.sew.model import BY_HAND, TOOLS, Feature, Library, Need, Operation, SewnGarment
from rowanseed.core.sew.own_steps import own_operations
from rowanseed.core.sew.settled import settled
from rowanseed.core.sew.units import Assembly, units_of

Item = tuple[Operation, tuple[Need, ...]]
# What each unit may have in its own way; all else that is said of a unit describes the garment.
EACH_ITS_OWN = (
    "shaping",
    "gathers",
    "seam-finish",
    "topstitching",
    "decoration",
    "underlining",
    "interlining",
    "hem",
    "joins",
)
ENCLOSING = ("sewn-in", "bagged", "edge-to-edge")


def complete(library: Library, garment: SewnGarment) -> SewnGarment:
    """The garment with every feature and school chosen, defaults filled in.

    Raises:
        FeatureError: a feature, choice or school the library does not know. A tool it does not know changes nothing.
    """
    features = chosen(library.features, garment.features, "feature")
    if "seam-finish" not in garment.features:
        features["seam-finish"] = _usual_finish(features, garment)
        garment = _bare_where_it_hangs(features, _bare_sleeves(features, garment))
    if garment.cloth.fur:
        features["seam-finish"] = "none"
        if features.get("interfacing") == "fusible":
            features["interfacing"] = "sewn"  # fusing needs the iron
    for unit, own in garment.units.items():
        chosen(library.features, own, f"feature of {unit}")
        features |= _of_one_unit(library, unit, own)
    return replace(garment, features=features, schools=chosen(library.schools, garment.schools, "school"))


def settled_features(library: Library, garment: SewnGarment) -> Mapping[str, str]:
    """Every feature as the garment is sewn: defaults filled in, what contradicts settled.

    Raises:
        FeatureError: as `complete`.
    """
    return settled(complete(library, garment))[0].features


def _of_one_unit(library: Library, unit: str, own: Mapping[str, str]) -> dict[str, str]:
    """What is said of a unit and makes the garment what it is: all but what several units may have each in its own way."""
    if unit.startswith("lining.") or "." in unit:
        return {}
    return {name: choice for name, choice in own.items() if name not in EACH_ITS_OWN}


def _usual_finish(features: Mapping[str, str], garment: SewnGarment) -> str:
    """The seam finish where none is said: none below a lining that encloses and on leather, one pass on a knit, else overlocked."""
    if features["lining"] in ENCLOSING or garment.cloth.leather:
        return "none"
    return _where_bare(garment)


def _where_bare(garment: SewnGarment) -> str:
    return "overlocked-seam" if garment.cloth.knit else "overlocked"


def _bare_sleeves(features: Mapping[str, str], garment: SewnGarment) -> SewnGarment:
    """The garment with the seams of sleeves finished that a lining of the body leaves bare inside."""
    unlined = features["lining"] in ENCLOSING and features["lining-sleeves"] == "none" and features["sleeve"] != "none"
    if not unlined:
        return garment
    own = {"seam-finish": _where_bare(garment), **garment.units.get("sleeve", {})}
    return replace(garment, units={**garment.units, "sleeve": own})


def _bare_where_it_hangs(features: Mapping[str, str], garment: SewnGarment) -> SewnGarment:
    """The garment with the seams finished, its own and the lining's, between which a lining hangs free below the waist."""
    done = replace(garment, features=features)
    if features["lining"] != "sewn-in" or lining_way(done) != "machine" or front_opens(done):
        return garment
    low = ("skirt", "leg") if has(done, "waist-seam", "joined") else ("body",)
    names = [layer + name for layer in ("", "lining.") for name in low]
    hangs = {name: {"seam-finish": _where_bare(garment), **garment.units.get(name, {})} for name in names}
    return replace(garment, units={**garment.units, **hangs})


def chosen(known: tuple[Feature, ...], given: Mapping[str, str], word: str) -> dict[str, str]:
    """Every feature (or school: `word`) with what was chosen of it or its default. Raises FeatureError for what nobody knows."""
    names = {feature.name: feature for feature in known}
    for name, choice in given.items():
        if name not in names:
            raise FeatureError(f"There is no {word} called “{name}”. Known: {', '.join(names)}.", name)
        names[name].refuse_unknown(choice)
    return {name: given.get(name, feature.choices[0][0]) for name, feature in names.items()}


def assembled(library: Library, garment: SewnGarment) -> Assembly:
    """A garment's units, edges and seams.

    Raises:
        FeatureError: as `complete`.
    """
    return _assembled(GarmentKey(library, garment))


@lru_cache(maxsize=128)
def _assembled(asked: GarmentKey) -> Assembly:
    return units_of(asked.library, complete(asked.library, asked.garment))


def operations_for(library: Library, garment: SewnGarment) -> list[Item]:
    """The operations that a garment takes, in the library's order, each with its needs.

    Raises:
        FeatureError: as `complete`.
    """
    return list(_operations(GarmentKey(library, garment)))


@lru_cache(maxsize=128)
def _operations(asked: GarmentKey) -> tuple[Item, ...]:
    done = complete(asked.library, asked.garment)
    assembly = units_of(asked.library, done)
    operations = [*operations_of(asked.library, assembly), *own_operations(done)]
    needs = needs_of(assembly, operations)
    return tuple((op, needs[op.id]) for op in operations)


def without_tools(library: Library, garment: SewnGarment) -> list[tuple[str, list[str], list[str]]]:
    """What each tool that is missing changes: the tool, steps that take its place, steps that it would have made instead."""
    ops = [op for op, _ in operations_for(library, garment)]
    own = {op.id: op.title for op in ops}
    changed = []
    for tool in TOOLS:
        if tool in garment.tools or tool == BY_HAND:
            continue
        more = {op.id: op.title for op, _ in operations_for(library, replace(garment, tools=garment.tools | {tool}))}
        instead = [title for id_, title in own.items() if id_ not in more]
        instead += [f"{op.title}: {way.how}" for op in ops for way in op.does.instead if way.tool == tool]
        would = [title for id_, title in more.items() if id_ not in own]
        if instead or would:
            changed.append((tool, instead, would))
    return changed
