"""Patterns by twenty other ways of writing: every outline at its true shape, and what is missing never unsaid."""

import pytest
from shapely import Polygon, hausdorff_distance
from shapely.affinity import translate

from rowanseed.demo import overshirt, trousers
from rowanseed.formats.intake.read import read_intake

from .files import bodice, d_of, svg_file
from .other_writers import COLOURS, WAYS

PATTERNS = {"overshirt": (overshirt.pattern(), 4), "trousers": (trousers.pattern(), 6)}
NEAR_MM = 0.35  # a line's width


def corner_to_corner(outline, quarters=0):
    for _ in range(quarters):
        outline = [(-y, x) for x, y in outline]
    polygon = Polygon(outline)
    return translate(polygon, -polygon.bounds[0], -polygon.bounds[1])


def right_ones(pattern, sizes, intake):
    """How many outlines of the pattern came out, of how many, and how many there are that are none of it."""
    got = [corner_to_corner(lines.outline) for piece in intake.pieces for lines in piece.sizes.values()]
    wanted = [piece.shapes[s] for piece in pattern.pieces for s in sizes if s in piece.shapes]
    for shape in wanted:
        turns = [corner_to_corner(shape.outline, k) for k in range(4)]
        near = next((g for g in got if any(hausdorff_distance(g.exterior, t.exterior) < NEAR_MM for t in turns)), None)
        if near is not None:
            got.remove(near)
    whole = sum(len(piece.sizes) for piece in intake.pieces)
    return whole - len(got), len(wanted), len(got)


def cares(intake):
    return [f for f in (*intake.findings, *(f for p in intake.pieces for f in p.findings)) if f.level != "note"]


@pytest.mark.parametrize("garment", PATTERNS)
@pytest.mark.parametrize("way", WAYS)
def test_every_outline_comes_out_and_what_is_missing_is_said(garment, way):
    pattern, count = PATTERNS[garment]
    write, every_size, least = WAYS[way]
    sizes = pattern.size_names()[: count if every_size else 1]
    intake = read_intake(write(pattern, sizes))
    right, wanted, others = right_ones(pattern, sizes, intake)
    assert right >= least * wanted and others <= wanted - right
    assert right + others == wanted or cares(intake)
    if least == 1.0:
        assert len(intake.sizes) == len(sizes)


@pytest.mark.parametrize("step", [4.0, 9.0, 15.0])
def test_sizes_that_take_turns_in_few_colours_are_no_seam_lines(step):
    """Six evenly graded sizes in three colours: each colour twice, and evenly apart, yet nothing says seam line."""
    body = "".join(
        f'<path fill="none" stroke="{COLOURS[k % 3]}" d="{d_of(bodice(step * k))}"/>' for k in (5, 2, 0, 3, 1, 4)
    )
    intake = read_intake(svg_file(body, "400mm", "600mm", "0 0 400 600"))
    assert len(intake.sizes) == 6 and not any(f.code == "guess-seam-lines" for f in intake.findings)
    assert all(lines.seam_line is None for lines in intake.pieces[0].sizes.values())


def test_each_size_has_its_own_seam_line():
    write, *_ = WAYS["seam lines thin, a colour a size"]
    pattern, count = PATTERNS["trousers"]
    intake = read_intake(write(pattern, pattern.size_names()[:count]))
    for piece in intake.pieces:
        drawn = next(p for p in pattern.pieces if p.number == piece.number)
        for size, shape in zip(intake.sizes, (drawn.shapes[s] for s in pattern.size_names()[:count]), strict=True):
            lines = piece.sizes[size]
            between = Polygon(lines.outline).area - Polygon(lines.seam_line).area
            assert between == pytest.approx(Polygon(shape.outline).area - Polygon(shape.seam_line).area, rel=0.01)
