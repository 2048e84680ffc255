"""Twelve whole garments whose orders were worked out by hand, and forty wrong orders with the step that each comes too early for.

The rules are those that hold on nearly every garment: common practice, no published source.
"""

import random
from dataclasses import replace

import pytest

from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.garment import complete, operations_for
from rowanseed.core.sew.model import BY_HAND, ClothTraits, SewnGarment
from rowanseed.core.sew.order import place_changes, sequence
from rowanseed.core.sew.place_changes import fewest_changes
from rowanseed.core.sew.planner import in_phases, plan
from tests.core.sew.test_laws import BY_HAND_JACKET
from tests.core.sew.test_library import LIBRARY, random_garment
from tests.core.sew.test_order import broken

OVERLOCKER = frozenset({"overlocker"})
# Each garment: its features, its cloth, and chains of steps in the order in which they were put by hand.
GARMENTS = {
    "apron": (
        {"pocket": "patch", "closure": "ties", "hem": "double"},
        ClothTraits(),
        ["mark-pieces make-patch-pockets sew-patch-pockets sew-side-seams press-side-seams sew-hem final-press"],
    ),
    "A-line skirt": (
        {"shaping": "darts", "closure": "invisible-zip", "waist": "facing", "interfacing": "fusible", "hem": "blind"},
        ClothTraits(),
        [
            "staystitch-waist sew-darts press-darts insert-invisible-zip close-zip-seam",
            "insert-invisible-zip face-waist try-length",
            "try-length mark-hem press-hem blind-hem final-press",
            "face-waist sew-hook final-press",
        ],
    ),
    "pleated skirt": (
        {"shaping": "pleats", "closure": "lapped-zip", "waist": "band", "interfacing": "fusible"},
        ClothTraits(),
        [
            "baste-pleats press-pleats attach-waistband try-length sew-hem",
            "baste-pleats sew-side-seams press-side-seams attach-waistband",
            "sew-zip-seam press-zip-seam insert-lapped-zip attach-waistband",
        ],
    ),
    "gathered dress": (
        {
            "neck": "facing",
            "sleeve": "set-in",
            "cuff": "hem",
            "gathers": "waist",
            "waist-seam": "joined",
            "closure": "invisible-zip",
            "interfacing": "fusible",
            "shaping": "darts",
        },
        ClothTraits(),
        [
            "staystitch-neck sew-shoulders press-shoulders sew-neck-facing",
            "press-darts join-waist-seam",
            "gather-waist join-waist-seam insert-invisible-zip close-zip-seam",
            "ease-sleeve-cap set-sleeves-flat sew-side-seams final-press",
        ],
    ),
    "V-neck tee": (
        {"neck": "band", "neck-shape": "v", "sleeve": "set-in", "cuff": "hem", "hem": "twin-needle"},
        ClothTraits(knit=True),
        [
            "sample-knit sew-shoulders",
            "tape-knit-shoulders sew-shoulders press-shoulders sew-neck-band",
            "reinforce-v clip-v sew-neck-band press-neck-band final-press",
            "sew-neck-band mitre-v-band final-press",
            "try-length stay-knit-hem press-hem final-press",
        ],
    ),
    "shirt": (
        {
            "yoke": "plain",
            "collar": "two-piece",
            "front": "band",
            "closure": "buttons",
            "sleeve": "set-in",
            "cuff": "band",
            "sleeve-vent": "placket",
            "pocket": "patch",
            "interfacing": "fusible",
            "topstitching": "edges",
        },
        ClothTraits(),
        [
            "reinforce-sleeve-slit cut-sleeve-slit sew-sleeve-placket sew-side-seams sew-cuffs",
            "set-sleeves-flat sew-side-seams",
            "make-collar press-collar topstitch-collar attach-collar set-sleeves-flat",
            "sew-buttonholes cut-buttonholes sew-buttons",
        ],
    ),
    "raglan sweatshirt": (
        {"neck": "band", "sleeve": "raglan", "cuff": "knit-band", "waist": "knit-band", "hem": "none"},
        ClothTraits(knit=True),
        [
            "sew-raglan-seams press-raglan-seams sew-neck-band final-press",
            "press-raglan-seams sew-side-seams press-side-seams sew-knit-cuffs",
            "press-side-seams sew-yoga-band final-press",
        ],
    ),
    "fly trousers": (
        {
            "legs": "trousers",
            "closure": "fly",
            "waist": "stiff-band",
            "pocket": "slant",
            "belt": "loops",
            "interfacing": "fusible",
            "trouser-crease": "pressed",
        },
        ClothTraits(),
        [
            "stay-slant-edge sew-slant-facing close-slant-bags sew-side-seams",
            "sew-fly-seam sew-fly-facing insert-fly-zip topstitch-fly sew-inseams",
            "sew-inseams press-inseams sew-crotch reinforce-crotch try-waist attach-stiff-band try-length sew-hem final-press",
        ],
    ),
    "notched jacket": (
        {
            "collar": "notched",
            "front": "facing",
            "sleeve": "two-piece",
            "sleeve-vent": "vent",
            "pocket": "welt-flap",
            "lining": "bagged",
            "interfacing": "fusible",
            "shoulder-pads": "sewn",
            "closure": "buttons",
            "buttonhole": "bound",
            "panels": "princess",
            "hem": "none",
        },
        ClothTraits("heavy"),
        [
            "test-fuse fuse-interfacing press-roll-line make-notched-collar join-notched-collar",
            "make-notched-collar set-two-piece-sleeves",
            "join-notched-collar turn-notched press-collar-notch",
            "sew-princess-seams press-princess-seams sew-shoulders",
            "mark-bound-buttonholes sew-bound-buttonholes join-notched-collar",
            "mark-welts back-welts sew-flap-pockets sew-side-seams",
            "set-two-piece-sleeves press-set-sleeves sew-shoulder-pads",
            "press-collar-notch bag-lining turn-bagged-lining close-bagged-gap final-press",
        ],
    ),
    "hooded coat": (
        {
            "collar": "hooded",
            "front": "facing",
            "sleeve": "two-piece",
            "lining": "sewn-in",
            "closure": "snaps",
            "interfacing": "fusible",
        },
        ClothTraits("heavy", piled=True),
        [
            "sew-hood press-hood join-hood attach-hood set-two-piece-sleeves join-lining-facing",
            "press-front-facings sew-snaps final-press",
        ],
    ),
    "strapless bodice": (
        {"panels": "princess", "boning": "channels", "closure": "invisible-zip", "hem": "none"},
        ClothTraits(),
        [
            "sew-princess-seams press-princess-seams sew-boning-channels insert-boning sew-strapless-edge turn-upper final-press"
        ],
    ),
    "child's shirred dress": (
        {"shirring": "panel", "closure": "ties", "hem": "double", "wearer": "child"},
        ClothTraits("light"),
        ["sample-shirring mark-shirring sew-shirring steam-shirring sew-side-seams sew-hem final-press count-pins"],
    ),
}


def garment(name, tools=OVERLOCKER, **schools):
    features, cloth, _ = GARMENTS[name]
    return SewnGarment(features, tools, schools, cloth)


def order_of(found):
    return [s.operation.id for s in sequence(LIBRARY, found, lambda op: {})]


@pytest.mark.parametrize("name", GARMENTS)
def test_a_whole_garment_is_sewn_in_the_order_worked_out_by_hand(name):
    steps = order_of(garment(name))
    for chain in GARMENTS[name][2]:
        by_hand = chain.split()
        assert set(by_hand) <= set(steps), set(by_hand) - set(steps)
        places = [steps.index(step) for step in by_hand]
        assert places == sorted(places), [(s, p) for s, p in zip(by_hand, places, strict=True)]
    assert broken(check_order(LIBRARY, garment(name), steps)) == []


WRONG = [
    ("A-line skirt", "sew-darts", "mark-pieces"), ("A-line skirt", "press-darts", "sew-darts"),
    ("A-line skirt", "close-zip-seam", "insert-invisible-zip"), ("A-line skirt", "face-waist", "insert-invisible-zip"),
    ("A-line skirt", "sew-side-seams", "press-darts"), ("A-line skirt", "blind-hem", "press-hem"),
    ("A-line skirt", "press-hem", "mark-hem"), ("A-line skirt", "fuse-interfacing", "test-fuse"),
    ("pleated skirt", "attach-waistband", "insert-lapped-zip"), ("pleated skirt", "insert-lapped-zip", "press-zip-seam"),
    ("pleated skirt", "attach-waistband", "try-waist"), ("pleated skirt", "attach-waistband", "baste-pleats"),
    ("gathered dress", "join-waist-seam", "gather-waist"), ("gathered dress", "sew-neck-facing", "press-shoulders"),
    ("gathered dress", "sew-shoulders", "staystitch-neck"), ("gathered dress", "set-sleeves-flat", "ease-sleeve-cap"),
    ("gathered dress", "sew-side-seams", "press-armholes"), ("gathered dress", "understitch-neck-facing", "sew-neck-facing"),
    ("V-neck tee", "sew-neck-band", "clip-v"), ("V-neck tee", "clip-v", "reinforce-v"),
    ("V-neck tee", "sew-shoulders", "tape-knit-shoulders"), ("V-neck tee", "sew-neck-band", "press-shoulders"),
    ("shirt", "sew-cuffs", "sew-sleeve-placket"), ("shirt", "cut-sleeve-slit", "reinforce-sleeve-slit"),
    ("shirt", "sew-buttons", "sew-buttonholes"), ("shirt", "sew-buttonholes", "sample-buttonhole"),
    ("shirt", "join-collar-stand", "press-collar"), ("shirt", "sew-side-seams", "sew-patch-pockets"),
    ("raglan sweatshirt", "sew-neck-band", "sew-raglan-seams"), ("raglan sweatshirt", "sew-side-seams", "press-raglan-seams"),
    ("fly trousers", "sew-crotch", "sew-fly-shield"), ("fly trousers", "attach-stiff-band", "try-waist"),
    ("fly trousers", "sew-side-seams", "close-slant-bags"), ("fly trousers", "sew-inseams", "crease-legs"),
    ("notched jacket", "join-notched-collar", "sew-bound-buttonholes"),
    ("notched jacket", "join-notched-collar", "make-notched-collar"),
    ("notched jacket", "turn-bagged-lining", "bag-lining"), ("notched jacket", "set-two-piece-sleeves", "press-side-seams"),
    ("notched jacket", "bag-lining", "sew-shoulder-pads"), ("hooded coat", "attach-hood", "join-hood"),
    ("strapless bodice", "sew-strapless-edge", "insert-boning"),
    ("strapless bodice", "sew-boning-channels", "press-princess-seams"),
    ("child's shirred dress", "sew-shirring", "sample-shirring"), ("child's shirred dress", "sew-side-seams", "steam-shirring"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "early", "need"), WRONG)
def test_a_wrong_order_is_named_with_the_need_it_breaks(name, early, need):
    found = garment(name)
    steps = order_of(found)
    steps.remove(early)
    steps.insert(steps.index(need), early)
    broken = [f for f in check_order(LIBRARY, found, steps) if f.kind in ("physics", "craft") and f.step == early]
    assert any(f.needs == need for f in broken), broken
    assert all(f.text.endswith(".") for f in broken)


def test_there_are_at_least_forty_wrong_orders():
    assert len(set(WRONG)) == len(WRONG) >= 40


def changes(todo):
    return sum(a[0].place != b[0].place for a, b in zip(todo, todo[1:], strict=False))


def fewest_by_trying_all(todo):
    """Every safe order of a small garment, by plain search over what is done and where one stands: no dominance, no closure."""
    needs = {op.id: frozenset(n.id for n in wanted) for op, wanted in todo}
    place = {op.id: op.place for op, _ in todo}
    best = {(frozenset(), ""): 0}
    layer = dict(best)
    for _ in range(len(todo)):
        following = {}
        for (done, at), cost in layer.items():
            for id_ in needs:
                if id_ not in done and needs[id_] <= done:
                    key = (done | {id_}, place[id_])
                    more = cost + (at not in ("", place[id_]))
                    if more < following.get(key, 10**6):
                        following[key] = more
        layer = following
    return min(layer.values())


@pytest.mark.parametrize("features", [
    {"pocket": "patch", "closure": "ties", "hem": "double", "seam-finish": "none"},
    {"waist": "casing", "hem": "single", "seam-finish": "none"},
    {"gathers": "cartridge", "waist": "band", "hem": "none", "seam-finish": "none"},
])  # fmt: skip
def test_the_order_has_the_fewest_changes_that_trying_every_order_finds(features):
    todo = operations_for(LIBRARY, complete(LIBRARY, SewnGarment(features)))
    assert len(todo) <= 22
    found = fewest_changes(todo)
    assert found.proved and found.changes == fewest_by_trying_all(todo) <= changes(plan(in_phases(todo)).items)


def test_an_order_costs_no_more_than_phase_by_phase_and_lies_near_the_fewest_changes_of_place():
    rng = random.Random(11)
    garments = [garment(name) for name in GARMENTS] + [random_garment(rng) for _ in range(120)]
    for one in garments:
        one = replace(one, schools={**one.schools, "order": "least-walking"})
        todo = operations_for(LIBRARY, complete(LIBRARY, one))
        least = fewest_changes(todo)
        steps = sequence(LIBRARY, one, lambda op: {})
        found, sheet = plan(in_phases(todo)), plan(in_phases(todo), "phases")
        assert least.changes <= place_changes(steps) and found.bound <= found.cost <= sheet.cost + 1e-9
        assert not least.proved or place_changes(steps) <= 1.5 * least.changes + 2
        assert broken(check_order(LIBRARY, one, [s.operation.id for s in steps])) == []


def test_phase_by_phase_is_safe_and_walks_more():
    steps = order_of(garment("shirt", order="phases"))
    assert broken(check_order(LIBRARY, garment("shirt", order="phases"), steps)) == []
    assert steps != order_of(garment("shirt"))


def test_with_needle_and_thread_alone_nothing_is_sewn_by_machine():
    found = garment("shirt", frozenset({BY_HAND}))
    steps = sequence(LIBRARY, found, lambda op: {})
    assert {s.operation.place for s in steps} == {"table", "iron", "hand"}
    assert sum(s.operation.minutes for s in steps) > 1.5 * sum(
        s.operation.minutes for s in sequence(LIBRARY, garment("shirt"), lambda op: {})
    )


@pytest.mark.parametrize("school", [s.name for s in LIBRARY.schools])
def test_every_school_changes_steps_their_order_or_their_words(school):
    from rowanseed.core.sew.numbers import Facts, numbers_for

    if school == "holding":
        return  # it is told at the cutting table
    rng = random.Random(4)
    choices = [v for v, _ in next(s for s in LIBRARY.schools if s.name == school).choices]
    for base in (BY_HAND_JACKET, *(random_garment(rng) for _ in range(400))):
        told = []
        for choice in choices[:2]:
            schools = {**base.schools, school: choice}
            one = SewnGarment(base.features, base.tools, schools, base.cloth)
            facts = Facts(schools=schools)
            steps = sequence(LIBRARY, one, lambda op, facts=facts: numbers_for(op, facts))
            told.append([(s.operation.id, tuple(s.numbers.values())) for s in steps])
        if told[0] != told[1]:
            return
    pytest.fail(f"{school} changes nothing")
