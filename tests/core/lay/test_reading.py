"""Reading a lay at the table: distances at both ends of the grain, words, cutting order."""

import pytest

from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.finish import how_to_spread
from rowanseed.core.lay.model import Lane, LayCloth, LayPiece, LayRequest, Placement
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, grain_reading, how_it_lies, read_lay
from tests.core.lay.pieces import rect, request

FOLDED = Lane(0, 700, 0, 1000, 2, ("fold", "selvage"))
SINGLE = Lane(0, 1400, 0, 1000, 1, ("selvage", "selvage"))


def at(y_head, y_foot, **more):
    marks = {GRAIN_HEAD: (100.0, y_head), GRAIN_FOOT: (400.0, y_foot)}
    return Placement(
        "1",
        0,
        rect(500.0, 100.0),
        more.pop("turned", 0.0),
        more.pop("face_down", False),
        more.pop("layers", 1),
        more.pop("on_fold", False),
        marks,
    )


def test_distances_are_taken_from_the_nearer_edge_at_both_ends():
    reading = grain_reading(at(120, 120), FOLDED)
    assert (reading.from_edge, reading.head_mm, reading.foot_mm) == ("fold", 120, 120)
    reading = grain_reading(at(600, 600), FOLDED)
    assert (reading.from_edge, reading.head_mm, reading.foot_mm) == ("selvage", 100, 100)
    assert grain_reading(at(200, 200), SINGLE).from_edge == "near selvage"
    assert grain_reading(at(1200, 1200), SINGLE).from_edge == "far selvage"


def test_a_piece_off_grain_shows_two_figures():
    reading = grain_reading(at(100, 130), FOLDED)
    assert reading.foot_mm - reading.head_mm == 30


def test_every_lengthwise_piece_of_a_lay_reads_the_same_at_both_ends():
    piece = LayPiece("1", rect(400.0, 210.0), 5, marks={GRAIN_HEAD: (50.0, 100.0), GRAIN_FOOT: (350.0, 100.0)})
    for reading in read_lay(lay(request([piece], spread="single"))):
        assert reading.grain.head_mm == pytest.approx(reading.grain.foot_mm)


def test_how_a_piece_lies_is_said_in_words():
    assert how_it_lies(at(1, 1, on_fold=True, layers=2), FOLDED) == "on the fold"
    assert how_it_lies(at(1, 1, layers=2), FOLDED) == "both layers, printed side up"
    assert "the upper one" in how_it_lies(at(1, 1, face_down=True), FOLDED)
    assert "the lower one" in how_it_lies(at(1, 1), FOLDED)
    assert how_it_lies(at(1, 1, face_down=True, turned=180.0), SINGLE) == "printed side down, head to the far end"


def test_bias_pieces_are_cut_last():
    # Bias pieces come last, from the opened rest: common practice, no source.
    pieces = [LayPiece("bias", rect(300.0, 300.0), 2, grain="bias"), LayPiece("big", rect(600.0, 500.0), 2)]
    order = [r.placement.piece for r in read_lay(lay(request(pieces, spread="single")))]
    assert order[-2:] == ["bias", "bias"]


def test_of_two_spreads_in_turn_the_folded_part_is_cut_before_the_rest_is_opened():
    square = ((0.0, 0.0), (200.0, 0.0), (200.0, 150.0), (0.0, 150.0))
    pieces = (LayPiece("1", square, 2, mirrored=True), LayPiece("2", square, 1), LayPiece("3", square, 2, grain="bias"))
    found = lay(LayRequest(LayCloth(1000.0), pieces, "fold-then-single", effort="quick"))
    lanes = [r.placement.lane for r in read_lay(found)]
    assert lanes == sorted(lanes) and set(lanes) == {0, 1}
    assert "cut that part off" in how_to_spread(found, one_way=False)
