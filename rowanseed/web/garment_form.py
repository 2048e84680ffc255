"""The form in which a garment is described: its features by groups, several choices where it can have several, parts otherwise."""

from collections.abc import Mapping, Sequence
from functools import lru_cache

from markupsafe import Markup

from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.garment_key import GarmentKey
from rowanseed.core.sew.model import Feature, SewnGarment, joined
from rowanseed.core.sew.units import Assembly
from rowanseed.formats.sewing import library
from rowanseed.web.deps import templates
from rowanseed.web.forms import Form

SEVERAL = ("shaping",)  # features of which a garment may have more than one
EACH = ("seam-finish", "shaping")  # what a part may have otherwise than the rest
AS_REST = "rest"


def groups(features: Sequence[Feature]) -> list[tuple[str, list[Feature]]]:
    """The features by the part of a description that they belong to."""
    found: dict[str, list[Feature]] = {}
    for feature in features:
        found.setdefault(feature.group, []).append(feature)
    return list(found.items())


def described_form(garment: SewnGarment, units: Mapping[str, Mapping[str, str]]) -> Markup:
    """The fields that describe a garment, its parts and the schools followed, as they are chosen now.

    They are some four hundred, and the same on every page of the same garment: they are written once.
    """
    return _described(GarmentKey(library(), garment), tuple((unit, tuple(own.items())) for unit, own in units.items()))


@lru_cache(maxsize=64)
def _described(asked: GarmentKey, units: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]) -> Markup:
    context = {
        "library": asked.library,
        "assembly": assembled(asked.library, asked.garment),
        "groups": groups(asked.library.features),
        "several": SEVERAL,
        "each": EACH,
        "chosen": asked.garment.features,
        "schools": asked.garment.schools,
        "units": {unit: dict(own) for unit, own in units},
    }
    return Markup(templates.get_template("garments/_described.html").render(context))


def read_features(form: Form, features: Sequence[Feature]) -> dict[str, str]:
    """Every feature as it was chosen; a choice that is none of its own stands in the form's errors."""
    chosen = {}
    for feature in features:
        values = tuple(value for value, _ in feature.choices)
        if feature.name in SEVERAL and feature.name not in form.typed:
            own = [value for value in values[1:] if form.flag(f"{feature.name}-{value}")]
            chosen[feature.name] = joined(own) if own else values[0]
        else:
            chosen[feature.name] = form.choice(feature.name, values)
    return chosen


def read_units(form: Form, features: Sequence[Feature], assembly: Assembly) -> dict[str, Mapping[str, str]]:
    """What each part of the garment has otherwise than the rest."""
    found: dict[str, Mapping[str, str]] = {}
    known = {feature.name: (AS_REST, *(value for value, _ in feature.choices)) for feature in features}
    for unit in assembly.units:
        own = {name: form.choice(f"unit-{unit}-{name}", known[name]) for name in EACH}
        kept = {name: choice for name, choice in own.items() if choice != AS_REST}
        if kept:
            found[unit] = kept
    return found
