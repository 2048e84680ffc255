"""The independent check: it is fed wrong lays and names what is wrong with each."""

from dataclasses import replace
from functools import cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayPiece
from tests.core.lay.pieces import SHIRT, rect, request

FOLDED = request(SHIRT, selvage_mm=(10.0, 10.0), spread="lengthwise-fold", gap_mm=0.0, nap="one-way")
SINGLE = replace(FOLDED, spread="single")


@cache
def laid(spread):
    """The shirt laid this way, once for all tests."""
    return lay({"folded": FOLDED, "single": SINGLE}[spread])


def codes(asked, found):
    return {f.code for f in check_lay(asked, found)}


def moved(placement, dx, dy):
    return replace(placement, outline=tuple((x + dx, y + dy) for x, y in placement.outline))


def change(found, piece, how, which=0):
    """The lay with one placement of a piece changed."""
    index = [i for i, p in enumerate(found.placements) if p.piece == piece][which]
    placements = list(found.placements)
    placements[index] = how(placements[index])
    return replace(found, placements=tuple(placements))


def two_squares(distance):
    """Two squares of 100 side by side, their edges this far apart."""
    asked = request(
        [LayPiece("1", rect(100.0, 100.0)), LayPiece("2", rect(100.0, 100.0))], width=400.0, spread="single"
    )
    found = lay(asked)
    first, second = (p for p in found.placements)
    places = (
        moved(first, -min(x for x, _ in first.outline), -min(y for _, y in first.outline)),
        moved(second, -min(x for x, _ in second.outline) + 100 + distance, -min(y for _, y in second.outline)),
    )
    lane = replace(found.lanes[0], end_mm=201 + distance)
    return asked, replace(found, placements=places, length_mm=201.0 + distance, lanes=(lane,))


def test_sound_lays_pass():
    assert check_lay(FOLDED, laid("folded")) == [] and check_lay(SINGLE, laid("single")) == []


def test_an_overlap_of_two_tenths_of_a_millimetre_is_named():
    assert codes(*two_squares(-0.2)) == {"overlap"}
    assert codes(*two_squares(0.0)) == set()


def test_pieces_nearer_than_the_gap_are_named():
    asked, found = two_squares(2.8)
    assert codes(replace(asked, gap_mm=3.0), found) == {"gap-too-small"}
    asked, found = two_squares(3.0)
    assert codes(replace(asked, gap_mm=3.0), found) == set()


@settings(max_examples=30, deadline=None)
@given(st.floats(0.2, 60), st.sampled_from(["folded", "single"]), st.data())
def test_a_piece_pushed_into_its_neighbour_or_off_the_cloth_is_named(push, name, data):
    found = laid(name)
    asked = FOLDED if name == "folded" else SINGLE
    index = data.draw(st.integers(0, len(found.placements) - 1))
    pushed = moved(found.placements[index], -push, 0.0)
    wrong = replace(found, placements=(*found.placements[:index], pushed, *found.placements[index + 1 :]))
    at_the_end = min(x for x, _ in found.placements[index].outline) < 1e-6
    if at_the_end:
        assert "off-the-cloth" in codes(asked, wrong)
    else:
        # Pushed toward the cut end it meets a neighbour, or had room; a push right through is caught by the overlap.
        assert codes(asked, wrong) <= {"overlap", "off-the-cloth"}


def test_one_left_too_few_is_named():
    found = laid("single")
    right = next(p for p in found.placements if p.piece == "front")
    assert "wrong-count" in codes(
        SINGLE, replace(found, placements=tuple(p for p in found.placements if p is not right))
    )


def test_two_left_fronts_are_named():
    found = laid("single")
    up = next(p for p in found.placements if p.piece == "front" and not p.face_down)
    down = next(p for p in found.placements if p.piece == "front" and p.face_down)
    twice = replace(
        found,
        placements=tuple(
            replace(down, outline=up.outline, face_down=False) if p is down else p for p in found.placements
        ),
    )
    assert "wrong-hand" in codes(SINGLE, twice)


def test_a_face_up_outline_said_to_lie_face_down_is_not_its_own_shape():
    found = laid("single")
    wrong = change(found, "front", lambda p: replace(p, face_down=not p.face_down))
    assert "not-its-shape" in codes(SINGLE, wrong)


def test_a_head_turned_on_napped_cloth_is_named():
    loose = replace(FOLDED, cloth=replace(FOLDED.cloth, nap="none"))

    def turn(placement):
        xs, ys = [p[0] for p in placement.outline], [p[1] for p in placement.outline]
        middle_x, middle_y = min(xs) + max(xs), min(ys) + max(ys)
        return replace(
            placement, turned=180.0, outline=tuple((middle_x - x, middle_y - y) for x, y in placement.outline)
        )

    wrong = change(laid("folded"), "pocket", turn)
    assert "head-turned" in codes(FOLDED, wrong)
    assert "head-turned" not in codes(loose, wrong)


def test_one_millimetre_off_the_fold_is_named():
    wrong = change(laid("folded"), "back", lambda p: moved(p, 0.0, 1.0))
    assert "off-the-fold" in codes(FOLDED, wrong)


def test_an_altered_outline_is_not_its_own_shape():
    def shave(placement):
        (x, y), *rest = placement.outline
        return replace(placement, outline=((x + 2.0, y), *rest))

    assert "not-its-shape" in codes(FOLDED, change(laid("folded"), "sleeve", shave))


def test_a_piece_on_the_selvage_is_off_the_usable_cloth():
    def to_edge(placement):
        return moved(placement, 0.0, -min(y for _, y in placement.outline) + 2.0)

    found = change(laid("single"), "pocket", to_edge)
    assert "off-the-cloth" in codes(SINGLE, found)


def test_a_same_handed_piece_in_two_layers_is_named():
    wrong = change(laid("folded"), "pocket", lambda p: replace(p, layers=2))
    assert {"wrong-count", "wrong-hand"} & codes(FOLDED, wrong)


@pytest.mark.parametrize("turned", [45.0, 90.0])
def test_a_piece_off_its_grain_is_named(turned):
    wrong = change(laid("single"), "sleeve", lambda p: replace(p, turned=turned))
    assert "off-grain" in codes(SINGLE, wrong)


def test_a_foreign_piece_and_a_missing_lane_are_named():
    assert codes(SINGLE, change(laid("single"), "pocket", lambda p: replace(p, piece="cape"))) == {"unknown-piece"}
    assert "no-such-lane" in codes(SINGLE, change(laid("single"), "pocket", lambda p: replace(p, lane=3)))


def test_a_lane_that_is_not_the_cloth_is_named():
    found = laid("single")
    wide = replace(found, lanes=(replace(found.lanes[0], to_mm=1500.0),))
    assert "lane-not-the-cloth" in codes(SINGLE, wide)


def test_a_lay_longer_than_it_says_is_named():
    found = laid("single")
    assert "off-the-cloth" in codes(SINGLE, replace(found, length_mm=found.length_mm - 5.0))


PLAID = request(
    [replace(SHIRT[0], marks={"side notch": (100.0, 20.0)}, fold_edge=None), *SHIRT[1:]], selvage_mm=(10.0, 10.0), spread="single",
)  # fmt: skip


def test_marks_that_stay_behind_when_a_piece_is_moved_are_named():
    # The checker works marks out anew: a lay's own are only believed where they lie on the piece.
    found = lay(PLAID)
    assert check_lay(PLAID, found) == []
    first = PLAID.pieces[0].id
    shifted = {"side notch": (found.placements[0].marks.get("side notch", (0.0, 0.0))[0] + 1.0, 0.0)}
    assert "marks-moved" in codes(PLAID, change(found, first, lambda p: replace(p, marks=shifted)))

    def along(p):  # the outline goes 7 mm along, its marks do not
        return moved(p, 7.0, 0.0)

    last = max(found.placements, key=lambda p: max(x for x, _ in p.outline)).piece
    if last == first:
        assert "marks-moved" in codes(PLAID, change(found, first, along))


def test_crosswise_pieces_head_to_tail_on_one_way_cloth_are_named():
    strips = [LayPiece(str(k), rect(300.0, 80.0), grain="crosswise") for k in (1, 2)]
    asked = request(strips, width=600.0, spread="single", nap="one-way")
    found = lay(asked)
    assert check_lay(asked, found) == [] and len({p.turned for p in found.placements}) == 1
    half_turned = change(found, "2", lambda p: replace(p, turned=(p.turned + 180.0) % 360.0))
    assert codes(asked, half_turned) == {"head-turned"}
    assert codes(replace(asked, cloth=replace(asked.cloth, nap="none")), half_turned) == set()


def test_what_the_cloth_lacks_and_how_long_the_lay_is_are_worked_out_anew():
    short = replace(SINGLE, cloth=replace(SINGLE.cloth, length_mm=400.0))
    found = lay(short)
    assert check_lay(short, found) == [] and found.short_mm > 0
    assert codes(short, replace(found, short_mm=0.0)) == {"wrong-short"}
    assert codes(SINGLE, replace(laid("single"), short_mm=50.0)) == {"wrong-short"}
    shorter = laid("single").length_mm - 50.0
    lanes = tuple(replace(lane, end_mm=shorter) for lane in laid("single").lanes)
    assert "wrong-length" in codes(SINGLE, replace(laid("single"), length_mm=shorter, lanes=lanes))


@pytest.mark.parametrize(
    "spread", ["single", "lengthwise-fold", "part-fold", "double-fold", "crosswise-fold", "fold-then-single"]
)
def test_no_piece_lies_on_a_flaw_over_the_whole_width_and_one_that_does_is_named(spread):
    whole = ((300.0, 0.0, 320.0, 1500.0),)
    asked = request(SHIRT, width=1500.0, selvage_mm=(10.0, 10.0), spread=spread)
    flawed = replace(asked, cloth=replace(asked.cloth, flaws=whole))
    found = lay(flawed)
    assert found.placements and check_lay(flawed, found) == []
    over = lay(asked)
    crossing = any(min(x for x, _ in p.outline) < 300 and max(x for x, _ in p.outline) > 320 for p in over.placements)
    assert not crossing or "on-a-flaw" in codes(flawed, over)
