"""Measurements of a body: what they are, where the tape goes, which figures look like slips, when to measure again.

Names follow ISO 3635 (Size designation of clothes: definitions and body measurement procedure) and its successor ISO 8559-1
(part 1: anthropometric definitions for body measurement), from memory; the wording is ours.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Literal

from rowanseed.core.errors import Finding
from rowanseed.core.lengths import MM_PER, Length, both

CHILD_MONTHS = 3  # common practice, no published source
ADULT_MONTHS = 12  # common practice, no published source
JUMP = 0.1  # a larger change from one set to the next is asked about
ADULT_YEARS = 16.0
IN_MM = MM_PER["in"]
Side = Literal["front", "back"]


@dataclass(frozen=True)
class Measurement:
    """One thing a tape measures: its words, the standard's name where it has one, and from which side the tape is seen.

    `least_mm` and `most_mm`: outside these a figure is asked about; the least is a small child's, the most a large adult's.
    """

    key: str
    label: str
    where: str
    around: bool
    side: Side
    least_mm: float
    most_mm: float
    standard: str = ""


MEASUREMENTS: tuple[Measurement, ...] = (
    Measurement(
        "bust",
        "Full bust",
        "Around the fullest part of the chest, level with the floor, breathing normally.",
        True,
        "front",
        450,
        1800,
        "bust girth",
    ),
    Measurement("high_bust", "High bust", "Around under the arms, above the bust.", True, "front", 450, 1700),
    Measurement(
        "under_bust",
        "Under bust",
        "Around just below the breasts, level with the floor.",
        True,
        "front",
        430,
        1600,
        "underbust girth",
    ),
    Measurement(
        "waist",
        "Waist",
        "Where the body creases on bending sideways, between lowest ribs and hip bones; or where the band is to sit.",
        True,
        "front",
        400,
        1800,
        "waist girth",
    ),
    Measurement(
        "hip",
        "Full hip",
        "Around the fullest part of the seat, level with the floor; note how far below the waist.",
        True,
        "front",
        450,
        1900,
        "hip girth",
    ),
    Measurement(
        "hip_depth", "Waist to hip", "Down the side from the waist to the fullest hip.", False, "front", 70, 320
    ),
    Measurement(
        "neck", "Neck", "Around the neck, over the prominent neck bone behind.", True, "front", 220, 600, "neck girth"
    ),
    Measurement(
        "head",
        "Head",
        "Around the head above the ears, for hoods and neck openings.",
        True,
        "front",
        420,
        660,
        "head girth",
    ),
    Measurement(
        "back_waist",
        "Back waist length",
        "From the prominent neck bone down the middle of the back to the waist.",
        False,
        "back",
        180,
        560,
    ),
    Measurement(
        "front_waist",
        "Front waist length",
        "From the side of the neck over the bust to the waist.",
        False,
        "front",
        200,
        620,
    ),
    Measurement(
        "bust_point",
        "Neck to bust",
        "From the side of the neck down to the point of the bust.",
        False,
        "front",
        130,
        480,
    ),
    Measurement(
        "bust_span", "Between the bust points", "Straight across from one to the other.", False, "front", 90, 320
    ),
    Measurement(
        "across_back",
        "Across the back",
        "From arm to arm where they meet the body, half way between shoulder and underarm; arms hanging a little forward.",
        False,
        "back",
        200,
        560,
    ),
    Measurement(
        "across_front",
        "Across the front",
        "From arm to arm where they meet the body, half way between shoulder and underarm.",
        False,
        "front",
        180,
        540,
    ),
    Measurement(
        "height",
        "Height",
        "From the crown to the soles, standing upright without shoes.",
        False,
        "front",
        650,
        2150,
        "height",
    ),
    Measurement("shoulder", "Shoulder", "From the side of the neck to the shoulder's end.", False, "front", 50, 200),
    Measurement("upper_arm", "Upper arm", "Around the fullest part of the arm, hanging.", True, "front", 120, 600),
    Measurement(
        "arm_length",
        "Arm length",
        "From the shoulder's end over a bent elbow to the wrist bone.",
        False,
        "back",
        220,
        800,
        "arm length",
    ),
    Measurement("wrist", "Wrist", "Around the wrist bone.", True, "front", 90, 280),
    Measurement("thigh", "Thigh", "Around the fullest part of the leg, close to the crotch.", True, "front", 240, 1000),
    Measurement("knee", "Knee", "Around the knee, a little bent.", True, "front", 180, 700),
    Measurement("calf", "Calf", "Around the fullest part of the calf.", True, "front", 160, 640),
    Measurement(
        "crotch_depth", "Crotch depth", "Seated: from the waist to the chair at the side.", False, "front", 120, 420
    ),
    Measurement(
        "crotch_length",
        "Crotch length",
        "From the waist in front, between the legs, to the waist behind.",
        False,
        "front",
        350,
        1100,
    ),
    Measurement(
        "inseam",
        "Inseam",
        "Inside the leg, from the crotch to where the leg is to end.",
        False,
        "front",
        200,
        1050,
        "inside leg length",
    ),
    Measurement(
        "waist_to_knee",
        "Waist to knee",
        "In front, from the waist to the middle of the knee.",
        False,
        "front",
        250,
        760,
    ),
    Measurement(
        "waist_to_floor",
        "Waist to floor",
        "Down the side from the waist, following the hip, then straight to the floor.",
        False,
        "front",
        380,
        1350,
        "outside leg length",
    ),
)
FIRST = (
    "bust",
    "high_bust",
    "waist",
    "hip",
    "hip_depth",
    "back_waist",
    "height",
)  # what most envelopes and charts ask for
BY_KEY: Mapping[str, Measurement] = {m.key: m for m in MEASUREMENTS}

# Shares of one measure in another that bodies keep to, generously; outside them a figure is asked about. From memory.
_SHARES: tuple[tuple[str, str, float, float], ...] = (
    ("back_waist", "height", 0.19, 0.31),
    ("inseam", "height", 0.30, 0.54),
    ("arm_length", "height", 0.27, 0.42),
    ("waist_to_floor", "height", 0.50, 0.70),
    ("waist_to_knee", "waist_to_floor", 0.45, 0.68),
    ("crotch_depth", "height", 0.12, 0.24),
)
# The first is not larger than the second.
_NOT_LARGER: tuple[tuple[str, str], ...] = (
    ("waist", "hip"),
    ("high_bust", "bust"),
    ("under_bust", "bust"),
    ("wrist", "upper_arm"),
    ("thigh", "hip"),
    ("knee", "thigh"),
    ("bust_point", "front_waist"),
    ("inseam", "waist_to_floor"),
    ("hip_depth", "crotch_depth"),
)


def age_on(born_on: date, day: date) -> float:
    """Age in years with one decimal.

    >>> age_on(date(2019, 5, 1), date(2026, 11, 1))
    7.5
    """
    return round((day - born_on).days / 365.25, 1)


def measure_again(taken_on: date, today: date, is_child: bool) -> Finding | None:
    """A finding when a set is older than three months (child) or twelve (adult); None while it is fresh."""
    months = (today.year - taken_on.year) * 12 + today.month - taken_on.month - (today.day < taken_on.day)
    limit = CHILD_MONTHS if is_child else ADULT_MONTHS
    if months < limit:
        return None
    who = "Children grow" if is_child else "Bodies change"
    return Finding("care", "measure-again", f"Taken {months} months ago. {who}: measure again before you cut.")


def slips(values: Mapping[str, Length], before: Mapping[str, Length] | None = None) -> dict[str, str]:
    """Questions about figures that look like slips, by measurement key. They do not stop anything.

    Args:
        before: the set before this one: a figure that jumped by more than a tenth is asked about.
    """
    asked: dict[str, str] = {}
    for key, value in values.items():
        if (question := _out_of_range(BY_KEY[key], value)) is not None:
            asked[key] = question
    for small, large in _NOT_LARGER:
        a, b = values.get(small), values.get(large)
        if a and b and a.mm > b.mm:
            text = f"{_the(small)}, {both(a.mm)}, is larger than {_the(large).lower()}, {both(b.mm)}. Is that right?"
            asked.setdefault(small, text)
    for part, whole, low, high in _SHARES:
        a, b = values.get(part), values.get(whole)
        if a and b and b.mm > 0 and not low <= a.mm / b.mm <= high:
            word = "short" if a.mm / b.mm < low else "long"
            asked.setdefault(part, f"{both(a.mm)} is {word} for {_the(whole).lower()} of {both(b.mm)}. Is that right?")
    for key, now in values.items():
        was = before.get(key) if before else None
        if was and abs(now.mm - was.mm) > JUMP * was.mm:
            asked.setdefault(
                key, f"{BY_KEY[key].label} was {both(was.mm)} before and is {both(now.mm)} now. Is that right?"
            )
    return asked


def _the(key: str) -> str:
    return f"The {BY_KEY[key].label.lower()}"


def _out_of_range(measurement: Measurement, value: Length) -> str | None:
    """A question where a figure is smaller or larger than any body's, with the unit that was likely meant."""
    if measurement.least_mm <= value.mm <= measurement.most_mm:
        return None
    small = value.mm < measurement.least_mm
    meant = value.mm * IN_MM / 10 if small else value.mm * 10 / IN_MM
    question = "Is that right?"
    if measurement.least_mm <= meant <= measurement.most_mm:
        question = "Were inches typed as centimetres?" if small else "Were centimetres typed as inches?"
    return f"{both(value.mm)} is very {'small' if small else 'large'} for {_the(measurement.key).lower()}. {question}"
