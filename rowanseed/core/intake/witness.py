"""Whether a file's scale can be believed: what it says of its unit, its squares, its pieces, its steps of sizes, its allowances.

No witness is believed alone. What bodies measure and what patterns usually have is from memory of envelopes; the windows are wide,
so that they speak only against what no garment has.
"""

import math
import re
import statistics
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from shapely import LineString, Polygon

from rowanseed.core.errors import Finding
from rowanseed.core.intake.model import Intake, ProposedPiece, SizeLines, Words
from rowanseed.core.intake.printed_lengths import printed_lengths

# How many mm one unit of a file may be; a file in one read as if it were in another is off by their ratio.
UNITS_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "m": 1000.0, "px": 25.4 / 96, "pt": 25.4 / 72}
# The longer side of a piece by its name, mm: from a baby's to the longest coat.
LONG_BY_NAME = (
    (r"\b(trousers?|pants?|legs?|jeans|dungarees)\b", (280.0, 1350.0)),
    (r"\bsleeves?\b", (120.0, 900.0)),
    (r"\b(bodice|yoke|upper)\b", (110.0, 800.0)),
    (r"\b(front|back|skirt|panel|side)\b", (150.0, 1700.0)),
    (r"\b(collar|cuff|stand|waistband|band|facing|pocket|placket|flap|strap|tie|belt)\b", (25.0, 2200.0)),
)
LONGEST = (190.0, 1900.0)  # of the largest piece of a garment
MIDDLE_MM = 700.0
SMALLEST_MM = 18.0  # no piece is narrower
STEP = (0.7, 20.0)  # from one size's line to the next, on the average round a piece
FAR = 2.0  # pieces and steps alone do not tell scales that are nearer to each other
USUAL_ALLOWANCE = (4.0, 40.0)


@dataclass(frozen=True)
class Verdict:
    """What witnesses say: by how much everything is to be scaled (1: as it is), whether it has to be asked, and what is said."""

    factor: float
    asks: bool
    findings: tuple[Finding, ...]


def believed(intake: Intake, words: Sequence[Words], exact: bool) -> Verdict:
    """Return whether a file's scale is believed, corrected or asked for.

    Args:
        exact: whether a test square has been found to agree with its words, or has corrected the scale.
    """
    guessed = next((f for f in intake.findings if f.code == "guess-unit"), None)
    said = _allowance_factor(intake.pieces, words)
    possible = [f for f in _candidates(intake.unit, guessed is not None) if _body(intake, f) and _steps(intake, f)]
    fits = 1.0 in possible
    if said is not None and abs(said - 1) > 0.1:
        if any(abs(said / f - 1) < 0.1 for f in possible if f != 1.0):
            factor = min((f for f in possible if f != 1.0), key=lambda f: abs(said / f - 1))
            return Verdict(
                factor, False, (_put_right(factor, "its seam allowance as it is written, and the size of its pieces,"),)
            )
        return Verdict(1.0, True, (_doubt("Its seam lines are not as far inside as its words say."),))
    if fits and (exact or guessed is None or (said is not None)):
        return Verdict(1.0, False, ())
    if fits:
        return Verdict(1.0, True, (_doubt("The file does not say its unit, and nothing in it tells how large it is."),))
    graded = _step(intake) is not None
    if graded and len(possible) == 1 and not 1 / FAR < possible[0] < FAR:
        return Verdict(
            possible[0], False, (_put_right(possible[0], "the size of its pieces and the steps from size to size"),)
        )
    return Verdict(1.0, True, (_doubt(f"Its largest piece would be {_longest(intake.pieces) / 10:.1f} cm long."),))


def of_another_unit(read: Callable[[float], Intake | None], unit: str) -> Intake | None:
    """Return what a file holds in which nothing is as large as a piece, read as if one of its units were another; none if nothing.

    Args:
        read: reads the file scaled by a factor; none where it finds nothing.
    """
    found = []
    for factor in _candidates(unit, True):
        if factor > 1.5 and (intake := read(factor)) is not None and _body(intake, 1.0) and _steps(intake, 1.0):
            found.append((factor, intake))
    if not found:
        return None
    factor, intake = min(found, key=lambda each: abs(math.log(_longest(each[1].pieces) / MIDDLE_MM)))
    graded = _step(intake) is not None and len(found) == 1
    if graded:
        said = _put_right(factor, "the size of its pieces and the steps from size to size")
    else:
        said = _doubt(f"As it stands nothing in it is as large as a piece; it was scaled by {factor:.4g}.")
    return replace(intake, findings=(*intake.findings, said))


def choices(intake: Intake) -> list[tuple[float, float]]:
    """Return the scales that a user may mean: (factor, length of the largest piece, mm), what is possible first."""
    long = _longest(intake.pieces)
    every = sorted(_candidates(intake.unit, True), key=lambda f: (not _body(intake, f), abs(f - 1.0)))
    return [(f, long * f) for f in every if f == 1.0 or 50.0 < long * f < 3_000.0][:6]


def asks_scale(intake: Intake) -> bool:
    """Whether the user has to say how large everything is before anything is kept."""
    return any(f.code == "scale-ask" for f in intake.findings)


def longest_piece(intake: Intake) -> ProposedPiece:
    """Return the piece with the longest side."""
    return max(intake.pieces, key=lambda p: _sides(_largest(p))[1])


def _candidates(unit: str, guessed: bool) -> list[float]:
    """As it is, and the ratios of one unit to another that are taken for each other."""
    own = UNITS_MM.get(unit, 1.0)
    found = [1.0, *(mm / own for mm in UNITS_MM.values())]
    if not guessed:
        found += [1 / 25.4, 25.4, 0.1, 10.0, 0.001, 1000.0]
    return sorted({round(f, 9): f for f in found}.values(), key=lambda f: abs(f - 1.0))


def _largest(piece: ProposedPiece) -> SizeLines:
    return max(piece.sizes.values(), key=lambda s: Polygon(s.outline).area)


def _sides(lines: SizeLines) -> tuple[float, float]:
    """The shorter and the longer side of the box that a piece fits in, however it is turned."""
    box = Polygon(lines.outline).minimum_rotated_rectangle
    if box.geom_type != "Polygon":
        return 0.0, float(box.length)
    corners = list(box.exterior.coords)
    short, long = sorted(LineString(corners[k : k + 2]).length for k in range(2))
    return float(short), float(long)


def _longest(pieces: Iterable[ProposedPiece]) -> float:
    return max(_sides(_largest(p))[1] for p in pieces)


def _body(intake: Intake, factor: float) -> bool:
    """Whether a body could wear these pieces at this scale."""
    if not LONGEST[0] <= _longest(intake.pieces) * factor <= LONGEST[1]:
        return False
    for piece in intake.pieces:
        short, long = (side * factor for side in _sides(_largest(piece)))
        if short < SMALLEST_MM and long < 4 * SMALLEST_MM:
            return False
        window = next((w for words, w in LONG_BY_NAME if re.search(words, piece.name, re.I)), None)
        if window is not None and not window[0] <= long <= window[1]:
            return False
    return True


def _step(intake: Intake) -> float | None:
    """The middle of how far the lines of neighbouring sizes lie apart, mm, on the average round each of the large pieces."""
    steps = []
    areas = {p.number: Polygon(_largest(p).outline).area for p in intake.pieces}
    for piece in (p for p in intake.pieces if areas[p.number] >= 0.3 * max(areas.values())):
        polygons = [Polygon(piece.sizes[s].outline) for s in intake.sizes if s in piece.sizes]
        steps += [
            abs(b.area - a.area) / max(1e-9, (a.length + b.length) / 2)
            for a, b in zip(polygons, polygons[1:], strict=False)
        ]
    moved = [step for step in steps if step > 0.05]
    return statistics.median(moved) if moved else None


def _steps(intake: Intake, factor: float) -> bool:
    step = _step(intake)
    return step is None or STEP[0] <= step * factor <= STEP[1]


def _allowance_factor(pieces: Sequence[ProposedPiece], words: Sequence[Words]) -> float | None:
    """By what the written seam allowance differs from the drawn one; none where either is missing or they are several."""
    written = {
        mm for w in words if re.search(r"\b(seam )?allowances?\b", w.text, re.I) and not re.search(r"\bhem\b", w.text, re.I)
        for mm in printed_lengths(w.text) if USUAL_ALLOWANCE[0] <= mm <= USUAL_ALLOWANCE[1]
    }  # fmt: skip
    drawn = []
    for piece in pieces:
        for lines in piece.sizes.values():
            if lines.seam_line:
                outer, inner = Polygon(lines.outline), Polygon(lines.seam_line)
                drawn.append((outer.area - inner.area) / ((outer.length + inner.length) / 2))
    if len(written) == 0 or not drawn:
        return None
    middle = statistics.median(drawn)
    return min((mm / middle for mm in written), key=lambda f: abs(f - 1.0)) if middle > 1e-6 else None


def _put_right(factor: float, by: str) -> Finding:
    text = f"Everything was scaled by {factor:.4g}: {by} say so together. Measure a line on the paper to be sure."
    return Finding("care", "scale-corrected", text)


def _doubt(why: str) -> Finding:
    return Finding("care", "scale-ask", f"{why} Say how large it is before the pieces are kept.")
