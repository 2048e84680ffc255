"""A pattern as SVG to true size: a group for each piece, in it a group for each size, each line with the class of what it is."""

from xml.etree.ElementTree import Element

from rowanseed.core.geometry.types import Outline
from rowanseed.core.pattern.model import Pattern
from rowanseed.formats.clear_ground import svg_label
from rowanseed.formats.drawing import markup, tag
from rowanseed.formats.pattern_sheet import DrawnLine, pattern_sheet

NAMESPACE = "http://www.w3.org/2000/svg"
# One grey for all sizes would do; a hue each keeps nested lines apart on paper.
LOOKS = {"cut": ("#2B2622", "0.5", "none"), "seam": ("#8A8178", "0.3", "6 3"), "fold": ("#3F5873", "0.5", "none")}
PLAIN = ("#2B2622", "0.35", "none")


def pattern_svg(pattern: Pattern, sizes: tuple[str, ...] | None = None) -> str:
    """Return the pieces of a pattern in all its sizes, or some, as an SVG file in millimetres."""
    sheet = pattern_sheet(pattern, sizes=sizes)
    groups = []
    for drawn in sheet.pieces:
        words = [svg_label(label, PLAIN[0]) for label in drawn.words]
        parts = [
            tag("g", *[_line(line) for line in lines], css="size", data_size=size, id=f"p{drawn.piece.number}-{k}")
            for k, (size, lines) in enumerate(drawn.sizes.items())
        ]
        groups.append(tag("g", *words, *parts, css="piece", data_number=drawn.piece.number, data_name=drawn.piece.name))
    wide, high = f"{sheet.width:.2f}", f"{sheet.height:.2f}"
    root = tag(
        "svg",
        tag("title", pattern.name),
        *groups,
        xmlns=NAMESPACE,
        width=f"{wide}mm",
        height=f"{high}mm",
        viewBox=f"0 0 {wide} {high}",
    )
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + markup(root)


def _line(line: DrawnLine) -> Element:
    colour, width, dashes = LOOKS.get(line.kind, PLAIN)
    d = _d(line.points) + ("Z" if line.closed else "")
    return tag("path", css=line.kind, d=d, fill="none", stroke=colour, stroke_width=width, stroke_dasharray=dashes)


def _d(points: Outline) -> str:
    return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points)
