"""The text of an instruction sheet out of a PDF, with its places, in the order in which it is read: column after column."""

import statistics
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import pypdfium2 as pdfium

from rowanseed.core.errors import IntakeError
from rowanseed.core.sew.sheet_steps import Box, PlacedLine

MOST_PAGES, MOST_LINES = 60, 4000
GUTTER = 1.1  # of a line's height: white between two columns is wider
PARAGRAPH = 1.75  # of the usual distance of two lines: white above a paragraph is higher


@dataclass(frozen=True)
class _Run:
    """A run of text on one line, its box from the page's top."""

    text: str
    box: Box

    @property
    def height(self) -> float:
        return self.box[3] - self.box[1]


def sheet_lines(data: bytes, pages: tuple[int, int] | None = None) -> list[PlacedLine]:
    """Return a PDF's lines of text in reading order, in points from each page's top left.

    Args:
        pages: the first and last page wanted, from 1; None for all.
    Raises:
        IntakeError: it is no PDF, it is damaged or locked, or it holds no text.
    """
    try:
        document = pdfium.PdfDocument(data)
    except pdfium.PdfiumError as error:
        raise IntakeError(
            "This is no PDF that can be read, or it is locked. Save it anew, without a password.", "file"
        ) from error
    found: list[PlacedLine] = []
    try:
        first, last = pages or (1, len(document))
        for number in range(max(1, first), min(last, len(document), MOST_PAGES) + 1):
            found += _page_lines(document[number - 1], number)
            if len(found) > MOST_LINES:
                raise IntakeError(f"More than {MOST_LINES} lines of text: give the pages that hold the steps.", "pages")
    finally:
        document.close()
    if not any(line.text.strip() for line in found):
        raise IntakeError("This PDF holds pictures of its pages and no text. Paste the text, or type it in.", "file")
    return found


def _page_lines(page: pdfium.PdfPage, number: int) -> list[PlacedLine]:
    text, high = page.get_textpage(), page.get_height()
    runs: list[_Run] = []
    for k in range(text.count_rects()):
        left, bottom, right, top = text.get_rect(k)
        words = text.get_text_bounded(left, bottom, right, top).replace("\r\n", " ").strip()
        if words and right > left:
            runs.append(_Run(words, (left, high - top, right, high - bottom)))
    lines: list[PlacedLine] = []
    for block in _blocks(_joined(runs)):
        lines += _placed(block, number)
    return lines


def _joined(runs: Sequence[_Run]) -> list[_Run]:
    """Runs that stand beside each other on one line, no wider apart than a word's space, as one."""
    out: list[_Run] = []
    for run in sorted(runs, key=lambda r: (round(r.box[1] / 3.0), r.box[0])):
        before = out[-1] if out else None
        if (
            before is not None
            and abs(before.box[1] - run.box[1]) < 0.6 * max(before.height, run.height)
            and -1.0 <= run.box[0] - before.box[2] < 0.7 * max(before.height, run.height)
        ):
            box = (before.box[0], min(before.box[1], run.box[1]), run.box[2], max(before.box[3], run.box[3]))
            out[-1] = _Run(f"{before.text} {run.text}", box)
        else:
            out.append(run)
    return out


def _blocks(runs: list[_Run]) -> Iterator[list[_Run]]:
    """Part a page at white that goes all through: into columns where there is a gutter, else into bands one under another."""
    if len(runs) < 2:
        if runs:
            yield runs
        return
    height = statistics.median(r.height for r in runs)
    across = _cut(runs, 0, GUTTER * height)
    if across is not None and min(len(part) for part in across) >= 2:
        for part in across:
            yield from _blocks(part)
        return
    down = _cut(runs, 1, 0.9 * height)
    if down is not None:
        for part in down:
            yield from _blocks(part)
        return
    yield sorted(runs, key=lambda r: (r.box[1], r.box[0]))


def _cut(runs: list[_Run], axis: int, least: float) -> tuple[list[_Run], list[_Run]] | None:
    """Part runs at their widest white across (axis 0) or down (1), where it is at least so wide."""
    ordered = sorted(runs, key=lambda r: r.box[axis])
    reach, best, at = ordered[0].box[axis + 2], 0.0, 0.0
    for run in ordered[1:]:
        white = run.box[axis] - reach
        if white > best:
            best, at = white, reach + white / 2.0
        reach = max(reach, run.box[axis + 2])
    if best < least:
        return None
    return [r for r in runs if r.box[axis] < at], [r for r in runs if r.box[axis] >= at]


def _placed(block: Sequence[_Run], number: int) -> list[PlacedLine]:
    """A block's lines; a gap stands above its first one, and where the white is higher than between its lines."""
    steps = [b.box[1] - a.box[1] for a, b in zip(block, block[1:]) if b.box[1] > a.box[1]]
    usual = statistics.median(steps) if steps else 0.0
    return [
        PlacedLine(
            run.text, number, run.box, k == 0 or (usual > 0 and run.box[1] - block[k - 1].box[1] > PARAGRAPH * usual)
        )
        for k, run in enumerate(block)
    ]
