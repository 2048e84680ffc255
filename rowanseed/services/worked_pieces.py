"""The pieces of a make: drawn in its sizes, altered, conceded, with what is measured on them, by the cloth they are cut from."""

import sqlite3
from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from typing import TypeVar

from rowanseed.core.concede.change import conceded_pattern, facing_strip
from rowanseed.core.errors import Finding
from rowanseed.core.fit.alter import Altered
from rowanseed.core.fit.blend import blend_label, is_blend
from rowanseed.core.fit.finished_measurements import Girth
from rowanseed.core.lay.model import LayRequest
from rowanseed.core.lengths import both
from rowanseed.core.make.concessions import STEP_OF, Concession, describe_concession
from rowanseed.core.make.lay_requests import fingerprint, lay_request
from rowanseed.core.make.pieces import (
    SizedPiece,
    altered_pattern,
    blended_pattern,
    fit_pieces,
    girths_of,
    needed_sizes,
    roles_of,
    sized_pieces,
)
from rowanseed.core.pattern.layers_behind import untied
from rowanseed.core.pattern.model import Pattern, Piece, Role
from rowanseed.core.pattern.seamwalk import WalkedSeam, walk
from rowanseed.services.remembered import Remembered
from rowanseed.services.worked_role import WorkedRole
from rowanseed.store import cloths, makes, patterns, people
from rowanseed.store.makes import Make, MakeGarment, StoredLay
from rowanseed.store.people import Person
from rowanseed.store.settings import Settings

T = TypeVar("T")
_MEMORY = Remembered(256)  # pieces drawn, altered, conceded, by the versions they were worked out from


def forget() -> None:
    """Forget what was worked out: another database may have other things under the same versions."""
    _MEMORY.clear()


def once(key: tuple[object, ...], work: Callable[[], T]) -> T:
    """What is remembered under everything that it was worked out from, else what `work` gives."""
    return _MEMORY.once(key, work)


class WorkedPieces:
    """A make from the store and its pieces, each thing worked out once, when it is first asked for.

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
    def drawn_from(self) -> tuple[object, ...]:
        """Everything that the pieces as they are drawn depend on."""
        wanted = tuple(needed_sizes(self.sizes, self.blends))
        return (*patterns.state_of(self.conn, self.make.pattern_id), wanted, repr(self.blends))

    @cached_property
    def _blended(self) -> tuple[Pattern, list[Finding]]:
        def work() -> tuple[Pattern, list[Finding]]:
            sizes = needed_sizes(self.sizes, self.blends)
            return blended_pattern(patterns.pattern(self.conn, self.make.pattern_id, sizes).pattern, self.blends)

        return once(("drawn", *self.drawn_from), work)

    @cached_property
    def altered_from(self) -> tuple[object, ...]:
        """Everything that the pieces as they are altered depend on."""
        return (*self.drawn_from, tuple(self.sizes), repr(self.make.plan.alterations))

    @cached_property
    def _altered(self) -> tuple[Pattern, dict[str, Altered]]:
        key = ("altered", *self.altered_from)
        return once(key, lambda: altered_pattern(self.drawn, self.sizes, self.make.plan.alterations))

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
        return once(
            ("conceded", *self.conceded_from),
            lambda: conceded_pattern(self.fitted, self.sizes, self.make.plan.conceded),
        )

    @cached_property
    def conceded_from(self) -> tuple[object, ...]:
        """Everything that the pieces as they are laid depend on."""
        return (*self.altered_from, repr(self.make.plan.conceded))

    @property
    def altered(self) -> dict[str, Altered]:
        """For each size, what followed the alterations and which seams no longer meet."""
        return self._altered[1]

    def girths(self, label: str) -> Mapping[str, Girth]:
        """The finished girths of a size, blended and altered as it will be cut, measured on the pieces."""
        key = ("girths", *self.altered_from, self.make.view, label)
        return once(key, lambda: girths_of(self.fitted, self.make.view, label))

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
        return once(("walked", *self.altered_from, label), lambda: walk(*fit_pieces(self.fitted, label)))

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
    def roles(self) -> list[WorkedRole]:
        """Every cloth the view asks for."""
        kept = makes.lays(self.conn, self.make.id)
        return [self._role(role, kept.get(role)) for role in roles_of(self.pattern, self.make.view)]

    def _role(self, role: Role, kept: StoredLay | None) -> WorkedRole:
        cloth_id = self.make.cloths.get(role)
        cloth = cloths.cloth(self.conn, cloth_id) if cloth_id is not None else None
        complete = len(self.sizes) == len(self.make.garments)

        def work() -> tuple[list[SizedPiece], list[Finding], LayRequest | None, str]:
            pieces, findings = sized_pieces(self.pattern, self.make.view, role, self.sizes) if complete else ([], [])
            if cloth is None or not pieces or findings:
                return pieces, findings, None, ""
            request = lay_request(pieces, cloth.cloth, self.make.plan, seams=self.pattern.seams)
            return pieces, findings, request, fingerprint(request)

        key = ("role", role, *self.conceded_from, self.make.view, complete, repr(cloth), repr(self.make.plan))
        pieces, findings, request, asks = once(key, work)
        return WorkedRole(role, cloth, pieces, findings, request, asks, kept)

    def role(self, name: str) -> WorkedRole | None:
        """One cloth of the make."""
        return next((r for r in self.roles if r.role == name), None)
