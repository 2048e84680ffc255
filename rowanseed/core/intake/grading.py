"""A drawing in its sample size graded to the others by a rule table: how far each numbered point moves from size to size."""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.intake.model import Drawing, Stroke, Words

AT_POINT_MM = 1.0
_RULE = re.compile(r"^\s*#\s*(\d{1,4})\b")


@dataclass(frozen=True)
class RuleTable:
    """A grading table: sizes smallest first, the sample size; for each rule how far its points move in each size, mm, y down."""

    sizes: tuple[str, ...]
    sample: str
    rules: Mapping[int, tuple[Point, ...]]


def graded(drawing: Drawing, table: RuleTable) -> Drawing:
    """Return a drawing of blocks in one size as blocks in every size of a table.

    A point moves by the rule whose number ("# 12") stands at it, other points of an outline by their share of the way between
    two such points, marks inside by the numbered points around them, the nearer the more.
    """
    strokes: list[Stroke] = []
    words: list[Words] = []
    for group in dict.fromkeys(s.group for s in drawing.strokes):
        own = [s for s in drawing.strokes if s.group == group]
        said = [w for w in drawing.words if w.group == group]
        places = [(w.at, int(m[1])) for w in said if (m := _RULE.match(w.text)) and int(m[1]) in table.rules]
        plain = [w for w in said if not _RULE.match(w.text)]
        if not group or not places:
            strokes += own
            words += plain
            continue
        for k, size in enumerate(table.sizes):
            moves = [(at, table.rules[rule][k]) for at, rule in places]
            name = f"{group} {size}"
            strokes += [replace(s, points=_moved(s, moves), group=name, size=size) for s in own]
            words += [replace(w, group=name, size=size) for w in plain if not re.match(r"^\W*size\b", w.text, re.I)]
            words.append(Words(f"Size: {size}", own[0].points[0], 3.0, "1", name, 0, size))
    return replace(drawing, strokes=tuple(strokes), words=tuple(words))


Moves = list[tuple[Point, Point]]


def _moved(stroke: Stroke, moves: Moves) -> Outline:
    """Return a stroke's points in another size."""
    if stroke.closed:
        on = [(k, by) for k, p in enumerate(stroke.points) if (by := _at(p, moves)) is not None]
        if len(on) > 1:
            return _between(stroke.points, on)
    there = [_by_nearness(p, moves) for p in stroke.points]
    if stroke.sense == "grain":  # it keeps its direction
        dx = sum(q[0] - p[0] for p, q in zip(stroke.points, there)) / len(there)
        dy = sum(q[1] - p[1] for p, q in zip(stroke.points, there)) / len(there)
        return tuple((x + dx, y + dy) for x, y in stroke.points)
    return tuple(there)


def _at(p: Point, moves: Moves) -> Point | None:
    """Return how far a point moves that a rule stands at, or None."""
    away, by = min((math.dist(p, at), by) for at, by in moves)
    return by if away <= AT_POINT_MM else None


def _between(points: Outline, on: list[tuple[int, Point]]) -> Outline:
    """Return a closed line whose numbered points move by their rules, the points between by their share of the way."""
    count = len(points)
    out: list[Point] = list(points)
    for (i, a), (j, b) in zip(on, [*on[1:], on[0]]):
        run = [(i + k) % count for k in range((j - i) % count or count)]
        steps = [math.dist(points[k], points[(k + 1) % count]) for k in run]
        whole, gone = sum(steps) or 1.0, 0.0
        for k, step in zip(run, steps):
            t = gone / whole
            out[k] = (points[k][0] + a[0] + t * (b[0] - a[0]), points[k][1] + a[1] + t * (b[1] - a[1]))
            gone += step
    return tuple(out)


def _by_nearness(p: Point, moves: Moves) -> Point:
    """Return where a point inside moves: the mean of the rules around it, weighed by the square of their nearness."""
    if (exact := _at(p, moves)) is not None:
        return (p[0] + exact[0], p[1] + exact[1])
    places = np.asarray([at for at, _ in moves])
    weights = 1.0 / np.maximum(np.sum((places - p) ** 2, axis=1), 1e-6)
    by = weights @ np.asarray([by for _, by in moves]) / weights.sum()
    return (p[0] + float(by[0]), p[1] + float(by[1]))
