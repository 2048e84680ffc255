"""Spreads of more than one lane, or folded across: where the lanes lie on the cloth, and which items may lie in which.

The usable strips of the lanes are stacked on one strip for the nester; every pose says in which lane it lies and between which
rows of the strip. Where the fold of a part or double fold lies is for the program to find: each candidate is an arrangement.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations

from shapely import Polygon

from rowanseed.core.geometry.types import Outline
from rowanseed.core.lay.demand import Item, Pose, folded_items, held_at, lane_items, turns_of
from rowanseed.core.lay.model import Edge, Lane, LayCloth, LayPiece, LayRequest, Locked, Spread

MOST_SPLITS = 10  # places of the fold that are tried at a glance
FITS = 1e-6
SNUG_MM = 8.0  # less room than this across is one place: the item is bound to it


@dataclass(frozen=True)
class LaneSpec:
    """A lane: its width, the part of it that pieces may take, layers, edges, where it lies on the table.

    `stretches`: for each layer the stretch of open cloth it is, as (from, to, sign, origin): y on the lane is sign x (y - origin).
    """

    width_mm: float
    low: float
    high: float
    layers: int
    edges: tuple[Edge, Edge]
    from_mm: float
    stretches: tuple[tuple[float, float, float, float], ...]

    @property
    def usable_mm(self) -> float:
        """Width that pieces may take."""
        return self.high - self.low

    def lane(self, start: float, end: float) -> Lane:
        """The lane as a lay shows it."""
        return Lane(self.from_mm, self.from_mm + self.width_mm, start, end, self.layers, self.edges)


@dataclass(frozen=True)
class Arrangement:
    """Lanes, the items to place with the poses they may take in each, and pieces that fit nowhere."""

    spread: Spread
    lanes: tuple[LaneSpec, ...]
    items: tuple[Item, ...]
    failed: tuple[tuple[str, float], ...] = ()

    def base(self, lane: int) -> float:
        """Where a lane's usable strip begins on the nester's strip."""
        return float(sum(spec.usable_mm for spec in self.lanes[:lane]))

    @property
    def width_mm(self) -> float:
        """Width of the nester's strip."""
        return float(sum(spec.usable_mm for spec in self.lanes))

    @property
    def doubled_along(self) -> bool:
        """Whether the cloth is folded across, so that it is twice as long as its lane."""
        return self.spread == "crosswise-fold"

    def strip_area(self) -> float:
        """Area of all items on the strip, mm²."""
        return float(sum(Polygon(item.poses[0].cut).area for item in self.items if item.poses))

    def guess_mm(self) -> float:
        """About how long it will be: the fullest lane by area, or the longest piece."""
        loads = [0.0] * len(self.lanes)
        free = 0.0
        for item in self.items:
            lanes = {pose.lane for pose in item.poses}
            area = Polygon(item.poses[0].cut).area
            if len(lanes) == 1:
                loads[lanes.pop()] += area
            else:
                free += area
        fullest = max(load / spec.usable_mm for load, spec in zip(loads, self.lanes, strict=True))
        longest = max((min(p.length_mm for p in item.poses) for item in self.items), default=0.0)
        return max(fullest, (sum(loads) + free) / self.width_mm, longest) * (2.0 if self.doubled_along else 1.0)


def arrangements(request: LayRequest, spread: Spread) -> list[Arrangement]:
    """The arrangements of a spread worth a look, the likeliest first; empty when the cloth is too narrow for any."""
    found = list(_BUILDERS[spread](request))
    complete = min((len(a.failed) for a in found), default=0)
    found = [a for a in found if len(a.failed) == complete and (a.items or a.failed)]
    return sorted(found, key=lambda a: a.guess_mm() if a.items else 0.0)[:MOST_SPLITS]


def _crosswise(request: LayRequest) -> Iterator[Arrangement]:
    """Folded across: one lane as wide as the cloth, two layers, no fold along the grain."""
    cloth = request.cloth
    first, second = cloth.selvage_mm
    if cloth.one_way:  # cut at the fold and turned round: the selvages of the two layers change sides
        first = second = max(cloth.selvage_mm)
    lane = LaneSpec(cloth.width_mm, first, cloth.width_mm - second, 2, ("selvage", "selvage"), 0.0, ())
    if lane.usable_mm > 0:
        yield _arranged(request, "crosswise-fold", (lane,), {p.id: (0,) for p in request.pieces})


def _double(request: LayRequest) -> Iterator[Arrangement]:
    """Both selvages folded to meet: two folds; tried with the meeting line at every place that suits some pieces."""
    cloth = request.cloth
    half = cloth.width_mm / 2
    heights = _heights(request)
    ends = {h + cloth.selvage_mm[0] for h in heights} | {half - h - cloth.selvage_mm[1] for h in heights}
    for a in sorted({round(v, 3) for v in (*ends, half / 2)}):
        lanes = (_folded_lane(cloth, a, 0), _folded_lane(cloth, half - a, 1))
        if min(lane.usable_mm for lane in lanes) > 20.0:
            yield _arranged(request, "double-fold", lanes, {p.id: (0, 1) for p in request.pieces})


def _folded_lane(cloth: LayCloth, width: float, end: int) -> LaneSpec:
    """A lane with its fold first and the selvage of one end of the cloth at its other edge."""
    whole, selvage = cloth.width_mm, cloth.selvage_mm[end]
    if end == 0:
        stretches = ((0.0, width, -1.0, width), (width, 2 * width, 1.0, width))
        return LaneSpec(width, 0.0, width - selvage, 2, ("fold", "selvage"), 0.0, stretches)
    fold = whole - width
    stretches = ((fold, whole, 1.0, fold), (fold - width, fold, -1.0, fold))
    return LaneSpec(width, 0.0, width - selvage, 2, ("fold", "selvage"), whole / 2 - width, stretches)


def _part(request: LayRequest) -> Iterator[Arrangement]:
    """One edge folded in: a doubled lane as wide as suits some pieces, the rest single; pairs in either."""
    cloth = request.cloth
    folds = [h for p in request.pieces if p.fold_edge is not None for h in [_least_height(p, request)]]
    for usable in sorted({round(h, 3) for h in _heights(request)}):
        if folds and usable < max(folds) - FITS:
            continue
        doubled = _folded_lane(cloth, usable + cloth.selvage_mm[0], 0)
        width = cloth.width_mm - 2 * doubled.width_mm
        # The folded-in edge lies on the single part; pieces keep off it as off any selvage.
        single = LaneSpec(
            width,
            cloth.selvage_mm[0],
            width - cloth.selvage_mm[1],
            1,
            ("selvage", "selvage"),
            doubled.width_mm,
            ((2 * doubled.width_mm, cloth.width_mm, 1.0, 2 * doubled.width_mm),),
        )
        if single.usable_mm > 20.0:
            for homes in _homes(request, doubled.usable_mm, single.usable_mm):
                yield _arranged(request, "part-fold", (doubled, single), homes)


def _homes(request: LayRequest, doubled: float, single: float) -> Iterator[dict[str, tuple[int, ...]]]:
    """Which pieces go where: pairs move to the single part, widest first, while that evens the two out."""
    homes: dict[str, tuple[int, ...]] = {}
    loads = [0.0, 0.0]
    pairs = []
    for piece in request.pieces:
        area, height = Polygon(piece.outline).area, _least_height(piece, request)
        if piece.fold_edge is not None:
            homes[piece.id] = (0,)
            loads[0] += area * piece.cut / doubled
        elif piece.mirrored and piece.cut > 1 and height <= doubled + FITS:
            homes[piece.id] = (0,)
            loads[0] += area * (piece.cut // 2) / doubled
            if height <= single + FITS:
                pairs.append((height, piece, area))
        else:
            homes[piece.id] = (1,) if height <= single + FITS else (0,)
            loads[homes[piece.id][0]] += area * piece.cut / (single, doubled)[homes[piece.id][0] == 0]
    yield dict(homes)
    for _, piece, area in sorted(pairs, key=lambda p: -p[0]):
        after = [loads[0] - area * (piece.cut // 2) / doubled, loads[1] + area * piece.cut / single]
        if max(after) < max(loads):
            loads, homes[piece.id] = after, (1,)
            yield dict(homes)


_BUILDERS = {"crosswise-fold": _crosswise, "double-fold": _double, "part-fold": _part}


def _heights(request: LayRequest) -> list[float]:
    """Widths across that a lane may be made for: each piece's, and two of them side by side."""
    single = sorted({round(_least_height(p, request), 3) for p in request.pieces})
    half = request.cloth.width_mm / 2
    both = [a + b + request.gap_mm for a, b in combinations(single, 2)]
    return [h for h in (*single, *both, *(2 * h + request.gap_mm for h in single)) if h < half]


def _turns(piece: LayPiece, request: LayRequest) -> tuple[float, ...]:
    return turns_of(piece, request.cloth.one_way)


def _least_height(piece: LayPiece, request: LayRequest) -> float:
    """A piece's least width across, of its half where it lies on a fold."""
    items = folded_items(piece, _turns(piece, request))
    poses = items[0].poses if items else ()
    return min((pose.height_mm for pose in poses), default=0.0)


def _arranged(
    request: LayRequest, spread: Spread, lanes: tuple[LaneSpec, ...], homes: dict[str, tuple[int, ...]]
) -> Arrangement:
    """The items of all pieces, each with its poses in the lanes it may lie in."""
    shell = Arrangement(spread, lanes, ())
    items: list[Item] = []
    failed: list[tuple[str, float]] = []
    for piece in request.pieces:
        first = lanes[homes[piece.id][0]]
        wanted = lane_items(piece, _turns(piece, request), first.layers, first.edges[0] == "fold")
        placed = [_in_lanes(item, piece, shell, homes[piece.id]) for item in wanted]
        if any(not item.poses for item in placed):
            failed.append((piece.id, min((p.height_mm for item in wanted for p in item.poses), default=0.0)))
        else:
            items += placed
    return Arrangement(spread, lanes, tuple(items), tuple(failed))


def _in_lanes(item: Item, piece: LayPiece, shell: Arrangement, homes: tuple[int, ...]) -> Item:
    """An item with a pose for every lane it may lie in and every way it may lie there."""
    poses: list[Pose] = []
    for k in homes:
        lane, base = shell.lanes[k], shell.base(k)
        for pose in item.poses:
            poses += (
                _on_selvage(pose, piece, lane, base, k) if piece.selvage_edge else _in_lane(pose, item, lane, base, k)
            )
    return replace(item, poses=tuple(poses))


def _in_lane(pose: Pose, item: Item, lane: LaneSpec, base: float, number: int) -> list[Pose]:
    room = lane.usable_mm - pose.height_mm
    if room < -FITS:
        return []
    if item.at_fold:
        return [replace(pose, lane=number, y_mm=base)]
    if room < SNUG_MM:
        return [replace(pose, lane=number, y_mm=base)]
    return [replace(pose, lane=number, band=(base, base + lane.usable_mm))]


def _on_selvage(pose: Pose, piece: LayPiece, lane: LaneSpec, base: float, number: int) -> list[Pose]:
    """The pose bound so that the piece's selvage edge lies on the outer edge of the lane's own selvage."""
    assert piece.selvage_edge is not None
    ys = [y for _, y in pose.outline]
    ends = _edge_ys(piece, pose)
    far = lane.low if lane.edges[0] == "selvage" else 0.0
    if ends is None or pose.height_mm > lane.width_mm - far + FITS:
        return []
    at = ends - min(ys)
    if abs(at - pose.height_mm) < 0.5:
        return [replace(pose, lane=number, y_mm=base + lane.width_mm - pose.height_mm - lane.low)]
    # The first edge of a part fold's single lane is the folded-in edge, not its own.
    own_first = lane.edges[0] == "selvage" and lane.from_mm == 0.0
    if at < 0.5 and own_first:
        return [replace(pose, lane=number, y_mm=base - lane.low)]
    return []


def _edge_ys(piece: LayPiece, pose: Pose) -> float | None:
    """Where the piece's selvage edge lies across in a pose, None when it does not run along."""
    assert piece.selvage_edge is not None
    found = []
    for end in piece.selvage_edge:
        k = min(
            range(len(piece.outline)),
            key=lambda i: (piece.outline[i][0] - end[0]) ** 2 + (piece.outline[i][1] - end[1]) ** 2,
        )
        found.append(pose.outline[k][1])
    return found[0] if abs(found[0] - found[1]) < 0.5 else None


def lane_flaws(cloth: LayCloth, arrangement: Arrangement) -> list[Item]:
    """The cloth's flaws where they lie on the lanes; in a doubled lane a flaw in either layer spoils both."""
    items = []
    for k, (x0, y0, x1, y1) in enumerate(cloth.flaws):
        for number, lane in enumerate(arrangement.lanes):
            for start, end, sign, origin in lane.stretches:
                low, high = max(min(y0, y1), start), min(max(y0, y1), end)
                if low >= high:
                    continue
                ends = sorted((sign * (low - origin), sign * (high - origin)))
                length, height = max(abs(x1 - x0), 1.0), max(ends[1] - ends[0], 1.0)
                shape: Outline = ((0.0, 0.0), (length, 0.0), (length, height), (0.0, height))
                y = arrangement.base(number) + ends[0] - lane.low
                pose = Pose(0.0, False, shape, {}, shape, length, height, y, number)
                items.append(Item(f"flaw {k + 1}.{number}", 0, False, (pose,), min(x0, x1)))
    return items


def folded_flaws(cloth: LayCloth, arrangement: Arrangement, fold_mm: float) -> list[Item]:
    """The flaws of a cloth folded across at a place: those beyond the fold lie on the upper layer."""
    (lane,) = arrangement.lanes
    items = []
    for k, (x0, y0, x1, y1) in enumerate(cloth.flaws):
        (left, right), (low, high) = sorted((x0, x1)), sorted((y0, y1))
        places = [(left, min(right, fold_mm), low, high)] if left < fold_mm else []
        if right > fold_mm and left < 2 * fold_mm:
            start, end = max(left, fold_mm), min(right, 2 * fold_mm)
            if cloth.one_way:  # cut at the fold and turned round
                places.append((start - fold_mm, end - fold_mm, cloth.width_mm - high, cloth.width_mm - low))
            else:
                places.append((2 * fold_mm - end, 2 * fold_mm - start, low, high))
        for number, (a, b, near, far) in enumerate(places):
            length, height = max(b - a, 1.0), max(far - near, 1.0)
            shape: Outline = ((0.0, 0.0), (length, 0.0), (length, height), (0.0, height))
            pose = Pose(0.0, False, shape, {}, shape, length, height, near - lane.low)
            items.append(Item(f"flaw {k + 1}.{number}", 0, False, (pose,), a))
    return items


def lock_in(items: list[Item], held: Locked, arrangement: Arrangement) -> bool:
    """Hold one item of a piece where the user locked it on its lane; whether there was one that may lie so."""
    if not 0 <= held.lane < len(arrangement.lanes):
        return False
    base = arrangement.base(held.lane)
    to_strip = base - arrangement.lanes[held.lane].low
    for k, item in enumerate(items):
        if item.piece != held.piece or item.x_mm is not None:
            continue
        for pose in item.poses:
            turned = round(pose.turned - held.turned) % 360 == 0
            if pose.lane == held.lane and turned and (pose.face_down == held.face_down or item.at_fold):
                bound = held_at(item, pose, held, to_strip)
                if item.at_fold:
                    bound = replace(bound, poses=(replace(bound.poses[0], y_mm=base),))
                items[k] = bound
                return True
    return False
