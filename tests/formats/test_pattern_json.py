"""The pattern file: written and read without loss; a broken one gives the field and the reason."""

import copy
import json
from dataclasses import replace
from pathlib import Path

import jsonschema
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rowanseed.core.errors import PatternFileError
from rowanseed.core.pattern.fates import EdgeFate
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.formats.pattern_json import read_pattern, schema, write_pattern

DOCS = Path(__file__).parent.parent.parent / "docs"
GOOD = json.loads(write_pattern(waistcoat.pattern()))


@pytest.mark.parametrize("module", [overshirt, trousers, waistcoat])
def test_a_pattern_written_and_read_is_the_same(module):
    pattern = module.pattern()
    assert read_pattern(write_pattern(pattern)) == pattern
    fates = {
        "1|hem": EdgeFate("hem", "double", 6.0, 25.0),
        "2|side": EdgeFate("joined", "mirror", shaping=("gather", "ease")),
    }
    told = replace(pattern, fates=fates, units={"1": "skirt"})
    assert read_pattern(write_pattern(told)) == told


def test_the_file_keeps_lengths_as_typed():
    file = json.loads(write_pattern(overshirt.pattern()))
    assert file["sizes"][1]["body"]["bust"] == "33 1/2 in" and file["format"] == "rowanseed-pattern/1"


def test_the_published_schema_is_current_and_accepts_the_demo_patterns():
    published = json.loads((DOCS / "pattern.schema.json").read_text())
    assert published == schema()
    for module in (overshirt, trousers, waistcoat):
        jsonschema.validate(json.loads(write_pattern(module.pattern())), published)


def broken(*path, value):
    file = copy.deepcopy(GOOD)
    at = file
    for part in path[:-1]:
        at = at[part]
    at[path[-1]] = value
    return json.dumps(file)


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        (("format",), "rowanseed-pattern/9", "format"),
        (("name",), "", "name"),
        (("garment",), "spacesuit", "garment"),
        (("sizes", 0, "body", "bust"), "wide", "sizes.0.body.bust"),
        (("sizes", 0, "body", "bust"), None, "sizes.0.body.bust"),
        (("pieces", 0, "cut"), 0, "pieces.0.cut"),
        (("pieces", 0, "views"), ["Z"], "pieces.0.views"),
        (("pieces", 1, "number"), "1", "pieces.1.number"),
        (("pieces", 0, "shapes", "M", "outline"), [[0, 0], [1, 0]], "pieces.0.shapes.M.outline"),
        (("pieces", 0, "shapes", "M", "outline"), [[0, 0], [9, 9], [9, 0], [0, 8]], "pieces.0.shapes.M.outline"),
        (("pieces", 0, "shapes", "M", "outline", 3), [0, "x"], "pieces.0.shapes.M.outline.3.1"),
        (("pieces", 0, "shapes", "M", "edges", "neck"), [0, 999], "pieces.0.shapes.M.edges.neck"),
        (("wings",), 2, "wings"),
        (("views", 0, "features"), {"collar": "ruff"}, "views.0.features"),
        (("views", 0, "features"), {"wings": "two"}, "views.0.features"),
        (("views", 0, "name"), "A/B", "views.0"),
        (("views",), [{"name": "A"}, {"name": "A"}], "views.1"),
        (("sizes", 1, "size"), GOOD["sizes"][0]["size"], "sizes.1"),
        (("pieces", 0, "number"), "1/2", "pieces.0"),
        (("pieces", 0, "shapes", "M", "fold_edge"), [[10, 0], [10, 0]], "pieces.0.shapes.M.fold_edge"),
        (("pieces", 0, "shapes", "M", "fold_edge"), [[0, 0], [0, 100]], "pieces.0.shapes.M.fold_edge"),
        (("pieces", 0, "shapes", "M", "fold_edge"), [[0, 9999], [300, 9999]], "pieces.0.shapes.M.fold_edge"),
        (("pieces",), [{"number": str(k), "name": "Strip", "cut": 1} for k in range(3000)], "pieces"),
    ],
)
def test_a_broken_file_names_the_field(path, value, field):
    with pytest.raises(PatternFileError) as caught:
        read_pattern(broken(*path, value=value))
    assert caught.value.field == field and field in caught.value.text and len(caught.value.text) > len(field) + 5


@pytest.mark.parametrize(
    "text", ["", "{", "[]", "3", "null", b"\xff\xfe", "[" * 5000, '{"format": "rowanseed-pattern/1"}']
)
def test_what_is_no_pattern_file_is_refused(text):
    with pytest.raises(PatternFileError):
        read_pattern(text)


JSON = st.recursive(
    st.none() | st.booleans() | st.floats() | st.text(max_size=8), lambda inner: st.lists(inner, max_size=4)
)


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.data())
def test_a_file_with_anything_anywhere_is_read_or_refused(data):
    file = copy.deepcopy(GOOD)
    at = file
    for _ in range(data.draw(st.integers(0, 6))):
        if isinstance(at, dict) and at:
            key = data.draw(st.sampled_from(sorted(at)))
        elif isinstance(at, list) and at:
            key = data.draw(st.integers(0, len(at) - 1))
        else:
            break
        if not isinstance(at[key], (dict, list)) or data.draw(st.booleans()):
            at[key] = data.draw(JSON)
            break
        at = at[key]
    try:
        read_pattern(json.dumps(file))
    except PatternFileError as error:
        assert error.text


@pytest.mark.parametrize(
    ("number", "mm"), [(3.1e-227, 0.0), (0.00004, 0.00004), (1_000_000, 1_000_000.0), (1651.25, 1651.25)]
)
def test_a_length_given_as_a_number_is_read_however_small_or_large(number, mm):
    file = json.loads(write_pattern(overshirt.pattern()))
    file["drafted_height"] = number
    assert read_pattern(json.dumps(file)).drafted_height.mm == pytest.approx(mm, abs=1e-6)
