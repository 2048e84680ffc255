"""Alterations for what bodies ask, each against plane geometry on simple pieces and against what must not change.

The invariants (a hinge keeps its seam, a wedge adds half its opening times the width, a turned dart keeps its angle, joined
seams still meet) are common practice, no published source.
"""

import math
from dataclasses import replace
from functools import cache

import pytest
from shapely import Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.darts import deeper, turned
from rowanseed.core.fit.edge_changes import altered_shape
from rowanseed.core.fit.edge_shapes import seam_mm
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.wedge import wedge_of
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import Line, Mark, PieceShape, with_allowance
from rowanseed.core.pattern.seamwalk import AlterPiece
from rowanseed.demo import overshirt, trousers, waistcoat

# A back of 600 x 200: centre at y 0, side at y 200, waist at 350, hip at 520; its figures are worked out by hand.
BLOCK = PieceShape(
    ((0, 0), (600, 0), (600, 200), (180, 200), (20, 160), (0, 70)),
    edges={"centre": (0, 1), "hem": (1, 2), "side": (2, 3), "armhole": (3, 4), "shoulder": (4, 5), "neck": (5, 0)},
    levels={"bust": 190.0, "waist": 350.0, "hip": 520.0},
)
LEG = PieceShape(
    ((0, 20), (0, 220), (1000, 220), (1000, 0), (260, -40), (180, 0)),
    edges={"waist": (0, 1), "side": (1, 2), "hem": (2, 3), "inseam": (3, 4), "crotch": (4, 0)},
    levels={"hip": 180.0, "thigh": 320.0},
)
DARTED = replace(
    BLOCK,
    marks=(Mark("bust point", (275.0, 90.0)),),
    lines=(Line("dart", ((260.0, 200.0), (275.0, 100.0), (290.0, 200.0))),),
)


def made(kind, by, shape=BLOCK, at=None, edge=""):
    return altered_shape(Alteration(kind, "a", by, at, edge), AlterPiece("a", shape), edge or KINDS[kind].edge, at)


@pytest.mark.parametrize(
    ("kind", "shape", "sign", "width"),
    [("sway-back", BLOCK, -1, 200), ("tummy", BLOCK, 1, 200), ("seat", BLOCK, 1, 200), ("bowed-leg", LEG, 1, None)],
)
def test_a_wedge_adds_half_its_opening_times_the_width(kind, shape, sign, width):
    wedge = wedge_of(Alteration(kind, "a", 12.0), shape)
    wide = width or abs(wedge.full - wedge.hinge)
    assert made(kind, 12.0, shape).area_mm2() - shape.area_mm2() == pytest.approx(
        sign * 12.0 * wide / 2, rel=0.09
    )  # less where the shoulder is held


@pytest.mark.parametrize("kind", ["sway-back", "tummy", "seat"])
def test_a_wedge_across_keeps_the_side_and_changes_the_centre_by_its_opening(kind):
    after = made(kind, 12.0)
    assert seam_mm(after, "side") == pytest.approx(seam_mm(BLOCK, "side"), abs=0.05)
    assert abs(seam_mm(after, "centre") - seam_mm(BLOCK, "centre")) == pytest.approx(12.0, abs=0.05)
    assert {round(y, 3) for _, y in edge_points(after.outline, after.edges["centre"])} == {
        0.0
    }  # it stays straight, for the fold


def test_a_wedge_let_in_and_folded_out_again_gives_the_piece_back():
    there = made("rounded-back", 15.0)
    back = altered_shape(
        Alteration("rounded-back", "a", -15.0),
        AlterPiece("a", there),
        "",
        wedge_of(Alteration("rounded-back", "a", 0), BLOCK).line,
    )
    assert Polygon(back.outline).symmetric_difference(Polygon(BLOCK.outline)).area < 0.01 * BLOCK.area_mm2()


@pytest.mark.parametrize("kind", ["rounded-back", "high-back", "chest"])
def test_above_the_slash_the_shoulder_keeps_its_length_and_the_neck_rises(kind):
    after = made(kind, 12.0)
    assert seam_mm(after, "shoulder") == pytest.approx(seam_mm(BLOCK, "shoulder"), abs=0.1)
    assert seam_mm(after, "centre") - seam_mm(BLOCK, "centre") == pytest.approx(12.0, abs=0.05)
    assert seam_mm(after, "side") == pytest.approx(seam_mm(BLOCK, "side"), abs=0.05)


def test_bowed_legs_open_at_the_side_and_keep_the_inseam():
    after = made("bowed-leg", 20.0, LEG)
    assert seam_mm(after, "side") - seam_mm(LEG, "side") == pytest.approx(20.0, abs=0.1)
    assert seam_mm(after, "inseam") == pytest.approx(seam_mm(LEG, "inseam"), abs=0.3)


def test_a_gaping_neck_is_shorter_by_what_is_folded_out():
    after = made("gaping-neck", 10.0)
    assert 7.0 < seam_mm(BLOCK, "neck") - seam_mm(after, "neck") < 13.0
    assert seam_mm(after, "shoulder") == pytest.approx(seam_mm(BLOCK, "shoulder"), rel=0.03)


def test_shoulders():
    wider = made("shoulder-length", 15.0)
    assert seam_mm(wider, "shoulder") - seam_mm(BLOCK, "shoulder") == pytest.approx(15.0, abs=0.1)
    assert wider.outline[3] == BLOCK.outline[3]  # the underarm stays
    forward = made("forward-shoulder", 12.0)
    assert seam_mm(forward, "shoulder") == pytest.approx(seam_mm(BLOCK, "shoulder"), abs=0.1)
    assert forward.outline[4][0] > BLOCK.outline[4][0] + 9 and forward.outline[5] == BLOCK.outline[5]


def test_necks():
    wider = made("neck-width", 12.0)
    assert seam_mm(BLOCK, "shoulder") - seam_mm(wider, "shoulder") == pytest.approx(12.0, abs=0.1)
    assert seam_mm(wider, "neck") > seam_mm(BLOCK, "neck") + 5
    lower = made("neck-depth", 20.0)
    assert min(x for x, y in lower.outline if y == 0) == pytest.approx(20.0)
    assert seam_mm(lower, "shoulder") == pytest.approx(seam_mm(BLOCK, "shoulder"))
    with pytest.raises(AlterationError, match="no shoulder"):
        made("neck-width", 200.0)


def test_across_the_back_the_armhole_moves_out_between_its_ends():
    after = made("across", 10.0)
    assert seam_mm(after, "shoulder") == pytest.approx(seam_mm(BLOCK, "shoulder"), abs=0.1)
    assert after.area_mm2() > BLOCK.area_mm2() and seam_mm(after, "side") == pytest.approx(
        seam_mm(BLOCK, "side"), abs=0.1
    )


@pytest.mark.parametrize(("kind", "level"), [("hip-curve", 435.0), ("thigh", 320.0), ("calf", 766.0)])
def test_a_bump_is_fullest_at_its_place_and_leaves_the_ends(kind, level):
    shape = BLOCK if kind == "hip-curve" else LEG
    after = made(kind, 12.0, shape)
    wider = Polygon(after.outline)

    def width(polygon, x):
        return polygon.intersection(Polygon([(x - 0.5, -500), (x + 0.5, -500), (x + 0.5, 500), (x - 0.5, 500)])).area

    assert width(wider, level) - width(Polygon(shape.outline), level) == pytest.approx(12.0, abs=0.8)
    assert width(wider, 990 if shape is LEG else 590) == pytest.approx(
        width(Polygon(shape.outline), 990 if shape is LEG else 590), abs=0.1
    )


def test_a_longer_crotch_fork():
    after = made("crotch-length", 15.0, LEG)
    assert seam_mm(after, "crotch") == pytest.approx(seam_mm(LEG, "crotch") + 15.0, abs=0.1)  # as it says
    assert min(y for _, y in after.outline) < -55.0 and after.outline[after.edges["side"][0]] == LEG.outline[1]


def test_a_turned_dart_keeps_its_angle_and_the_seams_with_it_folded():
    def opening(line):
        a, t, b = line.points
        one, two = (math.atan2(p[1] - t[1], p[0] - t[0]) for p in (a, b))
        return abs((one - two + math.pi) % (2 * math.pi) - math.pi)

    after = turned(DARTED, "shoulder", 60.0)
    (was,), (now,) = DARTED.lines, after.lines
    assert opening(now) == pytest.approx(opening(was), abs=1e-3) and now.points[1] == was.points[1]
    assert Polygon(after.outline).is_valid
    for edge in ("side", "shoulder", "neck", "armhole", "hem", "centre"):
        assert seam_mm(after, edge) == pytest.approx(seam_mm(DARTED, edge), abs=0.6), edge
    assert edge_points(after.outline, after.edges["centre"]) == edge_points(DARTED.outline, DARTED.edges["centre"])
    again = (
        turned(after, "side", seam_mm(DARTED, "side") - 1, "shoulder")
        if False
        else turned(after, "hem", 90.0, "shoulder")
    )
    assert seam_mm(again, "shoulder") == pytest.approx(seam_mm(DARTED, "shoulder"), abs=0.6)
    with pytest.raises(AlterationError, match="no dart"):
        turned(BLOCK, "shoulder", 60.0)
    with pytest.raises(AlterationError, match="end"):
        turned(DARTED, "shoulder", 1.0)


def test_a_deeper_dart_takes_in_more_and_the_waist_is_kept_where_asked():
    waisted = replace(LEG, lines=(Line("dart", ((0.0, 100.0), (90.0, 110.0), (0.0, 120.0))),), edges={**LEG.edges})
    small = deeper(waisted, "waist", 10.0, kept=False)
    assert seam_mm(waisted, "waist") - seam_mm(small, "waist") == pytest.approx(10.0, abs=0.2)
    kept = deeper(waisted, "waist", 10.0, kept=True)
    assert seam_mm(kept, "waist") == pytest.approx(seam_mm(waisted, "waist"), abs=0.2)
    with pytest.raises(AlterationError, match="less than that"):
        deeper(waisted, "waist", -30.0, kept=False)


def test_a_bust_point_moves_with_the_darts_aimed_at_it():
    after = made("bust-point", 15.0, DARTED)
    assert after.marks[0].at == (290.0, 90.0) and after.lines[0].points[1] == (290.0, 100.0)
    assert after.lines[0].points[0] == DARTED.lines[0].points[0] and after.outline == DARTED.outline


FITTING = {
    overshirt: "sway-back 1 rounded-back 2 high-back 2 chest 3 across 1 forward-shoulder 3 shoulder-length 3 neck-width 3 "
    "neck-depth 3 gaping-neck 3 hip-curve 3 elbow 4 wrist 4",
    trousers: "seat 2 tummy 1 rise 1 crotch-length 1 thigh 1 calf 1 bowed-leg 1 hip-curve 1",
    waistcoat: "sway-back 2 rounded-back 2 chest 1 forward-shoulder 1 shoulder-length 1 neck-width 1",
}
CASES = [
    (m, kind, piece, by)
    for m, said in FITTING.items()
    for kind, piece in zip(*[iter(said.split())] * 2)
    for by in (10.0, -8.0)
]


@cache
def whole(module):
    """A demo pattern's pieces in a middle size, and its seams; drawn once."""
    pattern = module.pattern()
    size = pattern.size_names()[len(pattern.size_names()) // 2]
    own = [p for p in pattern.pieces if size in p.shapes]
    return [AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm, p.follows) for p in own], pattern.seams


@pytest.mark.parametrize(("module", "kind", "piece", "by"), CASES)
def test_on_a_whole_pattern_every_seam_still_meets_or_is_told(module, kind, piece, by):
    pieces, seams = whole(module)
    done = alter(pieces, seams, [Alteration(kind, piece, by)])
    assert not [f for f in done.findings if f.level == "stop"]
    changed = [p for p, q in zip(done.pieces, pieces, strict=True) if p.shape.outline != q.shape.outline]
    assert changed and all(Polygon(p.shape.outline).is_valid for p in done.pieces)
    off = [w for w in done.walked if abs(w.off_mm) > 4.5]
    assert not off, [(w.seam.a, w.off_mm) for w in off]


def test_allowances_stay_as_wide_as_they_were():
    cut = with_allowance(BLOCK, 15.0)
    after = made("rounded-back", 12.0, cut)
    for edge in ("side", "hem", "neck"):
        assert after.allowance_of(edge) == 15.0
    assert Polygon(after.seam_line).within(Polygon(after.outline).buffer(0.01))


def test_what_a_piece_does_not_show_is_asked_for():
    bare = replace(BLOCK, levels={})
    with pytest.raises(AlterationError, match="does not show where its waist lies"):
        made("sway-back", 10.0, bare)
    assert made("sway-back", 10.0, bare, at=340.0).area_mm2() < bare.area_mm2()
    with pytest.raises(AlterationError, match="no edge"):
        made("wrist", 10.0)
