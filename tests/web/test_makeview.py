"""The six stages of a make: their states and next actions, from the start to the wearing."""

import re
from dataclasses import replace
from datetime import date, datetime

import pytest

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.engine import lay
from rowanseed.core.lengths import parse_length
from rowanseed.core.make.lay_requests import fingerprint
from rowanseed.core.make.plan import MakePlan
from rowanseed.demo import trousers
from rowanseed.services.worked_make import WorkedMake
from rowanseed.store import cloths, db, makes, patterns, people
from rowanseed.store.settings import Settings

CLOTH = Cloth("Drill", parse_length("150 cm"), parse_length("1 cm"), parse_length("3 m"), prepared=True)


@pytest.fixture
def make_id(conn):
    with db.write(conn):
        pattern_id = patterns.add_pattern(conn, trousers.pattern())
        who = people.add_person(conn, "Ada", False)
        people.add_set(conn, who, date(2026, 1, 1), {"waist": parse_length("76 cm"), "hip": parse_length("100 cm")})
        return makes.add_make(conn, "Trousers", pattern_id, "A", [who], date(2026, 5, 1), MakePlan(effort="quick"))


def view(conn, make_id):
    return WorkedMake(conn, make_id, Settings())


def states(conn, make_id):
    return {s.name: s.state for s in view(conn, make_id).stages}


def take_size(conn, make_id, size="40"):
    with db.write(conn):
        makes.put_size(conn, make_id, makes.make(conn, make_id).garments[0].id, size)


def take_cloth(conn, make_id, cloth=CLOTH):
    with db.write(conn):
        makes.put_cloth(conn, make_id, "self", cloths.add_cloth(conn, cloth))


def keep_lay(conn, make_id):
    request = view(conn, make_id).role("self").request
    with db.write(conn):
        makes.put_lay(conn, make_id, "self", fingerprint(request), lay(request), datetime(2026, 5, 2))


def test_a_new_make_asks_for_its_size_first(conn, make_id):
    assert view(conn, make_id).next_stage.name == "Fit" and states(conn, make_id)["Lay"] == "later"


def test_then_for_its_cloth_then_for_its_lay(conn, make_id):
    take_size(conn, make_id)
    assert view(conn, make_id).next_stage.action == "Choose the cloth"
    take_cloth(conn, make_id)
    assert view(conn, make_id).next_stage.action == "Lay the pieces"


def test_a_kept_lay_opens_the_cutting_and_a_changed_size_closes_it_again(conn, make_id):
    take_size(conn, make_id)
    take_cloth(conn, make_id)
    keep_lay(conn, make_id)
    assert states(conn, make_id)["Lay"] == "done" and view(conn, make_id).next_stage.name == "Cut"
    take_size(conn, make_id, "46")
    stage = next(s for s in view(conn, make_id).stages if s.name == "Lay")
    assert (stage.state, stage.word) == ("open", "out of date") and not view(conn, make_id).cards


def test_short_cloth_is_taken_care_of_before_anything_is_cut(conn, make_id):
    take_size(conn, make_id)
    take_cloth(conn, make_id, replace(CLOTH, length=parse_length("1 m")))
    keep_lay(conn, make_id)
    assert states(conn, make_id)["Lay"] == "care" and states(conn, make_id)["Cut"] == "later"


def test_ticks_carry_cut_and_sew_to_done_and_the_wearing_ends_it(conn, make_id):
    take_size(conn, make_id)
    take_cloth(conn, make_id)
    keep_lay(conn, make_id)
    made = view(conn, make_id)
    with db.write(conn):
        for card in made.cards["self"]:
            makes.tick(conn, make_id, "cut", card.key, True, datetime(2026, 5, 3))
    assert states(conn, make_id)["Cut"] == "done" and view(conn, make_id).next_stage.name == "Sew"
    with db.write(conn):
        for step in made.steps:
            makes.tick(conn, make_id, "sew", step.operation.id, True, datetime(2026, 5, 4))
    assert states(conn, make_id)["Sew"] == "done" and view(conn, make_id).next_stage.name == "Wear"
    with db.write(conn):
        makes.finish(conn, make_id, date(2026, 5, 5))
    assert states(conn, make_id)["Wear"] == "done"


def test_the_length_to_buy_counts_straightening_and_shrinkage_still_to_come(conn, make_id):
    take_size(conn, make_id)
    take_cloth(conn, make_id, replace(CLOTH, prepared=False, shrink_along=0.1))
    keep_lay(conn, make_id)
    role = view(conn, make_id).role("self")
    needed = (role.kept.lay.length_mm + 50.0) / 0.9
    assert needed <= role.to_buy(Settings()).mm < needed + 100


def test_the_steps_numbers_come_from_the_persons_waist(conn, make_id):
    take_size(conn, make_id)
    (step,) = (s for s in view(conn, make_id).steps if s.operation.id == "thread-elastic")
    assert "70.9 cm" in step.numbers["elastic"]  # 0.9 x 76 cm and 2.5 cm to join


def test_an_order_of_ones_own_is_kept_and_new_steps_go_last(conn, make_id):
    ids = [s.operation.id for s in view(conn, make_id).steps]
    make = makes.make(conn, make_id)
    with db.write(conn):
        makes.put_plan(conn, make_id, make.version, replace(make.plan, order=tuple(reversed(ids[:-2]))))
    assert [s.operation.id for s in view(conn, make_id).steps] == [*reversed(ids[:-2]), *ids[-2:]]


def test_each_front_is_marked_with_the_button_places_of_its_own_size(client):
    """Four waistcoats in four sizes: a longer front has its buttons further apart, as many on each."""
    text = client.get("/makes/4/cut").text
    marked = re.findall(r"(\d+) button places: the first ([^ ]+ cm).*?then every ([\d.]+) cm", text)
    assert len(marked) == 4 and {(count, first) for count, first, _ in marked} == {("4", "1.5 cm")}
    assert len({every for *_, every in marked}) > 1
