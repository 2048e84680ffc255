"""Blending: each zone of a piece cut on its own size line, the lines joined smoothly between.

A piece tells the levels of its zones along the grain. Across the grain each point lies between the same point of two sizes; along
it everything stays with the garment's own size, so that joined edges keep their length.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.garment_kinds import ZONES
from rowanseed.core.geometry.nearest import nearest
from rowanseed.core.geometry.shape import ON_EDGE_MM, PieceShape
from rowanseed.core.geometry.types import Outline, Point, Segment


def blend_label(size: str, zones: Mapping[str, str]) -> str:
    """How a blended size is called: the garment's size and the zones that differ.

    >>> blend_label("14", {"bust": "14", "hip": "16"})
    '14, hip 16'
    """
    return ", ".join([size, *(f"{zone} {zones[zone]}" for zone in ZONES if zones.get(zone, size) != size)])


def is_blend(size: str, zones: Mapping[str, str]) -> bool:
    """Whether any zone has a size of its own."""
    return any(zones.get(zone, size) != size for zone in ZONES)


def blend(shapes: Mapping[str, PieceShape], size: str, zones: Mapping[str, str], name: str = "The piece") -> PieceShape:
    """A piece with each zone on its own size's line.

    Args:
        shapes: the piece in every size needed, each drawn with the same points in the same order.
        size: the garment's own size; a piece without levels is cut in it throughout.
        zones: zone to size; a zone left out takes the garment's own.
    Raises:
        AlterationError: a size is missing, or sizes are not drawn point for point alike.
    """
    base = shapes.get(size)
    wanted = {zone: zones.get(zone, size) for zone in ZONES}
    if base is None:
        raise AlterationError(f"{name} has no outline in size {size}.", "size")
    levels = sorted((base.levels[zone], wanted[zone]) for zone in ZONES if zone in base.levels)
    if not levels or all(own == size for _, own in levels):
        return base
    for _, own in levels:
        if own not in shapes:
            raise AlterationError(f"{name} has no outline in size {own}. Measure it, or leave that zone alone.", "size")
        if len(shapes[own].outline) != len(base.outline):
            raise AlterationError(
                f"{name} is drawn otherwise in size {own} than in {size}; it cannot be blended.", "size"
            )
    across = [[p[1] for p in shapes[own].outline] for own in dict.fromkeys(own for _, own in levels)]
    names = list(dict.fromkeys(own for _, own in levels))
    outline = tuple(
        (x, sum(share * across[names.index(own)][k] for own, share in _shares(x, levels)))
        for k, (x, _) in enumerate(base.outline)
    )
    return _carried(base, [(shapes[own], own) for own in names], outline, levels)


Levels = list[tuple[float, str]]


def _carried(base: PieceShape, sizes: list[tuple[PieceShape, str]], outline: Outline, levels: Levels) -> PieceShape:
    """The blended shape with everything that lies on or in it: on the new line what lay on the old one, the rest between sizes.

    A mark or a point of a line that every size has lies across the grain between those of the sizes, as the outline does; one
    that only some have keeps its share of the piece's width.
    """
    onto = _onto(base.outline, outline)

    def between(places: list[Point]) -> Point:
        """The place, given in the garment's own size first and then in each size of `sizes`."""
        on = onto(places[0])
        if on is not None:
            return on
        x = places[0][0]
        own = dict(zip((name for _, name in sizes), places[1:]))
        if len(own) < len(sizes):
            return _in_proportion(base.outline, outline, places[0])
        return (x, sum(share * own[name][1] for name, share in _shares(x, levels)))

    marks = tuple(
        replace(m, at=between([m.at, *(s.marks[k].at for s, _ in sizes if _same_marks(s, base))]))
        for k, m in enumerate(base.marks)
    )
    lines = tuple(
        replace(
            line,
            points=tuple(
                between([p, *(s.lines[k].points[n] for s, _ in sizes if _same_lines(s, base))])
                for n, p in enumerate(line.points)
            ),
        )
        for k, line in enumerate(base.lines)
    )
    return replace(
        base,
        outline=outline,
        fold_edge=_segment(base.fold_edge, onto),
        notches=tuple(replace(n, at=onto(n.at) or _in_proportion(base.outline, outline, n.at)) for n in base.notches),
        marks=marks,
        lines=lines,
    )


def _same_marks(shape: PieceShape, base: PieceShape) -> bool:
    return [m.name for m in shape.marks] == [m.name for m in base.marks]


def _same_lines(shape: PieceShape, base: PieceShape) -> bool:
    return [(n.kind, len(n.points)) for n in shape.lines] == [(n.kind, len(n.points)) for n in base.lines]


def _onto(old: Outline, new: Outline) -> Callable[[Point], Point | None]:
    """What puts a place on the old line onto the new one, at the same share of the same side; None for one inside the piece."""

    def put(place: Point) -> Point | None:
        near = nearest(old, place, closed=True)
        if near.miss > ON_EDGE_MM:
            return None
        (ax, ay), (bx, by) = new[near.segment], new[(near.segment + 1) % len(new)]
        return (ax + near.share * (bx - ax), ay + near.share * (by - ay))

    return put


def _segment(edge: Segment | None, onto: Callable[[Point], Point | None]) -> Segment | None:
    return None if edge is None else (onto(edge[0]) or edge[0], onto(edge[1]) or edge[1])


def _in_proportion(old: Outline, new: Outline, place: Point) -> Point:
    """A place at the same share of the piece's width as before."""
    was, now = _width_at(old, place[0]), _width_at(new, place[0])
    if was is None or now is None or was[1] - was[0] < 1.0:
        return place
    share = (place[1] - was[0]) / (was[1] - was[0])
    return (place[0], now[0] + share * (now[1] - now[0]))


def _width_at(outline: Outline, x: float) -> tuple[float, float] | None:
    ys = [
        a[1] + (x - a[0]) / (b[0] - a[0]) * (b[1] - a[1])
        for a, b in zip(outline, (*outline[1:], outline[0]))
        if (a[0] > x) != (b[0] > x)
    ]
    return (min(ys), max(ys)) if len(ys) > 1 else None


def _shares(x: float, levels: list[tuple[float, str]]) -> list[tuple[str, float]]:
    """The sizes a point at x lies between, and the share of each: a smooth step from level to level."""
    if x <= levels[0][0]:
        return [(levels[0][1], 1.0)]
    for (low, above), (high, below) in zip(levels, levels[1:]):
        if x <= high:
            t = (x - low) / (high - low) if high > low else 1.0
            step = t * t * (3.0 - 2.0 * t)
            return [(above, 1.0 - step), (below, step)]
    return [(levels[-1][1], 1.0)]
