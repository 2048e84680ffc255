"""Measurements: when to take them again, and slips that are asked about."""

from datetime import date

from rowanseed.core.body import BY_KEY, MEASUREMENTS, age_on, measure_again, slips
from rowanseed.core.lengths import parse_length

# Named in the trade's own list of what is measured (common practice, no source).
NAMED = {
    *("bust", "high_bust", "waist", "hip", "back_waist", "height", "shoulder", "upper_arm", "arm_length", "wrist"),
    *("thigh", "crotch_depth", "crotch_length", "inseam", "waist_to_knee", "waist_to_floor"),
}


def _set(**texts):
    return {key: parse_length(text) for key, text in texts.items()}


def test_every_measurement_of_the_trade_is_known_with_its_place():
    assert set(BY_KEY) >= NAMED
    assert all(m.where and m.least_mm < m.most_mm for m in MEASUREMENTS)


def test_every_body_measurement_of_the_standard_is_known_by_its_name():
    # ISO 3635:1981, Size designation of clothes, section 2: names of body measurements of the trunk, limbs and head, from
    # memory; hand, foot and weight are not for cloth, and its chest girth is the bust girth of men.
    named = {"head girth", "neck girth", "bust girth", "underbust girth", "waist girth", "hip girth"}
    lengths = {"height", "outside leg length", "inside leg length", "arm length"}
    assert {m.standard for m in MEASUREMENTS if m.standard} == named | lengths
    assert all(BY_KEY[key].around for key in ("neck", "bust", "under_bust", "waist", "hip", "head"))


def test_an_adult_is_measured_again_after_twelve_months():
    assert measure_again(date(2025, 11, 25), date(2026, 11, 24), False) is None
    assert measure_again(date(2025, 11, 24), date(2026, 11, 24), False).code == "measure-again"


def test_a_child_is_measured_again_after_three_months():
    assert measure_again(date(2026, 8, 25), date(2026, 11, 24), True) is None
    assert measure_again(date(2026, 8, 24), date(2026, 11, 24), True).level == "care"


def test_a_waist_above_the_hip_is_asked_about():
    assert "waist" in slips(_set(waist="44 in", hip="40 in"))
    assert slips(_set(waist="31 in", hip="41 in")) == {}


def test_inches_typed_as_centimetres_are_asked_about():
    assert "inches typed as centimetres" in slips(_set(bust="38 cm"))["bust"]
    assert "centimetres typed as inches" in slips(_set(hip="104 in"))["hip"]


def test_a_figure_that_jumped_since_the_last_set_is_asked_about():
    before = _set(waist="30 in", hip="40 in")
    asked = slips(_set(waist="34 in", hip="41 in"), before)
    assert set(asked) == {"waist"} and "was 76.2 cm (30 in) before" in asked["waist"]


def test_a_high_bust_above_the_full_bust_is_asked_about():
    assert "high_bust" in slips(_set(bust="36 in", high_bust="38 in"))


def test_a_measure_out_of_proportion_to_another_is_asked_about():
    assert "long for the height" in slips(_set(inseam="100 cm", height="165 cm"))["inseam"]
    assert "larger than the upper arm" in slips(_set(wrist="27 cm", upper_arm="26 cm"))["wrist"]
    sound = _set(height="168 cm", back_waist="41 cm", inseam="76 cm", arm_length="58 cm", waist_to_floor="104 cm")
    assert slips(sound) == {}


def test_a_figure_no_body_has_is_asked_about_without_guessing_a_unit():
    assert slips(_set(neck="95 cm"))["neck"].endswith("Were centimetres typed as inches?")
    assert slips(_set(height="400 cm"))["height"].endswith("Were centimetres typed as inches?")
    assert slips(_set(wrist="5 cm"))["wrist"].endswith("Were inches typed as centimetres?")
    assert slips(_set(wrist="1 cm"))["wrist"].endswith("Is that right?")


def test_an_age_is_counted_in_years():
    assert age_on(date(2019, 11, 24), date(2026, 11, 24)) == 7.0
