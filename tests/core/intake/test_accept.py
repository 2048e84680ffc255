"""Proposed pieces taken over: sizes drawn alike, edges named by their form, notches counted, grading by rules."""

import io
from dataclasses import replace

import ezdxf
import pytest
from shapely import Polygon, hausdorff_distance

from rowanseed.core.fit.blend import blend
from rowanseed.core.intake.accept import PieceChoice, alike, as_piece, with_size
from rowanseed.core.intake.edges import propose_edges
from rowanseed.core.intake.leave import marks_of, shown_size, without_marks
from rowanseed.core.intake.model import ProposedPiece
from rowanseed.core.pattern.joins import suggest_seams
from rowanseed.core.pattern.model import EnvelopeSize, Pattern, Piece
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.formats.intake.read import read_intake
from rowanseed.formats.pattern_svg import pattern_svg


def kept(piece: ProposedPiece, garment: str = "top") -> Piece:
    return as_piece(
        piece, PieceChoice(piece.number, piece.name, piece.cut, piece.role or "self", piece.mirrored), garment
    )


@pytest.fixture(scope="module")
def shirt() -> Pattern:
    read = read_intake(pattern_svg(overshirt.pattern()).encode())
    sizes = tuple(EnvelopeSize(s, {}) for s in read.sizes)
    return Pattern("Shirt", sizes=sizes, pieces=tuple(kept(p) for p in read.pieces))


def test_sizes_are_drawn_point_for_point_alike_and_stay_where_they_were(shirt: Pattern) -> None:
    """So that a waist can be cut on another size's line; no outline moves by more than its flattening."""
    for piece, own in zip(shirt.pieces, overshirt.pattern().pieces, strict=True):
        assert len({len(s.outline) for s in piece.shapes.values()}) == 1
        left, top = (min(p[k] for s in own.shapes.values() for p in s.outline) for k in (0, 1))
        for size, shape in piece.shapes.items():
            ring = Polygon([(x - left, y - top) for x, y in own.shapes[size].outline]).exterior
            assert hausdorff_distance(ring, Polygon(shape.outline).exterior) < 0.05
    back = shirt.pieces[0]
    levels = {z: replace(s, levels={"bust": 140.0, "waist": 310.0}) for z, s in back.shapes.items()}
    blended = blend(levels, "12", {"bust": "12", "waist": "16", "hip": "16"})
    assert len(blended.outline) == len(back.shapes["12"].outline)


def test_edges_are_named_by_their_form(shirt: Pattern) -> None:
    """The names that the demo's own drafts have, found from the outlines alone."""
    names = {p.name: set(p.shapes["14"].edges) for p in shirt.pieces}
    assert names["Back"] == {"yoke", "armhole", "side", "hem", "fold"}
    assert names["Front"] == {"centre", "neck", "shoulder", "armhole", "side", "hem"}
    assert names["Sleeve"] == {"cap back", "cap front", "front seam", "back seam", "hem"}
    assert names["Back yoke"] == {"neck", "shoulder", "armhole", "foot", "fold"}


def test_the_double_notch_tells_the_sleeves_back(shirt: Pattern) -> None:
    sleeve, own = shirt.pieces[3].shapes["14"], overshirt.pattern().pieces[3].shapes["14"]
    double = next(n.at for n in sleeve.notches if n.count == 2)
    i, j = sleeve.edges["cap back"]
    ys = [sleeve.outline[k % len(sleeve.outline)][1] for k in range(i, j if j > i else j + len(sleeve.outline))]
    assert min(ys) - 3 <= double[1] <= max(ys) + 3
    assert sorted(n.count for n in sleeve.notches) == sorted(n.count for n in own.notches)


def test_named_edges_suggest_the_seams(shirt: Pattern) -> None:
    """Side to side, shoulder to shoulder, the sleeve closed: confirmed in one pass."""
    seams = {frozenset(s.edges) for s in suggest_seams(shirt, "14")}
    assert frozenset({("1", "side"), ("3", "side")}) in seams
    assert frozenset({("4", "front seam"), ("4", "back seam")}) in seams


def test_a_leg_by_the_garment() -> None:
    """A front of trousers is called Front too; the garment tells."""
    shape = trousers.pattern().pieces[0].shapes["40"]
    assert set(propose_edges(shape.outline, "Front", None, (), "trousers")) == {
        "waist",
        "crotch",
        "inseam",
        "hem",
        "side",
    }


def test_a_neck_that_runs_into_the_centre_at_a_blunt_corner() -> None:
    shape = waistcoat.pattern().pieces[0].shapes["M"]
    assert {"neck", "shoulder", "armhole", "side", "hem", "point", "centre"} == set(
        propose_edges(shape.outline, "Front")
    )


def test_outlines_whose_corners_do_not_match_stay_as_they_are() -> None:
    square = ((0.0, 0.0), (0.0, 100.0), (100.0, 100.0), (100.0, 0.0))
    house = ((0.0, 0.0), (0.0, 100.0), (100.0, 100.0), (140.0, 50.0), (100.0, 0.0))
    assert alike({"8": square, "10": house}) == {"8": square, "10": house}


def test_another_size_takes_the_edges_of_the_first(shirt: Pattern) -> None:
    front = shirt.pieces[2]
    one = replace(front, shapes={"12": front.shapes["12"]})
    two = with_size(one, "16", replace(front.shapes["16"], edges={}, levels={}))
    assert set(two.shapes["16"].edges) == set(front.shapes["12"].edges)
    assert len(two.shapes["12"].outline) == len(two.shapes["16"].outline)


def test_a_rule_table_grades_the_sample_size() -> None:
    """Five numbered points, three sizes; worked by hand: the side's middle notch moves by half of both its ends' rules."""
    document = ezdxf.new("R12")
    block = document.blocks.new("FRONT")
    points = [(0, 0), (0, 600), (200, 600), (250, 300), (250, 0)]
    block.add_polyline2d(points, close=True, dxfattribs={"layer": "1"})
    block.add_line((100, 100), (100, 500), dxfattribs={"layer": "7"})
    for k, p in enumerate(points, 1):
        block.add_text(f"# {k}", dxfattribs={"layer": "1", "insert": p})
    block.add_text("Piece Name: FRONT", dxfattribs={"layer": "1", "insert": (50, 50)})
    document.modelspace().add_blockref("FRONT", (0, 0))
    out = io.StringIO()
    document.write(out)
    moves = [(0, 0), (0, 10), (5, 10), (10, 5), (10, 0)]
    rules = "".join(f"RULE: DELTA {k}\n{-x},{-y} 0,0 {x},{y}\n" for k, (x, y) in enumerate(moves, 1))
    table = f"UNITS: METRIC\nNUMBER OF SIZES: 3\nSIZE LIST: S M L\nSAMPLE SIZE: M\n{rules}END\n"
    read = read_intake(out.getvalue().encode(), grading=table.encode())
    assert read.sizes == ("S", "M", "L")
    areas = [Polygon(read.pieces[0].sizes[s].outline).area for s in read.sizes]
    expected = [
        Polygon([(x + f * dx, y + f * dy) for (x, y), (dx, dy) in zip(points, moves, strict=True)]).area
        for f in (-1, 0, 1)
    ]
    assert areas == pytest.approx(expected, rel=1e-6)


def test_marks_that_are_left_out_are_left_out_in_every_size_that_has_them() -> None:
    read = read_intake(pattern_svg(overshirt.pattern()).encode())
    piece = next(p for p in read.pieces if p.name == "Front")
    shown = piece.sizes[shown_size(piece)]
    marks = list(marks_of(shown))
    assert "grain" in marks and "notch:0" in marks and len(marks) == len(set(marks))
    less = without_marks(piece, ["grain", "notch:0", "notch:99", "nonsense"])
    for size, lines in less.sizes.items():
        had = piece.sizes[size]
        assert lines.grain is None and lines.notches == had.notches[1:] and lines.outline == had.outline
        assert lines.points == had.points and lines.internal == had.internal
    assert without_marks(piece, ["nonsense"]) is piece
    first, *_ = piece.sizes
    odd = replace(piece, sizes={**piece.sizes, first: replace(piece.sizes[first], notches=())})
    assert without_marks(odd, ["notch:0"]).sizes[first].notches == ()  # what a size does not share stays as it is
