"""Full-size pages, rasterised and put together again, against the pieces: a line must lie within 0.2 mm of where it is cut."""

import math
from dataclasses import replace
from itertools import combinations

import numpy as np
import pypdfium2 as pdfium
import pytest
from shapely import LineString, Point, Polygon, STRtree

from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape, with_allowance
from rowanseed.core.paper.changed import changed_lines, is_changed
from rowanseed.core.paper.model import PAPERS, PaperRequest, roll
from rowanseed.core.paper.pack import pack, tiles_of_lines
from rowanseed.core.pattern.quick import QUICK_SHAPES, draw_quick
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.formats.paper_drawing import PaperPiece, paper_drawing
from rowanseed.formats.paper_pdf import PaperWords, paper_pdf

PX = 12  # pixels a millimetre
CURVE = [(240 + 60 * math.cos(a / 24 * math.pi), 120 + 60 * math.sin(a / 24 * math.pi)) for a in range(-12, 13)]
DRAWN = PieceShape(
    ((0.0, 0.0), *CURVE, (0.0, 170.0)),
    notches=(Notch((120.0, 15.0)), Notch((0.0, 90.0), 2)),
    marks=(Mark("dot", (80.0, 80.0)),),
    lines=(Line("lengthen", ((150.0, 20.0), (150.0, 175.0))),),
    edges={"hem": (26, 0), "side": (0, 1)},
)
PIECE = with_allowance(DRAWN, 15.0)
HALF = replace(
    with_allowance(PieceShape(((0.0, 0.0), (0.0, 95.0), (310.0, 120.0), (310.0, 0.0)), edges={"side": (1, 2)}), 10.0)
)


def pages_of(paper, pieces, overlap=10.0):
    request = PaperRequest(tuple((p.id, p.shape.outline) for p in pieces), paper, overlap)
    sheet = pack(request)
    drawing = paper_drawing(sheet, pieces, "cm")
    return request, drawing, paper_pdf(drawing, paper, overlap, PaperWords("A test"))


def rasters(pdf: bytes):
    document = pdfium.PdfDocument(pdf)
    return [np.asarray(page.render(scale=PX * 25.4 / 72, grayscale=True).to_pil()) for page in document]


def misses(picture, outline, tile, margin):
    """How far from the outline the middle of the dark line lies, at each millimetre of it that this page shows, mm."""
    found = []
    for a, b in zip(outline, (*outline[1:], outline[0]), strict=True):
        steps = max(1, int(math.dist(a, b)))
        long = math.dist(a, b)
        if long < 0.5:
            continue
        nx, ny = -(b[1] - a[1]) / long, (b[0] - a[0]) / long
        for k in range(steps):
            share = (k + 0.5) / steps
            x, y = a[0] + (b[0] - a[0]) * share - tile.left, a[1] + (b[1] - a[1]) * share - tile.top
            if not (2 < x < tile.width - 2 and 2 < y < tile.height - 2):
                continue
            across = np.arange(-1.0, 1.0001, 0.5 / PX)
            columns = np.round((margin + x + nx * across) * PX - 0.5).astype(int)
            rows = np.round((margin + y + ny * across) * PX - 0.5).astype(int)
            dark = picture[rows, columns] < 100
            found.append(abs(float(np.mean(across[dark]))) if dark.any() else 9.0)
    return found


@pytest.mark.parametrize(("name", "overlap"), [("a4", 10.0), ("letter", 0.0), ("a3", 15.0)])
def test_printed_at_100_percent_the_lines_lie_where_they_are_cut(name, overlap):
    pieces = [PaperPiece("1", ("1 Front", "Size 12, cut 2"), PIECE), PaperPiece("2", ("2 Back",), HALF)]
    _, drawing, pdf = pages_of(PAPERS[name], pieces, overlap)
    first, *pages = rasters(pdf)
    assert len(pages) == len(drawing.sheet.tiles) and abs(first.shape[0] - PAPERS[name].height_mm * PX) < 2
    seen = 0
    for picture, tile in zip(pages, drawing.sheet.tiles, strict=True):
        for outline in drawing.outlines:
            found = sorted(misses(picture, outline, tile, 10.0))
            seen += len(found)
            # Where a mark of the page crosses a line its middle cannot be told: one place in a hundred.
            assert not found or found[int(0.985 * (len(found) - 1))] < 0.2
    whole = sum(math.dist(a, b) for o in drawing.outlines for a, b in zip(o, (*o[1:], o[0]), strict=True))
    assert seen > 0.9 * whole


def test_the_test_squares_measure_what_they_say():
    _, _, pdf = pages_of(PAPERS["a4"], [PaperPiece("1", ("1",), PIECE)])
    dark = rasters(pdf)[0] < 100
    row = next(r for r in range(200, 900) if dark[r, 14 * PX + 40 : 60 * PX].mean() > 0.95)
    columns = np.flatnonzero(dark[row + 20 * PX, : 150 * PX])
    edges = [
        float(np.mean(run)) for run in np.split(columns, np.flatnonzero(np.diff(columns) > 5) + 1) if len(run) >= 3
    ]
    wide = [edges[1] - edges[0]] + [e - edges[-2] for e in edges[-1:]]
    assert any(abs(w / PX - 50.0) < 0.2 for w in wide) and any(abs(w / PX - 50.8) < 0.2 for w in wide)


def test_a_roll_is_printed_on_one_long_page():
    _, drawing, pdf = pages_of(roll(400.0), [PaperPiece("1", ("1",), PIECE), PaperPiece("2", ("2",), HALF)])
    _, page = rasters(pdf)
    assert page.shape[1] == 400 * PX and not any("meets" in label.text for label in drawing.labels)
    found = sorted(misses(page, drawing.outlines[0], drawing.sheet.tiles[0], 10.0))
    assert found[int(0.985 * len(found))] < 0.2


def test_the_old_line_is_drawn_beside_a_changed_one_and_only_its_pages_are_taken():
    longer = replace(DRAWN, outline=tuple((x + 20.0 if x > 150 else x, y) for x, y in DRAWN.outline))
    now, before = with_allowance(longer, 15.0), PIECE
    assert is_changed(before.outline, now.outline) and not is_changed(before.outline, before.outline)
    old = changed_lines(before.outline, now.outline)
    assert old and max(x for line in old for x, _ in line) > 250
    request, drawing, _ = pages_of(PAPERS["a4"], [PaperPiece("1", ("1",), now, before)])
    drawn = [line.points for line in drawing.lines if line.kind == "old"]
    assert len(drawn) == len(old)
    tiles = tiles_of_lines(request, drawing.sheet, drawn)
    assert 0 < len(tiles) <= len(drawing.sheet.tiles)


def test_every_piece_says_what_it_is_and_every_edge_its_allowance():
    _, drawing, pdf = pages_of(PAPERS["a3"], [PaperPiece("1", ("1 Front", "Size 12", "Cut 2"), PIECE)])
    text = "".join(page.get_textpage().get_text_bounded() for page in pdfium.PdfDocument(pdf))
    for words in (
        "1 Front",
        "Size 12",
        "Cut 2",
        "side: seam allowance 1.5 cm",
        "lengthen or shorten here",
        "Test square: 2 in",
    ):
        assert words in text
    assert {line.kind for line in drawing.lines} >= {"cut", "seam", "notch", "grain", "mark", "internal"}


def garment(module, size):
    pattern = module.pattern()
    return [
        PaperPiece(
            p.number,
            (f"{p.number} {p.name}", f"Size {size}. Cut {p.cut}, one mirrored.", "Allotment shirt"),
            p.shapes[size],
        )
        for p in pattern.pieces
    ]


def usual_shapes():
    drawn = [
        (s.title, draw_quick(name, {m.key: m.example for m in s.measures}, "cm")) for name, s in QUICK_SHAPES.items()
    ]
    return [
        PaperPiece(str(k), (f"{k} {title}", "Size 14. Cut 2."), with_allowance(shape, 15.0))
        for k, (title, shape) in enumerate(drawn)
    ]


def letters_of(pdf: bytes, margin: float, tile):
    """Where each letter's middle stands on the sheet and how high it is, as a PDF reader finds it, mm."""
    page = pdfium.PdfDocument(pdf)[1]
    text, high = page.get_textpage(), page.get_height()
    for k in range(text.count_chars()):
        left, foot, right, top = text.get_charbox(k)
        x, y = (
            (left + right) / 2 * 25.4 / 72 - margin + tile.left,
            (high - (foot + top) / 2) * 25.4 / 72 - margin + tile.top,
        )
        if right > left and 0 < x < tile.width and 0 < y < tile.height:  # the page's own words stand in its margin
            yield Point(x, y)


@pytest.mark.parametrize(
    "pieces",
    [garment(overshirt, "8"), garment(trousers, "46"), garment(waistcoat, "XS"), usual_shapes()],
    ids=["overshirt", "trousers", "waistcoat", "usual shapes"],
)
def test_no_letter_on_a_piece_lies_on_a_line_of_it(pieces):
    paper = roll(900.0)
    _, drawing, pdf = pages_of(paper, pieces, 0.0)
    (tile,) = drawing.sheet.tiles
    rings = [LineString([*line.points, line.points[0]] if line.closed else line.points) for line in drawing.lines]
    inside = STRtree([Polygon(outline) for outline in drawing.outlines])
    letters = list(letters_of(pdf, paper.margin_mm, tile))
    assert len(letters) > 400 and not drawing.beside
    assert min(STRtree(rings).query_nearest(letters, return_distance=True)[1]) > 0.8
    assert len(set(inside.query(letters, predicate="within")[0])) == len(letters)
    grounds = [label.ground for label in drawing.labels]
    assert not [
        (a, b)
        for a, b in combinations(range(len(grounds)), 2)
        if grounds[a].buffer(-0.5).intersects(grounds[b].buffer(-0.5))
    ]


def test_what_finds_no_room_on_a_piece_is_said_beside_the_map():
    sliver = with_allowance(
        PieceShape(((0.0, 0.0), (160.0, 0.0), (160.0, 3.0), (0.0, 3.0)), edges={"long side": (0, 1)}), 0.0
    )
    _, drawing, pdf = pages_of(PAPERS["a4"], [PaperPiece("4", ("4 Hanging loop", "Cut 1"), sliver)])
    said = pdfium.PdfDocument(pdf)[0].get_textpage().get_text_bounded()
    written = {label.text for label in drawing.labels}
    left = {words for _, words in drawing.beside}
    assert left and all(words in said for words in left) and not left & written
