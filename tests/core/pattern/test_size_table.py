"""Size tables as people paste them. The tables are invented; their forms are those of envelopes (common practice, no source)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowanseed.core.pattern.size_table import read_size_table


def girths(text, unit="cm", kind="body"):
    read = read_size_table(text, unit)
    assert read.problems == []
    return {s.size: {k: round(v.mm, 2) for k, v in getattr(s, kind).items()} for s in read.sizes}


THREE = {
    "10": {"bust": 830.0, "waist": 640.0},
    "12": {"bust": 870.0, "waist": 670.0},
    "14": {"bust": 920.0, "waist": 710.0},
}


@pytest.mark.parametrize(
    "text",
    [
        "Size 10 12 14\nBust 83 87 92\nWaist 64 67 71",
        "SIZES: 10, 12, 14\nBust: 83, 87, 92\nWaist: 64, 67, 71 cm",
        "Size\t10\t12\t14\nBust (cm)\t83\t87\t92\nWaist (cm)\t64\t67\t71",
        "Size;10;12;14\nChest cm;83;87;92\nWaist cm;64;67;71",
        "size bust waist\n10 83 64\n12 87 67\n14 92 71",
        "Size | Bust | Waist\n10 | 83 | 64\n12 | 87 | 67\n14 | 92 | 71",
        "10 12 14\nbust girth 83 87 92\nwaist 64 67 71",
        "Bust (finished) 95 99 104\nSize 10 12 14\nBust 83 87 92\nWaist 64 67 71".partition("\n")[2],
        "Size 10 12 14\nBust in 32 1/2 34 36\nBust cm 83 87 92\nWaist cm 64 67 71",
    ],
)
def test_the_same_table_in_many_forms(text):
    assert girths(text) == THREE


def test_inches_with_fractions_ranges_and_letters():
    text = 'Sizes XS S M\nBust 31-32 33 – 34 35 to 36\nHip 33 1/2 35 37½"'
    read = read_size_table(text, "cm")
    assert read.problems == [] and [s.size for s in read.sizes] == ["XS", "S", "M"]
    assert [(s.body["bust"].mm, s.upto["bust"].mm) for s in read.sizes] == [
        (pytest.approx(a * 25.4), pytest.approx(b * 25.4)) for a, b in ((31, 32), (33, 34), (35, 36))
    ]
    assert [s.body["hip"].mm for s in read.sizes] == [pytest.approx(25.4 * x) for x in (33.5, 35, 37.5)]
    assert "bust 31 in to 32 in" in read.echo()


def test_finished_measures_stand_apart():
    assert girths("Size 8 10\nBust 80 84\nFinished bust 92 96", kind="finished") == {
        "8": {"bust": 920.0},
        "10": {"bust": 960.0},
    }


@pytest.mark.parametrize(
    ("text", "unit", "words"),
    [
        ("Size 10 12 14\nBust 83 87", "cm", "2 figures for 3 sizes"),
        ("Size 10 12\nBust 32 34", "cm", "in inches"),
        ("Size 10 12\nBust 83 87", "in", "in centimetres"),
        ("Size 10 12\nBust 87 83", "cm", "smallest size first"),
        ("Size 10 10\nBust 83 87", "cm", "same name"),
        ("A lovely dress", "cm", "begins with size"),
        ("Bust 83 87", "cm", "No sizes"),
        ("size bust waist\n10 83\n12 87 67", "cm", "1 figures for 2 columns"),
    ],
)
def test_what_is_not_understood_is_asked(text, unit, words):
    assert words in " ".join(read_size_table(text, unit).problems)


@given(
    st.lists(st.integers(60, 140), min_size=1, max_size=9, unique=True),
    st.sampled_from(["\t", " ; ", "  ", ", ", " | "]),
)
def test_any_rising_row_comes_back(figures, sign):
    rising = sorted(figures)
    names = [str(30 + 2 * k) for k in range(len(rising))]
    text = sign.join(["Size", *names]) + "\n" + sign.join(["Hip", *map(str, rising)])
    assert girths(text) == {n: {"hip": 10.0 * f} for n, f in zip(names, rising, strict=True)}


@given(st.text(max_size=200))
def test_no_text_is_too_odd_to_be_answered(text):
    read = read_size_table(text, "cm")
    assert read.sizes == () or all(s.size for s in read.sizes)
