"""Trouble at the machine: from a symptom to checks in the order of ease."""

from dataclasses import dataclass


@dataclass(frozen=True)
class TroubleCheck:
    """One thing to look at, what to do about it, and about how long that takes in minutes."""

    look: str
    cure: str
    minutes: int


@dataclass(frozen=True)
class Trouble:
    """A symptom with its checks, the easiest first. `words`: how else it is said."""

    id: str
    title: str
    checks: tuple[TroubleCheck, ...]
    words: tuple[str, ...] = ()


def find(troubles: tuple[Trouble, ...], text: str) -> list[Trouble]:
    """The troubles whose title or words share most with what was typed; all of them for an empty text."""
    said = {word.strip(".,") for word in text.lower().split() if len(word) > 2}
    if not said:
        return list(troubles)

    def shared(trouble: Trouble) -> int:
        own = " ".join((trouble.title, *trouble.words)).lower()
        return sum(word in own or word.rstrip("s") in own for word in said)

    return [t for t in sorted(troubles, key=lambda t: -shared(t)) if shared(t)]
