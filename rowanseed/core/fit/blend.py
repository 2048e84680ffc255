"""Blending: each zone of a piece cut on its own size line, the lines joined smoothly between.

A piece tells the levels of its zones along the grain. Across the grain each point lies between the same point of two sizes; along
it everything stays with the garment's own size, so that joined edges keep their length.
"""

from collections.abc import Mapping
from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.ease import ZONES
from rowanseed.core.pattern.model import PieceShape


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
    outline = tuple(
        (x, sum(share * shapes[own].outline[k][1] for own, share in _shares(x, levels)))
        for k, (x, _) in enumerate(base.outline)
    )
    return replace(base, outline=outline)


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
