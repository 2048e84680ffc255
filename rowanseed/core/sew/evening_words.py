"""Reading an evening as it is written: a day, and how long one has."""

import re
from calendar import day_name, month_abbr, month_name
from datetime import date, timedelta

from rowanseed.core.errors import ReckonError

LEAST_MINUTES, MOST_MINUTES = 10, 720
_MONTHS = {name.lower(): k for names in (month_name, month_abbr) for k, name in enumerate(names) if name} | {"sept": 9}
_DAYS = {name.lower()[:most]: k for k, name in enumerate(day_name) for most in (3, 4, 5, 9)}
_LONG = re.compile(
    r"(?:(?P<clock>\d{1,2}):(?P<rest>\d{2})|(?P<hours>\d+(?:[.,]\d+)?)\s*(?:h|hrs?|hours?)(?:\s*(?P<more>\d{1,2})\s*(?:m|min|minutes)?)?"
    r"|(?P<minutes>\d{1,3})\s*(?:m|min|minutes)?)$",
    re.I,
)


def read_evening(line: str, today: date) -> tuple[date, int]:
    """Read a day with its time; a day without a year is the next such one, a weekday the next one, today's included.

    Raises:
        ReckonError: no day, no time, or a day that reads two ways (1/2), which is asked about.

    >>> read_evening("2026-12-01 90", date(2026, 11, 24))
    (datetime.date(2026, 12, 1), 90)
    >>> read_evening("Tue 1 h 30", date(2026, 11, 24))
    (datetime.date(2026, 11, 24), 90)
    >>> read_evening("4 January, 1,5 h", date(2026, 11, 24))
    (datetime.date(2027, 1, 4), 90)
    """
    plain = " ".join(line.split())
    words = f"\N{LEFT DOUBLE QUOTATION MARK}{plain[:40]}\N{RIGHT DOUBLE QUOTATION MARK}"
    if re.match(r"\d{1,2}[/.]\d{1,2}\b(?!\s*h)", plain):
        raise ReckonError(f"{words}: a day written so reads two ways. Write it as 2026-12-01 or 1 Dec.", "evenings")
    for pattern, day_of in _DAY_FORMS:
        found = pattern.match(plain)
        if found is None:
            continue
        try:
            day = day_of(found, today)
        except KeyError:  # a word that is no month and no day
            continue
        except ValueError as error:
            raise ReckonError(f"{words}: there is no such day.", "evenings") from error
        named = _DAYS.get(plain.split(" ")[0].strip(",").lower())
        if named is not None and named != day.weekday():
            raise ReckonError(f"{words}: that day is a {day_name[day.weekday()]}. Which is meant?", "evenings")
        return day, _minutes(plain[found.end() :].strip(" ,:;\N{EN DASH}-"), words)
    raise ReckonError(
        f"{words}: write the day and its minutes, such as 2026-12-01 90, Tue 1 h 30 or 4 Jan 90 min.", "evenings"
    )


def _minutes(text: str, words: str) -> int:
    found = _LONG.match(text)
    if found is None:
        raise ReckonError(
            f"{words}: how long? Write minutes or hours behind the day, such as 90 or 1 h 30.", "evenings"
        )
    if found["clock"]:
        minutes = int(found["clock"]) * 60 + int(found["rest"])
    elif found["hours"]:
        minutes = round(float(found["hours"].replace(",", ".")) * 60) + int(found["more"] or 0)
    else:
        minutes = int(found["minutes"])
    if not LEAST_MINUTES <= minutes <= MOST_MINUTES:
        raise ReckonError(f"{words}: between {LEAST_MINUTES} minutes and {MOST_MINUTES // 60} hours.", "evenings")
    return minutes


def _iso(found: re.Match[str], _: date) -> date:
    return date.fromisoformat(found[0])


def _weekday(found: re.Match[str], today: date) -> date:
    return today + timedelta(days=(_DAYS[found[1].lower()] - today.weekday()) % 7)


def _dated(found: re.Match[str], today: date) -> date:
    day, month = int(found["day"]), _MONTHS[found["month"].lower()]
    if found["year"]:
        return date(int(found["year"]), month, day)
    this = date(today.year, month, day)
    return this if this >= today else date(today.year + 1, month, day)


_NUMBER, _NAME, _YEAR = (
    r"(?P<day>\d{1,2})(?:st|nd|rd|th)?\.?",
    r"(?P<month>[A-Za-z]{3,9})\.?",
    r"(?:,?\s+(?P<year>20\d\d))?\b",
)
_BEFORE = r"(?:[A-Za-z]{3,9},?\s+)??"
_DAY_FORMS = (
    (re.compile(r"\d{4}-\d{2}-\d{2}\b"), _iso),
    (re.compile(rf"{_BEFORE}{_NUMBER}\s+{_NAME}{_YEAR}", re.I), _dated),
    (re.compile(rf"{_BEFORE}{_NAME}\s+{_NUMBER}{_YEAR}(?=[\s,])", re.I), _dated),
    (re.compile(r"([A-Za-z]{3,9})\b"), _weekday),
)
