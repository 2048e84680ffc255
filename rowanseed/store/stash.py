"""Supplies in the stash, shops with their prices, and what was ticked on the shopping list."""

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from pydantic import TypeAdapter

from rowanseed.core.bought import Bought
from rowanseed.core.cloth.shops import Shop
from rowanseed.core.shopping import Supply
from rowanseed.store.db import inserted, one, saved

_SUPPLY = TypeAdapter(Supply)
_SHOP = TypeAdapter(Shop)
_BOUGHT = TypeAdapter(Bought)

SUPPLIES = "select id, facts, demo, version from supply where put_away is null order by kind, name, id"
SUPPLY = "select id, facts, demo, version from supply where id = :id"
INSERT_SUPPLY = "insert into supply (kind, name, facts, demo) values (:kind, :name, :facts, :demo)"
UPDATE_SUPPLY = """
update supply set kind = :kind, name = :name, facts = :facts, version = version + 1 where id = :id and version = :version
"""
SHOPS = "select id, facts, demo, version from shop where put_away is null order by name, id"
SHOP = "select id, facts, demo, version from shop where id = :id"
INSERT_SHOP = "insert into shop (name, facts, demo) values (:name, :facts, :demo)"
UPDATE_SHOP = (
    "update shop set name = :name, facts = :facts, version = version + 1 where id = :id and version = :version"
)
GOT = "select item, facts from got"
TICK = "insert into got (item, at) values (:item, :at) on conflict do nothing"
BOUGHT = """
insert into got (item, at, facts) values (:item, :at, :facts) on conflict do update set at = excluded.at, facts = excluded.facts
"""
UNTICK = "delete from got where item = :item"
CLEAR_GOT = "delete from got"


@dataclass(frozen=True)
class StoredSupply:
    """A supply with its id and version."""

    id: int
    version: int
    demo: bool
    supply: Supply


@dataclass(frozen=True)
class StoredShop:
    """A shop with its id and version."""

    id: int
    version: int
    demo: bool
    shop: Shop


def supplies(conn: sqlite3.Connection) -> list[StoredSupply]:
    """Everything in the stash that is no cloth, by kind and name."""
    return [_supply(row) for row in conn.execute(SUPPLIES)]


def supply(conn: sqlite3.Connection, supply_id: int) -> StoredSupply:
    """One supply. Raises NotFound."""
    return _supply(one(conn, SUPPLY, {"id": supply_id}, "supply"))


def add_supply(conn: sqlite3.Connection, supply: Supply, demo: bool = False) -> int:
    """Add a supply; the new id."""
    return inserted(conn.execute(INSERT_SUPPLY, {**_supply_columns(supply), "demo": demo}))


def update_supply(conn: sqlite3.Connection, supply_id: int, version: int, supply: Supply) -> None:
    """Change a supply. Raises ChangedMeanwhile."""
    saved(conn.execute(UPDATE_SUPPLY, {**_supply_columns(supply), "id": supply_id, "version": version}), "supply")


def shops(conn: sqlite3.Connection) -> list[StoredShop]:
    """Every shop, by name."""
    return [_shop(row) for row in conn.execute(SHOPS)]


def shop(conn: sqlite3.Connection, shop_id: int) -> StoredShop:
    """One shop. Raises NotFound."""
    return _shop(one(conn, SHOP, {"id": shop_id}, "shop"))


def add_shop(conn: sqlite3.Connection, shop: Shop, demo: bool = False) -> int:
    """Add a shop; the new id."""
    return inserted(conn.execute(INSERT_SHOP, {**_shop_columns(shop), "demo": demo}))


def update_shop(conn: sqlite3.Connection, shop_id: int, version: int, shop: Shop) -> None:
    """Change a shop. Raises ChangedMeanwhile."""
    saved(conn.execute(UPDATE_SHOP, {**_shop_columns(shop), "id": shop_id, "version": version}), "shop")


def got(conn: sqlite3.Connection) -> dict[str, Bought | None]:
    """The keys of the lines that are ticked on the shopping list, with what was bought where that was said."""
    return {row["item"]: _BOUGHT.validate_json(row["facts"]) if row["facts"] else None for row in conn.execute(GOT)}


def buy(conn: sqlite3.Connection, item: str, bought: Bought, at: datetime) -> None:
    """Tick a line and keep what was bought for it; what was said before is forgotten."""
    facts = _BOUGHT.dump_json(bought).decode()
    conn.execute(BOUGHT, {"item": item, "at": at.isoformat(), "facts": facts})


def tick(conn: sqlite3.Connection, item: str, done: bool, at: datetime) -> None:
    """Tick a line, or take the tick back."""
    conn.execute(TICK if done else UNTICK, {"item": item, "at": at.isoformat()} if done else {"item": item})


def clear_got(conn: sqlite3.Connection) -> None:
    """Begin a new list: no line is ticked."""
    conn.execute(CLEAR_GOT)


def _supply(row: sqlite3.Row) -> StoredSupply:
    return StoredSupply(row["id"], row["version"], bool(row["demo"]), _SUPPLY.validate_json(row["facts"]))


def _shop(row: sqlite3.Row) -> StoredShop:
    return StoredShop(row["id"], row["version"], bool(row["demo"]), _SHOP.validate_json(row["facts"]))


def _supply_columns(supply: Supply) -> dict[str, object]:
    return {"kind": supply.kind, "name": supply.name, "facts": _SUPPLY.dump_json(supply).decode()}


def _shop_columns(shop: Shop) -> dict[str, object]:
    return {"name": shop.name, "facts": _SHOP.dump_json(shop).decode()}
