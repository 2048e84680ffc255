"""Linings and facings that lie behind an altered piece, altered alike: by the same line, the same hem, the same edge."""

from dataclasses import replace

from rowanseed.core.errors import AlterationError
from rowanseed.core.fit.change import Change, Followed
from rowanseed.core.fit.edge_changes import (
    altered_shape,
    has_underarm,
    line_across,
    lower_underarm,
)
from rowanseed.core.fit.kinds import KINDS
from rowanseed.core.fit.reshape import change_length
from rowanseed.core.geometry.outline import edge_points
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.seamwalk import AlterPiece


def take_layers_along(change: Change) -> None:
    """Make the same alteration on the pieces that lie behind an altered one: linings and facings, by the same line or edge."""
    for number in list(change.altered):
        shell = change.known[number]
        for piece in change.known.values():
            if piece.follows != number or piece.id in change.changed:
                continue
            if not change.follow(piece.id, f"it lies behind piece {number}"):
                continue
            try:
                change.put(piece.id, _layer_altered(change, shell, piece))
            except AlterationError as error:
                change.followed = [f for f in change.followed if f.piece != piece.id]
                change.left.append(Followed(piece.id, f"it lies behind piece {number}, but {error.text}"))


def _layer_altered(change: Change, shell: AlterPiece, layer: AlterPiece) -> PieceShape:
    """A layer's shape with the alteration of its shell, at the same distance from the line that both are measured from."""
    alteration = change.alteration
    if alteration.piece != shell.id and KINDS[alteration.kind].way != "strip":
        alteration = replace(alteration, at_mm=None)
    shift = layer_offset(shell.shape, layer.shape)
    if KINDS[alteration.kind].way == "strip" and alteration.kind != "hem":
        return change_length(layer.shape, change.lines[shell.id] + shift, alteration.by_mm)
    if alteration.kind == "hem":
        return change_length(layer.shape, line_across(alteration, layer), alteration.by_mm)
    moved_point = replace(alteration, at_mm=None if alteration.at_mm is None else alteration.at_mm + shift)
    shape = altered_shape(moved_point, layer, alteration.at_edge, moved_point.at_mm)
    if alteration.kind == "shoulder" and has_underarm(shape):
        shape = lower_underarm(shape, alteration.by_mm)
    return shape


def layer_offset(shell: PieceShape, layer: PieceShape) -> float:
    """How much further down a layer's own drawing the same place lies than on its shell's, mm.

    By a level that both have, else by the shoulder or the side that both have, else by their tops.
    """
    for level in ("waist", "bust", "hip", "upper_arm", "thigh"):
        if level in shell.levels and level in layer.levels:
            return layer.levels[level] - shell.levels[level]
    for edge in ("shoulder", "armhole", "side"):
        if edge in shell.edges and edge in layer.edges:
            return _head(layer, edge) - _head(shell, edge)
    return min(x for x, _ in layer.outline) - min(x for x, _ in shell.outline)


def _head(shape: PieceShape, edge: str) -> float:
    return min(x for x, _ in edge_points(shape.outline, shape.edges[edge]))
