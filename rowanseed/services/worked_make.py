"""A make with everything its six stages show, loaded as it is asked for, and each stage's state."""

from functools import cached_property

from rowanseed.core.make.cutting import CutCard, card_keys, cut_cards
from rowanseed.services.recuts import Changed, changed_since_cut
from rowanseed.services.stages import Stage, lay_is_open, stages_of
from rowanseed.services.step_words import altered_at
from rowanseed.services.worked_sewing import WorkedSewing
from rowanseed.store import fitnotes, makes
from rowanseed.store.fitnotes import StoredFitNote
from rowanseed.store.makes import Note


class WorkedMake(WorkedSewing):
    """A make from the store with everything that is worked out of it, each thing once, when it is first asked for."""

    @cached_property
    def fit_notes(self) -> list[StoredFitNote]:
        """What trials of this make showed."""
        return fitnotes.notes_of_make(self.conn, self.make.id)

    @cached_property
    def earlier_fit_notes(self) -> list[StoredFitNote]:
        """What earlier makes of this pattern, or for the same people, showed."""
        return fitnotes.notes_for_make(self.conn, self.make.id, self.make.pattern_id)

    @cached_property
    def cards(self) -> dict[str, list[CutCard]]:
        """Cutting cards by role, from lays that are up to date."""
        interfaced = {p.name for p in self.pattern.pieces_of(self.make.view, "interfacing")}
        required = {size: self._notions_in(size).required.buttons for size in self.sizes}
        buttons = {size: found for size, found in required.items() if found is not None}
        return {
            r.role: cut_cards(r.role, r.kept.lay, r.pieces, interfaced, buttons, self.settings.unit)
            for r in self.roles
            if r.kept is not None and r.current
        }

    @cached_property
    def card_keys(self) -> set[str]:
        """The keys of all cutting cards, from lays that are up to date."""
        laid = [r for r in self.roles if r.kept is not None and r.current]
        return {key for r in laid if r.kept is not None for key in card_keys(r.role, r.kept.lay, r.pieces)}

    @cached_property
    def cut(self) -> set[str]:
        """Keys of the cards ticked."""
        return makes.ticks(self.conn, self.make.id, "cut")

    @cached_property
    def cut_otherwise(self) -> list[Changed]:
        """Pieces that lie cut and would be cut otherwise now."""
        return changed_since_cut(self)

    @cached_property
    def to_prove(self) -> str:
        """How the fit is still to be proved before the first cut: `tissue`, `toile`, or nothing."""
        proved = makes.ticks(self.conn, self.make.id, "prove")
        return "" if self.make.plan.prove in proved else self.make.plan.prove

    @cached_property
    def altered_at(self) -> dict[str, list[str]]:
        """What this make changed on its pieces, its own size lines and its lay, in words, by the step that first touches them."""
        return altered_at(self)

    @cached_property
    def remembered(self) -> list[Note]:
        """What earlier makes of this pattern, or with these cloths, asked to remember."""
        return makes.next_time_notes(self.conn, self.make.id, self.make.pattern_id)

    @cached_property
    def stages(self) -> list[Stage]:
        """The six stages with their states and next actions."""
        return stages_of(self)

    @property
    def stamp(self) -> str:
        """What a page of this make shows, in short: it changes with what was decided, laid, cut and sewn."""
        laid = ",".join(f"{r.role}{r.kept.lay.length_mm:.1f}" for r in self.roles if r.kept is not None)
        return f"{self.make.version}-{laid}-{len(self.cut)}-{len(self.sewn)}"

    @property
    def next_stage(self) -> Stage:
        """The first stage that is not done; the last one once the garment is worn."""
        if self.make.finished_on:
            return self.stages[-1]
        return next((s for s in self.stages if s.state != "done"), self.stages[-1])

    @property
    def stages_before_cut_open(self) -> bool:
        """Whether a lay is missing, out of date, or does not fit its cloth."""
        return lay_is_open(self.roles)
