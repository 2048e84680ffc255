"""Length to buy: worked by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowanseed.core.errors import LayError
from rowanseed.core.reckon.buying import STEP_MM, Shrinkage, length_to_buy


def test_lay_and_straightening_over_what_shrinkage_leaves_up_to_the_step():
    # (2000 + 50.8) / 0.97 = 2114.2 mm: 2.2 m, or 18.5 eighths of a yard, so 19: 2 3/8 yd.
    assert length_to_buy(2000, 0.03, 50.8, "10 cm").text == "2.20 m"
    assert length_to_buy(2000, 0.03, 50.8, "1/8 yd").text == "2 3/8 yd"


def test_a_length_that_is_a_whole_number_of_steps_is_bought_as_it_is():
    assert length_to_buy(1500, 0.0, 0.0, "10 cm").mm == pytest.approx(1500)
    assert length_to_buy(914.4, 0.0, 0.0, "1/8 yd").text == "1 yd"


@given(st.floats(1, 9000), st.floats(0, 0.2), st.floats(0, 200), st.sampled_from(sorted(STEP_MM)))
def test_what_is_bought_is_enough_after_straightening_and_washing_and_less_than_a_step_more(lay, shrink, loss, step):
    buy = length_to_buy(lay, shrink, loss, step)
    left = buy.mm * (1 - shrink) - loss
    assert left >= lay - 1e-3
    assert (buy.mm - STEP_MM[step]) * (1 - shrink) - loss < lay + 1e-3


@pytest.mark.parametrize("share", [-0.01, 0.5, 3.0])
def test_shrinkage_out_of_reach_is_refused(share):
    with pytest.raises(LayError):
        Shrinkage(along=share)
    with pytest.raises(LayError):
        Shrinkage(across=share)
