"""The lengths on an envelope as people type and paste them: what is meant by each line is common practice, no source."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowanseed.core.pattern.printed_text import read_printed

SIZES = ("10", "12", "14", "16", "18", "20")
LETTERS = ("XS", "S", "M", "L", "XL")


def read(text, sizes=SIZES, views=("A", "B"), unit="cm"):
    return read_printed(text, views, sizes, unit)


def rows(text, **more):
    found = read(text, **more)
    assert not found.problems, found.problems
    return [(p.view, p.sizes, round(p.width.mm, 1), round(p.length.mm, 1), p.one_way) for p in found.printed]


@pytest.mark.parametrize(
    ("text", "sizes"),
    [
        ("A; 12, 14; 115 cm; 2.10 m", ("12", "14")),
        ("A; 14-18; 115 cm; 2.10 m", ("14", "16", "18")),
        ("A; 14–18; 115 cm; 2.10 m", ("14", "16", "18")),
        ("A; sizes 14 to 18; 115 cm; 2.10 m", ("14", "16", "18")),
        ("A; all; 115 cm; 2.10 m", SIZES),
        ("A; all sizes; 115 cm; 2.10 m", SIZES),
        ("A; 10/12; 115 cm; 2.10 m", ("10", "12")),
        ("A; 10 12 14; 115 cm; 2.10 m", ("10", "12", "14")),
        ("A; 10-12, 18; 115 cm; 2.10 m", ("10", "12", "18")),
        ("A, 12, 115 cm, 2.10 m", ("12",)),
        ("A, 12, 14, 115 cm, 2,10 m", ("12", "14")),
        ("view A\t12\t115 cm\t210 cm", ("12",)),
        ("A | 12-14 | 115 | 2.1 m", ("12", "14")),
    ],
)
def test_sizes_are_read_however_they_are_written(text, sizes):
    assert rows(text) == [("A", sizes, 1150.0, 2100.0, False)]


def test_letter_sizes_and_inches():
    assert rows("A; S/M; 45 in; 2 1/4 yd", sizes=LETTERS)[0][1:4] == (("S", "M"), 1143.0, 2057.4)
    assert rows('B, xs-m, 60", 1 5/8 yards', sizes=LETTERS)[0][:4] == ("B", ("XS", "S", "M"), 1524.0, 1485.9)
    assert rows("A; one size; 45 in; 2 yd", sizes=("one size",))[0][1] == ("one size",)


def test_nap_is_read_and_what_serves_both_ways_is_no_nap():
    said = {
        "with nap": True,
        "nap": True,
        "one way": True,
        "without nap": False,
        "with or without nap": False,
        "no nap": False,
    }
    for words, one_way in said.items():
        assert rows(f"A; 12; 115 cm; 2 m; {words}")[0][4] is one_way, words


def test_a_table_is_pasted_with_its_widths_on_top():
    text = "View\tSizes\t115 cm\t150 cm\nA\t10-14\t2.10 m\t1.60 m\n\t16-20\t2.30 m\t1.70 m\nB\tall\t2.90 m\t2.40 m"
    found = rows(text)
    assert len(found) == 6 and found[0] == ("A", ("10", "12", "14"), 1150.0, 2100.0, False)
    assert found[3] == (
        "A",
        ("16", "18", "20"),
        1500.0,
        1700.0,
        False,
    )  # a row without a view goes on with the one above
    assert found[5] == ("B", SIZES, 1500.0, 2400.0, False)


def test_a_line_without_a_view_is_for_all_of_them_and_one_may_name_several():
    assert [r[0] for r in rows("12; 115 cm; 2 m")] == ["A", "B"]
    assert (
        [r[0] for r in rows("A and B; 12; 115 cm; 2 m")]
        == ["A", "B"]
        == [r[0] for r in rows("Views A/B; 12; 115 cm; 2 m")]
    )


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("A; 12, 22; 115 cm; 2 m", "no size 22; it has 10, 12, 14, 16, 18, 20"),
        ("A; 22; 115 cm; 2 m", "no size 22"),
        ("A; 14-24; 115 cm; 2 m", "no size 24"),
        ("C; 12; 115 cm; 2 m", "“C” is no view, no size and no length"),
        ("A; 115 cm; 2 m", "for which sizes"),
        ("A; 12", "how wide is the cloth"),
        ("A; 12; 115 cm", "a width and a length"),
        ("A; 12; 2 m; 115 m", "Check the unit"),
        ("A; 12; 20 m; 2 m", "is not sold"),
        ("A; 12; wide; 2 m", "“wide” is no view"),
    ],
)
def test_what_is_not_understood_is_asked_about_and_nothing_of_it_is_kept(text, says):
    found = read(text)
    assert found.printed == [] and says in found.problems[0] and text[:1] in found.problems[0]


def test_one_bad_line_leaves_the_others_and_what_is_understood_is_said():
    found = read("A; 12; 115 cm; 2.10 m; with nap\nA; 99; 115 cm; 2 m")
    assert len(found.printed) == 1 and len(found.problems) == 1
    assert found.echo("cm") == "view A, size 12, 115 cm (45 1/4 in) wide: 210 cm (82 5/8 in), with nap"


@given(st.text(alphabet='AB12;,\t-/ cmin."½x\n', max_size=60))
def test_anything_is_read_or_asked_about(text):
    found = read(text)
    for printed in found.printed:
        assert printed.view in ("A", "B") and set(printed.sizes) <= set(SIZES) and printed.length.mm > 0
