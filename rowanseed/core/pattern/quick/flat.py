"""Quick shapes with straight or simply curved sides: bands, panels, pockets, facings."""

import math

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.quick.build import Measure, Measures, QuickShape, Walk, need

LENGTH = Measure("length", "Length along the grain arrow", "60 cm")


def rectangle(m: Measures) -> PieceShape:
    """A rectangle or band."""
    length, width = m["length"], m["width"]
    walk = Walk((0, 0)).line("side", (length, 0)).line("foot", (length, width)).line("other side", (0, width))
    return walk.close("head").shape()


def rectangle_on_fold(m: Measures) -> PieceShape:
    """Half a rectangle or band, its long edge on the fold."""
    length, width = m["length"], m["half_width"]
    walk = Walk((0, 0)).line("fold", (length, 0)).line("foot", (length, width)).line("side", (0, width))
    return walk.close("head").shape(fold=((0, 0), (length, 0)))


def tapered_panel(m: Measures) -> PieceShape:
    """A panel wider at one end, both sides sloping alike."""
    length, top, bottom = m["length"], m["top_width"], m["bottom_width"]
    middle = max(top, bottom) / 2
    walk = Walk((0, middle - top / 2)).line("side", (length, middle - bottom / 2))
    walk.line("hem", (length, middle + bottom / 2)).line("other side", (0, middle + top / 2))
    return walk.close("top").shape(grain=((0.2 * length, middle), (0.8 * length, middle)))


def gored_panel(m: Measures) -> PieceShape:
    """A flared panel: straight sides, waist and hem curved so that they meet the sides squarely."""
    length, top, hem = m["length"], m["top_width"], m["hem_width"]
    need(hem > top, "The hem must be wider than the top; use the tapered panel for straight pieces.", "hem_width")
    half = math.atan2((hem - top) / 2, length)
    middle = hem / 2
    start, end = (0.0, middle - top / 2), (length * math.cos(half), 0.0)
    end = (start[0] + length * math.cos(half), start[1] - length * math.sin(half))
    far_end, far_start = (end[0], 2 * middle - end[1]), (0.0, middle + top / 2)
    sag_hem, sag_top = math.tan(half / 2) * (far_end[1] - end[1]) / 2, math.tan(half / 2) * top / 2
    walk = Walk(start).line("side", end)
    walk.curve(
        "hem",
        (end[0] + 4 / 3 * sag_hem, end[1] + (far_end[1] - end[1]) * 0.3),
        (end[0] + 4 / 3 * sag_hem, far_end[1] - (far_end[1] - end[1]) * 0.3),
        far_end,
    )
    walk.line("other side", far_start)
    walk.curve("top", (4 / 3 * sag_top, far_start[1] - 0.3 * top), (4 / 3 * sag_top, start[1] + 0.3 * top), start)
    return walk.close("join").shape(grain=((0.2 * length, middle), (0.8 * length, middle)))


def quarter_circle(m: Measures) -> PieceShape:
    """A quarter of a ring, on the fold: half of a half-circle panel, or cut on a centre edge."""
    radius, length = m["waist_radius"], m["length"]
    outer, steps = radius + length, 24
    walk = Walk((radius, 0)).line("fold", (outer, 0))
    arc = [k / steps * math.pi / 2 for k in range(1, steps + 1)]
    walk.line("hem", *((outer * math.cos(a), outer * math.sin(a)) for a in arc))
    walk.line("side", (0, radius))
    back = [(1 - k / steps) * math.pi / 2 for k in range(1, steps)]
    walk.line("waist", *((radius * math.cos(a), radius * math.sin(a)) for a in back))
    return walk.close("waist end").shape(fold=((radius, 0), (outer, 0)))


def straight_facing(m: Measures) -> PieceShape:
    """A front facing: wide at the shoulder, hollowed at the neck, straight down the front edge."""
    length, width, shoulder, neck = m["length"], m["width"], m["shoulder_width"], m["neck_depth"]
    need(neck < length, "The neck cannot be deeper than the facing is long.", "neck_depth")
    top = max(width, shoulder + 0.45 * neck)
    walk = Walk((neck, 0)).line("front edge", (length, 0)).line("foot", (length, width))
    walk.curve("inner edge", (length * 0.6, width), (length * 0.25, width), (0.25 * shoulder, top))
    walk.line("shoulder", (0, top - shoulder))
    walk.curve("neck", (neck * 0.45, top - shoulder), (neck, (top - shoulder) * 0.55), (neck, 0))
    return walk.close("front top").shape(grain=((neck + 0.2 * (length - neck), width / 2), (0.9 * length, width / 2)))


def curved_facing(m: Measures) -> PieceShape:
    """A neck facing on the fold: the neck curve and the same curve a facing's width outside it."""
    neck_width, depth, width = m["neck_width"], m["neck_depth"], m["facing_width"]
    walk = Walk((depth, 0)).line("fold", (depth + width, 0))
    walk.curve(
        "outer edge",
        (depth + width, 0.55 * (neck_width + width)),
        (0.5 * (depth + width), neck_width + width),
        (0.25 * width, neck_width + width),
    )
    walk.line("shoulder", (0, neck_width))
    walk.curve("neck", (0.55 * depth, neck_width), (depth, 0.55 * neck_width), (depth, 0))
    return walk.close("neck end").shape(fold=((depth, 0), (depth + width, 0)))


def patch_pocket(m: Measures) -> PieceShape:
    """A patch pocket, with a point or straight at the foot."""
    width, depth, point = m["width"], m["depth"], m.get("point", 0.0)
    need(point < depth, "The point cannot be deeper than the pocket.", "point")
    walk = Walk((0, 0)).line("side", (depth - point, 0))
    if point:
        walk.line("foot", (depth, width / 2), (depth - point, width))
    else:
        walk.line("foot", (depth, width))
    return walk.line("other side", (0, width)).close("top").shape()


SHAPES = (
    QuickShape(
        "rectangle",
        "Rectangle or band",
        "Straight bands, belts, ties, plain pockets.",
        (LENGTH, Measure("width", "Width across the grain", "8 cm")),
        rectangle,
    ),
    QuickShape(
        "rectangle-on-fold",
        "Band on the fold",
        "A rectangle with one long edge on the fold.",
        (LENGTH, Measure("half_width", "Width from the fold", "20 cm")),
        rectangle_on_fold,
        on_fold=True,
    ),
    QuickShape(
        "tapered-panel",
        "Tapered panel",
        "A panel with straight sloping sides.",
        (
            LENGTH,
            Measure("top_width", "Width at the top", "30 cm"),
            Measure("bottom_width", "Width at the bottom", "45 cm"),
        ),
        tapered_panel,
    ),
    QuickShape(
        "gored-panel",
        "Gored panel",
        "A flared skirt panel, hem and waist curved.",
        (
            Measure("length", "Length down the side", "70 cm"),
            Measure("top_width", "Width at the top", "18 cm"),
            Measure("hem_width", "Width at the hem", "40 cm"),
        ),
        gored_panel,
    ),
    QuickShape(
        "quarter-circle",
        "Quarter-circle panel",
        "A quarter of a circle skirt, straight edge on the fold.",
        (Measure("waist_radius", "From the centre to the waist edge", "12 cm"), LENGTH),
        quarter_circle,
        on_fold=True,
    ),
    QuickShape(
        "straight-facing",
        "Front facing",
        "A facing down a front edge, hollowed at the neck.",
        (
            Measure("length", "Length from shoulder to foot", "70 cm"),
            Measure("width", "Width at the foot", "9 cm"),
            Measure("shoulder_width", "Width at the shoulder", "5 cm"),
            Measure("neck_depth", "Depth of the neck", "9 cm"),
        ),
        straight_facing,
    ),
    QuickShape(
        "curved-facing",
        "Neck facing",
        "A curved neck facing, half of it, on the fold.",
        (
            Measure("neck_width", "Half the neck, from the fold", "8 cm"),
            Measure("neck_depth", "Depth of the neck", "3 cm"),
            Measure("facing_width", "Width of the facing", "7 cm"),
        ),
        curved_facing,
        on_fold=True,
    ),
    QuickShape(
        "patch-pocket",
        "Patch pocket",
        "Straight or pointed at the foot.",
        (
            Measure("width", "Width", "15 cm"),
            Measure("depth", "Depth to the lowest point", "18 cm"),
            Measure("point", "How far the point reaches below the sides", "2 cm", 0.0, optional=True),
        ),
        patch_pocket,
    ),
)
