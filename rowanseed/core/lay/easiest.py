"""Which way of spreading is the easiest to cut, of those that the cloth in hand has room for.

A piece of cloth cut once on the fold is less work than two singly, and a half that is drawn, turned over and drawn again the most;
a fold in the middle of the cloth is laid quickly, one that is measured all along is not. The weights: common practice, no source.
"""

from collections.abc import Iterable, Mapping

from rowanseed.core.errors import Finding
from rowanseed.core.lay.model import Lay, LayRequest, Spread, SpreadTrial
from rowanseed.core.lengths import both

OPENED_OUT = 3.0  # cuts that a half drawn twice is worth
FUSS: Mapping[Spread, float] = {
    "single": 0.0,
    "lengthwise-fold": 0.0,
    "crosswise-fold": 1.0,
    "double-fold": 2.0,
    "part-fold": 2.0,
    "fold-then-single": 3.0,
}
MATCHED_ON_FOLD = 8.0  # a print that is to match is seen on one layer only


def trial_of(request: LayRequest, lay: Lay) -> SpreadTrial:
    """Return what a lay takes and asks for, to be held against other spreads."""
    halves = {piece.id for piece in request.pieces if piece.fold_edge is not None}
    opened = sum(1 for p in lay.placements if p.piece in halves and not p.on_fold)
    return SpreadTrial(lay.spread, lay.length_mm, len(lay.placements), len(lay.failed), opened)


def work_to_cut(request: LayRequest, way: SpreadTrial) -> float:
    """Return how hard a way is to cut, in cuts."""
    matched = MATCHED_ON_FOLD if (request.matches or request.centres) and way.spread != "single" else 0.0
    return way.cuts + OPENED_OUT * way.opened + FUSS[way.spread] + matched


def easiest_that_fits(request: LayRequest, ways: Iterable[SpreadTrial]) -> SpreadTrial | None:
    """Return the way that is the easiest to cut of those that place every piece on the cloth in hand; None where none does."""
    room = request.cloth.length_mm
    fitting = [way for way in ways if not way.failed and (room is None or way.length_mm <= room)]
    return min(fitting, key=lambda way: (work_to_cut(request, way), way.length_mm), default=None)


def said_of(taken: SpreadTrial, ways: Iterable[SpreadTrial], words: Mapping[Spread, str]) -> Finding:
    """Return in a sentence what the easiest way costs against the shortest."""
    shortest = min((way for way in ways if not way.failed), key=lambda way: way.length_mm, default=taken)
    cuts = f"{taken.cuts} cuts" + (f", {taken.opened} of them halves opened out" if taken.opened else "")
    text = f"The easiest to cut that the cloth in hand has room for is {words[taken.spread]}: {cuts}."
    if shortest.spread != taken.spread and taken.length_mm - shortest.length_mm > 0.5:
        less = both(taken.length_mm - shortest.length_mm)
        text += f" The shortest, {words[shortest.spread]}, takes {less} less and asks for {shortest.cuts} cuts."
    return Finding("note", "easiest", text)
