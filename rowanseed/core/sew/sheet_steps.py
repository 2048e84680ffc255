"""The steps of an instruction sheet out of its lines: numbers and headings, lines that go on, what is no step, figures.

How sheets are set is common practice, no source: numbered steps or a line each, headings in capitals or with a colon, the seam
allowance said once, a glossary and a cutting plan beside the steps.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import Finding, LengthError
from rowanseed.core.lengths import Length, parse_length

MOST_STEPS = 400
Box = tuple[float, float, float, float]
NUMBERED = re.compile(
    r"^\s*(?:step\s*)?(?P<number>\d{1,3}[a-z]?|[a-h])\s*[.):]\s+(?P<text>\S.*)$|^\s*step\s+(?P<n2>\d{1,3})\s+(?P<t2>\S.*)$",
    re.I,
)
BULLET = re.compile(r"^\s*[-*•–]\s+")
HEADING = re.compile(r"^[^.!?]{2,60}$")
NOT_STEPS = re.compile(
    r"\b(?:cutting|layouts?|glossary|fabrics?|materials|you will need|notions|pattern pieces|symbols|general|sizes?|measurements?|"
    r"yardage|requirements?|abbreviations|tips|key|copyright|before you begin)\b",
    re.I,
)
ALLOWANCE = re.compile(r"\bseam allowances?\b", re.I)
SAID = re.compile(r"\b(?:is|are|of|include[sd]?|unless|throughout|=|:)\b|[:=]", re.I)
NUMBER = r"(?:\d+\s+\d+/\d+|\d+-\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?\s*[¼½¾⅛⅜⅝⅞]?|[¼½¾⅛⅜⅝⅞])"
FIGURE = re.compile(rf"(?<![\w/.,])({NUMBER})\s*(cm|mm|in(?:ch(?:es)?|s)?\b|\"|”|″|m\b|yds?\b|yards?\b)", re.I)


@dataclass(frozen=True)
class PlacedLine:
    """A line of text in reading order: its page from 1 and its box there (left, top, right, bottom), where it has one.

    `gap`: whether white stands above it, as above a paragraph.
    """

    text: str
    page: int | None = None
    box: Box | None = None
    gap: bool = False


@dataclass(frozen=True)
class Figure:
    """A length that a step says: as written, and in mm."""

    text: str
    mm: float


@dataclass(frozen=True)
class SheetStep:
    """A step as the sheet has it: its number, the heading it stands under, its words, its place, its figures."""

    number: str
    text: str
    heading: str = ""
    page: int | None = None
    box: Box | None = None
    figures: tuple[Figure, ...] = ()


@dataclass(frozen=True)
class ReadSheet:
    """A sheet's steps in reading order, the allowance that it says once, and what was left out, in findings."""

    steps: tuple[SheetStep, ...]
    findings: tuple[Finding, ...]
    allowance: Figure | None = None


def sheet_steps(lines: Sequence[PlacedLine]) -> ReadSheet:
    """Return the steps of a sheet's lines, which stand in reading order.

    Where any line is numbered the others go on with the step before them; else a line is a step, or, where lines have their
    places, what stands between two white gaps.
    """
    numbered = sum(1 for line in lines if _number(line.text)) >= 2
    placed = any(line.box is not None for line in lines)
    steps: list[SheetStep] = []
    skipped: dict[str, int] = {}
    allowance: Figure | None = None
    heading, out, begun = "", False, False
    for line in lines:
        text = line.text.strip()
        if not text:
            begun = False
            continue
        if _is_heading(text):
            heading, out, begun = text.rstrip(":").strip(), bool(NOT_STEPS.search(text)), False
            continue
        number, words = _number(text) or ("", BULLET.sub("", text))
        if out and not (number and numbered and not _listed(heading)):
            skipped[heading] = skipped.get(heading, 0) + 1
            continue
        if not number and ALLOWANCE.search(text) and SAID.search(text) and figures_of(text):
            allowance = allowance or figures_of(text)[0]
            continue
        goes_on = begun and steps and not number and not BULLET.match(text) and (numbered or (placed and not line.gap))
        if goes_on:
            steps[-1] = _longer(steps[-1], words, line)
        elif number or not numbered or BULLET.match(text):
            steps.append(SheetStep(number or str(len(steps) + 1), words, heading, line.page, line.box))
            begun = True
    found = tuple(replace(step, figures=tuple(figures_of(step.text))) for step in steps[:MOST_STEPS])
    return ReadSheet(found, tuple(_findings(found, skipped, allowance)), allowance)


def figures_of(text: str) -> list[Figure]:
    """Return the lengths that words say, each as it is written; a second unit in brackets is the same length said again."""
    found: list[Figure] = []
    for match in FIGURE.finditer(text):
        again = text[: match.start()].rstrip().endswith(("(", "/", "or")) and bool(found)
        try:
            length: Length = parse_length(f"{match[1]} {_unit(match[2])}")
        except LengthError:
            continue
        if again and abs(length.mm - found[-1].mm) < max(1.0, 0.06 * length.mm):
            continue
        found.append(Figure(match[0].strip(), round(length.mm, 3)))
    return found


def _unit(words: str) -> str:
    low = words.lower()
    return "in" if low.startswith(("in", '"', "”", "″")) else "yd" if low.startswith("y") else low


def _number(text: str) -> tuple[str, str] | None:
    found = NUMBERED.match(text)
    if found is None:
        return None
    return (found["number"], found["text"]) if found["number"] else (found["n2"], found["t2"])


def _is_heading(text: str) -> bool:
    """Whether a line stands over steps: short, no sentence, in capitals or with a colon at its end."""
    if _number(text) or not HEADING.match(text.rstrip(":")) or len(text.split()) > 7:
        return False
    letters = [c for c in text if c.isalpha()]
    return bool(letters) and (all(c.isupper() for c in letters) or (text.endswith(":") and len(text.split()) <= 5))


def _listed(heading: str) -> bool:
    """Whether what stands under a heading is a list with numbers of its own, as pattern pieces are."""
    return bool(re.search(r"\b(?:pattern pieces|cutting|layouts?|glossary|key|symbols)\b", heading, re.I))


def _longer(step: SheetStep, words: str, line: PlacedLine) -> SheetStep:
    text = step.text[:-1] + words if step.text.endswith("-") and words[:1].islower() else f"{step.text} {words}"
    box = step.box
    if box is not None and line.box is not None and line.page == step.page:
        box = (min(box[0], line.box[0]), min(box[1], line.box[1]), max(box[2], line.box[2]), max(box[3], line.box[3]))
    return replace(step, text=text, box=box)


def _findings(steps: Sequence[SheetStep], skipped: dict[str, int], allowance: Figure | None) -> list[Finding]:
    found = []
    if not steps:
        found.append(Finding("care", "no-steps", "No steps were found: are they numbered, or a line each?"))
    if allowance is not None:
        found.append(Finding("note", "seam-allowance", f"The sheet says once: seam allowance {allowance.text}."))
    for heading, count in skipped.items():
        lines = f"{count} line{'s' if count > 1 else ''}"
        found.append(Finding("note", "left-out-section", f"“{heading}” holds no steps and was left out ({lines})."))
    return found
