"""What each kind of alteration does to the one piece it is made on."""

import math
from collections.abc import Callable
from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.bust import slash_bust
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.reshape import move_edge, rebuilt, subdivided
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker

REACH_MM = 160.0  # how far a taper runs above and below its fullest place
EDGE_MARGIN_MM = 3.0
CAPS = ("cap", "cap back", "cap front")
SLEEVE_SEAMS = ("front seam", "back seam")


def edge_of(piece: AlterPiece, name: str) -> list[Point]:
    """The points of a named edge on the cutting line. Raises AlterationError when the piece has none of that name."""
    if name not in piece.shape.edges:
        known = ", ".join(piece.shape.edges) or "none"
        raise AlterationError(f"Piece {piece.id} has no edge “{name}”; it has: {known}.", "edge")
    return edge_points(piece.shape.outline, piece.shape.edges[name])


def line_across(alteration: Alteration, piece: AlterPiece) -> float:
    """The x of the line at which a piece is made longer or shorter."""
    xs = [x for x, _ in piece.shape.outline]
    if alteration.kind == "hem":
        # A strip that is folded out must end above the hem.
        return min(x for x, _ in edge_of(piece, alteration.at_edge)) - EDGE_MARGIN_MM + min(0.0, alteration.by_mm)
    if alteration.at_mm is not None:
        return alteration.at_mm
    lines = [line for line in piece.shape.lines if line.kind == "lengthen"]
    if alteration.kind == "strap" or not lines:
        return (min(xs) + max(xs)) / 2
    return lines[0].points[0][0]


def altered_shape(alteration: Alteration, piece: AlterPiece, edge: str, at: float | None) -> PieceShape:
    """The piece with an edge moved, slashed or let out as the alteration asks; `at`: the x of its place on this piece."""
    kind, by, shape = alteration.kind, alteration.by_mm, piece.shape
    if kind == "upper-arm":
        return _upper_arm(piece, by)
    if kind in ("bust", "bust-dartless"):
        return slash_bust(shape, by, alteration.point, edge, kind == "bust")
    if kind == "side":
        return _out(shape, edge, lambda t: by)
    points = edge_of(piece, edge)
    if kind == "shoulder":
        outer_last = abs(points[-1][1]) >= abs(points[0][1])
        return move_edge(shape, edge, lambda t: by * (t if outer_last else 1 - t), 1.0, 0.0)
    if kind == "crotch":
        fork_last = points[-1][0] >= points[0][0]
        return move_edge(shape, edge, lambda t: by * _ease_in(t if fork_last else 1 - t), 1.0, 0.0)
    if kind != "taper":
        raise AlterationError(f"There is no alteration “{kind}”. Known: {', '.join(KINDS)}.", "kind")
    return _taper(shape, edge, points, by, at)


def _ease_in(t: float) -> float:
    """From 0 to 1, level at both ends."""
    return t * t * (3.0 - 2.0 * t)


def _taper(shape: PieceShape, edge: str, points: list[Point], by: float, at: float | None) -> PieceShape:
    down = points[0][0] <= points[-1][0]
    xs = [p[0] for p in points]
    place = at if at is not None else (xs[0] + xs[-1]) / 2
    length = (max(xs) - min(xs)) or 1.0

    def bump(t: float) -> float:
        x = min(xs) + (t if down else 1 - t) * length
        share = min(1.0, abs(x - place) / REACH_MM)
        return by * 0.5 * (1 + math.cos(math.pi * share))

    return _out(subdivided(shape, edge), edge, bump)


def _out(shape: PieceShape, edge: str, profile: Callable[[float], float]) -> PieceShape:
    """An edge moved outward, away from the middle of the piece."""
    ys = [y for _, y in shape.outline]
    points = edge_points(shape.outline, shape.edges[edge]) if edge in shape.edges else []
    middle = (min(ys) + max(ys)) / 2
    outward = 1.0 if not points or sum(y for _, y in points) / len(points) >= middle else -1.0
    return move_edge(shape, edge, profile, 0.0, outward)


def _upper_arm(piece: AlterPiece, by: float) -> PieceShape:
    """Both seams out at the underarm, nothing at the hem; then the cap scaled down until it is as long as before."""
    wide = piece.shape
    for edge in SLEEVE_SEAMS:
        points = edge_of(piece, edge)
        top_first = points[0][0] <= points[-1][0]
        wide = _out(wide, edge, lambda t, f=top_first: by / 2 * (1 - t if f else t))  # type: ignore[misc]
    caps = [edge for edge in CAPS if edge in wide.edges]
    if not caps:
        return wide
    walker = Walker()

    def cap_mm(shape: PieceShape) -> float:
        return sum(walker.edge_mm(replace(piece, shape=shape), edge) for edge in caps)

    wanted = cap_mm(piece.shape)
    before, share, shape = (1.0, cap_mm(wide)), 0.95, wide
    for _ in range(8):  # by secants: the length rises with the height
        shape = _cap_scaled(wide, caps, min(1.8, max(0.2, share)))
        now = cap_mm(shape)
        if abs(now - wanted) < 0.02 or now == before[1]:
            break
        slope = (now - before[1]) / (share - before[0])
        before, share = (share, now), share - (now - wanted) / slope
    return shape


def _cap_scaled(shape: PieceShape, caps: list[str], share: float) -> PieceShape:
    """The sleeve with its cap's height above the underarm line scaled."""
    base = max(x for edge in caps for x, _ in edge_points(shape.outline, shape.edges[edge]))

    def move(point: Point) -> Point:
        return (base - (base - point[0]) * share, point[1]) if point[0] < base else point

    return rebuilt(shape, [move(p) for p in shape.outline], list(range(len(shape.outline))), move)
