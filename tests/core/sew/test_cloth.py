"""What cloth can do: openings of known garments, orders that sewists use and orders that no cloth allows, and a second judge.

Which ways of working are sound is common practice, no source.
"""

import random

import pytest

from rowanseed.core.sew.cloth.acts import Act, Impossible
from rowanseed.core.sew.cloth.half_made import HalfMade
from rowanseed.core.sew.cloth.replay import replay, turns_of
from rowanseed.core.sew.cloth.rooms import Rooms
from rowanseed.core.sew.cloth.sheets import Page, Sheets
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.order import check_pieces, ordered, planned_pieces
from rowanseed.core.sew.pieces.unfold import unfold
from tests.core.sew.second_judge import Judge
from tests.core.sew.told_garments import GARMENTS, told


def loops(garment, left_open=()):
    """The loops of unsewn edges when every seam is sewn but those whose edges are named; as sets of edges."""
    sheets = unfold(garment).sheets
    caught = {
        line: frozenset(p.edge for p in pages)
        for line, pages in sheets.lines.items()
        if not any(name in page.edge for page in pages for name in left_open)
    }
    rooms = Rooms(sheets, caught)
    return {frozenset(rooms.loop(edge)) for edge in sheets.every if not rooms.sewn(edge)}


def names(loop):
    """A loop by the edges' names without which copy and part they are of."""
    return {edge.split(".")[0].split("@")[0] + "." + edge.split(".")[1].split("@")[0].split(":")[0] for edge in loop}


# The openings that each garment has when it is whole, as anyone sees it on the hanger: how many, and of which edges.
ON_THE_HANGER = {
    "jacket turned through a side": [{"lining-front.gap", "lining-back.gap"}] * 2,
    "trousers": [{"front.hem", "back.hem"}] * 2 + [{"front.waist", "back.waist"}],
    "T-shirt": [{"front.hem", "back.hem"}, {"sleeve.wrist"}, {"sleeve.wrist"}],
    "vest edge to edge": [{"lining-front.gap", "lining-back.gap"}] * 2,
    "dress with facings": [{"bodice-front.armhole", "bodice-back.armhole"}] * 2
    + [{"skirt-front.hem", "skirt-back.hem"}],
}


@pytest.mark.parametrize("name", ON_THE_HANGER)
def test_a_garment_has_the_openings_that_it_has_on_the_hanger(name):
    left = ("gap",) if "gap" in str(ON_THE_HANGER[name]) else ()
    found = [names(loop) for loop in loops(GARMENTS[name], left)]
    for expected in ON_THE_HANGER[name]:
        assert expected in found, (expected, found)
        found.remove(expected)
    # what is left is where a zip goes, and a facing's free edge
    assert all(any("zip" in edge or "outer" in edge for edge in loop) for loop in found), found


def test_pieces_told_the_other_way_round_give_the_same_openings():
    jacket = GARMENTS["jacket turned through a side"]

    def seen(garment):
        return sorted(sorted(names(loop)) for loop in loops(garment, ("gap",)))

    for k in range(len(jacket.pieces)):
        pieces = list(jacket.pieces)
        one = pieces[k]
        pieces[k] = type(one)(one.id, one.unit, one.layer, one.cut, one.edges[::-1], one.on_fold)
        turned = type(jacket)(tuple(pieces), jacket.seams, jacket.fates)
        assert seen(turned) == seen(jacket), one.id


@pytest.mark.parametrize("name", GARMENTS)
def test_each_garment_gets_an_order_that_cloth_allows_to_its_end(name):
    work, steps = ordered(StepsAsked(GARMENTS[name], True), ClothTraits(), 60)
    ids = [s.operation.id for s in steps]
    stopped, cloth = replay(work.unfolded.sheets, [work.acts[i] for i in ids])
    assert not stopped and not list(cloth.left())
    assert check_pieces(work, ids) == []


READ = {
    "princess dress lined bodice": "sew-front-princess sew-front-shoulder join-lining-front-armhole draw-through-lining-front"
    " sew-front-side-side join-front-waist insert-zip-back-zip",
    "vest edge to edge": "sew-lining-front-shoulder join-lining-front-neck draw-through-lining-front sew-front-side"
    " join-lining-front-hem turn-out-lining-front close-lining-front-gap",
    "trousers with fly, band, underlined": "baste-front-underlining dart-back-waist sew-front-side"
    " sew-front-crotch attach-band-low",
    "hooded jacket with pockets": "sew-hood-crown turn-hood-crown join-hood-neck",
    "pinafore lined, straps cut on": "sew-front-side join-lining-front-neck grade-lining-front-strap draw-through-lining-front",
    "raglan top, faced": "join-sleeve-raglan-front join-facing-neck grade-facing-neck understitch-facing-neck turn-facing-neck",
    "tank top, lined, closed all round": "join-lining-front-neck join-lining-front-armhole draw-through-lining-front"
    " sew-front-shoulder sew-front-side hem-front-hem",
    "cut-on sleeves, bias neck": "sew-front-shoulder bind-front-neck close-front-neck hem-front-hem",
}


@pytest.mark.parametrize("name", READ)
def test_orders_are_as_they_are_sewn(name):
    """Read as the person at the machine; common practice, no source."""
    _, steps = ordered(StepsAsked(GARMENTS[name], True), ClothTraits(), 60)
    ids = [s.operation.id for s in steps]
    places = [ids.index(id_) for id_ in READ[name].split()]
    assert places == sorted(places)


def sheets_of(garment):
    """A garment's sheets and lines as the second judge takes them."""
    sheets = unfold(garment).sheets
    lines = {line: [("+" if p.up else "-") + p.edge for p in pages] for line, pages in sheets.lines.items()}
    return {sheet: list(edges) for sheet, edges in sheets.edges.items()}, lines


@pytest.mark.parametrize("name", GARMENTS)
def test_a_second_judge_says_the_same_of_shuffled_orders(name):
    """Openings are taken as wide enough here: the second judge does not measure."""
    work = planned_pieces(StepsAsked(GARMENTS[name], True))
    wide = Sheets(
        {s: dict.fromkeys(e, 500.0) for s, e in work.unfolded.sheets.edges.items()}, work.unfolded.sheets.lines
    )
    acts = work.acts
    _, steps = ordered(StepsAsked(GARMENTS[name], True), ClothTraits(), 60)
    ids = [s.operation.id for s in steps]
    stopped = 0
    for seed in range(12):
        rng = random.Random(f"{name} {seed}")
        order = list(ids)
        for _ in range(rng.choice((0, 1, 1, 2, 3, 20))):
            order.insert(rng.randrange(len(order)), order.pop(rng.randrange(len(order))))
        turns = turns_of([acts[i] for i in order])
        cloth, judge = HalfMade(wide, turns), Judge(*sheets_of(GARMENTS[name]), turns)
        for id_ in order:
            act, cause = acts[id_], ""
            try:
                cloth.do(act)
            except Impossible as impossible:
                cause = impossible.obstacle.cause
            assert judge.refuses(act.verb, act.way, act.on, act.catches, act.channels) == cause, (seed, id_, order)
            if cause:
                stopped += 1
                break
    assert stopped  # the shuffles are not all harmless


def verdict(name, moves):
    """What the check says of a garment's order with some steps moved to just before (<) or after (>) others."""
    work, steps = ordered(StepsAsked(GARMENTS[name], True), ClothTraits(), 60)
    ids = [s.operation.id for s in steps]
    for move in moves.split("; "):
        id_, where, other = move.split()
        ids.remove(id_)
        ids.insert(ids.index(other) + (where == ">"), id_)
    return check_pieces(work, ids)


JACKET, FACED = "jacket turned through a side", "dress with facings"
# garment, then the steps that are moved: what, before or after, which
IMPOSSIBLE = {
    "the gap closed before all is turned": (JACKET, "close-lining-front-gap < turn-out-front-facing"),
    "clipped inside the closed bag": (JACKET, "grade-front-facing-neck > close-lining-front-gap"),
    "eased once it is set": (JACKET, "ease-sleeve-cap-front > join-sleeve-cap-front"),
    "darted under the band": ("skirt", "dart-front-waist > attach-band-low"),
    "gathered under the band": ("apron with ties", "gather-apron-waist > attach-band-low"),
    "collar turned in the closed stand": ("shirt", "turn-collar-outer > join-stand-top"),
    "cuff turned once it is sewn on": ("shirt", "turn-cuff-outer > attach-cuff-wrist"),
    "sides closed before neck and armholes are turned": (
        "princess dress lined bodice",
        "sew-front-side-side < draw-through-lining-front",
    ),
    "shoulders of a closed top sewn before it is turned": (
        "tank top, lined, closed all round",
        "sew-front-shoulder < join-lining-front-neck; sew-lining-front-shoulder < join-lining-front-neck",
    ),
    "understitched before the facing is sewn": (FACED, "understitch-facing-front-neck < join-facing-front-neck"),
}
SOUND = {
    "hem before the band": ("skirt", "press-hem-front-hem < attach-band-low; hem-front-hem > press-hem-front-hem"),
    "crotch before the inseams": ("trousers", "sew-front-crotch < sew-front-inseam"),
    "sleeves before the sides": ("T-shirt", "join-sleeve-cap < sew-front-side"),
    "lining and facing first": (
        JACKET, "join-back-facing-outer > sew-front-facing-shoulder; join-front-facing-inner > sew-front-facing-shoulder"),
    "wrists last of all inside": (
        JACKET, "press-lining-sleeve-wrist < turn-out-front-facing; join-lining-sleeve-wrist < press-lining-sleeve-wrist"),
    "seams pressed at the end": ("skirt", "press-front-side < final-press"),
    "facing hemmed first": (FACED, "hem-facing-front-outer < join-facing-front-neck"),
    "the waist before the zip": (FACED, "insert-zip-bodice-back-zip > press-skirt-front-waist"),
}  # fmt: skip


@pytest.mark.parametrize("case", IMPOSSIBLE)
def test_what_no_cloth_allows_is_a_stop_that_says_what_to_unpick(case):
    found = verdict(*IMPOSSIBLE[case])
    stops = [f for f in found if f.level == "stop"]
    assert stops and all(f.kind == "physics" for f in stops), found
    assert any("unpicked" in f.text or "not there" in f.text for f in stops)


@pytest.mark.parametrize("case", SOUND)
def test_what_sewists_do_is_never_a_stop(case):
    assert not [f for f in verdict(*SOUND[case]) if f.level == "stop"]


def strap(width):
    """A strap sewn along one side, to be turned through its open end: lengths in cm."""
    line = (Page("strap.long-a", True), Page("strap.long-b", False))
    open_ = frozenset({"strap.end", "strap.root"})
    edges = {"long-a": 40.0, "end": width, "long-b": 40.0, "root": width}
    sheets = Sheets({"strap": edges}, {"long": line}, left_open=open_, measured=True)
    return replay(sheets, [Act("sew", "join", ("long",)), Act("turn", "turn", ("long",))])


def test_a_narrow_strap_is_turned_through_its_own_end():
    assert not strap(2.0)[0] and not strap(6.0)[0]


def test_a_bag_closed_on_all_sides_by_plain_rows_cannot_be():
    bag = told("a pocket shell 1 x y\nb pocket shell 1 x y", "a.x = b.x\na.y = b.y")
    sheets = unfold(bag).sheets
    (first, second) = sheets.lines
    stopped, _ = replay(sheets, [Act("1", "join", (first,)), Act("2", "join", (second,))])
    assert [(s.act.id, s.obstacle.cause) for s in stopped] == [("2", "turn")]
    assert not replay(
        sheets, [Act("1", "join", (first,)), Act("t", "turn", (first,)), Act("2", "close", (second,), "hand")]
    )[0]


def test_backing_goes_on_before_the_first_seam():
    sheets = Sheets({"front": {"side": 40.0, "rest": 60.0}, "back": {"side": 40.0, "rest": 60.0}},
                    {"side": (Page("front.side", True), Page("back.side", False))}, frozenset({"front"}),
                    frozenset({"front.rest", "back.rest"}))  # fmt: skip
    late = [Act("sew", "join", ("side",)), Act("fuse", "fuse", ("front",))]
    assert [s.obstacle.cause for s in replay(sheets, late)[0]] == ["layers"]
    assert not replay(sheets, late[::-1])[0]


def test_a_binding_cut_back_after_its_second_row_is_out_of_reach():
    band = told("apron skirt shell 1 waist rest\nband waistband shell 1 low end-a top end-b", "+band.low +apron.waist -band.top",
                "apron.rest hem\nband.end-a enclosed\nband.end-b enclosed")  # fmt: skip
    sheets = unfold(band).sheets
    (line,) = sheets.lines
    first = frozenset({"band.low", "apron.waist"})
    order = [
        Act("1", "attach", (line,), catches=first),
        Act("trim", "trim", (line,)),
        Act("2", "close", (line,), "edge"),
    ]
    assert not replay(sheets, order)[0]
    assert not replay(sheets, [order[0], order[2]])[0]
