"""Sample files for trying the ways in: the demo's invented patterns as SVG, DXF and PDF, and made-up photographs of a piece."""

from dataclasses import replace
from pathlib import Path

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.photographs import Camera, photographed, table
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_json import write_pattern
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
    def at(p: tuple[float, float]) -> tuple[float, float]:
        return (p[0] * by, p[1] * by)

    return replace(
        shape,
        outline=tuple(at(p) for p in shape.outline),
        fold_edge=(at(shape.fold_edge[0]), at(shape.fold_edge[1])) if shape.fold_edge else None,
        grainline=(at(shape.grainline[0]), at(shape.grainline[1])) if shape.grainline else None,
        notches=tuple(replace(n, at=at(n.at)) for n in shape.notches),
        marks=tuple(replace(m, at=at(m.at)) for m in shape.marks),
        lines=tuple(replace(line, points=tuple(at(p) for p in line.points)) for line in shape.lines),
    )


def traced_piece() -> tuple[Piece, list[tuple[float, float]]]:
    """The piece that the made-up photographs show, and its outline as it lies on their table, mm."""
    piece = waistcoat.pattern().pieces[1]
    return piece, [(y + 280.0, x + 40.0) for x, y in piece.shapes["M"].outline]


def write_samples(folder: Path) -> list[Path]:
    """Write the sample files into a folder, made when it is not there; what was written."""
    import cv2

    folder.mkdir(parents=True, exist_ok=True)
    written: list[Path] = []

    def put(name: str, data: bytes) -> None:
        (folder / name).write_bytes(data)
        written.append(folder / name)

    for name, pattern in (
        ("overshirt", overshirt.pattern()),
        ("trousers", trousers.pattern()),
        ("waistcoat", waistcoat.pattern()),
    ):
        put(f"{name}.json", write_pattern(pattern).encode())
        put(f"{name}.svg", pattern_svg(pattern).encode())
        put(f"{name}.dxf", pattern_dxf(pattern).encode())
        put(f"{name}-a4.pdf", pattern_pdf(pattern))
        put(f"{name}-sheet.pdf", pattern_pdf(pattern, "sheet"))
    _, outline = traced_piece()
    nested = [[(y + 280.0, x + 40.0) for x, y in s.outline] for s in waistcoat.pattern().pieces[1].shapes.values()]
    sheets = {0: (50.0, 60.0, 0.03)}
    for name, scene in (
        ("piece-on-a-table.jpg", table((640.0, 700.0), sheets, [outline])),
        ("nested-sheet.jpg", table((640.0, 700.0), sheets, [], nested, ground=(222, 232, 236))),
    ):
        picture, _ = photographed(scene, Camera(pixels=(3000, 4000), wide=660))
        put(name, cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 88])[1].tobytes())
    return written
