"""Units, edges and seams of garments by their features, how each seam is finished, what is settled, and what a view proposes."""

from dataclasses import replace

import pytest

from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.pattern.model import Piece, Seam
from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.declared import declared_seams
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.instances import operations_of
from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.order import covered_by, sequence
from rowanseed.core.sew.proposals import proposals
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.formats.sewing import starting_points
from tests.core.sew.test_library import LIBRARY
from tests.core.sew.test_order import broken

UNITS = [
    ({"waist": "band"}, "skirt waistband"),
    ({"legs": "trousers", "waist": "casing"}, "leg"),
    ({"neck": "facing", "sleeve": "set-in", "cuff": "band"}, "body sleeve cuff facing"),
    ({"neck": "facing", "waist-seam": "joined"}, "bodice skirt facing"),
    ({"neck": "facing", "armhole": "facing", "legs": "trousers"}, "bodice leg facing"),
    ({"collar": "two-piece", "front": "band"}, "body collar stand facing"),
    ({"collar": "hooded", "sleeve": "raglan"}, "body sleeve hood"),
    ({"sleeve": "dolman", "neck": "binding"}, "body binding"),
    ({"waist": "band", "lining": "waist"}, "skirt waistband lining.skirt"),
    ({"collar": "notched", "sleeve": "two-piece", "lining": "bagged"}, "body sleeve collar facing lining.body lining.sleeve"),
    ({"shirring": "panel", "straps": "sewn", "waist-seam": "joined"}, "bodice skirt strap panel"),
    ({"waist": "yoke", "pocket": "patch"}, "skirt yoke facing pocket"),
]  # fmt: skip


@pytest.mark.parametrize(("features", "units"), UNITS, ids=[units for _, units in UNITS])
def test_a_description_makes_its_units(features, units):
    found = assembled(LIBRARY, SewnGarment(features)).units
    # without sleeves the armholes are faced: that is a facing too
    assert set(found) == set(units.split())


def test_pairs_meet_and_seams_know_where_they_end():
    found = assembled(LIBRARY, SewnGarment({"neck": "facing", "sleeve": "set-in"}, schools={"sleeve-setting": "flat"}))
    assert set(found.joints) == {"sleeve.cap+body.armhole"}
    assert set(found.ends()["body.shoulder"]) == {"body.neck", "body.armhole"}
    assert set(found.ends()["body.side"]) == {"body.armhole", "body.hem"}
    assert ("body.armhole", "body.side") in found.last and found.units["body"].seams["side"].things == (
        "body.side",
        "sleeve.underarm",
    )
    assert not found.has("body.waist") and found.has("sleeve.cap+body.armhole") and not found.has("hood.neck+body.neck")


FINISHES = [
    ({"seam-finish": "overlocked"}, {}, "body.side", "edges-first"),
    ({"seam-finish": "overlocked"}, {"seam-pressing": "together"}, "body.side", "together"),
    ({"seam-finish": "french"}, {}, "body.side", "french"),
    ({"seam-finish": "french", "panels": "princess"}, {}, "body.princess", "together"),  # a curve that must lie open
    ({"seam-finish": "french", "vent": "slit"}, {}, "body.side", "edges-first"),  # the slit's edges open
    ({"seam-finish": "flat-felled"}, {}, "sleeve.cap+body.armhole", "felled"),
    ({"seam-finish": "bound"}, {}, "sleeve.cap+body.armhole", "bound-together"),
    ({"seam-finish": "overlocked-seam"}, {}, "sleeve.cap+body.armhole", "one-pass"),
    ({"yoke": "double"}, {}, "body.yoke", "yoked"),
    ({"lining": "bagged"}, {}, "body.side", "bare"),
    ({"lining": "free", "seam-finish": "french"}, {}, "lining.body.side", "french"),
]


@pytest.mark.parametrize(("features", "schools", "thing", "method"), FINISHES)
def test_each_seam_is_finished_in_its_way(features, schools, thing, method):
    base = {"neck": "facing", "sleeve": "set-in", **features}
    found = assembled(LIBRARY, SewnGarment(base, schools={"sleeve-setting": "flat", **schools}))
    assert next(s.method for s in found.seams() if s.thing == thing) == method


SETTLED = [
    ({"collar": "notched"}, "A notched collar needs a faced front."),
    ({"front": "facing", "closure": "lapped-zip"}, "separating one down the front"),
    ({"lining": "edge-to-edge", "sleeve": "set-in"}, "taken as bagged"),
    ({"lining": "sewn-in", "waist": "band"}, "joined at the waist"),
    ({"neck": "combined-facing", "sleeve": "set-in"}, "needs bare armholes"),
    ({"waist-seam": "joined", "waist": "band"}, "its other finish is left out"),
    ({"hem": "double"}, "Describe the rest."),
    (
        {"neck": "combined-facing", "closure": "invisible-zip", "zip-at": "side", "waist-seam": "joined"},
        "at the centre back",
    ),
    ({"lining": "bagged", "sleeve": "set-in"}, "folded once and caught by hand"),
    ({"lining": "edge-to-edge", "shaping": "darts"}, "no opening cannot be turned"),
    ({"lining": "bagged", "shaping": "darts"}, "no opening cannot be turned"),
    ({"lining": "edge-to-edge", "front": "lined"}, "both sides open: the lining is taken as bagged"),
    (
        {"front": "lined", "collar": "one-piece", "lining": "bagged", "sleeve": "set-in"},
        "The open front is taken as faced",
    ),
]


def test_elastic_at_the_legs_stays_where_the_front_opens():
    # Common practice, no source: a romper's legs are closed tubes, whatever opens above them.
    romper = {"legs": "trousers", "waist-seam": "joined", "neck": "binding", "closure": "snaps", "hem": "elastic"}
    assert assembled(LIBRARY, SewnGarment(romper)).garment.features["hem"] == "elastic"


@pytest.mark.parametrize(("features", "words"), SETTLED)
def test_what_is_open_or_contradicts_is_settled_and_said(features, words):
    found = assembled(LIBRARY, SewnGarment(features))
    assert any(words in said for said in found.taken), found.taken


@pytest.mark.parametrize("start", starting_points(), ids=lambda start: start.name)
def test_every_starting_point_is_a_whole_garment(start):
    garment = SewnGarment(start.features, frozenset({"overlocker", "buttonhole-foot"}))
    steps = [step.operation for step in sequence(LIBRARY, garment, lambda op: {})]
    assert broken(check_order(LIBRARY, garment, [op.id for op in steps])) == []
    assembly = assembled(LIBRARY, garment)
    joined = {thing for op in steps if op.verb == "join" for thing in op.on}
    assert {s.thing for s in assembly.seams()} <= joined  # every seam is sewn
    assert not assembly.taken, assembly.taken


def test_every_edge_of_a_garment_is_used_in_the_end():
    # complete: each raw edge of shell and lining is joined, hemmed, faced, bound, banded or enclosed
    for one in [start.features for start in starting_points()]:
        assembly = assembled(LIBRARY, SewnGarment(one, frozenset({"overlocker"})))
        used = {e for op in operations_of(LIBRARY, assembly) for thing in op.on for e in thing.split("+")
                if op.verb in ("join", "attach", "bind", "face", "hem", "insert", "close")}  # fmt: skip
        for unit in assembly.units.values():
            if unit.kind in ("body", "bodice", "skirt", "leg", "sleeve"):
                raw = {f"{unit.name}.{edge}" for edge in unit.edges} - {
                    f"{unit.name}.crotch",
                    f"{unit.name}.front-edge",
                }
                assert raw <= used, (one, raw - used)


def test_what_is_covered_is_only_what_is_joined_by_then():
    garment = SewnGarment({"waist": "band", "lining": "waist", "hem": "double"}, frozenset({"overlocker"}))
    steps = [step.operation for step in sequence(LIBRARY, garment, lambda op: {})]
    covers = covered_by(assembled(LIBRARY, garment), steps)
    assert set(covers["sew-hem"]) == {"skirt.hem", "skirt.side"}
    first = [op for op in steps if op.id == "sew-hem"] + [op for op in steps if op.id != "sew-hem"]
    assert set(covered_by(assembled(LIBRARY, garment), first)["sew-hem"]) == {"skirt.hem"}


@pytest.mark.parametrize(
    ("pattern", "view", "wanted"),
    [
        (
            overshirt.pattern(),
            "A",
            {("collar", "two-piece"), ("yoke", "plain"), ("sleeve", "set-in"), ("front", "band")},
        ),
        (trousers.pattern(), "A", {("pocket", "patch-flap")}),
        (waistcoat.pattern(), "A", set()),
    ],
)
def test_the_demo_patterns_propose_what_they_have_each_with_its_reason(pattern, view, wanted):
    found = proposals(pattern.pieces_of(view), "", pattern.notions, {})
    assert wanted <= {(p.feature, p.choice) for p in found}
    assert all(p.reason.endswith(".") and len(p.reason) > 12 for p in found)
    assert len({p.feature for p in found}) == len(found)
    described = {p.feature: p.choice for p in found}
    assert proposals(pattern.pieces_of(view), "", pattern.notions, described) == []


def test_shapes_and_words_propose_too():
    dart = PieceShape(
        ((0, 0), (0, 100), (100, 100), (100, 0)),
        lines=(Line("dart", ((0, 40), (50, 50), (0, 60))),),
        edges={"inseam": (1, 2)},
    )
    found = {
        p.feature: p
        for p in proposals((Piece("1", "Front", 2, shapes={"": dart}),), "with pleats", "1 invisible zip", {})
    }
    assert found["shaping"].choice == "darts" and "a dart" in found["shaping"].reason
    assert found["legs"].choice == "trousers" and found["closure"].choice == "invisible-zip"


def test_a_back_cut_as_a_pair_without_a_fold_has_a_seam_down_its_middle():
    half = PieceShape(((0, 0), (0, 200), (600, 250), (600, 0)), edges={"neck": (0, 1), "side": (1, 2), "hem": (2, 3)})
    pair = proposals((Piece("2", "Back", 2, mirrored=True, shapes={"": half}),), "", "", {})
    assert ("centre-seam", "sewn") in {(p.feature, p.choice) for p in pair}
    folded = PieceShape(half.outline, fold_edge=((600.0, 0.0), (0.0, 0.0)), edges=half.edges)
    assert not proposals((Piece("2", "Back", 1, mirrored=False, shapes={"": folded}),), "", "", {})


def test_an_unlined_coat_leaves_no_raw_edge_inside_and_finishes_none_twice():
    coat = {"collar": "one-piece", "front": "facing", "closure": "buttons", "sleeve": "raglan", "pocket": "side-seam",
            "seam-finish": "hong-kong", "hem": "bound"}  # fmt: skip
    steps = [
        step.operation for step in sequence(LIBRARY, SewnGarment(coat, frozenset({"walking-foot"})), lambda op: {})
    ]
    ids = [op.id for op in steps]
    assert ids.index("finish-pocket-bags") < ids.index("sew-side-pocket-bags")
    assert ids.count("finish-sleeve-edge") == 1  # its hem is folded once, over an edge bound as the seams are
    clipped = {op.id for op in steps if "clip" in op.does.numbers}
    assert clipped == {"clip-neck"}


def titles(features, schools=None, declared=()):
    garment = SewnGarment(features, frozenset({"buttonhole-foot"}), schools or {}, declared=declared)
    steps = sequence(LIBRARY, garment, lambda op: {})
    assert broken(check_order(LIBRARY, garment, [s.operation.id for s in steps])) == []
    return [s.operation.title for s in steps], [s.operation for s in steps]


def in_order(found, *words):
    places = [next(k for k, title in enumerate(found) if word in title) for word in words]
    return places == sorted(places)


def test_a_zip_in_the_side_leaves_one_side_seam_for_it():
    # Common practice, no source: the right side is sewn whole, the left one below (and above) the zip.
    skirt, ops = titles({"waist": "band", "closure": "invisible-zip", "zip-at": "side", "lining": "waist"})
    assert in_order(skirt, "invisible zip", "upward to the zip", "Sew the waistband on")
    assert in_order(skirt, "right side seam", "Sew the waistband on") and not any("centre" in t for t in skirt)
    assert {"skirt.side", "skirt.left-side"} <= {thing for op in ops if op.verb == "join" for thing in op.on}
    dress = {"waist-seam": "joined", "closure": "lapped-zip", "zip-at": "side", "neck": "facing", "sleeve": "set-in"}
    order, _ = titles(dress, {"sleeve-setting": "flat"})
    assert in_order(order, "Sew the facing to the neck", "lapped zip")  # it does not end at the neck
    assert in_order(
        order, "Set the sleeves in flat", "right side and sleeve seam", "Join bodice and skirt", "lapped zip"
    )
    trousers_, _ = titles({"legs": "trousers", "waist": "facing", "closure": "invisible-zip", "zip-at": "side"})
    assert in_order(trousers_, "invisible zip", "waist facing") and in_order(
        trousers_, "crotch seam", "Turn and press the waist facing"
    )


def test_a_facing_speaks_of_a_zip_only_where_one_ends_at_it():
    def checks(features):
        _, ops = titles({"neck": "facing", "waist-seam": "joined", **features})
        return " ".join(next(op for op in ops if op.id == "sew-neck-facing").does.checks)

    assert "At the zip" in checks({"closure": "invisible-zip"})
    assert "zip" not in checks({}) + checks({"closure": "invisible-zip", "zip-at": "side"})


def test_a_waistband_in_halves_is_closed_by_the_seat_seam():
    # Trousers as tailors sew them, common practice: each half on its leg, the seat seam last, through both, then the fold.
    order, _ = titles({"legs": "trousers", "waist": "band", "closure": "fly"}, {"waistband-cut": "halves"})
    assert in_order(order, "fly's mark", "Sew the waistband on", "seat seam", "Sew the band's ends")
    whole, _ = titles({"legs": "trousers", "waist": "band", "closure": "fly"})
    assert in_order(whole, "crotch seam", "Sew the waistband on")


def test_a_sleeve_cut_with_the_yoke_is_joined_before_the_sides():
    order, ops = titles({"sleeve": "yoke-sleeve", "neck": "binding", "cuff": "hem"})
    assert in_order(order, "seams of the sleeves with their yoke", "side and sleeve seams, each in one run")
    assert in_order(order, "seams of the sleeves with their yoke", "binding to the neck")
    assert not any("shoulder seams" in title for title in order) and all("armhole" not in "".join(op.on) for op in ops)


def test_below_a_felled_lining_the_hem_is_folded_once_by_hand_and_its_edge_left_raw():
    # Tailoring, common practice: the lining hides the edge, a second fold would show as a ridge.
    jacket = {
        "front": "facing",
        "collar": "notched",
        "sleeve": "two-piece",
        "lining": "sewn-in",
        "seam-finish": "pinked",
    }
    order, _ = titles(jacket, {"lining-joining": "by-hand"})
    assert "Sew the hem by hand" in order and "Sew the hem" not in order
    assert in_order(order, "Sew the hem by hand", "Fell the lining to the hem")
    assert not any("raw edge of the hem" in title for title in order)


def princess_pieces():
    outline = ((0.0, 0.0), (0.0, 100.0), (300.0, 100.0), (300.0, 0.0))
    edges = {"armhole": (0, 1), "panel": (1, 2), "hem": (2, 3), "centre": (3, 0)}
    shape = PieceShape(outline, edges=edges, allowance_mm=15.0)
    return [(Piece(n, name, 2, mirrored=True, shapes={"M": shape}), shape)
            for n, name in (("1", "Front"), ("2", "Side front"), ("3", "Back"), ("4", "Belt tab"))]  # fmt: skip


def test_a_seam_that_the_pattern_declares_is_sewn_though_no_feature_names_it():
    seams = (
        Seam(("1", "panel"), ("2", "panel")),
        Seam(("3", "centre"), ("3", "centre")),
        Seam(("1", "hem"), ("4", "hem")),
    )
    declared = declared_seams(princess_pieces(), seams)
    assert [(d.unit, d.name, set(d.ends)) for d in declared] == [("top", "panel", {"armhole", "hem"})]
    features = {"neck": "binding", "armhole": "binding", "hem": "double"}
    order, ops = titles(features, declared=declared)
    assert in_order(order, "Sew the panel seams", "Press the panel seams", "Sew the hem")
    assert in_order(order, "Sew the panel seams", "binding to the armholes")
    assert len([op for op in ops if op.verb == "join" and "body.panel" in op.on]) == 1
    assert not any("panel" in title for title in titles(features)[0])


def test_a_declared_seam_of_an_unusual_name_is_called_by_its_pieces():
    seams = (Seam(("1", "panel"), ("2", "armhole")),)
    (declared,) = declared_seams(princess_pieces(), seams)
    assert "Front and Side front" in declared.words and declared.unit == "top"
    odd = replace(declared, name="zigzag")
    order, _ = titles({"neck": "binding", "armhole": "binding"}, declared=(odd,))
    assert any("seam of Front and Side front" in title for title in order)


def test_a_hanging_lining_is_felled_round_the_vent_once_both_hems_are_up():
    # Common practice, no source: the vent is whole, its corner mitred, before the lining is laid round it.
    order, _ = titles({"waist": "band", "closure": "lapped-zip", "vent": "vent", "lining": "waist", "hem": "blind"})
    assert in_order(order, "Stitch the vent's top", "fell them round the vent") and in_order(
        order, "Hem the lining", "round the vent"
    )
    assert not any("round the vent" in t for t in titles({"waist": "band", "vent": "slit", "lining": "waist"})[0])


def test_the_seam_of_a_yoke_is_sewn_once_whatever_its_edges_are_called():
    pattern = overshirt.pattern()
    own = [(p, p.shapes["14"]) for p in pattern.pieces_of("A") if "14" in p.shapes]
    declared = declared_seams(own, pattern.seams)
    assert {"yoke", "side", "shoulder"} <= {d.name for d in declared} and "foot" not in {d.name for d in declared}
    order, _ = titles({"yoke": "double", "neck": "binding"}, declared=declared)
    assert [title for title in order if "yoke" in title.lower() and title.startswith("Sew")] == ["Sew the yoke seam"]


@pytest.mark.parametrize(
    ("piece", "edge", "name"),
    [
        ("Front", "Side seam", "side"), ("Front", "shoulder seam", "shoulder"), ("Back", "center back", "centre-back"),
        ("Back leg", "inside leg", "inseam"), ("Front leg", "outseam", "side"), ("Upper sleeve", "front seam", "inseam"),
        ("Under sleeve", "back seam", "underarm"), ("Back", "Centre seam", "centre-back"), ("Front", "centre", "centre-front"),
    ],
)  # fmt: skip
def test_a_pattern_s_own_word_for_an_edge_is_the_seam_that_the_garment_has(piece, edge, name):
    shape = PieceShape(((0, 0), (100, 0), (100, 50), (0, 50)), edges={edge: (0, 1)})
    pieces = [
        (Piece(str(k), words, 2, shapes={"M": shape}), shape) for k, words in enumerate((piece, f"Other {piece}"))
    ]
    (found,) = declared_seams(pieces, [Seam(("0", edge), ("1", edge))])
    assert found.name == name


def test_an_opening_at_the_back_is_proposed_by_the_envelope_s_words():
    found = {p.feature: p.choice for p in proposals((), "Child's smock, buttons down the back.", "", {})}
    assert found["opening-at"] == "back" and found["closure"] == "buttons"
    assert "opening-at" not in {p.feature for p in proposals((), "Shirt, buttons to the neck.", "", {})}
    wrapped = {p.feature: p.choice for p in proposals((), "Wrap dress with long ties, button at the cuff.", "", {})}
    assert wrapped["closure"] == "wrap"


@pytest.mark.parametrize(
    ("names", "feature"),
    [
        (("Sleeve", "Sleeve placket"), "sleeve-vent"),
        (("Sleeve", "Front placket"), "closure"),  # a polo's, to the chest
        (("Skirt front", "Placket"), "closure"),  # in the side seam, below the band
    ],
)
def test_a_placket_is_proposed_where_it_opens_something(names, feature):
    # Common practice, no source.
    pieces = [Piece(str(k), name, 1) for k, name in enumerate(names)]
    found = {p.feature for p in proposals(pieces, "", "", {}) if p.choice == "placket"}
    assert found == {feature}


def test_an_open_front_is_proposed_by_its_words():
    found = {p.feature: p.choice for p in proposals((), "Jacket, edge to edge, no fastening.", "", {})}
    assert found["front"] == "lined"
