"""A printed line followed between clicks: the least-cost path along what is dark, then onto the middle of the line."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.errors import IntakeError
from rowanseed.core.geometry.types import Outline
from rowanseed.core.trace.plane import Flat
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
    from skimage.graph import MCP_Geometric
else:
    cv2, MCP_Geometric = lazily("cv2"), lazily("skimage.graph", "MCP_Geometric")

Floats = npt.NDArray[np.float64]
LINE_MM = 0.5
THICK_MM = 2.4  # what is wider is no line
NOISE = 3.0
SNAP_MM = 1.2
MARGIN_MM = 25.0
SIMPLE_MM = 0.15
CORNER_DEG = 20.0
WORK_MM = 0.3
LINE_SEEN = 0.35  # how dark a followed line is on average where there is one
EDGE_PER_MM = 25.0
EACH_STEP = 0.12  # a step on the darkest line costs so much: without it a long way round along lines is as good as the short one
SPUR_MM = 12.0


def followed(flat: Flat, clicks: Floats, closed: bool) -> tuple[Outline, list[int]]:
    """Return the printed line through clicks (n >= 2, pixels of the flat picture) in mm, and the numbers of its corners.

    Where no line is printed along them, the edge of what lies there.

    Source: E. Mortensen and W. Barrett, Intelligent scissors for image composition, 1995; the cost is low where the picture is
    darker than around, not where it changes, so that the path runs in a line and not along its side.
    """
    if len(clicks) < (3 if closed else 2):
        raise IntakeError(
            "Click at least three corners of the line." if closed else "Click at least two points.", "clicks"
        )
    high, wide = flat.picture.shape[:2]
    if clicks.min() < -1 or clicks[:, 0].max() > wide or clicks[:, 1].max() > high:
        raise IntakeError("A click lies outside of the picture.", "clicks")
    scale = flat.mm / WORK_MM if flat.mm < WORK_MM else 1.0
    mm = flat.mm / scale
    dark = _smaller(_darkness(flat), scale)
    lines, clear = _along(dark, clicks * scale, closed, mm)
    if clear < LINE_SEEN:  # no printed line: the edge of a piece on its ground
        edges = _smaller(_edges(flat), scale)
        by_edge, seen = _along(edges, clicks * scale, closed, mm)
        lines = by_edge if seen > clear else lines
    lines = _without_spurs(lines, closed, mm)
    corners = _met(lines, closed)
    points: list[tuple[float, float]] = []
    numbers: list[int] = []
    for n, line in enumerate(lines):
        start, stop = corners[n], corners[(n + 1) % len(corners)]
        numbers.append(len(points))
        joined = np.vstack([start, line[2:-2] if len(line) > 6 else line[1:-1], stop])
        smooth = _smooth_open(joined, max(2, round(2.5 / mm)))
        kept = cv2.approxPolyDP(smooth.astype(np.float32).reshape(-1, 1, 2), SIMPLE_MM / mm, False).reshape(-1, 2)
        points += [(float(x), float(y)) for x, y in kept[:-1]]
    if not closed:
        numbers.append(len(points))
        points.append((float(corners[-1][0]), float(corners[-1][1])))
    at = flat.to_mm(np.asarray(points) / scale)
    outline = tuple((float(x), float(y)) for x, y in at)
    return outline, _sharp(outline, numbers, closed)


def _smaller(feature: npt.NDArray[np.float32], scale: float) -> npt.NDArray[np.float32]:
    return feature if scale >= 1 else cv2.resize(feature, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)


def _along(feature: npt.NDArray[np.float32], clicks: Floats, closed: bool, mm: float) -> tuple[list[Floats], float]:
    """Return the lines from click to click along what is strong in a feature (0 to 1), and how strong it is on them."""
    snapped = np.stack([_snapped(feature, c, SNAP_MM / mm) for c in clicks])
    ends = [*range(1, len(snapped)), *([0] if closed else [])]
    parts = [_path(feature, snapped[a], snapped[b], mm) for a, b in zip(range(len(ends)), ends)]
    at = np.clip(np.round(np.vstack(parts)).astype(int), 0, np.array(feature.shape[::-1]) - 1)
    return [_centred(feature, part, mm) for part in parts], float(np.mean(feature[at[:, 1], at[:, 0]]))


def _edges(flat: Flat) -> npt.NDArray[np.float32]:
    """Return how steeply the picture's colour changes, 0 to 1 at EDGE_PER_MM levels a millimetre and more."""
    soft = cv2.GaussianBlur(flat.picture.astype(np.float32), (0, 0), max(0.7, 0.4 / flat.mm))
    steep = np.zeros(soft.shape[:2], dtype=np.float32)
    for channel in range(3):
        across = cv2.Scharr(soft[..., channel], cv2.CV_32F, 1, 0, scale=1 / 32)
        down = cv2.Scharr(soft[..., channel], cv2.CV_32F, 0, 1, scale=1 / 32)
        steep = np.maximum(steep, cv2.magnitude(across, down))
    return np.clip(steep / flat.mm / EDGE_PER_MM, 0, 1).astype(np.float32)


def _darkness(flat: Flat) -> npt.NDArray[np.float32]:
    """Return how much darker each pixel is than both its sides, 0 to 1: a thin line shows, the edge of something dark does not."""
    grey = cv2.cvtColor(flat.picture, cv2.COLOR_BGR2GRAY).astype(np.float32)
    fine = cv2.GaussianBlur(grey, (0, 0), max(0.5, 0.35 * LINE_MM / flat.mm))
    side = 2 * round(THICK_MM / flat.mm / 2) + 1
    dark = cv2.morphologyEx(fine, cv2.MORPH_BLACKHAT, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)))
    dark = np.maximum(dark - NOISE, 0.0)
    top = float(np.percentile(dark, 99.7)) or 1.0
    return np.clip(dark / max(top, 12.0), 0, 1).astype(np.float32)


def _snapped(dark: npt.NDArray[np.float32], click: Floats, reach: float) -> Floats:
    """Return the darkest place near a click, the nearer the better."""
    high, wide = dark.shape
    x0, x1 = max(0, int(click[0] - reach)), min(wide, int(click[0] + reach) + 2)
    y0, y1 = max(0, int(click[1] - reach)), min(high, int(click[1] + reach) + 2)
    if x1 <= x0 or y1 <= y0:
        return click
    ys, xs = np.mgrid[y0:y1, x0:x1]
    away = np.hypot(xs - click[0], ys - click[1]) / reach
    value = dark[y0:y1, x0:x1] - 0.9 * away
    if float(dark[y0:y1, x0:x1].max()) < 0.15:
        return click
    k = int(np.argmax(value))
    return np.array([float(xs.ravel()[k]), float(ys.ravel()[k])])


def _path(dark: npt.NDArray[np.float32], a: Floats, b: Floats, mm: float) -> Floats:
    """Return the pixels of the least-cost path from a to b, n x 2, within a box around both."""
    margin = max(MARGIN_MM / mm, 0.35 * float(np.hypot(*(b - a))))
    high, wide = dark.shape
    x0, y0 = (max(0, int(v - margin)) for v in np.minimum(a, b))
    x1, y1 = min(wide, int(max(a[0], b[0]) + margin) + 2), min(high, int(max(a[1], b[1]) + margin) + 2)
    part = dark[y0:y1, x0:x1]
    cost = EACH_STEP + (1 - EACH_STEP) * (1.0 - np.minimum(part * 1.4, 1.0)) ** 2
    limit = np.array([x1 - x0 - 1, y1 - y0 - 1])
    start, stop = (np.clip(np.round(p - (x0, y0)), 0, limit).astype(int) for p in (a, b))
    paths = MCP_Geometric(cost)
    ends = [(int(stop[1]), int(stop[0]))]
    paths.find_costs([(int(start[1]), int(start[0]))], ends)
    line = np.asarray(paths.traceback(ends[0]), dtype=np.float64)[:, ::-1]
    if len(line) < 2:
        line = np.stack([start, stop]).astype(np.float64)
    return line + np.array([x0, y0])


def _centred(dark: npt.NDArray[np.float32], line: Floats, mm: float) -> Floats:
    """Return a path moved onto the middle of the dark line: the centre of what is dark within 0.9 mm to both sides."""
    if len(line) < 5:
        return line
    smooth = _smooth_open(line, max(2, round(1.2 / mm)))
    ahead = np.gradient(smooth, axis=0)
    normal = np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) / (np.hypot(*ahead.T)[:, None] + 1e-9)
    offsets = np.linspace(-0.9 / mm, 0.9 / mm, 13)
    places = smooth[:, None, :] + offsets[None, :, None] * normal[:, None, :]
    values = cv2.remap(dark, places[..., 0].astype(np.float32), places[..., 1].astype(np.float32), cv2.INTER_LINEAR)
    weight = np.clip(values - 0.25 * values.max(axis=1, keepdims=True), 0, None) ** 2
    total = weight.sum(axis=1)
    shift = np.where(total > 1e-3, (weight * offsets).sum(axis=1) / np.where(total > 1e-3, total, 1), 0.0)
    shift = _smooth_open(np.stack([shift, shift], axis=1), max(2, round(1.5 / mm)))[:, 0]
    return smooth + shift[:, None] * normal


def _smooth_open(line: Floats, half: int) -> Floats:
    """Return an open line smoothed by parabolas over its neighbours, its ends kept."""
    if len(line) < 2 * half + 3:
        return line
    window = np.arange(-half, half + 1)
    fit = np.linalg.pinv(np.stack([np.ones_like(window), window, window**2], axis=1).astype(np.float64))[0]
    head = 2 * line[0] - line[half:0:-1]
    tail = 2 * line[-1] - line[-2 : -half - 2 : -1]
    wide = np.vstack([head, line, tail])
    smooth = np.stack([np.convolve(wide[:, k], fit[::-1], mode="valid") for k in (0, 1)], axis=1)
    smooth[0], smooth[-1] = line[0], line[-1]
    return smooth


def _without_spurs(lines: list[Floats], closed: bool, mm: float) -> list[Floats]:
    """Return lines without the way past a corner and back, where a click stood on the line a little beside it."""
    reach = round(SPUR_MM / mm)
    pairs = [(k - 1, k) for k in range(0 if closed else 1, len(lines))]
    for before, after in pairs:
        a, b = lines[before], lines[after]
        n, m = min(reach, len(a) // 2), min(reach, len(b) // 2)
        if n < 4 or m < 4:
            continue
        back, ahead = a[: -n - 1 : -1], b[:m]
        gaps = np.hypot(*(back[:, None, :] - ahead[None, :, :]).transpose(2, 0, 1))
        together = np.argwhere(gaps < 0.5 / mm)
        if not len(together):
            continue
        i, j = max(together, key=lambda ij: min(ij))
        if min(i, j) >= 3:
            lines[before], lines[after] = a[: len(a) - i], b[j:]
    return lines


def _met(lines: Sequence[Floats], closed: bool) -> list[Floats]:
    """Return where lines meet: at a corner where both, gone on straight, cross; else half way between their ends."""
    pairs = [(lines[k - 1], lines[k]) for k in range(len(lines))] if closed else list(zip(lines, lines[1:]))
    met = [_crossing(a, b) for a, b in pairs]
    return met if closed else [lines[0][0], *met, lines[-1][-1]]


def _crossing(a: Floats, b: Floats) -> Floats:
    middle = (a[-1] + b[0]) / 2
    n = min(25, len(a) // 2, len(b) // 2)
    if n < 6:
        return middle
    skip = 3
    (p, u), (q, v) = _fit(a[-n:-skip]), _fit(b[skip:n])
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 0.3:
        return middle
    t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    at = p + t * u
    return at if float(np.hypot(*(at - middle))) < 8 else middle


def _fit(side: Floats) -> tuple[Floats, Floats]:
    middle = side.mean(axis=0)
    _, _, axes = np.linalg.svd(side - middle)
    return middle, axes[0]


def _sharp(outline: Outline, numbers: Sequence[int], closed: bool) -> list[int]:
    """Return which of the clicked points are corners: the line turns there by more than 20 degrees."""
    points = np.asarray(outline)
    count = len(points)
    kept = []
    for k in numbers:
        if not closed and k in (0, count - 1):
            kept.append(k)
            continue
        u, v = points[k] - points[k - 1], points[(k + 1) % count] - points[k]
        turn = abs(np.degrees(np.arctan2(u[0] * v[1] - u[1] * v[0], u @ v)))
        if turn > CORNER_DEG:
            kept.append(k)
    return kept
