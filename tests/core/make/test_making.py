"""From a make's decisions to requests and cards."""

from dataclasses import replace

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.fit.advice import size_advice
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lay.engine import lay
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.advice import Wearer, advice_request
from rowanseed.core.make.cutting import cut_cards
from rowanseed.core.make.lay_requests import fingerprint, is_symmetrical, lay_piece, lay_request
from rowanseed.core.make.pieces import roles_of, sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.make.sewing import features_of
from rowanseed.core.pattern.model import Piece
from rowanseed.core.pattern.quick import draw_quick
from rowanseed.demo import overshirt, waistcoat

SHIRT, VEST = overshirt.pattern(), waistcoat.pattern()
CLOTH = Cloth(
    "C", parse_length("150 cm"), parse_length("1 cm"), parse_length("3 m"), shrink_along=0.1, shrink_across=0.05
)
QUICK = MakePlan(effort="quick")


def test_the_roles_of_a_view_are_its_cloths_shell_first():
    assert roles_of(VEST, "A") == ["self", "lining", "interfacing"]
    assert roles_of(SHIRT, "B") == ["self", "interfacing"]


def test_a_view_uses_its_own_pieces():
    names = {s.piece.name for s in sized_pieces(SHIRT, "B", "self", ["14"])[0]}
    assert "Chest pocket" not in names and "Front" in names


def test_several_garments_share_a_lay_under_ids_of_their_own():
    pieces, findings = sized_pieces(VEST, "A", "self", ["S", "XL"])
    assert {p.lay_id for p in pieces} == {f"{n}/{k}" for n in "123" for k in (1, 2)} and not findings


def test_a_size_without_an_outline_is_a_stop():
    bare = replace(VEST, pieces=(replace(VEST.pieces[0], shapes={}), *VEST.pieces[1:]))
    pieces, findings = sized_pieces(bare, "A", "self", ["M"])
    assert len(pieces) == 2 and findings[0].level == "stop" and "1 Front" in findings[0].text


def test_an_unwashed_cloth_is_laid_on_what_washing_leaves():
    pieces, _ = sized_pieces(VEST, "A", "self", ["M"])
    asked = lay_request(pieces, CLOTH, QUICK)
    assert asked.cloth.width_mm == pytest.approx(1425) and asked.cloth.length_mm == pytest.approx(2700)
    washed = lay_request(pieces, replace(CLOTH, prepared=True), QUICK)
    assert (washed.cloth.width_mm, washed.cloth.length_mm) == (1500, 3000)


def test_a_symmetrical_piece_cut_twice_is_cut_double_on_the_fold():
    pocket = draw_quick("patch-pocket", {"width": 150, "depth": 180, "point": 20})
    facing = draw_quick("straight-facing", {"length": 700, "width": 90, "shoulder_width": 50, "neck_depth": 90})
    assert is_symmetrical(pocket) and not is_symmetrical(facing)
    sized, _ = sized_pieces(replace(VEST, pieces=(Piece("1", "P", 2, shapes={"M": pocket}),)), "A", "self", ["M"])
    assert lay_piece(sized[0]).mirrored


def test_a_piece_drawn_without_allowance_is_laid_with_it():
    drawn = PieceShape(((0, 0), (0, 100), (300, 100), (300, 0)), fold_edge=((0, 0), (300, 0)))
    bare = Piece("1", "Front", 1, allowance_included=False, allowance_mm=12.0, shapes={"M": drawn})
    sized, _ = sized_pieces(replace(VEST, pieces=(bare,)), "A", "self", ["M"])
    laid = lay_piece(sized[0])
    # 12 mm beyond the head, the foot and the outer side, none at the fold
    assert set(laid.outline) == {(-12, 0), (-12, 112), (312, 112), (312, 0)} and laid.allowance_mm == 0
    assert laid.fold_edge == ((-12, 0), (312, 0)) and sized[0].shape.seam_line == drawn.outline


def test_the_fingerprint_changes_with_anything_the_lay_must_fit_and_not_with_how_it_is_sought():
    pieces, _ = sized_pieces(VEST, "A", "self", ["M"])
    larger, _ = sized_pieces(VEST, "A", "self", ["L"])
    asked = lay_request(pieces, CLOTH, QUICK)
    others = [
        lay_request(larger, CLOTH, QUICK),
        lay_request(pieces, replace(CLOTH, width=parse_length("140 cm")), QUICK),
        lay_request(pieces, CLOTH, replace(QUICK, gap_mm=5.0)),
    ]
    assert fingerprint(asked) == fingerprint(
        lay_request(pieces, CLOTH, MakePlan("chart", effort="best", spread="single"))
    )
    assert len({fingerprint(r) for r in [asked, *others]}) == 4


def test_the_cards_yield_exactly_what_the_pattern_asks_for():
    pieces, _ = sized_pieces(SHIRT, "A", "self", ["14"])
    found = lay(lay_request(pieces, CLOTH, QUICK))
    cards = cut_cards("self", found, pieces, {"Collar"})
    assert len({c.key for c in cards}) == len(cards)
    for sized in pieces:
        assert sum(c.yields for c in cards if c.sized is sized) == sized.piece.cut
    assert all(c.fuse == (c.sized.piece.name == "Collar") for c in cards)
    assert all(c.marks[-1] == "the right side" for c in cards)


def test_the_advice_is_asked_by_the_garments_key_measurement():
    body = {"bust": parse_length("38 in"), "hip": parse_length("39 3/4 in")}
    assert size_advice(advice_request(SHIRT, Wearer(body), MakePlan())).size == "16"
    assert size_advice(advice_request(SHIRT, Wearer(body), MakePlan(key="hip"))).size == "14"  # 39 1/2 in the chart


def test_a_make_may_change_what_its_garment_has():
    assert features_of(SHIRT, "A", MakePlan())["pocket"] == "patch"
    assert features_of(SHIRT, "A", MakePlan(features={"pocket": "none"}))["pocket"] == "none"
