"""A pattern as DXF to true size in the apparel convention: a block for each piece and size, its lines on numbered layers.

The numbered layers are those of ASTM D6673, from memory; coordinates are millimetres, y up.
"""

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.model import ROLE_WORDS, Pattern, Piece
from rowanseed.formats.pattern_sheet import notch_places
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import ezdxf
else:
    ezdxf = lazily("ezdxf")

LAYERS = {"cut": "1", "notch": "4", "fold": "6", "grain": "7", "internal": "8", "drill": "13", "seam": "14"}


def pattern_dxf(pattern: Pattern, sizes: Sequence[str] | None = None) -> str:
    """Return the pieces of a pattern in all its sizes, or some, as the text of a DXF file."""
    document: Any = ezdxf.new("R12", units=4)  # type: ignore[attr-defined]  # 4: millimetres
    for layer in (*LAYERS.values(), "15"):
        document.layers.add(layer)
    space = document.modelspace()
    for k, words in enumerate(("ASTM/D6673", f"Style Name: {pattern.name}", "Units: Metric")):
        space.add_text(words, height=5.0, dxfattribs={"layer": "1"}).dxf.insert = (0.0, -20.0 - 8.0 * k)
    x = 0.0
    for piece in pattern.pieces:
        for size, shape in piece.shapes.items():
            if sizes is not None and size not in sizes:
                continue
            block = document.blocks.new(f"P{len(document.blocks)}")
            _fill(block, piece, size, shape)
            across = [p[1] for p in shape.outline]
            space.add_blockref(block.name, (x - min(across), 0.0))
            x += max(across) - min(across) + 20.0
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _up(point: Point) -> Point:
    """A piece's point as it is written: the grain upright, its head up; a turn, no mirror image."""
    return (-point[1], -point[0])


def _fill(block: Any, piece: Piece, size: str, shape: PieceShape) -> None:
    def line(kind: str, points: Sequence[Point], closed: bool = False) -> None:
        block.add_polyline2d([_up(p) for p in points], close=closed, dxfattribs={"layer": LAYERS[kind]})

    middle = _up(shape.outline[0])
    said = [f"Piece Name: {piece.number} {piece.name}", f"Size: {size}", f"Quantity: {piece.cut}"]
    if piece.role != "self":
        said.append(f"Material: {ROLE_WORDS[piece.role]}")
    for k, words in enumerate(said):
        block.add_text(words, height=5.0, dxfattribs={"layer": "1"}).dxf.insert = (middle[0], middle[1] - 8.0 * k)
    line("cut", shape.outline, True)
    if any(shape.side_allowances):
        line("seam", shape.seam_line, True)
    for notch in shape.notches:
        for at in notch_places(shape, notch):
            block.add_point(_up(at), dxfattribs={"layer": LAYERS["notch"]})
    for mark in shape.marks:
        block.add_point(_up(mark.at), dxfattribs={"layer": LAYERS["drill"]})
    if shape.fold_edge is not None:
        line("fold", shape.fold_edge)
    else:
        line("grain", shape.grain_or_default())
    for inner in shape.lines:
        line("internal", inner.points)
