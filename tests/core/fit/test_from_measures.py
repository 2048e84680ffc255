"""What measures ask for, on a block worked out by hand, and on the demo: altered so, nothing is asked any more."""

from dataclasses import replace

import pytest

from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.from_measures import EASE_MM, WORTH_MM, asked_by_measures
from rowanseed.core.pattern.seamwalk import AlterPiece
from rowanseed.demo import overshirt, trousers
from tests.core.fit.test_kinds_of_bodies import BLOCK


def block(name):
    piece = next(p for p in overshirt.pattern().pieces if p.number == "1")
    return replace(piece, number="9", name=name, cut=2, shapes={})


def test_lengths_are_measured_from_seam_to_level_less_ease():
    back = [(block("Back"), BLOCK)]  # its neck lies at 0, its waist at 350
    assert asked_by_measures(back, {"back_waist": 350.0 - EASE_MM["back_waist"]}, "cm") == []
    (longer,) = asked_by_measures(back, {"back_waist": 370.0}, "cm")
    assert longer.alteration.kind == "length" and longer.alteration.by_mm == pytest.approx(20.0 + EASE_MM["back_waist"])
    assert longer.alteration.at_mm == pytest.approx((190 + 350) / 2) and "35 cm" in longer.why and "37 cm" in longer.why


def test_a_shoulder_is_compared_without_ease_and_only_on_a_fitted_garment():
    front = [(block("Front"), BLOCK)]
    has = ((160 - 70) ** 2 + 20**2) ** 0.5
    assert asked_by_measures(front, {"shoulder": has + WORTH_MM - 1}, "cm") == []
    (wider,) = asked_by_measures(front, {"shoulder": has + 15}, "in")
    assert (wider.alteration.kind, round(wider.alteration.by_mm, 3)) == ("shoulder-length", 15.0)
    assert asked_by_measures(front, {"shoulder": has + 15}, "in", exact=False) == []


def test_a_tight_waist_is_shared_out_over_the_side_edges():
    (asked,) = asked_by_measures([(block("Front"), BLOCK)], {"waist": 2 * 200.0 + 20.0}, "cm")
    assert asked.alteration.kind == "taper" and asked.alteration.by_mm == pytest.approx((20 + EASE_MM["waist"]) / 2)
    assert asked_by_measures([(block("Front"), BLOCK)], {"waist": 300.0}, "cm") == []  # wide is a matter of looks


def test_what_was_not_measured_is_not_guessed():
    assert asked_by_measures([(block("Back"), BLOCK)], {}, "cm") == []


@pytest.mark.parametrize(
    ("module", "body", "kinds"),
    [
        (overshirt, {"upper_arm": 420.0}, {"upper-arm"}),
        (trousers, {"crotch_depth": 330.0}, {"rise"}),
        (trousers, {"thigh": 760.0}, {"thigh"}),
    ],
)
def test_altered_as_asked_nothing_is_asked_any_more(module, body, kinds):
    pattern = module.pattern()
    size = pattern.size_names()[2]
    own = [(p, p.shapes[size]) for p in pattern.pieces_of("A", "self")]
    asked = asked_by_measures(own, body, "cm")
    assert {a.alteration.kind for a in asked} == kinds
    pieces = [
        AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm, p.follows)
        for p in pattern.pieces
        if size in p.shapes
    ]
    done = alter(pieces, pattern.seams, [a.alteration for a in asked])
    after = {p.id: p.shape for p in done.pieces}
    assert asked_by_measures([(p, after[p.number]) for p, _ in own], body, "cm") == []
