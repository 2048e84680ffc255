"""The print as it will be seen: two pieces together at their seam, and the made-up front and back, from the lay itself."""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from shapely import Polygon

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.geometry.outline import edge_points, path_length
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline, Point
from rowanseed.core.lay.on_cloth import Affine, CutPiece
from rowanseed.core.pattern.model import Piece, Seam, SeamSide
from rowanseed.core.pattern.print_rules import PrintRule
from rowanseed.core.pattern.seamwalk import AlterPiece, Walker
from rowanseed.formats.drawing import Drawn, markup, tag
from rowanseed.formats.print_svg import moved_tile, print_tile

INK, ROWAN = "#2B2622", "#B23A1E"
# Drawn upright: x of a piece runs down, y to the left, so that it is seen from its right side.
UPRIGHT: Affine = (0.0, 1.0, -1.0, 0.0, 0.0, 0.0)
OVER: Affine = (1.0, 0.0, 0.0, -1.0, 0.0, 0.0)
REACH, FAR = 150.0, 1e5
STRAIGHT = 1.03  # an edge this much longer than its chord is still laid along another
HIDDEN = ("facing", "lining", "bag", "inner", "stand", "under")


@dataclass(frozen=True)
class Shown:
    """A piece in the drawing: its outline as drawn on the pattern, the way to the drawing, and the cloth it is cut from."""

    outline: Outline
    way: Affine
    cut: CutPiece
    fold: float | None = None


def composed(first: Affine, second: Affine) -> Affine:
    """The affine map that does the first, then the second."""
    a, b, c, d, e, f = first
    g, h, i, j, k, m = second
    return (
        g * a + i * b,
        h * a + j * b,
        g * c + i * d,
        h * c + j * d,
        g * e + i * f + k,
        h * e + j * f + m,
    )


def inverse(way: Affine) -> Affine:
    """The inverse of an affine map."""
    a, b, c, d, e, f = way
    size = a * d - b * c
    p, q, r, s = d / size, -b / size, -c / size, a / size
    return p, q, r, s, -(p * e + r * f), -(q * e + s * f)


def transformed(way: Affine, point: Point) -> Point:
    """Where an affine map takes a point."""
    a, b, c, d, e, f = way
    return a * point[0] + c * point[1] + e, b * point[0] + d * point[1] + f


class Preview:
    """One garment's pieces in their size, and the cloth each is cut from."""

    def __init__(
        self,
        pieces: Mapping[str, tuple[Piece, PieceShape]],
        cut: Sequence[CutPiece],
        ending: str,
        cloth: Cloth,
    ) -> None:
        self.pieces = pieces
        self.cut = {(c.piece.removesuffix(ending), c.mirrored): c for c in cut if c.piece.endswith(ending)}
        self.cloth = cloth
        self.walker = Walker()
        self.known = {n: AlterPiece(n, shape) for n, (piece, shape) in pieces.items()}

    def seam(self, rule: PrintRule) -> str:
        """The two pieces of a rule at their seam, as sewn, each with the print as it is cut; empty when one is not cut here."""
        first, second = rule.marks
        over = not rule.onto and self._outward(first.piece, first.at) == self._outward(second.piece, second.at)
        a, b = self.cut.get((first.piece, False)), self.cut.get((second.piece, over))
        if a is None or b is None:
            a, b = self.cut.get((first.piece, True)), self.cut.get((second.piece, not over))
            if a is None or b is None:
                return ""
            over = not over
            way = composed(OVER, UPRIGHT)
        else:
            way = UPRIGHT
        start = composed(OVER if over else (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), UPRIGHT)
        joined = self._joined(rule, way, start)
        shown = [self._shown(first.piece, way, a), self._shown(second.piece, joined, b)]
        return self._drawn(shown, rule.key, f"{rule.title}: the print over the seam", transformed(way, first.at))

    def _joined(self, rule: PrintRule, way: Affine, start: Affine) -> Affine:
        """The second piece turned until its edge runs along the first's, and moved until the marks meet."""
        first, second = rule.marks
        turned = start
        if len(rule.edges) == 2 and all(self._is_straight(side) for side in rule.edges):
            angle = self._slope(rule.edges[0], way) - self._slope(rule.edges[1], start)
            angle = (angle + math.pi / 2) % math.pi - math.pi / 2
            c, s = math.cos(angle), math.sin(angle)
            turned = composed(start, (c, s, -s, c, 0.0, 0.0))
        (tx, ty), (x, y) = transformed(way, first.at), transformed(turned, second.at)
        return composed(turned, (1.0, 0.0, 0.0, 1.0, tx - x, ty - y))

    def _is_straight(self, side: SeamSide) -> bool:
        """Whether an edge can be laid along another; a curved one only meets it at its notch."""
        line = edge_points(self.walker.line(self.known[side[0]]), self.known[side[0]].shape.edges[side[1]])
        return path_length(line) <= STRAIGHT * math.dist(line[0], line[-1])

    def _slope(self, side: SeamSide, way: Affine) -> float:
        line = edge_points(self.walker.line(self.known[side[0]]), self.known[side[0]].shape.edges[side[1]])
        (x0, y0), (x1, y1) = transformed(way, line[0]), transformed(way, line[-1])
        return math.atan2(y1 - y0, x1 - x0)

    def _outward(self, number: str, at: Point) -> bool:
        ys = [y for _, y in self.pieces[number][1].outline]
        return at[1] >= (min(ys) + max(ys)) / 2

    def _sewn(self, number: str) -> Outline:
        """A piece inside its seam line; what lies on the fold stays there."""
        shape = self.pieces[number][1]
        inner = Polygon(shape.seam_line).buffer(0)
        if not isinstance(inner, Polygon) or inner.is_empty:
            return shape.outline
        return tuple((float(x), float(y)) for x, y in inner.exterior.coords[:-1])

    def _shown(self, number: str, way: Affine, cut: CutPiece) -> Shown:
        fold = self.pieces[number][1].fold_edge
        return Shown(self._sewn(number), way, cut, fold[0][1] if fold else None)

    def garment(self, word: str, seams: Sequence[Seam], rules: Sequence[PrintRule]) -> str:
        """The made-up front or back (`word`): its main piece and all that is sewn or laid on it, left and right."""
        named = [n for n, (p, _) in self.pieces.items() if word in p.name.lower() and not _hidden(p)]
        named = [n for n in named if (n, False) in self.cut or (n, True) in self.cut]
        if not named:
            return ""
        base = max(named, key=lambda n: self.pieces[n][1].area_mm2())
        shown: list[Shown] = []
        behind: list[Shown] = []
        for mirrored in (False, True):
            cut = self.cut.get((base, mirrored))
            if cut is None:
                continue
            way = self._half_way(base, mirrored)
            shown.append(self._shown(base, way, cut))
            for other, at, theirs, on_top in self._beside(base, seams, rules, word):
                part = self.cut.get((other, mirrored)) or self.cut.get((other, not mirrored))
                if part is None:
                    continue
                start = composed(OVER if mirrored else (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), UPRIGHT)
                if not on_top and self._outward(base, at) == self._outward(other, theirs):
                    start = composed(OVER, start)
                (tx, ty), (x, y) = transformed(way, at), transformed(start, theirs)
                placed = self._shown(other, composed(start, (1.0, 0.0, 0.0, 1.0, tx - x, ty - y)), part)
                (shown if on_top else behind).append(placed)
        return self._drawn([*behind, *shown], word, f"The made-up {word} with the print running over it", None)

    def _half_way(self, base: str, mirrored: bool) -> Affine:
        """One half of the main piece, its middle on the drawing's middle."""
        shape = self.pieces[base][1]
        ys = [y for _, y in self._sewn(base)]
        middle = shape.fold_edge[0][1] if shape.fold_edge else min(ys)
        for line in shape.lines:
            if line.kind == "centre front":
                middle = line.points[0][1]
        centred = composed((1.0, 0.0, 0.0, 1.0, 0.0, -middle), OVER if mirrored else (1.0, 0.0, 0.0, 1.0, 0.0, 0.0))
        return composed(centred, UPRIGHT)

    def _beside(
        self, base: str, seams: Sequence[Seam], rules: Sequence[PrintRule], word: str
    ) -> list[tuple[str, Point, Point, bool]]:
        """What hangs on the main piece: sleeve, yoke, band, pocket; where each meets it, and whether it lies on top."""
        found = {
            r.marks[1].piece: (r.marks[0].at, r.marks[1].at, True) for r in rules if r.onto and r.marks[0].piece == base
        }
        for seam in seams:
            for mine, theirs in ((seam.a, seam.b), (seam.b, seam.a)):
                other = theirs[0]
                if mine[0] != base or other == base or other in found or other not in self.known:
                    continue
                piece = self.pieces[other][0]
                opposite = "back" if word == "front" else "front"
                if _hidden(piece) or (opposite in piece.name.lower() and "yoke" not in piece.name.lower()):
                    continue
                if mine[1] in self.known[base].shape.edges and theirs[1] in self.known[other].shape.edges:
                    found[other] = (*self._meet(mine, theirs), False)
        return [(other, *place) for other, place in found.items()]

    def _meet(self, mine: SeamSide, theirs: SeamSide) -> tuple[Point, Point]:
        """A place of a seam on both pieces: a notch that both have, else the middle of the edge."""
        places = []
        notches = [self.walker.notches(self.known[n], e) for n, e in (mine, theirs)]
        for (number, edge), own in zip((mine, theirs), notches, strict=True):
            middle = self.walker.edge_mm(self.known[number], edge) / 2
            at = own[0][1] if all(notches) else middle
            places.append(self.walker.seam_place(self.known[number], edge, at))
        return places[0], places[1]

    def _drawn(self, shown: Sequence[Shown], key: str, title: str, focus: Point | None) -> str:
        """The pieces with their print; `key` tells the drawings of one page apart."""
        name = "seen-" + re.sub(r"[^a-z0-9]+", "-", key.lower())
        tiles = [print_tile(self.cloth, name)]
        body: list[Drawn] = []
        points: list[Point] = []
        for k, one in enumerate(shown):
            to_drawing = composed(inverse(one.cut.to_cloth), one.way)
            tiles.append(moved_tile(self.cloth, f"{name}-{k}", name, to_drawing))
            outline = [transformed(one.way, p) for p in one.outline]
            points += outline
            path = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in outline) + "Z"
            body.append(tag("path", d=path, fill=f"url(#{name}-{k})"))
            body.append(tag("path", d=_edge(one, outline), fill="none", stroke=INK, stroke_width="2.5"))
        seen = _box(points, focus)
        if focus is not None:
            body.append(
                tag(
                    "circle",
                    cx=f"{focus[0]:.1f}",
                    cy=f"{focus[1]:.1f}",
                    r="9",
                    fill="none",
                    stroke=ROWAN,
                    stroke_width="4",
                )
            )
        drawing = tag("svg", tag("defs", tiles), *body, css="preview", viewBox=seen, role="img", aria_label=title)
        return markup(drawing)


def _hidden(piece: Piece) -> bool:
    return any(word in piece.name.lower() for word in HIDDEN)


def _edge(one: Shown, outline: Sequence[Point]) -> str:
    """The outline of a piece without what lies on its fold, where the cloth goes on."""
    out = []
    on_fold = [one.fold is not None and abs(y - one.fold) < 0.5 for _, y in one.outline]
    for k in range(len(outline)):
        j = (k + 1) % len(outline)
        if not (on_fold[k] and on_fold[j]):
            (x0, y0), (x1, y1) = outline[k], outline[j]
            out.append(f"M{x0:.1f} {y0:.1f}L{x1:.1f} {y1:.1f}")
    return "".join(out)


def _box(points: Sequence[Point], focus: Point | None) -> str:
    """The part of the drawing that is shown: all of it, or round a place, a little to the side where most of it lies."""
    if focus is not None:
        lowest = max(y for _, y in points)
        top = min(focus[1] - REACH, lowest + REACH * 0.25 - 2 * REACH)
        return f"{focus[0] - REACH:.0f} {top:.0f} {2 * REACH:.0f} {2 * REACH:.0f}"
    xs, ys = [x for x, _ in points], [y for _, y in points]
    edge = 15.0
    return f"{min(xs) - edge:.0f} {min(ys) - edge:.0f} {max(xs) - min(xs) + 2 * edge:.0f} {max(ys) - min(ys) + 2 * edge:.0f}"
