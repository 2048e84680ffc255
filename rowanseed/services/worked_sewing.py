"""The sewing of a make: its garment as the engine needs it, its steps with their numbers, what it requires and what it takes."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import cached_property

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.errors import FeatureError, ReckonError, RowanseedError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.make.sewing import features_of, sewing_facts
from rowanseed.core.notions import Notion, NotionsAsk, notions, trim_for
from rowanseed.core.pattern.model import Piece
from rowanseed.core.pattern.usual import SIZE, usual_garment
from rowanseed.core.requirements import Ask, Requirements, requirements
from rowanseed.core.sew.checker import OrderFinding, check_order
from rowanseed.core.sew.declared import declared_seams
from rowanseed.core.sew.effect import without_effect
from rowanseed.core.sew.garment import complete, operations_for, settled_features
from rowanseed.core.sew.model import ClothTraits as SewCloth
from rowanseed.core.sew.model import DeclaredSeam, Step
from rowanseed.core.sew.model import SewnGarment as SewGarment
from rowanseed.core.sew.numbers import Facts, numbers_for
from rowanseed.core.sew.order import in_sittings, sequence
from rowanseed.core.sew.pace import USUAL, Pace, at_pace
from rowanseed.core.sew.pieces.effect import Told
from rowanseed.core.sew.sheet import offers, operations_meant, read_sheet
from rowanseed.formats.sewing import library
from rowanseed.services.pace import household_pace
from rowanseed.services.sewing_by_pieces import findings_by_pieces, steps_by_pieces, told_by_pieces, unused_by_pieces
from rowanseed.services.step_words import figures_at
from rowanseed.services.usual_pieces import usual_buttons, usual_pieces
from rowanseed.services.worked_pieces import WorkedPieces, once
from rowanseed.store import makes
from rowanseed.store.sewing import sheets, step_log


class WorkedSewing(WorkedPieces):
    """A make with its steps, its requirements and its notions."""

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

        def work() -> tuple[DeclaredSeam, ...]:
            own = [
                (p, p.shapes.get(size) or next(iter(p.shapes.values()), None))
                for p in self.pattern.pieces_of(self.make.view)
            ]
            return declared_seams([(p, shape) for p, shape in own if shape is not None], self.pattern.seams)

        return once(("declared", *self.conceded_from, self.make.view), work)

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
        sheet = tuple(self._sheet_order())
        told = (self.make.view, self.settings.unit, minutes, self._waist_mm, self._wrist_mm, len(self.sizes), sheet)
        key = ("steps", *self.altered_from, *told, repr(self.make.plan), repr(self.garment), repr(self.pace))
        steps = once(key, lambda: at_pace(self._usual_steps(minutes, sheet), self.pace))
        place = {step_id: index for index, step_id in enumerate(self.make.plan.order)}
        if not place:
            return in_sittings(steps, minutes)
        return in_sittings(sorted(steps, key=lambda s: place.get(s.operation.id, len(place))), minutes)

    def _usual_steps(self, minutes: int, sheet: Sequence[str]) -> list[Step]:
        """The program's order, each step with its numbers."""
        told = self.told_by_pieces
        if told is not None:
            return steps_by_pieces(told, minutes)
        return sequence(library(), self.garment, lambda op: numbers_for(op, self.sewing_facts), minutes, sheet)

    @cached_property
    def told_by_pieces(self) -> Told | None:
        """The garment by its pieces and the fates of their edges, where it is sewn so; None where its pieces do not tell one."""
        if not self.make.plan.by_pieces or not self.sizes:
            return None
        try:
            return told_by_pieces(self.pattern, self.make.view, self.sizes[0], self.garment, self.sewing_facts)
        except FeatureError:
            return None

    @property
    def order_findings(self) -> list[OrderFinding]:
        """What is to be said of the order as it stands."""
        ids = [s.operation.id for s in self.steps]
        if self.told_by_pieces is not None:
            return findings_by_pieces(self.told_by_pieces, ids)
        return check_order(library(), self.garment, ids)

    @property
    def unused(self) -> Sequence[str]:
        """What the garment is described with and nothing in it takes, in sentences."""
        if self.told_by_pieces is None:
            return without_effect(library(), self.garment)
        typed = self.make.plan.features
        return unused_by_pieces(self.pattern, self.make.view, self.sizes[0], self.garment, self.sewing_facts, typed)

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
        if self.by_usual_pieces:  # for what is bought alone: what the steps say of the pieces, they do not know
            need = replace(need, pieces=self._usual_pieces(self.sizes[0]))
        found = notions(need)
        if self.by_usual_pieces:
            found = usual_buttons(found, usual_garment(self.pattern, self.make.view))
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
        return NotionsAsk(
            own, self.pattern.seams, self._sewn_features, self.garment.tools, self._waist_mm, self.settings.unit,
            cloth.weight, cloth.knit, cloth.piled, self._wrist_mm, cloth, count=len(self.sizes),
            in_make=self.make.plan.own, with_pattern=self.pattern.figures, envelope=self.pattern.notions,
            garment=self.pattern.garment, steps=self.step_ids,
        )  # fmt: skip

    @property
    def by_usual_pieces(self) -> bool:
        """Whether notions are worked out from the garment's usual pieces, since the pattern's own are not in."""
        return not self.pattern.pieces_of(self.make.view)

    def _usual_pieces(self, size: str) -> tuple[tuple[Piece, PieceShape], ...]:
        row = next((s for s in self.pattern.sizes if s.size == size), None)
        if row is None or not self.by_usual_pieces:
            return ()
        body = next((p.latest.values for p in self.people.values() if p.latest), {})
        try:
            drawn = usual_pieces(usual_garment(self.pattern, self.make.view), row, body, self.settings)
        except RowanseedError:
            return ()
        return tuple((p, p.shapes[SIZE]) for p in drawn.pieces)

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
    def order_ids(self) -> tuple[str, ...]:
        """The ids of the steps that are sewn, by pieces or by description, in no order."""
        if self.make.plan.by_pieces and self.told_by_pieces is not None:
            return tuple(s.operation.id for s in self.steps)
        return self.step_ids

    @property
    def _waist_mm(self) -> float | None:
        return self._measured("waist")

    @property
    def _wrist_mm(self) -> float | None:
        return self._measured("wrist")

    def _measured(self, name: str) -> float | None:
        """A measure of the first person that the garments are for, mm."""
        person = next(iter(self.people.values()), None)
        found = person.latest.values.get(name) if person and person.latest else None
        return found.mm if found else None

    @cached_property
    def figures_at(self) -> dict[str, list[str]]:
        """What the bench worked out for this make, by the sewing step that it is used in."""
        return figures_at(self.make.plan)

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
