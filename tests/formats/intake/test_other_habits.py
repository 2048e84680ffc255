"""Readers held against files that our writers did not make."""

import io
import math

import ezdxf
import pytest
from reportlab.pdfgen.canvas import Canvas
from shapely import Polygon, hausdorff_distance
from shapely.affinity import translate

from rowanseed.core.errors import IntakeError
from rowanseed.core.intake.model import Intake, IntakeOptions
from rowanseed.formats.intake.read import read_intake

from .files import MM, bodice, cut_pages, d_of, d_relative, loose_dxf, moved, svg_file


def away(intake: Intake, expected: list[tuple[float, float]], piece: int = 0, size: str | None = None) -> float:
    """How far a proposed outline lies from the expected one where both are laid corner to corner, by the best quarter turn."""
    lines = intake.pieces[piece].sizes
    raw = Polygon(lines[size if size is not None else next(iter(lines))].outline)
    got = translate(raw, -raw.bounds[0], -raw.bounds[1])
    best = math.inf
    for turn in range(4):
        turned = [_turn(p, turn) for p in expected]
        x0, y0 = min(x for x, _ in turned), min(y for _, y in turned)
        ring = Polygon([(x - x0, y - y0) for x, y in turned]).exterior
        best = min(best, hausdorff_distance(ring, got.exterior))
    return best


def _turn(p: tuple[float, float], quarters: int) -> tuple[float, float]:
    for _ in range(quarters):
        p = (-p[1], p[0])
    return p


def codes(intake: Intake) -> set[str]:
    """Every finding's code."""
    return {f.code for f in (*intake.findings, *(f for p in intake.pieces for f in p.findings))}


@pytest.mark.parametrize(
    ("body", "width", "box"),
    [
        (f'<path d="{d_of(bodice())}"/>', "300mm", "0 0 300 500"),
        (f'<path d="{d_relative(bodice())}" fill="none" stroke="black"/>', "30cm", "0 0 300 500"),
        (
            f'<g transform="scale(0.0393700787)"><path d="{d_of(bodice())}"/></g>',
            "11.811024in",
            "0 0 11.811024 19.68504",
        ),
        (
            f'<g transform="translate(-40 10) rotate(90)"><path transform="translate(5,-80)" d="{d_of(bodice())}"/></g>',
            "300mm",
            "0 0 300 500",
        ),
        (f'<polygon points="{" ".join(f"{x},{y}" for x, y in bodice())}"/>', "300mm", "0 0 300 500"),
        (f'<defs><path id="p" d="{d_of(bodice())}"/></defs><use href="#p" x="20" y="5"/>', "300mm", "0 0 300 500"),
    ],
)
def test_svg_of_other_habits(body: str, width: str, box: str) -> None:
    """Absolute and relative paths, inches, groups with transforms, polygons, uses: the same piece."""
    height = {"300mm": "500mm", "30cm": "50cm"}.get(width, "19.68504in")
    intake = read_intake(svg_file(body, width, height, box))
    assert len(intake.pieces) == 1
    assert away(intake, bodice()) < 0.1


def test_svg_without_a_unit_is_taken_as_96_to_the_inch_and_says_so() -> None:
    """A file in bare pixels; with its unit said, it is taken as that."""
    px = [(x * 96 / 25.4, y * 96 / 25.4) for x, y in bodice()]
    intake = read_intake(svg_file(f'<path d="{d_of(px)}"/>', "1200", "1900", None))
    assert away(intake, bodice()) < 0.1
    assert "guess-unit" in codes(intake)
    inches = [(x / 25.4, y / 25.4) for x, y in bodice()]
    told = read_intake(svg_file(f'<path d="{d_of(inches)}"/>', "12", "20", "0 0 12 20"), IntakeOptions(unit="in"))
    assert away(told, bodice()) < 0.1
    assert "guess-unit" not in codes(told)


def test_curves_are_flattened_within_a_tenth() -> None:
    """A circle of four cubic curves, and one of arcs: the area of the circle, radius 100 mm."""
    k = 100 * 4 / 3 * math.tan(math.pi / 8)
    cubic = f"M200 100C200 {100 + k} {100 + k} 200 100 200S0 {100 + k} 0 100S{100 - k} 0 100 0S200 {100 - k} 200 100Z"
    arcs = "M0 100A100 100 0 1 1 200 100A100 100 0 1 1 0 100Z"
    for d in (cubic, arcs):
        intake = read_intake(svg_file(f'<path d="{d}"/>', "200mm", "200mm", "0 0 200 200"))
        outline = intake.pieces[0].sizes[""].outline
        assert all(abs(math.dist(p, (100, 100)) - 100) < 0.1 for p in outline)
        assert Polygon(outline).area == pytest.approx(math.pi * 100**2, rel=2e-3)


def test_layers_named_after_sizes_are_sizes() -> None:
    """Groups called Size 8 to Size 12: each outline is that size's, the grain of a common layer is everyone's."""
    body = "".join(f'<g id="Size_{8 + 2 * k}"><path d="{d_of(bodice(9.0 * k))}"/></g>' for k in range(3))
    body += '<g id="common"><path d="M100 120L100 380" stroke="black"/><path d="M96 128L100 120L104 128" stroke="black"/></g>'
    body += '<text x="60" y="200" font-size="12">2 BACK</text><text x="60" y="216" font-size="12">Cut 2</text>'
    intake = read_intake(svg_file(body, "300mm", "500mm", "0 0 300 500"))
    assert intake.sizes == ("8", "10", "12")
    piece = intake.pieces[0]
    assert (piece.number, piece.name, piece.cut, piece.mirrored) == ("2", "Back", 2, True)
    for k, size in enumerate(intake.sizes):
        assert away(intake, bodice(9.0 * k), size=size) < 0.1
        (ax, ay), (bx, by) = piece.sizes[size].grain or ((0, 0), (0, 0))
        assert (abs(bx - ax), abs(by - ay)) == pytest.approx((260, 0), abs=0.01)


def test_a_group_gives_its_name_and_a_fold_without_a_mark_is_said() -> None:
    """A group called Front_bodice; words that say fold where nothing is drawn for it."""
    body = f'<g id="g12"><g id="Front_bodice"><path id="path77" d="{d_of(bodice())}"/></g></g>'
    body += '<text x="60" y="200" font-size="12">cut 1 on fold</text>'
    intake = read_intake(svg_file(body, "300mm", "500mm", "0 0 300 500"))
    assert (intake.pieces[0].name, intake.pieces[0].cut) == ("Front bodice", 1)
    assert {"guess-name", "guess-fold-missing"} <= codes(intake)


def test_nested_lines_without_names_are_sizes_in_the_order_of_their_size() -> None:
    """Twelve lines inside each other, none named: twelve sizes, the smallest first, and that it is a guess is said."""
    body = "".join(f'<path d="{d_of(bodice(8.0 * k))}"/>' for k in (5, 2, 0, 11, 7, 3, 1, 9, 4, 10, 6, 8))
    intake = read_intake(svg_file(body, "400mm", "600mm", "0 0 400 600"))
    assert len(intake.sizes) == 12
    assert "guess-sizes-nested" in codes(intake)
    for k, size in enumerate(intake.sizes):
        assert away(intake, bodice(8.0 * k), size=size) < 0.1


def test_sizes_told_by_the_kind_of_line() -> None:
    """Solid, dashed and dotted lines in two pieces: the same kind is the same size in both."""
    looks = ('stroke="#000"', 'stroke="#000" stroke-dasharray="8 3"', 'stroke="#c00" stroke-dasharray="2 2"')
    body = "".join(f'<path fill="none" {look} d="{d_of(bodice(9.0 * k))}"/>' for k, look in enumerate(looks))
    body += "".join(
        f'<path fill="none" {look} d="{d_of(moved(bodice(9.0 * k), 330, 0))}"/>' for k, look in enumerate(looks)
    )
    intake = read_intake(svg_file(body, "700mm", "500mm", "0 0 700 500"))
    assert len(intake.pieces) == 2
    assert len(intake.sizes) == 3
    assert "guess-sizes-by-style" in codes(intake)
    assert away(intake, bodice(18.0), 1, intake.sizes[2]) < 0.1


def test_an_outline_in_parts_with_gaps_is_closed_and_the_gap_said() -> None:
    """An outline of five open paths, one end 0.8 mm short of the next."""
    p = bodice()
    parts = [p[:10], p[9:18], p[17:30], p[29:32], [*p[31:], (p[0][0], p[0][1] + 0.8)]]
    body = "".join(f'<path fill="none" stroke="black" d="{d_of(part, False)}"/>' for part in parts)
    intake = read_intake(svg_file(body, "300mm", "500mm", "0 0 300 500"))
    assert away(intake, bodice()) < 1.0
    assert "guess-closed" in codes(intake)


def test_dashes_drawn_as_single_strokes_are_bridged() -> None:
    """A dashed line that the file holds as hundreds of short strokes."""
    from shapely import LineString
    from shapely.ops import substring

    ring = LineString([*bodice(), bodice()[0]])
    dashes = [substring(ring, at, at + 6) for at in range(0, int(ring.length), 9)]
    body = "".join(f'<path stroke="black" d="{d_of(list(dash.coords), False)}"/>' for dash in dashes)
    intake = read_intake(svg_file(body, "300mm", "500mm", "0 0 300 500"))
    assert len(intake.pieces) == 1
    assert Polygon(intake.pieces[0].sizes[""].outline).area == pytest.approx(Polygon(bodice()).area, rel=0.005)


def test_inner_lines_that_end_on_the_outline_do_not_break_it() -> None:
    """Single strokes that meet at the corners, with a dart's legs from the same layer ending on the side."""
    p = bodice()
    body = "".join(
        f'<line x1="{a[0]}" y1="{a[1]}" x2="{b[0]}" y2="{b[1]}" stroke="black"/>'
        for a, b in zip(p, [*p[1:], p[0]], strict=True)
    )
    body += '<path fill="none" stroke="black" d="M232 270L110 290L233 310"/>'
    intake = read_intake(svg_file(body, "300mm", "500mm", "0 0 300 500"))
    assert len(intake.pieces) == 1
    assert away(intake, bodice()) < 0.5


def test_fold_notches_dots_and_seam_line_are_proposed() -> None:
    """A bracketed arrow at the centre, ticks at the side, a ring and a cross inside."""
    body = f'<path fill="none" stroke="black" d="{d_of(bodice())}"/>'
    body += '<path fill="none" stroke="black" d="M3 150L18 150L18 330L3 330"/>'
    body += '<path stroke="black" d="M231.5 250L225 250"/><path stroke="black" d="M233.3 320L227 320"/>'
    body += '<circle cx="120" cy="150" r="3" fill="none" stroke="black"/>'
    body += '<path stroke="black" d="M96 300L104 300"/><path stroke="black" d="M100 296L100 304"/>'
    piece = read_intake(svg_file(body, "300mm", "500mm", "0 0 300 500")).pieces[0]
    lines = piece.sizes[""]
    assert lines.fold_edge is not None
    assert math.dist(*lines.fold_edge) == pytest.approx(340, abs=0.5)
    assert abs(lines.fold_edge[0][1] - lines.fold_edge[1][1]) < 1e-6  # turned so that the fold lies along x
    assert len(lines.notches) == 2
    assert len(lines.points) == 2
    assert {"guess-fold", "guess-notch", "guess-dot"} <= {f.code for f in piece.findings}


@pytest.mark.parametrize(("version", "unit"), [("R12", 1.0), ("R2000", 1.0), ("R2018", 1.0)])
def test_loose_lines_in_dxf_of_old_and_new_versions(version: str, unit: float) -> None:
    """Single LINE entities in no order, in every age of the format."""
    intake = read_intake(loose_dxf(bodice(), version, unit), IntakeOptions(unit="mm"))
    assert away(intake, bodice()) < 0.1


def test_dxf_in_inches_by_its_header() -> None:
    """$INSUNITS 1: inches. A polyline with a bulge: half a circle of 4 in across."""
    document = ezdxf.new("R2010", units=1)
    document.modelspace().add_lwpolyline([(0, 0, 0), (10, 0, 1), (10, 4, 0), (0, 4, 0)], format="xyb", close=True)
    out = io.StringIO()
    document.write(out)
    intake = read_intake(out.getvalue().encode())
    assert intake.unit == "in"
    area = Polygon(intake.pieces[0].sizes[""].outline).area / 25.4**2
    assert area == pytest.approx(40 + math.pi * 2**2 / 2, rel=2e-3)


def test_apparel_dxf_written_by_hand() -> None:
    """Blocks with numbered layers as ASTM D6673 has them, two sizes a piece, English units; written entity by entity."""
    document = ezdxf.new("R12")
    for size, grow in (("S", 0.0), ("M", 10.0)):
        block = document.blocks.new(f"FRONT-{size}")
        points = [(x / 25.4, -y / 25.4) for x, y in bodice(grow)]
        block.add_polyline2d(points, close=True, dxfattribs={"layer": "1"})
        block.add_line((4, -4), (4, -14), dxfattribs={"layer": "7"})
        block.add_point(points[20], dxfattribs={"layer": "4"})
        block.add_point((5, -6), dxfattribs={"layer": "13"})
        for k, words in enumerate(("PIECE NAME: FRONT", f"SIZE: {size}", "QUANTITY: 2", "UNITS: ENGLISH")):
            block.add_text(words, dxfattribs={"layer": "1", "insert": (3, -5 - k)})
        document.modelspace().add_blockref(block.name, (grow * 30, 0))
    out = io.StringIO()
    document.write(out)
    intake = read_intake(out.getvalue().encode())
    assert intake.sizes == ("S", "M")
    assert [(p.name, p.cut) for p in intake.pieces] == [("Front", 2)]
    assert away(intake, bodice(10.0), size="M") < 0.1
    lines = intake.pieces[0].sizes["S"]
    assert (len(lines.notches), len(lines.points)) == (1, 1)
    assert math.dist(*lines.grain) == pytest.approx(254)


@pytest.mark.parametrize(
    ("frame", "overlap", "label"), [(True, 0.0, False), (False, 0.0, False), (True, 10.0, False), (True, 12.7, True)]
)
def test_pages_that_cut_their_lines_are_put_together(frame: bool, overlap: float, label: bool) -> None:
    """A4 pages made by reportlab whose lines end at the frame, with and without overlap and labels."""
    lines = [moved(bodice(60), 5, 5), moved(bodice(0), 330, 60), moved(bodice(40), 20, 560)]
    intake = read_intake(cut_pages(lines, frame, overlap, label))
    assert len(intake.pieces) == 3
    areas = sorted(Polygon(p.sizes[""].outline).area for p in intake.pieces)
    assert areas == pytest.approx(sorted(Polygon(line).area for line in lines), rel=1e-3)


def test_pages_as_told() -> None:
    """With columns, rows and margin said, nothing is guessed."""
    lines = [moved(bodice(60), 5, 5), moved(bodice(0), 330, 60)]
    intake = read_intake(cut_pages(lines), IntakeOptions(columns=3, rows=2, overlap=0.0, margin=10.0))
    assert len(intake.pieces) == 2
    assert "guess-pages" not in codes(intake)
    with pytest.raises(IntakeError):
        read_intake(cut_pages(lines), IntakeOptions(columns=1, rows=2))


def test_a_printed_page_that_shrank_is_scaled_by_its_test_square() -> None:
    """Everything at 94 %, with a square that says 10 cm: the piece comes out at its true size, and that is said."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(400 * MM, 560 * MM))
    canvas.scale(0.94, 0.94)
    path = canvas.beginPath()
    for k, (x, y) in enumerate(moved(bodice(), 10, 10)):
        (path.lineTo if k else path.moveTo)(x * MM, (540 - y) * MM)
    path.close()
    canvas.drawPath(path)
    canvas.rect(300 * MM, 200 * MM, 100 * MM, 100 * MM)
    canvas.drawString(310 * MM, 250 * MM, "Test square 10 cm x 10 cm")
    canvas.save()
    intake = read_intake(out.getvalue())
    assert len(intake.pieces) == 1
    assert intake.scale == pytest.approx(1 / 0.94, rel=1e-4)
    assert away(intake, bodice()) < 0.1
    assert "scale-corrected" in codes(intake)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"\x89PNG\r\n\x1a\n....", "Photographs"),
        (b"PK\x03\x04....", "Unpack"),
        (b"hello", "no pattern file"),
        (b"%PDF-1.4 nothing", "damaged"),
        (b"<svg", "SVG"),
        (b"  0\nSECTION\n  2\nENTITIES\n", "no lines"),
        (b"{}", "not a Rowanseed"),
    ],
)
def test_what_is_no_pattern_is_refused_in_words(data: bytes, words: str) -> None:
    """Each kind of wrong file gets its own words."""
    with pytest.raises(IntakeError) as refused:
        read_intake(data)
    assert words.lower() in refused.value.text.lower()


def test_a_pdf_of_pictures_points_to_photographs() -> None:
    """A scan in a PDF holds no lines."""
    from PIL import Image
    from reportlab.lib.utils import ImageReader

    out = io.BytesIO()
    canvas = Canvas(out)
    canvas.drawImage(ImageReader(Image.new("L", (60, 60), 128)), 0, 0, 500, 700)
    canvas.save()
    with pytest.raises(IntakeError) as refused:
        read_intake(out.getvalue())
    assert "Photographs" in refused.value.text
