"""Where a label fits inside a piece, clear of its grain arrow and its other lines."""

from collections.abc import Iterable, Sequence
from functools import lru_cache

from shapely import LineString, Polygon, STRtree, box
from shapely.geometry.base import BaseGeometry
from shapely.prepared import prep

from rowanseed.core.geometry.types import Outline


def middle_of(outline: Outline) -> tuple[float, float]:
    """Return a place well inside an outline, mm."""
    point = Polygon(outline).representative_point()
    return point.x, point.y


@lru_cache(4096)  # a lay is drawn on every page that shows it, its labels where they were
def label_place(
    outline: Outline, width: float, height: float, arrow: float | None, clear: float
) -> tuple[float, float] | None:
    """The middle of a box of this size inside an outline, clear of the grain arrow's row; None when there is no room."""
    ys = [y for _, y in outline]
    y0, y1 = min(ys), max(ys)
    best: tuple[float, float] | None = None
    most = width
    for k in range(1, 11):
        y = y0 + (y1 - y0) * k / 11
        if arrow is not None and -height / 2 - clear * 0.2 < arrow - y < height / 2 + clear * 1.5:
            continue
        rows = [_chords(outline, y + d * height / 2) for d in (-1, 0, 1)]
        for left, right in rows[1]:
            for low, high in ((max(left, a, c), min(right, b, d)) for a, b in rows[0] for c, d in rows[2]):
                # Of places with room enough the one nearest the middle of the piece reads best.
                room = min(high - low, 1.6 * width) - 0.4 * abs(y - (y0 + y1) / 2)
                if high - low >= width and (best is None or room > most):
                    best, most = ((low + high) / 2, y), room
    return best


def clear_place(
    outline: Outline,
    width: float,
    height: float,
    lines: Iterable[Outline],
    words: Sequence[BaseGeometry] = (),
    rows: int = 24,
) -> tuple[float, float] | None:
    """The middle of an upright box of this size inside an outline that meets no line and no other words, mm; None without room.

    Of the places of a grid the one nearest the piece's middle is taken.
    """
    polygon = Polygon(outline).buffer(0)
    inside, middle = prep(polygon), polygon.centroid
    taken = STRtree([*(LineString(line) for line in lines if len(line) > 1), *words])
    x0, y0, x1, y1 = polygon.bounds
    grid = [(x0 + (x1 - x0) * i / rows, y0 + (y1 - y0) * j / rows) for i in range(1, rows) for j in range(1, rows)]
    for x, y in sorted(grid, key=lambda at: (at[0] - middle.x) ** 2 + (at[1] - middle.y) ** 2):
        label = box(x - width / 2, y - height / 2, x + width / 2, y + height / 2)
        if inside.contains(label) and not taken.query(label, predicate="intersects").size:
            return x, y
    return None


def _chords(outline: Outline, y: float) -> list[tuple[float, float]]:
    """The stretches of a row that lie inside an outline."""
    crossings = sorted(
        ax + (y - ay) / (by - ay) * (bx - ax)
        for (ax, ay), (bx, by) in zip(outline, (*outline[1:], outline[0]), strict=True)
        if (ay <= y) != (by <= y)
    )
    return list(zip(crossings[::2], crossings[1::2], strict=True))
