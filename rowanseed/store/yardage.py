"""Yardage tables: every cell that was worked out, with a fingerprint of what it was asked for."""

import sqlite3

from pydantic import TypeAdapter

from rowanseed.core.yardage_table import Cell, CellKey

_CELL = TypeAdapter(Cell)

CELLS = """
select size, width_mm, cloth, asked, cell from yardage_cell where pattern_id = :pattern_id and view = :view and role = :role
"""
PUT_CELL = """
insert into yardage_cell (pattern_id, view, role, size, width_mm, cloth, asked, cell)
values (:pattern_id, :view, :role, :size, :width_mm, :cloth, :asked, :cell)
on conflict do update set asked = excluded.asked, cell = excluded.cell
"""


def cells(conn: sqlite3.Connection, pattern_id: int, view: str, role: str) -> dict[CellKey, tuple[str, Cell]]:
    """The cells of a view's cloth, each with what it was asked for."""
    rows = conn.execute(CELLS, {"pattern_id": pattern_id, "view": view, "role": role})
    return {CellKey(r["size"], r["width_mm"], r["cloth"]): (r["asked"], _CELL.validate_json(r["cell"])) for r in rows}


def put_cell(
    conn: sqlite3.Connection, pattern_id: int, view: str, role: str, key: CellKey, asked: str, cell: Cell
) -> None:
    """Keep a cell."""
    conn.execute(
        PUT_CELL,
        {
            "pattern_id": pattern_id,
            "view": view,
            "role": role,
            "size": key.size,
            "width_mm": key.width_mm,
            "cloth": key.cloth,
            "asked": asked,
            "cell": _CELL.dump_json(cell).decode(),
        },
    )
