"""Cloth: which prints forbid turning, and what is left to lay on."""

from dataclasses import replace

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lengths import parse_length
from rowanseed.core.prints import PRINT_KINDS, Print

# Tossed, plain and two-way prints may lie either way up; one-way prints, motifs, borders and uneven bars may not
# (common practice, no source).
EITHER_WAY = {"plain", "tossed", "two-way", "stripe", "plaid"}
CLOTH = Cloth(
    "C", parse_length("60 in"), parse_length("1/2 in"), parse_length("2 yd"), shrink_along=0.05, shrink_across=0.02
)


@pytest.mark.parametrize("kind", PRINT_KINDS)
def test_a_print_allows_turning_or_not(kind):
    assert Print(kind).one_way == (kind not in EITHER_WAY)
    assert Print(kind, even=False).one_way == (kind not in EITHER_WAY or kind in ("stripe", "plaid"))


def test_cloth_still_to_be_washed_is_laid_on_what_washing_leaves():
    lay = CLOTH.for_lay()
    assert (lay.width_mm, lay.length_mm) == pytest.approx((60 * 25.4 * 0.98, 2 * 914.4 * 0.95))
    assert lay.selvage_mm == pytest.approx((12.7 * 0.98, 12.7 * 0.98))


def test_prepared_cloth_is_as_it_measures():
    lay = replace(CLOTH, prepared=True).for_lay()
    assert (lay.width_mm, lay.length_mm) == pytest.approx((60 * 25.4, 2 * 914.4))


def test_a_length_to_be_bought_is_no_limit():
    assert CLOTH.for_lay(length_in_hand=False).length_mm is None
    assert replace(CLOTH, length=None).for_lay().length_mm is None


@pytest.mark.parametrize(
    ("nap", "kind", "one_way"), [("one-way", "plain", True), ("none", "one-way", True), ("none", "tossed", False)]
)
def test_nap_or_print_makes_a_cloth_one_way(nap, kind, one_way):
    assert replace(CLOTH, nap=nap, print=Print(kind)).for_lay().one_way is one_way
