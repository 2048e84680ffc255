"""The stash."""

import json
import sqlite3
from collections.abc import Collection
from dataclasses import dataclass

from pydantic import TypeAdapter

from rowanseed.core.cloth.model import Cloth
from rowanseed.store.db import inserted, one, saved

_CLOTH = TypeAdapter(Cloth)


@dataclass(frozen=True)
class StoredCloth:
    """A cloth with its id and version."""

    id: int
    version: int
    demo: bool
    cloth: Cloth


CLOTHS = """
select id, facts, demo, version from cloth where put_away is null or id in (select value from json_each(:also))
order by kind = 'main' desc, name, id
"""
CLOTH = "select id, facts, demo, version from cloth where id = :id"
INSERT_CLOTH = "insert into cloth (name, kind, facts, demo) values (:name, :kind, :facts, :demo)"
UPDATE_CLOTH = """
update cloth set name = :name, kind = :kind, facts = :facts, version = version + 1
where id = :id and version = :version
"""


def cloths(conn: sqlite3.Connection, also: Collection[int] = ()) -> list[StoredCloth]:
    """Every cloth that is not put away, main cloths first, by name; `also`: those of a make, wherever they are."""
    return [_stored(row) for row in conn.execute(CLOTHS, {"also": json.dumps(sorted(also))})]


def cloth(conn: sqlite3.Connection, cloth_id: int) -> StoredCloth:
    """One cloth. Raises NotFound."""
    return _stored(one(conn, CLOTH, {"id": cloth_id}, "cloth"))


def add_cloth(conn: sqlite3.Connection, cloth: Cloth, demo: bool = False) -> int:
    """Add a cloth; the new id."""
    return inserted(conn.execute(INSERT_CLOTH, {**_columns(cloth), "demo": demo}))


def update_cloth(conn: sqlite3.Connection, cloth_id: int, version: int, cloth: Cloth) -> None:
    """Change a cloth. Raises ChangedMeanwhile."""
    saved(conn.execute(UPDATE_CLOTH, {**_columns(cloth), "id": cloth_id, "version": version}), "cloth")


def _stored(row: sqlite3.Row) -> StoredCloth:
    return StoredCloth(row["id"], row["version"], bool(row["demo"]), _CLOTH.validate_json(row["facts"]))


def _columns(cloth: Cloth) -> dict[str, object]:
    return {"name": cloth.name, "kind": cloth.kind, "facts": _CLOTH.dump_json(cloth).decode()}
