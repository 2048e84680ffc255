"""Garments told by pieces and fates: read by hand as the person at the machine, and by properties over random ones.

What comes before what is common practice, no source.
"""

import random

import pytest

from rowanseed.core.errors import FeatureError
from rowanseed.core.pattern.fates import SHAPINGS, EdgeFate
from rowanseed.core.sew.model import ClothTraits
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.model import SewnPiece, StackedSeam, pieced
from rowanseed.core.sew.pieces.order import check_pieces, ordered
from rowanseed.core.sew.pieces.steps import steps_of


def seam(*pages):
    return StackedSeam(tuple(((page[1:],), page[0] == "+") for page in pages))


def apron():
    pieces = [SewnPiece("apron", "skirt", "shell", 1, ("waist", "left", "hem", "right")),
              SewnPiece("band", "waistband", "shell", 1, ("low", "end-left", "top", "end-right"))]  # fmt: skip
    fates = {"apron.waist": EdgeFate("joined", shaping=("cartridge",)), "apron.hem": EdgeFate("hem", "double", 25.4, 25.4),
             "apron.left": EdgeFate("selvage"), "apron.right": EdgeFate("selvage"), "band.end-left": EdgeFate("enclosed"),
             "band.end-right": EdgeFate("enclosed")}  # fmt: skip
    return pieced(pieces, [seam("+band.low", "+apron.waist", "-band.top")], fates)


def dress():
    """A body of front and back with sleeves set in the round and a neck facing."""
    body = ("neck", "shoulder-r", "armhole-r", "side-r", "hem", "side-l", "armhole-l", "shoulder-l")
    pieces = [SewnPiece("front", "body", "shell", 1, body), SewnPiece("back", "body", "shell", 1, body),
              SewnPiece("sleeve", "sleeve", "shell", 2, ("cap", "under-a", "wrist", "under-b")),
              SewnPiece("front-facing", "facing", "inner", 1, ("neck", "end-r", "outer", "end-l")),
              SewnPiece("back-facing", "facing", "inner", 1, ("neck", "end-r", "outer", "end-l"))]  # fmt: skip
    seams = [seam(f"+front.{e}", f"-back.{e}") for e in ("shoulder-r", "shoulder-l", "side-r", "side-l")]
    seams += [seam("+sleeve.under-a", "-sleeve.under-b"), seam("+front-facing.end-r", "-back-facing.end-r"),
              seam("+front-facing.end-l", "-back-facing.end-l"),
              seam("+sleeve.cap", "-front.armhole-r", "-back.armhole-r", "-front.armhole-l", "-back.armhole-l"),
              seam("+front-facing.neck", "+back-facing.neck", "-front.neck", "-back.neck")]  # fmt: skip
    fates = {"sleeve.cap": EdgeFate("joined", shaping=("ease",)), "front.hem": EdgeFate("hem"), "back.hem": EdgeFate("hem"),
             "sleeve.wrist": EdgeFate("hem", "narrow"), "front-facing.outer": EdgeFate("bind", width_mm=10.0),
             "back-facing.outer": EdgeFate("bind", width_mm=10.0)}  # fmt: skip
    return pieced(pieces, seams, fates)


def planned(garment, overlocker=True):
    return ordered(StepsAsked(garment, overlocker), ClothTraits(), 60)


def test_a_flat_apron_gets_no_seam_that_it_has_not():
    work, steps = planned(apron())
    ids = [s.operation.id for s in steps]
    assert not any(
        "side" in s.operation.title or "shoulder" in s.operation.title or "zip" in s.operation.title for s in steps[1:]
    )
    assert ids.index("cartridge-apron-waist") < ids.index("attach-band-low") and ids.index("fold-band") < ids.index(
        "attach-band-low"
    )
    attach = next(s.operation for s in steps if s.operation.id == "attach-band-low")
    assert attach.closes == ("waistband",) and "both layers" in attach.title
    assert not any(
        "left" in s.operation.id or "right" in s.operation.id for s in steps
    )  # selvages are left as they are
    assert any("2.5 cm (1 in) first" in s.operation.title for s in steps)
    assert check_pieces(work, ids) == []


def test_a_dress_is_sewn_in_an_order_that_practice_knows():
    work, steps = planned(dress())
    ids = [s.operation.id for s in steps]

    def at(*names):
        places = [ids.index(name) for name in names]
        assert places == sorted(places), names

    at("sew-front-shoulder-r", "finish-front-shoulder-r", "press-front-shoulder-r", "join-front-facing-neck")
    at(
        "sew-front-facing-end-r",
        "join-front-facing-neck",
        "grade-front-facing-neck",
        "understitch-front-facing-neck",
        "turn-front-facing-neck",
    )
    at("ease-sleeve-cap", "sew-sleeve-under-a", "join-sleeve-cap", "finish-sleeve-cap", "press-sleeve-cap")
    at("sew-front-side-r", "press-front-side-r", "press-hem-front-hem", "hem-front-hem")
    at("press-sleeve-under-a", "press-hem-sleeve-wrist", "hem-sleeve-wrist", "final-press")
    hem = next(s.operation for s in steps if s.operation.id == "hem-front-hem")
    assert hem.on == ("front.hem", "back.hem")  # one round, not two
    assert any("1 cm" in s.operation.title and "binding" in s.operation.title for s in steps)
    assert check_pieces(work, ids) == []


def test_a_gathered_edge_that_is_used_first_is_a_stop_and_a_seam_pressed_later_is_none():
    work, steps = planned(apron())
    ids = [s.operation.id for s in steps]
    late = [i for i in ids if i != "cartridge-apron-waist"]
    late.insert(late.index("attach-band-low") + 1, "cartridge-apron-waist")
    (found,) = [f for f in check_pieces(work, late) if f.needs == "cartridge-apron-waist" and f.level != "note"]
    assert (found.level, found.kind, found.law) == ("stop", "physics", "shape")
    work, steps = planned(dress())
    ids = [s.operation.id for s in steps]
    unpressed = [i for i in ids if i != "press-front-shoulder-r"] + ["press-front-shoulder-r"]
    assert all(f.level != "stop" for f in check_pieces(work, unpressed))


@pytest.mark.parametrize(
    ("pieces", "seams", "fates", "words"),
    [
        ([("a", "body", "x y")], [], {"a.z": EdgeFate("hem")}, "no edge “a.z”"),
        ([("a", "body", "x y"), ("a", "body", "x")], [], {}, "Two pieces"),
        ([("a", "body", "x y"), ("b", "body", "x y")], [("+a.x", "-b.x")], {"a.x": EdgeFate("hem")}, "lies in a seam"),
        ([("a", "body", "x y")], [], {"a.x": EdgeFate("joined")}, "no seam names it"),
        ([("a", "body", "x y")], [("+a.x", "-c.x")], {}, "no edge “c.x”"),
    ],
)
def test_what_does_not_go_together_is_refused_by_name(pieces, seams, fates, words):
    with pytest.raises(FeatureError, match=words):
        pieced([SewnPiece(n, u, "shell", 1, tuple(e.split())) for n, u, e in pieces], [seam(*s) for s in seams], fates)


def random_garment(rng):
    """Panels in a row, some closed to a ring, with a band on top, shapings and endings at random."""
    count = rng.randint(1, 5)
    pieces = [
        SewnPiece(f"p{k}", "skirt", "shell", rng.randint(1, 2), ("top", "side-r", "foot", "side-l"))
        for k in range(count)
    ]
    seams = [seam(f"+p{k}.side-r", f"-p{k + 1}.side-l") for k in range(count - 1)]
    if count > 1 and rng.random() < 0.6:
        seams.append(seam(f"+p{count - 1}.side-r", "-p0.side-l"))
    tops = [f"p{k}.top" for k in range(count)]
    if rng.random() < 0.6:
        pieces.append(SewnPiece("band", "waistband", "shell", 1, ("low", "end-r", "high", "end-l")))
        seams.append(seam("+band.low", *(f"+{top}" for top in tops), "-band.high"))
    sewn = {edge for s in seams for edge in s.edges}
    endings = ("hem", "bind", "face", "casing", "rib", "band", "selvage", "raw", "fold", "enclosed")
    fates = {}
    for piece in pieces:
        for edge in (f"{piece.id}.{name}" for name in piece.edges):
            shaping = tuple(rng.sample(SHAPINGS, rng.choice((0, 0, 0, 1, 2))))
            fates[edge] = EdgeFate("joined" if edge in sewn else rng.choice(endings), shaping=shaping)
    return pieced(pieces, seams, fates)


@pytest.mark.parametrize("seed", range(60))
def test_any_pieces_get_a_whole_and_sound_order(seed):
    garment = random_garment(random.Random(seed))
    work, steps = planned(garment, overlocker=seed % 2 == 0)
    ids = [s.operation.id for s in steps]
    assert len(set(ids)) == len(ids) == len(work.items) and check_pieces(work, ids) == []
    place = {id_: k for k, id_ in enumerate(ids)}
    done_to = {}
    for step in steps:
        for thing in step.operation.on:
            for edge in thing.split("+"):
                done_to.setdefault(edge, []).append(step.operation)
    for edge, fate in garment.fates.items():
        verbs = [op.verb for op in done_to.get(edge, ())]
        uses = {"joined": {"join", "attach"}, "hem": {"hem"}, "bind": {"bind"}, "face": {"face"}, "casing": {"make"},
                "rib": {"attach"}, "band": {"attach"}, "fold": {"fold"}}.get(fate.ending)  # fmt: skip
        if uses is not None:
            assert uses & set(verbs), (edge, fate)
            use = min(place[op.id] for op in done_to[edge] if op.verb in uses)
            assert all(
                place[op.id] < use for op in done_to[edge] if op.verb in SHAPINGS
            )  # its length comes from the shaping
        elif not fate.shaping:
            assert not verbs, (edge, fate, verbs)
    backwards = check_pieces(work, ids[::-1])
    assert any(f.level != "note" for f in backwards) or len(work.items) <= 3


@pytest.mark.parametrize("seed", range(20))
def test_every_fate_acts(seed):
    rng = random.Random(500 + seed)
    garment = random_garment(rng)
    before = {(op.id, op.title, op.on) for op, _ in steps_of(StepsAsked(garment)).items}
    edge = rng.choice([e for e, f in garment.fates.items() if f.ending != "joined"] or [""])
    if not edge:
        return
    acting = {"hem", "bind", "face", "casing", "rib"} - {garment.fates[edge].ending}
    for ending in sorted(acting):
        fates = {**garment.fates, edge: EdgeFate(ending, shaping=garment.fates[edge].shaping)}
        after = {
            (op.id, op.title, op.on)
            for op, _ in steps_of(StepsAsked(pieced(garment.pieces, garment.seams, fates))).items
        }
        assert after != before, (edge, ending)


@pytest.mark.parametrize("turned", [False, True])
def test_which_side_of_a_seam_with_a_stand_is_named_first_changes_nothing(turned):
    body = ("neck", "shoulder", "side", "hem", "cf")
    pieces = [SewnPiece("front", "body", "shell", 2, body), SewnPiece("back", "body", "shell", 1, body[:-1], True),
              SewnPiece("stand", "stand", "shell", 2, ("upper", "neck"), True),
              SewnPiece("collar", "collar", "shell", 2, ("neck", "end", "outer"), True)]  # fmt: skip
    neck = [(("front.neck", "back.neck"), True), (("stand.neck",), False)]
    seams = [seam("+front.shoulder", "-back.shoulder"), seam("+front.side", "-back.side"),
             StackedSeam(tuple(neck if not turned else [(c, not up) for c, up in neck[::-1]])),
             seam("+stand.upper", "-collar.neck"), seam("+collar.end", "-collar.end"),
             seam("+collar.outer", "-collar.outer")]  # fmt: skip
    fates = {e: EdgeFate("hem") for e in ("front.hem", "back.hem", "front.cf")}
    work, steps = planned(pieced(pieces, seams, fates))
    assert not check_pieces(work, [s.operation.id for s in steps])
