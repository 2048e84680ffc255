"""Outlines: the points of an edge, lengths, and an outline moved in or out side by side."""

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
from shapely import Polygon
from shapely.geometry import JOIN_STYLE

from rowanseed.core.errors import OutlineError
from rowanseed.core.geometry.types import Outline, Point

Places = npt.NDArray[np.float64]  # n x 2, mm
Indices = npt.NDArray[np.int64]
MITRE = 4.0  # a sharp corner of a moved outline stays within this many distances of the first one's
MOST_ROUNDS = 12  # in which sides that come out the wrong way round are dropped
SHARP_COS = 0.82  # about 35 degrees: a sharper turn is where two edges meet
STRAIGHT = 1e-3  # sine of the angle under which two sides count as one


def edge_points(outline: Sequence[Point], edge: tuple[int, int]) -> list[Point]:
    """Return the points of an edge in outline order, from its point i to its point j, going round past the end."""
    first, last = edge
    n = len(outline)
    return [outline[(first + k) % n] for k in range((last - first) % n + 1)]


def edge_sides(count: int, edge: tuple[int, int]) -> list[int]:
    """Return the numbers of the sides that an edge runs along; side k goes from point k to point k + 1."""
    first, last = edge
    return [(first + k) % count for k in range((last - first) % count)]


def path_length(points: Sequence[Point]) -> float:
    """Return the length of a line through points, mm."""
    return sum(math.dist(a, b) for a, b in zip(points, points[1:]))


def signed_area(outline: Sequence[Point]) -> float:
    """Return the area inside an outline, mm2, negative where it runs clockwise (x right, y up)."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(outline, (*outline[1:], outline[0]))) / 2


def refuse_bad_outline(outline: Outline, name: str = "The piece") -> None:
    """Raise OutlineError when an outline has fewer than three points, no area, or crosses itself."""
    if len(outline) < 3:
        raise OutlineError(f"{name} needs at least three points.", "outline")
    polygon = Polygon(outline)
    if polygon.area < 1.0:
        raise OutlineError(f"{name} encloses no area. Check the figures.", "outline")
    if not polygon.is_valid:
        raise OutlineError(f"The outline of {name.lower()} crosses itself. Check the figures.", "outline")


def moved_out(outline: Outline, distances_mm: Sequence[float]) -> Outline:
    """Return an outline with each side moved out by its own distance (negative: in), point for point alike.

    Args:
        distances_mm: one for each side; side k runs from point k to point k + 1.
    """
    points, distances = np.array(outline, np.float64), np.array(distances_mm, np.float64)
    if not distances.any():
        return outline
    sides = np.roll(points, -1, axis=0) - points
    sizes = np.hypot(sides[:, 0], sides[:, 1])
    along = sides / np.where(sizes > 0, sizes, 1.0)[:, None]
    turn = 1.0 if signed_area(outline) > 0 else -1.0
    outward = np.column_stack((along[:, 1], -along[:, 0])) * turn
    moved = points + outward * distances[:, None]
    kept = np.flatnonzero(sizes > 1e-9)
    corners = _corners(points, moved, along, distances, kept)
    sharp = {int(kept[k]): corners[k] for k in _sharp(along, kept)}
    for _ in range(MOST_ROUNDS):
        # A side shorter than what its corners take from it comes out the wrong way round: it is lost.
        lost = np.einsum("ij,ij->i", np.roll(corners, -1, axis=0) - corners, along[kept]) < -1e-9
        if not lost.any() or np.count_nonzero(~lost) < 3:
            break
        kept = kept[~lost]
        corners = _corners(points, moved, along, distances, kept)
        _keep_sharp(corners, kept, sharp, len(points))
    # Each point takes the corner at which the next side that is kept begins.
    at = np.searchsorted(kept, np.arange(len(points))) % len(kept)
    return tuple(map(tuple, corners[at].tolist()))


def _sharp(along: Places, kept: Indices) -> Indices:
    """Return which kept sides begin at a sharp corner, where two edges meet."""
    before, after = along[np.roll(kept, 1)], along[kept]
    return np.flatnonzero(np.einsum("ij,ij->i", before, after) < SHARP_COS)


def _keep_sharp(corners: Places, kept: Indices, sharp: dict[int, Places], count: int) -> None:
    """Put a sharp corner back where its two edges' own ends meet, also where a short side beside it was lost.

    So both edges run to the corner as they do on a seam line that was drawn first and had its allowance added.
    """
    for k, (before, here) in enumerate(zip(np.roll(kept, 1).tolist(), kept.tolist())):
        between = [(before + n) % count for n in range(1, (here - before) % count + 1)]
        own = [corner for corner in between if corner in sharp] if len(between) > 1 else []
        if len(own) == 1:
            corners[k] = sharp[own[0]]


def _corners(points: Places, moved: Places, along: Places, distances: Places, kept: Indices) -> Places:
    """Return where each kept side's moved line meets that of the kept side before it.

    Near-straight corners take the foot on the next side, sharp ones are held near. Shapes: n x 2 for n sides; the answer k x 2.
    """
    last = np.roll(kept, 1)
    here, start, u, v = points[kept], moved[kept], along[last], along[kept]
    cross = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    straight = np.abs(cross) < STRAIGHT
    gap = start - moved[last]
    t = (gap[:, 0] * v[:, 1] - gap[:, 1] * v[:, 0]) / np.where(straight, 1.0, cross)
    foot = start + np.sum((here - start) * v, axis=1)[:, None] * v
    met = np.where(straight[:, None], foot, moved[last] + t[:, None] * u)
    far = np.hypot(*(met - here).T)
    most = MITRE * np.maximum(np.abs(distances[kept]), np.abs(distances[last])) + np.hypot(*(here - points[last]).T)
    share = np.minimum(1.0, most / np.maximum(far, 1e-9))
    held: Places = np.where(straight[:, None], met, here + share[:, None] * (met - here))
    return held


def grown(outline: Outline, most_mm: float) -> Outline:
    """Return an outline grown evenly with mitred corners, free of crossings; its points are not those of the first."""
    whole = Polygon(outline).buffer(most_mm, join_style=JOIN_STYLE.mitre, mitre_limit=MITRE)
    return tuple((float(x), float(y)) for x, y in whole.exterior.coords[:-1])
