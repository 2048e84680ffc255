"""Packing pieces onto the fewest pages: the lay engine on a strip of so many pages' width, for each number that may serve."""

import math
from collections.abc import Callable, Sequence

from shapely import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from rowanseed.core.errors import LayError
from rowanseed.core.geometry.types import Outline
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest, Placement
from rowanseed.core.lay.watch import LayWatch
from rowanseed.core.paper.model import PaperRequest, PaperSheet, Placed, Tile

MOST_ACROSS_MM = 1700.0  # so wide a strip of pages is still glued on a table; common practice, no source
MOST_COLUMNS = 8
INSET_MM = 4.0  # no line runs along the sheet's own edge, where the frame is


def pack(
    request: PaperRequest,
    tell: Callable[[str, float], None] = lambda text, share: None,
    stop: Callable[[], bool] = lambda: False,
) -> PaperSheet:
    """Return the sheet with the fewest pages, of those as narrow as one page and up to eight pages beside each other.

    Args:
        tell: is told in words what is being done, and the share that is done.
        stop: whether to be content with the best so far.
    Raises:
        LayError: there is no piece, or one is wider than the widest sheet, each way round.
    """
    if not request.pieces:
        raise LayError("Choose at least one piece to print.", "pieces")
    pieces = tuple(LayPiece(id_, outline, grain="any") for id_, outline in request.pieces)
    best: PaperSheet | None = None
    widths = _widths(request)
    for k, width in enumerate(widths):
        tell(f"Trying a sheet {k + 1} of {len(widths)}", k / len(widths))
        if best is not None and stop():
            break
        asked = LayRequest(LayCloth(width - 2 * INSET_MM), pieces, "single", gap_mm=request.gap_mm, effort="quick")
        found = lay(asked, LayWatch(stop=stop))
        if found.failed or len(found.placements) < len(pieces):
            continue
        sheet = sheet_of(request, found.placements, width, found.length_mm + 2 * INSET_MM)
        if best is None or _cost(sheet) < _cost(best):
            best = sheet
    if best is None:
        raise LayError("A piece is wider than this paper takes, each way round. Choose a wider one.", "paper")
    return best


def _widths(request: PaperRequest) -> list[float]:
    wide, _ = request.paper.inner
    across, _ = request.step
    if request.paper.roll:
        return [wide]
    columns = [c for c in range(1, MOST_COLUMNS + 1) if c == 1 or wide + (c - 1) * across <= MOST_ACROSS_MM]
    return [wide + (c - 1) * across for c in columns]


def _cost(sheet: PaperSheet) -> tuple[int, float]:
    return len(sheet.tiles), sheet.height


def sheet_of(request: PaperRequest, placements: Sequence[Placement], width: float, length: float) -> PaperSheet:
    """Return the sheet of a lay whose cloth is the strip of pages: along the cloth is down the sheet, and nothing is mirrored."""
    outlines = dict(request.pieces)
    placed = tuple(_placed(p, outlines[p.piece], width) for p in placements)
    sheet = PaperSheet(width, length, placed)
    polygons = [Polygon([p.at(q) for q in outlines[p.id]]) for p in placed]
    return PaperSheet(width, length, placed, tuple(tiles_with(request, sheet, polygons)))


def _placed(placement: Placement, outline: Outline, width: float) -> Placed:
    """Return how a piece came from its own place to its place on the sheet, told by its two points farthest apart."""
    on_sheet = [(width - INSET_MM - y, x + INSET_MM) for x, y in placement.outline]
    first = 0
    last = max(range(len(outline)), key=lambda k: math.dist(outline[first], outline[k]))
    was = math.atan2(outline[last][1] - outline[first][1], outline[last][0] - outline[first][0])
    now = math.atan2(on_sheet[last][1] - on_sheet[first][1], on_sheet[last][0] - on_sheet[first][0])
    turned = Placed(placement.piece, now - was, (0.0, 0.0))
    x, y = turned.at(outline[first])
    return Placed(placement.piece, now - was, (on_sheet[first][0] - x, on_sheet[first][1] - y))


def tiles_with(request: PaperRequest, sheet: PaperSheet, drawn: Sequence[BaseGeometry]) -> list[Tile]:
    """Return the pages, row by row, on whose own part (without what the next one shows too) something drawn lies."""
    wide, high = request.paper.inner
    across, down = request.step
    columns = max(1, math.ceil((sheet.width - request.overlap_mm) / across - 1e-9))
    rows = max(1, math.ceil((sheet.height - request.overlap_mm) / down - 1e-9))
    tiles = []
    for row in range(rows):
        for column in range(columns):
            left, top = column * across, row * down
            right = left + (across if column < columns - 1 else wide)
            foot = top + (down if row < rows - 1 else high)
            own = box(left, top, right, foot)
            if any(g.intersects(own) for g in drawn):
                tiles.append(
                    Tile(column, row, left, top, wide, min(high, sheet.height - top) if request.paper.roll else high)
                )
    return tiles


def tiles_of_lines(request: PaperRequest, sheet: PaperSheet, lines: Sequence[Outline]) -> list[Tile]:
    """Return the pages on which one of some lines lies."""
    return tiles_with(request, sheet, [LineString(line) for line in lines if len(line) > 1])
