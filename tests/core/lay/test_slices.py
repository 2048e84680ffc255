"""The compiled slices, against shapely: two shapes collide exactly where the tables say."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon
from shapely.affinity import translate

from rowanseed.core.lay import slices
from rowanseed.core.lay.tables import Grid, Shape, grow, tabulate
from tests.core.lay.pieces import rect

C_SHAPE = ((0, 0), (300, 0), (300, 80), (90, 100), (90, 200), (300, 230), (300, 300), (0, 300))
SLEEVE = ((140, 0), (0, 190), (140, 380), (600, 300), (600, 80))
STAR = ((0, 100), (90, 90), (100, 0), (130, 90), (230, 120), (130, 150), (110, 240), (80, 150))


def shape(outline, base, gap=0.0):
    polygon = Polygon(outline)
    length, height = polygon.bounds[2], polygon.bounds[3]
    return Shape(base, False, False, grow(tuple(outline), gap), length, Grid(600, 100).rows_for(height))


def collides(tables, s, t, d, dx):
    k = d - tables.dmin[s, t]
    if not 0 <= k < tables.nd[s, t]:
        return False
    c = tables.off[s, t] + k
    return any(tables.span[z, 0] < dx < tables.span[z, 1] for z in range(tables.cell[c], tables.cell[c + 1]))


@pytest.mark.parametrize("gap", [0.0, 3.0])
def test_the_tables_agree_with_shapely_on_random_offsets(gap):
    shapes = [shape(o, i, gap) for i, o in enumerate((C_SHAPE, SLEEVE, STAR, rect(200, 90)))]
    tables = tabulate(shapes, Grid(600, 100), gap)
    rng = np.random.default_rng(5)
    for _ in range(1500):
        s, t = rng.integers(4, size=2)
        d, dx = int(rng.integers(-70, 71)), float(rng.uniform(-700, 700))
        a, b = Polygon(shapes[s].grown), translate(Polygon(shapes[t].grown), dx, d * tables.step)
        area = a.intersection(b).area
        if 0 < area < 1e-3:
            continue  # a touch, within rounding
        assert (area > 0) == collides(tables, s, t, d, dx), (s, t, d, dx, area)


def test_mirrored_tables_are_derived_and_agree_with_shapely():
    grid = Grid(600, 100)
    length, rows = 600.0, grid.rows_for(380)
    across = [(length - x, y) for x, y in SLEEVE]
    over = [(x, rows * grid.step_mm - y) for x, y in SLEEVE]
    shapes = [
        Shape(0, False, False, SLEEVE, length, rows),
        Shape(0, True, False, tuple(across), length, rows),
        Shape(0, False, True, tuple(over), length, rows),
        shape(C_SHAPE, 1),
    ]
    tables = tabulate(shapes, grid, 0.0)
    rng = np.random.default_rng(6)
    for _ in range(1500):
        s, t = rng.integers(4, size=2)
        d, dx = int(rng.integers(-70, 71)), float(rng.uniform(-700, 700))
        b = translate(Polygon(shapes[t].grown), dx, d * tables.step)
        area = Polygon(shapes[s].grown).intersection(b).area
        if not 0 < area < 1e-3:
            assert (area > 0) == collides(tables, s, t, d, dx), (s, t, d, dx, area)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 40), st.integers(0, 40)), min_size=3, max_size=9, unique=True))
def test_the_slabs_of_a_polygon_hold_its_whole_area(points):
    hull = Polygon(points).convex_hull
    if hull.geom_type != "Polygon":
        return
    xy = np.array(hull.exterior.coords[:-1], dtype=float)
    slabs, _ = slices.cut_into_slabs(xy[:, 0].copy(), xy[:, 1].copy())
    area = sum((s[1] - s[0]) * (s[4] - s[2] + s[5] - s[3]) / 2 for s in slabs)
    assert area == pytest.approx(hull.area, rel=1e-9)


def test_a_hollow_shape_has_the_parts_its_rows_need():
    xy = np.array(C_SHAPE, dtype=float)
    slabs, part = slices.cut_into_slabs(xy[:, 0].copy(), xy[:, 1].copy())
    area = sum((s[1] - s[0]) * (s[4] - s[2] + s[5] - s[3]) / 2 for s in slabs)
    assert area == pytest.approx(Polygon(C_SHAPE).area)
    assert part.max() == 0  # every row across a C meets it once: one part


def test_a_grown_pair_that_touches_keeps_the_whole_gap():
    a, b = Polygon(grow(C_SHAPE, 4.0)), Polygon(C_SHAPE)
    assert b.buffer(2.0).difference(a).area < 1e-6


@pytest.mark.parametrize(("width", "about"), [(740.0, 3.0), (1480.0, 6.0), (200.0, 7.0), (1.0, 3.0)])
def test_rows_fill_the_width_exactly_and_are_no_coarser_than_asked(width, about):
    grid = Grid.of(width, about)
    assert grid.step_mm <= about + 1e-9 and grid.rows * grid.step_mm == pytest.approx(width)
    assert grid.rows_for(width) == grid.rows  # a piece as wide as the cloth fits
