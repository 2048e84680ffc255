"""From a garment's features to the operations it takes, each with the needs that it really has."""

from collections.abc import Mapping
from dataclasses import replace

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.model import BY_HAND, TOOLS, Feature, Library, Need, Operation, SewnGarment


def complete(library: Library, garment: SewnGarment) -> SewnGarment:
    """The garment with every feature and school chosen, defaults filled in.

    Raises:
        FeatureError: a feature, choice or school the library does not know. A tool it does not know changes nothing.
    """
    features = _chosen(library.features, garment.features, "feature")
    if garment.cloth.fur and features.get("interfacing") == "fusible":
        features["interfacing"] = "sewn"  # fusing needs the iron
    return SewnGarment(
        features,
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


def holds(condition: str, garment: SewnGarment) -> bool:
    """Whether a condition (`feature=a|b`, `school:name=a`, `tool:name`, `cloth:fact`, each after an optional `!`) holds."""
    deny = condition.startswith("!")
    body = condition.removeprefix("!")
    if body.startswith("tool:"):
        true = body.removeprefix("tool:") in garment.tools
    elif body.startswith("cloth:"):
        fact, _, value = body.removeprefix("cloth:").partition("=")
        has = getattr(garment.cloth, fact)
        true = has == value if value else bool(has)
    else:
        name, _, choices = body.partition("=")
        chosen = garment.schools if name.startswith("school:") else garment.features
        true = chosen.get(name.removeprefix("school:")) in choices.split("|")
    return true != deny


def operations_for(library: Library, garment: SewnGarment) -> list[tuple[Operation, tuple[Need, ...]]]:
    """The operations a (completed) garment takes, in the library's order, each with its present needs."""
    taken = [
        _as_done(op, garment)
        for op in library.operations
        if all(holds(c, garment) for c in op.when) and (not op.any or any(holds(c, garment) for c in op.any))
    ]
    present = {op.id for op in taken}
    return [
        (op, tuple(n for n in op.needs if n.id in present and all(holds(c, garment) for c in n.when))) for op in taken
    ]


def _by_hand(op: Operation) -> Operation:
    """The same operation without a machine: sewn with backstitches or overcast by hand, about three times as long."""
    if op.place not in ("machine", "overlocker"):
        return op
    return replace(op, place="hand", minutes=min(240, 3 * op.minutes))


def _as_done(op: Operation, garment: SewnGarment) -> Operation:
    """An operation as it is done on this cloth with these tools."""
    if garment.cloth.fur and op.place == "iron":
        return _without_iron(op)
    return _by_hand(op) if BY_HAND in garment.tools else _without(op, garment)


def _without_iron(op: Operation) -> Operation:
    """The same operation on fur, which no iron may touch."""
    how = "No iron on fur: open it with the fingers or a blunt tool, hold it with clips or a few long stitches."
    return replace(op, place="hand", checks=(how, *op.checks))


def _without(op: Operation, garment: SewnGarment) -> Operation:
    """The same operation as it is done without the tools that are missing."""
    for other in op.instead:
        if other.tool not in garment.tools:
            return replace(op, place=other.place, minutes=other.minutes, checks=(other.how, *op.checks))
    return op


def without_tools(library: Library, garment: SewnGarment) -> list[tuple[str, list[str], list[str]]]:
    """What each tool that is missing changes: the tool, steps that take its place, steps that it would have made instead."""
    garment = complete(library, garment)
    own = {op.id: op.title for op, _ in operations_for(library, garment)}
    by_id = {op.id: op for op, _ in operations_for(library, garment)}
    changed = []
    for tool in TOOLS:
        if tool in garment.tools or tool == BY_HAND:
            continue
        more = {op.id: op.title for op, _ in operations_for(library, replace(garment, tools=garment.tools | {tool}))}
        instead = [title for id_, title in own.items() if id_ not in more]
        instead += [f"{op.title}: {way.how}" for op in by_id.values() for way in op.instead if way.tool == tool]
        would = [title for id_, title in more.items() if id_ not in own]
        if instead or would:
            changed.append((tool, instead, would))
    return changed
