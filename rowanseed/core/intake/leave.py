"""Marks of a proposed piece that the sewist leaves out: what was taken for a notch, a fold, a grain line and is none."""

from collections.abc import Collection, Iterator
from dataclasses import replace
from typing import Any

from rowanseed.core.intake.model import ProposedPiece, SizeLines

LISTS = {"notch": "notches", "dot": "points", "inner": "internal"}
ALONE = {"seam": "seam_line", "grain": "grain", "fold": "fold_edge"}


def shown_size(piece: ProposedPiece) -> str:
    """The size whose marks a drawing shows: the largest."""
    return max(piece.sizes, key=lambda size: _area(piece.sizes[size]))


def marks_of(lines: SizeLines) -> Iterator[str]:
    """The names of a size's marks: `seam`, `grain`, `fold`, `notch:0`, `dot:2`, `inner:1`."""
    yield from (name for name, field in ALONE.items() if getattr(lines, field) is not None)
    for name, field in LISTS.items():
        yield from (f"{name}:{k}" for k in range(len(getattr(lines, field))))


def without_marks(piece: ProposedPiece, left: Collection[str]) -> ProposedPiece:
    """A piece without the marks that are left out, by their names in the size that is shown.

    The other sizes lose the mark of the same place in their list where they have as many; a mark that they do not share stays.
    """
    shown = piece.sizes[shown_size(piece)]
    known = {name for name in left if name in set(marks_of(shown))}
    if not known:
        return piece
    sizes = {size: _less(lines, shown, known) for size, lines in piece.sizes.items()}
    return replace(piece, sizes=sizes)


def _less(lines: SizeLines, shown: SizeLines, left: Collection[str]) -> SizeLines:
    changed: dict[str, Any] = {field: None for name, field in ALONE.items() if name in left}
    for name, field in LISTS.items():
        gone = {int(mark.split(":")[1]) for mark in left if mark.startswith(f"{name}:")}
        own = getattr(lines, field)
        if gone and len(own) == len(getattr(shown, field)):
            changed[field] = tuple(item for k, item in enumerate(own) if k not in gone)
    return replace(lines, **changed)


def _area(lines: SizeLines) -> float:
    o = lines.outline
    return abs(sum(o[k - 1][0] * p[1] - p[0] * o[k - 1][1] for k, p in enumerate(o))) / 2
