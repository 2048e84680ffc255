"""What is cloth or tissue and what is only light: things told apart by the one ratio of colours that their whole edge has.

On both sides of a thing's edge falls the same light, in the sun as in a shadow: the ratio of the colours across the edge is the
same all round. Across a shadow's border the light changes and nothing else, by another ratio. So the picture is parted into
fields of even colour, the ratios across their borders are gathered, and for each common ratio the fields are labelled so that
borders of that ratio are steps and all others are none.

Source: E. Land and J. McCann, Lightness and retinex theory, 1971 (ratios at edges, light taken out); the labelling integrates the
steps over the fields by least squares.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
    from scipy.sparse import coo_matrix
    from scipy.sparse.linalg import spsolve
    from scipy.spatial import cKDTree
    from skimage.segmentation import watershed
else:
    cv2, watershed, cKDTree = (
        lazily("cv2"),
        lazily("skimage.segmentation", "watershed"),
        lazily("scipy.spatial", "cKDTree"),
    )
    coo_matrix, spsolve = lazily("scipy.sparse", "coo_matrix"), lazily("scipy.sparse.linalg", "spsolve")

Floats = npt.NDArray[np.float64]
Logs = npt.NDArray[np.float32]
Mask = npt.NDArray[np.uint8]
Labels = npt.NDArray[np.int32]
DARK = 6.0  # levels: below it a camera's own noise is most of what is seen
FLAT = 0.05  # a change of colour over a few mm that is none
LEAST_RATIO = 0.07  # logarithm: what is nearer to the ground than 7 % cannot be told from it
SPAN = 4  # pixels to each side over which colours are compared
SEED_PX = 12
MOST_RATIOS = 10
MOST_PARTS = 16  # things of one colour in a photograph
LEAST_PX = 800


@dataclass(frozen=True)
class Borders:
    """Places where two fields meet: the fields' numbers, the logarithms of the second's colour over the first's (n x 3)."""

    first: npt.NDArray[np.int32]
    second: npt.NDArray[np.int32]
    ratio: Floats


@dataclass(frozen=True)
class Thing:
    """A thing that lies on the ground: where (0 and 255), its colour over the ground's (logarithms), its area in pixels.

    `supported`: the share of its border across which the colours have that ratio; `cut_off`: it reaches over the picture's edge.
    """

    mask: Mask
    ratio: Floats
    area: int
    supported: float
    cut_off: bool


def logs_of(picture: npt.NDArray[np.uint8] | Floats) -> Logs:
    """Return the logarithms of a picture's colours: what light does to them is added, not multiplied."""
    return np.log(picture.astype(np.float32) + DARK)


def things(picture: npt.NDArray[np.uint8], free: Mask) -> list[Thing]:
    """Return what lies on the ground of a flat picture, the likeliest piece first.

    Args:
        picture: rows x columns x 3, about a millimetre a pixel.
        free: which pixels count (255), the sheets and what was not photographed left out.
    """
    calm = np.stack([cv2.medianBlur(np.ascontiguousarray(picture[..., k]), 5) for k in range(3)], axis=-1)
    logs = cv2.GaussianBlur(logs_of(calm), (0, 0), 0.7)
    fields = _fields(logs, free)
    borders = _borders(logs, fields, free)
    found: list[Thing] = []
    for ratio in _common_ratios(borders):
        level = _levels(fields, borders, ratio, free)
        found += _parts(fields, level, borders, ratio, free)
    return _without_doubles(sorted(found, key=_rank, reverse=True))


def _rank(thing: Thing) -> tuple[bool, float]:
    """What is whole before what is cut off; the larger, and by far the better told from the ground, the likelier."""
    return (not thing.cut_off, thing.area * thing.supported**4)


def _steepness(logs: Logs) -> npt.NDArray[np.float32]:
    """Return how much the colour changes over a few mm about each pixel."""
    out = np.zeros(logs.shape[:2], dtype=np.float32)
    box = np.array([-1, -1, -1, 0, 1, 1, 1], dtype=np.float32)[None, :] / 3
    side = np.ones((3, 1), dtype=np.float32) / 3
    for k in range(3):
        across = cv2.sepFilter2D(logs[..., k], cv2.CV_32F, box.ravel(), side.ravel())
        down = cv2.sepFilter2D(logs[..., k], cv2.CV_32F, side.ravel(), box.ravel())
        out += across**2 + down**2
    return np.sqrt(out)


def _fields(logs: Logs, free: Mask) -> Labels:
    """Return fields of even colour, numbered from 1; 0 where the picture does not count."""
    steep = _steepness(logs)
    even = ((steep < FLAT) & (free > 0)).astype(np.uint8)
    even = cv2.erode(even, np.ones((3, 3), np.uint8))
    count, seeds, facts, _ = cv2.connectedComponentsWithStats(even, connectivity=4)
    small = np.flatnonzero(facts[:, cv2.CC_STAT_AREA] < SEED_PX)
    seeds[np.isin(seeds, small)] = 0
    if count - len(small) < 3:  # a rough ground has no even places: its own hollows are the seeds
        seeds = np.zeros_like(seeds)
    rough = (free > 0) & (cv2.dilate((seeds > 0).astype(np.uint8), np.ones((9, 9), np.uint8)) == 0)
    lowest = rough & (steep <= cv2.erode(steep, np.ones((9, 9), np.uint8)))
    _, own = cv2.connectedComponents(lowest.astype(np.uint8))
    seeds = np.where(own > 0, own + count, seeds)
    return np.asarray(
        watershed(steep, seeds, mask=free > 0),  # type: ignore[no-untyped-call]
        dtype=np.int32,
    )


def _borders(logs: Logs, fields: Labels, free: Mask) -> Borders:
    """Return where fields meet along rows and columns, with the colours a little way into both."""
    parts = [_along_rows(logs, fields), _along_rows(logs.transpose(1, 0, 2), fields.T)]
    return Borders(*(np.concatenate([p[k] for p in parts]) for k in range(3)))


def _along_rows(logs: Logs, fields: Labels) -> tuple[npt.NDArray[np.int32], npt.NDArray[np.int32], Floats]:
    a, b = fields[:, SPAN - 1 : -SPAN], fields[:, SPAN : 1 - SPAN or None]
    far_a, far_b = fields[:, : -2 * SPAN + 1], fields[:, 2 * SPAN - 1 :]
    ys, xs = np.nonzero((a != b) & (a > 0) & (b > 0) & (a == far_a) & (b == far_b))
    at = xs + SPAN - 1
    before = (logs[ys, at - 3] + logs[ys, at - 2] + logs[ys, at - 1]) / 3
    after = (logs[ys, at + 2] + logs[ys, at + 3] + logs[ys, at + 4]) / 3
    return fields[ys, at], fields[ys, at + 1], (after - before).astype(np.float64)


def _close(ratio: Floats) -> float:
    """Return how far a ratio may be from a common one and still be it."""
    return 0.03 + 0.22 * float(np.linalg.norm(ratio))


def _common_ratios(borders: Borders) -> list[Floats]:
    """Return the ratios that many places share, the commonest first; one and its inverse are one."""
    size = np.linalg.norm(borders.ratio, axis=1)
    strong = borders.ratio[size > LEAST_RATIO]
    if len(strong) < 30:
        return []
    both = np.vstack([strong, -strong])
    found: list[Floats] = []
    left = np.ones(len(both), dtype=bool)
    for _ in range(MOST_RATIOS):
        rest = both[left]
        if len(rest) < 60:
            break
        sample = rest[:: max(1, len(rest) // 1500)]
        tree = cKDTree(rest)
        counts = np.array([len(tree.query_ball_point(v, 0.5 * _close(v))) for v in sample])
        best = sample[int(np.argmax(counts * np.linalg.norm(sample, axis=1) ** 0.5))]
        for _ in range(4):
            near = np.linalg.norm(rest - best, axis=1) < 0.6 * _close(best)
            best = np.median(rest[near], axis=0)
        if counts.max() < 30:
            break
        found.append(best)
        for sign in (1, -1):
            left &= np.linalg.norm(both - sign * best, axis=1) > _close(best)
    return found


def _steps(borders: Borders, ratio: Floats) -> Floats:
    """Return +1 or -1 where a border has the ratio or its inverse, else 0."""
    close = _close(ratio)
    up = np.linalg.norm(borders.ratio - ratio, axis=1) < close
    down = np.linalg.norm(borders.ratio + ratio, axis=1) < close
    return up.astype(np.float64) - down


def _levels(fields: Labels, borders: Borders, ratio: Floats, free: Mask) -> Floats:
    """Return each field's level, by its number: 0 the ground along the picture's rim, 1 what the ratio's steps lead up to."""
    count = int(fields.max()) + 1
    steps = _steps(borders, ratio)
    # A border whose ratio lies near that of the steps tells little either way.
    doubt = np.minimum(
        np.linalg.norm(borders.ratio - ratio, axis=1), np.linalg.norm(borders.ratio + ratio, axis=1)
    ) / np.linalg.norm(ratio)
    weight = np.where(steps != 0, 1.0, np.where(doubt < 0.6, 0.1, 0.5))
    weight = np.where((steps == 0) & (np.linalg.norm(borders.ratio, axis=1) < LEAST_RATIO), 1.0, weight)
    rim = _rim(free)
    hold = 0.02 * np.bincount(fields[rim], minlength=count)
    a, b = borders.first, borders.second
    rows = np.concatenate([a, b, a, b, np.arange(count)])
    columns = np.concatenate([a, b, b, a, np.arange(count)])
    values = np.concatenate([weight, weight, -weight, -weight, hold + 1e-6])
    matrix = coo_matrix((values, (rows, columns)), shape=(count, count)).tocsc()
    aim = np.bincount(b, weight * steps, count) - np.bincount(a, weight * steps, count)
    return np.asarray(spsolve(matrix, aim))


def _rim(free: Mask) -> npt.NDArray[np.bool_]:
    """Return the pixels along the edge of what was photographed (not of the sheets)."""
    rim = np.zeros(free.shape, dtype=bool)
    rows, columns = np.flatnonzero(free.any(axis=1)), np.flatnonzero(free.any(axis=0))
    if len(rows) and len(columns):
        edge = 4
        rim[rows[0] : rows[0] + edge], rim[rows[-1] - edge + 1 : rows[-1] + 1] = True, True
        rim[:, columns[0] : columns[0] + edge], rim[:, columns[-1] - edge + 1 : columns[-1] + 1] = True, True
    whole = cv2.morphologyEx(free, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    outer = (free > 0) & (cv2.erode(whole, np.ones((5, 5), np.uint8), borderValue=0) == 0)
    return (rim | outer) & (free > 0)


def _parts(fields: Labels, level: Floats, borders: Borders, ratio: Floats, free: Mask) -> list[Thing]:
    """Return the things that stand on the ground by one ratio's steps, up or down."""
    found = []
    steps = _steps(borders, ratio)
    for sign in (1.0, -1.0):
        on = (sign * level > 0.5)[fields] & (free > 0)
        count, numbers, facts, _ = cv2.connectedComponentsWithStats(on.astype(np.uint8), connectivity=4)
        for k in sorted(range(1, count), key=lambda k: -facts[k, cv2.CC_STAT_AREA])[:MOST_PARTS]:
            if facts[k, cv2.CC_STAT_AREA] < LEAST_PX:
                break
            found.append(_thing(numbers == k, fields, borders, sign * steps, sign * ratio, free))
    return found


def _thing(
    part: npt.NDArray[np.bool_], fields: Labels, borders: Borders, steps: Floats, ratio: Floats, free: Mask
) -> Thing:
    rings, _ = cv2.findContours(part.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    mask = np.zeros(part.shape, dtype=np.uint8)
    cv2.drawContours(mask, rings, -1, 255, cv2.FILLED)
    inside = np.zeros(int(fields.max()) + 1, dtype=bool)
    inside[np.unique(fields[mask > 0])] = True
    a, b = inside[borders.first], inside[borders.second]
    into = np.where(b, steps, -steps)[a != b]
    supported = float((into > 0).mean()) if len(into) else 0.0
    return Thing(mask, ratio, int((mask > 0).sum()), supported, int((part & _rim(free)).sum()) > 12)


def _without_doubles(found: Sequence[Thing]) -> list[Thing]:
    """Return things of which none covers nearly the same place as a better one."""
    kept: list[Thing] = []
    for thing in found:
        alike = [k for k in kept if np.count_nonzero(k.mask & thing.mask) > 0.9 * np.count_nonzero(k.mask | thing.mask)]
        if not alike:
            kept.append(thing)
    return kept
