"""What each concession does to the pieces, against hand calculation."""

from dataclasses import replace

import pytest
from shapely import Polygon

from rowanseed.core.concede.change import conceded_pattern, facing_strip
from rowanseed.core.concede.offer import HemDepths, offers
from rowanseed.core.concede.split import join_across, open_the_fold
from rowanseed.core.errors import AlterationError
from rowanseed.core.geometry.shape import Notch, PieceShape
from rowanseed.core.lay.model import LayCloth
from rowanseed.core.make.concessions import Concession, conceded_features, describe_concession
from rowanseed.core.make.pieces import girths_of
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.order import sequence
from rowanseed.demo import overshirt, trousers
from rowanseed.formats.sewing import library

HALF = PieceShape(
    ((0, 0), (600, 0), (600, 250), (0, 200)),
    fold_edge=((0, 0), (600, 0)),
    edges={"hem": (1, 2), "side": (2, 3), "neck": (3, 0)},
    levels={"bust": 300.0},
)


def one_piece(shape, **facts):
    return Pattern("Test", pieces=(Piece("1", "Back", 1, shapes={"M": shape}, **facts),))


def shape_of(pattern, number, size="M"):
    return next(p for p in pattern.pieces if p.number == number).shapes[size]


def test_a_seam_for_a_fold_adds_its_allowance_along_the_whole_fold():
    opened = open_the_fold(HALF, 15.0)
    # 600 long, 15 wide: 9000 mm2 more, and nothing else has changed
    assert Polygon(opened.outline).area == pytest.approx(HALF.area_mm2() + 600 * 15)
    assert opened.fold_edge is None
    ends = [opened.outline[i] for i in opened.edges["centre"]]
    assert sorted(ends) == [(0, -15), (600, -15)]
    assert opened.outline[opened.edges["hem"][0]] == (600, -15) and opened.outline[opened.edges["neck"][1]] == (0, -15)


def test_a_seam_for_a_fold_leaves_the_finished_girth_as_it_was():
    pattern = one_piece(HALF)
    before = girths_of(pattern, "A", "M")["bust"].mm
    after, refused = conceded_pattern(pattern, ["M"], [Concession("seam", ("1",))])
    assert not refused and after.pieces[0].cut == 2 and after.pieces[0].mirrored
    assert girths_of(after, "A", "M")["bust"].mm == pytest.approx(before, abs=0.01)


def test_a_half_drawn_on_the_other_side_of_its_fold_is_opened_the_other_way():
    mirrored = replace(HALF, outline=tuple((x, -y) for x, y in HALF.outline))
    assert max(y for _, y in open_the_fold(mirrored, 10.0).outline) == 10.0


def test_a_join_gives_both_parts_an_allowance_and_keeps_notches_on_their_part():
    band = PieceShape(((0, 0), (800, 0), (800, 60), (0, 60)), notches=(Notch((100, 0)), Notch((700, 60), 2)))
    first, second = join_across(band, 400.0, 15.0)
    assert Polygon(first.outline).area == pytest.approx(415 * 60) == pytest.approx(Polygon(second.outline).area)
    assert [n.count for n in first.notches] == [1] and [n.count for n in second.notches] == [2]


def test_a_join_that_would_leave_loose_bits_is_refused_with_the_reason():
    horseshoe = PieceShape(((0, 0), (300, 0), (300, 100), (100, 100), (100, 200), (300, 200), (300, 300), (0, 300)))
    with pytest.raises(AlterationError, match="several bits"):
        join_across(horseshoe, 200.0, 0.0)
    wide = replace(horseshoe, outline=tuple((x * 2 - 200, y) for x, y in horseshoe.outline))  # half way it is two arms
    parted, findings = conceded_pattern(one_piece(wide), ["M"], [Concession("join", ("1",))])
    assert [f.code for f in findings] == ["concession-refused"] and len(parted.pieces) == 1


def test_hems_move_up_once_on_every_piece_that_runs_round():
    pattern = trousers.pattern()
    named = tuple(p.number for p in pattern.pieces_of("A", "self") if "hem" in p.shapes["42"].edges)
    assert len(named) == 2
    after, refused = conceded_pattern(pattern, ["42"], [Concession("shorten", named, 30.0)])
    assert not refused
    for number in named:
        old, new = shape_of(pattern, number, "42"), shape_of(after, number, "42")
        assert max(x for x, _ in old.outline) - max(x for x, _ in new.outline) == pytest.approx(30.0, abs=0.01)


def test_a_sleeve_is_parted_on_the_side_of_its_two_notches():
    pattern = overshirt.pattern()
    sleeve = shape_of(pattern, "4", "14")
    backs = [n.at[1] for n in sleeve.notches if n.count == 2]
    after, refused = conceded_pattern(pattern, ["14"], [Concession("sleeve-seam", ("4",))])
    assert not refused
    parts = {p.number: p.shapes["14"] for p in after.pieces if p.number in ("4a", "4b")}
    widths = {n: max(y for _, y in s.outline) - min(y for _, y in s.outline) for n, s in parts.items()}
    assert widths["4b"] < widths["4a"]
    low, high = min(y for _, y in parts["4b"].outline), max(y for _, y in parts["4b"].outline)
    assert all(low <= y <= high for y in backs)


def test_a_facing_strip_is_as_long_as_the_hems_all_round():
    pattern = one_piece(HALF)
    # the hem edge from (600, 0) to (600, 250), on the fold: twice 250
    assert facing_strip(pattern, "A", "M", Concession("face-hem", ("1",), 30.0)) == (500.0, 50.0)


def test_offers_name_what_the_trade_would_and_keep_napped_cloth_on_its_grain():
    pattern = overshirt.pattern()
    plain = offers(pattern, "A", "self", "14", LayCloth(1500.0))
    kinds = {c.kind for c in plain}
    assert {"seam", "crosswise", "elsewhere", "join", "sleeve-seam", "view"} <= kinds
    assert [c.harm for c in plain] == sorted(c.harm for c in plain)
    assert not kinds & {"shorten", "shallow-hem", "face-hem"}
    napped = offers(pattern, "A", "self", "14", LayCloth(1500.0, nap="one-way"))
    assert "crosswise" not in {c.kind for c in napped}
    hems = offers(pattern, "A", "self", "14", LayCloth(1500.0), HemDepths(40.0, 15.0, 20.0))
    assert {c.kind: c.by_mm for c in hems if c.by_mm} == {"shallow-hem": 15.0, "face-hem": 30.0, "shorten": 20.0}


def test_what_is_given_up_becomes_steps_in_their_place():
    features = conceded_features(
        [Concession("seam", ("1",)), Concession("join", ("8",)), Concession("face-hem", ("1",), 30)]
    )
    base = {"sleeve": "set-in", "collar": "two-piece", "front": "band", **features}
    steps = [s.operation.id for s in sequence(library(), SewnGarment(base, frozenset()), lambda op: {})]
    assert steps.index("sew-centre-seam") < steps.index("press-centre-seam") < steps.index("attach-collar")
    assert steps.index("join-parts") < steps.index("press-joins") < steps.index("sew-front-bands")
    assert steps.index("sew-hem-facing") < steps.index("press-hem-facing") < steps.index("fell-hem-facing")
    without = {op.id for op, _ in operations_for(library(), complete(library(), SewnGarment({}, frozenset())))}
    assert not without & {"sew-centre-seam", "join-parts", "sew-hem-facing"}


def test_a_concession_is_said_with_its_pieces_and_its_measure():
    said = describe_concession(Concession("shorten", ("1", "3"), 25.4), {"1": "Back", "3": "Front"})
    assert "1 Back, 3 Front" in said and "1 in" in said
