"""A proposed piece taken over as a pattern's piece: the same points in every size, notches counted, edges named."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely import Polygon

from rowanseed.core.errors import IntakeError, OutlineError
from rowanseed.core.geometry.outline import edge_points, refuse_bad_outline
from rowanseed.core.geometry.shape import Line, Mark, Notch, PieceShape
from rowanseed.core.geometry.sizes import matched_corners
from rowanseed.core.geometry.types import Outline, Point, Segment
from rowanseed.core.intake.edges import propose_edges
from rowanseed.core.intake.model import ProposedPiece, SizeLines
from rowanseed.core.intake.nesting import even_distance_of
from rowanseed.core.pattern.model import Piece, Role

NOTCH_TOGETHER_MM = 7.0
USUAL_ALLOWANCE_MM = 15.0
MOST_POINTS = 1600
SIMPLE_MM = 0.03


@dataclass(frozen=True)
class PieceChoice:
    """What the sewist says of a proposed piece before it is kept. `sizes`: the file's size -> the pattern's."""

    number: str
    name: str
    cut: int
    role: Role = "self"
    mirrored: bool = False
    views: tuple[str, ...] = ()
    allowance_mm: float | None = None
    included: bool = True
    sizes: Mapping[str, str] | None = None


def seam_allowance_of(piece: ProposedPiece) -> float | None:
    """Return the allowance that a piece's own seam line shows, to half a mm, or None where it has none."""
    for lines in piece.sizes.values():
        if lines.seam_line is not None:
            found = even_distance_of(lines.seam_line, lines.outline)
            return None if found is None else round(found * 2) / 2
    return None


def as_piece(proposed: ProposedPiece, choice: PieceChoice, garment: str = "") -> Piece:
    """Return a pattern's piece of a proposed one.

    Raises:
        IntakeError: an outline crosses itself; the piece is named.
    """
    outlines = alike({size: _plain(lines.outline) for size, lines in proposed.sizes.items()})
    shapes: dict[str, PieceShape] = {}
    edges: dict[str, tuple[int, int]] | None = None
    for size, lines in proposed.sizes.items():
        outline = outlines[size]
        try:
            refuse_bad_outline(outline, f"{choice.name}, size {size}" if size else choice.name)
        except OutlineError as error:
            raise IntakeError(error.text, "pieces") from error
        shape = _shape(lines, outline)
        same = edges is not None and len(outline) == len(next(iter(outlines.values())))
        if not same:
            doubles = [n.at for n in shape.notches if n.count > 1]
            edges = propose_edges(outline, choice.name, shape.fold_edge, doubles, garment)
        name = (choice.sizes or {}).get(size, size) or "one"
        shapes[name] = replace(shape, edges=dict(edges or {}), levels=_levels(outline, edges or {}))
    seen = seam_allowance_of(proposed)
    allowance = choice.allowance_mm if choice.allowance_mm is not None else seen
    return Piece(
        choice.number,
        choice.name,
        choice.cut,
        choice.role,
        choice.mirrored and not any(s.fold_edge for s in shapes.values()),
        "lengthwise",
        USUAL_ALLOWANCE_MM if allowance is None else allowance,
        choice.included,
        choice.views,
        shapes,
    )


def with_size(piece: Piece, size: str, shape: PieceShape) -> Piece:
    """Return a piece with one more size, or another shape of one, drawn point for point like its other sizes where corners match.

    A shape without edges takes over those of another size, corner for corner.
    """
    old = {name: s for name, s in piece.shapes.items() if name != size}
    outlines = alike({**{name: s.outline for name, s in old.items()}, size: shape.outline})
    shapes = {name: _on_points(s, outlines[name]) for name, s in old.items()}
    new = _on_points(shape, outlines[size])
    model = next(iter(shapes.values()), None)
    if not new.edges and model is not None and len(model.outline) == len(new.outline):
        new = replace(new, edges=dict(model.edges))
    elif not new.edges:
        doubles = [n.at for n in new.notches if n.count > 1]
        new = replace(new, edges=propose_edges(new.outline, piece.name, new.fold_edge, doubles))
    if not new.levels:
        new = replace(new, levels=_levels(new.outline, new.edges))
    return replace(piece, shapes={**shapes, size: new})


def _on_points(shape: PieceShape, outline: Outline) -> PieceShape:
    """Return a shape on an outline that has the same line and more points, its edges found again."""
    if len(outline) == len(shape.outline):
        return shape

    def at(k: int) -> int:
        return min(range(len(outline)), key=lambda i: math.dist(outline[i], shape.outline[k]))

    return replace(shape, outline=outline, edges={name: (at(i), at(j)) for name, (i, j) in shape.edges.items()})


def _plain(outline: Outline) -> Outline:
    """Return an outline without points that its neighbours make needless."""
    line = Polygon(outline).simplify(SIMPLE_MM).exterior.coords[:-1]
    return tuple((float(x), float(y)) for x, y in line) if len(line) >= 3 else outline


def alike(outlines: Mapping[str, Outline]) -> dict[str, Outline]:
    """Return the outlines of a piece's sizes drawn point for point alike, so that sizes can be blended.

    From corner to corner each gets a point at every share of the way at which any size has one, so that no point is lost.
    Where corners do not match, the outlines stay as they are.
    """
    names = list(outlines)
    if len(names) < 2:
        return dict(outlines)
    base = outlines[names[0]]
    pairs = [matched_corners(base, outlines[name]) for name in names]
    if any(p is None for p in pairs):
        return dict(outlines)
    mine = pairs[0][0]  # type: ignore[index]
    result: dict[str, list[Point]] = {name: [] for name in names}
    for n in range(len(mine)):
        parts = {}
        for name, pair in zip(names, pairs):
            theirs = pair[1]  # type: ignore[index]
            parts[name] = edge_points(outlines[name], (theirs[n], theirs[(n + 1) % len(theirs)]))
        shares = _shares(list(parts.values()))
        for name, part in parts.items():
            result[name] += _at_shares(part, shares)
    if len(result[names[0]]) > MOST_POINTS:
        return dict(outlines)
    return {name: tuple(points) for name, points in result.items()}


def _shares(parts: Sequence[Sequence[Point]]) -> list[float]:
    """Return at which shares of the way any of some lines has a point, the end left out."""
    found: list[float] = []
    for part in parts:
        steps = np.hypot(*np.diff(np.asarray(part), axis=0).T)
        along = np.concatenate([[0.0], np.cumsum(steps)])
        found += list(along[:-1] / (along[-1] or 1.0))
    found.sort()
    kept: list[float] = []
    for share in found:
        if not kept or share - kept[-1] > 2e-4:
            kept.append(share)
    return [s for s in kept if s < 1 - 2e-4]


def _at_shares(part: Sequence[Point], shares: Sequence[float]) -> list[Point]:
    points = np.asarray(part)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    at = np.asarray(shares) * along[-1]
    return [
        (float(x), float(y)) for x, y in zip(np.interp(at, along, points[:, 0]), np.interp(at, along, points[:, 1]))
    ]


def shape_of(lines: SizeLines) -> PieceShape:
    """Return a shape of one size's lines, its edges and allowance not said yet."""
    return _shape(lines, _plain(lines.outline))


def _shape(lines: SizeLines, outline: Outline) -> PieceShape:
    fold = _level_fold(lines.fold_edge, outline)
    return PieceShape(
        fold[1],
        fold[0],
        None if fold[0] is not None else lines.grain,
        _notches(lines.notches),
        tuple(Mark("dot", p) for p in lines.points),
        tuple(_inner(points, outline) for points in lines.internal),
    )


def _level_fold(fold: Segment | None, outline: Outline) -> tuple[Segment | None, Outline]:
    """Return a fold edge exactly along x, and the outline with its points there on it."""
    if fold is None:
        return None, outline
    axis = (fold[0][1] + fold[1][1]) / 2
    near = [abs(y - axis) < 0.4 for _, y in outline]
    if sum(near) < 2:
        return None, outline
    level = tuple((x, axis) if on else (x, y) for (x, y), on in zip(outline, near))
    xs = [x for (x, _), on in zip(outline, near) if on]
    return ((min(xs), axis), (max(xs), axis)), level


def _notches(places: Sequence[Point]) -> tuple[Notch, ...]:
    """Return notches, ticks that stand together counted as one of two or three."""
    left = list(places)
    found: list[Notch] = []
    while left:
        group = [left.pop(0)]
        for p in list(left):
            if any(math.dist(p, q) < NOTCH_TOGETHER_MM for q in group):
                group.append(p)
                left.remove(p)
        middle = (sum(p[0] for p in group) / len(group), sum(p[1] for p in group) / len(group))
        found.append(Notch(middle, min(3, len(group))))
    return tuple(found)


def _inner(points: Outline, outline: Outline) -> Line:
    """Return an inner line by its form: a dart opens on the outline, a line across from edge to edge is to lengthen at."""
    ring = Polygon(outline).exterior

    def on(p: Point) -> bool:
        from shapely import Point as Place

        return bool(ring.distance(Place(p)) < 2.0)

    if len(points) == 3 and on(points[0]) and on(points[2]) and not on(points[1]):
        return Line("dart", points)
    straight = math.dist(points[0], points[-1])
    across = abs(points[0][1] - points[-1][1]) > 0.95 * straight
    wide = max(y for _, y in outline) - min(y for _, y in outline)
    if len(points) == 2 and across and straight > 0.6 * wide:
        return Line("lengthen", points)
    return Line("line", points)


def _levels(outline: Outline, edges: Mapping[str, tuple[int, int]]) -> dict[str, float]:
    """Return the levels that the edges give: the bust at the underarm, a skirt's waist at its top."""
    if "armhole" in edges and "side" in edges:
        shared = set(edges["armhole"]) & set(edges["side"])
        return {"bust": outline[next(iter(shared))][0]} if shared else {}
    if "waist" in edges:
        return {"waist": min(outline[k][0] for k in edges["waist"])}
    return {}
