"""The plane of the table in a photograph: perspective and lens distortion found from the sheets that lie on it, the error in mm."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
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
PRIOR_K, PRIOR_K2 = 0.03, 0.01  # telephones correct their lenses; what is left is small
NOISE_PX, LEAST_NOISE_PX = 0.3, 0.05  # how far a corner is seen from its place: to begin with, and at least
OPTIMISM = (
    2.0  # a sheet that does not lie quite flat errs everywhere alike, which the corners' own scatter does not show
)
Pose = tuple[float, float, float]
WORST_MM = 2.0
MOST_PIXELS = 26_000_000
COARSE = 8
FINEST_MM, COARSEST_MM = 0.15, 1.2


@dataclass(frozen=True)
class Plane:
    """How a photograph sees the table.

    `homography` takes mm on the table to pixels of an ideal lens (3 x 3); `k`: its radial distortion about `centre`, two terms in
    units of `reach` pixels; `poses`: where each sheet lies on the table, (x, y, angle); `error_mm`: how far the corners of the
    squares miss; `as_likely`: the plane moved by one standard deviation along each of its values' own axes.
    """

    homography: Floats
    k: tuple[float, float]
    centre: tuple[float, float]
    reach: float
    poses: dict[int, Pose] = field(default_factory=dict)
    error_mm: float = 0.0
    as_likely: tuple[tuple[Floats, tuple[float, float]], ...] = ()

    def off_mm(self, mm: Floats) -> Floats:
        """Return how far places on the table (n x 2, mm) may lie from where they are taken to be, one standard deviation, mm."""
        pixels = self.to_pixels(mm)
        others = [Plane(h, k, self.centre, self.reach).to_mm(pixels) for h, k in self.as_likely]
        squares = sum((np.sum((other - mm) ** 2, axis=1) for other in others), start=np.zeros(len(mm)))
        return np.asarray(OPTIMISM * np.sqrt(squares))

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


def _distorted(points: Floats, k: tuple[float, float], centre: tuple[float, float], reach: float) -> Floats:
    away = (points - centre) / reach
    r2 = np.sum(away * away, axis=1, keepdims=True)
    return np.asarray(centre + reach * away * (1 + k[0] * r2 + k[1] * r2 * r2))


def _undistorted(points: Floats, k: tuple[float, float], centre: tuple[float, float], reach: float) -> Floats:
    aim = (points - centre) / reach
    away = aim.copy()
    for _ in range(10):
        r2 = np.sum(away * away, axis=1, keepdims=True)
        away = aim / (1 + k[0] * r2 + k[1] * r2 * r2)
    return np.asarray(centre + reach * away)


def posed(mm: Floats, pose: Pose) -> Floats:
    """Return places on a sheet as they lie on the table."""
    x, y, angle = pose
    cos, sin = math.cos(angle), math.sin(angle)
    return np.asarray(mm @ np.array([[cos, sin], [-sin, cos]]) + (x, y))


def fit_plane(seen: Sequence[SeenSheet], size: tuple[int, int], known: dict[int, Pose] | None = None) -> Plane:
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
        [(np.asarray(start) / start[2, 2]).ravel()[:8], [0.0, 0.0], *[np.asarray(poses[k]) for k in free]]
    )
    view = _View(kept, fixed, free, centre, reach)
    values, _ = _refined(values, view, NOISE_PX)
    noise = max(LEAST_NOISE_PX, float(np.std(view.misses(values))))
    values, spread = _refined(values, view, noise)
    homography, k, found = view.unpacked(values)
    likely = tuple(view.unpacked(values + step)[:2] for step in spread.T)
    plane = Plane(homography, k, centre, reach, found, 0.0, likely)
    error = _error_mm(plane, kept)
    if error > WORST_MM:
        text = f"The sheet's squares miss by {error:.1f} mm: it is bent, or the picture blurred. Lay it flat and try again."
        raise IntakeError(text, "photo")
    return replace(plane, error_mm=error)


def _rigid(sheet: SeenSheet, start: Floats) -> Pose:
    """Return where a sheet lies, by the plane that another sheet gives."""
    there = _projected(np.asarray(np.linalg.inv(start), dtype=np.float64), sheet.pixels)
    a, b = sheet.mm - sheet.mm.mean(axis=0), there - there.mean(axis=0)
    angle = math.atan2(float(np.sum(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])), float(np.sum(a * b)))
    middle = posed(sheet.mm.mean(axis=0, keepdims=True), (0.0, 0.0, angle))[0]
    x, y = there.mean(axis=0) - middle
    return float(x), float(y), angle


def _without_outliers(sheet: SeenSheet, pose: Pose, start: Floats, first: bool) -> SeenSheet:
    """Return a sheet without corners that another thing was taken for; only on the sheet that the plane was begun with."""
    if not first or len(sheet.mm) < 12:
        return sheet
    miss = np.hypot(*(_projected(start, posed(sheet.mm, pose)) - sheet.pixels).T)
    good = miss < max(4.0, 4 * float(np.median(miss)))
    return SeenSheet(sheet.sheet, sheet.pixels[good], sheet.mm[good])


@dataclass(frozen=True)
class _View:
    """What a plane is fitted to: sheets seen in a photograph, the poses that are known and those that are not."""

    seen: Sequence[SeenSheet]
    fixed: dict[int, Pose]
    free: Sequence[int]
    centre: tuple[float, float]
    reach: float

    def unpacked(self, values: Floats) -> tuple[Floats, tuple[float, float], dict[int, Pose]]:
        """Eight values of the homography, two of the lens, three for each pose that is not known."""
        homography = np.append(values[:8], 1.0).reshape(3, 3)
        poses = dict(self.fixed)
        for n, sheet in enumerate(self.free):
            x, y, angle = values[10 + 3 * n : 13 + 3 * n]
            poses[sheet] = (float(x), float(y), float(angle))
        return homography, (float(values[8]), float(values[9])), poses

    def misses(self, values: Floats) -> Floats:
        """How far each corner is seen from where the values put it, pixels, x and y by turns."""
        homography, k, poses = self.unpacked(values)
        rows = [
            (
                _distorted(_projected(homography, posed(s.mm, poses[s.sheet])), k, self.centre, self.reach) - s.pixels
            ).ravel()
            for s in self.seen
        ]
        return np.concatenate(rows)


def _refined(values: Floats, view: _View, noise: float) -> tuple[Floats, Floats]:
    """Return the values with the least squares of misses, by Gauss-Newton with damping, and their spread.

    Args:
        noise: how far a corner is usually seen from its place, pixels.
    Returns:
        The values, and a matrix whose columns are steps of one standard deviation along their own axes.
    """

    def misses(v: Floats) -> Floats:
        return np.concatenate([view.misses(v) / noise, [v[8] / PRIOR_K, v[9] / PRIOR_K2]])

    steps = np.maximum(np.abs(values) * 1e-6, 1e-9)
    damping, now = 1e-3, misses(values)
    for _ in range(30):
        scaled, scale = _jacobian(misses, values, now, steps)
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
    scaled, scale = _jacobian(misses, values, now, steps)
    _, sizes, axes = np.linalg.svd(scaled, full_matrices=False)
    return values, np.asarray((axes.T / np.maximum(sizes, 1e-9)) / scale[:, None])


def _jacobian(misses: Callable[[Floats], Floats], values: Floats, now: Floats, steps: Floats) -> tuple[Floats, Floats]:
    """Return the derivatives of misses by each value, each column brought to length one, and the lengths."""
    jacobian = np.stack(
        [(misses(values + np.eye(len(values))[n] * steps[n]) - now) / steps[n] for n in range(len(values))], 1
    )
    scale = np.sqrt(np.sum(jacobian**2, axis=0)) + 1e-12
    return np.asarray(jacobian / scale), np.asarray(scale)


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
