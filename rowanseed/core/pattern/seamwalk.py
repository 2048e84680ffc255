"""The seam walk: edges that will be sewn together, measured on the seam line and compared, notches too."""

import math
from collections.abc import Sequence
from dataclasses import InitVar, dataclass, replace

from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.geometry.nearest import Nearest, nearest
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import ON_EDGE_MM, PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.lengths import both
from rowanseed.core.pattern.model import Seam, SeamSide

TOLERANCE_MM = 2.0  # a smaller difference is lost in cutting; common practice, no source
EASED_TOLERANCE_MM = 3.0  # and where an edge is eased in, a little more or less of that; common practice, no source
ASKEW_MM = 18.0  # notches that miss by more are counted from the wrong end
ASTRAY_MM = 2.0
EASED_MM = 5.0  # from here on a difference that is meant is eased in


@dataclass(frozen=True)
class AlterPiece:
    """A piece that may be altered and walked. `allowance_mm`: inside the outline, where the shape itself does not say.

    `follows`: the piece behind which it lies, as a lining or facing behind its shell: what changes there changes here. `name`: what
    the pattern calls it, where its id is a number.
    """

    id: str
    shape: PieceShape
    same_as: str = ""
    allowance_mm: InitVar[float] = 0.0
    follows: str = ""
    name: str = ""

    def __post_init__(self, allowance_mm: float) -> None:
        """Give the shape its allowance where it does not say one."""
        if self.shape.allowance_mm is None and allowance_mm:
            object.__setattr__(self, "shape", replace(self.shape, allowance_mm=allowance_mm))


@dataclass(frozen=True)
class WalkedSide:
    """One side of a seam: its length and the distances of its notches from its start, on the seam line, mm."""

    mm: float
    notches: tuple[float, ...]


@dataclass(frozen=True)
class WalkedSeam:
    """A seam measured: both sides on the seam line; notches of b counted from the end that meets the start of a."""

    seam: Seam
    a: WalkedSide
    b: WalkedSide

    @property
    def a_mm(self) -> float:
        """Length of a, mm."""
        return self.a.mm

    @property
    def b_mm(self) -> float:
        """Length of b, mm."""
        return self.b.mm

    @property
    def difference_mm(self) -> float:
        """How much longer a is than b."""
        return self.a.mm - self.b.mm

    @property
    def off_mm(self) -> float:
        """How far the difference lies from what is meant."""
        return self.difference_mm - self.seam.meant_mm

    @property
    def notch_pairs(self) -> tuple[tuple[float, float], ...]:
        """Notches that meet, by their order along the seam; none where the sides have different numbers of them."""
        if len(self.a.notches) != len(self.b.notches):
            return ()
        return tuple(zip(self.a.notches, self.b.notches, strict=True))

    @property
    def notch_off_mm(self) -> float:
        """The furthest that two notches miss each other, beyond what is meant to be eased in."""
        return max((abs(p - q) - abs(self.seam.meant_mm) for p, q in self.notch_pairs), default=0.0)


class Walker:
    """Measures edges on the seam line; what was measured on a shape is kept as long as the walker is."""

    def __init__(self) -> None:
        self._held: dict[int, PieceShape] = {}  # keeps a shape alive, so that its id stays its own
        self._lengths: dict[tuple[int, str], float] = {}
        self._notches: dict[tuple[int, str], list[tuple[int, float]]] = {}

    def line(self, piece: AlterPiece) -> Outline:
        """A piece's seam line."""
        self._held[id(piece.shape)] = piece.shape
        return piece.shape.seam_line

    def edge_mm(self, piece: AlterPiece, edge: str) -> float:
        """Length of an edge on the seam line less what its darts fold away, mm."""
        line = self.line(piece)
        key = (id(piece.shape), edge)
        if key not in self._lengths:
            place = piece.shape.edges[edge]
            folded = sum(intake for _, intake in self._darts(piece, place))
            self._lengths[key] = path_length(edge_points(line, place)) - folded
        return self._lengths[key]

    def side(self, pieces: dict[str, AlterPiece], edges: Sequence[SeamSide]) -> WalkedSide:
        """One side of a seam, each edge from its head end, or from the centre where it runs across."""
        total, notches = 0.0, list[float]()
        for number, edge in edges:
            piece = pieces.get(number)
            if piece is None or edge not in piece.shape.edges:
                raise AlterationError(f"There is no edge “{edge}” on a piece {number}.", "seams")
            length = self.edge_mm(piece, edge)
            notches += [total + at for _, at in self.notches(piece, edge)]
            total += length
        return WalkedSide(total, tuple(sorted(notches)))

    def folded(self, piece: AlterPiece, edge: str) -> float:
        """How much of an edge's seam line darts fold away, mm."""
        return sum(intake for _, intake in self._darts(piece, piece.shape.edges[edge]))

    def darts_from_head(self, piece: AlterPiece, edge: str) -> list[tuple[float, float]]:
        """The darts that open on an edge, from its head end: how far along the seam line, and what they fold away of it, mm."""
        place = piece.shape.edges[edge]
        found = self._darts(piece, place)
        if starts_at_head(edge_points(piece.shape.outline, place)):
            return sorted(found)
        whole = path_length(edge_points(self.line(piece), place))
        return sorted((whole - at - intake, intake) for at, intake in found)

    def _darts(self, piece: AlterPiece, edge: tuple[int, int]) -> list[tuple[float, float]]:
        """The darts that open on an edge: how far along the seam line, and what they fold away of it, mm."""
        found = []
        for line in piece.shape.lines:
            if line.kind != "dart" or len(line.points) != 3:
                continue
            cut = edge_points(piece.shape.outline, edge)
            if max(nearest(cut, line.points[k]).miss for k in (0, 2)) > ON_EDGE_MM:
                continue
            seam = edge_points(self.line(piece), edge)
            first, second = (_crossed(seam, line.points[k], line.points[1]) for k in (0, 2))
            found.append((min(first, second), abs(first - second)))
        return found

    def notches(self, piece: AlterPiece, edge: str) -> list[tuple[int, float]]:
        """An edge's notches: their place in the shape's list, and how far from the head end on the seam line less darts."""
        if not piece.shape.notches:
            return []
        key = (id(piece.shape), edge)
        self._held[key[0]] = piece.shape
        if key not in self._notches:
            self._notches[key] = self._find_notches(piece, edge)
        return self._notches[key]

    def along(self, piece: AlterPiece, edge: str, index: int) -> float:
        """How far one notch lies from an edge's head end on the seam line less darts, mm; one beyond it lies at its end."""
        place = piece.shape.edges[edge]
        cut, line = edge_points(piece.shape.outline, place), edge_points(self.line(piece), place)
        at = piece.shape.notches[index].at
        on_seam = _same_place(line, nearest(cut, at), at)
        along = on_seam - sum(intake for where, intake in self._darts(piece, place) if where < on_seam)
        return along if starts_at_head(cut) else self.edge_mm(piece, edge) - along

    def _find_notches(self, piece: AlterPiece, edge: str) -> list[tuple[int, float]]:
        place = piece.shape.edges[edge]
        cut, line = edge_points(piece.shape.outline, place), edge_points(self.line(piece), place)
        whole = path_length(cut)
        darts = self._darts(piece, place)
        found = []
        for index, notch in enumerate(piece.shape.notches):
            near = nearest(cut, notch.at)
            if near.miss <= ON_EDGE_MM and 1.0 < near.along < whole - 1.0:
                on_seam = _same_place(line, near, notch.at)
                found.append((index, on_seam - sum(intake for where, intake in darts if where < on_seam)))
        if starts_at_head(cut):
            return found
        length = self.edge_mm(piece, edge)
        return [(index, length - at) for index, at in found]

    def seam_place(self, piece: AlterPiece, edge: str, from_head: float) -> Point:
        """The place on the seam line at a distance along an edge, counted from its head end."""
        return self._place(piece, edge, from_head, on_seam=True)

    def place(self, piece: AlterPiece, edge: str, from_head: float) -> Point:
        """The place on the cutting line opposite a distance along an edge's seam line, counted from its head end."""
        return self._place(piece, edge, from_head, on_seam=False)

    def _place(self, piece: AlterPiece, edge: str, from_head: float, on_seam: bool) -> Point:
        where = piece.shape.edges[edge]
        cut, line = edge_points(piece.shape.outline, where), edge_points(self.line(piece), where)
        if not starts_at_head(cut):
            cut, line = cut[::-1], line[::-1]
        # What a dart folds away is no part of the distance, but lies on the line.
        for at, intake in self.darts_from_head(piece, edge):
            from_head += intake if from_head > at else 0.0
        for k, (a, b) in enumerate(zip(line, line[1:])):
            step = math.dist(a, b)
            if from_head <= step and step:
                share = max(0.0, from_head / step)
                (ax, ay), (bx, by) = (line if on_seam else cut)[k : k + 2]
                return (ax + share * (bx - ax), ay + share * (by - ay))
            from_head -= step
        return cut[-1]


def starts_at_head(points: Sequence[Point]) -> bool:
    """Whether an edge starts at its head end, or where it runs across the grain, at the centre."""
    (x0, y0), (x1, y1) = points[0], points[-1]
    return x0 <= x1 if abs(x1 - x0) >= abs(y1 - y0) else abs(y0) <= abs(y1)


def _same_place(seam: Sequence[Point], near: Nearest, place: Point) -> float:
    """The distance along the seam line that lies opposite a place on the cutting line, point for point alike."""
    far = path_length(seam[: near.segment + 1]) + near.share * math.dist(seam[near.segment], seam[near.segment + 1])
    # Where a side of the cutting line has none on the seam line, as in a tight corner, the place square to it is taken.
    square = nearest(seam, place).along
    return far if abs(far - square) <= ASTRAY_MM else square


def _crossed(points: Sequence[Point], a: Point, b: Point) -> float:
    """How far along a line through points it is crossed by a segment, else the place nearest to its first end, mm."""
    far = 0.0
    for p, q in zip(points, points[1:]):
        cross = (q[0] - p[0]) * (b[1] - a[1]) - (q[1] - p[1]) * (b[0] - a[0])
        if cross:
            t = ((a[0] - p[0]) * (b[1] - a[1]) - (a[1] - p[1]) * (b[0] - a[0])) / cross
            u = ((a[0] - p[0]) * (q[1] - p[1]) - (a[1] - p[1]) * (q[0] - p[0])) / cross
            if -1e-9 <= t <= 1 and -1e-9 <= u <= 1:
                return far + t * math.dist(p, q)
        far += math.dist(p, q)
    return nearest(points, a).along


def tolerance(seam: Seam) -> float:
    """How far a seam may be from what is meant before it is said, mm."""
    return EASED_TOLERANCE_MM if abs(seam.meant_mm) >= EASED_MM else TOLERANCE_MM


def walk(pieces: Sequence[AlterPiece], seams: Sequence[Seam], walker: Walker | None = None) -> list[WalkedSeam]:
    """Measure every seam.

    Raises:
        AlterationError: a seam names a piece or an edge that is not there.
    """
    walker = walker or Walker()
    known = {piece.id: piece for piece in pieces}
    return [_turned(seam, *(walker.side(known, side) for side in seam.sides)) for seam in seams]


def _turned(seam: Seam, a: WalkedSide, b: WalkedSide) -> WalkedSeam:
    """The seam with b walked from the end at which its notches meet those of a best."""
    other = WalkedSide(b.mm, tuple(sorted(b.mm - at for at in b.notches)))
    walked, turned = WalkedSeam(seam, a, b), WalkedSeam(seam, a, other)
    return turned if is_met_turned(walked.notch_off_mm, turned.notch_off_mm) else walked


def is_met_turned(off_mm: float, turned_off_mm: float) -> bool:
    """Whether notches meet when the second edge is walked from its other end: only where from its head they miss by far.

    Both edges are counted from their heads, or from the centre; ease alone lets notches miss by a finger's breadth.
    """
    return turned_off_mm < ASKEW_MM / 3 and off_mm > ASKEW_MM


def _name(side: Sequence[SeamSide]) -> str:
    return " and ".join(f"piece {number}, {edge}" for number, edge in dict.fromkeys(side))


def walk_findings(walked: Sequence[WalkedSeam], before: Sequence[WalkedSeam] | None = None) -> list[Finding]:
    """What does not meet: too long, too short, a notch out of place, with the millimetres.

    With the walk before an alteration, only what it made worse is told.
    """
    findings = []
    for k, seam in enumerate(walked):
        was = before[k] if before is not None else None
        if abs(seam.off_mm) > tolerance(seam.seam) and (was is None or abs(seam.off_mm) > abs(was.off_mm) + 0.5):
            findings.append(_length_finding(seam))
        # Where several edges make a side their notches are drawn; which end meets which, the seam does not say.
        single = not seam.seam.more_a and not seam.seam.more_b
        worse = was is None or seam.notch_off_mm > was.notch_off_mm + 0.5
        if single and seam.notch_off_mm > TOLERANCE_MM and worse:
            findings.append(_notch_finding(seam))
    return findings


def _length_finding(seam: WalkedSeam) -> Finding:
    a, b = seam.seam.sides
    word = "longer" if seam.off_mm > 0 else "shorter"
    meant = f" than meant ({both(seam.seam.meant_mm)})" if seam.seam.meant_mm else ""
    text = (
        f"{_name(a).capitalize()}, is {both(seam.a_mm)}; {_name(b)}, is {both(seam.b_mm)}: "
        f"{both(abs(seam.off_mm))} {word}{meant}."
    )
    return Finding("care", "seam-too-long" if seam.off_mm > 0 else "seam-too-short", text)


def _notch_finding(seam: WalkedSeam) -> Finding:
    a, b = seam.seam.sides
    p, q = max(seam.notch_pairs, key=lambda pair: abs(pair[0] - pair[1]))
    text = (
        f"A notch of {_name(a)}, lies {both(p)} along the seam, its partner on {_name(b)}, {both(q)}: "
        f"{both(abs(p - q))} out of place. Mark it anew where the walk shows it."
    )
    return Finding("care", "notch-out-of-place", text)
