"""PDF files into lines, by PDFium: pages, forms, transforms, clipping, dashes, layers, words."""

import ctypes
import io
import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pikepdf
import pypdfium2 as pdfium
import pypdfium2.raw as raw

from rowanseed.core.errors import IntakeError
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.flatten import cubic, dashes_joined, thin_as_lines, without_repeats
from rowanseed.core.intake.model import Drawing, PageBox, Stroke, Style, Words
from rowanseed.core.intake.names import sense_of, size_of
from rowanseed.formats.intake.limits import MOST_PAGES, Counted, within

MM = 25.4 / 72
MOST_DEPTH = 12
Matrix = tuple[float, float, float, float, float, float]
Box = tuple[float, float, float, float]


def read_pdf(data: bytes) -> Drawing:
    """Return the lines and words of a PDF file, mm, y down on each page.

    Raises:
        IntakeError: it is no PDF, asks for a password, has too many pages, or holds more than a pattern can.
    """
    units = _user_units(data)
    try:
        document = pdfium.PdfDocument(data)
    except pdfium.PdfiumError as error:
        raise IntakeError("This PDF file is damaged. Fetch or save it anew.", "file") from error
    reader = _Reader()
    pages = []
    for number in range(len(document)):
        try:
            page = document[number]
        except pdfium.PdfiumError:
            pages.append(PageBox(0.0, 0.0))
            continue
        pages.append(reader.take(page, number, units[number] if number < len(units) else 1.0))
        page.close()
    document.close()
    return Drawing(
        "pdf",
        tuple(reader.strokes),
        tuple(reader.words),
        "pt",
        pages=tuple(pages),
        pictures=reader.pictures,
        findings=(),
    )


def _user_units(data: bytes) -> list[float]:
    """Return each page's user unit (larger than 1 on very large sheets). Raises IntakeError for what cannot be opened."""
    try:
        with pikepdf.open(io.BytesIO(data)) as document:
            if len(document.pages) > MOST_PAGES:
                text = (
                    f"This PDF has {len(document.pages)} pages, more than {MOST_PAGES}. Send the pattern's pages alone."
                )
                raise IntakeError(text, "file")
            return [float(page.obj.get("/UserUnit", 1)) for page in document.pages]
    except pikepdf.PasswordError as error:
        raise IntakeError("This PDF asks for a password. Save it without one first.", "file") from error
    except IntakeError:
        raise
    except Exception as error:  # a damaged file may stop the library anywhere
        raise IntakeError("This PDF file is damaged. Fetch or save it anew.", "file") from error


def _times(a: Matrix, b: Matrix) -> Matrix:
    """Return the transform that does a, then b."""
    return (
        a[0] * b[0] + a[1] * b[2],
        a[0] * b[1] + a[1] * b[3],
        a[2] * b[0] + a[3] * b[2],
        a[2] * b[1] + a[3] * b[3],
        a[4] * b[0] + a[5] * b[2] + b[4],
        a[4] * b[1] + a[5] * b[3] + b[5],
    )


def _at(m: Matrix, x: float, y: float) -> Point:
    return (m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5])


def _matrix(obj: Any) -> Matrix:
    m = raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetMatrix(obj, m):
        return (1, 0, 0, 1, 0, 0)
    return (m.a, m.b, m.c, m.d, m.e, m.f)


def _page_matrix(page: Any, unit: float) -> tuple[Matrix, PageBox]:
    """Return the transform from a page's own coordinates to mm from its upper left corner as it is shown, and its size."""
    left, bottom, right, top = page.get_cropbox()
    k = MM * unit
    width, height = (right - left) * k, (top - bottom) * k
    match page.get_rotation():
        case 90:
            return (0, k, k, 0, -bottom * k, -left * k), PageBox(height, width)
        case 180:
            return (-k, 0, 0, k, right * k, -bottom * k), PageBox(width, height)
        case 270:
            return (0, -k, -k, 0, top * k, right * k), PageBox(height, width)
    return (k, 0, 0, -k, -left * k, top * k), PageBox(width, height)


class _Reader:
    def __init__(self) -> None:
        self.strokes: list[Stroke] = []
        self.words: list[Words] = []
        self.counted = Counted()
        self.pictures = 0

    def take(self, page: Any, number: int, unit: float) -> PageBox:
        matrix, box = _page_matrix(page, unit)
        self.page, self.textpage = number, page.get_textpage()
        whole = (0.0, 0.0, box.width, box.height)
        for k in range(raw.FPDFPage_CountObjects(page.raw)):
            self._object(raw.FPDFPage_GetObject(page.raw, k), matrix, whole, "", 0)
        self.textpage.close()
        return box

    def _object(self, obj: Any, matrix: Matrix, clip: Box, layer: str, depth: int) -> None:
        layer = _layer(obj) or layer
        kind = raw.FPDFPageObj_GetType(obj)
        if kind == raw.FPDF_PAGEOBJ_IMAGE:
            self.pictures += 1
            return
        clip = _clipped(obj, matrix, clip)
        if kind == raw.FPDF_PAGEOBJ_FORM and depth < MOST_DEPTH:
            inner = _times(_matrix(obj), matrix)
            for k in range(raw.FPDFFormObj_CountObjects(obj)):
                self._object(raw.FPDFFormObj_GetObject(obj, k), inner, clip, layer, depth + 1)
        elif kind == raw.FPDF_PAGEOBJ_PATH:
            self._path(obj, _times(_matrix(obj), matrix), clip, layer)
        elif kind == raw.FPDF_PAGEOBJ_TEXT:
            self._text(obj, _times(_matrix(obj), matrix), clip, layer)

    def _path(self, obj: Any, matrix: Matrix, clip: Box, layer: str) -> None:
        style = _style(obj, matrix)
        if style is None:
            return
        sense, size = sense_of(layer), size_of(layer)
        found = list(_subpaths(obj, matrix))
        parts, dashes = dashes_joined(thin_as_lines(found) if style.colour.startswith("fill") else found)
        if dashes:
            style = replace(style, colour=style.colour.removeprefix("fill "), dashed=True)
        for points, closed in parts:
            if all(within(x, y) for x, y in points):
                self.counted.add(len(points))
                self.strokes.append(Stroke(points, closed, layer, "", style, self.page, sense, size, clip))

    def _text(self, obj: Any, matrix: Matrix, clip: Box, layer: str) -> None:
        x, y = matrix[4], matrix[5]
        if not (clip[0] - 1 <= x <= clip[2] + 1 and clip[1] - 1 <= y <= clip[3] + 1):
            return
        long = raw.FPDFTextObj_GetText(obj, self.textpage.raw, None, 0)
        if long <= 2 or long > 4000:
            return
        buffer = ctypes.create_string_buffer(long)
        raw.FPDFTextObj_GetText(obj, self.textpage.raw, ctypes.cast(buffer, ctypes.POINTER(ctypes.c_ushort)), long)
        text = buffer.raw[: long - 2].decode("utf-16-le", "replace").replace("\x00", "")
        size = ctypes.c_float()
        raw.FPDFTextObj_GetFontSize(obj, size)
        height = abs(size.value) * math.hypot(matrix[2], matrix[3])
        if text.strip() and within(x, y):
            self.words.append(Words(text[:200], (x, y), min(height, 500.0), layer, "", self.page, size_of(layer)))


def _layer(obj: Any) -> str:
    """Return the name of the optional content group that an object is marked with."""
    name = ""
    for k in range(raw.FPDFPageObj_CountMarks(obj)):
        mark = raw.FPDFPageObj_GetMark(obj, k)
        if _mark_text(lambda b, n, out, m=mark: raw.FPDFPageObjMark_GetName(m, b, n, out)) == "OC":
            name = (
                _mark_text(lambda b, n, out, m=mark: raw.FPDFPageObjMark_GetParamStringValue(m, b"Name", b, n, out))
                or name
            )
    return name.removeprefix("\ufeff").strip()


def _mark_text(get: Any) -> str:
    long = ctypes.c_ulong()
    if not get(None, 0, long) or not 2 < long.value < 2000:
        return ""
    buffer = ctypes.create_string_buffer(long.value)
    get(ctypes.cast(buffer, ctypes.POINTER(ctypes.c_ushort)), long.value, long)
    return buffer.raw[: long.value - 2].decode("utf-16-le", "replace")


def _style(obj: Any, matrix: Matrix) -> Style | None:
    fill, stroked = ctypes.c_int(), ctypes.c_int()
    raw.FPDFPath_GetDrawMode(obj, fill, stroked)
    if not fill.value and not stroked.value:
        return None
    r, g, b, a = (ctypes.c_uint() for _ in range(4))
    get = raw.FPDFPageObj_GetStrokeColor if stroked.value else raw.FPDFPageObj_GetFillColor
    get(obj, r, g, b, a)
    colour = f"#{r.value:02x}{g.value:02x}{b.value:02x}"
    if not stroked.value:
        return None if colour == "#ffffff" else Style(f"fill {colour}")
    width = ctypes.c_float()
    raw.FPDFPageObj_GetStrokeWidth(obj, width)
    wide = width.value * math.sqrt(abs(matrix[0] * matrix[3] - matrix[1] * matrix[2]))
    count = raw.FPDFPageObj_GetDashCount(obj)
    lengths = (ctypes.c_float * max(count, 1))()
    dashes = ""
    if count > 0 and raw.FPDFPageObj_GetDashArray(obj, lengths, count):
        dashes = " ".join(f"{length:.1f}" for length in lengths[:8])
    return Style(colour, round(min(wide, 99.0), 2), count > 0, dashes)


def _clipped(obj: Any, matrix: Matrix, clip: Box) -> Box:
    """Return what is left of a clip when the object's own is laid over it, both as boxes."""
    own = raw.FPDFPageObj_GetClipPath(obj)
    if not own:
        return clip
    for k in range(max(0, min(50, raw.FPDFClipPath_CountPaths(own)))):
        points = []
        for n in range(min(2000, raw.FPDFClipPath_CountPathSegments(own, k))):
            segment = raw.FPDFClipPath_GetPathSegment(own, k, n)
            x, y = ctypes.c_float(), ctypes.c_float()
            raw.FPDFPathSegment_GetPoint(segment, x, y)
            points.append(_at(matrix, x.value, y.value))
        if len(points) > 2:
            xs, ys = [p[0] for p in points], [p[1] for p in points]
            clip = (max(clip[0], min(xs)), max(clip[1], min(ys)), min(clip[2], max(xs)), min(clip[3], max(ys)))
    return clip


def _subpaths(obj: Any, matrix: Matrix) -> Iterator[tuple[Outline, bool]]:
    points: list[Point] = []
    controls: list[Point] = []
    x, y = ctypes.c_float(), ctypes.c_float()

    def done(closed: bool) -> Iterator[tuple[Outline, bool]]:
        line = without_repeats(points)
        shut = closed or len(line) > 3
        meets = len(line) > 2 and math.dist(line[0], line[-1]) < 2e-3
        line = line[:-1] if shut and meets else line
        if len(line) > 1:
            yield line, (closed or meets) and len(line) > 2

    for k in range(raw.FPDFPath_CountSegments(obj)):
        segment = raw.FPDFPath_GetPathSegment(obj, k)
        raw.FPDFPathSegment_GetPoint(segment, x, y)
        here = _at(matrix, x.value, y.value)
        kind = raw.FPDFPathSegment_GetType(segment)
        if kind == raw.FPDF_SEGMENT_MOVETO:
            yield from done(False)
            points, controls = [here], []
        elif kind == raw.FPDF_SEGMENT_BEZIERTO:
            controls.append(here)
            if len(controls) == 3:
                points.extend(cubic(points[-1] if points else here, controls[0], controls[1], controls[2]))
                controls = []
        else:
            points.append(here)
        if raw.FPDFPathSegment_GetClose(segment):
            yield from done(True)
            points = [points[0]] if points else []
    yield from done(False)
