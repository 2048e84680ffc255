"""One field that goes anywhere: rooms, what is begun, the stages of the make in hand, and things by name, spelling forgiven."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import get_close_matches

from rowanseed.services.stages import STAGES
from rowanseed.store.search import search, titles

MOST = 9
NEAR = 0.72  # of two words' letters in common: a slip of a finger or two
AT_FIRST = 6


@dataclass(frozen=True)
class Way:
    """A place to go to or a thing to begin: what it is called, of which kind, its address, the words that find it."""

    kind: str
    title: str
    url: str
    words: str = ""


GO: tuple[Way, ...] = (
    Way("Go to", "Which size, and is it enough?", "/which-size", "size enough cloth envelope answer"),
    Way("Go to", "Makes", "/", "shelf home makes projects"),
    Way("Go to", "People", "/people", "measurements bodies people"),
    Way("Go to", "Patterns", "/patterns", "patterns envelopes"),
    Way("Go to", "Cloth", "/cloths", "cloth stash fabric"),
    Way("Go to", "What could I sew?", "/could", "what could sew cupboard matrix stash every cloth pattern enough"),
    Way("Go to", "Shopping list", "/shopping", "shopping buy list"),
    Way("Go to", "Supplies", "/supplies", "supplies notions thread zips buttons"),
    Way("Go to", "Shops and prices", "/shops", "shops prices"),
    Way("Go to", "Bench", "/bench", "bench sums calculators pleats circle gathers"),
    Way("Go to", "Guide", "/guide", "guide help how"),
    Way("Go to", "Words", "/words", "words glossary meaning"),
    Way("Go to", "Settings", "/settings", "settings units inches centimetres tools"),
    Way("Go to", "Backups", "/settings/backups", "backups restore"),
    Way("Go to", "Put away and deleted", "/away", "away deleted undo bin"),
    Way("Start", "Start a make", "/makes/new", "new make start begin"),
    Way("Start", "Type in a pattern", "/patterns/new", "new pattern envelope type"),
    Way(
        "Start",
        "Bring in a pattern file or photographs",
        "/patterns/intake",
        "new pattern file pdf svg dxf photograph tissue",
    ),
    Way("Start", "Add a cloth", "/cloths/new", "new cloth fabric add"),
    Way("Start", "Add a person", "/people/new", "new person measurements add"),
)


def ways(conn: sqlite3.Connection, typed: str, make_id: int | None = None) -> list[Way]:
    """Return where the words may lead, the likeliest first; with no words the places that are gone to most.

    Args:
        make_id: the make whose page is shown, so that its stages can be gone to.
    """
    stages = (
        [Way("This make", stage, f"/makes/{make_id}/{stage.lower()}", stage) for stage in STAGES] if make_id else []
    )
    words = typed.lower().split()
    if not words:
        return [*stages, *GO][:AT_FIRST]
    found = [way for way in (*stages, *GO) if all(_begins(word, f"{way.title} {way.words}") for word in words)]
    hits = search(conn, typed).hits
    found += [Way(hit.kind.capitalize(), hit.title, hit.url) for hit in hits if not hit.away]
    if len(found) < 3:
        found += _nearly(conn, words, [*stages, *GO])
    return list(dict.fromkeys(found))[:MOST]


def _begins(word: str, text: str) -> bool:
    return any(own.startswith(word) for own in text.lower().replace("?", " ").replace(",", " ").split())


def _nearly(conn: sqlite3.Connection, words: Sequence[str], known: Sequence[Way]) -> list[Way]:
    """What has a word for each that was typed, a slip of the fingers forgiven."""
    every = [*known, *(Way(hit.kind.capitalize(), hit.title, hit.url) for hit in titles(conn))]
    return [way for way in every if all(_near(word, f"{way.title} {way.words}".lower().split()) for word in words)]


def _near(word: str, own: Sequence[str]) -> bool:
    return bool(get_close_matches(word, own, 1, NEAR)) or any(o.startswith(word) for o in own)
