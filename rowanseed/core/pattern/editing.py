"""Corrections of a kept piece, in one size or carried to all: edges named, notches, marks, fold, grain, points."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_points, edge_sides, path_length, refuse_bad_outline
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape, mapped
from rowanseed.core.geometry.sizes import carried, matched_corners
from rowanseed.core.geometry.types import Outline, Point, Segment
from rowanseed.core.pattern.model import Piece

NEAR_MM = 12.0
STRAIGHT_MM = 0.8
Change = Callable[[str, PieceShape], PieceShape]


def _each(piece: Piece, size: str, all_sizes: bool, change: Change) -> Piece:
    shapes = {z: change(z, s) if all_sizes or z == size else s for z, s in piece.shapes.items()}
    return replace(piece, shapes=shapes)


def on_outline(outline: Outline, place: Point) -> Point:
    """Return the place on an outline nearest to a point."""
    near = nearest(outline, place, closed=True)
    a, b = outline[near.segment], outline[(near.segment + 1) % len(outline)]
    return (a[0] + near.share * (b[0] - a[0]), a[1] + near.share * (b[1] - a[1]))


def named_edge(piece: Piece, size: str, name: str, ends: tuple[int, int], all_sizes: bool) -> Piece:
    """Return a piece with an edge named between two points of its outline, the shorter way round.

    Other sizes take the same points where they are drawn alike, else the corners that match.

    Raises:
        ShapeError: the points are one, or there is no such point.
    """
    base = piece.shapes[size]
    count = len(base.outline)
    if not all(0 <= k < count for k in ends) or ends[0] == ends[1]:
        raise ShapeError("Choose two different corners of the outline.", "edge")
    if not name.strip():
        raise ShapeError("Give the edge a name, such as side or hem.", "edge")
    back = (ends[1], ends[0])
    ends = min(ends, back, key=lambda edge: path_length(edge_points(base.outline, edge)))

    def change(z: str, shape: PieceShape) -> PieceShape:
        found = ends if len(shape.outline) == count else _same_ends(base.outline, shape.outline, ends)
        return shape if found is None else replace(shape, edges={**shape.edges, name.strip(): found})

    return _each(piece, size, all_sizes, change)


def _same_ends(outline: Outline, other: Outline, ends: tuple[int, int]) -> tuple[int, int] | None:
    pair = matched_corners(outline, other)
    if pair is None:
        return None
    mine, theirs = pair
    found = [theirs[mine.index(k)] for k in ends if k in mine]
    return (found[0], found[1]) if len(found) == 2 else None


def renamed_edges(piece: Piece, names: dict[str, str]) -> Piece:
    """Return a piece whose edges have other names (old -> new; an empty one takes the edge's name away), in every size.

    Raises:
        ShapeError: two edges would have one name.
    """
    kept = [new for new in names.values() if new]
    if len(set(kept)) < len(kept):
        raise ShapeError("Two edges have the same name.", "edge")

    def change(z: str, shape: PieceShape) -> PieceShape:
        edges = {names.get(old, old): edge for old, edge in shape.edges.items() if names.get(old, old)}
        own = {names.get(old, old): mm for old, mm in shape.allowances.items() if names.get(old, old)}
        return replace(shape, edges=edges, allowances=own)

    done = _each(piece, "", True, change)
    allowances = {names.get(old, old): mm for old, mm in piece.edge_allowances.items() if names.get(old, old)}
    selvage = names.get(piece.selvage_edge, piece.selvage_edge)
    return replace(done, edge_allowances=allowances, selvage_edge=selvage)


def added_notch(piece: Piece, size: str, at: Point, count: int, all_sizes: bool) -> Piece:
    """Return a piece with a notch more where the outline is nearest to a point; other sizes at the same share of the edge."""
    base = piece.shapes[size]
    place = on_outline(base.outline, at)
    if math.dist(place, at) > NEAR_MM:
        raise ShapeError("A notch lies on the outline. Click nearer to it.", "mark")

    def change(z: str, shape: PieceShape) -> PieceShape:
        there = place if z == size else carried([place], base.outline, shape.outline)[0]
        return replace(shape, notches=(*shape.notches, Notch(there, count)))

    return _each(piece, size, all_sizes, change)


def added_mark(piece: Piece, size: str, name: str, at: Point, all_sizes: bool) -> Piece:
    """Return a piece with a named mark more; in other sizes at the same place, since sizes lie nested."""
    return _each(piece, size, all_sizes, lambda z, s: replace(s, marks=(*s.marks, Mark(name or "dot", at))))


def added_line(piece: Piece, size: str, kind: str, points: Outline, all_sizes: bool) -> Piece:
    """Return a piece with an inner line more: a dart, pleat, fold, a line to lengthen at; ends near the outline come to lie on it.

    In other sizes those ends go along the edge; what lies inside stays, since sizes lie nested.

    Raises:
        ShapeError: fewer than two points; a dart that is not told by one leg's end, its point, the other leg's end.
    """
    if len(points) < 2 or (kind == "dart" and len(points) != 3):
        needed = "one leg's end, its point, the other leg's end" if kind == "dart" else "two points or more"
        raise ShapeError(f"Click {needed}.", "change")
    base = piece.shapes[size]

    def change(z: str, shape: PieceShape) -> PieceShape:
        placed = []
        for p in points:
            foot = on_outline(base.outline, p)
            there = foot if z == size else carried([foot], base.outline, shape.outline)[0]
            placed.append(there if math.dist(foot, p) <= NEAR_MM / 2 else p)
        return replace(shape, lines=(*shape.lines, Line(kind, tuple(placed))))

    return _each(piece, size, all_sizes, change)


def without(piece: Piece, size: str, what: str, number: int, all_sizes: bool) -> Piece:
    """Return a piece without a notch, mark or line (by its number in one size); in other sizes the one of that number.

    Raises:
        ShapeError: there is none.
    """
    if what not in ("notches", "marks", "lines") or not 0 <= number < len(getattr(piece.shapes[size], what)):
        raise ShapeError("That is gone already.", "mark")

    def change(z: str, shape: PieceShape) -> PieceShape:
        kept = tuple(item for k, item in enumerate(getattr(shape, what)) if k != number)
        return _with(shape, what, kept)

    return _each(piece, size, all_sizes, change)


def _with(shape: PieceShape, what: str, items: tuple[Any, ...]) -> PieceShape:
    """Return a shape with other notches, marks or lines."""
    match what:
        case "notches":
            return replace(shape, notches=items)
        case "marks":
            return replace(shape, marks=items)
    return replace(shape, lines=items)


def renamed_mark(piece: Piece, size: str, what: str, number: int, name: str) -> Piece:
    """Return a piece with another name for a mark, or another kind for a line, in every size that has as many.

    Raises:
        ShapeError: `what` is neither marks nor lines.
    """
    if what not in ("marks", "lines"):
        raise ShapeError("Only marks and lines are renamed.", "change")
    many = len(getattr(piece.shapes[size], what))

    def change(z: str, shape: PieceShape) -> PieceShape:
        items = list(getattr(shape, what))
        if len(items) == many and 0 <= number < many:
            items[number] = replace(items[number], **{"name" if what == "marks" else "kind": name})
        return _with(shape, what, tuple(items))

    return _each(piece, size, True, change)


def on_fold(piece: Piece, edge: str) -> Piece:
    """Return a piece whose edge lies on the fold, every size turned so that the fold runs along the grain; "" takes it off.

    Raises:
        ShapeError: the edge is curved.
    """
    if not edge:
        return replace(piece, shapes={z: replace(s, fold_edge=None) for z, s in piece.shapes.items()})
    shapes = {}
    for z, shape in piece.shapes.items():
        if edge not in shape.edges:
            raise ShapeError(f"Size {z} has no edge called {edge}.", "fold")
        line = edge_points(shape.outline, shape.edges[edge])
        a, b = line[0], line[-1]
        if max(_beside(p, a, b) for p in line) > STRAIGHT_MM:
            raise ShapeError(f"The edge {edge} is curved; a fold is straight.", "fold")
        ends = (a, b) if a[0] <= b[0] else (b, a)
        turned = _turned(shape, ends)
        level = edge_points(turned.outline, turned.edges[edge])
        axis = sum(y for _, y in level) / len(level)
        on = {(k + 1) % len(shape.outline) for k in edge_sides(len(shape.outline), shape.edges[edge])} | {
            shape.edges[edge][0]
        }
        outline = tuple((x, axis) if k in on else (x, y) for k, (x, y) in enumerate(turned.outline))
        xs = [x for x, _ in level]
        shapes[z] = replace(turned, outline=outline, fold_edge=((min(xs), axis), (max(xs), axis)), grainline=None)
    return replace(piece, mirrored=False, shapes=shapes)


def _beside(p: Point, a: Point, b: Point) -> float:
    long = math.dist(a, b) or 1.0
    return abs((p[0] - a[0]) * (b[1] - a[1]) - (p[1] - a[1]) * (b[0] - a[0])) / long


def with_grain(piece: Piece, size: str, line: Segment) -> Piece:
    """Return a piece with a grain arrow, every size turned so that it runs along x, its first end toward the head.

    Raises:
        ShapeError: the arrow is shorter than 1 cm.
    """
    if math.dist(*line) < 10:
        raise ShapeError("The grain arrow needs two points at least 1 cm apart.", "grain")
    return replace(piece, shapes={z: _turned(replace(s, grainline=line), line) for z, s in piece.shapes.items()})


def _turned(shape: PieceShape, along: Segment) -> PieceShape:
    """Return a shape turned so that a line lies along x."""
    (ax, ay), (bx, by) = along
    angle = -math.atan2(by - ay, bx - ax)
    if abs(angle) < 1e-9:
        return shape
    cos, sin = math.cos(angle), math.sin(angle)

    return mapped(shape, lambda p: (round(p[0] * cos - p[1] * sin, 4), round(p[0] * sin + p[1] * cos, 4)))


def moved_point(piece: Piece, size: str, number: int, to: Point, all_sizes: bool) -> Piece:
    """Return a piece with a point of its outline elsewhere; in other sizes drawn alike moved by as much.

    Raises:
        ShapeError: there is no such point, or the outline would cross itself (OutlineError).
    """
    base = piece.shapes[size]
    if not 0 <= number < len(base.outline):
        raise ShapeError("There is no such point.", "point")
    dx, dy = to[0] - base.outline[number][0], to[1] - base.outline[number][1]

    def change(z: str, shape: PieceShape) -> PieceShape:
        if len(shape.outline) != len(base.outline):
            return shape
        x, y = shape.outline[number]
        outline = (*shape.outline[:number], (x + dx, y + dy), *shape.outline[number + 1 :])
        refuse_bad_outline(outline, f"Size {z}")
        return replace(shape, outline=outline)

    return _each(piece, size, all_sizes, change)
