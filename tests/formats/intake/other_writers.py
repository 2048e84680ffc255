"""The demo's patterns as other programs and habits write them: what a size is told by, what becomes of lines, how pages are cut."""

import io
import math

import ezdxf
from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas
from shapely import LineString, Polygon, clip_by_rect, get_parts
from shapely.ops import substring

MM = 72 / 25.4
COLOURS = ("#d00000", "#00a000", "#0000d0", "#d000d0", "#00a0a0", "#a0a000", "#808080")
DASHES = ("", "9 3", "3 3", "9 3 3 3", "1.5 1.5", "12 4", "6 6")
ON_OFF = ((1e9, 0), (9, 3), (3, 3), (12, 4), (2, 2), (6, 2), (5, 5))


def laid(pattern, sizes, gap=30.0, row=1400.0, edge=8.3):
    """Pieces in rows: the piece, its shapes by size, and what puts a point of it there, mm."""
    x = y = edge
    high = 0.0
    for piece in pattern.pieces:
        shapes = {s: piece.shapes[s] for s in sizes if s in piece.shapes}
        points = [p for shape in shapes.values() for p in shape.outline]
        left, top = min(p[0] for p in points), min(p[1] for p in points)
        wide, tall = max(p[0] for p in points) - left, max(p[1] for p in points) - top
        if x > edge and x + wide > row:
            x, y, high = edge, y + high + gap, 0.0
        yield piece, shapes, lambda p, dx=x - left, dy=y - top: (p[0] + dx, p[1] + dy)
        x, high = x + wide + gap, max(high, tall)


def d_of(points, closed=True):
    return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points) + ("Z" if closed else "")


def middle(shapes, put):
    at = Polygon(next(iter(shapes.values())).outline).representative_point()
    return put((at.x, at.y))


def svg(pattern, sizes, drawn):
    """An SVG file in millimetres: what `drawn` makes of each shape (its place among the sizes, the shape, how it is put)."""
    body = []
    for piece, shapes, put in laid(pattern, sizes):
        for k, shape in enumerate(shapes.values()):
            body += drawn(k, shape, put)
        x, y = middle(shapes, put)
        body.append(f'<text x="{x}" y="{y}" font-size="8">{piece.number} {piece.name}</text>')
        body.append(f'<text x="{x}" y="{y + 10}" font-size="8">Cut {piece.cut}</text>')
    head = 'xmlns="http://www.w3.org/2000/svg" width="1600mm" height="3200mm" viewBox="0 0 1600 3200"'
    return f"<svg {head}>{''.join(body)}</svg>".encode()


def path(points, look, closed=True):
    return f'<path fill="none" {look} d="{d_of(points, closed)}"/>'


def ring_of(shape, put):
    return LineString([*map(put, shape.outline), put(shape.outline[0])])


def seams(cut, seam):
    """Cutting line and seam line of each size, drawn as these say for a size's place."""

    def drawn(k, shape, put):
        return [path(map(put, shape.outline), cut(k)), path(map(put, shape.seam_line), seam(k))]

    return lambda pattern, sizes: svg(pattern, sizes, drawn)


def expanded(k, shape, put):
    """A stroke turned into a thin filled shape."""
    ring = ring_of(shape, put).buffer(0.25, join_style="mitre")
    d = d_of(ring.exterior.coords[:-1]) + "".join(d_of(hole.coords[:-1]) for hole in ring.interiors)
    return [f'<path fill="{COLOURS[k]}" fill-rule="evenodd" d="{d}"/>']


def exploded(look, on_off):
    """Dashes as single strokes."""

    def drawn(k, shape, put):
        ring, at = ring_of(shape, put), 0.0
        on, off = on_off(k)
        parts = []
        while at < ring.length:
            part = substring(ring, at, min(at + on, ring.length))
            at += on + off
            if part.geom_type == "LineString":
                parts.append(path(part.coords, look(k), closed=False))
        return parts

    return lambda pattern, sizes: svg(pattern, sizes, drawn)


def plotted(pattern, sizes):
    """As plotting libraries write: points, styles in attributes, letters as uses of shapes, a shape without data."""
    k, body = MM, ['<defs><path id="m1" style="stroke:#000"/></defs>']
    for n, (_, shapes, put) in enumerate(laid(pattern, sizes)):
        for size, shape in enumerate(shapes.values()):
            d = d_of([(x * k, y * k) for x, y in map(put, shape.outline)])
            style = f"fill: none; stroke: {COLOURS[size]}; stroke-linejoin: miter"
            body.append(f'<g id="patch_{n}_{size}"><path d="{d}" style="{style}"/></g>')
    head = f'width="{1600 * k}pt" height="{3200 * k}pt" viewBox="0 0 {1600 * k} {3200 * k}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{"".join(body)}</svg>'.encode()


def single_lines(header=4, units_a_mm=1.0, coloured=False):
    """A DXF file of single lines on one layer, notches as ticks of the same kind."""

    def written(pattern, sizes):
        document = ezdxf.new("R2000", units=header)
        document.header["$INSUNITS"] = header
        space, k = document.modelspace(), units_a_mm

        def line(a, b, n):
            look = {"layer": "0", "color": n + 1 if coloured else 7}
            space.add_line((a[0] * k, -a[1] * k), (b[0] * k, -b[1] * k), dxfattribs=look)

        for piece, shapes, put in laid(pattern, sizes):
            for n, shape in enumerate(shapes.values()):
                points = [put(p) for p in shape.outline]
                for a, b in zip(points, [*points[1:], points[0]], strict=True):
                    line(a, b, n)
                centre = Polygon(shape.outline).centroid
                for notch in shape.notches:
                    x, y = notch.at
                    far = math.dist((x, y), (centre.x, centre.y)) / 5
                    line(put((x, y)), put((x + (centre.x - x) / far, y + (centre.y - y) / far)), n)
            x, y = middle(shapes, put)
            space.add_text(f"{piece.number} {piece.name}", height=8 * k).set_placement((x * k, -y * k))
        return dxf_bytes(document)

    return written


def blocks(pattern, sizes, scale=10.0):
    """A block for each piece in each size, drawn small, put in larger and turned."""
    document = ezdxf.new("R2010", units=4)
    document.header["$INSUNITS"] = 4
    for piece, shapes, put in laid(pattern, sizes):
        for size, shape in shapes.items():
            block = document.blocks.new(f"P{piece.number}_SIZE_{size}")
            block.add_lwpolyline([(x / scale, -y / scale) for x, y in shape.outline], close=True)
            block.add_text(f"{piece.number} {piece.name}", height=1).set_placement((10 / scale, -10 / scale))
            x, y = put((0, 0))
            look = {"xscale": scale, "yscale": scale, "rotation": 90}
            document.modelspace().add_blockref(block.name, (-y, x), dxfattribs=look)
    return dxf_bytes(document)


def dxf_bytes(document):
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def pages(overlap=0.0, frame=True, by_column=False, margin=10.0, crosses=False, trims=False, label=""):
    """A4 pages whose lines end at the frame; pages on which nothing is drawn are left out, as printing programs do."""

    def written(pattern, sizes):
        rings, texts = [], []
        for piece, shapes, put in laid(pattern, sizes, gap=25.0):
            rings += [ring_of(shape, put) for shape in shapes.values()]
            texts.append((middle(shapes, put), f"{piece.number} {piece.name}"))
        wide, high = A4[0] / MM - 2 * margin, A4[1] / MM - 2 * margin
        across, down = wide - overlap, high - overlap
        columns = math.ceil((max(r.bounds[2] for r in rings) - overlap) / across)
        rows = math.ceil((max(r.bounds[3] for r in rings) - overlap) / down)
        cells = [(r, c) for r in range(rows) for c in range(columns)]
        cells = sorted(cells, key=lambda cell: cell[::-1]) if by_column else cells
        out = io.BytesIO()
        canvas = Canvas(out, pagesize=A4)
        for row, column in cells:
            left, top = column * across, row * down
            box = (left, top, left + wide, top + high)
            parts = [g for ring in rings for g in get_parts(clip_by_rect(ring, *box)) if g.length > 0.05]
            if parts:

                def at(x, y, left=left, top=top):
                    return (margin + x - left) * MM, A4[1] - (margin + y - top) * MM

                _furniture(canvas, at, box, (across, down), frame, crosses, trims)
                if label:
                    canvas.setFont("Helvetica", 9)
                    canvas.drawString((margin + 5) * MM, (margin + 5) * MM, label.format(r=row + 1, c=column + 1))
                _lines(canvas, at, parts)
                canvas.setFont("Helvetica", 12)
                for (x, y), words in texts:
                    if left <= x < left + across and top <= y < top + down:
                        canvas.drawString(*at(x, y), words)
                canvas.showPage()
        canvas.save()
        return out.getvalue()

    return written


def _furniture(canvas, at, box, step, frame, crosses, trims):
    left, top, right, foot = box
    canvas.setLineWidth(0.4)
    if frame:
        (x0, y0), (x1, y1) = at(left, foot), at(right, top)
        canvas.rect(x0, y0, x1 - x0, y1 - y0)
    for x in (left, left + step[0]) if crosses else ():
        for y in (top, top + step[1]):
            px, py = at(x, y)
            canvas.line(px - 8, py, px + 8, py)
            canvas.line(px, py - 8, px, py + 8)
    for x in (left, right) if trims else ():
        for y in (top, foot):
            px, py = at(x, y)
            out_x, out_y = (-1 if x == left else 1), (1 if y == top else -1)
            canvas.line(px + out_x * 4, py, px + out_x * 16, py)
            canvas.line(px, py + out_y * 4, px, py + out_y * 16)


def _lines(canvas, at, parts):
    canvas.setLineWidth(1)
    for part in parts:
        drawn = canvas.beginPath()
        for k, (x, y) in enumerate(part.coords):
            (drawn.lineTo if k else drawn.moveTo)(*at(x, y))
        canvas.drawPath(drawn)


# By its name: what writes it, whether all sizes are drawn, and the least share of the outlines that has to come out.
WAYS = {
    "seam lines dashed, a colour a size": (
        seams(lambda k: f'stroke="{COLOURS[k]}"', lambda k: f'stroke="{COLOURS[k]}" stroke-dasharray="4 2"'), True, 1.0),
    "seam lines thin, a colour a size": (
        seams(lambda k: f'stroke="{COLOURS[k]}" stroke-width=".5"',
              lambda k: f'stroke="{COLOURS[k]}" stroke-width=".3"'), True, 1.0),
    "seam lines thin, a dash a size": (
        seams(lambda k: f'stroke="#000" stroke-width=".5" stroke-dasharray="{DASHES[k]}"',
              lambda k: f'stroke="#000" stroke-width=".25" stroke-dasharray="{DASHES[k]}"'), True, 1.0),
    "seam lines of one grey, a colour a size": (
        seams(lambda k: f'stroke="{COLOURS[k]}"', lambda k: 'stroke="#999"'), True, 1.0),
    "strokes turned into shapes": (lambda p, s: svg(p, s, expanded), True, 1.0),
    "dashes as strokes, a colour a size": (exploded(lambda k: f'stroke="{COLOURS[k]}"', lambda k: (6, 3)), True, 0.8),
    "dashes as strokes, a length a size": (exploded(lambda k: 'stroke="#000"', lambda k: ON_OFF[k]), True, 0.8),
    "a plotting library": (plotted, True, 1.0),
    "DXF of single lines": (single_lines(), False, 1.0),
    "DXF of single lines, metres": (single_lines(6, 0.001), False, 1.0),
    "DXF of single lines, inches": (single_lines(1, 1 / 25.4), False, 1.0),
    "DXF of single lines, a colour a size": (single_lines(coloured=True), True, 1.0),
    "DXF of a block a size": (blocks, True, 1.0),
    "pages with a frame": (pages(label="row {r} column {c}"), False, 1.0),
    "pages, column first": (pages(by_column=True), False, 1.0),
    "pages, crosses half an inch in": (pages(overlap=12.7, frame=False, crosses=True), False, 0.9),
    "pages, trim marks": (pages(frame=False, trims=True), False, 1.0),
    "pages, trim marks, in German": (pages(frame=False, trims=True, label="Reihe {r} Spalte {c}"), False, 1.0),
    "pages to the paper's edge": (pages(frame=False, margin=0.0), False, 0.9),
    "pages that overlap by 1 cm": (pages(overlap=10.0), False, 1.0),
}  # fmt: skip
