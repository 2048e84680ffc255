"""Pieces at full size as PDF pages to be glued, or one long page: frames that overlap, marks that meet, a map, a test square."""

import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import TYPE_CHECKING

from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.paper.model import Paper, PaperSheet, Tile
from rowanseed.formats.clear_ground import draw_label
from rowanseed.formats.paper_drawing import PaperDrawing
from rowanseed.formats.pattern_sheet import DrawnLine
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas  # type: ignore[import-untyped]
else:
    Canvas = lazily("reportlab.pdfgen.canvas", "Canvas")

MM = 72 / 25.4
SQUARE_MM, INCH_SQUARE_MM = 50.0, 50.8
LOOKS: dict[str, tuple[float, float, tuple[float, ...]]] = {  # width mm, grey, dashes in points
    "cut": (0.45, 0.0, ()),
    "seam": (0.25, 0.25, (6, 3)),
    "old": (0.35, 0.45, (2, 3)),
    "fold": (0.45, 0.0, ()),
    "grain": (0.3, 0.0, ()),
    "notch": (0.4, 0.0, ()),
    "mark": (0.3, 0.0, ()),
    "internal": (0.3, 0.0, (9, 2, 2, 2)),
}
CROSS_MM, DIAMOND_MM = 4.0, 3.0
LEGEND = (
    ("cut", "cut here"),
    ("seam", "seam line"),
    ("old", "as the pattern printed it"),
    ("internal", "line inside the piece"),
)


@dataclass(frozen=True)
class PaperWords:
    """What the first page says: its heading, and lines of advice, such as how the changes are made on tissue."""

    heading: str
    advice: tuple[str, ...] = ()


def paper_pdf(
    drawing: PaperDrawing, paper: Paper, overlap_mm: float, words: PaperWords, tiles: Sequence[Tile] | None = None
) -> bytes:
    """Return the pages of a sheet, to be printed at 100 %: first a map with the test squares, then each page.

    Args:
        tiles: the pages that are wanted; all that the sheet has where none are named.
    """
    chosen = list(drawing.sheet.tiles if tiles is None else tiles)
    out = io.BytesIO()
    canvas = Canvas(out, invariant=True, pageCompression=1)
    canvas.setTitle(words.heading)
    _map_page(canvas, drawing, paper, overlap_mm, words, chosen)
    for tile in chosen:
        _page(canvas, drawing, paper, overlap_mm, tile, chosen)
    canvas.save()
    return out.getvalue()


def _page(
    canvas: Canvas, drawing: PaperDrawing, paper: Paper, overlap: float, tile: Tile, chosen: Sequence[Tile]
) -> None:
    margin = paper.margin_mm
    wide, high = tile.width + 2 * margin, tile.height + 2 * margin
    canvas.setPageSize((wide * MM, high * MM))

    def at(p: Point) -> Point:
        return (margin + p[0] - tile.left) * MM, (high - (margin + p[1] - tile.top)) * MM

    canvas.saveState()
    frame = canvas.beginPath()
    frame.rect(margin * MM, margin * MM, tile.width * MM, tile.height * MM)
    canvas.setLineWidth(0.2 * MM)
    canvas.setStrokeGray(0.55)
    canvas.drawPath(frame, stroke=1, fill=0)
    canvas.saveState()
    canvas.clipPath(frame, stroke=0, fill=0)
    for line in drawing.lines:
        if _meets(line.points, tile):
            draw_line(canvas, line, at)
    for label in drawing.labels:
        draw_label(canvas, label, at, MM)
    canvas.restoreState()
    if not paper.roll:
        _registration(canvas, tile, overlap, chosen, at)
    canvas.setFont("Helvetica", 8)
    canvas.setFillGray(0.2)
    canvas.drawString(
        (margin + 2) * MM, (margin - 5) * MM, f"Page {tile.name}. Print at 100 %, not fitted to the paper."
    )
    canvas.restoreState()
    canvas.showPage()


def _meets(points: Outline, tile: Tile) -> bool:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    across = min(xs) <= tile.left + tile.width and max(xs) >= tile.left
    return across and min(ys) <= tile.top + tile.height and max(ys) >= tile.top


def draw_line(canvas: Canvas, line: DrawnLine, at: object) -> None:
    """Draw one line of a piece as its kind looks."""
    width, grey, dashes = LOOKS.get(line.kind, LOOKS["internal"])
    path = canvas.beginPath()
    for n, point in enumerate(line.points):
        (path.lineTo if n else path.moveTo)(*at(point))  # type: ignore[operator]
    if line.closed:
        path.close()
    canvas.setLineWidth(width * MM)
    canvas.setStrokeGray(grey)
    canvas.setDash(list(dashes))
    canvas.setLineJoin(1)
    canvas.drawPath(path, stroke=1, fill=0)
    canvas.setDash()


def _registration(canvas: Canvas, tile: Tile, overlap: float, chosen: Sequence[Tile], at: object) -> None:
    """Crosses where four pages meet, a diamond on each shared edge, and the line up to which the next page is laid."""
    there = {(t.column, t.row) for t in chosen}
    right, foot = tile.left + tile.width - overlap, tile.top + tile.height - overlap
    canvas.setLineWidth(0.2 * MM)
    canvas.setStrokeGray(0.0)
    for x in (tile.left, right):
        for y in (tile.top, foot):
            _cross(canvas, at((x, y)))  # type: ignore[operator]
    canvas.setFillGray(0.0)
    canvas.setFont("Helvetica", 7)
    middle_x, middle_y = tile.left + (tile.width - overlap) / 2, tile.top + (tile.height - overlap) / 2
    sides = (
        ((tile.left, middle_y), (tile.column - 1, tile.row), True),
        ((right, middle_y), (tile.column + 1, tile.row), True),
        ((middle_x, tile.top), (tile.column, tile.row - 1), False),
        ((middle_x, foot), (tile.column, tile.row + 1), False),
    )
    for place, other, upright in sides:
        if other not in there:
            continue
        _diamond(canvas, at(place))  # type: ignore[operator]
        name = Tile(*other, 0, 0, 0, 0).name
        x, y = at(place)  # type: ignore[operator]
        said = f"meets page {name}"
        if place[0] == right:
            canvas.drawRightString(x - 4 * MM, y + 1.2 * MM, said)
        else:
            canvas.drawString(x + 4 * MM, y + 1.2 * MM, said)
        ends = (
            ((place[0], tile.top), (place[0], tile.top + tile.height))
            if upright
            else ((tile.left, place[1]), (tile.left + tile.width, place[1]))
        )
        canvas.setDash([1, 3])
        canvas.line(*at(ends[0]), *at(ends[1]))  # type: ignore[operator]
        canvas.setDash()


def _cross(canvas: Canvas, at: Point) -> None:
    x, y = at
    canvas.line(x - CROSS_MM * MM, y, x + CROSS_MM * MM, y)
    canvas.line(x, y - CROSS_MM * MM, x, y + CROSS_MM * MM)


def _diamond(canvas: Canvas, at: Point) -> None:
    x, y = at
    path = canvas.beginPath()
    path.moveTo(x - DIAMOND_MM * MM, y)
    for dx, dy in ((0, DIAMOND_MM), (DIAMOND_MM, 0), (0, -DIAMOND_MM)):
        path.lineTo(x + dx * MM, y + dy * MM)
    path.close()
    canvas.drawPath(path, stroke=1, fill=0)


def _map_page(
    canvas: Canvas, drawing: PaperDrawing, paper: Paper, overlap: float, words: PaperWords, chosen: Sequence[Tile]
) -> None:
    wide = max(paper.width_mm, 200.0)
    high = paper.height_mm if not paper.roll else 290.0
    canvas.setPageSize((wide * MM, high * MM))
    left, y = 14.0, high - 18.0
    canvas.setFillGray(0.0)
    canvas.setFont("Helvetica-Bold", 14)
    canvas.drawString(left * MM, y * MM, words.heading[:80])
    y = _test_squares(canvas, left, y - 8.0)
    y = _legend(canvas, left, y - 8.0)
    advice = (*words.advice, *_unwritten(drawing))
    y = _advice(canvas, left, y - 6.0, paper, overlap, advice, chosen)
    if y < 60.0:
        canvas.showPage()
        canvas.setPageSize((wide * MM, high * MM))
        y = high - 14.0
    _map(canvas, drawing.sheet, drawing.outlines, chosen, (left, 12.0, wide - 2 * left, y - 16.0), paper.roll)
    canvas.showPage()


def _test_squares(canvas: Canvas, left: float, top: float) -> float:
    canvas.setLineWidth(0.4 * MM)
    canvas.setStrokeGray(0.0)
    for k, (side, said) in enumerate(((SQUARE_MM, "Test square: 5 cm"), (INCH_SQUARE_MM, "Test square: 2 in"))):
        x = left + k * 64.0
        canvas.rect(x * MM, (top - side) * MM, side * MM, side * MM)
        canvas.setFont("Helvetica", 10)
        canvas.drawCentredString((x + side / 2) * MM, (top - side / 2) * MM, said)
    canvas.setFont("Helvetica", 9)
    foot = top - INCH_SQUARE_MM - 6.0
    canvas.drawString(
        left * MM,
        foot * MM,
        "Measure one square, both ways, on the printed page. If it is not so long, print again at 100 %.",
    )
    return foot


def _legend(canvas: Canvas, left: float, top: float) -> float:
    canvas.setFont("Helvetica", 9)
    x = left
    for kind, said in LEGEND:
        draw_line(canvas, DrawnLine(kind, ((x, top), (x + 14.0, top))), lambda p: (p[0] * MM, p[1] * MM))
        canvas.drawString((x + 16.0) * MM, (top - 1.0) * MM, said)
        x += 16.0 + 2.2 * len(said) * 0.85 + 6.0
    return top - 4.0


def _unwritten(drawing: PaperDrawing) -> Iterator[str]:
    """What found no room on a piece clear of its lines."""
    for id_, words in groupby(drawing.beside, key=lambda pair: pair[0]):
        yield f"Too small to bear all its words: {drawing.names[id_]}: {'; '.join(said for _, said in words)}."


def _advice(
    canvas: Canvas, left: float, top: float, paper: Paper, overlap: float, advice: Sequence[str], chosen: Sequence[Tile]
) -> float:
    pages = "one page" if len(chosen) == 1 else f"{len(chosen)} pages"
    lines = [f"{pages[0].upper()}{pages[1:]} of {paper.name.lower() if paper.roll else paper.name} follow."]
    if len(chosen) > 1 and not paper.roll:
        lines.append(
            f"Pages share {overlap:g} mm: trim the left and the upper margin of each along its frame, lay it on its "
            "neighbour up to the dotted line, cross on cross and diamond on diamond, and glue."
        )
    lines += advice
    y = top
    text = canvas.beginText(left * MM, y * MM)
    text.setFont("Helvetica", 9)
    for line in lines:
        for part in wrapped(line, 104):
            text.textLine(part)
            y -= 4.0
    canvas.drawText(text)
    return y


def wrapped(line: str, most: int) -> list[str]:
    """Return a line of words as lines of at most so many letters."""
    parts, now = [], ""
    for word in line.split():
        if now and len(now) + 1 + len(word) > most:
            parts.append(now)
            now = word
        else:
            now = f"{now} {word}".strip()
    return [*parts, now]


def _map(
    canvas: Canvas,
    sheet: PaperSheet,
    outlines: Sequence[Outline],
    chosen: Sequence[Tile],
    box: tuple[float, float, float, float],
    plain: bool,
) -> None:
    """A small drawing of the whole sheet with the pages' names."""
    left, foot, wide, high = box
    far_x = max([sheet.width, *(t.left + t.width for t in chosen)])
    far_y = max([sheet.height, *(t.top + t.height for t in chosen)])
    scale = min(wide / far_x, high / far_y)

    def at(p: Point) -> Point:
        return (left + p[0] * scale) * MM, (foot + high - p[1] * scale) * MM

    for outline in outlines:
        draw_line(canvas, DrawnLine("notch", outline, True), at)
    canvas.setLineWidth(0.2 * MM)
    canvas.setStrokeGray(0.5)
    canvas.setFillGray(0.3)
    canvas.setFont("Helvetica-Bold", 9)
    for tile in chosen:
        x, y = at((tile.left, tile.top + tile.height))
        canvas.rect(x, y, tile.width * scale * MM, tile.height * scale * MM)
        if not plain:
            canvas.drawString(x + 1.5 * MM, y + 1.5 * MM, tile.name)
