"""The sewing order: rules of construction that hold on nearly every garment (common practice, no source)."""

import random
from dataclasses import replace

import pytest

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.garment import operations_for
from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.order import place_changes, sequence
from rowanseed.formats.sewing import library
from tests.core.sew.test_library import LIBRARY, random_garment

OVERLOCKER = frozenset({"overlocker"})
SHIRT = {
    "yoke": "plain", "interfacing": "fusible", "collar": "two-piece", "front": "band", "closure": "buttons",
    "sleeve": "set-in", "cuff": "hem", "pocket": "patch", "topstitching": "edges",
}  # fmt: skip
SKIRT = {"shaping": "darts", "closure": "invisible-zip", "waist": "band", "interfacing": "fusible", "hem": "blind"}
TROUSERS = {"legs": "trousers", "waist": "casing", "pocket": "patch"}
WAISTCOAT = {
    "lining": "sewn-in", "armhole": "lined", "pocket": "welt", "interfacing": "fusible", "closure": "buttons", "hem": "none",
    "seam-finish": "none",
}  # fmt: skip
DRESS = {
    "shaping": "darts", "neck": "facing", "interfacing": "fusible", "sleeve": "set-in", "cuff": "hem", "gathers": "waist",
    "waist-seam": "joined", "closure": "invisible-zip", "pocket": "side-seam", "hem": "circular",
}  # fmt: skip


def order(features, tools=OVERLOCKER, **schools):
    return [s.operation.id for s in sequence(LIBRARY, SewnGarment(features, tools, schools), lambda op: {})]


def before(features, first, second, **schools):
    steps = order(features, **schools)
    assert first in steps and second in steps, (first, second)
    return steps.index(first) < steps.index(second)


@pytest.mark.parametrize(
    ("features", "first", "second"),
    [
        (SHIRT, "mark-pieces", "fuse-interfacing"),
        (SHIRT, "test-fuse", "fuse-interfacing"),
        (SHIRT, "staystitch-neck", "sew-shoulders"),
        (SHIRT, "sew-patch-pockets", "sew-side-seams"),
        (SHIRT, "press-shoulders", "attach-collar"),
        (SHIRT, "attach-collar", "set-sleeves-flat"),
        (SHIRT, "set-sleeves-flat", "sew-side-seams"),
        (SHIRT, "topstitch-yoke", "set-sleeves-flat"),
        (SHIRT, "sew-buttonholes", "sew-buttons"),
        (SHIRT, "sample-buttonhole", "sew-buttonholes"),
        (SHIRT, "try-length", "sew-hem"),
        (SKIRT, "press-darts", "sew-side-seams"),
        (SKIRT, "insert-invisible-zip", "close-zip-seam"),
        (SKIRT, "insert-invisible-zip", "attach-waistband"),
        (SKIRT, "try-waist", "attach-waistband"),
        (TROUSERS, "press-inseams", "sew-crotch"),
        (TROUSERS, "thread-elastic", "close-casing"),
        (WAISTCOAT, "press-shoulders@lining.body", "join-lining-edges"),
        (WAISTCOAT, "turn-lined-edges", "sew-side-seams"),
        (WAISTCOAT, "sew-welt-pockets", "join-lining-edges"),
        (DRESS, "gather-waist", "join-waist-seam"),
        (DRESS, "join-waist-seam", "insert-invisible-zip"),
        (DRESS, "insert-invisible-zip", "sew-neck-facing"),
        (DRESS, "hang", "try-length"),
        (DRESS, "finish-raw-edges", "insert-invisible-zip"),
    ],
)
def test_a_rule_of_construction_holds(features, first, second):
    assert before(features, first, second)


def test_schools_change_the_order():
    assert before(SHIRT, "sew-side-seams", "set-sleeves-round", **{"sleeve-setting": "round"})
    apart = order(DRESS, **{"facing-order": "apart"})
    assert apart.index("facing-back-apart") < apart.index("sew-shoulders")
    assert "hem-sleeves" not in order(SHIRT, **{"sleeve-hem": "before-setting"})
    assert "understitch-neck-facing" not in order(DRESS, **{"facing-roll": "leave"})


def test_without_an_overlocker_edges_are_zigzagged():
    assert "zigzag-raw-edges" in order(TROUSERS, frozenset()) and "finish-raw-edges" not in order(TROUSERS, frozenset())


def test_any_garments_own_order_is_sound():
    rng = random.Random(11)
    for _ in range(80):  # `python -m bench.orders` does it for five thousand
        garment = random_garment(rng)
        steps = [s.operation.id for s in sequence(LIBRARY, garment, lambda op: {})]
        assert broken(check_order(LIBRARY, garment, steps)) == []


def broken(findings):
    """The findings above a note."""
    return [f for f in findings if f.level != "note"]


def in_library_order(steps):
    """A sound order that gives no thought to walking: each step as soon as its needs are done."""
    rest = sorted(steps, key=lambda s: [t.id for t in LIBRARY.templates].index(s.operation.template))
    out, done = [], set()
    while rest:
        step = next(s for s in rest if {n.id for n in s.needs} <= done)
        rest.remove(step)
        out.append(step)
        done.add(step.operation.id)
    return out


def test_the_order_walks_no_more_than_one_without_thought_and_mostly_less():
    saved = []
    for features in (SHIRT, SKIRT, TROUSERS, WAISTCOAT, DRESS):
        steps = sequence(LIBRARY, SewnGarment(features, OVERLOCKER), lambda op: {})
        saved.append(place_changes(in_library_order(steps)) - place_changes(steps))
    assert min(saved) >= 0 and sum(saved) >= 10, saved


WRONG = [
    (SHIRT, "sew-buttons", "sew-buttonholes"),
    (SHIRT, "sew-hem", "press-hem"),
    (SHIRT, "attach-collar", "staystitch-neck"),
    (SHIRT, "sew-front-bands", "fuse-interfacing"),
    (SHIRT, "sew-side-seams", "press-armholes"),
    (SKIRT, "attach-waistband", "insert-invisible-zip"),
    (SKIRT, "close-zip-seam", "insert-invisible-zip"),
    (TROUSERS, "sew-crotch", "sew-inseams"),
    (WAISTCOAT, "sew-side-seams", "sew-welt-pockets"),
    (DRESS, "sew-neck-facing", "insert-invisible-zip"),
]


@pytest.mark.parametrize(("features", "early", "need"), WRONG)
def test_a_step_done_too_early_is_answered_with_what_goes_wrong(features, early, need):
    steps = order(features)
    steps.remove(early)
    steps.insert(steps.index(need), early)
    found = [f for f in check_order(library(), SewnGarment(features, OVERLOCKER), steps) if f.step == early]
    assert any(f.code == "too-early" and f.kind in ("physics", "craft") and f.law != "method" for f in found)
    assert any(len(f.text) > 40 for f in found)


def test_steps_left_out_doubled_and_foreign_are_named():
    steps = order(SKIRT)
    wrong = [*steps[1:], steps[2], "sew-wings"]
    found = {(f.code, f.law, f.step) for f in check_order(LIBRARY, SewnGarment(SKIRT, OVERLOCKER), wrong)}
    assert found == {
        ("left-out", "complete", steps[0]), ("done-twice", "once", steps[2]), ("not-in-garment", "once", "sew-wings"),
    }  # fmt: skip


def test_sittings_keep_to_their_minutes_where_a_step_is_not_longer_itself():
    for minutes in (30, 60, 120):
        steps = sequence(LIBRARY, SewnGarment(SHIRT, OVERLOCKER), lambda op: {}, minutes)
        spent: dict[int, list[int]] = {}
        for step in steps:
            spent.setdefault(step.sitting, []).append(step.operation.minutes)
        assert all(sum(m) <= minutes or len(m) == 1 for m in spent.values())
        assert list(spent) == list(range(1, len(spent) + 1))


def test_an_unknown_feature_is_refused_by_the_check_too():
    with pytest.raises(FeatureError):
        check_order(LIBRARY, SewnGarment({"cape": "long"}), [])


@pytest.mark.parametrize(
    ("missing", "edge", "garment_"),
    [
        ("hem", "skirt.hem", {"waist": "band", "closure": "lapped-zip", "hem": "blind"}),
        (
            "front-facings",
            "body.front-edge",
            {"front": "facing", "collar": "one-piece", "sleeve": "set-in", "closure": "buttons"},
        ),
        ("strapless-edge", "body.upper", {"straps": "strapless", "closure": "invisible-zip"}),
    ],
)
def test_an_edge_that_no_step_uses_is_named_as_raw_at_the_end(missing, edge, garment_):
    # Law 18 of construction: at the end every edge is joined, hemmed, faced, bound, banded, or named as left raw.
    kept = tuple(t for t in LIBRARY.templates if missing not in t.id)
    library, garment = replace(LIBRARY, templates=kept), SewnGarment(garment_)
    steps = [op.id for op, _ in operations_for(library, garment)]
    raw = [f for f in check_order(library, garment, steps) if f.code == "left-raw"]
    assert [f.on for f in raw] == [(edge,)] and raw[0].law == "complete" and "raw" in raw[0].text
    whole = [s.operation.id for s in sequence(LIBRARY, garment, lambda op: {})]
    assert not [f for f in check_order(LIBRARY, garment, whole) if f.code == "left-raw"]
