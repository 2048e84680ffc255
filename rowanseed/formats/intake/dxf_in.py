"""DXF files into lines, by ezdxf: lines, polylines with bulges, splines, arcs, blocks, and the apparel convention's layers.

The numbered layers are those of ASTM D6673 (and of AAMA DXF before it), from memory.
"""

import io
import re
from collections.abc import Iterable, Iterator
from typing import Any

from ezdxf import path, recover
from ezdxf.lldxf.const import DXFError

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.flatten import FLAT_MM, without_repeats
from rowanseed.core.intake.model import Drawing, IntakeOptions, Sense, Stroke, Style, Words
from rowanseed.core.intake.names import sense_of, size_of
from rowanseed.formats.intake.limits import Counted, within

UNIT_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}
_INSUNITS = {1: ("in", 25.4), 2: ("ft", 304.8), 4: ("mm", 1.0), 5: ("cm", 10.0), 6: ("m", 1000.0)}
# ASTM D6673: what lies on a numbered layer. 2 and 3 hold the turn and curve points of the boundary, 5, 9 and 10 references.
APPAREL_LAYERS: dict[str, Sense] = {
    "1": "cut",
    "2": "ignore",
    "3": "ignore",
    "4": "notch",
    "5": "ignore",
    "6": "fold",
    "7": "grain",
    "8": "internal",
    "9": "ignore",
    "10": "ignore",
    "11": "internal",
    "12": "internal",
    "13": "drill",
    "14": "seam",
    "15": "ignore",
    "80": "notch",
    "81": "notch",
    "82": "notch",
    "83": "notch",
    "84": "ignore",
    "85": "ignore",
    "86": "ignore",
    "87": "ignore",
}
DRAWN = {"LINE", "LWPOLYLINE", "POLYLINE", "SPLINE", "ARC", "CIRCLE", "ELLIPSE"}
MOST_DEPTH = 8


def read_dxf(data: bytes, options: IntakeOptions) -> Drawing:
    """Return the lines and words of a DXF file, mm, y down.

    Raises:
        IntakeError: it is not DXF, or holds more than a pattern can.
    """
    try:
        document, _ = recover.read(io.BytesIO(data))
    except DXFError as error:
        raise IntakeError(
            "This is not a DXF file that can be read. Save it anew as DXF, in any version.", "file"
        ) from error
    except Exception as error:  # a damaged file may stop the library anywhere
        raise IntakeError("This DXF file is damaged. Save it anew as DXF, in any version.", "file") from error
    try:
        return _drawing(document, options)
    except IntakeError:
        raise
    except Exception as error:  # the same, where an entity is looked into
        raise IntakeError("This DXF file is damaged inside. Save it anew as DXF, in any version.", "file") from error


def _drawing(document: Any, options: IntakeOptions) -> Drawing:
    blocks = [b for b in document.blocks if not b.name.startswith("*") and _is_piece(b)]
    texts = [e.dxf.text for e in document.modelspace().query("TEXT")]
    texts += [e.dxf.text for b in blocks for e in b.query("TEXT")]
    mm, unit, findings = _unit(document, texts, options)
    reader = _Reader(mm, apparel=bool(blocks))
    if not blocks:
        reader.take(document.modelspace(), "", 0)
    else:
        inserted = {e.dxf.name: e for e in reversed(document.modelspace().query("INSERT"))}
        for block in blocks:
            # Sizes of a piece lie over each other in their blocks' own coordinates, wherever the blocks are put on the sheet.
            turned = block.name in inserted and _turned(inserted[block.name])
            reader.take(inserted[block.name].virtual_entities() if turned else block, f"piece:{block.name}", 1)
    return Drawing("dxf", tuple(reader.strokes), tuple(reader.words), unit, blocks=bool(blocks), findings=findings)


def _is_piece(block: Any) -> bool:
    """Whether a block is a piece of the apparel convention: it has a boundary on layer 1."""
    return any(e.dxf.get("layer", "0") == "1" and e.dxftype() in DRAWN for e in block)


def _turned(insert: Any) -> bool:
    """Whether a block is put on the sheet turned, mirrored or at another size."""
    scales = [float(insert.dxf.get(key, 1.0)) for key in ("xscale", "yscale")]
    return any(abs(s - 1) > 1e-9 for s in scales) or abs(float(insert.dxf.get("rotation", 0.0))) > 1e-9


def _unit(document: Any, texts: list[str], options: IntakeOptions) -> tuple[float, str, tuple[Finding, ...]]:
    if options.unit in UNIT_MM:
        return UNIT_MM[options.unit], options.unit, ()
    said = next((m[1].lower() for t in texts if (m := re.match(r"\s*units?\s*:\s*(\w+)", t, re.I))), "")
    if said in ("metric", "mm"):
        return 1.0, "mm", ()
    if said in ("english", "inch", "inches", "imperial"):
        return 25.4, "in", ()
    if known := _INSUNITS.get(int(document.header.get("$INSUNITS", 0))):
        return known[1], known[0], ()
    # A piece is some 10 cm to 2 m long: that many units tell mm from inches, whatever the header's default says.
    span = max([_span(document.modelspace()), *(_span(b) for b in document.blocks if not b.name.startswith("*"))])
    metric = int(document.header.get("$MEASUREMENT", 0)) == 1
    unit = "mm" if span > 150 else "cm" if metric else "in"
    text = f"The file does not say its unit: it was taken as {unit}, by its size. Hold a length against the paper."
    return UNIT_MM[unit], unit, (Finding("care", "guess-unit", text),)


def _span(entities: Iterable[Any]) -> float:
    """Return the larger side of the box around some entities, in their own units."""
    xs: list[float] = []
    ys: list[float] = []
    for entity in entities:
        for points, _ in _lines(entity, 1.0):
            xs += [p[0] for p in points]
            ys += [p[1] for p in points]
            if len(xs) > 20_000:
                break
    return max(max(xs) - min(xs), max(ys) - min(ys)) if xs else 0.0


class _Reader:
    def __init__(self, mm: float, apparel: bool) -> None:
        self.mm = mm
        self.apparel = apparel
        self.strokes: list[Stroke] = []
        self.words: list[Words] = []
        self.counted = Counted()

    def take(self, entities: Iterable[Any], group: str, depth: int) -> None:
        for entity in entities:
            kind = entity.dxftype()
            layer = str(entity.dxf.get("layer", "0"))
            if kind == "INSERT":
                if depth < MOST_DEPTH:
                    own = group or (entity.dxf.name if not entity.dxf.name.startswith("*") else "")
                    self.take(entity.virtual_entities(), own, depth + 1)
            elif kind in ("TEXT", "MTEXT", "ATTRIB", "ATTDEF"):
                self._text(entity, kind, layer, group)
            elif kind == "POINT":
                self._point(entity, layer, group)
            elif kind in DRAWN:
                self._line(entity, layer, group)

    def _text(self, entity: Any, kind: str, layer: str, group: str) -> None:
        text = entity.plain_text() if kind == "MTEXT" else entity.dxf.text
        height = float(entity.dxf.get("char_height" if kind == "MTEXT" else "height", 3.0)) * self.mm
        x, y = float(entity.dxf.insert.x) * self.mm, -float(entity.dxf.insert.y) * self.mm
        if not within(x, y):
            return
        for k, line in enumerate(str(text).splitlines()[:40]):
            if line.strip():
                self.words.append(
                    Words(
                        line.strip()[:200],
                        (x, y + 1.6 * k * height),
                        min(height, 500.0),
                        layer,
                        group,
                        0,
                        self._size(layer),
                    )
                )

    def _sense(self, layer: str) -> Sense:
        if self.apparel:
            return APPAREL_LAYERS.get(layer, "ignore")
        return sense_of(layer)

    def _point(self, entity: Any, layer: str, group: str) -> None:
        x, y = float(entity.dxf.location.x) * self.mm, -float(entity.dxf.location.y) * self.mm
        sense = self._sense(layer)
        if within(x, y) and sense in ("notch", "drill"):
            self.counted.add(1)
            self.strokes.append(Stroke(((x, y), (x, y)), False, layer, group, Style(), 0, sense, self._size(layer)))

    def _size(self, layer: str) -> str | None:
        return None if self.apparel or layer == "0" else size_of(layer)  # 0 is where lines lie that nobody gave a layer

    def _line(self, entity: Any, layer: str, group: str) -> None:
        linetype = str(entity.dxf.get("linetype", "")).upper()
        dashed = linetype not in ("", "BYLAYER", "BYBLOCK", "CONTINUOUS")
        style = Style(f"aci {entity.dxf.get('color', 256)}", 0.0, dashed, linetype[:40] if dashed else "")
        for points, closed in _lines(entity, self.mm):
            if all(within(x, y) for x, y in points):
                self.counted.add(len(points))
                self.strokes.append(
                    Stroke(points, closed, layer, group, style, 0, self._sense(layer), self._size(layer))
                )


def _lines(entity: Any, mm: float) -> Iterator[tuple[Outline, bool]]:
    """Yield the lines of an entity as points in mm, y down, and whether they close."""
    if entity.dxftype() not in DRAWN:
        return
    try:
        whole = path.make_path(entity)
    except (TypeError, ValueError, DXFError):
        return
    for part in whole.sub_paths() if whole.has_sub_paths else (whole,):
        raw: list[Point] = [(float(p.x) * mm, -float(p.y) * mm) for p in part.flattening(FLAT_MM / mm, segments=4)]
        line = without_repeats(raw)
        closed = len(line) > 3 and max(abs(line[0][0] - line[-1][0]), abs(line[0][1] - line[-1][1])) < 1e-3
        line = line[:-1] if closed else line
        if len(line) > 1:
            yield line, closed
