"""A piece that lies on a ground of another colour: its outline, found to a fraction of a millimetre in whatever light there is."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import numpy.typing as npt

from rowanseed.core.errors import Finding, IntakeError
from rowanseed.core.geometry.types import Outline
from rowanseed.core.trace.board import COLUMNS, ROWS, SQUARE_MM
from rowanseed.core.trace.material import Thing, logs_of, things
from rowanseed.core.trace.plane import Flat, posed
from rowanseed.core.trace.sharp import sharpened
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

Floats = npt.NDArray[np.float64]
Mask = npt.NDArray[np.uint8]
COARSE_MM = 1.0
LEAST_MM2 = 1500.0
PAPER_EDGE_MM = 24.0  # the paper around the squares, of any size, with something to spare
ON_SHEET_MM = 15.0
LEAST_SUPPORT = 0.6  # of a border, across which the colours have the piece's own ratio
OTHER_COLOUR, OTHER_LEAST = (
    0.13,
    0.05,
)  # a ratio that misses the piece's own by so much of it is another thing's, or a fold's
ROUGH = 5.0  # times the usual miss: on a ground of many tones the ratio changes everywhere
REACH_MM, BESIDE_MM = (
    2.4,
    4.2,
)  # the edge is looked for so far to both sides, the colours beside it are taken up to there
LIT_PERCENT = 70  # of the colours beside an edge: what is darker may be a printed line
UNSURE_MM = 16.0  # a shorter stretch is a notch, a word, a thread
MOST_FOUND = 16


@dataclass(frozen=True)
class Found:
    """A thing beside the sheets: its outline in mm, which points are corners, the stretches of it that are not sure."""

    outline: Outline
    corners: tuple[int, ...]
    unsure: tuple[Outline, ...] = ()
    findings: tuple[Finding, ...] = ()

    @property
    def unsure_mm(self) -> float:
        """How long the stretches are together, mm."""
        return float(sum(np.hypot(*np.diff(np.asarray(part), axis=0).T).sum() for part in self.unsure))


def found_beside(flat: Flat, poses: Sequence[tuple[float, float, float]]) -> list[Found]:
    """Return what lies beside the sheets, the likeliest piece first, then what is of its colour, then what is not.

    Raises:
        IntakeError: nothing large enough stands out from the ground, or what does reaches over the picture's edge or onto a sheet.
    """
    seen, sheets = _seen_mask(flat), _sheet_mask(flat, poses)
    shrink = max(1.0, COARSE_MM / flat.mm)
    small = np.asarray(
        cv2.resize(flat.picture, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA), dtype=np.uint8
    )
    size = (small.shape[1], small.shape[0])
    free = cv2.resize(seen & cv2.bitwise_not(sheets), size, interpolation=cv2.INTER_NEAREST)
    if np.count_nonzero(free) < 500:
        raise IntakeError("Nothing is seen beside the sheet. Photograph sheet and piece together.", "photo")
    all_things = things(small, np.asarray(free, dtype=np.uint8))
    least = LEAST_MM2 / (flat.mm * shrink) ** 2
    pieces = [t for t in all_things if t.area >= least and t.supported >= LEAST_SUPPORT]
    whole = [t for t in pieces if not t.cut_off]
    if not whole:
        raise IntakeError(_why_none(pieces), "photo")
    best = whole[0]
    small_sheets = np.asarray(cv2.resize(sheets, size, interpolation=cv2.INTER_NEAREST), dtype=np.uint8)
    _refuse_on_sheet(best.mask, small_sheets, flat.mm * shrink)
    blurred = cv2.GaussianBlur(flat.picture, (0, 0), max(0.6, 0.25 / flat.mm))
    found = [_refined(flat, blurred, t) for t in _in_order(whole)[:MOST_FOUND]]
    said = _said(best, whole, all_things)
    first = found[0]
    return [Found(first.outline, first.corners, first.unsure, (*first.findings, *said)), *found[1:]]


def _why_none(pieces: Sequence[Thing]) -> str:
    if not pieces:
        return "No piece stands out from the ground. Lay it on a darker or lighter one, or click along its edge."
    return (
        "What stands out from the ground reaches over the edge of the photograph: the piece is cut off, or a shadow of its own "
        "tone touches it. Photograph all of it in even light (in parts, the sheets left in place), or click along its edge."
    )


def _in_order(whole: Sequence[Thing]) -> list[Thing]:
    """The likeliest piece, then what has its colour, the largest first, then the rest."""
    best = whole[0]
    rest = sorted(whole[1:], key=lambda t: (not _alike(t, best), -t.area))
    apart = [t for t in rest if np.count_nonzero(t.mask & best.mask) < 0.05 * t.area]
    return [best, *apart]


def _alike(a: Thing, b: Thing) -> bool:
    return float(np.linalg.norm(a.ratio - b.ratio)) < 0.25 * float(np.linalg.norm(b.ratio))


def _said(best: Thing, whole: Sequence[Thing], all_things: Sequence[Thing]) -> list[Finding]:
    """What is to be said of how a piece was told from others: a shadow over it, another outline that is as likely."""
    said = []
    if any(_is_shadow(t) and 0.03 < _share(t, best) < 0.97 for t in all_things):
        said.append(Finding("note", "shadow", "A shadow lies over the piece: its border is left out of the outline."))
    rivals = [t for t in whole[1:] if t.supported > 0.8 and _share(t, best) > 0.1 and t.area > 0.3 * best.area]
    if rivals:
        text = "More than one line around the piece could be its edge: look closely, or click along it. Even light settles it."
        said.append(Finding("care", "which-line", text))
    return said


def _share(other: Thing, best: Thing) -> float:
    """The share of the piece that another thing covers."""
    return float(np.count_nonzero(other.mask & best.mask)) / best.area


def _is_shadow(thing: Thing) -> bool:
    """Whether a thing is but darker than the ground, in all colours alike."""
    r = thing.ratio
    return bool(r.max() < 0 and r.max() - r.min() < 0.35 * float(np.linalg.norm(r)) and thing.supported > 0.7)


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


def _refuse_on_sheet(piece: Mask, sheets: Mask, mm: float) -> None:
    beside = cv2.dilate(sheets, np.ones((3, 3), np.uint8)) & cv2.bitwise_not(sheets)
    if int(np.count_nonzero((piece > 0) & (beside > 0))) * mm > ON_SHEET_MM:
        text = "The piece lies on the calibration sheet, or within 2 cm of its squares. Move them apart, or click along its edge."
        raise IntakeError(text, "photo")


def _refined(flat: Flat, blurred: npt.NDArray[np.uint8], thing: Thing) -> Found:
    """Return a thing's outline moved onto its edge in the whole picture, and where it is not sure."""
    high, wide = flat.picture.shape[:2]
    whole = cv2.resize(thing.mask, (wide, high), interpolation=cv2.INTER_LINEAR)
    rings, _ = cv2.findContours((whole > 127).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = _even(max(rings, key=cv2.contourArea).reshape(-1, 2).astype(np.float64), 1.0 / flat.mm)
    ring, off = _on_the_edge(blurred, ring, thing.ratio, flat.mm)
    at = flat.to_mm(ring)
    outline, corners = sharpened(at, 1.0)
    unsure = tuple(_stretches(at, off))
    findings = []
    if unsure:
        length = sum(float(np.hypot(*np.diff(np.asarray(p), axis=0).T).sum()) for p in unsure)
        text = (
            f"Along {length / 10:.0f} cm of its edge the piece is not told from what lies beside it (drawn dashed): another thing "
            "touches it there, or a fold, a mirrored lamp. Look at it, put the line right, or photograph it anew."
        )
        findings.append(Finding("care", "edge-unsure", text))
    return Found(outline, tuple(corners), unsure, tuple(findings))


def _even(ring: Floats, step: float) -> Floats:
    """Return a closed line smoothed over a step or two and with points a step apart (pixels)."""
    closed = np.vstack([ring, ring[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    count = max(24, round(along[-1] / step))
    at = np.linspace(0, along[-1], count, endpoint=False)
    even = np.stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])], axis=1)
    return (np.roll(even, 1, axis=0) + 2 * even + np.roll(even, -1, axis=0)) / 4


def _on_the_edge(
    picture: npt.NDArray[np.uint8], ring: Floats, ratio: Floats, mm: float
) -> tuple[Floats, npt.NDArray[np.bool_]]:
    """Return a line moved square to itself to where the colour is half way between both sides, and where the ratio is another."""
    reach = REACH_MM / mm
    offsets = np.linspace(-reach, reach, 49)
    off = np.zeros(len(ring), dtype=bool)
    for _ in range(2):
        normal = _normals(ring)
        levels = _seen_across(picture, ring, normal, offsets)
        a, b = np.median(levels[:, :12], axis=1), np.median(levels[:, -12:], axis=1)
        step = b - a
        size = np.sum(step * step, axis=1) + 1e-9
        # Along the line from one side's colour to the other's, 0 to 1: half way lies the edge.
        share = np.einsum("nkc,nc->nk", levels - a[:, None, :], step / size[:, None])
        shift = _crossing(share, np.full((len(ring), 1), 0.5), offsets)
        off, weak = _off_ratio(picture, ring, normal, ratio, mm)
        good = ~(weak | np.isnan(shift))
        if good.sum() < 12:
            return ring, np.ones(len(ring), dtype=bool)
        shift = np.interp(np.arange(len(shift)), np.flatnonzero(good), shift[good], period=len(shift))
        ring = ring + shift[:, None] * normal
    return ring, off


def _normals(ring: Floats) -> Floats:
    ahead = np.roll(ring, -2, axis=0) - np.roll(ring, 2, axis=0)
    return np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) / (np.hypot(*ahead.T)[:, None] + 1e-9)


def _seen_across(picture: npt.NDArray[np.uint8], ring: Floats, normal: Floats, offsets: Floats) -> Floats:
    """Return the colours square to a line at its points, n x offsets x 3."""
    places = ring[:, None, :] + offsets[None, :, None] * normal[:, None, :]
    at_x, at_y = places[..., 0].astype(np.float32), places[..., 1].astype(np.float32)
    return np.asarray(cv2.remap(picture, at_x, at_y, cv2.INTER_LINEAR), dtype=np.float64)


def _off_ratio(
    picture: npt.NDArray[np.uint8], ring: Floats, normal: Floats, ratio: Floats, mm: float
) -> tuple[npt.NDArray[np.bool_], npt.NDArray[np.bool_]]:
    """Return where a line's two sides have another ratio of colours than the piece and its ground, and where hardly any."""
    beside = np.linspace(0.5 * REACH_MM, BESIDE_MM, 15) / mm
    sides = [logs_of(_seen_across(picture, ring, normal, sign * beside)) for sign in (1.0, -1.0)]
    there, here = (np.percentile(side, LIT_PERCENT, axis=1) for side in sides)
    step = there - here
    along = step @ ratio / float(ratio @ ratio)
    step = step * (1.0 if float(np.median(along)) > 0 else -1.0)
    typical = np.median(step, axis=0)
    miss = np.linalg.norm(step - typical, axis=1)
    most = max(OTHER_LEAST + OTHER_COLOUR * float(np.linalg.norm(typical)), ROUGH * float(np.median(miss)))
    return miss > most, np.abs(along) < 0.35


def _crossing(values: Floats, half: Floats, offsets: Floats) -> Floats:
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


def _stretches(ring: Floats, off: npt.NDArray[np.bool_]) -> list[Outline]:
    """Return the parts of a closed line (points 1 mm apart) that are off for a while, gaps of a few mm closed."""
    count = len(off)
    wide = np.convolve(np.concatenate([off[-6:], off, off[:6]]).astype(float), np.ones(13) / 13, "valid") > 0.5
    if not wide.any():
        return []
    if wide.all():
        return [tuple((float(x), float(y)) for x, y in np.vstack([ring, ring[:1]]))]
    start = int(np.flatnonzero(~wide)[0])
    turned = np.roll(wide, -start)
    begins = np.flatnonzero(turned & ~np.roll(turned, 1))
    ends = np.flatnonzero(turned & ~np.roll(turned, -1))
    found = []
    for first, last in zip(begins, ends, strict=True):
        if last - first >= UNSURE_MM:
            found.append(
                tuple((float(x), float(y)) for x, y in ring[[(start + k) % count for k in range(first, last + 1)]])
            )
    return found
