"""What is said beside pieces and fates acts on them, or is named: read as the person at the machine. Common practice, no source."""

import random

import pytest

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.model import ClothTraits, OwnStep
from rowanseed.core.sew.pieces.filled import filled
from rowanseed.core.sew.pieces.making import StepsAsked
from rowanseed.core.sew.pieces.order import check_pieces, ordered
from rowanseed.core.sew.pieces.said import Said
from tests.core.sew.told_garments import GARMENTS, told

PLAIN = ClothTraits()


def asked(name, *, tools=("overlocker",), own=(), schools=None, units=None, cloth=PLAIN, **features):
    said = Said(
        {k.replace("_", "-"): v for k, v in features.items()},
        units or {},
        schools or {},
        frozenset(tools),
        cloth,
        tuple(own),
    )
    return StepsAsked(filled(GARMENTS[name], said), "overlocker" in tools, said=said)


def sewn(name, **said):
    """The order as (work, ids, titles by id)."""
    work, steps = ordered(asked(name, **said), said.get("cloth", ClothTraits()), 60)
    return work, [s.operation.id for s in steps], {s.operation.id: s.operation.title for s in steps}


def comes(ids, *names):
    """Whether the first steps whose ids begin with these names come in this order."""
    places = [next(k for k, i in enumerate(ids) if i.startswith(name)) for name in names]
    return places == sorted(places)


def test_a_shirt_is_buttoned_once_its_front_neck_and_hem_are_done_and_its_stand_too():
    work, ids, titles = sewn("shirt", closure="buttons", interfacing="fusible")
    assert comes(ids, "fold-front-front-edge", "join-stand-neck", "buttonhole-front", "cut-front", "button-front")
    assert comes(ids, "hem-front-hem", "buttonhole-front") and comes(ids, "join-stand-neck", "buttonhole-stand")
    assert comes(ids, "fuse-interfacing", "sew-collar") and comes(ids, "fuse-interfacing", "join-stand-neck")
    assert "lengthwise" in titles["buttonhole-stand-end"] and "lengthwise" not in titles["buttonhole-front-front-edge"]
    assert check_pieces(work, ids) == []


def moved(ids, step, before):
    rest = [i for i in ids if i != step]
    rest.insert(rest.index(before), step)
    return rest


def stops(work, order):
    return {f.step for f in check_pieces(work, order) if f.level == "stop"} | {
        f.needs for f in check_pieces(work, order) if f.level == "stop"
    }


def test_a_buttonhole_needs_its_facing_behind_it_and_is_not_cut_before_it_is_sewn():
    work, ids, _ = sewn("jacket turned through a side", closure="buttons")
    hole, cut = "buttonhole-front-cf", "cut-front-cf"
    assert check_pieces(work, ids) == []
    assert hole in stops(work, moved(ids, hole, "join-front-facing-cf"))
    assert hole in stops(work, moved(ids, hole, "turn-out-front-facing"))
    assert cut in stops(work, moved(ids, cut, hole))
    assert not stops(work, moved(ids, "close-lining-front-gap", "final-press"))  # the gap may be closed last, by hand


def test_bound_buttonholes_are_made_before_their_facing_and_opened_through_it_after():
    _, ids, _ = sewn("jacket turned through a side", closure="buttons", buttonhole="bound")
    assert comes(ids, "make-bound-front", "join-front-facing-cf", "turn-out", "buttonhole-front", "button-front")
    assert not any(i.startswith("cut-") for i in ids)
    _, ids, _ = sewn("jacket turned through a side", closure="buttons", buttonhole="loops")
    assert comes(ids, "make-loops-front", "join-front-facing-cf", "turn-out", "button-front")
    assert not any(i.startswith("buttonhole") for i in ids)


def test_a_sleeve_set_flat_goes_in_before_side_and_underarm_are_sewn_in_one_run():
    _, ids, titles = sewn("shirt", schools={"sleeve-setting": "flat"})
    assert comes(ids, "join-sleeve-cap", "sew-front-side", "attach-cuff-wrist")
    assert "in one run" in titles["sew-front-side"] and not any(i.startswith("sew-sleeve-under") for i in ids)
    _, ids, _ = sewn("shirt")
    assert comes(ids, "sew-front-side", "join-sleeve-cap") and comes(ids, "sew-sleeve-under", "join-sleeve-cap")
    _, ids, _ = sewn("T-shirt", schools={"sleeve-setting": "flat"})
    assert comes(ids, "sew-front-side", "hem-sleeve-wrist")


@pytest.mark.parametrize(
    ("way", "said"),
    [
        ("french", ("wrong sides together", "raw edges inside")),
        ("flat-felled", ("one allowance", "over the narrow one")),
        ("pinked", ("Pink",)),
        ("hand", ("Overcast by hand",)),
        ("turned", ("Turn under",)),
        ("hong-kong", ("bias strip",)),
        ("overlocked-seam", ("same pass",)),
        ("piped", ("piping",)),
    ],
)
def test_each_finish_is_told_for_straight_seams_and_never_folded_in_at_an_armhole(way, said):
    _, _, titles = sewn("T-shirt", seam_finish=way)
    side = " ".join(title for i, title in titles.items() if i.endswith(("front-side", "front-shoulder")))
    assert all(words in side for words in said)
    cap = " ".join(title for i, title in titles.items() if i.endswith("sleeve-cap"))
    assert way not in ("french", "flat-felled") or not any(words in cap for words in said)


def test_a_unit_or_one_seam_is_finished_otherwise_than_the_rest():
    _, _, titles = sewn("T-shirt", seam_finish="pinked", units={"body.shoulder": {"seam-finish": "french"}})
    assert "wrong sides" in titles["sew-front-shoulder"] and "Pink" in titles["finish-front-side"]
    _, _, titles = sewn("T-shirt", units={"sleeve": {"seam-finish": "none"}})
    assert "finish-sleeve-under-front" not in titles and "finish-front-side" in titles


def test_open_edges_take_the_fate_that_was_chosen_and_their_own_fates_go_first():
    open_top = told(
        "front body shell 1f neck shoulder armhole side hem\nback body shell 1f neck shoulder armhole side hem",
        "front.shoulder = back.shoulder\nfront.side = back.side",
        "front.armhole hem\nback.armhole hem",
    )
    assert {e.rpartition(".")[2] for e in open_top.open} == {"neck", "hem"}
    said = Said({"neck": "binding", "armhole": "facing", "hem": "blind"})
    done = filled(open_top, said)
    assert done.open == [] and done.fates["front.neck"].ending == "bind" and done.fates["back.armhole"].ending == "hem"
    assert done.fates["front.hem"].way == "blind" == done.fates["front.armhole"].way
    assert filled(done, said) == done


def test_by_hand_alone_nothing_is_at_a_machine_and_a_knit_is_sewn_in_one_pass():
    _, steps = ordered(asked("T-shirt", tools=("needle-and-thread-only",)), ClothTraits(), 60)
    assert not {s.operation.place for s in steps} & {"machine", "overlocker"}
    knit = ClothTraits(knit=True)
    _, ids, titles = sewn("T-shirt", cloth=knit)
    assert "same pass" in titles["sew-front-side"] and not any(i.startswith("staystitch") for i in ids)


def test_a_pocket_lies_on_its_piece_while_that_is_flat_and_a_told_one_is_sewn_on_once():
    _, ids, titles = sewn("T-shirt", pocket="patch", label="sewn")
    assert comes(ids, "make-patch", "attach-patch", "sew-front-side") and comes(ids, "attach-sewn", "sew-front-side")
    assert "back" in next(t for i, t in titles.items() if i.startswith("attach-sewn"))
    _, ids, titles = sewn("hooded jacket with pockets", pocket="patch")
    assert [i for i in ids if titles[i].startswith("Sew the p")] == ["attach-pocket"] and comes(
        ids, "hem-pocket", "attach-pocket"
    )
    assert comes(ids, "attach-pocket", "sew-front-side")


def test_her_own_steps_stand_where_she_said_and_give_way_to_the_cloth():
    own = [OwnStep("hang", "Hang overnight", after=("press-front-side",), before=("hem-front-hem",)),
           OwnStep("show", "Show it", verb="topstitch", on=("body.shoulder",)),
           OwnStep("odd", "Impossible", after=("final-press",), before=("sew-front-side",))]  # fmt: skip
    work, ids, _ = sewn("T-shirt", own=own)
    assert comes(ids, "press-front-side", "hang", "hem-front-hem") and comes(ids, "press-front-shoulder", "show")
    assert {frozenset(pair) for pair in work.gave_way} & {
        frozenset({"odd", "final-press"}),
        frozenset({"odd", "sew-front-side"}),
    }
    assert "odd" in ids and not any(f.level == "stop" for f in check_pieces(work, ids))


def test_shaping_is_said_of_the_waist_and_done_before_it_is_used():
    _, ids, titles = sewn("skirt", gathers="corded")
    assert not any("cord" in t for t in titles.values())  # the darts that its fates tell go first
    plain = told(
        "front skirt shell 1f waist side hem\nback skirt shell 1f waist side hem\nband waistband shell 1 low end top end-b",
        "front.side = back.side\n+band.low +front.waist +back.waist -band.top",
        "front.hem hem\nback.hem hem\nband.end enclosed\nband.end-b enclosed",
    )
    said = Said({"gathers": "corded"})
    _, steps = ordered(StepsAsked(filled(plain, said), said=said), ClothTraits(), 60)
    ids = [s.operation.id for s in steps]
    assert comes(ids, "gather-front-waist", "attach-band-low")
    assert any("cord" in s.operation.title for s in steps)


CHOICES = {
    "closure": ["buttons", "snaps", "hook", "ties"], "buttonhole": ["bound", "loops", "hand", "keyhole"],
    "seam-finish": ["french", "pinked", "none", "bound", "overlocked-seam"], "pocket": ["patch", "welt", "side-seam", "slant"],
    "interfacing": ["fusible", "sewn"], "underlining": ["basted"], "topstitching": ["edges"], "label": ["sewn"],
    "belt": ["loops", "belt"], "boning": ["channels"], "shoulder-pads": ["sewn"], "fit": ["fitted"], "waist-stay": ["ribbon"],
    "hem": ["blind", "narrow", "rolled"], "neck": ["binding", "facing"], "inside-pocket": ["welt"], "back-stay": ["sewn"],
    "band-closure": ["hook", "button"], "decoration": ["applique"], "gathers": ["waist"], "shaping": ["darts", "darts+pleats"],
}  # fmt: skip


@pytest.mark.parametrize("seed", range(24))
def test_whatever_is_chosen_together_the_order_is_whole_and_sound(seed):
    rng = random.Random(seed)
    name = rng.choice(list(GARMENTS))
    features = {k.replace("-", "_"): rng.choice(v) for k, v in CHOICES.items() if rng.random() < 0.5}
    schools = {
        "sleeve-setting": rng.choice(["flat", "round"]),
        "facing-roll": rng.choice(["understitch", "leave", "topstitch"]),
    }
    try:
        work, ids, _ = sewn(name, schools=schools, **features)
    except FeatureError as error:  # pragma: no cover
        pytest.fail(f"{name} {features} {schools}: {error}")
    assert sorted(ids) == sorted(op.id for op, _ in work.items)
    assert check_pieces(work, ids) == [], (name, features, schools)
