"""What becomes of a piece that lies cut when what it is cut by changes: rectangles worked out by hand, drafts by properties."""

import random
from dataclasses import replace
from functools import cache

import pytest
from shapely import Polygon

from rowanseed.core.geometry.shape import Mark, Notch, PieceShape, mapped, with_allowance
from rowanseed.core.make.recut import recut
from rowanseed.core.make.recut_words import recut_words, why_recut
from tests.core.fit.drafts import DRAFTS

EDGES = {"hem": (0, 1), "left": (1, 2), "top": (2, 3), "right": (3, 0)}


def box(long=300.0, wide=200.0, allowance=15.0, **allowances):
    """A rectangle drawn along its seam line; `hem` at x = 0, `right` at y = 0."""
    outline = ((0.0, 0.0), (0.0, wide), (long, wide), (long, 0.0))
    plain = PieceShape(outline, edges=EDGES, notches=(Notch((long / 2, wide)),), marks=(Mark("dot", (20.0, 20.0)),))
    return with_allowance(plain, allowance, allowances)


def at(found):
    return {place.edge: round(place.mm, 1) for place in found}


def test_the_same_piece_is_the_same_wherever_it_was_drawn():
    for dx, dy in ((0, 0), (40, -7.5), (0.3, 100.0)):
        moved = mapped(box(), lambda p, dx=dx, dy=dy: (p[0] + dx, p[1] + dy))
        assert recut(moved, box()).answer == "same"


def test_a_narrower_piece_is_trimmed_by_what_it_is_narrower():
    found = recut(box(wide=200.0), box(wide=194.0))
    assert found.answer == "trim" and not found.missing
    assert sum(at(found.trim).values()) == pytest.approx(6.0, abs=0.3)
    assert set(at(found.trim)) <= {"left", "right"}


def test_a_wider_piece_is_sewn_with_less_while_a_quarter_of_an_inch_stays():
    found = recut(box(wide=200.0), box(wide=206.0))
    assert found.answer == "narrower" and not found.trim
    assert sum(at(found.missing).values()) == pytest.approx(6.0, abs=0.3)
    for place in found.missing:
        assert place.allowance_mm == 15.0 and place.left_mm == pytest.approx(15.0 - place.mm)
    # 20 mm on 15 mm of allowance, both sides shared: 5 mm are left each, less than a quarter of an inch.
    assert recut(box(wide=200.0), box(wide=220.0)).answer == "anew"
    assert recut(box(wide=200.0), box(wide=216.0)).answer == "narrower"


def test_a_half_on_the_fold_is_never_moved_off_it():
    def half(wide):
        drawn = box(wide=wide, right=0.0)
        ends = [p for p in drawn.outline if abs(p[1]) < 1e-6]
        return replace(drawn, fold_edge=(ends[0], ends[1]))

    found = recut(half(100.0), half(108.0))
    assert at(found.missing) == {"left": 8.0}
    assert recut(half(100.0), half(110.0)).answer == "anew"
    assert at(recut(half(100.0), half(93.0)).trim) == {"left": 7.0}


def test_an_allowance_that_grew_is_missing_and_one_that_shrank_is_trimmed():
    grew = recut(box(), box(hem=25.0))
    assert (grew.answer, grew.why) == ("narrower", "allowance")
    assert at(grew.missing) == {"hem": 10.0} and grew.missing[0].left_mm == pytest.approx(15.0)
    shrank = recut(box(), box(hem=6.0))
    assert (shrank.answer, at(shrank.trim)) == ("trim", {"hem": 9.0})


def test_what_is_marked_elsewhere_is_marked_anew():
    moved = replace(box(), notches=(Notch((170.0, 215.0)),), marks=(Mark("dot", (20.0, 26.0)),))
    found = recut(box(), moved)
    assert (found.answer, found.marks) == ("mark", ("notches", "dots"))


def test_less_than_half_a_millimetre_is_no_change():
    assert recut(box(), box(wide=200.4)).answer == "same"


def test_another_size_is_said_as_that():
    found = recut(box(), box(wide=150.0), other_size=True)
    assert why_recut(found, "14", "12") == "cut in size 14, and size 12 is chosen"
    assert found.answer == "trim"


def test_words_say_what_to_do_in_the_sewists_unit():
    (words,) = recut_words(recut(box(), box(hem=25.0)), "cm")
    assert "hem with 1.5 cm" in words and "not 2.5 cm" in words
    assert "Cut it anew" in recut_words(recut(box(), box(long=340.0)), "in")[0]
    assert recut_words(recut(box(), box(hem=6.0)), "cm", printed=True)[0].startswith("Its line lies elsewhere")


@cache
def shapes():
    """Every outline of the drafts that is cut as it is drawn; drawn when it is first asked for."""
    return [p.shape for draft in DRAFTS.values() for p in draft().pieces if p.shape.fold_edge is None]


@pytest.mark.parametrize("seed", range(30))
def test_cloth_is_never_called_enough_where_the_new_piece_does_not_lie_in_it(seed):
    """By a general geometry library: `trim` means that the new piece lies in the cut one, moved and not turned."""
    rng = random.Random(seed)
    was = rng.choice(shapes())
    by, along = rng.uniform(0.97, 1.03), rng.uniform(0.97, 1.03)
    now = mapped(was, lambda p: (p[0] * along, p[1] * by))
    found = recut(was, now)
    laid = Polygon((found.was or was).outline).buffer(0)
    over = Polygon(now.outline).buffer(0).difference(laid.buffer(0.6))
    if found.answer in ("trim", "mark", "same"):
        assert over.area < 5.0
    else:
        assert not Polygon(now.outline).buffer(0).difference(laid.buffer(0.4)).is_empty
        most = max(m.mm for m in found.missing)
        assert Polygon(now.outline).buffer(0).difference(laid.buffer(most + 0.6, join_style="mitre")).area < 5.0
