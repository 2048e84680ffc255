"""The sheet's steps matched by their words, evenings that end safely, settings put back, troubles in order of ease."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.evenings import plan_evenings
from rowanseed.core.sew.garment import complete, operations_for, without_tools
from rowanseed.core.sew.model import ClothTraits, SewnGarment
from rowanseed.core.sew.numbers import Facts, numbers_for
from rowanseed.core.sew.order import sequence
from rowanseed.core.sew.settings import machine_settings, to_put_back, to_set, usual_settings
from rowanseed.core.sew.sheet import (
    SheetLine,
    compare,
    lines_as_steps,
    match_line,
    offers,
    operations_meant,
    read_sheet,
    with_lines,
)
from rowanseed.core.sew.trouble import find
from rowanseed.formats.sewing import troubles
from rowanseed.formats.step_svg import step_svg
from tests.core.sew.sheet_lines import SHIRT_LINES, SKIRT_LINES
from tests.core.sew.test_library import LIBRARY
from tests.core.sew.test_order import DRESS, SHIRT, SKIRT, WAISTCOAT, broken

DAY = date(2026, 12, 1)


def known(features):
    return [
        op for op, _ in operations_for(LIBRARY, complete(LIBRARY, SewnGarment(features, frozenset({"overlocker"}))))
    ]


@pytest.mark.parametrize(
    ("features", "line", "meant"),
    [
        (SKIRT, "Stitch darts and press toward centre", "sew-darts"),
        (SKIRT, "Insert invisible zipper in left side", "insert-invisible-zip"),
        (SKIRT, "Attach the waistband", "attach-waistband"),
        (SHIRT, "Sew shoulder seams.", "sew-shoulders"),
        (SHIRT, "Sew collar to neckline", "attach-collar"),
        (SHIRT, "Set in sleeves", "set-sleeves-flat"),
        (SHIRT, "Make buttonholes", "sew-buttonholes"),
        (SHIRT, "Stitch side seams", "sew-side-seams"),
        (SHIRT, "Stay-stitch neck edge", "staystitch-neck"),
        (DRESS, "Gather skirt at waistline", "gather-waist"),
        (DRESS, "Understitch the facing", "understitch-neck-facing"),
        (WAISTCOAT, "Sew lining shoulder seams together", "sew-shoulders@lining.body"),
    ],
)
def test_a_line_is_offered_the_operation_it_means(features, line, meant):
    offered = [op.id for op in match_line(line, known(features))]
    assert meant in offered, offered


def test_nine_of_ten_lines_that_are_tied_are_tied_rightly_and_what_is_unsure_is_left():
    garments = (
        (SewnGarment({**SHIRT, "cuff": "band", "sleeve-vent": "placket"}, frozenset({"overlocker"})), SHIRT_LINES),
        (SewnGarment({**SKIRT, "lining": "waist"}, frozenset({"overlocker"})), SKIRT_LINES),
    )
    tied = right = 0
    for garment, lines in garments:
        sheet = [SheetLine(k, text) for k, (text, _) in enumerate(lines, 1)]
        for offer, (_, meant) in zip(offers(LIBRARY, garment, sheet, {}), lines, strict=True):
            tied += bool(offer.chosen)
            right += bool(offer.chosen) and offer.chosen == meant
            assert meant or not offer.chosen, offer.line.text
    assert len(SHIRT_LINES) + len(SKIRT_LINES) == 50
    assert tied >= 30 and right >= 0.9 * tied, (tied, right)


def test_lines_that_mean_nothing_stay_in_the_order_in_their_own_words():
    garment = SewnGarment(SKIRT, frozenset({"overlocker"}))
    lines = read_sheet("Bless the cloth\nSew darts\nHave tea\nPress the flowers\nAttach the waistband", {}, "A")
    matched = offers(LIBRARY, garment, lines, {"Have tea": ""})
    own = lines_as_steps(matched)
    assert [(s.id, s.text, s.place, s.after) for s in own] == [
        ("line-1", "Bless the cloth", "table", ()), ("line-3", "Have tea", "table", ("sew-darts",)),
        ("line-4", "Press the flowers", "iron", ("line-3",)),
    ]  # fmt: skip
    order = with_lines(compare(LIBRARY, garment, operations_meant(matched)).order, own)
    at = [order.index(step) for step in ("line-1", "sew-darts", "line-3", "line-4", "attach-waistband")]
    assert at == sorted(at)
    whole = replace(garment, own=own)
    assert broken(check_order(LIBRARY, whole, order)) == []


def test_one_line_may_stand_for_several_operations():
    garment = SewnGarment(SKIRT, frozenset({"overlocker"}))
    lines = read_sheet("Darts\nAttach the waistband", {}, "A")
    matched = offers(LIBRARY, garment, lines, {"Darts": "sew-darts press-darts"})
    assert operations_meant(matched) == ["sew-darts", "press-darts", "attach-waistband"]


def test_words_that_mean_nothing_here_are_offered_nothing():
    assert match_line("Admire your work", known(SHIRT)) == [] and match_line("", known(SHIRT)) == []


def test_numbers_are_taken_off_and_other_views_steps_are_borrowed():
    others = {"A": "1. Sew darts\n2) Sew shoulders\nStep 3: Sew sides\n- Hem", "B": ""}
    lines = read_sheet("1. Sew yoke\n2. See View A, steps 2 to 3.\n3. Finish", others, "B")
    assert [(n.text, n.view) for n in lines] == [
        ("Sew yoke", ""),
        ("Sew shoulders", "A"),
        ("Sew sides", "A"),
        ("Finish", ""),
    ]
    (missing,) = read_sheet("see view A, steps 9", others, "B")
    assert missing.problem == "View A has 4 steps."
    assert "not written down" in read_sheet("see view C, step 1", others, "B")[0].problem


def test_a_sheet_that_hems_before_the_length_is_tried_is_named_and_may_be_kept():
    garment = SewnGarment(SKIRT, frozenset({"overlocker"}))
    lines = read_sheet("Sew darts\nBlind hem the skirt\nInsert invisible zip\nAttach waistband", {}, "A")
    matched = offers(LIBRARY, garment, lines, {})
    assert [o.chosen for o in matched] == ["sew-darts", "blind-hem", "insert-invisible-zip", "attach-waistband"]
    both = compare(LIBRARY, garment, [o.chosen for o in matched])
    (early,) = both.findings
    assert early.step == "blind-hem" and early.needs in ("attach-waistband", "insert-invisible-zip")
    assert "Between them lies" in early.text and early.law != "method"
    assert both.shift["blind-hem"] < 0 and set(both.order) == {
        s.operation.id for s in sequence(LIBRARY, garment, lambda op: {})
    }
    free = offers(LIBRARY, garment, lines, {"Blind hem the skirt": ""})
    safe = compare(LIBRARY, garment, [o.chosen for o in free if o.chosen])
    assert safe.findings == () and broken(check_order(LIBRARY, garment, safe.order)) == []


def evenings(features, given, done=frozenset(), **more):
    steps = sequence(LIBRARY, SewnGarment(features, frozenset({"overlocker"})), lambda op: {})
    return steps, plan_evenings(steps, given, done, DAY, **more)


def test_every_step_comes_once_in_order_and_no_evening_runs_over_its_time():
    steps, planned = evenings(SHIRT, [(DAY + timedelta(days=2 * k), 75) for k in range(20)])
    assert [s.operation.id for e in planned for s in e.steps] == [s.operation.id for s in steps]
    assert all(e.used <= e.minutes or len(e.steps) == 1 for e in planned)
    assert [e.day for e in planned] == sorted({e.day for e in planned})


def test_what_hangs_a_day_is_hemmed_on_another_evening():
    _, planned = evenings(DRESS, [(DAY, 2000)])
    day_of = {s.operation.id: e.day for e in planned for s in e.steps}
    assert day_of["press-hem"] > day_of["hang"] and "has to wait" in " ".join(e.ends for e in planned)


def test_nobody_stops_right_after_a_step_that_has_to_be_carried_on():
    features = {"closure": "placket", "interfacing": "fusible", "neck": "facing", "hem": "double"}
    for minutes in range(15, 120, 3):
        steps, planned = evenings(features, [], usual_minutes=minutes)
        for evening in planned:
            last = evening.steps[-1].operation
            assert not last.does.carry_on or len(evening.steps) == 1 or last.id == steps[-1].operation.id


def test_what_is_done_is_left_out_and_past_evenings_too():
    steps, _ = evenings(SHIRT, [])
    done = {s.operation.id for s in steps[:10]}
    _, planned = evenings(SHIRT, [(DAY - timedelta(days=3), 90), (DAY + timedelta(days=1), 90)], done)
    assert planned[0].day == DAY + timedelta(days=1) and not {s.operation.id for e in planned for s in e.steps} & done


def test_what_is_set_for_a_step_is_put_back_after_it():
    by_id = {op.id: op for features in (SKIRT, DRESS, {**SKIRT, "closure": "lapped-zip"}) for op in known(features)}
    cloth = ClothTraits("medium")
    usual = usual_settings(cloth)
    gather = machine_settings(by_id["gather-waist"], cloth)
    assert ("stitch", "2.5 mm", "4.5 mm, loose upper tension") in to_set(usual, gather)
    assert to_put_back(gather, usual) == [("stitch", "4.5 mm, loose upper tension", "2.5 mm")]
    zip_ = machine_settings(by_id["insert-lapped-zip"], cloth)
    assert [c[0] for c in to_put_back(zip_, usual)] == ["foot"]
    assert to_put_back(usual, usual) == [] and len(to_set(None, usual)) == len(usual)


def test_missing_tools_say_what_takes_their_place():
    changed = {tool: (instead, would) for tool, instead, would in without_tools(LIBRARY, SewnGarment(SHIRT))}
    assert "Zigzag the raw edges of the pieces, each by itself" in changed["overlocker"][0]
    assert "Overlock the raw edges of the pieces, each by itself" in changed["overlocker"][1]
    skirt = {tool: instead for tool, instead, _ in without_tools(LIBRARY, SewnGarment(SKIRT))}
    assert any("by hand" in way for way in skirt["blind-hem-foot"])
    place = {s.operation.id: s.operation.place for s in sequence(LIBRARY, SewnGarment(SKIRT), lambda op: {})}
    with_foot = SewnGarment(SKIRT, frozenset({"blind-hem-foot"}))
    assert place["blind-hem"] == "hand"
    assert {s.operation.id: s.operation.place for s in sequence(LIBRARY, with_foot, lambda op: {})}[
        "blind-hem"
    ] == "machine"


def test_checks_stand_in_the_order_of_ease_within_reason_and_a_symptom_finds_its_trouble():
    assert len(troubles()) >= 15
    for trouble in troubles():
        assert len(trouble.checks) >= 2 and len({c.look for c in trouble.checks}) == len(trouble.checks)
    assert find(troubles(), "the seam puckers")[0].id == "puckers"
    assert find(troubles(), "skipped stitches")[0].id == "skipped-stitches"
    assert find(troubles(), "wavy knit")[0].id == "wavy-knit"
    assert find(troubles(), "qqq") == [] and len(find(troubles(), "")) == len(troubles())


def test_steps_are_drawn_from_their_numbers():
    every = [op for features in (SKIRT, DRESS, SHIRT, WAISTCOAT) for op in known(features)]
    by_id = {op.id: op for op in every}
    own = Figures(hem_second=parse_length("1 1/2 in"))
    facts = Facts("in", required=requirements(Ask(features={"hem": "single"}, in_make=own)))
    # a single fold of 1 1/2 in is folded to a line at 3 in
    assert "line 3 in" in step_svg(by_id["press-hem"], facts)
    drawn = [op for op in every if step_svg(op, facts)]
    assert len(drawn) >= 0.8 * len(every)
    assert all("nan" not in step_svg(op, facts) for op in drawn)
    assert "3 in" in numbers_for(by_id["press-hem"], facts)["hem"]


@given(st.text(max_size=400), st.dictionaries(st.sampled_from(["A", "B", "C"]), st.text(max_size=80)))
def test_any_text_is_read_as_a_sheet(text, others):
    lines = read_sheet(text, others, "A")
    assert [line.number for line in lines] == list(range(1, len(lines) + 1))
    for line in lines:
        assert len(match_line(line.text, known(SHIRT))) <= 3


@settings(max_examples=40, deadline=None)
@given(st.lists(st.sampled_from(sorted(op.id for op in known(DRESS))), max_size=30))
def test_any_order_of_a_sheet_is_completed_and_what_is_early_is_told(order):
    garment = SewnGarment(DRESS, frozenset({"overlocker"}))
    both = compare(LIBRARY, garment, order)
    every = {op.id for op in known(DRESS)}
    assert set(both.order) == every and len(both.order) == len(every)
    named = list(dict.fromkeys(order))
    assert [step for step in both.order if step in named] == named
    # whoever is told early really stands before what it needs, and a sheet without such a step can be sewn as completed
    for finding in both.findings:
        assert named.index(finding.step) < named.index(finding.needs)
    if not both.findings:
        assert broken(check_order(LIBRARY, garment, both.order)) == []


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(-5, 40), st.integers(1, 400)), max_size=12), st.integers(10, 300))
def test_whatever_the_evenings_every_step_comes_once_and_what_waits_waits(given_, usual):
    steps, planned = evenings(DRESS, [(DAY + timedelta(days=d), m) for d, m in given_], usual_minutes=usual)
    assert [s.operation.id for e in planned for s in e.steps] == [s.operation.id for s in steps]
    day_of = {s.operation.id: e.day for e in planned for s in e.steps}
    for step in steps:
        for need in step.needs:
            waits = next(s.operation.does.wait_hours for s in steps if s.operation.id == need.id)
            assert day_of[step.operation.id] >= day_of[need.id] + timedelta(days=1 if waits else 0)


def test_the_pattern_s_own_order_decides_where_walking_does_not():
    garment = SewnGarment(SHIRT, frozenset({"overlocker"}))
    plain = [s.operation.id for s in sequence(LIBRARY, garment, lambda op: {})]
    free = ("press-front-bands", "press-yoke")  # both at the iron, in one visit
    liked = [step for step in reversed(plain) if step in free]
    own = [s.operation.id for s in sequence(LIBRARY, garment, lambda op: {}, prefer=liked)]
    assert [step for step in own if step in liked] == liked != [step for step in plain if step in liked]
    assert broken(check_order(LIBRARY, garment, own)) == []
    steps = {tuple(ids): place_changes_of(garment, ids) for ids in (plain, own)}
    assert len(set(steps.values())) == 1


def place_changes_of(garment, ids):
    place = {op.id: op.place for op, _ in operations_for(LIBRARY, complete(LIBRARY, garment))}
    return sum(place[a] != place[b] for a, b in zip(ids, ids[1:], strict=False))
