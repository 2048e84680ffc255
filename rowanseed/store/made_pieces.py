"""The shapes that pieces had when they were cut or printed, so that a later change can be told piece by piece."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import Literal

from pydantic import TypeAdapter

from rowanseed.core.geometry.shape import PieceShape

_SHAPE = TypeAdapter(PieceShape)
How = Literal["cut", "print"]
MADE = "select item, size, shape, at from made_piece where make_id = :make_id and how = :how order by at, item"
PUT = """
insert into made_piece (make_id, how, item, size, shape, at) values (:make_id, :how, :item, :size, :shape, :at)
on conflict (make_id, how, item) do update set size = excluded.size, shape = excluded.shape, at = excluded.at
"""
DROP = "delete from made_piece where make_id = :make_id and how = :how and item = :item"


@dataclass(frozen=True)
class MadePiece:
    """A piece as it was cut or printed: its size and shape then, and when that was."""

    size: str
    shape: PieceShape
    at: datetime


def made_pieces(conn: sqlite3.Connection, make_id: int, how: How) -> Mapping[str, MadePiece]:
    """Return what was cut (by its card's key) or printed (by number and size), the oldest first."""
    rows = conn.execute(MADE, {"make_id": make_id, "how": how}).fetchall()
    return {r["item"]: MadePiece(r["size"], _shape_of(r["shape"]), datetime.fromisoformat(r["at"])) for r in rows}


@lru_cache(maxsize=512)
def _shape_of(document: str) -> PieceShape:
    """A shape from its document; the same document is read once."""
    return _SHAPE.validate_json(document)


def put_made(
    conn: sqlite3.Connection, make_id: int, how: How, item: str, size: str, shape: PieceShape, at: datetime
) -> None:
    """Remember a piece as it is cut or printed; what was remembered before under the same name goes."""
    conn.execute(
        PUT,
        {
            "make_id": make_id,
            "how": how,
            "item": item,
            "size": size,
            "shape": _SHAPE.dump_json(shape).decode(),
            "at": at.isoformat(timespec="seconds"),
        },
    )


def drop_made(conn: sqlite3.Connection, make_id: int, how: How, item: str) -> None:
    """Forget a piece: it was not cut after all, or is to be cut anew."""
    conn.execute(DROP, {"make_id": make_id, "how": how, "item": item})
