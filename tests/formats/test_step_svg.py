"""Drawings of steps: most steps of usual garments have one, each is sound SVG within its frame, and none is left unused."""

import inspect
import re
from xml.etree import ElementTree

import pytest

from rowanseed.core.sew.garment import operations_for
from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.numbers import Facts
from rowanseed.formats import step_sketches, step_svg
from rowanseed.formats.sewing import library
from tests.core.sew.test_practice import COAT, DRESS, FLY, JACKET, SHIRT, SKIRT

HOOD = {"collar": "hooded", "front": "facing", "closure": "separating-zip", "sleeve": "raglan", "waist": "casing"}
SKETCHES = [
    one
    for name, one in inspect.getmembers(step_sketches, inspect.isfunction)
    if one.__module__ == step_sketches.__name__ and not name.startswith("_")
]


def drawn(features):
    """The drawings of a garment's steps by the steps' ids; empty where words say it better."""
    return {op.id: step_svg.step_svg(op, Facts()) for op, _ in operations_for(library(), SewnGarment(features))}


@pytest.mark.parametrize("features", [SHIRT, SKIRT, DRESS, COAT, JACKET, FLY, HOOD])
def test_most_steps_are_drawn_and_every_drawing_is_sound(features):
    drawings = drawn(features)
    shown = [svg for svg in drawings.values() if svg]
    assert len(shown) >= 0.8 * len(drawings), [id_ for id_, svg in drawings.items() if not svg]
    for svg in shown:
        root = ElementTree.fromstring(str(svg))
        assert root.tag.endswith("svg") and root.get("aria-label") and len(root)


def test_what_is_drawn_in_is_drawn_with_its_gap_and_a_hood_as_a_hood():
    casing, hood = drawn({"legs": "trousers", "waist": "casing"}), drawn(HOOD)
    assert str(casing["sew-casing"]).count("<path") == len(step_sketches.elastic_in_casing())
    assert str(hood["attach-hood"]).count("<path") == len(step_sketches.hood())


@pytest.mark.parametrize("sketch", SKETCHES, ids=lambda sketch: sketch.__name__)
def test_a_sketch_stays_within_its_frame_and_is_used(sketch):
    numbers = [float(n) for n in re.findall(r'x="(-?[\d.]+)|cx="(-?[\d.]+)', str(sketch())) for n in n if n]
    starts = [tuple(map(float, p)) for p in re.findall(r"M(-?[\d.]+)[ ,](-?[\d.]+)", str(sketch()))]
    assert all(0 <= n <= step_svg.W for n in numbers)
    assert all(0 <= x <= step_svg.W and 0 <= y <= step_svg.H for x, y in starts)
    assert any(sketch is used for _, used in step_svg._BY_WORD)
