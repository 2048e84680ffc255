"""Sample files for trying the ways in: the demo's invented patterns as SVG, DXF and PDF, and made-up photographs of a piece."""

from dataclasses import replace
from importlib import resources
from pathlib import Path

from rowanseed.core.geometry.shape import PieceShape, mapped
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.photographs import Camera, photographed, table
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_pdf import pattern_pdf
from rowanseed.formats.pattern_svg import pattern_svg


def large_pattern() -> Pattern:
    """A pattern of fifteen pieces in twelve sizes, drawn from the demo's by growing them: for measuring, not for sewing."""
    sizes = [str(s) for s in range(6, 30, 2)]
    bases = [*overshirt.pattern().pieces, *trousers.pattern().pieces][:15]
    pieces = []
    for number, base in enumerate(bases, start=1):
        shape = next(iter(base.shapes.values()))
        shapes = {size: _grown(shape, 1 + 0.022 * k) for k, size in enumerate(sizes)}
        pieces.append(replace(base, number=str(number), name=f"{base.name} {number}", shapes=shapes, views=()))
    return Pattern("Fifteen pieces", "", "top", None, tuple(EnvelopeSize(s, {}) for s in sizes), pieces=tuple(pieces))


def _grown(shape: PieceShape, by: float) -> PieceShape:
    return mapped(shape, lambda p: (p[0] * by, p[1] * by))


def traced_piece() -> tuple[Piece, list[tuple[float, float]]]:
    """The piece that the made-up photographs show, and its outline as it lies on their table, mm."""
    piece = waistcoat.pattern().pieces[1]
    return piece, [(y + 280.0, x + 40.0) for x, y in piece.shapes["M"].outline]


def sample(name: str) -> bytes:
    """A sample file that ships with the application."""
    return resources.files("rowanseed.demo").joinpath("files", name).read_bytes()


def make_samples() -> dict[str, bytes]:
    """Make the sample files anew: a pattern on pages with a layer for each size, one as SVG, one as DXF, two photographs."""
    import cv2

    piece, outline = traced_piece()
    nested = [[(y + 280.0, x + 40.0) for x, y in s.outline] for s in piece.shapes.values()]
    sheets = {0: (50.0, 60.0, 0.03)}
    files = {
        "trousers-a4.pdf": pattern_pdf(trousers.pattern()),
        "overshirt.svg": pattern_svg(overshirt.pattern()).encode(),
        "waistcoat.dxf": pattern_dxf(waistcoat.pattern()).encode(),
    }
    for name, scene in (
        ("piece-on-a-table.jpg", table((640.0, 700.0), sheets, [outline])),
        ("nested-sheet.jpg", table((640.0, 700.0), sheets, [], nested, ground=(222, 232, 236))),
    ):
        picture, _ = photographed(scene, Camera(pixels=(2100, 2800), wide=660, noise=3))
        files[name] = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 72])[1].tobytes()
    return files


def write_samples(folder: Path) -> list[Path]:
    """Write the sample files into a folder, made when it is not there; what was written."""
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    for name, data in make_samples().items():
        (folder / name).write_bytes(data)
        written.append(folder / name)
    return written
