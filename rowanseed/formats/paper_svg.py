"""Pieces on paper as SVG: a small map of the pages for the screen, and the sheet at full size as a file in millimetres."""

from collections.abc import Sequence
from xml.etree.ElementTree import Element

from rowanseed.core.geometry.types import Outline
from rowanseed.core.paper.model import PaperSheet, Tile
from rowanseed.formats.clear_ground import svg_label
from rowanseed.formats.drawing import markup, tag
from rowanseed.formats.label_place import clear_place, middle_of
from rowanseed.formats.paper_drawing import PaperDrawing
from rowanseed.formats.pattern_sheet import DrawnLine

NAMESPACE = "http://www.w3.org/2000/svg"
INK, SOFT, ROWAN = "#2B2622", "#8A8178", "#B23A1E"
LOOKS = {
    "cut": (INK, 0.5, "none"),
    "seam": (SOFT, 0.3, "6 3"),
    "old": (ROWAN, 0.4, "2 2"),
    "internal": (INK, 0.35, "8 2 2 2"),
}


def map_svg(drawing: PaperDrawing, tiles: Sequence[Tile], titles: dict[str, str]) -> str:
    """The sheet small, with the pages that are printed by their names, changed edges in the colour of changes."""
    sheet = drawing.sheet
    far_x = max([sheet.width, *(t.left + t.width for t in tiles)])
    far_y = max([sheet.height, *(t.top + t.height for t in tiles)])
    parts: list[Element] = [
        tag(
            "rect", css="page", x=f"{t.left:.1f}", y=f"{t.top:.1f}", width=f"{t.width:.1f}", height=f"{t.height:.1f}",
            fill="#FFFDF8", stroke=SOFT, stroke_width="2",
        )
        for t in tiles
    ]  # fmt: skip
    for id_, lines in drawing.by_piece.items():
        own = [_path(line, 2.2) for line in lines if line.kind in ("cut", "old", "grain")]
        parts.append(tag("g", tag("title", titles.get(id_, id_)), *own))
    for placed in sheet.placed:
        parts.append(_named(drawing.names[placed.id], drawing.by_piece[placed.id]))
    parts += [_text(t.name, t.left + 22, t.top + t.height - 10, 26, SOFT) for t in tiles if len(tiles) > 1]
    said = f"{len(tiles)} pages with {len(drawing.by_piece)} pieces; the list beside it says the same."
    box = f"-6 -6 {far_x + 12:.0f} {far_y + 12:.0f}"
    return markup(tag("svg", *parts, css="paper-map", viewBox=box, role="img", aria_label=said))


def _named(name: str, lines: Sequence[DrawnLine]) -> Element:
    """A piece's name in the largest letters that find room clear of its grain, its number alone where none do."""
    outline = next(line.points for line in lines if line.kind == "cut")
    grain = [line.points for line in lines if line.kind == "grain"]
    number = name.split(" ")[0]
    for words, size in ((name, 34), (name, 26), (name, 20), (number, 34), (number, 20)):
        place = clear_place(outline, 0.56 * size * len(words), 1.3 * size, grain)
        if place is not None:
            return _text(words, place[0], place[1] + 0.35 * size, size)
    return _text(number, *middle_of(outline), 20)


def _text(words: str, x: float, y: float, size: float, fill: str = INK) -> Element:
    return tag("text", words, x=f"{x:.1f}", y=f"{y:.1f}", font_size=f"{size:g}", text_anchor="middle", fill=fill)


def _path(line: DrawnLine, wider: float = 1.0) -> Element:
    colour, width, dashes = LOOKS.get(line.kind, (INK, 0.35, "none"))
    d = _d(line.points) + ("Z" if line.closed else "")
    stroke = f"{width * wider * (2 if wider > 1 else 1):.2f}"
    return tag("path", css=line.kind, d=d, fill="none", stroke=colour, stroke_width=stroke, stroke_dasharray=dashes)


def _d(points: Outline) -> str:
    return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points)


def sheet_svg(drawing: PaperDrawing, title: str) -> str:
    """The whole sheet at full size, for a plotter, a cutting machine's program or a projector."""
    sheet: PaperSheet = drawing.sheet
    groups = [
        tag("g", *[_path(line) for line in lines], css="piece", data_number=id_)
        for id_, lines in drawing.by_piece.items()
    ]
    words = [svg_label(label, INK) for label in drawing.labels]
    wide, high = f"{sheet.width:.2f}", f"{sheet.height:.2f}"
    root = tag(
        "svg", tag("title", title), *groups, *words, xmlns=NAMESPACE, width=f"{wide}mm", height=f"{high}mm",
        viewBox=f"0 0 {wide} {high}",
    )  # fmt: skip
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + markup(root)
