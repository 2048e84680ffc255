"""Conditions of the library's files: whether they hold for a garment or one of its units."""

from collections.abc import Set

from rowanseed.core.sew.model import SewnGarment, several


def holds(condition: str, garment: SewnGarment, facts: Set[str] = frozenset()) -> bool:
    """Whether a condition holds: `feature=a|b`, `school:name=a`, `tool:name`, `cloth:trait`, `fact:name`; a leading `!` denies.

    A feature with several choices has each of them.
    """
    deny = condition.startswith("!")
    body = condition.removeprefix("!")
    if body.startswith("tool:"):
        true = body.removeprefix("tool:") in garment.tools
    elif body.startswith("fact:"):
        true = body.removeprefix("fact:") in facts
    elif body.startswith("cloth:"):
        trait, _, value = body.removeprefix("cloth:").partition("=")
        has = getattr(garment.cloth, trait)
        true = has == value if value else bool(has)
    else:
        name, _, choices = body.partition("=")
        chosen = garment.schools if name.startswith("school:") else garment.features
        own = several(chosen.get(name.removeprefix("school:"), "none"))
        true = any(choice in choices.split("|") for choice in own)
    return true != deny
