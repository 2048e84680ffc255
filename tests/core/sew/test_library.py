"""The sewing library as data: valid, without circles or dangling needs, every feature reachable."""

import random

import pytest

from rowanseed.core.errors import FeatureError
from rowanseed.core.sew.checker import HAPPENS
from rowanseed.core.sew.conditions import holds
from rowanseed.core.sew.garment import assembled, complete, operations_for
from rowanseed.core.sew.model import TOOLS, ClothTraits, Operation, SewnGarment
from rowanseed.core.sew.numbers import SUMS
from rowanseed.core.sew.stages import STAGES
from rowanseed.formats.sewing import LibraryError, OperationEntry, library, refuse_unknown_ids
from tests.core.sew.witnesses import kept, random_garment, shows, templates_of

LIBRARY = library()
IDS = {t.id for t in LIBRARY.templates}
VERBS = {
    "mark", "stay", "fuse", "baste", "dart", "tuck", "pleat", "gather", "ease", "shirr", "join", "trim", "clip", "grade", "cut",
    "press", "finish", "understitch", "topstitch", "turn", "fold", "hem", "face", "bind", "attach", "make", "insert", "pad",
    "close", "fasten", "buttonhole", "button", "try-on", "sample", "hang", "undo", "check", "decorate",
}  # fmt: skip


def conditions(template):
    asked = [c for n in (*template.needs, *template.before) for c in n.when]
    things = [c for thing in template.on for c in thing.partition(" if ")[2].split(" & ") if c]
    return [*template.when, *template.any, *asked, *things]


def test_the_library_holds_enough_for_whole_garments():
    assert len(LIBRARY.features) >= 45 and len(LIBRARY.templates) >= 400
    assert set(STAGES) == VERBS and {t.verb for t in LIBRARY.templates} <= VERBS


def test_a_templates_needs_exist_and_have_their_law_and_reason():
    for template in LIBRARY.templates:
        for need in (*template.needs, *template.before):
            assert bool(need.id) != bool(need.on) and (need.id in IDS or need.on), template.id
            assert len(need.why) > 10 and need.why.endswith("."), (template.id, need.why)
            assert need.law in HAPPENS, (template.id, need.law)
        assert set(template.does.numbers) <= set(SUMS)


def test_a_templates_conditions_name_known_features_schools_and_tools():
    features = {f.name: dict(f.choices) for f in LIBRARY.features}
    schools = {s.name: dict(s.choices) for s in LIBRARY.schools}
    seams = [
        (s.id, [*s.when, *(c for e in s.ends for c in e.partition(" if ")[2].split(" & ") if c)])
        for s in LIBRARY.anatomy.seams
    ]
    for asker, asked in [*seams, *((t.id, conditions(t)) for t in LIBRARY.templates)]:
        for condition in asked:
            name, _, choices = condition.removeprefix("!").partition("=")
            if name.startswith("tool:"):
                assert name.removeprefix("tool:") in TOOLS
            elif name.startswith("cloth:"):
                assert name.removeprefix("cloth:") in ClothTraits.__dataclass_fields__
            elif not name.startswith("fact:"):
                school = name.startswith("school:")
                known = schools[name.removeprefix("school:")] if school else features[name]
                assert set(choices.split("|")) <= set(known), (asker, condition)


def test_every_fact_that_a_condition_asks_for_is_known_of_some_garment():
    asked = {
        c.removeprefix("!").removeprefix("fact:")
        for t in LIBRARY.templates for c in conditions(t) if c.removeprefix("!").startswith("fact:")
    }  # fmt: skip
    rng = random.Random(5)
    known = set()
    rare = {"neck": "facing", "sleeve": "set-in", "lining": "sewn-in", "lining-sleeves": "none"}
    ribs = {"legs": "trousers", "waist": "knit-band", "hem": "ribbed"}
    gown = {"neck": "facing", "armhole": "facing", "straps": "sewn", "closure": "invisible-zip", "zip-at": "side"}
    window = {"collar": "one-piece", "closure": "exposed-zip", "zip-at": "front", "sleeve": "raglan"}
    smock = {"yoke": "plain", "yoke-at": "back", "closure": "placket", "opening-at": "back", "sleeve": "set-in"}
    sheath = {"neck": "facing", "armhole": "lined", "lining": "sewn-in", "closure": "lapped-zip"}
    banded = {"neck": "band", "front": "facing", "closure": "snaps", "lining": "sewn-in"}
    garments = [
        *map(SewnGarment, (rare, ribs, gown, window, smock, sheath, banded)),
        *(random_garment(rng) for _ in range(2000)),
    ]
    for garment in garments:
        assembly = assembled(LIBRARY, garment)
        known |= assembly.facts.union(*assembly.unit_facts.values())
    assert asked <= known, asked - known


def test_every_template_says_what_to_check_what_goes_wrong_and_its_cure():
    for template in LIBRARY.templates:
        does = template.does
        assert does.checks and does.wrong and does.minutes > 0, template.id
        assert all(len(what) > 3 and len(cure) > 8 for what, cure in does.wrong), template.id


ANEW = "look for garments that show it: python -m tests.core.sew.witnesses"


def test_every_template_is_used_by_some_garment():
    showing, _ = kept()
    left = {t.id for t in LIBRARY.templates}.difference(*map(templates_of, showing))
    assert not left, (left, ANEW)


def test_every_choice_of_a_feature_changes_some_garments_steps():
    _, showing = kept()
    for feature in LIBRARY.features:
        for value, _ in feature.choices[1:]:
            if (feature.name, value) not in TOLD_ELSEWHERE:
                assert (feature.name, value) in showing, (feature.name, value, ANEW)
                assert shows(showing[(feature.name, value)], feature, value), (feature.name, value, ANEW)


# Choices that change words, numbers or what is bought and no step, or that are taken anyway where nothing is said.
TOLD_ELSEWHERE = {
    ("fit", "fitted"),
    ("cuff", "hem"),
    ("yoke-at", "front"),
    ("yoke-at", "both"),
    ("lining-pleat", "tapering"),
}


def standing(template):
    """A template as an operation of no garment: its words, numbers and settings."""
    return Operation(template.id, template.id, template.verb, "body", "shell", (), template.does)


def test_hot_sharp_and_small_things_carry_their_caution():
    # Hot iron, the overlocker's knives, buttons in children's things: common practice, no source.
    for template in LIBRARY.templates:
        if template.does.place in ("iron", "overlocker"):
            assert template.does.cautions, template.id
    by_id = {t.id: t.does for t in LIBRARY.templates}
    for step in ("sew-buttons", "thread-elastic", "check-child-rules", "check-cords", "check-small-parts"):
        assert "local safety rules" in " ".join(by_id[step].cautions)
    assert "eye" in " ".join(by_id["sample-stitch"].cautions)
    assert any("cissors" in caution for caution in by_id["trim-collar"].cautions)


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
    raw = {"id": "x", "title": "Sew it", "verb": "join", "place": "machine", "phase": "flat", "minutes": 5}
    OperationEntry.model_validate(raw)
    for needs in (
        [{"id": "y", "why": "", "law": "parts"}],
        [{"id": "y", "why": "It is so by custom.", "law": "custom"}],
    ):
        with pytest.raises(ValueError):
            OperationEntry.model_validate({**raw, "needs": needs})
    with pytest.raises(ValueError):
        OperationEntry.model_validate({**raw, "verb": "weld"})


def test_a_file_that_names_an_operation_that_is_not_there_is_refused_by_name():
    with pytest.raises(LibraryError, match=r"settings.toml: there is no operation sew-nothing"):
        refuse_unknown_ids({"sew-hem"}, {"settings.toml": {"sew-hem", "sew-nothing"}})
    refuse_unknown_ids({"sew-hem"}, {"settings.toml": {"sew-hem"}})


def test_on_fur_no_iron_is_used_and_nothing_is_fused():
    fur = SewnGarment({"interfacing": "fusible", "front": "facing"}, cloth=ClothTraits("heavy", piled=True, fur=True))
    own = complete(LIBRARY, fur)
    taken = [op for op, _ in operations_for(LIBRARY, own)]
    assert own.features["interfacing"] == "sewn" and all(op.place != "iron" for op in taken)
    assert any("No iron on fur" in check for op in taken for check in op.does.checks)
