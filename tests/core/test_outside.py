"""Held against what others publish: size designation, stitch types, washing, needles; values from memory of the standard named."""

import re

import pytest

from rowanseed.core.fit.advice import size_advice
from rowanseed.core.fit.chart_comparison import AdviceRequest
from rowanseed.core.fit.scale import SizeRow
from rowanseed.core.lengths import format_length
from rowanseed.core.reckon.shrinkage import MarkedSquare, shrinkage
from rowanseed.core.reckon.thread import RATIOS, lockstitch_ratio
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.settings import needle_for

# EN 13402-3, letter codes for women by bust girth, cm, from memory: each runs from here to where the next begins.
LETTERS = (("XXS", 66), ("XS", 74), ("S", 82), ("M", 90), ("L", 98), ("XL", 107), ("XXL", 119), ("3XL", 131))


@pytest.mark.parametrize("bust_cm", range(67, 131, 3))
def test_letter_codes_are_chosen_as_the_size_designation_says(bust_cm):
    rows = tuple(
        SizeRow(name, {"bust": low * 10.0}, {"bust": high * 10.0 - 0.1})
        for (name, low), (_, high) in zip(LETTERS, LETTERS[1:], strict=False)
    )
    expected = max((low, name) for name, low in LETTERS if low <= bust_cm)[1]
    assert size_advice(AdviceRequest({"bust": bust_cm * 10.0}, rows)).size == expected


def test_body_measurements_are_named_as_the_standard_defines_them():
    """ISO 8559-1 defines these girths and lengths among others (from memory): each has its place in the set."""
    from rowanseed.core.body import BY_KEY

    wanted = (
        "bust",
        "waist",
        "hip",
        "back_waist",
        "height",
        "upper_arm",
        "arm_length",
        "wrist",
        "thigh",
        "inseam",
        "crotch_depth",
    )
    assert set(wanted) <= set(BY_KEY)
    assert all(re.search(r"[a-z]{4}", BY_KEY[key].label.lower()) for key in wanted)


def test_stitch_types_take_thread_in_the_order_of_their_construction():
    """ISO 4915 types 301, 401, 304, 504, 514 (from memory): more threads and wider stitches take more."""
    order = ("by-hand", "lockstitch", "chainstitch", "zigzag", "overlock-3", "overlock-4")
    assert [RATIOS[name] for name in order] == sorted(RATIOS[name] for name in order)
    # 301 by its geometry: two threads over 2.5 mm and through a seam of 0.5 to 1 mm
    assert lockstitch_ratio(2.5, 0.5) <= RATIOS["lockstitch"] <= lockstitch_ratio(2.5, 1.0)


def test_shrinkage_is_the_dimensional_change_with_its_sign_turned():
    """ISO 5077: change = 100 x (final - initial) / initial, so that shrinking is negative (from memory)."""
    for initial, final in ((250.0, 240.0), (250.0, 248.5), (350.0, 329.0)):
        change = 100 * (final - initial) / initial
        assert shrinkage(MarkedSquare(initial, initial, final, initial))[0] == pytest.approx(-change / 100, abs=1e-4)


# The metric number is the blade in hundredths of a millimetre; the second the older one beside it (from memory).
NEEDLES = {60: 8, 65: 9, 70: 10, 75: 11, 80: 12, 90: 14, 100: 16, 110: 18}


@pytest.mark.parametrize("weight", ["light", "medium", "heavy"])
@pytest.mark.parametrize(
    "facts", [{}, {"knit": True}, {"piled": True}, {"leather": True}, {"dense": True}, {"slippery": True}]
)
def test_every_needle_named_is_one_that_is_sold(weight, facts):
    size = needle_for(ClothTraits(weight, **facts)).split(" ")[0]
    metric, other = (int(part) for part in size.split("/"))
    assert NEEDLES[metric] == other


def test_lengths_round_as_decimal_and_fraction_libraries_do():
    """Against the standard library's own decimal and fractions, which share no code with ours."""
    from decimal import ROUND_CEILING, Decimal
    from fractions import Fraction

    for k in range(1, 400):
        mm = k * 0.73
        up = Decimal(str(mm / 10)).quantize(Decimal("0.1"), ROUND_CEILING)
        assert abs(Decimal(format_length(mm, "cm", up=True).split(" ")[0]) - up) < Decimal("0.001")
        said = format_length(mm, "in", 16).removesuffix(" in").split(" ")
        value = sum(Fraction(part) for part in said)
        assert value == Fraction(round(Fraction(mm) / Fraction("25.4") * 16), 16)


def test_seam_types_are_sewn_with_their_rows_of_stitching_and_in_their_order():
    """ISO 4916 (from memory): 1.01 superimposed, one row; 1.06.02, the French seam, two rows, the first inside the second;
    2.04, felled, lapped and sewn twice, its edges folded in; class 6, an edge turned and sewn, which a hem is."""
    from rowanseed.core.sew.model import SewnGarment
    from rowanseed.core.sew.order import sequence
    from rowanseed.formats.sewing import library

    def order(**features):
        made = SewnGarment({"closure": "none", "hem": "double", **features}, frozenset({"overlocker"}), {})
        return [step.operation.id for step in sequence(library(), made, lambda op: {})]

    plain, french, felled = (order(**{"seam-finish": finish}) for finish in ("pinked", "french", "flat-felled"))
    assert "sew-side-seams" in plain and not {"french-side-seams", "fell-side-seams"} & set(plain)
    rows = ("sew-side-seams", "trim-french-side-seams", "french-side-seams")
    assert [step for step in french if step in rows] == list(rows)
    assert felled.index("sew-side-seams") < felled.index("fell-side-seams") < felled.index("sew-hem")
    assert all("sew-hem" in steps for steps in (plain, french, felled))
