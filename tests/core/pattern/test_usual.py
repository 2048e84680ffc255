"""The usual pieces of usual garments: whole, of the girth asked for, and as much cloth as envelopes of such garments ask.

What a garment takes is common practice, no source: figures from memory of envelopes, for cloth 140 to 150 cm wide in a middle size.
"""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.lay.engine import lay
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import roles_of, sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.usual import SIZE, USUAL_GARMENTS, Figure

MIDDLE = Figure(1000.0, 780.0, 1040.0, 1680.0)
# Metres on cloth of 140 to 150 cm in a middle size, from memory of what envelopes ask.
ASKED_M = {
    "shirt": (1.2, 2.0), "plain-top": (0.65, 1.3), "tee": (0.8, 1.5), "dress": (1.4, 2.3), "plain-dress": (1.0, 1.9),
    "waisted-dress": (1.2, 2.9), "straight-skirt": (0.75, 1.3), "flared-skirt": (0.75, 1.8), "gathered-skirt": (1.0, 1.9),
    "circle-skirt": (1.4, 3.2), "trousers": (1.2, 2.2), "shorts": (0.7, 1.3), "jacket": (1.3, 2.3), "coat": (1.7, 3.1),
    "waistcoat": (0.6, 1.2),
}  # fmt: skip


def laid(garment, figure, role="self", width="140 cm"):
    pattern = garment.pattern(figure)
    pieces, _ = sized_pieces(pattern, "A", role, [SIZE])
    cloth = Cloth("cloth", parse_length(width), parse_length("1 cm"))
    return pieces, lay(lay_request(pieces, cloth, MakePlan(effort="quick", spread="best"), length_in_hand=False))


@pytest.mark.parametrize("key", USUAL_GARMENTS)
def test_a_garment_takes_about_what_envelopes_ask(key):
    pieces, found = laid(USUAL_GARMENTS[key], MIDDLE)
    low, high = ASKED_M[key]
    assert not found.failed and low * 1000 <= found.length_mm * 1.1 <= high * 1000
    area = sum(p.piece.cut * Polygon(p.shape.outline).area * (2 if p.shape.fold_edge else 1) for p in pieces)
    assert area <= found.length_mm * 1400.0  # no cloth is smaller than what is cut from it


@pytest.mark.parametrize("key", ["shirt", "plain-top", "tee", "dress", "plain-dress", "jacket", "coat", "waistcoat"])
def test_an_upper_garment_measures_what_was_asked_round_the_bust(key):
    pattern = USUAL_GARMENTS[key].pattern(MIDDLE)
    shell = [(p, p.shapes[SIZE]) for p in pattern.pieces_of("A", "self")]
    assert finished_girths(shell)["bust"].mm == pytest.approx(MIDDLE.bust, abs=1.0)


def test_trousers_measure_what_was_asked_round_the_hip():
    pattern = USUAL_GARMENTS["trousers"].pattern(MIDDLE)
    shell = [(p, p.shapes[SIZE]) for p in pattern.pieces_of("A", "self") if p.name in ("Front", "Back")]
    assert finished_girths(shell)["hip"].mm == pytest.approx(MIDDLE.hip + 16.0, abs=25.0)


def test_a_circle_is_a_circle():
    pattern = USUAL_GARMENTS["circle-skirt"].pattern(MIDDLE)
    quarter = pattern.pieces[0].shapes[SIZE]
    waist = [math.hypot(*p) for p in quarter.seam_line[quarter.edges["waist"][0] + 1 : quarter.edges["waist"][1]]]
    assert 2 * math.pi * sum(waist) / len(waist) == pytest.approx(MIDDLE.waist, abs=3.0)


@settings(max_examples=60, deadline=None)
@given(
    st.sampled_from(sorted(USUAL_GARMENTS)),
    st.floats(520, 1500), st.floats(0.66, 1.0), st.floats(0.95, 1.25), st.floats(900, 2000),
)  # fmt: skip
def test_any_body_gets_whole_pieces(key, bust, waist, hip, height):
    pattern = USUAL_GARMENTS[key].pattern(Figure(bust, bust * waist, bust * hip, height))
    for piece in pattern.pieces:
        shape = Polygon(piece.shapes[SIZE].outline)
        assert shape.is_valid and shape.area > 1000
    assert roles_of(pattern, "A")[0] == "self"
