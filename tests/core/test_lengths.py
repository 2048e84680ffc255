"""Lengths: every form sewists write, exact conversions, plain errors."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import MM_PER, Length, both, format_length, mixed_fraction, parse_length

# 1 in = 25.4 mm exactly: international yard and pound agreement, 1959.
FORMS = [
    ('5/8"', 15.875),
    ("5/8 in", 15.875),
    ("1 1/4 in", 31.75),
    ('1 1/4"', 31.75),
    ("1-1/4 in", 31.75),
    ("38 in", 965.2),
    ('38"', 965.2),
    ("38”", 965.2),
    ("38''", 965.2),
    ("38½ in", 977.9),
    ("38 ½ inches", 977.9),
    ("⅝ in", 15.875),
    ("97 cm", 970.0),
    ("97cm", 970.0),
    ("1.5cm", 15.0),
    ("1,5 cm", 15.0),
    (".5 in", 12.7),
    ("168 mm", 168.0),
    ("2.5 m", 2500.0),
    ("1 m 20", 1200.0),
    ("1 m 20 cm", 1200.0),
    ("2 yd", 1828.8),
    ("2 1/4 yds", 2057.4),
    ("2 yd 9 in", 2057.4),
    ("2 yd 9", 2057.4),
    ("5'6\"", 1676.4),
    ("3 feet", 914.4),
    ("  7 INCHES ", 177.8),
    ("1\u00a01/2 in", 38.1),
]


@pytest.mark.parametrize(("text", "mm"), FORMS)
def test_every_form_sewists_write_is_read(text, mm):
    assert parse_length(text).mm == pytest.approx(mm, abs=1e-9)


def test_what_was_typed_is_kept_with_its_unit():
    length = parse_length(" 1 1/4 in ")
    assert (length.text, length.unit) == ("1 1/4 in", "in")


def test_a_number_is_millimetres_unless_a_unit_is_given():
    assert parse_length(1500).mm == 1500
    assert parse_length("38", "in").mm == pytest.approx(965.2)


def test_the_echo_says_both_units_and_keeps_sixteenths():
    assert parse_length("5/8 in").echo() == "5/8 in = 1.6 cm"
    assert parse_length("1/16 in").echo() == "1/16 in = 0.2 cm"
    assert parse_length("97 cm").echo() == "97 cm = 38 1/4 in"


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("", "Write a length"),
        ("wide", "not a length"),
        ("12", "needs a unit"),
        ("12 parsecs", "not a unit"),
        ("-3 cm", "not a length"),
        ("1/0 in", "below the line"),
        ("3 in 2 yd", "odd order"),
        ("2000 m", "kilometre"),
        ("1,000 mm", "two ways"),
        ("9" * 80 + " cm", "too long"),
        ("5 in in", "not a length"),
    ],
)
def test_what_cannot_be_read_is_answered_in_words(text, word):
    with pytest.raises(LengthError, match=word):
        parse_length(text)


@pytest.mark.parametrize("value", [True, None, [1], float("nan"), float("inf"), -4])
def test_values_that_are_no_length_are_refused(value):
    with pytest.raises(LengthError):
        parse_length(value)


@given(st.text(max_size=70))
def test_any_text_is_a_length_or_a_length_error(text):
    try:
        length = parse_length(text, "cm")
    except LengthError as error:
        assert error.text
    else:
        assert isinstance(length, Length) and 0 <= length.mm <= 1_000_000


@given(st.integers(0, 2000), st.sampled_from([2, 4, 8, 16]), st.sampled_from(["in", "ft", "yd"]))
def test_a_printed_fraction_reads_back_as_itself(parts, denominator, unit):
    mm = parts / denominator * MM_PER[unit]
    printed = format_length(mm, unit, denominator)
    assert parse_length(printed).mm == pytest.approx(mm, abs=1e-6)


@given(st.floats(0, 9000), st.sampled_from(["cm", "m", "mm"]))
def test_a_printed_metric_length_reads_back_within_its_last_place(mm, unit):
    last_place = {"mm": 0.5, "cm": 0.5, "m": 5.0}[unit]
    assert parse_length(format_length(mm, unit)).mm == pytest.approx(mm, abs=last_place + 1e-6)


def test_fractions_are_in_lowest_terms_with_their_sign():
    assert [mixed_fraction(v) for v in (0, 0.25, 1.5, 2, -1.125, 0.99)] == ["0", "1/4", "1 1/2", "2", "-1 1/8", "1"]


def test_both_units_are_printed_the_first_one_asked_for():
    assert both(15.875) == "1.6 cm (5/8 in)"
    assert both(15.875, "in") == "5/8 in (1.6 cm)"


@pytest.mark.parametrize(("text", "mm"), [("0,125 in", 3.175), ("0,625 in", 15.875), ("0,5 cm", 5.0)])
def test_a_nought_before_a_comma_leaves_one_way_to_read_it(text, mm):
    assert parse_length(text).mm == pytest.approx(mm)
