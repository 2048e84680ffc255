"""How many things of each kind a household holds."""

import sqlite3

COUNTED = ("make", "pattern", "person", "cloth", "supply", "shop", "note")


def count_of(conn: sqlite3.Connection, kind: str) -> int:
    """How many things of a kind there are, of those that are counted; an older household may not know the kind."""
    assert kind in COUNTED
    if conn.execute("select 1 from sqlite_master where name = ?", (kind,)).fetchone() is None:
        return 0
    return int(conn.execute(f"select count(*) from {kind}").fetchone()[0])
