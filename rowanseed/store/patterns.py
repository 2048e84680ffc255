"""Patterns: the envelope as one document, each piece and each of its shapes in its own row."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from pydantic import TypeAdapter

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.store import keeping
from rowanseed.store.db import db_file, inserted, one, saved

_ENVELOPE = TypeAdapter(Pattern)
_PIECE = TypeAdapter(Piece)
_SHAPE = TypeAdapter(PieceShape)


@dataclass(frozen=True)
class StoredPattern:
    """A pattern with its id and version."""

    id: int
    version: int
    demo: bool
    pattern: Pattern


@dataclass(frozen=True)
class PatternRow:
    """A line of the list of patterns."""

    id: int
    name: str
    label: str
    garment: str
    demo: bool
    pieces: int
    tags: tuple[str, ...] = ()
    photo: str = ""
    makes: int = 0
    version: int = 1


PATTERNS = """
select p.id, p.name, p.label, p.garment, p.demo, p.version, p.tags, coalesce(json_extract(p.photos, '$[0]'), '') as photo,
  (select count(*) from piece where piece.pattern_id = p.id) as pieces,
  (select count(*) from make where make.pattern_id = p.id) as makes
from pattern p
where (p.put_away is not null) = :put_away
  and not exists (
    select 1 from json_each(:words) as word
    where instr(lower(p.name || ' ' || p.label || ' ' || p.garment || ' ' || p.tags || ' '
      || coalesce(json_extract(p.envelope, '$.notions'), '') || ' ' || coalesce(json_extract(p.envelope, '$.note'), '') || ' '
      || coalesce((select group_concat(json_extract(facts, '$.name'), ' ') from piece where piece.pattern_id = p.id), '')),
      word.value) = 0)
order by case :sort when 'newest' then -p.id when 'pieces' then -pieces else 0 end,
  case :sort when 'garment' then p.garment else '' end, lower(p.name), p.id
"""
SORTS = ("name", "garment", "newest", "pieces")
OWN = "select tags, photos from pattern where id = :id"
SET_TAGS = "update pattern set tags = :tags where id = :id"
SET_PHOTOS = "update pattern set photos = :photos where id = :id"
PUT_AWAY = "update pattern set put_away = :at, version = version + 1 where id = :id and version = :version"
TAKE_BACK = "update pattern set put_away = null, version = version + 1 where id = :id"
RENAME = """
update pattern set name = :name, envelope = json_set(envelope, '$.name', :name), version = version + 1
where id = :id and version = :version
"""
PATTERN = "select id, envelope, demo, version from pattern where id = :id"
PIECES_OF_PATTERN = "select id, facts from piece where pattern_id = :pattern_id order by position, id"
SHAPES_OF_PATTERN = """
select s.piece_id, s.size, s.shape from piece_shape s join piece p on p.id = s.piece_id
where p.pattern_id = :pattern_id and (:sizes is null or s.size in (select value from json_each(:sizes)))
"""
INSERT_PATTERN = """
insert into pattern (name, label, garment, envelope, demo) values (:name, :label, :garment, :envelope, :demo)
"""
UPDATE_PATTERN = """
update pattern set name = :name, label = :label, garment = :garment, envelope = :envelope, version = version + 1
where id = :id and version = :version
"""
STATE_OF_PATTERN = """
select p.id, p.version, length(p.envelope) as long, (
  select coalesce(sum(length(s.shape)), 0) from piece_shape s join piece c on c.id = s.piece_id where c.pattern_id = p.id
) as shapes
from pattern p where p.id = :id
"""
TOUCH_PATTERN = "update pattern set version = version + 1 where id = :id and version = :version"
PIECE_BY_NUMBER = "select id from piece where pattern_id = :pattern_id and number = :number"
LAST_POSITION = "select coalesce(max(position), 0) as last from piece where pattern_id = :pattern_id"
INSERT_PIECE = """
insert into piece (pattern_id, number, position, facts) values (:pattern_id, :number, :position, :facts)
"""
UPDATE_PIECE = "update piece set facts = :facts where id = :id"
PIECE_ID = "select id from piece where pattern_id = :pattern_id and number = :number"
UPSERT_SHAPE = """
insert into piece_shape (piece_id, size, shape) values (:piece_id, :size, :shape)
on conflict (piece_id, size) do update set shape = excluded.shape
"""


def patterns(conn: sqlite3.Connection, words: str = "", sort: str = "name", put_away: bool = False) -> list[PatternRow]:
    """Every pattern that has all the words in its name, label, garment, tags, notions, note or pieces; or those put away.

    Args:
        sort: `name`, `garment`, `newest` or `pieces`.
    """
    asked = {"words": json.dumps(words.lower().split()), "sort": sort, "put_away": put_away}
    return [
        PatternRow(
            r["id"],
            r["name"],
            r["label"],
            r["garment"],
            bool(r["demo"]),
            r["pieces"],
            tuple(r["tags"].split(", ")) if r["tags"] else (),
            r["photo"],
            r["makes"],
            r["version"],
        )
        for r in conn.execute(PATTERNS, asked)
    ]


def tags_and_photos(conn: sqlite3.Connection, pattern_id: int) -> tuple[str, tuple[str, ...]]:
    """A pattern's words, parted by commas, and its photographs' names. Raises NotFound."""
    row = one(conn, OWN, {"id": pattern_id}, "pattern")
    return row["tags"], tuple(json.loads(row["photos"]))


def set_tags(conn: sqlite3.Connection, pattern_id: int, tags: str) -> None:
    """Keep a pattern's words, tidied: parted by a comma and a space, each once."""
    words = dict.fromkeys(w.strip() for w in tags.split(",") if w.strip())
    conn.execute(SET_TAGS, {"id": pattern_id, "tags": ", ".join(words)})


def set_photos(conn: sqlite3.Connection, pattern_id: int, photos: Sequence[str]) -> None:
    """Keep which photographs a pattern has."""
    conn.execute(SET_PHOTOS, {"id": pattern_id, "photos": json.dumps(list(photos))})


def put_away(conn: sqlite3.Connection, pattern_id: int, version: int, at: str) -> None:
    """Put a pattern away: it leaves the list and can be taken back. Raises ChangedMeanwhile."""
    saved(conn.execute(PUT_AWAY, {"id": pattern_id, "version": version, "at": at}), "pattern")


def take_back(conn: sqlite3.Connection, pattern_id: int) -> None:
    """Take a pattern back that was put away."""
    conn.execute(TAKE_BACK, {"id": pattern_id})


def rename(conn: sqlite3.Connection, pattern_id: int, version: int, name: str) -> None:
    """Give a pattern another name. Raises ChangedMeanwhile."""
    saved(conn.execute(RENAME, {"id": pattern_id, "version": version, "name": name}), "pattern")


def pattern(conn: sqlite3.Connection, pattern_id: int, sizes: Sequence[str] | None = None) -> StoredPattern:
    """A pattern with its pieces, their shapes in every size or in some. Raises NotFound."""
    row = one(conn, PATTERN, {"id": pattern_id}, "pattern")
    envelope = _ENVELOPE.validate_json(row["envelope"])
    wanted = None if sizes is None else json.dumps(list(sizes))
    shapes: dict[int, dict[str, PieceShape]] = {}
    for r in conn.execute(SHAPES_OF_PATTERN, {"pattern_id": pattern_id, "sizes": wanted}):
        shapes.setdefault(r["piece_id"], {})[r["size"]] = _SHAPE.validate_json(r["shape"])
    pieces = tuple(
        replace(_PIECE.validate_json(r["facts"]), shapes=shapes.get(r["id"], {}))
        for r in conn.execute(PIECES_OF_PATTERN, {"pattern_id": pattern_id})
    )
    return StoredPattern(row["id"], row["version"], bool(row["demo"]), replace(envelope, pieces=pieces))


def state_of(conn: sqlite3.Connection, pattern_id: int) -> tuple[object, ...]:
    """Return what tells one state of a pattern from every other: database, id, version, how much it holds. Raises NotFound."""
    row = one(conn, STATE_OF_PATTERN, {"id": pattern_id}, "pattern")
    return (db_file(conn), row["id"], row["version"], row["long"], row["shapes"])


def envelope(conn: sqlite3.Connection, pattern_id: int) -> StoredPattern:
    """A pattern's envelope alone, without its pieces. Raises NotFound."""
    row = one(conn, PATTERN, {"id": pattern_id}, "pattern")
    return StoredPattern(row["id"], row["version"], bool(row["demo"]), _ENVELOPE.validate_json(row["envelope"]))


def add_pattern(conn: sqlite3.Connection, pattern: Pattern, demo: bool = False) -> int:
    """Add a pattern with all its pieces; the new id."""
    pattern_id = inserted(conn.execute(INSERT_PATTERN, {**_columns(pattern), "demo": demo}))
    for position, piece in enumerate(pattern.pieces, start=1):
        _insert_piece(conn, pattern_id, piece, position)
    return pattern_id


def update_envelope(conn: sqlite3.Connection, pattern_id: int, version: int, pattern: Pattern) -> None:
    """Change the envelope, not the pieces. Raises ChangedMeanwhile."""
    saved(conn.execute(UPDATE_PATTERN, {**_columns(pattern), "id": pattern_id, "version": version}), "pattern")


def put_piece(conn: sqlite3.Connection, pattern_id: int, version: int, piece: Piece) -> None:
    """Add a piece, or change the one of that number, keeping its shapes of other sizes. Raises ChangedMeanwhile."""
    saved(conn.execute(TOUCH_PATTERN, {"id": pattern_id, "version": version}), "pattern")
    row = conn.execute(PIECE_BY_NUMBER, {"pattern_id": pattern_id, "number": piece.number}).fetchone()
    if row is None:
        last = conn.execute(LAST_POSITION, {"pattern_id": pattern_id}).fetchone()["last"]
        _insert_piece(conn, pattern_id, piece, last + 1)
        return
    conn.execute(UPDATE_PIECE, {"id": row["id"], "facts": _facts(piece)})
    _put_shapes(conn, row["id"], piece)


def drop_piece(conn: sqlite3.Connection, pattern_id: int, version: int, number: str, at: datetime) -> int:
    """Take a piece out of a pattern; the bin's number, by which it comes back. Raises ChangedMeanwhile, NotFound."""
    saved(conn.execute(TOUCH_PATTERN, {"id": pattern_id, "version": version}), "pattern")
    row = one(conn, PIECE_ID, {"pattern_id": pattern_id, "number": number}, "piece")
    return keeping.delete(conn, keeping.KINDS["piece"], row["id"], at)


def _columns(pattern: Pattern) -> dict[str, object]:
    envelope = _ENVELOPE.dump_json(replace(pattern, pieces=())).decode()
    return {"name": pattern.name, "label": pattern.label, "garment": pattern.garment, "envelope": envelope}


def _facts(piece: Piece) -> str:
    return _PIECE.dump_json(replace(piece, shapes={})).decode()


def _insert_piece(conn: sqlite3.Connection, pattern_id: int, piece: Piece, position: int) -> None:
    piece_id = inserted(
        conn.execute(
            INSERT_PIECE,
            {"pattern_id": pattern_id, "number": piece.number, "position": position, "facts": _facts(piece)},
        )
    )
    _put_shapes(conn, piece_id, piece)


def _put_shapes(conn: sqlite3.Connection, piece_id: int, piece: Piece) -> None:
    for size, shape in piece.shapes.items():
        conn.execute(UPSERT_SHAPE, {"piece_id": piece_id, "size": size, "shape": _SHAPE.dump_json(shape).decode()})
