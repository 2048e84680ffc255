"""A piece drawn anew so that edges of it get the length that what they are sewn to now has, its other edges as they were.

A straight edge is stretched evenly along its own run, as a strip shared out over it. A curved one keeps its ends: the crown of a
cap moves, up and sideways, with both its halves; an armhole or a neck is hollowed more or less. Nothing gets a corner.
"""

import math
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.reshape import displaced, move_edge, own_edges, rebuilt, subdivided
from rowanseed.core.fit.solving import ENOUGH_MM, amount_that_leaves_nothing
from rowanseed.core.fit.wedge import centre_is_low
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import both
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

CURVED = 0.945  # the straight way between a curved edge's ends is at most this share of it
MOST_MM = 90.0  # a crown or a hollow is moved at most by so much
SPREAD = 2.2  # the feet of a cap's halves lie so many times farther apart than their heads
BETWEEN_MM = 130.0  # two cap edges with no more than so much between them share a crown
PANEL = 0.5  # the side beside an edge is at least so much of it where the edge belongs to a panel and not to a band
FINE_MM = 12.0
ROUNDS = 14
PASSES = 5
SETTLED_MM = 0.25

Shift = Callable[[int], Point]


def to_length(piece: AlterPiece, wanted: Mapping[str, float], sewn: Collection[str] = ()) -> PieceShape:
    """A piece with edges made as long as wanted on the seam line, mm.

    Args:
        sewn: its edges that are sewn to other pieces, and so keep their length where they can.
    Raises:
        AlterationError: the piece cannot give that much.
    """
    shape = piece.shape
    for _ in range(PASSES):  # one edge's change may shift another a little
        shape = _once(piece, shape, wanted, sewn)
        if _most_off(piece, shape, wanted) < SETTLED_MM:
            return shape
    worst = max(wanted, key=lambda edge: abs(_mm(piece, shape, edge) - wanted[edge]))
    if abs(_mm(piece, shape, worst) - wanted[worst]) > 1.0:
        by = abs(wanted[worst] - _mm(piece, piece.shape, worst))
        raise AlterationError(
            f"The {worst} of piece {piece.id} would have to change by {both(by)}, which it cannot give.", "by"
        )
    return shape


def _most_off(piece: AlterPiece, shape: PieceShape, wanted: Mapping[str, float]) -> float:
    return max(abs(_mm(piece, shape, edge) - mm) for edge, mm in wanted.items())


def _once(piece: AlterPiece, shape: PieceShape, wanted: Mapping[str, float], sewn: Collection[str]) -> PieceShape:
    """Each of the edges made as long as wanted, one after the other; two that share a crown together."""
    pair = _crown(shape, list(wanted))
    if pair is not None:
        shape = _crown_moved(piece, shape, *pair, {edge: wanted.get(edge, _mm(piece, shape, edge)) for edge in pair})
    for edge in wanted:
        if pair is not None and edge in pair:
            continue
        if abs(_mm(piece, shape, edge) - wanted[edge]) < ENOUGH_MM:
            continue
        if is_curved(shape, edge):
            shape = _hollowed(piece, shape, edge, wanted[edge])
        else:
            held = {other for other in sewn if other != edge}
            shape = _stretched(piece, shape, edge, wanted[edge], held)
    return shape


def _mm(piece: AlterPiece, shape: PieceShape, edge: str) -> float:
    return Walker().edge_mm(replace(piece, shape=shape), edge)


def is_curved(shape: PieceShape, edge: str) -> bool:
    """Whether an edge is a curve as an armhole or a neck is, so that its length changes between ends that stay."""
    points = edge_points(shape.seam_line, shape.edges[edge])
    return math.dist(points[0], points[-1]) < CURVED * path_length(points)


def _stretched(piece: AlterPiece, shape: PieceShape, edge: str, wanted: float, held: Collection[str]) -> PieceShape:
    """The piece stretched or shrunk evenly along an edge's run; what lies beyond goes along, the fold and the head stay."""
    points = edge_points(shape.outline, shape.edges[edge])
    spans = [(min(p[k] for p in points), max(p[k] for p in points)) for k in (0, 1)]
    axis = 0 if spans[0][1] - spans[0][0] >= spans[1][1] - spans[1][0] else 1
    low, high = spans[axis]
    moved = _end_moved(piece, shape, edge, wanted, axis, held)
    if moved is not None:
        return moved
    still_high = axis == 1 and shape.fold_edge is not None and shape.fold_edge[0][1] >= (low + high) / 2

    def moved_by(by: float) -> PieceShape:
        def move(p: Point) -> Point:
            share = min(1.0, max(0.0, (p[axis] - low) / (high - low)))
            to = p[axis] + by * (share - 1.0 if still_high else share)
            return (to, p[1]) if axis == 0 else (p[0], to)

        made = rebuilt(shape, [move(p) for p in shape.outline], list(range(len(shape.outline))), move)
        levels = {zone: move((x, 0.0))[0] for zone, x in shape.levels.items()} if axis == 0 else shape.levels
        return replace(made, levels=levels)

    return moved_by(amount_that_leaves_nothing(lambda by: _mm(piece, moved_by(by), edge) - wanted, 0.9 * (high - low)))


def _end_moved(
    piece: AlterPiece, shape: PieceShape, edge: str, wanted: float, axis: int, held: Collection[str]
) -> PieceShape | None:
    """A panel's edge made longer at one end, fading along what meets it there; None where it is stretched through and through.

    So a waist is let out at the side seam, where a band, whose ends are free, is lengthened; and an inseam does not change the side
    across from it.
    """
    place, n = shape.edges[edge], len(shape.outline)
    points = edge_points(shape.outline, place)
    whole = path_length(points)
    if axis == 1:
        first_last = (points[-1][1] >= points[0][1]) == centre_is_low(shape)
        end = place[1] if first_last else place[0]
        beside = [
            path_length(edge_points(shape.outline, at))
            for name, at in shape.edges.items()
            if name != edge and name in held and end in at
        ]
        if not beside or max(beside) < PANEL * whole or n < 4:
            return None
        outward = 1.0 if centre_is_low(shape) else -1.0
    else:
        if not any(_runs_across_from(shape, edge, other) for other in held if other in shape.edges):
            return None
        foot_last = points[-1][0] >= points[0][0]
        first_last = foot_last if not _meets_any(shape, place[1] if foot_last else place[0], held) else not foot_last
        outward = 1.0 if first_last == foot_last else -1.0

    def moved_by(by: float) -> PieceShape:
        dx, dy = (outward, 0.0) if axis == 0 else (0.0, outward)
        return move_edge(shape, edge, lambda t: by * (t if first_last else 1.0 - t), dx, dy)

    return moved_by(amount_that_leaves_nothing(lambda by: _mm(piece, moved_by(by), edge) - wanted, 0.9 * whole))


def _runs_across_from(shape: PieceShape, edge: str, other: str) -> bool:
    """Whether another edge runs down the grain beside this one for most of its way."""
    if other == edge:
        return False
    spans = [[x for x, _ in edge_points(shape.outline, shape.edges[name])] for name in (edge, other)]
    low, high = max(min(s) for s in spans), min(max(s) for s in spans)
    return high - low > 0.5 * (max(spans[0]) - min(spans[0]))


def _meets_any(shape: PieceShape, corner: int, edges: Collection[str]) -> bool:
    return any(corner in shape.edges[name] for name in edges if name in shape.edges)


def _crown(shape: PieceShape, edges: Sequence[str]) -> tuple[str, str] | None:
    """The two edges that meet at a piece's head, or at a short edge there, one of them wanted; in order round the outline."""
    n = len(shape.outline)
    head = min(x for x, _ in shape.outline)
    long = max(x for x, _ in shape.outline) - head
    named = own_edges(shape)
    for edge in edges:
        for other in named:
            for one, two in ((edge, other), (other, edge)):
                (_, end), (start, last) = shape.edges[one], shape.edges[two]
                gap = (start - end) % n
                if shape.edges[one] == shape.edges[two] or gap > n // 2 or last == shape.edges[one][0]:
                    continue
                between = path_length([shape.outline[(end + k) % n] for k in range(gap + 1)])
                at_head = max(shape.outline[end][0], shape.outline[start][0]) - head < 0.12 * long
                # Both run down from there, on their two sides, by much the same.
                feet = shape.outline[shape.edges[one][0]], shape.outline[last]
                down = min(p[0] for p in feet) - head
                alike = abs(feet[0][0] - feet[1][0]) < 0.5 * max(down, 1.0)
                alike = alike and math.dist(*feet) > SPREAD * math.dist(shape.outline[end], shape.outline[start]) + 60.0
                if at_head and between <= BETWEEN_MM and alike and down > 25.0:
                    return one, two
    return None


def _crown_moved(piece: AlterPiece, shape: PieceShape, one: str, two: str, wanted: Mapping[str, float]) -> PieceShape:
    """The piece with its crown moved until both halves are as long as wanted; by Newton's steps in two directions."""
    fine = subdivided(subdivided(shape, one, FINE_MM), two, FINE_MM)
    n = len(fine.outline)
    weights = [0.0] * n
    (i, j), (k, m) = fine.edges[one], fine.edges[two]
    _weigh(fine, weights, (i, j), rising=True)
    _weigh(fine, weights, (k, m), rising=False)
    for at in range((k - j) % n + 1):
        weights[(j + at) % n] = 1.0

    def off(x: float, y: float) -> tuple[float, float]:
        tried = _outline_moved(fine, [(w * x, w * y) for w in weights])
        return _mm(piece, tried, one) - wanted[one], _mm(piece, tried, two) - wanted[two]

    x = y = 0.0
    miss = off(x, y)
    for _ in range(ROUNDS):
        if max(abs(miss[0]), abs(miss[1])) < ENOUGH_MM:
            break
        step = 0.5
        by_x, by_y = off(x + step, y), off(x, y + step)
        a, b = (by_x[0] - miss[0]) / step, (by_y[0] - miss[0]) / step
        c, d = (by_x[1] - miss[1]) / step, (by_y[1] - miss[1]) / step
        det = a * d - b * c
        if abs(det) < 1e-6:
            break
        dx, dy = (miss[0] * d - miss[1] * b) / det, (miss[1] * a - miss[0] * c) / det
        share = min(1.0, 25.0 / (math.hypot(dx, dy) or 1.0))
        if math.hypot(x - share * dx, y - share * dy) > MOST_MM:
            break
        x, y = x - share * dx, y - share * dy
        miss = off(x, y)
    return displaced(fine, [(w * x, w * y) for w in weights])


def _weigh(shape: PieceShape, weights: list[float], edge: tuple[int, int], rising: bool) -> None:
    """From nothing at a half's foot, level there, to all at the crown, level there too."""
    points = edge_points(shape.outline, edge)
    whole, far = path_length(points) or 1.0, 0.0
    for k, p in enumerate(points):
        far += math.dist(points[k - 1], p) if k else 0.0
        t = far / whole if rising else 1.0 - far / whole
        weights[(edge[0] + k) % len(shape.outline)] = t * t * (3.0 - 2.0 * t)


def _hollowed(piece: AlterPiece, shape: PieceShape, edge: str, wanted: float) -> PieceShape:
    """The piece with one curved edge bulged more or less, square to the way between its ends, which stay as they are."""
    fine = subdivided(shape, edge, FINE_MM)
    place = fine.edges[edge]
    points = edge_points(fine.outline, place)
    (ax, ay), (bx, by) = points[0], points[-1]
    size = math.dist(points[0], points[-1]) or 1.0
    across = (-(by - ay) / size, (bx - ax) / size)
    # The way on which the edge bulges makes it longer.
    bulge = sum((x - ax) * across[0] + (y - ay) * across[1] for x, y in points)
    across = across if bulge >= 0 else (-across[0], -across[1])
    whole, far = path_length(points) or 1.0, 0.0
    n = len(fine.outline)
    shifts: list[float] = [0.0] * n
    for k, p in enumerate(points):
        far += math.dist(points[k - 1], p) if k else 0.0
        shifts[(place[0] + k) % n] = math.sin(math.pi * far / whole) ** 2

    def shifted(amount: float) -> list[Point]:
        return [(s * amount * across[0], s * amount * across[1]) for s in shifts]

    amount = amount_that_leaves_nothing(
        lambda mm: _mm(piece, _outline_moved(fine, shifted(mm)), edge) - wanted, MOST_MM
    )
    return displaced(fine, shifted(amount))


def _outline_moved(shape: PieceShape, shifts: Sequence[Point]) -> PieceShape:
    """The shape on a moved outline with nothing else taken along, to be measured only."""
    outline = tuple((x + dx, y + dy) for (x, y), (dx, dy) in zip(shape.outline, shifts, strict=True))
    return replace(shape, outline=outline)
