"""What a cloth's name tells: which cloths lie one way and are knitted is common practice, no source."""

import pytest

from rowanseed.core.cloth.named import told_by_name


@pytest.mark.parametrize(
    "name", ["Bark corduroy", "rust VELVET", "Faux fur, long", "needlecord", "polar fleece", "Ivory satin"]
)
def test_pile_and_sheen_lie_one_way(name):
    assert told_by_name(name).one_way


@pytest.mark.parametrize(
    "name", ["Oat canvas", "Hedgerow check", "Further linen", "Furrow stripe", "Blue twill", "Velvety poplin"]
)
def test_words_that_only_look_alike_tell_nothing_of_a_nap(name):
    assert not told_by_name(name).one_way


def test_only_a_fibre_that_is_named_is_taken():
    assert told_by_name("Wool and silk suiting").fibre in ("wool and silk", "silk and wool")
    assert told_by_name("Corduroy").fibre == ""  # of cotton as a rule, and as often not
    assert told_by_name("Cotton jersey").knit == "jersey" and told_by_name("Cotton jersey").fibre == "cotton"
    assert told_by_name("Faux fur").fur and told_by_name("Hedgerow check").said() == ""
