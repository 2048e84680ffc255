"""Alterations and the seam walk: by plane geometry on simple pieces, by carrying on the demo's, by undoing on any."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.alter import alter, seam_walk
from rowanseed.core.fit.kinds import KINDS, Alteration, describe
from rowanseed.core.fit.reshape import change_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, walk_findings
from rowanseed.demo import overshirt, trousers, waistcoat

# A straight panel of 400 x 200 and one that tapers from 200 to 140, their long edges named.
STRAIGHT = PieceShape(
    ((0, 0), (400, 0), (400, 200), (0, 200)), edges={"centre": (0, 1), "hem": (1, 2), "side": (2, 3), "top": (3, 0)}
)
TAPERED = PieceShape(
    ((0, 0), (400, 0), (400, 140), (0, 200)), edges={"centre": (0, 1), "hem": (1, 2), "side": (2, 3), "top": (3, 0)}
)
SIDES = [Seam(("a", "side"), ("b", "side"))]


def pieces(*shapes, **more):
    return [AlterPiece(name, shape, **more) for name, shape in zip("abcd", shapes, strict=False)]


def after(done, name):
    return next(p.shape for p in done.pieces if p.id == name)


def demo(module, size):
    pattern = module.pattern()
    return [AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm) for p in pattern.pieces], pattern.seams


def same(a, b, tolerance=0.01):
    return Polygon(a.outline).exterior.hausdorff_distance(Polygon(b.outline).exterior) <= tolerance


def test_lengthening_adds_the_length_times_the_width_at_the_line():
    longer = change_length(TAPERED, 100.0, 25.4)
    width = 200 - 60 * 100 / 400  # 185 at the line
    assert longer.area_mm2() - TAPERED.area_mm2() == pytest.approx(25.4 * width)
    assert max(x for x, _ in longer.outline) == pytest.approx(425.4)


def test_shortening_a_straight_piece_takes_the_length_times_the_width():
    shorter = change_length(STRAIGHT, 100.0, -30.0)
    assert STRAIGHT.area_mm2() - shorter.area_mm2() == pytest.approx(30 * 200)


def test_shortening_a_sloping_piece_trues_its_side_without_a_step():
    shorter = change_length(TAPERED, 100.0, -40.0)
    xs = [x for x, _ in shorter.outline]
    assert max(xs) == pytest.approx(360)
    ends = {(round(x), round(y)) for x, y in shorter.outline}
    assert {(0, 0), (360, 0), (360, 140), (0, 200)} <= ends
    for (ax, _), (bx, _) in zip(shorter.outline, shorter.outline[1:]):
        assert abs(ax - bx) > 1e-6 or ax in (0, 360)  # no side runs straight across at the fold


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(["overshirt", "trousers", "waistcoat"]), st.data(), st.floats(3, 60))
def test_letting_in_and_folding_out_the_same_strip_gives_the_outline_back(name, data, by):
    module = {"overshirt": overshirt, "trousers": trousers, "waistcoat": waistcoat}[name]
    pattern = module.pattern()
    piece = data.draw(st.sampled_from(pattern.pieces))
    shape = piece.shapes[data.draw(st.sampled_from(pattern.size_names()))]
    xs = [x for x, _ in shape.outline]
    at = data.draw(st.floats(min(xs) + 1, max(xs) - 1))
    assert same(change_length(change_length(shape, at, by), at, -by), shape)


@settings(max_examples=40, deadline=None)
@given(st.data())
def test_any_stack_of_alterations_keeps_outlines_simple_or_is_refused_and_joined_seams_still_meet(data):
    base, seams = demo(trousers, "40")
    stack = [
        Alteration(
            data.draw(st.sampled_from(["length", "side", "taper"])),
            data.draw(st.sampled_from(["1", "2"])),
            data.draw(st.floats(-25, 40)),
            data.draw(st.floats(120, 900)),
            "side",
        )
        for _ in range(data.draw(st.integers(1, 4)))
    ]
    done = alter(base, seams, stack)
    assert all(Polygon(p.shape.outline).is_valid for p in done.pieces)
    refused = [f for f in done.findings if f.code == "alteration-refused"]
    assert all(f.level == "stop" for f in refused)
    side = next(w for w in seam_walk(done.pieces, seams) if w.seam.a[1] == "side")
    assert abs(side.off_mm) < 12  # truing and bending change a long seam by little


def test_an_alteration_is_carried_to_the_piece_that_joins_at_the_same_distance():
    lower = PieceShape(tuple((x + 50, y) for x, y in STRAIGHT.outline), edges=STRAIGHT.edges)
    done = alter(pieces(STRAIGHT, lower), SIDES, [Alteration("length", "a", 20.0, 100.0)])
    assert [(f.piece, "side" in f.because) for f in done.followed] == [("b", True)]
    assert {x for x, _ in after(done, "b").outline} == {50, 150, 170, 470}  # 100 along its own side
    assert done.findings == ()


def test_lengthening_a_front_reaches_back_band_and_the_bands_interfacing():
    base, seams = demo(overshirt, "14")
    done = alter(base, seams, [Alteration("length", "3", 25.4, 400.0)])
    assert [f.piece for f in done.followed] == ["1", "8", "11"]
    grown = {p.id: p.shape.area_mm2() - b.shape.area_mm2() for p, b in zip(done.pieces, base, strict=True)}
    assert grown["8"] == pytest.approx(25.4 * 76) and grown["4"] == 0
    assert not done.findings


def test_a_piece_cut_like_another_follows_it():
    done = alter([*pieces(STRAIGHT), AlterPiece("i", STRAIGHT, "a")], [], [Alteration("side", "a", 10.0, edge="side")])
    assert after(done, "i") == after(done, "a") and done.followed[0].piece == "i"


def test_a_band_sewn_to_an_edge_that_grew_grows_as_much():
    seams = [Seam(("a", "top"), ("b", "top"))]
    done = alter(pieces(STRAIGHT, STRAIGHT), seams, [Alteration("side", "a", 12.0, edge="side")])
    assert done.findings == () and after(done, "b").area_mm2() == pytest.approx(400 * 212)
    assert [f.piece for f in done.followed] == ["b"] and "changed its length" in done.followed[0].because


def test_a_waistband_takes_up_what_four_edges_gained():
    band = PieceShape(((0, 0), (800, 0), (800, 60), (0, 60)), edges={"long": (0, 1)})
    seams = [*SIDES, Seam(("w", "long"), ("a", "top"), 0.0, (), (("a", "top"), ("b", "top"), ("b", "top")))]
    stack = [Alteration("side", "a", 5.0, edge="side")]
    done = alter([*pieces(STRAIGHT, STRAIGHT), AlterPiece("w", band)], seams, stack)
    assert max(x for x, _ in after(done, "w").outline) == pytest.approx(820, abs=0.02)  # 4 edges x 5 mm
    assert {f.piece for f in done.followed} == {"b", "w"} and done.findings == ()


def test_a_piece_that_is_left_stays_as_it_was_and_stays_named():
    seams = [Seam(("a", "top"), ("b", "top"))]
    left = Alteration("side", "a", 12.0, edge="side", leave=("b",))
    done = alter(pieces(STRAIGHT, STRAIGHT), seams, [left])
    assert after(done, "b") == STRAIGHT and done.followed == () and [f.piece for f in done.left_by[0]] == ["b"]
    assert [f.code for f in done.findings] == ["left-as-it-was", "seam-too-long"]
    assert "1.2 cm (1/2 in) longer" in done.findings[1].text


def test_widening_at_a_seam_moves_it_out_on_both_pieces():
    done = alter(pieces(STRAIGHT, STRAIGHT), SIDES, [Alteration("side", "a", 10.0, edge="side")])
    for name in "ab":
        assert after(done, name).area_mm2() == pytest.approx(400 * 210)


def test_a_taper_is_fullest_at_its_place_and_nothing_at_its_ends():
    done = alter(pieces(STRAIGHT, STRAIGHT), SIDES, [Alteration("taper", "a", 10.0, 200.0, "side")])
    by_x = {round(x): y for x, y in after(done, "a").outline if y > 100}
    assert by_x[0] == by_x[400] == 200 and max(by_x.values()) == pytest.approx(210, abs=0.1)
    # A bump of half a cosine over 160 mm each way: 10 x 160 of area.
    assert after(done, "a").area_mm2() - STRAIGHT.area_mm2() == pytest.approx(1600, rel=0.02)


def test_a_shoulder_is_taken_up_at_its_outer_end_only():
    base, seams = demo(overshirt, "14")
    done = alter(base, seams, [Alteration("shoulder", "3", 10.0)])
    old, new = base[2].shape, after(done, "3")
    neck, tip = old.edges["shoulder"]
    assert new.outline[tip][0] - old.outline[tip][0] == pytest.approx(10) and new.outline[neck] == old.outline[neck]
    assert done.followed[0].piece == "2" and "shoulder" in done.followed[0].because


def test_a_full_upper_arm_widens_the_sleeve_at_the_underarm_and_not_at_the_hem():
    base, seams = demo(overshirt, "14")
    done = alter(base, seams, [Alteration("upper-arm", "4", 24.0)])
    old, new = base[3].shape.outline, after(done, "4").outline

    def width(outline, pick):
        x = pick(x for x, y in outline if abs(y) > 100)
        ys = [y for px, y in outline if abs(px - x) < 1]
        return max(ys) - min(ys)

    assert max(y for _, y in new) - min(y for _, y in new) == pytest.approx(
        max(y for _, y in old) - min(y for _, y in old) + 24
    )
    assert width(new, max) == pytest.approx(width(old, max))


def test_an_alteration_switched_off_changes_nothing():
    done = alter(pieces(STRAIGHT), [], [Alteration("length", "a", 20.0, 100.0, on=False)])
    assert after(done, "a") == STRAIGHT


@pytest.mark.parametrize(
    ("alteration", "word"),
    [
        (Alteration("length", "a", 20.0, 900.0), "lies off the piece"),
        (Alteration("length", "a", -350.0, 100.0), "more than is left"),
        (Alteration("side", "a", 10.0, edge="wing"), "no edge"),
        (Alteration("side", "a", -260.0, edge="side"), "crosses|encloses|inside out"),
        (Alteration("hem", "a", 10.0, edge="wing"), "no edge"),
    ],
)
def test_what_cannot_be_made_is_refused_with_its_reason_and_changes_nothing(alteration, word):
    done = alter(pieces(TAPERED), [], [alteration])
    (finding,) = done.findings
    assert finding.level == "stop" and finding.code == "alteration-refused"
    assert any(w in finding.text for w in word.split("|")) and after(done, "a") == TAPERED


@pytest.mark.parametrize(
    ("alteration", "field"),
    [
        (Alteration("wings", "a", 10.0), "kind"),
        (Alteration("side", "z", 10.0), "piece"),
        (Alteration("length", "a", 10.0), "at"),
        (Alteration("side", "a", math.nan), "by"),
    ],
)
def test_an_alteration_that_is_not_known_names_its_field(alteration, field):
    with pytest.raises(AlterationError) as caught:
        alter(pieces(STRAIGHT), [], [alteration])
    assert caught.value.field == field


def test_an_alteration_says_itself_in_words():
    assert describe(Alteration("length", "3", -25.4, 400.0)) == (
        "Lengthen or shorten at a line, piece 3 at 40 cm (15 3/4 in) from the top: minus 2.5 cm (1 in)"
    )
    assert all(k.title and k.about for k in KINDS.values())


def test_the_seam_line_lies_an_allowance_inside_and_on_the_fold_not_at_all():
    assert set(replace(STRAIGHT, allowance_mm=15.0).seam_line) == {(15, 15), (385, 15), (385, 185), (15, 185)}
    folded = replace(STRAIGHT, fold_edge=((0, 0), (400, 0)))
    assert set(replace(folded, allowance_mm=15.0).seam_line) == {(15, 0), (385, 0), (385, 185), (15, 185)}


def test_the_seam_line_of_a_curve_is_shapelys_inner_offset():
    circle = tuple(
        (300 + 200 * math.cos(2 * math.pi * k / 90), 200 * math.sin(2 * math.pi * k / 90)) for k in range(90)
    )
    line = Polygon(PieceShape(circle, allowance_mm=15.0).seam_line)
    assert line.exterior.hausdorff_distance(Polygon(circle).buffer(-15.0, join_style="mitre").exterior) < 0.05


@pytest.mark.parametrize("module", [overshirt, trousers, waistcoat])
def test_every_seam_of_the_demo_patterns_meets_in_every_size(module):
    for size in module.pattern().size_names():
        base, seams = demo(module, size)
        assert walk_findings(seam_walk(base, seams)) == [], size
