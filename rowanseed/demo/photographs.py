"""Made-up photographs of a piece on a table beside calibration sheets, as a telephone would take them: slanted, uneven, noisy."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
import numpy.typing as npt
from shapely import Polygon

from rowanseed.core.trace.board import COLUMNS, MODULE_MM, PAPER_MM, ROWS, SQUARE_MM, modules
from rowanseed.core.trace.plane import posed
from rowanseed.lazily import lazily

if TYPE_CHECKING:
    import cv2
else:
    cv2 = lazily("cv2")

Picture = npt.NDArray[np.uint8]
TEXEL_MM = 0.2


@dataclass(frozen=True)
class Camera:
    """How a photograph is taken. `slant`: degrees off the upright; `turn`: about it; `wide`: mm of the table across.

    `bulge`: how high the tissue stands off the table in the middle of `lifted` (left, top, right, bottom), mm.
    """

    pixels: tuple[int, int] = (4000, 3000)
    wide: float = 760.0
    slant: float = 12.0
    turn: float = 4.0
    k: float = 0.01
    blur: float = 0.8
    noise: float = 4.0
    shade: float = 0.35
    middle: tuple[float, float] | None = None
    seed: int = 1
    bulge: float = 0.0
    lifted: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)


def table(
    size_mm: tuple[float, float],
    sheets: dict[int, tuple[float, float, float]],
    pieces: Sequence[Sequence[tuple[float, float]]] = (),
    lines: Sequence[Sequence[tuple[float, float]]] = (),
    ground: tuple[int, int, int] = (70, 84, 60),
    paper: tuple[int, int, int] = (186, 214, 226),
) -> Picture:
    """Return a table from straight above at 0.2 mm a pixel: sheets where they lie, filled pieces, printed closed lines (mm)."""
    high, wide = round(size_mm[1] / TEXEL_MM), round(size_mm[0] / TEXEL_MM)
    out = np.empty((high, wide, 3), dtype=np.uint8)
    out[:] = ground
    grain = np.random.default_rng(5).normal(0, 3, (high // 8 + 1, wide // 8 + 1)).astype(np.float32)
    weave = cv2.resize(grain, (wide, high), interpolation=cv2.INTER_CUBIC)
    out = np.asarray(np.clip(out.astype(np.float32) + weave[..., None], 0, 255), dtype=np.uint8)
    for piece in pieces:
        _fill(out, piece, paper)
    for line in lines:
        at = np.round(np.asarray(line) / TEXEL_MM * 16).astype(np.int32)
        cv2.polylines(
            out,
            [at.reshape(-1, 1, 2)],
            True,
            (40, 40, 40),
            thickness=max(1, round(0.5 / TEXEL_MM)),
            lineType=cv2.LINE_AA,
            shift=4,
        )
    for sheet, pose in sheets.items():
        _sheet(out, sheet, pose)
    return out


def _fill(out: Picture, outline: Any, colour: tuple[int, int, int]) -> None:
    # What is filled reaches 0.7 pixels too far, and a pixel's middle lies half a pixel inside it.
    drawn = Polygon(outline).buffer(-0.7 * TEXEL_MM, join_style="mitre").exterior.coords[:-1]
    at = np.round((np.asarray(drawn) / TEXEL_MM - 0.5) * 16).astype(np.int32)
    cv2.fillPoly(out, [at.reshape(-1, 1, 2)], colour, lineType=cv2.LINE_AA, shift=4)


def _sheet(out: Picture, sheet: int, pose: tuple[float, float, float]) -> None:
    """Lay a printed sheet on the table, its board's first corner at the pose."""
    paper_w, paper_h = PAPER_MM["a4"]
    ex, ey = (paper_w - SQUARE_MM * COLUMNS) / 2, (paper_h - SQUARE_MM * ROWS["a4"]) / 2
    corners = [(-ex, -ey), (paper_w - ex, -ey), (paper_w - ex, paper_h - ey), (-ex, paper_h - ey)]
    _fill(out, posed(np.asarray(corners), pose), (246, 248, 248))
    black = _printed(modules(sheet, ROWS["a4"]), pose, out.shape[:2])
    out[:] = np.where(black > 0, out + (np.array((28, 26, 26), dtype=np.float32) - out) * (black / 255), out).astype(
        np.uint8
    )


def _printed(
    black: npt.NDArray[np.bool_], pose: tuple[float, float, float], size: tuple[int, int]
) -> npt.NDArray[np.float32]:
    """Return how much of each pixel of the table is printed black, 0 to 255: drawn four times as fine, and put together."""
    fine, module = 4, round(MODULE_MM / TEXEL_MM * 4)
    drawn = np.kron(black.astype(np.uint8) * 255, np.ones((module, module), dtype=np.uint8))
    x, y, angle = pose
    cos, sin = np.cos(angle), np.sin(angle)
    texel = TEXEL_MM / fine
    # The middle of a pixel lies half a pixel inside it, on the sheet as on the table.
    first = np.array([cos * texel / 2 - sin * texel / 2 + x, sin * texel / 2 + cos * texel / 2 + y]) / texel - 0.5
    put = np.array([[cos, -sin, first[0]], [sin, cos, first[1]]])
    finer = cv2.warpAffine(drawn, put, (size[1] * fine, size[0] * fine), flags=cv2.INTER_LINEAR)
    return np.asarray(cv2.resize(finer, (size[1], size[0]), interpolation=cv2.INTER_AREA), dtype=np.float32)[..., None]


def photographed(scene: Picture, camera: Camera) -> tuple[Picture, npt.NDArray[np.float64]]:
    """Return a photograph of a table, and the matrix that takes mm on the table to its pixels before the lens bends them."""
    wide, high = camera.pixels
    table_mm = (scene.shape[1] * TEXEL_MM, scene.shape[0] * TEXEL_MM)
    cx, cy = camera.middle or (table_mm[0] / 2, table_mm[1] / 2)
    focal = 1.1 * wide
    distance = focal * camera.wide / wide
    a, b = np.radians(camera.slant), np.radians(camera.turn)
    tilt = np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])
    spin = np.array([[np.cos(b), -np.sin(b), 0], [np.sin(b), np.cos(b), 0], [0, 0, 1]])
    turned = tilt @ spin
    lens = np.array([[focal, 0, (wide - 1) / 2], [0, focal, (high - 1) / 2], [0, 0, 1]])
    place = np.column_stack([turned[:, 0], turned[:, 1], np.array([0, 0, distance])])
    to_pixels = lens @ place @ np.array([[1, 0, -cx], [0, 1, -cy], [0, 0, 1]])
    xs, ys = np.meshgrid(np.arange(wide, dtype=np.float32), np.arange(high, dtype=np.float32))
    plain = _straight(xs, ys, camera.k, wide, high)
    back = np.linalg.inv(to_pixels)
    depth = back[2, 0] * plain[0] + back[2, 1] * plain[1] + back[2, 2]
    x = (back[0, 0] * plain[0] + back[0, 1] * plain[1] + back[0, 2]) / depth
    y = (back[1, 0] * plain[0] + back[1, 1] * plain[1] + back[1, 2]) / depth
    if camera.bulge:
        eye = np.array([cx, cy, 0.0]) - turned.T @ np.array([0, 0, distance])
        share = _height(x, y, camera) / abs(eye[2])
        x, y = x - share * (x - eye[0]), y - share * (y - eye[1])
    u, v = (x / TEXEL_MM - 0.5).astype(np.float32), (y / TEXEL_MM - 0.5).astype(np.float32)
    soft = cv2.GaussianBlur(scene, (0, 0), max(0.3, 0.5 * camera.wide / wide / TEXEL_MM))
    out = cv2.remap(soft, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float32)
    rng = np.random.default_rng(camera.seed)
    light = 1 - camera.shade * ((xs / wide - 0.2) ** 2 + (ys / high - 0.3) ** 2)
    out = cv2.GaussianBlur(out * light[..., None], (0, 0), max(0.1, camera.blur))
    out += rng.normal(0, camera.noise, out.shape).astype(np.float32)
    return np.clip(out, 0, 255).astype(np.uint8), to_pixels / to_pixels[2, 2]


def _height(x: npt.NDArray[np.float64], y: npt.NDArray[np.float64], camera: Camera) -> npt.NDArray[np.float64]:
    """Return how high the tissue stands at places of the table, mm: one wave over the part that is lifted."""
    left, top, right, bottom = camera.lifted
    along, across = (np.clip((at - a) / (b - a), 0, 1) for at, a, b in ((x, left, right), (y, top, bottom)))
    return np.asarray(camera.bulge * np.sin(np.pi * along) * np.sin(np.pi * across))


def _straight(
    xs: npt.NDArray[np.float32], ys: npt.NDArray[np.float32], k: float, wide: int, high: int
) -> tuple[npt.NDArray[np.float64], ...]:
    """Return where pixels would lie if the lens did not bend (the same model as is taken out again)."""
    reach = max(wide, high) / 2
    ax, ay = (xs - (wide - 1) / 2) / reach, (ys - (high - 1) / 2) / reach
    bx, by = ax.astype(np.float64), ay.astype(np.float64)
    for _ in range(6):
        r2 = 1 + k * (bx * bx + by * by)
        bx, by = ax / r2, ay / r2
    return bx * reach + (wide - 1) / 2, by * reach + (high - 1) / 2
