"""Seams suggested by the edges' names and lengths."""

from dataclasses import replace

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.joins import suggest_seams
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.demo import overshirt

FRONT = PieceShape(((0, 0), (400, 0), (400, 200), (0, 200)), edges={"side": (2, 3), "shoulder": (3, 0)})


def pattern(back_length=400.0, **more):
    back = replace(FRONT, outline=((0, 0), (back_length, 0), (back_length, 200), (0, 200)))
    pieces = (Piece("1", "Front", 2, shapes={"M": FRONT}), Piece("2", "Back", 1, shapes={"M": back}))
    return Pattern("Shift", pieces=pieces, **more)


def test_edges_of_one_name_and_like_length_are_suggested_once():
    asked = pattern()
    found = suggest_seams(asked, "M")
    assert {(s.a, s.b) for s in found} == {(("1", k), ("2", k)) for k in ("side", "shoulder")}
    assert suggest_seams(replace(asked, seams=tuple(found)), "M") == []


def test_edges_that_differ_by_more_than_a_few_per_cent_are_not():
    assert [s.a[1] for s in suggest_seams(pattern(back_length=480.0), "M")] == ["shoulder"]


def test_the_seams_of_the_demo_overshirt_are_found_again_from_its_edges():
    whole = overshirt.pattern()
    found = {frozenset(s.edges) for s in suggest_seams(replace(whole, seams=()), "14")}
    declared = {frozenset(s.edges) for s in whole.seams}
    wanted = {frozenset({("3", "side"), ("1", "side")}), frozenset({("4", "front seam"), ("4", "back seam")})}
    assert wanted <= found & declared
