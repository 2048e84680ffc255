"""Pages of a print-at-home pattern put together to one sheet: by what is drawn on several of them, by lines that go on, by hand."""

import math
import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely import LineString, clip_by_rect, get_parts

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.model import Arrangement, Drawing, IntakeOptions, Stroke, Words

Box = tuple[float, float, float, float]
# Overlaps in use; common practice, no source.
OVERLAPS = (0.0, 5.0, 6.35, 8.0, 10.0, 12.7, 15.0, 19.05, 20.0, 25.4, 30.0)
SAME_MM = 0.6  # two pages' lines meet within this


@dataclass(frozen=True)
class Joined:
    """The sheet: its strokes and words in one plane, where each page lies on it, and what was found."""

    strokes: tuple[Stroke, ...]
    words: tuple[Words, ...]
    arrangement: Arrangement
    findings: tuple[Finding, ...] = ()


@dataclass(frozen=True)
class _Tiles:
    """Where pages lie: a printable frame (the same on each), a step from page to page, and places page -> (column, row)."""

    frame: Box
    step: tuple[float, float]
    places: dict[int, tuple[int, int]]
    score: float = 0.0


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
    if (repeated := _by_repeats(drawing, used)) is not None:
        return repeated
    tiles = _by_lines(drawing, used, options)
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
    return _on_sheet(drawing, tiles, (Finding("note", "guess-pages", text),))


def _visible(stroke: Stroke) -> Stroke | None:
    """Return a stroke as far as its page shows it; None where it is wholly hidden (parts are joined again later)."""
    if stroke.clip is None:
        return stroke
    parts = _cut_to(stroke, stroke.clip)
    return parts[0] if len(parts) == 1 else max(parts, key=lambda s: path_length(s.points), default=None)


def _box_of(points: Outline) -> Box:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def _cut_to(stroke: Stroke, box: Box) -> list[Stroke]:
    """Return the parts of a stroke inside a box; a closed one that is cut becomes open."""
    x0, y0, x1, y1 = _box_of(stroke.points)
    if x0 >= box[0] - 1e-6 and y0 >= box[1] - 1e-6 and x1 <= box[2] + 1e-6 and y1 <= box[3] + 1e-6:
        return [stroke]
    if x1 < box[0] or y1 < box[1] or x0 > box[2] or y0 > box[3]:
        return []
    ring = (*stroke.points, stroke.points[0]) if stroke.closed else stroke.points
    parts = [p for p in get_parts(clip_by_rect(LineString(ring), *box)) if p.geom_type == "LineString" and p.length > 0]
    lines = [tuple((float(x), float(y)) for x, y in p.coords) for p in parts]
    if (
        stroke.closed
        and len(lines) > 1
        and math.dist(lines[0][0], ring[0]) < 1e-9
        and math.dist(lines[-1][-1], ring[0]) < 1e-9
    ):
        lines = [(*lines[-1], *lines[0][1:]), *lines[1:-1]]
    return [replace(stroke, points=line, closed=False) for line in lines]


def _moved(stroke: Stroke, dx: float, dy: float) -> Stroke:
    return replace(stroke, points=tuple((x + dx, y + dy) for x, y in stroke.points), clip=None)


# Whole lines that are drawn again on several pages and cut off by each: they tell exactly how the pages lie.


def _by_repeats(drawing: Drawing, used: Sequence[int]) -> Joined | None:
    """Return the sheet where each page draws the whole pattern, moved, and shows its part; None where they do not."""
    furniture = _furniture(drawing, used)
    seen: dict[object, dict[int, list[Stroke]]] = defaultdict(lambda: defaultdict(list))
    for stroke in drawing.strokes:
        if len(stroke.points) > 2 and path_length(stroke.points) > 20.0 and _place_key(stroke) not in furniture:
            seen[_shape_key(stroke)][stroke.page].append(stroke)
    page_size = drawing.pages[used[0]]
    offsets = _offsets(_votes(seen.values()), used, (page_size.width, page_size.height))
    if offsets is None:
        return None
    strokes: list[Stroke] = []
    taken: set[object] = set()
    for stroke in drawing.strokes:
        if _place_key(stroke) in furniture:
            continue
        moved = _moved(stroke, *offsets[stroke.page])
        key = (_shape_key(moved), round(moved.points[0][0]), round(moved.points[0][1]))
        near = {(key[0], key[1] + dx, key[2] + dy) for dx in (-1, 0, 1) for dy in (-1, 0, 1)}
        if not near & taken and _shown(stroke):
            taken.add(key)
            strokes.append(moved)
    left, top = min(o[0] for o in offsets.values()), min(o[1] for o in offsets.values())
    strokes = [_moved(s, -left, -top) for s in strokes]
    words = _words_once(drawing, {page: (x - left, y - top) for page, (x, y) in offsets.items()})
    places = tuple(
        (p, x - left, y - top, drawing.pages[p].width, drawing.pages[p].height) for p, (x, y) in sorted(offsets.items())
    )
    text = f"{len(places)} pages were put together by the lines that are drawn on more than one of them."
    return Joined(tuple(strokes), words, places, (Finding("note", "guess-pages", text),))


def _shown(stroke: Stroke) -> bool:
    """Whether a page shows any of a stroke."""
    return stroke.clip is None or bool(_cut_to(stroke, stroke.clip))


def _shape_key(stroke: Stroke) -> object:
    (x, y), points = stroke.points[0], stroke.points
    few = [points[round(k * (len(points) - 1) / 4)] for k in range(1, 5)]
    return (
        stroke.layer,
        stroke.style,
        stroke.closed,
        len(points),
        *((round((p - x) * 2), round((q - y) * 2)) for p, q in few),
    )


def _place_key(stroke: Stroke) -> object:
    return (*(round(c, 1) for c in _box_of(stroke.points)), len(stroke.points))


def _furniture(drawing: Drawing, used: Sequence[int]) -> set[object]:
    """Return what is drawn at the same place on most pages: frames, marks, rulers."""
    on: dict[object, set[int]] = defaultdict(set)
    for stroke in drawing.strokes:
        on[_place_key(stroke)].add(stroke.page)
    return {key for key, pages in on.items() if len(pages) >= max(2, 0.6 * len(used))}


def _votes(seen: Iterable[dict[int, list[Stroke]]]) -> dict[tuple[int, int], Counter[Point]]:
    """Return how often lines that two pages share say that the second lies so far from the first, to half a mm."""
    votes: dict[tuple[int, int], Counter[Point]] = defaultdict(Counter)
    for pages in seen:
        alone = {page: strokes[0].points[0] for page, strokes in pages.items() if len(strokes) == 1}
        order = sorted(alone)
        for k, a in enumerate(order):
            for b in order[k + 1 : k + 40]:
                dx, dy = alone[a][0] - alone[b][0], alone[a][1] - alone[b][1]
                votes[a, b][round(2 * dx) / 2, round(2 * dy) / 2] += 1
    return votes


def _offsets(
    votes: dict[tuple[int, int], Counter[Point]], used: Sequence[int], page: tuple[float, float]
) -> dict[int, Point] | None:
    """Return where each page lies by what it shares with others; None where some page shares nothing, or they disagree.

    Pages lie in a grid: a move that is not a whole number of its steps comes of two pieces that are alike, and does not count.
    """
    steps = [_step(votes, axis, page[axis]) for axis in (0, 1)]
    sure: dict[tuple[int, int], tuple[int, Point]] = {}
    for pair, moves in votes.items():
        fitting = {m: n for m, n in moves.items() if all(_whole(m[k], steps[k]) for k in (0, 1)) and m != (0.0, 0.0)}
        if fitting:
            best = max(fitting, key=lambda m: (fitting[m], -abs(m[0]) - abs(m[1])))
            sure[pair] = (fitting[best], best)
    offsets: dict[int, Point] = {used[0]: (0.0, 0.0)}
    while True:  # the page that is surest by those already placed comes next
        open_ones = [(n, a, b, m) for (a, b), (n, m) in sure.items() if (a in offsets) != (b in offsets)]
        if not open_ones:
            break
        _, a, b, (dx, dy) = max(open_ones, key=lambda o: o[0])
        known, new, sign = (a, b, 1) if a in offsets else (b, a, -1)
        offsets[new] = (offsets[known][0] + sign * dx, offsets[known][1] + sign * dy)
    if len(offsets) < len(used):
        return None
    places = {(round(x / 5), round(y / 5)) for x, y in offsets.values()}
    return offsets if len(places) == len(used) else None


def _step(votes: dict[tuple[int, int], Counter[Point]], axis: int, side: float) -> float | None:
    """Return the step of the grid along an axis: the most frequent move between half a page and a page, or None."""
    moves: Counter[float] = Counter()
    for counted in votes.values():
        for move, n in counted.items():
            if 0.5 * side < abs(move[axis]) <= side and abs(move[1 - axis]) < 1.0:
                moves[abs(move[axis])] += n
    return max(moves, key=lambda m: moves[m]) if moves else None


def _whole(move: float, step: float | None) -> bool:
    """Whether a move is a whole number of steps, none included."""
    if step is None:
        return abs(move) < 1.0
    return abs(move - step * round(move / step)) <= 1.0 + 0.3 * abs(round(move / step))


# Pages that were cut: the frame is found, then how their lines go on over its edges.


def _frame(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> Box:
    """Return the printable frame: a rectangle drawn on most pages, else the clip or the box of all that is drawn."""
    page = drawing.pages[used[0]]
    if options.margin is not None:
        return options.margin, options.margin, page.width - options.margin, page.height - options.margin
    boxes = Counter(
        tuple(round(c, 1) for c in _box_of(s.points))
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
        return x0, y0, x1, y1
    shown = [c for s in drawing.strokes for c in _cut_to(s, s.clip or (-1e5, -1e5, 1e5, 1e5))]
    straight = _frame_of_lines(shown, used, page.width, page.height)
    if straight is not None:
        return straight
    all_boxes = [_box_of(s.points) for s in shown]
    return (
        min(b[0] for b in all_boxes),
        min(b[1] for b in all_boxes),
        max(b[2] for b in all_boxes),
        max(b[3] for b in all_boxes),
    )


def _is_box(points: Outline) -> bool:
    x0, y0, x1, y1 = _box_of(points)
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


def _as_told(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> _Tiles:
    columns, rows = options.columns or 1, options.rows or 1
    if columns * rows < len(used):
        raise IntakeError(
            f"{columns} columns and {rows} rows hold {columns * rows} pages; the file has {len(used)}.", "options.tiles"
        )
    frame = _frame(drawing, used, options)
    overlap = options.overlap or 0.0
    step = (frame[2] - frame[0] - overlap, frame[3] - frame[1] - overlap)
    return _Tiles(frame, step, {page: (k % columns, k // columns) for k, page in enumerate(used)})


def _by_lines(drawing: Drawing, used: Sequence[int], options: IntakeOptions) -> _Tiles | None:
    """Return how the pages lie so that most lines go on over the edges between them."""
    frame = _frame(drawing, used, options)
    furniture = _furniture(drawing, used)
    segments = {page: _segments(drawing, page, frame, furniture) for page in used}
    labels = _labels(drawing, used)
    overlaps = OVERLAPS if options.overlap is None else (options.overlap,)
    best: _Tiles | None = None
    for overlap in overlaps:
        step = (frame[2] - frame[0] - overlap, frame[3] - frame[1] - overlap)
        if min(step) < 30:
            continue
        right, below = _meetings(segments, frame, overlap)
        for places in [labels] if labels else _grids(used):
            tiles = _Tiles(frame, step, places, _score(places, right, below))
            if best is None or tiles.score > best.score + 1e-9:
                best = tiles
        if not labels and (grown := _grown(used, right, below)) is not None:
            tiles = _Tiles(frame, step, grown, _score(grown, right, below) - 0.5)
            if best is None or tiles.score > best.score + 1e-9:
                best = tiles
    if best is None or (best.score < 1.5 and not labels):
        return None
    return best


Segments = np.ndarray[tuple[int, int], np.dtype[np.float64]]


def _segments(drawing: Drawing, page: int, frame: Box, furniture: set[object]) -> Segments:
    """Return every side of every line on a page inside the frame, n x 4."""
    rows = []
    for stroke in drawing.strokes:
        if stroke.page != page or stroke.sense == "ignore" or _place_key(stroke) in furniture:
            continue
        for part in _cut_to(stroke, stroke.clip or frame):
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
) -> dict[int, tuple[int, int]] | None:
    """Return places found page by page, the surest neighbour first: for sheets whose empty pages were left out."""
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
    left = min(places[p][0] for p in used if group[p] == main)
    top = min(places[p][1] for p in used if group[p] == main)
    return {p: (places[p][0] - left, places[p][1] - top) for p in used if group[p] == main}


_LABEL = re.compile(
    r"^\W*(?:row\s*(?P<r>\d{1,2})\W+col(?:umn)?\s*(?P<c>\d{1,2})|(?P<letter>[A-Z])\s?-?(?P<n>\d{1,2})"
    r"|r(?P<r2>\d{1,2})\W?c(?P<c2>\d{1,2}))\W*$",
    re.I,
)


def _labels(drawing: Drawing, used: Sequence[int]) -> dict[int, tuple[int, int]]:
    """Return the places that labels on the pages give, such as "row 2 column 3" or "B4", where nearly all have one; else none."""
    places: dict[int, tuple[int, int]] = {}
    letters_are_rows: dict[int, tuple[int, int]] = {}
    for words in drawing.words:
        found = _LABEL.match(words.text.strip())
        if found is None or words.page not in used or words.page in places:
            continue
        if found["letter"]:
            letters_are_rows[words.page] = (int(found["n"]) - 1, ord(found["letter"].upper()) - ord("A"))
        else:
            places[words.page] = (int(found["c"] or found["c2"]) - 1, int(found["r"] or found["r2"]) - 1)
    chosen = places if len(places) >= len(letters_are_rows) else letters_are_rows
    apart = len(set(chosen.values())) == len(chosen) and all(p >= 0 and q >= 0 for p, q in chosen.values())
    return chosen if apart and len(chosen) >= 0.8 * len(used) and len(chosen) > 1 else {}


def _on_sheet(drawing: Drawing, tiles: _Tiles, findings: tuple[Finding, ...]) -> Joined:
    """Return the sheet of pages in a grid: each page cut to its cell, in the middle of what overlaps."""
    used = list(tiles.places)
    furniture = _furniture(drawing, used)
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
        if stroke.page not in cells or (_place_key(stroke) in furniture and stroke.sense != "cut"):
            continue
        column, row = tiles.places[stroke.page]
        dx, dy = column * tiles.step[0] - x0, row * tiles.step[1] - y0
        clip = stroke.clip or cells[stroke.page]
        cell = cells[stroke.page]
        box = (max(clip[0], cell[0]), max(clip[1], cell[1]), min(clip[2], cell[2]), min(clip[3], cell[3]))
        strokes += [_moved(part, dx, dy) for part in _cut_to(stroke, box)]
    offsets = {p: (c * tiles.step[0] - x0, r * tiles.step[1] - y0) for p, (c, r) in tiles.places.items()}
    places = tuple((p, x, y, drawing.pages[p].width, drawing.pages[p].height) for p, (x, y) in sorted(offsets.items()))
    return Joined(tuple(strokes), _words_once(drawing, offsets), places, findings)


def _words_once(drawing: Drawing, offsets: dict[int, Point]) -> tuple[Words, ...]:
    """Return the words on the sheet; what stands on most pages at the same place, as a page's title, is left out."""
    on = Counter((w.text, round(w.at[0]), round(w.at[1])) for w in drawing.words)
    kept: dict[object, Words] = {}
    for w in drawing.words:
        if (
            w.page not in offsets
            or (len(offsets) > 1 and _LABEL.match(w.text.strip()))
            or on[w.text, round(w.at[0]), round(w.at[1])] >= max(3, 0.6 * len(offsets))
        ):
            continue
        dx, dy = offsets[w.page]
        at = (w.at[0] + dx, w.at[1] + dy)
        twin = kept.get((w.text, round(at[0] / 2), round(at[1] / 2)))
        if twin is None or twin.page == w.page:  # what overlaps is printed on both pages
            key = (w.text, round(at[0] / 2), round(at[1] / 2))
            kept[(*key, len(kept)) if twin else key] = replace(w, at=at)
    return tuple(kept.values())


def _in_a_row(drawing: Drawing, used: Sequence[int]) -> Joined:
    """Return the pages one beside the other, not put together."""
    offsets, x = {}, 0.0
    for page in used:
        offsets[page] = (x, 0.0)
        x += drawing.pages[page].width + 10.0
    strokes = [
        _moved(c, *offsets[s.page]) for s in drawing.strokes for c in _cut_to(s, s.clip or (-1e5, -1e5, 1e5, 1e5))
    ]
    places = tuple((p, o[0], o[1], drawing.pages[p].width, drawing.pages[p].height) for p, o in offsets.items())
    return Joined(tuple(strokes), _words_once(drawing, offsets), places)


def _placed_by_hand(drawing: Drawing, options: IntakeOptions) -> Joined:
    """Return the sheet of pages where the user laid them; of what lies over another page the later page's is left out."""
    offsets = {page: (x, y) for page, x, y in options.places}
    frame = _frame(drawing, sorted(offsets), options)
    furniture = _furniture(drawing, sorted(offsets))
    strokes: list[Stroke] = []
    done: list[Box] = []
    for page, (dx, dy) in sorted(offsets.items(), key=lambda item: (item[1][1], item[1][0])):
        box = (frame[0] + dx, frame[1] + dy, frame[2] + dx, frame[3] + dy)
        box = _trimmed(box, done)
        done.append(box)
        for stroke in drawing.strokes:
            if stroke.page == page and _place_key(stroke) not in furniture:
                shown = _cut_to(stroke, stroke.clip) if stroke.clip else [stroke]
                strokes += [p for s in shown for p in _cut_to(_moved(s, dx, dy), box)]
    places = tuple((p, x, y, drawing.pages[p].width, drawing.pages[p].height) for p, (x, y) in sorted(offsets.items()))
    return Joined(tuple(strokes), _words_once(drawing, offsets), places)


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
