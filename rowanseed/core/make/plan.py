"""What was decided in a make, beside its pattern, people and cloths."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from rowanseed.core.fit.chart_comparison import Between, BustBy, School
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.garment_kinds import Zone
from rowanseed.core.lay.model import AskedSpread, Effort, Locked
from rowanseed.core.make.concessions import Concession
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.sew.model import OwnStep
from rowanseed.core.sew.numbers import AtThing


@dataclass(frozen=True)
class Trim:
    """Piping, lace, braid or binding along edges (piece number, edge name).

    `finished_mm`: how wide a binding shows, 0 for what is bought as it is.
    """

    name: str
    edges: tuple[tuple[str, str], ...]
    finished_mm: float = 0.0


@dataclass(frozen=True)
class MakePlan:
    """A make's choices. Empty mappings and None mean: as the pattern, the settings or the default say.

    `order`: step ids as the user put them, empty for the program's own order. `zones`: garment id to zone to size, where a
    garment is cut on more than one size line. `look`: the bust ease liked, by its name. `removed`: alterations taken away, the
    last one first, to be put back. `answered`: proposals from the fit record, made into alterations or left, by the note's id.
    `print_rules`: what the print should do, kept or refused against the default, by the rule's key; `print_at`: on which place of
    the repeat a mark lies, mm from where it begins.
    `sheet`: what the sheet's lines mean, an operation's id by the line's text. `evenings`: days to sew on, with their minutes.
    `trims`: what runs along edges.
    `figures`: what the bench worked out for this make, in words, by the calculator's name.
    `own`: figures of this garment, typed here against the pattern's; `at`: figures of single edges and seams, by their names.
    `units`: what a part of the garment has otherwise than the rest; `own_steps`: steps in the sewist's own words.
    `growth_months`: for how long a child is to wear it, whose growth is counted in; an adult's plan does not use it.
    `by_pieces`: sewn in the order that its pieces and the fates of their edges give, not by its description.
    `locked`: placements that are held when a role's pieces are laid again. `conceded`: what was given up to make the cloth enough.
    """

    school: School = "chart"
    between: Between = "blend"
    bust_by: BustBy = "high-bust-and-cup"
    key: Zone | None = None
    want_ease: Mapping[Zone, float] = field(default_factory=dict)
    spread: AskedSpread = "easiest"
    effort: Effort = "good"
    gap_mm: float = 3.0
    features: Mapping[str, str] = field(default_factory=dict)
    schools: Mapping[str, str] = field(default_factory=dict)
    sitting_minutes: int | None = None
    order: tuple[str, ...] = ()
    alterations: tuple[Alteration, ...] = ()
    prove: Literal["", "tissue", "toile"] = ""
    zones: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    look: str = ""
    worn_under_mm: float = 0.0
    removed: tuple[Alteration, ...] = ()
    answered: Mapping[str, Literal["made", "left"]] = field(default_factory=dict)
    locked: Mapping[str, tuple[Locked, ...]] = field(default_factory=dict)
    conceded: tuple[Concession, ...] = ()
    print_rules: Mapping[str, bool] = field(default_factory=dict)
    print_at: Mapping[str, float] = field(default_factory=dict)
    figures: Mapping[str, str] = field(default_factory=dict)
    sheet: Mapping[str, str] = field(default_factory=dict)
    trims: tuple[Trim, ...] = ()
    evenings: tuple[tuple[date, int], ...] = ()
    own: Figures = Figures()
    units: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    own_steps: tuple[OwnStep, ...] = ()
    at: Mapping[str, AtThing] = field(default_factory=dict)
    growth_months: int = 6
    by_pieces: bool = False
