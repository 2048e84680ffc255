"""Each line where it costs least: sums by hand."""

import random
from decimal import Decimal

from rowanseed.core.cloth.shops import Price, Shop
from rowanseed.core.shop_round import ANYWHERE, shop_round
from rowanseed.core.shopping import Supply, Wanted, shopping_list


def price(what, amount, per="m", name=""):
    return Price(what, name, Decimal(amount), per)


WANTED = [
    Wanted("Shirt", "cloth", "Leaf", 1760.0, "1.80 m", "", "main", 1500.0),
    Wanted("Shirt", "zip", "20 cm", 1, "1", ""),
    Wanted("Shirt", "buttons", "15 mm", 7, "7", ""),
]


def test_a_dearer_metre_cut_more_finely_can_cost_less():
    coarse = Shop("Ell", "€", "1 m", (price("main", "10"), price("zip", "3", "each")))
    fine = Shop("Yarn", "€", "10 cm", (price("main", "11"), price("zip", "4", "each")))
    calls = shop_round(WANTED, [], "cm", [coarse, fine])
    assert [(c.name, [line.what for line in c.lines]) for c in calls] == [
        ("Ell", ["Zip, 20 cm"]), ("Yarn", ["Leaf"]), (ANYWHERE, ["Buttons, 15 mm"])
    ]  # fmt: skip
    assert calls[1].lines[0].text == "1.80 m" and calls[1].to_pay({}) == Decimal("19.80")  # 2 m at 10 would be 20
    assert calls[1].to_pay({calls[1].lines[0].key: None}) == 0


def test_what_the_stash_holds_is_bought_nowhere_and_currencies_are_not_compared():
    pounds = Shop("Ell", "£", "10 cm", (price("main", "10"),))
    euros = Shop("Yarn", "€", "10 cm", (price("main", "1"), price("buttons", "1", "each")))
    calls = shop_round(WANTED, [Supply("buttons", "15 mm", 9)], "cm", [pounds, euros])
    assert [(c.name, [line.what for line in c.lines]) for c in calls] == [
        ("Ell", ["Leaf"]), (ANYWHERE, ["Buttons, 15 mm", "Zip, 20 cm"])
    ]  # fmt: skip


def test_every_line_is_in_one_call_and_nowhere_cheaper():
    rng = random.Random(5)
    for _ in range(60):
        kinds = ("main", "zip", "buttons")
        shops = [
            Shop(f"S{k}", "€", rng.choice(["10 cm", "50 cm", "1 m"]), tuple(
                price(kind, str(rng.randint(1, 20)), "m" if kind == "main" else "each") for kind in kinds if rng.random() < 0.7
            ))
            for k in range(rng.randint(0, 4))
        ]  # fmt: skip
        calls = shop_round(WANTED, [], "cm", shops)
        keys = [line.key for call in calls for line in call.lines]
        assert sorted(keys) == sorted(line.key for line in shopping_list(WANTED, [], "cm"))
        for call in calls:
            for line in call.lines:
                asked = [
                    found.money
                    for shop in shops
                    for found in shopping_list(WANTED, [], "cm", shop)
                    if found.key == line.key
                ]
                known = [money for money in asked if money is not None]
                assert (line.money == min(known)) if known else line.money is None
