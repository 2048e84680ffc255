"""A pattern as PDF to true size: on one large sheet, or on pages to be glued, a layer (optional content group) for each size."""

import io
import math
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from reportlab.lib.pagesizes import A3, A4, LETTER  # type: ignore[import-untyped]

from rowanseed.core.geometry.types import Outline
from rowanseed.core.paper.model import Tile
from rowanseed.core.pattern.model import Pattern
from rowanseed.formats.clear_ground import draw_label
from rowanseed.formats.pattern_sheet import DrawnLine, Sheet, pattern_sheet
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import pikepdf
    from reportlab.pdfgen.canvas import Canvas  # type: ignore[import-untyped]
else:
    pikepdf = lazily("pikepdf")
    Canvas = lazily("reportlab.pdfgen.canvas", "Canvas")

MM = 72 / 25.4
PAPERS = {"a4": A4, "a3": A3, "letter": LETTER}
MARGIN_MM = 10.0
SQUARE_MM = 50.0
WIDTHS = {"cut": 0.5, "seam": 0.3, "fold": 0.5}
GREYS = (0.0, 0.35, 0.15, 0.5, 0.25, 0.6)
DASHES: tuple[tuple[float, ...], ...] = ((), (6, 2), (2, 2), (8, 2, 2, 2), (4, 4), (10, 3))


def tiles_of(sheet: Sheet, paper: str, overlap_mm: float) -> list[Tile]:
    """Return the pages that a sheet takes, row by row; pages on which nothing is drawn are left out."""
    wide, high = (side / MM - 2 * MARGIN_MM for side in PAPERS[paper])
    across, down = wide - overlap_mm, high - overlap_mm
    columns = max(1, math.ceil((sheet.width - overlap_mm) / across))
    rows = max(1, math.ceil((sheet.height - overlap_mm) / down))
    tiles = [Tile(c, r, c * across, r * down, wide, high) for r in range(rows) for c in range(columns)]
    lines = [line for piece in sheet.pieces for lines in piece.sizes.values() for line in lines]
    return [t for t in tiles if (t.column, t.row) == (0, 0) or any(_on(line.points, t) for line in lines)]


def _on(points: Outline, tile: Tile) -> bool:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    clear = (
        max(xs) < tile.left
        or min(xs) > tile.left + tile.width
        or max(ys) < tile.top
        or min(ys) > tile.top + tile.height
    )
    return not clear


def pattern_pdf(
    pattern: Pattern,
    paper: str = "a4",
    overlap_mm: float = 10.0,
    sizes: Sequence[str] | None = None,
    dashed: bool = True,
) -> bytes:
    """Return a pattern on pages of `a4`, `a3` or `letter`, or on one sheet (`sheet`), at 100 %.

    Each page has its frame, its place ("row 2 column 3"), and shows the part of the sheet in its frame; the first the test square.
    """
    sheet = pattern_sheet(pattern, sizes=sizes)
    _room_for_square(sheet)
    names = [z for z in pattern.size_names() or _sizes(sheet) if z in _sizes(sheet)]
    out = io.BytesIO()
    canvas = Canvas(out, invariant=True, pageCompression=1)
    canvas.setTitle(pattern.name)
    if paper == "sheet":
        pages = [Tile(0, 0, 0.0, 0.0, sheet.width, sheet.height)]
        canvas.setPageSize((sheet.width * MM + 2 * MARGIN_MM * MM, sheet.height * MM + 2 * MARGIN_MM * MM))
    else:
        pages = tiles_of(sheet, paper, overlap_mm)
        canvas.setPageSize(PAPERS[paper])
    for tile in pages:
        _page(canvas, sheet, tile, names, dashed, paper != "sheet")
        canvas.showPage()
    canvas.save()
    return _with_layers(out.getvalue(), names)


def _sizes(sheet: Sheet) -> list[str]:
    return list(dict.fromkeys(z for piece in sheet.pieces for z in piece.sizes))


def _room_for_square(sheet: Sheet) -> None:
    """Make room under the pieces for the test square."""
    sheet.height += SQUARE_MM + 30.0
    sheet.width = max(sheet.width, SQUARE_MM + 30.0)


def _page(canvas: Canvas, sheet: Sheet, tile: Tile, names: Sequence[str], dashed: bool, framed: bool) -> None:
    high = (tile.height + 2 * MARGIN_MM) * MM

    def at(x: float, y: float) -> tuple[float, float]:
        return (MARGIN_MM + x - tile.left) * MM, high - (MARGIN_MM + y - tile.top) * MM

    canvas.saveState()
    if framed:
        canvas.setLineWidth(0.3)
        canvas.rect(MARGIN_MM * MM, MARGIN_MM * MM, tile.width * MM, tile.height * MM)
        canvas.setFont("Helvetica", 7)
        canvas.drawString((MARGIN_MM + 4) * MM, (MARGIN_MM + 3) * MM, f"row {tile.row + 1} column {tile.column + 1}")
        clip = canvas.beginPath()
        clip.rect(MARGIN_MM * MM, MARGIN_MM * MM, tile.width * MM, tile.height * MM)
        canvas.clipPath(clip, stroke=0, fill=0)
    _square(canvas, sheet, at)
    for k, size in enumerate(names):
        # The canvas has no marked content of its own.
        canvas._code.append(f"/OC /Size{k} BDC")
        for line in _of_size(sheet, size, tile):
            _draw(canvas, line, at, k, dashed)
        canvas._code.append("EMC")
    canvas.setDash()
    canvas.setFillGray(0)
    for piece in sheet.pieces:
        for label in piece.words:
            draw_label(canvas, label, lambda p: at(*p), MM)
    canvas.restoreState()


def _of_size(sheet: Sheet, size: str, tile: Tile) -> Iterator[DrawnLine]:
    for piece in sheet.pieces:
        yield from (line for line in piece.sizes.get(size, ()) if _on(line.points, tile))


def _draw(canvas: Canvas, line: DrawnLine, at: object, k: int, dashed: bool) -> None:
    path = canvas.beginPath()
    for n, point in enumerate(line.points):
        (path.lineTo if n else path.moveTo)(*at(*point))  # type: ignore[operator]
    if line.closed:
        path.close()
    canvas.setStrokeGray(GREYS[k % len(GREYS)])
    canvas.setLineWidth(WIDTHS.get(line.kind, 0.35) * MM)
    canvas.setDash(list(DASHES[k % len(DASHES)]) if dashed and line.kind == "cut" else [])
    canvas.drawPath(path, stroke=1, fill=0)


def _square(canvas: Canvas, sheet: Sheet, at: object) -> None:
    x, y = 12.0, sheet.height - SQUARE_MM - 12.0
    left, foot = at(x, y + SQUARE_MM)  # type: ignore[operator]
    canvas.setLineWidth(0.4 * MM)
    canvas.setDash()
    canvas.rect(left, foot, SQUARE_MM * MM, SQUARE_MM * MM)
    canvas.setFont("Helvetica", 10)
    canvas.drawString(left + 4 * MM, foot + 24 * MM, "Test square: 5 cm")


def _with_layers(data: bytes, names: Sequence[str]) -> bytes:
    """Return a PDF whose marked contents /Size0, /Size1 ... are layers with these names (ISO 32000-1, 8.11)."""
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(data)) as document:
        groups = [
            document.make_indirect(pikepdf.Dictionary(Type=pikepdf.Name.OCG, Name=pikepdf.String(f"Size {name}")))
            for name in names
        ]
        shown = pikepdf.Dictionary(Order=pikepdf.Array(groups), ON=pikepdf.Array(groups))
        document.Root.OCProperties = pikepdf.Dictionary(OCGs=pikepdf.Array(groups), D=shown)
        for page in document.pages:
            page.obj.Resources.Properties = pikepdf.Dictionary({f"/Size{k}": group for k, group in enumerate(groups)})
        document.save(out, static_id=True)
    return out.getvalue()
