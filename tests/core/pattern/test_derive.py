"""Pieces derived from others, held against the trade's figures and plane geometry."""

import pytest
from shapely import Polygon

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.derive.layers import band, block, interfacing, panel
from rowanseed.core.pattern.derive.lining import LiningAsk, lining
from rowanseed.core.pattern.derive.whole import WholeAsk, whole_lining
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.demo import overshirt, waistcoat

IN = 25.4
SEAM = 0.625 * IN


def coat(width=300.0, length=1000.0):
    """A straight front: centre at y = 0, shoulder at x = 0."""
    outline = ((0.0, 0.0), (0.0, 80.0), (30.0, 210.0), (250.0, width), (length, width), (length, 0.0))
    edges = {"neck": (0, 1), "shoulder": (1, 2), "armhole": (2, 3), "side": (3, 4), "hem": (4, 5), "centre": (5, 0)}
    return PieceShape(outline, edges=edges, levels={"waist": 420.0})


def facing(width=100.0, length=1000.0):
    outline = ((0.0, 0.0), (0.0, width), (length, width), (length, 0.0))
    return PieceShape(outline, edges={"head": (0, 1), "inner": (1, 2), "hem": (2, 3), "centre": (3, 0)})


def width_at(shape, x):
    line = Polygon(shape.outline).intersection(
        Polygon([(x - 0.1, -999), (x + 0.1, -999), (x + 0.1, 999), (x - 0.1, 999)])
    )
    _, low, _, high = line.bounds
    return high - low


def test_lining_is_the_coat_less_the_facing_as_cut_and_two_allowances():
    # Common practice, no source: 5/8 + 5/8 = 1 1/4 in more than coat less facing as cut.
    made = lining(coat(), LiningAsk(SEAM, facing(), "centre", "centre", hem_mm=40.0))
    assert width_at(made, 600) == pytest.approx(300 - 100 + 1.25 * IN, abs=1.0)
    assert made.edges.keys() >= {"armhole", "side"}


def test_lining_sewn_in_is_half_an_inch_longer_than_the_finished_shell_and_free_is_shorter():
    sewn = lining(coat(), LiningAsk(SEAM, hem_mm=40.0))
    free = lining(coat(), LiningAsk(SEAM, hem_mm=40.0, free=True, own_hem_mm=25.0))
    assert max(x for x, _ in sewn.outline) == pytest.approx(1000 - 40 + 0.5 * IN)
    finished = max(x for x, _ in free.outline) - 25
    assert 0.5 * IN <= 960 - finished <= 0.75 * IN


def test_full_ease_pleat_adds_an_inch_all_down_the_centre_and_a_tapering_one_ends_at_the_waist():
    full = lining(coat(), LiningAsk(SEAM, pleat="full"))
    assert width_at(full, 300) - width_at(coat(), 300) == pytest.approx(IN, abs=0.1)
    assert Polygon(full.outline).area - Polygon(lining(coat(), LiningAsk(SEAM)).outline).area == pytest.approx(
        IN * (1000 - 40 + 0.5 * IN), rel=1e-3
    )
    tapering = lining(coat(), LiningAsk(SEAM, pleat="tapering"))
    # nothing of the pleat is left below the waist, half of it half way down to it, all of it at the neck
    waist, low = coat().levels["waist"], min(x for x, _ in coat().outline)
    assert width_at(tapering, 700) == pytest.approx(width_at(coat(), 700), abs=0.1) and waist < 700
    middle = (low + waist) / 2
    assert width_at(tapering, middle) - width_at(coat(), middle) == pytest.approx(IN / 2, abs=0.5)
    assert min(y for x, y in tapering.outline if x < 1) == pytest.approx(-IN)


def test_shoulder_is_lowered_by_the_pad_at_the_point_and_not_at_the_neck():
    made = lining(coat(), LiningAsk(SEAM, pad_mm=12.0))
    assert made.outline[1] == (0.0, 80.0) and made.outline[2] == (42.0, 210.0)


def test_a_facing_that_is_not_on_the_piece_is_refused():
    with pytest.raises(ShapeError, match="no edge"):
        lining(coat(), LiningAsk(SEAM, facing(), "front edge", "centre"))
    with pytest.raises(ShapeError, match="differ too much"):
        lining(coat(), LiningAsk(SEAM, facing(length=500.0), "centre", "centre"))
    with pytest.raises(ShapeError, match="does not lie inside the piece"):
        lining(coat(), LiningAsk(2.0, facing(320.0), "centre", "centre"))


def test_the_waistcoat_s_front_lining_meets_its_facing_with_both_allowances():
    """The demo's own front and facing, drawn point by point: area is kept save the strip of two allowances."""
    pattern = waistcoat.pattern()
    by = {p.number: p.shapes["M"] for p in pattern.pieces}
    front, faced = by["1"], by["7"]
    made = lining(front, LiningAsk(15.0, faced, "centre", "centre", hem_mm=0.0))
    straight = Polygon(front.outline).area - Polygon(faced.outline).area
    assert Polygon(made.outline).is_valid
    # the strip: 30 mm along the inner edge of about 650, and half an inch at the hem of about 260
    assert Polygon(made.outline).area == pytest.approx(straight + 30 * 620 + 12.7 * 250, rel=0.03)
    # nothing of the front edge or of the neck's end is left: looked at once, it was
    assert min(y for _, y in made.outline) > 10 and len(made.outline) < 45


def test_interfacing_without_its_allowance_ends_at_the_seam_line_and_keeps_the_fold():
    square = PieceShape(((0, 0), (0, 100), (200, 100), (200, 0)), fold_edge=((0, 0), (200, 0)), allowance_mm=15.0)
    cut = interfacing(square, "none")
    # 200 - 2 x 15 along, 100 - 15 across: none is taken off at the fold
    assert Polygon(cut.outline).area == pytest.approx(170 * 85) and cut.fold_edge is not None
    assert interfacing(square, "all") is square
    with pytest.raises(ShapeError):
        interfacing(PieceShape(((0, 0), (0, 20), (200, 20), (200, 0)), allowance_mm=15.0), "none")


def test_interfacing_of_every_demo_collar_is_smaller_by_its_allowance():
    for piece in overshirt.pattern().pieces_of("A", "interfacing"):
        shape = piece.shapes["14"]
        cut = Polygon(interfacing(shape, "none").outline)
        assert cut.within(Polygon(shape.outline)) and cut.area < Polygon(shape.outline).area


def test_blocks_bands_and_panels_by_their_figures():
    assert band(780, 40, 15).outline[2] == (780, 110)  # 2 x 40 + 2 x 15
    assert panel(600, 15, 50, 800).outline[2] == (665, 800)
    assert Polygon(block(band(100, 20, 10)).outline).area == pytest.approx((100 + 40) * (60 + 40))


def jacket():
    """A coat of two fronts with their facing, a back with a seam down its middle, sleeves, a collar and a pocket."""
    sleeve = PieceShape(
        ((0.0, 0.0), (0.0, 300.0), (600.0, 260.0), (600.0, 40.0)), edges={"wrist": (2, 3)}, allowance_mm=SEAM
    )
    own = {"1": ("Front", coat()), "2": ("Back", coat()), "3": ("Sleeve", sleeve), "4": ("Front facing", facing()),
           "5": ("Collar", facing(60.0, 400.0)), "6": ("Patch pocket", facing(150.0, 150.0))}  # fmt: skip
    return Pattern("Jacket", pieces=tuple(Piece(n, name, 2, mirrored=True, allowance_mm=SEAM, shapes={"M": shape})
                                          for n, (name, shape) in own.items()))  # fmt: skip


def test_the_whole_lining_has_a_piece_for_each_part_it_covers_in_the_way_the_features_ask():
    pattern = jacket()
    made, problems = whole_lining(pattern, "A", WholeAsk("full", hem_mm=38.0))
    assert [p.name for p in made] == ["Front lining", "Back lining", "Sleeve lining"] and problems == []
    front, back, sleeve = (p.shapes["M"] for p in made)
    assert width_at(front, 600) == pytest.approx(300 - 100 + 1.25 * IN, abs=1.0)  # less its facing
    assert width_at(back, 600) == pytest.approx(300 + IN, abs=0.1)  # the ease pleat at the back alone
    assert max(x for x, _ in sleeve.outline) == pytest.approx(
        600 - 38 + 0.5 * IN
    )  # a fold of ease above the sleeve's hem
    assert {p.follows for p in made} == {"1", "2", "3"} and all(p.role == "lining" for p in made)
    bare, _ = whole_lining(pattern, "A", WholeAsk("", sleeves=False, free=True, hem_mm=38.0))
    assert [p.number for p in bare] == ["L1", "L2"]
    assert max(x for x, _ in bare[1].shapes["M"].outline) < max(x for x, _ in back.outline)
    cuffed = whole_lining(pattern, "A", WholeAsk(cuffed=True))[0][2].shapes["M"]
    assert max(x for x, _ in cuffed.outline) == pytest.approx(600)  # the cuff takes both layers


def test_what_is_lined_already_is_left_out_and_a_skirt_s_lining_begins_at_the_waist():
    pattern = jacket()
    first, _ = whole_lining(pattern, "A", WholeAsk("full"))
    assert whole_lining(Pattern("J", pieces=(*pattern.pieces, *first)), "A", WholeAsk("full")) == ([], [])
    skirt = Pattern(
        "S",
        pieces=tuple(
            Piece(n, name, 1, shapes={"M": coat()}) for n, name in (("1", "Bodice back"), ("2", "Skirt back"))
        ),
    )
    assert [p.name for p in whole_lining(skirt, "A", WholeAsk(below_waist=True, free=True))[0]] == ["Skirt back lining"]


def test_a_lining_shorter_than_a_side_s_last_points_ends_on_that_side():
    # A drawn side has points close to its hem; the flared one is narrower where the shorter lining ends.
    outline = ((0.0, 0.0), (0.0, 100.0), (500.0, 200.0), (575.0, 215.0), (590.0, 218.0), (600.0, 220.0), (600.0, 0.0))
    shape = PieceShape(
        outline, fold_edge=((0.0, 0.0), (600.0, 0.0)), edges={"side": (1, 5), "hem": (5, 6)}, allowance_mm=SEAM
    )
    made = lining(shape, LiningAsk(SEAM, hem_mm=40.0))
    long = 600 - 40 + 0.5 * IN
    assert made.outline[made.edges["hem"][0]] == pytest.approx((long, 200 + (long - 500) / 5))
    assert made.fold_edge == ((0.0, 0.0), (pytest.approx(long), 0.0)) and made.edges["side"][1] == made.edges["hem"][0]
    assert Polygon(made.outline).is_valid and len(made.outline) == 5
    for piece in overshirt.pattern().pieces_of("A", "self")[:4]:
        for size in piece.shapes.values():
            assert Polygon(lining(size, LiningAsk(SEAM, hem_mm=60.0)).outline).is_valid
