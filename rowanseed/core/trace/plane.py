"""The plane of the table in a photograph: perspective and lens distortion found from the sheets that lie on it, the error in mm."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.errors import IntakeError
from rowanseed.core.trace.board import COLUMNS, ROWS, SQUARE_MM, SeenSheet
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

Floats = npt.NDArray[np.float64]
PRIOR_K = 0.02  # telephones correct their lenses; what is left is small
NOISE_PX = 0.3
WORST_MM = 2.0
MOST_PIXELS = 26_000_000
COARSE = 8
FINEST_MM, COARSEST_MM = 0.15, 1.2


@dataclass(frozen=True)
class Plane:
    """How a photograph sees the table.

    `homography` takes mm on the table to pixels of an ideal lens (3 x 3); `k`: its radial distortion about `centre`, in units of
    `reach` pixels; `poses`: where each sheet lies on the table, (x, y, angle); `error_mm`: how far the corners of the squares miss.
    """

    homography: Floats
    k: float
    centre: tuple[float, float]
    reach: float
    poses: dict[int, tuple[float, float, float]] = field(default_factory=dict)
    error_mm: float = 0.0

    def to_pixels(self, mm: Floats) -> Floats:
        """Return where places on the table (n x 2, mm) lie in the photograph."""
        return _distorted(_projected(self.homography, mm), self.k, self.centre, self.reach)

    def to_mm(self, pixels: Floats) -> Floats:
        """Return where pixels of the photograph (n x 2) lie on the table."""
        plain = _undistorted(pixels, self.k, self.centre, self.reach)
        return _projected(np.asarray(np.linalg.inv(self.homography), dtype=np.float64), plain)


def _projected(h: Floats, points: Floats) -> Floats:
    full = np.column_stack([points, np.ones(len(points))]) @ h.T
    return np.asarray(full[:, :2] / full[:, 2:3])


def _distorted(points: Floats, k: float, centre: tuple[float, float], reach: float) -> Floats:
    away = (points - centre) / reach
    r2 = np.sum(away * away, axis=1, keepdims=True)
    return np.asarray(centre + reach * away * (1 + k * r2))


def _undistorted(points: Floats, k: float, centre: tuple[float, float], reach: float) -> Floats:
    aim = (points - centre) / reach
    away = aim.copy()
    for _ in range(8):
        away = aim / (1 + k * np.sum(away * away, axis=1, keepdims=True))
    return np.asarray(centre + reach * away)


def posed(mm: Floats, pose: tuple[float, float, float]) -> Floats:
    """Return places on a sheet as they lie on the table."""
    x, y, angle = pose
    cos, sin = math.cos(angle), math.sin(angle)
    return np.asarray(mm @ np.array([[cos, sin], [-sin, cos]]) + (x, y))


def fit_plane(
    seen: Sequence[SeenSheet], size: tuple[int, int], known: dict[int, tuple[float, float, float]] | None = None
) -> Plane:
    """Return the plane that sheets in a photograph of a size (width, height) lie on; the first sheet is its origin.

    Args:
        known: where sheets lie that another photograph showed; those stay.
    Raises:
        IntakeError: the corners do not fit a plane within 2 mm: blurred, bent, or not printed at 100 %.
    """
    centre, reach = ((size[0] - 1) / 2, (size[1] - 1) / 2), max(size) / 2
    first = next((s for s in seen if known and s.sheet in known), seen[0])
    fixed = dict(known or {})
    fixed.setdefault(first.sheet, (0.0, 0.0, 0.0))
    start, _ = cv2.findHomography(posed(first.mm, fixed[first.sheet]), first.pixels, cv2.RANSAC, 4.0)
    if start is None:
        raise IntakeError(
            "The sheet's squares could not be made out. Photograph it from above, sharp and lit evenly.", "photo"
        )
    poses = {s.sheet: fixed.get(s.sheet) or _rigid(s, np.asarray(start)) for s in seen}
    free = [s.sheet for s in seen if s.sheet not in fixed]
    kept = [_without_outliers(s, poses[s.sheet], np.asarray(start), s is first) for s in seen]
    values = np.concatenate(
        [(np.asarray(start) / start[2, 2]).ravel()[:8], [0.0], *[np.asarray(poses[k]) for k in free]]
    )
    values = _refined(values, kept, fixed, free, centre, reach)
    homography, k, found = _unpacked(values, fixed, free)
    plane = Plane(homography, k, centre, reach, found)
    error = _error_mm(plane, kept)
    if error > WORST_MM:
        text = f"The sheet's squares miss by {error:.1f} mm: it is bent, or the picture blurred. Lay it flat and try again."
        raise IntakeError(text, "photo")
    return Plane(homography, k, centre, reach, found, error)


def _rigid(sheet: SeenSheet, start: Floats) -> tuple[float, float, float]:
    """Return where a sheet lies, by the plane that another sheet gives."""
    there = _projected(np.asarray(np.linalg.inv(start), dtype=np.float64), sheet.pixels)
    a, b = sheet.mm - sheet.mm.mean(axis=0), there - there.mean(axis=0)
    angle = math.atan2(float(np.sum(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])), float(np.sum(a * b)))
    middle = posed(sheet.mm.mean(axis=0, keepdims=True), (0.0, 0.0, angle))[0]
    x, y = there.mean(axis=0) - middle
    return float(x), float(y), angle


def _without_outliers(sheet: SeenSheet, pose: tuple[float, float, float], start: Floats, first: bool) -> SeenSheet:
    """Return a sheet without corners that another thing was taken for; only on the sheet that the plane was begun with."""
    if not first or len(sheet.mm) < 12:
        return sheet
    miss = np.hypot(*(_projected(start, posed(sheet.mm, pose)) - sheet.pixels).T)
    good = miss < max(4.0, 4 * float(np.median(miss)))
    return SeenSheet(sheet.sheet, sheet.pixels[good], sheet.mm[good])


def _unpacked(
    values: Floats, fixed: dict[int, tuple[float, float, float]], free: Sequence[int]
) -> tuple[Floats, float, dict[int, tuple[float, float, float]]]:
    homography = np.append(values[:8], 1.0).reshape(3, 3)
    poses = dict(fixed)
    for n, sheet in enumerate(free):
        x, y, angle = values[9 + 3 * n : 12 + 3 * n]
        poses[sheet] = (float(x), float(y), float(angle))
    return homography, float(values[8]), poses


def _refined(
    values: Floats,
    seen: Sequence[SeenSheet],
    fixed: dict[int, tuple[float, float, float]],
    free: Sequence[int],
    centre: tuple[float, float],
    reach: float,
) -> Floats:
    """Return the values with the least squares of misses in pixels, by Gauss-Newton with damping."""

    def misses(v: Floats) -> Floats:
        homography, k, poses = _unpacked(v, fixed, free)
        rows = [
            (_distorted(_projected(homography, posed(s.mm, poses[s.sheet])), k, centre, reach) - s.pixels).ravel()
            for s in seen
        ]
        return np.concatenate([*rows, [NOISE_PX * k / PRIOR_K]])

    steps = np.maximum(np.abs(values) * 1e-6, 1e-9)
    damping, now = 1e-3, misses(values)
    for _ in range(30):
        jacobian = np.stack(
            [(misses(values + np.eye(len(values))[n] * steps[n]) - now) / steps[n] for n in range(len(values))], 1
        )
        scale = np.sqrt(np.sum(jacobian**2, axis=0)) + 1e-12
        scaled = jacobian / scale
        gain = np.linalg.solve(scaled.T @ scaled + damping * np.eye(len(values)), -scaled.T @ now) / scale
        new = misses(values + gain)
        if new @ new < now @ now:
            better = (now @ now - new @ new) / (now @ now + 1e-12)
            values, now, damping = values + gain, new, damping / 5
            if better < 1e-9:
                break
        else:
            damping *= 8
            if damping > 1e6:
                break
    return values


def _error_mm(plane: Plane, seen: Sequence[SeenSheet]) -> float:
    misses = np.concatenate([plane.to_mm(s.pixels) - posed(s.mm, plane.poses[s.sheet]) for s in seen])
    return float(np.sqrt(np.mean(np.sum(misses**2, axis=1))))


@dataclass(frozen=True)
class Flat:
    """A photograph made flat: its picture (rows x columns x 3), mm per pixel, and the place of its first pixel on the table."""

    picture: npt.NDArray[np.uint8]
    mm: float
    left: float
    top: float

    def to_mm(self, pixels: Floats) -> Floats:
        """Return where pixels of the flat picture lie, mm."""
        return np.asarray(pixels * self.mm + (self.left, self.top))

    def to_flat(self, mm: Floats) -> Floats:
        """Return which pixels of the flat picture places are."""
        return np.asarray((mm - (self.left, self.top)) / self.mm)


def flattened(picture: npt.NDArray[np.uint8], plane: Plane, most_side_mm: float = 2200.0) -> Flat:
    """Return a photograph as it looks from straight above, at about its own resolution, as far as it is seen sharply enough."""
    high, wide = picture.shape[:2]
    x0, y0, x1, y1 = _seen_box(plane, wide, high, most_side_mm)
    middle = np.array([[0.0, 0.0], [SQUARE_MM * COLUMNS, SQUARE_MM * ROWS["a4"]]])
    on = plane.to_pixels(np.vstack([posed(middle, pose) for pose in plane.poses.values()]))
    spans = np.hypot(*(on[1::2] - on[::2]).T)
    per_mm = float(np.mean(spans)) / math.hypot(*middle[1])
    mm = min(COARSEST_MM, max(FINEST_MM, 1.0 / per_mm, math.sqrt((x1 - x0) * (y1 - y0) / MOST_PIXELS)))
    columns, rows = max(2, round((x1 - x0) / mm)), max(2, round((y1 - y0) / mm))
    return Flat(_warped(picture, plane, (x0, y0), mm, columns, rows), mm, x0, y0)


def _seen_box(plane: Plane, wide: int, high: int, most: float) -> tuple[float, float, float, float]:
    """Return the box on the table that a photograph shows, no further than `most` from the sheets."""
    edge = [(x, y) for x in np.linspace(0, wide - 1, 24) for y in (0, high - 1)]
    edge += [(x, y) for y in np.linspace(0, high - 1, 24) for x in (0, wide - 1)]
    inside = np.asarray([(x, y) for x in np.linspace(0, wide - 1, 24) for y in np.linspace(0, high - 1, 24)])
    sheets = np.vstack([posed(np.array([[0.0, 0.0], [180.0, 270.0]]), p) for p in plane.poses.values()])
    centre = sheets.mean(axis=0)
    spots = np.vstack([np.asarray(edge, dtype=np.float64), inside])
    back = np.linalg.inv(plane.homography)
    plain = _undistorted(spots, plane.k, plane.centre, plane.reach)
    depth = np.column_stack([plain, np.ones(len(plain))]) @ back[2]
    middle_depth = float(np.median(depth))
    facing = depth * middle_depth > 0.15 * middle_depth**2  # what lies near the horizon is left out
    there = plane.to_mm(spots[facing])
    there = there[np.max(np.abs(there - centre), axis=1) < most]
    return float(there[:, 0].min()), float(there[:, 1].min()), float(there[:, 0].max()), float(there[:, 1].max())


def _warped(
    picture: npt.NDArray[np.uint8], plane: Plane, origin: tuple[float, float], mm: float, columns: int, rows: int
) -> npt.NDArray[np.uint8]:
    """Return the picture seen from above, rows x columns x 3; in bands, so that the maps stay small."""
    # Where a pixel comes from changes so evenly that every eighth is worked out and the rest lie between.
    across = origin[0] + mm * COARSE * np.arange(-(-columns // COARSE) + 1)
    down = origin[1] + mm * COARSE * np.arange(-(-rows // COARSE) + 1)
    grid = np.stack(np.meshgrid(across, down), axis=-1).reshape(-1, 2)
    nodes = plane.to_pixels(grid).astype(np.float32).reshape(len(down), len(across), 2)
    out = np.zeros((rows, columns, 3), dtype=np.uint8)
    xs = (np.arange(columns, dtype=np.float32) / COARSE)[None, :]
    for top in range(0, rows, 512):
        ys = (np.arange(top, min(rows, top + 512), dtype=np.float32) / COARSE)[:, None]
        at_x, at_y = np.broadcast_to(xs, (len(ys), columns)), np.broadcast_to(ys, (len(ys), columns))
        maps = [cv2.remap(nodes[..., n].copy(), at_x, at_y, cv2.INTER_LINEAR) for n in (0, 1)]
        out[top : top + len(ys)] = cv2.remap(
            picture, maps[0], maps[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT
        )
    return out
