"""Laws that an alteration keeps on any draft, each measured here from points alone: lengths, corners, darts, notches, layers.

Seam lines are drawn in by a general geometry library, not by the program's own. The laws are common practice, no source.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np
import shapely
from shapely import LineString, Polygon
from shapely import Point as Place

from rowanseed.core.fit.alter import Altered, alter
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.seamwalk import AlterPiece
from tests.core.fit.drafts import Draft

CORNER_DEG = 10.0
WINDOW_MM = 9.0
MET_MM = 1.0
ON_LINE_MM = 0.2
LEGS_MM = 0.5
LAYER_MM = 1.2


def seam_edge(piece: AlterPiece, edge: str) -> LineString:
    """An edge on its seam line: the cut edge set in by the allowance, cut off where its neighbours' seam lines cross it."""
    shape = piece.shape
    points = edge_points(shape.outline, shape.edges[edge])
    by = shape.allowance_of(edge)
    if not by:
        return LineString(points)
    return LineString(edge_points(shape.seam_line, shape.edges[edge]))


def darts_on(piece: AlterPiece, edge: str) -> list[tuple[Point, Point, Point]]:
    """The darts whose legs both end on an edge."""
    cut = LineString(edge_points(piece.shape.outline, piece.shape.edges[edge]))
    return [
        (line.points[0], line.points[1], line.points[2])
        for line in piece.shape.lines
        if line.kind == "dart"
        and len(line.points) == 3
        and max(cut.distance(Place(line.points[k])) for k in (0, 2)) < 1.5
    ]


def sewn_mm(piece: AlterPiece, edge: str) -> float:
    """How long an edge is as it is sewn: its seam line without what darts fold away, mm."""
    line = seam_edge(piece, edge)
    taken = 0.0
    for a, tip, b in darts_on(piece, edge):
        met = []
        for end in (a, b):
            leg = LineString([tip, (tip[0] + 1.3 * (end[0] - tip[0]), tip[1] + 1.3 * (end[1] - tip[1]))])
            cross = leg.intersection(line)
            place = Place(end) if cross.is_empty else cross if cross.geom_type == "Point" else cross.geoms[0]
            met.append(line.project(place))
        taken += abs(met[0] - met[1])
    return line.length - taken


def corners(piece: AlterPiece, edge: str) -> float:
    """The sharpest turn inside an edge, degrees, seen over a finger's breadth; where a dart opens does not count."""
    line = LineString(edge_points(piece.shape.outline, piece.shape.edges[edge]))
    if line.length < 4 * WINDOW_MM:
        return 0.0
    open_at = [sorted(line.project(Place(d[k])) for k in (0, 2)) for d in darts_on(piece, edge)]
    places = np.arange(WINDOW_MM, line.length - WINDOW_MM, 1.5)
    for low, high in open_at:
        places = places[(places < low - WINDOW_MM) | (places > high + WINDOW_MM)]
    if not len(places):
        return 0.0
    a, b, c = (
        shapely.get_coordinates(shapely.line_interpolate_point(line, places + k * WINDOW_MM)) for k in (-1, 0, 1)
    )
    one, two = b - a, c - b
    turn = np.arctan2(two[:, 1], two[:, 0]) - np.arctan2(one[:, 1], one[:, 0])
    return float(np.degrees(np.abs((turn + math.pi) % (2 * math.pi) - math.pi)).max())


def broken(draft: Draft, alteration: Alteration, either_way: bool = True) -> tuple[Altered, list[str]]:
    """Make an alteration on a draft: what came of it, and every law that it breaks, in words."""
    done = alter(draft.pieces, draft.seams, [alteration])
    if any(f.level == "stop" for f in done.findings):
        return done, []
    was, now = {p.id: p for p in draft.pieces}, {p.id: p for p in done.pieces}
    found = [
        *_simple(now),
        *_meets(draft, was, now),
        *_smooth(was, now),
        *_darts(was, now),
        *_notches(draft, was, now),
        *_layers(draft, was, now),
        *(_either_way(draft, alteration, done) if either_way else ()),
    ]
    return done, found


def _simple(now: dict[str, AlterPiece]) -> Iterator[str]:
    for number, piece in now.items():
        if not Polygon(piece.shape.outline).is_valid:
            yield f"simple: {number} crosses itself"


def _meets(draft: Draft, was: dict[str, AlterPiece], now: dict[str, AlterPiece]) -> Iterator[str]:
    def apart(pieces: dict[str, AlterPiece], sides: Sequence[Sequence[tuple[str, str]]]) -> float:
        return sum(sewn_mm(pieces[p], e) for p, e in sides[0]) - sum(sewn_mm(pieces[p], e) for p, e in sides[1])

    for seam in draft.seams:
        off = apart(now, seam.sides) - apart(was, seam.sides)
        if abs(off) > MET_MM:
            yield f"meets: {seam.a} to {seam.b} off {off:.1f}"


def _smooth(was: dict[str, AlterPiece], now: dict[str, AlterPiece]) -> Iterator[str]:
    for number, piece in now.items():
        for edge in piece.shape.edges:
            if piece.shape.outline == was[number].shape.outline or edge not in was[number].shape.edges:
                continue
            before, after = corners(was[number], edge), corners(piece, edge)
            if after > before + CORNER_DEG:
                yield f"smooth: {number} {edge} {before:.0f} -> {after:.0f} deg"


def _darts(was: dict[str, AlterPiece], now: dict[str, AlterPiece]) -> Iterator[str]:
    for number, piece in now.items():
        if piece.shape == was[number].shape:
            continue
        ring = LineString([*piece.shape.outline, piece.shape.outline[0]])
        for line in piece.shape.lines:
            if line.kind != "dart" or len(line.points) != 3:
                continue
            a, tip, b = line.points
            if abs(math.dist(a, tip) - math.dist(b, tip)) > LEGS_MM:
                yield f"darts: {number} legs {math.dist(a, tip):.1f} and {math.dist(b, tip):.1f}"
            miss = max(ring.distance(Place(a)), ring.distance(Place(b)))
            if miss > ON_LINE_MM:
                yield f"darts: {number} ends {miss:.1f} off the line"


def _notches(draft: Draft, was: dict[str, AlterPiece], now: dict[str, AlterPiece]) -> Iterator[str]:
    for number, piece in now.items():
        ring = LineString([*piece.shape.outline, piece.shape.outline[0]])
        for k, notch in enumerate(piece.shape.notches):
            miss = ring.distance(Place(notch.at))
            if miss > ON_LINE_MM:
                yield f"notches: {number} {k} lies {miss:.2f} off"
    for seam in draft.seams:
        if seam.more_a or seam.more_b:
            continue
        before = [_along(was[p], e) for p, e in (seam.a, seam.b)]
        after = [_along(now[p], e) for p, e in (seam.a, seam.b)]
        if len(before[0]) != len(before[1]) or not before[0]:
            continue
        if [len(x) for x in after] != [len(x) for x in before]:
            yield f"notches: {seam.a} to {seam.b} a pair is gone"
            continue
        miss = _pair_miss(before, after, seam, was, now)
        if miss > 1.5:
            yield f"notches: {seam.a} to {seam.b} pair off {miss:.1f}"


def _pair_miss(before, after, seam, was, now) -> float:
    def best(values, pieces):
        a, b = values
        whole = sewn_mm(pieces[seam.b[0]], seam.b[1])
        turned = sorted(whole - x for x in b)
        return [[p - q for p, q in zip(a, b)], [p - q for p, q in zip(a, turned)]]

    olds, news = best(before, was), best(after, now)
    pick = 1 if max(abs(x) for x in olds[0]) > 20.0 else 0
    return max(abs(x - y) for x, y in zip(olds[pick], news[pick]))


def _along(piece: AlterPiece, edge: str) -> list[float]:
    """Where an edge's notches lie along its seam line, less what darts before them fold away, mm."""
    cut = LineString(edge_points(piece.shape.outline, piece.shape.edges[edge]))
    line = seam_edge(piece, edge)
    found = []
    for notch in piece.shape.notches:
        at = cut.project(Place(notch.at))
        if cut.distance(Place(notch.at)) > 1.0 or not 1.0 < at < cut.length - 1.0:
            continue
        on = line.project(Place(notch.at))
        for dart in darts_on(piece, edge):
            ends = sorted(line.project(Place(dart[k])) for k in (0, 2))
            on -= (ends[1] - ends[0]) * 0.93 if ends[1] < on + 1 else 0.0
        found.append(on)
    (x0, y0), (x1, y1) = cut.coords[0], cut.coords[-1]
    from_head = x0 <= x1 if abs(x1 - x0) >= abs(y1 - y0) else abs(y0) <= abs(y1)
    whole = sewn_mm(piece, edge)
    return sorted(found if from_head else [whole - at for at in found])


def _layers(draft: Draft, was: dict[str, AlterPiece], now: dict[str, AlterPiece]) -> Iterator[str]:
    for piece in draft.pieces:
        if piece.same_as and now[piece.id].shape.outline != now[piece.same_as].shape.outline:
            yield f"layers: {piece.id} is not cut like {piece.same_as}"
        if not piece.follows:
            continue
        shell = piece.follows
        for edge in piece.shape.edges.keys() & was[shell].shape.edges.keys():
            if any(darts_on(pieces[shell], edge) and not darts_on(pieces[piece.id], edge) for pieces in (was, now)):
                continue  # what a shell's dart takes in lies in a pleat of its lining
            before = [seam_edge(was[n], edge).length for n in (piece.id, shell)]
            if abs(before[0] - before[1]) > 25.0:
                continue
            grown = [sewn_mm(now[n], edge) - sewn_mm(was[n], edge) for n in (piece.id, shell)]
            if abs(grown[0] - grown[1]) > LAYER_MM:
                yield f"layers: {piece.id} {edge} grew {grown[0]:.1f}, its shell {grown[1]:.1f}"
            miss = _moved_apart(was, now, piece.id, shell, edge)
            if miss > LAYER_MM + 0.5:
                yield f"layers: {piece.id} {edge} lies {miss:.1f} otherwise than its shell"


def _moved_apart(was, now, layer: str, shell: str, edge: str) -> float:
    """How much farther a layer's edge lies from its shell's than before, both laid end on end."""

    def apart(pieces: dict[str, AlterPiece]) -> list[float]:
        lines = [LineString(edge_points(pieces[n].shape.outline, pieces[n].shape.edges[edge])) for n in (layer, shell)]
        a, b = ([line.interpolate(k / 40, normalized=True) for k in range(41)] for line in lines)
        both = []
        for sign in (1.0, -1.0):  # a layer may be drawn the other way round than its shell
            if (a[-1].x - a[0].x) * (b[-1].x - b[0].x) + sign * (a[-1].y - a[0].y) * (b[-1].y - b[0].y) < 0:
                b = b[::-1]
            dx = sum(p.x - q.x for p, q in zip(a, b)) / 41
            dy = sum(p.y - sign * q.y for p, q in zip(a, b)) / 41
            both.append(max(math.hypot(p.x - q.x - dx, p.y - sign * q.y - dy) for p, q in zip(a, b)))
        return both

    before, after = apart(was), apart(now)
    way = 0 if _turns_the_same(was[layer].shape, was[shell].shape) else 1
    return after[way] - before[way]


def _turns_the_same(one: PieceShape, two: PieceShape) -> bool:
    """Whether two outlines that name their edges alike have them in the same order round."""
    return (_area(one) > 0) == (_area(two) > 0) or list(one.edges) != list(two.edges)


def _area(shape: PieceShape) -> float:
    """Twice the area inside, negative clockwise, edges taken in the order in which they are named."""
    at = [shape.outline[i] for i, _ in shape.edges.values()]
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(at, at[1:] + at[:1]))


def _either_way(draft: Draft, alteration: Alteration, done: Altered) -> Iterator[str]:
    turned = [replace(s, a=s.b, b=s.a, more_a=s.more_b, more_b=s.more_a, meant_mm=-s.meant_mm) for s in draft.seams]
    for words, pieces, seams in (
        ("seams told b to a", draft.pieces, turned),
        ("pieces the other way", draft.pieces[::-1], draft.seams),
        ("seams the other way", draft.pieces, draft.seams[::-1]),
    ):
        other = {p.id: p for p in alter(pieces, seams, [alteration]).pieces}
        for piece in done.pieces:
            far = apart(piece.shape, other[piece.id].shape)
            if far > 0.05:
                yield f"either way: {words}: {piece.id} lies {far:.2f} otherwise"
                break


def apart(one: PieceShape, two: PieceShape) -> float:
    """How far two outlines lie apart, mm."""
    if len(one.outline) == len(two.outline):
        return max(math.dist(a, b) for a, b in zip(one.outline, two.outline))
    return LineString([*one.outline, one.outline[0]]).hausdorff_distance(LineString([*two.outline, two.outline[0]]))
