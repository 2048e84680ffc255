"""Pages that each draw the whole pattern and cut it off: what is drawn on several of them tells exactly how they lie."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from statistics import median

from rowanseed.core.errors import Finding
from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.types import Point
from rowanseed.core.intake.model import Drawing, Stroke
from rowanseed.core.intake.sheet_parts import Joined, cut_to, moved, on_most_pages, place_key, words_once


def by_repeats(drawing: Drawing, used: Sequence[int]) -> Joined | None:
    """Return the sheet where each page draws the whole pattern, moved, and shows its part; None where they do not."""
    common = on_most_pages(drawing, used)
    seen: dict[object, dict[int, list[Stroke]]] = defaultdict(lambda: defaultdict(list))
    for stroke in drawing.strokes:
        if len(stroke.points) > 2 and path_length(stroke.points) > 20.0 and place_key(stroke) not in common:
            seen[_shape_key(stroke)][stroke.page].append(stroke)
    page_size = drawing.pages[used[0]]
    offsets = _offsets(_votes(seen.values()), used, (page_size.width, page_size.height))
    if offsets is None:
        return None
    strokes: list[Stroke] = []
    taken: set[object] = set()
    for stroke in drawing.strokes:
        if place_key(stroke) in common:
            continue
        there = moved(stroke, *offsets[stroke.page])
        key = (_shape_key(there), round(there.points[0][0]), round(there.points[0][1]))
        near = {(key[0], key[1] + dx, key[2] + dy) for dx in (-1, 0, 1) for dy in (-1, 0, 1)}
        if not near & taken and _shown(stroke):
            taken.add(key)
            strokes.append(there)
    left, top = min(o[0] for o in offsets.values()), min(o[1] for o in offsets.values())
    strokes = [moved(s, -left, -top) for s in strokes]
    words = words_once(drawing, {page: (x - left, y - top) for page, (x, y) in offsets.items()})
    places = tuple(
        (p, x - left, y - top, drawing.pages[p].width, drawing.pages[p].height) for p, (x, y) in sorted(offsets.items())
    )
    text = f"{len(places)} pages were put together by the lines that are drawn on more than one of them."
    return Joined(tuple(strokes), words, places, (Finding("note", "guess-pages", text),))


def _shown(stroke: Stroke) -> bool:
    """Whether a page shows any of a stroke."""
    return stroke.clip is None or bool(cut_to(stroke, stroke.clip))


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


Votes = dict[tuple[int, int], dict[Point, list[Point]]]


def _votes(seen: Iterable[dict[int, list[Stroke]]]) -> Votes:
    """Return for each two pages the moves from the first to the second that lines on both give, those alike to 0.5 mm together."""
    votes: Votes = defaultdict(lambda: defaultdict(list))
    for pages in seen:
        alone = {page: strokes[0].points[0] for page, strokes in pages.items() if len(strokes) == 1}
        order = sorted(alone)
        for k, a in enumerate(order):
            for b in order[k + 1 : k + 40]:
                dx, dy = alone[a][0] - alone[b][0], alone[a][1] - alone[b][1]
                votes[a, b][round(2 * dx) / 2, round(2 * dy) / 2].append((dx, dy))
    return votes


def _offsets(votes: Votes, used: Sequence[int], page: tuple[float, float]) -> dict[int, Point] | None:
    """Return where each page lies by what it shares with others; None where some page shares nothing, or they disagree.

    Pages lie in a grid: a move that is not a whole number of its steps comes of two pieces that are alike, and does not count.
    """
    steps = [_step(votes, axis, page[axis]) for axis in (0, 1)]
    sure: dict[tuple[int, int], tuple[int, Point]] = {}
    for pair, moves in votes.items():
        fitting = {m: n for m, n in moves.items() if all(_whole(m[k], steps[k]) for k in (0, 1)) and m != (0.0, 0.0)}
        if fitting:
            best = max(fitting, key=lambda m: (len(fitting[m]), -abs(m[0]) - abs(m[1])))
            exact = fitting[best]
            sure[pair] = (len(exact), (median(x for x, _ in exact), median(y for _, y in exact)))
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


def _step(votes: Votes, axis: int, side: float) -> float | None:
    """Return the step of the grid along an axis: the most frequent move between half a page and a page, or None."""
    moves: Counter[float] = Counter()
    for counted in votes.values():
        for move, n in counted.items():
            if 0.5 * side < abs(move[axis]) <= side and abs(move[1 - axis]) < 1.0:
                moves[abs(move[axis])] += len(n)
    return max(moves, key=lambda m: moves[m]) if moves else None


def _whole(move: float, step: float | None) -> bool:
    """Whether a move is a whole number of steps, none included."""
    if step is None:
        return abs(move) < 1.0
    return abs(move - step * round(move / step)) <= 1.0 + 0.3 * abs(round(move / step))
