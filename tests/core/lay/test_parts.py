"""Several garments in one lay: begun from parts, never longer than those parts one behind the other."""

from dataclasses import replace

import numpy as np
import pytest
from shapely import Polygon

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.demand import items_for
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayCloth, LayPiece, LayRequest
from rowanseed.core.lay.nest import BUDGETS
from rowanseed.core.lay.parts import MANY, begun_from_parts
from rowanseed.core.lay.problem import Nest
from rowanseed.core.lay.squeeze import Watch
from tests.core.lay.pieces import SHIRT, rect, wedge

TROUSERS = (
    LayPiece(
        "front", ((0.0, 40.0), (260.0, 0.0), (1000.0, 60.0), (1000.0, 260.0), (260.0, 330.0), (0.0, 260.0)), 2, True
    ),
    LayPiece(
        "back", ((0.0, 60.0), (270.0, 0.0), (1000.0, 90.0), (1000.0, 330.0), (270.0, 420.0), (0.0, 300.0)), 2, True
    ),
    LayPiece("band", rect(900.0, 90.0), 1),
    wedge("pocket", 200.0, 180.0, 140.0, 4, True),
)


def garments(count):
    """Trousers in `count` sizes, each 1 % larger than the one before."""
    return tuple(
        replace(p, id=f"{p.id}/{k}", outline=tuple((x * (1 + k / 100), y * (1 + k / 100)) for x, y in p.outline))
        for k in range(count)
        for p in TROUSERS
    )


def nest_of(pieces, spread="single", width=1480.0, gap=3.0):
    items = [i for p in pieces for i in items_for(p, spread, False)]
    nest = Nest(items, width, gap, 1)
    return nest, nest.problem(6.0)


def test_six_garments_are_no_longer_than_two_at_a_time_one_behind_the_other():
    pieces = garments(6)

    def length(some, effort="quick"):
        request = LayRequest(LayCloth(1480.0), some, "single", (), 3.0, effort)
        found = lay(request)
        assert check_lay(request, found) == []
        return found.length_mm

    pairs = [length(pieces[k : k + 8]) for k in (0, 8, 16)]
    assert length(pieces, "good") <= sum(pairs) + 6.0


def test_the_lay_begun_from_parts_holds_every_item_and_no_two_overlap():
    nest, problem = nest_of(garments(5))
    begun = begun_from_parts(problem, nest.items, 3.0, BUDGETS["quick"], Watch())
    problem.restore(begun)
    stands = problem.solution()
    assert len(stands) == len(nest.items) == 45
    placed = [(item.poses[s.pose], s.x, s.y) for item, s in zip(nest.items, stands, strict=True)]
    shapes = [Polygon([(px + x, py + y) for px, py in pose.cut]) for pose, x, y in placed]
    assert all(a.distance(b) > 2.9 for k, a in enumerate(shapes) for b in shapes[:k])
    assert all(s.bounds[1] >= -0.1 and s.bounds[3] <= 1480.1 for s in shapes)


def test_a_part_moves_by_itself():
    _, problem = nest_of(garments(5))
    before = problem.state()
    part = problem.part(np.array([9, 10, 11]))
    part.x[:] += 100.0
    part.row[:] += 1
    assert all(np.array_equal(a, b) for a, b in zip(before, problem.state(), strict=True))
    assert part.length() > 0 and len(part.solution()) == 3


@pytest.mark.parametrize("pieces", [SHIRT, garments(2)])
def test_few_items_are_laid_as_one(pieces):
    nest, problem = nest_of(pieces)
    assert len(nest.items) <= MANY
    assert begun_from_parts(problem, nest.items, 3.0, BUDGETS["quick"], Watch()) is None


def test_with_a_flaw_on_the_cloth_nothing_is_begun_from_parts():
    pieces = garments(5)
    request = LayRequest(LayCloth(1480.0, flaws=((300.0, 200.0, 340.0, 240.0),)), pieces, "single", (), 3.0, "quick")
    found = lay(request)
    assert check_lay(request, found) == []
