"""Every cloth in the cupboard against every pattern: what is surely enough, what surely not, what has to be laid to be known.

At once it is told by what is kept of yardage tables, by bounds below which no lay goes and which any lay keeps, and by envelopes.
The rest is laid on the width that the cloth has and kept among the pattern's yardage figures, so that cloths of one width share one
lay and nothing is laid twice.
"""

import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.envelope_estimate import estimate
from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.lay.quick_bound import Extent, bound_on, extents, in_rows
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.make.pieces import roles_of
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern
from rowanseed.core.use_up import InHand, assigned
from rowanseed.core.yardage_table import SELVAGE_MM, Cell, CellKey, ClothClass, cell_request
from rowanseed.services.enough_for import likely_sizes
from rowanseed.store import cloths, makes, patterns, yardage
from rowanseed.store.settings import Settings

State = Literal["enough", "not", "open", "unknown"]
NEAR = 0.05  # a quick lay is at worst so much longer than the best that is known
GAP_MM = MakePlan().gap_mm
WIDE_MM = 1500.0  # what pieces ask for does not depend on the width
KEPT = 4096  # requests of a household's patterns at the widths of its cloths


@dataclass(frozen=True)
class Stuff:
    """A cloth as it stands in the cupboard: its usable width and length in hand, mm, its class, which makes it is kept for."""

    id: int
    cloth: Cloth
    usable_mm: float
    has_mm: float
    kind: ClothClass
    kept_for: tuple[str, ...]

    @property
    def width_mm(self) -> float:
        """The width of a cloth on sale that is as wide to lay on, in whole mm."""
        return float(int(self.usable_mm) + 2 * SELVAGE_MM)

    @property
    def doubt(self) -> str:
        """Why a lay on plain cloth does not settle it: flaws, a print that is matched."""
        if self.cloth.flaws:
            return "its flaws lie somewhere"
        return "its print is not looked at" if self.cloth.print.is_placed else ""


@dataclass(frozen=True)
class Garment:
    """A pattern's view in the size that is asked about, and whether its pieces are drawn."""

    pattern_id: int
    version: int
    pattern: Pattern
    view: str
    size: str
    drawn: bool

    @property
    def title(self) -> str:
        """What it is called."""
        return f"{self.pattern.name}, view {self.view}" if len(self.pattern.views) > 1 else self.pattern.name


@dataclass(frozen=True)
class Pair:
    """A cloth against a garment: enough, not, open (to be laid) or unknown; what is left of it, mm, negative where it is short.

    `sure`: by a lay or a bound, not by an envelope or on cloth that may do otherwise; `why`: how it is known, in words; `key`: what
    a lay would tell of it: whether it is enough, or how much more is left than is known to be at least.
    """

    state: State
    left_mm: float | None
    sure: bool
    why: str
    key: CellKey | None = None


@dataclass(frozen=True)
class Matrix:
    """The cupboard: its cloths, and for each garment one pair a cloth."""

    stuffs: tuple[Stuff, ...]
    lines: tuple[tuple[Garment, tuple[Pair, ...]], ...]

    @property
    def open(self) -> int:
        """How many pairs have to be laid to be known."""
        return sum(pair.state == "open" for _, pairs in self.lines for pair in pairs)

    @property
    def rough(self) -> int:
        """How many are surely enough, with more left than is known."""
        return sum(pair.state == "enough" and pair.key is not None for _, pairs in self.lines for pair in pairs)

    @property
    def settled(self) -> int:
        """How many are known."""
        return sum(pair.state in ("enough", "not") for _, pairs in self.lines for pair in pairs)


def matrix(conn: sqlite3.Connection, settings: Settings, sizes: Mapping[str, str]) -> Matrix:
    """Return every main cloth of a known length against every pattern's views.

    Args:
        sizes: by `pattern:view`, the size that is asked about instead of the one that was cut last, or the middle one.
    """
    stuffs = tuple(sorted(_stuffs(conn), key=lambda s: -s.has_mm * s.usable_mm))
    lines = []
    for garment in garments(conn, sizes):
        kept = yardage.cells(conn, garment.pattern_id, garment.view, "self") if garment.drawn else {}
        pairs = tuple(_pair(garment, stuff, kept, settings) for stuff in stuffs)
        lines.append((garment, pairs))
    return Matrix(stuffs, tuple(sorted(lines, key=lambda line: _first(line[1]))))


def open_lays(found: Matrix, settings: Settings) -> Iterator[tuple[Garment, CellKey, LayRequest]]:
    """What is to be laid, once however many cloths wait for it, what most wait for first: what is not known, else not exact."""
    state: State = "open" if found.open else "enough"
    waiting: dict[tuple[int, CellKey], tuple[Garment, int]] = {}
    for garment, pairs in found.lines:
        for pair in pairs:
            if pair.key is not None and pair.state == state:
                _, count = waiting.get((id(garment), pair.key), (garment, 0))
                waiting[id(garment), pair.key] = garment, count + 1
    for (_, key), (garment, _) in sorted(waiting.items(), key=lambda item: -item[1][1]):
        request = asked_of(garment, key, settings)[0]
        if request is not None:
            yield garment, key, request


@dataclass(frozen=True)
class UsedUp:
    """A garment that is wanted: of which cloth it is cut and what that has left, or what it lacks where it lacks least."""

    garment: Garment
    stuff: Stuff | None
    needs_mm: float | None = None
    left_mm: float | None = None
    nearest: Stuff | None = None
    lacks_mm: float | None = None
    sure: bool = False
    rough: bool = False


def used_up(found: Matrix, wanted: Sequence[str]) -> list[UsedUp]:
    """Return of which free cloth each wanted garment is best cut; as many as can be, the least cloth cut into.

    Args:
        wanted: garments as `pattern:view`.
    """
    lines = [line for line in found.lines if f"{line[0].pattern_id}:{line[0].view}" in wanted]
    free = [(k, s) for k, s in enumerate(found.stuffs) if not s.kept_for]
    needs = {
        (n, k): stuff.has_mm - left
        for n, (_, pairs) in enumerate(lines) for k, stuff in free
        if pairs[k].state in ("enough", "not") and (left := pairs[k].left_mm) is not None
    }  # fmt: skip
    answer = assigned(range(len(lines)), [InHand(k, s.has_mm, s.usable_mm) for k, s in free], needs)
    told = []
    for given in answer.given:
        garment, pairs = lines[given.garment]
        pair, stuff = pairs[given.cloth], found.stuffs[given.cloth]
        told.append(UsedUp(garment, stuff, given.needs_mm, given.left_mm, sure=pair.sure, rough=pair.key is not None))
    for n, short in answer.left_out.items():
        nearest = found.stuffs[short[0]] if short else None
        told.append(UsedUp(lines[n][0], None, nearest=nearest, lacks_mm=short[1] if short else None))
    return told


def _first(pairs: Sequence[Pair]) -> tuple[int, int]:
    return -sum(p.state == "enough" for p in pairs), -sum(p.state == "open" for p in pairs)


def _stuffs(conn: sqlite3.Connection) -> Iterator[Stuff]:
    in_use = makes.cloths_in_use(conn)
    for stored in cloths.cloths(conn):
        cloth = stored.cloth
        lay = cloth.for_lay()
        if cloth.kind != "main" or lay.length_mm is None:
            continue
        kind: ClothClass = "one-way" if cloth.nap == "one-way" or cloth.print.one_way else "either-way"
        usable = lay.width_mm - sum(lay.selvage_mm)
        yield Stuff(stored.id, cloth, usable, lay.length_mm, kind, in_use.get(stored.id, ()))


def garments(conn: sqlite3.Connection, sizes: Mapping[str, str]) -> Iterator[Garment]:
    likely = likely_sizes(conn)
    for row in patterns.patterns(conn):
        stored = patterns.pattern(conn, row.id)
        names = stored.pattern.size_names()
        if not names:
            continue
        for view in stored.pattern.views:
            size = sizes.get(f"{row.id}:{view.name}") or likely.get((row.id, view.name), "")
            size = size if size in names else names[len(names) // 2]
            drawn = "self" in roles_of(stored.pattern, view.name)
            yield Garment(row.id, stored.version, stored.pattern, view.name, size, drawn)


def _pair(garment: Garment, stuff: Stuff, kept: Mapping[CellKey, tuple[str, Cell]], settings: Settings) -> Pair:
    key = CellKey(garment.size, stuff.width_mm, stuff.kind)
    pieces = extents_of(garment, stuff.kind, settings) if garment.drawn else ()
    if not pieces:
        return _by_envelope(garment, stuff)
    bound = bound_on(pieces, stuff.usable_mm)
    if bound.too_wide:
        return Pair("not", None, True, f"{_name(garment, bound.too_wide)} is wider than the cloth")
    if bound.length_mm > stuff.has_mm + 1e-6:
        return Pair(
            "not", stuff.has_mm - bound.length_mm, True, "no lay is shorter than its pieces’ area and length ask"
        )
    if key in kept and kept[key][0] == asked_of(garment, key, settings)[1]:
        return _by_lay(kept[key][1], stuff)
    narrower = _known_on_less(garment, stuff, kept, settings, key)
    rows = in_rows(pieces, stuff.usable_mm, GAP_MM) if narrower is None else []
    if rows and (most := max(x + length for _, x, _, length, _ in rows)) <= stuff.has_mm:
        why = "even each piece in its own box, in rows, leaves as much" + (
            f", but {stuff.doubt}" if stuff.doubt else ""
        )
        return Pair("enough", stuff.has_mm - most, not stuff.doubt, why, key)
    return narrower or Pair("open", None, False, "to be laid", key)


def _by_lay(cell: Cell, stuff: Stuff) -> Pair:
    if cell.problem:
        return Pair("not", None, True, cell.problem)
    left = stuff.has_mm - cell.lay_mm
    if left < 0:
        near = -left < NEAR * cell.lay_mm
        return Pair(
            "not",
            left,
            not stuff.doubt and not near,
            "laid; a longer search in the make might just do" if near else "laid",
        )
    return Pair("enough", left, not stuff.doubt, f"laid, but {stuff.doubt}" if stuff.doubt else "laid")


def _known_on_less(
    garment: Garment, stuff: Stuff, kept: Mapping[CellKey, tuple[str, Cell]], settings: Settings, key: CellKey
) -> Pair | None:
    """What fits on a narrower cloth of the class, or on one with a nap, fits on this one too, with at least as much left."""
    best: float | None = None
    for other, (print_, cell) in kept.items():
        alike = other.cloth == stuff.kind or other.cloth == "one-way"
        if other.size != garment.size or not alike or other.width_mm > stuff.width_mm or cell.problem:
            continue
        if cell.lay_mm <= stuff.has_mm and asked_of(garment, other, settings)[1] == print_:
            best = min(best or cell.lay_mm, cell.lay_mm)
    if best is None:
        return None
    why = "laid on a narrower cloth" + (f", but {stuff.doubt}" if stuff.doubt else "")
    return Pair("enough", stuff.has_mm - best, not stuff.doubt, why, key)


def _by_envelope(garment: Garment, stuff: Stuff) -> Pair:
    known = estimate(garment.pattern, garment.view, [garment.size], stuff.cloth)
    if known is None:
        return Pair("unknown", None, False, "neither pieces nor a printed length are known")
    left = stuff.has_mm - known.needs_mm
    why = "by its envelope" + (", reckoned by area" if known.reckoned else "")
    return Pair("enough" if left >= 0 else "not", left, False, why)


def _name(garment: Garment, piece: str) -> str:
    return next((p.name for p in garment.pattern.pieces if piece.startswith(p.number)), "A piece")


def extents_of(garment: Garment, kind: ClothClass, settings: Settings) -> tuple[Extent, ...]:
    """What bounds are worked out from, the same on any width; nothing where a piece is not drawn in this size."""
    return _pieces_once(_Asked(garment, CellKey(garment.size, WIDE_MM, kind), settings.unit))


def asked_of(garment: Garment, key: CellKey, settings: Settings) -> tuple[LayRequest | None, str]:
    """What a garment's lay at a width is asked for, and what that is known by."""
    return _asked_once(_Asked(garment, key, settings.unit))


@dataclass(frozen=True)
class _Asked:
    """What is remembered by the pattern's version, not by the pattern itself, which is long."""

    garment: Garment
    key: CellKey
    unit: Literal["cm", "in"]

    def __hash__(self) -> int:
        return hash((self.garment.pattern_id, self.garment.version, self.garment.view, self.key, self.unit))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self._known() == other._known()

    def _known(self) -> tuple[object, ...]:
        return (
            self.garment.pattern_id,
            self.garment.version,
            self.garment.view,
            self.garment.pattern.name,
            self.key,
            self.unit,
        )


@lru_cache(maxsize=KEPT)
def _asked_once(asked: _Asked) -> tuple[LayRequest | None, str]:
    try:
        request = cell_request(asked.garment.pattern, asked.garment.view, "self", asked.key, asked.unit)
    except RowanseedError:
        return None, ""
    return request, fingerprint(request) if request is not None else ""


@lru_cache(maxsize=KEPT)
def _pieces_once(asked: _Asked) -> tuple[Extent, ...]:
    request = _asked_once(asked)[0]
    try:
        return extents(request.pieces, request.cloth.one_way) if request is not None else ()
    except RowanseedError:
        return ()
