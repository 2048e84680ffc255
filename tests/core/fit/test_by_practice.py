"""Alterations held against what is done on tissue: what must keep its length keeps it, what joins meets, layers go along."""

import math
from dataclasses import replace

import pytest

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.edge_changes import line_across
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.make.pieces import altered_pattern, fit_pieces
from rowanseed.core.pattern.model import Pattern, Piece, Seam
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.demo import overshirt, waistcoat


def seam_mm(piece, edge):
    return Walker().edge_mm(piece, edge)


def by_id(done):
    return {p.id: p for p in done.pieces}


@pytest.mark.parametrize("share", [0.0, 0.02, 0.5, 0.98, 1.0])
@pytest.mark.parametrize("by", [10.0, -8.0])
def test_a_taper_moves_both_edges_of_a_seam_alike_also_at_its_very_end(share, by):
    pieces, seams = fit_pieces(overshirt.pattern(), "14")
    shape = next(p for p in pieces if p.id == "3").shape
    side = [x for x, _ in edge_points(shape.outline, shape.edges["side"])]
    at = min(side) + share * (max(side) - min(side))
    done = alter(pieces, seams, [Alteration("taper", "3", by, at, "side")])
    now, was = by_id(done), {p.id: p for p in pieces}
    for end in (0, -1):
        moved = [
            edge_points(now[n].shape.outline, now[n].shape.edges["side"])[end][1]
            - edge_points(was[n].shape.outline, was[n].shape.edges["side"])[end][1]
            for n in ("3", "1")
        ]
        assert moved[0] == pytest.approx(moved[1], abs=0.3)
    (seam,) = [w for w in done.walked if w.seam.a == ("3", "side")]
    assert abs(seam.off_mm) < 1.0


@pytest.mark.parametrize("module_piece", [(overshirt, "3"), (waistcoat, "1")])
@pytest.mark.parametrize("by", [12.0, 25.0, 40.0, -12.0])
def test_a_dartless_bust_keeps_the_side_seam(module_piece, by):
    module, number = module_piece
    pieces, _ = fit_pieces(module.pattern(), module.pattern().size_names()[2])
    front = next(p for p in pieces if p.id == number)
    done = alter([front], [], [Alteration("bust-dartless", number, by)])
    assert not [f for f in done.findings if f.level == "stop"]
    assert seam_mm(done.pieces[0], "side") == pytest.approx(seam_mm(front, "side"), abs=0.2)


# A pinafore: straps 40 wide and 160 long on a body 200 wide and 440 long.
PINAFORE = PieceShape(
    ((0, 60), (0, 100), (160, 110), (200, 200), (600, 220), (600, 0), (150, 0), (140, 60)),
    edges={"strap-end": (0, 1), "armhole": (1, 3), "side": (3, 4), "hem": (4, 5), "neck": (6, 8 % 8)},
)


def test_a_strap_is_lengthened_in_the_strap_and_not_at_the_middle_of_the_piece():
    at = line_across(Alteration("strap", "1", 20.0), AlterPiece("1", PINAFORE))
    assert 40 < at < 110
    done = alter([AlterPiece("1", PINAFORE)], [], [Alteration("strap", "1", 20.0)])
    assert seam_mm(done.pieces[0], "side") == pytest.approx(seam_mm(AlterPiece("1", PINAFORE), "side"))
    with pytest.raises(AlterationError) as asked:
        line_across(
            Alteration("strap", "1", 20.0), next(p for p in fit_pieces(overshirt.pattern(), "14")[0] if p.id == "3")
        )
    assert asked.value.field == "at"


def hem_mm(piece):
    return math.dist(*(edge_points(piece.shape.outline, piece.shape.edges["hem"])[k] for k in (0, -1)))


def test_a_sloping_shoulder_lowers_the_underarm_and_leaves_armhole_and_sleeve_as_they_were():
    pieces, seams = fit_pieces(overshirt.pattern(), "14")
    done = alter(pieces, seams, [Alteration("shoulder", "3", 10.0)])
    now, was = by_id(done), {p.id: p for p in pieces}
    underarm = {
        n: now[n].shape.outline[now[n].shape.edges["side"][0]][0]
        - was[n].shape.outline[was[n].shape.edges["side"][0]][0]
        for n in "31"
    }
    assert underarm == pytest.approx({"3": 10.0, "1": 10.0}, abs=0.3)
    assert seam_mm(now["3"], "armhole") == pytest.approx(seam_mm(was["3"], "armhole"), abs=1.5)
    backs = [sum(seam_mm(p[n], "armhole") for n in "12") for p in (now, was)]
    assert backs[0] == pytest.approx(backs[1], abs=2.5)
    assert hem_mm(now["4"]) == pytest.approx(hem_mm(was["4"]), abs=0.1)
    for cap in ("cap front", "cap back"):
        assert seam_mm(now["4"], cap) == pytest.approx(seam_mm(was["4"], cap), abs=2.6)
    assert not [f for f in done.findings if f.code.startswith("seam")]


def test_a_cap_declared_as_one_edge_changes_by_its_height_and_the_hem_stays():
    sleeve = PieceShape(
        ((150, 0), (40, 90), (0, 180), (40, 270), (150, 360), (600, 300), (600, 60)),
        edges={"cap": (0, 4), "front seam": (4, 5), "hem": (5, 6), "back seam": (6, 0)},
    )
    body = PieceShape(
        ((0, 60), (30, 160), (200, 220), (500, 220), (500, 0), (80, 0)),
        edges={"shoulder": (0, 1), "armhole": (1, 2), "side": (2, 3), "hem": (3, 4)},
    )
    pieces = [AlterPiece("s", sleeve), AlterPiece("f", body), AlterPiece("b", body)]
    meant = seam_mm(pieces[0], "cap") - 2 * seam_mm(pieces[1], "armhole")
    seams = [
        Seam(("s", "cap"), ("f", "armhole"), meant, (), (("b", "armhole"),), "cap ease"),
        Seam(("f", "side"), ("b", "side")),
        Seam(("f", "shoulder"), ("b", "shoulder")),
    ]
    # the armholes grow by moving the sides out: the cap must follow, the sleeve's hem must not
    done = alter(pieces, seams, [Alteration("side", "f", 12.0)])
    now = by_id(done)
    assert seam_mm(now["f"], "armhole") > seam_mm(pieces[1], "armhole") + 2
    assert hem_mm(now["s"]) == pytest.approx(hem_mm(pieces[0])) and abs(done.walked[0].off_mm) < 1.0


def test_widening_an_upper_arm_keeps_the_sleeve_as_long_as_it_was():
    pieces, seams = fit_pieces(overshirt.pattern(), "14")
    sleeve = next(p for p in pieces if p.id == "4")
    wide = by_id(alter(pieces, seams, [Alteration("upper-arm", "4", 40.0)]))["4"]
    for piece, xs in ((sleeve, []), (wide, [])):
        xs += [x for x, _ in piece.shape.outline]
        if piece is sleeve:
            length = max(xs) - min(xs)
        else:
            assert max(xs) - min(xs) == pytest.approx(length, abs=0.5)
    assert hem_mm(wide) == pytest.approx(hem_mm(sleeve), abs=0.1)


def coat(**lining):
    shell = PieceShape(
        ((0, 60), (30, 160), (200, 220), (700, 240), (700, 0), (80, 0)),
        edges={"shoulder": (0, 1), "armhole": (1, 2), "side": (2, 3), "hem": (3, 4)},
        levels={"waist": 400.0},
    )
    # drawn by itself: its own top lies at 100, and it is 30 mm shorter
    inner = replace(
        shell, outline=tuple((x + 100 - (30 if x == 700 else 0), y) for x, y in shell.outline), levels={"waist": 500.0}
    )
    pieces = (
        Piece("1", "Front", 2, mirrored=True, shapes={"M": shell}),
        Piece("2", "Front lining", 2, role="lining", mirrored=True, shapes={"M": inner}, **lining),
    )
    return Pattern("Coat", pieces=pieces)


@pytest.mark.parametrize("kind", ["length", "hem", "side", "shoulder"])
def test_a_lining_that_lies_behind_a_piece_follows_it_by_the_same_line(kind):
    changed, done = altered_pattern(
        coat(follows="1"), ["M"], [Alteration(kind, "1", 20.0, 450.0 if kind == "length" else None)]
    )
    shell, lining = (p.shapes["M"] for p in changed.pieces)
    was = [p.shapes["M"] for p in coat().pieces]
    grown = [
        max(v[0] for v in now.outline) - max(v[0] for v in old.outline)
        for now, old in zip((shell, lining), was, strict=True)
    ]
    assert grown[0] == pytest.approx(grown[1]) and (grown[0] == 20.0) is (kind in ("length", "hem"))
    if kind == "length":  # below the waist on both, though their own drawings begin elsewhere
        assert lining.levels["waist"] == pytest.approx(500.0) and shell.levels["waist"] == 400.0
    assert [f.piece for f in done["M"].followed] == ["2"] and not done["M"].findings


def test_a_lining_that_nothing_ties_to_an_altered_front_is_told_loudly():
    _, done = altered_pattern(coat(), ["M"], [Alteration("length", "1", 20.0, 450.0)])
    (loud,) = [f for f in done["M"].findings if f.code == "layer-not-tied"]
    assert loud.level == "stop" and "Front lining" in loud.text
    assert not altered_pattern(coat(), ["M"], [])[1]


def test_hems_are_compared_by_their_lengths_from_the_same_line():
    left = Alteration("hem", "1", 20.0, leave=("2",))
    _, done = altered_pattern(coat(follows="1"), ["M"], [left])
    (told,) = [f for f in done["M"].findings if f.code == "hems-apart"]
    assert "2 cm (3/4 in) higher" in told.text  # drawn 30 mm shorter, now 50 mm
