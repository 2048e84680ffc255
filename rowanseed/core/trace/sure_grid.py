"""How sure the places of a flat picture are, worked out from its planes; and what a second calibration sheet would give."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from rowanseed.core.trace.board import COLUMNS, ROWS, SQUARE_MM, SeenSheet
from rowanseed.core.trace.plane import Flat, Plane, fit_plane, posed
from rowanseed.core.trace.sureness import GRID, Rows, Sureness

Floats = npt.NDArray[np.float64]
INSET_MM = 150.0  # from the picture's corner to the middle of a sheet that lies there
SEEN_PX = 0.1  # how far the supposed sheet's corners are seen from their places


def sureness_of(
    flat: Flat, planes: Sequence[Plane], seen: Sequence[Sequence[SeenSheet]], size: tuple[int, int]
) -> Sureness:
    """Return how sure a flat picture's places are, by the photograph that shows each most surely.

    Args:
        size: width and height of the first photograph, pixels.
    """
    high, wide = flat.picture.shape[:2]
    right, foot = flat.left + wide * flat.mm, flat.top + high * flat.mm
    xs, ys = np.linspace(flat.left, right, GRID), np.linspace(flat.top, foot, GRID)
    places = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    off = np.min([plane.off_mm(places) for plane in planes], axis=0)
    second = _with_second(planes[0], seen[0], size, places, off) if len(planes) == 1 and len(seen[0]) == 1 else ()
    return Sureness(flat.left, flat.top, right, foot, _rows(off), second)


def _rows(values: Floats) -> Rows:
    return tuple(tuple(round(float(v), 3) for v in row) for row in values.reshape(GRID, GRID))


def _with_second(plane: Plane, seen: Sequence[SeenSheet], size: tuple[int, int], places: Floats, off: Floats) -> Rows:
    """The grid as it would be with another sheet where places are least sure, its squares seen as well as the first one's."""
    far = places[int(np.argmax(off))]
    middle = places.mean(axis=0)
    toward = (middle - far) / max(1.0, float(np.hypot(*(middle - far))))
    place = far + INSET_MM * toward - (SQUARE_MM * COLUMNS / 2, SQUARE_MM * ROWS["a4"] / 2)
    at_squares = np.asarray(
        np.stack(np.meshgrid(np.arange(1, COLUMNS), np.arange(1, ROWS["a4"])), axis=-1).reshape(-1, 2) * SQUARE_MM,
        dtype=np.float64,
    )
    other = max(s.sheet for s in seen) + 1
    pixels = plane.to_pixels(posed(at_squares, (float(place[0]), float(place[1]), 0.0)))
    pixels = pixels + np.random.default_rng(1).normal(0, SEEN_PX, pixels.shape)
    return _rows(fit_plane([*seen, SeenSheet(other, np.asarray(pixels), at_squares)], size).off_mm(places))
