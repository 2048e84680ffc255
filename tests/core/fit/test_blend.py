"""Blending: each zone on its own size's line, smooth between, joined edges still meeting."""

from itertools import combinations_with_replacement

import pytest
from shapely import Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.alter import seam_walk
from rowanseed.core.fit.blend import blend, blend_label, is_blend
from rowanseed.core.fit.reshape import change_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.make.pieces import blended_pattern, fit_pieces, needed_sizes
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker, walk_findings
from rowanseed.demo import overshirt, trousers, waistcoat


def panel(width):
    """A panel 400 long with points every 50 along its side; bust at 50, hip at 350."""
    side = [(float(x), width) for x in range(400, -1, -50)]
    return PieceShape(((0.0, 0.0), (400.0, 0.0), *side), edges={"side": (2, 10)}, levels={"bust": 50.0, "hip": 350.0})


PANELS = {"12": panel(180.0), "14": panel(200.0), "16": panel(220.0)}


def widths(shape):
    return {round(x): y for x, y in shape.outline[2:]}


def test_each_zone_lies_on_its_own_sizes_line_and_the_middle_half_way():
    got = widths(blend(PANELS, "14", {"bust": "12", "hip": "16"}))
    assert (got[0], got[50], got[350], got[400]) == (180, 180, 220, 220)
    assert got[200] == pytest.approx(200)  # half way between the levels


def test_between_the_zones_the_line_only_widens_and_never_steps():
    got = [y for _, y in sorted(widths(blend(PANELS, "14", {"hip": "16"})).items())]
    assert got == sorted(got) and max(b - a for a, b in zip(got, got[1:])) < 8


def test_lengths_along_the_grain_stay_with_the_garments_own_size():
    assert [x for x, _ in blend(PANELS, "14", {"hip": "16"}).outline] == [x for x, _ in PANELS["14"].outline]


def test_one_size_throughout_is_that_size():
    assert blend(PANELS, "14", {}) == PANELS["14"] and blend(PANELS, "14", {"bust": "14", "hip": "14"}) == PANELS["14"]


def test_a_piece_without_levels_is_cut_in_the_garments_own_size():
    plain = {size: PieceShape(shape.outline) for size, shape in PANELS.items()}
    assert blend(plain, "14", {"hip": "16"}) == plain["14"]


@pytest.mark.parametrize(
    ("shapes", "word"),
    [
        ({"14": PANELS["14"]}, "no outline in size 16"),
        ({"16": PANELS["16"]}, "no outline in size 14"),
        ({"14": PANELS["14"], "16": PieceShape(PANELS["16"].outline[:-1])}, "drawn otherwise"),
    ],
)
def test_sizes_that_cannot_be_joined_are_refused_with_the_reason(shapes, word):
    with pytest.raises(AlterationError, match=word):
        blend(shapes, "14", {"hip": "16"})


@pytest.mark.parametrize("module", [overshirt, trousers])
def test_the_seams_of_every_blend_of_neighbouring_sizes_still_meet(module):
    pattern = module.pattern()
    names = pattern.size_names()
    for small, large in combinations_with_replacement(names, 2):
        if names.index(large) - names.index(small) > 2:
            continue
        zones = {"waist": large, "hip": large}
        pieces = [
            AlterPiece(p.number, blend(p.shapes, small, zones), p.same_as, p.allowance_mm) for p in pattern.pieces
        ]
        assert all(Polygon(p.shape.outline).is_valid for p in pieces)
        assert walk_findings(seam_walk(pieces, pattern.seams)) == [], (small, large)


def test_a_blend_says_itself_and_which_sizes_it_needs():
    assert blend_label("14", {"hip": "16", "bust": "14"}) == "14, hip 16" and blend_label("14", {}) == "14"
    assert is_blend("14", {"hip": "16"}) and not is_blend("14", {"hip": "14"})
    assert needed_sizes(["14, hip 16", "12"], {"14, hip 16": ("14", {"hip": "16"})}) == ["14", "16", "12"]


def test_a_pattern_holds_the_blended_shape_under_its_label_or_says_why_not():
    pattern = overshirt.pattern()
    label = "14, hip 18"
    done, findings = blended_pattern(pattern, {label: ("14", {"hip": "18"})})
    assert findings == [] and all(label in p.shapes for p in done.pieces)
    front, was = done.pieces[2].shapes, pattern.pieces[2].shapes
    assert was["14"].area_mm2() < front[label].area_mm2() < was["18"].area_mm2()
    _, findings = blended_pattern(pattern, {"x": ("14", {"hip": "99"})})
    assert findings and findings[0].level == "stop" and "99" in findings[0].text


def test_levels_move_with_a_piece_that_is_lengthened():
    longer = change_length(PANELS["14"], 100.0, 25.0)
    assert longer.levels == {"bust": 50.0, "hip": 375.0}


@pytest.mark.parametrize("zones", [("bust",), ("bust", "waist", "hip"), ("hip",), ("waist", "hip")])
@pytest.mark.parametrize("module", [overshirt, trousers, waistcoat])
def test_what_has_no_zones_blends_with_what_it_is_sewn_to(module, zones):
    pattern = module.pattern()
    names = pattern.size_names()
    for own, other in ((names[1], names[3]), (names[3], names[1]), (names[0], names[1])):
        label = "blend"
        made, findings = blended_pattern(pattern, {label: (own, dict.fromkeys(zones, other))})
        assert not findings
        pieces, seams = fit_pieces(made, label)
        assert all(Polygon(p.shape.outline).is_valid for p in pieces)
        before = {s.seam: s.difference_mm for s in seam_walk(*fit_pieces(pattern, own))}
        for seam in seam_walk(pieces, seams):
            assert abs(seam.difference_mm - before[seam.seam]) < 1.0, (own, other, seam.seam.a, seam.difference_mm)
        for piece in pieces:
            if piece.follows:  # its side still lies on its shell's
                shell = next(p for p in pieces if p.id == piece.follows)
                both_have = {"side", "armhole"} & piece.shape.edges.keys() & shell.shape.edges.keys()
                was = {p.id: p for p in fit_pieces(pattern, own)[0]}
                for edge in both_have:
                    apart = [
                        edge_mm(p[piece.id], edge) - edge_mm(p[shell.id], edge)
                        for p in (was, {piece.id: piece, shell.id: shell})
                    ]
                    assert abs(apart[0] - apart[1]) < 1.5, (piece.id, edge, apart)


def edge_mm(piece, edge):
    return Walker().edge_mm(piece, edge)
