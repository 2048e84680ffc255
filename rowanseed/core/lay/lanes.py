"""The spreads of several lanes, or folded across: the likeliest arrangement at a glance, then worked out."""

import math
from collections.abc import Callable

from shapely import Polygon

from rowanseed.core.errors import Finding
from rowanseed.core.lay.demand import Item, Usable, placed
from rowanseed.core.lay.finish import with_findings
from rowanseed.core.lay.matching import matched
from rowanseed.core.lay.model import Effort, Lay, LayRequest, Spread
from rowanseed.core.lay.nest import estimate_length, solve
from rowanseed.core.lay.problem import Solution
from rowanseed.core.lay.spreads import Arrangement, arrangements, folded_flaws, lane_flaws, lock_in
from rowanseed.core.lay.squeeze import Watch
from rowanseed.core.lay.watch import LayWatch, rank
from rowanseed.core.lengths import both

SPLITS: dict[Effort, int] = {"quick": 4, "good": 8, "best": 10}  # places of the fold that are looked at
FOLDS_TRIED = 12  # places of a fold across in cloth with flaws


def lay_in_lanes(request: LayRequest, spread: Spread, watch: LayWatch, rival: Lay | None) -> Lay | None:
    """The lay of a spread with several lanes or a fold across: the best arrangement at a glance, then worked out."""
    began = watch.clock()
    tried = arrangements(request, spread)[: SPLITS[request.effort]]
    if not tried:
        return None
    chosen = tried[0]
    if len(tried) > 1 and chosen.items:
        chosen = min(tried, key=lambda a: _at_a_glance(request, a) if not watch.stop() else math.inf)
    # What matches along the cloth does so in every lane: they all begin at the cut end.
    match = matched(request, spread, Usable(chosen.width_mm, 0.0, 0), list(chosen.items), watch)
    items = match.items
    findings = match.findings + [_too_narrow(piece, height, chosen) for piece, height in chosen.failed]
    findings += [
        Finding("care", "lock-dropped", f"Piece {held.piece} cannot be held there: it may not lie so, or all are held.")
        for held in request.locked
        if not lock_in(items, held, chosen)
    ]
    twice = 2.0 if chosen.doubled_along else 1.0
    open_width = request.cloth.width_mm - sum(request.cloth.selvage_mm)
    bound = sum(Polygon(i.poses[0].cut).area * (2 if i.at_fold else i.layers) for i in items) / open_width
    failed = tuple(piece for piece, _ in chosen.failed)

    def drawn(solution: Solution, length: float, done: bool) -> Lay:
        placements = []
        for item, s in zip(items, solution):
            pose = item.poses[s.pose]
            y = s.y - chosen.base(pose.lane) + chosen.lanes[pose.lane].low
            placements.append(placed(item, pose, s.x, y))
        lanes = tuple(lane.lane(0.0, length) for lane in chosen.lanes)
        lay = Lay(
            length * twice,
            open_width if spread != "double-fold" else open_width / 2,
            bound,
            0.0,
            spread,
            watch.clock() - began,
            lanes,
            tuple(placements),
            tuple(findings),
            0.0,
            failed,
            unmatched=match.unmatched,
        )
        return with_findings(lay, request) if done else lay

    if not items:
        return drawn((), 0.0, done=True)

    def report(solution: Solution, length: float) -> None:
        if rival is None or (len(failed), length * twice) < rank(rival):
            watch.report(drawn(solution, length, done=False))

    floor = max(_floor(chosen), chosen.strip_area() / chosen.width_mm)

    def solved(flaws: list[Item], told: Watch) -> tuple[Solution, float]:
        every = [*items, *flaws]
        return solve(every, chosen.width_mm, request.gap_mm, request.effort, request.seed, floor, told, match.repeat)

    if chosen.doubled_along and request.cloth.flaws:
        found = _over_flaws(request, chosen, solved, Watch(stop=watch.stop))
        return drawn(*found, done=True) if found else None
    solution, length = solved(lane_flaws(request.cloth, chosen), Watch(report, watch.stop))
    return drawn(solution, length, done=True)


def _over_flaws(
    request: LayRequest,
    chosen: Arrangement,
    solved: Callable[[list[Item], Watch], tuple[Solution, float]],
    watch: Watch,
) -> tuple[Solution, float] | None:
    """A fold across in cloth with flaws: where the upper layer's flaws lie depends on where the fold does, so the fold is moved
    outward until a lay fits inside it. None when none of the places tried will do."""
    _, fold = solved([], watch)
    for _ in range(FOLDS_TRIED):
        solution, length = solved(folded_flaws(request.cloth, chosen, fold), watch)
        if length <= fold + 1e-6:
            return solution, fold
        if watch.stop():
            return None
        fold = max(length, fold * 1.01)
    return None


def _floor(chosen: Arrangement) -> float:
    return max(min(pose.length_mm for pose in item.poses) for item in chosen.items)


def _at_a_glance(request: LayRequest, arrangement: Arrangement) -> float:
    flaws = lane_flaws(request.cloth, arrangement)
    items = [*arrangement.items, *flaws]
    return estimate_length(items, arrangement.width_mm, request.gap_mm, request.seed, _floor(arrangement))


def _too_narrow(piece: str, height: float, arrangement: Arrangement) -> Finding:
    widest = max(lane.usable_mm for lane in arrangement.lanes)
    over = f"{both(height - widest)} too little" if height > widest else "and not in a lane it may lie in"
    text = (
        f"Piece {piece} is {both(height)} across; this spread gives {both(widest)}: {over}. Lay it in a single layer."
    )
    return Finding("stop", "piece-too-wide", text)
