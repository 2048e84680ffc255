"""Matches: any lay returned has every match within tolerance, on any lattice; the checker knows without the nester's help."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import Centre, LayCloth, LayPiece, LayRequest, Match
from rowanseed.core.lay.print_alignment import fold_axis, gap_between
from rowanseed.core.prints import Print

FRONT = ((0.0, 0.0), (420.0, 10.0), (430.0, 240.0), (180.0, 260.0), (0.0, 150.0))
BACK = ((0.0, 0.0), (450.0, 0.0), (450.0, 230.0), (170.0, 240.0), (0.0, 140.0))
SLEEVE = ((0.0, 150.0), (90.0, 0.0), (380.0, 50.0), (380.0, 250.0), (90.0, 300.0))
FRONT_MARKS = {"side": (300.0, 245.0), "armhole": (120.0, 220.0)}
BACK_MARKS = {"side": (330.0, 232.0)}
SLEEVE_MARKS = {"cap": (80.0, 20.0)}
PIECES = (
    LayPiece("front", FRONT, 2, True, marks=FRONT_MARKS),
    LayPiece("back", BACK, 1, fold_edge=((0.0, 0.0), (450.0, 0.0)), marks=BACK_MARKS),
    LayPiece("sleeve", SLEEVE, 2, True, marks=SLEEVE_MARKS),
)
SIDE = Match(("front", "side"), ("back", "side"))
CAP = Match(("sleeve", "cap"), ("front", "armhole"))


def asked(print_, spread="single", matches=(SIDE, CAP), width=1400.0, **more):
    cloth = LayCloth(width, (10.0, 10.0), None, "none", print_)
    return LayRequest(cloth, PIECES, spread, tuple(matches), 2.0, "quick", **more)


def phase(found, piece, mark, axis, period):
    return [p.marks[mark][axis] % period for p in found.placements if p.piece == piece]


def apart(a, b, period):
    return abs(gap_between(a, b, period))


@settings(max_examples=12, deadline=None)
@given(
    st.floats(40, 320),
    st.floats(40, 320),
    st.floats(0, 60),
    st.booleans(),
    st.booleans(),
    st.sampled_from(["single", "lengthwise-fold"]),
)
def test_on_any_lattice_every_match_is_within_tolerance(along, across, offset, cross, half_drop, spread):
    print_ = Print("plaid", True, along, across, offset, offset / 2, half_drop)
    request = asked(print_, spread, [replace(SIDE, across=cross), CAP])
    found = lay(request)
    assert not found.failed and check_lay(request, found) == []
    if 0 not in found.unmatched and not half_drop:
        fronts, backs = (phase(found, p, "side", 0, along) for p in ("front", "back"))
        assert all(apart(f, b, along) <= 1.5 for f in fronts for b in backs)
    # along the cloth two separate matches never contradict each other
    assert half_drop or 1 not in found.unmatched


def test_matching_costs_length_and_never_more_than_a_repeat_for_each_matched_row():
    plain = lay(asked(None, matches=()))
    matched = lay(asked(Print("plaid", True, 100.0, 100.0)))
    assert plain.length_mm - 0.5 <= matched.length_mm <= plain.length_mm + 2 * 100.0
    assert matched.unmatched == ()


def test_matches_that_contradict_each_other_are_said_and_the_first_is_kept():
    crossed = [SIDE, Match(("front", "armhole"), ("back", "side"))]  # two marks of the front on one of the back
    found = lay(asked(Print("plaid", True, 100.0, 100.0), matches=crossed))
    assert found.unmatched == (1,) and "not-matched" in {f.code for f in found.findings}
    assert check_lay(asked(Print("plaid", True, 100.0, 100.0), matches=crossed), found) == []


def test_an_uneven_plaid_is_not_folded_where_bars_must_meet_across():
    uneven = Print("plaid", False, 100.0, 100.0)
    request = asked(uneven, "best", [replace(SIDE, across=True)])
    found = lay(request)
    assert found.spread == "single" and {p.turned for p in found.placements} == {0.0}


def test_a_fold_lies_on_a_bar_and_pieces_keep_to_the_narrower_layer():
    print_ = Print("plaid", True, 90.0, 90.0, 0.0, 20.0)
    # axes at 20, 65, 110, ...: of those the nearest to the middle, 700, is 20 + 15 x 45 = 695
    assert fold_axis(print_, 1400.0) == pytest.approx(695.0)
    request = asked(print_, "lengthwise-fold", [replace(SIDE, across=True)])
    found = lay(request)
    assert max(y for p in found.placements for _, y in p.outline) <= 695.0 - 10.0 + 0.05
    assert "fold-on-a-bar" in {f.code for f in found.findings} and check_lay(request, found) == []


def test_a_mark_is_centred_on_the_print_along_and_across():
    print_ = Print("motif", True, 180.0, 150.0, 30.0, 40.0)
    pocket = LayPiece("pocket", ((0, 0), (130, 0), (130, 110), (0, 110)), 1, marks={"middle": (65.0, 55.0)})
    cloth = LayCloth(1400.0, (10.0, 10.0), None, "none", print_)
    request = LayRequest(
        cloth, (pocket,), "single", (), 0.0, "quick", centres=(Centre(("pocket", "middle"), 90.0, 75.0),)
    )
    found = lay(request)
    x, y = found.placements[0].marks["middle"]
    assert apart(x, 30.0 + 90.0, 180.0) < 0.01 and apart(y, 40.0 + 75.0, 150.0) < 0.01
    assert check_lay(request, found) == []


def test_a_border_lies_at_its_distance_from_the_selvage():
    print_ = Print("border", True, 0.0, 0.0)
    skirt = LayPiece(
        "skirt", ((0, 0), (300, 0), (300, 500), (0, 500)), 2, grain="crosswise", marks={"hem": (280.0, 250.0)}
    )
    cloth = LayCloth(1400.0, (10.0, 10.0), None, "none", print_)
    request = LayRequest(cloth, (skirt,), "single", (), 0.0, "quick", centres=(Centre(("skirt", "hem"), None, 1350.0),))
    found = lay(request)
    assert [round(p.marks["hem"][1], 1) for p in found.placements] == [1350.0, 1350.0]
    assert check_lay(request, found) == []


def test_the_checker_names_a_piece_moved_off_its_match_on_every_axis():
    print_ = Print("plaid", True, 100.0, 100.0)
    request = asked(print_, "single", [replace(SIDE, across=True)])
    found = lay(request)
    assert check_lay(request, found) == []
    for dx, dy, code in ((3.0, 0.0, "off-match"), (0.0, 3.0, "off-match"), (1.0, 1.0, None)):
        placements = tuple(_moved(p, dx, dy) if p.piece == "front" else p for p in found.placements)
        codes = {f.code for f in check_lay(request, replace(found, placements=placements))}
        assert (code in codes) if code else ("off-match" not in codes)


def test_the_checker_names_a_mark_off_its_centre_and_an_uneven_print_that_is_folded():
    centre = Centre(("front", "side"), 50.0, None)
    print_ = Print("plaid", True, 100.0, 100.0)
    request = replace(asked(print_, matches=()), centres=(centre,))
    found = lay(request)
    assert check_lay(request, found) == []
    moved = replace(found, placements=tuple(_moved(p, 4.0, 0.0) for p in found.placements))
    assert "off-centre" in {f.code for f in check_lay(request, moved)}
    folded = asked(print_, "lengthwise-fold", [replace(SIDE, across=True)])
    lies = lay(folded)
    uneven = replace(folded, cloth=replace(folded.cloth, print=replace(print_, even=False)))
    assert "uneven-folded" in {f.code for f in check_lay(uneven, lies)}


def _moved(placement, dx, dy):
    outline = tuple((x + dx, y + dy) for x, y in placement.outline)
    return replace(placement, outline=outline, marks={k: (x + dx, y + dy) for k, (x, y) in placement.marks.items()})


def test_a_match_to_a_piece_or_mark_that_is_not_there_is_said():
    found = lay(asked(Print("plaid", True, 100.0, 100.0), matches=[Match(("front", "tail"), ("cape", "side"))]))
    assert found.unmatched == (0,) and any(
        "no mark tail" in f.text or "no piece cape" in f.text for f in found.findings
    )


def test_heads_that_point_both_ways_match_only_on_an_axis_of_the_print():
    legs = tuple(
        LayPiece(n, ((0, 0), (900, 60), (900, 240), (0, 300)), 2, True, marks={"foot": (880.0, 230.0)})
        for n in ("front", "back")
    )
    match = Match(("front", "foot"), ("back", "foot"))
    print_ = Print("plaid", True, 100.0, 100.0, 0.0, 0.0, False, 0.0, 20.0)
    request = LayRequest(LayCloth(700.0, (0.0, 0.0), None, "none", print_), legs, "single", (match,), 0.0, "quick")
    found = lay(request)
    assert check_lay(request, found) == [] and found.unmatched == ()
    phases = {p.marks["foot"][0] % 50.0 for p in found.placements}
    if len({p.turned for p in found.placements}) == 2:
        assert all(apart(x, 20.0, 50.0) < 0.01 for x in phases)  # axes at 20 and 70
    # the same lay on a print that mirrors itself elsewhere no longer matches where heads differ
    elsewhere = replace(request, cloth=replace(request.cloth, print=replace(print_, axis_along_mm=33.0)))
    codes = {f.code for f in check_lay(elsewhere, found)}
    assert ("off-match" in codes) == (len({p.turned for p in found.placements}) == 2)


@pytest.mark.parametrize("grain", ["lengthwise", "bias"])
def test_right_and_left_halves_meet_at_their_centre_seam(grain):
    half = LayPiece(
        "half",
        ((0, 0), (500, 0), (500, 220), (0, 180)),
        2,
        True,
        grain=grain,
        marks={"c": (480.0, 15.0), "d": (20.0, 15.0)},
    )
    match = Match(("half", "c"), ("half", "c"), True, True)
    request = LayRequest(
        LayCloth(1400.0, (10.0, 10.0), None, "none", Print("plaid", True, 90.0, 90.0)),
        (half,),
        "single",
        (match,),
        2.0,
        "quick",
    )
    found = lay(request)
    assert check_lay(request, found) == [] and found.unmatched == ()
    for axis in (0, 1):
        a, b = phase(found, "half", "c", axis, 90.0)
        assert apart(a, b, 90.0) < 1.5


def test_an_uneven_print_asked_for_on_a_fold_is_laid_single_with_the_reason():
    found = lay(asked(Print("plaid", False, 100.0, 100.0), "lengthwise-fold", [replace(SIDE, across=True)]))
    assert found.spread == "single"
    assert any(f.code == "spread-of-no-use" and "uneven" in f.text for f in found.findings)


@settings(max_examples=10, deadline=None)
@given(st.floats(40, 320), st.floats(0, 60), st.booleans(), st.sampled_from(["part-fold", "double-fold"]))
def test_bars_along_the_cloth_meet_in_every_lane(along, offset, even, spread):
    print_ = Print("stripe", even, along, 0.0, offset)
    request = asked(print_, spread, width=1100.0)
    found = lay(request)
    assert found.spread == spread and found.unmatched == () and check_lay(request, found) == []
    lanes = {p.lane for p in found.placements}
    fronts, backs = (phase(found, p, "side", 0, along) for p in ("front", "back"))
    assert lanes and all(apart(f, b, along) <= 1.5 for f in fronts for b in backs)


def test_the_checker_names_a_piece_off_its_match_in_a_lane():
    request = asked(Print("stripe", True, 120.0, 0.0), "part-fold", width=1100.0)
    found = lay(request)
    assert found.spread == "part-fold"
    moved = [_moved(p, 5.0, 0.0) if p.piece == "sleeve" else p for p in found.placements]
    assert "off-match" in {f.code for f in check_lay(request, replace(found, placements=tuple(moved)))}


@pytest.mark.parametrize(("across", "spread"), [(True, "double-fold"), (False, "crosswise-fold")])
def test_a_spread_whose_folds_do_not_keep_a_match_is_not_used_and_says_why(across, spread):
    request = asked(Print("plaid", True, 100.0, 100.0), spread, [replace(SIDE, across=across)])
    found = lay(request)
    assert found.spread == "single" and found.unmatched == ()
    (said,) = [f.text for f in found.findings if f.code == "spread-of-no-use"]
    assert ("must meet across" in said) == across


@settings(max_examples=8, deadline=None)
@given(st.floats(40, 320), st.floats(0, 60), st.booleans())
def test_bars_meet_between_the_folded_part_and_the_opened_rest(along, offset, even):
    pocket = LayPiece("pocket", ((0.0, 0.0), (150.0, 0.0), (150.0, 130.0), (0.0, 130.0)), 1, marks={"top": (5.0, 65.0)})
    laid_on = Match(("front", "armhole"), ("pocket", "top"), onto=True)
    request = asked(Print("stripe", even, along, 0.0, offset), "fold-then-single", [SIDE, laid_on])
    request = replace(request, pieces=(*PIECES, pocket))
    found = lay(request)
    assert found.spread == "fold-then-single" and found.unmatched == () and check_lay(request, found) == []
    tops, holes = phase(found, "pocket", "top", 0, along), phase(found, "front", "armhole", 0, along)
    assert len(tops) == 1 and all(apart(tops[0], h, along) <= 1.5 for h in holes)


def test_two_bars_asked_of_one_piece_of_the_rest_are_said_with_their_own_number():
    pocket = LayPiece("pocket", ((0.0, 0.0), (150.0, 0.0), (150.0, 130.0), (0.0, 130.0)), 1, marks={"top": (5.0, 65.0)})
    ties = [Match(("front", m), ("pocket", "top"), onto=True) for m in ("armhole", "side")]
    request = asked(Print("stripe", True, 100.0, 0.0), "fold-then-single", [SIDE, *ties])
    request = replace(request, pieces=(*PIECES, pocket))
    found = lay(request)
    assert found.spread == "fold-then-single"
    assert found.unmatched == (2,) and "not-matched" in {f.code for f in found.findings}
    assert check_lay(request, found) == []
