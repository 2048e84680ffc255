"""A pattern's yardage table against what is kept of it: which cells there are, which are worked out, which are still right."""

import sqlite3
from collections.abc import Callable
from functools import cached_property
from pathlib import Path

from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.make.pieces import roles_of
from rowanseed.core.pattern.model import Role
from rowanseed.core.yardage_table import Cell, CellKey, ClothClass, cell_of, cell_request, keys, widths_for
from rowanseed.store import db, patterns, yardage
from rowanseed.store.settings import Settings


class YardageTable:
    """One view's cloth of a pattern: which cells there are, which are worked out, which are still right."""

    def __init__(
        self,
        conn: sqlite3.Connection,
        settings: Settings,
        pattern_id: int,
        view: str,
        role: str,
        classes: tuple[ClothClass, ...],
    ) -> None:
        self.conn = conn
        self.settings = settings
        self.stored = patterns.pattern(conn, pattern_id)
        self.pattern = self.stored.pattern
        self.view = self.pattern.view(view).name
        self.roles = roles_of(self.pattern, self.view)
        self.role: Role = next((r for r in self.roles if r == role), self.roles[0] if self.roles else "self")
        self.classes = classes
        self.widths = widths_for(self.role, settings.unit)

    @cached_property
    def keys(self) -> list[CellKey]:
        """Every cell of the table."""
        return keys(self.pattern.size_names(), self.widths, self.classes)

    @cached_property
    def requests(self) -> dict[CellKey, LayRequest | None]:
        """What each cell's lay is asked for."""
        return {key: cell_request(self.pattern, self.view, self.role, key, self.settings.unit) for key in self.keys}

    @cached_property
    def cells(self) -> dict[CellKey, Cell]:
        """The cells that are worked out and still right."""
        kept = yardage.cells(self.conn, self.stored.id, self.view, self.role)
        return {
            key: kept[key][1]
            for key, request in self.requests.items()
            if request is not None and key in kept and kept[key][0] == fingerprint(request)
        }

    @property
    def open(self) -> list[CellKey]:
        """The cells that are still to be worked out."""
        return [key for key, request in self.requests.items() if request is not None and key not in self.cells]

    @property
    def unmeasured(self) -> list[str]:
        """Sizes that some piece has no outline in."""
        return list(dict.fromkeys(key.size for key, request in self.requests.items() if request is None))


def put_cell(
    conn: sqlite3.Connection, pattern_id: int, view: str, role: str, key: CellKey, asked: LayRequest, lay: Lay
) -> None:
    """Keep a finished cell, known by what it was asked for."""
    yardage.put_cell(conn, pattern_id, view, role, key, fingerprint(asked), cell_of(asked, lay))


def keeper(
    database: Path, pattern_id: int, view: str, role: str, key: CellKey, asked: LayRequest
) -> Callable[[Lay], None]:
    """What keeps a finished cell; it runs outside any request, so it opens its own connection."""

    def keep(lay: Lay) -> None:
        conn = db.connect(database)
        try:
            with db.write(conn):
                put_cell(conn, pattern_id, view, role, key, asked, lay)
        finally:
            conn.close()

    return keep
