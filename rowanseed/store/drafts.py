"""Lays made by hand that are not sound yet: kept, never printed as a plan."""

import sqlite3
from datetime import datetime

from pydantic import TypeAdapter

from rowanseed.core.lay.model import Lay
from rowanseed.store.makes import StoredLay

_LAY = TypeAdapter(Lay)
PUT_DRAFT = """
insert into lay_draft (make_id, role, asked, lay, drawn_at) values (:make_id, :role, :asked, :lay, :drawn_at)
on conflict (make_id, role) do update set asked = excluded.asked, lay = excluded.lay, drawn_at = excluded.drawn_at
"""
DRAFT = "select role, asked, lay, drawn_at from lay_draft where make_id = :make_id and role = :role"
DROP_DRAFT = "delete from lay_draft where make_id = :make_id and role = :role"


def put_draft(conn: sqlite3.Connection, make_id: int, role: str, asked: str, lay: Lay, drawn_at: datetime) -> None:
    """Keep a role's draft; it replaces the one before."""
    document = _LAY.dump_json(lay).decode()
    at = drawn_at.isoformat(timespec="seconds")
    conn.execute(PUT_DRAFT, {"make_id": make_id, "role": role, "asked": asked, "lay": document, "drawn_at": at})


def draft(conn: sqlite3.Connection, make_id: int, role: str) -> StoredLay | None:
    """A role's draft, None where there is none."""
    row = conn.execute(DRAFT, {"make_id": make_id, "role": role}).fetchone()
    if row is None:
        return None
    drawn_at = datetime.fromisoformat(row["drawn_at"])
    return StoredLay(row["role"], row["asked"], _LAY.validate_json(row["lay"]), drawn_at)


def drop_draft(conn: sqlite3.Connection, make_id: int, role: str) -> None:
    """Throw a role's draft away."""
    conn.execute(DROP_DRAFT, {"make_id": make_id, "role": role})
