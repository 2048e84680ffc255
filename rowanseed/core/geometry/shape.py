"""A piece in one size: cutting line and seam line, allowance by edge, fold, grain, notches, marks, darts, edges, as one thing."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

from shapely import Polygon

from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.outline import edge_sides, grown, moved_out, refuse_bad_outline, signed_area
from rowanseed.core.geometry.types import Outline, Point, Segment

ON_FOLD_MM = 0.05
ON_EDGE_MM = 4.0  # a notch or the end of a dart within this of the line lies on it


@dataclass(frozen=True)
class Notch:
    """A notch on the cutting line: one for front, two for back, as the trade marks them."""

    at: Point
    count: int = 1


@dataclass(frozen=True)
class Mark:
    """A named point inside a piece: dot, button, buttonhole, pocket corner, bust point."""

    name: str
    at: Point


@dataclass(frozen=True)
class Line:
    """An internal line: dart, pleat, fold, lengthen/shorten, centre front.

    A `dart` runs from the end of one leg over its point to the end of the other; what lies between its ends is folded away.
    """

    kind: str
    points: Outline


@dataclass(frozen=True)
class PieceShape:
    """A piece in one size: the cutting line (>= 3 points, mm, x along the grain), fold, grain, marks, named edges.

    An edge (i, j) runs along the outline from its point i to its point j. `levels`: at which x a girth of the body lies, by its
    measurement key: bust, waist, hip, on a sleeve upper_arm and wrist, on a leg thigh. `allowance_mm`: the seam allowance inside
    the outline, `allowances` that of single edges; None while nobody has said, which counts as none.
    """

    outline: Outline
    fold_edge: Segment | None = None
    grainline: Segment | None = None
    notches: tuple[Notch, ...] = ()
    marks: tuple[Mark, ...] = ()
    lines: tuple[Line, ...] = ()
    edges: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    levels: Mapping[str, float] = field(default_factory=dict)
    allowance_mm: float | None = None
    allowances: Mapping[str, float] = field(default_factory=dict)

    def area_mm2(self) -> float:
        """Area inside the cutting line, of the half where there is a fold."""
        return abs(signed_area(self.outline))

    def grain_or_default(self) -> Segment:
        """The grain arrow, else one along the middle of the piece, inside its length."""
        if self.grainline is not None:
            return self.grainline
        xs, ys = [x for x, _ in self.outline], [y for _, y in self.outline]
        length, middle = max(xs) - min(xs), (min(ys) + max(ys)) / 2
        return ((min(xs) + 0.2 * length, middle), (min(xs) + 0.8 * length, middle))

    def allowance_of(self, edge: str) -> float:
        """The seam allowance of an edge, mm."""
        return self.allowances.get(edge, self.allowance_mm or 0.0)

    @cached_property
    def side_allowances(self) -> tuple[float, ...]:
        """The seam allowance of each side of the outline, mm; none on the fold."""
        count = len(self.outline)
        sides = [self.allowance_mm or 0.0] * count
        for edge, mm in self.allowances.items():
            for side in edge_sides(count, self.edges[edge]) if edge in self.edges else ():
                sides[side] = mm
        if self.fold_edge is not None:
            axis = self.fold_edge[0][1]
            on = [abs(y - axis) < ON_FOLD_MM for _, y in self.outline]
            sides = [0.0 if on[k] and on[(k + 1) % count] else mm for k, mm in enumerate(sides)]
        return tuple(sides)

    @cached_property
    def seam_line(self) -> Outline:
        """The seam line, point for point with the cutting line: each side moved in by its allowance, none at the fold."""
        return moved_out(self.outline, [-mm for mm in self.side_allowances])


def mirror_image(shape: PieceShape) -> PieceShape:
    """Return a shape turned over about its grain, as it is seen from the back of the cloth."""
    return mapped(shape, lambda p: (p[0], -p[1]))


def mapped(shape: PieceShape, at: Callable[[Point], Point]) -> PieceShape:
    """Return a shape with all that lies on and in it moved: outline, fold, grain, notches, marks, inner lines; levels stay."""

    def ends(segment: Segment | None) -> Segment | None:
        return None if segment is None else (at(segment[0]), at(segment[1]))

    return replace(
        shape,
        outline=tuple(at(p) for p in shape.outline),
        fold_edge=ends(shape.fold_edge),
        grainline=ends(shape.grainline),
        notches=tuple(replace(n, at=at(n.at)) for n in shape.notches),
        marks=tuple(replace(m, at=at(m.at)) for m in shape.marks),
        lines=tuple(replace(line, points=tuple(at(p) for p in line.points)) for line in shape.lines),
    )


def with_allowance(shape: PieceShape, allowance_mm: float, allowances: Mapping[str, float] | None = None) -> PieceShape:
    """Return a shape that was drawn along its seam line as it is cut: every side moved out by its own allowance.

    Notches go out to the cutting line, darts along their legs; marks and other lines stay where they are.

    >>> box = PieceShape(((0.0, 0.0), (0.0, 50.0), (100.0, 50.0), (100.0, 0.0)))
    >>> with_allowance(box, 10.0).outline[0], with_allowance(box, 10.0).seam_line == box.outline
    ((-10.0, -10.0), True)
    """
    said = replace(shape, allowance_mm=allowance_mm, allowances=dict(allowances or {}))
    sides = said.side_allowances
    outline = moved_out(shape.outline, sides)
    if not Polygon(outline).is_valid:
        return _grown_evenly(said, max(sides))
    return _on_outline(shape, said, outline)


def with_other_allowances(shape: PieceShape, allowances: Mapping[str, float], included: bool) -> PieceShape:
    """Return a shape whose edges have other allowances; where the tissue does not print them, the cutting line goes with them.

    Raises:
        OutlineError: the piece has no room for them.
    """
    said = replace(shape, allowances=dict(allowances))
    if included:
        return said
    by = [new - old for new, old in zip(said.side_allowances, shape.side_allowances, strict=True)]
    outline = moved_out(shape.outline, by)
    refuse_bad_outline(outline, "The piece with these allowances")
    return _on_outline(shape, said, outline)


def _on_outline(shape: PieceShape, said: PieceShape, outline: Outline) -> PieceShape:
    """Return `said` on a moved outline, point for point that of `shape`: notches, darts and the fold go along."""
    old = shape.outline

    def along_side(place: Point) -> tuple[int, float]:
        near = nearest(old, place, closed=True)
        return (near.segment, near.share) if near.miss <= ON_EDGE_MM else (-1, 0.0)

    def out(place: Point) -> Point:
        side, share = along_side(place)
        if side < 0:
            return place
        # The foot on the moved side, so that a notch stays square to its place on the seam line.
        (ax, ay), (bx, by) = old[side], old[(side + 1) % len(old)]
        (cx, cy), (dx, dy) = outline[side], outline[(side + 1) % len(old)]
        x, y = ax + share * (bx - ax), ay + share * (by - ay)
        size = (dx - cx) ** 2 + (dy - cy) ** 2
        t = ((x - cx) * (dx - cx) + (y - cy) * (dy - cy)) / size if size else 0.0
        t = min(1.0, max(0.0, t))
        return (cx + t * (dx - cx), cy + t * (dy - cy))

    def along_leg(end: Point, apex: Point) -> Point:
        side, _ = along_side(end)
        met = _crossing(apex, end, outline[side], outline[(side + 1) % len(old)]) if side >= 0 else None
        return met or end

    return replace(
        said,
        outline=outline,
        fold_edge=_fold_moved(shape, outline),
        notches=tuple(replace(n, at=out(n.at)) for n in shape.notches),
        lines=tuple(_dart_out(line, along_leg) for line in shape.lines),
    )


def _dart_out(line: Line, along_leg: Callable[[Point, Point], Point]) -> Line:
    if line.kind != "dart" or len(line.points) != 3:
        return line
    first, apex, last = line.points
    return replace(line, points=(along_leg(first, apex), apex, along_leg(last, apex)))


def _crossing(a: Point, b: Point, c: Point, d: Point) -> Point | None:
    """Return where the line through a and b, gone on beyond b, meets the line through c and d."""
    cross = (b[0] - a[0]) * (d[1] - c[1]) - (b[1] - a[1]) * (d[0] - c[0])
    if abs(cross) < 1e-9:
        return None
    t = ((c[0] - a[0]) * (d[1] - c[1]) - (c[1] - a[1]) * (d[0] - c[0])) / cross
    return (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])) if 1.0 <= t < 3.0 else None


def _fold_moved(shape: PieceShape, outline: Outline) -> Segment | None:
    """Return the fold edge on the moved outline: its ends go where the outline's points there went."""
    if shape.fold_edge is None:
        return None
    ends = []
    for end in shape.fold_edge:
        k = min(range(len(shape.outline)), key=lambda k: math.dist(shape.outline[k], end))
        ends.append(outline[k] if math.dist(shape.outline[k], end) < 1.0 else end)
    return ends[0], ends[1]


def _grown_evenly(shape: PieceShape, most_mm: float) -> PieceShape:
    """Return a shape whose curves are too tight to be moved side by side grown by one allowance, its edges found again."""
    outline = grown(shape.outline, most_mm)
    if shape.fold_edge is not None:
        axis = shape.fold_edge[0][1]
        sign = 1.0 if max(y for _, y in shape.outline) > axis + 0.5 else -1.0
        half = Polygon([(-1e6, axis), (1e6, axis), (1e6, axis + sign * 1e6), (-1e6, axis + sign * 1e6)])
        kept = Polygon(outline).intersection(half)
        outline = tuple((float(x), float(y)) for x, y in kept.exterior.coords[:-1])

    def near(k: int) -> int:
        x, y = shape.outline[k]
        return min(range(len(outline)), key=lambda i: math.hypot(outline[i][0] - x, outline[i][1] - y))

    edges = {name: (near(i), near(j)) for name, (i, j) in shape.edges.items()}
    fold = None
    if shape.fold_edge is not None:
        on = [p for p in outline if abs(p[1] - shape.fold_edge[0][1]) < ON_FOLD_MM]
        fold = (min(on), max(on)) if len(on) > 1 else None
    return replace(shape, outline=outline, edges=edges, fold_edge=fold, allowance_mm=most_mm, allowances={})
