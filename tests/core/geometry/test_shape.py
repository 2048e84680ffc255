"""The one shape: a piece drawn along its seam line and the same piece drawn along its cutting line must be the same piece."""

import math
from dataclasses import replace

import pytest
from shapely import Polygon

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.fit.blend import blend
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape, with_allowance
from rowanseed.core.lay.byhand import HandPlace, hand_pieces, lay_by_hand, what_is_wrong
from rowanseed.core.lay.engine import lay
from rowanseed.core.lay.offcuts import offcuts
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.lay_requests import lay_request
from rowanseed.core.make.pieces import sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.pattern.model import Pattern, Piece
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.demo import overshirt, trousers, waistcoat

BOX = PieceShape(
    ((0, 0), (0, 200), (400, 200), (400, 0)), edges={"head": (0, 1), "side": (1, 2), "hem": (2, 3), "centre": (3, 0)}
)


def drawn_without(piece):
    """A demo piece as a tissue that prints seam lines only would have it."""
    bare = {
        size: replace(shape, outline=shape.seam_line, allowance_mm=None, allowances={}, notches=(), lines=())
        for size, shape in piece.shapes.items()
    }
    return replace(piece, allowance_included=False, shapes=bare)


@pytest.mark.parametrize("module", [overshirt, trousers, waistcoat])
def test_adding_the_allowance_to_a_seam_line_gives_the_cutting_line_back(module):
    for piece in module.pattern().pieces:
        again = drawn_without(piece)
        for size, shape in piece.shapes.items():
            assert Polygon(again.shapes[size].outline).is_valid
            cut, seam = (Polygon(line) for line in (again.shapes[size].outline, again.shapes[size].seam_line))
            assert seam.exterior.hausdorff_distance(Polygon(shape.seam_line).exterior) < 2.0, (piece.name, size)
            # in an acute point the seam line has no room for the last millimetres of the cutting line
            assert cut.symmetric_difference(Polygon(shape.outline)).area < 0.06 * cut.area, (piece.name, size)


def test_cap_and_armhole_measure_the_same_whether_the_allowance_is_printed_or_to_be_added():
    pieces = {p.number: p for p in overshirt.pattern().pieces}
    for number, edge in (("4", "cap front"), ("3", "armhole"), ("2", "armhole"), ("1", "armhole")):
        printed, added = pieces[number], drawn_without(pieces[number])
        mm = [Walker().edge_mm(AlterPiece(number, p.shapes["14"]), edge) for p in (printed, added)]
        assert mm[0] == pytest.approx(mm[1], abs=0.3), edge


def test_each_edge_takes_its_own_allowance():
    piece = Piece("1", "Front", 2, allowance_included=False, edge_allowances={"hem": 40.0}, shapes={"M": BOX})
    shape = piece.shapes["M"]
    # 15 mm beyond head, side and centre, 40 mm beyond the hem
    assert set(shape.outline) == {(-15, -15), (-15, 215), (440, 215), (440, -15)}
    assert (shape.allowance_of("hem"), shape.allowance_of("side")) == (40.0, 15.0)
    assert set(shape.seam_line) == set(BOX.outline)


def test_notches_go_out_to_the_cutting_line_and_darts_along_their_legs():
    darted = replace(
        BOX,
        notches=(Notch((100, 200)),),
        marks=(Mark("dot", (50, 50)),),
        lines=(Line("dart", ((190, 200), (200, 100), (210, 200))),),
    )
    grown = with_allowance(darted, 10.0)
    assert grown.notches[0].at == pytest.approx((100, 210)) and grown.marks == darted.marks
    # a dart of 20 mm over 100 mm opens to 22 mm over 110 mm, and still folds 20 mm of the seam line away
    (a, apex, b) = grown.lines[0].points
    assert (a, apex, b) == (pytest.approx((189, 210)), (200, 100), pytest.approx((211, 210)))
    assert Walker().folded(AlterPiece("1", grown), "side") == pytest.approx(20.0)


def test_a_curve_tighter_than_its_allowance_is_still_a_sound_outline():
    bay = [(200 + 6 * math.cos(a), 200 - 6 * math.sin(a)) for a in (k * math.pi / 8 for k in range(8, -1, -1))]
    shape = replace(BOX, outline=((0, 0), (0, 200), *bay, (400, 200), (400, 0)), edges={"centre": (12, 0)})
    grown = with_allowance(shape, 20.0)
    assert Polygon(grown.outline).is_valid and Polygon(grown.outline).covers(Polygon(shape.outline))
    i, j = grown.edges["centre"]
    assert {grown.outline[i], grown.outline[j]} == {(420.0, -20.0), (-20.0, -20.0)}


def _by_hand(pattern, spread):
    pieces, findings = sized_pieces(pattern, "A", "self", ["M"])
    assert findings == []
    cloth = Cloth("x", parse_length("140 cm"), parse_length("1 cm"), parse_length("3 m"))
    asked = lay_request(pieces, cloth, MakePlan(spread=spread, effort="quick"))
    return asked, lay(asked)


@pytest.mark.parametrize("spread", ["single", "lengthwise-fold"])
def test_a_lay_of_pieces_without_printed_allowance_may_be_moved_by_hand_and_its_offcuts_are_free(spread):
    front = Piece("1", "Front", 2, mirrored=True, allowance_included=False, shapes={"M": BOX})
    back = Piece("2", "Back", 1, allowance_included=False, shapes={"M": replace(BOX, fold_edge=((400, 0), (0, 0)))})
    asked, found = _by_hand(Pattern("P", pieces=(front, back)), spread)
    places = [HandPlace(p.number, p.pose, p.lane, p.x, p.y) for p in hand_pieces(asked, found)]
    assert what_is_wrong(asked, lay_by_hand(asked, found, places)) == []
    cut = [Polygon(p.outline) for p in found.placements]
    # 430 x 230 as cut, the half 430 x 215: the allowance is part of what lies on the cloth
    areas = {430 * 230, 430 * 215} if spread == "lengthwise-fold" else {430 * 230, 2 * 430 * 215}
    assert {round(c.area) for c in cut} == areas
    for rest in offcuts(found, asked.cloth):
        x, y = rest.x_mm, rest.y_mm
        box = Polygon(
            [(x, y), (x + rest.length_mm, y), (x + rest.length_mm, y + rest.width_mm), (x, y + rest.width_mm)]
        )
        lying = [c for c, p in zip(cut, found.placements, strict=True) if p.lane == rest.lane]
        assert not any(c.buffer(-0.1).intersects(box.buffer(-0.1)) for c in lying)


def test_a_blended_piece_keeps_its_notches_darts_and_marks_on_and_in_the_new_line():
    def size(width):
        outline = ((0, 0), (0, width), (300, width), (600, width + 20), (600, 0))
        return PieceShape(
            outline,
            fold_edge=((600, 0), (0, 0)),
            notches=(Notch((300, width)), Notch((500, width + 40 / 3))),
            marks=(Mark("bust point", (150, width / 2)),),
            lines=(Line("dart", ((290, width), (295, width / 2), (300, width))),),
            edges={"side": (1, 3)},
            levels={"bust": 100.0, "hip": 500.0},
        )

    shapes = {"12": size(200), "16": size(260)}
    made = blend(shapes, "12", {"bust": "12", "hip": "16"})
    for notch in made.notches:
        assert nearest(made.outline, notch.at, closed=True).miss < 1e-6
    # half way between the levels the smooth step is a half: 200 + 60 / 2; then a straight side on to 280 at the hem
    assert made.notches[0].at == pytest.approx((300, 230)) and made.notches[1].at == pytest.approx((500, 263 + 1 / 3))
    assert made.lines[0].points[0][1] == pytest.approx(made.notches[0].at[1], abs=3) and made.marks[
        0
    ].at == pytest.approx((150, 101.3), abs=0.1)
    assert Walker().folded(AlterPiece("1", made), "side") == pytest.approx(10, abs=0.5)
