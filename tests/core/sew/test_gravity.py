"""What is a stop and what is not: sound ways of working of practised people, and what no cloth allows.

Each pair is read by hand: the first step is put before the second, which it follows in the program's own order. Common practice, no
source.
"""

import pytest

from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.model import SewnGarment
from tests.core.sew.test_laws import order_of
from tests.core.sew.test_library import LIBRARY

TOOLS = frozenset({"overlocker"})
SHIRT = {"collar": "two-piece", "yoke": "plain", "front": "band", "closure": "buttons", "sleeve": "set-in",
         "sleeve-vent": "placket",
         "cuff": "band", "interfacing": "fusible", "hem": "narrow"}  # fmt: skip
SKIRT = {"shaping": "darts", "waist": "band", "closure": "invisible-zip", "interfacing": "fusible", "hem": "blind"}
GATHERED = {"shaping": "darts", "neck": "facing", "sleeve": "set-in", "cuff": "hem", "waist-seam": "joined", "gathers": "waist",
            "closure": "invisible-zip", "interfacing": "fusible", "hem": "double"}  # fmt: skip
LINED_SKIRT = {**SKIRT, "lining": "waist"}
JACKET = {"collar": "notched", "front": "facing", "closure": "buttons", "sleeve": "two-piece", "shoulder-pads": "sewn",
          "lining": "bagged", "hem": "hand", "interfacing": "fusible"}  # fmt: skip

CAN_NOT = [  # what is done too early, what it makes impossible
    (SHIRT, "sew-buttonholes", "topstitch-front-bands"), (GATHERED, "join-waist-seam", "gather-waist"),
    (SKIRT, "press-darts", "sew-darts"), (SKIRT, "close-waistband", "attach-waistband"),
    (LINED_SKIRT, "attach-waistband", "attach-waist-lining"), (JACKET, "close-bagged-gap", "sew-shoulder-pads"),
    (GATHERED, "understitch-neck-facing", "sew-neck-facing"), (SHIRT, "attach-collar", "fuse-interfacing"),
]  # fmt: skip
CAN = [  # what practised people do, or could do at a price; never a stop
    (SKIRT, "sew-side-seams", "press-darts"), (SHIRT, "attach-collar", "staystitch-neck"),
    (SHIRT, "sew-shoulders", "mark-pieces"), (SKIRT, "attach-waistband", "insert-invisible-zip"),
    (SKIRT, "attach-waistband", "try-waist"), (SHIRT, "sew-buttons", "sew-buttonholes"), (SKIRT, "blind-hem", "sew-side-seams"),
    (GATHERED, "turn-neck-facing", "clip-neck"), (SHIRT, "sew-buttonholes", "sample-buttonhole"),
]  # fmt: skip


def moved(features, early, late):
    """The findings of the program's order with one step put just before another."""
    garment = SewnGarment(features, TOOLS)
    steps = order_of(garment)
    assert early in steps and late in steps, sorted(steps)
    steps.remove(early)
    steps.insert(steps.index(late), early)
    return [f for f in check_order(LIBRARY, garment, steps) if f.code == "too-early" and f.step == early]


@pytest.mark.parametrize(("features", "early", "late"), CAN_NOT, ids=[f"{e}-{n}" for _, e, n in CAN_NOT])
def test_what_cloth_can_not_do_is_a_stop(features, early, late):
    named = [f for f in moved(features, early, late) if f.needs == late]
    assert [(f.level, f.kind) for f in named] == [("stop", "physics")], named


@pytest.mark.parametrize(("features", "early", "late"), CAN, ids=[f"{e}-{n}" for _, e, n in CAN])
def test_what_only_comes_out_worse_is_no_stop(features, early, late):
    named = [f for f in moved(features, early, late) if f.needs == late]
    assert named and all(f.level != "stop" and f.kind in ("craft", "wish") for f in named), named


@pytest.mark.parametrize("features", [SHIRT, SKIRT, GATHERED, LINED_SKIRT, JACKET])
def test_precautions_left_out_are_one_note_for_their_kind(features):
    garment = SewnGarment(features, TOOLS)
    steps = order_of(garment)
    precautions = [s for s in steps if s.startswith(("staystitch", "press-", "sample-", "try-"))]
    found = check_order(LIBRARY, garment, [s for s in steps if s not in precautions])
    left = [f for f in found if f.code == "left-out"]
    assert left and all(f.level == "note" and f.kind == "craft" for f in left)
    assert len(left) == len({f.text for f in left}) <= 5 < len(precautions)


def test_a_stop_is_always_physics_and_physics_is_never_a_wish():
    for features in (SHIRT, SKIRT, GATHERED, LINED_SKIRT, JACKET):
        garment = SewnGarment(features, TOOLS)
        found = check_order(LIBRARY, garment, list(reversed(order_of(garment))))
        assert any(f.level == "stop" for f in found)
        for f in found:
            assert (f.kind == "physics") or f.level != "stop"
            assert f.kind != "wish" or f.level == "note"
