"""From a request to a lay: choose the spread, nest the items, read the result back in lane coordinates, check it."""

import time
from collections.abc import Callable
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
from rowanseed.core.lay.model import Edge, Lane, Lay, LayPiece, LayRequest, Spread
from rowanseed.core.lay.nest import Watch, solve
from rowanseed.core.lay.problem import Solution
from rowanseed.core.lengths import both

EDGES: dict[Spread, tuple[Edge, Edge]] = {"single": ("selvage", "selvage"), "lengthwise-fold": ("fold", "selvage")}
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
    spreads: tuple[Spread, ...] = ("lengthwise-fold", "single") if request.spread == "best" else (request.spread,)
    best: Lay | None = None
    for spread in spreads:
        if best is not None and watch.stop():
            break
        found = _lay_spread(request, spread, watch, best)
        if best is None or _rank(found) < _rank(best):
            best = found
    assert best is not None
    return best


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
    if lay.spread == "lengthwise-fold" and any(p.layers == 1 for p in lay.placements):
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
