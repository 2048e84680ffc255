"""A traced line as a piece's outline: corners made sharp again, curves smooth, no more points than it needs."""

import math
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.geometry.types import Outline
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

Floats = npt.NDArray[np.float64]
NEAR_MM, FAR_MM = 3.0, 14.0  # a corner's sides are judged between these distances from it
CORNER_DEG = 30.0
SIMPLE_MM = 0.12


def sharpened(ring: Floats, step_mm: float, smooth_mm: float = 2.0) -> tuple[Outline, list[int]]:
    """Return a closed traced line (n x 2 mm, points `step_mm` apart) as an outline, and the numbers of its corners.

    Blur and smoothing round corners off: each is put back where the lines of its two sides meet.
    """
    smooth = _smoothed(ring, max(1, round(smooth_mm / step_mm / 2)))
    found = _corners(smooth, step_mm)
    points: list[tuple[float, float]] = []
    numbers: list[int] = []
    count = len(smooth)
    if not found:
        kept = cv2.approxPolyDP(smooth.astype(np.float32).reshape(-1, 1, 2), SIMPLE_MM, True).reshape(-1, 2)
        return tuple((float(x), float(y)) for x, y in kept), []
    places = [_meeting(ring, k, step_mm) for k in found]
    cut = max(1, round(NEAR_MM / step_mm))
    for n, k in enumerate(found):
        numbers.append(len(points))
        points.append((float(places[n][0]), float(places[n][1])))
        after = found[(n + 1) % len(found)]
        between = (after - k) % count or count
        if between > 2 * cut:
            part = smooth[[(k + j) % count for j in range(cut, between - cut + 1)]]
            line = np.vstack([places[n], part, places[(n + 1) % len(found)]])
            kept = cv2.approxPolyDP(line.astype(np.float32).reshape(-1, 1, 2), SIMPLE_MM, False).reshape(-1, 2)
            points += [(float(x), float(y)) for x, y in kept[1:-1]]
    return tuple(points), numbers


def _smoothed(ring: Floats, half: int) -> Floats:
    """Return a closed line smoothed by fitting a parabola to each point's neighbours (Savitzky and Golay, 1964)."""
    if half < 2:
        return ring
    window = np.arange(-half, half + 1)
    fit = np.linalg.pinv(np.stack([np.ones_like(window), window, window**2], axis=1).astype(np.float64))[0]
    wide = np.concatenate([ring[-half:], ring, ring[:half]])
    return np.stack([np.convolve(wide[:, k], fit[::-1], mode="valid") for k in (0, 1)], axis=1)


def _corners(ring: Floats, step_mm: float) -> list[int]:
    """Return where a line turns by more than 30 degrees within a few mm, the sharpest first among neighbours."""
    count = len(ring)
    near, far = max(1, round(NEAR_MM / step_mm)), max(3, round(FAR_MM / step_mm))
    if count < 4 * far:
        far = max(2, count // 8)
        near = max(1, far // 4)
    before = np.roll(ring, near, axis=0) - np.roll(ring, far, axis=0)
    after = np.roll(ring, -far, axis=0) - np.roll(ring, -near, axis=0)
    turn = np.degrees(
        np.abs(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], np.sum(before * after, axis=1)))
    )
    # A curve turns as much over the same length: it turns less over half of it, a corner does not.
    half = max(near + 1, (near + far) // 2)
    short_before = np.roll(ring, near, axis=0) - np.roll(ring, half, axis=0)
    short_after = np.roll(ring, -half, axis=0) - np.roll(ring, -near, axis=0)
    short = np.degrees(
        np.abs(
            np.arctan2(
                short_before[:, 0] * short_after[:, 1] - short_before[:, 1] * short_after[:, 0],
                np.sum(short_before * short_after, axis=1),
            )
        )
    )
    sharp = (turn > CORNER_DEG) & (short > 0.72 * turn)
    kept: list[int] = []
    for k in sorted(np.flatnonzero(sharp), key=lambda k: -turn[k]):
        if all(min((k - j) % count, (j - k) % count) > far for j in kept):
            kept.append(int(k))
    return sorted(kept)


def _meeting(ring: Floats, k: int, step_mm: float) -> Floats:
    """Return where the lines through both sides of a corner meet; the point itself where they hardly turn or meet far off."""
    count = len(ring)
    near, far = max(1, round(NEAR_MM / step_mm)), max(3, round(FAR_MM / step_mm))
    far = min(far, count // 6)
    a = ring[[(k - j) % count for j in range(near, far + 1)]]
    b = ring[[(k + j) % count for j in range(near, far + 1)]]
    (p, u), (q, v) = _curve_end(a, ring[k]), _curve_end(b, ring[k])
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < math.sin(math.radians(15)):
        return np.asarray(ring[k])
    t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    met = p + t * u
    return np.asarray(met) if float(np.hypot(*(met - ring[k]))) < 2.5 * NEAR_MM else np.asarray(ring[k])


def _curve_end(side: Floats, corner: Floats) -> tuple[Floats, Floats]:
    """Return a point and direction with which a side arrives at its corner: a parabola through it, as it may be curved."""
    middle = side.mean(axis=0)
    _, _, axes = np.linalg.svd(side - middle)
    u = axes[0] if np.dot(axes[0], corner - middle) > 0 else -axes[0]
    w = np.array([-u[1], u[0]])
    along, across = (side - middle) @ u, (side - middle) @ w
    degree = 2 if len(side) >= 12 else 1
    bend = np.polyfit(along, across, degree)
    at = float((corner - middle) @ u)
    slope = float(np.polyval(np.polyder(bend), at))
    place = middle + at * u + float(np.polyval(bend, at)) * w
    direction = u + slope * w
    return place, direction / np.hypot(*direction)
