"""Pieces on one sheet at full size as DXF in millimetres, a layer for each kind of line; y up."""

import io
from typing import TYPE_CHECKING, Any

from rowanseed.formats.paper_drawing import PaperDrawing
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import ezdxf
    from ezdxf.enums import TextEntityAlignment
else:
    ezdxf = lazily("ezdxf")
    TextEntityAlignment = lazily("ezdxf.enums", "TextEntityAlignment")

LAYERS = {
    "cut": ("CUT", 7), "seam": ("SEAM", 8), "old": ("PRINTED", 1), "fold": ("FOLD", 5), "grain": ("GRAIN", 3),
    "notch": ("NOTCH", 6), "mark": ("MARK", 4), "internal": ("INSIDE", 9),
}  # fmt: skip


def sheet_dxf(drawing: PaperDrawing) -> str:
    """Return the whole sheet as the text of a DXF file."""
    document: Any = ezdxf.new("R2010", units=4)  # type: ignore[attr-defined]  # 4: millimetres
    for name, colour in (*LAYERS.values(), ("TEXT", 2)):
        document.layers.add(name, color=colour)
    space, high = document.modelspace(), drawing.sheet.height
    for line in drawing.lines:
        layer = LAYERS.get(line.kind, LAYERS["internal"])[0]
        space.add_lwpolyline([(x, high - y) for x, y in line.points], close=line.closed, dxfattribs={"layer": layer})
    for label in drawing.labels:
        text = space.add_text(
            label.text, height=label.height, dxfattribs={"layer": "TEXT", "rotation": -57.29578 * label.angle}
        )
        text.set_placement((label.at[0], high - label.at[1]), align=TextEntityAlignment.MIDDLE_CENTER)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()
