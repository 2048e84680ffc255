"""The ease that a person wore and judged right, by the kind of garment: what the next one is looked for with."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from rowanseed.core.garment_kinds import ZONES, GarmentKind, Zone

PUT = """
insert into liked_ease (person_id, garment, zone, mm, make_id, at) values (:person_id, :garment, :zone, :mm, :make_id, :at)
on conflict do update set mm = excluded.mm, make_id = excluded.make_id, at = excluded.at
"""
LIKED = """
select l.zone, l.mm, l.at, coalesce(m.name, '') as make from liked_ease l left join make m on m.id = l.make_id
where l.person_id = :person_id and l.garment = :garment
"""


@dataclass(frozen=True)
class LikedEase:
    """Eases by zone, mm, the make they were worn in and the day they were judged."""

    eases: Mapping[Zone, float]
    make: str
    at: date


def liked_ease(conn: sqlite3.Connection, person_id: int, garment: GarmentKind) -> LikedEase | None:
    """What a person liked in this kind of garment; None while nothing was judged."""
    rows = conn.execute(LIKED, {"person_id": person_id, "garment": garment}).fetchall()
    if not rows:
        return None
    mm = {r["zone"]: r["mm"] for r in rows}
    return LikedEase(
        {zone: mm[zone] for zone in ZONES if zone in mm}, rows[0]["make"], date.fromisoformat(rows[0]["at"])
    )


def put_liked_ease(
    conn: sqlite3.Connection, person_id: int, garment: GarmentKind, eases: Mapping[Zone, float], make_id: int, at: date
) -> None:
    """Keep the eases of a make as what a person likes in this kind of garment."""
    for zone, mm in eases.items():
        values = {"person_id": person_id, "garment": garment, "zone": zone, "mm": mm, "make_id": make_id}
        conn.execute(PUT, {**values, "at": at.isoformat()})
