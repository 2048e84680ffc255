"""Lines that several sizes share and a file draws once: a size's own open line is closed along the line of the next size."""

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely import LinearRing, LineString, Point, Polygon, distance, points
from shapely.ops import substring

from rowanseed.core.geometry.outline import path_length
from rowanseed.core.geometry.types import Outline
from rowanseed.core.intake.model import Stroke
from rowanseed.core.intake.nesting import PARALLEL_MM
from rowanseed.core.intake.outlines import LEAST_AREA_MM2, Chain, Closed, joined

ENDS_ON_MM = 0.8  # a size's line ends so near on the line that it shares
LEAST_LINE_MM = 60.0
ON_IT_MM = 0.3  # a line that lies no farther from another is drawn over it
MOST_TRIED = 4000  # pairs of an open line and an outline that are looked at


@dataclass(frozen=True)
class _Match:
    """An open line that an outline completes: how far it lies from it on average, mm, and the outline that results."""

    far: float
    chain: int
    ring: Outline


def with_shared_lines(outlines: Sequence[Closed], left: Sequence[Stroke]) -> tuple[list[Closed], list[Stroke]]:
    """Return closed outlines with those of sizes added whose line is drawn only where it differs from another's, and the rest.

    Only lines that are a size's are looked at: their layer names one, or closed outlines are drawn like them. The nearest pair is
    completed first, so that a size goes on along the next, and that along the one after it. The part taken over is marked `shared`.
    """
    own, others = _of_sizes(outlines, left)
    open_ones = (c for kind in own.values() for c in joined(kind) if not c.closed)
    chains = [c for c in open_ones if path_length(c.points) > LEAST_LINE_MM and not _has_own(c, outlines)]
    chains = chains if len(chains) * max(1, len(outlines)) <= MOST_TRIED else []
    found, used = list(outlines), set[int]()
    matches = [m for k, chain in enumerate(chains) for base in found if (m := _completed(k, chain, base)) is not None]
    while matches:
        best = min(matches, key=lambda m: m.far)
        chain = chains[best.chain]
        used.add(best.chain)
        mine = [c for c in found if c.shared and _kind(c.stroke) == _kind(chain.stroke) and _meet(c, chain)]
        new = Closed(best.ring, chain.stroke, chain.bridged, chain.parts, True)
        if mine:  # a second part of the same size's line
            again = _completed(best.chain, chain, mine[0], same=True)
            new = replace(mine[0], outline=again.ring) if again else new
            found.remove(mine[0])
        found.append(new)
        matches = [m for m in matches if m.chain not in used]
        rest = [(k, c) for k, c in enumerate(chains) if k not in used]
        matches += [m for k, c in rest if (m := _completed(k, c, new)) is not None]
    taken = {id(s) for k in used for s in chains[k].of}
    return found, [*others, *(s for kind in own.values() for s in kind if id(s) not in taken)]


def _kind(stroke: Stroke) -> tuple[object, ...]:
    return (stroke.layer, stroke.group, stroke.size, stroke.style)


def _of_sizes(
    outlines: Sequence[Closed], left: Sequence[Stroke]
) -> tuple[dict[tuple[object, ...], list[Stroke]], list[Stroke]]:
    """Return the open strokes that may be a size's line, by their kind, and the others."""
    whole = {_kind(c.stroke) for c in outlines if c.area >= 4 * LEAST_AREA_MM2}
    own: dict[tuple[object, ...], list[Stroke]] = defaultdict(list)
    others = []
    for stroke in left:
        sized = stroke.size is not None or _kind(stroke) in whole
        if sized and stroke.sense in ("", "cut") and path_length(stroke.points) > 0:
            own[_kind(stroke)].append(stroke)
        else:
            others.append(stroke)
    return own, others


def _has_own(chain: Chain, outlines: Sequence[Closed]) -> bool:
    """Whether the size that a line is of has an outline of its own there: then the line is one inside it."""
    alike = [c for c in outlines if _kind(c.stroke) == _kind(chain.stroke)]
    return any(Polygon(c.outline).distance(Point(chain.points[len(chain.points) // 2])) < PARALLEL_MM for c in alike)


def _meet(closed: Closed, chain: Chain) -> bool:
    """Whether both ends of a line lie on an outline."""
    ring = LinearRing(closed.outline)
    return all(ring.distance(Point(end)) <= ENDS_ON_MM for end in (chain.points[0], chain.points[-1]))


def _completed(k: int, chain: Chain, base: Closed, same: bool = False) -> _Match | None:
    """Return a line closed along another size's outline that holds both its ends, where it runs beside the part it replaces."""
    other = (
        base.stroke.size is None or base.stroke.size != chain.stroke.size or _kind(base.stroke) != _kind(chain.stroke)
    )
    if not (other or same) or base.stroke.group != chain.stroke.group or not _meet(base, chain):
        return None
    ring = LinearRing(base.outline)
    far = distance(points(np.asarray(chain.points)), ring)
    if not ON_IT_MM < float(np.max(far)) < PARALLEL_MM:
        return None
    whole = LineString([*base.outline, base.outline[0]])
    a, b = (whole.project(Point(end)) for end in (chain.points[0], chain.points[-1]))
    line = LineString(chain.points)
    arcs = [_arc(whole, b, a), _arc(whole, a, b)[::-1]]  # from the line's end on to its beginning, both ways round
    along = points([line.interpolate(share, normalized=True).coords[0] for share in (0.2, 0.35, 0.5, 0.65, 0.8)])
    near = [float(np.mean(distance(along, LineString(arc)))) if len(arc) > 1 else math.inf for arc in arcs]
    beside, kept = arcs if near[0] < near[1] else arcs[::-1]
    ring_points = (*chain.points, *kept[1:-1])
    miss = abs(line.length - path_length(beside)) / max(line.length, path_length(beside), 1.0)
    polygon = Polygon(ring_points)
    if miss > 0.3 or not polygon.is_valid:
        return None
    covered = polygon.intersection(Polygon(base.outline)).area / max(polygon.area, Polygon(base.outline).area)
    return _Match(float(np.mean(far)), k, ring_points) if covered > 0.4 else None


def _arc(whole: LineString, start: float, stop: float) -> Outline:
    """Return the part of a closed line from one place along it on to another, over its beginning where need be."""
    if start <= stop:
        parts = [substring(whole, start, stop)]
    else:
        parts = [substring(whole, start, whole.length), substring(whole, 0.0, stop)]
    coords = [(float(x), float(y)) for part in parts for x, y in part.coords]
    return tuple(p for k, p in enumerate(coords) if k == 0 or p != coords[k - 1])
