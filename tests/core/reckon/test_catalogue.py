"""The bench calculators, against the trade's check values (common practice, no source)."""

import pytest

from rowanseed.core.errors import ReckonError
from rowanseed.core.reckon.catalogue import CALCULATORS, reckon

IN = 25.4
CHECK_VALUES = [
    (
        "double-hem",
        {"first_fold": "1/4 in", "second_fold": "1 in"},
        {"first_line_mm": 0.5 * IN, "second_line_mm": 2.25 * IN},
    ),
    ("single-hem", {"fold": "1 1/2 in"}, {"line_mm": 3 * IN}),
    ("double-hem", {"first_fold": "1/2 in", "second_fold": "1/2 in"}, {"takes_mm": 1 * IN}),
    ("french-seam", {"allowance": "5/8 in", "first_pass": "1/4 in"}, {"second_pass_mm": 0.375 * IN}),
    (
        "waistband",
        {"waist": "72 cm", "overlap": "3 cm", "allowance": "1.5 cm", "width": "4 cm"},
        {"length_mm": 780, "width_mm": 110},
    ),
    ("panel", {"finished": "60 cm", "top": "1.5 cm", "hem": "5 cm"}, {"length_mm": 665}),
    ("gathers", {"loose": "180 cm", "finished": "90 cm"}, {"ratio": 2.0, "quarter_loose_mm": 450}),
    ("buttonhole", {"diameter": "15 mm", "thickness": "3 mm"}, {"length_mm": 18}),
    ("buttons", {"top": 15, "bottom": 615, "count": 7, "per_card": 3}, {"spacing_mm": 100, "cards": 3}),
    ("buy", {"lay": 2000, "straighten": "2 in", "shrinkage": 3}, {"buy_mm": 2200, "buy_yards_mm": 19 * 114.3}),
    ("elastic", {"body": "80 cm", "share": "90", "join": "2.5 cm"}, {"length_mm": 745}),
]


@pytest.mark.parametrize(("name", "typed", "expected"), CHECK_VALUES)
def test_a_check_value(name, typed, expected):
    got = {r.key: r.value for r in reckon(name, typed)}
    assert {k: got[k] for k in expected} == pytest.approx(expected)


@pytest.mark.parametrize("name", CALCULATORS)
def test_every_example_works_and_says_its_source(name):
    calculator = CALCULATORS[name]
    results = reckon(name, {i.key: i.example for i in calculator.inputs})
    assert results and all(r.text for r in results) and calculator.source and calculator.reason


@pytest.mark.parametrize(
    ("name", "typed", "field"),
    [
        ("single-hem", {}, "fold"),
        ("single-hem", {"fold": "wide"}, "fold"),
        ("double-hem", {"first_fold": "2 in", "second_fold": "1 in"}, "first_fold"),
        ("french-seam", {"allowance": "1/4 in", "first_pass": "1/4 in"}, "first_pass"),
        ("gathers", {"loose": "50 cm", "finished": "90 cm"}, "loose"),
        ("gathers", {"loose": "50 cm", "finished": "0 cm"}, "finished"),
        ("buttons", {"top": 15, "bottom": 10, "count": 7, "per_card": 3}, "bottom"),
        ("buttons", {"top": 15, "bottom": 100, "count": "few", "per_card": 3}, "count"),
        ("elastic", {"body": "80 cm", "share": "900", "join": "2 cm"}, "share"),
        ("juggling", {}, "name"),
    ],
)
def test_figures_that_cannot_be_worked_with_name_their_field(name, typed, field):
    with pytest.raises(ReckonError) as caught:
        reckon(name, typed)
    assert caught.value.field == field
