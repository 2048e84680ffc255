"""A make with everything its six stages show, loaded as it is asked for, and each stage's state."""

import sqlite3
from collections.abc import Mapping, Sequence
from functools import cached_property

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.concede.change import conceded_pattern, facing_strip
from rowanseed.core.errors import Finding, ReckonError
from rowanseed.core.fit.alter import Altered
from rowanseed.core.fit.blend import blend_label, is_blend
from rowanseed.core.fit.finished_measurements import Girth
from rowanseed.core.lengths import both
from rowanseed.core.make.concessions import STEP_OF, Concession, describe_concession
from rowanseed.core.make.cutting import CutCard, card_keys, cut_cards
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import (
    altered_pattern,
    blended_pattern,
    fit_pieces,
    girths_of,
    needed_sizes,
    roles_of,
    sized_pieces,
)
from rowanseed.core.make.sewing import features_of, sewing_facts
from rowanseed.core.notions import Notion, NotionsAsk, notions, trim_for
from rowanseed.core.pattern.layers_behind import untied
from rowanseed.core.pattern.model import Pattern, Piece, Role
from rowanseed.core.pattern.seamwalk import WalkedSeam, walk
from rowanseed.core.requirements import Ask, Requirements, requirements
from rowanseed.core.sew.declared import declared_seams
from rowanseed.core.sew.garment import complete, operations_for, settled_features
from rowanseed.core.sew.model import ClothTraits as SewCloth
from rowanseed.core.sew.model import DeclaredSeam, Step
from rowanseed.core.sew.model import SewnGarment as SewGarment
from rowanseed.core.sew.numbers import Facts, numbers_for
from rowanseed.core.sew.order import in_sittings, sequence
from rowanseed.core.sew.pace import USUAL, Pace, at_pace
from rowanseed.core.sew.sheet import offers, operations_meant, read_sheet
from rowanseed.formats.sewing import library
from rowanseed.services.pace import household_pace
from rowanseed.services.remembered import Remembered
from rowanseed.services.stages import Stage, lay_is_open, stages_of
from rowanseed.services.step_words import altered_at, figures_at
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import cloths, fitnotes, makes, patterns, people
from rowanseed.store.fitnotes import StoredFitNote
from rowanseed.store.makes import Make, MakeGarment, Note, StoredLay
from rowanseed.store.people import Person
from rowanseed.store.settings import Settings
from rowanseed.store.sewing import sheets, step_log

_MEMORY = Remembered(256)  # pieces drawn, altered, conceded, by the versions they were worked out from


def forget() -> None:
    """Forget what was worked out: another database may have other things under the same versions."""
    _MEMORY.clear()


class WorkedMake:
    """A make from the store with everything that is worked out of it, each thing once, when it is first asked for.

    What is worked out of its pieces is remembered between requests by the versions of pattern and plan.
    """

    def __init__(self, conn: sqlite3.Connection, make_id: int, settings: Settings) -> None:
        self.conn = conn
        self.settings = settings
        self.make: Make = makes.make(conn, make_id)

    @cached_property
    def drawn(self) -> Pattern:
        """The pattern as its tissue has it, with its pieces in the sizes that are cut, size lines joined where blended."""
        return self._blended[0]

    @property
    def not_blended(self) -> list[Finding]:
        """Pieces whose size lines could not be joined."""
        return self._blended[1]

    @cached_property
    def _drawn_from(self) -> tuple[object, ...]:
        """Everything that the pieces as they are drawn depend on."""
        wanted = tuple(needed_sizes(self.sizes, self.blends))
        return (*patterns.state_of(self.conn, self.make.pattern_id), wanted, repr(self.blends))

    @cached_property
    def _blended(self) -> tuple[Pattern, list[Finding]]:
        def work() -> tuple[Pattern, list[Finding]]:
            sizes = needed_sizes(self.sizes, self.blends)
            return blended_pattern(patterns.pattern(self.conn, self.make.pattern_id, sizes).pattern, self.blends)

        return _MEMORY.once(("drawn", *self._drawn_from), work)

    @cached_property
    def _altered_from(self) -> tuple[object, ...]:
        """Everything that the pieces as they are altered depend on."""
        return (*self._drawn_from, tuple(self.sizes), repr(self.make.plan.alterations))

    @cached_property
    def _altered(self) -> tuple[Pattern, dict[str, Altered]]:
        key = ("altered", *self._altered_from)
        return _MEMORY.once(key, lambda: altered_pattern(self.drawn, self.sizes, self.make.plan.alterations))

    @property
    def fitted(self) -> Pattern:
        """The pattern with this make's alterations."""
        return self._altered[0]

    @property
    def pattern(self) -> Pattern:
        """The pattern as it is laid, cut and sewn: altered, and with what was conceded because cloth was short."""
        return self._conceded[0]

    @property
    def not_conceded(self) -> list[Finding]:
        """Concessions that these pieces do not allow."""
        return self._conceded[1]

    def say_concession(self, concession: Concession) -> str:
        """A concession in words, with its pieces' names."""
        return describe_concession(concession, {p.number: p.name for p in self.fitted.pieces})

    @cached_property
    def conceded_at(self) -> dict[str, list[str]]:
        """What was given up, in words, by the sewing step that it changes."""
        words: dict[str, list[str]] = {}
        for concession in self.make.plan.conceded:
            said = self.say_concession(concession)
            if concession.kind == "face-hem" and self.sizes:
                long, wide = facing_strip(self.fitted, self.make.view, self.sizes[0], concession)
                said += (
                    f". The strip: {both(long, self.settings.unit)} of edge, cut {both(wide, self.settings.unit)} wide"
                )
            words.setdefault(STEP_OF[concession.kind], []).append(said)
        return words

    @cached_property
    def _conceded(self) -> tuple[Pattern, list[Finding]]:
        plan = self.make.plan
        key = ("conceded", *self._altered_from, repr(plan.conceded))
        return _MEMORY.once(key, lambda: conceded_pattern(self.fitted, self.sizes, plan.conceded))

    @property
    def altered(self) -> dict[str, Altered]:
        """For each size, what followed the alterations and which seams no longer meet."""
        return self._altered[1]

    def girths(self, label: str) -> Mapping[str, Girth]:
        """The finished girths of a size, blended and altered as it will be cut, measured on the pieces."""
        key = ("girths", *self._altered_from, self.make.view, label)
        return _MEMORY.once(key, lambda: girths_of(self.fitted, self.make.view, label))

    def untied(self, label: str) -> list[tuple[Piece, Piece]]:
        """Linings and facings that nothing ties to a piece changed in a size, each with the piece it most likely lies behind."""
        if label not in self.altered:
            return []
        drawn = {p.number: p.shapes.get(label) for p in self.drawn.pieces}
        changed = [p.number for p in self.fitted.pieces if p.shapes.get(label) != drawn.get(p.number)]
        return untied(self.drawn, changed)

    @property
    def pattern_version(self) -> int:
        """The version of the pattern, which a change of it from a make's page must name."""
        return patterns.envelope(self.conn, self.make.pattern_id).version

    def walked(self, label: str) -> Sequence[WalkedSeam]:
        """The seams of a size, walked as the pieces will be cut."""
        done = self.altered.get(label)
        if done:
            return done.walked
        return _MEMORY.once(("walked", *self._altered_from, label), lambda: walk(*fit_pieces(self.fitted, label)))

    @cached_property
    def fit_notes(self) -> list[StoredFitNote]:
        """What trials of this make showed."""
        return fitnotes.notes_of_make(self.conn, self.make.id)

    @cached_property
    def earlier_fit_notes(self) -> list[StoredFitNote]:
        """What earlier makes of this pattern, or for the same people, showed."""
        return fitnotes.notes_for_make(self.conn, self.make.id, self.make.pattern_id)

    @cached_property
    def people(self) -> dict[int, Person]:
        """The people the garments are for, by id, in the garments' order."""
        ids = (g.person_id for g in self.make.garments if g.person_id is not None)
        return {i: people.person(self.conn, i) for i in dict.fromkeys(ids)}

    @cached_property
    def sizes(self) -> list[str]:
        """The chosen sizes, blended ones by their label; shorter than the garments while some are open."""
        return [self.label(g) for g in self.make.garments if g.size]

    def zones_of(self, garment: MakeGarment) -> Mapping[str, str]:
        """The zones of a garment that are cut on a size line of their own."""
        return self.make.plan.zones.get(str(garment.id), {})

    def label(self, garment: MakeGarment) -> str:
        """A garment's size as it is called, with the zones that differ."""
        return blend_label(garment.size or "", self.zones_of(garment))

    @cached_property
    def blends(self) -> dict[str, tuple[str, Mapping[str, str]]]:
        """Blended sizes by their label: the garment's own size and its zones."""
        return {
            self.label(g): (g.size, self.zones_of(g))
            for g in self.make.garments
            if g.size and is_blend(g.size, self.zones_of(g))
        }

    @cached_property
    def wanted_sizes(self) -> list[str]:
        """The sizes that pieces are still to be brought in for: the chosen ones, and those of zones, where a piece lacks them.

        Empty while no size is chosen: the envelope and a body are enough for the advice.
        """
        wanted = needed_sizes(self.sizes, self.blends)
        pieces = self.pattern.pieces_of(self.make.view)
        return [s for s in wanted if not pieces or any(s not in p.shapes for p in pieces)]

    @cached_property
    def roles(self) -> list[WorkedRole]:
        """Every cloth the view asks for."""
        kept = makes.lays(self.conn, self.make.id)
        return [self._role(role, kept.get(role)) for role in roles_of(self.pattern, self.make.view)]

    def _role(self, role: Role, kept: StoredLay | None) -> WorkedRole:
        cloth_id = self.make.cloths.get(role)
        cloth = cloths.cloth(self.conn, cloth_id) if cloth_id is not None else None
        complete = len(self.sizes) == len(self.make.garments)
        pieces, findings = sized_pieces(self.pattern, self.make.view, role, self.sizes) if complete else ([], [])
        request = None
        if cloth is not None and pieces and not findings:
            request = lay_request(pieces, cloth.cloth, self.make.plan, seams=self.pattern.seams)
        return WorkedRole(role, cloth, pieces, findings, request, kept)

    def role(self, name: str) -> WorkedRole | None:
        """One cloth of the make."""
        return next((r for r in self.roles if r.role == name), None)

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
    def to_prove(self) -> str:
        """How the fit is still to be proved before the first cut: `tissue`, `toile`, or nothing."""
        proved = makes.ticks(self.conn, self.make.id, "prove")
        return "" if self.make.plan.prove in proved else self.make.plan.prove

    @cached_property
    def sewn(self) -> set[str]:
        """Ids of the steps ticked."""
        return makes.ticks(self.conn, self.make.id, "sew")

    @cached_property
    def log(self) -> dict[tuple[str, str], str]:
        """What was written for its steps: why one was skipped, what a sample showed, how long one took."""
        return step_log(self.conn, self.make.id)

    @property
    def over(self) -> set[str]:
        """Ids of the steps that are ticked or skipped."""
        return self.sewn | {step for step, kind in self.log if kind == "skipped"}

    @cached_property
    def garment(self) -> SewGarment:
        """The garment as the sewing engine needs it."""
        plan = self.make.plan
        schools = {**self.settings.schools, **plan.schools}
        return SewGarment(
            features_of(self.pattern, self.make.view, plan), frozenset(self.settings.tools), schools, self._sew_cloth(),
            plan.units, plan.own_steps, self._declared,
        )  # fmt: skip

    @property
    def _declared(self) -> tuple[DeclaredSeam, ...]:
        """The seams that the pattern declares, on its pieces in the size that is sewn, else in any."""
        size = self.sizes[0] if self.sizes else ""
        own = [
            (p, p.shapes.get(size) or next(iter(p.shapes.values()), None))
            for p in self.pattern.pieces_of(self.make.view)
        ]
        return declared_seams([(p, shape) for p, shape in own if shape is not None], self.pattern.seams)

    def _sew_cloth(self) -> SewCloth:
        shell = self.role("self")
        if shell is None or shell.cloth is None:
            return SewCloth()
        c: Cloth = shell.cloth.cloth
        return SewCloth(c.weight, c.knit, c.piled, c.slippery, c.ravels, not c.opaque, c.loose, c.fur)

    def _sheet_order(self) -> list[str]:
        """The order of the sheet's own steps, where they are written down: it decides where walking does not."""
        written = sheets(self.conn, self.make.pattern_id)
        if not written.get(self.make.view):
            return []
        lines = read_sheet(written[self.make.view], written, self.make.view)
        return operations_meant(offers(library(), self.garment, lines, self.make.plan.sheet))

    @cached_property
    def steps(self) -> list[Step]:
        """The sewing order: the program's, or the user's own where they made one."""
        minutes = self.make.plan.sitting_minutes or self.settings.sitting_minutes
        usual = sequence(
            library(), self.garment, lambda op: numbers_for(op, self.sewing_facts), minutes, self._sheet_order()
        )
        steps = at_pace(usual, self.pace)
        place = {step_id: index for index, step_id in enumerate(self.make.plan.order)}
        if not place:
            return in_sittings(steps, minutes)
        return in_sittings(sorted(steps, key=lambda s: place.get(s.operation.id, len(place))), minutes)

    @cached_property
    def pace(self) -> Pace:
        """How fast this household sews, by what was timed; the library's own minutes where it likes those better."""
        return household_pace(self.conn) if self.settings.own_pace else USUAL

    @cached_property
    def notions(self) -> list[Notion]:
        """What the garments take beside cloth, from their pieces."""
        if not self.sizes or any(g.size is None for g in self.make.garments):
            return []
        need = self.notion_need
        found = notions(need)
        for trim in self.make.plan.trims:
            try:
                found.append(trim_for(need, trim))
            except ReckonError:
                continue  # its edges are on pieces that this view does not have
        return found

    @property
    def notion_need(self) -> NotionsAsk:
        """What notions are worked out from."""
        return self._notions_in(self.sizes[0])

    def _notions_in(self, size: str) -> NotionsAsk:
        own = tuple((p, p.shapes[size]) for p in self.pattern.pieces_of(self.make.view) if size in p.shapes)
        cloth = self.garment.cloth
        person = next(iter(self.people.values()), None)
        wrist = person.latest.values.get("wrist") if person and person.latest else None
        return NotionsAsk(
            own, self.pattern.seams, self._sewn_features, self.garment.tools, self._waist_mm, self.settings.unit,
            cloth.weight, cloth.knit, cloth.piled, wrist.mm if wrist else None, cloth, count=len(self.sizes),
            in_make=self.make.plan.own, with_pattern=self.pattern.figures, envelope=self.pattern.notions,
            garment=self.pattern.garment, steps=self.step_ids,
        )  # fmt: skip

    @cached_property
    def required(self) -> Requirements:
        """What one garment of this make requires: the one place that every stage reads it from."""
        if not self.sizes:
            return requirements(Ask(unit=self.settings.unit))
        return self.notion_need.required

    @cached_property
    def _sewn_features(self) -> Mapping[str, str]:
        return settled_features(library(), self.garment)

    @cached_property
    def step_ids(self) -> tuple[str, ...]:
        return tuple(op.id for op, _ in operations_for(library(), complete(library(), self.garment)))

    @property
    def _waist_mm(self) -> float | None:
        person = next(iter(self.people.values()), None)
        waist = person.latest.values.get("waist") if person and person.latest else None
        return waist.mm if waist else None

    @property
    def edges(self) -> list[tuple[str, str, str]]:
        """The named edges of the view's pieces: number, piece, edge."""
        size = self.sizes[0] if self.sizes else ""
        return [
            (p.number, p.name, edge)
            for p in self.pattern.pieces_of(self.make.view)
            if size in p.shapes and p.role in ("self", "contrast")
            for edge in p.shapes[size].edges
        ]

    @cached_property
    def figures_at(self) -> dict[str, list[str]]:
        """What the bench worked out for this make, by the sewing step that it is used in."""
        return figures_at(self.make.plan)

    @cached_property
    def altered_at(self) -> dict[str, list[str]]:
        """What this make changed on its pieces, its own size lines and its lay, in words, by the step that first touches them."""
        return altered_at(self)

    @cached_property
    def sewing_facts(self) -> Facts:
        """What the steps' numbers and drawings are worked out from."""
        pieces = [p for r in self.roles for p in r.pieces if p.lay_id in (p.piece.number, f"{p.piece.number}/1")]
        return sewing_facts(
            Facts(
                self.settings.unit,
                at=self.make.plan.at,
                lining_pleat=self._sewn_features["lining-pleat"],
                sleeve=self._sewn_features["sleeve"],
                straps=self._sewn_features["straps"],
                yoke=self._sewn_features["yoke"],
                knit=self.garment.cloth.knit,
            ),
            pieces,
            self._waist_mm,
            self._sewn_features["hem"],
            self.garment.schools,
            self.required,
        )

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
