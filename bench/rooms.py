"""Photographs as they are taken in a real room: hard shadows, creases, glare, wood, a busy table; how each is answered.

`python -m bench.rooms` prints, for each room and piece, whether the outline is right (within 0.2 % of the area or 0.6 mm), near,
asked about, refused, or wrong without a word. `--seed` paints other rooms than those that anything was tuned on.
"""

import argparse
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
from shapely import Polygon, hausdorff_distance

from rowanseed.core.errors import IntakeError
from rowanseed.core.geometry.types import Outline
from rowanseed.core.trace.plane import posed
from rowanseed.core.trace.trace import TraceOptions, scene_of, trace
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.photographs import TEXEL_MM, Camera, photographed, table

Picture = np.ndarray[Any, np.dtype[np.uint8]]
Light = np.ndarray[Any, np.dtype[np.float32]]
SIZE_MM = (640.0, 700.0)
SHEETS = {0: (50.0, 60.0, 0.03)}
CAMERA = Camera((2448, 3264), 660)
SKY = (0.95, 0.86, 0.78)  # what lights a shadow is a little bluer than what it keeps off (blue, green, red)
RIGHT_SHARE, RIGHT_MM = 0.002, 0.6


@dataclass
class Room:
    """A table from above and the light on it; what is changed on either, and by which camera it is taken."""

    scene: Picture
    light: Light
    camera: Camera
    random: np.random.Generator

    def at(self, x: float, y: float) -> tuple[int, int]:
        """A place of the table as a pixel of the scene."""
        return round(x / TEXEL_MM), round(y / TEXEL_MM)

    def shadow(self, outline: Outline, dark: float, soft_mm: float = 1.5) -> None:
        """Keep the lamp's light off a part of the table; the rest of the room still lights it, a little bluer."""
        cover = np.zeros(self.scene.shape[:2], dtype=np.float32)
        cv2.fillPoly(cover, [np.asarray([self.at(x, y) for x, y in outline], dtype=np.int32)], 1.0)
        cover = cv2.GaussianBlur(cover, (0, 0), soft_mm / TEXEL_MM)
        for channel, tint in enumerate(SKY):
            self.light[..., channel] *= 1 - cover * (1 - dark * tint / SKY[1])

    def photograph(self) -> Picture:
        """The photograph of it: light counts in its own amounts, the picture holds their roots."""
        bright = (self.scene.astype(np.float32) / 255) ** 2.2 * self.light
        seen = np.asarray(np.clip(bright, 0, 1) ** (1 / 2.2) * 255, dtype=np.uint8)
        return photographed(seen, self.camera)[0]


def _room(piece: Outline, seed: int, **painted: Any) -> Room:
    scene = table(SIZE_MM, SHEETS, [piece], **painted)
    return Room(scene, np.ones(scene.shape, dtype=np.float32), replace(CAMERA, seed=seed), np.random.default_rng(seed))


def _box(piece: Outline) -> tuple[float, float, float, float]:
    xs, ys = [x for x, _ in piece], [y for _, y in piece]
    return min(xs), min(ys), max(xs), max(ys)


def plain(piece: Outline, seed: int) -> Room:
    """Nothing in the way."""
    return _room(piece, seed)


def shadow_across(piece: Outline, seed: int, soft_mm: float = 1.5) -> Room:
    """A hard shadow lies as a bar across table and piece."""
    room = _room(piece, seed)
    _left, top, _right, foot = _box(piece)
    y = top + (foot - top) * room.random.uniform(0.3, 0.6)
    slope = room.random.uniform(-0.3, 0.3)
    high = (foot - top) * room.random.uniform(0.2, 0.35)
    room.shadow(
        ((-50, y - 300 * slope), (700, y + 400 * slope), (700, y + 400 * slope + high), (-50, y - 300 * slope + high)),
        room.random.uniform(0.25, 0.5),
        soft_mm,
    )
    return room


def shadow_soft(piece: Outline, seed: int) -> Room:
    """The same with a wide half shadow."""
    return shadow_across(piece, seed, 9.0)


def shadow_half(piece: Outline, seed: int) -> Room:
    """Half the table lies in shadow, its border over the piece."""
    room = _room(piece, seed)
    left, _, right, _ = _box(piece)
    x = left + (right - left) * room.random.uniform(0.35, 0.65)
    lean = room.random.uniform(-60, 60)
    room.shadow(((x - lean, -50), (x + lean, 750), (800, 750), (800, -50)), room.random.uniform(0.2, 0.5))
    return room


def shadow_arm(piece: Outline, seed: int) -> Room:
    """The photographer's own arms and telephone, from the lower edge."""
    room = _room(piece, seed)
    left, top, right, foot = _box(piece)
    x, y = (left + right) / 2 + room.random.uniform(-30, 30), top + (foot - top) * room.random.uniform(0.4, 0.7)
    room.shadow(
        (
            (x - 90, 760),
            (x - 60, y + 60),
            (x - 75, y + 55),
            (x - 75, y - 60),
            (x + 75, y - 60),
            (x + 75, y + 55),
            (x + 60, y + 60),
            (x + 90, 760),
        ),
        room.random.uniform(0.3, 0.5),
        2.0,
    )
    return room


def shadow_window(piece: Outline, seed: int) -> Room:
    """A window's bars."""
    room = _room(piece, seed)
    start = room.random.uniform(0, 100)
    for k in range(5):
        x = start + 150 * k
        room.shadow(((x - 20, -50), (x + 10, -50), (x + 90, 750), (x + 60, 750)), 0.4, 2.5)
    y = room.random.uniform(200, 500)
    room.shadow(((-50, y), (700, y + 40), (700, y + 70), (-50, y + 30)), 0.4, 2.5)
    return room


def creases(piece: Outline, seed: int) -> Room:
    """Tissue as it comes from the envelope: folded in four and eight, each fold lit on one side and dark on the other."""
    room = _room(piece, seed)
    inside = np.zeros(room.scene.shape[:2], dtype=np.float32)
    cv2.fillPoly(inside, [np.asarray([room.at(x, y) for x, y in piece], dtype=np.int32)], 1.0)
    ys, xs = np.mgrid[0 : inside.shape[0], 0 : inside.shape[1]].astype(np.float32) * TEXEL_MM
    height = np.zeros(inside.shape, dtype=np.float32)
    turn = room.random.uniform(-0.05, 0.05)
    for offset, along in [(o, a) for a in (0, 1) for o in np.arange(0, 900, 85.0)]:
        far = (xs + turn * ys if along else ys - turn * xs) - offset - room.random.uniform(-4, 4)
        height += 0.16 * np.sign(far) * np.exp(-np.abs(far) / room.random.uniform(2, 9))
    height += 0.03 * np.sin(xs / 40 + 2 * np.sin(ys / 70))
    room.light *= (1 + height * inside)[..., None]
    return room


def glare(piece: Outline, seed: int) -> Room:
    """A lamp mirrors itself in a polished table, beside the piece and a little over its edge."""
    room = _room(piece, seed)
    _left, top, right, foot = _box(piece)
    ys, xs = np.mgrid[0 : room.scene.shape[0], 0 : room.scene.shape[1]].astype(np.float32) * TEXEL_MM
    x, y = right + 40, top + (foot - top) * room.random.uniform(0.3, 0.7)
    spot = np.exp(-(((xs - x) / 45) ** 2 + ((ys - y) / 70) ** 2))
    room.scene = np.clip(room.scene + 190 * spot[..., None], 0, 255).astype(np.uint8)
    return room


def wood(piece: Outline, seed: int) -> Room:
    """A table of boards with grain and joints."""
    room = _room(piece, seed, ground=(70, 105, 150))
    ground = np.linalg.norm(room.scene.astype(np.float32) - (70, 105, 150), axis=2) < 25
    ys, xs = np.mgrid[0 : ground.shape[0], 0 : ground.shape[1]].astype(np.float32) * TEXEL_MM
    waves = sum(
        np.sin(
            xs / room.random.uniform(2, 14) + 3 * np.sin(ys / room.random.uniform(80, 200)) + room.random.uniform(0, 6)
        )
        for _ in range(5)
    )
    tone = 1 + 0.06 * waves
    tone *= np.where((xs % 140) < 1.2, 0.45, 1.0)
    tone *= 1 + 0.1 * np.sin(np.floor(xs / 140) * 2.7)
    room.scene = np.where(ground[..., None], np.clip(room.scene * tone[..., None], 0, 255), room.scene).astype(np.uint8)
    return room


def busy(piece: Outline, seed: int) -> Room:
    """Scissors, a tape, a mug and a book lie round about, one of them over the picture's edge."""
    room = _room(piece, seed)
    _left, _, right, _ = _box(piece)
    cv2.circle(room.scene, room.at(120, 520), round(45 / TEXEL_MM), (200, 190, 60), -1)
    cv2.circle(room.scene, room.at(120, 520), round(36 / TEXEL_MM), (40, 60, 90), -1)
    cv2.ellipse(
        room.scene, room.at(90, 420), (round(70 / TEXEL_MM), round(9 / TEXEL_MM)), 20, 0, 360, (170, 170, 175), -1
    )
    tape = np.asarray([room.at(10 + 14 * k, 615 + 25 * np.sin(k / 2 + seed)) for k in range(17)], dtype=np.int32)
    cv2.polylines(room.scene, [tape], False, (60, 210, 240), round(16 / TEXEL_MM))
    cv2.rectangle(room.scene, room.at(right + 40, 560), room.at(760, 760), (60, 50, 170), -1)
    return room


def near_tone(piece: Outline, seed: int) -> Room:
    """Tissue on a table of nearly its own tone."""
    return _room(piece, seed, ground=(160, 190, 204))


def dark_tissue(piece: Outline, seed: int) -> Room:
    """Brown paper on a white table, a shadow across."""
    room = _room(piece, seed, ground=(232, 236, 238), paper=(105, 150, 185))
    y = room.random.uniform(250, 450)
    room.shadow(((-50, y), (700, y - 60), (700, y + 60), (-50, y + 140)), 0.45)
    return room


def grey_on_white(piece: Outline, seed: int) -> Room:
    """Greyish tissue on a white table with a shadow that is as grey as it."""
    room = _room(piece, seed, ground=(236, 238, 238), paper=(188, 192, 194))
    _left, top, _right, foot = _box(piece)
    y = top + (foot - top) * 0.5
    room.shadow(((-50, y), (700, y - 40), (700, y + 90), (-50, y + 120)), 0.6)
    return room


def bent(k: float) -> Callable[[Outline, int], Room]:
    """A lens that bends more than telephones do."""

    def made(piece: Outline, seed: int) -> Room:
        room = _room(piece, seed)
        room.camera = replace(room.camera, k=k)
        return room

    made.__name__ = "barrel" if k < 0 else "pincushion"
    return made


def touching(piece: Outline, seed: int) -> Room:
    """The sheet's paper lies against the piece's edge."""
    room = _room(piece, seed)
    left, top, _, _ = _box(piece)
    x, y = room.at(left - 14, top + 120), room.at(left + 4, top + 190)
    cv2.rectangle(room.scene, x, y, (250, 250, 250), -1)
    return room


def covered(piece: Outline, seed: int) -> Room:
    """Scissors lie on the calibration sheet."""
    room = _room(piece, seed)
    cv2.ellipse(
        room.scene, room.at(130, 200), (round(110 / TEXEL_MM), round(16 / TEXEL_MM)), 60, 0, 360, (120, 120, 125), -1
    )
    cv2.circle(room.scene, room.at(90, 120), round(30 / TEXEL_MM), (40, 40, 200), round(9 / TEXEL_MM))
    return room


def printed(piece: Outline, seed: int) -> Room:
    """A printed nest on the tissue, a hard shadow across."""
    left, top, right, foot = _box(piece)
    cx, cy = (left + right) / 2, (top + foot) / 2
    nest = [[(cx + s * (x - cx), cy + s * (y - cy)) for x, y in piece] for s in (0.95, 0.9, 0.85)]
    room = _room(piece, seed, lines=nest)
    room.shadow(((-50, cy - 20), (700, cy - 50), (700, cy + 120), (-50, cy + 160)), 0.4)
    return room


ROOMS: tuple[Callable[[Outline, int], Room], ...] = (
    plain,
    shadow_across,
    shadow_soft,
    shadow_half,
    shadow_arm,
    shadow_window,
    creases,
    glare,
    wood,
    busy,
    near_tone,
    dark_tissue,
    grey_on_white,
    bent(-0.07),
    bent(0.06),
    touching,
    covered,
    printed,
)


def pieces() -> dict[str, Outline]:
    """Three pieces of the demo's, stood upright beside the sheet."""
    taken = {
        "waistcoat front": waistcoat.pattern().pieces[6].shapes["L"],
        "overshirt yoke": overshirt.pattern().pieces[1].shapes["14"],
        "trouser pocket": trousers.pattern().pieces[2].shapes["42"],
    }
    made = {}
    for name, shape in taken.items():
        x0, y0 = min(x for x, _ in shape.outline), min(y for _, y in shape.outline)
        made[name] = tuple((y - y0 + 305.0, x - x0 + 35.0) for x, y in shape.outline)
    return made


@dataclass(frozen=True)
class Answer:
    """How a photograph was answered: `right`, `asked`, `refused` or `wrong`; the share of the area and the mm it is off by."""

    kind: str
    area: float = 0.0
    mm: float = 0.0
    words: str = ""


def answered(picture: Picture, piece: Outline) -> Answer:
    """How a photograph of a piece is answered."""
    try:
        traced = trace(picture, TraceOptions())
    except IntakeError as error:
        return Answer("refused", words=error.text)
    pose = next(iter(scene_of([picture]).poses.values()))
    x, y, turn = SHEETS[0]
    cos, sin = np.cos(turn), np.sin(turn)
    true = Polygon(posed((np.asarray(piece) - (x, y)) @ np.array([[cos, -sin], [sin, cos]]), pose))
    mine = Polygon(traced.outline)
    area, off = mine.area / true.area - 1, hausdorff_distance(mine.exterior, true.exterior)
    doubts = "; ".join(f"{f.code}: {f.text}" for f in traced.findings if f.code in ("edge-unsure", "which-line"))
    right = abs(area) <= RIGHT_SHARE or off <= RIGHT_MM
    if right and off < 6:
        return Answer("right", area, off, doubts)
    near = abs(area) < 0.006 and off < 2.5
    return Answer("near" if near else "asked" if doubts else "wrong", area, off, doubts)


def main() -> None:
    """Print the table."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", default="")
    asked = parser.parse_args()
    counts: dict[str, int] = {}
    print(f"{'room':16} {'piece':16} {'s':>5} {'answer':8} {'area %':>8} {'mm':>7}")
    for n, room in enumerate(r for r in ROOMS if asked.room in r.__name__):
        for name, piece in pieces().items():
            picture = room(piece, asked.seed * 100 + n).photograph()
            start = time.perf_counter()
            answer = answered(picture, piece)
            took = time.perf_counter() - start
            counts[answer.kind] = counts.get(answer.kind, 0) + 1
            print(
                f"{room.__name__:16} {name:16} {took:5.1f} {answer.kind:8} {100 * answer.area:+8.2f} {answer.mm:7.2f}  "
                f"{answer.words[:90]}",
                flush=True,
            )
    print(", ".join(f"{n} {kind}" for kind, n in sorted(counts.items())))


if __name__ == "__main__":
    main()
