"""The repeat of a print from a flat photograph: straightened by a rectangle of known size, then found by autocorrelation.

A picture is an array of grey values, rows across the cloth and columns along it. Source of the method: common practice in image
work (a periodic picture correlates with itself one period further), no published source.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rowanseed.core.errors import RowanseedError

Grey = npt.NDArray[np.float64]
Corner = tuple[float, float]
PX_PER_MM = 2.0
MOST_PX = 1600  # of a straightened picture, each way
LEAST_LAG_MM = 6.0  # a shorter repeat is a texture
SURE = 0.25  # correlation above which a repeat is believed
RISES = 0.12  # how far correlations must rise and fall over a picture that repeats
NEARLY = 0.8  # a shorter lag this nearly as good as the best is the repeat, the best a multiple of it


class PhotoError(RowanseedError):
    """A photograph that no repeat can be read from."""

    code = "photo-unreadable"


@dataclass(frozen=True)
class RepeatFound:
    """A repeat read from a picture: along and across, mm, 0 where it has none; how surely (0 to 1); whether it is a half drop."""

    along_mm: float
    across_mm: float
    sure: float
    half_drop: bool = False


def straightened(
    picture: npt.NDArray[np.float64], corners: tuple[Corner, ...], along_mm: float, across_mm: float
) -> tuple[Grey, float]:
    """The picture seen straight from above, and its pixels per mm.

    Args:
        picture: rows x columns, or rows x columns x colours.
        corners: where the corners of a known rectangle lie in the picture (x, y): at the cut end near the first edge, then along
            the cloth, then the far corner, then across; px.
        along_mm, across_mm: the rectangle's sides.
    Raises:
        PhotoError: the corners do not go round a rectangle.
    """
    scale = min(PX_PER_MM, MOST_PX / max(along_mm, across_mm))
    to = ((0.0, 0.0), (along_mm, 0.0), (along_mm, across_mm), (0.0, across_mm))
    way = _homography(to, corners)
    # As much of the cloth as the picture shows beyond the rectangle, up to half of it each way.
    x0, x1, y0, y1 = -0.5 * along_mm, 1.5 * along_mm, -0.5 * across_mm, 1.5 * across_mm
    columns, rows = int((x1 - x0) * scale), int((y1 - y0) * scale)
    xs, ys = np.meshgrid(x0 + (np.arange(columns) + 0.5) / scale, y0 + (np.arange(rows) + 0.5) / scale)
    places = np.stack((xs, ys, np.ones_like(xs)), axis=-1) @ way.T
    px, py = places[..., 0] / places[..., 2], places[..., 1] / places[..., 2]
    inside = (px >= 0) & (px <= picture.shape[1] - 1) & (py >= 0) & (py <= picture.shape[0] - 1)
    whole_columns, whole_rows = _shown(inside)
    found = _bilinear(picture, px[whole_rows, whole_columns], py[whole_rows, whole_columns])
    if min(found.shape[:2]) < 16:
        raise PhotoError("The marked rectangle is too small in this photograph.", "corners")
    return found, scale


def _shown(inside: npt.NDArray[np.bool_]) -> tuple[slice, slice]:
    """The columns and rows about the middle that the picture shows whole."""
    rows, columns = inside.shape
    r0, r1, c0, c1 = rows // 4, rows - rows // 4, columns // 4, columns - columns // 4
    step = max(1, min(rows, columns) // 200)
    while r0 - step >= 0 and inside[r0 - step, c0:c1].all():
        r0 -= step
    while r1 + step <= rows and inside[r1 + step - 1, c0:c1].all():
        r1 += step
    while c0 - step >= 0 and inside[r0:r1, c0 - step].all():
        c0 -= step
    while c1 + step <= columns and inside[r0:r1, c1 + step - 1].all():
        c1 += step
    return slice(c0, c1), slice(r0, r1)


def _homography(here: tuple[Corner, ...], there: tuple[Corner, ...]) -> Grey:
    """The way that carries four places to four others, 3 x 3. Raises PhotoError where they do not go round a rectangle."""
    if len(there) != 4 or not _convex(there):
        raise PhotoError("Mark the four corners in turn, going round the rectangle.", "corners")
    rows, right = [], []
    for (x, y), (u, v) in zip(here, there, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    way = np.linalg.solve(np.array(rows, np.float64), np.array(right, np.float64))
    return np.append(way, 1.0).reshape(3, 3)


def _convex(corners: tuple[Corner, ...]) -> bool:
    turns = []
    for k in range(4):
        (ax, ay), (bx, by), (cx, cy) = corners[k - 1], corners[k], corners[(k + 1) % 4]
        turns.append((bx - ax) * (cy - by) - (by - ay) * (cx - bx))
    return all(t > 1.0 for t in turns) or all(t < -1.0 for t in turns)


def _bilinear(picture: npt.NDArray[np.float64], x: Grey, y: Grey) -> Grey:
    x0 = np.clip(np.floor(x).astype(np.int64), 0, picture.shape[1] - 2)
    y0 = np.clip(np.floor(y).astype(np.int64), 0, picture.shape[0] - 2)
    fx, fy = np.clip(x - x0, 0, 1), np.clip(y - y0, 0, 1)
    if picture.ndim == 3:
        fx, fy = fx[..., None], fy[..., None]
    top = picture[y0, x0] * (1 - fx) + picture[y0, x0 + 1] * fx
    low = picture[y0 + 1, x0] * (1 - fx) + picture[y0 + 1, x0 + 1] * fx
    found: Grey = top * (1 - fy) + low * fy
    return found


def grey_of(picture: npt.NDArray[np.float64]) -> Grey:
    """Grey values of a picture in colour, by what the eye makes of red, green and blue (ITU-R BT.601, from memory)."""
    if picture.ndim == 2:
        return picture
    found: Grey = picture[..., :3] @ np.array([0.299, 0.587, 0.114])
    return found


def find_repeat(picture: Grey, px_per_mm: float) -> RepeatFound:
    """The repeat of a straightened picture that shows at least two repeats each way; 0 where it shows none.

    Raises:
        PhotoError: the picture shows no figure at all.
    """
    correlation = _autocorrelation(picture)
    rows, columns = correlation.shape
    least = max(3, round(LEAST_LAG_MM * px_per_mm))
    along, sure_along = _period(correlation[0, : columns // 2], least)
    across, sure_across = _period(correlation[: rows // 2, 0], least)
    half_drop = False
    if along and across and (across > 2 * least):
        # A half drop comes again straight across only after two columns; one column on it lies half a repeat further.
        near = correlation[round(across / 2), round(along / 2)]
        half_drop = bool(near > SURE and near > NEARLY * min(sure_along, sure_across))
        straight = correlation[round(across / 2), 0]
        half_drop = half_drop and bool(straight < NEARLY * near)
    sure = max(sure_along, sure_across)
    if not along and not across:
        raise PhotoError(
            "No repeat shows in this photograph. It must show two repeats at least, flat and evenly lit.", "photo"
        )
    return RepeatFound(along / px_per_mm, (across / 2 if half_drop else across) / px_per_mm, float(sure), half_drop)


def _autocorrelation(picture: Grey) -> Grey:
    """How well a picture agrees with itself moved by rows and columns, 1 for not at all; uneven light is taken out first."""
    even = picture - _light(picture)
    if float(even.std()) < 1e-6:
        raise PhotoError("This photograph shows one even colour.", "photo")
    rows, columns = even.shape
    shape = (2 * rows, 2 * columns)
    spectrum = np.abs(np.fft.rfft2(even, shape)) ** 2
    raw = np.fft.irfft2(spectrum, shape)[:rows, :columns]
    overlap = np.outer(rows - np.arange(rows), columns - np.arange(columns))
    found: Grey = (raw / overlap) / (raw[0, 0] / overlap[0, 0])
    return found


def _light(picture: Grey) -> Grey:
    """The slow change of light over a picture: the plane that fits it best."""
    rows, columns = picture.shape
    ys, xs = np.mgrid[0:rows, 0:columns]
    terms = np.stack((xs.ravel() / columns, ys.ravel() / rows, np.ones(picture.size)), axis=1)
    plane, *_ = np.linalg.lstsq(terms, picture.ravel(), rcond=None)
    fitted: Grey = (terms @ plane).reshape(rows, columns)
    return fitted


def _period(line: Grey, least: int) -> tuple[float, float]:
    """The lag at which a line of correlations comes again, in samples and refined over its multiples, and how well; 0 for none."""
    # What is of one colour this way correlates at every lag: only what rises above that tells of a repeat.
    floor = float(line.min())
    if len(line) <= least or float(line[least:].max()) - floor < RISES:
        return 0.0, 0.0
    line = (line - floor) / (1.0 - floor)
    tops = [
        k for k in range(least, len(line) - 1) if line[k] > line[k - 1] and line[k] >= line[k + 1] and line[k] > SURE
    ]
    if not tops:
        return 0.0, 0.0
    best = max(float(line[k]) for k in tops)
    first = next(k for k in tops if line[k] >= NEARLY * best)
    period = _refined(line, first)
    for times in range(2, int((len(line) - 2) / period) + 1):
        near = round(period * times)
        window = range(max(near - 3, 1), min(near + 4, len(line) - 1))
        top = max(window, key=lambda k: line[k], default=0)
        if top and line[top] > 0.5 * line[first]:
            period = _refined(line, top) / times
    return period, float(line[first])


def _refined(line: Grey, k: int) -> float:
    """A peak's place between samples, by the parabola through three of them."""
    a, b, c = float(line[k - 1]), float(line[k]), float(line[k + 1])
    bend = a - 2 * b + c
    return k + (0.5 * (a - c) / bend if bend else 0.0)
