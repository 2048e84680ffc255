"""What measures ask for, on a block worked out by hand, and on the demo: altered so, nothing is asked any more."""

import math
from dataclasses import replace

import pytest

from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.ease_table import USUAL, EaseTable
from rowanseed.core.fit.edge_changes import altered_shape
from rowanseed.core.fit.from_measures import asked_by_measures
from rowanseed.core.fit.measured_places import neck_half
from rowanseed.core.fit.posture import POSTURES, asked_by_posture
from rowanseed.core.fit.question import WORTH_MM, Question
from rowanseed.core.geometry.shape import Line
from rowanseed.core.pattern.seamwalk import AlterPiece
from rowanseed.demo import overshirt, trousers, waistcoat
from tests.core.fit.test_kinds_of_bodies import BLOCK, DARTED

MARKED = replace(DARTED, lines=())


def block(name):
    piece = next(p for p in overshirt.pattern().pieces if p.number == "1")
    return replace(piece, number="9", name=name, cut=2, shapes={})


def test_lengths_are_measured_from_seam_to_level_less_ease():
    back = [(block("Back"), BLOCK)]  # its neck lies at 0, its waist at 350
    assert asked_by_measures(Question(back, {"back_waist": 350.0 - USUAL["at.back_waist"]}, "cm")) == []
    (longer,) = asked_by_measures(Question(back, {"back_waist": 370.0}, "cm"))
    assert longer.alteration.kind == "length" and longer.alteration.by_mm == pytest.approx(
        20.0 + USUAL["at.back_waist"]
    )
    assert longer.alteration.at_mm == pytest.approx((190 + 350) / 2) and "35 cm" in longer.why and "37 cm" in longer.why


def test_a_shoulder_is_compared_without_ease_and_only_on_a_fitted_garment():
    front = [(block("Front"), BLOCK)]
    has = ((160 - 70) ** 2 + 20**2) ** 0.5
    assert asked_by_measures(Question(front, {"shoulder": has + WORTH_MM - 1}, "cm")) == []
    (wider,) = asked_by_measures(Question(front, {"shoulder": has + 15}, "in"))
    assert (wider.alteration.kind, round(wider.alteration.by_mm, 3)) == ("shoulder-length", 15.0)
    assert asked_by_measures(Question(front, {"shoulder": has + 15}, "in", exact=False)) == []


def test_a_tight_waist_is_shared_out_over_the_side_edges():
    (asked,) = asked_by_measures(Question([(block("Front"), BLOCK)], {"waist": 2 * 200.0 + 20.0}, "cm"))
    assert asked.alteration.kind == "taper" and asked.alteration.by_mm == pytest.approx((20 + USUAL["least.waist"]) / 2)
    assert (
        asked_by_measures(Question([(block("Front"), BLOCK)], {"waist": 300.0}, "cm")) == []
    )  # wide is a matter of looks


def test_what_was_not_measured_is_not_guessed():
    assert asked_by_measures(Question([(block("Back"), BLOCK)], {}, "cm")) == []


@pytest.mark.parametrize(
    ("module", "body", "kinds"),
    [
        (overshirt, {"upper_arm": 420.0}, {"upper-arm"}),
        (trousers, {"crotch_depth": 330.0}, {"rise"}),
        (trousers, {"thigh": 760.0}, {"thigh"}),
        (overshirt, {"neck": 440.0}, {"neck-width"}),
        (overshirt, {"neck": 340.0}, {"neck-width", "neck-depth"}),
    ],
)
def test_altered_as_asked_nothing_is_asked_any_more(module, body, kinds):
    pattern = module.pattern()
    size = pattern.size_names()[2]
    own = [(p, p.shapes[size]) for p in pattern.pieces_of("A", "self")]
    asked = asked_by_measures(Question(own, body, "cm"))
    assert {a.alteration.kind for a in asked} == kinds
    pieces = [
        AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm, p.follows)
        for p in pattern.pieces
        if size in p.shapes
    ]
    done = alter(pieces, pattern.seams, [a.alteration for a in asked])
    after = {p.id: p.shape for p in done.pieces}
    assert asked_by_measures(Question([(p, after[p.number]) for p, _ in own], body, "cm")) == []


def kinds(pieces, body, **more):
    return {a.alteration.kind: a.alteration for a in asked_by_measures(Question(pieces, body, "cm", **more))}


def test_across_the_back_is_measured_half_way_down_the_armhole():
    back = [(block("Back"), BLOCK)]  # the armhole runs from 160 at the shoulder to 200 at the underarm: 180 half way
    has = 2 * 180.0
    assert kinds(back, {"across_back": has - USUAL["at.across_back"]}) == {}
    wide = kinds(back, {"across_back": has + 20 - USUAL["at.across_back"]})["across"]
    assert wide.by_mm == pytest.approx(10.0)
    assert kinds(back, {"across_back": has + 60}, exact=False) == {}


def around(*names):
    return [(replace(block(name), number=str(n)), BLOCK) for n, name in enumerate(names)]


def test_a_neck_below_a_collar_fits_the_neck_and_a_bare_one_is_never_less_than_it():
    bare, girth = (
        around("Back", "Front"),
        4 * 70.0,
    )  # each half runs straight from the centre at 0 to the shoulder at 70
    assert kinds(bare, {"neck": girth}) == kinds(bare, {"neck": girth - 90.0}) == {}
    # Its ends move along shoulders that fall 20 in 90: each quarter grows by the cosine of that.
    fall = math.cos(math.atan2(20, 90))
    assert kinds(bare, {"neck": girth + 15.0})["neck-width"].by_mm == pytest.approx(15.0 / 4 / fall, abs=0.02)
    collared = [*around("Back", "Front"), (block("Collar"), replace(BLOCK, edges={}))]
    assert kinds(collared, {"neck": girth - USUAL["at.neck"]}) == {}
    assert kinds(collared, {"neck": girth - 30.0 - USUAL["at.neck"]})["neck-width"].by_mm == pytest.approx(
        -30 / 4 / fall, abs=0.1
    )
    assert kinds(around("Front"), {"neck": 900.0}) == {}  # half of a neck is not guessed at


def test_a_button_extension_is_no_part_of_the_neck():
    extended = replace(
        BLOCK,
        outline=((0, -20), (600, -20), *BLOCK.outline[2:]),
        lines=(Line("centre front", ((0.0, 0.0), (600.0, 0.0))),),
    )
    assert neck_half(extended) == neck_half(BLOCK) == pytest.approx(70.0)


def test_what_has_no_opening_goes_over_the_head_and_a_knit_stretches_over_it():
    pulled = around("Back", "Front")
    head = 4 * 70.0 - USUAL["at.head"] + 20.0
    assert kinds(pulled, {"head": head}) == {}
    assert kinds(pulled, {"head": head}, opens=False)["neck-width"].by_mm > 5.0
    assert kinds(pulled, {"head": head}, opens=False, stretch=0.25) == {}


def test_a_longer_front_than_the_back_s_length_asks_for_more_chest():
    front = [(block("Front"), BLOCK)]  # from the side of the neck at 0 to the waist at 350
    assert kinds(front, {"front_waist": 350.0 - USUAL["at.back_waist"]}) == {}
    assert kinds(front, {"front_waist": 362.0 - USUAL["at.back_waist"]})["chest"].by_mm == pytest.approx(12.0)
    both = [(block("Back"), BLOCK), (replace(block("Front"), number="8"), BLOCK)]
    body = {"back_waist": 370.0 - USUAL["at.back_waist"], "front_waist": 370.0 - USUAL["at.back_waist"]}
    assert kinds(both, body).keys() == {"length"}  # what the back's length gives the front is not asked for twice


@pytest.mark.parametrize(("shape", "kind"), [(DARTED, "bust"), (MARKED, "bust-dartless")])
def test_a_bust_beyond_the_pattern_s_cup_is_half_on_each_front(shape, kind):
    front = [(block("Front"), shape)]
    body = {"bust": 1000.0, "high_bust": 910.0}
    assert kinds(front, body, cup=50.0)[kind].by_mm == pytest.approx(20.0)
    assert kinds(front, body, cup=80.0) == {}
    assert kinds(front, {"bust": 940.0, "high_bust": 910.0}, cup=50.0)[kind].by_mm == pytest.approx(-10.0)


def test_the_bust_point_goes_where_the_tape_finds_it():
    # The dart's point is aimed from (0, 70), the side of the neck: 3-4-5, 300 down and 225 out from there would be 375 away.
    front = [(block("Front"), DARTED)]
    at = DARTED.marks[0].at
    here = ((at[0] - 0) ** 2 + (at[1] - 70) ** 2) ** 0.5
    assert kinds(front, {"bust_point": here, "bust_span": 2 * at[1]}) == {}
    lower = kinds(front, {"bust_point": here + 20, "bust_span": 2 * at[1] + 30})["bust-point"]
    moved = altered_shape(lower, AlterPiece("9", DARTED), "", None).marks[0].at
    assert moved[1] == pytest.approx(at[1] + 15)
    assert (moved[0] ** 2 + (moved[1] - 70) ** 2) ** 0.5 == pytest.approx(here + 20)


def test_a_long_sleeve_is_held_to_the_arm_and_a_short_one_or_a_cuffed_one_left():
    pattern = overshirt.pattern()
    sleeve = next(p for p in pattern.pieces if p.name == "Sleeve")
    own = [(sleeve, sleeve.shapes["14"])]
    shape = own[0][1]
    has = max(x for x, _ in shape.seam_line) - min(x for x, _ in shape.seam_line)
    arm = has - USUAL["at.arm_length"]
    assert kinds(own, {"arm_length": arm}) == {} and kinds(own, {"arm_length": arm * 1.4}) == {}
    assert kinds(own, {"arm_length": arm + 25})["length"].by_mm == pytest.approx(25.0)
    cuff = (replace(sleeve, number="20", name="Cuff"), shape)
    assert kinds([*own, cuff], {"arm_length": arm + 25}) == {}


def test_on_a_knit_that_stretches_the_arm_needs_less_than_its_own_girth():
    question = Question([], {"upper_arm": 300.0}, "cm", stretch=0.6)
    assert question.ease("upper_arm") == pytest.approx(-30.0)
    assert "smaller than it on this stretch" in question.told("It", 250, 300, question.ease("upper_arm"))
    own = Question([], {"upper_arm": 300.0}, "cm", table=EaseTable({"at.upper_arm": 20.0}))
    assert own.ease("upper_arm") == 20.0


@pytest.mark.parametrize("posture", POSTURES, ids=lambda p: p.key)
def test_every_posture_asks_for_an_alteration_that_can_be_made(posture):
    module = trousers if "inseam" in posture.edges or posture.key in ("full-seat", "flat-seat", "tummy") else waistcoat
    pattern = module.pattern()
    size = pattern.size_names()[1]
    own = [(p, p.shapes[size]) for p in pattern.pieces_of(pattern.views[0].name, "self") if size in p.shapes]
    asked = list(asked_by_posture(own, [posture.key]))
    if not asked:  # the piece has not what this posture is altered at: a waistcoat's back may have no waist
        pytest.skip("this pattern has no piece for it")
    pieces = [
        AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm, p.follows)
        for p in pattern.pieces
        if size in p.shapes
    ]
    done = alter(pieces, pattern.seams, [asked[0].alteration])
    before = {p.id: p.shape for p in pieces}
    assert any(p.shape != before[p.id] for p in done.pieces)
    assert posture.seen[1:] in asked[0].why and list(asked_by_posture(own, ["nothing"])) == []
