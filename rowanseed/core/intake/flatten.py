"""Curves as points: flattened so that no point of the curve lies further from its chord than a tenth of a millimetre."""

import math
from collections.abc import Iterator, Sequence

from rowanseed.core.geometry.types import Outline, Point

FLAT_MM = 0.1
MOST_STEPS = 400


def cubic(a: Point, b: Point, c: Point, d: Point, flat_mm: float = FLAT_MM) -> Iterator[Point]:
    """Yield the points of a cubic Bézier curve after its first, so close that its chords stay within `flat_mm`.

    The chord of a step of 1/n misses a curve by at most |second derivative| / (8 n²).
    """
    bend = max(
        math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]),
        math.hypot(b[0] - 2 * c[0] + d[0], b[1] - 2 * c[1] + d[1]),
    )
    steps = min(MOST_STEPS, max(1, math.ceil(math.sqrt(6 * bend / (8 * flat_mm)))))
    for k in range(1, steps + 1):
        t = k / steps
        u = 1 - t
        e, f, g, h = u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t
        yield (e * a[0] + f * b[0] + g * c[0] + h * d[0], e * a[1] + f * b[1] + g * c[1] + h * d[1])


def quadratic(a: Point, b: Point, c: Point, flat_mm: float = FLAT_MM) -> Iterator[Point]:
    """Yield the points of a quadratic Bézier curve after its first."""
    first = (a[0] + 2 / 3 * (b[0] - a[0]), a[1] + 2 / 3 * (b[1] - a[1]))
    second = (c[0] + 2 / 3 * (b[0] - c[0]), c[1] + 2 / 3 * (b[1] - c[1]))
    return cubic(a, first, second, c, flat_mm)


def bulge_arc(a: Point, b: Point, bulge: float, flat_mm: float = FLAT_MM) -> Iterator[Point]:
    """Yield the points after `a` of an arc to `b` whose bulge is the tangent of a quarter of its angle, positive to the left.

    Source: the DXF reference, entity LWPOLYLINE, group code 42.
    """
    chord = math.dist(a, b)
    if abs(bulge) < 1e-9 or chord < 1e-9:
        yield b
        return
    angle = 4 * math.atan(bulge)
    radius = chord / (2 * math.sin(angle / 2))
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    off = radius * math.cos(angle / 2)
    centre = (middle[0] - off * (b[1] - a[1]) / chord, middle[1] + off * (b[0] - a[0]) / chord)
    step = 2 * math.acos(max(-1.0, 1 - flat_mm / abs(radius))) if abs(radius) > flat_mm else math.pi / 4
    steps = min(MOST_STEPS, max(1, math.ceil(abs(angle) / step)))
    begin = math.atan2(a[1] - centre[1], a[0] - centre[0])
    for k in range(1, steps):
        turn = begin + angle * k / steps
        yield (centre[0] + abs(radius) * math.cos(turn), centre[1] + abs(radius) * math.sin(turn))
    yield b


def without_repeats(points: Sequence[Point], least_mm: float = 1e-4) -> Outline:
    """Return a line without points that lie on the one before."""
    kept: list[Point] = []
    for point in points:
        if not kept or abs(point[0] - kept[-1][0]) > least_mm or abs(point[1] - kept[-1][1]) > least_mm:
            kept.append(point)
    return tuple(kept)


DASH_MM = 25.0
DASH_GAP_MM = 10.0


def dashes_joined(parts: Sequence[tuple[Outline, bool]]) -> tuple[list[tuple[Outline, bool]], bool]:
    """Return the parts of one drawn object, and whether they were dashes: many short open parts, one beginning where the last ends.

    Programs that print turn a dashed line into such parts; then they are one line again, closed where its ends meet.
    """
    if len(parts) < 6 or any(closed for _, closed in parts):
        return list(parts), False
    short = sum(math.dist(points[0], points[-1]) < DASH_MM for points, _ in parts)
    near = sum(math.dist(a[0][-1], b[0][0]) < DASH_GAP_MM for a, b in zip(parts, parts[1:]))
    if short < 0.8 * len(parts) or near < 0.9 * (len(parts) - 1):
        return list(parts), False
    lines: list[list[Point]] = [list(parts[0][0])]
    for points, _ in parts[1:]:
        if math.dist(lines[-1][-1], points[0]) < DASH_GAP_MM:
            lines[-1].extend(points)
        else:
            lines.append(list(points))
    result = []
    for line in lines:
        closed = len(line) > 4 and math.dist(line[0], line[-1]) < DASH_GAP_MM
        result.append((without_repeats(line), closed))
    return result, True


THIN_MM = 1.2


def thin_as_lines(parts: Sequence[tuple[Outline, bool]]) -> list[tuple[Outline, bool]]:
    """Return the parts of a filled object; where they are the dashes of a line, drawn as thin areas, their middle lines instead."""
    if len(parts) < 6:
        return list(parts)
    middles = [_middle_line(points) for points, closed in parts if closed]
    if len(middles) < len(parts) or sum(m is not None for m in middles) < 0.9 * len(parts):
        return list(parts)
    return [(m, False) for m in middles if m is not None]


def _middle_line(outline: Outline) -> Outline | None:
    """Return the middle line of a thin area that was drawn to and fro, or None where it is not thin."""
    count = len(outline)
    if count < 4 or count % 2:
        return None
    round_mm = sum(math.dist(outline[k - 1], outline[k]) for k in range(count))
    area = abs(sum(outline[k - 1][0] * outline[k][1] - outline[k][0] * outline[k - 1][1] for k in range(count))) / 2
    if round_mm <= 0 or area / (round_mm / 2) > THIN_MM or round_mm > 2 * DASH_MM + 2 * THIN_MM:
        return None
    ways = [outline, (*outline[1:], outline[0])]
    lines = [tuple(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in zip(w[: count // 2], w[::-1])) for w in ways]
    return max(lines, key=lambda line: math.dist(line[0], line[-1]))
