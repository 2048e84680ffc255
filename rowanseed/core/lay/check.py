"""The independent check of a lay: every lay shown, stored, printed or exported has passed it.

It shares no code with the nester: it reads only the request and the finished lay, and rebuilds with shapely what must
lie where. Tolerances: 0.05 mm in position and shape, 0.1 mm in overlap.
"""

import math
from collections.abc import Iterator

from shapely import Polygon, STRtree
from shapely.affinity import affine_transform, translate

from rowanseed.core.errors import Finding
from rowanseed.core.geometry.types import Point
from rowanseed.core.lay.check_flaws import check_flaws, print_one_way
from rowanseed.core.lay.check_print import check_matches
from rowanseed.core.lay.model import Lay, LayPiece, LayRequest, Placement

PLACE = 0.05
OVERLAP = 0.1
TURN = 0.01  # degrees
MAY_TURN = {"lengthwise": {0, 180}, "crosswise": {90, 270}, "bias": {45, 135, 225, 315}, "any": {0, 90, 180, 270}}
HEADS_ONE_WAY = {
    "lengthwise": [{0}, {180}],
    "crosswise": [{90}, {270}],
    "bias": [{45, 315}, {135, 225}],
    "any": [{0}, {180}, {90}, {270}],
}


def check_lay(request: LayRequest, lay: Lay) -> list[Finding]:
    """Everything wrong with a lay, each as a `stop` finding; an empty list means that it may be cut."""
    pieces = {p.id: p for p in request.pieces}
    found = [
        _stop("unknown-piece", f"Piece {p.piece} is not in the pattern.")
        for p in lay.placements
        if p.piece not in pieces
    ]
    if found:
        return found
    shapes = [_cut_polygon(pieces[p.piece], p) for p in lay.placements]
    for placement, shape in zip(lay.placements, shapes, strict=True):
        piece = pieces[placement.piece]
        found += _check_shape(piece, placement)
        found += _check_turn(piece, placement)
        found += _check_inside(request, lay, placement, shape)
        found += _check_fold(lay, piece, placement)
    found += _check_one_way(request, pieces, lay)
    found += _check_lanes(request, lay)
    found += _check_length(request, lay)
    found += check_flaws(request, lay, shapes)
    found += _check_selvages(pieces, lay)
    found += _check_locked(request, lay)
    for piece in request.pieces:
        if piece.id not in lay.failed:
            found += _check_count(piece, lay)
    found += _check_apart(request, lay, shapes)
    found += check_matches(request, lay)
    return found


def _stop(code: str, text: str) -> Finding:
    return Finding("stop", code, text)


def _whole(piece: LayPiece, opened: bool) -> Polygon:
    """The piece's shape; with `opened` a fold piece's half joined to its mirror image in the fold."""
    shape = Polygon(piece.outline)
    if piece.fold_edge is None or not opened:
        return shape
    axis = (piece.fold_edge[0][1] + piece.fold_edge[1][1]) / 2
    image = affine_transform(shape, (1, 0, 0, -1, 0, 2 * axis))
    return shape.union(image)


Moved = tuple[float, float, float, float, float, float]


def _images(piece: LayPiece, placement: Placement) -> Iterator[tuple[Polygon, Moved]]:
    """The shapes a placement may show, each with how it comes from the piece: turned (over) as it says; a half also mirrored."""
    opened = piece.fold_edge is not None and not placement.on_fold
    shape = _whole(piece, opened)
    if placement.on_fold:
        for sx in (1,) if placement.turned % 360 == 0 else (-1,):
            for sy in (1, -1):
                half: Moved = (sx, 0, 0, sy, 0, 0)
                yield affine_transform(shape, half), half
        return
    angle = math.radians(placement.turned)
    flip = -1 if placement.face_down else 1
    c, s = math.cos(angle), math.sin(angle)
    turn: Moved = (c, -s * flip, s, c * flip, 0, 0)
    yield affine_transform(shape, turn), turn


def _check_shape(piece: LayPiece, placement: Placement) -> list[Finding]:
    shown = Polygon(placement.outline)
    if not shown.is_valid:
        return [_stop("outline-crossed", f"The laid outline of piece {piece.id} crosses itself.")]
    x0, y0 = shown.bounds[:2]
    fits = False
    for image, how in _images(piece, placement):
        by = x0 - image.bounds[0], y0 - image.bounds[1]
        moved = translate(image, *by)
        if shown.exterior.hausdorff_distance(moved.exterior) > PLACE:
            continue
        fits = True
        if all(
            _mark_fits(piece.marks[name], at, how, by) for name, at in placement.marks.items() if name in piece.marks
        ):
            return []
    if fits:
        return [_stop("marks-moved", f"The marks of piece {piece.id} are not where they lie on it.")]
    return [_stop("not-its-shape", f"Piece {piece.id} is laid with a shape that is not its own.")]


def _mark_fits(mark: Point, shown: Point, how: Moved, by: tuple[float, float]) -> bool:
    """Whether a mark is shown where the piece's own mark comes to lie."""
    a, b, d, e, *_ = how
    x, y = a * mark[0] + b * mark[1] + by[0], d * mark[0] + e * mark[1] + by[1]
    return math.dist((x, y), shown) <= 2 * PLACE


def _check_turn(piece: LayPiece, placement: Placement) -> list[Finding]:
    off = _off(placement, MAY_TURN[piece.grain])
    bound = piece.fold_edge is not None or piece.selvage_edge is not None
    if off > (0.0 if bound else piece.off_grain) + TURN:
        return [
            _stop("off-grain", f"Piece {piece.id} is turned {placement.turned:g} degrees; its grain does not allow it.")
        ]
    return []


def _off(placement: Placement, turns: set[int]) -> float:
    """How many degrees a placement is from the nearest of some turns."""
    return min(abs((placement.turned - turn + 180.0) % 360.0 - 180.0) for turn in turns)


def _check_one_way(request: LayRequest, pieces: dict[str, LayPiece], lay: Lay) -> list[Finding]:
    if request.cloth.nap != "one-way" and not print_one_way(request):
        return []
    found = []
    for piece in pieces.values():
        own = [p for p in lay.placements if p.piece == piece.id]
        reach = piece.off_grain + TURN
        if own and not any(all(_off(p, heads) <= reach for p in own) for heads in HEADS_ONE_WAY[piece.grain]):
            found.append(_stop("head-turned", f"Piece {piece.id} is turned head to tail on one-way cloth."))
    for grain in ("lengthwise", "crosswise", "bias"):
        alike = [p for p in lay.placements if pieces[p.piece].grain == grain]
        heads = {_off(p, HEADS_ONE_WAY[grain][0]) <= pieces[p.piece].off_grain + TURN for p in alike}
        if len(heads) > 1 and not found:
            found.append(_stop("head-turned", f"Some pieces cut {grain} point head to tail on one-way cloth."))
    return found


def _check_length(request: LayRequest, lay: Lay) -> list[Finding]:
    """What the cloth lacks is what the lay takes beyond the length in hand, and no less than its pieces take."""
    found = []
    reach = max((x for p in lay.placements for x, _ in p.outline), default=0.0)
    taken = 2 * reach if lay.spread == "crosswise-fold" else reach
    if lay.length_mm < taken - PLACE:
        found.append(_stop("wrong-length", f"The pieces take {taken:.0f} mm, the lay says {lay.length_mm:.0f} mm."))
    in_hand = request.cloth.length_mm
    short = max(0.0, lay.length_mm - in_hand) if in_hand is not None else 0.0
    if abs(lay.short_mm - short) > 2 * PLACE:
        found.append(_stop("wrong-short", f"The cloth lacks {short:.0f} mm, the lay says {lay.short_mm:.0f} mm."))
    return found


def _check_lanes(request: LayRequest, lay: Lay) -> list[Finding]:
    """The lanes must be what the spread makes of this cloth: as wide, as many layers, one after the other or side by side."""
    width = request.cloth.width_mm
    wide = [lane.to_mm - lane.from_mm for lane in lay.lanes]
    layers = [lane.layers for lane in lay.lanes]
    edges = [lane.edges for lane in lay.lanes]
    folded, open_ = ("fold", "selvage"), ("selvage", "selvage")
    whole = all(lane.start_mm == 0 and abs(lane.end_mm - lay.length_mm) <= PLACE for lane in lay.lanes)
    if lay.spread == "single":
        sound = whole and layers == [1] and edges == [open_] and _near(wide, [width])
    elif lay.spread == "lengthwise-fold":
        sound = whole and layers == [2] and edges == [folded] and _near(wide, [width / 2])
    elif lay.spread == "double-fold":
        sound = whole and layers == [2, 2] and edges == [folded, folded] and abs(sum(wide) - width / 2) <= PLACE
    elif lay.spread == "part-fold":
        sound = whole and layers == [2, 1] and edges == [folded, open_] and abs(2 * wide[0] + wide[1] - width) <= PLACE
    elif lay.spread == "crosswise-fold":
        sound = layers == [2] and edges == [open_] and _near(wide, [width])
        sound = sound and abs(2 * lay.lanes[0].end_mm - lay.length_mm) <= PLACE
    else:
        sound = layers == [2, 1] and edges == [folded, open_] and _near(wide, [width / 2, width])
        sound = sound and abs(lay.lanes[0].end_mm - lay.lanes[1].start_mm) <= PLACE
        sound = sound and abs(lay.lanes[1].end_mm - lay.length_mm) <= PLACE
    return [] if sound else [_stop("lane-not-the-cloth", "The lanes are not what this spread makes of the cloth.")]


def _near(values: list[float], wanted: list[float]) -> bool:
    return len(values) == len(wanted) and all(abs(a - b) <= PLACE for a, b in zip(values, wanted, strict=True))


def _keep_off(request: LayRequest, lay: Lay, lane: int) -> tuple[float, float]:
    """How far pieces keep off the first and the second edge of a lane, for the selvages there."""
    first, second = request.cloth.selvage_mm
    widest = max(first, second)
    if lay.spread == "single" or (lay.spread == "fold-then-single" and lane == 1):
        return first, second
    if lay.spread == "crosswise-fold":
        turned = request.cloth.nap == "one-way" or print_one_way(request)
        return (widest, widest) if turned else (first, second)
    if lay.spread == "double-fold":
        return 0.0, (first, second)[lane]
    if lay.spread == "part-fold":
        return (0.0, first) if lane == 0 else (first, second)
    return 0.0, widest


def usable_band(request: LayRequest, lay: Lay, lane: int) -> tuple[float, float]:
    """Between which distances from a lane's first edge ordinary pieces may lie, mm."""
    near, far = _keep_off(request, lay, lane)
    return near, lay.lanes[lane].to_mm - lay.lanes[lane].from_mm - far


def _check_inside(request: LayRequest, lay: Lay, placement: Placement, shape: Polygon) -> list[Finding]:
    if not 0 <= placement.lane < len(lay.lanes):
        return [_stop("no-such-lane", f"Piece {placement.piece} lies on a lane that is not there.")]
    lane = lay.lanes[placement.lane]
    whole = lane.to_mm - lane.from_mm
    near, far = _keep_off(request, lay, placement.lane)
    x0, y0, x1, y1 = shape.bounds
    if any(p.id == placement.piece and p.selvage_edge for p in request.pieces):
        near = far = 0.0
    out = max(lane.start_mm - x0, near - y0, y1 - (whole - far), x1 - min(lane.end_mm, lay.length_mm))
    if out > PLACE:
        return [_stop("off-the-cloth", f"Piece {placement.piece} leaves the cloth by {out:.1f} mm.")]
    return []


def _check_fold(lay: Lay, piece: LayPiece, placement: Placement) -> list[Finding]:
    lane = lay.lanes[min(max(placement.lane, 0), len(lay.lanes) - 1)]
    # A half cut crosswise or on the bias cannot lie on a fold that runs along the cloth: it is opened out.
    if piece.fold_edge is None or lane.edges[0] != "fold" or piece.grain in ("crosswise", "bias"):
        if placement.on_fold:
            return [_stop("not-a-fold-piece", f"Piece {piece.id} has no fold here but is laid on one.")]
        return []
    if not placement.on_fold or placement.layers != 2:
        return [_stop("off-the-fold", f"Piece {piece.id} is not on the fold.")]
    length = abs(piece.fold_edge[1][0] - piece.fold_edge[0][0])
    touching = [x for x, y in placement.outline if abs(y) <= PLACE]
    if not touching or max(touching) - min(touching) < length - PLACE:
        off = min(abs(y) for _, y in placement.outline)
        return [_stop("off-the-fold", f"The fold edge of piece {piece.id} is {off:.1f} mm off the fold.")]
    return []


def _check_count(piece: LayPiece, lay: Lay) -> list[Finding]:
    """As many pieces of cloth as asked for, and as many right hands as left where they are pairs."""
    own = [p for p in lay.placements if p.piece == piece.id and 0 <= p.lane < len(lay.lanes)]
    if any(p.layers > lay.lanes[p.lane].layers for p in own):
        return [_stop("wrong-count", f"Piece {piece.id} is cut through more layers than lie there.")]
    got = sum(1 if p.on_fold else p.layers for p in own)
    if got != piece.cut:
        return [_stop("wrong-count", f"Piece {piece.id}: {got} laid of {piece.cut} to cut.")]
    if piece.fold_edge is not None:
        return []
    if not piece.mirrored and any(p.layers == 2 for p in own):
        return [_stop("wrong-hand", f"Piece {piece.id} is same-handed; two layers would cut its mirror image too.")]
    alone = [p for p in own if lay.lanes[p.lane].layers == 1]
    if piece.mirrored:
        right = sum(1 for p in alone if not p.face_down)
        left = len(alone) - right
        free = sum(1 for p in own if p.layers == 1) - len(alone)  # through one layer of two: of either hand
        if max(abs(right - left) - free, 0) > piece.cut % 2:
            return [_stop("wrong-hand", f"Piece {piece.id}: {right} right-hand and {left} left-hand pieces.")]
    elif any(p.face_down for p in alone):
        return [_stop("wrong-hand", f"Piece {piece.id} lies face down and would be cut as its mirror image.")]
    return []


def _cut_polygon(piece: LayPiece, placement: Placement) -> Polygon:
    shape = Polygon(placement.outline)
    if piece.allowance_mm <= 0 or not shape.is_valid:
        return shape
    grown = shape.buffer(piece.allowance_mm, join_style="mitre", mitre_limit=1.0)
    if placement.on_fold:
        grown = grown.intersection(Polygon([(-1e6, 0), (1e6, 0), (1e6, 1e6), (-1e6, 1e6)]))
    return grown


def _check_selvages(pieces: dict[str, LayPiece], lay: Lay) -> list[Finding]:
    """A selvage edge must lie on the outer edge of a selvage, over its whole length."""
    found = []
    for placement in lay.placements:
        edge = pieces[placement.piece].selvage_edge
        if edge is None or not 0 <= placement.lane < len(lay.lanes):
            continue
        lane = lay.lanes[placement.lane]
        ends = [y for y, kind in zip((0.0, lane.to_mm - lane.from_mm), lane.edges, strict=True) if kind == "selvage"]
        if lay.spread == "part-fold" and placement.lane == 1:
            ends = ends[1:]  # the first is the folded-in edge, which is not this layer's
        reach = max((_length_on(placement, y) for y in ends), default=0.0)
        if reach < math.dist(*edge) - 2 * PLACE:
            found.append(_stop("off-the-selvage", f"The edge of piece {placement.piece} is not on the selvage."))
    return found


def _length_on(placement: Placement, y: float) -> float:
    xs = [x for x, py in placement.outline if abs(py - y) <= PLACE]
    return max(xs) - min(xs) if xs else 0.0


def _check_locked(request: LayRequest, lay: Lay) -> list[Finding]:
    """What is locked must lie where it was put, unless the lay says that it could not be held."""
    if any(f.code == "lock-dropped" for f in lay.findings):
        return []
    found = []
    for held in request.locked:
        corners = [
            (min(x for x, _ in p.outline), min(y for _, y in p.outline))
            for p in lay.placements
            if p.piece == held.piece
        ]
        if held.piece not in lay.failed and not any(math.dist(c, (held.x, held.y)) <= 2 * PLACE for c in corners):
            found.append(_stop("lock-moved", f"Piece {held.piece} is not where it was locked."))
    return found


def _check_apart(request: LayRequest, lay: Lay, shapes: list[Polygon]) -> list[Finding]:
    """Pieces in one lane must keep the gap, or at least not overlap."""
    found = []
    cores = [s.buffer(-OVERLAP / 2) for s in shapes]
    tree = STRtree(shapes)
    for i, shape in enumerate(shapes):
        for j in tree.query(shape.buffer(request.gap_mm + 1.0)):
            if j <= i or lay.placements[i].lane != lay.placements[j].lane:
                continue
            names = f"Pieces {lay.placements[i].piece} and {lay.placements[j].piece}"
            if cores[i].intersects(cores[j]):
                found.append(_stop("overlap", f"{names} overlap."))
            elif request.gap_mm > 0 and shape.distance(shapes[j]) < request.gap_mm - PLACE:
                found.append(_stop("gap-too-small", f"{names} lie nearer than {request.gap_mm:g} mm."))
    return found
