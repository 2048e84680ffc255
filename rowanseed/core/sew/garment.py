"""From a garment's features to the operations it takes, each with the needs that it really has."""

from collections.abc import Mapping

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.model import Feature, Garment, Library, Need, Operation


def complete(library: Library, garment: Garment) -> Garment:
    """The garment with every feature and school chosen, defaults filled in.

    Raises:
        FeatureError: a feature, choice or school the library does not know. A tool it does not know changes nothing.
    """
    return Garment(
        _chosen(library.features, garment.features, "feature"),
        garment.tools,
        _chosen(library.schools, garment.schools, "school"),
        garment.cloth,
    )


def _chosen(known: tuple[Feature, ...], given: Mapping[str, str], word: str) -> dict[str, str]:
    names = {feature.name: feature for feature in known}
    for name, choice in given.items():
        if name not in names:
            raise FeatureError(f"There is no {word} called “{name}”. Known: {', '.join(names)}.", name)
        names[name].refuse_unknown(choice)
    return {name: given.get(name, feature.choices[0][0]) for name, feature in names.items()}


def holds(condition: str, garment: Garment) -> bool:
    """Whether a condition (`feature=a|b`, `school:name=a`, `tool:name`, each after an optional `!`) holds."""
    deny = condition.startswith("!")
    body = condition.removeprefix("!")
    if body.startswith("tool:"):
        true = body.removeprefix("tool:") in garment.tools
    else:
        name, _, choices = body.partition("=")
        chosen = garment.schools if name.startswith("school:") else garment.features
        true = chosen.get(name.removeprefix("school:")) in choices.split("|")
    return true != deny


def operations_for(library: Library, garment: Garment) -> list[tuple[Operation, tuple[Need, ...]]]:
    """The operations a (completed) garment takes, in the library's order, each with its present needs."""
    taken = [
        op
        for op in library.operations
        if all(holds(c, garment) for c in op.when) and (not op.any or any(holds(c, garment) for c in op.any))
    ]
    present = {op.id for op in taken}
    return [
        (op, tuple(n for n in op.needs if n.id in present and all(holds(c, garment) for c in n.when))) for op in taken
    ]
