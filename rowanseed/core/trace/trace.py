"""A piece's outline from one photograph or scan, or from several joined over the sheets that they share."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.types import Outline
from rowanseed.core.trace.board import SQUARE_MM, SeenSheet, find_sheets
from rowanseed.core.trace.follow import followed
from rowanseed.core.trace.ground import Found, found_beside
from rowanseed.core.trace.plane import MOST_PIXELS, Flat, Plane, fit_plane, flattened
from rowanseed.core.trace.sure_grid import sureness_of
from rowanseed.core.trace.sureness import Sureness, said_of
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

Picture = npt.NDArray[np.uint8]
Floats = npt.NDArray[np.float64]
Pose = tuple[float, float, float]
NO_SHEET = (
    "No calibration sheet was found in the photograph, and no dpi is given. Print the sheet at 100 %, lay it beside the piece, "
    "and photograph both from above; for a scan, give its dpi."
)
BLURRED = 12.0


@dataclass(frozen=True)
class TraceOptions:
    """`clicks`: pixels of the picture along the line wanted, None for the piece on the ground; `dpi` of a scan."""

    clicks: tuple[tuple[float, float], ...] | None = None
    closed: bool = True
    dpi: float | None = None
    square_mm: float | None = None


@dataclass(frozen=True)
class Traced:
    """A traced line: its points in mm, which of them are corners, how far the sheet's squares miss, the scale."""

    outline: Outline
    error_mm: float
    mm_per_pixel: float
    corners: tuple[int, ...]
    findings: tuple[Finding, ...] = ()


@dataclass(frozen=True)
class Scene:
    """One or more photographs made flat: the picture, where sheets lie, the error, what is to be said, how sure places are."""

    flat: Flat
    poses: dict[int, Pose]
    planes: tuple[Plane | None, ...]
    error_mm: float
    findings: tuple[Finding, ...] = ()
    sure: Sureness | None = None


def trace(picture: Picture, options: TraceOptions) -> Traced:
    """Return the line asked for in one photograph or scan (rows x columns x 3, blue first).

    Raises:
        IntakeError: neither sheet nor dpi; nothing stands out; clicks that lead nowhere.
    """
    scene = scene_of([picture], options.dpi, options.square_mm)
    if options.clicks is None:
        piece = found_on_ground(scene)[0]
        findings = (*piece.findings, *scene.findings, *said_of(scene.sure, piece.outline, scene.flat.mm))
        return Traced(piece.outline, scene.error_mm, scene.flat.mm, piece.corners, findings)
    clicks = np.asarray(options.clicks, dtype=np.float64).reshape(-1, 2)
    plane = scene.planes[0]
    at = scene.flat.to_flat(plane.to_mm(clicks) if plane else clicks * (25.4 / (options.dpi or 25.4)))
    outline, corners = followed(scene.flat, at, options.closed)
    findings = (*scene.findings, *said_of(scene.sure, outline, scene.flat.mm))
    return Traced(outline, scene.error_mm, scene.flat.mm, tuple(corners), findings)


def found_on_ground(scene: Scene) -> list[Found]:
    """Return what lies beside the sheets, the likeliest piece first. Raises IntakeError where nothing can be told."""
    return found_beside(scene.flat, list(scene.poses.values()))


def scene_of(pictures: Sequence[Picture], dpi: float | None = None, square_mm: float | None = None) -> Scene:
    """Return photographs made flat and joined, or a scan to its scale.

    Args:
        square_mm: what the sheet's squares measure on paper where they are not 30 mm.
    Raises:
        IntakeError: a photograph shows no sheet (or none that another shows), or the sheets do not lie flat.
    """
    if dpi is not None:
        return Scene(_scan(pictures[0], dpi), {}, (None,), 0.0)
    seen = [find_sheets(cv2.cvtColor(p, cv2.COLOR_BGR2GRAY)) for p in pictures]
    seen = [[_measured(s, square_mm) for s in sheets] for sheets in seen]
    if any(not sheets for sheets in seen):
        which = "" if len(seen) == 1 else f"Photograph {1 + next(k for k, s in enumerate(seen) if not s)}: "
        raise IntakeError(which + NO_SHEET, "photo")
    planes = _planes(pictures, seen)
    poses: dict[int, Pose] = {}
    for plane in planes:
        poses.update(plane.poses)
    flats = [flattened(p, plane) for p, plane in zip(pictures, planes)]
    flat = flats[0] if len(flats) == 1 else _mosaic(flats, [_middle(p, s) for p, s in zip(planes, seen)])
    error = max(p.error_mm for p in planes)
    high, wide = pictures[0].shape[:2]
    sure = sureness_of(flat, planes, seen, (wide, high))
    return Scene(flat, poses, tuple(planes), error, _said(pictures, planes, seen, error), sure)


def _measured(sheet: SeenSheet, square_mm: float | None) -> SeenSheet:
    """Return a sheet as it was printed, where its squares are not 30 mm."""
    return sheet if square_mm is None else SeenSheet(sheet.sheet, sheet.pixels, sheet.mm * (square_mm / SQUARE_MM))


def _planes(pictures: Sequence[Picture], seen: Sequence[Sequence[SeenSheet]]) -> list[Plane]:
    """Return each photograph's plane in the first one's coordinates, passed on from photograph to photograph by shared sheets."""
    planes: dict[int, Plane] = {}
    known: dict[int, Pose] = {}
    todo = list(range(len(pictures)))
    while todo:
        ready = [k for k in todo if not known or any(s.sheet in known for s in seen[k])]
        if not ready:
            text = "The photographs share no calibration sheet. Leave the sheets in place between photographs."
            raise IntakeError(text, "photo")
        k = max(ready, key=lambda k: sum(len(s.mm) for s in seen[k] if not known or s.sheet in known))
        high, wide = pictures[k].shape[:2]
        planes[k] = fit_plane(
            seen[k], (wide, high), {s.sheet: known[s.sheet] for s in seen[k] if s.sheet in known} or None
        )
        known.update(planes[k].poses)
        todo.remove(k)
    return [planes[k] for k in range(len(pictures))]


def _middle(plane: Plane, seen: Sequence[SeenSheet]) -> tuple[float, float]:
    """Return the middle of what a photograph sees, mm."""
    at = plane.to_mm(np.asarray([plane.centre]))
    return float(at[0, 0]), float(at[0, 1])


def _mosaic(flats: Sequence[Flat], middles: Sequence[tuple[float, float]]) -> Flat:
    """Return flat pictures joined to one: each place from the photograph whose middle is nearest."""
    left, top = min(f.left for f in flats), min(f.top for f in flats)
    right = max(f.left + f.mm * f.picture.shape[1] for f in flats)
    foot = max(f.top + f.mm * f.picture.shape[0] for f in flats)
    mm = max(min(f.mm for f in flats), ((right - left) * (foot - top) / MOST_PIXELS) ** 0.5)
    columns, rows = round((right - left) / mm), round((foot - top) / mm)
    out = np.zeros((rows, columns, 3), dtype=np.uint8)
    best = np.full((rows, columns), np.inf, dtype=np.float32)
    xs, ys = left + mm * np.arange(columns), top + mm * np.arange(rows)
    for flat, (cx, cy) in zip(flats, middles):
        take = np.array(
            [[mm / flat.mm, 0, (left - flat.left) / flat.mm], [0, mm / flat.mm, (top - flat.top) / flat.mm]]
        )
        laid = cv2.warpAffine(flat.picture, take, (columns, rows), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP)
        far = np.hypot(xs[None, :] - cx, ys[:, None] - cy).astype(np.float32)
        nearer = (laid.max(axis=2) > 0) & (far < best)
        out[nearer], best[nearer] = laid[nearer], far[nearer]
    return Flat(out, mm, left, top)


def _scan(picture: Picture, dpi: float) -> Flat:
    """Return a flatbed scan as it is, made smaller where it is finer than is of use."""
    if not 20 <= dpi <= 4800:
        raise IntakeError(f"{dpi:g} dpi is no scanner's resolution: usual are 150 to 600.", "dpi")
    mm = 25.4 / dpi
    shrink = max(1.0, 0.12 / mm, (picture.shape[0] * picture.shape[1] / MOST_PIXELS) ** 0.5)
    if shrink > 1.0:
        picture = np.asarray(
            cv2.resize(picture, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA), dtype=np.uint8
        )
    return Flat(picture, mm * shrink, 0.0, 0.0)


def _said(
    pictures: Sequence[Picture], planes: Sequence[Plane], seen: Sequence[Sequence[SeenSheet]], error: float
) -> tuple[Finding, ...]:
    """Return what is to be said of the photographs: the error, blur, a slant, few squares."""
    text = f"The squares of the calibration sheet miss their places by {error:.2f} mm on average."
    findings = [Finding("care" if error > 0.6 else "note", "error", text)]
    corners = min(sum(len(s.mm) for s in sheets) for sheets in seen)
    if corners < 12:
        findings.append(
            Finding("care", "few-squares", f"Only {corners} corners of squares were seen: show the whole sheet.")
        )
    for picture, plane in zip(pictures, planes):
        slant = _slant(plane)
        if slant > 1.6:
            text = f"The photograph was taken at a slant: its far side is {slant:.1f} times smaller. Hold the camera level above."
            findings.append(Finding("care", "slant", text))
        grey = cv2.cvtColor(picture, cv2.COLOR_BGR2GRAY)
        if cv2.Laplacian(grey, cv2.CV_64F).var() < BLURRED:
            findings.append(Finding("care", "blurred", "The photograph is blurred. Hold still, or use more light."))
    return tuple(findings)


def _slant(plane: Plane) -> float:
    """Return how many times larger a millimetre is at one end of the picture than at the other."""
    cx, cy = plane.centre
    spots = np.array(
        [
            [cx - 0.8 * plane.reach, cy],
            [cx + 0.8 * plane.reach, cy],
            [cx, cy - 0.6 * plane.reach],
            [cx, cy + 0.6 * plane.reach],
        ]
    )
    sizes = []
    for spot in spots:
        near = plane.to_mm(spot + np.array([(0, 0), (2, 0), (0, 2)]))
        sizes.append(float(np.hypot(*(near[1] - near[0])) + np.hypot(*(near[2] - near[0]))))
    return max(sizes) / min(sizes)
