"""One piece in two: a seam in place of a fold, a join across a band, a seam down a sleeve; allowances where they are new."""

from dataclasses import replace

from shapely import Polygon, box

from rowanseed.core.errors import AlterationError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point, Segment

FAR = 1e5
ON_FOLD_MM = 0.5


def open_the_fold(shape: PieceShape, allowance_mm: float) -> PieceShape:
    """A half with its fold edge moved out by a seam allowance, no longer on a fold.

    Both ends of the fold are kept as points, so that the edges that met there still end at the new cut edge. The new edge is
    called `centre`.
    """
    if shape.fold_edge is None:
        return shape
    axis = shape.fold_edge[0][1]
    side = 1.0 if max(y for _, y in shape.outline) - axis > ON_FOLD_MM else -1.0
    out = axis - side * allowance_mm
    points, at = shape.outline, dict[int, int]()
    on_fold = [abs(y - axis) < ON_FOLD_MM for _, y in points]
    outline: list[Point] = []
    for i, point in enumerate(points):
        before, after = on_fold[i - 1], on_fold[(i + 1) % len(points)]
        if not on_fold[i]:
            at[i] = len(outline)
            outline.append(point)
            continue
        if not before and allowance_mm:
            outline.append((point[0], axis))
        at[i] = len(outline)
        outline.append((point[0], out))
        if not after and allowance_mm:
            outline.append((point[0], axis))
    edges = {name: (at[i], at[j]) for name, (i, j) in shape.edges.items()}
    ends = [at[i] for i in range(len(points)) if on_fold[i]]
    first = next(at[i] for i in range(len(points)) if on_fold[i] and not on_fold[i - 1])
    last = next(at[i] for i in range(len(points)) if on_fold[i] and not on_fold[(i + 1) % len(points)])
    if len(ends) > 1:
        edges.setdefault("centre", (first, last))
    allowances = {**shape.allowances, "centre": allowance_mm}
    return replace(shape, outline=tuple(outline), fold_edge=None, edges=edges, allowances=allowances)


def join_across(shape: PieceShape, x: float, allowance_mm: float) -> tuple[PieceShape, PieceShape]:
    """A piece parted across its grain at x: both parts with an allowance beyond the join."""
    low, high = box(-FAR, -FAR, x + allowance_mm, FAR), box(x - allowance_mm, -FAR, FAR, FAR)
    return _part(shape, low, (-FAR, x)), _part(shape, high, (x, FAR))


def join_along(shape: PieceShape, y: float, allowance_mm: float) -> tuple[PieceShape, PieceShape]:
    """A piece parted along its grain at y: both parts with an allowance beyond the seam."""
    low, high = box(-FAR, -FAR, FAR, y + allowance_mm), box(-FAR, y - allowance_mm, FAR, FAR)
    return _part(shape, low, (-FAR, FAR)), _part(shape, high, (-FAR, FAR))


def _part(shape: PieceShape, keep: Polygon, along: tuple[float, float]) -> PieceShape:
    """What of a piece lies in a half-plane; a fold edge and a fitting grain arrow are kept.

    Raises:
        AlterationError: the piece falls into several bits there.
    """
    part = Polygon(shape.outline).intersection(keep)
    if not isinstance(part, Polygon) or part.area < 1.0:
        raise AlterationError("it would fall into several bits there; give another place.", "pieces")
    outline: Outline = tuple((float(x), float(y)) for x, y in part.exterior.coords[:-1])
    fold = _within(shape.fold_edge, outline) if shape.fold_edge else None
    inside = keep.buffer(0.01)

    def kept(point: Point) -> bool:
        return bool(inside.covers(_point(point))) and along[0] <= point[0] <= along[1]

    notches = tuple(n for n in shape.notches if kept(n.at))
    marks = tuple(m for m in shape.marks if kept(m.at))
    lines = tuple(line for line in shape.lines if all(kept(p) for p in line.points))
    return PieceShape(outline, fold, None, notches, marks, lines, allowance_mm=shape.allowance_mm)


def _point(point: Point) -> Polygon:
    from shapely import Point as ShapelyPoint

    return ShapelyPoint(point)


def _within(fold: Segment, outline: Outline) -> Segment | None:
    """The part of a fold edge that an outline still has."""
    axis = fold[0][1]
    xs = [x for x, y in outline if abs(y - axis) < ON_FOLD_MM]
    return ((min(xs), axis), (max(xs), axis)) if xs and max(xs) - min(xs) > 1.0 else None
