"""Fibres by name, blends by their most delicate part; iron heat by ISO 3758:2012 (from memory), the rest common practice."""

import pytest

from rowanseed.core.cloth.fibres import SOLE_C, care_of, parts_of
from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.prepare import preparation
from rowanseed.core.cloth.stash import read_wish
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.sewing import cloth_traits
from rowanseed.core.pattern.derive.layers import interfacing
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.settings import needle_for


def cloth(**more):
    return Cloth(more.pop("name", "x"), parse_length("1.4 m"), parse_length("1 cm"), **more)


def how(key, **more):
    return next((t.how for t in preparation(cloth(**more)) if t.key == key), "")


@pytest.mark.parametrize(
    ("words", "name"),
    [
        ("cotton flannel", "cotton"), ("wool flannel", "wool"), ("merino jersey", "wool"), ("bamboo", "viscose"),
        ("bamboo viscose", "viscose"), ("Harris tweed", "wool"), ("denim", "cotton"), ("linen and cotton", "linen"),
    ],
)  # fmt: skip
def test_a_fibre_is_read_from_its_name_and_a_construction_only_where_nothing_else_says_it(words, name):
    assert parts_of(words)[0].fibre.name == name


SHARES = {"cotton": 0.95, "elastane": 0.05}


@pytest.mark.parametrize(
    "words",
    [
        "95% cotton, 5% elastane", "cotton 95% elastane 5%", "cotton 95 %, elastane 5 %", "95% cotton 5% elastane",
        "elastane 5% cotton 95%", "95 percent cotton 5 per cent elastane", "cotton (95%) and elastane (5%)",
    ],
)  # fmt: skip
def test_a_share_belongs_to_its_fibre_from_whichever_side_it_is_written(words):
    assert {p.fibre.name: p.share for p in parts_of(words)} == SHARES
    assert care_of(words).washing == "hot"  # washed as the cotton that it mostly is


def test_shares_in_words_and_blends_by_their_trade_names():
    assert {p.fibre.name: p.share for p in parts_of("half linen, half cotton")} == {"linen": 0.5, "cotton": 0.5}
    assert {p.fibre.name for p in parts_of("65/35 polycotton")} == {"cotton", "polyester"}
    assert [p.fibre.name for p in parts_of("poly blend")] == ["polyester"]
    assert [p.fibre.name for p in parts_of("polyamide")] == ["nylon"]


@pytest.mark.parametrize("words", ["", "red stuff from the market", "deadstock", "polycotton", "poly blend", "tulle"])
def test_what_is_not_known_or_may_melt_never_gets_cottons_heat(words):
    # Common practice, no source: the coolest iron and a scrap first where the fibre is not known.
    care = care_of(words)
    assert care.heat == "low" and care.washing in ("cool", "warm") and not care.tears and "scrap" in care.iron_words()


def test_blends_are_treated_by_their_most_delicate_part():
    blend = care_of("60 % cotton, 40 % silk")
    assert (blend.delicate.name, blend.washing, blend.heat) == ("silk", "hand", "low")
    little = care_of("95 % cotton, 5 % elastane")
    # a little elastane asks for less heat; the cotton shrinks all the same, and is washed as cotton
    assert (little.washing, little.heat) == ("hot", "low") and "first wash" in little.shrinks


def test_merino_and_bamboo_are_not_washed_hot_and_acetate_that_is_dry_cleaned_is_not_soaked():
    assert "no spin" in how("wash", fibre="merino", care="hand wash") and "cool" in how("wash", fibre="bamboo")
    assert not how("soak", fibre="acetate", kind="lining", care="dry clean only")
    assert how("soak", fibre="acetate", kind="lining") and "hot as" in how("wash", fibre="cotton flannel")


def test_linen_is_straightened_by_a_pulled_thread_or_torn_and_cotton_torn():
    linen = how("straighten", fibre="linen")
    assert (
        linen.startswith("Pull one thread") and "Others snip the selvage and tear" in linen
    )  # both schools, the first usual
    assert "do not tear" in how("straighten", fibre="silk") and "tear across" in how("straighten", fibre="cotton")


def test_iron_heat_is_that_of_the_care_symbols():
    """One dot 110, two 150, three 200 degrees of the sole plate: ISO 3758:2012, from memory."""
    assert SOLE_C == {"low": 110, "medium": 150, "high": 200}
    heats = {f: care_of(f).heat for f in ("cotton", "linen", "wool", "silk", "polyester", "nylon", "acetate")}
    assert heats == {
        "cotton": "high", "linen": "high", "wool": "medium", "silk": "low", "polyester": "low", "nylon": "low", "acetate": "low",
    }  # fmt: skip
    assert (
        "press cloth" in cloth_traits(cloth(fibre="wool")).iron and "medium" in cloth_traits(cloth(fibre="wool")).iron
    )


@pytest.mark.parametrize(
    ("traits", "kind", "needle"),
    [
        (ClothTraits(knit=True, stretch=0.6), "", "80/12 stretch"), (ClothTraits(knit=True), "", "80/12 ballpoint"),
        (ClothTraits("heavy", dense=True), "", "90/14 jeans"), (ClothTraits("heavy"), "", "90/14 universal"),
        (ClothTraits("medium", leather=True), "", "90/14 leather"),
        (ClothTraits("heavy", dense=True), "topstitch", "100/16 topstitch"),
        (ClothTraits(knit=True), "twin", "twin 4.0/75 stretch"), (ClothTraits("heavy", fur=True), "", "100/16 universal"),
    ],
)  # fmt: skip
def test_the_needle_suits_the_cloth_and_what_is_sewn(traits, kind, needle):
    assert needle_for(traits, kind) == needle


def test_interfacing_without_its_outer_allowance_keeps_that_of_the_neck():
    shape = PieceShape(
        ((0, 0), (0, 100), (300, 100), (300, 0)),
        edges={"neck": (0, 1), "outer": (1, 2), "front": (2, 3)},
        allowance_mm=15.0,
    )
    assert set(interfacing(shape, "none").outline) == {(15, 15), (15, 85), (285, 85), (285, 15)}
    assert set(interfacing(shape, "outer-off").outline) == {(0, 15), (0, 85), (285, 85), (285, 15)}
    assert interfacing(shape, "all") is shape


@pytest.mark.parametrize(
    ("wish", "mm", "width"),
    [
        ("1,5 m", 1500, 0),
        ("at least 1,5 m, 140 wide", 1500, 1400),
        ("2.5 m,140 wide", 2500, 1400),
        ("1,6 m; 150 wide", 1600, 1500),
    ],
)
def test_a_comma_between_figures_is_a_decimal_one(wish, mm, width):
    read = read_wish(wish, "cm")
    assert (read.length_mm, read.width_mm) == (mm, width)
