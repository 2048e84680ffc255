"""The household's settings."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from pydantic import TypeAdapter

from rowanseed.core.fit.ease_table import FIGURES, LOOKS, EaseTable, Look
from rowanseed.core.reckon.buying import BuyingStep

SETTINGS = "select value from setting where key = 'household'"
PUT_SETTINGS = """
insert into setting (key, value) values ('household', :value) on conflict (key) do update set value = excluded.value
"""
HAS_DEMO = """
select exists (select 1 from make where demo = 1) or exists (select 1 from pattern where demo = 1)
  or exists (select 1 from cloth where demo = 1) or exists (select 1 from person where demo = 1) as has
"""


@dataclass(frozen=True)
class Settings:
    """How this household measures, buys and sews."""

    unit: Literal["cm", "in"] = "cm"
    step: BuyingStep = "10 cm"
    straighten_mm: float = 50.0
    tools: tuple[str, ...] = ("overlocker",)
    schools: Mapping[str, str] = field(default_factory=dict)
    sitting_minutes: int = 60
    looks: tuple[Look, ...] = LOOKS
    backup_folder: str = ""
    eases: Mapping[str, float] = field(default_factory=dict)
    own_pace: bool = True
    decimal: Literal[".", ","] = "."

    @property
    def ease_table(self) -> EaseTable:
        """The usual eases with this household's own in their place."""
        return EaseTable({key: mm for key, mm in self.eases.items() if key in FIGURES}, self.looks)


_SETTINGS = TypeAdapter(Settings)


def settings(conn: sqlite3.Connection) -> Settings:
    """The settings, defaults where nothing was chosen."""
    row = conn.execute(SETTINGS).fetchone()
    return _SETTINGS.validate_json(row["value"]) if row else Settings()


def put_settings(conn: sqlite3.Connection, settings: Settings) -> None:
    """Keep the settings."""
    conn.execute(PUT_SETTINGS, {"value": _SETTINGS.dump_json(settings).decode()})


def has_demo(conn: sqlite3.Connection) -> bool:
    """Whether any demo data is left."""
    return bool(conn.execute(HAS_DEMO).fetchone()["has"])
