"""Linings, facings and interfacings that lie behind another piece, proposed by their names where the pattern does not say."""

from collections.abc import Iterable

from rowanseed.core.pattern.model import Pattern, Piece

LAYERS = ("lining", "interfacing", "underlining")
PARTS = ("front", "back", "sleeve", "yoke", "collar", "skirt", "leg", "side", "bodice", "hood", "pocket")


def is_layer(piece: Piece) -> bool:
    """Whether a piece lies behind others: by its cloth, or a facing by its name."""
    return piece.role in LAYERS or "facing" in piece.name.lower()


def shell_of(pattern: Pattern, layer: Piece) -> Piece | None:
    """The piece that a layer most likely lies behind: of the shell, about the same part of the body, the largest of them."""
    words = {part for part in PARTS if part in layer.name.lower()}
    shells = [
        p for p in pattern.pieces if p.role in ("self", "contrast") and not is_layer(p) and p.number != layer.number
    ]
    alike = [p for p in shells if words and words <= {part for part in PARTS if part in p.name.lower()}]
    alike = alike or [p for p in shells if words & {part for part in PARTS if part in p.name.lower()}]
    return max(alike, key=_area, default=None)


def _area(piece: Piece) -> float:
    return max((shape.area_mm2() for shape in piece.shapes.values()), default=0.0)


def untied(pattern: Pattern, changed: Iterable[str]) -> list[tuple[Piece, Piece]]:
    """Layers that nothing ties to the piece behind which they most likely lie, where that piece was changed: layer, shell."""
    done = set(changed)
    found = []
    for piece in pattern.pieces:
        if piece.number in done or not is_layer(piece) or piece.follows or piece.same_as:
            continue
        shell = shell_of(pattern, piece)
        if shell is not None and shell.number in done:
            found.append((piece, shell))
    return found
