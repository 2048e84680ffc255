"""Where a piece's cutting line no longer runs as the tissue printed it."""

from collections.abc import Sequence

from shapely import LinearRing, MultiLineString, get_parts, line_merge

from rowanseed.core.geometry.types import Outline

CHANGED_MM = 0.5  # less is lost in cutting


def changed_lines(before: Outline, now: Outline) -> list[Outline]:
    """Return the parts of an outline that lie farther than half a millimetre from another, each as an open line."""
    was, ring = LinearRing(before), LinearRing(now)
    away = was.difference(ring.buffer(CHANGED_MM))
    if away.is_empty:
        return []
    merged = line_merge(away) if isinstance(away, MultiLineString) else away
    return [
        tuple((float(x), float(y)) for x, y in part.coords) for part in get_parts(merged) if part.length > CHANGED_MM
    ]


def is_changed(before: Outline, now: Outline) -> bool:
    """Whether an outline was changed by more than cutting loses."""
    return bool(changed_lines(before, now) or changed_lines(now, before))


def all_changed(pairs: Sequence[tuple[Outline, Outline]]) -> list[Outline]:
    """Return the changed parts of pairs of outlines, both as they were and as they are."""
    return [line for was, now in pairs for line in (*changed_lines(was, now), *changed_lines(now, was))]
