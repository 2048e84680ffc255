"""Interfacing and underlining cut to another piece, and straight pieces from figures. Common practice, no published source."""

from dataclasses import replace
from typing import Literal

from shapely import Polygon

from rowanseed.core.errors import ShapeError
from rowanseed.core.geometry.outline import edge_sides, moved_out, signed_area
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.geometry.types import Outline
from rowanseed.core.reckon.seams import band_width, panel_length

Allowance = Literal["all", "outer-off", "none"]
BLOCK_MM = 20.0  # a block that is fused first is so much larger on every side


def interfacing(shape: PieceShape, allowance: Allowance) -> PieceShape:
    """Interfacing cut to a piece: with its allowances, with none on the outer edges, or with none at all (schools).

    "outer-off" leaves the neck edges their allowance, since the seam there holds it; where none is named neck it is as "none".
    Raises:
        ShapeError: the piece is narrower than its allowances.
    """
    if allowance == "all":
        return shape
    kept = [e for e in shape.edges if "neck" in e] if allowance == "outer-off" else []
    sides = list(shape.side_allowances)
    for edge in kept:
        for side in edge_sides(len(sides), shape.edges[edge]):
            sides[side] = 0.0
    outline = moved_out(shape.outline, [-mm for mm in sides])
    edges = shape.edges
    if signed_area(outline) * signed_area(shape.outline) <= 0:
        raise ShapeError("The piece is narrower than its seam allowances.", "allowance")
    if not Polygon(outline).is_valid:  # a corner too acute for its allowances: what crosses there is left out
        parts = Polygon(outline).buffer(0)
        whole = max(getattr(parts, "geoms", [parts]), key=lambda part: part.area)
        outline, edges = tuple((float(x), float(y)) for x, y in whole.exterior.coords[:-1]), {}
    fold = None
    if shape.fold_edge is not None:
        axis = shape.fold_edge[0][1]
        on = [p for p in outline if abs(p[1] - axis) < 0.5]
        fold = (min(on), max(on)) if len(on) > 1 else None
    own = {edge: shape.allowance_of(edge) for edge in kept if edge in edges}
    return replace(
        shape,
        outline=outline,
        edges=edges,
        fold_edge=fold,
        notches=(),
        marks=(),
        lines=(),
        allowance_mm=0.0,
        allowances=own,
    )


def block(shape: PieceShape) -> PieceShape:
    """The block of cloth and of fusible that a small slippery piece is fused in before it is cut: 2 cm larger all round."""
    xs, ys = [x for x, _ in shape.outline], [y for _, y in shape.outline]
    low_y = min(ys) - (0.0 if shape.fold_edge else BLOCK_MM)
    corners: Outline = (
        (min(xs) - BLOCK_MM, low_y),
        (max(xs) + BLOCK_MM, low_y),
        (max(xs) + BLOCK_MM, max(ys) + BLOCK_MM),
        (min(xs) - BLOCK_MM, max(ys) + BLOCK_MM),
    )
    return PieceShape(corners, (corners[0], corners[1]) if shape.fold_edge else None, shape.grainline)


def underlining(shape: PieceShape) -> PieceShape:
    """Underlining: the piece itself, sewn to it and then treated as one layer."""
    return shape


def band(length_mm: float, finished_mm: float, seam_mm: float) -> PieceShape:
    """A straight band: as long as said, cut twice its finished width and two seam allowances."""
    return _straight(length_mm, band_width(finished_mm, seam_mm))


def panel(finished_mm: float, top_mm: float, hem_mm: float, width_mm: float) -> PieceShape:
    """A straight panel or apron: finished length, top allowance and hem, by its width (the cloth's own for fullness)."""
    return _straight(panel_length(finished_mm, top_mm, hem_mm), width_mm)


def _straight(length: float, width: float) -> PieceShape:
    if length <= 0 or width <= 0:
        raise ShapeError("Length and width must be above 0.", "length")
    outline: Outline = ((0.0, 0.0), (0.0, width), (length, width), (length, 0.0))
    return PieceShape(outline, edges={"head": (0, 1), "side": (1, 2), "hem": (2, 3), "other side": (3, 0)})
