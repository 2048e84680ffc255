"""The sewing order's interface: things and verbs as an outside reader checks them, parts, figures, own steps, objectives, laws."""

import pytest

from rowanseed.core.sew.checker import HAPPENS
from tests.core.sew.told_garments import GARMENTS

OVERLOCKER = ["overlocker", "buttonhole-foot"]
SKIRT = {"shaping": ["darts", "pleats"], "waist": "band", "closure": "lapped-zip", "lining": "waist", "hem": "double"}
LAWS = {*HAPPENS, "once"}


def ask(client, features, **more):
    got = client.post("/api/v1/sequence", json={"features": features, "equipment": OVERLOCKER, **more})
    assert got.status_code == 200, got.text
    return {step["id"]: step for step in got.json()["steps"]}, got.json()["findings"]


def test_every_step_says_its_verb_its_things_and_every_need_its_law(client):
    steps, _ = ask(client, SKIRT)
    for step in steps.values():
        assert step["verb"] and step["unit"] and step["layer"] in ("shell", "lining")
        assert all(need["law"] in LAWS and need["id"] in steps and need["why"] for need in step["needs"])


# Work, verb, things, what is covered, what is closed, unit: as the model's table has it.
TABLE = [
    (SKIRT, "sew-side-seams", "join", ["skirt.side"], [], [], "skirt"),
    (SKIRT, "sew-side-seams@lining.skirt", "join", ["lining.skirt.side"], [], [], "lining.skirt"),
    (SKIRT, "attach-waist-lining", "attach", ["lining.skirt.waist+skirt.waist"], [], [], "lining.skirt"),
    (SKIRT, "attach-waistband", "attach", ["waistband.waist+skirt.waist"], [], [], "waistband"),
    (SKIRT, "close-waistband", "close", ["waistband.waist+skirt.waist"], ["skirt.waist", "waistband.waist"], ["waistband"],
     "waistband"),
    (SKIRT, "insert-lapped-zip", "insert", ["skirt.zip"], [], [], "skirt"),
    (SKIRT, "sew-hem", "hem", ["skirt.hem"], ["skirt.hem", "skirt.side", "skirt.centre-back"], [], "skirt"),
    ({"sleeve": "set-in", "neck": "facing"}, "set-sleeves-flat", "join", ["sleeve.cap+body.armhole"], [], [], "sleeve"),
    ({"sleeve": "set-in", "neck": "facing"}, "sew-side-seams", "join", ["body.side", "sleeve.underarm"], [], [], "body"),
    ({"sleeve": "set-in", "neck": "facing"}, "sew-neck-facing", "join", ["facing.neck+body.neck"], [], [], "facing"),
    ({"neck": "facing"}, "turn-neck-facing", "turn", ["facing.neck+body.neck"], ["facing.neck+body.neck"], ["facing"], "facing"),
    ({"neck": "binding"}, "bind-neck", "bind", ["body.neck"], [], [], "body"),
    ({"neck": "binding"}, "close-neck-binding", "close", ["body.neck"], ["body.neck"], ["binding"], "body"),
    ({"collar": "two-piece", "front": "band"}, "join-collar-stand", "join", ["collar.neck+stand.outer"], [], [], "collar"),
    ({"collar": "two-piece", "front": "band"}, "attach-collar", "join", ["stand.neck+body.neck"], [], [], "stand"),
    ({"collar": "notched"}, "join-facing-collar", "join", ["collar.neck+facing.neck"], [], [], "collar"),
    ({"waist-seam": "joined", "neck": "facing"}, "join-waist-seam", "join", ["skirt.waist+bodice.waist"], [], [], "skirt"),
    ({"pocket": "patch", "neck": "facing"}, "sew-patch-pockets", "attach", ["pocket", "body"], [], [], "pocket"),
    ({"pocket": "slant", "legs": "trousers", "waist": "casing"}, "sew-slant-facing", "attach",
     ["pocket.pocket-mouth+leg.pocket-mouth"], [], [], "pocket"),
    ({"waist": "elastic-sewn", "legs": "trousers"}, "shirr-waist", "attach", ["leg.waist"], [], [], "leg"),
    ({"seam-finish": "french", "neck": "facing"}, "french-side-seams", "finish", ["body.side"], ["body.side"], [], "body"),
    ({"lining": "edge-to-edge", "straps": "buttoned"}, "sew-last-side", "join", ["body.side", "lining.body.side"], [], [], "body"),
    ({"shirring": "panel", "straps": "sewn"}, "sew-shirring", "shirr", ["panel"], [], [], "panel"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("features", "id_", "verb", "on", "covers", "closes", "unit"), TABLE, ids=[row[1] for row in TABLE]
)
def test_a_step_names_what_it_does_to_what(client, features, id_, verb, on, covers, closes, unit):
    step = ask(client, features)[0][id_]
    assert (step["verb"], step["on"], step["closes"], step["unit"]) == (verb, on, closes, unit)
    assert set(step["covers"]) == set(covers)


def test_a_bagged_lining_closes_last_and_covers_every_seam_inside(client):
    steps, _ = ask(client, {"collar": "notched", "sleeve": "two-piece", "lining": "bagged", "closure": "buttons"})
    gap = steps["close-bagged-gap"]
    assert gap["verb"] == "close" and gap["on"] == ["lining.body.gap"] and gap["closes"] == ["lining"]
    assert {"body.side", "lining.body.side", "sleeve.cap+body.armhole", "lining.body.neck+facing.outer"} & set(
        gap["covers"]
    )
    order = list(steps)
    assert order.index("sew-shoulder-pads" if "sew-shoulder-pads" in steps else "set-two-piece-sleeves") < order.index(
        "bag-lining"
    )


def test_a_part_and_a_seam_have_their_own(client):
    units = {"lining.skirt": {"seam-finish": "french", "shaping": ["pleats"]}, "skirt.side": {"seam-finish": "bound"},
             "skirt": {"hem": "blind"}}  # fmt: skip
    steps, findings = ask(client, SKIRT, units={**units, "hood": {"shaping": "darts"}})
    assert steps["french-side-seams@lining.skirt"]["on"] == ["lining.skirt.side"] and "bind-side-seams" in steps
    assert "baste-pleats@lining.skirt" in steps and "sew-darts@lining.skirt" not in steps and "sew-darts" in steps
    assert "blind-hem" in steps and "sew-hem" not in steps
    assert any(f["code"] == "unit-without-effect" and "hood" in f["text"] for f in findings)


def test_figures_of_an_edge_stand_in_its_steps_alone(client):
    numbers = {
        "allowance": "1/2 in",
        "skirt.side": {"allowance": "1 in"},
        "skirt.hem": {"first": "1/2 in", "second": "2 in"},
    }
    steps, _ = ask(client, {**SKIRT, "hem": "double"}, numbers=numbers)
    assert "(1 in)" in steps["sew-side-seams"]["numbers"]["seam"]
    assert "(1/2 in)" in steps["sew-side-seams@lining.skirt"]["numbers"]["seam"]
    # a = 1/2 in, b = 2 in: lines at 1 in and 4 1/2 in
    assert "(1 in) and 11.4 cm (4 1/2 in)" in steps["mark-hem"]["numbers"]["hem"]
    wrong = client.post("/api/v1/sequence", json={"features": SKIRT, "numbers": {"hemm": {"first": 5}}})
    assert wrong.status_code == 422 and "no figure called" in wrong.text


def test_own_steps_are_steps_like_others(client):
    own = [
        {
            "text": "Embroider the pocket",
            "place": "hand",
            "minutes": 30,
            "after": ["press-side-seams"],
            "before": ["sew-hem"],
        },
        {"text": "Sew a second row", "place": "machine", "minutes": 5, "verb": "stay", "on": ["skirt.waist"]},
    ]
    asked = {"features": SKIRT, "equipment": OVERLOCKER, "own_steps": own}
    steps, _ = ask(client, SKIRT, own_steps=own)
    order = list(steps)
    assert order.index("press-side-seams") < order.index("own-1") < order.index("sew-hem")
    assert order.index("own-2") < order.index("attach-waistband") and steps["own-2"]["on"] == ["skirt.waist"]
    late = [s for s in order if s != "own-2"]
    late.insert(late.index("attach-waistband") + 1, "own-2")
    found = client.post("/api/v1/sequence/check", json={**asked, "order": late}).json()["findings"]
    assert ("stay", "attach-waistband", "own-2") in [
        (f["law"], f["step"], f["needs"]) for f in found if f["kind"] == "craft"
    ]


def test_objectives_are_sound_and_differ(client):
    orders = {}
    for objective in ("least-changes", "phases", "units"):
        steps, findings = ask(client, SKIRT, objective=objective)
        orders[objective] = list(steps)
        asked = {"features": SKIRT, "equipment": OVERLOCKER, "order": list(steps)}
        found = client.post("/api/v1/sequence/check", json=asked).json()["findings"]
        assert all(f["level"] == "note" for f in found)
        assert "no order can take less" in findings[0]["text"] or "No order has fewer" in findings[0]["text"]
    assert len({tuple(order) for order in orders.values()}) == 3
    refused = client.post("/api/v1/sequence", json={"features": SKIRT, "objective": "fastest"})
    assert refused.status_code == 422


def test_features_say_which_parts_take_them(client):
    got = client.get("/api/v1/features").json()
    units = {f["name"]: f["units"] for f in got["features"]}
    assert "lining.body" in units["seam-finish"] and "skirt" in units["shaping"] and "sleeve" in units["cuff"]
    assert all("units" in school for school in got["schools"])
    choices = {f["name"]: {c["value"] for c in f["choices"]} for f in got["features"]}
    for feature, wanted in {
        "lining": "edge-to-edge waist", "closure": "open-edge-zip separating-zip", "hem": "bound narrow banded ribbed",
        "seam-finish": "overlocked-seam piped", "neck": "facing-lining combined-facing binding-ring", "neck-shape": "v-seam",
        "waist": "yoke", "straps": "none buttoned sewn strapless", "yoke-at": "back front both", "binding": "cut bought",
        "lining-sleeves": "own none", "lining-pleat": "full tapering none",
    }.items():  # fmt: skip
        assert set(wanted.split()) <= choices[feature]


def test_what_a_description_leaves_open_is_said(client):
    _, findings = ask(client, {"sleeve": "set-in", "closure": "invisible-zip"})
    taken = [f["text"] for f in findings if f["code"] == "taken"]
    assert any("neck is not described" in text for text in taken) and any("sleeve's end" in text for text in taken)
    _, asked = ask(client, {"neck": "binding-ring", "neck-shape": "v-seam"})
    assert any("Is that right?" in f["text"] for f in asked)


@pytest.mark.parametrize(
    "wrong", [{"shaping": []}, {"shaping": ["darts", "wings"]}, {"hem": "velvet"}, {"cape": "long"}]
)
def test_a_choice_that_is_none_is_refused_in_words(client, wrong):
    got = client.post("/api/v1/sequence", json={"features": wrong})
    assert got.status_code == 422 and all(d["msg"] for d in got.json()["detail"])


PIECES = {
    "features": {},
    "pieces": [
        {"id": "apron", "unit": "skirt", "layer": "shell", "cut": 1, "edges": ["waist", "left", "hem", "right"]},
        {
            "id": "band",
            "unit": "waistband",
            "edges": {"low": [0, 1], "end": [1, 2], "top": [2, 3], "other-end": [3, 0]},
        },
    ],
    "seams": [{"stack": ["+band.low", "+apron.waist", "-band.top"]}],
    "fates": {"apron.hem": {"fate": "hem", "way": "double", "first": "1 in"}, "apron.waist": {"shaping": "gather"}},
}


def test_a_garment_is_told_by_its_pieces_and_open_edges_are_asked_about(client):
    answer = client.post("/api/v1/sequence", json=PIECES).json()
    ids = [s["id"] for s in answer["steps"]]
    assert ids.index("gather-apron-waist") < ids.index("attach-band-low") and "hem-apron-hem" in ids
    assert {f["on"][0] for f in answer["findings"] if f["code"] == "edge-open"} == {
        "apron.left",
        "apron.right",
        "band.end",
        "band.other-end",
    }
    assert all(f["kind"] == "answer" for f in answer["findings"])
    assert client.post("/api/v1/sequence/check", json={**PIECES, "order": ids}).json() == {"findings": []}
    wrong = client.post("/api/v1/sequence/check", json={**PIECES, "order": ids[::-1]}).json()["findings"]
    assert any(f["level"] == "stop" and f["kind"] == "physics" for f in wrong)
    beside = client.post("/api/v1/sequence", json={**PIECES, "features": {"neck": "facing"}}).json()
    assert [f["on"] for f in beside["findings"] if f["code"] == "no-effect"] == [["features.neck"]]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"fates": {"apron.pocket": {"fate": "hem"}}}, "no edge"),
        ({"fates": {"apron.waist": {"fate": "hem"}}}, "lies in a seam"),
        ({"fates": {"apron.hem": {"fate": "frill"}}}, "fate"),
        ({"fates": {"apron.hem": {"fate": "hem", "colour": "red"}}}, "colour"),
        ({"seams": [{"stack": ["band.low", "apron.waist"]}]}, "begins with"),
        ({"seams": [{}]}, "stack, or a and b"),
        ({"pieces": []}, "give pieces"),
        ({"buttons": 3}, "buttons"),
    ],
)
def test_what_pieces_cannot_mean_is_refused_by_name(client, change, words):
    answer = client.post("/api/v1/sequence", json={**PIECES, **change})
    assert answer.status_code == 422 and words in answer.text


def as_json(garment):
    """A told garment as the interface takes it."""
    pieces = [
        {"id": p.id, "unit": p.unit, "layer": p.layer, "cut": p.cut, "on_fold": p.on_fold, "edges": list(p.edges)}
        for p in garment.pieces
    ]
    seams = [
        {"stack": [("+" if up else "-") + e for chain, up in s.pages for e in chain]}
        if len(s.pages) > 2
        else {"a": list(s.pages[0][0]), "b": list(s.pages[1][0])}
        for s in garment.seams
    ]
    fates = {
        e: {"fate": f.ending, "shaping": list(f.shaping)}
        for e, f in garment.fates.items()
        if f.shaping or f.ending not in ("joined", "open")
    }
    return {"pieces": pieces, "seams": seams, "fates": fates, "equipment": ["overlocker"]}


@pytest.mark.parametrize("name", GARMENTS)
def test_any_told_garment_is_ordered_soundly_and_a_step_in_what_is_closed_is_a_stop(client, name):
    asked = as_json(GARMENTS[name])
    ids = [s["id"] for s in client.post("/api/v1/sequence", json=asked).json()["steps"]]
    assert client.post("/api/v1/sequence/check", json={**asked, "order": ids}).json() == {"findings": []}
    if "close-lining-front-gap" in ids:
        early = [i for i in ids if i != "close-lining-front-gap"]
        early.insert(
            ids.index("turn-out-lining-front" if "vest" in name else "turn-out-front-facing"), "close-lining-front-gap"
        )
        found = client.post("/api/v1/sequence/check", json={**asked, "order": early}).json()["findings"]
        assert {f["level"] for f in found if f["kind"] == "physics"} == {"stop"} and any(
            "unpicked" in f["text"] for f in found
        )


def test_a_fate_of_one_side_acts_there_and_the_other_is_asked_about(client):
    asked = as_json(GARMENTS["trousers"])
    asked["fates"]["front.hem"] = {"fate": "hem", "way": "blind", "sides": "left"}
    answer = client.post("/api/v1/sequence", json=asked).json()
    assert any("on the left" in s["title"] and "blind" in s["title"] for s in answer["steps"])
    assert [f["text"] for f in answer["findings"] if f["code"] == "edge-open"] == [
        "What becomes of front.hem on the right is not said: sewn to another edge, hemmed, bound, or left?"
    ]
    asked = {**PIECES, "fates": {"apron.hem": {"fate": "hem", "sides": "left"}}}
    assert "has no left side" in client.post("/api/v1/sequence", json=asked).text


def test_drawn_pieces_say_how_wide_an_opening_is(client):
    """A bag of 20 cm is not turned through a gap 3 cm long, flat 3 cm wide, but through one of 12; undrawn that is only a care."""

    def found(gap_mm, drawn=True):
        edges = {"across": (0, 1), "top": (1, 2), "side": (2, 3), "rest": (3, 4), "gap": (4, 0)}
        outline = [[0.0, 0.0], [0.0, 200.0], [200.0, 200.0], [200.0, 0.0], [gap_mm, 0.0]]
        bag = [
            {
                "id": name,
                "unit": "pocket",
                "edges": edges if drawn else list(edges),
                "outline": outline if drawn else None,
            }
            for name in "ab"
        ]
        around = [f"{name}" for name in edges if name != "gap"]
        seams = [{"a": [f"a.{e}" for e in around], "b": [f"b.{e}" for e in around]}, {"a": ["a.gap"], "b": ["b.gap"]}]
        asked = {"pieces": bag, "seams": seams}
        ids = [s["id"] for s in client.post("/api/v1/sequence", json=asked).json()["steps"]]
        return client.post("/api/v1/sequence/check", json={**asked, "order": ids}).json()["findings"]

    assert found(120.0) == [] and next(f["level"] for f in found(30.0)) == "stop"
    assert "stop" not in {f["level"] for f in found(30.0, drawn=False)}
    wrong = [{"id": "a", "unit": "bag", "edges": {"around": (0, 9)}, "outline": [[0.0, 0.0], [0.0, 9.0], [9.0, 9.0]]}]
    assert "not on its outline" in client.post("/api/v1/sequence", json={"pieces": wrong}).text


SAID = {
    "features": {"closure": "buttons", "seam-finish": "french", "neck": "facing", "pocket": ["patch", "welt"], "hem": "blind",
                 "belt": "loops"},
    "units": {"sleeve": {"seam-finish": "none"}, "cape": {"hem": "blind"}},
    "schools": {"sleeve-setting": "flat", "seam-pressing": "together", "gusset": "one-piece", "staystitch-place": "quarter"},
    "equipment": ["overlocker", "loop-turner"],
    "numbers": {"hem": {"second": "2 in"}, "allowance": "1/2 in", "body.side": {"allowance": "1 in"}, "zip": "20 cm",
                "button": "12 mm"},
}  # fmt: skip


@pytest.mark.parametrize("name", ["shirt", "T-shirt", "skirt", "trousers", "dress with facings"])
def test_whatever_is_said_beside_pieces_changes_the_answer_or_is_named(client, name):
    asked = {**as_json(GARMENTS[name]), **SAID}

    def answer(body):
        found = client.post("/api/v1/sequence", json=body).json()
        named = {f["on"][0] for f in found["findings"] if f["code"] == "no-effect"}
        return found["steps"], named

    steps, named = answer(asked)
    for part in ("features", "schools"):
        for word in SAID[part]:
            less = {**asked, part: {k: v for k, v in SAID[part].items() if k != word}}
            assert (answer(less)[0] == steps) == (f"{part}.{word}" in named), f"{part}.{word}"
    for unit, own in SAID["units"].items():
        less = {**asked, "units": {k: v for k, v in SAID["units"].items() if k != unit}}
        assert (answer(less)[0] == steps) == (f"units.{unit}.{next(iter(own))}" in named), unit
    for figure in SAID["numbers"]:
        less = {**asked, "numbers": {k: v for k, v in SAID["numbers"].items() if k != figure}}
        full = f"numbers.{figure}" + (
            f".{next(iter(SAID['numbers'][figure]))}" if isinstance(SAID["numbers"][figure], dict) else ""
        )
        assert (answer(less)[0] == steps) == (full in named), figure
    assert "equipment.loop-turner" in named and "units.cape.hem" in named and "schools.gusset" in named


def test_figures_of_an_edge_or_seam_stand_at_its_steps_by_its_units_name(client):
    steps = client.post("/api/v1/sequence", json={**as_json(GARMENTS["shirt"]), **SAID}).json()["steps"]
    by = {s["id"]: s for s in steps}
    assert (
        "2.5 cm (1 in)" in by["sew-front-side"]["numbers"]["seam"]
        and "1.3 cm (1/2 in)" in by["join-sleeve-cap"]["numbers"]["seam"]
    )
    assert "5.1 cm (2 in)" in by["hem-front-hem"]["numbers"]["hem"]
    assert (
        "12 mm" in by["buttonhole-front-front-edge"]["numbers"]["buttonhole"]
        or "1.2 cm" in by["buttonhole-front-front-edge"]["numbers"]["buttonhole"]
    )


def test_a_feature_nobody_knows_is_refused_beside_pieces_too_and_what_gave_way_is_told(client):
    for change in (
        {"features": {"frill": "big"}},
        {"schools": {"frill": "big"}},
        {"units": {"body": {"hem": "frilled"}}},
    ):
        assert client.post("/api/v1/sequence", json={**PIECES, **change}).status_code == 422
    own = [{"text": "Odd", "after": ["final-press", "nowhere"], "before": ["mark-pieces"]}]
    found = client.post("/api/v1/sequence", json={**PIECES, "own_steps": own}).json()["findings"]
    assert [f["kind"] for f in found if f["code"] == "wish-gave-way"] == ["wish"]
    assert ["own_steps.0.after"] in [f["on"] for f in found if f["code"] == "no-effect"]
