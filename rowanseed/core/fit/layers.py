"""Linings and facings that lie behind a piece: laid on it, and moved place for place by what was done to it.

So a layer is altered alike whatever its shell went through: the alteration itself, one carried to it, or a seam made to meet.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely import LineString, Polygon

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.bust_slash import BUST_POINT
from rowanseed.core.fit.change import Change, Followed
from rowanseed.core.fit.edge_changes import altered_shape
from rowanseed.core.fit.kinds import KINDS
from rowanseed.core.fit.reshape import change_length, own_edges, rebuilt, subdivided_all
from rowanseed.core.fit.tracking import STEP_MM, Field, Vectors, without_idle_points
from rowanseed.core.geometry.nearest import NearestOn
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.pattern.model import Seam
from rowanseed.core.pattern.seamwalk import AlterPiece

BESIDE_MM = 15.0  # what lies so near to the shell's edge moves with it
ALIKE_MM = 6.0  # an edge that lies so near to one of the shell lies on it
OFF_MM = 30.0  # two edges farther apart than this are no likeness
CORNER_MM = 45.0  # a layer's corner belongs to the shell's where it lies so near
RAMP_MM = 60.0
NARROW_MM = 95.0  # a layer narrower than this is a facing: its inner edge goes with its outer
FACING_SHARE = 0.45  # of its shell's area at most
TRACED_MM = 1.5
CURVED = 0.985


@dataclass(frozen=True)
class Laid:
    """How a layer lies on its shell: its place is (x + dx, sign * y + dy) there."""

    dx: float
    dy: float
    sign: float

    def on_shell(self, p: Point) -> Point:
        """Where a place of the layer lies on its shell."""
        return (p[0] + self.dx, self.sign * p[1] + self.dy)

    def back(self, p: Point) -> Point:
        """Where a place of the shell lies on its layer."""
        return (p[0] - self.dx, (p[1] - self.dy) * self.sign)


def behind(known: Mapping[str, AlterPiece], seams: Sequence[Seam]) -> dict[str, str]:
    """Each layer and the piece behind which it lies: as the pattern says, or a facing traced from the piece it is sewn to."""
    said = {piece.id: piece.follows for piece in known.values() if piece.follows in known}
    for seam in seams:
        if seam.more_a or seam.more_b:
            continue
        for (layer, edge), (shell, theirs) in ((seam.a, seam.b), (seam.b, seam.a)):
            if layer not in known or shell not in known or layer == shell or layer in said or said.get(shell) == layer:
                continue
            if not known[layer].same_as and _is_traced(known[layer].shape, edge, known[shell].shape, theirs):
                said[layer] = shell
    return said


def _is_traced(layer: PieceShape, edge: str, shell: PieceShape, theirs: str) -> bool:
    """Whether a piece is a facing of another: smaller, the edge that joins them the same line, and within it when laid on it."""
    if edge not in layer.edges or theirs not in shell.edges:
        return False
    if layer.area_mm2() > FACING_SHARE * shell.area_mm2():
        return False
    mine, other = edge_points(layer.outline, layer.edges[edge]), edge_points(shell.outline, shell.edges[theirs])
    if abs(path_length(mine) - path_length(other)) > 2 * TRACED_MM or path_length(other) < 30.0:
        return False
    if math.dist(other[0], other[-1]) > CURVED * path_length(other):
        return False  # a straight edge lies on any other
    for laid in _ends_on(mine, other):
        line = LineString(other)
        if max(line.distance(shapely.Point(laid.on_shell(p))) for p in mine) > TRACED_MM:
            continue
        inside = Polygon(shell.outline).buffer(TRACED_MM + 1.0)
        if inside.contains(Polygon([laid.on_shell(p) for p in layer.outline]).buffer(0)):
            return True
    return False


def _ends_on(mine: Sequence[Point], theirs: Sequence[Point]) -> list[Laid]:
    """The ways in which one line is laid on another, its ends on the other's, drawn the same way or the other way round."""
    found = []
    for sign in (1.0, -1.0):
        for first, last in ((theirs[0], theirs[-1]), (theirs[-1], theirs[0])):
            dx = (first[0] + last[0] - mine[0][0] - mine[-1][0]) / 2
            dy = (first[1] + last[1] - sign * (mine[0][1] + mine[-1][1])) / 2
            found.append(Laid(dx, dy, sign))
    return found


def laid_on(shell: PieceShape, layer: PieceShape) -> Laid:
    """How a layer lies on its shell: by the edges that both have, where most of them lie best on each other."""
    shared = [name for name in layer.edges if name in shell.edges]
    tries: list[Laid] = []
    for name in shared:
        mine, theirs = (edge_points(s.outline, s.edges[name]) for s in (layer, shell))
        tries += _ends_on(mine, theirs)
        for sign in (1.0, -1.0):  # a shorter one begins where the other does
            for p in (mine[0], mine[-1]):
                for q in (theirs[0], theirs[-1]):
                    tries.append(Laid(q[0] - p[0], q[1] - sign * p[1], sign))
    tries += _by_boxes(shell, layer)
    lines = {name: LineString(edge_points(shell.outline, shell.edges[name])) for name in shared}
    ring = LineString([*shell.outline, shell.outline[0]])
    sampled = {name: _sampled(edge_points(layer.outline, layer.edges[name])) for name in shared}
    rest = _sampled([*layer.outline, layer.outline[0]], 24)

    def unlike(laid: Laid, step: int) -> float:
        off = 0.0
        for name in shared:
            off += float(np.minimum(_far(lines[name], sampled[name][::step], laid), OFF_MM).mean())
        off += float(np.minimum(_far(ring, rest[::step], laid), OFF_MM).mean()) * (1.0 if shared else 4.0)
        return off + (0.05 if laid.sign < 0 else 0.0)

    once = list({(round(t.dx, 1), round(t.dy, 1), t.sign): t for t in tries}.values())
    rough = sorted(once, key=lambda laid: unlike(laid, 4))[:5]
    return min(rough, key=lambda laid: unlike(laid, 1))


def _by_boxes(shell: PieceShape, layer: PieceShape) -> list[Laid]:
    """The ways in which two outlines are laid on each other by their tops and their sides."""
    found = []
    top = min(x for x, _ in shell.outline) - min(x for x, _ in layer.outline)
    ys, own = [y for _, y in shell.outline], [y for _, y in layer.outline]
    for sign in (1.0, -1.0):
        turned = [sign * y for y in own]
        found += [Laid(top, min(ys) - min(turned), sign), Laid(top, max(ys) - max(turned), sign)]
    return found


def _sampled(points: Sequence[Point], count: int = 9) -> Vectors:
    line = LineString(points)
    return np.array([(p.x, p.y) for p in (line.interpolate(k / (count - 1), normalized=True) for k in range(count))])


def _far(line: LineString, places: Vectors, laid: Laid) -> Vectors:
    on = np.column_stack((places[:, 0] + laid.dx, laid.sign * places[:, 1] + laid.dy))
    return np.asarray(shapely.distance(line, shapely.points(on)))


def take_layers_along(change: Change) -> None:
    """Move every layer by what was done to its shell, shells before what lies behind them."""
    todo = dict(change.behind)
    while todo:
        ready = [layer for layer, shell in todo.items() if shell not in todo] or list(todo)
        for layer in sorted(ready):
            _take_along(change, layer, todo.pop(layer))


def _take_along(change: Change, layer: str, shell: str) -> None:
    field = change.field_of(shell)
    piece = change.known[layer]
    if (
        layer in change.altered
        or piece.same_as
        or (field is None and change.now(shell).shape == change.known[shell].shape)
    ):
        return
    if not change.follow(layer, f"it lies behind piece {shell}"):
        return
    laid = laid_on(change.known[shell].shape, piece.shape)
    try:
        again = _made_again(change, change.known[shell], piece, laid)
        if again is not None:
            change.remake(layer, lambda _: again)
        elif field is not None:
            # What was already done to the layer is done anew, as its shell now is.
            change.changed.pop(layer, None)
            change.forget(layer)
            try:
                change.remake(layer, lambda shape: moved_with(shape, change.known[shell].shape, field, laid))
            except AlterationError:
                # Folded where the piece narrows at once, places would cross: the layer is folded by the same line itself.
                change.forget(layer)
                change.remake(layer, lambda shape: _by_the_same_line(change, shell, replace(piece, shape=shape), laid))
        change.layers.add(layer)
    except AlterationError as error:
        change.unfollow(layer)
        change.left.append(Followed(layer, f"it lies behind piece {shell}, but {error.text}"))


def _made_again(change: Change, shell: AlterPiece, layer: AlterPiece, laid: Laid) -> PieceShape | None:
    """A layer slashed as its shell was, or with its dart changed alike; None where it is moved with its shell instead."""
    alteration = change.alteration
    way = KINDS[alteration.kind].way
    if shell.id not in change.altered or way not in ("slashes", "dart"):
        return None
    if way == "slashes" and not {"armhole", alteration.at_edge} <= layer.shape.edges.keys():
        return None
    if way == "dart" and not any(line.kind == "dart" for line in layer.shape.lines):
        return None
    point = alteration.point or next((m.at for m in shell.shape.marks if m.name == BUST_POINT), None)
    own = laid.back(point) if point is not None else None
    here = replace(
        alteration,
        at_mm=own[0] if own and way == "slashes" else None,
        across_mm=own[1] if own and way == "slashes" else alteration.across_mm,
    )
    return altered_shape(here, layer, alteration.at_edge, here.at_mm)


def _by_the_same_line(change: Change, shell: str, layer: AlterPiece, laid: Laid) -> PieceShape:
    """A layer with the strip or the wedge of its shell. Raises AlterationError where that was made by something else."""
    line, alteration = change.lines.get(shell), change.alteration
    if line is not None:
        return change_length(layer.shape, line - laid.dx, alteration.by_mm)
    if shell == alteration.piece and KINDS[alteration.kind].way == "wedge" and alteration.at_mm is not None:
        here = replace(alteration, at_mm=alteration.at_mm - laid.dx)
        return altered_shape(here, layer, alteration.at_edge, here.at_mm)
    raise AlterationError("it cannot be moved with it.", "piece")


def moved_with(layer: PieceShape, shell: PieceShape, field: Field, laid: Laid) -> PieceShape:
    """A layer with every place of it moved as the place of its shell on which it lies."""
    dense = subdivided_all(layer, STEP_MM)
    line = NearestOn(dense.outline, closed=True)
    on = _Lying(dense, shell, field, laid)
    n = len(dense.outline)
    moved = [on.moved(k) for k in range(n)]

    def inside(p: Point) -> Point:
        near = line.at(p)
        if near.miss < BESIDE_MM or on.is_narrow:
            (ax, ay), (bx, by) = moved[near.segment], moved[(near.segment + 1) % n]
            (cx, cy), (dx, dy) = dense.outline[near.segment], dense.outline[(near.segment + 1) % n]
            t = near.share
            return (p[0] + (1 - t) * (ax - cx) + t * (bx - dx), p[1] + (1 - t) * (ay - cy) + t * (by - dy))
        x, y = field.within(laid.on_shell(p))
        return (p[0] + x, p[1] + laid.sign * y)

    made = rebuilt(dense, moved, list(range(n)), inside)
    centre = sum(y for _, y in dense.outline) / n
    levels = {zone: inside((x, centre))[0] for zone, x in layer.levels.items()}
    fold = layer.fold_edge
    if fold is not None:
        ends = []
        for end in fold:
            k = min(range(n), key=lambda k: math.dist(dense.outline[k], end))
            ends.append((moved[k][0], end[1]))
        fold = (ends[0], ends[1])
    return without_idle_points(replace(made, levels=levels, fold_edge=fold))


class _Lying:
    """A layer on its shell: for each of its points the edges it lies on, and the shell's edges below them."""

    def __init__(self, layer: PieceShape, shell: PieceShape, field: Field, laid: Laid) -> None:
        self.layer, self.field, self.laid = layer, field, laid
        own = {name: layer.edges[name] for name in own_edges(layer)}
        self.under = {name: self._edge_under(name, shell) for name in own}
        n = len(layer.outline)
        self.edges_at: list[list[str]] = [[] for _ in range(n)]
        for name, (i, j) in own.items():
            for k in range((j - i) % n + 1):
                self.edges_at[(i + k) % n].append(name)
        held = sum(
            path_length(edge_points(layer.outline, at)) for name, at in own.items() if self.under[name] is not None
        )
        self.is_narrow = layer.area_mm2() / max(held, 1.0) < NARROW_MM
        self.corners = self._corners()

    def _edge_under(self, name: str, shell: PieceShape) -> str | None:
        """The shell's edge on which an edge of the layer lies: of the same name, or the same line."""
        places = _sampled(edge_points(self.layer.outline, self.layer.edges[name]))
        if name in shell.edges:
            return name
        far = {
            other: float(_far(LineString(edge_points(shell.outline, at)), places, self.laid).mean())
            for other, at in shell.edges.items()
        }
        best = min(far, key=far.__getitem__, default=None)
        return best if best is not None and far[best] < ALIKE_MM else None

    def _corners(self) -> dict[int, int]:
        """Where two edges of the layer meet as the two of the shell below them do: its point, and the shell's."""
        found = {}
        ends: dict[int, set[str]] = {}
        for name, pair in self.field.edges.items():
            for at in pair:
                ends.setdefault(at, set()).add(name)
        for k, names in enumerate(self.edges_at):
            under = {self.under[name] for name in names} - {None}
            if len(under) < 2:
                continue
            for at, here in ends.items():
                place = self.field.outline[at]
                if under <= here and math.dist(place, self.laid.on_shell(self.layer.outline[k])) < CORNER_MM:
                    found[k] = at
        return found

    def moved(self, k: int) -> Point:
        """Where a point of the layer's outline comes to."""
        place = self.layer.outline[k]
        x, y = self._by(k, place)
        return (place[0] + x, place[1] + self.laid.sign * y)

    def _by(self, k: int, place: Point) -> Point:
        on = self.laid.on_shell(place)
        if k in self.corners:
            x, y = self.field.by[self.corners[k]]
            return float(x), float(y)
        held = [name for name in self.edges_at[k] if self.under[name] is not None]
        if not held:
            miss, along = self.field.beside(on)
            return along if miss < BESIDE_MM or self.is_narrow else self.field.within(on)
        found = [self._along(name, k, on) for name in held]
        return sum(x for x, _ in found) / len(found), sum(y for _, y in found) / len(found)

    def _along(self, name: str, k: int, on: Point) -> Point:
        """What a place on an edge moves by: as the shell's edge below it, toward a corner more and more as the shell's corner."""
        x, y = self.field.along(str(self.under[name]), on)
        n = len(self.layer.outline)
        i, j = self.layer.edges[name]
        for end, step in ((i, -1), (j, 1)):
            if end not in self.corners:
                continue
            far, at = 0.0, k
            while at != end and far < RAMP_MM:
                far += math.dist(self.layer.outline[at], self.layer.outline[(at + step) % n])
                at = (at + step) % n
            if far < RAMP_MM:
                share = 1.0 - far / RAMP_MM
                cx, cy = self.field.by[self.corners[end]]
                # Only what the shell's corner did beyond the place on which the layer's lies: nothing where it lies true.
                near = self.field.along(str(self.under[name]), self.laid.on_shell(self.layer.outline[end]))
                x += share * (float(cx) - near[0])
                y += share * (float(cy) - near[1])
        return x, y
