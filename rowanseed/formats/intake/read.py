"""A pattern file of any kind read into proposed pieces."""

import json
import math
import re
from typing import TYPE_CHECKING

from rowanseed.core.errors import Finding, IntakeError, PatternFileError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.intake.grading import graded
from rowanseed.core.intake.model import Drawing, Intake, IntakeOptions, Kind, ProposedPiece, SizeLines
from rowanseed.core.intake.pieces import Tell
from rowanseed.core.intake.propose import propose, quiet
from rowanseed.core.pattern.model import Pattern
from rowanseed.formats.intake.limits import MOST_BYTES
from rowanseed.formats.intake.rul_in import looks_like_rules, read_rules
from rowanseed.formats.pattern_json import read_pattern
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    from rowanseed.formats.intake.dxf_in import read_dxf
    from rowanseed.formats.intake.pdf_in import read_pdf
    from rowanseed.formats.intake.svg_in import read_svg
else:
    read_dxf = lazily("rowanseed.formats.intake.dxf_in", "read_dxf")
    read_pdf = lazily("rowanseed.formats.intake.pdf_in", "read_pdf")
    read_svg = lazily("rowanseed.formats.intake.svg_in", "read_svg")

PICTURES = (b"\x89PNG", b"\xff\xd8\xff", b"RIFF", b"GIF8", b"II*\x00", b"MM\x00*", b"BM")


def kind_of(data: bytes) -> Kind:
    """Return what kind of file some bytes are, by what they begin with.

    Raises:
        IntakeError: empty, a picture, packed, or nothing that is read here.
    """
    if looks_like_rules(data) and b"SECTION" not in data[:4096]:
        raise IntakeError("This is a grading table. Send it together with its DXF file.", "file")
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n\x00")
    if not head:
        raise IntakeError("This file is empty.", "file")
    if b"%PDF-" in data[:2048]:
        return "pdf"
    if data.startswith(PICTURES) or data[4:12] in (b"ftypheic", b"ftypmif1", b"ftypavif"):
        raise IntakeError(
            "This is a picture. Use Photographs: tissue on the calibration sheet, or a scan with its dpi.", "file"
        )
    if data.startswith(b"PK\x03\x04"):
        raise IntakeError(
            "This is a packed folder (ZIP). Unpack it, and send the pattern files inside one by one.", "file"
        )
    if data.startswith(b"\x1f\x8b"):
        raise IntakeError("This file is packed (gzip). Unpack it first.", "file")
    if re.search(rb"<svg[\s>:]", data[:65_536], re.I) or (head.startswith(b"<") and b"svg" in head):
        return "svg"
    if head.startswith((b"{", b"[")):
        return "json"
    if head.startswith(b"AutoCAD Binary DXF") or re.match(rb"\s*(0|999)\s*[\r\n]", data[:200]) or b"SECTION" in head:
        return "dxf"
    raise IntakeError(
        "This is no pattern file that can be read here: SVG, DXF, PDF or a Rowanseed pattern file.", "file"
    )


def read_drawing(data: bytes, options: IntakeOptions) -> Drawing:
    """Return the lines and words of an SVG, DXF or PDF file.

    Raises:
        IntakeError: it cannot be read; the words say what to do.
    """
    if len(data) > MOST_BYTES:
        raise IntakeError(
            f"This file is larger than {MOST_BYTES // 1_000_000} MB. Send the pattern's pages alone.", "file"
        )
    kind = kind_of(data) if options.kind == "auto" else options.kind
    match kind:
        case "svg":
            return read_svg(data, options)
        case "dxf":
            return read_dxf(data, options)
        case "pdf":
            return read_pdf(data)
        case _:
            raise IntakeError("A pattern file in JSON holds no lines.", "file")


def read_intake(
    data: bytes, options: IntakeOptions | None = None, tell: Tell = quiet, grading: bytes | None = None
) -> Intake:
    """Return the pieces that a file seems to hold.

    Args:
        grading: a grading table beside a DXF file in one size.
    Raises:
        IntakeError: it cannot be read, or holds nothing that is large enough for a piece.
    """
    options = options or IntakeOptions()
    kind = kind_of(data) if options.kind == "auto" else options.kind
    if kind == "json":
        return _of_pattern(data)
    tell("Reading the file", 0.05)
    drawing = read_drawing(data, options)
    if grading:
        drawing = graded(drawing, read_rules(grading))
    return propose(drawing, options, tell)


def _of_pattern(data: bytes) -> Intake:
    try:
        pattern = read_pattern(data)
    except PatternFileError as error:
        if error.field in ("format", "file"):
            raise IntakeError("This JSON file is not a Rowanseed pattern file.", "file") from error
        raise IntakeError(error.text, "file") from error
    except (UnicodeDecodeError, json.JSONDecodeError, ValueError) as error:
        raise IntakeError("This is not a JSON file that can be read.", "file") from error
    return intake_of_pattern(pattern)


def intake_of_pattern(pattern: Pattern) -> Intake:
    """Return a pattern's pieces as a file's are proposed."""
    used = {size for p in pattern.pieces for size in p.shapes}
    sizes = tuple(s for s in pattern.size_names() if s in used) or tuple(sorted(used))
    pieces = tuple(
        ProposedPiece(p.name, p.number, p.cut, {z: _lines(s) for z, s in p.shapes.items()}, (), p.role, p.mirrored)
        for p in pattern.pieces
    )
    if not any(p.sizes for p in pieces):
        raise IntakeError("This pattern file holds no pieces that are drawn.", "file")
    none = [p.name for p in pieces if not p.sizes]
    findings = (Finding("note", "not-drawn", f"Not drawn in the file: {', '.join(none)}."),) if none else ()
    return Intake("json", "mm", 1.0, sizes, tuple(p for p in pieces if p.sizes), findings)


def _lines(shape: PieceShape) -> SizeLines:
    seam = shape.seam_line if any(shape.side_allowances) else None
    ok = seam is not None and all(math.isfinite(c) for p in seam for c in p)
    return SizeLines(
        shape.outline,
        seam if ok else None,
        tuple(n.at for n in shape.notches),
        shape.grainline,
        shape.fold_edge,
        tuple(m.at for m in shape.marks),
        tuple(line.points for line in shape.lines),
    )
