"""The seam walk: edges that will be sewn together, measured on the seam line and compared."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.lay.model import Outline, Point, Segment
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import Seam

TOLERANCE_MM = 2.0  # a smaller difference is lost in cutting; common practice, no source


@dataclass(frozen=True)
class WalkPiece:
    """A piece to walk: its cutting line, its named edges (point i to point j), the allowance inside it, its fold."""

    id: str
    outline: Outline
    edges: Mapping[str, tuple[int, int]]
    allowance_mm: float = 0.0
    fold_edge: Segment | None = None


@dataclass(frozen=True)
class WalkedSeam:
    """A seam measured: both edges on the seam line, their difference a - b, and what is meant, mm."""

    seam: Seam
    a_mm: float
    b_mm: float

    @property
    def difference_mm(self) -> float:
        """How much longer a is than b."""
        return self.a_mm - self.b_mm

    @property
    def off_mm(self) -> float:
        """How far the difference lies from what is meant."""
        return self.difference_mm - self.seam.meant_mm


def edge_points(outline: Outline, edge: tuple[int, int]) -> list[Point]:
    """The points of an edge in outline order, from its point i to its point j, going round past the end."""
    first, last = edge
    n = len(outline)
    count = (last - first) % n
    return [outline[(first + k) % n] for k in range(count + 1)]


def path_length(points: Sequence[Point]) -> float:
    """Length of a line through points, mm."""
    return sum(math.dist(a, b) for a, b in zip(points, points[1:]))


def seam_line(piece: WalkPiece) -> Outline:
    """The seam line inside a cutting line, point for point: each side moved in by the allowance, none at the fold."""
    if piece.allowance_mm <= 0:
        return piece.outline
    points = piece.outline
    n = len(points)
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, (*points[1:], points[0])))
    inward = 1.0 if area > 0 else -1.0
    sides = [_moved_side(piece, points[k], points[(k + 1) % n], inward) for k in range(n)]
    return tuple(_meet(sides[k - 1], sides[k], points[k], piece.allowance_mm) for k in range(n))


def _moved_side(piece: WalkPiece, a: Point, b: Point, inward: float) -> tuple[Point, Point]:
    """A side moved in by the allowance: a point on it and its direction."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = math.hypot(dx, dy) or 1.0
    far = 0.0 if _on_fold(piece, a) and _on_fold(piece, b) else piece.allowance_mm
    return (a[0] - inward * dy / size * far, a[1] + inward * dx / size * far), (dx / size, dy / size)


def _on_fold(piece: WalkPiece, point: Point) -> bool:
    if piece.fold_edge is None:
        return False
    return abs(point[1] - piece.fold_edge[0][1]) < 0.05


def _meet(before: tuple[Point, Point], after: tuple[Point, Point], corner: Point, most: float) -> Point:
    """Where two moved sides meet; near-straight corners take the middle of their feet, sharp ones are held near."""
    (p, u), (q, v) = before, after
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 1e-3:
        # Both sides run on: their moved copies pass the corner at the same foot.
        along = (corner[0] - q[0]) * v[0] + (corner[1] - q[1]) * v[1]
        return (q[0] + along * v[0], q[1] + along * v[1])
    t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    point = (p[0] + t * u[0], p[1] + t * u[1])
    distance = math.dist(point, corner)
    if distance <= 4.0 * most:
        return point
    share = 4.0 * most / distance
    return (corner[0] + share * (point[0] - corner[0]), corner[1] + share * (point[1] - corner[1]))


def walk(pieces: Sequence[WalkPiece], seams: Sequence[Seam]) -> list[WalkedSeam]:
    """Measure every seam.

    Raises:
        AlterationError: a seam names a piece or an edge that is not there.
    """
    known = {piece.id: piece for piece in pieces}
    lines: dict[str, Outline] = {}

    def measure(side: tuple[str, str]) -> float:
        piece = known.get(side[0])
        if piece is None or side[1] not in piece.edges:
            raise AlterationError(f"There is no edge “{side[1]}” on a piece {side[0]}.", "seams")
        line = lines.setdefault(piece.id, seam_line(piece))
        return path_length(edge_points(line, piece.edges[side[1]]))

    return [WalkedSeam(seam, measure(seam.a), measure(seam.b)) for seam in seams]


def walk_findings(walked: Sequence[WalkedSeam], before: Sequence[WalkedSeam] | None = None) -> list[Finding]:
    """What does not meet: too long or too short with the millimetres.

    With the walk before an alteration, only seams that it made worse are told.
    """
    findings = []
    for k, seam in enumerate(walked):
        worse = before is None or abs(seam.off_mm) > abs(before[k].off_mm) + 0.5
        if abs(seam.off_mm) <= TOLERANCE_MM or not worse:
            continue
        (pa, ea), (pb, eb) = seam.seam.a, seam.seam.b
        word = "longer" if seam.off_mm > 0 else "shorter"
        meant = f" than meant ({both(seam.seam.meant_mm)})" if seam.seam.meant_mm else ""
        findings.append(
            Finding(
                "care",
                "seam-too-long" if seam.off_mm > 0 else "seam-too-short",
                f"Piece {pa}, {ea}, is {both(seam.a_mm)}; piece {pb}, {eb}, is {both(seam.b_mm)}: "
                f"{both(abs(seam.off_mm))} {word}{meant}.",
            )
        )
    return findings
