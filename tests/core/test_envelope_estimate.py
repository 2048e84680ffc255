"""Enough or not by the envelope's own figures, worked by hand."""

from dataclasses import replace

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.envelope_estimate import estimate
from rowanseed.core.lengths import parse_length
from rowanseed.core.pattern.model import Pattern, Printed


def cm(text):
    return parse_length(text)


PATTERN = Pattern(
    "Smock", "", "dress",
    printed=(Printed("A", ("10", "12"), cm("150 cm"), cm("180 cm")), Printed("A", ("10", "12"), cm("115 cm"), cm("240 cm"))),
)  # fmt: skip
LINEN = Cloth("Linen", cm("148 cm"), cm("1 cm"), length=cm("200 cm"))


def test_a_printed_width_is_taken_as_it_is_and_says_what_is_left():
    found = estimate(PATTERN, "A", ["12"], LINEN)
    assert (found.needs_mm, found.reckoned, found.enough) == (1800.0, False, True)
    assert found.said("cm") == "Enough, with 20 cm (7 7/8 in) to spare: it takes 180 cm (70 7/8 in)."


def test_another_width_is_reckoned_by_area_and_a_tenth_more():
    found = estimate(PATTERN, "A", ["10"], replace(LINEN, width=cm("90 cm")))
    assert found.needs_mm == pytest.approx(2400 * 115 / 90 * 1.1) and found.reckoned and not found.enough
    assert found.said("cm").startswith("Too short, by about") and "reckoned from 115 cm" in found.said("cm")


def test_a_nap_that_the_envelope_does_not_speak_of_takes_a_tenth_more_and_garments_add_up():
    napped = replace(LINEN, nap="one-way", length=None)
    found = estimate(PATTERN, "A", ["10", "12"], napped)
    assert (
        found.needs_mm == pytest.approx(2 * 1800 * 1.1)
        and found.enough
        and found.said("cm").startswith("It takes about")
    )


def test_what_the_envelope_does_not_print_is_not_guessed():
    assert estimate(PATTERN, "A", ["22"], LINEN) is None
    assert estimate(PATTERN, "B", ["10"], LINEN) is None
    assert estimate(PATTERN, "A", [], LINEN) is None
