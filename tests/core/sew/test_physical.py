"""What cloth can and cannot do, held against random orders of random garments by means that are not the engine's own.

Common practice, no published source: a garment is turned through what is open, a piece is gathered once its edges are finished,
and nothing is buttoned that is not yet sewn together.
"""

import random

import pytest

from rowanseed.core.sew.garment import assembled, operations_for
from rowanseed.core.sew.model import SewnGarment
from tests.core.sew.test_library import LIBRARY, random_garment

TURNS = ("turn-combined-facing", "turn-lined-edges", "turn-bagged-lining")
CLOSES_THE_BACK = {
    "body": ("sew-zip-seam", "close-zip-seam", "insert-open-edge-zip", "sew-lining-zip-seam"),
    "bodice": ("join-waist-seam",),  # its halves meet at the skirt, whose seam is closed
}
FRONTS = ("band", "facing", "none")
GATHERED = ("waist", "yoke", "corded")
ONE_LAYER = (
    {"neck": "combined-facing"},
    {"lining": "sewn-in", "armhole": "lined"},
    {"lining": "bagged"},
    {"lining": "edge-to-edge"},
    {"lining": "sewn-in", "armhole": "lined", "neck": "facing"},
)
OPENINGS = ("none", "invisible-zip", "lapped-zip", "centred-zip", "exposed-zip", "open-edge-zip", "buttons", "hook")
BARE = {"sleeve": "none", "straps": "none", "shirring": "none", "collar": "none", "armhole": "none", "neck": "none"}


def random_orders(rng, count, wishes, base=dict):
    """Random garments with what `base` says of them, their operations by id, and each one's place in a random order of theirs.

    The order keeps every law, and with `wishes` the method's wishes too.
    """
    for _ in range(count):
        one = random_garment(rng, 0.25)
        garment = SewnGarment({**one.features, **base()}, one.tools, one.schools, one.cloth)
        items = operations_for(LIBRARY, garment)
        needs = {op.id: {n.id for n in wanted if wishes or n.law != "method"} for op, wanted in items}
        done = []
        while len(done) < len(needs):
            done.append(rng.choice(sorted(i for i in needs if i not in done and needs[i] <= set(done))))
        yield garment, {op.id: op for op, _ in items}, {id_: k for k, id_ in enumerate(done)}


def units(op):
    return {edge.rpartition(".")[0] for thing in op.on for edge in thing.split("+")}


@pytest.mark.parametrize("seed", range(4))
def test_neck_and_armholes_sewn_with_one_layer_are_turned_only_where_front_or_back_is_open(seed):
    rng = random.Random(seed)
    seen = 0
    described = lambda: {**BARE, **rng.choice(ONE_LAYER), "closure": rng.choice(OPENINGS)}  # noqa: E731
    for garment, ops, place in random_orders(rng, 40, False, described):
        assembly = assembled(LIBRARY, garment)
        top = assembly.top
        edges = assembly.units[top].edges if top else ()
        joins = {
            edge: [o for o in ops.values() if o.verb == "join" and any(t.endswith(f"+{top}.{edge}") for t in o.on)]
            for edge in ("neck", "armhole")
        }
        for turn in (o for o in ops.values() if o.id in TURNS):
            both = all(any(place[o.id] < place[turn.id] for o in some) for some in joins.values())
            if not both or "upper" in edges or "front-edge" in edges:
                continue  # one of the two is still free, or there are no shoulders, or the front is open
            closing = [o for o in ops.values() if o.template in CLOSES_THE_BACK[top] and top in str(units(o))]
            seen += 1
            sides = [o for o in ops.values() if o.verb == "join" and {f"{top}.side", f"lining.{top}.side"} & set(o.on)]
            assert closing and sides, (garment.features, turn.id)
            assert all(place[o.id] > place[turn.id] for o in (*closing, *sides)), (garment.features, turn.id)
    assert seen > 1


@pytest.mark.parametrize("seed", range(3))
def test_nothing_is_fastened_before_the_shell_is_sewn_together_and_its_seams_are_pressed(seed):
    rng = random.Random(100 + seed)
    seen = 0
    buttoned = lambda: {"closure": "buttons", "front": rng.choice(FRONTS)}  # noqa: E731
    for garment, ops, place in random_orders(rng, 25, True, buttoned):
        sewn = [
            o
            for o in ops.values()
            if o.verb in ("join", "press") and o.layer == "shell" and any("+" in t for t in o.on)
        ]
        for o in ops.values():
            if o.verb in ("button", "buttonhole") and o.phase == "finish" and o.template != "sew-sleeve-buttons":
                late = [s.id for s in sewn if 10 <= s.stage <= 55 and place[s.id] > place[o.id]]
                seen += 1
                assert not late, (garment.features, o.id, late)
    assert seen > 10


@pytest.mark.parametrize("seed", range(3))
def test_raw_edges_are_finished_before_their_piece_is_gathered_or_eased(seed):
    rng = random.Random(200 + seed)
    seen = 0
    gathered = lambda: {"gathers": rng.choice(GATHERED), "sleeve": "gathered", "seam-finish": "overlocked"}  # noqa: E731
    for garment, ops, place in random_orders(rng, 40, True, gathered):
        flat = [o for o in ops.values() if o.verb == "finish" and o.stage < 10]
        for finish in flat:
            for o in ops.values():
                if o.verb in ("gather", "ease", "shirr") and units(o) & units(finish):
                    seen += 1
                    assert place[finish.id] < place[o.id], (garment.features, finish.id, o.id)
    assert seen > 10
