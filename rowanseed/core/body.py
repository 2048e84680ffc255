"""Measurements of a body: what they are, where the tape goes, and when to take them again.

Names follow the girths and lengths of ISO 8559-1 (Size designation of clothes, part 1: anthropometric definitions), from
memory; the wording is ours.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from rowanseed.core.errors import Finding
from rowanseed.core.lengths import Length, both

CHILD_MONTHS = 3  # common practice, no published source
ADULT_MONTHS = 12  # common practice, no published source
JUMP = 0.1  # a larger change from one set to the next is asked about


@dataclass(frozen=True)
class Measurement:
    """One thing a tape measures. `tape` draws it on the figure: points in per cent of the figure's box.

    `around` girths are drawn as an ellipse through the two points, lengths as a line.
    """

    key: str
    label: str
    where: str
    around: bool
    tape: tuple[tuple[float, float], ...]


MEASUREMENTS: tuple[Measurement, ...] = (
    Measurement(
        "bust", "Full bust", "Around the fullest part of the chest, level with the floor.", True, ((37, 29), (63, 29))
    ),
    Measurement("high_bust", "High bust", "Around under the arms, above the bust.", True, ((37.5, 25), (62.5, 25))),
    Measurement(
        "waist",
        "Waist",
        "Where the body creases on bending sideways, or where the band is to sit.",
        True,
        ((40, 40), (60, 40)),
    ),
    Measurement(
        "hip", "Full hip", "Around the fullest part; note how far below the waist.", True, ((36.5, 50), (63.5, 50))
    ),
    Measurement(
        "hip_depth", "Waist to hip", "Down the side from the waist to the fullest hip.", False, ((62, 40), (65, 50))
    ),
    Measurement(
        "back_waist", "Back waist length", "From the prominent neck bone to the waist.", False, ((50, 16.5), (50, 40))
    ),
    Measurement("height", "Height", "Floor to crown, without shoes.", False, ((14, 3), (14, 97))),
    Measurement("shoulder", "Shoulder", "From the neck to the shoulder's end.", False, ((54, 17), (65, 20))),
    Measurement("upper_arm", "Upper arm", "Around the fullest part of the arm, hanging.", True, ((65, 28), (71, 28))),
    Measurement(
        "arm_length",
        "Arm length",
        "From the shoulder's end over a bent elbow to the wrist.",
        False,
        ((67, 20), (72, 36), (75, 50)),
    ),
    Measurement("wrist", "Wrist", "Around the wrist bone.", True, ((72.5, 49.5), (77, 49.5))),
    Measurement("thigh", "Thigh", "Around the fullest part of the leg.", True, ((37.5, 58), (49.5, 58))),
    Measurement(
        "crotch_depth",
        "Crotch depth",
        "Seated: from the waist to the chair at the side.",
        False,
        ((35, 40), (34, 54)),
    ),
    Measurement(
        "crotch_length",
        "Crotch length",
        "From the waist in front, between the legs, to the waist behind.",
        False,
        ((48, 40), (50, 54), (52, 40)),
    ),
    Measurement("inseam", "Inseam", "Inside the leg, from the crotch to the ankle.", False, ((50, 55), (47, 93))),
    Measurement(
        "waist_to_knee",
        "Waist to knee",
        "In front, from the waist to the middle of the knee.",
        False,
        ((58, 40), (57, 74)),
    ),
    Measurement("waist_to_floor", "Waist to floor", "Down the side, following the hip.", False, ((66, 40), (66, 97))),
)
BY_KEY: Mapping[str, Measurement] = {m.key: m for m in MEASUREMENTS}


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
    for key, now in values.items():
        was = before.get(key) if before else None
        if was and abs(now.mm - was.mm) > JUMP * was.mm:
            asked[key] = f"{BY_KEY[key].label} was {both(was.mm)} before and is {both(now.mm)} now. Is that right?"
    waist, hip = values.get("waist"), values.get("hip")
    if waist and hip and waist.mm > hip.mm:
        asked["waist"] = f"The waist, {both(waist.mm)}, is larger than the hip, {both(hip.mm)}. Is that right?"
    high, full = values.get("high_bust"), values.get("bust")
    if high and full and high.mm > full.mm:
        asked["high_bust"] = f"The high bust, {both(high.mm)}, is larger than the full bust. Is that right?"
    for key in ("bust", "waist", "hip", "high_bust"):
        value = values.get(key)
        if value and value.mm < 400:
            asked.setdefault(key, f"{both(value.mm)} is very small. Were inches typed as centimetres?")
        elif value and value.mm > 2000:
            asked.setdefault(key, f"{both(value.mm)} is very large. Were centimetres typed as inches?")
    return asked
