"""Pattern files that our writers did not make: other habits of drawing, written by hand, by reportlab and by ezdxf."""

import io
import math
from collections.abc import Sequence

import ezdxf
from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

Place = tuple[float, float]
MM = 72 / 25.4


def bodice(grow: float = 0.0) -> list[Place]:
    """A front of some 25 x 40 cm, upright: neck, shoulder, armhole, side, hem, centre; `grow` mm larger at side and hem."""
    g = grow
    armhole = [
        (170 + g + 60 * (1 - math.cos(t)), 40 + 150 * math.sin(t) + 0.4 * g)
        for t in (k * math.pi / 32 for k in range(17))
    ]
    neck = [(70 * math.sin(t), 70 * (1 - math.cos(t)) - 70 + 70) for t in (k * math.pi / 24 for k in range(13))]
    neck = [(70 - 70 * math.cos(t), 80 - 80 * math.sin(t)) for t in (k * math.pi / 24 for k in range(13))]
    return [*neck[:-1], (70.0, 0.0), *armhole, (230 + g, 190 + 0.4 * g), (236 + g, 420 + 2 * g), (0.0, 420 + 2 * g)]


def moved(points: Sequence[Place], dx: float, dy: float) -> list[Place]:
    """Points moved."""
    return [(x + dx, y + dy) for x, y in points]


def d_of(points: Sequence[Place], closed: bool = True) -> str:
    """Points as the data of a path, absolute."""
    return "M" + " L".join(f"{x:.4f},{y:.4f}" for x, y in points) + ("Z" if closed else "")


def d_relative(points: Sequence[Place]) -> str:
    """Points as the data of a path in relative steps."""
    steps = [f"{b[0] - a[0]:.5f} {b[1] - a[1]:.5f}" for a, b in zip(points, points[1:], strict=False)]
    return f"m{points[0][0]:.5f} {points[0][1]:.5f} " + " ".join(steps) + "z"


def svg_file(body: str, width: str, height: str, box: str | None) -> bytes:
    """A bare SVG file."""
    view = f' viewBox="{box}"' if box else ""
    return f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}"{view}>{body}</svg>'.encode()


def cut_pages(lines: Sequence[Sequence[Place]], frame: bool = True, overlap: float = 0.0, label: bool = False) -> bytes:
    """Closed lines on A4 pages, each line cut off at the page's frame (10 mm from the paper's edge), row by row."""
    from shapely import LineString, clip_by_rect, get_parts

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4)
    wide, high = A4[0] / MM - 20, A4[1] / MM - 20
    across, down = wide - overlap, high - overlap
    xs, ys = [x for line in lines for x, _ in line], [y for line in lines for _, y in line]
    for row in range(math.ceil((max(ys) - overlap) / down)):
        for column in range(math.ceil((max(xs) - overlap) / across)):
            left, top = column * across, row * down
            if frame:
                canvas.rect(10 * MM, 10 * MM, wide * MM, high * MM)
            if label:
                canvas.drawString(15 * MM, 15 * MM, f"{chr(65 + row)}{column + 1}")
            for line in lines:
                ring = LineString([*line, line[0]])
                for part in get_parts(clip_by_rect(ring, left, top, left + wide, top + high)):
                    path = canvas.beginPath()
                    for k, (x, y) in enumerate(part.coords):
                        (path.lineTo if k else path.moveTo)((10 + x - left) * MM, A4[1] - (10 + y - top) * MM)
                    canvas.drawPath(path)
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def loose_dxf(points: Sequence[Place], version: str = "R12", unit: float = 1.0) -> bytes:
    """An outline as single LINE entities in no order, with an arc for one of its corners, y up."""
    document = ezdxf.new(version)
    space = document.modelspace()
    sides = [(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)]
    for (ax, ay), (bx, by) in [*sides[::2], *[(b, a) for a, b in sides[1::2]]]:
        space.add_line((ax / unit, -ay / unit), (bx / unit, -by / unit), dxfattribs={"layer": "PATTERN"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()
