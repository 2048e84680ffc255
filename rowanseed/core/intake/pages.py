"""Pages of a print-at-home pattern put together to one sheet: by what is drawn on several of them, by lines that go on, by hand."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.outline import path_length
from rowanseed.core.intake.model import Drawing, IntakeOptions, Stroke
from rowanseed.core.intake.page_grid import by_lines, page_frame
from rowanseed.core.intake.page_repeats import by_repeats
from rowanseed.core.intake.sheet_parts import (
    Box,
    Joined,
    Tiles,
    box_of,
    cut_to,
    moved,
    on_most_pages,
    place_key,
    words_once,
)

AT_FRAME_MM = 0.5


def joined_pages(drawing: Drawing, options: IntakeOptions) -> Joined:
    """Return the one sheet that a drawing's pages make.

    Raises:
        IntakeError: the columns and rows asked for do not hold the pages, or nothing tells how they go together.
    """
    if not drawing.pages:
        return Joined(drawing.strokes, drawing.words, ())
    used = sorted({s.page for s in drawing.strokes})
    if options.places:
        return _placed_by_hand(drawing, options)
    if len(used) <= 1:
        page = used[0] if used else 0
        box = drawing.pages[page]
        strokes = tuple(c for s in drawing.strokes if (c := _visible(s)))
        return Joined(strokes, drawing.words, ((page, 0.0, 0.0, box.width, box.height),))
    if options.columns and options.rows:
        return _on_sheet(drawing, _as_told(drawing, used, options), ())
    if (repeated := by_repeats(drawing, used)) is not None:
        return repeated
    tiles = by_lines(drawing, used, options)
    if tiles is None:
        text = (
            f"It has {len(used)} pages, and nothing on them tells how they go together. Say how many columns and rows they make, "
            "or drag the pages to their places."
        )
        apart = _in_a_row(drawing, used)
        return replace(apart, findings=(*apart.findings, Finding("care", "pages-apart", text)))
    columns, rows = (max(p[k] for p in tiles.places.values()) + 1 for k in (0, 1))
    laid = f"{columns} across and {rows} down"
    text = f"{len(tiles.places)} pages were put together, {laid}, because the lines go on from page to page."
    return _on_sheet(drawing, tiles, (Finding("note", "guess-pages", text), *_said_aside(drawing, tiles)))


def _said_aside(drawing: Drawing, tiles: Tiles) -> Iterator[Finding]:
    """What is doubtful of pages that share no line with the others: nothing where what is drawn on them is whole."""
    x0, y0, x1, y1 = tiles.frame
    furniture = on_most_pages(drawing, list(tiles.places))
    cut_off = [
        page
        for page in tiles.aside
        if any(
            min(b[0] - x0, b[1] - y0, x1 - b[2], y1 - b[3]) < AT_FRAME_MM
            for s in drawing.strokes
            if s.page == page and place_key(s) not in furniture
            for part in cut_to(s, s.clip or tiles.frame)
            for b in (box_of(part.points),)
        )
    ]
    if cut_off:
        named = ", ".join(str(page + 1) for page in cut_off)
        text = f"What is drawn on page {named} ends at its frame and goes on on no other: drag it to its place, or a piece is lost."
        yield Finding("care", "pages-apart", text)


def _visible(stroke: Stroke) -> Stroke | None:
    """Return a stroke as far as its page shows it; None where it is wholly hidden (parts are joined again later)."""
    if stroke.clip is None:
        return stroke
    parts = cut_to(stroke, stroke.clip)
    return parts[0] if len(parts) == 1 else max(parts, key=lambda s: path_length(s.points), default=None)


def _as_told(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> Tiles:
    columns, rows = options.columns or 1, options.rows or 1
    if columns * rows < len(used):
        raise IntakeError(
            f"{columns} columns and {rows} rows hold {columns * rows} pages; the file has {len(used)}.", "options.tiles"
        )
    frame = page_frame(drawing, used, options)
    overlap = options.overlap or 0.0
    step = (frame[2] - frame[0] - overlap, frame[3] - frame[1] - overlap)
    return Tiles(frame, step, {page: (k % columns, k // columns) for k, page in enumerate(used)})


def _on_sheet(drawing: Drawing, tiles: Tiles, findings: tuple[Finding, ...]) -> Joined:
    """Return the sheet of pages in a grid: each page cut to its cell, in the middle of what overlaps."""
    used = list(tiles.places)
    furniture = on_most_pages(drawing, used)
    x0, y0, x1, y1 = tiles.frame
    over = (x1 - x0 - tiles.step[0], y1 - y0 - tiles.step[1])
    taken = set(tiles.places.values())
    strokes: list[Stroke] = []
    cells: dict[int, Box] = {}
    for page, (column, row) in tiles.places.items():
        left = over[0] / 2 if (column - 1, row) in taken else 0.0
        right = over[0] / 2 if (column + 1, row) in taken else 0.0
        top = over[1] / 2 if (column, row - 1) in taken else 0.0
        foot = over[1] / 2 if (column, row + 1) in taken else 0.0
        cells[page] = (x0 + left, y0 + top, x1 - right, y1 - foot)
    for stroke in drawing.strokes:
        if stroke.page not in cells or (place_key(stroke) in furniture and stroke.sense != "cut"):
            continue
        column, row = tiles.places[stroke.page]
        dx, dy = column * tiles.step[0] - x0, row * tiles.step[1] - y0
        clip = stroke.clip or cells[stroke.page]
        cell = cells[stroke.page]
        box = (max(clip[0], cell[0]), max(clip[1], cell[1]), min(clip[2], cell[2]), min(clip[3], cell[3]))
        strokes += [moved(part, dx, dy) for part in cut_to(stroke, box)]
    offsets = {p: (c * tiles.step[0] - x0, r * tiles.step[1] - y0) for p, (c, r) in tiles.places.items()}
    places = tuple((p, x, y, drawing.pages[p].width, drawing.pages[p].height) for p, (x, y) in sorted(offsets.items()))
    return Joined(tuple(strokes), words_once(drawing, offsets), places, findings)


def _in_a_row(drawing: Drawing, used: Sequence[int]) -> Joined:
    """Return the pages one beside the other, not put together."""
    offsets, x = {}, 0.0
    for page in used:
        offsets[page] = (x, 0.0)
        x += drawing.pages[page].width + 10.0
    strokes = [moved(c, *offsets[s.page]) for s in drawing.strokes for c in cut_to(s, s.clip or (-1e5, -1e5, 1e5, 1e5))]
    places = tuple((p, o[0], o[1], drawing.pages[p].width, drawing.pages[p].height) for p, o in offsets.items())
    return Joined(tuple(strokes), words_once(drawing, offsets), places)


def _placed_by_hand(drawing: Drawing, options: IntakeOptions) -> Joined:
    """Return the sheet of pages where the user laid them; of what lies over another page the later page's is left out."""
    offsets = {page: (x, y) for page, x, y in options.places}
    frame = page_frame(drawing, sorted(offsets), options)
    furniture = on_most_pages(drawing, sorted(offsets))
    strokes: list[Stroke] = []
    done: list[Box] = []
    for page, (dx, dy) in sorted(offsets.items(), key=lambda item: (item[1][1], item[1][0])):
        box = (frame[0] + dx, frame[1] + dy, frame[2] + dx, frame[3] + dy)
        box = _trimmed(box, done)
        done.append(box)
        for stroke in drawing.strokes:
            if stroke.page == page and place_key(stroke) not in furniture:
                shown = cut_to(stroke, stroke.clip) if stroke.clip else [stroke]
                strokes += [p for s in shown for p in cut_to(moved(s, dx, dy), box)]
    places = tuple((p, x, y, drawing.pages[p].width, drawing.pages[p].height) for p, (x, y) in sorted(offsets.items()))
    return Joined(tuple(strokes), words_once(drawing, offsets), places)


def _trimmed(box: Box, done: Sequence[Box]) -> Box:
    """Return a page's frame without the strips that pages laid before it cover at its left and its top."""
    x0, y0, x1, y1 = box
    for a0, b0, a1, b1 in done:
        across, down = min(x1, a1) - max(x0, a0), min(y1, b1) - max(y0, b0)
        if across <= 0 or down <= 0:
            continue
        if across < down and a0 < x0:
            x0 = a1
        elif down <= across and b0 < y0:
            y0 = b1
    return x0, y0, x1, y1
