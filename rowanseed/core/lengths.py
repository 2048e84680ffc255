"""Lengths as sewists write them: 5/8", 1 1/4 in, 38½, 97 cm, 1,5cm, 2.25 yd.

Millimetres inside, float. What was typed is kept with the unit it was typed in, so that it can be shown
again unchanged. 1 in = 25.4 mm and 1 yd = 914.4 mm exactly (international yard and pound agreement, 1959).
"""

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from rowanseed.core.errors import LengthError

Unit = Literal["mm", "cm", "m", "in", "ft", "yd"]

MM_PER: dict[Unit, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8, "yd": 914.4}
ALMOST = 1e-3  # of the last step: what lies so little above it is rounding, not length
LONGEST_MM = 1_000_000.0  # a kilometre: longer than any bolt, so a slip of the keyboard

_UNIT_WORDS: dict[str, Unit] = {
    "mm": "mm",
    "millimetre": "mm",
    "millimetres": "mm",
    "millimeter": "mm",
    "millimeters": "mm",
    "cm": "cm",
    "centimetre": "cm",
    "centimetres": "cm",
    "centimeter": "cm",
    "centimeters": "cm",
    "m": "m",
    "metre": "m",
    "metres": "m",
    "meter": "m",
    "meters": "m",
    "in": "in",
    "in.": "in",
    "inch": "in",
    "inches": "in",
    '"': "in",
    "”": "in",
    "″": "in",
    "''": "in",
    "ft": "ft",
    "ft.": "ft",
    "foot": "ft",
    "feet": "ft",
    "'": "ft",
    "’": "ft",
    "′": "ft",
    "yd": "yd",
    "yd.": "yd",
    "yds": "yd",
    "yard": "yd",
    "yards": "yd",
}
_UNICODE_FRACTIONS = {
    "½": "1/2",
    "¼": "1/4",
    "¾": "3/4",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅕": "1/5",
    "⅖": "2/5",
    "⅗": "3/5",
    "⅘": "4/5",
    "⅙": "1/6",
    "⅚": "5/6",
}
_NUMBER = re.compile(
    r"(?:(?P<whole>\d{1,7})(?:\s+|\s*[-–]\s*))?(?P<num>\d{1,4})\s*[/⁄]\s*(?P<den>\d{1,4})"
    r"|(?P<decimal>\d{1,9}(?:[.,]\d{1,9})?|[.,]\d{1,9})"
)
_WORD = re.compile(r"''|[\"”″'’′]|[a-z]+\.?")

# No example is broken over lines: what looks like two lengths is one.
EXAMPLES = 'Write it like 5/8\N{NO-BREAK SPACE}in, 1\N{NO-BREAK SPACE}1/4" or 97\N{NO-BREAK SPACE}cm.'
METRIC = ("mm", "cm", "m")


@dataclass(frozen=True)
class Length:
    """A length with the words it was typed in. `mm` >= 0."""

    mm: float
    text: str
    unit: Unit

    def echo(self) -> str:
        """What was understood, in the unit typed and its counterpart: `5/8 in = 1.6 cm`."""
        other: Unit = "in" if self.unit in METRIC else "cm"
        return f"{format_length(self.mm, self.unit, 16)} = {format_length(self.mm, other)}"

    def told(self, unit: Unit) -> str:
        """The length for a household that reckons in this unit: as typed, or in its unit with what was typed in brackets.

        >>> parse_length('31 1/4 in').told('cm'), parse_length('79.5 cm').told('cm')
        ('79.4 cm (31 1/4 in)', '79.5 cm')
        """
        if (self.unit in METRIC) == (unit in METRIC):
            return self.text
        return f"{format_length(self.mm, unit)} ({self.text})"


def parse_length(text: str | float | int, default_unit: Unit | None = None) -> Length:
    """Read a length.

    Args:
        text: a number (millimetres, unless `default_unit` says otherwise) or words such as `1 1/4 in`,
            `38½"`, `1,5 cm`, `2 yd 9 in`, `1 m 20`. A bare trailing number after metres means
            centimetres, after yards or feet inches.
        default_unit: what a number without a unit means; without it such a number in words is an error.
    Raises:
        LengthError: not a length, no unit, negative, or over a kilometre.

    >>> parse_length('5/8"').mm
    15.875
    >>> parse_length("1,5cm").mm
    15.0
    """
    if isinstance(text, (int, float)) and not isinstance(text, bool):
        unit = default_unit or "mm"
        return _checked(float(text) * MM_PER[unit], f"{text:g}", unit)
    if not isinstance(text, str):
        raise LengthError("Write a length, such as 5/8 in or 1.5 cm.")
    cleaned = _cleaned(text)
    if not cleaned:
        raise LengthError("Write a length, such as 5/8 in or 1.5 cm.")
    total, unit = _sum_parts(cleaned, text, default_unit)
    return _checked(total, text.strip(), unit)


def _cleaned(text: str) -> str:
    if len(text) > 60:
        raise LengthError(f"That is too long to be a length. {EXAMPLES}")
    cleaned = text.strip().lower().replace("\u00a0", " ").replace("\u202f", " ")
    for sign, words in _UNICODE_FRACTIONS.items():
        cleaned = cleaned.replace(sign, f" {words}")
    return cleaned.strip()


def _sum_parts(cleaned: str, text: str, default_unit: Unit | None) -> tuple[float, Unit]:
    """Add up the number-and-unit parts of a cleaned text; the first part's unit is the length's."""
    total, first, last, at = 0.0, None, None, 0
    while at < len(cleaned):
        number = _NUMBER.match(cleaned, at)
        if number is None:
            raise LengthError(f"“{text.strip()}” is not a length. {EXAMPLES}")
        at = _skip_space(cleaned, number.end())
        word = _WORD.match(cleaned, at)
        unit = _unit_of(word.group(), text) if word else _understood_unit(last, default_unit, text)
        if last is not None and MM_PER[unit] >= MM_PER[last]:
            raise LengthError(f"“{text.strip()}” has its units in an odd order. Write one length, such as 2 yd 9 in.")
        at = _skip_space(cleaned, word.end() if word else at)
        total += _value(number) * MM_PER[unit]
        first, last = first or unit, unit
    assert first is not None  # the text was not empty, so at least one part was read
    return total, first


def _skip_space(text: str, at: int) -> int:
    while at < len(text) and text[at].isspace():
        at += 1
    return at


def _unit_of(word: str, text: str) -> Unit:
    unit = _UNIT_WORDS.get(word)
    if unit is None:
        raise LengthError(f"“{word}” in “{text.strip()}” is not a unit this page knows. Use in, yd, mm, cm or m.")
    return unit


def _understood_unit(last: Unit | None, default: Unit | None, text: str) -> Unit:
    follows: dict[Unit, Unit] = {"m": "cm", "yd": "in", "ft": "in"}
    if last in follows:
        return follows[last]
    if last is None and default is not None:
        return default
    raise LengthError(f"“{text.strip()}” needs a unit: in, yd, mm, cm or m.")


def _value(number: re.Match[str]) -> float:
    if number["decimal"] is not None:
        if re.fullmatch(r"[1-9]\d*,\d{3}", number["decimal"]):  # a nought before it leaves one way to read it
            raise LengthError(f"“{number['decimal']}” could be read two ways. Leave out the comma, or write a point.")
        return float(number["decimal"].replace(",", "."))
    if int(number["den"]) == 0:
        raise LengthError("A fraction cannot have 0 below the line.")
    return float(int(number["whole"] or 0) + Fraction(int(number["num"]), int(number["den"])))


def _checked(mm: float, text: str, unit: Unit) -> Length:
    if not math.isfinite(mm) or mm < 0:
        raise LengthError("A length cannot be negative.")
    if mm > LONGEST_MM:
        raise LengthError(f"“{text}” is more than a kilometre. Check the unit.")
    return Length(mm, text, unit)


def format_length(mm: float, unit: Unit = "cm", denominator: int = 8, up: bool = False) -> str:
    """Print a length in a unit a sewist reads; `up`: never less than it is, for what must pass or be bought.

    Inches, feet and yards go to the nearest 1/`denominator` and are written as mixed fractions; centimetres to a
    millimetre, metres to a centimetre.

    >>> format_length(31.75, "in")
    '1 1/4 in'
    >>> format_length(2286, "yd")
    '2 1/2 yd'
    >>> format_length(966, "cm")
    '96.6 cm'
    >>> format_length(13.8, "in", 16, up=True)
    '9/16 in'
    """
    value = mm / MM_PER[unit]
    if unit in ("in", "ft", "yd"):
        value = math.ceil(value * denominator - ALMOST) / denominator if up else value
        return f"{mixed_fraction(value, denominator)} {unit}"
    places = {"mm": 0, "cm": 1, "m": 2}[unit]
    value = math.ceil(value * 10**places - ALMOST) / 10**places if up else value
    number = f"{value:.{places}f}"
    if "." in number and unit == "cm":
        number = number.removesuffix(".0")
    return f"{number} {unit}"


def mixed_fraction(value: float, denominator: int = 8) -> str:
    """A number as whole and fraction, to the nearest 1/`denominator`: 1.25 -> `1 1/4`."""
    parts = round(abs(value) * denominator)
    whole, rest = divmod(parts, denominator)
    sign = "-" if value < 0 and parts else ""
    if not rest:
        return f"{sign}{whole}"
    part = Fraction(rest, denominator)
    words = f"{part.numerator}/{part.denominator}"
    return f"{sign}{whole} {words}" if whole else f"{sign}{words}"


def both(mm: float, first: Unit = "cm", denominator: int = 8, up: bool = False) -> str:
    """A length in the first unit with its counterpart in brackets: `96.6 cm (38 in)`; `up` as in `format_length`."""
    other: Unit = "in" if first in METRIC else "cm"
    return f"{format_length(mm, first, denominator, up)} ({format_length(mm, other, denominator, up)})"
