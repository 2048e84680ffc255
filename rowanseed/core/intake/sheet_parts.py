"""What putting pages together rests on: lines cut to a box and moved, what every page has, words once."""

import math
import re
from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely import LineString, clip_by_rect, get_parts

from rowanseed.core.errors import Finding
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.model import Arrangement, Drawing, Stroke, Words

Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Joined:
    """The sheet: its strokes and words in one plane, where each page lies on it, and what was found."""

    strokes: tuple[Stroke, ...]
    words: tuple[Words, ...]
    arrangement: Arrangement
    findings: tuple[Finding, ...] = ()


@dataclass(frozen=True)
class Tiles:
    """Where pages lie: a printable frame (the same on each), a step from page to page, and places page -> (column, row).

    `aside`: pages that share no line with the others and were laid below them.
    """

    frame: Box
    step: tuple[float, float]
    places: dict[int, tuple[int, int]]
    score: float = 0.0
    aside: tuple[int, ...] = ()


def box_of(points: Outline) -> Box:
    """Return the box around some points: left, top, right, bottom."""
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def cut_to(stroke: Stroke, box: Box) -> list[Stroke]:
    """Return the parts of a stroke inside a box; a closed one that is cut becomes open."""
    if box[2] <= box[0] or box[3] <= box[1]:
        return []
    x0, y0, x1, y1 = box_of(stroke.points)
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


def moved(stroke: Stroke, dx: float, dy: float) -> Stroke:
    """Return a stroke moved, its page's clip left behind."""
    return replace(stroke, points=tuple((x + dx, y + dy) for x, y in stroke.points), clip=None)


def place_key(stroke: Stroke) -> object:
    """Return what a stroke shares with the same one at the same place of another page."""
    return (*(round(c, 1) for c in box_of(stroke.points)), len(stroke.points))


def on_most_pages(drawing: Drawing, used: Sequence[int]) -> set[object]:
    """Return what is drawn at the same place on most pages: frames, marks, rulers."""
    on: dict[object, set[int]] = defaultdict(set)
    for stroke in drawing.strokes:
        on[place_key(stroke)].add(stroke.page)
    return {key for key, pages in on.items() if len(pages) >= max(2, 0.6 * len(used))}


PAGE_LABEL = re.compile(
    r"^\W*(?:(?:row|reihe|zeile|rang[ée]e|ligne|fila|rij)\s*(?P<r>\d{1,2})\W+"
    r"(?:col(?:umn|onne|umna)?|spalte|kolom)\s*(?P<c>\d{1,2})|(?P<letter>[A-Z])\s?-?(?P<n>\d{1,2})"
    r"|r(?P<r2>\d{1,2})\W?c(?P<c2>\d{1,2}))\W*$",
    re.I,
)


def words_once(drawing: Drawing, offsets: dict[int, Point]) -> tuple[Words, ...]:
    """Return the words on the sheet; what stands on most pages at the same place, as a page's title, is left out."""
    on = Counter((w.text, round(w.at[0]), round(w.at[1])) for w in drawing.words)
    kept: dict[object, Words] = {}
    for w in drawing.words:
        if (
            w.page not in offsets
            or (len(offsets) > 1 and PAGE_LABEL.match(w.text.strip()))
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
