"""What was bought against what the list asks for: sums by hand."""

from rowanseed.core.bought import Bought, changes, short_of
from rowanseed.core.lengths import parse_length
from rowanseed.core.shopping import Wanted, shopping_list


def _line(*needs):
    wanted = [
        Wanted(make, "cloth", "Leaf", mm, "", "the lay", "main", 1400.0, make_id=k)
        for k, (make, mm) in enumerate(needs, 1)
    ]
    return shopping_list(wanted, [], "cm")[0]


def test_less_than_was_asked_goes_as_far_as_it_goes_and_the_rest_is_told():
    line = _line(("Shirt", 1130.0), ("Skirt", 900.0))
    found = changes(Bought(parse_length("1.5 m")), line, "cm")
    assert [(c.make, c.make_id, round(c.short_mm)) for c in found] == [("Shirt", 1, 0), ("Skirt", 2, 530)]
    assert "37 cm" in found[0].text and "53 cm" in found[1].text and short_of(found)


def test_as_much_as_is_needed_is_enough_though_it_is_less_than_the_shop_s_step():
    line = _line(("Shirt", 1130.0))
    found = changes(Bought(parse_length("1.15 m")), line, "cm")
    assert not short_of(found) and "2 cm" in found[0].text


def test_another_width_says_nothing_of_the_length():
    line = _line(("Shirt", 1130.0))
    for width, word in (("115 cm", "narrower"), ("160 cm", "wider")):
        (told,) = changes(Bought(parse_length("2 m"), parse_length(width)), line, "cm")
        assert word in told.text and told.short_mm == 0.0 and "anew" in told.text
    (told,) = changes(Bought(parse_length("2 m"), parse_length("55 in")), line, "cm")
    assert "to spare" in told.text  # 139.7 cm is the same width


def test_what_is_no_cloth_changes_no_make():
    (line,) = shopping_list([Wanted("Shirt", "zip", "invisible, 20 cm", 1, "1", "")], [], "cm")
    assert changes(Bought(what="a lapped one"), line, "cm") == []
    assert Bought(parse_length("1 yd"), what="green twill", price="12").said("in") == "green twill, 36 in (91.4 cm), 12"
