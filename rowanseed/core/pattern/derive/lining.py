"""A lining cut from the shell's own pieces: less the facing, with an ease pleat, shorter, lower under a shoulder pad.

Source: common practice, no published source: coat piece - facing as cut + two seam allowances at that edge.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from shapely import LineString, Polygon
from shapely import Point as Middle
from shapely.affinity import translate
from shapely.geometry import MultiPolygon
from shapely.ops import unary_union

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import Line, PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.pattern.derive.left import edges_left, fold_left

IN = 25.4
SEWN_LONGER_MM = 0.5 * IN
FREE_SHORTER_MM = 0.625 * IN  # between 1/2 and 3/4 in
SLIVER_MM = 5.0  # what is left narrower than this is no part of a lining
MEETS_MM = 40.0  # two edges that differ by more are not the same edge


@dataclass(frozen=True)
class LiningAsk:
    """How a lining is derived from a piece of the shell.

    `facing`: the facing's shape, whose edge `facing_edge` lies on the piece's edge `edge`. `pleat`: at the centre;
    `free`: it hangs free, else it is sewn in at the hem. `hem_mm`: what the shell's hem takes; `own_hem_mm`: the free lining's own.
    """

    seam_mm: float
    facing: PieceShape | None = None
    edge: str = ""
    facing_edge: str = ""
    pleat: Literal["", "full", "tapering"] = ""
    pleat_mm: float = IN
    free: bool = False
    hem_mm: float = 40.0
    own_hem_mm: float = 25.0
    pad_mm: float = 0.0


def lining(shape: PieceShape, ask: LiningAsk) -> PieceShape:
    """The lining's shape for a piece of the shell in one size.

    Raises:
        ShapeError: the facing does not lie on the piece, covers all of it, or an edge that is needed is not named.
    """
    made = replace(
        shape, marks=(), notches=shape.notches, lines=tuple(line for line in shape.lines if line.kind != "fold")
    )
    made = _lengthened(made, _hem_change(ask))
    if ask.pad_mm > 0:
        made = _lowered(made, ask.pad_mm)
    if ask.pleat:
        made = _pleated(made, ask)
    if ask.facing is not None:
        made = _beside_facing(made, shape, ask)
    return made


def _hem_change(ask: LiningAsk) -> float:
    """How much longer the lining is cut than the shell, mm."""
    if ask.free:
        return ask.own_hem_mm - ask.hem_mm - FREE_SHORTER_MM
    return SEWN_LONGER_MM - ask.hem_mm


def _lengthened(shape: PieceShape, by: float) -> PieceShape:
    """The hem moved along; without a hem of that name, every point within 5 mm of the far end."""
    names = [n for n in shape.edges if "hem" in n or n in ("foot", "point")]
    moved: set[int] = set()
    n = len(shape.outline)
    for name in names:
        first, last = shape.edges[name]
        moved |= {(first + k) % n for k in range((last - first) % n + 1)}
    if not moved:
        far = max(x for x, _ in shape.outline)
        moved = {k for k, (x, _) in enumerate(shape.outline) if x > far - 5.0}
    if by >= 0:
        outline = tuple((x + by, y) if k in moved else (x, y) for k, (x, y) in enumerate(shape.outline))
        return _with_outline(shape, outline)
    return _shortened(shape, moved, by)


def _shortened(shape: PieceShape, hem: set[int], by: float) -> PieceShape:
    """The hem moved up by `-by`; the points of the edges beside it that it passes are left out, and it ends on those edges."""
    old, n = shape.outline, len(shape.outline)
    beside: dict[int, Point] = {}
    passed: dict[int, int] = {}
    for end, step in [(k, -1) for k in hem if (k - 1) % n not in hem] + [(k, 1) for k in hem if (k + 1) % n not in hem]:
        level, k = old[end][0] + by, (end + step) % n
        while k not in hem and old[k][0] > level:
            passed[k] = end
            k = (k + step) % n
        (x, y), (below, y_below) = old[k], old[(k - step) % n]
        beside[end] = (
            level,
            y + (y_below - y) * (level - x) / (below - x) if below > x and k not in hem else old[end][1],
        )
    ends = sorted(beside, key=lambda k: old[k][1])
    wide = old[ends[-1]][1] - old[ends[0]][1]
    scale = (beside[ends[-1]][1] - beside[ends[0]][1]) / wide if wide > 1.0 else 1.0

    def moved(k: int) -> Point:
        return beside.get(k) or (old[k][0] + by, beside[ends[0]][1] + (old[k][1] - old[ends[0]][1]) * scale)

    kept = [k for k in range(n) if k not in passed]
    at = {k: place for place, k in enumerate(kept)}
    edges = {name: (at[passed.get(i, i)], at[passed.get(j, j)]) for name, (i, j) in shape.edges.items()}
    fold = shape.fold_edge
    if fold is not None:
        where = {old[k]: moved(k) for k in hem} | {old[k]: moved(end) for k, end in passed.items()}
        fold = (where.get(fold[0], fold[0]), where.get(fold[1], fold[1]))
    outline = tuple(moved(k) if k in hem else old[k] for k in kept)
    return replace(shape, outline=outline, edges=edges, fold_edge=fold)


def _lowered(shape: PieceShape, pad: float) -> PieceShape:
    """The shoulder lowered for a pad: all of it at the point, nothing at the neck, fading down the armhole; a cap at its top."""
    if "shoulder" in shape.edges:
        first, last = shape.edges["shoulder"]
        line = edge_points(shape.outline, (first, last))
        down = {line[0]: 0.0, line[-1]: pad} if abs(line[0][1]) < abs(line[-1][1]) else {line[0]: pad, line[-1]: 0.0}
        point = next(p for p, d in down.items() if d > 0)
        neck = next(p for p, d in down.items() if d == 0)
        whole = max(math.dist(neck, point), 1e-6)
        lowered = {p: pad * math.dist(neck, p) / whole for p in line}
        reach = 90.0  # down the armhole, within which the lowering fades
        outline = tuple(
            (x + lowered[(x, y)], y)
            if (x, y) in lowered
            else (x + pad * max(0.0, 1 - math.dist((x, y), point) / reach), y)
            for x, y in shape.outline
        )
        return _with_outline(shape, outline)
    caps = [name for name in shape.edges if "cap" in name]
    if not caps:
        return shape
    ends = [i for name in caps for i in shape.edges[name]]
    depth = max(max(shape.outline[i][0] for i in ends) - min(x for x, _ in shape.outline), 1e-6)
    top = min(x for x, _ in shape.outline)
    outline = tuple((x + pad * max(0.0, 1 - (x - top) / depth), y) for x, y in shape.outline)
    return _with_outline(shape, outline)


def _pleated(shape: PieceShape, ask: LiningAsk) -> PieceShape:
    """The centre moved out by the pleat's half: all the way down, or from the neck to nothing at the waist."""
    centre = shape.fold_edge
    if centre is None and "centre" not in shape.edges:
        raise ShapeError(
            "An ease pleat lies at the centre: this piece has no fold edge and no edge named centre.", "pleat"
        )
    along = _centre_points(shape)
    line = centre or (along[0], along[-1])
    low, high = sorted((line[0][0], line[-1][0]))
    waist = shape.levels.get("waist", (low + high) / 2)
    if ask.pleat == "tapering":
        shape = _with_point_across(shape, along, waist)
        along = _centre_points(shape)
    own = {*along, *line}
    middle = sum(y for _, y in shape.outline) / len(shape.outline)
    out = -1.0 if line[0][1] < middle else 1.0

    def beyond(x: float) -> float:
        if ask.pleat == "full":
            return ask.pleat_mm
        return ask.pleat_mm * max(0.0, min(1.0, (waist - x) / max(waist - low, 1e-6)))

    outline = tuple((x, y + out * beyond(x)) if (x, y) in own else (x, y) for x, y in shape.outline)
    lines = (
        *shape.lines,
        Line("ease pleat", ((low, line[0][1]), (high if ask.pleat == "full" else waist, line[0][1]))),
    )
    fold = ((low, line[0][1] + out * beyond(low)), (high, line[0][1] + out * beyond(high))) if centre else None
    if fold is not None and ask.pleat == "tapering":
        fold = None  # a slanting centre is no fold: it is cut with a seam, or opened out
    return replace(_with_outline(shape, outline), lines=lines, fold_edge=fold)


def _centre_points(shape: PieceShape) -> list[Point]:
    """The outline's points on the centre: the edge of that name, or the fold's ends."""
    if "centre" in shape.edges:
        return edge_points(shape.outline, shape.edges["centre"])
    if shape.fold_edge is None:
        return []
    on_fold = LineString(shape.fold_edge)
    return [p for p in shape.outline if on_fold.distance(Middle(p)) < 0.05]


def _with_point_across(shape: PieceShape, along: Sequence[Point], x: float) -> PieceShape:
    """The same shape with a point on its centre at a level, so that the centre can bend there."""
    n = len(shape.outline)
    for k, (p, q) in enumerate(zip(shape.outline, (*shape.outline[1:], shape.outline[0]), strict=True)):
        if p in along and q in along and min(p[0], q[0]) + 0.5 < x < max(p[0], q[0]) - 0.5:
            point = (x, p[1] + (q[1] - p[1]) * (x - p[0]) / (q[0] - p[0]))
            edges = {name: (i + (i > k), j + (j > k)) for name, (i, j) in shape.edges.items()}
            return replace(shape, outline=(*shape.outline[: k + 1], point, *shape.outline[k + 1 : n]), edges=edges)
    return shape


def _beside_facing(made: PieceShape, shell: PieceShape, ask: LiningAsk) -> PieceShape:
    """The lining less the facing, and two seam allowances over it at the facing's inner edge."""
    assert ask.facing is not None
    placed, inner = _laid_on(shell, ask)
    # The lining may be longer than the shell: what lies below the facing goes with it.
    longer = max(0.0, max(x for x, _ in made.outline) - max(x for x, _ in shell.outline))
    covered = unary_union([translate(Polygon(placed).buffer(0), part * longer) for part in (0.0, 0.5, 1.0)])
    kept = covered.difference(LineString(inner).buffer(2 * ask.seam_mm, cap_style="square", join_style="mitre"))
    outer = kept.buffer(0.4, join_style="mitre")
    rest = Polygon(made.outline).buffer(0).difference(outer)
    rest = rest.buffer(-SLIVER_MM / 2, join_style="mitre").buffer(SLIVER_MM / 2, join_style="mitre")
    if isinstance(rest, MultiPolygon):
        rest = max(rest.geoms, key=lambda part: part.area)
    if rest.is_empty or rest.area < 0.05 * Polygon(made.outline).area:
        raise ShapeError("The facing covers this whole piece: nothing is left to line.", "facing")
    outline = tuple((round(float(x), 2), round(float(y), 2)) for x, y in rest.simplify(0.15).exterior.coords[:-1])
    return PieceShape(
        outline,
        fold_left(outline, made),
        made.grainline,
        (),
        (),
        made.lines,
        edges_left(outline, made),
        made.levels,
        made.allowance_mm,
        made.allowances,
    )


def _laid_on(shell: PieceShape, ask: LiningAsk) -> tuple[Outline, list[Point]]:
    """The facing laid on the piece, its edge on the piece's; its outline and its inner edge there."""
    facing = ask.facing
    assert facing is not None
    for name, where, shape in ((ask.edge, "the piece", shell), (ask.facing_edge, "the facing", facing)):
        if name not in shape.edges:
            raise ShapeError(f"There is no edge {name or 'named'} on {where}.", "facing")
    theirs = edge_points(facing.outline, facing.edges[ask.facing_edge])
    ours = edge_points(shell.outline, shell.edges[ask.edge])
    a, b = np.array([theirs[0], theirs[-1]]), np.array([ours[0], ours[-1]])
    if abs(float(np.linalg.norm(a[1] - a[0]) - np.linalg.norm(b[1] - b[0]))) > MEETS_MM:
        raise ShapeError("The facing's edge and the piece's differ too much to lie on each other.", "facing")
    turn = math.atan2(*(b[1] - b[0])[::-1]) - math.atan2(*(a[1] - a[0])[::-1])
    c, s = math.cos(turn), math.sin(turn)
    middle_a, middle_b = a.mean(axis=0), b.mean(axis=0)

    def lay(p: Point) -> Point:
        x, y = p[0] - middle_a[0], p[1] - middle_a[1]
        return (c * x - s * y + middle_b[0], s * x + c * y + middle_b[1])

    placed = tuple(lay(p) for p in facing.outline)
    inner = _inner_edge(placed, Polygon(shell.outline))
    if not inner:
        raise ShapeError("The facing's inner edge does not lie inside the piece.", "facing")
    return placed, inner


def _inner_edge(placed: Outline, body: Polygon) -> list[Point]:
    """The run of the facing's sides that lie inside the piece, by their middles; empty where none does."""
    n = len(placed)

    def within(k: int) -> bool:
        (x0, y0), (x1, y1) = placed[k % n], placed[(k + 1) % n]
        middle = Middle((x0 + x1) / 2, (y0 + y1) / 2)
        return bool(body.contains(middle)) and body.exterior.distance(middle) > 3.0

    inside = [k for k in range(n) if within(k)]
    if not inside:
        return []
    start = next((k for k in inside if not within(k - 1)), inside[0])
    run = []
    for k in range(start, start + n):
        if not within(k):
            break
        run.append(placed[k % n])
    return [*run, placed[(start + len(run)) % n]]


def _with_outline(shape: PieceShape, outline: Outline) -> PieceShape:
    """The same shape on other points, point for point; a fold edge follows its points."""
    moved = dict(zip(shape.outline, outline, strict=True))
    fold = shape.fold_edge
    if fold is not None:
        fold = (moved.get(fold[0], fold[0]), moved.get(fold[1], fold[1]))
    return replace(shape, outline=outline, fold_edge=fold)
