"""What remains of the cloth, by hand on plain lays."""

import shapely
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayPiece
from rowanseed.core.lay.offcuts import offcuts
from tests.core.lay.pieces import SHIRT, rect, request


def test_beside_one_piece_the_rest_of_the_width_remains():
    asked = request([LayPiece("1", rect(500.0, 300.0))], width=800.0, spread="single")
    (only,) = offcuts(lay(asked), asked.cloth)
    assert (only.length_mm, only.width_mm, only.layers) == (
        500,
        490,
        1,
    )  # the square that the piece's edge touches is not free


def test_what_is_left_of_the_length_in_hand_comes_first():
    asked = request([LayPiece("1", rect(500.0, 800.0))], width=800.0, spread="single", length_mm=1200.0)
    (rest,) = offcuts(lay(asked), asked.cloth)
    assert (rest.x_mm, rest.length_mm, rest.width_mm) == (500, 700, 800)


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.sampled_from(["single", "lengthwise-fold", "part-fold", "double-fold", "fold-then-single"]), st.floats(900, 1500)
)
def test_no_offcut_touches_a_piece_or_another_offcut(spread, width):
    asked = request(SHIRT, width=width, spread=spread)
    found = lay(asked)
    rest = offcuts(found, asked.cloth)
    for k, own in enumerate(rest):
        box = shapely.box(own.x_mm, own.y_mm, own.x_mm + own.length_mm, own.y_mm + own.width_mm)
        assert min(own.length_mm, own.width_mm) >= 100
        others = [shapely.Polygon(p.outline) for p in found.placements if p.lane == own.lane]
        others += [
            shapely.box(o.x_mm, o.y_mm, o.x_mm + o.length_mm, o.y_mm + o.width_mm)
            for o in rest[:k]
            if o.lane == own.lane
        ]
        assert all(box.intersection(other).area < 1e-6 for other in others)
