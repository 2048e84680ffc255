"""Drawings of the Fit stage: figures, chart of change, seams walked; each says what its numbers say."""

import re
import xml.etree.ElementTree as ET
from datetime import date

import pytest

from rowanseed.core.body import MEASUREMENTS
from rowanseed.core.geometry.shape import Notch, PieceShape
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, walk
from rowanseed.formats.change_svg import change_svg
from rowanseed.formats.figure_svg import ADULT, CHILD, HIGH, figures_svg
from rowanseed.formats.walk_svg import walk_svg


def panel(length, notch=None):
    outline = ((0.0, 0.0), (length, 0.0), (length, 100.0), (0.0, 100.0))
    notches = (Notch((notch, 100.0)),) if notch else ()
    return PieceShape(outline, edges={"side": (2, 3)}, notches=notches)


def walked(a, b, meant=0.0):
    pieces = [AlterPiece("1", a), AlterPiece("2", b)]
    return walk(pieces, [Seam(("1", "side"), ("2", "side"), meant)])[0]


def bars(svg):
    """Where each side's bar ends, and how wide the shaded rest is."""
    ends = [float(x) for x in re.findall(r'<path d="M8.0 [\d.]+H([\d.]+)" stroke="#2B2622" stroke-width="5"', svg)]
    rest = re.findall(r'<rect x="[\d.]+" y="[\d.]+" width="([\d.]+)"', svg)
    return ends, [float(w) for w in rest]


@pytest.mark.parametrize("is_child", [False, True])
def test_every_measurement_has_its_tape_on_the_side_it_is_taken(is_child):
    root = ET.fromstring(figures_svg(is_child))
    front, back = root.findall("g")
    for side, group in (("front", front), ("back", back)):
        tapes = {e.get("data-tape") for e in group.iter() if e.get("data-tape")}
        assert tapes == {m.key for m in MEASUREMENTS if m.side == side}
        assert group.find("text").text == side


def test_girths_lie_below_each_other_as_on_a_body():
    root = ET.fromstring(figures_svg(False))
    at = {e.get("data-tape"): float(e.get("cy")) for e in root.iter() if e.tag == "ellipse" and e.get("data-tape")}
    order = ["head", "neck", "high_bust", "bust", "under_bust", "waist", "hip", "thigh"]
    assert [at[key] for key in order] == sorted(at[key] for key in order)
    assert all(0 < y < HIGH for y in at.values())


def test_a_childs_head_is_a_larger_share_of_its_height():
    # Common practice in figure drawing, no source: about seven and a half heads for an adult, six for a child of six.
    assert 1 / ADULT.chin == pytest.approx(7.5, abs=0.3) and 1 / CHILD.chin == pytest.approx(6, abs=0.3)


def test_the_chart_of_change_rises_with_the_measure_and_says_the_whole_change():
    taken = {
        date(2025, 1, 1): parse_length("60 cm"),
        date(2025, 7, 1): parse_length("62 cm"),
        date(2026, 1, 1): parse_length("66 cm"),
    }
    svg = change_svg([("Waist", taken), ("Hip", {date(2025, 1, 1): parse_length("70 cm")})], "cm")
    root = ET.fromstring(svg)
    (line,) = [e for e in root.iter() if e.tag == "polyline"]  # a measure taken once has no line
    points = [tuple(map(float, p.split(","))) for p in line.get("points").split()]
    assert [x for x, _ in points] == sorted(x for x, _ in points)
    ys = [y for _, y in points]
    assert ys == sorted(ys, reverse=True)
    # A third of the rise, 2 of 6 cm, by the middle set.
    assert (ys[0] - ys[1]) / (ys[0] - ys[2]) == pytest.approx(2 / 6, abs=0.01)
    assert "+6 cm" in svg and change_svg([("Hip", {})], "cm") == ""


def test_two_edges_walked_are_bars_as_long_as_they_are_with_the_rest_shaded():
    svg = walk_svg(walked(panel(400.0), panel(380.0)), {"1": "Front", "2": "Back"}, "cm")
    ET.fromstring(svg)
    (a, b), (rest,) = bars(svg)
    assert (b - 8) / (a - 8) == pytest.approx(380 / 400, abs=0.001)
    assert rest / (a - 8) == pytest.approx(20 / 400, abs=0.001)
    assert "1 Front, side" in svg and "2 cm" in svg and "meant" not in svg


def test_a_difference_that_is_meant_is_said_to_be():
    svg = walk_svg(walked(panel(400.0), panel(380.0), 20.0), {}, "cm")
    assert "2 cm meant" in svg
    assert not bars(walk_svg(walked(panel(400.0), panel(400.0)), {}, "cm"))[1]


def test_a_notch_out_of_place_is_joined_to_its_partner_by_a_warning_line():
    apart = walk_svg(walked(panel(400.0, 150.0), panel(400.0, 170.0)), {}, "cm")
    together = walk_svg(walked(panel(400.0, 150.0), panel(400.0, 151.0)), {}, "cm")
    warned = re.compile(r'stroke="#B23A1E" stroke-width="2" stroke-dasharray')
    assert warned.search(apart) and not warned.search(together)
