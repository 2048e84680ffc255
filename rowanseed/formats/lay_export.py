"""A lay as files for other hands: DXF to true size, and PDF with the lay at scale on one page and its table after it.

Both are written by libraries (ezdxf, reportlab); what is drawn is the lay on the table, as the page shows it.
"""

import io
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from reportlab.lib.pagesizes import A4, landscape  # type: ignore[import-untyped]

from rowanseed.core.geometry.types import Outline
from rowanseed.core.lay.model import Lay
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, PieceReading, on_table, table_y
from rowanseed.core.lengths import Unit, both, format_length
from rowanseed.formats.csv_table import as_csv
from rowanseed.formats.label_place import label_place, middle_of
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import ezdxf
    from ezdxf.document import Drawing
    from ezdxf.enums import TextEntityAlignment
    from reportlab.pdfbase.pdfmetrics import stringWidth  # type: ignore[import-untyped]
    from reportlab.pdfgen.canvas import Canvas  # type: ignore[import-untyped]
else:
    ezdxf = lazily("ezdxf")
    TextEntityAlignment = lazily("ezdxf.enums", "TextEntityAlignment")
    stringWidth = lazily("reportlab.pdfbase.pdfmetrics", "stringWidth")
    Canvas = lazily("reportlab.pdfgen.canvas", "Canvas")

Titles = Callable[[str], tuple[str, str]]
At = Callable[[float, float], tuple[float, float]]
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
    _drawing_page(canvas, lay, readings, titles, heading, unit)
    _table_pages(canvas, lay, readings, titles, unit)
    canvas.save()
    return buffer.getvalue()


def _drawing_page(
    canvas: Canvas, lay: Lay, readings: Sequence[PieceReading], titles: Titles, heading: str, unit: Unit
) -> None:
    wide, high = landscape(A4)
    length, width = max(lane.end_mm for lane in lay.lanes), max(lane.to_mm for lane in lay.lanes)
    scale = min((wide / MM - 2 * MARGIN) / max(length, 1.0), (high / MM - 2 * MARGIN - 26.0) / max(width, 1.0))
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
    _ruler(canvas, lay, at, unit)
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
        arrow = (head[1] + foot[1]) / 2 if head and foot and not laid.on_fold else None
        _name(canvas, laid.outline, titles(laid.piece), arrow, scale, at)
    canvas.showPage()


def _name(canvas: Canvas, outline: Outline, title: tuple[str, str], arrow: float | None, scale: float, at: At) -> None:
    """A piece's number and name where they fit clear of its grain line; the number alone where both have no room."""
    for number_size, name_size in ((9.0, 6.5), (7.0, 5.0), (6.0, 0.0)):
        wide = max(
            stringWidth(title[0], "Helvetica-Bold", number_size),
            stringWidth(title[1], "Helvetica", name_size) if name_size else 0.0,
        )
        high = number_size + name_size * 1.2
        place = label_place(outline, (wide + 3) / (scale * MM), (high + 2) / (scale * MM), arrow, 3 / (scale * MM))
        if place is not None:
            break
    x, y = at(*(place or middle_of(outline)))
    canvas.setFont("Helvetica-Bold", number_size)
    canvas.drawCentredString(x, y + high / 2 - number_size * 0.85, title[0])
    if name_size:
        canvas.setFont("Helvetica", name_size)
        canvas.drawCentredString(x, y - high / 2 + name_size * 0.25, title[1])


def _ruler(canvas: Canvas, lay: Lay, at: At, unit: Unit) -> None:
    """A ruler along the cut end's edge of the cloth, and what each long edge of a lane is."""
    step = 100.0 if unit == "cm" else 152.4  # 10 cm, or 6 in
    length, width = max(lane.end_mm for lane in lay.lanes), max(lane.to_mm for lane in lay.lanes)
    canvas.setLineWidth(0.3)
    canvas.setFont("Helvetica", 6)
    x, y = at(0.0, width)
    foot = y - 4.0 * MM
    canvas.line(x, foot, at(length, width)[0], foot)
    for k in range(int(length / step) + 1):
        tick = at(k * step, width)[0]
        labelled = k % 5 == 0
        canvas.line(tick, foot, tick, foot - (2.4 if labelled else 1.2) * MM)
        if labelled:
            canvas.drawCentredString(tick, foot - 5.0 * MM, format_length(k * step, unit))
    for k, lane in enumerate(lay.lanes):
        across = sorted((table_y(lay, k, 0.0), table_y(lay, k, lane.to_mm - lane.from_mm)))
        first = abs(table_y(lay, k, 0.0) - across[0]) < 1e-6
        for place, edge in zip(across, lane.edges if first else lane.edges[::-1], strict=True):
            px, py = at(lane.start_mm, place)
            canvas.saveState()  # upright before the cut end, where no piece lies
            canvas.translate(px - 1.5 * MM, py)
            canvas.rotate(90)
            (canvas.drawRightString if place == across[0] else canvas.drawString)(0, 0, edge)
            canvas.restoreState()


def lay_csv(readings: Sequence[PieceReading], titles: Titles, unit: Unit) -> str:
    """The places of a lay as a table: in the order of cutting, lengths in millimetres and in the user's unit."""
    head = ("cut", "piece", "name", "how it lies", "lane", "layers", "on the fold", "from the cut end (mm)", "from the cut end",
            "grain to", "grain at its head (mm)", "grain at its foot (mm)", "corner along (mm)", "corner across (mm)")  # fmt: skip
    rows = []
    for reading in readings:
        placement, grain = reading.placement, reading.grain
        corner = [round(min(p[axis] for p in placement.outline), 1) for axis in (0, 1)]
        rows.append(
            (
                reading.number, *titles(placement.piece), reading.how, placement.lane + 1, placement.layers,
                "yes" if placement.on_fold else "no", round(reading.from_end_mm, 1), format_length(reading.from_end_mm, unit),
                grain.from_edge if grain else "", *((round(grain.head_mm, 1), round(grain.foot_mm, 1)) if grain else ("", "")),
                *corner,
            )
        )  # fmt: skip
    return as_csv(head, rows)


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
