"""Pages whose lines are cut at a frame: the frame is found, then how the lines go on over its edges from page to page."""

from collections import Counter
from collections.abc import Sequence

import numpy as np

from rowanseed.core.geometry.types import Outline
from rowanseed.core.intake.model import Drawing, IntakeOptions, PageBox, Stroke
from rowanseed.core.intake.sheet_parts import PAGE_LABEL, Box, Tiles, box_of, cut_to, on_most_pages, place_key

# Overlaps in use; common practice, no source.
OVERLAPS = (0.0, 5.0, 6.35, 8.0, 10.0, 12.7, 15.0, 19.05, 20.0, 25.4, 30.0)
MOST_MARK_MM = 25.0  # the longest stroke of a cross or a trim mark
SAME_MM = 0.6  # two pages' lines meet within this


def page_frame(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> Box:
    """Return the printable frame: a rectangle drawn on most pages, else what marks tell, else the box of all that is drawn."""
    return page_frames(drawing, used, options)[0]


def page_frames(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> list[Box]:
    """Return the frames that may be meant, the likeliest first; more than one only where no rectangle is drawn."""
    page = drawing.pages[used[0]]
    if options.margin is not None:
        return [(options.margin, options.margin, page.width - options.margin, page.height - options.margin)]
    boxes = Counter(
        tuple(round(c, 1) for c in box_of(s.points))
        for s in drawing.strokes
        if s.closed and len(s.points) == 4 and _is_box(s.points)
    )
    large = [
        b
        for b, n in boxes.items()
        if n >= 0.6 * len(used) and (b[2] - b[0]) * (b[3] - b[1]) > 0.5 * page.width * page.height
    ]
    if large:
        x0, y0, x1, y1 = max(large, key=lambda b: (b[2] - b[0]) * (b[3] - b[1]))
        return [(x0, y0, x1, y1)]
    shown = [c for s in drawing.strokes for c in cut_to(s, s.clip or (-1e5, -1e5, 1e5, 1e5))]
    straight = _frame_of_lines(shown, used, page.width, page.height)
    if straight is not None:
        return [straight]
    # What stands on most pages (crosses, trim marks) is no part of the pattern, which is cut where the frame is.
    furniture = on_most_pages(drawing, used)
    content = [s for s in shown if place_key(s) not in furniture] or shown
    whole = _box_of_all(content)
    marked = _frame_of_marks([s for s in drawing.strokes if place_key(s) in furniture], page)
    found = [box for box in (marked, whole) if box is not None]
    return found if len(content) < len(shown) else [whole]


def _box_of_all(strokes: Sequence[Stroke]) -> Box:
    boxes = np.asarray([box_of(s.points) for s in strokes])
    low, high = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def _frame_of_marks(furniture: Sequence[Stroke], page: PageBox) -> Box | None:
    """The box whose corners short marks show, such as crosses and trim marks: where their upright and level strokes stand."""
    xs, ys = set(), set()
    for stroke in furniture:
        x0, y0, x1, y1 = box_of(stroke.points)
        if len(stroke.points) == 2 and 1.0 < max(x1 - x0, y1 - y0) < MOST_MARK_MM:
            if x1 - x0 < 0.1:
                xs.add(round(x0, 2))
            elif y1 - y0 < 0.1:
                ys.add(round(y0, 2))
    if len(xs) < 2 or len(ys) < 2 or (max(xs) - min(xs)) * (max(ys) - min(ys)) < 0.4 * page.width * page.height:
        return None
    return min(xs), min(ys), max(xs), max(ys)


def _is_box(points: Outline) -> bool:
    x0, y0, x1, y1 = box_of(points)
    return all(min(abs(x - x0), abs(x - x1)) < 0.1 and min(abs(y - y0), abs(y - y1)) < 0.1 for x, y in points)


def _frame_of_lines(strokes: Sequence[Stroke], used: Sequence[int], width: float, height: float) -> Box | None:
    """Return the frame that four long lines make which stand at the same places on most pages."""
    upright: Counter[float] = Counter()
    level: Counter[float] = Counter()
    for stroke in strokes:
        for (ax, ay), (bx, by) in zip(stroke.points, stroke.points[1:]):
            if abs(ax - bx) < 0.1 and abs(ay - by) > 0.6 * height:
                upright[round(ax, 1)] += 1
            if abs(ay - by) < 0.1 and abs(ax - bx) > 0.6 * width:
                level[round(ay, 1)] += 1
    xs = [x for x, n in upright.items() if n >= 0.6 * len(used)]
    ys = [y for y, n in level.items() if n >= 0.6 * len(used)]
    if len(xs) < 2 or len(ys) < 2:
        return None
    return min(xs), min(ys), max(xs), max(ys)


def by_lines(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> Tiles | None:
    """Return how the pages lie so that most lines go on over the edges between them."""
    found = [_tiles_in(drawing, used, options, frame) for frame in page_frames(drawing, used, options)]
    best = max((tiles for tiles in found if tiles is not None), key=lambda tiles: tiles.score, default=None)
    if best is None or (best.score < 1.5 and not _labels(drawing, used)):
        return None
    return best


def _tiles_in(drawing: Drawing, used: Sequence[int], options: IntakeOptions, frame: Box) -> Tiles | None:
    """How the pages lie best if this is their frame."""
    furniture = on_most_pages(drawing, used)
    segments = {page: _segments(drawing, page, frame, furniture) for page in used}
    labels = _labels(drawing, used)
    overlaps = OVERLAPS if options.overlap is None else (options.overlap,)
    best: Tiles | None = None
    for overlap in overlaps:
        step = (frame[2] - frame[0] - overlap, frame[3] - frame[1] - overlap)
        if min(step) < 30:
            continue
        right, below = _meetings(segments, frame, overlap)
        for places in [labels] if labels else _grids(used):
            tiles = Tiles(frame, step, places, _score(places, right, below))
            if best is None or tiles.score > best.score + 1e-9:
                best = tiles
        if not labels and (grown := _grown(used, right, below)) is not None:
            places, aside = grown
            tiles = Tiles(frame, step, places, _score(places, right, below) - 0.5, aside)
            if best is None or tiles.score > best.score + 1e-9:
                best = tiles
    return best


Segments = np.ndarray[tuple[int, int], np.dtype[np.float64]]


def _segments(drawing: Drawing, page: int, frame: Box, furniture: set[object]) -> Segments:
    """Return every side of every line on a page inside the frame, n x 4."""
    rows = []
    for stroke in drawing.strokes:
        if stroke.page != page or stroke.sense == "ignore" or place_key(stroke) in furniture:
            continue
        for part in cut_to(stroke, stroke.clip or frame):
            points = (*part.points, part.points[0]) if part.closed else part.points
            rows += [(*p, *q) for p, q in zip(points, points[1:])]
    return np.asarray(rows, dtype=np.float64).reshape(-1, 4)


def _crossings(segments: Segments, at: float, axis: int) -> Segments:
    """Return where lines cross x = at (axis 0) or y = at (axis 1): n x 2, the place along it and the slope there."""
    if not len(segments):
        return np.empty((0, 2))
    a, b = segments[:, axis], segments[:, axis + 2]
    hit = (np.minimum(a, b) <= at) & (np.maximum(a, b) >= at) & (np.abs(a - b) > 1e-6)
    s = segments[hit]
    t = (at - s[:, axis]) / (s[:, axis + 2] - s[:, axis])
    other = 1 - axis
    along = s[:, other] + t * (s[:, other + 2] - s[:, other])
    slope = (s[:, other + 2] - s[:, other]) / (s[:, axis + 2] - s[:, axis])
    return np.stack([along, slope], axis=1)


def _meetings(segments: dict[int, Segments], frame: Box, overlap: float) -> tuple[dict[tuple[int, int], float], ...]:
    """Return for each pair of pages how well the second goes on to the right of the first, and below it."""
    inset = max(overlap / 2, 0.4)
    results = []
    for axis in (0, 1):
        late = {p: _crossings(s, frame[axis + 2] - inset, axis) for p, s in segments.items()}
        early = {p: _crossings(s, frame[axis] + inset, axis) for p, s in segments.items()}
        gap = 0.0 if overlap >= 0.8 else 2 * inset
        results.append(
            {
                (a, b): value
                for a in late
                for b in early
                if a != b and (value := _meet(late[a], early[b], gap)) is not None
            }
        )
    return tuple(results)


def _meet(late: Segments, early: Segments, gap: float) -> float | None:
    """Return how many lines go on from one edge to the other, less those that do not; None where neither has any."""
    if not len(late) and not len(early):
        return None
    if not len(late) or not len(early):
        return -0.5 * (len(late) + len(early))
    late, early = late[:400], early[:400]
    ahead = late[:, 0] + late[:, 1] * gap
    miss = np.abs(ahead[:, None] - early[None, :, 0])
    allowed = SAME_MM + 0.1 * gap * np.minimum(np.abs(late[:, 1:2]), 8.0)
    turn = np.abs(np.arctan(late[:, 1])[:, None] - np.arctan(early[:, 1])[None, :])
    fits = (miss <= allowed) & (turn < 0.35)
    matched = min(int(fits.any(axis=1).sum()), int(fits.any(axis=0).sum()))
    unmatched = len(late) + len(early) - 2 * matched
    return float(matched) - 0.5 * unmatched


def _grids(used: Sequence[int]) -> list[dict[int, tuple[int, int]]]:
    """Return the grids that pages may make in their order: by rows or by columns, with up to three pages before the first.

    A page on which nothing is drawn has its place too.
    """
    grids = []
    shown = set(used)
    for first in used[:4]:
        pages = range(first, used[-1] + 1)
        for columns in range(1, len(pages) + 1):
            rows = -(-len(pages) // columns)
            grids.append({p: (k % columns, k // columns) for k, p in enumerate(pages) if p in shown})
            grids.append({p: (k // rows, k % rows) for k, p in enumerate(pages) if p in shown})
    return grids


def _score(
    places: dict[int, tuple[int, int]], right: dict[tuple[int, int], float], below: dict[tuple[int, int], float]
) -> float:
    at = {place: page for page, place in places.items()}
    total = 0.0
    for page, (column, row) in places.items():
        for other, table in ((at.get((column + 1, row)), right), (at.get((column, row + 1)), below)):
            if other is not None:
                total += table.get((page, other), 0.0)
    return total


def _grown(
    used: Sequence[int], right: dict[tuple[int, int], float], below: dict[tuple[int, int], float]
) -> tuple[dict[int, tuple[int, int]], tuple[int, ...]] | None:
    """Return places found page by page, the surest neighbour first, and the pages on which no line goes on to those.

    For sheets whose empty pages were left out. A page that shares no line with the others is laid below them, by itself.
    """
    links = sorted(
        [(value, a, b, (1, 0)) for (a, b), value in right.items() if value >= 1.0]
        + [(value, a, b, (0, 1)) for (a, b), value in below.items() if value >= 1.0],
        key=lambda link: (-link[0], abs(link[2] - link[1])),
    )
    group = {page: page for page in used}
    places = dict.fromkeys(used, (0, 0))
    for _, a, b, (dx, dy) in links:
        if group[a] == group[b]:
            continue
        mine = {places[p] for p in used if group[p] == group[a]}
        mx = places[a][0] + dx - places[b][0], places[a][1] + dy - places[b][1]
        theirs = {p: (places[p][0] + mx[0], places[p][1] + mx[1]) for p in used if group[p] == group[b]}
        if mine & set(theirs.values()):
            continue
        places.update(theirs)
        for p in theirs:
            group[p] = group[a]
    sizes = Counter(group.values())
    main, count = sizes.most_common(1)[0]
    if count < max(2, 0.6 * len(used)):
        return None
    found: dict[int, tuple[int, int]] = {}
    for name, _ in sizes.most_common():
        own = [p for p in used if group[p] == name]
        left, top = min(places[p][0] for p in own), min(places[p][1] for p in own)
        foot = max((row for _, row in found.values()), default=-2) + 2  # a row between what is not known to meet
        found.update({p: (places[p][0] - left, places[p][1] - top + foot) for p in own})
    return found, tuple(p for p in used if group[p] != main)


def _labels(drawing: Drawing, used: Sequence[int]) -> dict[int, tuple[int, int]]:
    """Return the places that labels on the pages give, such as "row 2 column 3" or "B4", where nearly all have one; else none."""
    places: dict[int, tuple[int, int]] = {}
    letters_are_rows: dict[int, tuple[int, int]] = {}
    for words in drawing.words:
        found = PAGE_LABEL.match(words.text.strip())
        if found is None or words.page not in used or words.page in places:
            continue
        if found["letter"]:
            letters_are_rows[words.page] = (int(found["n"]) - 1, ord(found["letter"].upper()) - ord("A"))
        else:
            places[words.page] = (int(found["c"] or found["c2"]) - 1, int(found["r"] or found["r2"]) - 1)
    chosen = places if len(places) >= len(letters_are_rows) else letters_are_rows
    apart = len(set(chosen.values())) == len(chosen) and all(p >= 0 and q >= 0 for p, q in chosen.values())
    return chosen if apart and len(chosen) >= 0.8 * len(used) and len(chosen) > 1 else {}
