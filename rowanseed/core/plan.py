"""What was decided in a make, beside its pattern, people and cloths."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from rowanseed.core.fit.ease import Zone
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.weigh import Between, School
from rowanseed.core.lay.model import AskedSpread, Effort


@dataclass(frozen=True)
class Plan:
    """A make's choices. Empty mappings and None mean: as the pattern, the settings or the default say.

    `order`: step ids as the user put them, empty for the program's own order. `zones`: garment id to zone to size, where a garment
    is cut on more than one size line.
    """

    school: School = "chart"
    between: Between = "blend"
    key: Zone | None = None
    want_ease: Mapping[Zone, float] = field(default_factory=dict)
    spread: AskedSpread = "best"
    effort: Effort = "good"
    gap_mm: float = 3.0
    features: Mapping[str, str] = field(default_factory=dict)
    schools: Mapping[str, str] = field(default_factory=dict)
    sitting_minutes: int | None = None
    order: tuple[str, ...] = ()
    alterations: tuple[Alteration, ...] = ()
    prove: Literal["", "tissue", "toile"] = ""
    zones: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
