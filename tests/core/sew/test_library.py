"""The sewing library as data: valid, without circles or dangling needs, every feature reachable."""

import random

import pytest

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.garment import complete, holds, operations_for
from rowanseed.core.sew.model import TOOLS, ClothTraits, Operation, SewnGarment
from rowanseed.core.sew.numbers import SUMS
from rowanseed.core.sew.order import arrange
from rowanseed.formats.sewing import LibraryError, OperationEntry, library, refuse_unknown_ids

LIBRARY = library()
IDS = {op.id for op in LIBRARY.operations}


def conditions(op):
    return [*op.when, *op.any, *(c for n in op.needs for c in n.when)]


def test_the_library_holds_enough_for_whole_garments():
    assert len(LIBRARY.features) >= 40 and len(LIBRARY.operations) >= 260
    assert len(IDS) == len(LIBRARY.operations)


@pytest.mark.parametrize("op", LIBRARY.operations, ids=lambda op: op.id)
def test_an_operations_needs_exist_and_have_their_reason(op):
    assert {n.id for n in op.needs} <= IDS - {op.id}
    assert all(len(n.why) > 10 and n.why.endswith(".") for n in op.needs)
    assert set(op.numbers) <= set(SUMS)


@pytest.mark.parametrize("op", LIBRARY.operations, ids=lambda op: op.id)
def test_an_operations_conditions_name_known_features_schools_and_tools(op):
    features = {f.name: dict(f.choices) for f in LIBRARY.features}
    schools = {s.name: dict(s.choices) for s in LIBRARY.schools}
    for condition in conditions(op):
        name, _, choices = condition.removeprefix("!").partition("=")
        if name.startswith("tool:"):
            assert name.removeprefix("tool:") in TOOLS
            continue
        if name.startswith("cloth:"):
            assert name.removeprefix("cloth:") in ClothTraits.__dataclass_fields__
            continue
        known = schools[name.removeprefix("school:")] if name.startswith("school:") else features[name]
        assert set(choices.split("|")) <= set(known), condition


def test_every_operation_says_what_to_check_what_goes_wrong_and_its_cure():
    for op in LIBRARY.operations:
        assert op.checks and op.wrong and op.minutes > 0, op.id
        assert all(len(what) > 3 and len(cure) > 8 for what, cure in op.wrong), op.id


def test_every_choice_of_a_feature_changes_some_garments_steps():
    for feature in LIBRARY.features:
        for value, _ in feature.choices[1:]:
            named = [
                c for op in LIBRARY.operations for c in conditions(op) if c.lstrip("!").startswith(feature.name + "=")
            ]
            assert any(value in c.partition("=")[2].split("|") for c in named) or value == "none", (feature.name, value)


def test_needs_never_go_round_in_a_circle_whatever_the_garment():
    rng = random.Random(3)
    for _ in range(300):
        garment = random_garment(rng)
        todo = operations_for(LIBRARY, complete(LIBRARY, garment))
        assert len(arrange(todo)) == len(todo)


def random_garment(rng):
    features = {f.name: rng.choice(f.choices)[0] for f in LIBRARY.features}
    schools = {s.name: rng.choice(s.choices)[0] for s in LIBRARY.schools}
    facts = {fact: rng.random() < 0.3 for fact in ("knit", "piled", "slippery", "ravels", "sheer", "loose", "fur")}
    cloth = ClothTraits(rng.choice(("light", "medium", "heavy")), **facts)
    return SewnGarment(features, frozenset(rng.sample(TOOLS, rng.randint(0, len(TOOLS)))), schools, cloth)


def test_hot_sharp_and_small_things_carry_their_caution():
    # Hot iron, the overlocker's knives, buttons in children's things: common practice, no source.
    for op in LIBRARY.operations:
        if op.place in ("iron", "overlocker") and op.id != "finish-raw-edges":
            assert op.cautions or op.id in ("press-hem",), op.id
    by_id = {op.id: op for op in LIBRARY.operations}
    assert "local safety rules" in " ".join(by_id["sew-buttons"].cautions)
    assert "local safety rules" in " ".join(by_id["thread-elastic"].cautions)
    assert "eye" in " ".join(by_id["sample-stitch"].cautions)


def test_conditions_are_read_as_written():
    garment = SewnGarment({"neck": "facing"}, frozenset({"overlocker"}), {"facing-roll": "leave"})
    assert holds("neck=facing|band", garment) and not holds("neck=band", garment)
    assert holds("!neck=band", garment) and holds("tool:overlocker", garment) and not holds("!tool:overlocker", garment)
    assert holds("school:facing-roll=leave", garment)


@pytest.mark.parametrize(
    "garment",
    [
        SewnGarment({"cape": "long"}),
        SewnGarment({"neck": "ruff"}),
        SewnGarment({}, schools={"facing-roll": "glue"}),
    ],
)
def test_an_unknown_feature_choice_or_school_is_refused(garment):
    with pytest.raises(FeatureError):
        complete(LIBRARY, garment)


def test_an_operation_without_a_reason_for_its_need_breaks_the_schema():
    raw = {
        "id": "x",
        "title": "Sew it",
        "place": "machine",
        "phase": "flat",
        "minutes": 5,
        "needs": [{"id": "y", "why": ""}],
    }
    with pytest.raises(ValueError):
        OperationEntry.model_validate(raw)
    assert isinstance(LIBRARY.operations[0], Operation)


def test_a_file_that_names_an_operation_that_is_not_there_is_refused_by_name():
    with pytest.raises(LibraryError, match=r"settings.toml: there is no operation sew-nothing"):
        refuse_unknown_ids({"sew-hem"}, {"settings.toml": {"sew-hem", "sew-nothing"}})
    refuse_unknown_ids({"sew-hem"}, {"settings.toml": {"sew-hem"}})


def test_on_fur_no_iron_is_used_and_nothing_is_fused():
    fur = SewnGarment({"interfacing": "fusible", "front": "facing"}, cloth=ClothTraits("heavy", piled=True, fur=True))
    own = complete(LIBRARY, fur)
    taken = [op for op, _ in operations_for(LIBRARY, own)]
    assert own.features["interfacing"] == "sewn" and all(op.place != "iron" for op in taken)
    assert any("No iron on fur" in check for op in taken for check in op.checks)
