"""The pattern's own answers: views, roles, default grain, areas, outlines that are none."""

import pytest

from rowanseed.core.errors import OutlineError
from rowanseed.core.geometry.outline import refuse_bad_outline
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Pattern, Piece, View

SQUARE = PieceShape(((0, 0), (100, 0), (100, 60), (0, 60)))
PATTERN = Pattern(
    "P",
    views=(View("A"), View("B", "long", {"hem": "blind"})),
    pieces=(Piece("1", "Front", 2), Piece("2", "Frill", 1, views=("B",)), Piece("3", "Lining", 2, role="lining")),
)


def test_a_view_has_its_own_pieces_of_each_cloth():
    assert [p.number for p in PATTERN.pieces_of("A")] == ["1", "3"]
    assert [p.number for p in PATTERN.pieces_of("B", "self")] == ["1", "2"]
    assert PATTERN.view("B").features == {"hem": "blind"} and PATTERN.view("Z").name == "A"


def test_a_piece_without_an_arrow_gets_one_along_its_middle():
    (hx, hy), (fx, fy) = SQUARE.grain_or_default()
    assert hy == fy == 30 and 0 < hx < fx < 100


def test_the_area_is_that_inside_the_cutting_line():
    assert SQUARE.area_mm2() == 6000


@pytest.mark.parametrize(
    ("outline", "word"),
    [
        (((0, 0), (1, 1)), "three points"),
        (((0, 0), (9, 0), (18, 0)), "no area"),
        (((0, 0), (90, 90), (90, 0), (0, 80)), "crosses"),
    ],
)
def test_an_outline_that_is_none_says_why(outline, word):
    with pytest.raises(OutlineError, match=word):
        refuse_bad_outline(outline)
