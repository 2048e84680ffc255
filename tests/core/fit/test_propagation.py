"""What an alteration carries along seams: facings, linings, caps and bands, by hand on plain pieces and on the demo's."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from rowanseed.core.fit.alter import alter, seam_walk
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.reshape import change_width
from rowanseed.core.geometry.shape import Line, Notch, PieceShape
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker, tolerance, walk_findings
from rowanseed.demo import overshirt, trousers, waistcoat

PANEL = PieceShape(
    ((0, 0), (400, 0), (400, 200), (0, 200)), edges={"centre": (0, 1), "hem": (1, 2), "side": (2, 3), "waist": (3, 0)}
)


def demo(module, size):
    pattern = module.pattern()
    return [AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm) for p in pattern.pieces], pattern.seams


def shape_of(done, number):
    return next(p.shape for p in done.pieces if p.id == number)


def test_a_strip_across_adds_its_width_times_the_length_at_the_line():
    wide = change_width(PANEL, 100.0, 25.0)
    assert wide.area_mm2() == pytest.approx(400 * 225) and max(x for x, _ in wide.outline) == 400
    assert change_width(wide, 100.0, -25.0).area_mm2() == pytest.approx(PANEL.area_mm2())


def test_widening_front_and_back_reaches_the_facing_and_its_interfacing():
    facing = PieceShape(((0, 0), (60, 0), (60, 200), (0, 200)), edges={"waist": (3, 0), "foot": (1, 2)})
    pieces = [
        AlterPiece("front", PANEL),
        AlterPiece("back", PANEL),
        AlterPiece("facing", facing),
        AlterPiece("fusible", facing, "facing"),
    ]
    seams = [Seam(("front", "side"), ("back", "side")), Seam(("front", "waist"), ("facing", "waist"))]
    done = alter(pieces, seams, [Alteration("side", "front", 8.0)])
    assert [f.piece for f in done.followed] == ["back", "facing", "fusible"] and not done.findings
    assert shape_of(done, "fusible").area_mm2() == pytest.approx(60 * 208, rel=1e-4)
    assert shape_of(done, "facing") == shape_of(done, "fusible")


def test_in_an_eased_seam_only_the_eased_side_gives_way():
    seams = [Seam(("a", "waist"), ("b", "waist"), 30.0, why="gathers")]
    loose = replace(PANEL, outline=((0, 0), (400, 0), (400, 230), (0, 230)))
    pieces = [AlterPiece("a", loose), AlterPiece("b", PANEL)]
    fitted = alter(pieces, seams, [Alteration("side", "b", 10.0)])
    assert [f.piece for f in fitted.followed] == ["a"] and not fitted.findings
    gathered = alter(pieces, seams, [Alteration("side", "a", 10.0)])
    assert not gathered.followed and [f.code for f in gathered.findings] == ["seam-too-long"]


def test_notches_of_what_follows_are_marked_anew_to_meet():
    notched = replace(PANEL, notches=(Notch((150.0, 200.0)),))
    pieces = [AlterPiece("a", notched), AlterPiece("b", replace(PANEL, notches=(Notch((150.0, 200.0)),)))]
    seams = [Seam(("a", "side"), ("b", "side"))]
    # The strip lies above the notch on both pieces, so both notches move with it and still meet.
    done = alter(pieces, seams, [Alteration("length", "a", 20.0, 100.0)])
    assert {shape_of(done, k).notches[0].at for k in "ab"} == {(170.0, 200.0)}
    assert not done.findings and done.walked[0].notch_pairs == ((170.0, 170.0),)


def test_a_notch_that_misses_its_partner_is_found_with_the_millimetres():
    pieces = [AlterPiece(k, replace(PANEL, notches=(Notch((x, 200.0)),))) for k, x in (("a", 150.0), ("b", 158.0))]
    (finding,) = walk_findings(seam_walk(pieces, [Seam(("a", "side"), ("b", "side"))]))
    assert finding.code == "notch-out-of-place" and "0.8 cm" in finding.text


def test_what_a_dart_folds_away_is_not_counted_on_its_edge():
    darted = replace(PANEL, lines=(Line("dart", ((100.0, 200.0), (110.0, 100.0), (120.0, 200.0))),))
    # 20 mm wide at the cut edge, 100 mm deep: 15 mm inside it 17 mm are left; the edge is 400 less two allowances.
    assert Walker().edge_mm(AlterPiece("a", darted, allowance_mm=15.0), "side") == pytest.approx(400 - 30 - 17)


@pytest.mark.parametrize("by", [12.0, -8.0])
def test_a_full_upper_arm_leaves_the_cap_as_long_as_its_armhole_needs(by):
    base, seams = demo(overshirt, "14")
    done = alter(base, seams, [Alteration("upper-arm", "4", by)])
    assert not done.findings and not done.followed
    caps = [w for w in done.walked if w.seam.why == "cap ease"]
    assert sum(w.off_mm for w in caps) == pytest.approx(0.0, abs=0.2)


def test_a_crotch_is_deepened_on_both_legs_and_the_inseams_still_meet():
    base, seams = demo(trousers, "40")
    done = alter(base, seams, [Alteration("crotch", "1", 15.0)])
    assert [f.piece for f in done.followed] == ["2"] and not done.findings
    for number in "12":
        old = next(p.shape for p in base if p.id == number)
        fork = old.edges["crotch"][1]
        assert shape_of(done, number).outline[fork][0] - old.outline[fork][0] == pytest.approx(15.0)


def test_a_strap_is_lengthened_at_its_middle_with_what_is_cut_like_it():
    strap = PieceShape(((0, 0), (500, 0), (500, 40), (0, 40)), edges={"long": (0, 1)})
    pieces = [AlterPiece("s", strap), AlterPiece("lining", strap, "s")]
    done = alter(pieces, [], [Alteration("strap", "s", 30.0)])
    assert {max(x for x, _ in p.shape.outline) for p in done.pieces} == {530}


@pytest.mark.parametrize("by", [25.0, -25.0])
def test_a_hem_is_made_longer_or_shorter_on_both_pieces(by):
    pieces, seams = [AlterPiece("a", PANEL), AlterPiece("b", PANEL)], [Seam(("a", "side"), ("b", "side"))]
    done = alter(pieces, seams, [Alteration("hem", "a", by)])
    assert {p.shape.area_mm2() for p in done.pieces} == {(400 + by) * 200} and not done.findings


def test_a_length_is_let_in_at_the_pieces_own_line_when_no_place_is_given():
    base, seams = demo(overshirt, "14")
    line = next(line for line in base[2].shape.lines if line.kind == "lengthen").points[0][0]
    given, own = (alter(base, seams, [Alteration("length", "3", 20.0, at)]) for at in (line, None))
    assert shape_of(given, "3") == shape_of(own, "3")


STACKS = {
    overshirt: ["1", "2", "3", "4"],
    trousers: ["1", "2"],
    waistcoat: ["1", "2"],
}


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_any_stack_keeps_outlines_simple_or_is_refused_and_every_seam_that_met_is_met_or_told(data):
    module = data.draw(st.sampled_from(list(STACKS)))
    pattern = module.pattern()
    base, seams = demo(module, data.draw(st.sampled_from(pattern.size_names())))
    stack = [
        Alteration(
            data.draw(st.sampled_from(list(KINDS))),
            data.draw(st.sampled_from(STACKS[module])),
            data.draw(st.floats(-20, 25)),
            data.draw(st.floats(60, 600)),
        )
        for _ in range(data.draw(st.integers(1, 4)))
    ]
    done = alter(base, seams, stack)
    assert all(Polygon(p.shape.outline).is_valid for p in done.pieces)
    told = " ".join(f.text for f in done.findings)
    for seam in done.walked:
        if abs(seam.off_mm) > tolerance(seam.seam) + 0.5:
            assert f"iece {seam.seam.a[0]}, {seam.seam.a[1]}" in told


@settings(max_examples=30, deadline=None)
@given(st.sampled_from(list(STACKS)), st.data())
def test_switching_every_alteration_off_gives_the_outlines_back(module, data):
    base, seams = demo(module, data.draw(st.sampled_from(module.pattern().size_names())))
    kinds = data.draw(st.lists(st.sampled_from(list(KINDS)), min_size=1, max_size=4))
    stack = [Alteration(kind, STACKS[module][0], 15.0, 300.0, on=False) for kind in kinds]
    assert list(alter(base, seams, stack).pieces) == base


@settings(max_examples=40, deadline=None)
@given(
    st.sampled_from([("side", overshirt, "3"), ("taper", trousers, "1"), ("side", waistcoat, "1")]), st.floats(3, 18)
)
def test_an_edge_moved_out_and_in_again_gives_the_outline_back(what, by):
    kind, module, number = what
    base, seams = demo(module, module.pattern().size_names()[2])
    there = Alteration(kind, number, by, 330.0, "side")
    back = replace(there, by_mm=-by)
    done = alter(base, [], [there, back])
    for old, new in zip(base, done.pieces, strict=True):
        assert Polygon(old.shape.outline).hausdorff_distance(Polygon(new.shape.outline)) <= 0.01
    assert seams
