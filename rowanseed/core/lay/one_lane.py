"""The two plain spreads: a single layer, or folded lengthwise; one lane, all pieces on it."""

import math
from dataclasses import replace

from shapely import Polygon

from rowanseed.core.errors import Finding, LayError
from rowanseed.core.lay.demand import (
    Item,
    Usable,
    cutting_shape,
    flaw_items,
    items_for,
    lock,
    on_fold_axis,
    on_the_fold,
    on_the_selvage,
    placed,
    turns_of,
    usable_strip,
)
from rowanseed.core.lay.finish import with_findings
from rowanseed.core.lay.matching import matched
from rowanseed.core.lay.model import Edge, Lane, Lay, LayPiece, LayRequest, Spread
from rowanseed.core.lay.nest import estimate_length, solve
from rowanseed.core.lay.print_alignment import fold_axis, matched_across
from rowanseed.core.lay.problem import Solution
from rowanseed.core.lay.squeeze import Watch
from rowanseed.core.lay.watch import LayWatch, rank
from rowanseed.core.lengths import both

EDGES: dict[Spread, tuple[Edge, Edge]] = {"single": ("selvage", "selvage"), "lengthwise-fold": ("fold", "selvage")}


def lay_one_lane(request: LayRequest, spread: Spread, watch: LayWatch, rival: Lay | None) -> Lay:
    """The lay in one of the two plain spreads; `rival`: only what beats it is reported."""
    began = watch.clock()
    strip = _strip(request, spread)
    items, findings, failed = _fitting_items(request, spread, strip)
    match = matched(request, spread, strip, items, watch)
    items = match.items
    findings += match.findings
    floor = max((min(p.length_mm for p in i.poses if p.height_mm <= strip.width_mm + 1e-6) for i in items), default=0.0)
    bounds = _bounds(request, spread, strip, failed)
    if not items:
        return with_findings(
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
                unmatched=match.unmatched,
            ),
            request,
        )

    def drawn(solution: Solution, length: float, done: bool) -> Lay:
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
            unmatched=match.unmatched,
        )
        return with_findings(lay, request) if done else lay

    def report(solution: Solution, length: float) -> None:
        if rival is None or (len(failed), length) < rank(rival):
            watch.report(drawn(solution, length, done=False))

    flaws = flaw_items(request.cloth, spread, strip)
    solution, length = solve(
        [*items, *flaws],
        strip.width_mm,
        request.gap_mm,
        request.effort,
        request.seed,
        max(floor, bounds[0], bounds[1]),
        Watch(report, watch.stop),
        match.repeat,
        request.table,
    )
    return drawn(solution, length, done=True)


def glance(request: LayRequest, spread: Spread) -> float:
    """About how long a lay in a plain spread comes out, mm; infinite where a piece does not fit so or a match binds it."""
    strip = _strip(request, spread)
    items, _, failed = _fitting_items(request, spread, strip)
    if failed or not items or request.matches or request.centres:
        return math.inf
    floor = max(min(pose.length_mm for pose in item.poses) for item in items)
    flaws = flaw_items(request.cloth, spread, strip)
    return estimate_length([*items, *flaws], strip.width_mm, request.gap_mm, request.seed, floor)


def _strip(request: LayRequest, spread: Spread) -> Usable:
    """The strip of the lane that pieces may take; where bars must meet in both layers, the fold lies on one of them."""
    strip = usable_strip(request.cloth, spread)
    if spread == "single" or not matched_across(request):
        return strip
    print_ = request.cloth.print
    assert print_ is not None  # or nothing would be matched across
    fold = fold_axis(print_, request.cloth.width_mm)
    lost = abs(request.cloth.width_mm / 2 - fold)
    return replace(strip, width_mm=strip.width_mm - lost)


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
        folded = piece.fold_edge is not None and on_the_fold(turns_of(piece, request.cloth.one_way))
        if piece.fold_edge is not None and not folded:
            area += (
                2
                * Polygon(cutting_shape(on_fold_axis(piece)[0], piece.allowance_mm, True)).area
                * piece.cut
                / (1 if spread == "single" else 2)
            )
            continue
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
