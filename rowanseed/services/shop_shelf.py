"""What every pattern takes at the widths on sale, worked out before, so that a piece of cloth on a shop's shelf is judged at once.

Known by a lay that is kept; else from which length on it is surely enough and below which surely not; else by the envelope. Nothing
is laid here.
"""

import sqlite3
from collections.abc import Container, Iterator, Mapping
from dataclasses import dataclass

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.envelope_estimate import estimate
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.lay.quick_bound import bound_on, in_rows
from rowanseed.core.yardage_table import SELVAGE_MM, Cell, CellKey, ClothClass, sale_cloth, widths_for
from rowanseed.services.cupboard import GAP_MM, Garment, asked_of, extents_of, garments
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import makes, yardage
from rowanseed.store.settings import Settings

KINDS: tuple[ClothClass, ...] = ("either-way", "one-way")
# Widths that an envelope's figure is told at beside the usual ones, mm.
MORE_WIDTHS_MM = (
    600.0,
    700.0,
    800.0,
    1000.0,
    1100.0,
    1150.0,
    1200.0,
    1300.0,
    1350.0,
    1370.0,
    1450.0,
    1600.0,
    1700.0,
    1800.0,
)


@dataclass(frozen=True)
class Takes:
    """What a size takes on cloth of a width and kind, mm of washed cloth: never less than `least`, never more than `most`.

    Both are one figure where it was laid, or is printed. `by`: `laid`, `bounds`, `envelope`, or `area` where the envelope's
    figure is reckoned to another width.
    """

    size: str
    kind: ClothClass
    width_mm: float
    least_mm: float
    most_mm: float
    by: str


@dataclass(frozen=True)
class PatternTakes:
    """A pattern's view with what it takes; `size`: the one that is likely wanted; `makes`: those under way that are cut by it."""

    pattern_id: int
    title: str
    size: str
    makes: tuple[str, ...]
    takes: tuple[Takes, ...]


def as_laid(make: WorkedMake) -> PatternTakes | None:
    """Return what a whole make takes, all its garments with their alterations, by the lay that is kept of its main cloth."""
    role = make.role("self")
    if role is None or role.cloth is None or role.kept is None or not role.current or role.kept.lay.failed:
        return None
    cloth = role.cloth.cloth
    one_way = cloth.nap == "one-way" or cloth.print.one_way
    length, width = role.kept.lay.length_mm, cloth.for_lay(False).width_mm
    takes = tuple(
        Takes("", kind, width, length, length, "laid")
        for kind in (("one-way", "either-way") if one_way else ("either-way",))
    )
    return PatternTakes(make.make.pattern_id, f"{make.make.name}, as it is laid", "", (), takes)


def on_shelf(conn: sqlite3.Connection, settings: Settings) -> list[PatternTakes]:
    """Return every pattern's views with what they take at the widths on sale; those of makes under way first."""
    wanted: dict[tuple[int, str], list[str]] = {}
    for make in makes.makes(conn):
        if not make.finished_on:
            words = f"one of {make.name}" if len(make.garments) > 1 else make.name
            wanted.setdefault((make.pattern_id, make.view), []).append(words)
    found = []
    for garment in garments(conn, {}):
        kept = yardage.cells(conn, garment.pattern_id, garment.view, "self") if garment.drawn else {}
        takes = tuple(_takes(garment, kept, settings))
        own = tuple(wanted.get((garment.pattern_id, garment.view), ()))
        found.append(PatternTakes(garment.pattern_id, garment.title, garment.size, own, takes))
    return sorted(found, key=lambda row: (not row.makes, row.title))


def not_kept(conn: sqlite3.Connection, settings: Settings) -> int:
    """Return how many lays at the widths on sale were never worked out; quick, since no lay is asked for."""
    count = 0
    for garment in garments(conn, {}):
        if garment.drawn:
            kept = yardage.cells(conn, garment.pattern_id, garment.view, "self")
            count += sum(key not in kept for key in _on_sale(garment, settings))
    return count


def unlaid(conn: sqlite3.Connection, settings: Settings) -> Iterator[tuple[Garment, CellKey, LayRequest]]:
    """Return the lays at the widths on sale that are not kept yet, each garment in the size that is likely wanted."""
    for garment in garments(conn, {}):
        kept = yardage.cells(conn, garment.pattern_id, garment.view, "self") if garment.drawn else {}
        for key in _on_sale(garment, settings):
            asked, print_ = asked_of(garment, key, settings) if garment.drawn else (None, "")
            if asked is not None and (key not in kept or kept[key][0] != print_):
                yield garment, key, asked


def _on_sale(garment: Garment, settings: Settings) -> list[CellKey]:
    return [CellKey(garment.size, w, kind) for kind in KINDS for w in widths_for("self", settings.unit)]


def _takes(garment: Garment, kept: Mapping[CellKey, tuple[str, Cell]], settings: Settings) -> Iterator[Takes]:
    laid = {
        (key.size, key.cloth, key.width_mm): cell.lay_mm
        for key, (print_, cell) in kept.items()
        if key.cloth in KINDS and not cell.problem and asked_of(garment, key, settings)[1] == print_
    }
    for (size, kind, width), length in laid.items():
        yield Takes(size, kind, width, length, length, "laid")
    if garment.drawn:
        yield from _by_bounds(garment, laid.keys(), settings)
    else:
        yield from _by_envelope(garment, settings)


def _by_bounds(garment: Garment, laid: Container[tuple[str, ClothClass, float]], settings: Settings) -> Iterator[Takes]:
    for kind in KINDS:
        pieces = extents_of(garment, kind, settings)
        for width in widths_for("self", settings.unit) if pieces else ():
            usable = width - 2 * SELVAGE_MM
            bound = bound_on(pieces, usable)
            if bound.too_wide or (garment.size, kind, width) in laid:
                continue
            rows = in_rows(pieces, usable, GAP_MM)
            if rows:
                most = max(x + length for _, x, _, length, _ in rows)
                yield Takes(garment.size, kind, width, bound.length_mm, most, "bounds")


def _by_envelope(garment: Garment, settings: Settings) -> Iterator[Takes]:
    for kind in KINDS:
        for width in sorted({*widths_for("self", settings.unit), *MORE_WIDTHS_MM}):
            cloth: Cloth = sale_cloth(width, kind, settings.unit)
            for size in garment.pattern.size_names():
                known = estimate(garment.pattern, garment.view, [size], cloth)
                if known is not None:
                    by = "area" if known.reckoned else "envelope"
                    yield Takes(size, kind, width, known.needs_mm, known.needs_mm, by)
