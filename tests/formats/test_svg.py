"""Drawings: well-formed, to scale, escaped, and saying what they show."""

import csv
import io
import itertools
import re
import xml.etree.ElementTree as ET

import ezdxf
import pypdfium2 as pdfium
import pytest
import shapely

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayPiece
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, read_lay
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.quick import draw_quick
from rowanseed.core.prints import PRINT_KINDS, Print
from rowanseed.formats.ease_svg import EaseLine, ease_svg
from rowanseed.formats.lay_export import lay_csv, lay_dxf, lay_pdf
from rowanseed.formats.piece_svg import piece_svg
from rowanseed.formats.svg import LayDrawing
from tests.core.lay.pieces import SHIRT, rect, request

CLOTH = Cloth("Leaf", parse_length("140 cm"), parse_length("1 cm"))


def drawn(unit="cm", length=None, spread="single", cloth=CLOTH, pieces=SHIRT, name="Piece"):
    found = lay(request(pieces, selvage_mm=(10.0, 10.0), spread=spread, length_mm=length))
    return found, LayDrawing(found, cloth, unit, lambda i: (i, name), length).svg(read_lay(found))


def texts(svg):
    return ["".join(t.itertext()) for t in ET.fromstring(svg).iter() if t.tag.endswith("text")]


@pytest.mark.parametrize("kind", PRINT_KINDS)
def test_a_lay_on_any_print_is_well_formed_without_style_attributes(kind):
    cloth = Cloth("C", parse_length("140 cm"), parse_length("1 cm"), print=Print(kind, even=False))
    _, svg = drawn(cloth=cloth)
    ET.fromstring(svg)
    assert "style=" not in svg and "<script" not in svg and 'role="group"' in svg


def test_every_piece_is_drawn_to_scale_at_its_own_coordinates():
    found, svg = drawn()
    for placement in found.placements:
        x, y = placement.outline[0]
        assert f"M{x:.1f} {y:.1f}L" in svg


def test_fold_and_selvage_are_named():
    assert {"fold", "selvage"} <= set(texts(drawn(spread="lengthwise-fold")[1]))
    assert texts(drawn(spread="single")[1]).count("selvage") == 2


def test_grain_arrows_carry_their_distance_at_both_ends():
    piece = LayPiece("1", rect(600.0, 300.0), marks={GRAIN_HEAD: (60.0, 150.0), GRAIN_FOOT: (540.0, 150.0)})
    assert texts(drawn(pieces=[piece])[1]).count("16 cm") == 2  # 150 mm and the selvage of 10
    assert texts(drawn("in", pieces=[piece])[1]).count("6 1/4 in") == 2


def test_short_cloth_shows_where_it_ends():
    assert "the cloth in hand ends" in texts(drawn(length=700.0)[1])
    assert "the cloth in hand ends" not in texts(drawn(length=9000.0)[1])


def test_names_are_escaped():
    assert "<b>" not in drawn(name='<b>&"')[1]


def test_a_piece_is_drawn_upright_with_its_fold_dashed():
    svg = piece_svg(draw_quick("yoke", {"neck_width": 80, "neck_depth": 20, "shoulder": 140, "shoulder_drop": 40,
                                        "centre_depth": 90, "foot_width": 220}), "Yoke")  # fmt: skip
    root = ET.fromstring(svg)
    assert "stroke-dasharray" in svg and root.get("aria-label") == "Yoke"
    _, _, width, height = (float(v) for v in root.get("viewBox").split())
    assert width > height  # a yoke is wider across than deep


def test_the_ease_picture_places_larger_sizes_further_from_the_body():
    line = EaseLine("bust", parse_length("38 in"), True, {"12": 20.0, "14": 71.0, "16": 122.0})
    svg = ease_svg([line], {"bust": "14"}, {"bust": "14"}, "cm")
    ET.fromstring(svg)
    at = {size: float(x) for size, x in re.findall(r'<title>size (\d+):[^<]*</title><circle cx="([\d.]+)"', svg)}
    assert at["12"] < at["14"] < at["16"]
    assert (at["16"] - at["14"]) == pytest.approx(at["14"] - at["12"], abs=0.2)
    assert ease_svg([], {}, {}, "cm") == ""


def _any_lay(spread):
    asked = request(SHIRT, spread=spread, gap_mm=3.0)
    return lay(asked)


@pytest.mark.parametrize("spread", ["single", "part-fold", "double-fold", "crosswise-fold", "fold-then-single"])
def test_a_lay_in_any_spread_is_drawn_and_exported_with_every_piece_inside_its_cloth(spread):
    found = _any_lay(spread)
    document = ezdxf.read(io.StringIO(lay_dxf(found, lambda i: (i, i))))
    space = document.modelspace()
    cut = [shapely.Polygon([p[:2] for p in e.get_points()]) for e in space if e.dxf.layer == "CUT"]
    cloth = [shapely.Polygon([p[:2] for p in e.get_points()]) for e in space if e.dxf.layer == "CLOTH"]
    assert len(cut) == len(found.placements) and len(cloth) == len(found.lanes) and document.units == 4  # millimetres
    table = shapely.union_all(cloth).buffer(0.1)
    assert all(table.contains(piece) for piece in cut)
    for a, b in itertools.combinations(cut, 2):
        assert a.intersection(b).area < 0.5
    pdf = lay_pdf(found, read_lay(found), lambda i: (i, i), "A lay", "cm")
    assert pdf.startswith(b"%PDF") and pdf.rstrip().endswith(b"%%EOF")
    words = pdfium.PdfDocument(pdf)[0].get_textpage().get_text_bounded()
    assert {edge for lane in found.lanes for edge in lane.edges} <= set(words.split()) and "50 cm" in words
    rows = list(csv.DictReader(io.StringIO(lay_csv(read_lay(found), lambda i: (i, i), "cm"))))
    assert len(rows) == len(found.placements)
    for row, reading in zip(rows, read_lay(found), strict=True):
        assert float(row["corner across (mm)"]) == pytest.approx(min(y for _, y in reading.placement.outline), abs=0.06)
        assert row["how it lies"] == reading.how and int(row["layers"]) == reading.placement.layers
