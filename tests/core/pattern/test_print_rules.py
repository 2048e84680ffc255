"""What a print should do, proposed from the seams of the demo patterns, and what cannot match with its reason."""

import pytest

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Piece, Seam
from rowanseed.core.pattern.print_rules import print_rules
from rowanseed.core.prints import Bar, Print, mirror_axis
from rowanseed.demo import overshirt, trousers

PLAID = Print("plaid", True, 120.0, 120.0)


def rules(pattern, size, print_=PLAID):
    pieces = {p.number: (p, p.shapes[size]) for p in pattern.pieces_of("A", "self")}
    return {r.key: r for r in print_rules(pieces, pattern.seams, print_)}


def test_side_seams_sleeve_pocket_and_centre_are_proposed():
    found = rules(overshirt.pattern(), "14")
    assert found["seam:3.side=1.side"].possible and not found["seam:3.side=1.side"].across_too
    assert found["seam:3.centre=8.side"].across_too
    assert "notch" in found["seam:4.cap front=3.armhole"].why
    assert found["pocket:7"].onto and found["pocket:7"].across_too
    assert not found["centre:3"].by_default and found["hem:1"].lengthwise


def test_marks_lie_on_the_seam_line_not_on_the_cut_edge():
    pattern = overshirt.pattern()
    rule = rules(pattern, "14")["seam:3.side=1.side"]
    for mark in rule.marks:
        piece = next(p for p in pattern.pieces if p.number == mark.piece)
        xs, ys = zip(*piece.shapes["14"].outline, strict=True)
        # the foot of the side seam: an allowance in from the hem edge and from the side
        assert max(xs) - mark.at[0] == pytest.approx(piece.allowance_mm, abs=0.5)
        assert max(ys) - mark.at[1] == pytest.approx(piece.allowance_mm, abs=1.0)


def test_what_cannot_match_says_why():
    found = rules(overshirt.pattern(), "14")
    assert not found["seam:2.shoulder=3.shoulder"].possible and "slopes" in found["seam:2.shoulder=3.shoulder"].why
    assert "different rows" in found["seam:2.foot=1.yoke"].why
    assert "front notch" in found["seam:4.cap back=2.armhole"].why


def test_gathers_and_stripes_beside_a_seam_cannot_match():
    side = PieceShape(((0, 0), (600, 0), (600, 200), (0, 200)), edges={"side": (2, 3)})
    pieces = {
        n: (Piece(n, name, 2, mirrored=True, shapes={"M": side}), side) for n, name in (("1", "Front"), ("2", "Back"))
    }
    gathered = Seam(("1", "side"), ("2", "side"), 80.0, why="gathers")
    (rule,) = print_rules(pieces, [gathered], Print("motif", False, 200.0, 0.0))
    assert not rule.possible and "gathered" in rule.why
    lengthwise = Print("stripe", True, 0.0, 40.0)
    beside = print_rules(pieces, [Seam(("1", "side"), ("2", "side"))], lengthwise)
    assert [r.possible for r in beside if r.key.startswith("seam")] == [False]


def test_plain_cloth_and_prints_without_a_repeat_ask_for_nothing():
    assert rules(trousers.pattern(), "42", Print("plain")) == {} == rules(trousers.pattern(), "42", Print("plaid"))
    small = rules(trousers.pattern(), "42", Print("one-way", True, 90.0, 90.0))
    assert small and not any(r.by_default for r in small.values() if r.possible)


@pytest.mark.parametrize(
    ("bars", "repeat", "axis"),
    [
        ((Bar(10, 20, "#000000"),), 100, 20.0),
        ((Bar(0, 60, "#112233"), Bar(84, 12, "#b23a1e")), 120, 30.0),  # the thin bar lies opposite the broad one
        ((Bar(0, 60, "#112233"), Bar(70, 12, "#b23a1e")), 120, None),
        ((Bar(0, 10, "#112233"), Bar(20, 10, "#445566")), 100, None),  # alike, but of two colours
        ((Bar(10, 10, "#112233"), Bar(40, 10, "#112233")), 100, 30.0),
        ((), 100, 0.0),
    ],
)
def test_where_bars_are_their_own_mirror_image(bars, repeat, axis):
    assert mirror_axis(bars, repeat) == axis


def test_one_motif_fits_whole_on_a_pocket_but_not_on_a_front():
    found = rules(overshirt.pattern(), "14", Print("motif", True, 220.0, 240.0))
    assert found["motif:7"].both_ways and not found["motif:7"].by_default
    assert "motif:3" not in found and found["centre:3"].by_default


def test_a_border_runs_along_the_hem_of_pieces_cut_crosswise_only():
    border = Print("border", True)
    skirt = PieceShape(((0, 0), (600, 0), (600, 400), (0, 400)), edges={"hem": (1, 2)})
    lengthwise, crosswise = (Piece("1", "Skirt", 2, grain=g, shapes={"M": skirt}) for g in ("lengthwise", "crosswise"))
    (no,) = print_rules({"1": (lengthwise, lengthwise.shapes["M"])}, [], border)
    assert not no.possible and "crosswise" in no.why
    (yes,) = print_rules({"1": (crosswise, crosswise.shapes["M"])}, [], border)
    assert yes.possible and yes.by_default and yes.marks[0].at[0] == 585.0


def test_right_and_left_meet_at_a_centre_seam_and_make_a_chevron_on_the_bias():
    half = PieceShape(((0, 0), (600, 0), (600, 200), (0, 200)), edges={"centre": (0, 1), "hem": (1, 2)})
    seam = Seam(("1", "centre"), ("1", "centre"))
    for grain, word in (("lengthwise", "along it and across it"), ("bias", "chevron")):
        piece = Piece("1", "Skirt", 2, mirrored=True, grain=grain, shapes={"M": half})
        rule = next(
            r for r in print_rules({"1": (piece, piece.shapes["M"])}, [seam], PLAID) if r.key.startswith("seam")
        )
        assert rule.possible and rule.across_too and word in rule.why
        assert rule.marks[0].at == rule.marks[1].at == (585.0, 15.0)
    tube = Seam(("1", "centre"), ("1", "hem"))
    assert not [r for r in print_rules({"1": (piece, piece.shapes["M"])}, [tube], PLAID) if r.key.startswith("seam")]
