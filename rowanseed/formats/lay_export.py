"""A lay as files for other hands: DXF to true size, and PDF with the lay at scale on one page and its table after it.

Both are written by libraries (ezdxf, reportlab); what is drawn is the lay on the table, as the page shows it.
"""

import io
from collections.abc import Callable, Sequence

import ezdxf
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from reportlab.lib.pagesizes import A4, landscape  # type: ignore[import-untyped]
from reportlab.pdfgen.canvas import Canvas  # type: ignore[import-untyped]

from rowanseed.core.lay.model import Lay
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, PieceReading, on_table, table_y
from rowanseed.core.lengths import Unit, both, format_length

Titles = Callable[[str], tuple[str, str]]
MM = 72 / 25.4  # points of a page
MARGIN = 14.0  # mm
HEADS = ("Cut", "Piece", "How it lies", "From the cut end", "Grain to", "head", "foot")
COLUMNS = (0.0, 14.0, 68.0, 150.0, 182.0, 222.0, 244.0)  # mm from the left margin


def lay_dxf(lay: Lay, titles: Titles) -> str:
    """The lay as DXF in millimetres: layers CLOTH, CUT, FOLD, GRAIN and TEXT; x along the cloth, y up from its far edge."""
    document: Drawing = ezdxf.new("R2010", units=4)  # type: ignore[attr-defined]  # 4: millimetres
    for name, colour in (("CLOTH", 8), ("CUT", 7), ("FOLD", 5), ("GRAIN", 3), ("TEXT", 2)):
        document.layers.add(name, color=colour)
    space = document.modelspace()
    top = max(lane.to_mm for lane in lay.lanes)
    for k, lane in enumerate(lay.lanes):
        corners = [
            (lane.start_mm, top - lane.from_mm),
            (lane.end_mm, top - lane.from_mm),
            (lane.end_mm, top - lane.to_mm),
            (lane.start_mm, top - lane.to_mm),
        ]
        space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "CLOTH"})
        if lane.edges[0] == "fold":
            y = top - table_y(lay, k, 0.0)
            space.add_line((lane.start_mm, y), (lane.end_mm, y), dxfattribs={"layer": "FOLD"})
    for placement in lay.placements:
        laid = on_table(lay, placement)
        space.add_lwpolyline([(x, top - y) for x, y in laid.outline], close=True, dxfattribs={"layer": "CUT"})
        head, foot = laid.marks.get(GRAIN_HEAD), laid.marks.get(GRAIN_FOOT)
        if head and foot:
            space.add_line((head[0], top - head[1]), (foot[0], top - foot[1]), dxfattribs={"layer": "GRAIN"})
        x, y = _middle(laid.outline)
        number, name = titles(placement.piece)
        text = space.add_text(f"{number} {name}", height=12.0, dxfattribs={"layer": "TEXT"})
        text.set_placement((x, top - y), align=TextEntityAlignment.MIDDLE_CENTER)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _middle(outline: Sequence[tuple[float, float]]) -> tuple[float, float]:
    xs, ys = [x for x, _ in outline], [y for _, y in outline]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def lay_pdf(lay: Lay, readings: Sequence[PieceReading], titles: Titles, heading: str, unit: Unit) -> bytes:
    """The lay at scale on one page, the scale said, and the table of the same facts on the pages after it."""
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=landscape(A4), invariant=True)
    canvas.setTitle(heading)
    _drawing_page(canvas, lay, readings, titles, heading)
    _table_pages(canvas, lay, readings, titles, unit)
    canvas.save()
    return buffer.getvalue()


def _drawing_page(canvas: Canvas, lay: Lay, readings: Sequence[PieceReading], titles: Titles, heading: str) -> None:
    wide, high = landscape(A4)
    length, width = max(lane.end_mm for lane in lay.lanes), max(lane.to_mm for lane in lay.lanes)
    scale = min((wide / MM - 2 * MARGIN) / max(length, 1.0), (high / MM - 2 * MARGIN - 16.0) / max(width, 1.0))
    top = high - (MARGIN + 14.0) * MM

    def at(x: float, y: float) -> tuple[float, float]:
        return MARGIN * MM + x * scale * MM, top - y * scale * MM

    canvas.setFont("Helvetica-Bold", 13)
    canvas.drawString(MARGIN * MM, high - MARGIN * MM, heading)
    canvas.setFont("Helvetica", 10)
    said = f"{both(lay.length_mm)} of cloth; drawn at 1 to {1 / scale:.1f}" if scale else ""
    canvas.drawString(MARGIN * MM, high - (MARGIN + 6.0) * MM, said)
    for k, lane in enumerate(lay.lanes):
        x, y = at(lane.start_mm, lane.to_mm)
        size = ((lane.end_mm - lane.start_mm) * scale * MM, (lane.to_mm - lane.from_mm) * scale * MM)
        canvas.setLineWidth(0.6)
        canvas.rect(x, y, *size)
        if lane.edges[0] == "fold":
            canvas.setLineWidth(2.4)
            canvas.line(*at(lane.start_mm, table_y(lay, k, 0.0)), *at(lane.end_mm, table_y(lay, k, 0.0)))
    for reading in readings:
        laid = on_table(lay, reading.placement)
        path = canvas.beginPath()
        for n, point in enumerate(laid.outline):
            (path.lineTo if n else path.moveTo)(*at(*point))
        path.close()
        canvas.setLineWidth(0.8)
        canvas.setFillGray(0.88 if laid.face_down else 1.0)
        canvas.drawPath(path, fill=1, stroke=1)
        canvas.setFillGray(0.0)
        head, foot = laid.marks.get(GRAIN_HEAD), laid.marks.get(GRAIN_FOOT)
        if head and foot and not laid.on_fold:
            canvas.setLineWidth(0.4)
            canvas.line(*at(*head), *at(*foot))
        x, y = at(*_middle(laid.outline))
        canvas.setFont("Helvetica-Bold", 9)
        canvas.drawCentredString(x, y + 1, titles(laid.piece)[0])
        canvas.setFont("Helvetica", 6.5)
        canvas.drawCentredString(x, y - 7, titles(laid.piece)[1])
    canvas.showPage()


def _table_pages(canvas: Canvas, lay: Lay, readings: Sequence[PieceReading], titles: Titles, unit: Unit) -> None:
    _, high = landscape(A4)
    y = 0.0
    for reading in readings:
        if y < (MARGIN + 6.0) * MM:
            if y:
                canvas.showPage()
            y = high - MARGIN * MM
            canvas.setFont("Helvetica-Bold", 9)
            for column, words in zip(COLUMNS, HEADS, strict=True):
                canvas.drawString((MARGIN + column) * MM, y, words)
            canvas.setFont("Helvetica", 9)
            y -= 6.5 * MM
        number, name = titles(reading.placement.piece)
        grain = reading.grain
        cells = (
            str(reading.number),
            f"{number} {name}",
            reading.how,
            format_length(reading.from_end_mm, unit),
            grain.from_edge if grain else "on the fold",
            format_length(grain.head_mm, unit) if grain else "",
            format_length(grain.foot_mm, unit) if grain else "",
        )
        for column, words in zip(COLUMNS, cells, strict=True):
            canvas.drawString((MARGIN + column) * MM, y, words)
        y -= 5.5 * MM
    canvas.showPage()
