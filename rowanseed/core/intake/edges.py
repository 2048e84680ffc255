"""Names for a piece's edges, proposed from its name, its corners and which way its sides run; the sewist corrects them."""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from shapely import LineString, hausdorff_distance

from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.sizes import corners
from rowanseed.core.geometry.types import Outline, Point, Segment

Edges = dict[str, tuple[int, int]]
ALONG = 0.5  # a side runs along the grain when it goes at most so far across for each mm along
BLUNT_DEG = 12.0
STRAIGHT_MM = 70.0
BODICE = re.compile(r"\b(front|back|bodice|shirt|jacket|coat|dress|top|vest|waistcoat|tunic)\b", re.I)
NOT_BODICE = re.compile(
    r"\b(facing|pocket|band|waistband|skirt|trouser|pants?|leg|sleeve|collar|cuff|yoke|lapel|placket|flap|tie|belt|hood|bag|loop|tab)\b",
    re.I,
)
SKIRT = re.compile(r"\b(skirt|panel|gore|peplum)\b", re.I)
LEG = re.compile(r"\b(trousers?|pants?|leg|shorts?|culottes?)\b", re.I)


@dataclass(frozen=True)
class Side:
    """A side of a piece from corner to corner: its ends in the outline, its middle, how it runs."""

    edge: tuple[int, int]
    points: tuple[Point, ...]

    @property
    def middle(self) -> Point:
        """The middle of its box."""
        xs, ys = [p[0] for p in self.points], [p[1] for p in self.points]
        return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2

    @property
    def long(self) -> float:
        """Its length along the line, mm."""
        return path_length(self.points)

    @property
    def along(self) -> bool:
        """Whether it runs along the grain more than across."""
        (ax, ay), (bx, by) = self.points[0], self.points[-1]
        return abs(by - ay) <= ALONG * abs(bx - ax)

    @property
    def bend(self) -> float:
        """How far it lies from the straight line between its ends, as a share of that line."""
        straight = math.dist(self.points[0], self.points[-1])
        if straight < 1e-6 or len(self.points) < 3:
            return 0.0
        return (
            float(hausdorff_distance(LineString(self.points), LineString([self.points[0], self.points[-1]]))) / straight
        )


def sides_of(outline: Outline, blunt: bool = False) -> list[Side]:
    """Return a piece's sides from corner to corner, in outline order; `blunt`: also from blunt ones at long straight lines."""
    at = corners(outline)
    if blunt:
        more = [
            k for k in corners(outline, BLUNT_DEG) if max(_straight(outline, k, step) for step in (1, -1)) > STRAIGHT_MM
        ]
        at = sorted({*at, *(k for k in more if all(math.dist(outline[k], outline[j]) > 8 for j in at))})
    if len(at) < 2:
        return [Side((0, len(outline) - 1), tuple(outline)), Side((len(outline) - 1, 0), (outline[-1], outline[0]))]
    return [Side((i, j), tuple(edge_points(outline, (i, j)))) for i, j in zip(at, [*at[1:], at[0]])]


def _straight(outline: Outline, start: int, step: int) -> float:
    """Return how far an outline goes straight on from a point, in one direction, mm."""
    count = len(outline)
    a, b = outline[start], outline[(start + step) % count]
    first = math.atan2(b[1] - a[1], b[0] - a[0])
    gone = math.dist(a, b)
    for k in range(2, count):
        p, q = outline[(start + (k - 1) * step) % count], outline[(start + k * step) % count]
        turn = math.atan2(q[1] - p[1], q[0] - p[0]) - first
        if abs(math.atan2(math.sin(turn), math.cos(turn))) > 0.01:
            break
        gone += math.dist(p, q)
    return gone


def propose_edges(
    outline: Outline, name: str, fold: Segment | None = None, double: Sequence[Point] = (), garment: str = ""
) -> Edges:
    """Return names for the sides of a piece: edge name -> (first, last point of the outline).

    Args:
        outline: x along the grain, the head toward smaller x.
        fold: its fold edge, where it has one.
        double: places of double notches, which mark the back of a sleeve's cap.
        garment: the pattern's kind of garment: a front is another thing on trousers than on a top.
    """
    for blunt in (False, True):  # a neck may run into the centre at a blunt corner
        sides = sides_of(outline, blunt)
        fold_side = next((s for s in sides if fold and _on(s, fold)), None)
        named = _by_kind(outline, sides, fold_side, name, double, garment)
        if named is not None:
            return _with_fold(named, fold_side)
    sides = sides_of(outline)
    fold_side = next((s for s in sides if fold and _on(s, fold)), None)
    return _with_fold(_plain(sides, fold_side), fold_side)


def _by_kind(
    outline: Outline, sides: Sequence[Side], fold_side: Side | None, name: str, double: Sequence[Point], garment: str
) -> Edges | None:
    """Return the names that the piece's kind gives, or None where it is of no kind that is known or does not look like it."""
    body = bool(BODICE.search(name) and not NOT_BODICE.search(name))
    if re.search(r"\bsleeve\b", name, re.I):
        return _sleeve(outline, sides, double)
    if re.search(r"\byoke\b", name, re.I):
        return _yoke(sides, fold_side)
    if LEG.search(name) or (garment == "trousers" and body):
        return _leg(sides)
    if SKIRT.search(name) or (garment == "skirt" and body):
        return _skirt(sides, fold_side)
    return _bodice(sides, fold_side) if body else None


def _on(side: Side, fold: Segment) -> bool:
    line = LineString(fold)
    return side.long > 5 and all(line.distance(LineString([p, p])) < 1.0 for p in (side.points[0], side.points[-1]))


def _with_fold(named: Mapping[str, tuple[int, int]], fold: Side | None) -> Edges:
    edges = dict(named)
    if fold is not None:
        edges = {name: edge for name, edge in edges.items() if edge != fold.edge}
        edges["fold"] = fold.edge
    return edges


def _plain(sides: Sequence[Side], fold: Side | None) -> Edges:
    """Return the names of a piece that is no part of the body: head, sides and foot of four sides, else numbers."""
    if len(sides) == 4:
        order = sorted(sides, key=lambda s: s.middle[0])
        head, foot = order[0], order[-1]
        rest = [s for s in sides if s not in (head, foot)]
        if not head.along and not foot.along:
            rest.sort(key=lambda s: s is fold)
            return {"head": head.edge, "side": rest[0].edge, "foot": foot.edge, "other side": rest[1].edge}
    return {f"edge {k}": s.edge for k, s in enumerate(sides, start=1)}


def _hem(sides: Sequence[Side]) -> Side:
    """Return the side at the foot: across the grain, furthest from the head."""
    across = [s for s in sides if not s.along] or list(sides)
    return max(across, key=lambda s: s.middle[0])


def _round_from_centre(sides: Sequence[Side], fold: Side | None) -> tuple[Side, list[Side]] | None:
    """Return the centre's side, and all others in order from its upper end round to its lower."""
    straight = [
        s
        for s in sides
        if s.along and s.bend < 0.012 and abs(s.points[0][1] - s.points[-1][1]) < 0.02 * max(s.long, 1.0)
    ]
    centre = fold if fold in sides else max(straight, key=lambda s: s.long, default=None)
    if centre is None:
        return None
    at = list(sides).index(centre)
    around = [*sides[at + 1 :], *sides[:at]]
    upward = centre.points[0][0] > centre.points[-1][0]
    return centre, around if upward else around[::-1]


def _bodice(sides: Sequence[Side], fold: Side | None) -> Edges | None:
    """Neck, shoulder, armhole, side and hem of a front or back, from the centre round: each told by its form and its place."""
    found = _round_from_centre(sides, fold)
    if found is None or len(found[1]) < 4:
        return None
    centre, left = found
    edges = {"centre": centre.edge}
    if left[0].long < 45 and left[1].bend > 0.06 and len(left) > 5:
        edges["neck step"] = left.pop(0).edge
    if left[0].bend < 0.04 and left[1].bend > 0.06 and left[2].along:
        edges["yoke"] = left.pop(0).edge
    else:
        edges["neck"] = left.pop(0).edge
        if left[0].bend > 0.05:
            return None
        edges["shoulder"] = left.pop(0).edge
    edges["armhole"] = left.pop(0).edge
    if not left or not left[0].along:
        return None
    edges["side"] = left.pop(0).edge
    for name in ("side below", "side further") if len(left) > 1 else ():
        if left[0].along and left[0].points[0] != left[-1].points[0] and len(left) > 1:
            edges[name] = left.pop(0).edge
    for name, side in zip(("hem", "point", "hem end"), left):
        edges[name] = side.edge
    return edges if "hem" in edges else None


def _yoke(sides: Sequence[Side], fold: Side | None) -> Edges | None:
    """Neck, shoulder, armhole and foot of a yoke."""
    found = _round_from_centre(sides, fold)
    if found is None or len(found[1]) != 4 or found[1][0].bend < 0.04:
        return None
    return {"centre": found[0].edge, **{n: s.edge for n, s in zip(("neck", "shoulder", "armhole", "foot"), found[1])}}


def _skirt(sides: Sequence[Side], fold: Side | None) -> Edges | None:
    """Waist, side, hem and centre of a skirt's panel."""
    if len(sides) != 4:
        return None
    hem = _hem(sides)
    waist = min((s for s in sides if s is not hem), key=lambda s: s.middle[0])
    rest = [s for s in sides if s not in (hem, waist)]
    centre = fold if fold in rest else min(rest, key=lambda s: abs(s.points[0][1] - s.points[-1][1]))
    side = next(s for s in rest if s is not centre)
    return {"waist": waist.edge, "hem": hem.edge, "centre": centre.edge, "side": side.edge}


def _leg(sides: Sequence[Side]) -> Edges | None:
    """Waist, crotch, inseam, hem and side of a leg; the centre seam apart where a corner parts it from the crotch."""
    hem = _hem(sides)
    waist = min((s for s in sides if s is not hem), key=lambda s: s.middle[0])
    at = list(sides).index(hem)
    around = [*sides[at + 1 :], *sides[:at]]
    if waist not in around:
        return None
    k = around.index(waist)
    one, other = around[:k], around[k + 1 :]
    if (len(one) > 1 and len(other) > 1) or not one or not other:
        return None
    inner, outer = (one[::-1], other) if len(one) > len(other) else (other, one)
    if len(inner) == 2:
        names = dict(zip(("crotch", "inseam"), inner))
    elif len(inner) == 3:
        names = dict(zip(("centre", "crotch", "inseam"), inner))
    else:
        return None
    return {"waist": waist.edge, "hem": hem.edge, "side": outer[0].edge, **{name: s.edge for name, s in names.items()}}


def _sleeve(outline: Outline, sides: Sequence[Side], double: Sequence[Point]) -> Edges | None:
    """The cap in two halves, parted at its highest point; its seams and its hem."""
    hem = _hem(sides)
    at = list(sides).index(hem)
    around = [*sides[at + 1 :], *sides[:at]]
    if len(around) < 3 or not (around[0].along and around[-1].along):
        return None
    first, last = around[0].edge[1], around[-1].edge[0]
    count = len(outline)
    cap = [(first + k) % count for k in range((last - first) % count + 1)]
    top = min(cap, key=lambda k: outline[k][0])
    if top in (cap[0], cap[-1]):
        return None
    left, right = (first, top), (top, last)

    def doubles(edge: tuple[int, int]) -> int:
        line = LineString(edge_points(outline, edge))
        return sum(line.distance(LineString([p, p])) < 6 for p in double)

    back_first = doubles(left) >= doubles(right)
    names = ("cap back", "cap front") if back_first else ("cap front", "cap back")
    seams = ("back seam", "front seam") if back_first else ("front seam", "back seam")
    return {
        "hem": hem.edge,
        seams[0]: around[0].edge,
        names[0]: left,
        names[1]: right,
        seams[1]: around[-1].edge,
    }
