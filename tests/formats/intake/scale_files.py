"""Files of the demo's patterns written by hand and by a general DXF library, in any unit, said rightly, wrongly or not at all."""

import io

import ezdxf
from shapely import Polygon

MM, INCH = 4, 1  # the header's $INSUNITS


def laid_out(pattern, sizes=None):
    """Pieces side by side: the piece, its shapes, where it begins, mm."""
    x = 0.0
    for piece in pattern.pieces:
        shapes = {s: shape for s, shape in piece.shapes.items() if sizes is None or s in sizes}
        if shapes:
            yield piece, shapes, x
            xs = [p[0] for shape in shapes.values() for p in shape.outline]
            x += max(xs) - min(xs) + 30.0


def dxf_file(pattern, units_a_mm, header=0, sizes=None, square=None, allowance=""):
    """A DXF file: one layer a size, names as text; a square (side in mm, its words), seam lines with their allowance in words."""
    document = ezdxf.new(units=header)
    document.header["$INSUNITS"], document.header["$MEASUREMENT"] = header, int(header == MM)
    space, k = document.modelspace(), units_a_mm

    def line(points, layer):
        space.add_lwpolyline([(x * k, y * k) for x, y in points], close=True, dxfattribs={"layer": layer})

    def words(text, x, y):
        space.add_text(text, height=8 * k).set_placement((x * k, y * k))

    for piece, shapes, left in laid_out(pattern, sizes):
        for size, shape in shapes.items():
            line([(x + left, y) for x, y in shape.outline], f"size {size}" if len(shapes) > 1 else "cut")
            if allowance:
                line([(x + left, y) for x, y in shape.seam_line], "seam line")
        at = Polygon(next(iter(shapes.values())).outline).representative_point()
        words(piece.name, at.x + left, at.y)
        words(f"cut {piece.cut}", at.x + left, at.y + 12)
    if square:
        side, text = square
        line([(-400, 0), (-400 + side, 0), (-400 + side, side), (-400, side)], "0")
        words(text, -395, side / 2)
    if allowance:
        words(f"Seam allowance {allowance} included", 0, -50)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def svg_file(pattern, units_a_mm, head, sizes=None):
    """An SVG file: one class a size, names as text; `head` with {W} and {H} says how large the drawing is."""
    k, drawn, wide, high = units_a_mm, [], 0.0, 0.0
    for piece, shapes, left in laid_out(pattern, sizes):
        for n, (size, shape) in enumerate(shapes.items()):
            points = [((x + left) * k, y * k) for x, y in shape.outline]
            wide, high = max(wide, *(x for x, _ in points)), max(high, *(y for _, y in points))
            said = " ".join(f"{x:.5f},{y:.5f}" for x, y in points)
            drawn.append(f'<polygon class="size-{size}" fill="none" stroke="#00{n:02x}00" points="{said}"/>')
        at = Polygon(next(iter(shapes.values())).outline).representative_point()
        drawn.append(f'<text x="{(at.x + left) * k}" y="{at.y * k}" font-size="{8 * k}">{piece.name}</text>')
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head.format(W=wide, H=high)}>{"".join(drawn)}</svg>'.encode()


# How a file is written, and what may come of it: true at once, put right and said, or asked for.
WAYS = {
    "mm, said": lambda p, s: (dxf_file(p, 1, MM, s), {"true"}),
    "mm, unsaid": lambda p, s: (dxf_file(p, 1, 0, s), {"asked"}),
    "inches, unsaid": lambda p, s: (dxf_file(p, 1 / 25.4, 0, s), {"asked", "put right"}),
    "cm, unsaid": lambda p, s: (dxf_file(p, 0.1, 0, s), {"asked", "put right"}),
    "m, unsaid": lambda p, s: (dxf_file(p, 0.001, 0, s), {"asked", "put right"}),
    "mm, said to be inches": lambda p, s: (dxf_file(p, 1, INCH, s), {"asked", "put right"}),
    "inches, said to be mm": lambda p, s: (dxf_file(p, 1 / 25.4, MM, s), {"asked", "put right"}),
    "cm, said to be mm": lambda p, s: (dxf_file(p, 0.1, MM, s), {"asked", "put right"}),
    "inches, unsaid, a square": lambda p, s: (dxf_file(p, 1 / 25.4, 0, s, (50.8, "test square 2 in")), {"true", "put right"}),
    "cm, said to be mm, a square": lambda p, s: (dxf_file(p, 0.1, MM, s, (100.0, "10 cm (3.94 in) test")), {"put right"}),
    "mm, a square pocket that is no test": lambda p, s: (dxf_file(p, 1, MM, s, (120.0, "Patch pocket 10 cm cut 2")), {"true"}),
    "cm, said to be inches, an allowance": lambda p, s: (dxf_file(p, 0.1, INCH, s, None, "1.5 cm"), {"asked", "put right"}),
    "svg, mm": lambda p, s: (svg_file(p, 1, 'width="{W}mm" height="{H}mm" viewBox="0 0 {W} {H}"', s), {"true"}),
    "svg, 96 to the inch": lambda p, s: (svg_file(p, 96 / 25.4, 'width="{W}" height="{H}"', s), {"asked"}),
    "svg, points": lambda p, s: (svg_file(p, 72 / 25.4, 'width="{W}" height="{H}"', s), {"asked", "put right"}),
    "svg, mm in a viewBox alone": lambda p, s: (svg_file(p, 1, 'viewBox="0 0 {W} {H}"', s), {"asked", "put right"}),
    "svg, cm, percent": lambda p, s: (svg_file(p, 0.1, 'width="100%" viewBox="0 0 {W} {H}"', s), {"asked", "put right"}),
}  # fmt: skip
