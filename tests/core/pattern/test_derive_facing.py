"""A facing derived from a piece's own edges, held against plane geometry."""

from dataclasses import replace

import pytest
from shapely import Polygon

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.shape import Notch
from rowanseed.core.pattern.derive.facing import facing
from rowanseed.demo import overshirt
from tests.core.pattern.test_derive import coat


def test_a_hem_facing_is_a_strip_as_long_as_the_hem_and_as_deep_as_asked_and_its_allowance():
    made = facing(replace(coat(), allowance_mm=15.0), ["hem"], 50.0)
    # The hem is 300 mm wide, straight, at right angles to side and centre: 300 x (50 + 15).
    assert Polygon(made.outline).area == pytest.approx(300 * 65, rel=1e-3)
    assert set(made.edges) == {"hem", "side", "centre", "outer"}
    first, last = made.edges["hem"]
    assert {made.outline[first], made.outline[last]} == {(1000.0, 300.0), (1000.0, 0.0)}
    assert made.allowance_of("outer") == 0.0 and made.allowance_of("hem") == 15.0


def test_a_combined_facing_runs_round_the_corner_and_keeps_the_cutting_line():
    shape = coat()
    made = facing(shape, ["centre", "neck"], 60.0)
    body, strip = Polygon(shape.outline), Polygon(made.outline)
    assert strip.is_valid and body.buffer(0.1).contains(strip)
    # down the centre 60 deep over the whole length, and along the neck's 80 mm the part beyond it
    assert 60 * 1000 < strip.area < 60 * 1000 + 80 * 60 + 60 * 60
    assert {"centre", "neck", "hem", "outer"} <= set(made.edges)
    outer = [made.outline[k % len(made.outline)] for k in range(made.edges["outer"][0], made.edges["outer"][1] + 1)]
    assert all(body.exterior.distance(Polygon(made.outline).exterior) == 0 for _ in outer)


def test_an_alteration_of_the_piece_is_in_its_facing():
    longer = facing(coat(length=1040.0), ["centre"], 60.0)
    assert max(x for x, _ in longer.outline) - max(
        x for x, _ in facing(coat(), ["centre"], 60.0).outline
    ) == pytest.approx(40.0)


def test_notches_of_the_faced_edge_stay_and_others_go():
    shape = replace(coat(), notches=(Notch((1000.0, 150.0)), Notch((140.0, 255.0))))
    assert [n.at for n in facing(shape, ["hem"], 50.0).notches] == [(1000.0, 150.0)]


@pytest.mark.parametrize(("edges", "depth"), [([], 60.0), (["hem"], 0.0), (["wing"], 60.0), (["neck", "hem"], 60.0)])
def test_what_cannot_be_faced_is_said(edges, depth):
    with pytest.raises(ShapeError):
        facing(coat(), edges, depth)


def test_the_back_neck_of_the_demo_overshirt_can_be_faced_in_every_size():
    faced = 0
    for piece in overshirt.pattern().pieces:
        for shape in piece.shapes.values():
            if {"neck", "armhole"} <= set(shape.edges) and shape.fold_edge is not None:
                made = facing(shape, ["neck"], 60.0)
                faced += 1
                assert Polygon(made.outline).is_valid and made.fold_edge is not None and "outer" in made.edges
    assert faced
