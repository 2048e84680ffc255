"""Each law broken in an order is named by that law; what is sound in another way of working is no fault.

Which step comes before which, and by which law, was worked out by hand on garments: common practice, no source.
"""

import random
from dataclasses import replace

import pytest

from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.garment import operations_for
from rowanseed.core.sew.model import BY_HAND, ClothTraits, SewnGarment
from rowanseed.core.sew.order import sequence
from tests.core.sew.test_library import LIBRARY, random_garment
from tests.core.sew.test_order import broken

OVERLOCKER = frozenset({"overlocker", "buttonhole-foot"})
SHIRT = SewnGarment(
    {"collar": "two-piece", "yoke": "double", "sleeve": "set-in", "sleeve-vent": "placket", "cuff": "band", "front": "band",
     "closure": "buttons", "pocket": "patch", "interfacing": "fusible", "seam-finish": "flat-felled"}, OVERLOCKER,
)  # fmt: skip
JACKET = SewnGarment(
    {"collar": "notched", "front": "facing", "closure": "buttons", "sleeve": "two-piece", "shoulder-pads": "sewn",
     "lining": "bagged", "pocket": "welt", "interfacing": "fusible", "vent": "vent"}, OVERLOCKER,
)  # fmt: skip
BY_HAND_JACKET = replace(
    JACKET,
    features={**JACKET.features, "lining": "sewn-in", "interfacing": "sewn"},
    schools={"lining-joining": "by-hand"},
)
SKIRT = SewnGarment(
    {"shaping": "darts+pleats", "waist": "band", "closure": "invisible-zip", "lining": "waist", "hem": "blind"}, OVERLOCKER,
    {"seam-pressing": "together"},
)  # fmt: skip
LAPPED = replace(SKIRT, features={**SKIRT.features, "closure": "lapped-zip"})
DRESS = SewnGarment(
    {"neck": "facing", "neck-shape": "square", "waist-seam": "joined", "gathers": "waist", "sleeve": "set-in", "cuff": "hem",
     "closure": "invisible-zip", "hem": "circular"}, OVERLOCKER,
)  # fmt: skip
PINAFORE = SewnGarment(
    {"lining": "edge-to-edge", "straps": "buttoned", "closure": "buttons", "decoration": "stitching"}, OVERLOCKER
)
APRON = SewnGarment(
    {"gathers": "cartridge", "waist": "band", "hem": "double"}, frozenset({BY_HAND}), {"pleat-hem": "first"}
)
PRINCESS = SewnGarment({"panels": "princess", "neck": "facing", "armhole": "facing", "boning": "none"}, OVERLOCKER)
TEE = SewnGarment(
    {"sleeve": "set-in", "neck": "band", "cuff": "hem", "hem": "twin-needle"}, frozenset(), {}, ClothTraits(knit=True)
)
SUNDRESS = SewnGarment(
    {"shirring": "panel", "straps": "sewn", "waist-seam": "joined", "gathers": "waist", "hem": "double"}, OVERLOCKER
)

# The law, a garment, the step that is done too early, and the step of which it breaks the law.
BROKEN = [
    ("layers", SHIRT, "make-collar", "fuse-interfacing"),
    ("layers", BY_HAND_JACKET, "sew-shoulders", "baste-interfacing"),
    ("marks", SHIRT, "sew-shoulders", "mark-pieces"),
    ("stay", DRESS, "sew-shoulders", "staystitch-neck"),
    ("stay", PRINCESS, "clip-panels", "staystitch-panels"),
    ("shape", SKIRT, "attach-waistband", "baste-pleats"),
    ("crossing", SKIRT, "sew-side-seams", "press-darts"),
    ("shape", DRESS, "join-waist-seam", "draw-up-gathers"),
    ("shape", SUNDRESS, "sew-side-seams", "sew-shirring"),
    ("parts", DRESS, "join-waist-seam", "sew-side-seams@skirt"),
    ("parts", SHIRT, "set-sleeves-flat", "sew-shoulders"),
    ("flat", SHIRT, "sew-side-seams", "sew-patch-pockets"),
    ("flat", JACKET, "sew-side-seams", "sew-welt-pockets"),
    ("crossing", SHIRT, "attach-collar", "press-shoulders"),
    ("crossing", SHIRT, "sew-side-seams", "fell-armholes"),
    ("crossing", JACKET, "set-two-piece-sleeves", "press-side-seams"),
    ("finish", SKIRT, "press-side-seams", "overlock-side-seams"),
    ("clip", DRESS, "understitch-neck-facing", "clip-neck"),
    ("clip", DRESS, "turn-neck-facing", "clip-square"),
    ("clip", SHIRT, "turn-collar", "trim-collar"),
    ("turn", SHIRT, "press-collar", "turn-collar"),
    ("turn", PINAFORE, "sew-last-side", "turn-bagged-lining"),
    ("inside", JACKET, "close-bagged-gap", "sew-shoulder-pads"),
    ("inside", JACKET, "bag-lining", "set-two-piece-sleeves"),
    ("inside", BY_HAND_JACKET, "fell-lining-by-hand", "sew-shoulder-pads"),
    ("through", JACKET, "sew-buttonholes", "turn-bagged-lining"),
    ("through", SHIRT, "sew-buttonholes", "topstitch-front-bands"),
    ("openings", SKIRT, "close-zip-seam", "insert-invisible-zip"),
    ("openings", LAPPED, "insert-lapped-zip", "press-zip-seam"),
    ("openings", SHIRT, "sew-buttonholes", "sample-buttonhole"),
    ("hem", TEE, "two-row-hem", "sew-side-seams"),
    ("inside", SKIRT, "close-waistband", "attach-waistband"),
    ("ends", SKIRT, "attach-waistband", "attach-waist-lining"),
    ("ends", APRON, "sew-cartridge-pleats", "close-cartridge-band"),
    ("try-on", SKIRT, "mark-hem", "try-length"),
    ("complete", SHIRT, "final-press", "sew-hem"),
]  # fmt: skip


def order_of(garment):
    return [step.operation.id for step in sequence(LIBRARY, garment, lambda op: {})]


@pytest.mark.parametrize(
    ("law", "garment", "early", "need"), BROKEN, ids=[f"{law}-{early}" for law, _, early, _ in BROKEN]
)
def test_a_broken_law_is_named_with_its_step_and_things(law, garment, early, need):
    steps = order_of(garment)
    assert broken(check_order(LIBRARY, garment, steps)) == []
    steps.remove(early)
    steps.insert(steps.index(need), early)
    named = [f for f in check_order(LIBRARY, garment, steps) if (f.step, f.needs) == (early, need)]
    assert [f.law for f in named] == [law], named
    assert named[0].kind in ("physics", "craft") and len(named[0].text) > 60


def test_a_law_for_every_kind_of_fault_is_shown():
    from rowanseed.core.sew.checker import HAPPENS

    assert {law for law, *_ in BROKEN} == set(HAPPENS) - {"method"}


def test_a_step_left_out_twice_or_of_another_garment_breaks_once_or_complete():
    steps = order_of(SHIRT)
    found = check_order(LIBRARY, SHIRT, [s for s in steps if s != "close-stand"])
    assert [(f.law, f.step) for f in found] == [("complete", "close-stand")] and "stays open" in found[0].text
    assert [f.law for f in check_order(LIBRARY, SHIRT, [*steps, "sew-hem"])] == ["once"]
    assert [f.law for f in check_order(LIBRARY, SHIRT, [*steps, "sew-gussets"])] == ["once"]


def any_sound_order(items, rng):
    """One of the many orders that keep every need by law; a method's wishes are left aside."""
    needs = {op.id: {n.id for n in wanted if n.law != "method"} for op, wanted in items}
    rest, done = set(needs), []
    while rest:
        id_ = rng.choice(sorted(i for i in rest if needs[i] <= set(done)))
        rest.remove(id_)
        done.append(id_)
    return done


@pytest.mark.parametrize(
    "garment", [SHIRT, JACKET, BY_HAND_JACKET, SKIRT, LAPPED, DRESS, PINAFORE, APRON, PRINCESS, TEE, SUNDRESS]
)
def test_no_order_that_keeps_the_laws_is_called_a_fault(garment):
    rng = random.Random(2)
    items = operations_for(LIBRARY, garment)
    for _ in range(25):
        assert broken(check_order(LIBRARY, garment, any_sound_order(items, rng))) == []


def test_the_same_holds_for_random_garments_which_have_every_step_once():
    rng = random.Random(8)
    for _ in range(120):
        garment = random_garment(rng)
        items = operations_for(LIBRARY, garment)
        ids = [op.id for op, _ in items]
        assert len(set(ids)) == len(ids)
        assert broken(check_order(LIBRARY, garment, any_sound_order(items, rng))) == []


# Two ways in which practised people sew each of these, both sound: the school, and where the steps then stand.
WAYS = [
    (SHIRT, "collar-order", "sleeves-first", ("set-sleeves-flat", "attach-collar")),
    (SHIRT, "collar-assembly", "stand-first", ("sew-stand-first", "join-collar-stand")),
    (SHIRT, "sleeve-setting", "round", ("sew-side-seams", "set-sleeves-round")),
    (SKIRT, "zip-and-band", "band-first", ("attach-waistband", "insert-invisible-zip")),
    (DRESS, "facing-order", "apart", ("facing-back-apart", "sew-shoulders")),
    (DRESS, "sleeve-hem", "before-setting", ("sew-early-sleeve-hem", "set-sleeves-flat")),
    (BY_HAND_JACKET, "lining-order", "before-sleeves", ("fell-lining-by-hand", "set-two-piece-sleeves")),
    (SHIRT, "sleeve-end", "flat", ("sew-cuffs", "sew-side-seams", "close-cuffs")),
    (TEE, "sleeve-end", "flat", ("hem-sleeves", "sew-side-seams", "tuck-seam-ends")),
    (APRON, "pleat-hem", "last", ("sew-cartridge-pleats", "sew-hem")),
]


@pytest.mark.parametrize(("garment", "school", "choice", "chain"), WAYS, ids=[f"{s}-{c}" for _, s, c, _ in WAYS])
def test_the_other_school_is_a_whole_and_sound_order(garment, school, choice, chain):
    other = replace(garment, schools={**garment.schools, school: choice})
    steps = order_of(other)
    assert broken(check_order(LIBRARY, other, steps)) == []
    places = [steps.index(step) for step in chain]
    assert places == sorted(places), chain
