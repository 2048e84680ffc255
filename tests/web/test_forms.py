"""Reading forms: what was typed is kept, a bare number takes the household's unit, errors go to their field."""

import pytest

from rowanseed.web.forms import Form, whole_number


def test_a_length_is_kept_as_typed_with_its_echo():
    form = Form({"width": " 58 in "})
    assert form.length("width").text == "58 in" and form.echoes["width"] == "58 in = 147.3 cm"


@pytest.mark.parametrize(("unit", "mm", "text"), [("cm", 380, "38 cm"), ("in", 965.2, "38 in")])
def test_a_bare_number_takes_the_households_unit_and_says_so(unit, mm, text):
    length = Form({"bust": "38"}, unit).length("bust")
    assert length.mm == pytest.approx(mm) and length.text == text


@pytest.mark.parametrize(
    ("typed", "read", "field"),
    [
        ({"w": "wide"}, lambda f: f.length("w"), "w"),
        ({}, lambda f: f.length("w", "The width"), "w"),
        ({"w": "9 m"}, lambda f: f.length("w", most_mm=500), "w"),
        ({"n": " "}, lambda f: f.text("n", "A name"), "n"),
        ({"n": "x" * 99}, lambda f: f.text("n", most=50), "n"),
        ({"k": "guess"}, lambda f: f.choice("k", ("a", "b")), "k"),
        ({"p": "lots"}, lambda f: f.percent("p"), "p"),
        ({"p": "80"}, lambda f: f.percent("p"), "p"),
        ({"c": "0"}, lambda f: f.number("c", "How many", 1, 9), "c"),
        ({"c": "²"}, lambda f: f.number("c", "How many", 1, 9), "c"),
    ],
)
def test_what_cannot_be_read_is_an_error_at_its_field(typed, read, field):
    form = Form(typed)
    read(form)
    assert list(form.errors) == [field] and not form.sound


def test_empty_fields_that_may_be_empty_are_no_error():
    form = Form({"w": "", "p": ""})
    assert form.length("w") is None and form.percent("p") == 0 and form.text("n") == "" and form.sound


@pytest.mark.parametrize(
    ("text", "number"), [("12", 12), (" 7 ", 7), ("", None), ("-1", None), ("²", None), ("9" * 16, None), ("1.5", None)]
)
def test_a_whole_number_is_plain_digits(text, number):
    assert whole_number(text) == number
