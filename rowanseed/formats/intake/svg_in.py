"""SVG files into lines, by svgelements: groups, layers, transforms, units, curves."""

import io
import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Any
from xml.etree import ElementTree

import svgelements as svg

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.flatten import cubic, dashes_joined, quadratic, without_repeats
from rowanseed.core.intake.model import Drawing, IntakeOptions, Sense, Stroke, Style, Words
from rowanseed.core.intake.names import label_of, sense_of, size_of
from rowanseed.formats.intake.limits import Counted, within

PX_PER_MM = 3.7795296  # as svgelements counts it at 96 pixels an inch
UNIT_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}
_PHYSICAL = re.compile(r"(mm|cm|in|pt|pc|q)\s*$", re.I)
_LABEL = (
    "{http://www.inkscape.org/namespaces/inkscape}label"  # the namespace that drawing programs write layers' names in
)
MOST_DEPTH = 60


def read_svg(data: bytes, options: IntakeOptions) -> Drawing:
    """Return the lines and words of an SVG file, mm.

    Raises:
        IntakeError: it is not SVG, or holds more than a pattern can.
    """
    try:
        root = _parsed(data)
    except RecursionError as error:
        raise IntakeError("This SVG file is nested too deep to be a pattern.", "file") from error
    except Exception as error:  # the library raises many kinds for files that are no SVG
        raise IntakeError("This is not an SVG file that can be read. Save it anew as plain SVG.", "file") from error
    if not isinstance(root, svg.SVG):
        raise IntakeError("This is not an SVG file.", "file")
    per_px, unit, findings = _scale(root, options)
    reader = _Reader(per_px)
    reader.walk(root, (), 0)
    return Drawing("svg", tuple(reader.strokes), tuple(reader.words), unit, blocks=reader.blocks, findings=findings)


def _parsed(data: bytes) -> Any:
    """The file as svgelements has it; where a path without data ends that, as plotting programs write them, without those paths."""
    try:
        return svg.SVG.parse(io.BytesIO(data), reify=True, ppi=96)
    except TypeError:
        tree = ElementTree.fromstring(data)
        for parent in list(tree.iter()):
            for child in [c for c in parent if str(c.tag).endswith("}path") and not c.get("d")]:
                parent.remove(child)
        return svg.SVG.parse(io.BytesIO(ElementTree.tostring(tree)), reify=True, ppi=96)


def _scale(root: Any, options: IntakeOptions) -> tuple[float, str, tuple[Finding, ...]]:
    """Return how many mm a pixel of the reader is, the unit, and what was guessed."""
    width = str(root.values.get("width") or "")
    physical = bool(_PHYSICAL.search(width))
    user_px = 1.0
    if root.viewbox is not None and getattr(root.viewbox, "width", None) and root.width:
        user_px = float(root.width) / float(root.viewbox.width)
    if options.unit in UNIT_MM:
        return UNIT_MM[options.unit] / user_px, options.unit, ()
    if physical:
        unit = _PHYSICAL.search(width)[1].lower()  # type: ignore[index]
        return 1 / PX_PER_MM, unit if unit in UNIT_MM else "mm", ()
    text = (
        "The file does not say how large it is: it was taken as 96 units to the inch. Hold a length against the paper."
    )
    return 25.4 / 96, "px", (Finding("care", "guess-unit", text),)


class _Reader:
    def __init__(self, mm_per_px: float) -> None:
        self.by = mm_per_px
        self.strokes: list[Stroke] = []
        self.words: list[Words] = []
        self.counted = Counted()
        self.blocks = False

    def walk(self, element: Any, above: tuple[str, ...], depth: int) -> None:
        if depth > MOST_DEPTH:
            raise IntakeError("This SVG file is nested too deep to be a pattern.", "file")
        own = _name(element)
        chain = (*above, own) if own else above
        if isinstance(element, svg.Text):
            self._text(element, chain)
        elif isinstance(element, svg.Shape):
            self._shape(element, chain)
        elif isinstance(element, (svg.Group, svg.Use)):
            if "piece" in _classes(element):
                self.blocks = True
            for child in element:
                self.walk(child, chain, depth + 1)

    def _text(self, element: Any, chain: tuple[str, ...]) -> None:
        text = str(element.text or "").strip()
        if not text:
            return
        at = element.transform.point_in_matrix_space(svg.Point(element.x or 0, element.y or 0))
        x, y = float(at.x) * self.by, float(at.y) * self.by
        if within(x, y):
            height = float(element.font_size or 16) * abs(element.transform.a or element.transform.b) * self.by
            _, group, size, _ = _reading(chain, "")
            self.words.append(Words(text[:200], (x, y), min(height, 500.0), chain[-1] if chain else "", group, 0, size))

    def _shape(self, element: Any, chain: tuple[str, ...]) -> None:
        path = element if isinstance(element, svg.Path) else svg.Path(element)
        layer, group, size, sense = _reading(chain, _classes(element))
        label = next((said for name in reversed(chain) if (said := label_of(name))), "")
        style = _style(element, self.by)
        parts, dashes = dashes_joined(list(_subpaths(path, self.by)))
        style = replace(style, dashed=style.dashed or dashes)
        for points, closed in parts:
            if all(within(x, y) for x, y in points):
                self.counted.add(len(points))
                self.strokes.append(Stroke(points, closed, layer, group, style, 0, sense, size, None, label))


def _name(element: Any) -> str:
    values = getattr(element, "values", None)
    if not isinstance(values, dict):
        return ""
    own = values.get("attributes") or {}
    label, classes, ident = own.get(_LABEL), own.get("class"), own.get("id")
    if classes and "piece" in str(classes).split():
        return f"piece:{own.get('data-number') or ident or id(element)}"
    return str((own.get("data-size") and f"size {own['data-size']}") or label or ident or classes or "")


def _classes(element: Any) -> str:
    values = getattr(element, "values", None)
    own = (values.get("attributes") or {}) if isinstance(values, dict) else {}
    return str(own.get("class") or "")


def _reading(chain: tuple[str, ...], classes: str) -> tuple[str, str, str | None, Sense]:
    """Return layer, group, size and sense that the names above and at a line give; the nearest counts."""
    size = next((s for name in reversed(chain) if (s := size_of(name)) is not None), None)
    sense: Sense = next((s for name in (*classes.split(), *reversed(chain)) if (s := sense_of(name))), "")
    group = next((name for name in reversed(chain) if name.startswith("piece:")), "")
    layer = chain[0] if chain else ""
    return layer, group, size, sense


def _style(element: Any, by: float) -> Style:
    stroke, fill = element.stroke, element.fill
    drawn = stroke is not None and stroke.value is not None
    colour = str(stroke) if drawn else f"fill {fill}" if fill is not None and fill.value is not None else ""
    dashes = str(element.values.get("stroke-dasharray") or "none").strip()
    dashed = dashes not in ("none", "0", "")
    width = float(element.implicit_stroke_width or 0.0) * by if drawn else 0.0
    pattern = " ".join(re.split(r"[\s,]+", dashes)) if dashed else ""
    return Style(colour, round(min(width, 99.0), 2), dashed, pattern[:40])


def _subpaths(path: Any, by: float) -> Iterator[tuple[Outline, bool]]:
    points: list[Point] = []
    closed = False

    def place(p: Any) -> Point:
        return (float(p.x) * by, float(p.y) * by)

    def done() -> Iterator[tuple[Outline, bool]]:
        line = without_repeats(points)
        shut = closed or (len(line) > 3 and _meets(line[0], line[-1]))
        if len(line) > 1 and shut and _meets(line[0], line[-1]):
            line = line[:-1]
        if len(line) > 1:
            yield line, shut and len(line) > 2

    for segment in path:
        if segment.end is None:
            continue
        if isinstance(segment, svg.Move):
            yield from done()
            points, closed = [place(segment.end)], False
        elif isinstance(segment, svg.Close):
            closed = True
            yield from done()
            points, closed = [place(segment.end)], False
        elif isinstance(segment, svg.CubicBezier):
            a, b, c, d = segment.start, segment.control1, segment.control2, segment.end
            points.extend(cubic(place(a), place(b), place(c), place(d)))
        elif isinstance(segment, svg.QuadraticBezier):
            points.extend(quadratic(place(segment.start), place(segment.control), place(segment.end)))
        elif isinstance(segment, svg.Arc):
            for part in segment.as_cubic_curves():
                points.extend(cubic(place(part.start), place(part.control1), place(part.control2), place(part.end)))
        else:
            points.append(place(segment.end))
    yield from done()


def _meets(a: Point, b: Point) -> bool:
    return abs(a[0] - b[0]) < 1e-3 and abs(a[1] - b[1]) < 1e-3
