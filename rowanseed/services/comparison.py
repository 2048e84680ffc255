"""Cloths compared for one role of a make: every cloth owned and every width on sale, at once by their bounds, then laid."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.lay.quick_bound import QuickBound, quick_bound
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.services.long_work import LongWork, Progress
from rowanseed.services.worked_make import WorkedMake
from rowanseed.services.worked_role import WorkedRole


@dataclass(frozen=True)
class Candidate:
    """A line of the comparison: a cloth of the stash, or a width on sale."""

    key: str
    title: str
    cloth: Cloth
    cloth_id: int | None = None
    chosen: bool = False


@dataclass(frozen=True)
class Compared:
    """A candidate with what is known of it: its bound at once, its lay when there is one.

    `ruled_out`: its bound alone says that it cannot serve, so it is not laid; `have_mm`: the length in hand, None on sale.
    """

    candidate: Candidate
    bound: QuickBound
    have_mm: float | None
    progress: Progress

    @property
    def lay(self) -> Lay | None:
        """The lay, where it is known."""
        found: Lay | None = self.progress.result
        return found

    @property
    def ruled_out(self) -> bool:
        """Whether it need not be laid."""
        return bool(self.bound.too_wide) or (self.have_mm is not None and self.bound.length_mm > self.have_mm + 1e-6)


def request_on(make: WorkedMake, role: WorkedRole, cloth: Cloth) -> LayRequest:
    """Return the quick lay that a role's pieces on a cloth are asked for, as long as it takes."""
    plan = replace(make.make.plan, effort="quick", spread="best", locked={})
    asked = lay_request(role.pieces, cloth, plan, length_in_hand=False, seams=make.pattern.seams)
    return replace(asked, table=not asked.matches and not asked.centres)


def place_of(store: str, make: WorkedMake, role: WorkedRole) -> str:
    """Return what the lays of a comparison are known by; each candidate's key comes after it."""
    return f"{store}:{make.make.id}:{role.role}:compare:"


def compare(
    work: LongWork, store: str, make: WorkedMake, role: WorkedRole, candidates: Sequence[Candidate], again: bool = False
) -> list[Compared]:
    """Return every candidate with what is known of it, the likeliest first; lays that are not known yet are begun."""
    lines: list[tuple[Compared, LayRequest | None]] = []
    for candidate in candidates:
        request = request_on(make, role, candidate.cloth)
        have = candidate.cloth.for_lay().length_mm
        try:
            bound = quick_bound(request)
        except RowanseedError as error:
            lines.append((Compared(candidate, QuickBound(0.0), have, Progress(problem=error.text)), None))
            continue
        lines.append((Compared(candidate, bound, have, Progress()), request))
    lines.sort(key=lambda line: _rank(line[0]))
    place = place_of(store, make, role)
    return [
        line
        if request is None or (line.ruled_out and not line.candidate.chosen)
        else replace(line, progress=work.look(place + line.candidate.key, request, not line.candidate.chosen, again))
        for line, request in lines
    ]


def _rank(line: Compared) -> tuple[bool, bool, bool, float]:
    """The chosen cloth first, then what is in hand and may be enough, the least cloth first."""
    return (not line.candidate.chosen, line.ruled_out, line.have_mm is None, line.bound.length_mm)
