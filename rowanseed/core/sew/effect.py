"""What a garment is described with and nothing in it takes: said, so that no choice falls silently under the table."""

from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache

from rowanseed.core.sew.choices import v_has_point
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.garment_key import GarmentKey
from rowanseed.core.sew.instances import operations_of
from rowanseed.core.sew.model import Library, SewnGarment, several
from rowanseed.core.sew.units import Assembly

Done = tuple[tuple[str, str, tuple[str, ...], str], ...]
NO_STEP = ("fit", "wearer")  # they change what is tried on and warned of, which another choice may already do


def without_effect(library: Library, garment: SewnGarment) -> tuple[str, ...]:
    """The choices that change no step of the garment, in sentences.

    Raises:
        FeatureError: as `complete`.
    """
    return _without_effect(GarmentKey(library, garment))


@lru_cache(maxsize=128)
def _without_effect(asked: GarmentKey) -> tuple[str, ...]:
    return tuple(_sentences(asked.library, asked.garment))


def _sentences(library: Library, garment: SewnGarment) -> Iterator[str]:
    known = {feature.name: feature for feature in library.features}
    sewn_as = assembled(library, garment)
    sewn = sewn_as.garment.features
    done = _done(library, garment)
    for name, choice in garment.features.items():
        usual = known[name].choices[0][0]
        if choice == usual or name in NO_STEP or sewn[name] != choice:
            continue  # what was settled otherwise has its own sentence
        for one in several(choice):
            rest = "+".join(other for other in several(choice) if other != one) or usual
            without = replace(garment, features={**garment.features, name: rest})
            would = assembled(library, without).garment.features[name]
            if would != choice and not _there_anyway(garment, name, sewn_as) and _done(library, without) == done:
                yield f"{known[name].title}, {dict(known[name].choices)[one]}: nothing in this garment takes it."


def _there_anyway(garment: SewnGarment, name: str, sewn_as: Assembly) -> bool:
    """Whether the garment is sewn so for another reason: a facing that the front's brings along, a seam that the zip needs."""
    if name == "neck":
        return sewn_as.has("facing.neck")
    if name == "neck-shape":
        return garment.features[name] == "v" and not v_has_point(garment)
    if name == "hem":
        return "hem-joined" in sewn_as.facts
    return name == "centre-seam" and any(sewn_as.has(f"{unit}.zip") for unit in (sewn_as.top, sewn_as.low))


def _done(library: Library, garment: SewnGarment) -> Done:
    """What is done to a garment, in the library's order."""
    found = operations_of(library, assembled(library, garment))
    return tuple((op.id, op.title, op.on, op.place) for op in found)
