"""What a concession does to a pattern: pieces opened, turned, moved to another cloth, parted, shortened."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

from rowanseed.core.concede.split import join_across, join_along, open_the_fold
from rowanseed.core.errors import AlterationError, Finding
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.make.concessions import FACED_ALLOWANCE_MM, HEM_KINDS, Concession
from rowanseed.core.make.pieces import altered_pattern
from rowanseed.core.pattern.model import Pattern, Piece, Seam


def conceded_pattern(
    pattern: Pattern, sizes: Sequence[str], concessions: Iterable[Concession]
) -> tuple[Pattern, list[Finding]]:
    """The pattern with its pieces changed in these sizes; a concession that cannot be made is refused with a finding.

    Hems move first, as an alteration that is carried to every piece that joins; then pieces are parted, so that what is
    carried finds the edges it knows.
    """
    findings: list[Finding] = []
    ordered = sorted(concessions, key=lambda c: c.kind not in HEM_KINDS)
    for concession in ordered:
        try:
            pattern = _made(pattern, sizes, concession)
        except AlterationError as error:
            text = f"Piece {', '.join(concession.pieces)}: {error.text}"
            findings.append(Finding("stop", "concession-refused", text))
    return pattern, findings


def facing_strip(pattern: Pattern, view: str, size: str, concession: Concession) -> tuple[float, float]:
    """The strip that faces the hems of these pieces: its length, with no joins yet, and its width with both allowances, mm."""
    length = 0.0
    for piece in pattern.pieces_of(view):
        shape = piece.shapes.get(size)
        if piece.number not in concession.pieces or shape is None or "hem" not in shape.edges:
            continue
        i, j = shape.edges["hem"]
        around = (*shape.outline[i:], *shape.outline[: j + 1]) if j < i else shape.outline[i : j + 1]
        edge = sum(math.dist(a, b) for a, b in zip(around, around[1:], strict=False))
        length += edge * piece.cut * (2 if shape.fold_edge else 1)
    return length, concession.by_mm + 2 * FACED_ALLOWANCE_MM


def _made(pattern: Pattern, sizes: Sequence[str], concession: Concession) -> Pattern:
    if concession.kind == "view":
        return pattern  # the make's view, which decides what of the pattern is cut
    if concession.kind in HEM_KINDS:
        return _at_the_hem(pattern, sizes, concession)
    pieces: list[Piece] = []
    seams = list(pattern.seams)
    for piece in pattern.pieces:
        if piece.number not in concession.pieces:
            pieces.append(piece)
            continue
        pieces += _changed(piece, sizes, concession)
        if concession.kind == "seam":
            seams.append(Seam((piece.number, "centre"), (piece.number, "centre")))
    return replace(pattern, pieces=tuple(pieces), seams=tuple(seams))


def _at_the_hem(pattern: Pattern, sizes: Sequence[str], concession: Concession) -> Pattern:
    """Hems moved up; a piece that one before it has taken along through their seams is not moved again."""
    before = {p.number: p.shapes for p in pattern.pieces}
    for number in concession.pieces:
        now = next((p.shapes for p in pattern.pieces if p.number == number), {})
        own = [s for s in sizes if s in now and now[s] == before[number][s]]
        if not own:
            continue
        altered, done = altered_pattern(pattern, own, [Alteration("hem", number, -concession.by_mm)])
        refused = [f.text for d in done.values() for f in d.findings if f.code == "alteration-refused"]
        if refused:
            raise AlterationError(refused[0], "pieces")
        pattern = altered
    return pattern


def _changed(piece: Piece, sizes: Sequence[str], concession: Concession) -> list[Piece]:
    """A piece as the concession makes it: itself changed, or its two parts."""
    allowance = piece.allowance_mm
    shapes = {s: piece.shapes[s] for s in sizes if s in piece.shapes}
    if concession.kind == "crosswise":
        return [replace(piece, grain="crosswise")]
    if concession.kind == "elsewhere":
        return [replace(piece, role="offcut")]
    if concession.kind == "seam":
        opened = {s: open_the_fold(shape, allowance) for s, shape in shapes.items()}
        if all(shape.fold_edge is None for shape in shapes.values()):
            return [piece]
        return [replace(piece, cut=2 * piece.cut, mirrored=True, shapes={**piece.shapes, **opened})]
    parts = {s: _parts(shape, concession, allowance) for s, shape in shapes.items()}
    words = ("first part", "second part") if concession.kind == "join" else ("main part", "back part")
    return [
        replace(
            piece,
            number=f"{piece.number}{letter}",
            name=f"{piece.name}, {words[k]}",
            shapes={s: part[k] for s, part in parts.items()},
            selvage_edge="",
        )
        for k, letter in enumerate("ab")
    ]


def _parts(shape: PieceShape, concession: Concession, allowance_mm: float) -> tuple[PieceShape, PieceShape]:
    xs, ys = [x for x, _ in shape.outline], [y for _, y in shape.outline]
    if concession.kind == "join":
        return join_across(shape, (min(xs) + max(xs)) / 2, allowance_mm)
    low, high = min(ys), max(ys)
    backs = [n.at[1] for n in shape.notches if n.count == 2]
    at_high = bool(backs) and sum(backs) / len(backs) > (low + high) / 2
    quarter = (high - low) / 4
    first, second = join_along(shape, high - quarter if at_high else low + quarter, allowance_mm)
    return (first, second) if at_high else (second, first)
