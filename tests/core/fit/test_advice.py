"""Size advice: worked by hand for each school, in inches where the envelope is."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowanseed.core.errors import AdviceError
from rowanseed.core.fit.advice import size_advice
from rowanseed.core.fit.chart_comparison import AdviceRequest, uses_high_bust
from rowanseed.core.fit.ease import ease_for_look, key_zone, least_wearing, look_of, wanted_ease
from rowanseed.core.fit.ease_table import LOOKS, EaseTable, Look, growth
from rowanseed.core.fit.scale import SizeRow

IN = 25.4


def rows(*table):
    return tuple(SizeRow(size, {"bust": b * IN, "waist": w * IN, "hip": h * IN}) for size, b, w, h in table)


CHART = rows(("12", 36, 28, 38), ("14", 38, 30, 40), ("16", 40, 32, 42))
FINISHED = rows(("12", 40, 33, 42), ("14", 42, 35, 44), ("16", 44, 37, 46))


def ask(body, **more):
    mm = {k: v * IN for k, v in body.items()}
    return size_advice(AdviceRequest(mm, more.pop("chart", CHART), more.pop("finished", FINISHED), **more))


def codes(advice):
    return {f.code for f in advice.findings}


def zone(advice, name):
    return next(z for z in advice.zones if z.zone == name)


def test_a_zone_takes_the_nearest_size_and_an_exact_half_the_larger():
    advice = ask({"bust": 38.9, "waist": 29, "hip": 41})
    assert zone(advice, "bust").size == "14"
    assert zone(advice, "waist").size == "14"  # 29 lies half way between 28 and 30
    assert zone(advice, "hip").size == "16"  # 41 lies half way between 40 and 42


def test_ease_is_the_finished_measure_less_the_body():
    advice = ask({"bust": 38, "waist": 30, "hip": 40})
    bust = zone(advice, "bust")
    assert (bust.body_mm, bust.chart_mm, bust.finished_mm) == pytest.approx((38 * IN, 38 * IN, 42 * IN))
    assert bust.ease_mm == pytest.approx(4 * IN)


def test_without_finished_measurements_the_ease_is_unknown():
    advice = ask({"bust": 38}, finished=())
    assert zone(advice, "bust").finished_mm is None and zone(advice, "bust").ease_mm is None


def test_between_two_sizes_larger_takes_the_larger_and_blend_the_nearer():
    body = {"bust": 38.5}
    assert ask(body, between="larger").size == "16"
    assert ask(body, between="blend").size == "14"


def test_within_three_millimetres_of_a_size_larger_takes_that_size():
    assert ask({"bust": 38 + 2.9 / IN}, between="larger").size == "14"
    assert ask({"bust": 38 + 3.1 / IN}, between="larger").size == "16"


def test_the_finished_school_looks_for_body_plus_the_ease_that_is_liked():
    # 38 + 3 = 41 in: half way between 40 and 42, so the larger, finished at 42.
    assert ask({"bust": 38}, school="finished", want_ease={"bust": 3 * IN}).size == "14"
    # 38 + 2 = 40 in: size 12, one below the chart's 14.
    assert ask({"bust": 38}, school="finished", want_ease={"bust": 2 * IN}).size == "12"


def test_in_the_finished_school_other_zones_keep_the_designers_ease():
    # Size 14 is drawn with 35 - 30 = 5 in at the waist and 44 - 40 = 4 in at the hip.
    advice = ask({"bust": 38, "waist": 32, "hip": 38}, school="finished", want_ease={"bust": 4 * IN})
    assert (advice.size, zone(advice, "waist").size, zone(advice, "hip").size) == ("14", "16", "12")
    asked = ask({"bust": 38, "waist": 32}, school="finished", want_ease={"bust": 4 * IN, "waist": 1 * IN})
    assert zone(asked, "waist").size == "12"  # 32 + 1 = 33


def test_at_least_takes_the_first_size_at_or_above_the_body():
    assert ask({"bust": 38.1}, school="at-least").size == "16"
    assert ask({"bust": 38.0}, school="at-least").size == "14"


def test_a_full_bust_over_two_inches_larger_sizes_by_the_high_bust():
    advice = ask({"bust": 41, "high_bust": 38}, garment="top")
    assert advice.size == "16"  # 38 and the pattern's cup of 2 in: 40
    finding = next(f for f in advice.findings if f.code == "bust-enlargement")
    assert "(1 in)" in finding.text  # the cup is 3 in, the pattern's 2 in
    assert ask({"bust": 41, "high_bust": 38}, garment="top", bust_by="high-bust").size == "14"
    assert ask({"bust": 41, "high_bust": 38}, garment="top", cup=3 * IN).size == "16"  # 41, half way: the larger


def test_no_step_in_the_full_bust_makes_the_size_jump():
    # 97 and 97.5 cm over a high bust of 92 cm: on both sides of the cup the high bust and the cup choose
    sizes = {ask({"bust": cm / 2.54, "high_bust": 92 / 2.54}, garment="top").size for cm in (94.0, 97.0, 97.5, 104.0)}
    assert sizes == {"14"}  # 92 + 5.08 is 38.2 in


@pytest.mark.parametrize(("full", "garment", "by_high"), [(40, "top", True), (39, "dress", True), (44, "skirt", False)])
def test_the_high_bust_counts_wherever_it_is_known_above_the_waist(full, garment, by_high):
    body = {"bust": full * IN, "high_bust": 38 * IN}
    assert uses_high_bust(AdviceRequest(body, CHART, garment=garment)) is by_high


def test_a_body_beyond_the_chart_is_told_by_how_much():
    advice = ask({"bust": 43})
    assert advice.size == "16" and "beyond-chart" in codes(advice)
    assert any("3 in" in f.text for f in advice.findings if f.code == "beyond-chart")


def test_ease_under_the_least_is_noted_and_not_stopped():
    tight = rows(("12", 36, 28, 38))
    advice = ask({"bust": 36}, chart=tight, finished=rows(("12", 37, 33, 42)))
    finding = next(f for f in advice.findings if f.code == "under-wearing-ease")
    assert finding.level == "care"


def test_different_sizes_by_zone_are_said():
    assert "zones-differ" in codes(ask({"bust": 36, "waist": 32, "hip": 42}))
    assert "zones-differ" not in codes(ask({"bust": 36, "waist": 28, "hip": 38}))


def test_a_straight_cut_needs_no_wider_waist_where_its_own_ease_is_enough():
    # By the chart a waist of 32 in takes 16; cut straight, size 12 leaves it 9 in, where 9 cm is usual in a top.
    straight = rows(("12", 40, 41, 42), ("14", 42, 43, 44), ("16", 44, 45, 46))
    told = [
        f.text
        for f in ask({"bust": 36, "waist": 32, "hip": 38}, finished=straight).findings
        if f.code == "zones-differ"
    ]
    assert len(told) == 1 and "22.9 cm (9 in) at the waist" in told[0] and "ask for different" not in told[0]
    (both,) = (
        f.text
        for f in ask({"bust": 36, "waist": 32, "hip": 42}, finished=straight).findings
        if f.code == "zones-differ"
    )
    assert "bust 12, hip 16" in both and "at the waist" in both


def test_a_longer_body_is_told_to_lengthen():
    advice = ask({"bust": 38, "height": 70}, drafted_height=66 * IN)
    assert any(f.code == "length" and "Lengthen" in f.text and "4 in" in f.text for f in advice.findings)


def test_every_advice_has_its_reason():
    for school in ("chart", "finished", "at-least"):
        assert "reason" in codes(ask({"bust": 38.4, "waist": 30, "hip": 40}, school=school))


@pytest.mark.parametrize(
    ("request_", "field"),
    [
        (AdviceRequest({"bust": 900}, ()), "chart"),
        (AdviceRequest({"bust": 900}, tuple(reversed(CHART))), "chart"),
        (AdviceRequest({"waist": 700}, CHART), "key"),
        (AdviceRequest({"bust": 900}, CHART, rows(("99", 40, 30, 40))), "finished"),
        (AdviceRequest({"bust": 900}, CHART, (), school="finished"), "finished"),
        (AdviceRequest({"bust": 900}, (CHART[0], CHART[0])), "chart"),
    ],
)
def test_a_chart_that_cannot_be_compared_is_refused_with_its_field(request_, field):
    with pytest.raises(AdviceError) as caught:
        size_advice(request_)
    assert caught.value.field == field


@given(st.floats(30, 48))
def test_the_at_least_school_never_takes_a_smaller_size_than_the_chart_school(bust):
    order = ["12", "14", "16"]
    at_least, chart = ask({"bust": bust}, school="at-least").size, ask({"bust": bust}).size
    assert order.index(at_least) >= order.index(chart)


def test_looks_follow_each_other_without_a_gap():
    # Bust ease of woven tops, from memory of general handbooks: 0-75, 75-100, 100-130, 130-200 mm, over 200.
    assert [(look.low_mm, look.high_mm) for look in LOOKS[:4]] == [(0, 75), (75, 100), (100, 130), (130, 200)]
    assert [look_of(mm, "top") for mm in (10, 80, 110, 150, 260)] == [look.name for look in LOOKS]
    assert look_of(110, "coat") == "close"  # 65 of it goes over what is worn under a coat


def test_a_knit_wants_less_ease_down_to_negative():
    woven, knit = wanted_ease("top", {}, 0.0), wanted_ease("top", {}, 0.5)
    assert knit["bust"] < woven["bust"] and wanted_ease("top", {}, 1.0)["bust"] < 0
    assert least_wearing("bust", 0.5) < 0 < least_wearing("bust", 0.0) == 50  # 50 mm at the bust, from memory


def test_both_ways_out_are_said_between_two_sizes():
    advice = ask({"bust": 38.5, "waist": 30, "hip": 40})
    text = next(f.text for f in advice.findings if f.code == "between-sizes")
    # 40 - 38.5 = 1.5 in, over four edges of two side seams: 3/8 in each.
    assert "take 16" in text and "3/8 in" in text and "take the nearer, 14" in text


def test_a_letter_size_covers_a_range_and_counts_as_met_within_it():
    letters = tuple(
        SizeRow(size, {"bust": low * IN}, {"bust": high * IN})
        for size, low, high in (("S", 34, 36), ("M", 37, 39), ("L", 40, 42))
    )
    sizes = {
        bust: ask({"bust": bust}, chart=letters, finished=()).size for bust in (34, 35.5, 36.4, 36.5, 38, 41.9, 45)
    }
    assert sizes == {34: "S", 35.5: "S", 36.4: "S", 36.5: "M", 38: "M", 41.9: "L", 45: "L"}
    with pytest.raises(AdviceError, match="ends below"):
        ask({"bust": 38}, chart=(SizeRow("S", {"bust": 900}, {"bust": 800}),), finished=())


def test_a_pattern_drafted_to_the_waist_is_chosen_by_it_with_ones_own_line_between():
    lines = tuple(SizeRow(str(inch), {"waist": inch * IN}) for inch in range(24, 34))
    advice = ask({"waist": 27.25, "hip": 38}, chart=lines, finished=(), garment="skirt", key="hip")
    assert advice.size == "27" and "gives no hip" in advice.findings[0].text
    own = next(f.text for f in advice.findings if f.code == "own-line")
    assert "1/4 in" in own and "25% of the way to 28" in own


@pytest.mark.parametrize(
    ("garment", "cut", "key"),
    [
        ("skirt", "close", "hip"),
        ("skirt", "flared", "waist"),
        ("skirt", "gathered", "waist"),
        ("trousers", "", "hip"),
        ("dress", "", "bust"),
        ("coat", "", "bust"),
    ],
)
def test_the_measurement_that_decides_follows_the_garment_and_its_cut(garment, cut, key):
    assert key_zone(garment, cut) == key  # common practice, no source


def test_a_child_takes_its_width_by_girth_and_its_length_by_height_and_its_age_is_only_a_guess():
    chart = tuple(
        SizeRow(str(size), {"bust": bust, "height": height}, age=(size, size))
        for size, bust, height in ((5, 580, 1100), (6, 600, 1160), (7, 620, 1220), (8, 650, 1280))
    )
    asked = AdviceRequest({"bust": 598, "height": 1275}, chart, child=True, age=7)
    advice = size_advice(asked)
    found = {f.code: f.text for f in advice.findings}
    assert advice.size == "6" and "size 8" in found["height-differs"] and "7" in found["age-differs"]
    by_height = AdviceRequest({"height": 1215}, tuple(SizeRow(r.size, {"height": r.mm["height"]}) for r in chart))
    assert size_advice(by_height).size == "7"


def test_what_is_worn_under_is_added_to_the_body():
    plain, over = (ask({"bust": 38}, garment="coat", school="at-least", worn_under=mm) for mm in (0.0, 30.0))
    assert (plain.size, over.size) == ("14", "16")
    assert "worn-under" in codes(plain) and "worn-under" not in codes(over)
    # Finished school: 35.5 in + 165 mm for a coat is 42 in; with 30 mm more 43.2 in, nearer to 44 than to 42.
    sizes = [ask({"bust": 35.5}, garment="coat", school="finished", worn_under=mm).size for mm in (0.0, 30.0)]
    assert sizes == ["14", "16"]


def test_a_knit_that_stretches_too_little_is_told_with_what_is_needed():
    tight = rows(("12", 36, 28, 38))
    close = rows(("12", 33, 26, 36))
    advice = ask({"bust": 36}, chart=tight, finished=close, stretch=0.05, least_stretch=0.25)
    found = {f.code: f for f in advice.findings}
    assert "25%" in found["stretch-too-little"].text
    # 36 - 33 = 3 in over 33 in: 9 % at the least, more than the 5 % there is.
    assert "9%" in found["stretch-needed"].text and found["stretch-needed"].level == "care"


def test_a_look_sets_the_bust_ease_to_look_for_and_can_be_redefined():
    # 38 in + 87.5 mm is 41.4 in, finished nearest at 42; close, 38 in + 37.5 mm is 39.5 in, nearest at 40.
    assert [ask({"bust": 38}, school="finished", look=name).size for name in ("fitted", "close")] == ["14", "12"]
    assert ease_for_look("fitted", "top") == 87.5 and ease_for_look("fitted", "coat") == 157.5
    own = (Look("fitted", 140, 160),)
    assert ask({"bust": 38}, school="finished", look="fitted", eases=EaseTable(looks=own)).size == "16"


def test_cloth_that_needs_room_is_told_where_it_leaves_too_little():
    advice = ask({"bust": 38, "waist": 30, "hip": 41.5}, cloth=("stiff", "thick"))
    finding = next(f for f in advice.findings if f.code == "cloth-needs-room")
    # Hip: size 16 leaves 4.5 in, 114 mm; 45 mm go to the cloth. Bust: 4 in, 102 mm, 57 left of 50. Nothing is short.
    assert finding.level == "note" and "4.5 cm" in finding.text
    tight = ask({"bust": 38.9}, cloth=("stiff", "thick", "underlined"))  # 3.1 in, 79 mm, less 55 leaves 24 of 50
    assert next(f for f in tight.findings if f.code == "cloth-needs-room").level == "care"


def test_a_small_bust_is_told_with_the_amount_to_take_out():
    advice = ask({"bust": 38, "high_bust": 37.5}, garment="top")
    text = next(f.text for f in advice.findings if f.code == "bust-reduction")
    assert advice.size == "16" and "3.8 cm" in text  # 37.5 + 2 is 39.5, nearest 40; 2 in less half an inch is 1 1/2


def test_a_coat_under_twelve_centimetres_of_bust_ease_is_cautioned_and_a_loose_one_has_twenty_to_thirty():
    # general handbooks, from memory
    assert least_wearing("bust", 0.0, "coat") == 120 and least_wearing("bust", 0.0, "dress") == 50
    assert [look_of(mm, "coat") for mm in (210.0, 295.0, 305.0)] == ["loose", "loose", "very loose"]
    close = ask({"bust": 38}, chart=rows(("14", 38, 30, 40)), finished=rows(("14", 42, 35, 44)), garment="coat")
    assert "under-wearing-ease" in codes(close)


def test_a_knit_goes_down_to_a_tenth_of_the_girth_under_the_body():
    body = {"bust": 1000.0, "waist": 800.0, "hip": 1000.0}
    swim = wanted_ease("top", {}, 0.7, body)
    assert swim == pytest.approx({"bust": -100.0, "waist": -80.0, "hip": -100.0})
    assert wanted_ease("top", {}, 0.25, body)["bust"] == 50.0  # half of 100
    falling = [wanted_ease("top", {}, k / 100, body)["bust"] for k in range(0, 101, 5)]
    assert falling == sorted(falling, reverse=True)


def test_between_two_sizes_both_ways_are_said_only_where_they_differ():
    text = next(f.text for f in ask({"bust": 39.5}, between="larger").findings if f.code == "between-sizes")
    assert text.count("take 16") == 1 and "other way" not in text


def test_a_household_s_own_ease_stands_in_place_of_the_usual_one_and_says_so():
    own = EaseTable({"wanted.dress.bust": 60.0, "least.waist": 30.0})
    assert wanted_ease("dress", {}, 0.0, table=own)["bust"] == 60.0 and wanted_ease("dress", {}, 0.0)["bust"] == 90.0
    assert least_wearing("waist", 0.0, table=own) == 30.0
    assert own.source("least.waist") == "your own" and "memory" in own.source("least.hip")


def test_what_a_child_grows_is_counted_in_length_apart_from_width():
    """6 cm of height and 2 cm round the chest a size, from memory of EN 13402-3."""
    chart = tuple(
        SizeRow(size, {"bust": 580.0 + 20 * k, "height": 1040.0 + 60 * k})
        for k, size in enumerate(["4", "5", "6", "7"])
    )
    body = {"bust": 595.0, "height": 1150.0}
    plain = size_advice(AdviceRequest(body, chart, child=True, age=6.0))
    assert plain.size == "5"
    grown = size_advice(AdviceRequest(body, chart, child=True, age=6.0, growth=growth(6.0, 12)))
    assert growth(6.0, 12).height_mm == 60.0 and growth(6.0, 12).girth_mm == pytest.approx(19.8)
    assert grown.size == "6"
    texts = {f.code: f.text for f in grown.findings}
    assert "12 months" in texts["growth"] and "to grow" in texts["reason"]
    assert (
        "size 7" in texts["height-differs"] and "1.5 cm" in texts["height-differs"]
    )  # a quarter of 6 cm, neck to waist
    assert growth(30.0, 6).height_mm == 0.0 and growth(None, 6) == growth(7.0, 6)
