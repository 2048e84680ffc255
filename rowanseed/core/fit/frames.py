"""An alteration in three frames from the real piece: where it is slashed, how the parts lie then, and the line drawn true."""

from collections.abc import Callable
from dataclasses import dataclass

from shapely import LineString, Polygon, get_parts
from shapely.ops import split

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.bust_slash import bust_point_of, slashed
from rowanseed.core.fit.edge_changes import TAKEN_OUT, line_across
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.wedge import WEDGES, wedge_of
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.pattern.seamwalk import AlterPiece

FAR_MM = 1e4


@dataclass(frozen=True)
class Frames:
    """What three frames show: cuts and hinges on the piece as it was; its parts moved apart; the new outline."""

    before: Outline
    cuts: tuple[Outline, ...]
    hinges: tuple[Point, ...]
    parts: tuple[Outline, ...]
    after: Outline


def frames(alteration: Alteration, piece: AlterPiece, after: PieceShape) -> Frames:
    """Return the three frames of an alteration that was made on a piece; where nothing is cut the parts are the piece itself."""
    outline = piece.shape.outline
    cuts, hinges, parts = _slash(alteration, piece)
    return Frames(outline, cuts, hinges, parts or (outline,), after.outline)


def _slash(
    alteration: Alteration, piece: AlterPiece
) -> tuple[tuple[Outline, ...], tuple[Point, ...], tuple[Outline, ...]]:
    shape, by = piece.shape, alteration.by_mm
    try:
        if KINDS[alteration.kind].way == "strip":
            x = line_across(alteration, piece)
            line = ((x, -FAR_MM), (x, FAR_MM))
            return (_inside(shape, line),), (), _parted(shape, line, lambda p: (p[0] + by, p[1]), lambda p: p[0] > x)
        if alteration.kind in WEDGES:
            wedge = wedge_of(alteration, shape)
            open_by = -by if alteration.kind in TAKEN_OUT else by

            def slid(p: Point) -> Point:
                far = wedge.side * open_by * wedge.share(p)
                return (p[0] + far, p[1]) if wedge.axis == 0 else (p[0], p[1] + far)

            a, b = wedge.ends
            line = ((a[0], -FAR_MM), (a[0], FAR_MM)) if wedge.axis == 0 else ((-FAR_MM, a[1]), (FAR_MM, a[1]))
            return ((a, b),), (b,), _parted(shape, line, slid, lambda p: wedge.beyond(p) > 0)
        if KINDS[alteration.kind].way == "slashes":
            apex = bust_point_of(shape, alteration.point)
            cut = slashed(shape, alteration.at_edge, apex)
            hinge, side, foot = (cut.points[k] for k in (cut.hinge, cut.side, cut.foot))
            return ((foot, apex, hinge), (side, apex)), (hinge,), ()
    except AlterationError:
        return (), (), ()
    edge = alteration.at_edge
    if edge in shape.edges:
        return (tuple(edge_points(shape.outline, shape.edges[edge])),), (), ()
    return (), (), ()


def _inside(shape: PieceShape, line: tuple[Point, Point]) -> Outline:
    """The part of a line that lies in a piece."""
    found = LineString(line).intersection(Polygon(shape.outline).buffer(0))
    parts = max(get_parts(found), key=lambda part: part.length)
    return tuple((float(x), float(y)) for x, y in parts.coords)


def _parted(
    shape: PieceShape, line: tuple[Point, Point], move: Callable[[Point], Point], moves: Callable[[Point], bool]
) -> tuple[Outline, ...]:
    """A piece cut along a line, the parts on the moving side moved."""
    parts = []
    for part in get_parts(split(Polygon(shape.outline).buffer(0), LineString(line))):
        inner = part.representative_point()
        ring = [(float(x), float(y)) for x, y in part.exterior.coords[:-1]]
        parts.append(tuple(move(p) for p in ring) if moves((inner.x, inner.y)) else tuple(ring))
    return tuple(parts)
