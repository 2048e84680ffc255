"""Evenings as they are written; the days of the week against the calendar of the standard library."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowanseed.core.errors import ReckonError
from rowanseed.core.sew.evening_words import read_evening

TODAY = date(2026, 11, 24)  # a Tuesday
DAYS = st.dates(TODAY, TODAY + timedelta(days=360))


@pytest.mark.parametrize(
    ("line", "day", "minutes"),
    [
        ("2026-12-01 90", date(2026, 12, 1), 90),
        ("2026-12-01  90 min", date(2026, 12, 1), 90),
        ("1 Dec 1 h 30", date(2026, 12, 1), 90),
        ("Dec 1, 1.5 h", date(2026, 12, 1), 90),
        ("Tuesday 1st December 2026: 1:30", date(2026, 12, 1), 90),
        ("thu 2 hours", date(2026, 11, 26), 120),
        ("4 Jan 45", date(2027, 1, 4), 45),
    ],
)
def test_a_day_and_a_time_in_many_writings(line, day, minutes):
    assert read_evening(line, TODAY) == (day, minutes)


@given(DAYS, st.integers(10, 720))
def test_however_a_day_is_written_the_same_day_is_read(day, minutes):
    written = [
        f"{day.isoformat()}",
        f"{day.day} {day:%b}",
        f"{day:%B} {day.day}",
        f"{day:%a} {day.day} {day:%B} {day.year}",
    ]
    assert {read_evening(f"{words} {minutes}", TODAY) for words in written} == {(day, minutes)}


@given(st.integers(0, 6))
def test_a_weekday_is_the_next_such_one_with_today(ahead):
    day = TODAY + timedelta(days=ahead)
    assert read_evening(f"{day:%A} 60", TODAY)[0] == day


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("1/12 90", "reads two ways"),
        ("1.12. 90", "reads two ways"),
        ("Mon 1 Dec 90", "is a Tuesday"),
        ("30 Feb 90", "no such day"),
        ("2026-13-01 90", "no such day"),
        ("Thursday", "how long"),
        ("Thursday soon", "how long"),
        ("Friday 8", "between 10 minutes"),
        ("soon 90", "write the day"),
        ("90", "write the day"),
    ],
)
def test_what_can_not_be_read_is_asked_about(line, says):
    with pytest.raises(ReckonError) as refused:
        read_evening(line, TODAY)
    assert says in refused.value.text and line[:20] in refused.value.text
