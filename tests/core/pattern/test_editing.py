"""Corrections of a kept piece, worked by hand on a plain shape."""

import pytest

from rowanseed.core.errors import OutlineError, ShapeError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.sizes import carried, corners
from rowanseed.core.pattern import editing
from rowanseed.core.pattern.model import Piece


def box(wide: float, high: float) -> PieceShape:
    return PieceShape(((0, 0), (0, wide), (high, wide), (high, 0)), edges={"side": (1, 2)})


PIECE = Piece("1", "Front", 2, mirrored=True, shapes={"10": box(200, 500), "12": box(220, 520)})


def test_an_edge_is_named_the_shorter_way_round_in_every_size() -> None:
    named = editing.named_edge(PIECE, "10", "hem", (3, 2), True)
    assert named.shapes["10"].edges["hem"] == named.shapes["12"].edges["hem"] == (2, 3)
    assert "hem" not in editing.named_edge(PIECE, "10", "hem", (2, 3), False).shapes["12"].edges
    with pytest.raises(ShapeError):
        editing.named_edge(PIECE, "10", "hem", (2, 2), True)
    with pytest.raises(ShapeError):
        editing.named_edge(PIECE, "10", " ", (2, 3), True)


def test_a_notch_is_carried_at_its_share_of_the_edge() -> None:
    """250 of 500 mm down the side is 260 of 520 in the next size."""
    notched = editing.added_notch(PIECE, "10", (250, 196), 1, True)
    assert notched.shapes["10"].notches[0].at == pytest.approx((250, 200))
    assert notched.shapes["12"].notches[0].at == pytest.approx((260, 220))
    assert not editing.without(notched, "10", "notches", 0, True).shapes["12"].notches
    with pytest.raises(ShapeError):
        editing.added_notch(PIECE, "10", (250, 100), 1, True)


def test_carrying_without_matching_corners_takes_the_nearest_place() -> None:
    house = ((0.0, 0.0), (0.0, 220.0), (500.0, 220.0), (560.0, 110.0), (500.0, 0.0))
    assert carried([(250.0, 200.0)], PIECE.shapes["10"].outline, house)[0] == pytest.approx((250, 220))
    assert len(corners(house)) == 5


def test_a_fold_lies_along_the_grain_and_ends_pairs() -> None:
    slanted = {z: editing.with_grain(PIECE, z, ((0, 0), (300, 30))).shapes[z] for z in PIECE.shapes}
    piece = Piece("1", "Front", 2, mirrored=True, shapes=slanted)
    folded = editing.on_fold(piece, "side")
    for shape in folded.shapes.values():
        assert shape.fold_edge is not None and shape.fold_edge[0][1] == pytest.approx(shape.fold_edge[1][1])
    assert not folded.mirrored
    assert editing.on_fold(folded, "").shapes["10"].fold_edge is None
    with pytest.raises(ShapeError):
        editing.on_fold(piece, "nowhere")


def test_the_grain_turns_every_size_alike() -> None:
    turned = editing.with_grain(PIECE, "10", ((0, 0), (0, 100)))
    xs = [x for x, _ in turned.shapes["12"].outline]
    assert max(xs) - min(xs) == pytest.approx(220)
    with pytest.raises(ShapeError):
        editing.with_grain(PIECE, "10", ((0, 0), (0, 5)))


def test_a_point_is_moved_by_as_much_in_every_size_and_never_across_the_outline() -> None:
    moved = editing.moved_point(PIECE, "10", 2, (510, 205), True)
    assert moved.shapes["12"].outline[2] == (530, 225)
    with pytest.raises(OutlineError):
        editing.moved_point(PIECE, "10", 2, (-50, 100), False)


def test_edges_are_renamed_with_what_hangs_on_them() -> None:
    from dataclasses import replace

    piece = replace(PIECE, edge_allowances={"side": 20.0}, selvage_edge="side")
    renamed = editing.renamed_edges(piece, {"side": "centre"})
    assert (renamed.selvage_edge, dict(renamed.edge_allowances)) == ("centre", {"centre": 20.0})
    assert "side" not in editing.renamed_edges(piece, {"side": ""}).shapes["10"].edges


def test_marks_are_named_and_taken_out() -> None:
    marked = editing.added_mark(PIECE, "10", "button", (100, 100), True)
    with pytest.raises(ShapeError, match="Only marks and lines"):
        editing.renamed_mark(marked, "10", "“quoted”", 0, "buttonhole")
    named = editing.renamed_mark(marked, "10", "marks", 0, "buttonhole")
    assert [s.marks[0].name for s in named.shapes.values()] == ["buttonhole", "buttonhole"]
    with pytest.raises(ShapeError):
        editing.without(PIECE, "10", "marks", 0, True)


def test_a_dart_opens_on_the_edge_in_every_size() -> None:
    """Both legs lie on the side and go along it, the point stays inside."""
    darted = editing.added_line(PIECE, "10", "dart", ((240, 198), (250, 90), (260, 199)), True)
    assert darted.shapes["10"].lines[0].points == ((240, 200), (250, 90), (260, 200))
    legs = darted.shapes["12"].lines[0].points
    assert legs[0] == pytest.approx((249.6, 220)) and legs[1] == (250, 90)
    with pytest.raises(ShapeError):
        editing.added_line(PIECE, "10", "dart", ((240, 198), (260, 199)), True)
