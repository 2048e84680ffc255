"""The lay engine: lengths known by hand, rules of the cutting table, the same lay for the same seed."""

import subprocess
import sys
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import rowanseed
from rowanseed.core.errors import LayError
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.model import LayPiece, Match
from rowanseed.core.lay.watch import LayWatch
from rowanseed.core.prints import Print
from tests.core.lay.pieces import SHIRT, fold_piece, rect, request, wedge


def codes(found):
    return {f.code for f in found.findings}


def test_rectangles_that_tile_the_width_take_their_own_length():
    # Four of 350 side by side are 1400 wide: one row of 500.
    found = lay(request([LayPiece("1", rect(500.0, 350.0), 4)], spread="single"))
    assert found.length_mm == pytest.approx(500.0, abs=0.01)
    assert found.utilisation == pytest.approx(1.0, abs=1e-4)


def test_a_piece_as_wide_as_the_cloth_fits():
    found = lay(request([LayPiece("1", rect(300.0, 1380.0))], selvage_mm=(10.0, 10.0), spread="single"))
    assert found.length_mm == pytest.approx(300.0) and not found.failed


def test_a_pair_on_the_fold_is_one_placement_of_two_layers():
    found = lay(request([wedge("1", 400.0, 300.0, 200.0, 2, True)], spread="lengthwise-fold"))
    assert [(p.piece, p.layers) for p in found.placements] == [("1", 2)]
    assert found.length_mm == pytest.approx(400.0)


def test_an_odd_count_leaves_one_piece_in_one_layer():
    found = lay(request([wedge("1", 400.0, 300.0, 200.0, 3, True)], spread="lengthwise-fold"))
    assert sorted(p.layers for p in found.placements) == [1, 2]
    assert "one-layer-only" in codes(found)


def test_same_handed_pieces_are_cut_through_one_layer():
    found = lay(request([wedge("1", 400.0, 300.0, 200.0, 2, False)], spread="lengthwise-fold"))
    assert [p.layers for p in found.placements] == [1, 1]


def test_a_fold_piece_lies_with_its_fold_edge_on_the_fold():
    found = lay(request(SHIRT, spread="lengthwise-fold", gap_mm=3.0))
    for placement in found.placements:
        if placement.piece in ("back", "collar"):
            assert placement.on_fold and min(y for _, y in placement.outline) == 0


def test_a_fold_piece_is_opened_out_in_a_single_layer_its_own_half_first():
    piece = LayPiece("1", ((0, 0), (50, 0), (50, 30), (20, 40), (0, 20)), fold_edge=((0, 0), (50, 0)))
    (placement,) = lay(request([piece], spread="single", nap="one-way")).placements
    ys = [y for _, y in placement.outline]
    assert max(ys) - min(ys) == pytest.approx(80) and len(placement.outline) == 8
    half = [(round(x, 6), round(y - (min(ys) + 40), 6)) for x, y in placement.outline[:5]]
    assert set(half) == {(0, 0), (50, 0), (50, 30), (20, 40), (0, 20)}


def test_pairs_in_a_single_layer_are_half_face_down():
    found = lay(request([wedge("1", 400.0, 300.0, 200.0, 4, True)], spread="single"))
    assert sorted(p.face_down for p in found.placements) == [False, False, True, True]


@pytest.mark.parametrize(
    "cloth", [{"nap": "one-way"}, {"print": Print("one-way")}, {"print": Print("stripe", even=False)}]
)
def test_one_way_cloth_turns_no_piece_head_to_tail(cloth):
    found = lay(request(SHIRT, gap_mm=3.0, spread="single", **cloth))
    assert {p.turned for p in found.placements} == {0.0}


def test_head_to_tail_saves_cloth_on_wedges():
    wedges = [wedge("1", 600.0, 700.0, 500.0, 2, False)]
    free = lay(request(wedges, width=1200.0, spread="single"))
    napped = lay(request(wedges, width=1200.0, spread="single", nap="one-way"))
    assert free.length_mm == pytest.approx(600.0, abs=0.5) and napped.length_mm > 1100


@pytest.mark.parametrize(
    ("grain", "turns"), [("crosswise", {90, 270}), ("bias", {45, 135, 225, 315}), ("any", {0, 90, 180, 270})]
)
def test_the_grain_decides_the_turns(grain, turns):
    piece = LayPiece("1", rect(400.0, 100.0), 3, grain=grain)
    found = lay(request([piece], spread="single"))
    assert {round(p.turned) for p in found.placements} <= turns and not found.failed


def test_a_crosswise_band_may_run_from_selvage_to_selvage():
    found = lay(request([LayPiece("1", rect(1400.0, 90.0), grain="crosswise")], spread="single"))
    assert found.length_mm == pytest.approx(90.0)


def test_one_piece_that_only_fits_the_long_way_is_laid_the_long_way():
    found = lay(request([LayPiece("1", rect(100.0, 2000.0), grain="any")], spread="single"))
    assert found.length_mm == pytest.approx(2000.0) and not found.failed


def test_a_crowded_lay_of_many_different_pieces_is_laid_and_sound():
    pieces = [wedge(str(n), 200.0 + 3 * n, 150.0 + n, 120.0, 2, True) for n in range(90)]
    asked = request(pieces, spread="single", gap_mm=2.0)
    assert check_lay(asked, lay(asked)) == []


def test_a_piece_too_wide_says_by_how_much():
    found = lay(request([LayPiece("1", rect(300.0, 760.0), 2, True)], spread="lengthwise-fold"))
    assert found.failed == ("1",) and not found.placements
    (finding,) = (f for f in found.findings if f.code == "piece-too-wide")
    assert finding.level == "stop" and "6 cm (2 3/8 in) too little" in finding.text


def test_best_opens_the_fold_for_a_piece_that_is_too_wide_folded():
    found = lay(request([LayPiece("1", rect(300.0, 760.0), 1)], spread="best"))
    assert found.spread == "single" and not found.failed


def test_cloth_that_is_short_says_by_how_much():
    found = lay(request([LayPiece("1", rect(500.0, 350.0), 4)], spread="single", length_mm=420.0))
    assert found.short_mm == pytest.approx(80.0, abs=0.01) and "cloth-too-short" in codes(found)


def test_the_gap_is_kept_between_pieces_and_not_at_the_edges():
    found = lay(request([LayPiece("1", rect(500.0, 690.0), 2)], spread="single", gap_mm=20.0))
    assert found.length_mm == pytest.approx(500.0, abs=0.01)
    tight = lay(request([LayPiece("1", rect(500.0, 695.0), 2)], spread="single", gap_mm=20.0))
    assert tight.length_mm == pytest.approx(1020.0, abs=0.5)


def test_an_allowance_to_be_added_takes_its_room():
    found = lay(request([LayPiece("1", rect(500.0, 300.0), 2, allowance_mm=15.0)], spread="single"))
    assert found.length_mm == pytest.approx(530.0, abs=0.01)
    folded = lay(request([LayPiece("1", rect(500.0, 300.0), 1, fold_edge=((0, 0), (500, 0)), allowance_mm=15.0)]))
    assert folded.length_mm == pytest.approx(530.0, abs=0.01)


def test_the_chain_along_the_fold_is_a_bound_and_is_reached():
    found = lay(request([fold_piece("1", 400.0, 300.0, 2)], spread="lengthwise-fold", gap_mm=4.0))
    assert found.fold_bound_mm == pytest.approx(804.0)
    assert found.length_mm == pytest.approx(804.0, abs=0.05)


def test_the_same_seed_gives_the_same_lay():
    first, second = (lay(request(SHIRT, gap_mm=3.0, seed=7)) for _ in range(2))
    assert first.placements == second.placements and first.length_mm == second.length_mm


def test_more_effort_is_never_longer():
    quick, good = (lay(request(SHIRT, gap_mm=3.0, effort=e, spread="single")) for e in ("quick", "good"))
    assert good.length_mm <= quick.length_mm + 1e-6


def test_every_better_lay_is_reported_shorter_than_the_one_before():
    lengths = []
    lay(request(SHIRT, gap_mm=3.0, spread="single"), LayWatch(report=lambda found: lengths.append(found.length_mm)))
    assert lengths and lengths == sorted(lengths, reverse=True)


def test_a_stop_keeps_the_best_so_far():
    seen = []
    stop = LayWatch(report=lambda found: seen.append(found), stop=lambda: bool(seen))
    found = lay(request(SHIRT, gap_mm=3.0, effort="best", spread="single"), stop)
    assert found.placements and not check_lay(request(SHIRT, gap_mm=3.0, spread="single"), found)


def test_a_match_on_cloth_without_a_print_is_said_not_to_be_kept():
    asked = request(SHIRT, matches=(Match(("front", "a"), ("back", "a")),))
    found = lay(asked)
    assert [f.level for f in found.findings if f.code == "not-matched"] == ["care"] and found.unmatched == (0,)


@pytest.mark.parametrize(
    ("pieces", "word"),
    [
        ([], "nothing to lay"),
        ([LayPiece("1", rect(9, 9)), LayPiece("1", rect(9, 9))], "Two pieces"),
        ([LayPiece("1", ((0, 0), (9, 9), (9, 0), (0, 9)))], "area|crosses"),
        ([LayPiece("1", ((0, 0), (90, 90), (90, 0), (0, 80)))], "crosses"),
        ([LayPiece("1", rect(9, 9), 0)], "at least once"),
        ([LayPiece("1", rect(90, 90), fold_edge=((0, 0), (0, 90)))], "along the grain"),
        ([LayPiece("1", rect(90, 90), fold_edge=((0, 45), (90, 45)))], "both sides"),
    ],
)
def test_a_request_that_cannot_be_laid_is_refused_in_words(pieces, word):
    with pytest.raises(LayError, match=word):
        lay(request(pieces))


def test_selvages_that_leave_nothing_are_refused():
    with pytest.raises(LayError, match="wider than the cloth"):
        lay(request([LayPiece("1", rect(9, 9))], width=100.0, selvage_mm=(60.0, 60.0), spread="single"))


PIECE = st.builds(
    lambda n, length, wide, narrow, cut, mirrored, fold: (
        fold_piece(n, length, wide) if fold else wedge(n, length, wide, narrow, cut, mirrored)
    ),
    st.uuids().map(str),
    st.floats(20, 500),
    st.floats(20, 500),
    st.floats(20, 500),
    st.integers(1, 4),
    st.booleans(),
    st.booleans(),
)


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.lists(PIECE, min_size=1, max_size=6),
    st.sampled_from(["single", "lengthwise-fold"]),
    st.sampled_from(["none", "one-way"]),
    st.sampled_from([0.0, 3.0, 8.0]),
)
def test_any_lay_passes_the_independent_check(pieces, spread, nap, gap):
    asked = request(pieces, width=1100.0, selvage_mm=(12.0, 12.0), spread=spread, nap=nap, gap_mm=gap)
    found = lay(asked)
    assert check_lay(asked, found) == []
    assert found.length_mm >= max(found.bound_mm, found.fold_bound_mm) - 0.05


def test_without_a_place_for_compiled_code_functions_are_compiled_all_the_same():
    code = (
        "import numba.core.caching as caching; caching.CacheImpl._locator_classes = []; "
        "caching.CompileResultCacheImpl._locator_classes = []; "
        "from rowanseed.core.lay.compiled import compiled; "
        "twice = compiled()(lambda x: 2.0 * x); print(twice(21.0), len(twice.signatures))"
    )
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert run.returncode == 0 and run.stdout.split() == ["42.0", "1"], run.stderr[-800:]


def test_every_kernel_is_compiled_by_the_function_that_does_without_a_place():
    lay = Path(rowanseed.__file__).parent / "core" / "lay"
    assert [p.name for p in lay.glob("*.py") if "cache=True" in p.read_text()] == ["compiled.py"]
