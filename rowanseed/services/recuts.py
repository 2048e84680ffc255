"""Pieces that lie cut or printed, held against what the make would have now, piece by piece."""

from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.make.recut import Recut, recut
from rowanseed.core.make.recut_words import recut_words, why_recut
from rowanseed.core.pattern.model import Piece
from rowanseed.services.remembered import Remembered
from rowanseed.store.made_pieces import MadePiece, drop_made, made_pieces, put_made
from rowanseed.store.makes import tick

if TYPE_CHECKING:  # a make asks for what changed, and that looks at the make
    from rowanseed.services.worked_make import WorkedMake

_held = Remembered(512)


@dataclass(frozen=True)
class Changed:
    """A piece that was cut or printed and is otherwise now: which, when it was made, what becomes of it and in words.

    `number` and `name` are empty for a piece that the make has no more.
    """

    item: str
    number: str
    name: str
    at: datetime
    found: Recut | None
    now: PieceShape | None
    why: str
    words: tuple[str, ...]

    @property
    def to_do(self) -> bool:
        """Whether something is still to be done to it, beside sewing it with less."""
        return self.found is not None and self.found.answer != "narrower"


def changed_since_cut(make: "WorkedMake") -> list[Changed]:
    """Return the pieces that lie cut and would be cut otherwise now, or are not wanted any more."""
    made = made_pieces(make.conn, make.make.id, "cut")
    if not made:
        return []
    wanted = {f"{r.role}:{s.lay_id}": s for r in make.roles for s in r.pieces}
    if not wanted:
        return []  # a size is open again: nothing is known of what would be cut
    found = []
    for item, was in made.items():
        sized = wanted.get(item.rpartition(":")[0])
        piece, shape, size = (sized.piece, sized.shape, sized.size) if sized else (None, None, "")
        changed = _changed(make, item, was, piece, shape, size, printed=False)
        if changed is not None:
            found.append(changed)
    return found


def changed_since_print(make: "WorkedMake") -> list[Changed]:
    """Return the pieces that were printed and have another line or other marks now."""
    made = made_pieces(make.conn, make.make.id, "print")
    found = []
    pieces = {p.number: p for p in make.pattern.pieces_of(make.make.view)}
    for item, was in made.items():
        number = item.partition("|")[0]
        piece = pieces.get(number)
        # What was printed in a size that is chosen still is held against that one, else against the one chosen since.
        size = was.size if was.size in make.sizes else (make.sizes[0] if len(set(make.sizes)) == 1 else "")
        shape = piece.shapes.get(size) if piece is not None else None
        again = made.get(f"{number}|{size}")
        if piece is None or shape is None or (size != was.size and again is not None):
            continue
        changed = _changed(make, item, was, piece, shape, size, printed=True)
        if changed is not None:
            found.append(changed)
    return found


def _changed(
    make: "WorkedMake", item: str, was: MadePiece, piece: Piece | None, now: PieceShape | None, size: str, printed: bool
) -> Changed | None:
    if piece is None or now is None:
        return Changed(
            item, "", item.split(":")[1].split("/")[0], was.at, None, None, "the make has no such piece any more", ()
        )
    if was.shape == now:
        return None
    unit = make.settings.unit
    found = _held.once((repr(was.shape), repr(now), was.size, size), lambda: recut(was.shape, now, was.size != size))
    if found.answer == "same":
        return None
    return Changed(
        item,
        piece.number,
        piece.name,
        was.at,
        found,
        now,
        why_recut(found, was.size, size),
        tuple(recut_words(found, unit, printed)),
    )


def remember_cut(make: "WorkedMake", key: str, done: bool, at: datetime) -> None:
    """Remember a piece as it is cut, by its card; forget it where it was not cut after all. Within a write."""
    card = next((c for cards in make.cards.values() for c in cards if c.key == key), None)
    if done and card is not None and key not in make.cut:
        put_made(make.conn, make.make.id, "cut", key, card.sized.size, card.sized.shape, at)
    elif not done:
        drop_made(make.conn, make.make.id, "cut", key)


def remember_printed(make: "WorkedMake", size: str, shapes: dict[str, PieceShape], at: datetime) -> None:
    """Remember pieces as they are printed, by their numbers. Within a write."""
    for number, shape in shapes.items():
        put_made(make.conn, make.make.id, "print", f"{number}|{size}", size, shape, at)


def put_right(make: "WorkedMake", item: str, anew: bool, at: datetime) -> bool:
    """Take a changed piece as put right (trimmed, marked), or as to be cut anew; False where nothing of it is changed.

    Within a write.
    """
    changed = next((c for c in changed_since_cut(make) if c.item == item), None)
    if changed is None:
        return False
    if anew or changed.now is None:
        drop_made(make.conn, make.make.id, "cut", item)
        tick(make.conn, make.make.id, "cut", item, False, at)
        return True
    sized = next(s for r in make.roles for s in r.pieces if f"{r.role}:{s.lay_id}" == item.rpartition(":")[0])
    put_made(make.conn, make.make.id, "cut", item, sized.size, sized.shape, at)
    return True
