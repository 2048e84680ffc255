"""The calibration sheet: a board of squares with markers (ChArUco), found again in a photograph to a fraction of a pixel.

Source: OpenCV's documentation of ChArUco boards; the markers are those of its dictionary of 5 x 5 bits.
"""

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

SQUARE_MM = 30.0
MARKER_MM = 21.0  # seven modules of 3 mm
COLUMNS = 6
ROWS = {"a4": 9, "letter": 8}
PAPER_MM = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
SHEETS = 8
MODULE_MM = 1.5
MARKERS = COLUMNS * ROWS["a4"] // 2
Pixels = npt.NDArray[np.float64]
Grey = npt.NDArray[np.uint8]


def dictionary() -> "cv2.aruco.Dictionary":
    """The markers in use."""
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_250)


def board(sheet: int, rows: int = ROWS["a4"]) -> "cv2.aruco.CharucoBoard":
    """The board on sheet 0, 1, ...: each has markers of its own; the Letter sheet is the A4 one without its last row."""
    ids = np.arange(sheet * MARKERS, sheet * MARKERS + COLUMNS * rows // 2)
    return cv2.aruco.CharucoBoard((COLUMNS, rows), SQUARE_MM, MARKER_MM, dictionary(), ids)


def modules(sheet: int, rows: int) -> npt.NDArray[np.bool_]:
    """Return which modules of 1.5 mm of a sheet's board are black, rows x columns."""
    side = round(SQUARE_MM / MODULE_MM)
    drawn = board(sheet, rows).generateImage((COLUMNS * side, rows * side))
    return np.asarray(drawn < 128)


@dataclass(frozen=True)
class SeenSheet:
    """A sheet in a photograph: its number, its corners of squares there (n x 2 pixels) and on the sheet (n x 2 mm)."""

    sheet: int
    pixels: Pixels
    mm: Pixels


def find_sheets(grey: Grey) -> list[SeenSheet]:
    """Return the sheets that a photograph shows, the one with most corners first."""
    seen = _sheets_in(grey, 1.0)
    if seen or max(grey.shape) < 1500:
        return seen
    return _sheets_in(cv2.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), 0.5)


def _sheets_in(grey: Grey, scale: float) -> list[SeenSheet]:
    parameters = cv2.aruco.DetectorParameters()
    parameters.adaptiveThreshWinSizeMax = 53
    parameters.adaptiveThreshWinSizeStep = 10
    parameters.minMarkerPerimeterRate = 0.008
    corners, ids, _ = cv2.aruco.ArucoDetector(dictionary(), parameters).detectMarkers(grey)
    if ids is None:
        return []
    seen = []
    for sheet in sorted({int(i) // MARKERS for i in ids.ravel()}):
        own = [k for k, i in enumerate(ids.ravel()) if int(i) // MARKERS == sheet]
        if sheet >= SHEETS or len(own) < 2:
            continue
        detector = cv2.aruco.CharucoDetector(board(sheet))
        places, numbers, _, _ = detector.detectBoard(
            grey,
            markerCorners=tuple(corners[k] for k in own),
            markerIds=np.asarray([ids.ravel()[k] for k in own], dtype=np.int32),
        )
        if numbers is None or len(numbers) < 4:
            continue
        mm = board(sheet).getChessboardCorners()[numbers.ravel()][:, :2].astype(np.float64)
        seen.append(SeenSheet(sheet, (places.reshape(-1, 2).astype(np.float64) + 0.5) / scale - 0.5, mm))
    return sorted(seen, key=lambda s: -len(s.mm))
