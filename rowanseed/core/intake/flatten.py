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
