"""From pieces and a spread to the items a nester must place, each with the poses it may take.

In a doubled lane (right sides together) a pair is one item of two layers and either hand will do; a piece on the fold
is its half, bound to the fold; an odd or same-handed piece is one layer. In a single lane every piece is an item of its
own, right or left hand, and a piece on the fold is opened out to its whole.
"""

import math
from dataclasses import dataclass, replace

from shapely import Polygon
from shapely.geometry import JOIN_STYLE

from rowanseed.core.errors import LayError
from rowanseed.core.geometry.types import Grain, Outline, Point
from rowanseed.core.lay.model import LayCloth, LayPiece, Locked, Placement, Spread

TURNS: dict[Grain, tuple[float, ...]] = {
    "lengthwise": (0.0, 180.0),
    "crosswise": (90.0, 270.0),
    "bias": (45.0, 315.0, 135.0, 225.0),
    "any": (0.0, 180.0, 90.0, 270.0),
}
# On one-way cloth all heads point the same way: of each list only the turns that keep them so.
TURNS_ONE_WAY: dict[Grain, tuple[float, ...]] = {
    "lengthwise": (0.0,),
    "crosswise": (90.0,),
    "bias": (45.0, 315.0),
    "any": (0.0,),
}
MOST_OFF_GRAIN = 45.0
TOUCH = 1e-6


@dataclass(frozen=True)
class Usable:
    """The strip of one lane that pieces may take: its width, and where it starts on the lane."""

    width_mm: float
    offset_mm: float
    layers: int


@dataclass(frozen=True)
class Pose:
    """One way an item may lie: its outline shifted so that the cutting shape's least x and y are 0.

    `y_mm`: the only place across the strip where it may lie so, None when anywhere; `band`: the part of the strip it must
    lie within, None for all of it; `lane`: which lane that is. `x_phase`, `y_phase`: where its corner may stand, modulo the print's
    repeat, None when anywhere.
    """

    turned: float
    face_down: bool
    outline: Outline
    marks: dict[str, Point]
    cut: Outline
    length_mm: float
    height_mm: float
    y_mm: float | None = None
    lane: int = 0
    band: tuple[float, float] | None = None
    x_phase: float | None = None
    y_phase: float | None = None


@dataclass(frozen=True)
class Item:
    """One thing to place. `at_fold`: bound to the fold; `x_mm`: it stands there already (locked, or a flaw).

    A flaw is an item of no layers: others keep off it and it does not count toward the length.
    """

    piece: str
    layers: int
    at_fold: bool
    poses: tuple[Pose, ...]
    x_mm: float | None = None

    @property
    def is_flaw(self) -> bool:
        """Whether this is a flaw and no piece."""
        return self.layers == 0


def usable_strip(cloth: LayCloth, spread: Spread) -> Usable:
    """The strip of the lane that pieces may take on this cloth spread this way.

    Raises:
        LayError: the selvages leave nothing.
    """
    if spread == "single":
        usable = Usable(cloth.width_mm - sum(cloth.selvage_mm), cloth.selvage_mm[0], 1)
    else:
        usable = Usable(cloth.width_mm / 2 - max(cloth.selvage_mm), 0.0, 2)
    if usable.width_mm <= 0:
        raise LayError("The selvages are wider than the cloth. Check the width.", "cloth.width")
    return usable


def turns_of(piece: LayPiece, one_way: bool) -> tuple[float, ...]:
    """The turns a piece may take: those of its grain, and where it may lie off it, a little to either side of each."""
    turns = (TURNS_ONE_WAY if one_way else TURNS)[piece.grain]
    if piece.off_grain <= 0 or piece.fold_edge is not None or piece.selvage_edge is not None:
        return turns
    off = min(piece.off_grain, MOST_OFF_GRAIN)
    return (*turns, *((t + d) % 360.0 for t in turns for d in (off, -off, off / 2, -off / 2)))


def items_for(piece: LayPiece, spread: Spread, one_way: bool) -> list[Item]:
    """The items one piece needs in a spread. Raises LayError when its outline cannot be used."""
    check_outline(piece)
    turns = turns_of(piece, one_way)
    if spread == "single":
        return single_items(piece, turns)
    return folded_items(piece, turns)


def check_outline(piece: LayPiece) -> None:
    """Raise LayError when the outline encloses no area, crosses itself or its fold edge is not one of its sides."""
    if len(piece.outline) < 3 or not all(math.isfinite(v) for p in piece.outline for v in p):
        raise LayError(f"Piece {piece.id} needs an outline of at least three points.", "outline")
    polygon = Polygon(piece.outline)
    if polygon.area < 1.0:
        raise LayError(f"Piece {piece.id} encloses no area. Check its outline.", "outline")
    if not polygon.is_valid:
        raise LayError(f"The outline of piece {piece.id} crosses itself.", "outline")
    if piece.fold_edge is not None:
        on_fold_axis(piece)


def on_fold_axis(piece: LayPiece) -> tuple[Outline, dict[str, Point]]:
    """A fold piece turned so that its fold edge lies on y = 0 and its body above; outline and marks.

    Raises:
        LayError: the fold edge is not parallel to the grain, or the body lies on both sides of it.
    """
    assert piece.fold_edge is not None
    (x0, y0), (x1, y1) = piece.fold_edge
    if abs(y1 - y0) > 0.5 or abs(x1 - x0) < 1.0:
        raise LayError(f"The fold edge of piece {piece.id} must run along the grain.", "fold_edge")
    axis = (y0 + y1) / 2
    heights = [y - axis for _, y in piece.outline]
    if min(heights) < -0.5 and max(heights) > 0.5:
        raise LayError(f"Piece {piece.id} lies on both sides of its fold edge; give half of it.", "fold_edge")
    sign = 1.0 if max(heights) > 0.5 else -1.0

    def settle(point: Point) -> Point:
        return (point[0], max(0.0, sign * (point[1] - axis)))

    return tuple(settle(p) for p in piece.outline), {k: settle(p) for k, p in piece.marks.items()}


def folded_items(piece: LayPiece, turns: tuple[float, ...]) -> list[Item]:
    """What a piece needs in a doubled lane: halves bound to the fold, pairs through both layers, odd ones through one."""
    if piece.fold_edge is not None and not on_the_fold(turns):
        return opened_items(piece, turns)
    if piece.fold_edge is not None:
        outline, marks = on_fold_axis(piece)
        halves = []
        for turned in (t for t in turns if t in (0.0, 180.0)):
            # Half a piece turned head to tail lies on the other side of the fold: its mirror image is the same whole.
            ahead = 1.0 if turned == 0.0 else -1.0
            moved = tuple((ahead * x, y) for x, y in outline)
            kept = {k: (ahead * x, y) for k, (x, y) in marks.items()}
            halves.append(_pose(moved, kept, turned, turned == 180.0, piece.allowance_mm, folded=True))
        return [Item(piece.id, 2, True, tuple(halves))] * piece.cut
    poses = _poses(piece, turns, (False, True))
    double = piece.cut // 2 if piece.mirrored else 0
    return [Item(piece.id, 2, False, poses)] * double + [Item(piece.id, 1, False, poses)] * (piece.cut - 2 * double)


def on_the_fold(turns: tuple[float, ...]) -> bool:
    """Whether a half that may turn so can lie on a fold along the cloth; one cut crosswise or on the bias is opened out."""
    return any(turned in (0.0, 180.0) for turned in turns)


def opened_items(piece: LayPiece, turns: tuple[float, ...]) -> list[Item]:
    """What a half needs in a doubled lane off the fold: opened out it is its own mirror image, so two layers yield two of it."""
    whole = single_items(replace(piece, cut=1), turns)[0]
    twice, odd = divmod(piece.cut, 2)
    return [replace(whole, layers=2)] * twice + [whole] * odd


def single_items(piece: LayPiece, turns: tuple[float, ...]) -> list[Item]:
    """What a piece needs in a single lane: every one of its own, left hands face down, a half opened out."""
    if piece.fold_edge is not None:
        return [Item(piece.id, 1, False, _poses(_opened(piece), turns, (False,)))] * piece.cut
    left = piece.cut // 2 if piece.mirrored else 0
    items = [Item(piece.id, 1, False, _poses(piece, turns, (False,)))] * (piece.cut - left)
    if left:
        items += [Item(piece.id, 1, False, _poses(piece, turns, (True,)))] * left
    return items


def lane_items(piece: LayPiece, turns: tuple[float, ...], layers: int, fold: bool) -> list[Item]:
    """What a piece needs in a lane: single, doubled with a fold at its first edge, or doubled without one."""
    if layers == 1:
        return single_items(piece, turns)
    if fold or piece.fold_edge is None:
        return folded_items(piece, turns)
    return opened_items(piece, turns)


def _opened(piece: LayPiece) -> LayPiece:
    """A fold piece as its whole: its own half's points first, then the mirrored points back along the other side."""
    assert piece.fold_edge is not None
    outline, marks = on_fold_axis(piece)
    n = len(outline)
    on_axis = [y < 0.5 for _, y in outline]
    # Start where the outline leaves the fold, so that both halves join at the ends of the fold edge.
    start = next((i for i in range(n) if on_axis[i] and not on_axis[(i + 1) % n]), 0)
    half = [outline[(start + i) % n] for i in range(n)]
    body = half if half[-1][1] < 0.5 else [*half, half[0]]
    while len(body) > 2 and body[-2][1] < 0.5:
        body.pop()
    mirrored = [(x, -y) for x, y in reversed(body) if y >= 0.5]
    return LayPiece(
        piece.id,
        (*body, *mirrored),
        piece.cut,
        False,
        None,
        piece.grain,
        piece.selvage_edge,
        marks,
        piece.allowance_mm,
    )


def _poses(piece: LayPiece, turns: tuple[float, ...], faces: tuple[bool, ...]) -> tuple[Pose, ...]:
    poses = []
    for face_down in faces:
        for turned in turns:
            outline = tuple(_laid(p, turned, face_down) for p in piece.outline)
            marks = {k: _laid(p, turned, face_down) for k, p in piece.marks.items()}
            poses.append(_pose(outline, marks, turned, face_down, piece.allowance_mm, folded=False))
    return tuple(poses)


def _laid(point: Point, turned: float, face_down: bool) -> Point:
    """A point of a piece turned over about its grainline (face down), then turned anticlockwise on the cloth."""
    x, y = point[0], -point[1] if face_down else point[1]
    c, s = math.cos(math.radians(turned)), math.sin(math.radians(turned))
    if turned % 90 == 0:
        c, s = round(c), round(s)
    return (x * c - y * s, x * s + y * c)


def _pose(
    outline: Outline, marks: dict[str, Point], turned: float, face_down: bool, allowance: float, folded: bool
) -> Pose:
    cut = cutting_shape(outline, allowance, folded)
    x0, y0 = min(x for x, _ in cut), 0.0 if folded else min(y for _, y in cut)

    def shift(points: Outline) -> Outline:
        return tuple((x - x0, y - y0) for x, y in points)

    shifted = shift(cut)
    return Pose(
        turned,
        face_down,
        shift(outline),
        {k: (x - x0, y - y0) for k, (x, y) in marks.items()},
        shifted,
        max(x for x, _ in shifted),
        max(y for _, y in shifted),
    )


def cutting_shape(outline: Outline, allowance: float, folded: bool) -> Outline:
    """The outline with an allowance added around it; a half on the fold (y = 0) gets none across the fold."""
    if allowance <= 0:
        return outline
    grown = Polygon(outline).buffer(allowance, join_style=JOIN_STYLE.mitre, mitre_limit=2.5)
    points = [(float(x), float(y)) for x, y in grown.exterior.coords[:-1]]
    if folded:
        kept = Polygon(points).intersection(Polygon([(-1e6, 0), (1e6, 0), (1e6, 1e6), (-1e6, 1e6)]))
        points = [(float(x), float(y)) for x, y in kept.exterior.coords[:-1]]
    return tuple(points)


def on_the_selvage(item: Item, piece: LayPiece, spread: Spread, cloth: LayCloth, strip: Usable) -> Item:
    """An item whose selvage edge lies on the outer edge of a selvage: only the poses that can, each at its place.

    In a fold that is the edge opposite the fold; in a single layer either edge.
    """
    assert piece.selvage_edge is not None
    lane = cloth.width_mm if spread == "single" else cloth.width_mm / 2
    poses = []
    for pose in item.poses:
        a, b = (_laid(p, pose.turned, pose.face_down) for p in piece.selvage_edge)
        ys = [_laid(p, pose.turned, pose.face_down)[1] for p in piece.outline]
        if abs(a[1] - b[1]) > 0.5:
            continue
        if abs(a[1] - min(ys)) < 0.5 and spread == "single":
            poses.append(replace(pose, y_mm=-strip.offset_mm))
        elif abs(a[1] - max(ys)) < 0.5:
            poses.append(replace(pose, y_mm=lane - strip.offset_mm - pose.height_mm))
    return replace(item, poses=tuple(poses))


def flaw_items(cloth: LayCloth, spread: Spread, strip: Usable) -> list[Item]:
    """The flaws of a cloth where they lie on the strip; in a fold a flaw in either layer spoils both."""
    items = []
    for k, (x0, y0, x1, y1) in enumerate(cloth.flaws):
        low, high = flaw_band(cloth, spread, min(y0, y1), max(y0, y1))
        length, height = max(abs(x1 - x0), 1.0), max(high - low, 1.0)
        shape: Outline = ((0.0, 0.0), (length, 0.0), (length, height), (0.0, height))
        pose = Pose(0.0, False, shape, {}, shape, length, height, low - strip.offset_mm)
        items.append(Item(f"flaw {k + 1}", 0, False, (pose,), min(x0, x1)))
    return items


def flaw_band(cloth: LayCloth, spread: Spread, low: float, high: float) -> tuple[float, float]:
    """Where a flaw from y low to high on the open cloth lies on the lane, from its first edge."""
    if spread == "single":
        return low, high
    half = cloth.width_mm / 2
    if high <= half:
        return half - high, half - low
    if low >= half:
        return low - half, high - half
    return 0.0, max(half - low, high - half)


def lock(items: list[Item], locked: Locked, strip: Usable) -> bool:
    """Hold one item of a piece where the user locked it; whether there was one that may lie so."""
    for k, item in enumerate(items):
        if item.piece != locked.piece or item.x_mm is not None:
            continue
        for pose in item.poses:
            if round(pose.turned - locked.turned) % 360 == 0 and (pose.face_down == locked.face_down or item.at_fold):
                items[k] = held_at(item, pose, locked, -strip.offset_mm)
                return True
    return False


def held_at(item: Item, pose: Pose, locked: Locked, to_strip: float) -> Item:
    """An item bound to where the corner of its outline is locked; `to_strip`: from the lane's y to the strip's."""
    x, y = min(x for x, _ in pose.outline), min(y for _, y in pose.outline)
    bound = replace(pose, y_mm=0.0 if item.at_fold else locked.y - y + to_strip, band=None)
    return replace(item, poses=(bound,), x_mm=locked.x - x)


def placed(item: Item, pose: Pose, x: float, y: float) -> Placement:
    """The placement of an item in a pose whose cutting shape's corner lies at (x, y) on the lane."""
    return Placement(
        item.piece,
        pose.lane,
        tuple((px + x, py + y) for px, py in pose.outline),
        pose.turned,
        pose.face_down,
        item.layers,
        item.at_fold,
        {k: (px + x, py + y) for k, (px, py) in pose.marks.items()},
    )
