"""What a make leaves for the notebook: what was paid for it, its pictures, and when what happened."""

import json
import sqlite3
from collections.abc import Mapping
from datetime import date
from decimal import Decimal

COSTS = "select what, paid from make_cost where make_id = :make_id"
PUT_COST = """
insert into make_cost (make_id, what, estimate, paid) values (:make_id, :what, :estimate, :paid)
on conflict do update set estimate = excluded.estimate, paid = excluded.paid
"""
DROP_COST = "delete from make_cost where make_id = :make_id and what = :what"
ESTIMATES = "select what, estimate from make_cost where make_id = :make_id and estimate <> ''"
PICTURES = "select pictures from make where id = :make_id"
PUT_PICTURES = "update make set pictures = :pictures, version = version + 1 where id = :make_id"
# What happened on which day; the first and the last of what goes on for days.
HAPPENED = """
with cut as (select at from tick where make_id = :make_id and list = 'cut'),
  sewn as (select at from tick where make_id = :make_id and list = 'sew')
select started_on as day, 'begun' as what, '' as words from make where id = :make_id
union all select substr(laid_at, 1, 10), 'laid', role from lay where make_id = :make_id
union all select substr(min(at), 1, 10), 'cut-first', '' from cut having count(*) > 0
union all select substr(max(at), 1, 10), 'cut-last', count(*) from cut having count(*) > 0
union all select substr(min(at), 1, 10), 'sewn-first', '' from sewn having count(*) > 0
union all select substr(max(at), 1, 10), 'sewn-last', count(*) from sewn having count(*) > 0
union all select written_on, kind, text from note where make_id = :make_id
union all select finished_on, 'finished', '' from make where id = :make_id and finished_on is not null
order by 1
"""


def paid(conn: sqlite3.Connection, make_id: int) -> dict[str, Decimal]:
    """What was paid for each part of a make."""
    return {row["what"]: Decimal(row["paid"]) for row in conn.execute(COSTS, {"make_id": make_id})}


def estimates(conn: sqlite3.Connection, make_id: int) -> dict[str, Decimal]:
    """What each part was estimated at on the day its price was written down."""
    return {row["what"]: Decimal(row["estimate"]) for row in conn.execute(ESTIMATES, {"make_id": make_id})}


def put_paid(
    conn: sqlite3.Connection, make_id: int, figures: Mapping[str, tuple[Decimal | None, Decimal | None]]
) -> None:
    """Write down the estimate and what was paid for parts of a make; None paid takes a part's figures away."""
    for what, (estimate, money) in figures.items():
        if money is None:
            conn.execute(DROP_COST, {"make_id": make_id, "what": what})
            continue
        said = "" if estimate is None else str(estimate)
        conn.execute(PUT_COST, {"make_id": make_id, "what": what, "estimate": said, "paid": str(money)})


def pictures(conn: sqlite3.Connection, make_id: int) -> list[str]:
    """The names of a make's pictures, in the order in which they were added."""
    row = conn.execute(PICTURES, {"make_id": make_id}).fetchone()
    return [str(name) for name in json.loads(row["pictures"])] if row else []


def add_picture(conn: sqlite3.Connection, make_id: int, name: str) -> None:
    """Add a picture that was kept; one that is there already goes to the end."""
    names = [other for other in pictures(conn, make_id) if other != name]
    conn.execute(PUT_PICTURES, {"make_id": make_id, "pictures": json.dumps([*names, name])})


def happened(conn: sqlite3.Connection, make_id: int) -> list[tuple[date, str, str]]:
    """What happened to a make, by day: the day, what it was, and its words or count."""
    rows = conn.execute(HAPPENED, {"make_id": make_id}).fetchall()
    return [(date.fromisoformat(row["day"]), row["what"], str(row["words"])) for row in rows]
