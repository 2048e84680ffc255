"""What a garment requires beside cloth, worked by hand: an elastic's casing, buttons over all of the front that closes."""

from dataclasses import replace

import pytest

from rowanseed.core.geometry.shape import Mark, PieceShape
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.cutting import what_to_mark
from rowanseed.core.make.pieces import SizedPiece
from rowanseed.core.notions import NotionsAsk, notions
from rowanseed.core.pattern.figures import Figures
from rowanseed.core.pattern.model import Piece
from rowanseed.core.reckon.catalogue import reckon
from rowanseed.core.requirements import Ask, requirements
from rowanseed.core.sew.numbers import SUMS, Facts

CASED = {"waist": "casing"}


def panel(long, edge="centre", **more):
    return PieceShape(
        ((0.0, 0.0), (0.0, 300.0), (long, 300.0), (long, 0.0)),
        edges={"waist": (0, 1), "side": (1, 2), "hem": (2, 3), edge: (3, 0)},
        **more,
    )


@pytest.mark.parametrize(
    ("typed", "envelope", "wide", "casing"),
    [
        ("2 cm", "", 20.0, 23.0),
        ("1 in", "elastic 2 cm", 25.4, 28.4),  # what is typed stands before what is printed
        (None, "1.5 m of 1 1/4 in elastic", 31.75, 34.75),
        (None, "thread; thick elastic 3 cm wide", 30.0, 36.0),
        (None, "plush elastic, 10 mm", 10.0, 13.0),  # the plush is another entry's word
        (None, "", 20.0, 23.0),
    ],
)
def test_a_casing_is_as_wide_as_its_elastic_and_a_little_more(typed, envelope, wide, casing):
    own = Figures(elastic=parse_length(typed)) if typed else Figures()
    if envelope == "plush elastic, 10 mm":
        casing, wide = 26.0, 20.0  # no figure stands with the word: the usual width, and thick
    elastic = requirements(Ask((), CASED, own, envelope=envelope, waist_mm=800.0)).elastic
    assert elastic.width.mm == pytest.approx(wide) and elastic.casing_mm == pytest.approx(casing)
    assert elastic.length_mm == pytest.approx(0.9 * 800 + 25)


def test_list_step_and_sum_say_the_same_elastic():
    own = Figures(elastic=parse_length("3 cm"))
    ask = Ask((), CASED, own, waist_mm=800.0)
    (bought,) = [n for n in notions(NotionsAsk((), (), CASED, waist_mm=800.0, in_make=own)) if n.kind == "elastic"]
    assert bought.amount == pytest.approx(745.0) and "3 cm" in bought.text and "typed in this make" in bought.reason
    facts = Facts(waist_mm=800.0, required=requirements(ask))
    said = " ".join(SUMS[name](facts) for name in ("casing", "elastic"))
    assert "3.3 cm" in said and "74.5 cm" in said and "3 cm" in said
    sum_ = reckon("elastic", {"body": "80 cm", "share": "90", "join": "2.5 cm", "width": "3 cm"})
    assert [r.value for r in sum_] == [pytest.approx(745.0), pytest.approx(33.0)]


BUTTONED = {"closure": "buttons", "hem": "none"}


def front(number, name, long, edge="centre", **more):
    return Piece(number, name, 2, mirrored=True), panel(long, edge, **more)


def buttons(pieces, **more):
    return requirements(Ask(tuple(pieces), BUTTONED, **more)).buttons


def test_buttons_are_spaced_over_bodice_and_skirt_and_each_card_has_its_own():
    found = buttons([front("1", "Bodice front", 400.0), front("2", "Skirt front", 600.0)], in_make=Figures(buttons=10))
    assert found.front_mm == pytest.approx(1000.0) and found.front == 10 and found.total == 10
    step = (1000.0 - 15.0 - 80.0) / 9
    assert found.places_mm == pytest.approx([15.0 + k * step for k in range(10)])
    upper, lower = found.places_on("1"), found.places_on("2")
    assert len(upper) + len(lower) == 10 and upper[0] == 15.0
    assert lower[0] == pytest.approx(15.0 + len(upper) * step - 400.0)
    card = what_to_mark(SizedPiece("2", Piece("2", "Skirt front", 2), "M", panel(600.0)), found)
    assert any("below its upper seam line" in text and f"{len(lower)} button" in text for text in card)


@pytest.mark.parametrize("edge", ["Centre Front", "vordere Kante", "x", "front edge"])
def test_the_front_that_closes_is_found_whatever_its_edge_is_called(edge):
    found = buttons([front("1", "Front", 700.0, edge)])
    assert found.front_mm == pytest.approx(700.0) and found.bear[0].piece == "1"


def test_a_front_on_the_fold_does_not_close_and_a_facing_is_no_front():
    whole = front("1", "Front", 700.0, "q", fold_edge=((700.0, 0.0), (0.0, 0.0)))
    assert buttons([whole]).front_mm is None
    assert buttons([front("9", "Front facing", 690.0), front("1", "Front", 700.0)]).bear[0].piece == "1"


def test_a_band_along_the_front_bears_the_buttons():
    band = (Piece("8", "Button band", 2), PieceShape(((0, 0), (0, 60), (700, 60), (700, 0)), edges={"side": (1, 2)}))
    found = buttons([front("1", "Front", 700.0), band])
    assert [b.piece for b in found.bear] == ["8"] and found.front_mm == pytest.approx(700.0)


def test_marks_on_both_parts_are_counted_from_the_neck():
    upper = front("1", "Bodice front", 400.0, marks=tuple(Mark("button", (50.0 + 100 * k, 10.0)) for k in range(4)))
    lower = front("2", "Skirt front", 600.0, marks=(Mark("button", (50.0, 10.0)),))
    found = buttons([upper, lower])
    assert found.places_mm == pytest.approx((50.0, 150.0, 250.0, 350.0, 450.0)) and found.places_on("2") == (50.0,)
    assert replace(found, bear=()).places_on("2") == ()
