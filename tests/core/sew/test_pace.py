"""The household's pace: worked by hand from a few timed steps, drawn toward the library's minutes while little is known."""

import math

import pytest

from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.order import sequence
from rowanseed.core.sew.pace import PLACE_WEIGHT, STEP_WEIGHT, Timed, at_pace, pace_of
from tests.core.sew.test_library import LIBRARY

TEMPLATES = {t.id: t for t in LIBRARY.templates}
AT_MACHINE = [t for t in LIBRARY.templates if t.does.place == "machine" and t.does.minutes >= 10][:6]


def test_nothing_timed_changes_nothing():
    pace = pace_of([], TEMPLATES)
    assert pace.minutes(AT_MACHINE[0].id, "machine", 15) == 15 and pace.said() == ""


def test_twice_the_minutes_in_four_steps_is_drawn_half_way_to_the_usual():
    timed = [Timed(t.id, t.does.minutes * 120) for t in AT_MACHINE[:4]]
    pace = pace_of(timed, TEMPLATES)
    share = 4 / (4 + PLACE_WEIGHT)
    assert pace.by_place["machine"] == pytest.approx(2**share)
    assert pace.minutes(AT_MACHINE[5].id, "machine", 100) == round(100 * 2**share)
    assert pace.minutes("press-hem", "iron", 20) == 20
    own = (math.log(2) + STEP_WEIGHT * share * math.log(2)) / (1 + STEP_WEIGHT)
    assert pace.by_template[AT_MACHINE[0].id] == pytest.approx(math.exp(own))
    assert "at the machine 1.4 times the usual minutes (4 steps timed)" in pace.said()


def test_a_slip_and_a_forgotten_timer_do_little():
    slip = pace_of([Timed(AT_MACHINE[0].id, 5), Timed("no-such-step", 900)], TEMPLATES)
    assert slip.timed == {}
    forgotten = pace_of([Timed(AT_MACHINE[0].id, 80_000)], TEMPLATES)
    assert forgotten.by_place["machine"] == pytest.approx(5 ** (1 / (1 + PLACE_WEIGHT)))


def test_steps_are_told_at_the_pace_and_keep_their_order():
    steps = sequence(LIBRARY, SewnGarment({"neck": "facing", "sleeve": "set-in"}), lambda op: {})
    slow = pace_of([Timed(t.id, t.does.minutes * 180) for t in AT_MACHINE], TEMPLATES)
    told = at_pace(steps, slow)
    assert [s.operation.id for s in told] == [s.operation.id for s in steps]
    assert all(b.operation.minutes >= a.operation.minutes for a, b in zip(steps, told, strict=True))
    assert any(b.operation.minutes > a.operation.minutes for a, b in zip(steps, told, strict=True))
