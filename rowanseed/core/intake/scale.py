"""The test square of a print-at-home sheet: found by its words, held against its size, the scale corrected."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import Finding
from rowanseed.core.intake.model import Stroke, Words

_UNITS = {"mm": 1.0, "cm": 10.0, "centimet": 10.0, "in": 25.4, '"': 25.4, "”": 25.4, "″": 25.4}
_LENGTH = re.compile(r"(\d+(?:[.,]\d+)?)\s*(mm|cm|centimet|inch|in\b|\"|”|″)", re.I)
_TEST = re.compile(r"\b(test|scale|calibrat|control|check|print(ed)? (at|size)|measure)", re.I)
USUAL = (25.4, 50.0, 50.8, 76.2, 100.0, 101.6)
SIDE_MM = (15.0, 160.0)
RIGHT = 0.003  # within this share a square is as it should be
MOST_OFF = 0.4


@dataclass(frozen=True)
class Square:
    """A square that may be the test square: its strokes, side as drawn, and what its words say it is, mm."""

    strokes: tuple[Stroke, ...]
    side_mm: float
    said_mm: float | None


def test_squares(strokes: Sequence[Stroke], words: Sequence[Words]) -> list[Square]:
    """Return the squares whose words say their size, or of a usual size where some word speaks of a test."""
    found = []
    testing = any(_TEST.search(w.text) for w in words)
    for stroke in strokes:
        side = _side(stroke)
        if side is None:
            continue
        said = _said(stroke, side, words)
        if said is not None or (testing and any(abs(side - u) < RIGHT * u for u in USUAL)):
            found.append(Square((stroke,), side, said))
    return found


def _side(stroke: Stroke) -> float | None:
    if not stroke.closed or not 4 <= len(stroke.points) <= 8:
        return None
    xs, ys = [p[0] for p in stroke.points], [p[1] for p in stroke.points]
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    corners = all(
        min(abs(x - min(xs)), abs(x - max(xs))) < 0.2 or min(abs(y - min(ys)), abs(y - max(ys))) < 0.2
        for x, y in stroke.points
    )
    square = abs(wide - high) <= 0.01 * max(wide, high)
    return (wide + high) / 2 if square and corners and SIDE_MM[0] <= wide <= SIDE_MM[1] else None


def _said(stroke: Stroke, side: float, words: Sequence[Words]) -> float | None:
    """Return the length that the nearest words at a square give, where it may be the square's."""
    xs, ys = [p[0] for p in stroke.points], [p[1] for p in stroke.points]
    near: list[tuple[float, float]] = []
    for w in words:
        reach = max(12.0, 3 * w.height)
        long = 0.5 * w.height * len(w.text)
        beyond = (
            max(min(xs) - (w.at[0] + long), w.at[0] - max(xs), 0.0),
            max(min(ys) - w.at[1], w.at[1] - w.height - max(ys), 0.0),
        )
        away = math.hypot(*beyond)
        if away > reach or re.search(r"allowance|hem|ease|width|fabric", w.text, re.I):
            continue
        for number, unit in _LENGTH.findall(w.text):
            length = float(number.replace(",", ".")) * next(
                mm for u, mm in _UNITS.items() if unit.lower().startswith(u)
            )
            if length > 0 and abs(length / side - 1) <= MOST_OFF:
                near.append((abs(length / side - 1), length))
    return min(near)[1] if near else None


def corrected(
    strokes: Sequence[Stroke], words: Sequence[Words], told: float | None
) -> tuple[tuple[Stroke, ...], tuple[Words, ...], float, tuple[Finding, ...]]:
    """Return the lines and words at true size, by which they were scaled, and what is to be said; test squares are taken out.

    Args:
        told: the scale that the user gave; then the squares are only taken out.
    """
    squares = test_squares(strokes, words)
    out = {id(s) for square in squares for s in square.strokes}
    kept = tuple(s for s in strokes if id(s) not in out)
    said = [s for s in squares if s.said_mm is not None]
    if told is not None:
        return _scaled(kept, words, told), _scaled_words(words, told), told, ()
    if not said:
        note = (
            Finding("note", "test-square", f"A test square of {squares[0].side_mm:.1f} mm was found.")
            if squares
            else None
        )
        return kept, tuple(words), 1.0, (note,) if note else ()
    square = min(said, key=lambda s: abs((s.said_mm or s.side_mm) / s.side_mm - 1))
    by = (square.said_mm or square.side_mm) / square.side_mm
    text = f"The test square is {square.side_mm:.1f} mm wide and says {square.said_mm:g} mm"
    if abs(by - 1) <= RIGHT:
        return kept, tuple(words), 1.0, (Finding("note", "test-square", f"{text}: the file is to true size."),)
    finding = Finding(
        "care", "scale-corrected", f"{text}: everything was scaled by {by:.4f}. Measure a line on the paper to be sure."
    )
    return _scaled(kept, words, by), _scaled_words(words, by), by, (finding,)


def _scaled(strokes: Sequence[Stroke], words: Sequence[Words], by: float) -> tuple[Stroke, ...]:
    return tuple(replace(s, points=tuple((x * by, y * by) for x, y in s.points)) for s in strokes)


def _scaled_words(words: Sequence[Words], by: float) -> tuple[Words, ...]:
    return tuple(replace(w, at=(w.at[0] * by, w.at[1] * by), height=w.height * by) for w in words)
