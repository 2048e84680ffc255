"""The mildest set that fits: on pieces whose answer is plain."""

from dataclasses import replace

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.concede.search import ConcedeRequest, ConcedeWatch, concede, request_with
from rowanseed.core.concede.sizes import SizesRequest, sizes_that_fit
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.concessions import Concession
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern, Piece


def block(length, width, fold=False, edges=None):
    outline = ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))
    return PieceShape(outline, ((0.0, 0.0), (length, 0.0)) if fold else None, edges=edges or {})


def asked(pieces, cloth, allowed, size="M"):
    pattern = Pattern("Test", pieces=tuple(pieces))
    return ConcedeRequest(pattern, "A", "self", (size,), cloth, MakePlan(gap_mm=0.0, effort="quick"), tuple(allowed))


def cloth(width, length):
    return Cloth("Test cloth", parse_length(width), parse_length("0 cm"), parse_length(length) if length else None)


def test_a_back_wider_than_the_cloth_is_given_a_seam():
    back = Piece("1", "Back", 1, shapes={"M": block(500.0, 400.0, fold=True)})  # 800 across, opened
    found = concede(asked([back], cloth("60 cm", "2 m"), [Concession("seam", ("1",))]))
    assert not found.base.complete and found.proposal is not None and found.proposal.fits
    assert found.proposal.concessions == (Concession("seam", ("1",)),)
    # two halves of 415 do not lie side by side on 600: one after the other
    assert found.proposal.length_mm == pytest.approx(1000.0, abs=1.0)


def test_of_two_ways_that_fit_the_milder_is_proposed():
    panel = Piece("1", "Skirt", 2, mirrored=True, shapes={"M": block(900.0, 480.0, edges={"hem": (1, 2)})})
    pocket = Piece("2", "Pocket bag", 2, mirrored=True, shapes={"M": block(300.0, 200.0)})
    allowed = [Concession("elsewhere", ("2",)), Concession("shorten", ("1",), 300.0)]
    found = concede(asked([panel, pocket], cloth("100 cm", "1 m"), allowed))
    # the panels alone lie side by side, 900 long; the bags, 300 long, behind them
    assert not found.base.fits and found.base.length_mm == pytest.approx(1200.0, abs=1.0)
    assert found.proposal is not None and found.proposal.concessions == (allowed[0],)
    assert {t.concessions[0].kind: round(t.saved_mm, -1) for t in found.alone} == {"elsewhere": 300, "shorten": 300}


def test_no_more_is_taken_off_a_hem_than_the_cloth_asks_for():
    panel = Piece("1", "Skirt", 2, mirrored=True, shapes={"M": block(900.0, 480.0, edges={"hem": (1, 2)})})
    found = concede(asked([panel], cloth("100 cm", "85 cm"), [Concession("shorten", ("1",), 200.0)]))
    assert found.proposal is not None and found.proposal.concessions[0].by_mm == pytest.approx(50.0, abs=1.0)
    assert found.proposal.length_mm <= 850.0 + 1e-6


def test_enough_cloth_asks_for_nothing_and_too_little_is_said():
    panel = Piece("1", "Skirt", 1, shapes={"M": block(900.0, 480.0)})
    enough = concede(asked([panel], cloth("100 cm", "1 m"), [Concession("crosswise", ("1",))]))
    assert enough.proposal is not None and enough.proposal.concessions == () and enough.alone == ()
    short = concede(asked([panel], cloth("100 cm", "30 cm"), [Concession("crosswise", ("1",))]))
    assert short.proposal is None and short.shortest.length_mm == pytest.approx(480.0, abs=1.0)


def test_without_a_length_every_step_is_worked_out_and_harm_buys_length():
    panel = Piece("1", "Skirt", 2, mirrored=True, shapes={"M": block(900.0, 480.0, edges={"hem": (1, 2)})})
    pocket = Piece("2", "Pocket bag", 2, mirrored=True, shapes={"M": block(300.0, 200.0)})
    allowed = [Concession("elsewhere", ("2",)), Concession("shorten", ("1",), 100.0)]
    found = concede(asked([panel, pocket], cloth("100 cm", None), allowed))
    lengths, harms = [t.length_mm for t in found.steps], [t.harm for t in found.steps]
    assert found.proposal is None and lengths == sorted(lengths, reverse=True) and harms == sorted(harms)
    assert [round(n, -1) for n in lengths] == [1200, 900, 800] and found.shortest == found.steps[-1]


def test_a_proposals_lay_answers_the_request_that_accepting_it_makes():
    back = Piece("1", "Back", 1, shapes={"M": block(500.0, 400.0, fold=True)})
    request = asked([back], cloth("60 cm", "2 m"), [Concession("seam", ("1",))])
    found = concede(request)
    then = request_with(replace(request, plan=replace(request.plan, conceded=found.proposal.concessions)), ())
    assert found.lay is not None and check_lay(then, found.lay) == []


def test_a_stop_keeps_what_is_known():
    panel = Piece("1", "Skirt", 1, shapes={"M": block(900.0, 480.0)})
    told = []
    watch = ConcedeWatch(told.append, lambda: bool(told))
    found = concede(asked([panel], cloth("100 cm", "30 cm"), [Concession("crosswise", ("1",))] * 3), watch)
    assert not found.finished and len(found.alone) == 1


def test_the_largest_size_that_fits_is_found_and_a_wider_one_refused():
    shapes = {size: block(600.0 + 100 * k, 480.0) for k, size in enumerate(("S", "M", "L", "XL"))}
    request = asked([Piece("1", "Skirt", 2, mirrored=True, shapes=shapes)], cloth("100 cm", "75 cm"), [])
    found = sizes_that_fit(SizesRequest(request, ("S", "M", "L", "XL")))
    assert found.largest == "M" and found.finished
    assert [(s.size, round(s.length_mm), s.fits) for s in found.sizes] == [
        ("S", 600, True), ("M", 700, True), ("L", 800, False), ("XL", 900, False),
    ]  # fmt: skip
