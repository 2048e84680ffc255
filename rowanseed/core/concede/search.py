"""The mildest set of concessions that fits the cloth: each tried alone, then together, the least harm first."""

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.concede.change import conceded_pattern
from rowanseed.core.errors import RowanseedError
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import Effort, Lay, LayRequest, Spread
from rowanseed.core.lay.watch import LayWatch, rank
from rowanseed.core.make.concessions import HEM_KINDS, Concession, harm_of
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern, Role

MOST_SETS = 40  # sets laid beyond the single ones; what is left then is hardly milder
HARDER = 1.02  # a quick lay is at most so much longer than a thorough one: nearly fitting sets are laid thoroughly
ALWAYS: tuple[Spread, ...] = (
    "lengthwise-fold",
    "single",
)  # tried with every set, beside the two best without concessions
WORTH_MM = 2.0  # a concession that saves less is not worth naming


@dataclass(frozen=True)
class ConcedeRequest:
    """A role of a make as it will be cut, its cloth with the length in hand, and what the user allows to be conceded.

    `pattern` has every size of `sizes`, altered. `plan`: gap, effort and what is conceded already; every spread is tried.
    """

    pattern: Pattern
    view: str
    role: Role
    sizes: tuple[str, ...]
    cloth: Cloth
    plan: MakePlan
    allowed: tuple[Concession, ...]


@dataclass(frozen=True)
class Trial:
    """One set of concessions laid: the length it takes, what it saves, whether all pieces have a place and the cloth is enough."""

    concessions: tuple[Concession, ...]
    length_mm: float
    saved_mm: float
    complete: bool
    fits: bool
    spread: str

    @property
    def harm(self) -> int:
        """How much harm the set does."""
        return harm_of(self.concessions)


@dataclass(frozen=True)
class Conceded:
    """What was found: the lay without concessions, each concession alone, the sets tried, and the mildest that fits.

    `proposal` None: none of the sets fits. `steps`: how short the cloth may be for how much harm, mildest first.
    `lay`: of the proposal. `finished`: False while the work goes on, or where it was stopped.
    """

    base: Trial
    alone: tuple[Trial, ...] = ()
    together: tuple[Trial, ...] = ()
    proposal: Trial | None = None
    steps: tuple[Trial, ...] = ()
    lay: Lay | None = None
    finished: bool = False

    @property
    def shortest(self) -> Trial:
        """The set that takes the least cloth."""
        return self.steps[-1] if self.steps else self.base


@dataclass
class ConcedeWatch:
    """Told what is known so far; asked whether to stop."""

    report: Callable[[Conceded], None] = lambda so_far: None
    stop: Callable[[], bool] = lambda: False
    clock: Callable[[], float] = lambda: 0.0


def request_with(request: ConcedeRequest, concessions: Sequence[Concession]) -> LayRequest | None:
    """The lay asked for when these are conceded; None where a piece cannot be changed so, or nothing is left to lay."""
    view = next((c.view for c in concessions if c.kind == "view"), request.view)
    pattern, refused = conceded_pattern(request.pattern, request.sizes, (*request.plan.conceded, *concessions))
    pieces, missing = sized_pieces(pattern, view, request.role, request.sizes)
    if refused or missing or not pieces:
        return None
    return lay_request(pieces, request.cloth, replace(request.plan, spread="best", locked={}), seams=pattern.seams)


def concede(request: ConcedeRequest, watch: ConcedeWatch | None = None) -> Conceded:
    """Find the mildest set of the allowed concessions with which the cloth is enough.

    The pieces are laid in every spread first: swapping fold and selvage costs nothing. Then each concession alone, then sets of
    them in the order of their harm, until one fits. Without a length in hand every step is worked out.
    """
    watch = watch or ConcedeWatch()
    search = _Search(request, watch)
    found = search.run()
    return replace(found, finished=not watch.stop())


class _Search:
    """The state of one search: what was tried, and the best of it."""

    def __init__(self, request: ConcedeRequest, watch: ConcedeWatch) -> None:
        self.request = request
        self.watch = watch
        self.target = request.cloth.for_lay().length_mm
        self.tried: dict[tuple[Concession, ...], Trial] = {}
        self.lays: dict[tuple[Concession, ...], Lay] = {}
        self.base = self._base()
        self.alone: list[Trial] = []

    def run(self) -> Conceded:
        """The whole search; a stop keeps what is known."""
        if self.base.fits and self.target is not None:
            return self._known()
        for concession in self.request.allowed:
            if self.watch.stop():
                return self._known()
            trial = self.trial((concession,))
            if trial is not None:
                self.alone.append(trial)
                self.watch.report(self._known())
        useful = [t for t in self.alone if t.saved_mm >= WORTH_MM or (t.complete and not self.base.complete)]
        everything = _compatible([t.concessions[0] for t in useful] or list(self.request.allowed))
        self.trial(everything)
        for chosen in itertools.islice(self._sets(useful), MOST_SETS):
            best = self._proposal()
            if self.watch.stop() or (best is not None and harm_of(chosen) >= best.harm):
                break
            self.trial(chosen)
            self.watch.report(self._known())
        self._prune()
        return self._known()

    def _base(self) -> Trial:
        asked = request_with(self.request, ())
        assert asked is not None  # a role is asked about only when its pieces can be laid
        thorough = lay(replace(asked, effort="good"), LayWatch(stop=self.watch.stop))
        self.lays[()] = thorough
        ranked = [way.spread for way in thorough.ways if not way.failed][:2]
        self.spreads = tuple(dict.fromkeys([*ranked, *ALWAYS]))
        return self._as_trial((), thorough, thorough)

    def _as_trial(self, concessions: tuple[Concession, ...], found: Lay, base: Lay) -> Trial:
        complete = not found.failed
        fits = complete and (self.target is None or found.length_mm <= self.target + 1e-6)
        return Trial(concessions, found.length_mm, base.length_mm - found.length_mm, complete, fits, found.spread)

    def trial(self, concessions: tuple[Concession, ...]) -> Trial | None:
        """A set laid: at a glance, and thoroughly where that may make it fit."""
        if concessions in self.tried:
            return self.tried[concessions]
        asked = request_with(self.request, concessions)
        if asked is None:
            return None
        try:
            found = min((self._lay(asked, spread, "quick") for spread in self.spreads), key=rank)
            near = self.target is not None and self.target < found.length_mm <= self.target * HARDER
            idle = found.length_mm > self.base.length_mm - WORTH_MM  # a quick lay may hide what is saved
            if (near or idle) and not found.failed:
                found = min(found, self._lay(asked, found.spread, "good"), key=rank)
        except RowanseedError:
            return None
        trial = self._as_trial(concessions, found, self.lays[()])
        self.tried[concessions], self.lays[concessions] = trial, found
        return trial

    def _lay(self, asked: LayRequest, spread: Spread, effort: Effort) -> Lay:
        return lay(replace(asked, spread=spread, effort=effort), LayWatch(stop=self.watch.stop))

    def _sets(self, useful: Sequence[Trial]) -> Iterator[tuple[Concession, ...]]:
        """Sets of two and more, the least harm first; those that cannot save enough even if savings added up are left out."""
        sets = []
        for count in range(2, min(len(useful), 5) + 1):
            for chosen in itertools.combinations(useful, count):
                together = tuple(t.concessions[0] for t in chosen)
                if _compatible(together) != together:
                    continue
                hoped = sum(t.saved_mm for t in chosen) * 1.25
                enough = self.target is None or self.base.length_mm - hoped <= self.target
                if enough or not self.base.complete:
                    sets.append((harm_of(together), -hoped, together))
        sets.sort(key=lambda s: s[:2])
        return (together for _, _, together in sets)

    def _prune(self) -> None:
        """Leave out of the mildest set whatever it fits without, the most harmful first."""
        best = self._proposal()
        while best is not None and self.target is not None and len(best.concessions) > 1 and not self.watch.stop():
            for one in sorted(best.concessions, key=lambda c: -c.harm):
                less = self.trial(tuple(c for c in best.concessions if c != one))
                if less is not None and less.fits:
                    best = less
                    break
            else:
                break
        if best is not None and best.concessions:
            self._no_more_than_needed(best)

    def _no_more_than_needed(self, best: Trial) -> None:
        """Take no more off the hems than the cloth asks for: what is to spare is given back, the worse concession first."""
        for one in sorted(best.concessions, key=lambda c: -c.harm):
            spare = math.floor((self.target or 0.0) - best.length_mm)
            if one.kind not in ("shorten", "shallow-hem") or spare < 1 or self.watch.stop():
                continue
            less = replace(one, by_mm=max(1.0, one.by_mm - spare))
            tried = self.trial(tuple(less if c == one else c for c in best.concessions))
            if tried is not None and tried.fits:
                best = tried

    def _proposal(self) -> Trial | None:
        fitting = [t for t in (self.base, *self.tried.values()) if t.fits]
        if self.target is None or not fitting:
            return None
        return min(fitting, key=lambda t: (t.harm, _off_the_hems(t), t.length_mm))

    def _known(self) -> Conceded:
        proposal = self._proposal()
        together = [t for c, t in self.tried.items() if len(c) > 1]
        return Conceded(
            self.base,
            tuple(self.alone),
            tuple(sorted(together, key=lambda t: (t.harm, t.length_mm))),
            proposal,
            _steps([self.base, *self.tried.values()]),
            self.lays.get(proposal.concessions) if proposal else None,
        )


def _off_the_hems(trial: Trial) -> float:
    """How much a trial takes off the hems: of two alike the smaller is the milder."""
    return sum(c.by_mm for c in trial.concessions)


def _compatible(concessions: Sequence[Concession]) -> tuple[Concession, ...]:
    """The concessions that can be made together: a piece is changed once, the milder way first; hems move once."""
    taken: set[str] = set()
    hems: set[str] = set()
    kept = []
    has_view = False
    for concession in sorted(concessions, key=lambda c: c.harm):
        if concession.kind == "view":
            if has_view:
                continue
            has_view = True
        elif concession.kind in HEM_KINDS:
            key = {f"{number}:{'length' if concession.kind == 'shorten' else 'depth'}" for number in concession.pieces}
            if key & hems:
                continue
            hems |= key
        elif taken & set(concession.pieces):
            continue
        else:
            taken |= set(concession.pieces)
        kept.append(concession)
    return tuple(kept)


def _steps(trials: Sequence[Trial]) -> tuple[Trial, ...]:
    """How short the cloth may be: of all complete trials those that take less cloth than every milder one."""
    steps: list[Trial] = []
    for trial in sorted((t for t in trials if t.complete), key=lambda t: (t.harm, t.length_mm)):
        if not steps or trial.length_mm < steps[-1].length_mm - WORTH_MM:
            steps.append(trial)
    return tuple(steps)
