"""A facing from a piece's own edges: a strip along neck, front, armhole or hem, as deep as asked, everywhere the piece's own shape.

Source: common practice, no published source: a facing is 5 to 7 cm deep, a hem facing 4 to 6 cm.
"""

from collections.abc import Sequence
from dataclasses import replace

from shapely import LineString, Polygon
from shapely import Point as Place
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.outline import edge_points, signed_area
from rowanseed.core.geometry.shape import Notch, PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.pattern.derive.left import edges_left, fold_left

ON_LINE_MM = 0.3
SMOOTH_MM = 0.05


def facing(shape: PieceShape, edges: Sequence[str], depth_mm: float) -> PieceShape:
    """The facing of one or several edges that follow one another, in one size.

    Its cutting line is the piece's along those edges, so it takes part in whatever altered them; its outer edge, named `outer`,
    lies `depth_mm` inside their seam line and has no allowance, since it is finished and not sewn.
    Args:
        edges: names of the piece's edges. depth_mm: the finished depth from the seam line.
    Raises:
        ShapeError: an edge is not named on the piece, the edges are not next to one another, the depth is not above 0 or all of it.
    """
    if depth_mm <= 0:
        raise ShapeError("The depth of a facing is above 0.", "depth")
    if not edges:
        raise ShapeError("Name at least one edge.", "edges")
    for name in edges:
        if name not in shape.edges:
            known = ", ".join(sorted(shape.edges)) or "none"
            raise ShapeError(f"The piece has no edge “{name}”. It has: {known}.", "edges")
    strips = [
        LineString(edge_points(shape.outline, shape.edges[name])).buffer(
            depth_mm + shape.allowance_of(name), quad_segs=32
        )
        for name in edges
    ]
    strip = Polygon(shape.outline).intersection(unary_union(strips))
    outline = _outline(_one(strip), signed_area(shape.outline))
    kept = {**edges_left(outline, shape), **_shortened(outline, shape, edges)}
    made = PieceShape(
        outline, fold_left(outline, shape), shape.grainline, _notches(shape, outline), (), (), kept, {}, shape.allowance_mm,
        shape.allowances,
    )  # fmt: skip
    outer = _outer(outline, shape)
    if outer is None:
        raise ShapeError("The piece is nowhere deeper than this facing.", "depth")
    return replace(made, edges={**kept, "outer": outer}, allowances={**shape.allowances, "outer": 0.0})


def _one(strip: BaseGeometry) -> Polygon:
    if strip.geom_type != "Polygon" or strip.is_empty:
        raise ShapeError("These edges are not next to one another: make a facing for each.", "edges")
    return Polygon(strip.exterior)


def _outline(strip: Polygon, way: float) -> Outline:
    """The strip's corners, going round as the piece's do."""
    points = [(round(float(x), 3), round(float(y), 3)) for x, y in strip.simplify(SMOOTH_MM).exterior.coords[:-1]]
    return tuple(points if signed_area(points) * way > 0 else reversed(points))


def _run(outline: Outline, on: Sequence[bool]) -> tuple[int, int] | None:
    """The longest run of sides that hold, from its first corner to its last; None where none does."""
    n = len(outline)
    starts = [k for k in range(n) if on[k] and not on[k - 1]]
    if not starts:
        return None

    def length(start: int) -> int:
        return next((k for k in range(n) if not on[(start + k) % n]), n)

    longest = max(starts, key=length)
    return longest, (longest + length(longest)) % n


def _sides(outline: Outline) -> list[LineString]:
    return [LineString((a, b)) for a, b in zip(outline, (*outline[1:], outline[0]), strict=True)]


def _shortened(outline: Outline, shape: PieceShape, whole: Sequence[str]) -> dict[str, tuple[int, int]]:
    """The edges that it faces, and those of which it has a part, as a shoulder's beside the neck."""
    found = {}
    for name, edge in shape.edges.items():
        line = LineString(edge_points(shape.outline, edge)).buffer(ON_LINE_MM)
        run = _run(outline, [line.contains(side) for side in _sides(outline)])
        if run is not None:
            found[name] = run
    return {name: run for name, run in found.items() if name in whole or run[0] != run[1]}


def _outer(outline: Outline, shape: PieceShape) -> tuple[int, int] | None:
    """The facing's own edge, inside the piece, from where it leaves the piece's edges to where it comes back to them."""
    ring = Polygon(shape.outline).exterior.buffer(ON_LINE_MM)
    return _run(outline, [not ring.contains(side) for side in _sides(outline)])


def _notches(shape: PieceShape, outline: Outline) -> tuple[Notch, ...]:
    ring = Polygon(outline).exterior
    return tuple(notch for notch in shape.notches if ring.distance(_at(notch.at)) < ON_LINE_MM)


def _at(point: Point) -> BaseGeometry:
    return Place(point)
