"""Sizes whose lines run together where they do not differ, drawn once there: worked out by hand on rectangles and arcs."""

import math

import pytest
from shapely import Polygon

from rowanseed.core.intake.model import Drawing, Stroke, Style
from rowanseed.core.intake.propose import propose

# A half front: the centre along x = 0 and the hem along y = 400 are shared; each size is 10 mm wider, its shoulder 6 mm higher.
CENTRE_TOP, HEM = 60.0, 400.0


def own_line(k: int) -> tuple[tuple[float, float], ...]:
    """From the neck's foot on the centre over shoulder and side to the hem, of the k-th size, largest 0."""
    side = 250.0 - 10 * k
    return ((0.0, CENTRE_TOP + 4 * k), (60.0, 6.0 * k), (side - 40, 20 + 6.0 * k), (side, 130 + 4.0 * k), (side, HEM))


def whole(k: int) -> tuple[tuple[float, float], ...]:
    return (*own_line(k), (0.0, HEM))


def drawn(sizes: int, **own) -> Drawing:
    strokes = [Stroke(whole(0), True, **style(0, **own))]
    strokes += [Stroke(own_line(k), **style(k, **own)) for k in range(1, sizes)]
    return Drawing("svg", tuple(strokes))


def style(k, named=True, parts=None):
    name = str(20 - 2 * k)
    return {"layer": f"size {name}", "size": name} if named else {"style": Style(f"#0000{k:02d}")}


def areas(found) -> list[float]:
    return [Polygon(lines.outline).area for lines in found.pieces[0].sizes.values()]


@pytest.mark.parametrize("sizes", [2, 3, 6])
def test_each_size_goes_on_along_the_next_where_its_own_line_ends(sizes):
    found = propose(drawn(sizes))
    assert len(found.pieces) == 1 and list(found.pieces[0].sizes) == [str(20 - 2 * k) for k in reversed(range(sizes))]
    wanted = [Polygon(whole(k)).area for k in reversed(range(sizes))]
    assert areas(found) == pytest.approx(wanted, rel=1e-4)
    said = [f.text for f in found.pieces[0].findings if f.code == "guess-shared-line"]
    assert said and "18" in said[0] and "20," not in said[0]


def test_a_size_whose_line_leaves_another_s_twice_has_both_parts():
    square = ((0.0, 0.0), (300.0, 0.0), (300.0, 300.0), (0.0, 300.0))
    top = ((0.0, 20.0), (40.0, 12.0), (260.0, 12.0), (300.0, 20.0))
    foot = ((300.0, 270.0), (260.0, 285.0), (40.0, 285.0), (0.0, 270.0))
    strokes = (
        Stroke(square, True, layer="14", size="14"),
        Stroke(top, layer="12", size="12"),
        Stroke(foot, layer="12", size="12"),
    )
    small = next(iter(propose(Drawing("svg", strokes)).pieces[0].sizes.values()))
    assert Polygon(small.outline).area == pytest.approx(Polygon((*top, *foot)).area, rel=1e-4)


def test_a_line_beside_the_edge_of_a_size_that_is_whole_stays_a_line_in_it():
    hem_fold = Stroke(((0.0, 370.0), (250.0, 370.0)), layer="size 20", size="20")
    plain = Stroke(
        ((0.0, 360.0), (250.0, 360.0)), style=Style("#888888")
    )  # drawn like no outline: a mark for all sizes
    shapes = propose(Drawing("svg", (*drawn(1).strokes, hem_fold, plain))).pieces[0].sizes
    assert list(shapes) == ["20"] and areas(
        propose(Drawing("svg", (*drawn(1).strokes, hem_fold, plain)))
    ) == pytest.approx([Polygon(whole(0)).area])
    assert len(shapes["20"].internal) >= 1


def test_a_line_across_the_piece_is_no_size():
    across = Stroke(((0.0, 220.0), (250.0, 220.0)), layer="size 18", size="18")
    assert list(propose(Drawing("svg", (*drawn(1).strokes, across))).pieces[0].sizes) == ["20"]


def test_curves_shared_in_part_keep_their_points():
    arc = [(200 + 200 * math.cos(a / 40 * math.pi), 200 + 200 * math.sin(a / 40 * math.pi)) for a in range(80)]
    inner = [(200 + r * math.cos(a / 40 * math.pi), 200 + r * math.sin(a / 40 * math.pi)) for a, r in
             [(0, 200.0), *((a, 190.0) for a in range(2, 39)), (40, 200.0)]]  # fmt: skip
    strokes = (Stroke(tuple(arc), True, layer="2", size="2"), Stroke(tuple(inner), layer="1", size="1"))
    shapes = propose(Drawing("svg", strokes)).pieces[0].sizes
    assert Polygon(shapes["1"].outline).area == pytest.approx(Polygon([*inner, *arc[41:]]).area, rel=1e-3)


@pytest.mark.parametrize("in_one", [True, False], ids=["closed lines", "lines corner to corner"])
def test_pieces_that_overlap_on_one_sheet_come_apart(in_one):
    corners = [(50.0, 50.0, 350.0, 300.0), (280.0, 200.0, 550.0, 450.0)]
    strokes = []
    for left, top, right, foot in corners:
        ring = ((left, top), (right, top), (right, foot), (left, foot))
        sides = [((*pair,), False) for pair in zip(ring, ring[1:] + ring[:1], strict=True)]
        strokes += [Stroke(points, closed) for points, closed in ([(ring, True)] if in_one else sides)]
    areas = sorted(Polygon(p.sizes[""].outline).area for p in propose(Drawing("svg", tuple(strokes))).pieces)
    assert areas == pytest.approx([270 * 250, 300 * 250])
