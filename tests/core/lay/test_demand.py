"""From pieces to items: counts by spread, the poses each may take, halves opened out and turned on the fold."""

import pytest
from shapely import Polygon

from rowanseed.core.errors import LayError
from rowanseed.core.lay.demand import cutting_shape, items_for, on_fold_axis, placed, usable_strip
from rowanseed.core.lay.model import LayCloth, LayPiece
from tests.core.lay.pieces import fold_piece, rect, wedge


def turns(items):
    return {(pose.turned, pose.face_down) for item in items for pose in item.poses}


@pytest.mark.parametrize(
    ("cut", "mirrored", "spread", "layers"),
    [
        (2, True, "lengthwise-fold", [2]),
        (4, True, "lengthwise-fold", [2, 2]),
        (3, True, "lengthwise-fold", [2, 1]),
        (2, False, "lengthwise-fold", [1, 1]),
        (1, True, "lengthwise-fold", [1]),
        (3, True, "single", [1, 1, 1]),
    ],
)
def test_a_count_becomes_items_of_one_or_two_layers(cut, mirrored, spread, layers):
    items = items_for(wedge("1", 300.0, 200.0, 100.0, cut, mirrored), spread, False)
    assert sorted((i.layers for i in items), reverse=True) == sorted(layers, reverse=True)


def test_in_a_single_layer_half_of_a_mirrored_count_lies_face_down_and_cannot_turn_over():
    items = items_for(wedge("1", 300.0, 200.0, 100.0, 4, True), "single", False)
    assert [{p.face_down for p in i.poses} for i in items] == [{False}, {False}, {True}, {True}]


def test_in_a_fold_either_hand_will_do():
    (item,) = items_for(wedge("1", 300.0, 200.0, 100.0, 2, True), "lengthwise-fold", False)
    assert turns([item]) == {(0.0, False), (180.0, False), (0.0, True), (180.0, True)}
    (napped,) = items_for(wedge("1", 300.0, 200.0, 100.0, 2, True), "lengthwise-fold", True)
    assert turns([napped]) == {(0.0, False), (0.0, True)}


@pytest.mark.parametrize(
    ("grain", "one_way", "wanted"),
    [
        ("lengthwise", False, {0, 180}),
        ("lengthwise", True, {0}),
        ("crosswise", False, {90, 270}),
        ("crosswise", True, {90}),
        ("bias", False, {45, 135, 225, 315}),
        ("bias", True, {45, 315}),
        ("any", True, {0}),
    ],
)
def test_grain_and_nap_decide_the_turns(grain, one_way, wanted):
    (item,) = items_for(LayPiece("1", rect(300.0, 100.0), grain=grain), "single", one_way)
    assert {round(p.turned) for p in item.poses} == wanted


def test_every_pose_is_a_rigid_copy_with_its_corner_at_the_origin():
    piece = wedge("1", 300.0, 200.0, 100.0, 2, True)
    for spread in ("single", "lengthwise-fold"):
        for item in items_for(piece, spread, False):
            for pose in item.poses:
                shape = Polygon(pose.outline)
                assert shape.area == pytest.approx(Polygon(piece.outline).area)
                assert shape.bounds[:2] == pytest.approx((0, 0)) and shape.bounds[2:] == pytest.approx(
                    (pose.length_mm, pose.height_mm)
                )


@pytest.mark.parametrize("axis", [0.0, 200.0])
def test_a_half_is_turned_so_that_its_fold_lies_at_nought_and_its_body_above(axis):
    outline = tuple((x, abs(axis - y)) for x, y in rect(300.0, 120.0))
    piece = LayPiece("1", outline, fold_edge=((0.0, axis), (300.0, axis)))
    half, _ = on_fold_axis(piece)
    assert min(y for _, y in half) == 0 and max(y for _, y in half) == pytest.approx(120)


def test_a_half_opened_out_is_twice_its_area_its_own_points_first():
    neck = LayPiece("1", ((30, 0), (300, 0), (300, 150), (60, 170), (0, 90)), fold_edge=((30, 0), (300, 0)))
    (item,) = items_for(neck, "single", True)
    (pose,) = item.poses
    assert Polygon(pose.outline).is_valid and Polygon(pose.outline).area == pytest.approx(
        2 * Polygon(neck.outline).area
    )
    first = {(round(x, 6), round(y - 170, 6)) for x, y in pose.outline[:5]}
    assert first == {(float(x), float(y)) for x, y in neck.outline}


def test_a_crosswise_half_cannot_lie_on_the_fold_and_is_opened_out():
    piece = LayPiece("1", rect(300.0, 120.0), fold_edge=((0.0, 0.0), (300.0, 0.0)), grain="crosswise")
    (item,) = items_for(piece, "lengthwise-fold", False)
    assert item.poses and not item.at_fold
    assert all(Polygon(pose.outline).area == pytest.approx(2 * 300.0 * 120.0) for pose in item.poses)


def test_an_allowance_is_added_all_round_but_not_across_the_fold():
    grown = Polygon(cutting_shape(rect(300.0, 120.0), 15.0, folded=False))
    assert grown.bounds == pytest.approx((-15, -15, 315, 135))
    half = Polygon(cutting_shape(rect(300.0, 120.0), 15.0, folded=True))
    assert half.bounds == pytest.approx((-15, 0, 315, 135))


def test_the_usable_strip_leaves_out_both_selvages_or_the_folds_one():
    cloth = LayCloth(1400.0, (10.0, 16.0))
    assert (usable_strip(cloth, "single").width_mm, usable_strip(cloth, "single").offset_mm) == (1374, 10)
    assert (usable_strip(cloth, "lengthwise-fold").width_mm, usable_strip(cloth, "lengthwise-fold").layers) == (684, 2)


def test_a_placement_carries_marks_with_its_outline():
    piece = LayPiece("1", rect(300.0, 120.0), marks={"dot": (30.0, 40.0)})
    (item,) = items_for(piece, "single", True)
    laid = placed(item, item.poses[0], 500.0, 200.0)
    assert laid.marks["dot"] == (530.0, 240.0) and laid.outline[0] == (500.0, 200.0)


@pytest.mark.parametrize(
    "bad", [((0, 0), (1, 1)), ((0, 0), (9, 0), (float("nan"), 9)), ((0, 0), (90, 90), (90, 0), (0, 80))]
)
def test_an_outline_that_is_none_is_refused(bad):
    with pytest.raises(LayError):
        items_for(LayPiece("1", bad), "single", False)


def test_a_fold_piece_is_one_item_for_each_of_its_count():
    items = items_for(fold_piece("1", 300.0, 120.0, 2), "lengthwise-fold", False)
    assert [(i.layers, i.at_fold) for i in items] == [(2, True), (2, True)]
    assert turns(items) == {(0.0, False), (180.0, True)}
