"""Pieces packed onto pages: nothing overlaps, nothing is mirrored, every part lies on a page; worked out on rectangles."""

import math

import pytest
from shapely import Polygon, box, union_all

from rowanseed.core.errors import LayError
from rowanseed.core.geometry.outline import signed_area
from rowanseed.core.paper.model import PAPERS, PaperRequest, Tile, roll
from rowanseed.core.paper.pack import pack


def rect(long: float, wide: float) -> tuple[tuple[float, float], ...]:
    return ((0.0, 0.0), (0.0, wide), (long, wide), (long, 0.0))


LOPSIDED = ((0.0, 0.0), (30.0, 150.0), (420.0, 190.0), (460.0, 20.0), (200.0, -35.0))


def outlines_on(sheet, request):
    return [Polygon([p.at(q) for q in dict(request.pieces)[p.id]]) for p in sheet.placed]


@pytest.mark.parametrize("paper", ["a4", "letter", "a3"])
def test_pieces_lie_apart_inside_the_sheet_and_on_its_pages(paper):
    request = PaperRequest((("a", LOPSIDED), ("b", rect(300, 90)), ("c", rect(120, 60))), PAPERS[paper])
    sheet = pack(request)
    laid = outlines_on(sheet, request)
    assert all(a.distance(b) > request.gap_mm - 0.5 for k, a in enumerate(laid) for b in laid[k + 1 :])
    assert all(box(-0.01, -0.01, sheet.width + 0.01, sheet.height + 0.01).contains(p) for p in laid)
    pages = union_all([box(t.left, t.top, t.left + t.width, t.top + t.height) for t in sheet.tiles])
    assert all(pages.buffer(0.01).contains(p) for p in laid)


def test_a_piece_is_turned_and_never_mirrored():
    request = PaperRequest((("a", LOPSIDED),), PAPERS["a4"])
    sheet = pack(request)
    ring = [sheet.placed[0].at(p) for p in LOPSIDED]
    assert signed_area(tuple(ring)) == pytest.approx(signed_area(LOPSIDED))
    assert all(
        math.dist(ring[k], ring[k - 1]) == pytest.approx(math.dist(LOPSIDED[k], LOPSIDED[k - 1]))
        for k in range(len(ring))
    )


def test_the_fewest_pages_are_taken():
    # 176 x 263 mm lie well inside an A4's own part: four such rectangles take four pages and no more.
    four = PaperRequest(tuple((str(k), rect(258, 172)) for k in range(4)), PAPERS["a4"], gap_mm=5.0)
    assert len(pack(four).tiles) == 4
    # A strip 20 cm x 5 cm lies on one.
    assert len(pack(PaperRequest((("a", rect(200, 50)),), PAPERS["a4"])).tiles) == 1


def test_a_roll_is_one_page_as_long_as_it_need_be():
    request = PaperRequest((("a", rect(800, 300)), ("b", rect(700, 280))), roll(620.0))
    (page,) = pack(request).tiles
    assert page.width == 600.0 and 795 < page.height < 840


def test_what_no_paper_takes_is_refused_in_words():
    with pytest.raises(LayError, match="wider than this paper"):
        pack(PaperRequest((("a", rect(900, 700)),), roll(400.0)))
    with pytest.raises(LayError, match="at least one"):
        pack(PaperRequest((), PAPERS["a4"]))
    with pytest.raises(LayError, match="20 cm to 2 m"):
        roll(50.0)


def test_pages_are_named_by_row_and_column():
    assert [Tile(c, r, 0, 0, 1, 1).name for c, r in ((0, 0), (3, 1), (0, 25), (1, 26))] == ["a1", "b4", "z1", "aa2"]
