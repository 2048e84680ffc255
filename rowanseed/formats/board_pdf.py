"""The calibration sheets as PDF, to be printed at 100 %: squares with markers, a line to measure, what to do."""

import io
import itertools
from typing import TYPE_CHECKING

from rowanseed.core.trace.board import COLUMNS, MODULE_MM, PAPER_MM, ROWS, SQUARE_MM, modules
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas  # type: ignore[import-untyped]
else:
    Canvas = lazily("reportlab.pdfgen.canvas", "Canvas")

MM = 72 / 25.4


def board_pdf(paper: str, sheets: int = 4) -> bytes:
    """Return calibration sheets 1 to `sheets` on `a4` or `letter` paper, a page each; every sheet has markers of its own."""
    wide, high = PAPER_MM[paper]
    rows = ROWS[paper]
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(wide * MM, high * MM), invariant=True)
    canvas.setTitle("Calibration sheets")
    left, top = (wide - COLUMNS * SQUARE_MM) / 2, (high - rows * SQUARE_MM) / 2
    for sheet in range(sheets):
        black = modules(sheet, rows)
        for row in range(black.shape[0]):
            at = 0
            for dark, run in itertools.groupby(black[row]):
                count = len(list(run))
                if dark:
                    x, y = left + at * MODULE_MM, high - top - (row + 1) * MODULE_MM
                    # A hair more in height, so that no light line shows between rows.
                    canvas.rect(x * MM, y * MM - 0.02, count * MODULE_MM * MM, MODULE_MM * MM + 0.04, stroke=0, fill=1)
                at += count
        canvas.setFont("Helvetica", 8)
        said = f"Calibration sheet {sheet + 1}: print at 100 %; each square must measure 3 cm, six of them 18 cm."
        canvas.drawString(left * MM, (high - top + 3) * MM, said)
        canvas.drawString(
            left * MM, (top - 5.5) * MM, "Lay it flat beside the piece, leave it there, photograph both from above."
        )
        canvas.showPage()
    canvas.save()
    return out.getvalue()
