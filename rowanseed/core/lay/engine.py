"""From a request to a lay: which spreads to try, and the shortest of them."""

from collections.abc import Iterable, Sequence
from dataclasses import replace

from rowanseed.core.errors import Finding, LayError
from rowanseed.core.lay.easiest import easiest_that_fits, said_of, trial_of
from rowanseed.core.lay.fold_then_single import lay_in_turn
from rowanseed.core.lay.lanes import lay_in_lanes
from rowanseed.core.lay.model import Lay, LayRequest, Spread, SpreadTrial
from rowanseed.core.lay.one_lane import glance, lay_one_lane
from rowanseed.core.lay.print_alignment import may_match, why_not
from rowanseed.core.lay.watch import LayWatch, rank

SPREAD_WORDS: dict[Spread, str] = {
    "single": "a single layer",
    "lengthwise-fold": "a lengthwise fold",
    "part-fold": "one edge folded in part of the way",
    "double-fold": "both edges folded to meet",
    "crosswise-fold": "a fold across",
    "fold-then-single": "a fold first and a single layer after it",
}
SPREADS: tuple[Spread, ...] = (
    "lengthwise-fold",
    "single",
    "part-fold",
    "double-fold",
    "fold-then-single",
    "crosswise-fold",
)
WORKED_OUT = 2  # of all spreads, so many are worked out with the effort asked for
NEAR = 1.02  # a glance this near to the single layer may come out shorter
MOST_PIECES = 400  # items in one lay; more is a catalogue, not a garment


def lay(request: LayRequest, watch: LayWatch | None = None) -> Lay:
    """Lay the pieces as short as the effort allows.

    `best` lays every spread the engine knows and answers the shortest, `easiest` the one that is the least work to cut of those
    that the cloth in hand has room for, the shortest where none has or no length is given; where one spread places everything and
    another does not, completeness comes first. A lay that cannot be made has `failed` pieces and `stop` findings.
    Raises:
        LayError: the request itself cannot be used (no pieces, an outline that crosses itself, no width left).
    """
    watch = watch or LayWatch()
    _refuse_unusable(request)
    if request.spread == "easiest":
        return _easiest(request, watch)
    if request.table and request.spread == "best":
        return _for_a_table(request, watch)
    spreads = SPREADS if request.spread == "best" else (request.spread,)
    if len(spreads) > 1 and request.effort != "quick":
        return _best_of_all(request, watch)
    best, ways = _try(request, spreads, watch, None)
    if best is None:  # a spread that these pieces have no use for, asked for by itself
        best = lay_one_lane(request, "single", watch, None)
        words = SPREAD_WORDS[spreads[0]]
        text = f"These pieces on this cloth have no use for {words}; they are laid in a single layer."
        if not may_match(request, spreads[0]):
            text = f"In {words} this print cannot be matched; the pieces are laid in a single layer. " + why_not(
                request
            )
        best = replace(best, findings=(*best.findings, Finding("note", "spread-of-no-use", text)))
    return replace(best, ways=_ranked(ways.values()) if len(spreads) > 1 else ())


def _for_a_table(request: LayRequest, watch: LayWatch) -> Lay:
    """The shortest lay, and no other worked out than can be it.

    Every folded lay opens out to a single layer of the same length, so a single layer is the shortest; a search may still find the
    folded one first, which has half the pieces. That is worked out where a glance says that it comes near.
    """
    best, ways = _try(request, ("single",), watch, None)
    assert best is not None  # a single layer can always be tried
    if not best.failed and glance(request, "lengthwise-fold") <= best.length_mm * NEAR:
        folded, more = _try(request, ("lengthwise-fold",), watch, best)
        ways |= more
        if folded is not None and rank(folded) < rank(best):
            best = folded
    return replace(best, ways=_ranked(ways.values()))


def _best_of_all(request: LayRequest, watch: LayWatch) -> Lay:
    """Every spread at a light effort, then the likeliest with the effort asked for."""
    best, ways = _try(replace(request, effort="quick"), SPREADS, watch, None)
    assert best is not None  # a single layer can always be tried
    likeliest = [way.spread for way in _ranked(ways.values())[:WORKED_OUT]]
    harder, more = _try(request, likeliest, watch, best)
    if harder is not None and rank(harder) < rank(best):
        best = harder
    return replace(best, ways=_ranked({**ways, **more}.values()))


def _easiest(request: LayRequest, watch: LayWatch) -> Lay:
    """Every spread at a light effort, then the easiest to cut that fits with the effort asked for; the shortest where none fits."""
    shortest = replace(request, spread="best")
    if request.cloth.length_mm is None:
        return lay(shortest, watch)
    best, ways = _try(replace(shortest, effort="quick"), SPREADS, watch, None)
    taken = easiest_that_fits(request, ways.values())
    if best is None or taken is None:
        return lay(shortest, watch)
    own = replace(request, spread=taken.spread)
    found = lay(own if not watch.stop() else replace(own, effort="quick"), watch)
    ways[taken.spread] = trial_of(request, found)
    said = said_of(ways[taken.spread], ways.values(), SPREAD_WORDS)
    return replace(found, ways=_ranked(ways.values()), findings=(*found.findings, said))


def _try(
    request: LayRequest, spreads: Sequence[Spread], watch: LayWatch, rival: Lay | None
) -> tuple[Lay | None, dict[Spread, SpreadTrial]]:
    """The best lay of some spreads, and what each of them takes; a stop keeps what there is."""
    best: Lay | None = None
    ways: dict[Spread, SpreadTrial] = {}
    for spread in spreads:
        if (best or rival) is not None and watch.stop():
            break
        found = _lay_by(request, spread, watch, best or rival)
        if found is None:
            continue
        ways[spread] = trial_of(request, found)
        if best is None or rank(found) < rank(best):
            best = found
    return best, ways


def _ranked(ways: Iterable[SpreadTrial]) -> tuple[SpreadTrial, ...]:
    return tuple(sorted(ways, key=lambda way: (way.failed, way.length_mm)))


def _lay_by(request: LayRequest, spread: Spread, watch: LayWatch, rival: Lay | None) -> Lay | None:
    """The lay in one spread; None where the spread is of no use to these pieces on this cloth."""
    if not may_match(request, spread):
        return None
    if spread in ("single", "lengthwise-fold"):
        return lay_one_lane(request, spread, watch, rival)
    if spread == "fold-then-single":
        return lay_in_turn(request, watch)
    return lay_in_lanes(request, spread, watch, rival)


def _refuse_unusable(request: LayRequest) -> None:
    if not request.pieces:
        raise LayError("There is nothing to lay: add at least one piece.", "pieces")
    if sum(p.cut for p in request.pieces) > MOST_PIECES:
        raise LayError(f"That is more than {MOST_PIECES} pieces of cloth in one lay.", "pieces")
    seen: set[str] = set()
    for piece in request.pieces:
        if piece.id in seen:
            raise LayError(f"Two pieces are called {piece.id}. Give each its own number.", "pieces")
        if piece.cut < 1:
            raise LayError(f"Piece {piece.id} must be cut at least once.", "pieces.cut")
        seen.add(piece.id)
