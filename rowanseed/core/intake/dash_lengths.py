"""Dashed lines whose dashes a file holds as single strokes: which dashes are of one line is told by how long they are."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from shapely import MultiPoint, STRtree

from rowanseed.core.geometry.outline import path_length
from rowanseed.core.intake.model import Stroke

LONGEST_DASH_MM = 15.0
MOST_APART_MM = 0.06  # dashes of one line are written by one program
LEAST_MANY = 24  # strokes of one length before they are taken as dashes
LEAST_SHARE = 0.04


def by_dash_length(strokes: Sequence[Stroke]) -> list[Stroke]:
    """Return strokes with those that are dashes of one length as a kind of line of their own, where there is more than one kind.

    What is left of a line at its end is shorter than the others: it goes with the dashes that it lies nearest to.
    """
    lengths = [path_length(s.points) if not s.closed else LONGEST_DASH_MM for s in strokes]
    short = [k for k, length in enumerate(lengths) if length < LONGEST_DASH_MM]
    counted = Counter(round(lengths[k], 1) for k in short)
    usual = [length for length, n in counted.items() if n >= max(LEAST_MANY, LEAST_SHARE * len(short)) and length > 0.3]
    usual = [
        length for length in usual if not any(counted[o] > counted[length] and abs(o - length) < 0.15 for o in usual)
    ]
    solid = any(length >= LONGEST_DASH_MM for length in lengths)
    if len(usual) + solid < 2 or not usual:
        return list(strokes)
    of: dict[int, float] = {}
    for k in short:
        near = min(usual, key=lambda length: abs(length - lengths[k]))
        if abs(near - lengths[k]) <= MOST_APART_MM:
            of[k] = near
    known = list(of)
    if len(known) < 0.7 * len(short):
        return list(strokes)
    tree = STRtree([MultiPoint([strokes[k].points[0], strokes[k].points[-1]]) for k in known])
    for k in short:
        if k not in of:
            ends = MultiPoint([strokes[k].points[0], strokes[k].points[-1]])
            of[k] = of[known[int(tree.nearest(ends))]]
    return [_dashed(s, of[k]) if k in of else s for k, s in enumerate(strokes)]


def _dashed(stroke: Stroke, length: float) -> Stroke:
    return replace(stroke, style=replace(stroke.style, dashed=True, dashes=f"of {length:g} mm"))
