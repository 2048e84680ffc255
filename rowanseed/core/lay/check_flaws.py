"""The independent check of flaws: where each shows on a lane, in each of its layers, and what lies on it.

Like `check`, whose part it is, it shares no code with the nester.
"""

from shapely import Polygon, box
from shapely.affinity import affine_transform

from rowanseed.core.errors import Finding
from rowanseed.core.lay.model import Lay, LayRequest

OVERLAP = 0.1


def print_one_way(request: LayRequest) -> bool:
    """Whether the print forbids turning a piece head to tail."""
    print_ = request.cloth.print
    return print_ is not None and (
        print_.kind in ("one-way", "motif", "border", "panel")
        or (print_.kind in ("stripe", "plaid") and not print_.even)
    )


def flaws_on(request: LayRequest, lay: Lay, lane: int) -> list[tuple[float, float, float, float]]:
    """The flaws of the cloth as they show on a lane, in each of its layers: (x0, y0, x1, y1), mm."""
    if lay.spread == "crosswise-fold":
        return [flaw.bounds for flaw in _flaws_folded_across(request, lay)]
    return [
        (min(x0, x1), low, max(x0, x1), high)
        for x0, y0, x1, y1 in request.cloth.flaws
        for low, high in _bands(request, lay, lane, min(y0, y1), max(y0, y1))
    ]


def check_flaws(request: LayRequest, lay: Lay, shapes: list[Polygon]) -> list[Finding]:
    """No piece may lie on a flaw; in a fold a flaw in either layer spoils both."""
    if lay.spread == "crosswise-fold":
        return _check_folded_across(request, lay, shapes)
    found = []
    for x0, y0, x1, y1 in request.cloth.flaws:
        for placement, shape in zip(lay.placements, shapes, strict=True):
            if not 0 <= placement.lane < len(lay.lanes):
                continue
            for low, high in _bands(request, lay, placement.lane, min(y0, y1), max(y0, y1)):
                flaw = Polygon([(x0, low), (x1, low), (x1, high), (x0, high)])
                if shape.buffer(-OVERLAP / 2).intersects(flaw.buffer(-OVERLAP / 2)):
                    found.append(Finding("stop", "on-a-flaw", f"Piece {placement.piece} lies on a flaw in the cloth."))
    return found


def _check_folded_across(request: LayRequest, lay: Lay, shapes: list[Polygon]) -> list[Finding]:
    """The same where the cloth is folded across."""
    found = []
    for flaw in _flaws_folded_across(request, lay):
        for placement, shape in zip(lay.placements, shapes, strict=True):
            if shape.buffer(-OVERLAP / 2).intersects(flaw.buffer(-OVERLAP / 2)):
                found.append(Finding("stop", "on-a-flaw", f"Piece {placement.piece} lies on a flaw in the cloth."))
    return found


def _flaws_folded_across(request: LayRequest, lay: Lay) -> list[Polygon]:
    """The flaws where the cloth's far half lies on its near one, turned round where it was cut at the fold."""
    fold, width = lay.lanes[0].end_mm, request.cloth.width_mm
    turned = request.cloth.nap == "one-way" or print_one_way(request)
    found = []
    for x0, y0, x1, y1 in request.cloth.flaws:
        whole = box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
        near = whole.intersection(box(0.0, -1.0, fold, width + 1.0))
        far = whole.intersection(box(fold, -1.0, 2 * fold, width + 1.0))
        # x' = x - fold, y' = width - y for the turned half; x' = 2 fold - x for the folded one.
        far = affine_transform(far, [1, 0, 0, -1, -fold, width] if turned else [-1, 0, 0, 1, 2 * fold, 0])
        found += [part for part in (near, far) if part.area > 0]
    return found


def _bands(request: LayRequest, lay: Lay, lane: int, low: float, high: float) -> list[tuple[float, float]]:
    """Where a flaw between two distances from the cloth's first edge shows on a lane, in each of its layers."""
    width = request.cloth.width_mm
    wide = lay.lanes[lane].to_mm - lay.lanes[lane].from_mm
    if lay.lanes[lane].layers == 1:
        start = 2 * (lay.lanes[0].to_mm - lay.lanes[0].from_mm) if lay.spread == "part-fold" else 0.0
        return [(max(low, start) - start, high - start)] if high > start else []
    fold = width - wide if (lay.spread == "double-fold" and lane == 1) else wide
    bands = []
    if low < fold:
        bands.append((fold - min(high, fold), fold - low))
    if high > fold:
        bands.append((max(low, fold) - fold, high - fold))
    return [(a, min(b, wide)) for a, b in bands if a < wide]
