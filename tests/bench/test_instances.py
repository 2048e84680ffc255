"""The bench's own instances are what they say: jigsaws fill their rectangle, garments can be laid."""

import pytest
from shapely import Polygon
from shapely.ops import unary_union

from bench.instances import ALL, jigsaw
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay


@pytest.mark.parametrize(("seed", "count"), [(4, 8), (9, 12), (3, 20)])
def test_a_jigsaws_pieces_fill_its_rectangle_without_overlapping(seed, count):
    puzzle = jigsaw(seed, count, 1400.0, 900.0)
    parts = [Polygon(p.outline) for p in puzzle.pieces]
    assert len(parts) == count
    assert sum(p.area for p in parts) == pytest.approx(1400 * 900)
    assert unary_union(parts).area == pytest.approx(1400 * 900)


@pytest.mark.parametrize("make", ALL, ids=lambda make: make().name)
def test_every_instance_is_laid_and_sound_in_each_of_its_spreads(make):
    instance = make()
    for spread in instance.spreads:
        request = instance.request(spread, "quick")
        found = lay(request)
        assert check_lay(request, found) == [] and not found.failed
        assert instance.optimum_mm is None or found.length_mm >= instance.optimum_mm - 0.1
