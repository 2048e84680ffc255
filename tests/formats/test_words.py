"""The trade's words: each once, in order, with a picture that there is, and none that nothing shows."""

from xml.etree.ElementTree import fromstring

from rowanseed.formats.word_pictures import PICTURES, word_picture
from rowanseed.formats.words import words


def test_every_word_stands_once_and_every_picture_is_used():
    keys = [w.key for w in words()]
    assert len(keys) > 30 and keys == sorted(set(keys))
    assert {w.picture for w in words()} - {""} == set(PICTURES)
    assert all(w.says.endswith(".") for w in words())


def test_a_picture_stays_within_its_frame():
    for name in PICTURES:
        root = fromstring(word_picture(name))
        for place in root.iter("rect"):
            x, y, wide, high = (float(place.get(k)) for k in ("x", "y", "width", "height"))
            assert x >= 0 and x + wide <= 120 and y >= 0 and y + high <= 84
        for place in root.iter("circle"):
            assert 0 <= float(place.get("cx")) <= 120 and 0 <= float(place.get("cy")) <= 84
