"""The shopping list and the shops' steps, worked by hand."""

from decimal import Decimal

import pytest

from rowanseed.core.cloth.shops import Price, Shop, cost, cut_length, price_of, read_price, say_cut
from rowanseed.core.errors import ReckonError
from rowanseed.core.notions import MATCHING_THREAD, Notion
from rowanseed.core.shopping import Supply, Wanted, from_notion, shopping_list, total

SHOP = Shop("Ell", "€", "25 cm", (
    Price("main", "", Decimal("10"), "m"), Price("main", "", Decimal("12"), "m", 1500.0),
    Price("main", "Leaf", Decimal("9"), "m"), Price("zip", "", Decimal("3"), "each"),
))  # fmt: skip


def zip_for(make):
    return Wanted(make, "zip", "invisible, 20 cm", 1, "1 of 20 cm", "from waist to hip")


def test_a_shop_cuts_up_to_its_step_and_asks_its_most_particular_price():
    assert cut_length(1760, SHOP) == 2000 and say_cut(2000, SHOP) == "2.00 m"
    assert cut_length(914.4, Shop("x", step="1/8 yd")) == pytest.approx(914.4)
    assert price_of(SHOP, "main", "Leaf", 1500).price == 9
    assert price_of(SHOP, "main", "Bark", 1480).price == 12
    assert price_of(SHOP, "main", "Bark", 1120).price == 10
    assert price_of(SHOP, "lining", "") is None
    assert cost(Price("main", "", Decimal("16"), "yd"), 914.4 * 1.25) == Decimal("20.00")
    assert read_price("12,50") == Decimal("12.50")
    for bad in ("", "dear", "-3", "NaN"):
        with pytest.raises(ReckonError):
            read_price(bad)


def test_alike_notions_of_several_makes_are_one_line_and_the_stash_is_taken_off_once():
    stash = [Supply("zip", "invisible, 20 cm", 1)]
    (line,) = shopping_list([zip_for("Skirt"), zip_for("Dress")], stash, "cm", SHOP)
    assert line.makes == ("Skirt", "Dress") and line.text == "1" and line.covered == "1 in the stash"
    assert line.money == Decimal("3.00")
    (covered,) = shopping_list([zip_for("Skirt")], stash, "cm")
    assert not covered.needed and covered.covered == "in the stash"


def test_needles_are_bought_once_and_lines_stand_in_shop_order():
    needle = [Wanted(m, "needles", "universal 80/12", 1, "1 packet", "") for m in ("A", "B")]
    cloth = Wanted("A", "cloth", "Leaf", 1760.0, "1.80 m", "the lay", "main", 1500.0)
    lines = shopping_list([*needle, zip_for("A"), cloth], [], "cm", SHOP)
    assert [line.aisle for line in lines] == ["Cloth", "Fastenings", "Machine"]
    assert lines[0].text == "2.00 m" and lines[0].price == "€ 18.00"
    assert lines[2].optional and lines[2].makes == ("A", "B") and lines[2].text == "1"
    assert total(lines, {}) == Decimal("21.00") and total(lines, {lines[0].key: 1}) == Decimal("3.00")


def test_thread_is_bought_for_each_cloth_and_overlocker_thread_once():
    """Common practice, no source: sewing thread matches its cloth, overlocker cones serve several."""
    reel = Notion("thread", MATCHING_THREAD, 40_000.0, "1 reel of 100 m", "")
    cone = Notion("overlock-thread", "three cones", 90_000.0, "90 m on three cones", "")
    asked = [
        from_notion(make, n, cloth) for make, cloth in (("A", "Red"), ("B", "Red"), ("C", "Blue")) for n in (reel, cone)
    ]
    lines = shopping_list(asked, [Supply("thread", "to match red", 100_000.0)], "cm")
    assert sorted((line.what, len(line.makes)) for line in lines if "three" in line.what) == [
        ("Overlocker thread, three cones", 3)
    ]
    red, blue = (next(line for line in lines if cloth in line.what) for cloth in ("Red", "Blue"))
    assert red.makes == ("A", "B") and blue.makes == ("C",)


def test_thread_is_paid_by_the_reel_and_not_by_the_millimetre():
    shop = Shop("Ell", prices=(Price("thread", "", Decimal("3.20"), "each"), Price("elastic", "", Decimal("2"), "m")))
    thread = Wanted("A", "thread", "to match", 108_000.0, "2 reels of 100 m", "")
    elastic = Wanted("A", "elastic", "for the waist", 750.0, "75 cm", "")
    lines = shopping_list([thread, elastic], [], "cm", shop)
    assert [line.money for line in lines] == [Decimal("6.40"), Decimal("1.50")]


def test_two_makes_of_one_cloth_add_up_and_are_rounded_once_at_the_shop():
    lines = [Wanted(m, "cloth", "Leaf", 1130.0, "1.20 m", "the lay", "main", 1500.0) for m in ("Shirt", "Skirt")]
    (household,) = shopping_list(lines, [], "cm")
    # 1.13 and 1.13 are 2.26 m: up to 2.30, not 1.20 twice
    assert household.text == "2.30 m" and household.makes == ("Shirt", "Skirt")
    (shop,) = shopping_list(lines, [], "cm", SHOP)
    assert shop.text == "2.50 m"  # steps of 25 cm


def test_a_reel_is_told_in_metres_or_yards_and_a_short_length_as_it_is_measured():
    reel, elastic, buttons = (
        Supply(k, "x", n, "") for k, n in (("thread", 100_000.0), ("elastic", 1500.0), ("buttons", 9))
    )
    assert reel.says("cm") == "100 m" and reel.says("in") == "109 3/8 yd"
    assert elastic.says("cm") == "150 cm (59 in)" and buttons.says("cm") == "9"
