"""What a garment is described with and nothing in it takes is said, and only that. Common practice, no source."""

import pytest

from rowanseed.core.sew.effect import without_effect
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.model import SewnGarment
from tests.core.sew.test_library import LIBRARY
from tests.core.sew.test_practice import COAT, DRESS, FLY, JACKET, SHEATH, SHIRT, SKIRT


@pytest.mark.parametrize(
    ("features", "word"),
    [
        ({"neck": "facing", "armhole": "binding", "sleeve-vent": "placket"}, "Sleeve opening"),
        (SKIRT | {"shoulder-pads": "sewn"}, ""),  # pads make it a garment with a body, which has its own sentence
        (SKIRT | {"trouser-crease": "pressed"}, "Creases"),
        (DRESS | {"band-closure": "button"}, "button"),
        ({"neck": "binding", "armhole": "binding", "gathers": "waist"}, "gathered into the waist"),
    ],
)
def test_what_nothing_takes_is_said(features, word):
    found = without_effect(LIBRARY, SewnGarment(features))
    assert [words for words in found if word in words] == list(found) and bool(found) == bool(word)


@pytest.mark.parametrize("features", [COAT, DRESS, FLY, JACKET, SHEATH, SHIRT, SKIRT])
def test_of_garments_that_take_all_nothing_is_said(features):
    assert without_effect(LIBRARY, SewnGarment(features)) == ()


def test_what_another_part_brings_along_is_not_said_to_be_without_effect():
    girl = {"collar": "one-piece", "front": "facing", "closure": "buttons", "neck": "facing", "sleeve": "gathered"}
    wrap = {"front": "band", "neck": "binding", "neck-shape": "v", "sleeve": "dolman"}
    back = {"neck": "facing", "armhole": "facing", "closure": "invisible-zip", "centre-seam": "sewn"}
    for features in (girl, wrap, back):
        assert without_effect(LIBRARY, SewnGarment(features)) == ()


def test_a_fly_on_a_blouse_is_left_out_and_that_is_said():
    blouse = SewnGarment({"neck": "facing", "sleeve": "set-in", "closure": "fly"})
    assert any("A fly opens trousers" in words for words in assembled(LIBRARY, blouse).taken)


def test_a_label_is_sewn_into_a_garment_without_a_band_too():
    shorts = assembled(LIBRARY, SewnGarment({"legs": "trousers", "waist": "casing", "label": "sewn"}))
    assert without_effect(LIBRARY, shorts.garment) == ()
