"""Prints as drawn: at their true repeat and place, half drops with a second column, bars that run past the repeat's end."""

import re

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lengths import parse_length
from rowanseed.core.prints import Bar, Print
from rowanseed.formats.drawing import markup
from rowanseed.formats.preview_svg import composed, inverse, transformed
from rowanseed.formats.print_svg import moved_tile, print_tile


def cloth(print_, **more):
    return Cloth("Test", parse_length("140 cm"), parse_length("0 cm"), print=print_, **more)


def test_a_tile_is_one_repeat_at_its_place():
    tile = print_tile(cloth(Print("plaid", True, 120.0, 90.0, 15.0, 25.0)), "t")
    assert (tile.get("width"), tile.get("height")) == ("120.00", "90.00")
    assert tile.get("patternTransform") == "translate(15.00 25.00)"


def test_a_half_drop_has_two_columns_the_second_half_a_repeat_further():
    text = markup(print_tile(cloth(Print("motif", True, 120.0, 90.0, half_drop=True)), "t"))
    assert 'height="180.00"' in text and "translate(60.00 90.00)" in text and "translate(-60.00 90.00)" in text


def test_a_bar_past_the_end_of_the_repeat_goes_on_at_its_start():
    bars = (Bar(110.0, 30.0, "#112233"),)
    text = markup(print_tile(cloth(Print("stripe", True, 120.0, 0.0), bars_along=bars), "t"))
    found = re.findall(r'<rect x="([\d.]+)" y="0.00" width="([\d.]+)"[^>]*#112233', text)
    assert sorted((float(x), float(w)) for x, w in found) == [(0.0, 20.0), (110.0, 10.0)]


def test_colours_are_escaped_and_a_picture_takes_the_place_of_marks():
    odd = cloth(Print("motif", True, 100.0, 100.0), print_colours=('"><script>', "#000000"), tile="ab.png")
    text = markup(print_tile(odd, "t"))
    assert "<script>" not in text and 'href="/photos/ab.png"' in text


def test_a_tile_is_carried_with_its_offset():
    there = markup(
        moved_tile(cloth(Print("plaid", True, 120.0, 90.0, 10.0, 0.0)), "m", "t", (0.0, 1.0, -1.0, 0.0, 5.0, 7.0))
    )
    assert "matrix(0.000000 1.000000 -1.000000 0.000000 5.000 17.000)" in there  # (10, 0) is carried to (5, 17)


def test_ways_are_undone_and_follow_each_other():
    way = (0.6, 0.8, -0.8, 0.6, 30.0, -12.0)
    point = (17.0, 4.0)
    there = transformed(way, point)
    assert all(abs(p - q) < 1e-9 for p, q in zip(transformed(inverse(way), there), point, strict=True))
    twice = transformed(composed(way, way), point)
    assert all(abs(p - q) < 1e-9 for p, q in zip(twice, transformed(way, there), strict=True))
