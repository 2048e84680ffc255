"""A make's pieces on paper at full size: which pieces, on which paper, packed by a worker; what is drawn and said of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.frames import frames
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.on_tissue import TissueWork, on_tissue
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.make.pieces import fit_pieces
from rowanseed.core.paper.changed import is_changed
from rowanseed.core.paper.model import Paper, PaperRequest, PaperSheet, Tile
from rowanseed.core.paper.pack import tiles_of_lines
from rowanseed.core.pattern.model import ROLE_WORDS, Piece
from rowanseed.core.pattern.seamwalk import AlterPiece
from rowanseed.formats.frames_svg import frames_svg
from rowanseed.formats.paper_drawing import PaperDrawing, PaperPiece, paper_drawing
from rowanseed.services.worked_make import WorkedMake


@dataclass(frozen=True)
class PaperAsk:
    """What is to be printed: the pieces by their numbers in one size, the paper, the overlap, and whether only what changed."""

    size: str
    numbers: tuple[str, ...]
    paper: Paper
    overlap_mm: float = 10.0
    only_changed: bool = False


def pieces_in(view: WorkedMake, size: str) -> list[tuple[Piece, PieceShape, PieceShape | None]]:
    """Return the view's pieces in a size as they will be cut, each with its shape before it was altered where that differs."""
    drawn = {p.number: p.shapes.get(size) for p in view.drawn.pieces}
    found = []
    for piece in view.pattern.pieces_of(view.make.view):
        now, before = piece.shapes.get(size), drawn.get(piece.number)
        if now is not None and not piece.same_as:
            changed = before is not None and is_changed(before.outline, now.outline)
            found.append((piece, now, before if changed else None))
    return found


def paper_pieces(view: WorkedMake, ask: PaperAsk) -> list[PaperPiece]:
    """Return the pieces that are asked for, with their words."""
    return [
        PaperPiece(piece.number, _words(piece, shape, ask.size, view.make.name), shape, before, ask.size)
        for piece, shape, before in pieces_in(view, ask.size)
        if piece.number in ask.numbers and (before is not None or not ask.only_changed)
    ]


def _words(piece: Piece, shape: PieceShape, size: str, make: str) -> tuple[str, ...]:
    of = "" if piece.role == "self" else f" of {ROLE_WORDS[piece.role].lower()}"
    fold = (
        " on the fold"
        if shape.fold_edge is not None
        else (", one mirrored" if piece.mirrored and piece.cut > 1 else "")
    )
    return f"{piece.number} {piece.name}", f"Size {size}. Cut {piece.cut}{of}{fold}.", make


def request_of(pieces: Sequence[PaperPiece], ask: PaperAsk) -> PaperRequest:
    """Return the packing of these pieces as a task. Raises LayError for an overlap that leaves no page."""
    return PaperRequest(tuple((p.id, p.shape.outline) for p in pieces), ask.paper, ask.overlap_mm)


def drawing_of(view: WorkedMake, ask: PaperAsk, sheet: PaperSheet) -> PaperDrawing:
    """Return what is drawn on a packed sheet."""
    return paper_drawing(sheet, paper_pieces(view, ask), view.settings.unit)


def tiles_wanted(request: PaperRequest, drawing: PaperDrawing, only_changed: bool) -> list[Tile]:
    """Return the pages to print: all, or those on which an old line and its new one part."""
    old = [line.points for line in drawing.lines if line.kind == "old"]
    return tiles_of_lines(request, drawing.sheet, old) if only_changed and old else list(drawing.sheet.tiles)


def tissue_work(view: WorkedMake, size: str) -> list[tuple[TissueWork, str]]:
    """Return how each alteration of a make is made on its tissue, in their order, with what follows it, and its frames."""
    done = view.altered.get(size)
    pieces: list[AlterPiece] = fit_pieces(view.drawn, size)[0] if size else []
    names: Mapping[str, str] = {p.number: p.name for p in view.drawn.pieces}
    found: list[tuple[TissueWork, str]] = []
    for n, alteration in enumerate(view.make.plan.alterations):
        if not alteration.on:
            continue
        work = on_tissue(alteration, pieces, done.followed_by[n] if done else (), view.settings.unit)
        named = TissueWork(work.heading, f"{work.piece} {names.get(work.piece, '')}".strip(), work.steps)
        found.append((named, _picture(view, size, pieces, alteration)))
    return found


def _picture(view: WorkedMake, size: str, pieces: list[AlterPiece], alteration: Alteration) -> str:
    """The three frames of one alteration, made alone on its piece; none where it was refused."""
    piece = next((p for p in pieces if p.id == alteration.piece), None)
    if piece is None:
        return ""
    done = alter(pieces, fit_pieces(view.drawn, size)[1], [alteration])
    after = next(p.shape for p in done.pieces if p.id == piece.id)
    if after.outline == piece.shape.outline and after.lines == piece.shape.lines:
        return ""
    cut = KINDS[alteration.kind].way in ("strip", "wedge", "slashes")
    words = ("where it is cut" if cut else "the edge", "how it lies then", "drawn true")
    said = f"{KINDS[alteration.kind].title} on piece {piece.id} in three frames: {', '.join(words)}."
    return frames_svg(frames(alteration, piece, after), words, said)
