"""From a request to a lay: choose the spread, nest the items, read the result back in lane coordinates, check it."""

import math
import time
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from shapely import Polygon

from rowanseed.core.errors import Finding, LayError
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.demand import (
    Item,
    Usable,
    cutting_shape,
    flaw_items,
    items_for,
    lock,
    on_fold_axis,
    on_the_selvage,
    placed,
    usable_strip,
)
from rowanseed.core.lay.model import Edge, Lane, Lay, LayPiece, LayRequest, Placement, Spread, Way
from rowanseed.core.lay.nest import Watch, glance, solve
from rowanseed.core.lay.problem import Solution
from rowanseed.core.lay.spreads import Arrangement, arrangements, lane_flaws, lock_in
from rowanseed.core.lengths import both

EDGES: dict[Spread, tuple[Edge, Edge]] = {"single": ("selvage", "selvage"), "lengthwise-fold": ("fold", "selvage")}
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
SPLITS = {"quick": 4, "good": 8, "best": 10}
MOST_PIECES = 400  # items in one lay; more is a catalogue, not a garment


@dataclass
class LayWatch:
    """Told of every better lay while the work goes on; asked whether to stop and keep the best so far."""

    report: Callable[[Lay], None] = lambda lay: None
    stop: Callable[[], bool] = lambda: False
    clock: Callable[[], float] = time.perf_counter


def lay(request: LayRequest, watch: LayWatch | None = None) -> Lay:
    """Lay the pieces as short as the effort allows.

    `best` lays every spread the engine knows and answers the shortest; where one spread places everything and
    another does not, completeness comes first. A lay that cannot be made has `failed` pieces and `stop` findings.
    Raises:
        LayError: the request itself cannot be used (no pieces, an outline that crosses itself, no width left).
    """
    watch = watch or LayWatch()
    _refuse_unusable(request)
    spreads = SPREADS if request.spread == "best" else (request.spread,)
    if len(spreads) > 1 and request.effort != "quick":
        return _best_of_all(request, watch)
    best, ways = _try(request, spreads, watch, None)
    if best is None:  # a spread that these pieces have no use for, asked for by itself
        best = _lay_spread(request, "single", watch, None)
        text = (
            f"These pieces on this cloth have no use for {SPREAD_WORDS[spreads[0]]}; they are laid in a single layer."
        )
        best = replace(best, findings=(*best.findings, Finding("note", "spread-of-no-use", text)))
    return replace(best, ways=_ranked(ways.values()) if len(spreads) > 1 else ())


def _best_of_all(request: LayRequest, watch: LayWatch) -> Lay:
    """Every spread at a light effort, then the likeliest with the effort asked for."""
    best, ways = _try(replace(request, effort="quick"), SPREADS, watch, None)
    assert best is not None  # a single layer can always be tried
    likeliest = [way.spread for way in _ranked(ways.values())[:WORKED_OUT]]
    harder, more = _try(request, likeliest, watch, best)
    if harder is not None and _rank(harder) < _rank(best):
        best = harder
    return replace(best, ways=_ranked({**ways, **more}.values()))


def _try(
    request: LayRequest, spreads: Sequence[Spread], watch: LayWatch, rival: Lay | None
) -> tuple[Lay | None, dict[Spread, Way]]:
    """The best lay of some spreads, and what each of them takes; a stop keeps what there is."""
    best: Lay | None = None
    ways: dict[Spread, Way] = {}
    for spread in spreads:
        if (best or rival) is not None and watch.stop():
            break
        found = _lay_by(request, spread, watch, best or rival)
        if found is None:
            continue
        ways[spread] = Way(spread, found.length_mm, len(found.placements), len(found.failed))
        if best is None or _rank(found) < _rank(best):
            best = found
    return best, ways


def _ranked(ways: Iterable[Way]) -> tuple[Way, ...]:
    return tuple(sorted(ways, key=lambda way: (way.failed, way.length_mm)))


def _lay_by(request: LayRequest, spread: Spread, watch: LayWatch, rival: Lay | None) -> Lay | None:
    """The lay in one spread; None where the spread is of no use to these pieces on this cloth."""
    if spread in ("single", "lengthwise-fold"):
        return _lay_spread(request, spread, watch, rival)
    if spread == "fold-then-single":
        return _lay_in_turn(request, watch)
    return _lay_arranged(request, spread, watch, rival)


def _rank(lay: Lay) -> tuple[int, float]:
    return (len(lay.failed), lay.length_mm)


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


def _lay_spread(request: LayRequest, spread: Spread, watch: LayWatch, rival: Lay | None) -> Lay:
    began = watch.clock()
    strip = usable_strip(request.cloth, spread)
    items, findings, failed = _fitting_items(request, spread, strip)
    floor = max((min(p.length_mm for p in i.poses if p.height_mm <= strip.width_mm + 1e-6) for i in items), default=0.0)
    bounds = _bounds(request, spread, strip, failed)
    if not items:
        return _finished(
            Lay(
                0.0,
                strip.width_mm,
                *bounds,
                spread,
                watch.clock() - began,
                (_lane(request, spread, 0.0),),
                (),
                tuple(findings),
                0.0,
                tuple(failed),
            ),
            request,
        )

    def drawn(solution: Solution, length: float, finished: bool) -> Lay:
        placements = tuple(
            placed(item, item.poses[s.pose], s.x, s.y + strip.offset_mm) for item, s in zip(items, solution)
        )
        lay = Lay(
            length,
            strip.width_mm,
            *bounds,
            spread,
            watch.clock() - began,
            (_lane(request, spread, length),),
            placements,
            tuple(findings),
            0.0,
            tuple(failed),
        )
        return _finished(lay, request) if finished else lay

    def report(solution: Solution, length: float) -> None:
        if rival is None or (len(failed), length) < _rank(rival):
            watch.report(drawn(solution, length, finished=False))

    flaws = flaw_items(request.cloth, spread, strip)
    solution, length = solve(
        [*items, *flaws],
        strip.width_mm,
        request.gap_mm,
        request.effort,
        request.seed,
        max(floor, bounds[0], bounds[1]),
        Watch(report, watch.stop),
    )
    return drawn(solution, length, finished=True)


def _lay_arranged(request: LayRequest, spread: Spread, watch: LayWatch, rival: Lay | None) -> Lay | None:
    """The lay of a spread with several lanes or a fold across: the best arrangement at a glance, then worked out."""
    began = watch.clock()
    if spread == "crosswise-fold" and request.cloth.flaws:
        return None  # where the upper layer's flaws come to lie is known only when the length is
    tried = arrangements(request, spread)[: SPLITS[request.effort]]
    if not tried:
        return None
    chosen = tried[0]
    if len(tried) > 1 and chosen.items:
        chosen = min(tried, key=lambda a: _at_a_glance(request, a) if not watch.stop() else math.inf)
    items = list(chosen.items)
    findings = [_too_narrow(piece, height, chosen) for piece, height in chosen.failed]
    findings += [
        Finding("care", "lock-dropped", f"Piece {held.piece} cannot be held there: it may not lie so, or all are held.")
        for held in request.locked
        if not lock_in(items, held, chosen)
    ]
    twice = 2.0 if chosen.doubled_along else 1.0
    open_width = request.cloth.width_mm - sum(request.cloth.selvage_mm)
    bound = sum(Polygon(i.poses[0].cut).area * (2 if i.at_fold else i.layers) for i in items) / open_width
    failed = tuple(piece for piece, _ in chosen.failed)

    def drawn(solution: Solution, length: float, finished: bool) -> Lay:
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
        )
        return _finished(lay, request) if finished else lay

    if not items:
        return drawn((), 0.0, finished=True)

    def report(solution: Solution, length: float) -> None:
        if rival is None or (len(failed), length * twice) < _rank(rival):
            watch.report(drawn(solution, length, finished=False))

    floor = max(_floor(chosen), chosen.strip_area() / chosen.width_mm)
    solution, length = solve(
        [*items, *lane_flaws(request.cloth, chosen)],
        chosen.width_mm,
        request.gap_mm,
        request.effort,
        request.seed,
        floor,
        Watch(report, watch.stop),
    )
    return drawn(solution, length, finished=True)


def _floor(chosen: Arrangement) -> float:
    return max(min(pose.length_mm for pose in item.poses) for item in chosen.items)


def _at_a_glance(request: LayRequest, arrangement: Arrangement) -> float:
    flaws = lane_flaws(request.cloth, arrangement)
    items = [*arrangement.items, *flaws]
    return glance(items, arrangement.width_mm, request.gap_mm, request.seed, _floor(arrangement))


def _too_narrow(piece: str, height: float, arrangement: Arrangement) -> Finding:
    widest = max(lane.usable_mm for lane in arrangement.lanes)
    over = f"{both(height - widest)} too little" if height > widest else "and not in a lane it may lie in"
    text = (
        f"Piece {piece} is {both(height)} across; this spread gives {both(widest)}: {over}. Lay it in a single layer."
    )
    return Finding("stop", "piece-too-wide", text)


def _lay_in_turn(request: LayRequest, watch: LayWatch) -> Lay | None:
    """Pairs and fold pieces folded lengthwise, then the odd, same-handed and bias pieces from the opened rest."""
    began = watch.clock()
    folded, rest = _in_turn(request.pieces)
    if not folded or not rest:
        return None
    endless = replace(request.cloth, length_mm=None)
    locks = [[held for held in request.locked if held.lane == k] for k in (0, 1)]
    first = _lay_spread(
        replace(request, cloth=endless, pieces=folded, locked=tuple(locks[0])), "lengthwise-fold", watch, None
    )
    at = first.length_mm
    flaws = tuple((x0 - at, y0, x1 - at, y1) for x0, y0, x1, y1 in request.cloth.flaws if max(x0, x1) > at)
    held = tuple(replace(lock, lane=0, x=lock.x - at) for lock in locks[1])
    later = replace(request, cloth=replace(endless, flaws=flaws), pieces=rest, locked=held)
    second = _lay_spread(later, "single", watch, None)
    placements = (*first.placements, *(_further(p, at) for p in second.placements))
    lanes = (*first.lanes, *(replace(lane, start_mm=at, end_mm=at + second.length_mm) for lane in second.lanes))
    noted = ("one-layer-only",)
    lay = Lay(
        at + second.length_mm,
        second.width_mm,
        first.bound_mm + second.bound_mm,
        first.fold_bound_mm,
        "fold-then-single",
        watch.clock() - began,
        lanes,
        placements,
        tuple(f for f in (*first.findings, *second.findings) if f.code not in noted),
        0.0,
        tuple(dict.fromkeys((*first.failed, *second.failed))),
    )
    return _finished(lay, request)


def _further(placement: Placement, x: float) -> Placement:
    """A placement of the second part: its lane, and further along the cloth."""
    moved = tuple((px + x, py) for px, py in placement.outline)
    marks = {name: (px + x, py) for name, (px, py) in placement.marks.items()}
    return replace(placement, lane=1, outline=moved, marks=marks)


def _in_turn(pieces: Sequence[LayPiece]) -> tuple[tuple[LayPiece, ...], tuple[LayPiece, ...]]:
    """What is cut folded, and what from the opened rest; an odd one of a pair goes with the rest."""
    folded, rest = [], []
    for piece in pieces:
        if piece.grain == "bias" or (piece.fold_edge is None and not piece.mirrored):
            rest.append(piece)
        elif piece.fold_edge is not None or piece.cut % 2 == 0:
            folded.append(piece)
        else:
            if piece.cut > 1:
                folded.append(replace(piece, cut=piece.cut - 1))
            rest.append(replace(piece, cut=1))
    return tuple(folded), tuple(rest)


def _fitting_items(request: LayRequest, spread: Spread, strip: Usable) -> tuple[list[Item], list[Finding], list[str]]:
    """The items that fit the strip's width, findings for those that do not, and the latter's piece ids."""
    items: list[Item] = []
    findings: list[Finding] = []
    failed: list[str] = []
    for piece in request.pieces:
        try:
            wanted = items_for(piece, spread, request.cloth.one_way)
        except LayError as error:
            raise LayError(error.text, f"pieces.{piece.id}.{error.field}") from error
        if any(not item.poses for item in wanted):
            findings.append(
                Finding(
                    "stop",
                    "fold-off-grain",
                    f"Piece {piece.id} cannot lie on the lengthwise fold on this grain. Lay it in a single layer.",
                )
            )
            failed.append(piece.id)
            continue
        if piece.selvage_edge is not None:
            wanted = [on_the_selvage(item, piece, spread, request.cloth, strip) for item in wanted]
            if not wanted[0].poses:
                findings.append(_not_on_selvage(piece))
                failed.append(piece.id)
                continue
        width = min(pose.height_mm for pose in wanted[0].poses)
        if width > strip.width_mm + 1e-6:
            findings.append(_too_wide(piece, width, strip))
            failed.append(piece.id)
            continue
        items += wanted
    findings += [
        Finding("care", "lock-dropped", f"Piece {held.piece} cannot be held there: it may not lie so, or all are held.")
        for held in request.locked
        if held.piece not in failed and not lock(items, held, strip)
    ]
    return items, findings, failed


def _not_on_selvage(piece: LayPiece) -> Finding:
    return Finding(
        "stop",
        "selvage-edge-impossible",
        f"Piece {piece.id} cannot lie with that edge on the selvage: it must be an outer side that runs along the grain.",
    )


def _too_wide(piece: LayPiece, width: float, strip: Usable) -> Finding:
    over = width - strip.width_mm
    help_ = (
        "Open the fold, or use a wider cloth."
        if strip.layers == 2
        else ("Use a wider cloth, or join a seam in the piece.")
    )
    return Finding(
        "stop",
        "piece-too-wide",
        f"Piece {piece.id} is {both(width)} across; this spread gives {both(strip.width_mm)}: "
        f"{both(over)} too little. {help_}",
    )


def _bounds(request: LayRequest, spread: Spread, strip: Usable, failed: list[str]) -> tuple[float, float]:
    """Lengths no lay can go below: cloth area over width, and the chain of pieces along the fold."""
    area, chain = 0.0, -request.gap_mm
    for piece in request.pieces:
        if piece.id in failed:
            continue
        folded = piece.fold_edge is not None
        outline = on_fold_axis(piece)[0] if folded else piece.outline
        shape = cutting_shape(outline, piece.allowance_mm, folded)
        layers = 1 if spread == "single" else 2
        pieces_of_cloth = piece.cut if spread == "single" or folded or not piece.mirrored else piece.cut + piece.cut % 2
        whole = Polygon(shape).area * (2 if folded else 1)
        # A same-handed piece in a doubled lane takes both layers, though one is cut.
        share = layers if spread != "single" and not folded and not piece.mirrored else 1
        area += whole * pieces_of_cloth * share / layers
        if folded and spread == "lengthwise-fold":
            on_axis = [x for x, y in shape if y < 0.01]
            chain += piece.cut * (max(on_axis) - min(on_axis) + request.gap_mm)
    return area / strip.width_mm, max(0.0, chain)


def _lane(request: LayRequest, spread: Spread, length: float) -> Lane:
    width = request.cloth.width_mm if spread == "single" else request.cloth.width_mm / 2
    return Lane(0.0, width, 0.0, length, 1 if spread == "single" else 2, EDGES[spread])


def _finished(lay: Lay, request: LayRequest) -> Lay:
    """A lay with what the user must know: short cloth, rules not honoured, and the checker's verdict."""
    findings = list(lay.findings)
    short = 0.0
    if request.cloth.length_mm is not None and lay.length_mm > request.cloth.length_mm + 1e-6:
        short = lay.length_mm - request.cloth.length_mm
        findings.append(
            Finding(
                "stop",
                "cloth-too-short",
                f"This lay takes {both(lay.length_mm)}; the cloth is {both(request.cloth.length_mm)} "
                f"long: {both(short)} too short.",
            )
        )
    findings += _not_honoured(request)
    findings += _how_to_spread(lay, request)
    if any(p.layers == 1 and lay.lanes[p.lane].layers == 2 for p in lay.placements):
        findings.append(
            Finding(
                "note",
                "one-layer-only",
                "Pieces marked “one layer” are cut through one layer of the "
                "fold only: face up from the lower layer, face down from the upper.",
            )
        )
    wrong = check_lay(request, lay)
    if wrong:
        return replace(
            lay,
            placements=(),
            failed=tuple(sorted({p.id for p in request.pieces})),
            findings=(
                *findings,
                Finding("stop", "lay-refused", "The lay did not pass the check and is not shown: " + wrong[0].text),
            ),
        )
    return replace(lay, findings=tuple(findings), short_mm=short)


def _how_to_spread(lay: Lay, request: LayRequest) -> list[Finding]:
    """Where to fold, for every spread but the two plain ones."""
    first = lay.lanes[0]
    if lay.spread == "part-fold":
        text = (
            f"Fold one edge in by {both(first.to_mm - first.from_mm)}, right sides together, so that its selvage lies on the "
            "cloth at an even distance all along; the rest stays single, right side up."
        )
    elif lay.spread == "double-fold":
        second = lay.lanes[1]
        text = (
            f"Fold one edge in by {both(first.to_mm - first.from_mm)} and the other by {both(second.to_mm - second.from_mm)}, "
            "right sides together: the selvages meet between the two folds."
        )
    elif lay.spread == "crosswise-fold" and request.cloth.one_way:
        text = (
            f"Cut the cloth across at {both(lay.length_mm / 2)} and turn the upper layer round, so that pile or print runs the "
            "same way in both; right sides together. Folded as it is, one layer would run upside down."
        )
    elif lay.spread == "crosswise-fold":
        text = f"Fold the cloth across at {both(lay.length_mm / 2)}, right sides together, the selvages on each other."
    elif lay.spread == "fold-then-single":
        text = (
            f"Folded lengthwise as far as {both(first.end_mm)}; cut that part off, open what remains, and lay the rest in a "
            "single layer, right side up."
        )
    else:
        return []
    return [Finding("note", "how-to-spread", text)]


def _not_honoured(request: LayRequest) -> list[Finding]:
    """Rules the request states that this engine does not keep yet: said, so that nobody cuts on them."""
    asked = {
        "matches": bool(request.matches),
    }
    return [
        Finding(
            "stop",
            "not-honoured",
            f"This lay does not keep to the {name} asked for. Do not cut from it where they matter.",
        )
        for name, given in asked.items()
        if given
    ]
