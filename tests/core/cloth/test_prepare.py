"""Preparation by fibre and care, shrinkage of a square, and finding a cloth by need. Common practice, no source."""

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.prepare import preparation, washable
from rowanseed.core.cloth.stash import read_wish, suits
from rowanseed.core.errors import ReckonError
from rowanseed.core.lengths import parse_length
from rowanseed.core.reckon.shrinkage import MarkedSquare, shrinkage


def cloth(**facts):
    return Cloth("x", parse_length(facts.pop("width", "140 cm")), parse_length("1 cm"), **facts)


def tasks(c):
    return [t.key for t in preparation(c)]


@pytest.mark.parametrize(
    ("c", "has", "has_not"),
    [
        (cloth(fibre="wool"), {"square", "spot", "steam", "straighten"}, {"wash", "soak"}),
        (cloth(fibre="wool", care="hand wash"), {"wash"}, {"steam"}),
        (cloth(fibre="acetate", kind="lining"), {"soak"}, {"wash"}),
        (cloth(fibre="cotton", ravels=True), {"ends", "wash", "straighten", "press"}, {"steam"}),
        (cloth(fibre="cotton", piled=True), {"pile"}, {"press"}),
        (cloth(fibre="cotton", knit=True), {"wash"}, {"straighten"}),
        (cloth(kind="interfacing", fibre="polyester"), {"dip", "fuse-test"}, {"wash", "square"}),
    ],
)
def test_what_is_done_follows_fibre_and_care(c, has, has_not):
    assert has <= set(tasks(c)) and not has_not & set(tasks(c))


def test_the_square_is_marked_before_anything_shrinks_and_silk_is_never_torn():
    for fibre in ("wool", "linen", "silk", "viscose", "polyester", "cotton"):
        keys = tasks(cloth(fibre=fibre, care="wash"))
        assert keys.index("square") < keys.index("wash") < keys.index("straighten")
    straighten = next(t for t in preparation(cloth(fibre="silk")) if t.key == "straighten")
    assert "do not tear" in straighten.how
    assert washable(cloth(fibre="linen")) and not washable(cloth(fibre="linen", care="dry clean"))
    assert all(t.why and t.how for t in preparation(cloth(fibre="wool")))
    assert any("Hot iron" in t.caution for t in preparation(cloth(fibre="wool")))


def test_shrinkage_along_and_across_and_what_cannot_be():
    assert shrinkage(MarkedSquare(250, 250, 242.5, 247.5)) == (0.03, 0.01)
    assert shrinkage(MarkedSquare(250, 250, 251, 250)) == (0.0, 0.0)
    with pytest.raises(ReckonError, match="Measure again"):
        shrinkage(MarkedSquare(250, 250, 25, 250))
    with pytest.raises(ReckonError, match="all four"):
        shrinkage(MarkedSquare(250, 0, 250, 250))


def test_a_cloth_is_found_by_what_is_needed_of_it():
    wish = read_wish("at least 1.6 m, 140 wide, opaque, slides", "cm")
    good = cloth(length=parse_length("2 m"), slippery=True)
    assert suits(good, wish, "", "cm").lacks == ()
    short = cloth(length=parse_length("1.2 m"), width="112 cm", opaque=False)
    assert suits(short, wish, "", "cm").lacks == (
        "40 cm (15 3/4 in) too short",
        "28 cm (11 in) too narrow",
        "is not opaque",
        "does not slide",
    )
    another = cloth(length=parse_length("1 m"), others=(parse_length("1.7 m"),), slippery=True)
    assert suits(another, wish, "", "cm").lacks == ()
    assert suits(good, read_wish("free, wool", "cm", ("wool",)), "Coat", "cm").lacks == (
        "is not of wool",
        "is kept for Coat",
    )
    assert read_wish('2 1/2 yd, 45" wide', "in").length_mm == pytest.approx(2286)
    with pytest.raises(ReckonError, match="not understood"):
        read_wish("1 m, sparkly", "cm")
