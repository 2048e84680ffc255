"""Anything at all is answered or refused in words: every path of the JSON interface, every form, never a 500."""

import json

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.web.test_api import BODY, CHART, FINISHED, JSON, LAY

REQUESTS = {
    "size-advice": {"body": BODY, "chart": CHART, "finished": FINISHED, "key": "bust", "school": "finished", "between": "blend",
                    "want_ease": {"bust": "3 in"}, "drafted_height": "168 cm", "garment": "top", "stretch": 0.2},
    "yardage": {"pieces": LAY["pieces"], "cloths": [LAY["cloth"]], "spread": "best", "shrink_along": 0.03, "shrink_across": 0.0,
                "straighten": "2 in", "step": "1/8 yd"},
    "sequence": {"features": {"neck": "facing"}, "equipment": ["overlocker"], "schools": {},
                 "cloth": {"weight": "light"},
                 "pieces": [{"name": "Front", "outline": [[0, 0], [9, 0], [9, 9]], "edges": {"hem": [0, 1]}}]},
    "sequence/check": {"features": {"neck": "facing"}, "order": ["mark-pieces"]},
    "shapes/bodice-back": {"measurements": {"centre_length": "60 cm", "neck_width": "8 cm"}},
    "reckon/buttons": {"top": 15, "bottom": 615, "count": 7, "per_card": 3},
}  # fmt: skip
LENIENT = settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)


def put_somewhere(data, value):
    """The document with one place in it, at any depth, replaced by anything."""
    if isinstance(value, dict) and value and data.draw(st.integers(0, 3)):
        key = data.draw(st.sampled_from(sorted(value)))
        return {**value, key: put_somewhere(data, value[key])}
    if isinstance(value, list) and value and data.draw(st.integers(0, 3)):
        at = data.draw(st.integers(0, len(value) - 1))
        return [*value[:at], put_somewhere(data, value[at]), *value[at + 1 :]]
    return data.draw(JSON)


@pytest.mark.parametrize("path", REQUESTS)
@LENIENT
@given(st.data())
def test_a_request_with_anything_anywhere_is_answered_or_refused_in_words(client, path, data):
    body = put_somewhere(data, REQUESTS[path])
    answer = client.post(f"/api/v1/{path}", content=json.dumps(body))
    assert answer.status_code in (200, 422)
    if answer.status_code == 422:
        assert all(d["msg"] and d["loc"] for d in answer.json()["detail"])


FORMS = {
    "/people/new": ["name", "taken_on", "bust", "waist", "hip", "is_child", "born_on"],
    "/people/1": ["name", "note", "version"],
    "/people/1/measure": ["taken_on", "bust", "height"],
    "/cloths/new": [
        "name",
        "width",
        "selvage",
        "length",
        "kind",
        "nap",
        "print_kind",
        "repeat_along",
        "shrink_along",
        "ground",
        "flaws",
        "stretch",
    ],
    "/patterns/new": [
        "name",
        "views",
        "size",
        "body_bust",
        "finished_hip",
        "drafted_height",
        "garment",
        "cut",
        "least_stretch",
        "body_height",
        "age",
    ],
    "/patterns/echo": ["body_bust"],
    "/patterns/1/pieces": [
        "shape",
        "size",
        "number",
        "name",
        "cut",
        "role",
        "allowance",
        "views",
        "version",
        "length",
        "width",
    ],
    "/patterns/1/views/A": ["neck", "version"],
    "/makes/new": ["name", "pattern_view", "people"],
    "/makes/2/fit/size": ["garment", "size"],
    "/makes/2/fit/school": ["school", "between", "key", "ease-bust", "look", "worn_under", "version"],
    "/makes/2/fit/alter": ["kind", "piece", "at", "across", "edge", "by", "less", "version"],
    "/makes/2/fit/alter/0": ["drop", "leave", "follow", "version"],
    "/makes/2/fit/put-back": ["version"],
    "/makes/2/fit/note": ["finding", "pinned", "trial", "words", "garment", "from"],
    "/makes/2/fit/propose/1": ["answer", "version"],
    "/patterns/1/seams": ["a", "b", "b2", "meant", "shorter", "why", "size", "version"],
    "/patterns/1/seams/levels": [
        "piece",
        "level-bust",
        "bust_down",
        "bust_across",
        "off_grain",
        "selvage_edge",
        "size",
        "version",
    ],
    "/patterns/1/seams/0/drop": ["size", "version"],
    "/people/figure?key=bust&person=1": ["bust", "taken_on"],
    "/makes/2/cloth": ["role", "cloth"],
    "/makes/2/lay/hold": ["role", "number"],
    "/makes/2/lay/offcuts": ["role", "number"],
    "/makes/2/cut/tick": ["key", "done"],
    "/makes/2/sew/tick": ["step", "done"],
    "/makes/2/sew/move": ["step", "before"],
    "/makes/2/sew/garment": ["hem", "version", "school-facing-roll"],
    "/makes/2/wear/note": ["text", "kind"],
    "/settings": ["unit", "step", "straighten", "sitting_minutes", "look-0", "look-1", "look-4"],
    "/bench/buy": ["lay", "straighten", "shrinkage"],
    "/bench/circle-skirt": ["waist", "long", "share", "seam", "hem"],
    "/bench/bias-strips": ["long", "wide", "strip", "seam"],
    "/bench/pleats/use": ["finished", "visible", "depth", "make"],
    "/cloths/1/prepare": ["task", "done", "version"],
    "/cloths/1/square": [
        "before_along",
        "before_across",
        "after_along",
        "after_across",
        "width_now",
        "length_now",
        "version",
    ],
    "/cloths/1/picture/drop": ["picture", "version"],
    "/supplies": ["kind", "name", "amount", "note"],
    "/supplies/1/amount": ["amount", "version"],
    "/shops": ["id", "name", "currency", "step", "prices", "version"],
    "/shopping/tick": ["key", "done", "shop"],
    "/makes/2/cloth/trim": ["trim_name", "shows", "edge"],
    "/makes/2/cloth/trim/drop": ["trim_name"],
    "/patterns/3/derive": [
        "kind",
        "number",
        "name",
        "source",
        "facing",
        "edge",
        "facing_edge",
        "hem",
        "pleat",
        "pad",
        "allowance",
        "long",
        "wide",
        "cut",
    ],
    "/patterns/1/yardage/stop": ["view", "role", "check"],
    "/makes/2/sew/machine": ["step", "what", "reason", "seconds", "sample"],
    "/makes/2/sew/evenings": ["evenings"],
    "/makes/2/sew/sheet": ["sheet"],
    "/makes/2/sew/sheet/match": ["line-1", "line-2"],
    "/makes/2/sew/sheet/order": ["use"],
    "/makes/2/sew/trouble": ["trouble", "check", "step"],
    "/lengths/echo": ["bust"],
}
WORDS = st.text(max_size=12) | st.sampled_from(
    [
        "1",
        "2|A",
        "12 in",
        "5/8",
        "sleeve",
        "rectangle",
        "self",
        "cm",
        "-1",
        "999999999999",
        "lining",
        "2026-12-01 90",
        "0",
    ]
)


@pytest.mark.parametrize("url", FORMS)
@settings(parent=LENIENT, max_examples=10)
@given(st.data())
def test_a_form_with_anything_in_it_is_taken_or_refused(client, url, data):
    form = {name: data.draw(WORDS) for name in FORMS[url] if data.draw(st.booleans())}
    answer = client.post(url, data=form)
    assert answer.status_code in (200, 404, 409, 422), (form, answer.status_code)
