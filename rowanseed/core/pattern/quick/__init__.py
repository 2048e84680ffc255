"""Quick shapes: a piece from a handful of figures taken off the paper with a tape measure."""

from collections.abc import Mapping

from rowanseed.core.errors import LengthError, ShapeError
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Point
from rowanseed.core.lengths import Unit, parse_length
from rowanseed.core.pattern.quick import bodice, flat, legs
from rowanseed.core.pattern.quick.build import Measure, QuickShape, Walk, in_doubt

__all__ = [
    "FREEHAND",
    "QUICK_SHAPES",
    "Measure",
    "QuickShape",
    "draw_freehand",
    "draw_quick",
    "in_doubt",
    "read_measures",
]

FREEHAND = "freehand"
QUICK_SHAPES: dict[str, QuickShape] = {s.name: s for s in (*flat.SHAPES, *bodice.SHAPES, *legs.SHAPES)}


def read_measures(shape: QuickShape, typed: Mapping[str, object], unit: Unit | None = None) -> dict[str, float]:
    """Read a shape's measures from what was typed; optional ones left empty are 0.

    Raises:
        ShapeError: the first measure that is missing, unreadable or too small, named in `field`.
    """
    figures: dict[str, float] = {}
    for measure in shape.measures:
        raw = typed.get(measure.key)
        if raw is None or raw == "":
            if not measure.optional:
                raise ShapeError(f"{measure.meaning}: a figure is needed, such as {measure.example}.", measure.key)
            figures[measure.key] = 0.0
            continue
        try:
            length = parse_length(raw if isinstance(raw, (int, float)) else str(raw), unit)
        except LengthError as error:
            raise ShapeError(f"{measure.meaning}: {error.text}", measure.key) from error
        if length.mm < measure.least_mm:
            raise ShapeError(f"{measure.meaning}: {length.text} is too small for a piece.", measure.key)
        if length.mm > 20_000:
            raise ShapeError(f"{measure.meaning}: {length.text} is too large for a piece.", measure.key)
        figures[measure.key] = length.mm
    return figures


def draw_quick(name: str, typed: Mapping[str, object], unit: Unit | None = None) -> PieceShape:
    """Draw a quick shape, or a freehand polygon, from what was typed.

    Raises:
        ShapeError: no such shape, or figures that give no piece; `field` names the measure.
    """
    if name == FREEHAND:
        return draw_freehand(str(typed.get("points", "")), unit)
    if name not in QUICK_SHAPES:
        raise ShapeError(f"There is no quick shape called {name}.", "shape")
    shape = QUICK_SHAPES[name]
    return shape.draw(read_measures(shape, typed, unit))


def draw_freehand(points: str, unit: Unit | None = None) -> PieceShape:
    """A polygon from its corners, written `0 in, 0 in; 20 in, 0 in; 20 in, 8 in`: along the grain, then across.

    Raises:
        ShapeError: a corner that cannot be read, or corners that enclose nothing.
    """
    corners: list[Point] = []
    for number, corner in enumerate((c for c in points.replace("\n", ";").split(";") if c.strip()), start=1):
        parts = [p for p in corner.replace(", ", "|").replace("x", "|").split("|") if p.strip()]
        if len(parts) != 2:
            raise ShapeError(
                f"Corner {number}, “{corner.strip()}”: write along the grain, a comma and a space, then "
                "across, such as 20 in, 8 in.",
                "points",
            )
        try:
            corners.append((parse_length(parts[0], unit).mm, parse_length(parts[1], unit).mm))
        except LengthError as error:
            raise ShapeError(f"Corner {number}: {error.text}", "points") from error
    if not 3 <= len(corners) <= 200:
        raise ShapeError("Give at least three corners, parted by semicolons.", "points")
    walk = Walk(corners[0])
    for number, corner_at in enumerate(corners[1:], start=1):
        walk.line(f"edge {number}", corner_at)
    return walk.close(f"edge {len(corners)}").shape()
