"""The test square of a print-at-home sheet: found by its words, held against its size, the scale corrected."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import Finding
from rowanseed.core.intake.model import Stroke, Words
from rowanseed.core.intake.names import piece_words
from rowanseed.core.intake.printed_lengths import printed_lengths

_TEST = re.compile(r"\b(test|scale|calibrat|control|check|print(ed)? (at|size)|measure)", re.I)
USUAL = (25.4, 50.0, 50.8, 76.2, 100.0, 101.6)
SAID_MM = (15.0, 310.0)  # squares of 2 to 30 cm
SIDE_MM = (0.5, 9000.0)  # as they may be drawn in a file whose unit is not what it seems
RIGHT = 0.003  # within this share a square is as it should be
MOST_OFF = 0.4
# Units that are taken for each other: a square may be off by the ratio of any two.
RATIOS = (25.4, 2.54, 10.0, 1000.0, 96 / 25.4, 72 / 25.4, 96 / 72, 96 / 2.54, 72 / 2.54)


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
        if _is_piece(stroke, strokes, words):
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
    near = min(0.2, 0.01 * max(wide, high))
    corners = all(
        min(abs(x - min(xs)), abs(x - max(xs))) < near or min(abs(y - min(ys)), abs(y - max(ys))) < near
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
        for length in printed_lengths(w.text):
            if SAID_MM[0] <= length <= SAID_MM[1] and _may_be(length / side):
                near.append((abs(math.log(length / side)), length))
    return min(near)[1] if near else None


def _may_be(ratio: float) -> bool:
    """Whether a square may be drawn so much smaller than its words say: by a printer's scale, or by a unit taken for another."""
    return abs(ratio - 1) <= MOST_OFF or any(abs(ratio / r - 1) < 0.02 or abs(ratio * r - 1) < 0.02 for r in RATIOS)


def _is_piece(stroke: Stroke, strokes: Sequence[Stroke], words: Sequence[Words]) -> bool:
    """Whether a square is rather a piece: graded, with notches or a grain line, or with the words of a piece in it."""
    xs, ys = [p[0] for p in stroke.points], [p[1] for p in stroke.points]
    box = (min(xs), min(ys), max(xs), max(ys))
    grow = 0.25 * (box[2] - box[0])
    inside = [w.text for w in words if box[0] <= w.at[0] <= box[2] and box[1] <= w.at[1] <= box[3] + grow * 0.1]
    said = piece_words(inside)
    if any(_TEST.search(text) for text in inside):
        return False
    if said.cut or said.on_fold:
        return True
    nested = 0
    for other in strokes:
        if other is stroke or other.size == stroke.size == "":
            continue
        ox, oy = [p[0] for p in other.points], [p[1] for p in other.points]
        if (
            box[0] - grow <= min(ox)
            and max(ox) <= box[2] + grow
            and box[1] - grow <= min(oy)
            and max(oy) <= box[3] + grow
        ):
            nested += other.closed and _side(other) is not None
            if other.sense in ("notch", "grain", "fold"):
                return True
    return nested > 1


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
