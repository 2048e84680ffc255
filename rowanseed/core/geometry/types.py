"""Points and lines. Millimetres; x along the lengthwise grain, the head of a piece toward smaller x, y across it."""

from typing import Literal

Point = tuple[float, float]
Outline = tuple[Point, ...]
Segment = tuple[Point, Point]
Grain = Literal["lengthwise", "crosswise", "bias", "any"]
