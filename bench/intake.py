"""Patterns in, measured: seconds from file to proposed pieces, how near they come, and what the user has to do.

`python -m bench.intake` prints a table; times are those of this machine, beside a fixed sum of its own as a yardstick.
"""

import argparse
import time
from collections.abc import Callable

import numpy as np
from shapely import Polygon, hausdorff_distance

from bench.history import yardstick
from rowanseed.core.geometry.types import Outline
from rowanseed.core.intake.model import Intake
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.core.trace.plane import posed
from rowanseed.core.trace.trace import TraceOptions, scene_of, trace
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.photographs import Camera, photographed, table
from rowanseed.demo.samples import large_pattern
from rowanseed.formats.intake.read import read_intake
from rowanseed.formats.pattern_dxf import pattern_dxf
from rowanseed.formats.pattern_pdf import pattern_pdf
from rowanseed.formats.pattern_svg import pattern_svg

TALL = (3000, 4000)


def worst_mm(read: Intake, pattern: Pattern) -> tuple[int, int, float]:
    """Return how many outlines came back, of how many, and the farthest that one lies from its original, mm."""
    got = {p.number: p for p in read.pieces}
    found, whole, worst = 0, 0, 0.0
    for piece in pattern.pieces:
        outlines = [s.outline for s in piece.shapes.values()]
        left, top = min(x for o in outlines for x, _ in o), min(y for o in outlines for _, y in o)
        for size, shape in piece.shapes.items():
            whole += 1
            lines = got[piece.number].sizes.get(size) if piece.number in got else None
            if lines is None:
                continue
            found += 1
            mine = Polygon([(x - left, y - top) for x, y in shape.outline]).exterior
            worst = max(worst, hausdorff_distance(mine, Polygon(lines.outline).exterior))
    return found, whole, worst


def files() -> None:
    """Each demo pattern and a large one by each way in."""
    print(f"{'file':28} {'KB':>7} {'s':>6} {'outlines':>10} {'worst mm':>9}  actions a piece")
    ways: list[tuple[str, Callable[[Pattern], bytes]]] = [
        ("svg", lambda p: pattern_svg(p).encode()),
        ("dxf", lambda p: pattern_dxf(p).encode()),
        ("pdf, A4 pages", pattern_pdf),
        ("pdf, one sheet", lambda p: pattern_pdf(p, "sheet")),
    ]
    for name, pattern in (
        ("overshirt", overshirt.pattern()),
        ("trousers", trousers.pattern()),
        ("waistcoat", waistcoat.pattern()),
        ("15 pieces, 12 sizes", large_pattern()),
    ):
        for way, write in ways:
            data = write(pattern)
            start = time.perf_counter()
            read = read_intake(data)
            took = time.perf_counter() - start
            found, whole, worst = worst_mm(read, pattern)
            # Choose the file, read it, keep the pieces: three for all of them together, and one for each wrong or missing fact.
            wrong = sum(_wrong(read, p) for p in pattern.pieces)
            actions = (3 + wrong) / len(pattern.pieces)
            print(
                f"{name + ', ' + way:28} {len(data) / 1000:7.0f} {took:6.2f} {found:5}/{whole:<4} {worst:9.4f}  {actions:.2f}"
            )


def _wrong(read: Intake, piece: object) -> int:
    """How many of a piece's facts the user has to put right."""
    mine = next((p for p in read.pieces if p.number == piece.number), None)  # type: ignore[attr-defined]
    if mine is None:
        return 12
    pairs = (
        (mine.name, piece.name),
        (mine.cut, piece.cut),
        (mine.mirrored, piece.mirrored),
        (mine.role or "self", piece.role),
    )  # type: ignore[attr-defined]
    return sum(a != b for a, b in pairs)


def photographs() -> None:
    """Generated photographs of a drawn piece, from easy to hard."""
    piece: Outline = tuple((y + 280.0, x + 40.0) for x, y in waistcoat.pattern().pieces[1].shapes["M"].outline)
    sheets = {0: (50.0, 60.0, 0.03)}
    print(f"\n{'photograph':28} {'s':>6} {'area %':>8} {'worst mm':>9} {'said mm':>8}")
    for name, camera in (
        ("middle, 12 megapixels", Camera(TALL, 660)),
        ("8 megapixels", Camera((2448, 3264), 660)),
        ("16 megapixels", Camera((3456, 4608), 660)),
        ("slant of 25 degrees", Camera(TALL, 700, slant=25)),
        ("blur and noise", Camera(TALL, 660, blur=2.0, noise=10)),
        ("uneven light", Camera(TALL, 660, shade=0.7)),
        ("lens bends by 4 %", Camera(TALL, 660, k=0.04)),
        ("tissue stands 3 mm high", Camera(TALL, 660, bulge=3.0, lifted=(260.0, 20.0, 620.0, 680.0))),
        ("tissue stands 6 mm high", Camera(TALL, 660, bulge=6.0, lifted=(260.0, 20.0, 620.0, 680.0))),
    ):
        picture, _ = photographed(table((640.0, 700.0), sheets, [piece]), camera)
        start = time.perf_counter()
        traced = trace(picture, TraceOptions())
        took = time.perf_counter() - start
        pose = next(iter(scene_of([picture]).poses.values()))
        mine = Polygon(posed(_on_sheet(np.asarray(piece), sheets[0]), pose))
        area = 100 * (Polygon(traced.outline).area / mine.area - 1)
        worst = hausdorff_distance(Polygon(traced.outline).exterior, mine.exterior)
        print(f"{name:28} {took:6.2f} {area:+8.3f} {worst:9.2f} {traced.error_mm:8.3f}")


def clicks_and_fields(pattern: Pattern) -> None:
    """What a user does on the tracing page for each piece that lies on a ground of its own and is found by itself."""
    counts = {piece.number: photo_actions(piece) for piece in pattern.pieces if piece.shapes}
    mean = sum(counts.values()) / len(counts)
    print(
        f"\nactions a photographed piece of the {pattern.name}: mean {mean:.1f}, most {max(counts.values())}, by piece {counts}"
    )


def photo_actions(piece: Piece) -> int:
    """The actions on the tracing page: photograph, send, find, name, keep; what differs from its proposals; each mark a click."""
    shape = next(iter(piece.shapes.values()))
    asked = 5 + (piece.cut != 2) + (not piece.mirrored) + (piece.role != "self")
    straight = 3  # the tool, and two clicks along the grain or the fold
    notches = 1 + len(shape.notches) if shape.notches else 0
    dots = 1 + len(shape.marks) if shape.marks else 0
    return asked + straight + notches + dots


def _on_sheet(
    points: np.ndarray[tuple[int, int], np.dtype[np.float64]], pose: tuple[float, float, float]
) -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    """Return places on the table in the coordinates of a sheet that lies there."""
    cos, sin = np.cos(pose[2]), np.sin(pose[2])
    return np.asarray((points - pose[:2]) @ np.array([[cos, -sin], [sin, cos]]))


def main() -> None:
    """Print the tables."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    print(f"yardstick: {yardstick():.3f} s\n")
    files()
    photographs()
    clicks_and_fields(overshirt.pattern())


if __name__ == "__main__":
    main()
