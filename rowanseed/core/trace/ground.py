"""A piece that lies on a ground of another colour: its outline, found to a fraction of a millimetre under uneven light."""

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.errors import IntakeError
from rowanseed.core.trace.board import COLUMNS, ROWS, SQUARE_MM
from rowanseed.core.trace.plane import Flat, posed
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

Floats = npt.NDArray[np.float64]
Mask = npt.NDArray[np.uint8]
COARSE_MM = 0.8
LEAST_MM2 = 1500.0
PAPER_EDGE_MM = 24.0  # the paper around the squares, of any size, with something to spare
ON_SHEET_MM = 15.0
LEAST_CONTRAST = 9.0  # distance in Lab; what is nearer than that cannot be told apart


def outline_on_ground(flat: Flat, poses: Sequence[tuple[float, float, float]]) -> Floats:
    """Return the outline of the largest thing that lies beside the sheets, n x 2 in mm, closed, its first point not repeated.

    Raises:
        IntakeError: nothing large enough stands out from the ground, or it reaches over the picture's edge.
    """
    mask, whole_sheets = _seen_mask(flat), _sheet_mask(flat, poses)
    far = _difference(flat, mask, whole_sheets)
    step = max(1, round(COARSE_MM / flat.mm))
    small = cv2.resize(far, None, fx=1 / step, fy=1 / step, interpolation=cv2.INTER_AREA)
    sheets = cv2.resize(whole_sheets, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    seen = cv2.resize(mask, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    level = _level(small, sheets, seen)
    piece = _largest((small > level) & (sheets == 0) & (seen > 0), flat.mm * step)
    _refuse_cut_off(piece, seen)
    _refuse_on_sheet(piece, sheets, flat.mm * step)
    whole = cv2.resize(piece, (far.shape[1], far.shape[0]), interpolation=cv2.INTER_LINEAR)
    rings, _ = cv2.findContours((whole > 127).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(rings, key=cv2.contourArea).reshape(-1, 2).astype(np.float64)
    return flat.to_mm(_on_the_edge(far, _even(ring, 1.0 / flat.mm), flat.mm))


def _seen_mask(flat: Flat) -> Mask:
    """Return which pixels of the flat picture were photographed, a little inside their edge."""
    mask = (cv2.cvtColor(flat.picture, cv2.COLOR_BGR2GRAY) > 0).astype(np.uint8)
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((7, 7), np.uint8))
    edge = max(3, round(2.0 / flat.mm))
    mask[:2], mask[-2:], mask[:, :2], mask[:, -2:] = 0, 0, 0, 0
    return np.asarray(cv2.erode(mask, np.ones((edge, edge), np.uint8)) * 255, dtype=np.uint8)


def _sheet_mask(flat: Flat, poses: Sequence[tuple[float, float, float]]) -> Mask:
    mask = np.zeros(flat.picture.shape[:2], dtype=np.uint8)
    e = PAPER_EDGE_MM
    wide, high = SQUARE_MM * COLUMNS, SQUARE_MM * ROWS["a4"]
    corners = np.array([[-e, -e], [wide + e, -e], [wide + e, high + e], [-e, high + e]])
    for pose in poses:
        cv2.fillConvexPoly(mask, np.round(flat.to_flat(posed(corners, pose))).astype(np.int32), 255)
    return mask


def _difference(flat: Flat, mask: Mask, sheets: Mask) -> npt.NDArray[np.float32]:
    """Return how far each pixel's colour is from that of the ground there (Lab), the light's slow change taken out.

    The ground's colour is a quadratic surface through the pixels that are like those along the picture's edge.
    """
    lab = cv2.cvtColor(flat.picture.astype(np.float32) / 255.0, cv2.COLOR_BGR2LAB)
    lab = cv2.GaussianBlur(lab, (0, 0), max(0.6, 0.25 / flat.mm))
    high, wide = lab.shape[:2]
    step = max(1, round(np.sqrt(high * wide / 60_000)))
    ys, xs = np.mgrid[0:high:step, 0:wide:step]
    seen = mask[::step, ::step] > 0
    free = seen & (sheets[::step, ::step] == 0)
    sample = lab[::step, ::step]
    margin = max(2, round(0.05 * min(sample.shape[:2])))
    edge = free & (cv2.erode(seen.astype(np.uint8), np.ones((2 * margin + 1, 2 * margin + 1), np.uint8)) == 0)
    ground = edge if edge.sum() > 200 else free
    terms = _terms(xs / wide - 0.5, ys / high - 0.5)
    # Along the edge another thing may lie: only what is near the most common colour there counts.
    common = np.median(sample[ground], axis=0)
    near = np.sqrt(np.sum((sample - common) ** 2, axis=2))
    ground = ground & (near < max(12.0, 1.5 * float(np.median(near[ground]))))
    for _ in range(6):
        weights, *_ = np.linalg.lstsq(terms[ground], sample[ground], rcond=None)
        miss = np.sqrt(np.sum((sample - terms @ weights) ** 2, axis=2))
        spread = max(2.0, 1.4826 * float(np.median(miss[ground])))
        grown = free & (miss < 3.5 * spread)
        if grown.sum() < 0.05 * free.sum() or np.array_equal(grown, ground):
            break
        ground = grown
    return _far_from(lab, weights)


def _far_from(lab: npt.NDArray[np.float32], weights: Floats) -> npt.NDArray[np.float32]:
    """Return how far each pixel is from the surfaces that six weights a channel give (6 x 3), as `_terms` orders them."""
    high, wide = lab.shape[:2]
    x = (np.arange(wide) / wide - 0.5)[None, :]
    y = (np.arange(high) / high - 0.5)[:, None]
    squares = np.zeros((high, wide), dtype=np.float32)
    for channel in range(3):
        c, cx, cy, cxx, cxy, cyy = (float(w) for w in weights[:, channel])
        along = (c + cx * x + cxx * x * x).astype(np.float32)
        miss = (
            lab[..., channel]
            - along
            - (cy * y + cyy * y * y).astype(np.float32)
            - (cxy * y).astype(np.float32) * x.astype(np.float32)
        )
        squares += miss * miss
    return np.sqrt(squares)


def _terms(x: Floats, y: Floats) -> Floats:
    return np.stack([np.ones_like(x), x, y, x * x, x * y, y * y], axis=-1)


def _level(far: npt.NDArray[np.float32], sheets: Mask, seen: Mask) -> float:
    """Return the distance from the ground's colour at which the piece begins (Otsu's threshold over what lies beside the sheets).

    Source: N. Otsu, A threshold selection method from gray-level histograms, 1979.
    """
    values = far[(sheets == 0) & (seen > 0)]
    if values.size < 500:
        raise IntakeError("Nothing is seen beside the sheet. Photograph sheet and piece together.", "photo")
    top = max(1.0, float(np.percentile(values, 99.5)))
    scaled = np.clip(values / top * 255, 0, 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled.reshape(-1, 1), 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    at = float(level) / 255 * top
    inside, outside = values[values > at], values[values <= at]
    if inside.size == 0 or float(np.median(inside)) - float(np.median(outside)) < LEAST_CONTRAST:
        text = (
            "The piece does not stand out from the ground. Lay it on a darker or lighter one, or click along its edge."
        )
        raise IntakeError(text, "photo")
    return at


def _largest(mask: npt.NDArray[np.bool_], mm: float) -> Mask:
    """Return the largest thing of a mask with its holes filled, as 0 and 255."""
    plain = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, labels, facts, _ = cv2.connectedComponentsWithStats(plain, connectivity=4)
    if count < 2 or facts[1:, cv2.CC_STAT_AREA].max() * mm * mm < LEAST_MM2:
        raise IntakeError(
            "No piece was found beside the sheet. Lay it on a ground of another colour, or click along its edge.",
            "photo",
        )
    largest = (labels == 1 + int(np.argmax(facts[1:, cv2.CC_STAT_AREA]))).astype(np.uint8)
    rings, _ = cv2.findContours(largest, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    filled = np.zeros_like(largest)
    cv2.drawContours(filled, rings, -1, 255, cv2.FILLED)
    return np.asarray(filled, dtype=np.uint8)


def _refuse_cut_off(piece: Mask, seen: Mask) -> None:
    rim = (seen > 0) & (cv2.erode(seen, np.ones((5, 5), np.uint8)) == 0)
    on_rim = int(np.count_nonzero((piece > 0) & rim))
    if on_rim > 12:
        text = "The piece reaches over the edge of the photograph. Photograph all of it, or in parts with the sheets left in place."
        raise IntakeError(text, "photo")


def _refuse_on_sheet(piece: Mask, sheets: Mask, mm: float) -> None:
    beside = cv2.dilate(sheets, np.ones((3, 3), np.uint8)) & cv2.bitwise_not(sheets)
    if int(np.count_nonzero((piece > 0) & (beside > 0))) * mm > ON_SHEET_MM:
        text = "The piece lies on the calibration sheet, or within 2 cm of its squares. Move them apart, or click along its edge."
        raise IntakeError(text, "photo")


def _even(ring: Floats, step: float) -> Floats:
    """Return a closed line smoothed over a step or two and with points a step apart (pixels)."""
    closed = np.vstack([ring, ring[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    count = max(24, round(along[-1] / step))
    at = np.linspace(0, along[-1], count, endpoint=False)
    even = np.stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])], axis=1)
    return (np.roll(even, 1, axis=0) + 2 * even + np.roll(even, -1, axis=0)) / 4


def _on_the_edge(far: npt.NDArray[np.float32], ring: Floats, mm: float) -> Floats:
    """Return a line moved onto the edge itself: square to it, to where the colour is half way between both sides."""
    reach = 2.4 / mm
    offsets = np.linspace(-reach, reach, 49)
    for _ in range(2):
        ahead = np.roll(ring, -2, axis=0) - np.roll(ring, 2, axis=0)
        normal = np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) / (np.hypot(*ahead.T)[:, None] + 1e-9)
        places = ring[:, None, :] + offsets[None, :, None] * normal[:, None, :]
        values = cv2.remap(far, places[..., 0].astype(np.float32), places[..., 1].astype(np.float32), cv2.INTER_LINEAR)
        a, b = np.median(values[:, :12], axis=1), np.median(values[:, -12:], axis=1)
        rising = np.where((b > a)[:, None], values, values[:, ::-1])
        half = ((a + b) / 2)[:, None]
        shift = _crossing(rising, half, offsets)
        shift = np.where(b > a, shift, -shift)
        weak = np.abs(a - b) < 0.35 * np.median(np.abs(a - b))
        shift = np.where(weak | np.isnan(shift), np.nan, shift)
        good = ~np.isnan(shift)
        if good.sum() < 12:
            return ring
        shift = np.interp(np.arange(len(shift)), np.flatnonzero(good), shift[good], period=len(shift))
        ring = ring + shift[:, None] * normal
    return ring


def _crossing(values: npt.NDArray[np.float32], half: npt.NDArray[np.float32], offsets: Floats) -> Floats:
    """Return where each row first rises through its half nearest to the middle, NaN where it does not."""
    above = values >= half
    rises = ~above[:, :-1] & above[:, 1:]
    middle = np.abs((offsets[:-1] + offsets[1:]) / 2)
    cost = np.where(rises, middle[None, :], np.inf)
    at = np.argmin(cost, axis=1)
    rows = np.arange(len(values))
    low, high = values[rows, at], values[rows, at + 1]
    share = (half[:, 0] - low) / np.where(high > low, high - low, 1.0)
    place = offsets[at] + share * (offsets[at + 1] - offsets[at])
    return np.where(np.isfinite(cost[rows, at]), place, np.nan)
