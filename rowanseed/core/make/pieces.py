"""A make's pieces: its sizes, blended and altered, and the pieces of each cloth under the ids they have in the lay."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.fit.alter import Altered, alter
from rowanseed.core.fit.blend import blend
from rowanseed.core.fit.blend_carried import carried_from_blend
from rowanseed.core.fit.finished_measurements import Girth, finished_girths
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.layers_behind import untied
from rowanseed.core.pattern.model import ROLES, Pattern, Piece, Role, Seam
from rowanseed.core.pattern.seamwalk import AlterPiece


@dataclass(frozen=True)
class SizedPiece:
    """A piece of one garment in its size, under the id it has in the lay."""

    lay_id: str
    piece: Piece
    size: str
    shape: PieceShape


def roles_of(pattern: Pattern, view: str) -> list[Role]:
    """The cloths a view asks for, shell first."""
    used = {p.role for p in pattern.pieces_of(view)}
    return [role for role in ROLES if role in used]


def needed_sizes(sizes: Sequence[str], blends: Mapping[str, tuple[str, Mapping[str, str]]]) -> list[str]:
    """The sizes whose outlines are needed for these sizes, blended ones (label to size and zones) taken apart."""
    wanted = []
    for label in sizes:
        size, zones = blends.get(label, (label, {}))
        wanted += [size, *zones.values()]
    return list(dict.fromkeys(wanted))


def blended_pattern(
    pattern: Pattern, blends: Mapping[str, tuple[str, Mapping[str, str]]]
) -> tuple[Pattern, list[Finding]]:
    """The pattern with a shape for every blended size under its label, and findings for pieces that cannot be blended."""
    findings: list[Finding] = []
    shapes = {piece.number: dict(piece.shapes) for piece in pattern.pieces}
    for label, (size, zones) in blends.items():
        blended: dict[str, PieceShape] = {}
        for piece in pattern.pieces:
            try:
                blended[piece.number] = blend(piece.shapes, size, zones, f"Piece {piece.number}, {piece.name},")
            except AlterationError as error:
                findings.append(Finding("stop", "not-blended", error.text))
        own, seams = fit_pieces(pattern, size)
        # What has no zones of its own goes with what it is sewn to.
        for number, shape in {**blended, **carried_from_blend(own, blended, seams)}.items():
            shapes[number][label] = shape
    pieces = tuple(replace(piece, shapes=shapes[piece.number]) for piece in pattern.pieces)
    return replace(pattern, pieces=pieces), findings


def fit_pieces(pattern: Pattern, size: str) -> tuple[list[AlterPiece], list[Seam]]:
    """The pieces that have an outline in a size, and the seams between them whose edges are all named."""
    own = [p for p in pattern.pieces if size in p.shapes]
    edges = {p.number: p.shapes[size].edges for p in own}
    seams = [s for s in pattern.seams if all(edge in edges.get(number, {}) for number, edge in s.edges)]
    pieces = [AlterPiece(p.number, p.shapes[size], p.same_as, follows=p.follows, name=p.name) for p in own]
    return pieces, seams


def altered_pattern(
    pattern: Pattern, sizes: Sequence[str], alterations: Sequence[Alteration]
) -> tuple[Pattern, dict[str, Altered]]:
    """The pattern with its pieces altered in these sizes, and for each size what followed and what no longer meets.

    Raises:
        AlterationError: an alteration names a piece that the size does not have.
    """
    if not alterations:
        return pattern, {}
    done: dict[str, Altered] = {}
    shapes: dict[str, dict[str, PieceShape]] = {p.number: dict(p.shapes) for p in pattern.pieces}
    for size in dict.fromkeys(sizes):
        pieces, seams = fit_pieces(pattern, size)
        there = {p.id for p in pieces}
        done[size] = alter(pieces, seams, [a if a.piece in there else replace(a, on=False) for a in alterations])
        for piece in done[size].pieces:
            shapes[piece.id][size] = piece.shape
        before = {p.id: p.shape for p in pieces}
        changed_here = [p.id for p in done[size].pieces if p.shape is not before[p.id] and p.shape != before[p.id]]
        loud = tuple(untied_findings(pattern, changed_here))
        done[size] = replace(done[size], findings=(*loud, *done[size].findings))
    changed = tuple(replace(p, shapes=shapes[p.number]) for p in pattern.pieces)
    return replace(pattern, pieces=changed), done


def untied_findings(pattern: Pattern, changed: Sequence[str]) -> list[Finding]:
    """A loud word for every lining or facing that stays as it was though the piece before it was changed."""
    return [
        Finding(
            "stop",
            "layer-not-tied",
            f"Piece {layer.number} {layer.name} is not altered, and piece {shell.number} {shell.name} is: if it lies behind it, "
            "say so and it follows. An altered front with an unaltered lining or facing does not go together.",
        )
        for layer, shell in untied(pattern, changed)
    ]


def sized_pieces(
    pattern: Pattern, view: str, role: Role, sizes: Sequence[str]
) -> tuple[list[SizedPiece], list[Finding]]:
    """A role's pieces for garments of these sizes, and findings for shapes that are missing.

    With several garments every id carries its garment's number and size, since one lay holds them all.
    """
    pieces: list[SizedPiece] = []
    missing: dict[str, set[str]] = {}
    for number, size in enumerate(sizes, start=1):
        for piece in pattern.pieces_of(view, role):
            if size not in piece.shapes:
                missing.setdefault(size, set()).add(f"{piece.number} {piece.name}")
                continue
            lay_id = piece.number if len(sizes) == 1 else f"{piece.number}/{number}"
            pieces.append(SizedPiece(lay_id, piece, size, piece.shapes[size]))
    findings = [
        Finding(
            "stop",
            "piece-not-measured",
            f"In size {size} these pieces have no outline yet: {', '.join(sorted(names))}. "
            "Measure them on the tissue, or choose a size that has them.",
        )
        for size, names in missing.items()
    ]
    return pieces, findings


def girths_of(pattern: Pattern, view: str, size: str) -> dict[str, Girth]:
    """The finished girths of a view's shell in a size, measured on its pieces."""
    shell = [(p, p.shapes[size]) for p in pattern.pieces_of(view, "self") if size in p.shapes]
    return finished_girths(shell)
