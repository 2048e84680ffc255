"""The JSON interface: the contract's shapes, lengths in words, errors that say what to change, never a 500."""

import json

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowanseed.core.pattern.quick import QUICK_SHAPES

CHART = [
    {"size": "12", "bust": "36 in", "waist": "28 in", "hip": "38 in"},
    {"size": "14", "bust": "38 in", "waist": "30 in", "hip": "40 in"},
    {"size": "16", "bust": "40 in", "waist": "32 in", "hip": "42 in"},
]
FINISHED = [
    {"size": "12", "bust": "40 in", "waist": "33 in", "hip": "42 in"},
    {"size": "14", "bust": "42 in", "waist": "35 in", "hip": "44 in"},
    {"size": "16", "bust": "44 in", "waist": "37 in", "hip": "46 in"},
]
BODY = {"bust": "38 in", "high_bust": "37 in", "waist": "31 in", "hip": "41 in", "height": "170 cm"}
SQUARE = [[0, 0], [500, 0], [500, 300], [0, 300]]
LAY = {
    "cloth": {"width": "45 in", "selvage": "1/2 in", "length": None, "nap": "none", "print": None, "flaws": []},
    "spread": "single",
    "pieces": [
        {
            "id": "1",
            "outline": SQUARE,
            "fold_edge": None,
            "cut": 2,
            "mirrored": True,
            "grain": "lengthwise",
            "marks": {"a": [9, 9]},
        }
    ],
    "matches": [],
    "gap": 3,
    "effort": "quick",
    "seed": 1,
}


def post(client, path, body, status=200):
    answer = client.post(f"/api/v1/{path}", json=body)
    assert answer.status_code == status, answer.text
    return answer.json()


def test_size_advice_answers_zones_with_ease_and_reasons(client):
    got = post(
        client, "size-advice", {"body": BODY, "chart": CHART, "finished": FINISHED, "key": "bust", "school": "chart"}
    )
    # High bust 37 + the pattern's cup of 2 in: 39, half way from 14 to 16, and an exact half goes to the larger.
    assert got["size"] == "16"
    by_zone = {z["zone"]: z for z in got["zones"]}
    assert by_zone["bust"]["ease_mm"] == pytest.approx(6 * 25.4) and by_zone["waist"]["size"] == "16"
    assert {"level", "code", "text"} == set(got["findings"][0])


@pytest.mark.parametrize(
    ("school", "between"), [(s, b) for s in ("chart", "finished", "at-least") for b in ("larger", "blend")]
)
def test_every_school_and_both_ways_between_sizes_answer(client, school, between):
    got = post(client, "size-advice", {"body": BODY, "chart": CHART, "finished": FINISHED, "key": "waist", "school": school,
                                       "between": between, "want_ease": {"waist": "3 in"}, "garment": "skirt"})  # fmt: skip
    assert got["size"] in {"12", "14", "16"}


def test_without_finished_measurements_ease_is_null(client):
    got = post(client, "size-advice", {"body": BODY, "chart": CHART})
    assert all(z["ease_mm"] is None and z["finished_mm"] is None for z in got["zones"])


def test_the_shapes_list_themselves_and_draw(client):
    listed = client.get("/api/v1/shapes").json()
    assert {s["name"] for s in listed} == {*QUICK_SHAPES, "freehand"}
    for shape in listed:
        figures = {m["name"]: m["example"] for m in shape["measurements"]}
        drawn = post(client, f"shapes/{shape['name']}", {"measurements": figures})
        assert len(drawn["outline"]) >= 3 and drawn["area_mm2"] > 0
        assert (drawn["fold_edge"] is not None) == shape["on_fold"]


def test_a_lay_answers_the_contracts_fields_in_millimetres(client):
    got = post(client, "lay", LAY)
    assert got["length_mm"] == pytest.approx(500.0, abs=0.1) and got["width_mm"] == pytest.approx(44 * 25.4)
    assert got["lanes"] == [
        {
            "from_mm": 0,
            "to_mm": 1143,
            "start_mm": 0,
            "end_mm": got["length_mm"],
            "layers": 1,
            "edges": ["selvage", "selvage"],
        }
    ]
    for placement in got["placements"]:
        assert set(placement) == {"piece", "lane", "outline", "marks", "turned", "face_down", "layers", "on_fold"}
        assert len(placement["outline"]) == 4 and placement["marks"]["a"]
        assert min(y for _, y in placement["outline"]) >= 12.7 - 1e-6  # keeps off the selvage of 1/2 in
    assert sorted(p["face_down"] for p in got["placements"]) == [False, True]


def test_a_placed_outline_has_the_same_points_in_the_same_order(client):
    wedge = [[0, 0], [500, 0], [500, 300], [0, 180]]
    body = {**LAY, "pieces": [{"id": "w", "outline": wedge, "cut": 1}]}
    (placement,) = post(client, "lay", body)["placements"]
    x0, y0 = placement["outline"][0]
    sign = -1 if placement["turned"] == 180 else 1
    assert [[round(sign * (x - x0)), round(sign * (y - y0))] for x, y in placement["outline"]] == wedge


def test_a_short_cloth_keeps_what_lies_on_it_and_says_how_much_is_missing(client):
    pieces = [{"id": str(n), "outline": SQUARE, "cut": 3} for n in range(3)]
    got = post(client, "lay", {**LAY, "cloth": {**LAY["cloth"], "length": "1.2 m"}, "pieces": pieces})
    assert any(f["level"] == "stop" and f["code"] == "cloth-too-short" for f in got["findings"])
    assert 0 < len(got["placements"]) < 9 and got["short_mm"] == pytest.approx(got["length_mm"] - 1200)


def test_a_piece_wider_than_the_cloth_is_a_stop_finding_and_not_an_error(client):
    got = post(client, "lay", {**LAY, "pieces": [{"id": "cape", "outline": [[0, 0], [10, 0], [10, 2000], [0, 2000]]}]})
    assert got["placements"] == [] and got["findings"][0]["code"] == "piece-too-wide"


def test_yardage_is_laid_on_the_width_that_washing_leaves(client):
    body = {
        "pieces": [{"id": "1", "outline": [[0, 0], [800, 0], [800, 700], [0, 700]], "cut": 2, "mirrored": True}],
        "cloths": [{"width": 1500, "selvage": 10}, {"width": 1400, "selvage": 0}, {"width": 600}],
        "spread": "single", "shrink_along": 0.03, "shrink_across": 0.05, "straighten": "2 in", "step": "1/8 yd",
    }  # fmt: skip
    wide, narrow, none = post(client, "yardage", body)["rows"]
    # 1500 x 0.95 - 20 = 1405: both fit beside each other. 1400 x 0.95 = 1330: one behind the other.
    assert wide["lay_mm"] == pytest.approx(800) and narrow["lay_mm"] == pytest.approx(1600)
    assert wide["buy_mm"] == pytest.approx(8 * 114.3) and wide["buy_text"] == "1 yd"  # (800 + 50.8) / 0.97 = 877.1
    assert none["lay_mm"] is None and none["findings"]


def test_the_sequence_and_its_check_agree(client):
    asked = {
        "features": {"closure": "invisible-zip", "sleeve": "set-in", "neck": "facing"},
        "equipment": ["overlocker"],
    }
    steps = post(client, "sequence", {**asked, "sitting_minutes": 45})["steps"]
    assert {"id", "title", "place", "needs", "settings", "numbers", "checks", "cautions", "minutes", "sitting"} <= set(
        steps[0]
    )
    order = [s["id"] for s in steps]
    assert post(client, "sequence/check", {**asked, "order": order})["findings"] == []
    wrong = post(client, "sequence/check", {**asked, "order": order[::-1]})["findings"]
    assert wrong and {"level", "code", "text", "step", "needs", "law", "on", "kind"} == set(wrong[0])


def test_a_tool_that_changes_no_step_is_noted(client):
    findings = post(client, "sequence", {"features": {}, "equipment": ["anvil", "overlocker"]})["findings"]
    assert [f["level"] for f in findings if "anvil" in f["text"]] == ["note"]


def test_features_schools_and_tools_are_listed(client):
    got = client.get("/api/v1/features").json()
    assert (
        len(got["features"]) >= 16
        and all(f["choices"] for f in got["features"])
        and all(s["reason"] for s in got["schools"])
    )
    assert "overlocker" in got["equipment"]


def test_the_calculators_answer(client):
    names = {c["name"] for c in client.get("/api/v1/reckon").json()}
    assert "double-hem" in names
    got = {
        r["name"]: r["value"]
        for r in post(client, "reckon/double-hem", {"first_fold": "1/4 in", "second_fold": "1 in"})
    }
    assert got["second_line_mm"] == pytest.approx(2.25 * 25.4)


BAD = [
    ("size-advice", {"body": {"bust": "wide"}, "chart": CHART}, ["body", "body", "bust"], "not a length"),
    ("size-advice", {"body": {}, "chart": CHART}, ["body", "key"], "needed"),
    ("size-advice", {"body": BODY, "chart": CHART[::-1]}, ["body", "chart"], "rise"),
    ("size-advice", {"body": BODY, "chart": []}, ["body", "chart"], ""),
    ("size-advice", {"body": BODY, "chart": CHART, "school": "guess"}, ["body", "school"], ""),
    ("shapes/cape", {"measurements": {}}, ["body", "shape"], "no quick shape"),
    ("shapes/sleeve", {"measurements": {"length": "62 cm"}}, ["body", "cap_height"], "figure is needed"),
    ("lay", {**LAY, "pieces": []}, ["body", "pieces"], ""),
    ("lay", {**LAY, "spread": "sideways"}, ["body", "spread"], "part-fold"),
    ("lay", {**LAY, "cloth": {"width": -4}}, ["body", "cloth", "width"], "negative"),
    ("lay", {**LAY, "cloth": {"width": "1 in", "selvage": "1 in"}}, ["body", "cloth", "width"], "selvages"),
    ("lay", {**LAY, "pieces": [{"id": "1", "outline": [[0, 0], [9, 9], [9, 0], [0, 8]]}]}, None, "crosses"),
    ("lay", {**LAY, "pieces": [{"id": "1", "outline": [[0, 0], [0, 0], [0, 0]]}]}, None, "area"),
    (
        "yardage",
        {"pieces": LAY["pieces"], "cloths": [{"width": 900}], "shrink_along": 0.9},
        ["body", "shrink_along"],
        "50 %",
    ),
    ("sequence", {"features": {"cape": "long"}}, ["body", "cape"], "no feature"),
    ("sequence", {"features": {"neck": "ruff"}}, ["body", "neck"], "Choose one"),
    ("reckon/juggling", {}, ["body", "name"], "no calculator"),
]


@pytest.mark.parametrize(("path", "body", "loc", "word"), BAD)
def test_an_unusable_request_names_its_place_and_what_to_change(client, path, body, loc, word):
    (first, *_) = post(client, path, body, 422)["detail"]
    assert word in first["msg"] and first["msg"]
    assert loc is None or first["loc"][: len(loc)] == loc


@pytest.mark.parametrize(
    "raw", [b"", b"{", b"[]", b"null", b'"x"', b"\xff", b'{"pieces": 3}', b'{"cloth": {"width": NaN}}']
)
@pytest.mark.parametrize(
    "path", ["lay", "size-advice", "sequence", "sequence/check", "yardage", "shapes/sleeve", "reckon/buy"]
)
def test_bytes_that_are_no_request_get_422(client, path, raw):
    answer = client.post(f"/api/v1/{path}", content=raw, headers={"Content-Type": "application/json"})
    assert answer.status_code == 422 and answer.json()["detail"][0]["msg"]


JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**9), 10**9) | st.text(max_size=6) | st.floats(-1e6, 1e6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=5), inner, max_size=3),
    max_leaves=6,
)


@settings(
    max_examples=80, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)
@given(
    st.sampled_from(sorted(LAY)), st.sampled_from(["id", "outline", "fold_edge", "cut", "grain", "marks", None]), JSON
)
def test_a_lay_request_with_anything_anywhere_is_answered_or_refused(client, key, inside, value):
    body = json.loads(json.dumps(LAY))
    if inside is None:
        body[key] = value
    else:
        body["pieces"][0][inside] = value
    assert client.post("/api/v1/lay", content=json.dumps(body)).status_code in (200, 422)


def test_openapi_describes_every_path_of_the_contract(client):
    paths = client.get("/openapi.json").json()["paths"]
    wanted = (
        "size-advice",
        "shapes",
        "shapes/{name}",
        "lay",
        "yardage",
        "features",
        "sequence",
        "sequence/check",
        "reckon",
    )
    assert {f"/api/v1/{p}" for p in wanted} <= set(paths)


PANEL = [[0, 0], [400, 0], [400, 200], [0, 200]]
PANELS = {
    "pieces": [
        {"id": "front", "outline": PANEL, "edges": {"side": [2, 3], "top": [3, 0]}},
        {"id": "back", "outline": PANEL, "edges": {"side": [2, 3]}},
        {"id": "facing", "outline": PANEL, "same_as": "front"},
    ],
    "seams": [{"a": ["front", "side"], "b": ["back", "side"], "meant": 0}],
}


def test_an_alteration_is_carried_and_says_why(client):
    got = post(
        client, "alter", {**PANELS, "alterations": [{"kind": "length", "piece": "front", "at": 300, "by": "1 in"}]}
    )
    assert {f["piece"] for f in got["followed"]} == {"back", "facing"} and all(f["because"] for f in got["followed"])
    assert all(p["area_mm2"] == pytest.approx(200 * 425.4) for p in got["pieces"]) and got["findings"] == []
    less = post(
        client, "alter", {**PANELS, "alterations": [{"kind": "length", "piece": "front", "at": 300, "by": "-1 in"}]}
    )
    assert less["pieces"][0]["area_mm2"] == pytest.approx(200 * 374.6)


def test_the_seam_walk_answers_both_edges_their_difference_and_what_is_meant(client):
    short = {"id": "back", "outline": [[0, 0], [390, 0], [390, 200], [0, 200]], "edges": {"side": [2, 3]}}
    got = post(client, "seam-walk", {**PANELS, "pieces": [PANELS["pieces"][0], short]})
    plain = {
        "a": ["front", "side"],
        "b": ["back", "side"],
        "a_mm": 400,
        "b_mm": 390,
        "difference_mm": 10,
        "meant_mm": 0,
    }
    assert plain.items() <= got["seams"][0].items() and len(got["seams"]) == 1
    assert [f["code"] for f in got["findings"]] == ["seam-too-long"]


def test_a_side_of_several_edges_is_walked_as_one_and_notches_are_compared(client):
    band = {"id": "band", "outline": [[0, 0], [410, 0], [410, 60], [0, 60]], "edges": {"long": [0, 1]}}
    front = {**PANELS["pieces"][0], "notches": [{"at": [100, 200]}]}
    back = {**PANELS["pieces"][1], "notches": [{"at": [105, 200]}]}
    seams = [
        *PANELS["seams"],
        {"a": ["band", "long"], "b": [["front", "top"], ["front", "top"]], "meant": "1 cm", "why": "lap"},
    ]
    got = post(client, "seam-walk", {"pieces": [front, back, band], "seams": seams})
    assert got["seams"][1]["b_mm"] == 400 and got["seams"][1]["more_b"] == [["front", "top"]]
    assert got["seams"][0]["notches"] == [{"a_mm": 100, "b_mm": 105, "off_mm": -5}]
    assert [f["code"] for f in got["findings"]] == ["notch-out-of-place"]


def test_a_bust_is_slashed_at_its_point_and_a_piece_may_be_left(client):
    front = {
        "id": "front",
        "outline": [[80, 0], [0, 70], [40, 180], [200, 240], [500, 240], [500, 0]],
        "edges": {"armhole": [2, 3], "side": [3, 4], "hem": [4, 5], "centre": [5, 0]},
        "marks": {"bust point": [240, 90]},
    }
    band = {"id": "band", "outline": [[0, 0], [420, 0], [420, 60], [0, 60]], "edges": {"long": [0, 1]}}
    asked = {
        "pieces": [front, band],
        "seams": [{"a": ["front", "centre"], "b": ["band", "long"]}],
        "alterations": [{"kind": "bust", "piece": "front", "by": "2 cm"}],
    }
    got = post(client, "alter", asked)
    assert [f["piece"] for f in got["followed"]] == ["band"] and not got["findings"]
    assert got["pieces"][0]["lines"][0]["kind"] == "dart"
    asked["alterations"][0]["leave"] = ["band"]
    left = post(client, "alter", asked)
    assert [f["piece"] for f in left["left"]] == ["band"] and left["followed"] == []
    assert {f["code"] for f in left["findings"]} == {"left-as-it-was", "seam-too-long"}


def test_size_advice_takes_ranges_ages_looks_and_what_is_worn_under(client):
    letters = [
        {"size": "S", "bust": ["34 in", "36 in"], "height": "165 cm"},
        {"size": "M", "bust": ["37 in", "39 in"], "height": "168 cm"},
        {"size": "L", "bust": ["40 in", "42 in"], "height": "171 cm"},
    ]
    got = post(client, "size-advice", {"body": {"bust": "38 in"}, "chart": letters, "garment": "top"})
    assert got["size"] == "M"
    over = {"body": {"bust": "38 in"}, "chart": letters, "garment": "coat", "worn_under": "5 cm", "cloth": ["stiff"]}
    got = post(client, "size-advice", over)
    assert got["size"] == "L" and "cloth-needs-room" in {f["code"] for f in got["findings"]}
    children = [{"size": str(n), "height": 1000 + 60 * n, "age": n} for n in range(3, 9)]
    got = post(client, "size-advice", {"body": {"height": "133 cm"}, "chart": children, "child": True, "age": 7})
    assert got["size"] == "6" and {f["code"] for f in got["findings"]} >= {"age-differs"}
    skirt = [{"size": str(w), "waist": f"{w} in", "hip": f"{w + 10} in"} for w in range(26, 32)]
    body = {"waist": "28 in", "hip": "40 in"}
    sizes = [
        post(client, "size-advice", {"body": body, "chart": skirt, "garment": "skirt", "cut": cut})["size"]
        for cut in ("close", "flared")
    ]
    assert sizes == ["30", "28"]


def test_the_kinds_of_alteration_are_listed(client):
    listed = client.get("/api/v1/alterations").json()
    assert {"length", "hem", "side", "taper"} <= {k["kind"] for k in listed} and all(k["title"] for k in listed)


@pytest.mark.parametrize(
    ("path", "change", "word"),
    [
        ("alter", {"alterations": [{"kind": "wings", "piece": "front", "by": 3}]}, "no alteration"),
        ("alter", {"alterations": [{"kind": "length", "piece": "front", "by": "some", "at": 3}]}, "not a length"),
        ("alter", {"seams": [{"a": ["front", "wing"], "b": ["back", "side"]}]}, "no edge"),
        ("seam-walk", {"pieces": [{"id": "x", "outline": PANEL, "edges": {"side": [2, 9]}}], "seams": []}, "not there"),
        ("seam-walk", {"pieces": [PANELS["pieces"][0], PANELS["pieces"][0]], "seams": []}, "same id"),
    ],
)
def test_an_alteration_that_cannot_be_read_is_refused_in_words(client, path, change, word):
    assert word in post(client, path, {**PANELS, **change}, 422)["detail"][0]["msg"]
