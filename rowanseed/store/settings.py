"""The household's settings."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from pydantic import TypeAdapter, ValidationError

from rowanseed.core.fit.ease_table import FIGURES, LOOKS, EaseTable, Look
from rowanseed.core.reckon.buying import BuyingStep

SETTINGS = "select value from setting where key = 'household'"
PUT_SETTINGS = """
insert into setting (key, value) values ('household', :value) on conflict (key) do update set value = excluded.value
"""
DURATIONS = "select value from setting where key = 'durations'"
PUT_DURATIONS = """
insert into setting (key, value) values ('durations', :value) on conflict (key) do update set value = excluded.value
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
_DURATIONS = TypeAdapter(dict[str, list[float]])


def settings(conn: sqlite3.Connection) -> Settings:
    """The settings, defaults where nothing was chosen."""
    row = conn.execute(SETTINGS).fetchone()
    return _SETTINGS.validate_json(row["value"]) if row else Settings()


def put_settings(conn: sqlite3.Connection, settings: Settings) -> None:
    """Keep the settings."""
    conn.execute(PUT_SETTINGS, {"value": _SETTINGS.dump_json(settings).decode()})


def durations(conn: sqlite3.Connection) -> dict[str, list[float]]:
    """How long each kind of work took on this machine, as it was kept when the server ended; nothing where that is unreadable."""
    row = conn.execute(DURATIONS).fetchone()
    try:
        return _DURATIONS.validate_json(row["value"]) if row else {}
    except ValidationError:
        return {}


def put_durations(conn: sqlite3.Connection, taken: Mapping[str, list[float]]) -> None:
    """Keep how long work took."""
    conn.execute(PUT_DURATIONS, {"value": json.dumps(taken)})


def has_demo(conn: sqlite3.Connection) -> bool:
    """Whether any demo data is left."""
    return bool(conn.execute(HAS_DEMO).fetchone()["has"])
