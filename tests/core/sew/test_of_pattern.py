"""A pattern's pieces as the sewing engine takes them: read on the demo's garments and on drafts with odd edges."""

from dataclasses import replace

import pytest

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.fates import EdgeFate, key_of_edge
from rowanseed.core.pattern.model import Pattern, Piece, Seam
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.pieces.filled import filled
from rowanseed.core.sew.pieces.likely import ENDS, likely_ends, likely_mates, said_as
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.of_pattern import garment_of_pattern
from rowanseed.core.sew.pieces.order import check_pieces, ordered
from rowanseed.core.sew.pieces.said import Said
from rowanseed.demo import overshirt, trousers, waistcoat


def told(module, **fates):
    pattern = replace(module.pattern(), fates=fates)
    return garment_of_pattern(pattern, pattern.views[0].name, pattern.size_names()[2])


def test_the_demo_s_pieces_are_parts_of_what_they_are():
    units = {p.id: (p.unit, p.layer) for p in told(overshirt).garment.pieces}
    assert (
        units["back"] == ("body", "shell") and units["back-yoke"][0] == "yoke" and units["collar-stand"][0] == "stand"
    )
    assert units["collar-interfacing"] == ("collar", "interfacing") and units["chest-pocket"][0] == "pocket"
    units = {p.id: p.unit for p in told(trousers).garment.pieces}
    assert units == {"front": "leg", "back": "leg", "back-pocket": "pocket", "pocket-flap": "flap"}
    layers = {p.id: p.layer for p in told(waistcoat).garment.pieces}
    assert (
        layers["front-lining"] == "lining"
        and layers["front"] == "shell"
        and layers["front-interfacing"] == "interfacing"
    )


def test_a_cap_that_is_declared_in_halves_is_set_in_one_row():
    g = told(overshirt).garment
    cap = next(s for s in g.seams if "sleeve.cap-front" in s.edges)
    assert set(cap.edges) == {
        "sleeve.cap-front",
        "sleeve.cap-back",
        "front.armhole",
        "back.armhole",
        "back-yoke.armhole",
    }
    assert len(cap.pages) == 2


@pytest.mark.parametrize("module", [overshirt, trousers, waistcoat])
def test_what_is_likeliest_makes_a_whole_garment_in_a_sound_order(module):
    pattern = module.pattern()
    view = pattern.views[0]
    size = pattern.size_names()[2]
    for _ in range(60):
        own = garment_of_pattern(pattern, view.name, size)
        said = Said(view.features)
        whole = filled(own.garment, said)
        if not whole.open:
            break
        edge = whole.open[0]
        number, name = own.edges[edge]
        sure = [other for other, known in likely_mates(own.garment, edge) if known and own.edges[other][1]]
        if sure:
            pattern = replace(pattern, seams=(*pattern.seams, Seam((number, name), own.edges[sure[0]])))
        else:
            fate = ENDS[likely_ends(own.garment, edge)[0]][1]
            pattern = replace(
                pattern, fates={**pattern.fates, key_of_edge(number, name or edge.rpartition(".")[2]): fate}
            )
    assert whole.open == []
    work, steps = ordered(StepsAsked(whole, True, said=said), ClothTraits(), 60)
    found = check_pieces(work, [s.operation.id for s in steps])
    assert not [f.text for f in found if f.level == "stop"]


def square(name, edges, cut=1, size=400.0, **more):
    shape = PieceShape(((0.0, 0.0), (0.0, size), (size, size), (size, 0.0)), edges=edges)
    return Piece(more.pop("number", name), name, cut, shapes={"M": shape}, **more)


def test_a_stretch_without_a_name_is_an_edge_that_is_asked_about_and_kept_by_its_word():
    pattern = Pattern("Apron", garment="skirt", pieces=(square("Apron", {"waist": (0, 1)}),))
    own = garment_of_pattern(pattern, "A", "M")
    assert [p.edges for p in own.garment.pieces] == [("waist", "edge")] and own.garment.open == [
        "apron.waist",
        "apron.edge",
    ]
    assert own.garment.pieces[0].lengths == pytest.approx({"waist": 40.0, "edge": 120.0})
    kept = replace(pattern, fates={"Apron|edge": EdgeFate("hem", "double")})
    assert garment_of_pattern(kept, "A", "M").garment.open == ["apron.waist"]


def test_a_centre_seam_joins_both_copies_and_a_zip_takes_its_upper_part():
    edges = {"side": (1, 2), "centre": (3, 0), "waist": (0, 1), "hem": (2, 3)}
    pattern = Pattern("Skirt", garment="skirt", pieces=(square("Skirt back", edges, cut=2, size=600.0, mirrored=True),))
    seamed = replace(pattern, fates={"Skirt back|centre": EdgeFate("joined", "mirror")})
    g = garment_of_pattern(seamed, "A", "M").garment
    assert [s.edges for s in g.seams] == [("skirt-back.centre-back",)] and "zip" not in g.pieces[0].edges
    zipped = replace(pattern, fates={"Skirt back|centre": EdgeFate("joined", "zip-above")})
    own = garment_of_pattern(zipped, "A", "M")
    piece = own.garment.pieces[0]
    assert piece.lengths["zip"] == pytest.approx(20.0) and piece.lengths["centre-back"] == pytest.approx(40.0)
    assert all(x <= 200.0 + 1e-6 for x, _ in own.points["skirt-back.zip"])  # the top is where x is least
    assert piece.edges.index("zip") == (piece.edges.index("centre-back") + 1) % len(piece.edges)
    assert said_as(own.said["skirt-back.centre-back"]) == "zip"


def test_pieces_of_one_name_stay_apart():
    pattern = Pattern(
        "Two", pieces=(square("Front", {"side": (0, 1)}, number="1"), square("Front", {"side": (0, 1)}, number="2"))
    )
    assert [p.id for p in garment_of_pattern(pattern, "A", "M").garment.pieces] == ["front", "front-2"]


def test_a_lining_s_edges_are_offered_to_those_of_its_shell_and_a_hem_sewn_to_it_is_not_left_raw():
    own = told(waistcoat)
    mates = dict(likely_mates(own.garment, "front.hem"))
    assert mates["front-lining.hem"] is True and not mates.get("back.hem")
    assert not dict(likely_mates(own.garment, "front-lining.shoulder")).get("front.shoulder")
    whole = filled(own.garment, Said({"hem": "none", "lining": "bagged"}))
    assert whole.fates["front.hem"].ending == "open"
    shell = {p.id for p in own.garment.pieces if p.layer == "shell"}
    bare = replace(
        own.garment,
        pieces=tuple(p for p in own.garment.pieces if p.id in shell),
        fates={e: f for e, f in own.garment.fates.items() if e.rpartition(".")[0] in shell},
    )
    assert filled(bare, Said({"hem": "none"})).fates["front.hem"].ending == "raw"
