"""What a cloth in hand is enough for: every pattern with the sizes it serves, by its envelope and its yardage table.

Nothing is laid here, so that the answer is there at once; a pattern of which nothing is known is named as such.
"""

import sqlite3
from dataclasses import dataclass

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.envelope_estimate import estimate
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.pattern.model import Pattern
from rowanseed.core.yardage_table import CellKey, ClothClass, cell_request, widths_for
from rowanseed.store import makes, patterns, yardage
from rowanseed.store.settings import Settings

HANDS_MM = 1.0  # what a table's width may be wider than the cloth that it is read for


@dataclass(frozen=True)
class ServedSize:
    """A size of a view: what it takes on this cloth, mm, and whether that is only reckoned by area."""

    size: str
    needs_mm: float
    reckoned: bool


@dataclass(frozen=True)
class Serves:
    """A pattern's view against a cloth: the sizes that it is enough for, those it is not, and by what that is known.

    `left_mm`: what is left of the cloth in the size that is likely wanted, negative where it is short; `by`: `pieces` or
    `envelope`, empty where nothing is known.
    """

    pattern_id: int
    name: str
    view: str
    likely: str
    enough: tuple[str, ...]
    short: tuple[str, ...]
    left_mm: float | None
    by: str
    reckoned: bool = False

    @property
    def fits(self) -> bool:
        """Whether the likely size can be cut from it; any size where none is likely."""
        return self.likely in self.enough if self.likely else bool(self.enough)


def enough_for(conn: sqlite3.Connection, cloth: Cloth, settings: Settings) -> list[Serves]:
    """Return every pattern's views against a cloth of a known length, what it is enough for first, the least left over before."""
    in_hand = cloth.for_lay()
    if in_hand.length_mm is None or cloth.kind != "main":
        return []
    likely = likely_sizes(conn)
    found: list[Serves] = []
    for row in patterns.patterns(conn):
        pattern = patterns.envelope(conn, row.id).pattern
        for view in pattern.views:
            own = likely.get((row.id, view.name), "")
            found.append(_serves(conn, settings, row.id, pattern, view.name, own, cloth, in_hand.length_mm))
    return sorted(found, key=_rank)


def _rank(found: Serves) -> tuple[bool, bool, float, str]:
    return (not found.by, not found.fits, found.left_mm if found.left_mm is not None else 1e9, found.name)


def likely_sizes(conn: sqlite3.Connection) -> dict[tuple[int, str], str]:
    """The size that was last chosen for a pattern's view."""
    last: dict[tuple[int, str], str] = {}
    for make in makes.makes(conn):
        size = next((g.size for g in make.garments if g.size), None)
        if size:
            last.setdefault((make.pattern_id, make.view), size)
    return last


def _serves(
    conn: sqlite3.Connection,
    settings: Settings,
    pattern_id: int,
    pattern: Pattern,
    view: str,
    likely: str,
    cloth: Cloth,
    has: float,
) -> Serves:
    sizes, by = _by_tables(conn, settings, pattern_id, view, cloth), "pieces"
    if not sizes:
        sizes, by = _by_envelope(pattern, view, cloth), "envelope"
    enough = tuple(s.size for s in sizes if s.needs_mm <= has)
    short = tuple(s.size for s in sizes if s.needs_mm > has)
    judged = next((s for s in sizes if s.size == likely), None)
    if judged is None:  # the largest that it is enough for, else the one that lacks least
        judged = max((s for s in sizes if s.needs_mm <= has), key=lambda s: s.needs_mm, default=None)
        judged = judged or min(sizes, key=lambda s: s.needs_mm, default=None)
    left = has - judged.needs_mm if judged is not None else None
    return Serves(
        pattern_id, pattern.name, view, likely if any(s.size == likely for s in sizes) else "", enough, short, left,
        by if sizes else "", any(s.reckoned for s in sizes),
    )  # fmt: skip


def _by_tables(
    conn: sqlite3.Connection, settings: Settings, pattern_id: int, view: str, cloth: Cloth
) -> list[ServedSize]:
    """What the kept yardage table says at the widest width that the cloth has; a check's matching is its own class."""
    kept = yardage.cells(conn, pattern_id, view, "self")
    wide = cloth.for_lay().width_mm + HANDS_MM
    at = max((w for w in widths_for("self", settings.unit) if w <= wide), default=None)
    if not kept or at is None:
        return []
    kind: ClothClass = "one-way" if cloth.nap == "one-way" or cloth.print.one_way else "either-way"
    if cloth.print.kind == "plaid":
        kind = "check"
    pattern = patterns.pattern(conn, pattern_id).pattern
    found = []
    for size in pattern.size_names():
        key = CellKey(size, at, kind)
        request = cell_request(pattern, view, "self", key, settings.unit) if key in kept else None
        if request is not None and kept[key][0] == fingerprint(request) and not kept[key][1].problem:
            found.append(ServedSize(size, kept[key][1].lay_mm, False))
    return found


def _by_envelope(pattern: Pattern, view: str, cloth: Cloth) -> list[ServedSize]:
    found = []
    for size in pattern.size_names():
        known = estimate(pattern, view, [size], cloth)
        if known is not None:
            found.append(ServedSize(size, known.needs_mm, known.reckoned))
    return found
